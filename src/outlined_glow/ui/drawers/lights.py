"""Lights: arrays that stay live."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QButtonGroup, QLineEdit, QMenu, QVBoxLayout, QWidget

from ...core.units import show, show_si
from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Switch
from ..widgets import RowButton, button, clear, label, link
from .base import Drawer, Window
from .evenness import EvennessCard
from .lights_cards import ChainCard, EmitterChoice, HandCard

if TYPE_CHECKING:
    from ..files import Files

_SHEETS = "PDF (*.pdf);;DXF (*.dxf);;SVG (*.svg)"
#: How far a second array is laid from the first, mm.
_BESIDE_MM = 3.0


class LightsDrawer(Drawer):
    """A list of arrays, the keys of the one in hand, and the LED it uses."""

    selected = pyqtSignal(object)
    picks = pyqtSignal(object)  # LEDs to be taken in hand on the bench
    hides = pyqtSignal(str, bool)  # an array on the bench
    wants_drawing = pyqtSignal(object)  # the array that the next drag on the board draws, or None

    def build(self) -> None:
        self.list_card = self.add_card("Arrays")
        self._list = QVBoxLayout()
        self._list.setSpacing(1)
        self.list_card.body.addLayout(self._list)
        self._group = QButtonGroup(self)
        self.empty = label(
            "No LEDs yet. Add a group of LEDs. You can change its number and position at any time.", "quiet", True
        )
        self.list_card.add(self.empty)
        self.pick = link("Take LEDs in hand…", self._pick_menu, tip="By array, kind, side, group, or the colour they lie on")
        self.list_card.add(self.pick)
        self.keys_card = self.add_card("Array")
        self._keys = QVBoxLayout()
        self._keys.setSpacing(6)
        self.keys_card.body.addLayout(self._keys)
        self.led_card = self.add_card("The LED")
        self.emitter = EmitterChoice(self.led_card, lambda name: self._set("emitter", name))
        self.forward = self.led_card.figure("forward voltage")
        self.current = self.led_card.figure("current, all on", why=self._why_current)
        self.light = self.led_card.figure("brightness per LED")
        self.hand = HandCard(self.add_card("LEDs in hand"), self.edit_in)
        self.picked: frozenset[tuple[str, int]] = frozenset()
        self.chain = ChainCard(self.add_card("Chain"), self.edit)
        light = self.add_card("How even the light is", "all LEDs on")
        self.evenness = EvennessCard(light, self.session, self.edit, lambda: self.array)
        self.array: str | None = None
        self._built_for: tuple[str, str] | None = None
        self.fields: dict[str, Any] = {}
        self._files: Files | None = None
        self._drawing = False
        self._hidden: frozenset[str] = frozenset()
        self.add = button("Add lights…", self._add_menu, filled=True)
        self.foot.addWidget(self.add)
        self.remove = button("Remove", self._remove)
        self.foot.addWidget(self.remove)

    # -- choosing -------------------------------------------------------------------------------------------------

    def select(self, name: str | None) -> None:
        """Take an array in hand."""
        self.array, self.picked = name, frozenset()
        self.wants_drawing.emit(None)
        if self.session.work is not None:
            self.show_work(self.session.work)
        self.selected.emit(name)

    def _take(self, picked: frozenset[tuple[str, int]]) -> None:
        """LEDs were picked on the bench."""
        self.picked = picked
        self.hand.show(self.session.work, picked)
        if picked:
            self.bring_into_view(self.hand.card)

    def _pick_menu(self) -> None:
        work = self.session.work
        if work is None:
            return
        menu = self.pick_menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for how, which, words in core("light_facts").ways_to_pick(work, self.array):
            action = QAction(words, menu)
            action.triggered.connect(lambda _=False, how=how, which=which: self._pick(how, which))
            menu.addAction(action)
        menu.popup(self.pick.mapToGlobal(QPoint(0, self.pick.height())))

    def _pick(self, how: str, which: str) -> None:
        if self.session.work is not None:
            self.picks.emit(core("light_facts").picked_by(self.session.work, how, which))

    def _arrays(self) -> tuple[Any, ...]:
        design = self.session.design
        return design.lights if design is not None else ()

    def _current(self) -> Any:
        return next((one for one in self._arrays() if one.name == self.array), None)

    def _fill_list(self, work: Any) -> None:
        clear(self._list)
        for one in work.design.lights:
            count = sum(led.array == one.name for led in work.leds)
            words = f"{one.name}   {count} × {one.emitter}"
            row = RowButton(words, f"{words}, {core('kinds').kind_of(one).title}")
            row.setChecked(one.name == self.array)
            row.clicked.connect(lambda _=False, name=one.name: self.select(name))
            self._group.addButton(row)
            self._list.addWidget(row)
        self.empty.setVisible(not work.design.lights)
        self.pick.setVisible(bool(work.leds))

    # -- the keys of an array -------------------------------------------------------------------------------------

    def _build_keys(self, array: Any) -> None:
        clear(self._keys)
        self.fields = {}
        kind = core("kinds").kind_of(array)
        self.keys_card.title.set_full(array.name)
        self.keys_card.aside.set_full(kind.title)
        rows = self._rows = KeyRows(self.keys_card, kind.tag, self._set)
        params = core("edits").edits()[kind.tag].params
        rows.add(*(key for key in (*kind.keys, "facing", "turn_deg", "mirrored", "copies", "side") if params[key].title))
        rows["mirrored"].setToolTip("Mirrored across the picture's middle")
        for row in rows.rows.values():
            self._move_row(row)
        self.fields.update(rows.fields)
        self.name = QLineEdit()
        self.name.setMinimumWidth(150)
        self.name.editingFinished.connect(lambda: self._rename(self.name.text()))
        self._move_row(self.keys_card.row("name", self.name))
        groups = QLineEdit()
        groups.setMinimumWidth(150)
        groups.setPlaceholderText(array.name)
        groups.editingFinished.connect(lambda: self._groups(groups.text()))
        self._move_row(self.keys_card.row("groups", groups))
        self.fields["groups"] = groups
        self.pitch = label("", "sea", wrap=True)
        self._keys.addWidget(self.pitch)
        self.left_out = link("", self._bring_back)
        self._keys.addWidget(self.left_out)
        self.locked = Switch("locked")
        self.locked.switched.connect(self._lock)
        self._move_row(self.keys_card.row("locked", self.locked))
        self.unseen = Switch("hidden on the bench")
        self.unseen.setToolTip("Its numbers and rings are left away while you work; the LEDs stay on the board")
        self.unseen.switched.connect(self._hide)
        self._move_row(self.keys_card.row("hidden on the bench", self.unseen))
        self.earlier = link("Earlier in the list", lambda: self._move(-1), tip="Arrays are chained in the order of the list")
        self.later = link("Later in the list", lambda: self._move(1), tip="Arrays are chained in the order of the list")
        for one in (self.earlier, self.later):
            self._keys.addWidget(one)
        self.draw = link("", lambda: self.wants_drawing.emit(None if self._drawing else self.array))
        self._keys.addWidget(self.draw)
        self._show_drawing(self._drawing)
        self.twin = link("Duplicate", self._duplicate, tip="A second array like this one, beside it")
        self._keys.addWidget(self.twin)
        self.template = link("Save a drill template…", self._template, tip="A cross and circles at each lamp, at true size")
        self._keys.addWidget(self.template)

    def _hide(self, on: bool) -> None:
        if self.array is not None:
            self.hides.emit(self.array, on)
            self._hidden = self._hidden | {self.array} if on else self._hidden - {self.array}

    def _move(self, by: int) -> None:
        names = [one.name for one in self._arrays()]
        if self.array in names:
            self.edit("move-array", array=self.array, to=names.index(self.array) + 1 + by)

    def _lock(self, on: bool) -> None:
        array = self._current()
        if array is not None and array.locked != on:
            self.edit("lock", array=array.name, locked=on)

    def _show_drawing(self, on: bool) -> None:
        """The next drag on the board draws the array in hand, or no longer does."""
        self._drawing = on
        if self._built_for is not None:  # an array has been in hand
            self.draw.setText("Drag on the board to draw it there. Or leave it here" if on else "Draw it on the board")

    def _move_row(self, row: QWidget) -> None:
        self.keys_card.body.removeWidget(row)
        self._keys.addWidget(row)

    def _set(self, key: str, value: Any) -> None:
        array = self._current()
        if array is not None:
            self.edit(array.__struct_config__.tag, array=array.name, **{key: value})

    def _groups(self, text: str) -> None:
        names = tuple(word.strip() for word in text.split(",") if word.strip())
        array = self._current()
        if array is not None and names != array.groups:
            self._set("groups", names)

    def _duplicate(self) -> None:
        array = self._current()
        if array is not None and self.edit("duplicate-array", array=array.name, dx_mm=_BESIDE_MM, dy_mm=-_BESIDE_MM):
            self.select(self._arrays()[-1].name)

    def _rename(self, text: str) -> None:
        array, name = self._current(), text.strip()
        if array is not None and name and name != array.name:
            before, self.array = array.name, name
            if not self.edit("rename-array", array=before, name=name):
                self.array = before
                self.name.setText(before)
            self.select(self.array)

    def _template(self) -> None:
        work, files = self.session.work, self._files
        if work is not None and files is not None:
            files.write(
                "Save a drill template",
                "drill template.pdf",
                _SHEETS,
                lambda path: core("sheets").template_as(work.board, path),
            )

    def _bring_back(self) -> None:
        array = self._current()
        if array is not None:
            out = tuple(one.place for one in array.changes if one.skipped)
            self.edit("skip", array=array.name, place=out, skipped=False)

    # -- adding and removing --------------------------------------------------------------------------------------

    def _add_menu(self) -> None:
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        offered = [(kind.tag, kind.menu) for kind in core("kinds").KINDS.values()]
        for kind, words in (*offered, ("behind", "A single LED behind a window")):
            action = QAction(words, menu)
            action.triggered.connect(lambda _=False, kind=kind: self.add_array(kind))
            menu.addAction(action)
        above = self.add.mapToGlobal(QPoint(0, -menu.sizeHint().height()))
        menu.popup(above)
        self.menu = menu

    def add_array(self, kind: str) -> None:
        """A new array of a kind, in the middle of the board, taken in hand at once."""
        work = self.session.work
        if work is None:
            return
        names = {one.name for one in self._arrays()}
        stem = {"behind": "window"}.get(kind, kind)
        name = next(f"{stem}{'' if place == 1 else f' {place}'}" for place in range(1, 999)
                    if f"{stem}{'' if place == 1 else f' {place}'}" not in names)  # fmt: skip
        tag = "single" if kind == "behind" else kind
        values = core("kinds").KINDS[tag].begins(work.board.size)
        if kind == "behind":
            values["emitter"] = "1206 reverse-mount amber"
            windows = work.board.windows
            if not windows.is_empty:
                spot = windows.representative_point()
                values |= {"x_mm": round(spot.x, 2), "y_mm": round(spot.y, 2)}
        self.array = name
        if self.edit(tag, array=name, **values):
            self.select(name)
            self.wants_drawing.emit(name if core("kinds").KINDS[tag].drawn is not None else None)

    def _remove(self) -> None:
        if self.array is not None:
            name, self.array = self.array, None
            self.edit("remove-array", array=name)
            self.selected.emit(None)

    # -- showing --------------------------------------------------------------------------------------------------

    def inputs(self) -> Mapping[str, QWidget]:
        """What each LED is."""
        return {"emitter": self.emitter.package}

    def show_input(self, key: str) -> None:
        """Lead to the LED of the array in hand, or of the first one."""
        if self._current() is None and self._arrays():
            self.select(self._arrays()[0].name)
        super().show_input(key)

    def _why_current(self) -> None:
        work, array = self.session.work, self._current()
        if work is None or array is None:
            return
        mine = {led.index for led in work.leds if led.array == array.name and led.emitter == array.emitter}
        branch = next((one for one in work.plan.branches if mine.intersection(one.indices)), None)
        if branch is not None:
            self.why(core("why").why_current(work, branch))

    def attach(self, window: Window) -> None:
        super().attach(window)
        self._files = window.files
        self.evenness.files = window.files
        self.selected.connect(window.area.bench.select)
        window.area.bench.selected_array.connect(self.select)
        window.area.bench.picked_leds.connect(self._take)
        bench = window.area.bench
        self.chain.shown.switched.connect(bench.show_chain)
        self.chain.paint.switched.connect(lambda on: setattr(bench, "paints_chain", on))
        bench.painted_chain.connect(self.chain.painted)
        self.wants_drawing.connect(bench.draw)
        self.hides.connect(bench.hide_array)
        self.picks.connect(bench.take)
        bench.drawing.connect(self._show_drawing)

    def show_work(self, work: Any) -> None:
        names = [one.name for one in self._arrays()]  # those of the project: a new one is not on the board yet
        if self.array not in names:
            self.array = names[0] if names else None
            self.selected.emit(self.array)
        self._fill_list(work)
        self.hand.show(work, self.picked)
        self.chain.show_work(work)
        self.evenness.show_work(work)
        array = next((one for one in work.design.lights if one.name == self.array), None)
        self.keys_card.setVisible(array is not None)
        self.led_card.setVisible(array is not None)
        self.remove.setEnabled(array is not None)
        groups = len(dict.fromkeys(led.group for led in work.leds))
        self.subtitle.set_full(
            f"{len(work.leds)} LEDs in {groups} group{'' if groups == 1 else 's'}" if work.leds else "no LEDs yet"
        )
        if array is None:
            return
        key = (array.name, array.__struct_config__.tag)
        if key != self._built_for:
            self._built_for = key
            self._build_keys(array)
        self._show_keys(array, work)
        self._show_led(array, work)

    def look(self, work: Any) -> None:
        self.evenness.look()

    def _show_keys(self, array: Any, work: Any) -> None:
        if "path" in self._rows.fields:
            self._rows["path"].fill(core("light_facts").path_titles(work))
        others = core("kinds").spacing_of(array, work.values["light paths"])
        self._rows.show_of(array, work.board.origin, **others)
        if not self.name.hasFocus():
            self.name.setText(array.name)
            self.name.setCursorPosition(0)
        groups = self.fields["groups"]
        if not groups.hasFocus():
            groups.setText(", ".join(array.groups))
            groups.setCursorPosition(0)
        count, nearest, edge = core("facts").array_spacing(work, array.name)
        words = [f"{count} LED{'' if count == 1 else 's'}"]
        words += [f"nearest {show(nearest, 2)} mm apart"] if nearest is not None else []
        words += [f"{show(edge, 2)} mm from the board edge"] if edge is not None else []
        self.pitch.setText(", ".join(words))
        known = work.values["library"].emitters
        out = sum(one.skipped for one in array.changes)
        self.template.setVisible(array.emitter in known and bool(known[array.emitter].holes_mm))
        self.left_out.setVisible(bool(out))
        self.left_out.setText(f"Bring back {'the LED' if out == 1 else f'the {out} LEDs'} left out")
        self.locked.setChecked(array.locked)
        self.unseen.setChecked(array.name in self._hidden)
        names = [one.name for one in work.design.lights]
        self.earlier.setVisible(names.index(array.name) > 0)
        self.later.setVisible(names.index(array.name) < len(names) - 1)
        for row in (*self._rows.rows.values(), self.fields["groups"], self.name, self.remove):
            row.setEnabled(not array.locked)
        self.draw.setVisible(core("kinds").kind_of(array).drawn is not None and not array.locked)

    def _show_led(self, array: Any, work: Any) -> None:
        known = work.values["library"]
        if array.emitter not in known.emitters:
            return
        self.emitter.show_emitter(known.emitters[array.emitter], known)
        each = core("facts").light_of_each(work, array.name)
        if each is not None:
            volts, current, light = each
            self.forward.setText(f"{volts:.2f} V")
            self.current.setText(show_si(current, "A"))
            self.light.setText(f"{show(light, 1)} mcd")
