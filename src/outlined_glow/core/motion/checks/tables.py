"""What of a score a controller cannot keep or tell: tables over its memory, and fades in steps that are seen."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from ...colour.difference import lightness
from ...drive import DrivePlan
from ...drive.devices import Controller
from ...drive.method import Method
from ...drive.own_controller import chosen_controller
from ...project import Drive, Finding, Motion, Remedy
from ...units import show_si
from ..briefest import briefest
from ..frames import USUAL_FPS
from ..lamps import Lamps, lights_of
from ..packing import frame_bytes, packed_size
from ..score import levels, one_round, strips_of
from ..truth import shares_of

#: A step of lightness (CIE 1976) from which on it is seen; the share of a score in such steps from which on it is told.
SEEN_STEP, _OFTEN = 1.0, 0.02
#: Moments of a score that are looked at.
_MOMENTS = 400


def dim_below(bits: int) -> float:
    """The share of full light below which one step of so many bits is more than can be missed; 0 where none is."""
    most = (1 << bits) - 1
    steps = lightness(np.arange(most + 1) / most)
    seen = np.flatnonzero(np.diff(steps) > SEEN_STEP)
    return float(seen[-1] + 1) / most if len(seen) else 0.0


def first_step(bits: int) -> float:
    """The lightness of the first step of so many bits."""
    return float(lightness(1 / ((1 << bits) - 1)))


def table_findings(motion: Motion, lamps: Lamps, drive: Drive, plan: DrivePlan) -> list[Finding]:
    """Of what a program plays."""
    ways = [(way, own, rows) for way, own, rows in shares_of(drive, lamps) if len(rows) and way.programmed(own)]
    if not ways or motion.is_steady:
        return []
    return [
        *_frames(ways, plan),
        *_too_brief(motion, lamps),
        *_steps(motion, lamps, min(way.bits(own, lights_of(lamps, rows)) for way, own, rows in ways)),
        *_memory(motion, lamps, drive, plan),
    ]


def _frames(ways: list[tuple[Method, Drive, NDArray[np.intp]]], plan: DrivePlan) -> list[Finding]:
    """Data that takes longer than a frame is to last."""
    hz = plan.refresh_hz or USUAL_FPS
    if hz >= USUAL_FPS or not any(way.lights == "data" for way, _, _ in ways):
        return []
    text = (
        f"The data of all pixels takes {1000 / hz:.1f} ms on one line: {hz:.1f} frames a second at most, not {USUAL_FPS:g}."
        " Let the score move slower, or part the pixels between lines."
    )
    return [
        Finding(
            code="frames-too-fast", severity="note", stage="motion", text=text, measured=round(hz, 2), allowed=USUAL_FPS,
            remedies=(Remedy("part the chain in two groups, each with a line of its own"),),
        )
    ]  # fmt: skip


def _too_brief(motion: Motion, lamps: Lamps) -> list[Finding]:
    """Light that is switched within a frame: a table has it in one frame or in none."""
    found = [(briefest(one, motion.feeds, lamps), one) for one in strips_of(motion)]
    brief = [(each.light_s, one) for each, one in found if each.flashes_hz > 0 and each.light_s < 1 / USUAL_FPS]
    if not brief:
        return []
    shortest_s, one = min(brief, key=lambda row: row[0])
    more = "" if len(brief) == 1 else f" {len(brief)} strips do."
    what = f"Strip {one.number} ({one.pattern})" if motion.score else f"The pattern “{one.pattern}”"
    text = (
        f"{what} switches light within {show_si(shortest_s, 's')}.{more} A table of {USUAL_FPS:g} frames a second loses it, or"
        f" draws it out to {1000 / USUAL_FPS:g} ms. Slow it down, or write it with {_enough(shortest_s)} frames a second."
    )
    return [
        Finding(
            code="briefer-than-a-frame", severity="note", stage="motion", text=text, measured=round(shortest_s, 5),
            allowed=1 / USUAL_FPS, count=len(brief), remedies=(Remedy("slow the strip down, or let it be lit for longer"),),
        )
    ]  # fmt: skip


def _enough(shortest_s: float) -> int:
    """Frames a second of which each is no longer than the briefest light."""
    return min(1000, 10 * math.ceil(0.1 / shortest_s - 1e-9))


def _steps(motion: Motion, lamps: Lamps, bits: int) -> list[Finding]:
    """Fades through dim light, where each step is seen."""
    dim = dim_below(bits)
    if not dim:
        return []
    times = one_round(motion, _MOMENTS)
    made = levels(motion, lamps, np.concatenate([times, times + 1 / USUAL_FPS]))
    now, then = made[:_MOMENTS], made[_MOMENTS:]
    # A fade goes a little way from frame to frame; what switches goes far.
    fading = (np.abs(now - then) > 1e-5) & (np.abs(now - then) < 0.1) & (np.minimum(now, then) < dim)
    share = float(fading.any(axis=2).mean()) if lamps.count else 0.0
    if share < _OFTEN:
        return []
    text = (
        f"{100 * share:.0f} % of the score fades through dim light, where {bits} bits go in steps that are seen: below"
        f" {100 * dim:.1f} % of full light, and the first step has a lightness of {first_step(bits):.1f}."
    )
    remedies = (Remedy("let it end a little above dark"), Remedy("have the program mix two levels, over 100 times a second"))
    return [
        Finding(
            code="fade-in-steps", severity="note", stage="motion", text=text, measured=round(first_step(bits), 2),
            allowed=SEEN_STEP, remedies=remedies,
        )
    ]  # fmt: skip


def _memory(motion: Motion, lamps: Lamps, drive: Drive, plan: DrivePlan) -> list[Finding]:
    """A table that the controller has no room for."""
    chip = chosen_controller(drive, plan.controller)
    if chip is None or not chip.memory_bytes:
        return []
    return [*_frame(lamps, drive, chip), *_table(motion, lamps, drive, chip)]


def _frame(lamps: Lamps, drive: Drive, chip: Controller) -> list[Finding]:
    """A frame that leaves no room to work in: half of the memory is for all else."""
    wants, room = frame_bytes(drive, lamps), chip.ram_bytes // 2
    if not room or wants <= room:
        return []
    text = (
        f"One frame of all lights takes {wants:,} bytes; the {chip.title} has {chip.ram_bytes:,} bytes to work in, half of them"
        " for its program."
    )
    return [
        Finding(
            code="frame-too-large", severity="note", stage="motion", text=text, measured=float(wants), allowed=float(room),
            remedies=(Remedy("choose a larger controller in Drive"),),
        )
    ]  # fmt: skip


def _table(motion: Motion, lamps: Lamps, drive: Drive, chip: Controller) -> list[Finding]:
    size = packed_size(drive, motion, lamps) or round(motion.seconds * USUAL_FPS * lamps.kinds.size)
    if size <= chip.memory_bytes:
        return []
    text = (
        f"The score is a table of {size:,} bytes at {USUAL_FPS:g} frames a second; the {chip.title} has {chip.memory_bytes:,}."
        " Its program has to work the light out, or the score has to be shorter."
    )
    return [
        Finding(
            code="table-too-large", severity="note", stage="motion", text=text, measured=float(size),
            allowed=float(chip.memory_bytes), remedies=(Remedy("choose a larger controller in Drive"),),
        )
    ]  # fmt: skip
