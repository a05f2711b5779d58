"""Turning the board over like a thing in the hand: the side in view narrows, the other one widens once it is drawn."""

from __future__ import annotations

import math

from PyQt6.QtCore import QObject, QTimer, QVariantAnimation, pyqtSignal
from PyQt6.QtGui import QImage, QPainter

from .camera import Camera

_HALF_MS = 110
#: A side that takes longer to draw is no longer waited for: the bench says what it does.
_PATIENCE_MS = 700


class Flip(QObject):
    """One turn: to the edge, and on from there when `arrived` says that the other side can be painted."""

    moved = pyqtSignal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._run = QVariantAnimation(self)
        self._run.setDuration(_HALF_MS)
        self._run.valueChanged.connect(lambda _: self.moved.emit())
        self._run.finished.connect(self._next)
        self._arrived = False
        self._patience = QTimer(self)
        self._patience.setSingleShot(True)
        self._patience.timeout.connect(self._give_up)
        self.picture: QImage | None = None
        self.camera = Camera()
        self.axis_x = 0.0
        self.running = False

    @property
    def shows_old(self) -> bool:
        """Whether the side that goes away is still the one in view."""
        return self.running and float(self._run.currentValue() or 0.0) < 0.5

    def start(self, picture: QImage, camera: Camera, axis_x: float) -> None:
        """Turn `picture`, seen through `camera`, over the vertical at `axis_x` of the screen."""
        self.picture, self.camera, self.axis_x = picture, camera, axis_x
        self.running, self._arrived = True, False
        self._patience.start(_PATIENCE_MS)
        self._go(0.0, 0.5)

    def arrived(self) -> None:
        """The other side is drawn."""
        self._arrived = True
        if self.running and self._run.state() != QVariantAnimation.State.Running:
            self._next()

    def stop(self) -> None:
        """At once as if it were over."""
        self._run.stop()
        self.running, self.picture = False, None

    def squeeze(self, painter: QPainter) -> None:
        """Narrow what is painted next."""
        share = abs(math.cos(math.pi * float(self._run.currentValue() or 0.0)))
        painter.translate(self.axis_x, 0)
        painter.scale(max(share, 0.004), 1.0)
        painter.translate(-self.axis_x, 0)

    def _go(self, start: float, end: float) -> None:
        self._run.stop()
        self._run.setStartValue(start)
        self._run.setEndValue(end)
        self._run.start()

    def _give_up(self) -> None:
        if self.running and not self._arrived:
            self.stop()
            self.moved.emit()

    def _next(self) -> None:
        if not self.running:
            return
        if float(self._run.currentValue()) >= 0.99:
            self.stop()
        elif self._arrived:
            self._go(0.5, 1.0)
        self.moved.emit()
