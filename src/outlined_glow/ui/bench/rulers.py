"""Rulers in mm along two edges, and the scale bar."""

from __future__ import annotations

import math
from collections.abc import Hashable, Iterator
from functools import lru_cache
from typing import NamedTuple

from PyQt6.QtCore import QLineF, QPointF, QRect, QRectF, QSizeF, Qt
from PyQt6.QtGui import QPainter, QPen, QPixmap

from ..theme import font, on_bench
from .camera import Camera
from .kept import Kept, blank
from .plate import paint_plate

BOTTOM, LEFT = 22, 22
#: How wide the words under the scale bar may be, px: beside the leaves of a small window. They take two lines.
_WORDS_WIDE = 160
#: A space at which no line is broken.
_TOGETHER = "\u00a0"
#: How much longer than its edge a kept ruler is at either end, px; nearer to an end than this no number stands; so many
#: parts of a pixel its place is rounded to, for a picture can be moved by whole pixels only.
_SPARE, _ENDS, _PARTS = 240.0, 26.0, 64


@lru_cache(maxsize=4)
def steps(zoom: float) -> tuple[float, float]:
    """Millimetres between numbers, and between ticks."""
    wish = 62 / zoom
    decade = 10.0 ** math.floor(math.log10(wish))
    major = next(decade * one for one in (1, 2, 5, 10) if decade * one >= wish)
    return major, major / (10 if round(major / decade) in (1, 10) else 5 if round(major / decade) == 5 else 4)


def beside_rulers(camera: Camera, lifted: int) -> QRect:
    """What of the view the rulers do not cover; all of it where something see-through lies under them."""
    if lifted:
        return QRect(0, 0, camera.width, camera.height)
    return QRect(LEFT, 0, camera.width - LEFT, camera.height - BOTTOM)


class Rulers:
    """The ruler of the lower edge, and that of the left."""

    def __init__(self) -> None:
        self._along, self._up = _Edge(False), _Edge(True)
        self._view: tuple[float, ...] = ()
        self._scales = _Scale(0.0, 0.0, 0.0), _Scale(0.0, 0.0, 0.0)

    def paint(self, painter: QPainter, camera: Camera, origin: tuple[float, float], lifted: int) -> None:
        """Ticks and numbers in the board frame, `lifted` pixels over the lower edge; from behind, x runs the other way."""
        free = camera.height - lifted - BOTTOM
        zero = camera.to_screen(*origin)
        dots = painter.device().devicePixelRatio()  # type: ignore[union-attr]
        view = camera.zoom, camera.sign, camera.width, free
        if view != self._view:
            self._view = view
            self._scales = _Scale(camera.zoom, camera.sign, camera.width), _Scale(camera.zoom, -1.0, free)
        self._along.paint(painter, self._scales[0], zero.x(), QPointF(0, free), dots)
        self._up.paint(painter, self._scales[1], zero.y(), QPointF(0, 0), dots)


class _Scale(NamedTuple):
    """Pixels per mm, which way they run, and how long the edge is, px."""

    zoom: float
    sign: float
    length: float


class _Edge:
    """Ticks and numbers along one edge, kept in pictures longer than the edge: a drag of the view only moves them."""

    def __init__(self, upright: bool) -> None:
        self._upright = upright
        self._bare, self._numbered = QPixmap(), QPixmap()
        self._zero, self._of = 0.0, _Scale(0.0, 0.0, 0.0)
        self._in = (0.0, "")  # pixels of the screen for one of the widget, and the theme

    def paint(self, painter: QPainter, scale: _Scale, zero: float, corner: QPointF, dots: float) -> None:
        """The edge from its upper left corner, the board frame beginning at the pixel `zero`."""
        zero = round(zero * _PARTS) / _PARTS
        moved = zero - self._zero
        seen_in = (dots, on_bench().name)
        if scale is not self._of or seen_in != self._in or abs(moved) > _SPARE or not (moved * dots).is_integer():
            self._zero, self._of, self._in, moved = zero, scale, seen_in, 0.0
            self._make(dots)
        from_px = _SPARE - moved
        # A number that would be cut off at an end of the edge is left away.
        apart = steps(scale.zoom)[0] * scale.zoom
        first = zero + math.ceil((_ENDS - zero) / apart) * apart - apart / 2
        last = zero + math.floor((scale.length - _ENDS - zero) / apart) * apart + apart / 2
        self._cut(painter, self._bare, corner, 0.0, scale.length, from_px, dots)
        self._cut(painter, self._numbered, corner, max(0.0, first), min(scale.length, last), from_px, dots)

    def _make(self, dots: float) -> None:
        long = self._of.length + 2 * _SPARE
        size = QSizeF(LEFT, long) if self._upright else QSizeF(long, BOTTOM)
        made = []
        for numbered in (False, True):
            made.append(blank(size, dots, on_bench().colour("bench")))
            painter = QPainter(made[-1])
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._draw_ticks(painter)
            if numbered:
                self._draw_numbers(painter)
            painter.end()
        self._bare, self._numbered = made

    def _cut(
        self, painter: QPainter, picture: QPixmap, corner: QPointF, first: float, last: float, from_px: float, dots: float
    ) -> None:
        """The piece of a kept picture that lies between two places of the edge, px."""
        if last <= first:
            return
        begin = round((first + from_px) * dots)
        wide = round((last + from_px) * dots) - begin
        at = begin / dots - from_px
        if self._upright:
            painter.drawPixmap(QPointF(corner.x(), corner.y() + at), picture, QRectF(0, begin, picture.width(), wide))
        else:
            painter.drawPixmap(QPointF(corner.x() + at, corner.y()), picture, QRectF(begin, 0, wide, picture.height()))

    def _places(self) -> Iterator[tuple[float, float, bool]]:
        """The ticks of the kept pictures: where each is in them, its millimetres, and whether it has a number."""
        zoom, sign, length = self._of
        return _ticks(zoom, self._zero + _SPARE, sign, length + 2 * _SPARE)

    def _draw_ticks(self, painter: QPainter) -> None:
        t = on_bench()
        lines: dict[bool, list[QLineF]] = {True: [], False: []}
        for place, _, whole in self._places():
            high = 9 if whole else 5
            line = QLineF(0, place, high, place) if self._upright else QLineF(place, BOTTOM - high, place, BOTTOM)
            lines[whole].append(line)
        for whole, some in lines.items():
            painter.setPen(QPen(t.colour("quiet" if whole else "line"), 1))
            painter.drawLines(some)  # type: ignore[call-overload]  # the stubs know no list of lines

    def _draw_numbers(self, painter: QPainter) -> None:
        painter.setFont(font(12))
        painter.setPen(on_bench().colour("quiet"))
        for place, value, whole in self._places():
            if not whole:
                continue
            painter.save()
            if self._upright:
                painter.translate(LEFT - 6, place)
                painter.rotate(-90)
            else:
                painter.translate(place, 6)
            painter.drawText(QRectF(-40, -7, 80, 14), int(Qt.AlignmentFlag.AlignCenter), f"{value:g}")
            painter.restore()


