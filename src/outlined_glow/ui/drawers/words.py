"""Words: every text on the board as it is read, front and back, to proofread; and those added here, to change."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QLineEdit, QVBoxLayout

from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice
from ..session import Session
from ..widgets import Card, ElidedLabel, RowButton, clear, label, link

_ALWAYS = frozenset({"text", "height_mm", "appearance", "weight", "bend", "side"})


def _shown(bend: str) -> frozenset[str]:
    """The keys that matter to words that run so."""
    if bend in ("edge", "edge-inward"):
        return _ALWAYS | {"path", "inset_mm", "share"}
    return _ALWAYS | {"x_mm", "y_mm", "angle_deg"} | ({"radius_mm"} if bend != "straight" else set())


class WordsCard(Card):
    """A list of every word, and the keys of the added text in hand."""

    def __init__(self, session: Session) -> None:
        super().__init__("Text")
        self._session = session
        self.number = 0
        self._list = QVBoxLayout()
        self._list.setSpacing(1)
        self.body.addLayout(self._list)
        self._group = QButtonGroup(self)
        self.empty = label("No text added yet.", "quiet", wrap=True)
        self.add(self.empty)
        links = QHBoxLayout()
        links.setSpacing(10)
        links.addWidget(link("add text", self._add))
        self.remove_link = link("remove", self._remove, tip="Remove this text from the board")
        links.addWidget(self.remove_link)
        links.addStretch(1)
        self.body.addLayout(links)
        self.text = QLineEdit()
        self.text.setMaxLength(200)
        self.text.setMinimumWidth(170)
        self.text.editingFinished.connect(self._say)
        self._text_row = self.row("text", self.text)
        self.keys = KeyRows(self, "set-words", self._set)
        self.keys.add("height_mm", "appearance", "weight", "bend", "radius_mm")
        self.path = Choice([])
        self.path.chosen.connect(lambda word: self._set("path", word))
        self._path_row = self.row("the edge of", self.path)
        self.keys.add("inset_mm", "share", "x_mm", "y_mm", "angle_deg", "side")
        self._last: list[tuple[str, int]] = []

    def _set(self, key: str, value: Any) -> None:
        if self.number:
            self._session.edit("set-words", {"number": self.number, key: value})

    def _say(self) -> None:
        words = self._own()
        text = self.text.text().strip()
        if words is not None and text and text != words.text:
            self._set("text", text)

    def _own(self) -> Any:
        design = self._session.design
        words = design.artwork.words if design is not None else ()
        return words[self.number - 1] if 0 < self.number <= len(words) else None

    def _add(self) -> None:
        work = self._session.work
        if work is None:
            return
        count = len(work.design.artwork.words)
        wide, high = work.board.size
        rules = work.board.profile
        values = {
            "text": "words",
            "x_mm": round(wide / 2, 2),
            "y_mm": round(high / 4, 2),
            "height_mm": max(3.0, rules.legend_height_mm),
        }
        if not rules.has_legend:
            values["appearance"] = "metal"
        if self._session.edit("add-words", values):
            self.number = count + 1
            self.text.setFocus()
            self.text.selectAll()

    def _remove(self) -> None:
        if self._own() is not None:
            self._session.edit("remove-words", {"number": self.number})
            self.number = max(0, self.number - 1)

    def select(self, number: int) -> None:
        """Take a text in hand."""
        self.number = number
        self._last = []
        if self._session.work is not None:
            self.show_work(self._session.work)

    def show_work(self, work: Any) -> None:
        """Bring the list and the fields up to date."""
        words = work.design.artwork.words
        self.number = min(self.number, len(words)) or (1 if words else 0)
        every = core("facts").every_word(work)
        if every != self._last:
            clear(self._list)
            self._last = every
            for text, number in every:
                if number:
                    row = RowButton(text, text)
                    row.setChecked(number == self.number)
                    row.clicked.connect(lambda _=False, number=number: self.select(number))
                    self._group.addButton(row)
                    self._list.addWidget(row)
                else:
                    self._list.addWidget(ElidedLabel(text, "quiet"))
        self.aside.set_full(f"{len(every)} to proofread" if every else "")
        self.empty.setVisible(not every)
        one = self._own()
        shown = _shown(one.bend) if one is not None else frozenset[str]()
        self.keys.only(shown)
        self._text_row.setVisible("text" in shown)
        self._path_row.setVisible("path" in shown)
        self.remove_link.setVisible(one is not None)
        if one is None:
            return
        if not self.text.hasFocus():
            self.text.setText(one.text)
        self.keys.show_of(one, work.board.origin)
        colours = [(swatch.colour, f"#{swatch.colour}") for swatch in work.art.chosen[:24] if swatch.side == one.side]
        self.path.fill([("board", "the board"), *colours])
        self.path.show_key(one.path)
