"""Everything one can do by key, menu or tool button."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import groupby
from typing import TYPE_CHECKING, NamedTuple

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QAction, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QLineEdit, QMainWindow, QMenu, QToolButton, QWidget

from .bench.kept import StillButton
from .icons import icon
from .window_first import window_first

if TYPE_CHECKING:
    from ..core.project.history import History


class Entry(NamedTuple):
    """One action: the group it stands in, its words, key and tip, and whether it needs a project."""

    group: str
    name: str
    text: str
    key: str
    run: Callable[[], object]
    tip: str
    needs: bool = False


def shown_key(key: str) -> str:
    """A key as it is written on the keyboard."""
    words = QKeySequence(key).toString(QKeySequence.SequenceFormat.NativeText)
    return {"Space": "space"}.get(words, words)


class Actions:
    """The actions of a window, by name."""

    def __init__(self, window: QMainWindow, entries: Sequence[Entry]) -> None:
        self._window = window
        self.entries = tuple(entries)
        self.by_name: dict[str, QAction] = {}
        self._button = StillButton()
        for entry in entries:
            self._add(entry)

    def _add(self, entry: Entry) -> None:
        action = QAction(entry.text, self._window)
        action.setShortcut(QKeySequence(entry.key))
        action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
        action.setToolTip(f"{entry.tip} ({entry.key})")
        action.triggered.connect(lambda _=False: self._run(entry))
        self._window.addAction(action)
        self.by_name[entry.name] = action

    def _run(self, entry: Entry) -> None:
        """A plain key typed into a field stays there; the space bar plays only where it has nothing else to press."""
        plain = "+" not in entry.key or entry.key == "+"
        focus = self._window.focusWidget()
        if plain and isinstance(focus, QLineEdit) and focus.isModified():
            return
        if entry.key == "Space" and focus is not None and not focus.property("plays"):
            _press_space(focus)
            return
        window_first()
        entry.run()

    def refresh(self, history: History | None) -> None:
        """What can be done now."""
        for entry in self.entries:
            if entry.needs:
                self.by_name[entry.name].setEnabled(history is not None)
        if history is not None:
            self.by_name["undo"].setEnabled(history.can_undo())
            self.by_name["redo"].setEnabled(history.can_redo())
            self.by_name["undo"].setToolTip(f"Undo: {history.steps[history.place]} (Ctrl+Z)")

    def tools(self) -> list[tuple[QAction | None, str]]:
        """Those with a button on the bench, with their icons."""
        names = (
            ("open", "folder-open"),
            ("save", "save"),
            ("undo", "undo-2"),
            ("redo", "redo-2"),
            ("steps", "history"),
            ("fit", "maximize"),
        )
        return [(self.by_name[name], picture) for name, picture in names]

    def menu_button(self) -> StillButton:
        """The button that holds every action with its key."""
        self._button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self._button.setAccessibleName("Menu")
        self._button.setToolTip("Everything one can do, with its key")
        menu = QMenu(self._button)
        for group, entries in groupby(self.entries, lambda entry: entry.group):
            part = QMenu(group, menu)
            for entry in entries:
                part.addAction(self.by_name[entry.name])
            menu.addMenu(part)
        self._button.setMenu(menu)
        return self._button

    def refresh_icons(self) -> None:
        """Icons in the colours of the theme."""
        self._button.setIcon(icon("menu", bench=True))


def _press_space(widget: QWidget) -> None:
    """Give the space bar to the button, row or choice that has the focus."""
    # Sent through the application, the key would find the shortcut again.
    widget.keyPressEvent(QKeyEvent(QEvent.Type.KeyPress, Qt.Key.Key_Space, Qt.KeyboardModifier.NoModifier, " "))
    widget.keyReleaseEvent(QKeyEvent(QEvent.Type.KeyRelease, Qt.Key.Key_Space, Qt.KeyboardModifier.NoModifier, " "))
