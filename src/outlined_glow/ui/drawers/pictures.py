"""The pictures of the board: which lie on it, where, how fine, and how their many colours become few."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QVBoxLayout, QWidget

from ...core.units import show
from ..core_door import core
from ..fields import Choice, QuantityField, Switch
from ..session import Session
from ..widgets import Card, RowButton, clear, label, link

_WAYS = (("flat", "flat colours"), ("threshold", "two colours (threshold)"), ("diffuse", "dither"), ("screen", "halftone"))
_BACKGROUNDS = (("keep", "keep"), ("outside", "remove outside"), ("everywhere", "remove everywhere"))
_KERNELS = (("near", "fine"), ("wide", "wide"), ("crisp", "crisp"))


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
        self.width_field = self._number("painted width", "width_mm", "mm", 1.0)
        self.height_figure = self.figure("painted height")
        self.fine = self.figure("resolution")
        self.x_field = self._number("middle, x", "x_mm", "mm", 0.5)
        self.y_field = self._number("middle, y", "y_mm", "mm", 0.5)
        self.turn = self._number("turned", "angle_deg", "deg", 5.0, "°")
        self.flip = Switch("flipped")
        self.flip.switched.connect(lambda on: self._place(flipped=on))
        self.row("flipped", self.flip)
        self.side = Choice([("front", "front"), ("back", "back")])
        self.side.chosen.connect(lambda word: self._place(side=word))
        self.row("lies on the", self.side)

    def _number(self, title: str, key: str, unit: str, step: float, shown: str | None = None) -> QuantityField:
        field = QuantityField(shown or unit, unit, step=step)
        field.committed.connect(lambda value: self._place(**{key: value}))
        self.row(title, field)
        return field

    def _place(self, **values: Any) -> None:
        if set(values) == {"width_mm"}:
            self._session.edit("set-width", {**values, "picture": self.which})
        else:
            if len(values) == 1 and next(iter(values)) in ("x_mm", "y_mm"):
                values = {"x_mm": self.x_field.value, "y_mm": self.y_field.value, **values}
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
        self.width_field.show_value(one.width_mm)
        self.height_figure.setText(f"{show(facts.height_mm, 2)} mm")
        self.fine.setText(facts.fineness)
        self.fine.setToolTip(facts.judgement)
        dx, dy = work.board.origin
        self.x_field.show_value(facts.x_mm - dx)
        self.y_field.show_value(facts.y_mm - dy)
        self.turn.show_value(one.angle_deg)
        self.flip.setChecked(one.flipped)
        self.side.show_key(one.side)


class TonesCard(Card):
    """How the colours of the picture in hand become few; only the keys of the way that is chosen."""

    def __init__(self, session: Session) -> None:
        super().__init__("Colours of the picture")
        self._session = session
        self.which = 1
        self._rows: dict[str, tuple[QWidget, Any]] = {}
        self.how = self._choice("how", "becomes", _WAYS)
        self._number("colours", "colours, at most", "", digits=0)
        self._number("level_percent", "threshold", "%", step=5)
        self._choice("kernel", "dither", _KERNELS)
        self._choice("screen", "halftone of", (("dot", "dots"), ("line", "lines")))
        self._number("ruling_per_cm", "ruling", "/cm", unit="")
        self._number("screen_deg", "turned", "°", unit="deg", step=5)
        self._number("dot_mm", "smallest dot", "mm", step=0.05)
        self._choice("ground", "background", _BACKGROUNDS)
        self._number("ground_spread", "colours close to it", "ΔE", unit="")
        self._number("smooth_mm", "smooth", "mm", step=0.05)
        self._number("smallest_mm", "remove specks under", "mm", step=0.05)
        self._number("deviation_mm", "edge tolerance", "mm", step=0.01, digits=3)
        self.words = label("", "quiet", wrap=True)
        self.add(self.words)

    def _choice(self, key: str, title: str, words: Any) -> Choice:
        one = Choice(words)
        one.chosen.connect(lambda word: self._set(key, word))
        self._rows[key] = (self.row(title, one), one)
        return one

    def _number(self, key: str, title: str, shown: str, *, unit: str | None = None, step: float = 1.0, digits: int = 2) -> None:
        field = QuantityField(shown, shown if unit is None else unit, step=step, digits=digits)
        field.committed.connect(lambda value: self._set(key, round(value) if digits == 0 else value))
        self._rows[key] = (self.row(title, field), field)

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
        values = {**{key: getattr(tones, key, None) for key in self._rows}, "level_percent": tones.level * 100}
        values["dot_mm"] = tones.dot_mm or facts.dot_mm
        values["ruling_per_cm"] = facts.ruling_per_cm
        for key, (row, field) in self._rows.items():
            row.setVisible(key in shown)
            if isinstance(field, Choice):
                field.show_key(values[key])
            else:
                field.show_value(values[key])
        self.words.setText(facts.tone_words)
        self.words.setVisible(bool(facts.tone_words))


#: The keys that matter, by the way that is chosen.
_KEYS: dict[str, tuple[str, ...]] = {
    "flat": ("colours", "smooth_mm", "smallest_mm", "deviation_mm"),
    "threshold": ("level_percent", "smallest_mm", "deviation_mm"),
    "diffuse": ("kernel", "dot_mm"),
    "screen": ("screen", "ruling_per_cm", "screen_deg", "dot_mm"),
}
