"""How volts and light fall over the hours of a supply, up to the end."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ..core_door import core
from ..theme import font, theme


class RunPlot(QWidget):
    """Volts and light over the hours, up to the end."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(118)
        self._run: Any = None

    def show_run(self, run: Any) -> None:
        """Change the curves."""
        self._run = run
        if run is not None:
            self.setAccessibleName(f"battery life {run.hours:.0f} hours, ended by {run.ended_by}")
        self.setVisible(run is not None)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        run = self._run
        if run is None or run.hours <= 0:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        area = QRectF(38, 8, self.width() - 84, self.height() - 30)
        painter.fillRect(area, t.colour("sunken"))
        low, high = min(run.curve_v) - 0.05, max(run.curve_v) + 0.05

        def at(hour: float, share: float) -> QPointF:
            return QPointF(area.left() + hour / run.hours * area.width() * 0.94, area.bottom() - share * area.height())

        def curve(values: Any, least: float, most: float) -> QPolygonF:
            return QPolygonF([at(h, (v - least) / (most - least)) for h, v in zip(run.curve_h, values, strict=True)])

        painter.setPen(QPen(t.colour("warn"), 1, Qt.PenStyle.DashLine))
        painter.drawLine(at(0, 0.5 / 1.1), at(run.hours, 0.5 / 1.1))
        painter.setPen(QPen(t.colour("sea"), 1.8))
        painter.drawPolyline(curve(run.curve_v, low, high))
        painter.setPen(QPen(t.colour("honey"), 1.8))
        painter.drawPolyline(curve(run.curve_light, 0.0, 1.1))
        end = at(run.hours, run.curve_light[-1] / 1.1)
        painter.setPen(QPen(t.colour("warn"), 1.6))
        painter.drawLine(QPointF(end.x(), area.top()), QPointF(end.x(), area.bottom()))
        painter.setBrush(t.colour("card"))
        painter.drawEllipse(end, 4, 4)
        painter.setFont(font(12))
        painter.setPen(t.colour("sea"))
        painter.drawText(QRectF(0, area.top() - 2, 35, 14), int(Qt.AlignmentFlag.AlignRight), f"{high:.1f} V")
        painter.drawText(QRectF(0, area.bottom() - 13, 35, 14), int(Qt.AlignmentFlag.AlignRight), f"{low:.1f} V")
        painter.setPen(t.colour("honey"))
        painter.drawText(QRectF(area.right() + 4, area.top() - 2, 44, 14), 0, "100 %")
        painter.drawText(QRectF(area.right() + 4, at(0, 0.5 / 1.1).y() - 8, 44, 14), 0, "50 %")
        painter.setPen(t.colour("quiet"))
        painter.drawText(QRectF(area.left(), area.bottom() + 4, 40, 16), 0, "0")
        words = core("facts").hours_words(run.hours)
        painter.drawText(QRectF(end.x() - 60, area.bottom() + 4, 72, 16), int(Qt.AlignmentFlag.AlignRight), words)
