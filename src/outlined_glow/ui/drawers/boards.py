"""The boards of the project: which of them is in view, its name, and whether it is made like the others."""

from __future__ import annotations

import itertools
from typing import Any

from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QLineEdit, QVBoxLayout

from ..fields import Switch
from ..session import Session
from ..widgets import Card, RowButton, clear, label, link


class BoardsCard(Card):
    """A list of the boards where there are several, and what can be done with the one in view."""

    def __init__(self, session: Session) -> None:
        super().__init__("Boards")
        self._session = session
        self._list = QVBoxLayout()
        self._list.setSpacing(1)
        self.body.addLayout(self._list)
        self._group = QButtonGroup(self)
        self._shown = ""
        self.only = label("This project has one board.", "quiet", wrap=True)
        self.add(self.only)
        links = QHBoxLayout()
        links.setSpacing(10)
        links.addWidget(link("add a board", self._add, tip="A plate of 50 × 50 mm"))
        links.addWidget(link("copy this board", lambda: self._add(self._session.board), tip="With all that is on it"))
        self.remove_link = link("remove", self._remove, tip="Remove the board in view")
        links.addWidget(self.remove_link)
        links.addStretch(1)
        self.body.addLayout(links)
        self.name = QLineEdit()
        self.name.setMaxLength(40)
        self.name.setFixedWidth(150)
        self.name.editingFinished.connect(self._rename)
        self._name_row = self.row("board name", self.name)
        self.own_stack = Switch("own mask, finish, ink and thickness")
        self.own_stack.switched.connect(self._own)
        self._stack_row = self.row("own mask, finish, ink", self.own_stack)

    def show_work(self, work: Any) -> None:
        """Bring the list up to date."""
        session, design = self._session, work.design
        several = len(work.project.designs) > 1
        clear(self._list)
        for name in session.boards if several else ():
            row = RowButton(name, f"Bring “{name}” to the bench")
            row.setChecked(name == session.board)
            row.clicked.connect(lambda _=False, name=name: session.show_board(name))
            self._group.addButton(row)
            self._list.addWidget(row)
        self.aside.set_full(str(len(session.boards)) if several else "")
        self.only.setVisible(not several)
        for widget in (self.remove_link, self._name_row, self._stack_row):
            widget.setVisible(several)
        self._shown = design.name
        self.name.setText(design.name)
        self.name.setCursorPosition(0)
        self.own_stack.setChecked(design.stack is not None)

    def _add(self, like: str | None = None) -> None:
        names = self._session.boards
        name = next(one for one in (f"board {number}" for number in itertools.count(2)) if one not in names)
        if self._session.edit("add-board", {"name": name, "like": like}):
            self._session.show_board(name)

    def _remove(self) -> None:
        self._session.edit("remove-board", {"board": self._session.board})

    def _rename(self) -> None:
        # A field that is hidden while it has the focus says that it is done too.
        name, board = self.name.text().strip(), self._shown
        if name and name != board == self._session.board and self._session.edit("rename-board", {"board": board, "name": name}):
            self._session.show_board(name)

    def _own(self, on: bool) -> None:
        self._session.edit("set-stack" if on else "share-stack", {"board": self._session.board})
