"""How the periods of many timers lie: bars, with the period that is meant and where nine in ten are."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ..core.units import show_si
from .theme import font, theme


class SpreadPlot(QWidget):
    """The distribution of a period over many boards that are built."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(84)
        self.setAccessibleName("how the period spreads over many boards")
        self.spread: Any = None

    def show_spread(self, spread: Any) -> None:
        """Another distribution; None hides it."""
        self.spread = spread
        self.setVisible(spread is not None)
        if spread is not None:
            low, high = spread.nine_in_ten
            self.setAccessibleDescription(f"nine in ten between {show_si(low, 's')} and {show_si(high, 's')}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        one = self.spread
        if one is None or one.most_s <= one.least_s:
            return
        painter, t = QPainter(self), theme()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(4, 6, self.width() - 8, self.height() - 26)
        painter.fillRect(area, t.colour("sunken"))

        def at(period_s: float) -> float:
            return float(area.left() + (period_s - one.least_s) / (one.most_s - one.least_s) * area.width())

        low, high = (at(period) for period in one.nine_in_ten)
        painter.fillRect(QRectF(low, area.top(), high - low, area.height()), t.colour("lamp", 0.14))
        wide, most = area.width() / len(one.counts), max(one.counts)
        for place, count in enumerate(one.counts):
            tall = count / most * (area.height() - 4)
            bar = QRectF(area.left() + place * wide + 1, area.bottom() - tall, wide - 2, tall)
            painter.fillRect(bar, t.colour("lamp"))
        painter.setPen(QPen(t.colour("text"), 1.4))
        painter.drawLine(QPointF(at(one.meant_s), area.top()), QPointF(at(one.meant_s), area.bottom()))
        painter.setFont(font(12))
        painter.setPen(t.colour("quiet"))
        foot = QRectF(area.left(), area.bottom() + 3, area.width(), 16)
        for side, words in (
            (Qt.AlignmentFlag.AlignLeft, show_si(one.least_s, "s")),
            (Qt.AlignmentFlag.AlignRight, show_si(one.most_s, "s")),
        ):
            painter.drawText(foot, int(side), words)
        painter.setPen(t.colour("text"))
        meant = QRectF(min(max(at(one.meant_s) - 40, 70), self.width() - 150), foot.top(), 80, 16)
        painter.drawText(meant, int(Qt.AlignmentFlag.AlignHCenter), show_si(one.meant_s, "s"))