def _ticks(zoom: float, zero: float, sign: float, length: float) -> Iterator[tuple[float, float, bool]]:
    """The ticks along an edge so long: where each is, px, its millimetres, and whether it has a number."""
    major, minor = steps(zoom)
    every, apart = round(major / minor), minor * zoom * sign
    whole = math.floor(zero)  # added last: whole pixels farther on a tick looks the same, to the last part of a pixel
    first, last = sorted(((0.0 - zero) / apart, (length - zero) / apart))
    for place in range(math.ceil(first), math.floor(last) + 1):
        yield whole + round(zero - whole + place * apart, 6), place * minor, place % every == 0


@lru_cache(maxsize=4)
def scale_bar_area(zoom: float, right: float, y: float) -> QRect:
    """The whole pixels that the scale bar and the words under it take."""
    return _plate(zoom, right, y).united(_under(right, y)).toAlignedRect()


def _plate(zoom: float, right: float, y: float, told: bool = True) -> QRectF:
    """The ground of the bar, and of the words under it where there are any: it hides no more of the board than it must."""
    length = steps(zoom)[0] * zoom
    wide = max(length, _WORDS_WIDE - 12 if told else 40)
    return QRectF(right - wide - 14, y - 28, wide + 24, 74 if told else 38)


def _under(right: float, y: float) -> QRectF:
    return QRectF(right - _WORDS_WIDE + 2, y + 8, _WORDS_WIDE, 34)


class ScaleBar:
    """A bar of a round length with the length over it, and below where the pointer is."""

    def __init__(self) -> None:
        self._bar, self._words = Kept(), Kept()
        self._key: Hashable = None
        self._laid: list[tuple[QPointF, QPixmap]] = []

    def paint(self, painter: QPainter, camera: Camera, right: float, y: float, readout: str) -> None:
        """The bar, which ends at a place of the widget."""
        dots = painter.device().devicePixelRatio()  # type: ignore[union-attr]
        key = (camera.zoom, right, y, readout, dots, on_bench().name)
        if key != self._key:
            self._key, self._laid = key, self._pictures(camera, right, y, readout, dots)
        for at, picture in self._laid:
            painter.drawPixmap(at, picture)

    def _pictures(self, camera: Camera, right: float, y: float, readout: str, dots: float) -> list[tuple[QPointF, QPixmap]]:
        area, under = scale_bar_area(camera.zoom, right, y), _under(right, y)

        def draw(on_picture: QPainter) -> None:
            on_picture.translate(-QPointF(area.topLeft()))
            _draw_scale_bar(on_picture, camera, right, y, bool(readout))

        def write(on_picture: QPainter) -> None:
            on_picture.setFont(font(13))
            on_picture.setPen(on_bench().colour("quiet"))
            # A line is broken between place and material, if at all.
            place, _, what = readout.partition("  ")
            parted = f"{place.replace(' ', _TOGETHER)} {what.replace(' ', _TOGETHER)}" if what else readout
            words = on_picture.fontMetrics().elidedText(parted, Qt.TextElideMode.ElideRight, round(1.8 * under.width()))
            how = Qt.AlignmentFlag.AlignRight | Qt.TextFlag.TextWordWrap
            on_picture.drawText(QRectF(QPointF(0, 0), under.size()), int(how), words)

        told = camera.zoom, bool(readout)
        laid = [(QPointF(area.topLeft()), self._bar.picture(QSizeF(area.size()), dots, told, draw))]
        if readout:  # it is another at every move of the pointer
            laid.append((under.topLeft(), self._words.picture(under.size(), dots, readout, write)))
        return laid


def _draw_scale_bar(painter: QPainter, camera: Camera, right: float, y: float, told: bool) -> None:
    t = on_bench()
    major, _ = steps(camera.zoom)
    length = major * camera.zoom
    paint_plate(painter, _plate(camera.zoom, right, y, told))
    painter.setPen(QPen(t.colour("text"), 1.4))
    painter.drawLine(QPointF(right - length, y), QPointF(right, y))
    painter.drawLine(QPointF(right - length, y - 4), QPointF(right - length, y + 4))
    painter.drawLine(QPointF(right, y - 4), QPointF(right, y + 4))
    painter.setFont(font(13))
    painter.setPen(t.colour("text"))
    painter.drawText(QRectF(right - length - 40, y - 24, length + 80, 18), int(Qt.AlignmentFlag.AlignHCenter), f"{major:g} mm")
