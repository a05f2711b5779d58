"""Arrays to single LEDs, in the picture frame."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any
from weakref import WeakValueDictionary

from ..parts import Emitter, Library, shipped_library
from ..project import Array, Change, Fill, Finding, Remedy
from ..project.bounds import MOST_LEDS
from ..units import show
from .kinds import Kind, LightPaths, Spot, kind_of, spacing_of, too_many
from .numbers import Numbers

#: Spacings that differ by less are the same, mm.
_SAME_MM = 0.005


@dataclass(frozen=True)
class Led:
    """One LED: index from 1, place, angle (0: cathode toward −x), side, emitter, group.

    Which one it is, whatever else is edited, its array says and its `place` in that, counted from 1. An LED that is left
    out keeps its place and its index: no other is renumbered.
    """

    index: int
    x: float
    y: float
    angle_deg: float
    side: str
    kind: Emitter
    group: str
    array: str
    place: int = 1
    others: tuple[str, ...] = ()

    @property
    def groups(self) -> tuple[str, ...]:
        """Every group it is in, that of its array first; one in “wing/left” is in “wing” too."""
        named = (self.group, *self.others)
        over = (name.rsplit("/", levels)[0] for name in named for levels in range(1, name.count("/") + 1))
        return tuple(dict.fromkeys((*named, *over)))

    @property
    def emitter(self) -> str:
        """The name of what it is."""
        return self.kind.name


def place_leds(
    arrays: tuple[Array, ...], paths: LightPaths, known: Library | None = None, numbers: Numbers | None = None
) -> tuple[tuple[Led, ...], tuple[Finding, ...]]:
    """Every LED of every array; mirrored arrays repeat across the vertical middle of the picture, copies round its middle."""
    known = known or shipped_library()
    leds: list[Led] = []
    findings: list[Finding] = []
    numbers = numbers or Numbers(arrays, 0)
    for array in arrays:
        kind = kind_of(array)
        full = isinstance(array, Fill) and too_many(array, paths)
        spots = [] if full else kind.spots(array, paths)
        if not spots or len(leds) + len(spots) * array.copies > MOST_LEDS:
            findings.append(_too_many(array) if spots or full else _no_room(array, paths))
            continue
        strange = [name for name in _used(array) if name not in known.emitters]
        if strange:
            findings.append(_unknown(array, strange[0]))
            continue
        names = array.groups or (array.name,)
        changes = {one.place: one for one in array.changes}
        findings += _evened(array, paths)
        every = _with_copies(_with_mirror(spots, array.mirrored, paths.width), array.copies, paths.middle)
        for place, (index, (share, spot)) in enumerate(zip(numbers.of(array, len(every)), every, strict=True), 1):
            change = changes.get(place, _NOTHING)
            if not change.skipped:
                group = names[min(len(names) - 1, share * len(names) // len(spots))]
                used = known.emitters[change.emitter or array.emitter]
                leds.append(_led(index, _faced(spot, array, kind), array, used, change, group, place))
    return tuple(leds), tuple(findings)


_NOTHING = Change(place=1)


def _faced(spot: Spot, array: Array, kind: Kind) -> Spot:
    """A place with the way its LED faces there."""
    x, y, along = spot
    ways = {"along": along, "outward": along + kind.outward(array), "alike": 0.0}
    return x, y, ways[array.facing] + array.turn_deg


def _used(array: Array) -> list[str]:
    return [array.emitter, *(one.emitter for one in array.changes if one.emitter)]


def _led(index: int, spot: Spot, array: Array, used: Emitter, change: Change, group: str, place: int) -> Led:
    x, y, angle = spot
    usual = "back" if used.reverse else "front"
    side = usual if array.side == "usual" else array.side
    x, y, angle = x + change.dx_mm, y + change.dy_mm, angle + change.turn_deg
    others = tuple(name for name in change.groups if name != group)
    key = (index, x + 0.0, y + 0.0, angle % 360 + 0.0, side, id(used), group, array.name, place, others)
    found = _LEDS.get(key)
    if found is None:
        found = _LEDS[key] = Led(*key[:5], used, *key[6:])
    return found


#: LEDs that somebody holds, by all that they are: one that an edit leaves alone stays the same object. No zero has a sign.
_LEDS: WeakValueDictionary[tuple[Any, ...], Led] = WeakValueDictionary()


def _with_mirror(spots: list[Spot], mirrored: bool, width: float) -> list[tuple[int, Spot]]:
    """Each spot with its place in the array, then the mirrored ones that do not fall on another."""
    out = list(enumerate(spots))
    if mirrored:
        for share, (x, y, angle) in enumerate(spots):
            there = (width - x, y, 180 - angle)
            if all(math.hypot(there[0] - one[0], there[1] - one[1]) > 0.05 for one in spots):
                out.append((share, there))
    return out


def _with_copies(every: list[tuple[int, Spot]], copies: int, middle: tuple[float, float]) -> list[tuple[int, Spot]]:
    """Each place, then all of them turned about a middle, once for each further copy."""
    out = list(every)
    for copy in range(1, copies):
        turn = 360.0 * copy / copies
        cosine, sine = math.cos(math.radians(turn)), math.sin(math.radians(turn))
        for share, (x, y, angle) in every:
            dx, dy = x - middle[0], y - middle[1]
            if math.hypot(dx, dy) > _SAME_MM * 10:  # what lies in the middle lies there once
                out.append((share, (middle[0] + dx * cosine - dy * sine, middle[1] + dx * sine + dy * cosine, angle + turn)))
    return out


def _evened(array: Array, paths: LightPaths) -> list[Finding]:
    """A note where a pitch does not go into a closed course: its LEDs stand a little nearer or farther."""
    now = spacing_of(array, paths)
    wanted = getattr(array, "pitch_mm", None)
    if not now or wanted is None or abs(now["pitch_mm"] - wanted) < _SAME_MM:
        return []
    text = f"The LEDs of “{array.name}” are {show(now['pitch_mm'], 2)} mm apart, not {show(wanted, 2)} mm: "
    text += f"so {now['count']} of them go round evenly."
    return [Finding(code="pitch-evened", severity="note", stage="lights", text=text)]


def _no_room(array: Array, paths: LightPaths) -> Finding:
    path = getattr(array, "path", "")
    text = f"The array “{array.name}” does not fit {kind_of(array).no_room}."
    if path and not paths.has(path):
        text = f"The array “{array.name}” goes by “{path}”, which the picture does not have. Choose another contour or region."
    return Finding(code="array-without-room", severity="stop", stage="lights", text=text)


def _unknown(array: Array, name: str) -> Finding:
    return Finding(
        code="part-missing",
        severity="stop",
        stage="lights",
        text=f"The array “{array.name}” uses the LED “{name}”, which neither the library nor this project has. Add its part "
        "file, or choose another LED.",
        remedies=(Remedy("remove the array", "remove-array", (("array", array.name),)),),
    )


def _too_many(array: Array) -> Finding:
    return Finding(
        code="too-many-leds",
        severity="stop",
        stage="lights",
        text=f"The array “{array.name}” would be beyond the {MOST_LEDS:,} LEDs that a board takes. Space its LEDs wider.",
        remedies=(Remedy("remove the array", "remove-array", (("array", array.name),)),),
    )
