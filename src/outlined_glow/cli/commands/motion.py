"""`frames`: what plays as numbers. `play`: a table read as a controller does. `truth`: what each way to drive LEDs shows.
`swing`: what a moving board draws."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from ...core.errors import Trouble
from ...core.motion.frames import Table, as_csv, as_json, as_picture
from ...core.motion.heard import hear, with_heard
from ...core.motion.packing import as_binary, as_header, first_difference, packed, read_table
from ...core.motion.swung import swung_rows
from ...core.project import Motion
from ...core.project.atomic import atomic_write
from ...core.project.param import read_bytes
from ...core.units import parse_number, parse_quantity
from ...core.workshop import Compiler, Work
from ...core.workshop.motion_facts import frames_of, truth_rows, truths_of
from ...core.workshop.moving_eye import swing, swing_facts, swing_png
from ..exits import DONE, STOPPED
from ..incoming import incoming
from . import Arguments
from .opening import ending_in, opened


def frames_(given: Arguments) -> int:
    """Run `frames`."""
    _, work = _with_leds(given)
    target = ending_in(given.output, ".csv", ".json", ".h", ".bin", ".png")
    table = _table(given, work)
    kind = target.suffix.lower()
    name = "raw"
    if kind == ".h":
        name, _ = packed(table, given.packing or "auto")
        data = as_header(table, work.project.name, name)
    elif kind == ".bin":
        name, _ = packed(table, given.packing or "raw")
        data = as_binary(table, name)
    else:
        data = {".csv": as_csv, ".json": as_json, ".png": as_picture}[kind](table)
    atomic_write(target, data)
    how = f", packed as {name}" if kind in (".h", ".bin") else ""
    print(f"{given.output}: {len(table.levels)} frames of {len(table.leds)} LEDs, {table.bits} bits{how}, {len(data):,} bytes")
    return DONE


def play_(given: Arguments) -> int:
    """Run `play`."""
    _, work = _with_leds(given)
    heard = None
    if given.feed:
        motion = work.project.motion
        seconds = _seconds(given) or motion.seconds
        heard = hear(incoming(given.feed), tuple(one.name for one in motion.feeds), seconds)
        for fault in heard.faults:
            print(fault, file=sys.stderr)
    table = _table(given, work, None if heard is None else with_heard(work.project.motion, heard))
    if given.table:
        try:
            data = read_bytes(Path(given.table))
            got = read_table(data, table)
        except Trouble as trouble:
            raise Trouble(f"“{given.table}” cannot be played: {trouble}") from trouble
    else:
        got = read_table(as_binary(table, "auto"), table)
    off = first_difference(table, got)
    told = None if off is None else dict(zip(("frame", "index", "wanted", "got"), off, strict=True))
    if given.json:
        found: dict[str, object] = {"equal": off is None, "frames": len(got), "first_difference": told}
        if heard is not None:
            found["feed"] = {"values": heard.count, "unused_lines": heard.wrong, "faults": heard.faults}
        print(json.dumps(found, indent=1))
    elif told is None:
        print(f"{len(got)} frames, all as the score has them")
    else:
        print(
            f"frame {told['frame']}, LED {told['index']}: the score has {_level(told['wanted'])},"
            f" the table has {_level(told['got'])}"
        )
    return DONE if off is None else STOPPED


def truth_(given: Arguments) -> int:
    """Run `truth`."""
    _, work = _with_leds(given)
    rows = truth_rows(truths_of(work))
    if given.json:
        methods = [{key: row[key] for key in ("method", "share", "nearest")} for row in rows]
        print(json.dumps({"methods": methods}, indent=1))
        return DONE
    for row in rows:
        near = row["nearest"]
        period = "" if near is None or near["period_s"] is None else f" every {near['period_s']:.3g} s"
        best = "" if near is None else f"  nearest: {near['pattern']}{period}, {100 * (1 - near['distance']):.0f} %"
        print(f"{row['title']:<28} shows {100 * row['share']:5.1f} %{best}")
    return DONE


def _level(value: int | None) -> str:
    return "no frame" if value is None else f"level {value}"


def _with_leds(given: Arguments) -> tuple[object, Work]:
    project, work = opened(given, Compiler())
    if not work.leds:
        raise Trouble("There are no LEDs on this board yet: add some first.")
    return project, work


def _seconds(given: Arguments) -> float | None:
    seconds = parse_quantity(given.seconds, "s", bare="s") if given.seconds else None
    if seconds is not None and not 0.001 <= seconds <= 7200:
        raise Trouble(f"--seconds must be between 1 ms and 2 h, not {given.seconds}.")
    return seconds


def _table(given: Arguments, work: Work, motion: Motion | None = None) -> Table:
    return frames_of(work, parse_number(given.fps), _seconds(given), getattr(given, "shown", "wanted") == "real", motion)


def swing_(given: Arguments) -> int:
    """Run `swing`."""
    _, work = opened(given, Compiler())
    speed, angle = parse_number(given.speed), parse_number(given.angle)
    made = swing(work, speed, angle, parse_quantity(given.seconds, "s", bare="s"), parse_quantity(given.start, "s", bare="s"))
    if given.output:
        atomic_write(ending_in(given.output, ".png"), swing_png(made))
    if given.json:
        print(json.dumps(swing_facts(made), indent=1, ensure_ascii=False))
        return DONE
    for title, words in swung_rows(made):
        print(f"{title:<36} {words}")
    return DONE
