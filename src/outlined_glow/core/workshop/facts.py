"""What `info` and the ledger say: figures of one work, ready to be shown or printed as JSON."""

from __future__ import annotations

import itertools
import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import shapely
from msgspec.structs import replace

from ..artwork import Chosen, Drawing, Raster
from ..artwork.raster import pixels_are_drawn
from ..artwork.raster.tones import cell_mm
from ..brief import brief_price
from ..brief.price import over_step
from ..colour.materials import laminate_density
from ..drive.methods import method
from ..geometry.narrow.places import thinnest
from ..lights import Led
from ..motion import average_share, peak_share
from ..motion.score import current_shares, one_round
from ..parts import PlacedPart
from ..project import Finding, plain
from ..shape import RoundHole
from ..stages import stages
from ..units import show
from .artwork_passes import tone_rules_of
from .drive_facts import lit_words, run_of, truly_shown
from .motion_facts import motion_facts
from .work import Work

#: Corners that are measured while somebody looks.
_QUICK_CORNERS = 20_000
#: Widths above this are not measured: no rule asks for more.
THINNEST_MM = 0.6


def severities(findings: Sequence[Finding]) -> dict[str, int]:
    """How many findings there are of each severity."""
    count = Counter(finding.severity for finding in findings)
    return {"stops": count["stop"], "warnings": count["warning"], "notes": count["note"]}


def currents(work: Work) -> tuple[float, float, float]:
    """The current with all LEDs lit that are lit at once, on average and at its peak, A: the last two are the pattern's."""
    motion, plan = work.project.motion, work.plan
    shares = (plan.at_once, average_share(motion, work.lamps), peak_share(motion, work.lamps))
    total, average, peak = (plan.current_a * share + plan.standing_a for share in shares)
    return total, average, peak


def hours(work: Work) -> tuple[float | None, float | None]:
    """Run time, and with a pattern that is only previewed (None without one, or when it does not end)."""
    run, wish = run_of(work), work.values["pattern run"]
    return run.hours if run else None, wish.hours if wish else None


def current_curve(work: Work, samples: int = 49) -> list[float]:
    """The share of the full current over all that plays, ends included."""
    motion = work.project.motion
    shares: list[float] = current_shares(motion, work.lamps, one_round(motion, samples, ends=True)).tolist()
    return shares


def array_spacing(work: Work, array: str) -> tuple[int, float | None, float | None]:
    """How many LEDs an array has; the least distance between neighbours in its chain, and of a middle from the edge of
    the board, mm."""
    mine = [led for led in work.leds if led.array == array]
    gaps = [math.hypot(a.x - b.x, a.y - b.y) for a, b in itertools.pairwise(mine)]
    edge = shapely.boundary(work.outline.region)
    far = [float(shapely.distance(shapely.Point(led.x, led.y), edge)) for led in mine]
    return len(mine), min(gaps) if gaps else None, min(far) if far else None


def light_of_each(work: Work, array: str) -> tuple[float, float, float] | None:
    """Forward voltage (V), current (A) and intensity (mcd) of each LED of an array, all LEDs on; None without LEDs."""
    led = next((led for led in work.leds if led.array == array), None)
    if led is None:
        return None
    spots = [spot for spot in work.board.lights if spot.index == led.index]
    light = led.kind.lights[0]
    branch = work.plan.branch_of(led.index, light.name)
    volts = light.forward_v[1] if branch is None else branch.forward_v
    return volts, sum(spot.current_a for spot in spots), sum(spot.mcd for spot in spots)


#: State of a stage: nothing yet, no warnings, has warnings, stops the order.
NOTHING, GOOD, LOOK, STOP = "dark", "lit", "half", "broken"


def shown_truly(work: Work) -> bool:
    """Whether the LEDs as they are driven can show the motion; otherwise it is a preview."""
    return truly_shown(work)


def stage_states(work: Work, findings: Sequence[Finding]) -> dict[str, str]:
    """How each stage stands: stopped by a stop, half by a warning; stages about LEDs are dark without any."""
    states = {one.key: NOTHING if one.about_leds and not work.leds else GOOD for one in stages()}
    for one in reversed(findings):
        if one.severity != "note" and one.stage in states:
            states[one.stage] = STOP if one.severity == "stop" else LOOK
    if any(one.severity == "stop" for one in findings) and "order" in states:
        states["order"] = STOP
    return states


