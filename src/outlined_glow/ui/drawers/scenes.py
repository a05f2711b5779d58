"""Scenes, buttons, and what leads from one scene to another; the buttons can be pressed here."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QInputDialog, QVBoxLayout

from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice, QuantityField
from ..flow import FlowLayout
from ..session import Session
from ..widgets import RowButton, clear, label, link
from .base import Drawer, Window
from .contact_button import ContactButton
from .scene_map import SceneMap

_SCENE, _BUTTON = ("start_s", "length_s", "then", "share"), ("contact", "debounce_s", "long_s", "very_long_s", "double_s")


class ScenesCards:
    """Three cards: scenes, buttons, and what leads on."""

    def __init__(self, drawer: Drawer, session: Session) -> None:
        self._drawer, self._session, self._edit = drawer, session, drawer.edit
        self._window: Window | None = None
        self._scene = self._button = ""
        self._build_scenes(drawer)
        self._build_buttons(drawer)
        self._build_changes(drawer)

    def _build_scenes(self, drawer: Drawer) -> None:
        self.scenes = drawer.add_card("Scenes")
        self.map = SceneMap()
        self.map.chosen.connect(self._take_scene)
        self.scenes.add(self.map)
        self.now = self.scenes.figure("plays now")
        self.of = Choice([])
        self.of.chosen.connect(self._take_scene)
        self._of_row = self.scenes.row("scene", self.of)
        self.scene_rows = KeyRows(
            self.scenes, "set-scene", lambda key, value: self._edit("set-scene", name=self._scene, **{key: value})
        )
        self.scene_rows.add(*_SCENE)
        links = FlowLayout()
        self.sign = Choice([])
        self.sign.chosen.connect(self._sign)
        self._sign_row = self.scenes.row("told by", self.sign)
        self.cut_rows = KeyRows(self.scenes, "set-power-cut", lambda key, value: self._edit("set-power-cut", **{key: value}))
        self.cut_rows.add("after")
        self.kept = label("", "quiet", wrap=True)
        self.scenes.add(self.kept)
        self.cut = link("cut the power", self._cut)
        self.cut.setToolTip("Switch the board off and on while it plays")
        self.make = link("make a scene…", self._make_scene)
        self.rename = link("rename it…", self._rename)
        self.drop = link("remove this scene", lambda: self._edit("remove-scene", name=self._scene))
        for one in (self.make, self.rename, self.drop, self.cut):
            links.addWidget(one)
        self.scenes.body.addLayout(links)

    def _build_buttons(self, drawer: Drawer) -> None:
        self.buttons = drawer.add_card("Buttons")
        self._press = FlowLayout()
        self.buttons.body.addLayout(self._press)
        self._shown: tuple[Any, ...] = ()
        self.which = Choice([])
        self.which.chosen.connect(self._take_button)
        self._which_row = self.buttons.row("button", self.which)
        self.button_rows = KeyRows(
            self.buttons, "add-button", lambda key, value: self._edit("add-button", name=self._button, **{key: value})
        )
        self.button_rows.add(*_BUTTON)
        more = FlowLayout()
        self.add = link("add a button…", self._add_button)
        self.less = link("remove this button", lambda: self._edit("remove-button", name=self._button))
        for one in (self.add, self.less):
            more.addWidget(one)
        self.buttons.body.addLayout(more)

    def _build_changes(self, drawer: Drawer) -> None:
        self.changes = drawer.add_card("Changes", "from scene to scene")
        self._rows = QVBoxLayout()
        self._rows.setSpacing(2)
        self.changes.body.addLayout(self._rows)
        self.start, self.end, self.by, self.thing = Choice([]), Choice([]), Choice([]), Choice([])
        self.by.chosen.connect(lambda _: self._show_thing())
        self.value = QuantityField("", "")
        self.changes.row("from", self.start)
        self.changes.row("to", self.end)
        self.changes.row("by", self.by)
        self._thing_row = self.changes.row("of", self.thing)
        self._value_row = self.changes.row("value", self.value)
        self.lead = link("add this change", self._add_change)
        self.changes.add(self.lead)

    def attach(self, window: Window) -> None:
        """The window is there."""
        self._window = window
        window.area.scene_changed.connect(self.now.setText)
        window.area.scene_changed.connect(self.map.show_now)

    def show_work(self, work: Any) -> None:
        """Show scenes, buttons and changes as the project has them."""
        motion = work.project.motion
        edits = core("scene_edits")
        scenes, buttons = [one.name for one in motion.scenes], [one.name for one in motion.buttons]
        self._scene = self._scene if self._scene in scenes else scenes[0] if scenes else ""
        self._button = self._button if self._button in buttons else buttons[0] if buttons else ""
        self.map.show_motion(motion, self._scene)
        self.scenes.aside.set_full("" if scenes else "the whole score plays")
        for choice, names, name, row in (
            (self.of, scenes, self._scene, self._of_row), (self.which, buttons, self._button, self._which_row),
        ):  # fmt: skip
            choice.fill([(one, one) for one in names])
            choice.show_key(name)
            row.setVisible(bool(names))
        signs = core("sign_edits")
        self.sign.fill([("none", "nothing"), *signs.SIGNS])
        self.sign.show_key(core("motion_facts").sign_kind(motion))
        self.cut_rows.only(("after",) if scenes else ())
        self.cut_rows.show({"after": motion.after_cut})
        self.kept.setText(core("motion_facts").power_cut_words(motion))
        self.kept.setVisible(bool(scenes))
        for widget in (self.rename, self.drop, self.cut, self._sign_row, self.now.parentWidget()):
            if widget is not None:
                widget.setVisible(bool(scenes))
        self.less.setVisible(bool(buttons))
        self.scene_rows.only(_SCENE if scenes else ())
        self.button_rows.only(_BUTTON if buttons else ())
        if scenes:
            self.scene_rows.show_of(next(one for one in motion.scenes if one.name == self._scene))
        if buttons:
            self.button_rows.show_of(next(one for one in motion.buttons if one.name == self._button))
        self.buttons.setVisible(bool(scenes))
        self.changes.setVisible(bool(scenes))
        self._show_buttons(motion.buttons)
        self._show_changes(motion, edits, scenes)

    def _show_buttons(self, buttons: tuple[Any, ...]) -> None:
        if buttons == self._shown:
            return
        self._shown = buttons
        clear(self._press)
        for one in buttons:
            contact = ContactButton(one)
            contact.told.connect(self._pressed)
            self._press.addWidget(contact)

    def _show_changes(self, motion: Any, edits: Any, scenes: list[str]) -> None:
        clear(self._rows)
        for one in motion.changes:
            words = core("motion_facts").change_words(one)
            row = RowButton(words, f"{words}. Press it to remove this change")
            row.setCheckable(False)
            row.clicked.connect(partial(self._remove_change, one.number))
            self._rows.addWidget(row)
        if not motion.changes:
            self._rows.addWidget(label("none yet: the first scene plays on", "quiet"))
        kinds = [(word, title) for word, title in edits.BY if (word not in edits.PRESSED or motion.buttons)]
        kinds = [(word, title) for word, title in kinds if word not in ("over", "under") or motion.feeds]
        names = [(one, one) for one in scenes]
        for choice, words in (
            (self.start, [("any", "any scene"), *names]),
            (self.end, [*names, ("off", "off")]),
            (self.by, kinds),
        ):
            kept = choice.currentData()
            choice.fill(words)
            choice.show_key(kept if kept in dict(words) else words[0][0] if words else "")
        self._show_thing()

    def _show_thing(self) -> None:
        """The button or the feed that is meant, and the value, as far as the kind of change has them."""
        project = self._session.project
        if project is None:
            return
        by = self.by.currentData()
        pressed = by in core("scene_edits").PRESSED
        things = project.motion.buttons if pressed else project.motion.feeds if by in ("over", "under") else ()
        kept = self.thing.currentData()
        words = [(one.name, one.name) for one in things]
        self.thing.fill(words)
        self.thing.show_key(kept if kept in dict(words) else words[0][0] if words else "")
        self._thing_row.setVisible(bool(words))
        self._value_row.setVisible(by in ("over", "under", "time"))
        self.value.show_unit("s" if by == "time" else "")

    def _sign(self, by: str) -> None:
        """Scenes tell themselves on the LEDs that are asked for."""
        values: dict[str, Any] = {"by": by}
        if by != "none":
            text, good = QInputDialog.getText(
                self._drawer, "LEDs of the signs", "Numbers such as 1,2,5-8, or the name of a group or an array"
            )
            if not good or not text.strip():
                self._again()
                return
            numbers = core("motion_facts").numbers_of(text)
            work = self._session.work
            arrays = set(work.lamps.arrays) if work is not None else set()
            name = text.strip()
            values |= {"leds": numbers} if numbers else {"array": (name,)} if name in arrays else {"group": (name,)}
        if not self._edit("sign-scenes", **values):
            self._again()

    def _cut(self) -> None:
        if self._window is not None:
            self._window.area.cut_power()

    def _take_scene(self, name: str) -> None:
        self._scene = name
        self._again()

    def _take_button(self, name: str) -> None:
        self._button = name
        self._again()

    def _again(self) -> None:
        if self._session.work is not None:
            self.show_work(self._session.work)

    def _asked(self, title: str, what: str, run: Callable[[str], object]) -> None:
        name, good = QInputDialog.getText(self._drawer, title, what)
        if good and name.strip():
            run(name.strip())

    def _make_scene(self) -> None:
        def made(name: str) -> None:
            if self._edit("set-scene", name=name):
                self._scene = name

        self._asked("Make a scene", "Name of the scene", made)

    def _rename(self) -> None:
        def named(name: str) -> None:
            if self._edit("set-scene", name=self._scene, called=name):
                self._scene = name

        self._asked("Rename the scene", "Name of the scene", named)

    def _add_button(self) -> None:
        def made(name: str) -> None:
            if self._edit("add-button", name=name):
                self._button = name

        self._asked("Add a button", "Name of the button", made)

    def _add_change(self) -> None:
        by = self.by.currentData()
        values: dict[str, Any] = {"of": self.start.currentData(), "to": self.end.currentData(), "by": by}
        thing = self.thing.currentData()
        if by in core("scene_edits").PRESSED:
            values["button"] = thing
        elif by in ("over", "under"):
            values["feed"] = thing
        if by in ("over", "under", "time"):
            values["value"] = self.value.value
        self._edit("add-change", **{key: value for key, value in values.items() if value is not None})

    def _remove_change(self, number: int, _checked: bool = False) -> None:
        self._edit("remove-change", number=number)

    def _pressed(self, kind: str, name: str) -> None:
        if self._window is not None:
            self._window.area.press(kind, name)
