"""Undo and redo: keeping the previous values."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .model import Project


@dataclass(frozen=True)
class Step:
    """A project and the words for how it came to be."""

    project: Project
    words: str
    merge: str = ""


class History:
    """The values a project went through. A drag is one step: edits with the same `merge` key join."""

    def __init__(self, project: Project) -> None:
        self._steps = [Step(project, "opened")]
        self._place = 0
        self._saved: Project | None = project

    @classmethod
    def of(cls, steps: Sequence[Step], place: int) -> History:
        """A restored history; nothing of it counts as saved."""
        one = cls(steps[0].project)
        one._steps = list(steps)
        one._place = place
        one._saved = None
        return one

    @property
    def project(self) -> Project:
        """The project now."""
        return self._steps[self._place].project

    @property
    def steps(self) -> tuple[str, ...]:
        """Every step in words, the undone ones too."""
        return tuple(step.words for step in self._steps)

    def all_steps(self) -> tuple[Step, ...]:
        """Every step with its project."""
        return tuple(self._steps)

    @property
    def place(self) -> int:
        """Which of the steps is the present one."""
        return self._place

    def do(self, project: Project, words: str, merge: str = "") -> None:
        """Record a new value; what had been undone is forgotten."""
        if project is self.project:
            return
        del self._steps[self._place + 1 :]
        # What was saved stays a step of its own: a drag that goes on after it begins another.
        if merge and self._place > 0 and self._steps[-1].merge == merge and self.project is not self._saved:
            self._steps[-1] = Step(project, words, merge)
            return
        self._steps.append(Step(project, words, merge))
        self._place += 1

    def end_merge(self) -> None:
        """The drag is over: the next edit is a step of its own."""
        last = self._steps[self._place]
        self._steps[self._place] = Step(last.project, last.words)

    def can_undo(self) -> bool:
        """Whether there is something to take back."""
        return self._place > 0

    def can_redo(self) -> bool:
        """Whether there is something to do again."""
        return self._place < len(self._steps) - 1

    def undo(self) -> Project:
        """One step back."""
        self._place = max(0, self._place - 1)
        return self.project

    def redo(self) -> Project:
        """One step forward again."""
        self._place = min(len(self._steps) - 1, self._place + 1)
        return self.project

    def go(self, place: int) -> Project:
        """To any step, earlier or later."""
        self._place = min(max(0, place), len(self._steps) - 1)
        return self.project

    def mark_saved(self) -> None:
        """The present value is the one on disk."""
        self._saved = self.project

    def mark_unsaved(self) -> None:
        """The present value is on no disk yet."""
        self._saved = None

    @property
    def saved_place(self) -> int | None:
        """Which step is on disk, if one of them is."""
        return next((at for at, step in enumerate(self._steps) if step.project is self._saved), None)

    @property
    def unsaved(self) -> bool:
        """Whether the present value differs from the one on disk."""
        return self.project is not self._saved
