"""Places of a finding, marked on the bench: rings, and where something is too narrow how wide it is, across it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from ..theme import SEMIBOLD, font, on_bench
from .camera import Camera

_TOKENS = {"stop": "warn", "warning": "lamp", "note": "note"}
_MOST = 300
#: Pixels: the arms of a calliper beyond the banks, and the room that a figure needs.
_ARM, _ROOM = 15.0, QRectF(-24, -11, 48, 22)


@dataclass(frozen=True)
class Marks:
    """Places of the board frame, which of them is in hand, and widths (mm, degrees across) where they have one."""

    places: tuple[tuple[float, float], ...] = ()
    severity: str = "note"
    current: int = 0
    widths: tuple[tuple[float, float], ...] = ()

    @property
    def here(self) -> tuple[float, float] | None:
        """The place in hand."""
        return self.places[self.current] if self.current < len(self.places) else None


def mark_at(marks: Marks, camera: Camera, origin: tuple[float, float], at: QPointF, reach: float) -> int | None:
    """Which mark is under the pointer."""
    best = None
    for number, (x, y) in enumerate(marks.places[:_MOST]):
        gap = camera.to_screen(x + origin[0], y + origin[1]) - at
        far = math.hypot(gap.x(), gap.y())
        if far < reach:
            best, reach = number, far
    return best


def marks_of(finding: Any, current: int = 0) -> Marks:
    """The marks of a finding."""
    places = finding.places or (((finding.x_mm, finding.y_mm),) if finding.x_mm is not None else ())
    return Marks(tuple(places), finding.severity, current, tuple((one.mm, one.across_deg) for one in finding.widths))


def paint_marks(painter: QPainter, camera: Camera, origin: tuple[float, float], marks: Marks) -> None:
    """Every place: the one in hand last, larger, with its figure; the others with theirs where there is room."""
    token = on_bench().colour(_TOKENS[marks.severity])
    taken: list[QRectF] = []
    order = [at for at in range(min(_MOST, len(marks.places))) if at != marks.current]
    spots = [camera.to_screen(x + origin[0], y + origin[1]) for x, y in marks.places]
    for at in [*order, marks.current] if marks.places else []:
        current = at == marks.current
        if at >= len(marks.widths):
            _ring(painter, spots[at], token, current)
            continue
        width, across = marks.widths[at]
        end = _calliper(painter, spots[at], width * camera.zoom, across, camera.sign, token, current)
        room = _ROOM.translated(end)
        if current or not any(room.intersects(other) for other in taken):
            taken.append(room)
            _figure(painter, room, f"{width:.2f}", current)


def _ring(painter: QPainter, spot: QPointF, token: Any, current: bool) -> None:
    radius = 13.0 if current else 8.0
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(on_bench().colour("bench", 0.8), 4))
    painter.drawEllipse(spot, radius, radius)
    painter.setPen(QPen(token, 2 if current else 1.4))
    painter.drawEllipse(spot, radius, radius)


def _calliper(
    painter: QPainter, spot: QPointF, pixels: float, across: float, sign: float, token: Any, current: bool
) -> QPointF:
    """Two arms from outside to the banks, with feet along them; where the figure goes."""
    a = math.radians(across)
    out = QPointF(math.cos(a) * sign, -math.sin(a))
    if out.y() > 0:
        out = -out
    foot = QPointF(-out.y(), out.x()) * (5.0 if current else 3.5)
    arm = _ARM if current else 9.0
    half = max(pixels / 2, 1.0)
    for pen in (QPen(on_bench().colour("bench", 0.8), 4), QPen(token, 2 if current else 1.4)):
        painter.setPen(pen)
        for way in (1, -1):
            bank = spot + out * (way * half)
            painter.drawLine(bank, spot + out * (way * (half + arm)))
            painter.drawLine(bank - foot, bank + foot)
    return spot + out * (half + arm + 12)


def _figure(painter: QPainter, room: QRectF, words: str, current: bool) -> None:
    t = on_bench()
    painter.setPen(QPen(t.colour("line"), 1) if current else Qt.PenStyle.NoPen)
    painter.setBrush(t.colour("window", 0.9 if current else 0.72))
    painter.drawRoundedRect(room.adjusted(3, 1, -3, -1), 9, 9)
    painter.setFont(font(13, SEMIBOLD) if current else font(12))
    painter.setPen(t.colour("text"))
    painter.drawText(room, int(Qt.AlignmentFlag.AlignCenter), words)
