"""The pictures of the board: which lie on it, where, how fine, and how their many colours become few."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QVBoxLayout

from ...core.units import show
from ..core_door import core
from ..edit_fields import KeyRows
from ..session import Session
from ..widgets import Card, RowButton, clear, label, link


class PicturesCard(Card):
    """The list of pictures and the place of the one in hand."""

    selected = pyqtSignal(int)
    wanted = pyqtSignal(str, int)  # "add", "replace": which one

    def __init__(self, session: Session) -> None:
        super().__init__("Pictures")
        self._session = session
        self.which = 1
        self._list = QVBoxLayout()
        self._list.setSpacing(1)
        self.body.addLayout(self._list)
        self._group = QButtonGroup(self)
        self._names: list[str] = []
        links = QHBoxLayout()
        links.setSpacing(10)
        self.add_link = link("add…", lambda: self.wanted.emit("add", 0), tip="Add a picture to the board")
        links.addWidget(self.add_link)
        links.addWidget(
            link("replace…", lambda: self.wanted.emit("replace", self.which), tip="Take another picture in its place")
        )
        self.raise_link = link("lay on top", lambda: self._edit("raise-picture"), tip="Lay it over the others")
        links.addWidget(self.raise_link)
        self.remove_link = link("remove", lambda: self._edit("remove-picture"), tip="Take it off the board")
        links.addWidget(self.remove_link)
        links.addStretch(1)
        self.body.addLayout(links)
        self._width = KeyRows(self, "set-width", lambda key, value: self._place(**{key: value}))
        self._width.add("width_mm")
        self.height_figure = self.figure("painted height")
        self.fine = self.figure("resolution")
        self.placed = KeyRows(self, "place-picture", lambda key, value: self._place(**{key: value}))
        self.placed.add("x_mm", "y_mm", "angle_deg", "flipped", "side")

    def _place(self, **values: Any) -> None:
        if set(values) == {"width_mm"}:
            self._session.edit("set-width", {**values, "picture": self.which})
        else:
            if len(values) == 1 and next(iter(values)) in ("x_mm", "y_mm"):
                values = {**{key: self.placed[key].value for key in ("x_mm", "y_mm")}, **values}
            self._session.edit("place-picture", {**values, "picture": self.which})

    def _edit(self, name: str) -> None:
        self._session.edit(name, {"picture": self.which})

    def select(self, which: int) -> None:
        """Take a picture in hand."""
        self.which = which
        if self._session.work is not None:
            self.show_work(self._session.work)
        self.selected.emit(which)

    def show_work(self, work: Any) -> None:
        """Bring the list and the fields up to date."""
        pictures = work.design.artwork.pictures
        self.setVisible(bool(pictures))
        self.which = max(1, min(self.which, len(pictures)))
        names = [f"{one.name}" + (" · back" if one.side == "back" else "") for one in pictures]
        if names != self._names or len(names) < 2:
            clear(self._list)
            self._names = names
            for number, name in enumerate(names, 1) if len(names) > 1 else ():
                row = RowButton(f"{number}  {name}", name)
                row.setChecked(number == self.which)
                row.clicked.connect(lambda _=False, number=number: self.select(number))
                self._group.addButton(row)
                self._list.addWidget(row)
        if not pictures:
            return
        one, facts = pictures[self.which - 1], core("facts").picture_facts(work, self.which)
        self.aside.set_full(one.name if len(names) == 1 else f"{len(names)} of them")
        self.raise_link.setVisible(1 < self.which < len(names))
        self.remove_link.setVisible(len(names) > 1)
        self._width.show_of(one)
        self.height_figure.setText(f"{show(facts.height_mm, 2)} mm")
        self.fine.setText(facts.fineness)
        self.fine.setToolTip(facts.judgement)
        dx, dy = work.board.origin
        self.placed.show_of(one, x_mm=facts.x_mm - dx, y_mm=facts.y_mm - dy)


class TonesCard(Card):
    """How the colours of the picture in hand become few; only the keys of the way that is chosen."""

    def __init__(self, session: Session) -> None:
        super().__init__("Colours of the picture")
        self._session = session
        self.which = 1
        self.keys = KeyRows(self, "set-tones", self._set)
        self.keys.add(
            "how", "colours", "level_percent", "kernel", "screen", "ruling_per_cm", "screen_deg", "dot_mm", "ground",
            "ground_spread", "smooth_mm", "smallest_mm", "deviation_mm",
        )  # fmt: skip
        self.words = label("", "quiet", wrap=True)
        self.add(self.words)

    def _set(self, key: str, value: Any) -> None:
        self._session.edit("set-tones", {key: value, "picture": self.which})

    def show_work(self, work: Any, which: int) -> None:
        """Show the tones of a picture."""
        self.which = which
        pictures = work.design.artwork.pictures
        if not pictures:
            self.hide()
            return
        tones, facts = pictures[which - 1].tones, core("facts").picture_facts(work, which)
        self.setVisible(facts.raster or facts.shaded)
        shown = {"how", *_KEYS[tones.how]}
        if facts.raster:
            shown |= {"ground", *(("ground_spread",) if tones.ground != "keep" else ())}
        else:
            shown -= {"colours", "level_percent", "smooth_mm", "smallest_mm", "deviation_mm"}
        self.keys.only(shown)
        ruling, dot = facts.ruling_per_cm, tones.dot_mm or facts.dot_mm
        self.keys.show_of(tones, level_percent=tones.level * 100, dot_mm=dot, ruling_per_cm=ruling)
        self.words.setText(facts.tone_words)
        self.words.setVisible(bool(facts.tone_words))


#: The keys that matter, by the way that is chosen.
_KEYS: dict[str, tuple[str, ...]] = {
    "flat": ("colours", "smooth_mm", "smallest_mm", "deviation_mm"),
    "threshold": ("level_percent", "smallest_mm", "deviation_mm"),
    "diffuse": ("kernel", "dot_mm"),
    "screen": ("screen", "ruling_per_cm", "screen_deg", "dot_mm"),
}
