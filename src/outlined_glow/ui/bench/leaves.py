"""Leaves: a fan of live thumbnails of the physical layers. Pull one up to see it alone, press to hide it."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QTransform
from PyQt6.QtWidgets import QWidget

from ..core_door import core
from ..jobs import Jobs
from ..theme import DUSK, SEMIBOLD, font, on_bench
from .plate import paint_plate
from .renderer import image

#: Layer, word under it, tint of its frame.
LEAVES = (
    ("front legend", "ink", "F2EBDD"),
    ("front mask", "mask", "6FD3B8"),
    ("front copper", "copper", "E8A33D"),
    ("core", "core", "B5A766"),
    ("back copper", "back copper", "A063C9"),
    ("back mask", "back mask", "6FD3B8"),
    ("back legend", "back ink", "F2EBDD"),
    ("drills", "drills", "8FEBD8"),
)
_PITCH, _WIDTH, _HEIGHT, _SLANT, _PULL = 80, 58, 36, 8, 12


class Leaves(QWidget):
    """`alone` carries the pulled layer or "", `hidden` the set of those pressed away."""

    alone = pyqtSignal(str)
    hid = pyqtSignal(object)

    def __init__(self, jobs: Jobs) -> None:
        super().__init__()
        self._jobs = jobs
        self.setFixedSize(_PITCH * len(LEAVES) + 16, _HEIGHT + 44)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Leaves: the layers of the board")
        self._pictures: dict[str, QImage] = {}
        self._hidden: set[str] = set()
        self._alone = ""
        self._focus = 0
        self._pressed: tuple[int, QPointF] | None = None
        self._describe()

    def show_work(self, work: Any) -> None:
        """Draw the thumbnails of a board anew."""
        background = DUSK.bench

        def run(cancelled: Any) -> dict[str, Any]:
            size = work.board.size
            scale = 2 * min((_WIDTH - 8) / size[0], (_HEIGHT - 6) / size[1])
            wide, high = _WIDTH * 2, _HEIGHT * 2
            out = {}
            for layer, _, _ in LEAVES:
                if cancelled():
                    break
                side = "back" if layer.startswith("back") else "front"
                middle = size[0] / 2 + (wide / scale / 2 if side == "back" else -wide / scale / 2)
                view = core("view").View(side, scale, middle, size[1] / 2 + high / scale / 2, wide, high)
                out[layer] = core("draw").draw_leaf(work.board, layer, view, background)
            return out

        self._jobs.submit("leaves", run, self._take, lambda words: None)

    def _take(self, pictures: dict[str, Any]) -> None:
        self._pictures = {layer: image(pixels, 2.0) for layer, pixels in pictures.items()}
        self.update()

    def reset(self) -> None:
        """Nothing hidden, nothing alone, no thumbnails of another board."""
        self._jobs.cancel("leaves")
        self._pictures = {}
        self._hidden.clear()
        self._alone = ""
        self.update()

    @property
    def hidden_layers(self) -> frozenset[str]:
        """The layers pressed away."""
        return frozenset(self._hidden)

    @property
    def alone_layer(self) -> str:
        """The layer pulled out, or ""."""
        return self._alone

    def rect_of(self, place: int) -> QRectF:
        """Where a leaf lies."""
        up = _PULL if LEAVES[place][0] == self._alone else 0
        return QRectF(8 + place * _PITCH, 14 - up, _WIDTH + _SLANT, _HEIGHT)

    def _at(self, point: QPointF) -> int | None:
        for place in range(len(LEAVES)):
            if self.rect_of(place).adjusted(-4, -6, 6, 24).contains(point):
                return place
        return None

    def pull(self, place: int) -> None:
        """See one alone, or put it back."""
        layer = LEAVES[place][0]
        self._alone = "" if self._alone == layer else layer
        self._describe()
        self.update()
        self.alone.emit(self._alone)

    def hide_leaf(self, place: int) -> None:
        """Hide one, or show it again."""
        layer = LEAVES[place][0]
        self._hidden ^= {layer}
        self._describe()
        self.update()
        self.hid.emit(self.hidden_layers)

    def _describe(self) -> None:
        words = [f"{word}{' hidden' if layer in self._hidden else ''}" for layer, word, _ in LEAVES]
        alone = f"; alone: {self._alone}" if self._alone else ""
        self.setAccessibleDescription(", ".join(words) + alone)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        place = self._at(event.position()) if event is not None else None
        if event is not None and place is not None:
            self._pressed = (place, event.position())
            self._focus = place
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._pressed is not None:
            place, start = self._pressed
            if abs(start.y() - event.position().y()) > 8:
                self._pressed = None
                self.pull(place)
            return
        place_here = self._at(event.position())
        self.setCursor(Qt.CursorShape.PointingHandCursor if place_here is not None else Qt.CursorShape.ArrowCursor)
        if place_here is not None:
            self.setToolTip(f"{LEAVES[place_here][0]}: pull up to see it alone, press to hide it")

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._pressed is not None:
            place, _ = self._pressed
            self._pressed = None
            if LEAVES[place][0] == self._alone:
                self.pull(place)
            else:
                self.hide_leaf(place)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key = event.key()
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._focus = (self._focus + (1 if key == Qt.Key.Key_Right else -1)) % len(LEAVES)
            self.update()
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.pull(self._focus)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.hide_leaf(self._focus)
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        t = on_bench()
        paint_plate(painter, QRectF(self.rect()).adjusted(0, 8, 0, 0))
        for place, (layer, word, tint) in enumerate(LEAVES):
            area = self.rect_of(place)
            skew = QTransform(1, 0, -_SLANT / _HEIGHT, 1, area.x() + _SLANT, area.y())
            shape = skew.map(QPolygonF(QRectF(0, 0, _WIDTH, _HEIGHT)))
            away = layer in self._hidden
            painter.setOpacity(0.35 if away else 1.0)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(DUSK.colour("bench"))
            painter.drawPolygon(shape)
            picture = self._pictures.get(layer)
            if picture is not None:
                painter.save()
                painter.setTransform(skew, True)
                painter.drawImage(QRectF(0, 0, _WIDTH, _HEIGHT), picture, QRectF(picture.rect()))
                painter.restore()
            edge = QColor("#" + tint) if t.name == "dusk" else QColor("#" + tint).darker(130)
            if layer == self._alone:
                edge = t.colour("lamp")
            pen = QPen(edge, 2.0 if layer == self._alone else 1.2, Qt.PenStyle.DashLine if away else Qt.PenStyle.SolidLine)
            if self.hasFocus() and place == self._focus:
                pen = QPen(t.colour("ring"), 2)
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolygon(shape)
            painter.setOpacity(1.0)
            shown = layer == self._alone
            painter.setFont(font(13, SEMIBOLD) if shown else font(13))
            painter.setPen(t.colour("text" if shown else "quiet"))
            words = f"{word}, off" if away else word
            painter.drawText(QRectF(area.x() - 6, 54, _PITCH, 18), int(Qt.AlignmentFlag.AlignHCenter), words)
