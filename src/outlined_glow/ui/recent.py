"""Recent work and the few things the window remembers, in the state folder of the desktop (XDG)."""

from __future__ import annotations

import contextlib
import json
import os
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


def read_state() -> dict[str, Any]:
    """What was remembered; nothing if there is none or it cannot be read. A value of a wrong type was never ours."""
    try:
        content = json.loads(_file().read_text("utf-8"))
    except (OSError, ValueError, RecursionError):
        return {}
    if not isinstance(content, dict):
        return {}
    return {key: value for key, value in content.items() if key not in _TYPES or isinstance(value, _TYPES[key])}


def write_state(**changes: Any) -> None:
    """Remember more; failing to is no reason to stop working."""
    content = {**read_state(), **changes}
    with contextlib.suppress(OSError):
        _file().parent.mkdir(parents=True, exist_ok=True)
        temporary = _file().with_suffix(".new")
        temporary.write_text(json.dumps(content, indent=1), "utf-8")
        temporary.replace(_file())


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
