"""A user's hand on the real window, with helpers that click in board millimetres."""

from __future__ import annotations

import time

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QWidget

from outlined_glow.ui.shell import MainWindow


class Hand:
    """A user: clicks, drags, types, looks, waits until the board is drawn. `broke` is what failed in the background."""

    def __init__(self, window: MainWindow) -> None:
        self.window = window
        self.bench = window.area.bench
        self.broke: list[BaseException] = []
        window.jobs.broke.connect(self.broke.append)

    def settle(self, seconds: float = 180.0) -> None:
        """Wait until nothing is under way. Workers give way to everything else: on a busy machine that is long."""
        end = time.monotonic() + seconds
        quiet = 0
        while quiet < 3:
            assert time.monotonic() < end, "the window never came to rest"
            QTest.qWait(10)
            session = self.window.session
            busy = (
                self.window.jobs._running
                or session.making.waiting
                or self.bench._sharpen.isActive()
                or self.bench._flip.running
            )
            quiet = 0 if busy else quiet + 1

    def key(self, key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        """Press a key where the focus is."""
        QTest.keyClick(self.window.focusWidget() or self.window, key, modifier)

    def click(self, widget: QWidget, at: QPoint | None = None) -> None:
        """Press and let go."""
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=at or widget.rect().center())

    def press(self, part: QWidget, text: str) -> None:
        """Press the button of that text in a part of the window."""
        [one] = [one for one in part.findChildren(QAbstractButton) if one.text() == text]
        self.click(one)

    def screen(self, x_mm: float, y_mm: float) -> QPoint:
        """A place of the board on the bench."""
        return self.bench.screen_of(x_mm, y_mm).toPoint()

    def click_board(self, x_mm: float, y_mm: float) -> None:
        """Press a place of the board."""
        self.click(self.bench, self.screen(x_mm, y_mm))

    def drag(self, start: QPointF | QPoint, end: QPointF | QPoint, steps: int = 6) -> None:
        """Drag on the bench."""
        one, other = QPointF(start), QPointF(end)
        QTest.mousePress(self.bench, Qt.MouseButton.LeftButton, pos=one.toPoint())
        for step in range(1, steps + 1):
            QTest.mouseMove(self.bench, (one + (other - one) * step / steps).toPoint())
            QTest.qWait(15)
        QTest.mouseRelease(self.bench, Qt.MouseButton.LeftButton, pos=other.toPoint())

    def type_in(self, field: QWidget, text: str) -> None:
        """Type over a field and press Enter."""
        field.setFocus()
        field.selectAll()  # type: ignore[attr-defined]
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)

    def choose(self, choice: QWidget, key: str) -> None:
        """Choose a word of a choice by keyboard."""
        choice.setFocus()
        wanted = choice.findData(key)  # type: ignore[attr-defined]
        assert wanted >= 0, key
        step = Qt.Key.Key_Down if wanted > choice.currentIndex() else Qt.Key.Key_Up  # type: ignore[attr-defined]
        while choice.currentIndex() != wanted:  # type: ignore[attr-defined]
            QTest.keyClick(choice, step)
        self.settle()

    def see(self) -> np.ndarray:
        """The bench as a person sees it: (h, w, 3)."""
        image = self.bench.grab().toImage().convertToFormat(QImage.Format.Format_RGB888)
        bits = image.constBits()
        assert bits is not None
        bits.setsize(image.sizeInBytes())
        rows = np.frombuffer(bits, np.uint8).reshape(image.height(), image.bytesPerLine())
        return rows[:, : image.width() * 3].reshape(image.height(), image.width(), 3).astype(int).copy()

    def colour_at(self, x_mm: float, y_mm: float) -> np.ndarray:
        """What is seen at a place of the board."""
        spot = self.screen(x_mm, y_mm)
        scale = self.window.devicePixelRatioF()
        return self.see()[round(spot.y() * scale), round(spot.x() * scale)]
