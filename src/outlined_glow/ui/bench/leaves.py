"""Leaves: a fan of live thumbnails of the physical layers. Pull one up to see it alone, press to hide it."""

from __future__ import annotations

from collections.abc import Hashable
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QTransform

from ..core_door import core
from ..jobs import Jobs
from ..theme import DUSK, SEMIBOLD, font, on_bench
from ..widgets import Pressable
from .kept import StillPanel
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
_DRAG = 8  # a press that moves farther up or down pulls


class Leaf(Pressable):
    """One layer: pressed it goes away, pulled up (or by the up key) it is seen alone."""

    pulled = pyqtSignal()
    stepped = pyqtSignal(int)

    def __init__(self, layer: str, word: str, tint: str) -> None:
        super().__init__(Qt.FocusPolicy.ClickFocus)
        self.layer, self._word, self._tint = layer, word, tint
        self.picture: QImage | None = None
        self.away = self.alone = False
        self._start: QPointF | None = None
        self.setToolTip(f"{layer}: pull up to see it alone, press to hide it")
        self.show_state(False, False)

    def show_state(self, away: bool, alone: bool) -> None:
        """Pressed away or not, pulled out or not."""
        self.away, self.alone = away, alone
        self.setAccessibleName(f"{self.layer}{', hidden' if away else ''}{', alone' if alone else ''}")

    def shape_box(self) -> QRectF:
        """The box of the leaf itself, over its word."""
        return QRectF(6, 14 - (_PULL if self.alone else 0), _WIDTH + _SLANT, _HEIGHT)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        if event is not None and self.isDown():
            self._start = event.position()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._start is not None and abs(self._start.y() - event.position().y()) > _DRAG:
            self._start = None
            self.setDown(False)
            self.pulled.emit()
            return
        if self._start is not None:
            super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._start = None
        super().mouseReleaseEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        key = event.key() if event is not None else 0
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.stepped.emit(1 if key == Qt.Key.Key_Right else -1)
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.pulled.emit()
        else:
            super().keyPressEvent(event)

    def looks(self) -> Hashable:
        """All that is drawn of it."""
        return self.away, self.alone, self.hasFocus(), self.picture.cacheKey() if self.picture is not None else 0

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The fan paints its leaves."""

    def draw(self, painter: QPainter) -> None:
        """The leaf in its frame, and its word."""
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        t = on_bench()
        area = self.shape_box()
        skew = QTransform(1, 0, -_SLANT / _HEIGHT, 1, area.x() + _SLANT, area.y())
        shape = skew.map(QPolygonF(QRectF(0, 0, _WIDTH, _HEIGHT)))
        painter.setOpacity(0.35 if self.away else 1.0)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(DUSK.colour("bench"))
        painter.drawPolygon(shape)
        if self.picture is not None:
            painter.save()
            painter.setTransform(skew, True)
            painter.drawImage(QRectF(0, 0, _WIDTH, _HEIGHT), self.picture, QRectF(self.picture.rect()))
            painter.restore()
        edge = QColor("#" + self._tint) if t.name == "dusk" else QColor("#" + self._tint).darker(130)
        if self.alone:
            edge = t.colour("lamp")
        pen = QPen(edge, 2.0 if self.alone else 1.2, Qt.PenStyle.DashLine if self.away else Qt.PenStyle.SolidLine)
        if self.hasFocus():
            pen = QPen(t.colour("ring"), 2)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolygon(shape)
        painter.setOpacity(1.0)
        painter.setFont(font(13, SEMIBOLD) if self.alone else font(13))
        painter.setPen(t.colour("text" if self.alone else "quiet"))
        words = f"{self._word}, off" if self.away else self._word
        painter.drawText(QRectF(0, 54, self.width(), 18), int(Qt.AlignmentFlag.AlignHCenter), words)


class Leaves(StillPanel):
    """`alone` carries the pulled layer or "", `hid` the set of those pressed away."""

    alone = pyqtSignal(str)
    hid = pyqtSignal(object)

    def __init__(self, jobs: Jobs) -> None:
        super().__init__()
        self._jobs = jobs
        self.setFixedSize(_PITCH * len(LEAVES) + 16, _HEIGHT + 44)
        self.setAccessibleName("Leaves: the layers of the board")
        self._hidden: set[str] = set()
        self._alone = ""
        self.leaves = [Leaf(*one) for one in LEAVES]
        for place, leaf in enumerate(self.leaves):
            leaf.setParent(self)
            self.stand(leaf)
            leaf.setGeometry(2 + place * _PITCH, 0, _PITCH, self.height())
            leaf.clicked.connect(lambda _=False, place=place: self._press(place))
            leaf.pulled.connect(lambda place=place: self.pull(place))
            leaf.stepped.connect(lambda step, place=place: self.leaves[(place + step) % len(LEAVES)].setFocus())
        self.leaves[0].setFocusPolicy(Qt.FocusPolicy.StrongFocus)

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
        for leaf in self.leaves:
            leaf.picture = image(pictures[leaf.layer], 2.0) if leaf.layer in pictures else None
        self.update()

    def reset(self) -> None:
        """Nothing hidden, nothing alone, no thumbnails of another board."""
        self._jobs.cancel("leaves")
        self._hidden.clear()
        self._alone = ""
        self._take({})
        self._tell()

    @property
    def hidden_layers(self) -> frozenset[str]:
        """The layers pressed away."""
        return frozenset(self._hidden)

    @property
    def alone_layer(self) -> str:
        """The layer pulled out, or ""."""
        return self._alone

    def _press(self, place: int) -> None:
        """A pulled leaf goes back; any other is hidden, or shown again."""
        if LEAVES[place][0] == self._alone:
            self.pull(place)
        else:
            self.hide_leaf(place)

    def pull(self, place: int) -> None:
        """See one alone, or put it back."""
        layer = LEAVES[place][0]
        self._alone = "" if self._alone == layer else layer
        self._tell()
        self.alone.emit(self._alone)

    def hide_leaf(self, place: int) -> None:
        """Hide one, or show it again."""
        self._hidden ^= {LEAVES[place][0]}
        self._tell()
        self.hid.emit(self.hidden_layers)

    def _tell(self) -> None:
        for leaf in self.leaves:
            leaf.show_state(leaf.layer in self._hidden, leaf.layer == self._alone)
        self.update()

    def ground(self) -> QRectF:
        return QRectF(self.rect()).adjusted(0, 8, 0, 0)
