"""The LEDs' numbers and rings as a picture of their own, painted anew only when they change on the screen."""

from __future__ import annotations

from typing import Any, NamedTuple

from PyQt6.QtCore import QPointF, QRectF, QSizeF
from PyQt6.QtGui import QPainter, QPixmap

from ..theme import on_bench
from .camera import Camera
from .kept import blank
from .led_marks import Picked, paint_leds
from .overlays import paint_thread

_MARGIN = 240


class Taken(NamedTuple):
    """What is in hand, an array and some LEDs, whether the way of the chain is drawn, and which arrays are hidden."""

    array: str | None
    leds: Picked
    thread: bool
    hidden: frozenset[str]


class Chain:
    """Keeps the picture of one view, with a margin round it: a drag of the view only moves it."""

    def __init__(self) -> None:
        self._work: Any = None
        self._key: tuple[Any, ...] = ()
        self._camera = Camera()
        self._picture = QPixmap()

    def paint(self, painter: QPainter, camera: Camera, work: Any, taken: Taken) -> None:
        """Paint the chain as it is seen through a camera."""
        scale = painter.device().devicePixelRatio()  # type: ignore[union-attr]
        shift = camera.to_screen(*self._camera.to_mm(QPointF(0, 0)))
        key = (taken, camera.zoom, camera.side, camera.width, camera.height, scale, on_bench().name)
        if work is not self._work or key != self._key or max(abs(shift.x()), abs(shift.y())) > _MARGIN - 40:
            self._draw(camera, work, taken, scale)
            self._work, self._key, self._camera, shift = work, key, camera, QPointF(0, 0)
        painter.drawPixmap(QPointF(shift.x() - _MARGIN, shift.y() - _MARGIN), self._picture)

    def _draw(self, camera: Camera, work: Any, taken: Taken, scale: float) -> None:
        wide, high = camera.width + 2 * _MARGIN, camera.height + 2 * _MARGIN
        self._picture = blank(QSizeF(wide, high), scale)
        painter = QPainter(self._picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.translate(_MARGIN, _MARGIN)
        if taken.thread:
            paint_thread(painter, camera, work)
        paint_leds(painter, camera, work, taken, QRectF(-_MARGIN, -_MARGIN, wide, high))
        painter.end()
