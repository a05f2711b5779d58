"""The view while it is dragged: all that moves with it is one picture then, which each frame lays down elsewhere."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRect, QRectF
from PyQt6.QtGui import QImage, QPainter

from .camera import Camera

#: How far the picture reaches beyond the view at each edge, px; from so many moved frames in a row on it is worth making.
_MARGIN, _WORTH = 200, 2


class MovedView:
    """Paints what moves with the view. It has to be told when that looks otherwise."""

    def __init__(self) -> None:
        self._picture = QImage()
        self._camera = Camera()
        self._last: Camera | None = None
        self._moves = 0

    def forget(self) -> None:
        """What moves with the view looks otherwise now."""
        self._picture, self._last, self._moves = QImage(), None, 0

    def paint(self, painter: QPainter, camera: Camera, draw: Callable[[QPainter, QRect], None], seen: QRect) -> None:
        """The view through a camera, of which a part is `seen`; `draw` covers an area of the widget with it."""
        dots = painter.device().devicePixelRatio()  # type: ignore[union-attr]
        shift = None if self._picture.isNull() else _moved(self._camera, camera, dots)
        if shift is None or max(abs(shift.x()), abs(shift.y())) > _MARGIN:
            self._moves = self._moves + 1 if self._last is not None and _moved(self._last, camera, dots) else 0
            if self._moves < _WORTH:
                self._last = camera
                draw(painter, QRect(0, 0, camera.width, camera.height))
                return
            self._make(camera, dots, draw)
            shift = QPointF(0, 0)
        self._last = camera
        left, top = _MARGIN - shift.x() + seen.x(), _MARGIN - shift.y() + seen.y()
        source = QRectF(left * dots, top * dots, seen.width() * dots, seen.height() * dots)
        painter.drawImage(QRectF(seen), self._picture, source)

    def _make(self, camera: Camera, dots: float, draw: Callable[[QPainter, QRect], None]) -> None:
        area = QRect(-_MARGIN, -_MARGIN, camera.width + 2 * _MARGIN, camera.height + 2 * _MARGIN)
        self._picture = QImage(round(area.width() * dots), round(area.height() * dots), QImage.Format.Format_RGB32)
        self._picture.setDevicePixelRatio(dots)
        self._camera = camera
        painter = QPainter(self._picture)
        painter.translate(_MARGIN, _MARGIN)
        draw(painter, area)
        painter.end()


def _moved(then: Camera, now: Camera, dots: float) -> QPointF | None:
    """By how many whole pixels of the screen, counted in those of the widget, a view has moved; None if it is another one, or
    between two pixels."""
    if (then.zoom, then.side, then.width, then.height) != (now.zoom, now.side, now.width, now.height):
        return None
    x, y = (then.x - now.x) * now.zoom * now.sign * dots, (now.y - then.y) * now.zoom * dots
    whole = QPointF(round(x), round(y))
    return whole / dots if abs(x - whole.x()) + abs(y - whole.y()) < 1e-6 else None
