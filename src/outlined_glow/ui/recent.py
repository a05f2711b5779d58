"""Recent work and the few things the window remembers, in the state folder of the desktop (XDG)."""

from __future__ import annotations

import contextlib
import json
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


def read_state() -> dict[str, Any]:
    """What was remembered; nothing if there is none or it cannot be read."""
    try:
        content = json.loads(_file().read_text("utf-8"))
    except (OSError, ValueError):
        return {}
    return content if isinstance(content, dict) else {}


def write_state(**changes: Any) -> None:
    """Remember more; failing to is no reason to stop working."""
    content = {**read_state(), **changes}
    with contextlib.suppress(OSError):
        _file().parent.mkdir(parents=True, exist_ok=True)
        temporary = _file().with_suffix(".new")
        temporary.write_text(json.dumps(content, indent=1), "utf-8")
        temporary.replace(_file())


def recent_files() -> list[Path]:
    """Projects opened lately that are still there, the latest first."""
    paths = read_state().get("recent", [])
    return [Path(path) for path in paths if isinstance(path, str) and Path(path).is_file()][:_MOST]


def remember_file(path: Path) -> None:
    """Put a project on top of the recent ones."""
    here = str(path.resolve())
    write_state(recent=[here, *(one for one in map(str, recent_files()) if one != here)][:_MOST])