def info(work: Work, findings: Sequence[Finding]) -> dict[str, Any]:
    """Everything about a project as plain values (`info --json`)."""
    board, brief = work.board, work.brief
    price = brief_price(brief, board.size, board.edge_copper)
    steady, wish = hours(work)
    return {
        "name": work.project.name,
        "edited": work.project.edited,
        "size_mm": [round(value, 3) for value in board.size],
        "stack": plain(brief.stack),
        "profile": brief.profile,
        "pieces": brief.pieces,
        "outline": {
            "area_mm2": round(board.layer("core").area, 4),
            "perimeter_mm": round(board.outline.length, 4),
            "holes": len(board.outline.interiors) + len(board.holes),
        },
        "holes": [_hole(hole) for hole in board.holes],
        "swatches": [_swatch(one) for one in work.art.chosen],
        "leds": [led_row(work, led) for led in work.leds],
        "parts": [_part(part) for part in board.parts],
        "drive": _drive(work),
        "motion": {**plain(work.project.motion), "wish": not shown_truly(work), **motion_facts(work)},
        "run_time_h": steady,
        "run_time_wish_h": wish,
        "price": {"boards": price.boards, "each": price.each, "pieces": price.pieces},
        "findings": severities(findings),
    }


def _hole(hole: RoundHole) -> dict[str, Any]:
    return {"x_mm": round(hole.x, 4), "y_mm": round(hole.y, 4), "diameter_mm": hole.diameter, "plated": hole.plated}


def thinnest_mm(one: Chosen) -> float:
    """The width of a swatch's thinnest feature, mm; what is no thinner than any rule asks for is not measured further."""
    return thinnest(one.region, THINNEST_MM)


def thinnest_words(width_mm: float) -> str:
    """A thinnest width as it is said: what is no thinner than any rule asks for is not measured further."""
    if width_mm >= THINNEST_MM:
        return f"{THINNEST_MM:g} mm or more"
    return "under 0.01 mm" if width_mm < 0.01 else f"{width_mm:.2f} mm"


def is_measured(one: Chosen) -> bool:
    """Whether that is quickly done: it is not for the thousands of dots of a tone."""
    return int(shapely.get_num_coordinates(one.region)) <= _QUICK_CORNERS


def _swatch(one: Chosen) -> dict[str, Any]:
    return {
        "colour": one.colour,
        "side": one.side,
        "appearance": one.appearance,
        "by_hand": one.by_hand,
        "difference": round(one.difference, 2),
        "area_mm2": round(one.region.area, 4),
        "thinnest_mm": thinnest_mm(one),
    }


def led_row(work: Work, led: Led) -> dict[str, Any]:
    """An LED as it is told."""
    left, bottom = work.outline.origin
    place = {"x_mm": round(led.x - left, 4), "y_mm": round(led.y - bottom, 4), "angle_deg": round(led.angle_deg, 3)}
    return {"index": led.index, **place, "side": led.side, "emitter": led.emitter, "group": led.group}


def _part(part: PlacedPart) -> dict[str, Any]:
    place = {"x_mm": round(part.x, 4), "y_mm": round(part.y, 4), "angle_deg": round(part.angle_deg % 360, 3)}
    return {"reference": part.ref, "value": part.value, **place, "side": part.side}


def _drive(work: Work) -> dict[str, Any]:
    plan = work.plan
    total, average, peak = currents(work)
    return {
        "method": method(plan.method).title,
        "supply": plan.supply.name,
        "cells": plan.cells,
        "supply_v": round(plan.supply_v, 5),
        "current_a": total,
        "peak_a": peak,
        "average_a": average,
        "groups": [
            {
                "emitter": branch.emitter.name,
                "light": branch.light.name,
                "lights": len(branch.indices),
                "resistor_ohm": branch.resistor_ohm,
                "ideal_ohm": branch.ideal_ohm,
                "current_min_a": branch.current_min_a,
                "current_a": branch.current_a,
                "current_max_a": branch.current_max_a,
                "resistor_power_w": branch.power_w,
            }
            for branch in plan.branches
        ],
    }


@dataclass(frozen=True)
class PictureFacts:
    """What the window tells of one picture: its middle (picture frame), height, fineness and what tones it can have."""

    x_mm: float
    y_mm: float
    height_mm: float
    raster: bool
    shaded: bool
    fineness: str
    judgement: str
    dot_mm: float
    ruling_per_cm: float
    tone_words: str


def picture_facts(work: Work, which: int) -> PictureFacts:
    """The facts of a picture of the board, counted from 1."""
    picture = work.design.artwork.pictures[which - 1]
    source, placed = work.pictures[which - 1]
    rules, tones = work.board.profile, picture.tones
    whole = placed.silhouette if not placed.silhouette.is_empty else placed.behind
    left, bottom, right, top = whole.bounds
    raster = isinstance(source, Raster)
    dot = tones.dot_mm or tone_rules_of(work.board.materials, rules).dot_mm
    fineness, judgement = "vector: no pixel limit", ""
    if isinstance(source, Raster):
        per_mm = source.size_px[0] / picture.width_mm if tones.ground == "keep" else source.page[0] / picture.width_mm
        needed = 2 / max(rules.track_mm, rules.legend_line_mm)
        clear = None if source.solid is None else source.solid < 128
        squares = tones.how == "flat" and pixels_are_drawn(source.pixels, clear, 1 / per_mm)
        fineness = f"{per_mm:.3g} dots/mm" + (", squares" if squares else "" if per_mm >= needed else ", coarse")
        judgement = f"The finest line of the {rules.title} profile needs {needed:.0f} dots/mm."
    words = ""
    if tones.how == "screen":
        words = (
            f"Dots from {dot:g} mm; never finer than {10 / cell_mm(replace(tones, ruling_per_cm=None), dot):.1f} lines/cm here."
        )
    elif tones.how == "diffuse":
        words = f"Square dots of {dot:g} mm, of the appearances the board has."
    shaded = isinstance(source, Drawing) and source.shaded
    middle = ((left + right) / 2, (bottom + top) / 2)
    ruling = 10 / cell_mm(tones, dot)
    return PictureFacts(*middle, placed.size[1], raster, shaded, fineness, judgement, dot, ruling, words)


