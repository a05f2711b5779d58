"""A map of the scenes: a row for each, and arcs for what leads from one to another; a press takes a scene in hand."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF

from ..theme import SEMIBOLD, font, theme
from ..widgets import Pressable

_ROW, _BOX, _LEFT, _FIRST = 30, 22.0, 4.0, 10.0
#: What a line is drawn as, by what it stands for.
_DASHED = ("end", "time", "over", "under")


class SceneMap(Pressable):
    """Scenes from the top down, switched off below; arcs to the right lead down, to the left up. What leads on by itself is
    dashed."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__(Qt.FocusPolicy.NoFocus)
        self._scenes: tuple[str, ...] = ()
        self._changes: tuple[Any, ...] = ()
        self._now = self._held = ""
        self.hide()

    def show_motion(self, motion: Any, held: str) -> None:
        """Change the map."""
        self._scenes, self._changes = tuple(one.name for one in motion.scenes), motion.changes
        self._held = held
        off = any(not one.to for one in self._changes) or any(one.then == "off" for one in motion.scenes)
        self._rows = (*self._scenes, *(("",) if off else ()))
        self.setFixedHeight(_ROW * len(self._rows) + 6)
        self.setVisible(bool(self._scenes))
        self.setAccessibleName(f"Map of {len(self._scenes)} scenes and {len(self._changes)} changes")
        self.update()

    def show_now(self, name: str) -> None:
        """The scene that plays."""
        self._now = "" if name in ("off", "–") else name
        self._off = name == "off"
        self.update()

    _rows: tuple[str, ...] = ()
    _off = False

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            at = int((event.position().y() - 3) // _ROW)
            if 0 <= at < len(self._scenes):
                self.chosen.emit(self._scenes[at])

    def _middle(self, name: str) -> float:
        return 3 + _ROW * (self._rows.index(name) + 0.5)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        wide = min(150.0, self.width() / 2)
        left = (self.width() - wide) / 2
        for name in self._rows:
            box = QRectF(left, self._middle(name) - _BOX / 2, wide, _BOX)
            plays = name == self._now if name else self._off
            painter.setBrush(t.colour("lamp") if plays and name else t.colour("sunken"))
            painter.setPen(QPen(t.colour("ring" if name and name == self._held else "line"), 1.4))
            painter.drawRoundedRect(box, 6, 6)
            painter.setPen(t.colour("window" if plays and name else "text" if name else "quiet"))
            painter.setFont(font(13, SEMIBOLD) if plays else font(13))
            words = painter.fontMetrics().elidedText(name or "off", Qt.TextElideMode.ElideRight, int(wide) - 12)
            painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), words)
        self._paint_changes(painter, left, wide)

    def _paint_changes(self, painter: QPainter, left: float, wide: float) -> None:
        """An arc for each pair of scenes that a change leads between, all of one kind together."""
        t = theme()
        pairs: dict[tuple[str, str], bool] = {}
        for one in self._changes:
            sources = [one.of] if one.of else [name for name in self._scenes if name != one.to]
            for source in sources:
                if source in self._rows and one.to in self._rows and source != one.to:
                    pairs[source, one.to] = pairs.get((source, one.to), True) and one.by in _DASHED
        for (source, target), dashed in pairs.items():
            start, end = self._middle(source), self._middle(target)
            down = end > start
            side = left + wide if down else left
            out = _FIRST + 7.0 * min(6, abs(self._rows.index(source) - self._rows.index(target)))
            reach = side + (out if down else -out)
            path = QPainterPath(QPointF(side, start + (4 if down else -4)))
            path.cubicTo(QPointF(reach, start), QPointF(reach, end), QPointF(side, end + (-4 if down else 4)))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(t.colour("sea"), 1.4, Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine))
            painter.drawPath(path)
            tip, away = QPointF(side, end + (-4 if down else 4)), 6.0 if down else -6.0
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(t.colour("sea"))
            painter.drawPolygon(QPolygonF([tip, tip + QPointF(away, -3.5), tip + QPointF(away, 3.5)]))
