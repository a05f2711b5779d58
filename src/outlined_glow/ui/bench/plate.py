"""The ground under what lies over the bench: unseen on the bare bench, and legible over any board."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter

from ..theme import on_bench


def paint_plate(painter: QPainter, area: QRectF) -> None:
    """A rounded ground in the colour of the bench, a little see-through."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(on_bench().colour("bench", 0.84))
    painter.drawRoundedRect(area, 10, 10)
    painter.restore()
