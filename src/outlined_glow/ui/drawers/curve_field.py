"""A curve that is drawn by hand: what share of a period is shown at each share of its time."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ..core_door import core
from ..theme import theme

Points = tuple[tuple[float, float], ...]
_EVEN: Points = ((0.0, 0.0), (1.0, 1.0))
_NEAR_PX, _EDGE, _FINE, _SAMPLES, _MOST = 9.0, 6.0, 0.05, 80, 32


class CurveField(QWidget):
    """A press sets a point, a drag moves one, Delete removes the one in hand; the arrows move it."""

    drawn = pyqtSignal(str)  # the points, as the key takes them

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(110)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Curve of the period")
        self.setToolTip("Press to set a point, drag it; Delete removes it. Across is time, up is how far the pattern is")
        self._points: Points = _EVEN
        self._hand = 0
        self._held = False

    def show_points(self, points: Sequence[tuple[float, float]]) -> None:
        """Show a curve; without points it is even."""
        self._points = tuple(points) or _EVEN
        self._hand = min(self._hand, len(self._points) - 1)
        self.update()

    @property
    def points(self) -> Points:
        """The points in the order of time."""
        return self._points

    def spot_of(self, point: tuple[float, float]) -> QPointF:
        """Where a point lies on the screen."""
        area = self._area()
        return QPointF(area.left() + point[0] * area.width(), area.bottom() - point[1] * area.height())

    def _area(self) -> QRectF:
        return QRectF(self.rect()).adjusted(_EDGE, _EDGE, -_EDGE, -_EDGE)

    def _point_at(self, spot: QPointF) -> tuple[float, float]:
        area = self._area()
        x = min(max((spot.x() - area.left()) / area.width(), 0.0), 1.0)
        y = min(max((area.bottom() - spot.y()) / area.height(), 0.0), 1.0)
        return round(x, 3), round(y, 3)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        off = [(self.spot_of(one) - event.position()).manhattanLength() for one in self._points]
        self._held = True
        if min(off) < _NEAR_PX:
            self._hand = off.index(min(off))
        elif len(self._points) < _MOST:
            new = self._point_at(event.position())
            if new[0] in {x for x, _ in self._points}:
                return
            self._points = tuple(sorted((*self._points, new)))
            self._hand = self._points.index(new)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._held:
            self._move(self._point_at(event.position()))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._held:
            self._held = False
            self._tell()

    def _move(self, to: tuple[float, float]) -> None:
        """Move the point in hand: the ends keep their times, the others stay between their neighbours."""
        at, last = self._hand, len(self._points) - 1
        x = self._points[at][0]
        if 0 < at < last:
            x = min(max(to[0], self._points[at - 1][0] + 0.01), self._points[at + 1][0] - 0.01)
        self._points = (*self._points[:at], (round(x, 3), round(min(max(to[1], 0.0), 1.0), 3)), *self._points[at + 1 :])
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, (x, y) = Qt.Key(event.key()), self._points[self._hand]
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        if key in steps:
            self._move((x + steps[key][0] * _FINE, y + steps[key][1] * _FINE))
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self._hand = (self._hand + (1 if key == Qt.Key.Key_PageDown else -1)) % len(self._points)
            self.update()
            return
        elif key == Qt.Key.Key_Delete and 0 < self._hand < len(self._points) - 1:
            self._points = tuple(one for at, one in enumerate(self._points) if at != self._hand)
            self._hand -= 1
        else:
            super().keyPressEvent(event)
            return
        self._tell()

    def _tell(self) -> None:
        self.update()
        self.drawn.emit(" ".join(f"{x:g},{y:g}" for x, y in self._points))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t, area = QPainter(self), theme(), self._area()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(QRectF(self.rect()), t.colour("sunken"))
        painter.setPen(QPen(t.colour("line"), 1))
        for part in (0.0, 0.25, 0.5, 0.75, 1.0):
            painter.drawLine(self.spot_of((part, 0.0)), self.spot_of((part, 1.0)))
        shares = [at / _SAMPLES for at in range(_SAMPLES + 1)]
        shown = core("score").curve_at(self._points, shares)
        painter.setPen(QPen(t.colour("lamp"), 1.8))
        painter.drawPolyline(QPolygonF([self.spot_of((x, float(y))) for x, y in zip(shares, shown, strict=True)]))
        for at, one in enumerate(self._points):
            chosen = at == self._hand and (self._held or self.hasFocus())
            painter.setBrush(t.colour("ring" if chosen else "window"))
            painter.setPen(QPen(t.colour("ring" if chosen else "lamp"), 1.6))
            painter.drawEllipse(self.spot_of(one), 4, 4)
        if self.hasFocus():
            painter.setPen(QPen(t.colour("ring"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(area.adjusted(-_EDGE + 0.5, -_EDGE + 0.5, _EDGE - 1, _EDGE - 1))
