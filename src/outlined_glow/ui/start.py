"""The start page: a drop target, the demos, recent work; the sun works here before any board exists."""

from __future__ import annotations

import json
from datetime import datetime
from importlib import resources
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QDragEnterEvent,
    QDragLeaveEvent,
    QDropEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPixmap,
    QRadialGradient,
    QResizeEvent,
)
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ..core.project.storage import read_thumbnail
from .bench.sun import SunSlider
from .recent import recent_files
from .theme import SEMIBOLD, font, theme
from .widgets import Card, ElidedLabel, QuantityField, button, clear, label

_DEMOS = ("moth",)


def _demo_facts(name: str) -> dict[str, Any]:
    text = resources.files("outlined_glow.data.demos").joinpath(name, "demo.json").read_text("utf-8")
    return dict(json.loads(text))


def _demo_picture(name: str, hour: str) -> QImage:
    data = resources.files("outlined_glow.data.demos").joinpath(name, f"{hour}.png").read_bytes()
    return QImage.fromData(data)


class DemoCard(QWidget):
    """A demo, lit by the sun slider; Enter or a click opens it."""

    opened = pyqtSignal(str)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.name = name
        self._facts = _demo_facts(name)
        self._noon, self._night = _demo_picture(name, "noon"), _demo_picture(name, "night")
        self._sun = 0.3
        self.setFixedSize(300, 268)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(f"Open the demo {self._facts['title']}")
        self.setToolTip("Open this demo (Enter)")

    def show_sun(self, sun: float) -> None:
        """Light it."""
        self._sun = sun
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.opened.emit(self.name)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.opened.emit(self.name)
            return
        super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        t = theme()
        area = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        window = self.window()
        ringed = window is not None and window.focusWidget() is self
        painter.setPen(QPen(t.colour("lamp" if ringed else "line"), 2 if ringed else 1))
        painter.setBrush(t.colour("drawer"))
        painter.drawRoundedRect(area, 10, 10)
        picture = QRectF(7, 7, self.width() - 14, 190)
        clip = QPainterPath()
        clip.addRoundedRect(picture, 6, 6)
        painter.save()
        painter.setClipPath(clip)
        painter.fillRect(picture, QColor("#17141B"))
        night = (1 - self._sun) ** 1.2
        for image, strength in ((self._noon, 1.0), (self._night, night)):
            painter.setOpacity(strength)
            wide = picture.height() * image.width() / image.height()
            painter.drawImage(QRectF(picture.center().x() - wide / 2, picture.top(), wide, picture.height()), image)
        painter.restore()
        painter.setFont(font(15, SEMIBOLD))
        painter.setPen(t.colour("text"))
        painter.drawText(QRectF(14, 204, self.width() - 28, 20), 0, self._facts["title"])
        painter.setFont(font(13))
        painter.setPen(t.colour("quiet"))
        for place, line in enumerate(self._facts["lines"]):
            painter.drawText(QRectF(14, 225 + 17 * place, self.width() - 28, 18), 0, line)


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
        words = label("an SVG drawing; every colour becomes a material of the board", "quiet")
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
        self.width_field.setFixedWidth(92)
        self.width_field.setAccessibleName("painted width of the picture")
        self.width_field.show_value(60.0)
        self.chosen_width: float = 60.0
        self.width_field.committed.connect(self._width)
        row.addWidget(self.width_field)
        row.addStretch(1)
        column.addLayout(row)
        column.addStretch(1)

    def _width(self, value: float) -> None:
        if 1 <= value <= 1000:
            self.chosen_width = value
        self.width_field.show_value(self.chosen_width)

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


