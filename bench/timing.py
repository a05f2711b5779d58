"""Measuring: CPU seconds, least of a few runs, and what a row of the table says."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any


@dataclass(frozen=True)
class Row:
    """One figure: a ratio unless `unit` says otherwise, the goal it should stay under, and a word on it."""

    part: str
    what: str
    value: float
    goal: float | None = None
    unit: str = ""
    note: str = ""


def cpu(run: Callable[[], Any], times: int = 3) -> float:
    """Least CPU seconds of a few runs."""
    best = float("inf")
    for _ in range(times):
        start = time.process_time()
        run()
        best = min(best, time.process_time() - start)
    return best


def once(run: Callable[..., Any], *given: Any) -> tuple[float, Any]:
    """CPU seconds of one run, and what it gave."""
    start = time.process_time()
    result = run(*given)
    return time.process_time() - start, result


def peak_mb() -> float:
    """The most memory that this process has held, MB. What the system keeps for its end (`ru_maxrss`) would tell that of the
    process which started it too, where that held more."""
    with open("/proc/self/status") as status:
        return int(next(line for line in status if line.startswith("VmHWM")).split()[1]) / 1024


#: What a window leaves behind is none of what is measured, and ends with the process.
_END = "\nimport os, sys; sys.stdout.flush(); os._exit(0)\n"


def child(code: str, times: int = 4, of: Callable[[Iterable[float]], float] = min) -> list[float]:
    """The least of the numbers that a Python process prints on its last line, over a few processes, or what `of` makes of
    them."""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "XDG_STATE_HOME": tempfile.mkdtemp()}
    environment.pop("PYTHONDONTWRITEBYTECODE", None)  # as on a user's machine: compiled once, the least run counts
    here = Path(__file__).parents[1]
    environment["PYTHONPATH"] = os.pathsep.join(str(here / folder) for folder in ("src", "bench", "tests"))
    runs = []
    for _ in range(times):
        ended = subprocess.run([sys.executable, "-c", code + _END], capture_output=True, text=True, env=environment, check=True)
        runs.append([float(word) for word in ended.stdout.strip().splitlines()[-1].split()])
    return [of(column) for column in zip(*runs, strict=True)]
