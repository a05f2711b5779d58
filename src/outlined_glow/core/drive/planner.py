"""The planner: every way to drive the LEDs side by side, with what it takes and whether it can (DOMAIN 5)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import msgspec

from ..errors import Trouble
from ..lights import Led
from ..project import Drive, Finding
from .heat import watts_of
from .limits import LIMITS
from .methods import METHODS, method
from .plan import DrivePlan
from .planning import Grids, plan_drive

Word = Literal["works", "works, with a caution", "refused"]
_WORDS: tuple[tuple[str, Word], ...] = (("stop", "refused"), ("warning", "works, with a caution"))
#: A small part takes so long to lay by hand, and a joint to solder, s (DOMAIN 13).
_PART_S, _JOINT_S = 12.0, 6.0


@dataclass(frozen=True)
class Verdict:
    """Whether a way can drive some LEDs; the one reason why not, or why with care; and the limit that is broken."""

    word: Word
    reason: str = ""
    limit: str = ""


@dataclass(frozen=True)
class Row:
    """A way to drive the LEDs, and what it takes. Currents are of one LED, at most (peak), over time (average) and at worst;
    then of all of them. What does not apply is None."""

    method: str
    title: str
    words: str
    verdict: Verdict
    pins: int
    parts: int
    peak_a: float | None
    average_a: float | None
    worst_a: float | None
    total_peak_a: float | None
    total_average_a: float | None
    refresh_hz: float | None
    relative_light: float | None
    height_mm: float
    price: float
    standing_a: float
    joints: int
    minutes: float
    program: bool
    run_time_h: float | None
    heat_w: float | None
    plan: DrivePlan


def verdict_of(findings: tuple[Finding, ...]) -> Verdict:
    """What a plan breaks, the worst first."""
    for severity, word in _WORDS:
        for finding in findings:
            if finding.severity == severity:
                return Verdict(word, finding.text, LIMITS.get(finding.code, ""))
    return Verdict("works")


def planned(drive: Drive, leds: tuple[Led, ...], grids: Grids | None = None) -> Iterator[Row]:
    """A row for every way, all LEDs driven by it."""
    for key in METHODS:
        yield row_of(msgspec.structs.replace(drive, method=key, groups=()), leds, grids)


def row_of(drive: Drive, leds: tuple[Led, ...], grids: Grids | None = None) -> Row:
    """What one way takes."""
    way = method(drive.method)
    try:
        plan = plan_drive(drive, leds, grids)
        verdict = verdict_of(plan.findings) if leds else Verdict("refused", "There are no LEDs to drive yet.")
    except Trouble as trouble:  # what was chosen for another way goes with this one in no circuit
        plan, verdict = plan_drive(drive, (), grids), Verdict("refused", str(trouble))
    lit = [one for one in plan.branches if one.current_a > 0]
    lights = sum(len(one.indices) for one in lit)
    parts = [one.part for one in plan.wanted[1:]]
    wanted = sum(one.target_a * one.light.mcd / one.light.forward_a * len(one.indices) for one in plan.branches)
    gives = sum(one.current_a * one.light.mcd / one.light.forward_a * len(one.indices) for one in lit)
    joints = sum(len(one.pads) for one in parts)
    works = bool(lit)
    average = sum(one.current_a * len(one.indices) for one in lit) * plan.average / lights if lights else None
    return Row(
        way.key, way.title, way.words, verdict, len(plan.pins), len(parts),
        max(one.peak_a for one in lit) if works else None, average,
        max(one.current_max_a / one.duty for one in lit) if works else None,
        plan.lit_a if works else None, plan.current_a * plan.average + plan.standing_a if works else None,
        plan.refresh_hz, gives * plan.average / wanted if wanted else None,
        max((one.height_mm for one in parts), default=0.0),
        round(sum(one.price or 0.0 for one in parts), 2), plan.standing_a, joints,
        round((len(parts) * _PART_S + joints * _JOINT_S) / 60, 1), way.programmed(drive),
        run.hours if (run := plan.hours(plan.average)) else None,
        watts_of(plan) if works else None, plan,
    )  # fmt: skip
