"""The LEDs of a strip of the score, numbered in the order in which it runs over them."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from ..core_door import core
from ..theme import SEMIBOLD, font, on_bench
from .camera import Camera

_RADIUS_PX, _BESIDE_PX = 8.0, 9.0
#: LEDs nearer together than this have no room for numbers.
_APART_PX = 15.0
#: So many numbers are read; of more only the rings are drawn, of very many none.
_MOST_NUMBERS, _MOST_RINGS = 200, 2000


def paint_way(painter: QPainter, camera: Camera, work: Any, strip: Any) -> None:
    """A ring round each LED of a strip, and its place on the way, from 1."""
    if core("pattern").pattern(strip.pattern, work.lamps.patterns).written:
        return  # letters have no order
    way = core("score").way_over(strip, work.lamps)
    if len(way.rows) > _MOST_RINGS:
        return
    t = on_bench()
    ox, oy = work.board.origin
    painter.setFont(font(12, SEMIBOLD))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    numbered = len(way.rows) <= _MOST_NUMBERS and core("light_facts").least_apart_mm(work) * camera.zoom > _APART_PX
    taken: list[QRectF] = []
    for row, place in zip(way.rows.tolist(), way.place.tolist(), strict=True):
        x, y = work.lamps.places[row].tolist()
        spot = camera.to_screen(x + ox, y + oy)
        painter.setPen(QPen(t.colour("ring"), 1.2))
        painter.drawEllipse(spot, _RADIUS_PX, _RADIUS_PX)
        room = QRectF(spot.x() + _BESIDE_PX, spot.y() - 18, 8.0 * len(str(int(place) + 1)) + 2, 15)
        if not numbered or any(room.intersects(other) for other in taken):
            continue
        taken.append(room)
        painter.setPen(t.colour("ring"))
        painter.drawText(QPointF(room.left(), room.bottom() - 2), str(int(place) + 1))
