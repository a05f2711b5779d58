"""Rows of LEDs under slots that edge-lit sheets stand in: slots in a row, or round a middle."""

from __future__ import annotations

from collections.abc import Sequence

from ...project import Param, Slots
from .drawing import corner_to_corner
from .kind import (
    COUNT,
    MIDDLE,
    PITCH,
    PLACED,
    TURNED,
    Kind,
    LightPaths,
    Spot,
    Values,
    about_middle,
    in_the_middle,
    middle_handle,
)


def slots_spots(array: Slots, paths: LightPaths | None = None) -> list[Spot]:
    """Slot by slot, in each from one end to the other.

    In a row the slots lie side by side, across their length; round a middle each lies along its ray.
    """
    out = []
    for slot in range(array.slots):
        if array.layout == "round":
            turn = array.angle_deg - 360 * slot / array.slots
            out_mm, across_mm = array.spacing_mm, 0.0
        else:
            turn = array.angle_deg
            out_mm, across_mm = 0.0, ((array.slots - 1) / 2 - slot) * array.spacing_mm
        for place in range(array.per_slot):
            along = out_mm + (place - (array.per_slot - 1) / 2) * array.pitch_mm
            out.append((*about_middle(array, along, across_mm, turn), turn))
    return out


def _drawn(array: Slots, drawn: Sequence[tuple[float, float]]) -> Values:
    """Corner to corner: the slots and what is under each are spread over that; round a middle, out to the far LED."""
    values, size = corner_to_corner(array, drawn)
    if size is None:
        return values
    wide, high = size
    if array.layout == "round":
        reach = min(wide, high) / 2
        return {**values, "spacing_mm": round(max(0.5, reach - (array.per_slot - 1) / 2 * array.pitch_mm), 2)}
    if array.per_slot > 1:
        values["pitch_mm"] = round(max(0.2, wide / (array.per_slot - 1)), 2)
    if array.slots > 1:
        values["spacing_mm"] = round(max(0.5, high / (array.slots - 1)), 2)
    return {**values, "angle_deg": 0.0}


SLOTS = Kind(
    Slots,
    "under slots",
    "Under slots of edge-lit sheets",
    "Under slots “{array}”",
    "Rows of LEDs under slots that edge-lit sheets stand in.",
    {
        "slots": COUNT(title="slots"),
        "per_slot": COUNT(title="LEDs under each"),
        "pitch_mm": PITCH(title="spacing under a slot"),
        "layout": Param("choice", choices=("row", "round"), title="slots lie"),
        "spacing_mm": Param("quantity", "mm", 0.5, 500, title="slot to slot, or from the middle", step=0.5),
        **TURNED,
        **MIDDLE,
    },
    PLACED,
    slots_spots,
    middle_handle,
    lambda size: {**in_the_middle(size), "pitch_mm": round(size[0] * 0.12, 1)},
    drawn=_drawn,
)
