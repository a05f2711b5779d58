"""What `info` and the ledger say: figures of one work, ready to be shown or printed as JSON."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

from ..brief import price_of
from ..geometry.thin import thinnest
from ..motion.pattern import average_level, peak_level, truth_of
from ..project import Finding
from .compile import Work


def severities(findings: Sequence[Finding]) -> dict[str, int]:
    """How many findings there are of each severity."""
    count = Counter(finding.severity for finding in findings)
    return {"stops": count["stop"], "warnings": count["warning"], "notes": count["note"]}


def currents(work: Work) -> tuple[float, float, float]:
    """All lit, average and peak current of the board, A: the average and the peak are the pattern's."""
    motion, count = work.project.motion, len(work.leds)
    total = work.plan.current_a
    return total, total * average_level(motion, count), total * peak_level(motion, count)


def hours(work: Work) -> tuple[float | None, float | None]:
    """Run time steady, and for the pattern wished for (None when it is no wish, or does not end)."""
    steady = work.plan.steady.hours if work.plan.steady else None
    if truth_of(work.project.motion) or steady is None:
        return steady, None
    wish = work.plan.hours(average_level(work.project.motion, len(work.leds)))
    return steady, wish.hours if wish else None


def info(work: Work, findings: Sequence[Finding]) -> dict[str, Any]:
    """Everything about a project as plain values (DESIGN 6, `info --json`)."""
    board, plan, brief = work.board, work.plan, work.project.brief
    price = price_of(board.size, brief.stack, brief.pieces, brief.profile)
    total, average, peak = currents(work)
    steady, wish = hours(work)
    return {
        "name": work.project.name,
        "edited": work.project.edited,
        "size_mm": [round(value, 3) for value in board.size],
        "stack": {
            "thickness_mm": brief.stack.thickness_mm,
            "mask": brief.stack.mask,
            "finish": brief.stack.finish,
            "ink": brief.stack.ink,
        },
        "profile": brief.profile,
        "pieces": brief.pieces,
        "outline": {
            "area_mm2": round(board.layer("core").area, 4),
            "perimeter_mm": round(board.outline.length, 4),
            "holes": len(board.outline.interiors) + len(board.holes),
        },
        "holes": [
            {"x_mm": round(h.x, 4), "y_mm": round(h.y, 4), "diameter_mm": h.diameter, "plated": h.plated} for h in board.holes
        ],
        "swatches": [
            {
                "colour": one.colour,
                "appearance": one.appearance,
                "by_hand": one.by_hand,
                "difference": round(one.difference, 2),
                "area_mm2": round(one.region.area, 4),
                "thinnest_mm": thinnest(one.region, 0.6),
            }
            for one in work.art.chosen
        ],
        "leds": [
            {
                "index": spot.index,
                "x_mm": round(spot.x, 4),
                "y_mm": round(spot.y, 4),
                "angle_deg": round(spot.angle_deg, 3),
                "side": spot.side,
                "emitter": spot.emitter,
                "group": spot.group,
            }
            for spot in board.lights
        ],
        "parts": [
            {
                "reference": part.ref,
                "value": part.value,
                "x_mm": round(part.x, 4),
                "y_mm": round(part.y, 4),
                "angle_deg": round(part.angle_deg % 360, 3),
                "side": part.side,
            }
            for part in board.parts
        ],
        "drive": {
            "method": "one resistor each",
            "supply": plan.supply.name,
            "cells": plan.cells,
            "supply_v": round(plan.supply_v, 5),
            "current_a": total,
            "peak_a": peak,
            "average_a": average,
            "groups": [
                {
                    "emitter": branch.emitter.name,
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
        },
        "motion": {
            "pattern": work.project.motion.pattern,
            "period_s": work.project.motion.period_s,
            "brightness": work.project.motion.brightness,
            "wish": not truth_of(work.project.motion),
        },
        "run_time_h": steady,
        "run_time_wish_h": wish,
        "price": {"boards": price.boards, "each": price.each, "pieces": price.pieces},
        "findings": severities(findings),
    }
