"""Files read while the window goes on: projects in the background, to be opened, and what somebody chose for one."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QWidget

from ..core.errors import Trouble
from .core_door import core
from .jobs import Jobs, meanwhile

if TYPE_CHECKING:
    from ..core.project.lock import FileLock


def disk_stamp(path: Path | None) -> tuple[int, ...] | None:
    """What tells one version of a file on the disk from another."""
    try:
        found = path.stat() if path is not None else None
    except OSError:
        return None
    return None if found is None else (found.st_mtime_ns, found.st_size, found.st_ino)


def read_bytes(path: Path) -> bytes:
    """The bytes of a file that somebody chose, or `Trouble`: the window paints meanwhile, for its disk may take its time."""
    read: Callable[[Path], bytes] = core("param").read_bytes
    return meanwhile(lambda: read(path))


class Opening(QObject):
    """At most one project is on its way. Its file is held; the lock is released if reading fails or is given up."""

    failed = pyqtSignal(str)

    def __init__(self, jobs: Jobs) -> None:
        super().__init__()
        self._jobs = jobs
        self._lock: FileLock | None = None

    @property
    def under_way(self) -> bool:
        """Whether something is being read."""
        return self._jobs.waiting("open")

    def read(self, read: Callable[[], Any], taken: Callable[[Any], None], lock: FileLock | None = None) -> None:
        """Read in the background, then hand over; what was on its way before is given up."""

        def done(result: Any) -> None:
            self._lock = None
            taken(result)

        def refused(words: str) -> None:
            self.give_up()
            self.failed.emit(words)

        self.give_up()
        self._lock = lock
        self._jobs.submit("open", lambda cancelled: read(), done, refused)

    def give_up(self) -> None:
        """No longer wanted."""
        self._jobs.cancel("open")
        if self._lock is not None:
            self._lock.free_later()
            self._lock = None


def named_file(path: Path, trouble: Callable[[str], object]) -> Any:
    """A file with its name, for an edit that brings one; None where it cannot be read, which is told."""
    try:
        return core("param").PictureFile(path.name, read_bytes(path))
    except Trouble as error:
        trouble(str(error))
        return None


def chosen_file(host: QWidget, title: str, kinds: str, trouble: Callable[[str], object]) -> Any:
    """The same for the file that somebody chooses; None where none is."""
    name, _ = QFileDialog.getOpenFileName(host, title, "", kinds)
    return named_file(Path(name), trouble) if name else None


def chosen_files(host: QWidget, title: str, kinds: str, trouble: Callable[[str], object]) -> tuple[Any, ...]:
    """The same for several files, in the order of the numbers in their names; none where one cannot be read."""
    names, _ = QFileDialog.getOpenFileNames(host, title, "", kinds)
    files = [named_file(Path(name), trouble) for name in sorted(names, key=core("param").in_order)]
    return () if None in files else tuple(files)
