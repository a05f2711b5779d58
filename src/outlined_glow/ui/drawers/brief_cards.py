"""Cards of the brief: the limits beside what the board is, and a fabricator profile of one's own."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QInputDialog, QLineEdit, QWidget

from ..core_door import core
from ..edit_fields import field_of, params_of
from ..fields import Choice, QuantityField
from ..opening import named_file
from ..widgets import Card, label, link

if TYPE_CHECKING:
    from .base import Drawer

_PROFILES = "Profiles (*.json)"


class LimitsCard(Card):
    """Each limit with a field, and what the board has beside it; an empty field is no limit."""

    def __init__(self, drawer: Drawer) -> None:
        super().__init__("Limits", "your limit · this board")
        self._drawer = drawer
        self.fields: dict[str, Any] = {}
        self.have: dict[str, Any] = {}
        params = params_of("set-limits")
        for key in ("width_mm", "height_mm", "tall_mm", "each", "run_time_h"):
            field: Any = field_of(params[key])
            field.committed.connect(lambda value, key=key: self._set(key, value))
            field.editingFinished.connect(lambda key=key, field=field: self._forget(key, field.text()))
            self._line(key, params[key].title, field)
        self.date = QLineEdit()
        self.date.setPlaceholderText("2026-12-24")
        self.date.editingFinished.connect(self._date)
        self._line("ready_by", "ready by", self.date)

    def _line(self, key: str, title: str, field: QWidget) -> None:
        field.setFixedWidth(92)
        field.setAccessibleName(f"limit of {title}")
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(label(title, "quiet"), 1)
        row.addWidget(field)
        have = label("–")
        have.setMinimumWidth(68)
        have.setAlignment(have.alignment() | have.alignment().AlignRight)
        row.addWidget(have)
        self.body.addWidget(holder)
        self.fields[key], self.have[key] = field, have

    def _set(self, key: str, value: float) -> None:
        self._drawer.edit("set-limits", **{key: value})

    def _forget(self, key: str, text: str) -> None:
        project = self._drawer.session.project
        if project is not None and not text.strip() and getattr(project.brief.limits, key) is not None:
            self._drawer.edit("set-limits", drop=(key,))

    def _date(self) -> None:
        project = self._drawer.session.project
        text = self.date.text().strip()
        if project is None or text == (project.brief.limits.ready_by or ""):
            return
        if text:
            self._drawer.edit("set-limits", ready_by=text)
        else:
            self._drawer.edit("set-limits", drop=("ready_by",))

    def show_work(self, work: Any) -> None:
        """Limits given and figures had."""
        limits = work.brief.limits
        for key in ("width_mm", "height_mm", "tall_mm", "each", "run_time_h"):
            self.fields[key].show_value(getattr(limits, key))
        if not self.date.hasFocus():
            self.date.setText(limits.ready_by or "")
        for key, words in core("facts").limit_words(work).items():
            self.have[key].setText(words)


class OwnProfile:
    """Copy, change, import and export of a profile, on the card that tells who makes the board."""

    def __init__(self, drawer: Drawer, card: Card) -> None:
        self._drawer = drawer
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        row.addWidget(link("copy…", self._copy, tip="Copy this profile under a name of your own, to change its rules"))
        row.addWidget(link("import…", self._import, tip="Read a profile from a file"))
        row.addWidget(link("export…", self._export, tip="Write this profile to a file"))
        row.addStretch(1)
        card.add(holder)
        self.rule = Choice([])
        self.rule.chosen.connect(lambda _: self._show_rule())
        self._rule_row = card.row("rule", self.rule)
        self.value = QuantityField("", "", step=0.01, digits=3)
        self.value.committed.connect(lambda value: drawer.edit("set-rule", rule=self.rule.currentData(), value=value))
        self._value_row = card.row("value", self.value)

    def _copy(self) -> None:
        name, good = QInputDialog.getText(self._drawer, "Copy the profile", "Name of the copy")
        if good and name.strip():
            self._drawer.session.edit("copy-profile", {"name": name.strip()})

    def _import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self._drawer, "Read a profile from a file", str(Path.home()), _PROFILES)
        if name:
            self.take(Path(name))

    def take(self, path: Path) -> None:
        """Take the profile of a file; a bad one is told and changes nothing."""
        file = named_file(path, self._drawer.session.trouble.emit)
        if file is not None:
            self._drawer.edit("take-profile", file=file)

    def _export(self) -> None:
        work = self._drawer.session.work
        if work is None:
            return
        start = str(Path.home() / f"{work.board.profile.name}.json")
        name, _ = QFileDialog.getSaveFileName(self._drawer, "Write this profile to a file", start, _PROFILES)
        if name:
            core("atomic").atomic_write(Path(name), core("parts").profile_text(work.board.profile).encode())
            self._drawer.session.said.emit(f"profile written to {Path(name).name}")

    def _show_rule(self) -> None:
        work = self._drawer.session.work
        if work is not None and self.rule.currentData():
            self.value.show_unit(core("brief").rule_title(self.rule.currentData())[1])
            self.value.show_value(float(getattr(work.board.profile, self.rule.currentData())))

    def show_work(self, work: Any) -> None:
        """The rules of an own profile can be changed one by one."""
        if not self.rule.count():
            self.rule.fill([(key, core("brief").rule_title(key)[0]) for key in core("brief").rules()])
        own = work.brief.profile == work.brief.own_profile.get("name")
        self._rule_row.setVisible(own)
        self._value_row.setVisible(own)
        self._show_rule()
