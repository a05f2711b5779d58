"""What `info`, `truth` and the window say of the motion of a work: length, currents, flashes, bytes, what is truly shown."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from ..drive.carriers import carriers
from ..drive.first_second import RISE_S
from ..drive.heat import board_rise_k, watts_of
from ..drive.methods import ways_of
from ..drive.own_controller import chosen_controller
from ..drive.timing import Astable, TwoSpeeds
from ..errors import Trouble
from ..motion import average_share, peak_share
from ..motion.ambient import dimmed
from ..motion.currents import played
from ..motion.edits.scenes import BY, PRESSED
from ..motion.edits.strips import ALONG
from ..motion.feeds import values_of
from ..motion.flash import ALLOWED, AREA_SR, FlashReport, flash_report
from ..motion.frames import USUAL_FPS, Table, as_csv, as_json, as_picture, bits_of, table_of
from ..motion.loads import Load, loads
from ..motion.packing import as_binary, as_header, frame_bytes, packed_size
from ..motion.pattern import Key, pattern
from ..motion.truth import Truth, truths
from ..motion.way import rows_of
from ..project import Feed, Motion, Param, SceneChange, Strip
from ..text_safety import short
from ..units import show, show_si
from .drive_facts import truly_shown
from .work import Work


def motion_facts(work: Work) -> dict[str, Any]:
    """The motion for the command line."""
    motion, plan = work.project.motion, work.plan
    report = flashes_of(work)
    return {
        "seconds": round(motion.seconds, 4),
        "average_a": plan.current_a * average_share(motion, work.lamps) + plan.standing_a if work.leds else 0.0,
        "peak_a": plan.current_a * peak_share(motion, work.lamps) + plan.standing_a if work.leds else 0.0,
        "worst_second_s": worst_second(work),
        "bytes": table_bytes(work),
        "limits": [
            {
                "what": one.title, "ref": one.ref or None, "pin": one.pin or None, "average_a": one.average_a,
                "peak_a": one.peak_a, "peak_s": round(one.peak_s, 3), "worst_a": one.worst_a, "allowed_a": one.allowed_a,
            }
            for one in loads_of(work)
        ],
        "scenes": _scenes(work),
        "flash": {
            "safe": report.safe, "general": report.general.most, "red": report.red.most,
            "worst_s": round(report.worst.worst_s, 3),
        },
    }  # fmt: skip


def loads_of(work: Work) -> tuple[Load, ...]:
    """What the supply, pins and packages carry while it plays, nearest to their limits first."""
    if not work.leds:
        return ()
    return loads(work.project.motion, work.lamps, work.plan, carriers(work.plan, work.design.drive, work.leds))


def load_words(work: Work, found: Sequence[Load]) -> list[tuple[str, str]]:
    """The supply, the package and the pin that come nearest to what they bear, with that at worst; and the heat."""
    kinds = [lambda one: not one.ref, lambda one: one.ref and not one.pin, lambda one: one.pin]
    first = [next(filter(kind, found), None) for kind in kinds]
    out = [
        (f"{one.title}, at worst", f"{show_si(one.worst_a, 'A')} of {show_si(one.allowed_a, 'A')}")
        for one in first
        if one is not None
    ]
    if work.leds:
        share = average_share(work.project.motion, work.lamps) if truly_shown(work) else 1.0
        watts = watts_of(work.plan, share)
        rise = board_rise_k(watts, work.board.outline.area)
        out.append(("heat on average", f"{show_si(watts, 'W')}, {show(rise, 1)} K over the air"))
    return out


def _scenes(work: Work) -> list[dict[str, Any]]:
    """The scenes, with the average current of each."""
    motion, plan = work.project.motion, work.plan
    made = played(motion, work.lamps) if work.leds and motion.scenes else None
    return [
        {
            "name": one.name, "start_s": one.start_s, "length_s": one.length_s, "then": one.then, "share": one.share,
            "average_a": 0.0 if made is None
            else plan.current_a * made.between(one.start_s, one.start_s + one.length_s) + plan.standing_a,
        }
        for one in motion.scenes
    ]  # fmt: skip


def worst_second(work: Work) -> float | None:
    """When the second begins that takes the most current on average, s; None without LEDs."""
    return round(played(work.project.motion, work.lamps).worst_second_s(), 3) if work.leds else None


def flashes_of(work: Work) -> FlashReport:
    """What flashes, seen from where the brief says."""
    return flash_report(work.project.motion, work.lamps, work.board.outline, work.project.brief.distance_m)


def flash_words(report: FlashReport) -> tuple[str, str, bool]:
    """The verdict on flashes, how it comes about, and whether it is safe."""
    one = report.worst
    kind = "red flashes" if one is report.red and one.most else "flashes"
    many = kind.removesuffix("es") if one.most == 1 else kind
    verdict = f"{one.most:g} {many} in the worst second; {ALLOWED} are allowed."
    if not one.area_sr:
        return verdict, f"Safe, seen from {report.distance_m:g} m.", True
    area = f"{max(one.area_sr, 0.0001):.4f} sr flash more often, seen from {report.distance_m:g} m; {AREA_SR:g} sr may."
    return verdict, f"{'Safe' if report.safe else 'Not safe'}: {area}", report.safe


def table_bytes(work: Work) -> int | None:
    """How many bytes a controller keeps for all that plays; None without LEDs, and of a table too long to be made for that."""
    return packed_size(work.design.drive, work.project.motion, work.lamps) if work.leds else None


def table_words(work: Work) -> tuple[str, str, str]:
    """How large the table of all that plays is, packed as small as it goes, and a frame of it, of what the controller has; and
    in how many bits light is told, how many frames a second."""
    size, frame = table_bytes(work), frame_bytes(work.design.drive, work.lamps)
    chip = chosen_controller(work.design.drive, work.plan.controller)
    of = ["", ""] if chip is None or not chip.memory_bytes else [f" of {chip.memory_bytes:,}", f" of {chip.ram_bytes:,}"]
    hz = f", {work.plan.refresh_hz:.4g} times a second" if work.plan.refresh_hz else ""
    told = f"{bits_of(work.design.drive, work.lamps)} bits{hz}"
    return "too long for one" if size is None else f"{size:,}{of[0]} bytes", f"{frame:,}{of[1]} bytes", told


def start_of_groups(work: Work) -> dict[str, tuple[tuple[float, str], ...]]:
    """What each group does in the first second, where no program lights them: levels (0, 1, unknown) and from when, s."""
    names = set(work.lamps.groups)
    if work.plan.first is None or any(way.programmed(own) for way, own in ways_of(work.design.drive)):
        return {}
    found: dict[str, tuple[tuple[float, str], ...]] = {one.net: one.levels for one in work.plan.first.nodes if one.net in names}
    return found if any(level == "unknown" or since > RISE_S for row in found.values() for since, level in row) else {}


def first_step_words(work: Work) -> str:
    """How much longer the first step after power-on lasts than the others; "" where nothing steps by a timer."""
    pace = work.plan.pace
    one = pace.slow if isinstance(pace, TwoSpeeds) else pace
    if not isinstance(one, Astable):
        return ""
    return f"{show(one.first_high_s + one.low_s, 2)} s, then {show(one.period_s, 2)} s"


def frames_of(
    work: Work, fps: float = USUAL_FPS, seconds: float | None = None, real: bool = False, motion: Motion | None = None
) -> Table:
    """The table of levels of a work, of its own motion unless told."""
    return table_of(work.design.drive, motion or work.project.motion, work.lamps, fps=fps, seconds=seconds, real=real)


def truths_of(work: Work) -> tuple[Truth, ...]:
    """For every way to drive the LEDs of a work what it shows of what is wanted."""
    return truths(work.design.drive, work.project.motion, work.lamps)


def truth_rows(found: Sequence[Truth]) -> list[dict[str, Any]]:
    """Every way with the share that it shows, for the command line and the window."""
    rows = []
    for one in found:
        near = one.nearest
        nearest = None if near is None else {
            "pattern": near.pattern, "period_s": near.period_s, "distance": round(near.distance, 4),
        }  # fmt: skip
        rows.append({"method": one.method, "title": one.title, "share": round(one.share, 4), "nearest": nearest})
    return rows


def nearest_edits(work: Work, found: Sequence[Truth]) -> tuple[str, list[tuple[str, dict[str, Any]]]] | None:
    """What the LEDs can show, in the way they are driven, that is nearest to what is wanted: in words, and as edits; None where
    they show that, or are driven in several ways."""
    drive = work.design.drive
    if truly_shown(work) or drive.groups or not work.leds:
        return None
    near = next((one.nearest for one in found if one.method == drive.method), None)
    if near is None:
        return None
    edits: list[tuple[str, dict[str, Any]]] = [("clear-score", {})] if work.project.motion.score else []
    chosen: dict[str, Any] = {"pattern": near.pattern, "brightness": 1.0}
    every = ""
    if near.period_s is not None:
        chosen["period_s"] = min(max(near.period_s, 0.05), 600.0)
        every = f" every {show(near.period_s, 2)} s"
    if near.drive_s is not None and near.drive_s != drive.period_s:
        edits.append(("drive", {"method": drive.method, "period_s": near.drive_s}))
    return f"{near.pattern}{every}, {100 * (1 - near.distance):.0f} % of it", [*edits, ("set-pattern", chosen)]


def table_file(work: Work, kind: str) -> bytes:
    """The table as a file of that ending: .h, .bin, .csv, .json, .png."""
    table, kind = frames_of(work), kind.lower()
    if kind == ".h":
        return as_header(table, work.project.name)
    makers = {".bin": as_binary, ".csv": as_csv, ".json": as_json, ".png": as_picture}
    if kind not in makers:
        raise Trouble(f"A table is written as .h, .bin, .csv, .json or .png, not as “{short(kind) or 'nothing'}”.")
    return makers[kind](table)


# -- strips, for the window ---------------------------------------------------------------------------------------


def limits_words(strip: Strip) -> str:
    """What a strip is limited to, "" for nothing."""
    return ", ".join(name if kind in ("group", "array") else f"{kind} {name}" for kind, name in strip.limits)


def strip_words(work: Work, strip: Strip) -> str:
    """What a strip plays on, and how."""
    on = limits_words(strip)
    count = len(rows_of(strip, work.lamps))
    if strip.leds:
        on = f"{on}, " if on else ""
        on += f"{len(strip.leds)} picked"
    leds = f"{count} LED" if count == 1 else f"{count} LEDs"
    along = dict(ALONG)[strip.along]
    return f"{on or 'all'}: {leds}, along {along}, {show(strip.start_s, 2)} to {show(strip.end_s, 2)} s"


def keys_of_strip(work: Work, strip: Strip) -> Mapping[str, tuple[Key, float]]:
    """The numbers that the pattern of a strip takes, and their values in it."""
    own = dict(strip.keys)
    found = pattern(strip.pattern, work.project.motion.patterns)
    return {name: (key, own.get(name, key.value)) for name, key in found.keys.items()}


def change_words(one: SceneChange) -> str:
    """What leads on, in a line."""
    how = dict(BY)[one.by]
    if one.by in PRESSED:
        how = f"{how} of {one.button}"
    elif one.by in ("over", "under"):
        how = f"{one.feed} {one.by} {show(one.value, 3)}"
    elif one.by == "time":
        how = f"{show(one.value, 2)} s"
    return f"{one.of or 'any scene'} → {one.to or 'off'}: {how}"


def feed_words(feed: Feed, time_s: float) -> str:
    """The value of a feed at a moment; a clock as people read it."""
    value = float(values_of(feed, np.array([time_s]))[0])
    if not np.isfinite(value):
        return "none"
    if feed.kind == "clock":
        return f"{int(value) // 3600:02}:{int(value) // 60 % 60:02}:{int(value) % 60:02}"
    return show(value, 3)


def sign_kind(motion: Motion) -> str:
    """How scenes tell which one they are: the word of the edit."""
    one = next((one for one in motion.score if one.sign_of), None)
    if one is None:
        return "none"
    return {"number": "digit", "blink": "blinks"}.get(one.pattern, "colour" if one.colour else "led")


def power_cut_words(motion: Motion) -> str:
    """What outlives a power cut, in a sentence."""
    if not motion.scenes:
        return ""
    first = motion.scenes[0].name
    if motion.after_cut == "first":
        return f"After a power cut it begins with “{first}”; knobs stand as they were turned, all else is forgotten."
    return (
        f"After a power cut it goes on in the scene that played, from its beginning: the program keeps its number (1 byte). The"
        f" first time it begins with “{first}”."
    )


def dimmed_words(motion: Motion, time_s: float) -> str:
    """To what the sensor dims all that plays at a moment; as it is without one."""
    found = dimmed(motion, np.array([time_s]))
    return "–" if found is None else f"{100 * float(found[0]):.0f} %"


def numbers_of(text: str) -> tuple[int, ...] | None:
    """Numbers as people write them, 1,2,5-8; None where they are not such."""
    try:
        found: tuple[int, ...] = Param("numbers").parse("leds", text, True)
    except Trouble:
        return None
    return found


def numbers_words(numbers: tuple[int, ...]) -> str:
    """Numbers as people write them: those that follow one another as a stretch.

    >>> numbers_words((1, 2, 3, 7, 9, 10))
    '1-3,7,9,10'
    """
    runs: list[list[int]] = []
    for one in sorted(set(numbers)):
        if runs and one == runs[-1][-1] + 1:
            runs[-1].append(one)
        else:
            runs.append([one])
    parts = [[str(one) for one in run] if len(run) < 3 else [f"{run[0]}-{run[-1]}"] for run in runs]
    return ",".join(word for part in parts for word in part)
