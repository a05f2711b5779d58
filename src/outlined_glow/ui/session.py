"""The open project: its history, its board made in the background, and the events views listen to."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ..core.errors import Trouble
from .core_door import core
from .jobs import Jobs

if TYPE_CHECKING:
    from ..core.project.history import History
    from ..core.project.model import Project

_FINDINGS_AFTER_MS = 250


class Session(QObject):
    """Holds at most one project. Every change goes through `edit`, as on the command line."""

    project_changed = pyqtSignal(object)  # Project
    work_ready = pyqtSignal(object)  # Work
    findings_ready = pyqtSignal(object)  # tuple[Finding, ...]
    trouble = pyqtSignal(str)
    closed = pyqtSignal()

    def __init__(self, jobs: Jobs) -> None:
        super().__init__()
        self.jobs = jobs
        self.history: History | None = None
        self.path: Path | None = None
        self.work: Any = None
        self.findings: tuple[Any, ...] | None = None
        self._compiler: Any = None
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
        """Take up a project; a fresh one is on no disk yet. What was under way for the last one is given up."""
        self._give_up()
        self.history = core("history").History(project)
        if fresh:
            self.history.mark_unsaved()
        self.path = path
        self.work, self.findings = None, None
        self.project_changed.emit(project)
        self._compile()

    def open_file(self, path: Path) -> None:
        """Open a project file or begin a project from a picture, in the background."""

        def read(cancelled: Any) -> tuple[Project, Path | None]:
            if path.suffix.lower() == ".oglow":
                return core("storage").load(path), path
            return core("start").picture_project(path), None

        self.jobs.submit("open", read, lambda got: self.open_project(*got, fresh=got[1] is None), self.trouble.emit)

    def open_picture(self, path: Path, width_mm: float | None) -> None:
        """Begin a project from a picture of that painted width."""

        def read(cancelled: Any) -> Project:
            return core("start").picture_project(path, width_mm)  # type: ignore[no-any-return]

        self.jobs.submit("open", read, lambda project: self.open_project(project, None, fresh=True), self.trouble.emit)

    def open_demo(self, name: str) -> None:
        """Begin from a demo."""
        self.jobs.submit(
            "open",
            lambda cancelled: core("demos").demo_project(name),
            lambda project: self.open_project(project, None),
            self.trouble.emit,
        )

    def close_project(self) -> None:
        """Put the project away."""
        self._give_up()
        self.jobs.cancel("open")
        self.history, self.path, self.work, self.findings = None, None, None, None
        self.closed.emit()

    def _give_up(self) -> None:
        self._later.stop()
        for key in ("compile", "findings"):
            self.jobs.cancel(key)

    def save(self, path: Path) -> bool:
        """Write the project; False (and `trouble`) when that fails, and nothing is lost."""
        if self.history is None:
            return False
        try:
            picture = core("draw").thumbnail(self.work.board) if self.work is not None else None
            core("storage").save(self.history.project, path, picture)
        except Trouble as trouble:
            self.trouble.emit(str(trouble))
            return False
        self.path = path
        self.history.mark_saved()
        self.project_changed.emit(self.history.project)
        return True

    def edit(self, name: str, values: dict[str, Any], merge: str = "", origin: tuple[float, float] | None = None) -> bool:
        """Change the project by a registered edit; places are in the board frame of `origin` (now, unless given)."""
        if self.history is None:
            return False
        frame = origin or (self.work.board.origin if self.work is not None else (0.0, 0.0))
        try:
            changed = core("workshop").apply_values(self.history.project, name, values, frame)
        except Trouble as trouble:
            self.trouble.emit(str(trouble))
            return False
        if changed is self.history.project or changed == self.history.project:
            return True
        self.history.do(changed, core("edits").sentence(name, values), merge)
        self._changed()
        return True

    def end_drag(self) -> None:
        """The drag is over; the next edit is a step of its own."""
        if self.history is not None:
            self.history.end_merge()

    def undo(self) -> None:
        """One step back."""
        if self.history is not None and self.history.can_undo():
            self.history.undo()
            self._changed()

    def redo(self) -> None:
        """One step forward again."""
        if self.history is not None and self.history.can_redo():
            self.history.redo()
            self._changed()

    def _changed(self) -> None:
        self.project_changed.emit(self.project)
        self._compile()

    def _compile(self) -> None:
        project = self.project

        def run(cancelled: Any) -> Any:
            if self._compiler is None:
                self._compiler = core("workshop").Compiler()
            return self._compiler.compile(project, cancelled)

        self.jobs.submit("compile", run, self._compiled, self._not_compiled)

    def _compiled(self, work: Any) -> None:
        self.work = work
        self.work_ready.emit(work)
        self._later.start()

    def _not_compiled(self, words: str) -> None:
        """No board: what lay on the bench stays there; a project that never had one is put away again."""
        if self.work is None:
            self.close_project()
        self.trouble.emit(words)

    def _find(self) -> None:
        work = self.work
        if work is not None:
            self.jobs.submit("findings", lambda cancelled: self._compiler.findings(work), self._found, self.trouble.emit)

    def _found(self, findings: tuple[Any, ...]) -> None:
        self.findings = findings
        self.findings_ready.emit(findings)
