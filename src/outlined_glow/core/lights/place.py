"""Arrays to single LEDs, in the picture frame."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..parts import emitter
from ..project import Array, Finding
from .kinds import Silhouette, Spot, kind_of


@dataclass(frozen=True)
class Led:
    """One LED: index from 1, place, angle (0: cathode toward −x), side, emitter, group.

    Which one it is, whatever else is edited, its array says and its `place` in that, counted from 1.
    """

    index: int
    x: float
    y: float
    angle_deg: float
    side: str
    emitter: str
    group: str
    array: str
    place: int = 1


def place_leds(arrays: tuple[Array, ...], silhouette: Silhouette) -> tuple[tuple[Led, ...], tuple[Finding, ...]]:
    """Every LED of every array; mirrored arrays repeat across the vertical middle of the picture."""
    leds: list[Led] = []
    findings: list[Finding] = []
    for array in arrays:
        spots = kind_of(array).spots(array, silhouette.contours)
        if not spots:
            findings.append(_no_room(array))
            continue
        side = "back" if emitter(array.emitter).reverse else "front"
        names = array.groups or (array.name,)
        for place, (share, (x, y, angle)) in enumerate(_with_mirror(spots, array.mirrored, silhouette.width), 1):
            group = names[min(len(names) - 1, share * len(names) // len(spots))]
            leds.append(Led(len(leds) + 1, x, y, angle % 360, side, array.emitter, group, array.name, place))
    return tuple(leds), tuple(findings)


def chain_of(leds: tuple[Led, ...]) -> tuple[int, ...]:
    """The indices of the LEDs in the order in which they are chained: array by array, place by place."""
    return tuple(led.index for led in leds)


def _with_mirror(spots: list[Spot], mirrored: bool, width: float) -> list[tuple[int, Spot]]:
    """Each spot with its place in the array, then the mirrored ones that do not fall on another."""
    out = list(enumerate(spots))
    if mirrored:
        for share, (x, y, angle) in enumerate(spots):
            there = (width - x, y, 180 - angle)
            if all(math.hypot(there[0] - one[0], there[1] - one[1]) > 0.05 for one in spots):
                out.append((share, there))
    return out


def _no_room(array: Array) -> Finding:
    return Finding(
        code="array-without-room",
        severity="stop",
        stage="lights",
        text=f"The array “{array.name}” does not fit that far in from the silhouette; set it in less.",
    )
