"""What went wrong that nobody expected, written down for the user to read and for whoever mends it.

Reports lie in the state folder of the desktop (XDG), `reports/`. No part of the work is in them.
"""

from __future__ import annotations

import contextlib
import faulthandler
import os
import sys
from datetime import datetime
from pathlib import Path
from typing import TextIO

from platformdirs import user_state_path

from . import __version__

_KEPT = 20
_HARD = "sudden-end-"
_watched: list[TextIO] = []


def report_folder() -> Path:
    """Where reports lie."""
    return user_state_path("outlined-glow") / "reports"


def write_report(error: BaseException, doing: str) -> Path:
    """Write a report of an error that came while `doing` something; the oldest go when there are many."""
    import traceback

    folder = report_folder()
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / f"{datetime.now():%Y-%m-%d-%H%M%S-%f}.txt"
    path.write_text("\n".join([*_about(doing), "", *traceback.format_exception(error)]), "utf-8", "backslashreplace")
    for old in sorted(folder.glob("2*.txt"))[:-_KEPT]:
        old.unlink(missing_ok=True)
    return path


def watch_for_a_hard_end() -> None:
    """Have the interpreter write down where it was, should the process end without warning."""
    with contextlib.suppress(OSError):
        report_folder().mkdir(parents=True, exist_ok=True)
        path = report_folder() / f"{_HARD}{os.getpid()}.txt"
        _watched.append(path.open("w", encoding="utf-8"))
        faulthandler.enable(_watched[-1])


def went_well() -> None:
    """The process ends as it should: nothing to report."""
    faulthandler.disable()
    while _watched:
        stream = _watched.pop()
        stream.close()
        Path(stream.name).unlink(missing_ok=True)


def hard_ends() -> list[Path]:
    """Reports of processes that ended without warning since the last look; empty ones were killed and are swept away."""
    found = []
    for path in sorted(report_folder().glob(f"{_HARD}*.txt")):
        number = path.stem.removeprefix(_HARD)
        if not (number.isdigit() and _lives(int(number))):
            with contextlib.suppress(OSError):  # a folder that takes nothing is no reason not to start
                found += _name_hard_end(path)
    return found


def _name_hard_end(path: Path) -> list[Path]:
    text = path.read_text("utf-8", "replace")
    named = path.with_name(f"{datetime.fromtimestamp(path.stat().st_mtime):%Y-%m-%d-%H%M%S}-sudden-end.txt")
    if text:
        named.write_text("\n".join([*_about("something in a library below the program"), "", text]), "utf-8")
    path.unlink()
    return [named] if text else []


def _lives(process: int) -> bool:
    return Path(f"/proc/{process}").exists()


def _about(doing: str) -> list[str]:
    import platform  # as traceback above: not on the way to the first window

    lines = [
        f"Outlined Glow {__version__}, {datetime.now():%Y-%m-%d %H:%M:%S}",
        f"while: {doing}",
        f"Python {platform.python_version()} on {platform.platform()}",
    ]
    qt = sys.modules.get("PyQt6.QtCore")
    if qt is not None:
        lines.append(f"Qt {qt.QT_VERSION_STR}, PyQt {qt.PYQT_VERSION_STR}")
    return lines
