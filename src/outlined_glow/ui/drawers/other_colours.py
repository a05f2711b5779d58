"""Other colours: the picture under every mask, finish and ink as small boards, the nearest first."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QGridLayout, QWidget

from ..bench.renderer import image
from ..core_door import core
from ..session import Session
from ..theme import font, theme
from ..widgets import Card, Pressable, clear, link

_FEW = 6
_COLUMNS = 3


class Tile(Pressable):
    """A small board in one stack, with its difference and its price."""

    def __init__(self, other: Any, picture: QImage, here: Any) -> None:
        super().__init__()
        self._change = other.change(here)
        self.other = other
        self._image = picture
        self.setFixedSize(self.sizeHint())
        price = f"{other.boards:.2f} the order (example price)"
        words = f"{other.name}: difference {other.difference:.1f}, {price}, {other.days} days"
        self.setAccessibleName(words + (", chosen" if other.now else ""))
        self.setToolTip(words)

    def sizeHint(self) -> QSize:
        return QSize(82, 98)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        t = theme()
        frame = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.setBrush(t.colour("sunken"))
        edge = "ring" if self.hasFocus() else "lamp" if self.other.now or self.underMouse() else "line"
        painter.setPen(QPen(t.colour(edge), 1.6 if edge != "line" else 1))
        painter.drawRoundedRect(frame, 6, 6)
        painter.drawImage(QRectF(4, 4, self.width() - 8, (self.width() - 8) * 0.75), self._image)
        painter.setFont(font(12))
        painter.setPen(t.colour("text"))
        foot = QRectF(6, self.height() - 34, self.width() - 12, 15)
        painter.drawText(foot, int(Qt.AlignmentFlag.AlignLeft), f"ΔE {self.other.difference:.0f}")
        painter.setPen(t.colour("honey"))
        painter.drawText(foot, int(Qt.AlignmentFlag.AlignRight), f"{self.other.boards:.2f}")
        painter.setPen(t.colour("quiet"))
        name = painter.fontMetrics().elidedText(self._change, Qt.TextElideMode.ElideRight, self.width() - 12)
        painter.drawText(foot.translated(0, 14), int(Qt.AlignmentFlag.AlignLeft), name)


class OtherColoursCard(Card):
    """The explorer: a few of the nearest, or all of them."""

    def __init__(self, session: Session) -> None:
        super().__init__("Other colours", "ΔE, example price")
        self._session = session
        self._grid = QGridLayout()
        self._grid.setSpacing(5)
        self.body.addLayout(self._grid)
        self.more = link("show all", self._toggle)
        self.body.addWidget(self.more, 0, Qt.AlignmentFlag.AlignRight)
        self._all = False
        self._found: list[Any] = []
        self._pictures: Any = None
        self._drawn: dict[str, QImage] = {}
        self.tiles: list[Tile] = []
        self._work: Any = None

    def look(self, work: Any) -> None:
        """Work out the stacks for a board in the background, if it is another one."""
        if work is self._work:
            return
        self._work = work
        ground = theme().colour("sunken").name()[1:]

        def run(cancelled: Any) -> tuple[list[Any], Any, dict[str, QImage]]:
            other = core("other_colours")
            pictures = other.Pictures(work, cancelled)
            found = other.explore(work)
            return found, pictures, _drawn(pictures, _first(found), ground, cancelled)

        self._session.jobs.submit("other", run, self._took, self._session.trouble.emit)

    def _took(self, made: tuple[list[Any], Any, dict[str, QImage]]) -> None:
        self._found, self._pictures, self._drawn = made
        self._show()
        if self._all:
            self._draw_all()

    def _draw_all(self) -> None:
        """The pictures of all of them: most people look at the first few."""
        pictures, missing = self._pictures, [one for one in self._found if one.name not in self._drawn]

        def took(drawn: dict[str, QImage]) -> None:
            self._drawn.update(drawn)
            self._show()

        if missing and pictures is not None:
            ground = theme().colour("sunken").name()[1:]
            run = lambda cancelled: _drawn(pictures, missing, ground, cancelled)  # noqa: E731
            self._session.jobs.submit("other", run, took, self._session.trouble.emit)

    def _toggle(self) -> None:
        self._all = not self._all
        self._show()
        if self._all:
            self._draw_all()

    def _show(self) -> None:
        clear(self._grid)
        shown = [one for one in (self._found if self._all else _first(self._found)) if one.name in self._drawn]
        self.tiles = []
        days = shown[0].days if shown else 0
        self.aside.set_full(f"ΔE, example price · {days} days" if days else "ΔE to the picture · made at home")
        for place, other in enumerate(shown):
            tile = Tile(other, self._drawn[other.name], self._work.brief.stack)
            tile.clicked.connect(lambda _=False, one=other: self._take(one))
            self._grid.addWidget(tile, place // _COLUMNS, place % _COLUMNS)
            self.tiles.append(tile)
        filler = QWidget()
        self._grid.addWidget(filler, 0, _COLUMNS)
        self._grid.setColumnStretch(_COLUMNS, 1)
        self.more.setText(f"the nearest {_FEW}" if self._all else f"all {len(self._found)}")
        self.more.setVisible(len(self._found) > _FEW)

    def _take(self, other: Any) -> None:
        stack = other.stack
        self._session.edit("set-stack", {"mask": stack.mask, "finish": stack.finish, "ink": stack.ink})


def _first(found: list[Any]) -> list[Any]:
    """The few that are shown at first: the nearest, and the one that is chosen."""
    shown = found[:_FEW]
    now = next((one for one in found if one.now), None)
    return [*shown[:-1], now] if now is not None and now not in shown else shown


def _drawn(pictures: Any, stacks: list[Any], ground: str, cancelled: Any) -> dict[str, QImage]:
    """Small pictures of some stacks on a ground, by their names."""
    return {one.name: image(pictures.drawn(one, ground), 1.0) for one in stacks if not cancelled()}
