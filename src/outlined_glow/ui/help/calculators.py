"""The bench calculator: every sum of the command line under its own name, as one types."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from ...core.errors import Trouble
from ..core_door import core
from ..fields import Choice, Switch
from ..session import Session
from ..spread_plot import SpreadPlot
from ..widgets import Card, button, clear, figure_row, label
from .dialog import Dialog


class Calculators(Dialog):
    """The names on the left; keys, answer and source on the right. An answer can be taken into the design."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent, "Calculators")
        self.resize(780, 640)
        self._session = session
        self._fields: dict[str, QLineEdit | Choice | Switch] = {}
        self._answer: dict[str, Any] = {}
        columns = QHBoxLayout()
        columns.setSpacing(14)
        self.list = QListWidget()
        self.list.setAccessibleName("calculators")
        self.list.setFixedWidth(190)
        for name in core("calculators").CALCULATORS:
            item = QListWidgetItem(name.replace("-", " "), self.list)
            item.setData(Qt.ItemDataRole.UserRole, name)
        self.list.currentTextChanged.connect(lambda _: self._choose())
        columns.addWidget(self.list)
        right = QVBoxLayout()
        self.about = label("", "quiet", wrap=True)
        right.addWidget(self.about)
        self.given = Card("Given")
        self._rows = QVBoxLayout()
        self.given.body.addLayout(self._rows)
        right.addWidget(self.given)
        self.answer = Card("Answer")
        self._figures = QVBoxLayout()
        self.answer.body.addLayout(self._figures)
        self.spread = SpreadPlot()
        self.spread.hide()
        self.answer.body.insertWidget(1, self.spread)
        self.missing = label("", "quiet", wrap=True)
        self.trouble = label("", "warn", wrap=True)
        self.answer.add(self.missing)
        self.answer.add(self.trouble)
        right.addWidget(self.answer)
        self.source = label("", "quiet", wrap=True)
        right.addWidget(self.source)
        right.addStretch(1)
        columns.addWidget(self.sheet(right), 1)
        self.column.addLayout(columns, 1)
        self.take = button("Take it into the design", self._take)
        self.end("Close", None, self.take)
        self.list.setCurrentRow(0)

    @property
    def name(self) -> str:
        """The calculator in hand."""
        item = self.list.currentItem()
        return str(item.data(Qt.ItemDataRole.UserRole)) if item is not None else ""

    def _choose(self) -> None:
        one = core("calculators").CALCULATORS[self.name]
        self.about.setText(one.about)
        self.source.setText(f"source: {one.source}")
        clear(self._rows)
        self._fields = {}
        for key, param in one.params.items():
            field = self._fields[key] = self._field(param, one.defaults.get(key))
            field.setToolTip(param.describe())
            field.setAccessibleName(core("calculators").words_of(key, param))
            line = QHBoxLayout()
            line.addWidget(label(core("calculators").words_of(key, param), "quiet"), 1)
            line.addWidget(field)
            holder = QWidget()
            line.setContentsMargins(0, 0, 0, 0)
            holder.setLayout(line)
            self._rows.addWidget(holder)
        self._work_out()

    def _field(self, param: Any, usual: Any) -> QLineEdit | Choice | Switch:
        """Where a key is typed, chosen or switched; `usual` is what it is unless told."""
        if param.kind == "flag":
            switch = Switch("")
            switch.setChecked(bool(usual))
            switch.switched.connect(lambda _: self._work_out())
            return switch
        if param.kind == "choice":
            choice = Choice([(word, word.replace("-", " ")) for word in param.options()])
            choice.show_key(usual or param.options()[0])
            choice.chosen.connect(lambda _: self._work_out())
            choice.setFixedWidth(190)
            return choice
        line = QLineEdit()
        told = f"{usual:g}" if isinstance(usual, float) else str(usual)
        line.setPlaceholderText(told if usual is not None else "may be left away" if param.optional else "needed")
        line.textEdited.connect(lambda _: self._work_out())
        line.setFixedWidth(190)
        return line

    def _given(self) -> tuple[list[str], bool]:
        """What is given, as on the command line, and whether any of that was typed."""
        texts = {key: field.text().strip() for key, field in self._fields.items() if isinstance(field, QLineEdit)}
        typed = {key: text for key, text in texts.items() if text}
        chosen = {key: str(field.currentData()) for key, field in self._fields.items() if isinstance(field, Choice)}
        switched = {
            key: "yes" if field.isChecked() else "no" for key, field in self._fields.items() if isinstance(field, Switch)
        }
        return [f"{key}={text}" for key, text in {**typed, **chosen, **switched}.items()], bool(typed)

    def _work_out(self) -> None:
        """The answer to what is given so far; a sentence where there is none."""
        given, typed = self._given()
        clear(self._figures)
        self._answer = {}
        words, missing = "", []
        try:
            self._answer = core("calculators").calculate(self.name, given)
        except core("calculators").StillNeeded as needed:
            params = core("calculators").CALCULATORS[self.name].params
            missing = [core("calculators").words_of(key, params[key]) for key in needed.keys] if typed else []
        except Trouble as trouble:
            words = str(trouble) if typed else ""
        for title, value in core("calculators").answer_words(self._answer):
            self._figures.addWidget(figure_row(title, value))
        spread = core("calculators").CALCULATORS[self.name].spread
        self.spread.show_spread(spread(self._answer) if spread is not None and self._answer else None)
        self.missing.setText(f"still needed: {'; '.join(missing)}")
        self.missing.setVisible(bool(missing))
        self.trouble.setText(words)
        self.trouble.setVisible(bool(words))
        takes = core("calculators").CALCULATORS[self.name].takes
        self.take.setVisible(takes is not None and self._session.project is not None)
        self.take.setEnabled(bool(self._answer))
        if takes is not None:
            self.take.setText(f"Take {takes.words} into the design")

    def _take(self) -> None:
        takes = core("calculators").CALCULATORS[self.name].takes
        if takes is not None and self._answer:
            self._session.edit(takes.edit, {takes.key: self._answer[takes.of]})
