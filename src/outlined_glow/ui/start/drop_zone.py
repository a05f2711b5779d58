"""Where a picture falls."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QDragEnterEvent,
    QDragLeaveEvent,
    QDropEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QRadialGradient,
)
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QVBoxLayout

from ..fields import QuantityField
from ..theme import SEMIBOLD, font, theme
from ..widgets import button, label


class DropZone(QFrame):
    """Where a picture falls; also a button that asks for one, and the width it should have."""

    dropped = pyqtSignal(str)
    wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setAcceptDrops(True)
        self.setAccessibleName("Drop a picture here")
        self._over = False
        self.setMinimumHeight(250)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 136, 20, 22)
        column.setSpacing(6)
        column.addStretch(1)
        head = QLabel("Drop a picture here")
        head.setFont(font(22, SEMIBOLD))
        head.setAlignment(Qt.AlignmentFlag.AlignCenter)
        head.setStyleSheet("font-size: 22px; font-weight: 600;")
        column.addWidget(head)
        words = label("a drawing or a photograph; every colour becomes a material of the board", "quiet")
        words.setAlignment(Qt.AlignmentFlag.AlignCenter)
        column.addWidget(words)
        column.addSpacing(8)
        row = QHBoxLayout()
        row.setSpacing(14)
        row.addStretch(1)
        self.choose = button("Choose a picture…", self.wanted.emit, filled=True)
        row.addWidget(self.choose)
        row.addWidget(label("painted width", "quiet"))
        self.width_field = QuantityField("mm", "mm", step=5)
        self.width_field.setObjectName("field")
        self.width_field.setFixedWidth(104)
        self.width_field.setAccessibleName("painted width of the picture")
        self.width_field.setPlaceholderText("its own")
        self.width_field.setToolTip("what the file says of its size in mm or inches; 60 mm where it says nothing")
        self.chosen_width: float | None = None
        self.width_field.committed.connect(self._width)
        self.width_field.textEdited.connect(self._forget)
        row.addWidget(self.width_field)
        row.addStretch(1)
        column.addLayout(row)
        column.addStretch(1)

    def _width(self, value: float) -> None:
        if 1 <= value <= 1000:
            self.chosen_width = value
        self.width_field.show_value(self.chosen_width)

    def _forget(self, text: str) -> None:
        if not text.strip():
            self.chosen_width = None
            self.width_field.setModified(False)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        mime = event.mimeData() if event is not None else None
        if event is not None and mime is not None and mime.hasUrls():
            event.acceptProposedAction()
            self._over = True
            self.update()

    def dragLeaveEvent(self, event: QDragLeaveEvent | None) -> None:
        self._over = False
        self.update()

    def dropEvent(self, event: QDropEvent | None) -> None:
        self._over = False
        self.update()
        mime = event.mimeData() if event is not None else None
        if mime is not None and mime.hasUrls():
            self.dropped.emit(mime.urls()[0].toLocalFile())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        area = QRectF(self.rect()).adjusted(2, 2, -2, -2)
        glow = QRadialGradient(QPointF(self.width() / 2, 100), self.width() * 0.42)
        glow.setColorAt(0, t.colour("lamp", 0.30 if self._over else 0.16))
        glow.setColorAt(1, t.colour("lamp", 0.0))
        painter.setBrush(glow)
        painter.setPen(QPen(t.colour("lamp"), 2 if self._over else 1.4, Qt.PenStyle.CustomDashLine))
        pen = painter.pen()
        pen.setDashPattern([6, 4])
        painter.setPen(pen)
        painter.drawRoundedRect(area, 14, 14)
        self._emblem(painter, QPointF(self.width() / 2, 74))

    def _emblem(self, painter: QPainter, at: QPointF) -> None:
        """Half a leaf as a drawing, half as a board that glows."""
        t = theme()
        half = QPainterPath(QPointF(at.x(), at.y() - 46))
        half.cubicTo(at.x() + 52, at.y() - 34, at.x() + 56, at.y() + 22, at.x(), at.y() + 46)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#2E1240"))
        painter.drawPath(half)
        gold = QPen(QColor("#D9B25A"), 2.2)
        painter.setPen(gold)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(half)
        for place in range(4):
            y = at.y() - 22 + place * 14
            reach = 30 - abs(place - 1.4) * 5
            painter.drawLine(QPointF(at.x(), y + 8), QPointF(at.x() + reach, y - 4))
            spot = QPointF(at.x() + reach, y - 4)
            light = QRadialGradient(spot, 13)
            light.setColorAt(0, QColor(255, 217, 138, 230))
            light.setColorAt(0.25, QColor(255, 190, 90, 130))
            light.setColorAt(1, QColor(255, 170, 60, 0))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(light)
            painter.drawEllipse(spot, 13, 13)
            painter.setPen(gold)
        painter.setPen(QPen(t.colour("quiet"), 1.4, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        other = QPainterPath(QPointF(at.x(), at.y() - 46))
        other.cubicTo(at.x() - 52, at.y() - 34, at.x() - 56, at.y() + 22, at.x(), at.y() + 46)
        painter.drawPath(other)
        for place in range(4):
            y = at.y() - 22 + place * 14
            reach = 30 - abs(place - 1.4) * 5
            painter.drawLine(QPointF(at.x(), y + 8), QPointF(at.x() - reach, y - 4))
            painter.drawEllipse(QPointF(at.x() - reach, y - 4), 3.4, 3.4)
        painter.setPen(QPen(t.colour("text"), 1.6))
        painter.drawLine(QPointF(at.x(), at.y() - 54), QPointF(at.x(), at.y() + 54))
