"""The journal: every edit of an open project, on the disk within half a second, for the day the program is killed.

A journal is a folder: `owner` (held by the kernel while its window lives), `pictures/` (by checksum), `picture.png` (how
the board looked) and `steps.jsonl`, a line for each step: its place in the history, its words, and the project as it was
then. A line without a project only says that one went to that place (undo, redo).
"""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import json
import logging
import os
import shutil
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from ..errors import Trouble
from .atomic import atomic_write
from .history import History, Step
from .model import Project
from .storage import content_of, load, project_of

_PAUSE_S = 0.3
#: How soon a write that failed is tried again.
_AGAIN_S = 1.0
_MOST_BYTES = 64_000_000


@dataclass(frozen=True)
class _Line:
    """What the writer is to put down."""

    place: int
    words: str
    project: Project
    merge: str
    saved_as: str
    went: bool = False


class Journal:
    """Writes one. `record` only hands over; a thread of its own writes, and `failed` hears if it cannot."""

    def __init__(self, root: Path, failed: Callable[[str], None] = lambda words: None) -> None:
        self.folder = root / f"{time.time_ns():x}-{os.getpid():x}"
        self._failed = failed
        self._told = False
        self._waiting: list[_Line] = []
        self._wake = threading.Condition()
        self._ended = False
        self._busy = False
        self._pictures: set[str] = set()
        self._size = 0
        self._shortened = False
        self._owner: int | None = None
        self._thread = threading.Thread(target=self._work, name="journal", daemon=True)
        self._thread.start()

    def record(
        self, place: int, words: str, project: Project, saved_as: Path | None, merge: str = "", went: bool = False
    ) -> None:
        """A step was made, or `went` to (undo, redo). Steps of one drag replace one another."""
        line = _Line(place, words, project, merge, str(saved_as or ""), went)
        with self._wake:
            last = self._waiting[-1] if self._waiting else None
            if last is not None and merge and last.merge == merge and last.place == place:
                self._waiting.pop()
            self._waiting.append(line)
            self._wake.notify()

    def show(self, picture: bytes) -> None:
        """Keep a picture (PNG) of the board beside the steps."""
        with contextlib.suppress(Trouble):
            if self.folder.is_dir():
                atomic_write(self.folder / "picture.png", picture)

    def flush(self, seconds: float = 5.0) -> bool:
        """Wait until everything handed over is on the disk; False if it is not by then."""
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            with self._wake:
                if not self._waiting and not self._busy:
                    return True
            time.sleep(0.005)
        return False

    def discard(self) -> None:
        """The work is safe or let go on purpose: end, and leave nothing behind."""
        with self._wake:
            self._waiting.clear()
        self.end()
        shutil.rmtree(self.folder, ignore_errors=True)

    def end(self) -> None:
        """Write what waits and stop, keeping the journal."""
        with self._wake:
            self._ended = True
            self._wake.notify()
        self._thread.join()
        if self._owner is not None:
            os.close(self._owner)
            self._owner = None

    def _work(self) -> None:
        while True:
            with self._wake:
                while not self._waiting and not self._ended:
                    self._wake.wait()
                lines, self._waiting = self._waiting, []
                self._busy = bool(lines)
                if not lines:
                    return
            failed = self._try(lines)
            with self._wake:
                self._busy = False
                if failed and not self._ended:
                    # What could not be written waits for room: the next try writes it, and all that came since.
                    self._waiting[:0] = lines
                if failed and self._ended:
                    return
                if not self._ended:
                    self._wake.wait_for(lambda: self._ended, _AGAIN_S if failed else _PAUSE_S)

    def _try(self, lines: list[_Line]) -> bool:
        """Write lines; whether that failed, which is told once until it succeeds again."""
        words = ""
        try:
            self._write(lines)
        except (OSError, Trouble) as error:
            words = str(error) if isinstance(error, Trouble) else str(error.strerror)
        except Exception as error:  # the thread must live: whatever it is, the work is told to be in danger
            logging.getLogger(__name__).error("the journal cannot be written", exc_info=error)
            words = "an error inside the program"
        if words and not self._told:
            self._failed(words)
        self._told = bool(words)
        return bool(words)

    def _write(self, lines: list[_Line]) -> None:
        if self._owner is None:
            (self.folder / "pictures").mkdir(parents=True, exist_ok=True)
            self._owner = os.open(self.folder / "owner", os.O_RDWR | os.O_CREAT, 0o600)
            fcntl.flock(self._owner, fcntl.LOCK_EX | fcntl.LOCK_NB)
        text = b"".join(self._text(line) for line in lines)
        steps = self.folder / "steps.jsonl"
        if self._size + len(text) > _MOST_BYTES:
            # Begun anew with the present alone: places no longer agree with the history, so every line carries a project.
            self._shortened = True
            opened = self._text(replace(lines[0], words="opened", went=False))
            text = opened + self._text(replace(lines[-1], went=False))
            atomic_write(steps, text)
            self._size = len(text)
            return
        handle = os.open(steps, os.O_WRONLY | os.O_CREAT, 0o600)
        try:
            # What a failure left of a line goes first: a torn line would hide those after it.
            os.ftruncate(handle, self._size)
            done = 0
            while done < len(text):
                done += os.pwrite(handle, text[done:], self._size + done)
            os.fsync(handle)
        finally:
            os.close(handle)
        self._size += len(text)

    def _text(self, line: _Line) -> bytes:
        content: dict[str, Any] = {"place": line.place, "words": line.words, "saved_as": line.saved_as}
        if not line.went or self._shortened:
            content["project"] = content_of(line.project)
            content["pictures"] = {name: self._keep(data) for name, data in line.project.members.items()}
        return json.dumps(content, ensure_ascii=True, allow_nan=False).encode() + b"\n"

    def _keep(self, data: bytes) -> str:
        name = hashlib.sha256(data).hexdigest()
        if name not in self._pictures:
            atomic_write(self.folder / "pictures" / name, data)
            self._pictures.add(name)
        return name


