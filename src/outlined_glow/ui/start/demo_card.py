"""A demo as a card that the sun slider lights."""

from __future__ import annotations

import json
from typing import Any

from PyQt6.QtCore import QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QImage,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
)

from ..assets import asset
from ..theme import SEMIBOLD, font, theme
from ..widgets import Pressable

#: So long the first window stands before its pictures are read.
_AFTER_MS = 20
#: How wide a card is at least and at most, px.
_NARROW, _WIDE = 148, 196


def _demo_facts(name: str) -> dict[str, Any]:
    return dict(json.loads(asset("demos", name, "demo.json")))


def _demo_picture(name: str, hour: str) -> QImage:
    return QImage.fromData(asset("demos", name, f"{hour}.png"))


class DemoCard(Pressable):
    """A demo, lit by the sun slider; Enter or a click opens it."""

    opened = pyqtSignal(str)

    def __init__(self, name: str) -> None:
        super().__init__(Qt.FocusPolicy.StrongFocus)
        self.name = name
        self._facts = _demo_facts(name)
        self._noon, self._night = QImage(), QImage()
        self._asked = False
        self._sun = 0.3
        self.setFixedHeight(214)
        self.setMinimumWidth(_NARROW)
        self.setMaximumWidth(_WIDE)
        self.clicked.connect(lambda _=False: self.opened.emit(self.name))
        self.setAccessibleName(f"Open the demo {self._facts['title']}")
        self.setToolTip("Open this demo (Enter)")

    def _read_pictures(self) -> None:
        self._noon, self._night = _demo_picture(self.name, "noon"), _demo_picture(self.name, "night")
        self.update()

    def show_sun(self, sun: float) -> None:
        """Light it."""
        self._sun = sun
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if not self._asked:
            # The first window stands before the pictures are read.
            self._asked = True
            QTimer.singleShot(_AFTER_MS, self._read_pictures)
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
        picture = QRectF(7, 7, self.width() - 14, 128)
        clip = QPainterPath()
        clip.addRoundedRect(picture, 6, 6)
        painter.save()
        painter.setClipPath(clip)
        painter.fillRect(picture, QColor("#17141B"))
        night = (1 - self._sun) ** 1.2
        for image, strength in ((self._noon, 1.0), (self._night, night)):
            if image.isNull():
                continue
            painter.setOpacity(strength)
            # All of the picture is seen, however narrow the card is.
            wide = min(picture.width(), picture.height() * image.width() / image.height())
            high = wide * image.height() / image.width()
            corner = (picture.center().x() - wide / 2, picture.center().y() - high / 2)
            painter.drawImage(QRectF(*corner, wide, high), image)
        painter.restore()
        painter.setFont(font(15, SEMIBOLD))
        painter.setPen(t.colour("text"))
        painter.drawText(QRectF(12, 140, self.width() - 20, 20), 0, self._facts["title"])
        painter.setFont(font(13))
        painter.setPen(t.colour("quiet"))
        for top, high, line in zip((160, 176), (18, 34), self._facts["lines"], strict=True):
            painter.drawText(QRectF(12, top, self.width() - 20, high), int(Qt.TextFlag.TextWordWrap), line)
