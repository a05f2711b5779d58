"""Who has a project open: a small file beside it, held by the kernel for as long as its owner lives."""

from __future__ import annotations

import contextlib
import fcntl
import getpass
import json
import os
import socket
import time
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


class FileLock:
    """The lock of one project file. `take` gets it or says who has it; it ends with `free` or with the process."""

    def __init__(self, path: Path) -> None:
        self.path = path.with_name(f".{path.name}.open")
        self._handle: int | None = None

    @property
    def held(self) -> bool:
        """Whether this object holds it."""
        return self._handle is not None

    def take(self, by_force: bool = False) -> Owner | None:
        """Take it: None when it is ours now, or who has it. Where no lock can be written there is none to mind."""
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
        other = _read(handle)
        if not by_force and other.host and other.host != socket.gethostname() and time.time() - other.since < _FOREIGN_LASTS_S:
            os.close(handle)  # another machine on a shared folder: its kernel is not ours to ask
            return other
        os.ftruncate(handle, 0)
        text = {"user": _user(), "host": socket.gethostname(), "pid": os.getpid(), "since": time.time()}
        os.pwrite(handle, json.dumps(text).encode(), 0)
        self._handle = handle
        return None

    def free(self) -> None:
        """Let go of it."""
        if self._handle is not None:
            with contextlib.suppress(OSError):
                self.path.unlink()
            os.close(self._handle)
            self._handle = None


def held_by(path: Path) -> Owner | None:
    """Who has a project open at this moment, without taking it."""
    lock = FileLock(path)
    if not lock.path.exists():
        return None
    owner = lock.take()
    lock.free()
    return owner


def _user() -> str:
    try:
        return getpass.getuser()
    except (OSError, KeyError):
        return str(os.getuid())


def _read(handle: int) -> Owner:
    try:
        text = json.loads(os.pread(handle, 4096, 0))
        return Owner(str(text["user"]), str(text["host"]), int(text["pid"]), float(text["since"]))
    except (OSError, ValueError, KeyError, TypeError):
        return Owner("another window", "", 0, time.time())
