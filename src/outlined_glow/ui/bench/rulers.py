"""Rulers in mm along two edges, and the scale bar."""

from __future__ import annotations

import math

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

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
    painter.setFont(font(12))
    major, minor = steps(camera.zoom)
    edges = sorted((camera.to_mm(QPointF(0, 0))[0] - origin[0], camera.to_mm(QPointF(width, 0))[0] - origin[0]))
    ticks: dict[bool, list[QLineF]] = {True: [], False: []}
    painter.setPen(t.colour("quiet"))
    for place in range(math.ceil(edges[0] / minor), math.floor(edges[1] / minor) + 1):
        value = place * minor
        x = camera.to_screen(value + origin[0], 0).x()
        whole = abs(value / major - round(value / major)) < 1e-6
        ticks[whole].append(QLineF(x, height - (9 if whole else 5), x, height))
        if whole and 26 < x < width - 26:
            painter.drawText(QRectF(x - 30, height - BOTTOM - 1, 60, 14), int(Qt.AlignmentFlag.AlignHCenter), f"{value:g}")
    edges = sorted((camera.to_mm(QPointF(0, height))[1] - origin[1], camera.to_mm(QPointF(0, 0))[1] - origin[1]))
    for place in range(math.ceil(edges[0] / minor), math.floor(edges[1] / minor) + 1):
        value = place * minor
        y = camera.to_screen(0, value + origin[1]).y()
        whole = abs(value / major - round(value / major)) < 1e-6
        if y < height - BOTTOM:
            ticks[whole].append(QLineF(0, y, 9 if whole else 5, y))
            if whole and 26 < y < height - BOTTOM - 26:
                painter.save()
                painter.translate(LEFT - 13, y)
                painter.rotate(-90)
                painter.drawText(QRectF(-30, 0, 60, 14), int(Qt.AlignmentFlag.AlignHCenter), f"{value:g}")
                painter.restore()
    for whole, lines in ticks.items():
        painter.setPen(QPen(t.colour("quiet" if whole else "line"), 1))
        painter.drawLines(lines)  # type: ignore[call-overload]  # the stubs know no list of lines


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
