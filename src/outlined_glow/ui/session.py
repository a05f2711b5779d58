"""The open project: its history, its board made in the background, and the events views listen to."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from ..core.errors import Trouble
from .backup import Backup
from .core_door import core
from .jobs import Jobs, meanwhile
from .making import Making
from .opening import Opening, disk_stamp
from .window_first import window_first

if TYPE_CHECKING:
    from ..core.project.history import History
    from ..core.project.journal import Left
    from ..core.project.lock import FileLock
    from ..core.project.model import Design, Project


class Session(QObject):
    """Holds at most one project. Every change goes through `edit`, as on the command line."""

    project_changed = pyqtSignal(object)  # Project
    work_ready = pyqtSignal(object)  # Work
    findings_ready = pyqtSignal(object)  # tuple[Finding, ...]
    trouble = pyqtSignal(str)
    said = pyqtSignal(str)  # good news, for a moment
    closed = pyqtSignal()
    stopped = pyqtSignal()  # an opening was given up
    boards_changed = pyqtSignal()  # which boards there are, or which of them is in view

    def __init__(self, jobs: Jobs) -> None:
        super().__init__()
        self.jobs = jobs
        self.history: History | None = None
        self.path: Path | None = None
        self.work: Any = None
        self.findings: tuple[Any, ...] | None = None
        self.lock: FileLock | None = None
        self.opening = Opening(jobs)
        self.opening.failed.connect(self.trouble.emit)
        self.stamp: tuple[int, ...] | None = None
        #: The name of the board in view.
        self.board = ""
        self._places: tuple[str, ...] = ()
        #: An edit with places of a board that is on its way to the bench.
        self._awaited: tuple[str, dict[str, Any]] | None = None
        self.making = Making(jobs)
        self.making.found.connect(self._found)
        self.making.failed.connect(self.trouble.emit)
        self.backup = Backup(jobs)
        self.backup.failed.connect(self.trouble.emit)

    @property
    def project(self) -> Project | None:
        """The project now, if one is open."""
        return self.history.project if self.history else None

    @property
    def design(self) -> Design | None:
        """The board in view, as it is in the project now."""
        project = self.project
        if project is None:
            return None
        return next((one for one in project.designs if one.name == self.board), project.designs[0])

    @property
    def boards(self) -> tuple[str, ...]:
        """The names of the project's boards."""
        return tuple(one.name for one in self.project.designs) if self.project is not None else ()

    def show_board(self, name: str) -> None:
        """Bring another board of the project to the bench."""
        if name in self.boards and name != self.board:
            self.board = name
            self.boards_changed.emit()
            self._compile()

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
        self._keep_in_view()
        self.project_changed.emit(history.project)
        self._compile()

    def open_file(self, path: Path, lock: FileLock | None = None) -> None:
        """Open a project file in the background; without its lock, as a copy that is on no disk yet."""

        def taken(project: Project) -> None:
            if lock is None:
                self.open_project(core("storage").copy_of(project), None, fresh=True)
            else:
                self._take_up(core("history").History(project), path, lock)

        self.opening.read(lambda: core("storage").load(path), taken, lock)

    def open_picture(self, path: Path, width_mm: float | None) -> None:
        """Begin a project from a picture of that painted width."""
        self.opening.read(
            lambda: core("start").picture_project(path, width_mm),
            lambda project: self.open_project(project, None, fresh=True),
        )

    def open_bytes(self, name: str, data: bytes, width_mm: float | None) -> None:
        """Begin a project from a picture that is in no file."""
        self.opening.read(
            lambda: core("start").new_project(data, name, width_mm=width_mm),
            lambda project: self.open_project(project, None, fresh=True),
        )

    def open_left(self, left: Left, lock: FileLock | None) -> None:
        """Restore what a killed window left behind, with its whole history."""

        def taken(history: History) -> None:
            self._take_up(history, left.saved_as if lock is not None else None, lock)
            self.backup.left = left
            self.backup.begin(history, self.path)

        self.opening.read(lambda: core("journal").recover(left), taken, lock)

    def open_demo(self, name: str) -> None:
        """Begin from a demo."""
        self.opening.read(lambda: core("demos").demo_project(name), lambda project: self.open_project(project, None))

    def stop(self) -> None:
        """Give up what is under way: the opening of a file, or the step whose board is not made yet."""
        if self.opening.under_way:
            self.opening.give_up()
            self.stopped.emit()
        elif self.jobs.waiting("picture file") or self.jobs.waiting("outline file"):
            self.jobs.cancel("picture file")
            self.jobs.cancel("outline file")
        elif self.jobs.waiting("film out"):
            self.jobs.cancel("film out")
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
        self.opening.give_up()
        self._put_away()
        self.history, self.path, self.work, self.findings = None, None, None, None
        self.closed.emit()

    def _put_away(self) -> None:
        self.backup.left = None
        self.making.stop()
        for key in ("picture file", "outline file"):
            self.jobs.cancel(key)
        self.backup.discard()
        self.release()

    def release(self) -> None:
        """Release the file's lock."""
        if self.lock is not None:
            self.lock.free_later()
            self.lock = None

    def save(self, path: Path) -> bool:
        """Write the project; False (and `trouble`) when that fails, and nothing is lost."""
        history, work, lock = self.history, self.work, self.lock
        if history is None:
            return False
        if lock is None or path != self.path:
            lock = core("lock").FileLock(path)
            owner = meanwhile(lock.take)
            if owner is not None:
                self.trouble.emit(f"“{path.name}” is open in another window ({owner.words()}); choose another name.")
                return False
        project = history.project

        def write() -> None:
            picture = core("draw").thumbnail(work.board) if work is not None else None
            kept = core("workshop").with_kept(project, (work,)) if work is not None and work.project is project else project
            core("storage").save(kept, path, picture)

        try:
            meanwhile(write)
        except Trouble as trouble:
            if lock is not self.lock:
                lock.free()
            self.trouble.emit(str(trouble))
            return False
        if lock is not self.lock:
            self.release()
            self.lock = lock
        self.path, self.stamp = path, disk_stamp(path)
        if history.project is project:  # nothing came between
            history.mark_saved()
            self.backup.discard()
        self.project_changed.emit(history.project)
        return True

    def changed_on_disk(self) -> bool:
        """Whether somebody else wrote the project's file since it was opened or saved here."""
        return self.path is not None and self.path.exists() and disk_stamp(self.path) != self.stamp

    def edit(self, name: str, values: dict[str, Any], merge: str = "", origin: tuple[float, float] | None = None) -> bool:
        """Change the project by a registered edit; places are in the board frame of `origin` (now, unless given).

        What an edit of one board changes is the board in view, unless the values name another.
        """
        if self.history is None:
            return False
        values = self._addressed(name, values)
        if self._elsewhere(name, values):
            self._awaited = (name, values)
            self.show_board(values[core("edits").BOARD])
            return True
        try:
            here = self.work is not None and self.work.project is self.history.project
            works = (self.work,) if here else ()
            changed = core("workshop").apply_numbered(self.history.project, works, name, values, origin or self._frame())
        except Trouble as trouble:
            self.trouble.emit(str(trouble))
            return False
        self.take(changed, core("edits").sentence(name, values), merge)
        return True

    def edit_all(self, steps: Sequence[tuple[str, dict[str, Any]]], words: str) -> None:
        """Several edits of the board in view as one step of that name; places are in the picture frame."""
        project = self.project
        if project is None:
            return
        here = (self.work,) if self.work is not None and self.work.project is project else ()
        try:
            for name, values in steps:
                project = core("workshop").apply_numbered(project, here, name, self._addressed(name, values), (0.0, 0.0))
        except Trouble as trouble:
            self.trouble.emit(str(trouble))
            return
        self.take(project, words)

    def _addressed(self, name: str, values: dict[str, Any]) -> dict[str, Any]:
        """The values of an edit with the board it is about, where there are several."""
        one, design = core("edits").find_edit(name), self.design
        if design is None or len(self.boards) == 1 or core("edits").BOARD in values:
            return values
        own_stack = name == "set-stack" and design.stack is not None
        return {**values, core("edits").BOARD: design.name} if one.of_board or own_stack else values

    def about(self, name: str, values: dict[str, Any]) -> tuple[dict[str, Any], tuple[float, float]]:
        """The values of an edit of the board in view, and the origin of that board's frame, for an edit that is made later."""
        return self._addressed(name, values), self._frame()

    def _elsewhere(self, name: str, values: dict[str, Any]) -> bool:
        """Whether an edit gives places of a board that is not in view: it is made once that lies on the bench."""
        edits = core("edits")
        board, params = values.get(edits.BOARD), edits.find_edit(name).params
        placed = any(params[key].axis for key in values if key in params)
        return placed and board in self.boards and (self.work is None or board != self.work.design.name)

    def _frame(self) -> tuple[float, float]:
        return self.work.board.origin if self.work is not None else (0.0, 0.0)

    def take(self, changed: Project, words: str, merge: str = "") -> None:
        """The project as an edit left it, if it changed anything."""
        assert self.history is not None
        if changed is self.history.project or changed == self.history.project:
            return
        self.history.do(changed, words, merge)
        self._record(words, merge)
        self._changed()

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

    def _record(self, words: str, merge: str = "", went: bool = False) -> None:
        assert self.history is not None
        self.backup.record(self.history, self.path, words, merge, went)

    def _changed(self) -> None:
        window_first()
        self._keep_in_view()
        self.project_changed.emit(self.project)
        self._compile()

    def _keep_in_view(self) -> None:
        """The board in view stays so by its name; where it is gone, the one in its place takes its turn."""
        names = self.boards
        if self.board not in names:
            at = self._places.index(self.board) if self.board in self._places else 0
            self.board = names[min(at, len(names) - 1)]
        if names != self._places:
            self._places = names
            self.boards_changed.emit()

    def go_on(self) -> None:
        """Go on with a board whose making somebody stopped, with what there was."""
        if self.project is not None:
            self.making.go_on()
            self._compile()

    def _compile(self) -> None:
        assert self.project is not None
        self.making.make(self.project, self.board, self._compiled, self._not_compiled)

    def _compiled(self, work: Any) -> None:
        self.work = work
        self.work_ready.emit(work)
        self.backup.board_made(work)
        self.making.look_over_soon(work)
        if self._awaited is not None:
            (name, values), self._awaited = self._awaited, None
            if values[core("edits").BOARD] == work.design.name:
                self.edit(name, values)

    def _not_compiled(self, words: str) -> None:
        """No board can be made: the step is taken back. A project that never had one is mended, and opened with that."""
        if self.work is not None and self.work.project is self.project and self.work.design.name in self.boards:
            self.board = self.work.design.name  # another board was asked for: this one stays in view
            self.boards_changed.emit()
            self.trouble.emit(words)
            return
        if self.work is not None:
            self._back_to_made()
            self.trouble.emit(f"{words} Your change was taken back.")
            return
        project = self.project
        if self.path is None and self.backup.left is None and self.history is not None and len(self.history.steps) == 1:
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
            self.backup.leave()
            self.close_project()
            self.trouble.emit(words)

        self.jobs.submit("compile", lambda cancelled: core("rescue").makeable(project), mended, hopeless)

    def _found(self, findings: tuple[Any, ...]) -> None:
        self.findings = findings
        self.findings_ready.emit(findings)
