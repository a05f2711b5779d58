"""The one door to what stands over the window for a moment: keys, settings, failures. Each is loaded when it is opened."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QApplication, QWidget

from ...core.text_safety import printable
from ...report import hard_ends, write_report
from ..core_door import load_first
from ..recent import read_state, state_folder, write_state
from ..theme import theme, theme_for, use_theme
from ..window_first import window_first

if TYPE_CHECKING:
    from ..actions import Entry
    from ..files import Files
    from ..session import Session


class Help(QObject):
    """Opens dialogs over one window, and keeps what the settings choose."""

    look_changed = pyqtSignal()
    still_changed = pyqtSignal(bool)
    forgotten = pyqtSignal()

    def __init__(self, window: QWidget, session: Session, save: Callable[[], object], say: Callable[[str], None]) -> None:
        super().__init__(window)
        self._window, self._session, self._save, self._say = window, session, save, say
        self._failing = False
        app = QApplication.instance()
        hints = app.styleHints() if isinstance(app, QApplication) else None
        if hints is not None:
            hints.colorSchemeChanged.connect(self._follow_look)

    # -- keys and settings -----------------------------------------------------------------------------------------

    def show_keys(self, entries: Sequence[Entry]) -> None:
        """The sheet of keys."""
        from ..groups import BY_HAND
        from .keys import KeySheet

        KeySheet(self._window, entries, BY_HAND).exec()

    def show_settings(self) -> None:
        """The settings."""
        from .settings import Settings

        state = read_state()
        dialog = Settings(self._window, str(state.get("theme", "desktop")), self.still, state_folder())
        dialog.look_chosen.connect(self.use_look)
        dialog.still_chosen.connect(self._be_still)
        dialog.forgotten.connect(self._forget)
        dialog.exec()

    def show_library(self, files: Files) -> None:
        """Every part there is; what is made of one goes where `files` asks."""
        from .library import LibraryDialog

        load_first("workshop", "own_parts", "light_facts", "part_picture")  # the edits are registered by loading them
        LibraryDialog(self._window, self._session, files).exec()

    def show_connections(self, files: Files) -> None:
        """The connection list of the board in view."""
        from .connections import Connections

        work = self._session.work
        if work is not None and work.plan is not None:
            load_first("connections", "blocks")
            Connections(self._window, work, files).exec()

    def show_pins(self, files: Files) -> None:
        """The pins of the controller of the board in view."""
        from .pins import PinsDialog

        load_first("workshop", "pin_table")
        PinsDialog(self._window, self._session, files).exec()

    def show_calculators(self) -> None:
        """Every sum on its own."""
        from .calculators import Calculators

        load_first("workshop", "calculators")
        Calculators(self._window, self._session).exec()

    def switch_theme(self) -> None:
        """Dusk to paper and back."""
        self.use_look("paper" if theme().name == "dusk" else "dusk")

    def use_look(self, look: str) -> None:
        """Dusk, paper, or as the desktop says; remembered."""
        write_state(theme=look)
        self._follow_look()

    @property
    def still(self) -> bool:
        """Whether nothing should move of itself."""
        return bool(read_state().get("still"))

    def _follow_look(self) -> None:
        window_first()
        use_remembered_look()
        self.look_changed.emit()

    def _be_still(self, still: bool) -> None:
        write_state(still=still)
        self.still_changed.emit(still)

    def _forget(self) -> None:
        write_state(recent=[])
        self.forgotten.emit()

    # -- failures --------------------------------------------------------------------------------------------------

    def show_failure(self, error: BaseException, doing: str) -> None:
        """Something nobody expected: what happened, what is kept, and the report; one at a time."""
        from .failure import Failure

        history = self._session.history
        last = history.steps[history.place] if history is not None else "nothing open"
        try:
            report = write_report(error, f"{doing}; last step: {last}")
        except OSError as problem:
            self._say(f"Something went wrong inside the program, and no report could be written ({problem.strerror}).")
            return
        if self._failing:
            return
        self._failing = True
        kept = "Nothing was open, so nothing is lost."
        if history is not None:
            kept = f"Your work is kept: “{history.project.name}” stands as after “{last}”, and the journal holds that too."
        happened = printable(f"{type(error).__name__}: {str(error) or 'no further word'}")[:300]
        Failure(self._window, happened, kept, report, self._save if history is not None else None).exec()
        self._failing = False

    def show_hard_end(self) -> None:
        """If the last window ended without warning below the program, say so once."""
        for report in hard_ends()[-1:]:
            from .failure import Failure

            kept = "Unsaved work is listed on the start page. You can restore it there."
            Failure(self._window, "The program ended without warning the last time.", kept, report, None).open()


def use_remembered_look() -> None:
    """Dress the application as it was left."""
    app = QApplication.instance()
    if isinstance(app, QApplication):
        use_theme(app, theme_for(app, read_state().get("theme", "desktop")))