@dataclass(frozen=True)
class Left:
    """A journal that outlived its window."""

    folder: Path
    name: str
    words: str
    steps: int
    written: float
    saved_as: Path | None
    picture: bytes | None


def left_behind(root: Path) -> list[Left]:
    """The journals whose windows ended without a word, the latest first.

    Only those are cleared away that could be read to their end and hold no step.
    """
    found = []
    for folder in sorted(root.iterdir()) if root.is_dir() else []:
        try:
            if not _is_dead(folder):
                continue
            one = _look(folder)
        except OSError:
            continue  # cannot be read at the moment: it stays
        if one is None:
            shutil.rmtree(folder, ignore_errors=True)
        else:
            found.append(one)
    return sorted(found, key=lambda one: -one.written)


def recover(left: Left) -> History:
    """The history that a journal holds; lines that are damaged are passed over. `Trouble` if there is none."""
    steps: list[Step] = []
    place = 0
    pictures: dict[str, bytes] = {}
    try:
        lines = list(_lines(left.folder / "steps.jsonl"))
    except OSError as error:
        why = f"cannot be read ({error.strerror})"
        raise Trouble(f"The unsaved work on “{left.name}” {why}. It stays in “{left.folder}”.") from error
    for line in lines:
        if line is None:
            continue
        try:
            at = int(line["place"])
            if "project" in line:
                members = {name: _picture(left, str(key), name, pictures) for name, key in line["pictures"].items()}
                at = min(max(0, at), len(steps))
                steps[at:] = [Step(project_of(line["project"], members), str(line["words"]))]
            place = at
        except (ValueError, KeyError, TypeError, AttributeError, OSError, Trouble):
            continue
    if not steps:
        raise Trouble(f"The unsaved work on “{left.name}” is damaged and cannot be restored. It stays in “{left.folder}”.")
    return History.of(steps, min(max(0, place), len(steps) - 1))


def forget(left: Left) -> None:
    """Clear a journal away."""
    shutil.rmtree(left.folder, ignore_errors=True)


def _is_dead(folder: Path) -> bool:
    try:
        handle = os.open(folder / "owner", os.O_RDWR)
    except OSError:
        # Between making its folder and its owner file a window is alive but cannot show it.
        return folder.is_dir() and time.time() - folder.stat().st_mtime > 60
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return False
    finally:
        os.close(handle)
    return True


def _look(folder: Path) -> Left | None:
    """What a journal holds; None only where it was read to its end and holds no step. OSError if it cannot be read."""
    steps = folder / "steps.jsonl"
    lines = list(_lines(steps)) if steps.exists() else []
    named = [line for line in lines if line is not None and isinstance(line.get("project"), dict)]
    whole = all(line is not None for line in lines)
    if len(named) < 2 and whole:  # the first is how the project was when it was opened
        return None
    last = named[-1] if named else {}
    saved_as = str(last.get("saved_as", ""))
    picture = folder / "picture.png"
    return Left(
        folder,
        str(last["project"].get("name", "untitled")) if named else folder.name,
        str(last.get("words", "")) if named else "damaged",
        max(0, len(named) - 1),
        steps.stat().st_mtime,
        Path(saved_as) if saved_as else None,
        picture.read_bytes() if picture.is_file() else None,
    )


def _lines(path: Path) -> Iterator[dict[str, Any] | None]:
    """Every line; None for one that is damaged. The kill may have torn the last one, which counts as never written."""
    with path.open("rb") as stream:
        for raw in stream:
            if not raw.endswith(b"\n"):
                return
            try:
                line = json.loads(raw)
            except (ValueError, RecursionError):
                line = None
            yield line if isinstance(line, dict) else None


def _picture(left: Left, key: str, name: str, known: dict[str, bytes]) -> bytes:
    """A member by its checksum; where that copy is damaged, the one in the project's own file will do."""
    if key not in known:
        for read in (_kept_member, _saved_member):
            try:
                data = read(left, key, name)
            except (OSError, Trouble, KeyError):
                continue
            if hashlib.sha256(data).hexdigest() == key:
                known[key] = data
                break
        else:
            raise ValueError("a damaged picture")
    return known[key]


def _kept_member(left: Left, key: str, name: str) -> bytes:
    return (left.folder / "pictures" / Path(key).name).read_bytes()


def _saved_member(left: Left, key: str, name: str) -> bytes:
    if left.saved_as is None:
        raise KeyError(name)
    return load(left.saved_as).members[name]
