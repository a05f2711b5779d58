"""Recent work and the few things the window remembers, in the state folder of the desktop (XDG)."""

from __future__ import annotations

import contextlib
import json
import os
import threading
from pathlib import Path
from typing import Any

from platformdirs import user_state_path

_MOST = 8


def state_folder() -> Path:
    """Where everything lies that is kept between two starts."""
    return user_state_path("outlined-glow")


def _file() -> Path:
    return state_folder() / "window.json"


def journal_folder() -> Path:
    """Where journals of open projects stand."""
    return state_folder() / "journal"


#: What is remembered, and of which type it must be to be believed.
_TYPES: dict[str, type] = {"recent": list, "folder": str, "geometry": str, "theme": str, "still": bool}


#: What is to be written yet, by its file, and who writes it: the window waits for no disk.
_waiting: dict[Path, dict[str, Any]] = {}
_turn = threading.Lock()
_writer: threading.Thread | None = None


def read_state() -> dict[str, Any]:
    """What was remembered; nothing if there is none or it cannot be read. A value of a wrong type was never ours."""
    with _turn:
        waiting = dict(_waiting.get(_file(), {}))
    return {**_on_disk(_file()), **waiting}


def _on_disk(file: Path) -> dict[str, Any]:
    try:
        content = json.loads(file.read_text("utf-8"))
    except (OSError, ValueError, RecursionError):
        return {}
    if not isinstance(content, dict):
        return {}
    return {key: value for key, value in content.items() if key not in _TYPES or isinstance(value, _TYPES[key])}


def write_state(**changes: Any) -> None:
    """Remember more, soon; failing to is no reason to stop working."""
    global _writer
    with _turn:
        _waiting.setdefault(_file(), {}).update(changes)
        if _writer is None:
            _writer = threading.Thread(target=_write, name="state")
            _writer.start()


def _write() -> None:
    """Write what waits until nothing does; what is being written counts as waiting."""
    global _writer
    while True:
        with _turn:
            if not _waiting:
                _writer = None
                return
            file, changes = next(iter(_waiting.items()))
            taken = dict(changes)
        with contextlib.suppress(OSError):
            file.parent.mkdir(parents=True, exist_ok=True)
            temporary = file.with_suffix(".new")
            temporary.write_text(json.dumps({**_on_disk(file), **taken}, indent=1), "utf-8")
            temporary.replace(file)
        with _turn:
            if _waiting.get(file) == taken:
                del _waiting[file]


def state_written(seconds: float = 5.0) -> bool:
    """Wait until all is on the disk; False if it is not by then."""
    writer = _writer
    if writer is not None:
        writer.join(seconds)
    return _writer is None


def recent_files() -> list[Path]:
    """Projects opened lately, the latest first; nobody looks whether they are there: a folder may be far or forbidden."""
    paths = read_state().get("recent", [])
    return [Path(path) for path in paths if isinstance(path, str) and path and "\0" not in path][:_MOST]


def is_there(path: Path) -> bool:
    """Whether a file can be seen. It may take as long as its folder does to answer."""
    try:
        return path.is_file()
    except (OSError, ValueError):
        return False


def remember_file(path: Path) -> None:
    """Put a project on top of the recent ones."""
    here = os.path.abspath(path)
    write_state(recent=[here, *(one for one in map(str, recent_files()) if one != here)][:_MOST])
