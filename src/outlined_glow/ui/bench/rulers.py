"""Rulers in mm along two edges, and the scale bar."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import lru_cache

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen, QPixmap

from ..theme import font, on_bench
from .camera import Camera
from .plate import paint_plate

BOTTOM, LEFT = 22, 22


def steps(zoom: float) -> tuple[float, float]:
    """Millimetres between numbers, and between ticks."""
    wish = 62 / zoom
    decade = 10.0 ** math.floor(math.log10(wish))
    major = next(decade * one for one in (1, 2, 5, 10) if decade * one >= wish)
    return major, major / (10 if round(major / decade) in (1, 10) else 5 if round(major / decade) == 5 else 4)


def paint_rulers(painter: QPainter, camera: Camera, origin: tuple[float, float], lifted: int) -> None:
    """Ticks and numbers in the board frame, `lifted` pixels over the lower edge; from behind, x runs the other way."""
    t = on_bench()
    width, height = camera.width, camera.height - lifted
    painter.fillRect(QRectF(0, height - BOTTOM, width, BOTTOM), t.colour("bench", 0.86))
    painter.fillRect(QRectF(0, 0, LEFT, height), t.colour("bench", 0.86))
    zero = camera.to_screen(*origin)
    scale = painter.device().devicePixelRatio()  # type: ignore[union-attr]
    lines: dict[bool, list[QLineF]] = {True: [], False: []}
    for x, value, whole in _ticks(camera.zoom, zero.x(), camera.sign, width):
        lines[whole].append(QLineF(x, height - (9 if whole else 5), x, height))
        if whole and 26 < x < width - 26:
            _paint_number(painter, f"{value:g}", x, height - BOTTOM + 6, False, scale)
    for y, value, whole in _ticks(camera.zoom, zero.y(), -1.0, height - BOTTOM):
        lines[whole].append(QLineF(0, y, 9 if whole else 5, y))
        if whole and 26 < y < height - BOTTOM - 26:
            _paint_number(painter, f"{value:g}", LEFT - 6, y, True, scale)
    for whole, some in lines.items():
        painter.setPen(QPen(t.colour("quiet" if whole else "line"), 1))
        painter.drawLines(some)  # type: ignore[call-overload]  # the stubs know no list of lines


def _ticks(zoom: float, zero: float, sign: float, length: float) -> Iterator[tuple[float, float, bool]]:
    """The ticks along an edge so long: where each is, px, its millimetres, and whether it has a number."""
    major, minor = steps(zoom)
    every, apart = round(major / minor), minor * zoom * sign
    first, last = sorted(((0.0 - zero) / apart, (length - zero) / apart))
    for place in range(math.ceil(first), math.floor(last) + 1):
        yield zero + place * apart, place * minor, place % every == 0


def _paint_number(painter: QPainter, words: str, x: float, y: float, upright: bool, scale: float) -> None:
    """A number about a place, on whole pixels, for its picture is kept."""
    picture = _number(words, upright, on_bench().name, scale)
    wide, high = picture.width() / scale, picture.height() / scale
    painter.drawPixmap(QPointF(round((x - wide / 2) * scale) / scale, round((y - high / 2) * scale) / scale), picture)


@lru_cache(maxsize=512)
def _number(words: str, upright: bool, theme_name: str, scale: float) -> QPixmap:
    """The picture of a number, on end or not: to set text anew for each of them took most of the time of a frame."""
    metrics = QFontMetricsF(font(12))
    wide, high = math.ceil(metrics.horizontalAdvance(words)) + 4, 14
    size = (high, wide) if upright else (wide, high)
    picture = QPixmap(round(size[0] * scale), round(size[1] * scale))
    picture.setDevicePixelRatio(scale)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.TextAntialiasing)
    painter.setFont(font(12))
    painter.setPen(on_bench().colour("quiet"))
    if upright:
        painter.translate(0, wide)
        painter.rotate(-90)
    painter.drawText(QRectF(0, 0, wide, high), int(Qt.AlignmentFlag.AlignCenter), words)
    painter.end()
    return picture


def scale_bar_area(camera: Camera, right: float, y: float) -> QRectF:
    """What the scale bar and the words under it take."""
    return _plate(camera, right, y).united(_under(right, y))


def _plate(camera: Camera, right: float, y: float, told: bool = True) -> QRectF:
    """The ground of the bar, and of the words under it where there are any: it hides no more of the board than it must."""
    length = steps(camera.zoom)[0] * camera.zoom
    wide = max(length, 190 if told else 40)
    return QRectF(right - wide - 14, y - 28, wide + 24, 60 if told else 38)


def _under(right: float, y: float) -> QRectF:
    return QRectF(right - 212, y + 10, 214, 18)


def paint_scale_bar(painter: QPainter, camera: Camera, right: float, y: float, readout: str) -> None:
    """A bar of a round length with the length over it, and below where the pointer is."""
    t = on_bench()
    major, _ = steps(camera.zoom)
    length = major * camera.zoom
    paint_plate(painter, _plate(camera, right, y, bool(readout)))
    painter.setPen(QPen(t.colour("text"), 1.4))
    painter.drawLine(QPointF(right - length, y), QPointF(right, y))
    painter.drawLine(QPointF(right - length, y - 4), QPointF(right - length, y + 4))
    painter.drawLine(QPointF(right, y - 4), QPointF(right, y + 4))
    painter.setFont(font(13))
    painter.setPen(t.colour("text"))
    painter.drawText(QRectF(right - length - 40, y - 24, length + 80, 18), int(Qt.AlignmentFlag.AlignHCenter), f"{major:g} mm")
    painter.setPen(t.colour("quiet"))
    under = _under(right, y)
    words = painter.fontMetrics().elidedText(readout, Qt.TextElideMode.ElideRight, int(under.width()))
    painter.drawText(under, int(Qt.AlignmentFlag.AlignRight), words)
