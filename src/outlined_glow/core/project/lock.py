"""Who has a project open: a small file beside it, held by the kernel for as long as its owner lives."""

from __future__ import annotations

import contextlib
import fcntl
import getpass
import json
import os
import socket
import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

_FOREIGN_LASTS_S = 7 * 86400


@dataclass(frozen=True)
class Owner:
    """Who holds a lock: user, machine, process, and since when (seconds since 1970)."""

    user: str
    host: str
    pid: int
    since: float
    command: bool = False

    @property
    def unsaid(self) -> bool:
        """Whether it has just taken the lock, and not written yet who it is."""
        return self.pid == 0

    def words(self, now: float | None = None) -> str:
        """For a sentence: who, and for how long."""
        where = "" if self.host == socket.gethostname() else f" on {self.host}"
        return f"{self.user}{where}, for {age(self.since, now)}"


def age(since: float, now: float | None = None) -> str:
    """How long that is, as people say it."""
    seconds = max(0.0, (time.time() if now is None else now) - since)
    for size, word in ((86400, "day"), (3600, "hour"), (60, "minute")):
        count = int(seconds // size)
        if count:
            return f"{count} {word}{'s' if count > 1 else ''}"
    return "a moment"


#: Locks that are let go beside the window, by their file: a disk may take its time.
_LEAVING: dict[Path, threading.Thread] = {}


class FileLock:
    """The lock of one project file. `take` gets it or says who has it; it ends with `free` or with the process."""

    def __init__(self, path: Path) -> None:
        self.path = path.with_name(f".{path.name}.open")
        self._handle: int | None = None

    @property
    def held(self) -> bool:
        """Whether this object holds it."""
        return self._handle is not None

    def take(self, by_force: bool = False, command: bool = False) -> Owner | None:
        """Take it: None when it is ours now, or who has it. Where no lock can be written there is none to mind.

        A `command` holds it only for as long as it runs.
        """
        leaving = _LEAVING.pop(self.path, None)
        if leaving is not None:
            leaving.join()
        try:
            handle = os.open(self.path, os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW, 0o644)
        except OSError:
            return None
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            owner = _read(handle)
            os.close(handle)
            return owner
        if not _still_named(handle, self.path):
            os.close(handle)  # its last owner took the file away meanwhile: the one there now counts
            return self.take(by_force, command)
        other = _read(handle)
        if not by_force and other.host and other.host != socket.gethostname() and time.time() - other.since < _FOREIGN_LASTS_S:
            os.close(handle)  # another machine on a shared folder: its kernel is not ours to ask
            return other
        os.ftruncate(handle, 0)
        text = {"user": _user(), "host": socket.gethostname(), "pid": os.getpid(), "since": time.time(), "command": command}
        os.pwrite(handle, json.dumps(text).encode(), 0)
        self._handle = handle
        return None

    def free_later(self) -> None:
        """Release it on a thread of its own."""
        leaving = _LEAVING[self.path] = threading.Thread(target=self.free, name="lock let go")
        leaving.start()

    def free(self) -> None:
        """Release it."""
        if self._handle is not None:
            with contextlib.suppress(OSError):
                self.path.unlink()
            os.close(self._handle)
            self._handle = None


@contextlib.contextmanager
def held(path: Path, wait_s: float = 120.0) -> Iterator[Owner | None]:
    """Hold a project file for a command: other commands are waited for, so that none undoes another. Gives who has it
    instead if that is a window, or takes too long."""
    lock = FileLock(path)
    end = time.monotonic() + wait_s
    owner = lock.take(command=True)
    while owner is not None and (owner.command or owner.unsaid) and time.monotonic() < end:
        time.sleep(0.05)
        owner = lock.take(command=True)
    try:
        yield owner
    finally:
        lock.free()


def _still_named(handle: int, path: Path) -> bool:
    try:
        here, there = os.fstat(handle), os.stat(path)
    except OSError:
        return False
    return (here.st_dev, here.st_ino) == (there.st_dev, there.st_ino)


def _user() -> str:
    try:
        return getpass.getuser()
    except (OSError, KeyError):
        return str(os.getuid())


def _read(handle: int) -> Owner:
    try:
        text = json.loads(os.pread(handle, 4096, 0))
        since, command = float(text["since"]), bool(text.get("command"))
        return Owner(str(text["user"]), str(text["host"]), int(text["pid"]), since, command)
    except (OSError, ValueError, KeyError, TypeError):
        return Owner("another window", "", 0, time.time())
