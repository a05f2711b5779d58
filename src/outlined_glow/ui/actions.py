"""Everything one can do by key, menu or tool button; the cheat sheet of the menu is made from it."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QLineEdit, QMenu, QToolButton

from .icons import icon
from .light_string import STAGES

if TYPE_CHECKING:
    from .shell import MainWindow


class Actions:
    """The actions of a window, by name."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window
        self.by_name: dict[str, QAction] = {}
        w = window
        self._add("open", "Open…", "Ctrl+O", w.choose_project, "Open a project or begin from a picture")
        self._add("save", "Save", "Ctrl+S", w.save, "Save the project", needs=True)
        self._add("save-as", "Save as…", "Ctrl+Shift+S", w.save_as, "Save under another name", needs=True)
        self._add("export", "Export the package…", "Ctrl+E", w.export, "Write the files of the order", needs=True)
        self._add("close", "Close the project", "Ctrl+W", w.close_project, "Put the project away", needs=True)
        self._add("quit", "Quit", "Ctrl+Q", w.close, "Leave Outlined Glow")
        self._add("undo", "Undo", "Ctrl+Z", lambda: w.session.undo(), "Take the last step back", needs=True)
        self._add("redo", "Redo", "Ctrl+Shift+Z", lambda: w.session.redo(), "Do it again", needs=True)
        self._add("fit", "Fit the board", "F", lambda: w.area.bench.fit(), "The whole board in view", needs=True)
        self._add("nearer", "Nearer", "+", lambda: w.area.bench.zoom_by(1.25), "Zoom in", needs=True)
        self._add("farther", "Farther", "-", lambda: w.area.bench.zoom_by(0.8), "Zoom out", needs=True)
        self._add("turn", "Turn over", "T", lambda: w.area.bench.turn_over(), "See the other side", needs=True)
        self._add("night", "Noon to night", "N", w.noon_to_night, "Noon, dusk, night, and round again")
        self._add("play", "Play or pause", "Space", lambda: w.area.toggle_play(), "Run the pattern", needs=True)
        self._add("all-on", "All lit", "Home", lambda: w.area.stop(), "Stop the pattern and light every LED", needs=True)
        self._add("theme", "Dusk or paper", "Ctrl+T", w.switch_theme, "Switch between the dark and the light look")
        for stage in STAGES:
            key = stage.key
            self._add(f"stage-{key}", stage.title, str(stage.number), lambda key=key: w.show_stage(key), stage.tip, needs=True)

    def _add(self, name: str, text: str, key: str, run: Callable[[], object], tip: str, needs: bool = False) -> None:
        action = QAction(text, self._window)
        action.setShortcut(QKeySequence(key))
        action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
        action.setToolTip(f"{tip} ({key})")
        action.setStatusTip(tip)
        action.setData(needs)
        plain = len(key) == 1 or key in ("Space", "Home")
        action.triggered.connect(lambda _=False: self._run(run, plain))
        self._window.addAction(action)
        self.by_name[name] = action

    def _run(self, run: Callable[[], object], plain: bool) -> None:
        """A plain key typed into a field stays there."""
        focus = self._window.focusWidget()
        if plain and isinstance(focus, QLineEdit) and self._window.isActiveWindow() and focus.isModified():
            return
        run()

    def refresh(self) -> None:
        """What can be done now."""
        session = self._window.session
        there = session.project is not None
        for action in self.by_name.values():
            if action.data():
                action.setEnabled(there)
        if session.history is not None:
            self.by_name["undo"].setEnabled(session.history.can_undo())
            self.by_name["redo"].setEnabled(session.history.can_redo())
            self.by_name["undo"].setToolTip(f"Undo: {session.history.steps[session.history.place]} (Ctrl+Z)")

    def tools(self) -> list[tuple[QAction | None, str]]:
        """Those with a button on the bench, with their icons."""
        names = (("open", "folder-open"), ("save", "save"), ("undo", "undo-2"), ("redo", "redo-2"), ("fit", "maximize"))
        return [(self.by_name[name], picture) for name, picture in names]

    def menu_button(self) -> QToolButton:
        """The button that holds every action with its key."""
        self._button = QToolButton()
        self._button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self._button.setAccessibleName("Menu")
        self._button.setToolTip("Everything one can do, with its key")
        menu = QMenu(self._button)
        for name, action in self.by_name.items():
            if name in ("undo", "fit", "night", "stage-brief"):
                menu.addSeparator()
            menu.addAction(action)
        self._button.setMenu(menu)
        return self._button

    def refresh_icons(self) -> None:
        """Icons in the colours of the theme."""
        self._button.setIcon(icon("menu", bench=True))
        self._button.setStyleSheet("QToolButton::menu-indicator { image: none; }")