class StartPage(QWidget):
    """In place of the bench while nothing lies on it."""

    demo_wanted = pyqtSignal(str)
    file_dropped = pyqtSignal(str)
    picture_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Start")
        self.sun = SunSlider(0.3)
        self.sun.setParent(self)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 76, 24, 24)
        column.setSpacing(12)
        self.zone = DropZone()
        self.zone.dropped.connect(self.file_dropped.emit)
        self.zone.wanted.connect(self.picture_wanted.emit)
        column.addWidget(self.zone, 1)
        head = QHBoxLayout()
        head.addWidget(label("Or take one apart", "cardTitle"))
        head.addStretch(1)
        head.addWidget(label("a complete project, ready to light", "quiet"))
        column.addLayout(head)
        row = QHBoxLayout()
        row.setSpacing(16)
        self.demos = [DemoCard(name) for name in _DEMOS]
        for card in self.demos:
            card.opened.connect(self.demo_wanted.emit)
            self.sun.changed.connect(card.show_sun)
            row.addWidget(card)
        row.addWidget(self._keys(), 1)
        column.addLayout(row)

    def _keys(self) -> QWidget:
        box = QWidget()
        column = QVBoxLayout(box)
        column.setContentsMargins(12, 6, 0, 6)
        column.setSpacing(7)
        for key, words in (
            ("Enter", "opens the ringed demo"),
            ("Ctrl+O", "opens a picture or a project"),
            ("1 to 9", "the stages, once there is a board"),
            ("N", "noon to midnight"),
            ("T", "turns the board over"),
            ("space", "plays the pattern"),
            ("F", "fits the board"),
        ):
            line = QHBoxLayout()
            head = label(key)
            head.setFixedWidth(62)
            line.addWidget(head)
            line.addWidget(label(words, "quiet"), 1)
            column.addLayout(line)
        column.addStretch(1)
        return box

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.sun.move((self.width() - self.sun.width()) // 2, 12)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        QPainter(self).fillRect(self.rect(), theme().colour("bench"))


class RecentRow(QWidget):
    """A recent project: its picture, name and age."""

    opened = pyqtSignal(str)

    def __init__(self, path: Path) -> None:
        super().__init__()
        self._path = path
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(f"Open {path.stem}")
        self.setToolTip(str(path))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 2, 0, 2)
        row.setSpacing(10)
        picture = QLabel()
        picture.setFixedSize(72, 54)
        data = read_thumbnail(path)
        if data:
            image = QImage.fromData(data)
            picture.setPixmap(
                QPixmap.fromImage(image.scaled(72, 54, Qt.AspectRatioMode.KeepAspectRatioByExpanding,
                                               Qt.TransformationMode.SmoothTransformation))
            )  # fmt: skip
        row.addWidget(picture)
        column = QVBoxLayout()
        column.setSpacing(0)
        column.addStretch(1)
        column.addWidget(ElidedLabel(path.stem))
        column.addWidget(ElidedLabel(_age(path), "quiet"))
        column.addStretch(1)
        row.addLayout(column, 1)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.opened.emit(str(self._path))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space):
            self.opened.emit(str(self._path))
            return
        super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.hasFocus():
            painter = QPainter(self)
            painter.setPen(QPen(theme().colour("ring"), 1))
            painter.drawRoundedRect(self.rect().adjusted(0, 0, -1, -1), 5, 5)


def _age(path: Path) -> str:
    """When a file was written, as people say it."""
    try:
        moment = datetime.fromtimestamp(path.stat().st_mtime)
    except OSError:
        return ""
    days = (datetime.now().date() - moment.date()).days
    if days == 0:
        return f"today {moment:%H:%M}"
    if days == 1:
        return f"yesterday {moment:%H:%M}"
    if days < 7:
        return f"{moment:%A}"
    return f"{moment.day} {moment:%B}" + ("" if days < 300 else f" {moment.year}")


class BeginDrawer(QFrame):
    """The drawer of the start page: recent work and a button to open a project."""

    file_wanted = pyqtSignal(str)
    open_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("drawerFrame")
        self.setFixedWidth(320)
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 12, 14, 12)
        column.setSpacing(8)
        head = label("Begin", "stageTitle")
        head.setContentsMargins(6, 0, 0, 0)
        column.addWidget(head)
        self.state = label("nothing on the bench yet", "quiet")
        self.state.setContentsMargins(6, 0, 0, 0)
        column.addWidget(self.state)
        self.card = Card("Recent work")
        self._rows = QVBoxLayout()
        self._rows.setSpacing(6)
        self.card.body.addLayout(self._rows)
        column.addWidget(self.card)
        column.addStretch(1)
        column.addWidget(button("Open a project…", self.open_wanted.emit, filled=True))
        self.refresh()

    def refresh(self) -> None:
        """Read the recent files anew."""
        clear(self._rows)
        paths = recent_files()[:5]
        for path in paths:
            row = RecentRow(path)
            row.opened.connect(self.file_wanted.emit)
            self._rows.addWidget(row)
        if not paths:
            words = "What you save will be found here, with its picture."
            self._rows.addWidget(label(words, "quiet", wrap=True))
        self.card.aside.set_full(f"{len(paths)} projects" if len(paths) > 1 else "")
