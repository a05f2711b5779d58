"""The library: every part, what is known of it, and parts of the project's own."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from ..bench.renderer import image
from ..core_door import core
from ..fields import Choice
from ..opening import chosen_file
from ..session import Session
from ..theme import DUSK
from ..widgets import Card, button, clear, label, link
from ..window_first import window_first
from .dialog import Dialog
from .part_text import PartText

if TYPE_CHECKING:
    from ..files import Files

_PICTURE = (300, 170)


class LibraryDialog(Dialog):
    """Search on the left; on the right the part in hand."""

    def __init__(self, parent: QWidget, session: Session, files: Files) -> None:
        super().__init__(parent, "Library")
        self._session, self._files = session, files
        self.resize(860, 700)
        self._beside = ""
        columns = QHBoxLayout()
        columns.setSpacing(14)
        columns.addLayout(self._make_list(), 3)
        columns.addWidget(self.sheet(self._make_part()), 4)
        self.column.addLayout(columns, 1)
        self.column.addLayout(self._make_links())
        self.bring = button("Add a part file…", self._import)
        self.bring.setEnabled(session.project is not None)
        self.bring.setToolTip("A part file travels inside the project that uses it")
        self.end("Close", None, self.bring)
        self._fill()

    def _make_list(self) -> QVBoxLayout:
        left = QVBoxLayout()
        self.search = QLineEdit()
        self.search.setPlaceholderText("search: amber, 3 mm, holder …")
        self.search.setAccessibleName("search the library")
        self.search.textChanged.connect(lambda _: self._fill())
        left.addWidget(self.search)
        self.list = QListWidget()
        self.list.setAccessibleName("parts")
        self.list.currentItemChanged.connect(lambda _, __: self._show())
        left.addWidget(self.list, 1)
        self.count = label("", "quiet")
        left.addWidget(self.count)
        return left

    def _make_part(self) -> QVBoxLayout:
        right = QVBoxLayout()
        self.part_card = Card("")
        self.picture = QLabel()
        self.picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.part_card.add(self.picture)
        self._facts = QVBoxLayout()
        self._facts.setSpacing(3)
        self.part_card.body.addLayout(self._facts)
        right.addWidget(self.part_card)
        self.passport = PassportCard(self._session, self._fill)
        right.addWidget(self.passport)
        right.addStretch(1)
        return right

    def _make_links(self) -> QHBoxLayout:
        """What can be done with the part in hand."""
        self.compare = link("Compare with another", self._compare, tip="Keep this part beside the next one that you choose")
        self.copy = link("Copy into this project", self._copy)
        self.change = link("Change…", self._change, tip="Change the part file; it is checked before it is taken")
        self.export = link("Save as a part file…", self._export)
        self.print = link("Save its passport…", self._print)
        self.remove = link("Remove from this project", self._remove)
        row = QHBoxLayout()
        row.setSpacing(16)
        for one in (self.compare, self.copy, self.change, self.export, self.print, self.remove):
            row.addWidget(one)
        row.addStretch(1)
        return row

    # -- what there is --------------------------------------------------------------------------------------------

    @property
    def library(self) -> Any:
        """Everything that can be used here."""
        project = self._session.project
        own = core("own_parts")
        return own.library_of(project.members if project is not None else {})

    def _names(self) -> list[str]:
        bodies = {one.part.name for one in self.library.emitters.values()}
        return [*self.library.emitters, *(name for name in self.library.parts if name not in bodies)]

    def _fill(self) -> None:
        kept = self.name
        words = self.search.text().lower().split()
        names = [name for name in self._names() if all(word in self._words(name) for word in words)]
        self.list.blockSignals(True)
        self.list.clear()
        for name in names:
            item = QListWidgetItem(f"{name}   (own)" if self._is_own(name) else name)
            item.setData(Qt.ItemDataRole.UserRole, name)
            self.list.addItem(item)
        self.list.setCurrentRow(names.index(kept) if kept in names else 0)
        self.list.blockSignals(False)
        self.count.setText(f"{len(names)} part{'' if len(names) == 1 else 's'}")
        self._show()

    def _words(self, name: str) -> str:
        one = self._part(name)
        return f"{name} {one.title} {one.kind}".lower()

    def _part(self, name: str) -> Any:
        emitter = self.library.emitters.get(name)
        return emitter.part if emitter is not None else self.library.parts[name]

    def _is_own(self, name: str) -> bool:
        return any(one.name == name for one in self.library.own)

    @property
    def name(self) -> str:
        """The part in hand, "" for none."""
        item = self.list.currentItem()
        return "" if item is None else str(item.data(Qt.ItemDataRole.UserRole))

    def _show(self) -> None:
        window_first()
        clear(self._facts)
        name = self.name
        for one in (self.part_card, self.compare, self.copy, self.export, self.print):
            one.setVisible(bool(name))
        own = bool(name) and self._is_own(name)
        self.remove.setVisible(own)
        self.change.setVisible(own)
        self.compare.setText(f"No longer beside {self._beside}" if self._beside else "Compare with another")
        self.copy.setEnabled(self._session.project is not None)
        part = self._part(name) if name else None
        self.passport.show_part(part.name if part is not None and (own or part.pins_differ) else "")
        if part is None:
            return
        self.part_card.title.set_full(name)
        self.part_card.aside.set_full("of this project" if own else part.kind)
        pixels = core("part_picture").draw_part(part, (_PICTURE[0] * 2, _PICTURE[1] * 2), DUSK.bench)
        self.picture.setPixmap(QPixmap.fromImage(image(pixels, 2.0)))
        for title, value, other in self._rows(name):
            self._facts.addWidget(label(f"{title}: {value}", "quiet", wrap=True))
            if other is not None:
                self._facts.addWidget(label(f"{self._beside}: {other}", "sea", wrap=True))

    def _rows(self, name: str) -> list[tuple[str, str, str | None]]:
        """What is known of a part, each row with what the part beside it has instead, where that differs."""

        def known(one: str) -> dict[str, str]:
            return dict(core("light_facts").part_rows(self._part(one), self.library.emitters.get(one)))

        mine = known(name)
        if not self._beside or self._beside == name:
            return [(title, value, None) for title, value in mine.items()]
        theirs = known(self._beside)
        rows = [(title, mine.get(title, "–"), theirs.get(title, "–")) for title in dict.fromkeys((*mine, *theirs))]
        return [(title, value, other if other != value else None) for title, value, other in rows]

    # -- what can be done -----------------------------------------------------------------------------------------

    def _compare(self) -> None:
        self._beside = "" if self._beside else self.name
        self._show()

    def _change(self) -> None:
        one = core("own_parts").lit_part(self.library, self.name)
        PartText(self, self._session, core("parts").part_file(one).decode()).exec()
        self._fill()

    def _copy(self) -> None:
        names = {*self.library.parts, *self.library.emitters}
        new = next(name for name in (f"my {self.name}{f' {n}' if n > 1 else ''}" for n in range(1, 999)) if name not in names)
        if self._session.edit("copy-part", {"part": self.name, "name": new}):
            self.search.clear()
            self._fill()
            self._take(new)

    def _take(self, name: str) -> None:
        for row in range(self.list.count()):
            item = self.list.item(row)
            if item is not None and item.data(Qt.ItemDataRole.UserRole) == name:
                self.list.setCurrentRow(row)

    def _import(self) -> None:
        file = chosen_file(self, "Add a part file", "Part files (*.json)", self._session.trouble.emit)
        if file is not None and self._session.edit("add-part", {"file": file}):
            self._fill()

    def _export(self) -> None:
        one = core("own_parts").lit_part(self.library, self.name)
        self._files.write("Save the part", f"{self.name}.json", "Part files (*.json)", lambda _: core("parts").part_file(one))

    def _print(self) -> None:
        one = core("own_parts").lit_part(self.library, self.name)
        self._files.write(
            "Save its passport", f"{self.name} passport.pdf", "PDF (*.pdf)", lambda _: core("sheets").passport(one)
        )

    def _remove(self) -> None:
        self._session.edit("remove-part", {"part": self.name})
        self._fill()


class PassportCard(Card):
    """Three questions about a part that nobody has proved, answered with the real part and a meter."""

    def __init__(self, session: Session, answered: Callable[[], None]) -> None:
        super().__init__("Compared with the real part", "its passport")
        self._session, self._answered, self._part = session, answered, ""
        self.pin1 = Choice(
            (("", "not answered"), ("as drawn", "as drawn"), ("turned", "at the other end"), ("mirrored", "mirrored"))
        )
        self.pin1.chosen.connect(lambda word: self._set("pin1", word))
        self.row("pin 1, seen from here", self.pin1)
        self.common, self.closes = QLineEdit(), QLineEdit()
        for key, field, title in (("common", self.common, "common pin"), ("closes", self.closes, "what lights up or closes")):
            field.setMinimumWidth(158)
            field.setPlaceholderText("not answered")
            field.editingFinished.connect(lambda key=key, field=field: self._set(key, field.text()))
            self.row(title, field)
        self.right = link("Put its pads right", self._put_right)
        self.add(self.right)

    def show_part(self, name: str) -> None:
        """Show the answers about a part, "" for none."""
        self._part = name
        self.setVisible(bool(name))
        project = self._session.project
        if not name or project is None:
            return
        answers = project.passports.get(name)
        self.pin1.show_key(answers.pin1 if answers else "")
        self.common.setText(answers.common if answers else "")
        self.closes.setText(answers.closes if answers else "")
        self.right.setVisible(answers is not None and answers.pin1 in ("turned", "mirrored"))

    def _set(self, key: str, value: str) -> None:
        project = self._session.project
        if project is None or not self._part or not value.strip():
            return
        known = project.passports.get(self._part)
        if known is None or getattr(known, key) != value:
            self._session.edit("answer-passport", {"part": self._part, key: value})
            self.show_part(self._part)

    def _put_right(self) -> None:
        self._session.edit("put-part-right", {"part": self._part})
        self._answered()
