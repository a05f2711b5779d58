"""The open project: its history, its board made in the background, and the events views listen to."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ..core.errors import Trouble
from .core_door import core
from .jobs import Jobs
from .recent import journal_folder

if TYPE_CHECKING:
    from ..core.project.history import History
    from ..core.project.journal import Journal, Left
    from ..core.project.lock import FileLock
    from ..core.project.model import Project

_FINDINGS_AFTER_MS = 250
_PICTURE_EVERY_S = 15.0


def disk_stamp(path: Path | None) -> tuple[int, ...] | None:
    """What tells one version of a file on the disk from another."""
    try:
        found = path.stat() if path is not None else None
    except OSError:
        return None
    return None if found is None else (found.st_mtime_ns, found.st_size, found.st_ino)


#: What is being done to a board, unless a part of the work says it better.
_MAKING = "making the board"


class Session(QObject):
    """Holds at most one project. Every change goes through `edit`, as on the command line."""

    project_changed = pyqtSignal(object)  # Project
    work_ready = pyqtSignal(object)  # Work
    findings_ready = pyqtSignal(object)  # tuple[Finding, ...]
    trouble = pyqtSignal(str)
    said = pyqtSignal(str)  # good news, for a moment
    closed = pyqtSignal()
    stopped = pyqtSignal()  # an opening was given up
    progressed = pyqtSignal(float, str)  # how far the board under way is, and what is being done

    def __init__(self, jobs: Jobs) -> None:
        super().__init__()
        self.jobs = jobs
        self.history: History | None = None
        self.path: Path | None = None
        self.work: Any = None
        self.findings: tuple[Any, ...] | None = None
        self.lock: FileLock | None = None
        self._opening: FileLock | None = None
        self.stamp: tuple[int, ...] | None = None
        self._compiler: Any = None
        self._journal: Journal | None = None
        self._left: Left | None = None
        self._pictured = 0.0
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(_FINDINGS_AFTER_MS)
        self._later.timeout.connect(self._find)

    @property
    def project(self) -> Project | None:
        """The project now, if one is open."""
        return self.history.project if self.history else None

    @property
    def unsaved(self) -> bool:
        """Whether closing would lose something."""
        return self.history is not None and self.history.unsaved

    def open_project(self, project: Project, path: Path | None, fresh: bool = False) -> None:
        """Show a project; a new one is not saved yet."""
        history = core("history").History(project)
        if fresh:
            history.mark_unsaved()
        self._take_up(history, path)

    def _take_up(self, history: History, path: Path | None, lock: FileLock | None = None) -> None:
        """What was under way for the last project is given up."""
        self._put_away()
        self.history, self.path, self.lock = history, path, lock
        self.stamp = disk_stamp(path)
        self.work, self.findings = None, None
        self.project_changed.emit(history.project)
        self._compile()

    def open_file(self, path: Path, lock: FileLock | None = None) -> None:
        """Open a project file in the background; without its lock, as a copy that is on no disk yet."""

        def taken(project: Project) -> None:
            if lock is None:
                self.open_project(core("storage").copy_of(project), None, fresh=True)
            else:
                self._take_up(core("history").History(project), path, lock)

        self._open(lambda: core("storage").load(path), taken, lock)

    def open_picture(self, path: Path, width_mm: float | None) -> None:
        """Begin a project from a picture of that painted width."""
        self._open(
            lambda: core("start").picture_project(path, width_mm),
            lambda project: self.open_project(project, None, fresh=True),
        )

    def open_bytes(self, name: str, data: bytes, width_mm: float | None) -> None:
        """Begin a project from a picture that is in no file."""
        self._open(
            lambda: core("start").new_project(data, name, width_mm=width_mm),
            lambda project: self.open_project(project, None, fresh=True),
        )

    def open_left(self, left: Left, lock: FileLock | None) -> None:
        """Restore what a killed window left behind, with its whole history."""

        def taken(history: History) -> None:
            self._take_up(history, left.saved_as if lock is not None else None, lock)
            self._left = left
            self._begin_journal()

        self._open(lambda: core("journal").recover(left), taken, lock)

    def open_demo(self, name: str) -> None:
        """Begin from a demo."""
        self._open(lambda: core("demos").demo_project(name), lambda project: self.open_project(project, None))

    def _open(self, read: Callable[[], Any], taken: Callable[[Any], None], lock: FileLock | None = None) -> None:
        """Read in the background a project to open; its lock is released if that fails or is cancelled."""

        def done(result: Any) -> None:
            self._opening = None
            taken(result)

        def refused(words: str) -> None:
            self._give_up_opening()
            self.trouble.emit(words)

        self._give_up_opening()
        self._opening = lock
        self.jobs.submit("open", lambda cancelled: read(), done, refused)

    def _give_up_opening(self) -> None:
        self.jobs.cancel("open")
        if self._opening is not None:
            self._opening.free()
            self._opening = None

    def stop(self) -> None:
        """Give up what is under way: the opening of a file, or the step whose board is not made yet."""
        if self.jobs.waiting("open"):
            self._give_up_opening()
            self.stopped.emit()
        elif self.jobs.waiting("picture file") or self.jobs.waiting("outline file"):
            self.jobs.cancel("picture file")
            self.jobs.cancel("outline file")
        elif self.jobs.waiting("compile"):
            if self.work is None:
                self.close_project()
            else:
                self._back_to_made()

    def _back_to_made(self) -> None:
        """To the step whose board lies on the bench, whichever way it was left: by an edit, an undo or a redo."""
        assert self.history is not None
        made = [at for at, step in enumerate(self.history.all_steps()) if step.project is self.work.project]
        if made:
            self.go(made[-1])
        else:
            self.undo()

    def close_project(self) -> None:
        """Put the project away."""
        self._give_up_opening()
        self._put_away()
        self.history, self.path, self.work, self.findings = None, None, None, None
        self.closed.emit()

    def _put_away(self) -> None:
        self._left = None
        self._later.stop()
        for key in ("compile", "findings", "picture file", "outline file"):
            self.jobs.cancel(key)
        self._end_journal()
        self.release()

    def release(self) -> None:
        """Release the file's lock."""
        if self.lock is not None:
            self.lock.free()
            self.lock = None

    def save(self, path: Path) -> bool:
        """Write the project; False (and `trouble`) when that fails, and nothing is lost."""
        if self.history is None:
            return False
        lock = self.lock
        if lock is None or path != self.path:
            lock = core("lock").FileLock(path)
            owner = lock.take()
            if owner is not None:
                self.trouble.emit(f"“{path.name}” is open in another window ({owner.words()}); choose another name.")
                return False
        try:
            picture = core("draw").thumbnail(self.work.board) if self.work is not None else None
            project = self.history.project
            if self.work is not None and self.work.project is project:
                project = core("workshop").with_cleaned(self.work)
            core("storage").save(project, path, picture)
        except Trouble as trouble:
            if lock is not self.lock:
                lock.free()
            self.trouble.emit(str(trouble))
            return False
        if lock is not self.lock:
            self.release()
            self.lock = lock
        self.path, self.stamp = path, disk_stamp(path)
        self.history.mark_saved()
        self._end_journal()
        self.project_changed.emit(self.history.project)
        return True

    def changed_on_disk(self) -> bool:
        """Whether somebody else wrote the project's file since it was opened or saved here."""
        return self.path is not None and self.path.exists() and disk_stamp(self.path) != self.stamp

    def edit(self, name: str, values: dict[str, Any], merge: str = "", origin: tuple[float, float] | None = None) -> bool:
        """Change the project by a registered edit; places are in the board frame of `origin` (now, unless given)."""
        if self.history is None:
            return False
        try:
            changed = core("workshop").apply_values(self.history.project, name, values, origin or self._frame())
        except Trouble as trouble:
            self.trouble.emit(str(trouble))
            return False
        self._take(changed, core("edits").sentence(name, values), merge)
        return True

    def _frame(self) -> tuple[float, float]:
        return self.work.board.origin if self.work is not None else (0.0, 0.0)

    def _take(self, changed: Project, words: str, merge: str = "") -> None:
        """The project as an edit left it, if it changed anything."""
        assert self.history is not None
        if changed is self.history.project or changed == self.history.project:
            return
        self.history.do(changed, words, merge)
        self._record(words, merge)
        self._changed()

    def bring_picture(self, name: str, data: bytes, replaced: int = 0) -> None:
        """Add a picture to the board, or take it in the place of one. The edit is made in the background: pictures are read
        for it, which takes a while."""
        before, frame = self.project, self._frame()
        file = core("edits").PictureFile(name, data)
        edit, values = ("replace-picture", {"file": file, "picture": replaced}) if replaced else ("add-picture", {"file": file})

        def take(changed: Project) -> None:
            if self.project is before:
                self._take(changed, core("edits").sentence(edit, values))
            else:  # the project went on meanwhile
                self.edit(edit, values)

        run = core("workshop").apply_values
        self.jobs.submit("picture file", lambda cancelled: run(before, edit, values, frame), take, self.trouble.emit)

    def bring_outline(self, name: str, data: bytes) -> None:
        """Cut the board like that of another project or drawing, which is made out in the background first."""
        edits, borrow = core("edits"), core("borrow")
        self.jobs.submit(
            "outline file",
            lambda cancelled: borrow.outline_file(edits.PictureFile(name, data)),
            lambda rings: self.edit("take-outline", {"file": rings}),
            self.trouble.emit,
        )

    def end_drag(self) -> None:
        """The drag is over; the next edit is a step of its own."""
        if self.history is not None:
            self.history.end_merge()

    def undo(self) -> None:
        """One step back."""
        if self.history is not None and self.history.can_undo():
            self.go(self.history.place - 1)

    def redo(self) -> None:
        """One step forward again."""
        if self.history is not None and self.history.can_redo():
            self.go(self.history.place + 1)

    def go(self, place: int) -> None:
        """To any step of the history."""
        if self.history is None or place == self.history.place:
            return
        self.history.go(place)
        self._record(self.history.steps[self.history.place], went=True)
        self._changed()

    # -- the journal --------------------------------------------------------------------------------------------------

    def _record(self, words: str, merge: str = "", went: bool = False) -> None:
        """Every step goes to the journal; once the present is what is on the disk there is nothing to keep."""
        history = self.history
        assert history is not None
        if not history.unsaved:
            self._end_journal()
        elif self._journal is None:
            self._begin_journal()
        else:
            self._journal.record(history.place, words, history.project, self.path, merge, went)

    def _begin_journal(self) -> None:
        assert self.history is not None
        self._journal = core("journal").Journal(journal_folder(), self._journal_failed)
        for at, step in enumerate(self.history.all_steps()):
            self._journal.record(at, step.words, step.project, self.path)
        self._journal.record(self.history.place, "", self.history.project, self.path, went=True)

    def _leave_journal(self) -> None:
        """End the journal and keep it: its work is offered again."""
        if self._journal is not None:
            self._journal.end()
            self._journal = None

    def _end_journal(self) -> None:
        if self._journal is not None:
            self._journal.discard()
            self._journal = None

    def _journal_failed(self, words: str) -> None:
        """Told by the journal's own thread; the signal crosses over."""
        self.trouble.emit(f"Automatic backup failed: {words.rstrip('.')}. Save the project now.")

    def _changed(self) -> None:
        self.project_changed.emit(self.project)
        self._compile()

    def _compile(self) -> None:
        project = self.project

        def run(cancelled: Any) -> Any:
            if self._compiler is None:
                self._compiler = core("workshop").Compiler()
            return self._compiler.compile(project, core("watch").Watch(cancelled, self.progressed.emit, words=_MAKING))

        self.jobs.submit("compile", run, self._compiled, self._not_compiled)

    def _compiled(self, work: Any) -> None:
        self.work = work
        self._forget_left()
        self.work_ready.emit(work)
        self._later.start()

    def _forget_left(self) -> None:
        """What a killed window left behind may go once its board stands and the new journal holds all of it."""
        left, journal = self._left, self._journal
        if left is None or journal is None:
            return
        self._left = None

        def move(cancelled: Any) -> None:
            if journal.flush():
                core("journal").forget(left)

        self.jobs.submit("left", move, lambda _: None, self.trouble.emit)

    def _not_compiled(self, words: str) -> None:
        """No board can be made: the step is taken back. A project that never had one is mended, and opened with that."""
        if self.work is not None:
            self._back_to_made()
            self.trouble.emit(f"{words} Your change was taken back.")
            return
        project = self.project
        if self.path is None and self._left is None and self.history is not None and len(self.history.steps) == 1:
            self.close_project()  # a picture just begun with: it is where it was
            self.trouble.emit(words)
            return

        def mended(found: Any) -> None:
            if self.history is None or self.project is not project:
                return
            changed, what = found
            self.history.do(changed, what)
            self._record(what)
            self._changed()
            self.trouble.emit(f"{words} {what}.")

        def hopeless(_: str) -> None:
            # Nothing is let go of: journal and file stay as they are.
            self._leave_journal()
            self.close_project()
            self.trouble.emit(words)

        self.jobs.submit("compile", lambda cancelled: core("rescue").makeable(project), mended, hopeless)

    def made(self, project: Project, cancelled: Any) -> Any:
        """The work of exactly that project, for a worker: the board on the bench may be of a step before it."""
        if self._compiler is None:
            self._compiler = core("workshop").Compiler()
        return self._compiler.compile(project, core("watch").Watch(cancelled, lambda *_: None))

    def _find(self) -> None:
        work = self.work
        if work is not None:
            self.jobs.submit("findings", lambda cancelled: self._compiler.findings(work), self._found, self.trouble.emit)
            self._picture(work)

    def _picture(self, work: Any) -> None:
        """Now and then the journal gets a picture of the board, to be known by."""
        journal = self._journal
        if journal is None or time.monotonic() - self._pictured < _PICTURE_EVERY_S:
            return
        self._pictured = time.monotonic()
        self.jobs.submit(
            "journal", lambda cancelled: journal.show(core("draw").thumbnail(work.board)), lambda _: None, self.trouble.emit
        )

    def _found(self, findings: tuple[Any, ...]) -> None:
        self.findings = findings
        self.findings_ready.emit(findings)
