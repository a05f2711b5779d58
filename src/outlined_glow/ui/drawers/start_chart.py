"""The first second as a small chart: what is on is filled, what is unknown is hatched."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ..theme import font, theme

_ROW, _NAME, _FOOT = 16, 104, 18
_MOST = 14


class StartChart(QWidget):
    """A row for each net and each group of lights, over the first second."""

    def __init__(self) -> None:
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self._nodes: list[Any] = []
        self._seconds = 1.0

    def show_start(self, first: Any) -> None:
        """Change the rows; None for no LEDs."""
        self._nodes = list(first.nodes[:_MOST]) if first is not None else []
        self.setFixedHeight(_ROW * len(self._nodes) + _FOOT if self._nodes else 0)
        told = "; ".join(f"{one.net}: " + ", ".join(f"{level} from {since:.3g} s" for since, level in one.levels)
                         for one in self._nodes)  # fmt: skip
        self.setAccessibleName("the first second after power-on")
        self.setAccessibleDescription(told)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        t = theme()
        painter.setFont(font(12))
        wide = self.width() - _NAME
        for at, node in enumerate(self._nodes):
            y = at * _ROW
            painter.setPen(t.colour("quiet"))
            words = painter.fontMetrics().elidedText(node.net, Qt.TextElideMode.ElideRight, _NAME - 8)
            painter.drawText(QRectF(0, y, _NAME - 8, _ROW), int(Qt.AlignmentFlag.AlignVCenter), words)
            painter.fillRect(QRectF(_NAME, y + 2, wide, _ROW - 4), t.colour("sunken"))
            ends = [since for since, _ in node.levels[1:]] + [self._seconds]
            for (since, level), until in zip(node.levels, ends, strict=True):
                left, right = (min(1.0, time / self._seconds) * wide for time in (since, until))
                area = QRectF(_NAME + left, y + 2, max(0.0, right - left), _ROW - 4)
                if level == "1":
                    painter.fillRect(area, t.colour("lamp"))
                elif level == "unknown":
                    painter.fillRect(area, QBrush(t.colour("quiet"), Qt.BrushStyle.BDiagPattern))
        if self._nodes:
            y = _ROW * len(self._nodes)
            painter.setPen(QPen(t.colour("quiet")))
            painter.drawText(QRectF(_NAME, y, 40, _FOOT), int(Qt.AlignmentFlag.AlignVCenter), "0")
            right = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
            painter.drawText(QRectF(_NAME, y, wide, _FOOT), int(right), f"{self._seconds:g} s")
