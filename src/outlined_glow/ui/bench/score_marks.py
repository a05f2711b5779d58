"""What is told along the time of a score: moments, markers, the stretch that is played again, scenes."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPolygonF

from ...core.units import show
from ..theme import font, theme
from .lanes import GROUND, Lanes

#: A flag of a marker takes so much room, and so much beside it takes a press.
_FLAG, _NEAR_PX = 12.0, 6.0


def paint_times(painter: QPainter, lanes: Lanes) -> None:
    """Round moments over the rows of strips."""
    painter.setPen(theme().colour("quiet"))
    for moment in lanes.ticks():
        x = lanes.x_of(moment)
        if x < lanes.area.right() - 8:
            painter.drawText(QPointF(x, 21), f"{show(moment, 2)}{' s' if not moment else ''}")


def paint_quarters(painter: QPainter, left: float, wide: float, span_s: float) -> None:
    """The quarters of a pattern."""
    painter.setPen(theme().colour("quiet"))
    for part in range(5):
        words = f"{show(span_s * part / 4, 2)}{' s' if part in (0, 4) else ''}"
        x = left + wide * part / 4
        align = {0: Qt.AlignmentFlag.AlignLeft, 4: Qt.AlignmentFlag.AlignRight}.get(part, Qt.AlignmentFlag.AlignHCenter)
        painter.drawText(QRectF({0: x, 4: x - 60}.get(part, x - 30), 8, 60, 18), int(align), words)


def paint_first_second(painter: QPainter, left: float, wide: float) -> None:
    """The head over the first second after power-on."""
    painter.setPen(theme().colour("quiet"))
    painter.drawText(QRectF(left, 8, wide, 18), int(Qt.AlignmentFlag.AlignLeft), "first second")


def paint_start(painter: QPainter, area: QRectF, levels: tuple[tuple[float, str], ...]) -> None:
    """What a group does in the first second: lit, dark, or hatched where nobody knows."""
    t = theme()
    painter.fillRect(area, QColor(*GROUND))
    ends = [since for since, _ in levels[1:]] + [1.0]
    for (since, level), end in zip(levels, ends, strict=True):
        left, right = (area.left() + min(1.0, at) * area.width() for at in (since, end))
        part = QRectF(left, area.top(), max(0.0, right - left), area.height())
        if level == "1":
            painter.fillRect(part, t.colour("lamp"))
        elif level == "unknown":
            painter.fillRect(part, QBrush(QColor("#8A8094"), Qt.BrushStyle.BDiagPattern))


def paint_markers(painter: QPainter, lanes: Lanes, markers: tuple[Any, ...], held: tuple[str, float] | None) -> None:
    """Flags with their names; one in the hand is where the hand has it."""
    t = theme()
    painter.setFont(font(12))
    for one in markers:
        x = lanes.x_of(held[1] if held is not None and held[0] == one.name else one.at_s)
        top = lanes.area.top()
        painter.setPen(t.colour("sea"))
        painter.drawLine(QPointF(x, top - 8), QPointF(x, lanes.area.bottom()))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.colour("sea"))
        painter.drawPolygon(QPolygonF([QPointF(x, top - 10), QPointF(x + 9, top - 6.5), QPointF(x, top - 3)]))
        words = painter.fontMetrics().elidedText(one.name, Qt.TextElideMode.ElideRight, 90)
        plate = QRectF(x + 1, top, painter.fontMetrics().horizontalAdvance(words) + 8, 15)
        painter.fillRect(plate, t.colour("window", 0.85))
        painter.setPen(t.colour("sea"))
        painter.drawText(plate.adjusted(4, 0, 0, 0), int(Qt.AlignmentFlag.AlignVCenter), words)


def marker_at(lanes: Lanes, markers: tuple[Any, ...], spot: QPointF) -> Any:
    """The marker whose flag lies under the pointer; None where none does."""
    if not lanes.area.top() - _FLAG <= spot.y() < lanes.area.top():
        return None
    near = [one for one in markers if -_NEAR_PX <= spot.x() - lanes.x_of(one.at_s) <= _FLAG]
    return min(near, key=lambda one: abs(lanes.x_of(one.at_s) - spot.x()), default=None)


def paint_scenes(painter: QPainter, lanes: Lanes, scenes: tuple[Any, ...], left: float) -> None:
    """Which part of the score each scene is."""
    t, top = theme(), lanes.area.bottom() + 4
    painter.setFont(font(13))
    painter.setPen(t.colour("quiet"))
    painter.drawText(QRectF(16, top, left - 24, 17), int(Qt.AlignmentFlag.AlignVCenter), "scenes")
    for one in scenes:
        start = lanes.x_of(one.start_s)
        end = min(lanes.x_of(one.start_s + one.length_s), lanes.area.right())
        box = QRectF(start, top, max(3.0, end - start - 1), 17)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.colour("sunken"))
        painter.drawRoundedRect(box, 3, 3)
        painter.setPen(t.colour("sea"))
        words = painter.fontMetrics().elidedText(one.name, Qt.TextElideMode.ElideRight, int(box.width()) - 8)
        painter.drawText(box.adjusted(5, 0, -2, 0), int(Qt.AlignmentFlag.AlignVCenter), words)
