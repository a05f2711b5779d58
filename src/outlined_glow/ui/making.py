"""The boards of the open project, made and looked over in the background."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from .core_door import core
from .jobs import Jobs

if TYPE_CHECKING:
    from ..core.project.model import Project
    from ..core.workshop import Compiler, Work

#: The findings wait until the hand rests.
_FINDINGS_AFTER_MS = 250
#: How much of the work it is to show a board before its art is cleaned up and its tracks are drawn.
_FIRST = 0.15
#: What is being done to a board, unless a part of the work says it better.
_MAKING = "making the board"


class Making(QObject):
    """One compiler for one window: the board in view first, and once edits rest the findings of all boards."""

    progressed = pyqtSignal(float, str)  # how far the board under way is, and what is being done
    drawn = pyqtSignal(
        object, object
    )  # Work, seen while its clean-up and its tracks are made, and of which project; None: not now
    found = pyqtSignal(object)  # tuple[Finding, ...]
    failed = pyqtSignal(str)

    def __init__(self, jobs: Jobs) -> None:
        super().__init__()
        self._jobs = jobs
        self._known: Compiler | None = None
        self._work: Work | None = None
        self._enough = threading.Event()
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(_FINDINGS_AFTER_MS)
        self._later.timeout.connect(self._look_over)

    @property
    def _compiler(self) -> Compiler:
        if self._known is None:
            self._known = core("workshop").Compiler()
        return self._known

    def make(self, project: Project, board: str, done: Callable[[Work], None], failed: Callable[[str], None]) -> None:
        """Make a board of the project; the findings of an older one are given up."""
        self._later.stop()
        self._jobs.cancel("findings")
        self._enough = enough = threading.Event()

        def run(cancelled: Callable[[], bool]) -> Work:
            watch = core("watch").Watch(cancelled, self.progressed.emit, words=_MAKING, enough=enough.is_set)
            drawn = self._compiler.seen_first(project, watch.part(0.0, _FIRST), board)
            if drawn is not None:
                self.drawn.emit(drawn, project)
            return self._compiler.compile(project, watch.part(_FIRST, 1.0), board)

        def gave_up(words: str) -> None:
            self.drawn.emit(None, project)
            failed(words)

        self._jobs.submit("compile", run, done, gave_up)

    def take_what_there_is(self) -> None:
        """Have the board under way made with the tracks that are drawn by now."""
        self._enough.set()

    def go_on(self) -> None:
        """Have the next board made from what was left half done."""
        self._compiler.go_on()

    def made(self, project: Project, cancelled: Callable[[], bool]) -> tuple[Work, ...]:
        """Every board of exactly that project, for a worker: the board on the bench may be of a step before it."""
        return self._compiler.compile_all(project, core("watch").Watch(cancelled))

    def drops(self, work: Work, cancelled: Callable[[], bool]) -> Any:
        """The volts that a board loses, for a worker: with the other boards made, where they plug together."""
        plugs = len(work.project.designs) > 1 and any(design.drive.plugs for design in work.project.designs)
        return core("drops").drops(work, self.made(work.project, cancelled) if plugs else ())

    def look_over_soon(self, work: Work) -> None:
        """Find what is wrong with the boards of a project, once nothing changes for a moment."""
        self._work = work
        self._later.start()

    @property
    def waiting(self) -> bool:
        """Whether findings are due that nobody looks for yet."""
        return self._later.isActive()

    def stop(self) -> None:
        """Give up what is under way: the project is put away."""
        self._later.stop()
        if self._known is not None:
            self._known.forget_copper()
        self._jobs.cancel("compile")
        self._jobs.cancel("findings")

    def _look_over(self) -> None:
        work = self._work
        if work is None:
            return

        def run(cancelled: Callable[[], bool]) -> Any:
            return self._compiler.look_over(work.project, core("watch").Watch(cancelled))

        self._jobs.submit("findings", run, self.found.emit, self.failed.emit)
