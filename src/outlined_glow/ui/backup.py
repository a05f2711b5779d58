"""Every step of the open project in a journal on the disk, so that a killed window loses nothing."""

from __future__ import annotations

import threading
import time
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from .core_door import core
from .jobs import Jobs, meanwhile
from .recent import journal_folder

if TYPE_CHECKING:
    from ..core.project.history import History
    from ..core.project.journal import Journal, Left
    from ..core.workshop import Work

_PICTURE_EVERY_S = 15.0


class Backup(QObject):
    """The journal of one window, and what a killed one left behind until the new journal holds all of it."""

    failed = pyqtSignal(str)

    def __init__(self, jobs: Jobs) -> None:
        super().__init__()
        self._jobs = jobs
        self.journal: Journal | None = None
        self.left: Left | None = None
        self.pictured = 0.0

    def record(self, history: History, path: Path | None, words: str, merge: str = "", went: bool = False) -> None:
        """Every step goes to the journal; once the present is what is on the disk there is nothing to keep."""
        if not history.unsaved:
            self._let_go()
        elif self.journal is None:
            self.begin(history, path)
        else:
            self.journal.record(history.place, words, history.project, path, merge, went)

    def begin(self, history: History, path: Path | None) -> None:
        """A new journal that holds the whole history."""
        self.journal = core("journal").Journal(journal_folder(), self._failed)
        for at, step in enumerate(history.all_steps()):
            self.journal.record(at, step.words, step.project, path)
        self.journal.record(history.place, "", history.project, path, went=True)

    def leave(self) -> None:
        """End the journal and keep it: its work is offered again."""
        journal, self.journal = self.journal, None
        if journal is not None:
            meanwhile(journal.end)

    def discard(self) -> None:
        """End the journal: its work is on the disk, or is not wanted."""
        journal, self.journal = self.journal, None
        if journal is not None:
            meanwhile(journal.discard)

    def _let_go(self) -> None:
        """The same in the midst of a step, which waits for no disk."""
        journal, self.journal = self.journal, None
        if journal is not None:
            threading.Thread(target=journal.discard, name="journal let go").start()

    def _failed(self, words: str) -> None:
        """Told by the journal's own thread; the signal crosses over."""
        self.failed.emit(f"Automatic backup failed: {words.rstrip('.')}. Save the project now.")

    def board_made(self, work: Work) -> None:
        """A board stands: what was left behind may go, and now and then the journal gets a picture to be known by."""
        self._forget_left()
        journal = self.journal
        if journal is None or time.monotonic() - self.pictured < _PICTURE_EVERY_S:
            return
        self.pictured = time.monotonic()

        def show(cancelled: Any) -> None:
            journal.show(core("draw").thumbnail(work.board))

        self._jobs.submit("journal", show, lambda _: None, self.failed.emit)

    def _forget_left(self) -> None:
        """What a killed window left behind may go once its board stands and the new journal holds all of it."""
        left, journal = self.left, self.journal
        if left is None or journal is None:
            return
        self.left = None

        def move(cancelled: Any) -> None:
            if journal.flush():
                core("journal").forget(left)

        self._jobs.submit("left", move, lambda _: None, self.failed.emit)