def grams(work: Work, thickness_mm: float) -> float:
    """What the bare board weighs, g."""
    return float(work.board.layer("core").area * thickness_mm / 1000 * laminate_density())


def step_words(work: Work) -> str:
    """Where the board stands on the price stair."""
    if work.board.profile.at_home:
        return "made at home"
    step = over_step(work.brief, work.board.size)
    box = "90 × 120 mm"
    return f"{box}: {step[0]:.1f} mm too large, costs {step[1]:.2f} credits more per order" if step else f"{box}: fits"


def every_word(work: Work) -> list[tuple[str, int]]:
    """Every word on the board as it is read, and its number among those added by hand (0 for others)."""
    artwork = work.design.artwork
    out = [(f"{one.text}{'  · back' if one.side == 'back' else ''}", number) for number, one in enumerate(artwork.words, 1)]
    for picture, (source, _) in zip(artwork.pictures, work.pictures, strict=True):
        if isinstance(source, Drawing):
            out += [(f"{words.text}  · in {picture.name}", 0) for words in source.words]
    if work.board.parts and not work.board.layer("back legend").is_empty:
        out.append((f"{work.project.name}  · back, the board's name", 0))
        labels = [f"{part.ref} {part.value}" for part in work.board.parts if part.side == "back" and not part.part.shines]
        out.append((f"{len(labels)} part labels  · back", 0))
    return out


def hours_words(hours: float) -> str:
    """A run time, rounded the same way wherever it stands: hours, and what is less in minutes.

    >>> hours_words(120.4), hours_words(3.26), hours_words(0.018)
    ('120 h', '3.3 h', '1.1 min')
    """
    return f"{show(hours, 0 if hours >= 20 else 1)} h" if hours >= 1 else f"{show(hours * 60, 1)} min"


def battery_words(work: Work) -> str:
    """How long the cells last: one wording, wherever it stands."""
    if not work.leds:
        return "no LEDs"
    if work.plan.current_a <= 0:
        return "LEDs do not light"
    run = run_of(work)
    if run is None:
        return "no limit on USB" if work.plan.supply.name == "usb" else "no limit"
    return hours_words(run.hours)


def battery_means(work: Work) -> str:
    """What a battery life is worked out with; with that of a pattern that is only previewed, where it is another one."""
    if truly_shown(work) and not work.project.motion.is_full:
        return "with the light that plays"
    lit = lit_words(work) if work.plan.average == 1.0 else "as the circuit lights the LEDs"
    return f"{lit}; {pattern_hours_words(work) or 'the same with the pattern'}"


def pattern_hours_words(work: Work) -> str:
    """How long they would last with the pattern; "" where that is the same, or there is no end."""
    _, wish = hours(work)
    if wish is None:
        return ""
    return f"{hours_words(wish)} with the pattern (a preview)"


def balance_words(work: Work) -> str:
    """How bright the kinds of LEDs are beside one another; "" for one kind."""
    bright: dict[str, float] = {}
    for branch in work.plan.branches:
        if branch.resistor_ohm is not None:
            bright[branch.title] = branch.light.mcd * branch.current_a / branch.light.forward_a
    if len(bright) < 2:
        return ""
    rows = [f"{name} {show(mcd, 1)} mcd" for name, mcd in sorted(bright.items(), key=lambda row: -row[1])]
    apart = max(bright.values()) / min(bright.values())
    told = f"the brightest is {show(apart, 1)} times as bright as the dimmest" if apart > 1.15 else "about equally bright"
    return f"{', '.join(rows)}: {told}."


def limit_words(work: Work) -> dict[str, str]:
    """What the board has of each thing that a brief may limit."""
    board, brief = work.board, work.brief
    price = brief_price(brief, board.size, board.edge_copper)
    days = board.profile.days_make + board.profile.days_arrive
    return {
        "width_mm": f"{board.size[0]:.1f} mm",
        "height_mm": f"{board.size[1]:.1f} mm",
        "tall_mm": f"{max((max(one.part.height_mm, one.part.behind_mm) for one in board.parts), default=0.0):.1f} mm",
        "each": f"{price.each:.2f}",
        "run_time_h": battery_words(work),
        "ready_by": f"{days} days" if days else "made at home",
    }
