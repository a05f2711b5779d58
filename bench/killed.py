"""A program to be killed: edits a project and saves it now and then, and says what it did in a log that outlives it.

python killed.py FOLDER      FOLDER/work.oglow is saved to, FOLDER/journal kept, FOLDER/log written
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from dataclasses import dataclass
from pathlib import Path
from random import Random

from outlined_glow.core.project import History, Project
from outlined_glow.core.project.journal import Journal, left_behind, recover
from outlined_glow.core.project.storage import load, save

_PICTURE = bytes(range(256)) * 400


def work(folder: Path) -> None:
    """Edit for ever, twice a hundredth of a second; every thirtieth edit saves."""
    import msgspec

    log = os.open(folder / "log", os.O_WRONLY | os.O_APPEND | os.O_CREAT)
    project = Project("step 0", "2026-11-21T20:14:00Z", members={"pictures/a.svg": _PICTURE})
    history, journal = History(project), Journal(folder / "journal")
    path = folder / "work.oglow"
    journal.record(0, "opened", project, path)
    for step in range(1, 10_000):
        project = msgspec.structs.replace(history.project, name=f"step {step}")
        history.do(project, f"renamed to step {step}")
        journal.record(history.place, f"renamed to step {step}", project, path)
        os.write(log, f"edit {step} {time.monotonic()}\n".encode())
        if step % 30 == 0:
            save(project, path)
            os.write(log, f"saved {step} {time.monotonic()}\n".encode())
        time.sleep(0.005)


@dataclass(frozen=True)
class Outcome:
    """What a kill cost: seconds of work missing from the journal; whether file and journal opened at all."""

    missing_s: float
    file_opens: bool
    file_is_a_saved_one: bool
    journal_opens: bool


def kill_once(folder: Path, dice: Random) -> Outcome:
    """Start the program, kill it at a random moment, and look at what it left."""
    folder.mkdir()
    child = subprocess.Popen([sys.executable, __file__, str(folder)])
    try:
        while not (folder / "log").exists() and child.poll() is None:
            time.sleep(0.002)
        time.sleep(dice.uniform(0.0, 0.9))
    finally:
        child.send_signal(signal.SIGKILL)
        child.wait()
    killed = time.monotonic()
    lines = [line.split() for line in (folder / "log").read_text().splitlines()]
    saved = [int(step) for what, step, _ in lines if what == "saved"]
    path = folder / "work.oglow"
    # The save under way when the kill came may be done though the log does not say so.
    allowed = {*saved[-1:], saved[-1] + 30 if saved else 30}
    opened = load(path).name if path.exists() else ""
    last = _last_step(folder)
    lost = [float(at) for what, step, at in lines if what == "edit" and int(step) > last]
    return Outcome(
        killed - min(lost) if lost else 0.0,
        bool(opened) or not saved,
        opened in {f"step {step}" for step in allowed} or (not opened and not saved),
        last >= 0,
    )


def _last_step(folder: Path) -> int:
    """The last step that the journal gives back; 0 when it holds none yet, -1 when it cannot be opened."""
    found = left_behind(folder / "journal")
    if not found:
        return 0
    history = recover(found[0])
    numbers = [int(step.project.name.split()[1]) for step in history.all_steps()]
    return numbers[-1] if numbers == list(range(len(numbers))) and history.project.members["pictures/a.svg"] == _PICTURE else -1


if __name__ == "__main__":
    work(Path(sys.argv[1]))
