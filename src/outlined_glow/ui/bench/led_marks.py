"""Rings round LEDs and their numbers: ten thousand in a blink, for a ring is drawn once and stamped."""

from __future__ import annotations

import itertools
import math
from collections import defaultdict
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QPainter, QPen, QPixmap

from ..core_door import core
from ..theme import SEMIBOLD, font, on_bench
from .camera import Camera
from .kept import blank, stamp

#: LEDs by array and place in it.
Picked = frozenset[tuple[str, int]]

#: The room that the number of an LED takes, beside that of its digits.
_NUMBER_PX, _BESIDE_PX = (20.0, 15.0), 8.0
#: LEDs nearer together than this would vanish under their numbers: only the ends of an array and what is in hand have one.
_CROWDED_PX = 18.0
_LINE_PX = 1.4


def paint_leds(painter: QPainter, camera: Camera, work: Any, taken: Any, seen: QRectF) -> None:
    """The number of each that is `seen` (px); the array in hand is ringed, and LEDs in hand are filled; hidden arrays are
    left out."""
    apart = core("light_facts").least_apart_mm(work) * camera.zoom
    ends = core("light_facts").first_and_last(work)
    radius = min(max(7.0, camera.zoom * 1.35), max(3.0, 0.46 * apart))  # dense LEDs keep their rings apart
    room = seen.adjusted(-radius, -radius, radius, radius)
    there = [(led, camera.to_screen(led.x, led.y)) for led in work.leds if led.array not in taken.hidden]
    rings: dict[tuple[bool, bool, bool], list[QPointF]] = defaultdict(list)
    numbers: list[tuple[bool, bool, Any, QPointF]] = []
    for led, spot in there:
        if not room.contains(spot):
            continue
        mine, held, here = led.array == taken.array, (led.array, led.place) in taken.leds, led.side == camera.side
        if mine or held or not here:
            rings[mine, held, here].append(spot)
        if held or apart > _CROWDED_PX or led.index in ends:
            numbers.append((mine or held, here, led, spot))
    scale = painter.device().devicePixelRatio()  # type: ignore[union-attr]
    for looks, spots in rings.items():
        stamp(painter, _ring(radius, scale, *looks), scale, spots)
    free = _Free()
    # Those in hand come first: where numbers would lie over one another, theirs stay.
    for in_hand, here, led, spot in sorted(numbers, key=lambda one: not one[0]):
        _number(painter, camera, work, radius, free, led, spot, in_hand, here)


def _ring(radius: float, scale: float, mine: bool, held: bool, here: bool) -> QPixmap:
    """The ring of an LED: of the array in hand or not, in hand itself or not, on this side or the other."""
    t = on_bench()
    side = 2 * math.ceil(radius + _LINE_PX)
    ring = blank(QSizeF(side, side), scale)
    painter = QPainter(ring)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    line = Qt.PenStyle.SolidLine if here else Qt.PenStyle.DashLine
    painter.setPen(QPen(t.colour("ring" if mine else "line", 1.0 if mine else 0.9), _LINE_PX, line))
    painter.setBrush(t.colour("ring", 0.35) if held else Qt.BrushStyle.NoBrush)
    painter.drawEllipse(QPointF(side / 2, side / 2), radius, radius)
    painter.end()
    return ring


def _number(
    painter: QPainter, camera: Camera, work: Any, radius: float, free: _Free, led: Any, spot: QPointF, mine: bool, here: bool
) -> None:
    """The number of an LED on the side of it that looks away from the board's middle."""
    t = on_bench()
    middle = work.board.origin[0] + work.board.size[0] / 2
    height = work.board.origin[1] + work.board.size[1] / 2
    out = QPointF((led.x - middle) * camera.sign, -(led.y - height))
    norm = math.hypot(out.x(), out.y()) or 1.0
    painter.setFont(font(13, SEMIBOLD) if mine else font(13))
    words = str(led.index)
    wide = max(18.0, painter.fontMetrics().horizontalAdvance(words) + _BESIDE_PX)
    at = spot + out * ((radius + 11 + (wide - 18) / 2 * abs(out.x()) / norm) / norm)
    if not free.take(at.x(), at.y()):
        return
    box = QRectF(at.x() - wide / 2, at.y() - 8, wide, 16)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(t.colour("window", 0.72))
    painter.drawRoundedRect(box, 7, 7)
    painter.setPen(t.colour("text" if mine or here else "quiet"))
    painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), words)


class _Free:
    """Places of numbers taken so far: one that would lie over another is left away."""

    def __init__(self) -> None:
        self._taken: dict[tuple[int, int], list[tuple[float, float]]] = {}

    def take(self, x: float, y: float) -> bool:
        """Take a place, if no number lies there."""
        column, row = int(x // _NUMBER_PX[0]), int(y // _NUMBER_PX[1])
        for near in itertools.product((column - 1, column, column + 1), (row - 1, row, row + 1)):
            for other_x, other_y in self._taken.get(near, ()):
                if abs(x - other_x) < _NUMBER_PX[0] and abs(y - other_y) < _NUMBER_PX[1]:
                    return False
        self._taken.setdefault((column, row), []).append((x, y))
        return True
