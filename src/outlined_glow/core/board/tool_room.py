"""Whether an iron gets at every pad that is soldered by hand, once all that is soldered before stands on the board.

Low parts are soldered before tall ones (DOMAIN 14), so only what is no taller than a part can be in its way. The iron comes
aslant, at 45 degrees, from any side: what stands farther from a pad than it is high leaves room for it.
"""

from __future__ import annotations

from collections import defaultdict
from math import cos, radians, sin
from operator import attrgetter
from typing import NamedTuple

import shapely
from shapely.geometry import Polygon

from ..geometry.regions import box_at
from ..parts import PlacedPad, PlacedPart
from ..passes import Pass
from ..project import Finding, PartPlace, Remedy
from ..units import show

#: The iron passes over what is lower than this; so wide is the way that it needs; from so many sides it is tried, mm.
_LOW_MM, _TIP_MM, _SIDES = 1.5, 1.6, 12
#: Nothing is taken for higher than this: the handle is beyond, mm.
_HIGH_MM = 25.0
#: Tools that solder parts which lie on their pads without an iron.
_WITHOUT_IRON = {"hot plate", "hot air", "oven"}


class _Body(NamedTuple):
    """What stands on a side: its ground, how high it is there, and when it gets there, by the height of its part."""

    part: PlacedPart
    ground: Polygon
    high: float
    turn: float


class _Shut(NamedTuple):
    """A pad that no iron gets at, and the parts that stand round it."""

    pad: PlacedPad
    part: PlacedPart
    round: tuple[PlacedPart, ...]


def tool_room_findings(parts: tuple[PlacedPart, ...], tools: tuple[str, ...], by_hand: tuple[PartPlace, ...]) -> list[Finding]:
    """A warning where pads that are to be soldered by hand cannot be reached. Board frame."""
    reflow = bool(_WITHOUT_IRON & set(tools))
    shut = [one for side in ("front", "back") for one in _shut_on(side, parts, reflow)]
    if not shut:
        return []
    first = shut[0]
    names = " and ".join(part.ref for part in first.round[:2])
    high = max(max(part.part.height_mm, part.part.behind_mm) for part in first.round)
    more = f", nor {len(shut) - 1} more" if len(shut) > 1 else ""
    text = (
        f"An iron does not reach pin {first.pad.pin} of {first.part.ref}{more}: {names}, up to {show(high, 1)} mm high, "
        f"{'stands' if ' and ' not in names else 'stand'} too near it on all sides. Move them apart."
    )
    placed = {one.part for one in by_hand}
    moved = next((one.ref for one in (first.part, *first.round) if one.ref in placed), None)
    free = (Remedy(f"let {moved} find its place", "free-part", (("part", moved),)),) if moved is not None else ()
    return [
        Finding(
            code="no-tool-room", severity="warning", stage="wiring", text=text, x_mm=first.pad.x, y_mm=first.pad.y,
            layer=f"{first.pad.side} copper", remedies=(*free, Remedy("move them apart")), count=len(shut),
            places=tuple((one.pad.x, one.pad.y) for one in shut),
        )
    ]  # fmt: skip


def _shut_on(side: str, parts: tuple[PlacedPart, ...], reflow: bool) -> list[_Shut]:
    """The pads on a side that no iron gets at."""
    bodies = [body for body in (_body(part, side) for part in parts) if body is not None]
    pads = [(pad, part) for part in parts if _by_iron(part, reflow) for pad in _soldered(part) if pad.side == side]
    if not bodies or not pads:
        return []
    # The way of an iron from a side leads as far over the board as a body there is high.
    reaches = [shapely.box(*body.ground.buffer(body.high, cap_style="square").bounds) for body in bodies]
    which, near = shapely.STRtree(reaches).query([pad.polygon for pad, _ in pads], predicate="intersects")
    round_pad: defaultdict[int, list[_Body]] = defaultdict(list)
    for at, body in zip(which.tolist(), near.tolist(), strict=True):
        pad, part = pads[at]
        own = bodies[body].part is part
        if bodies[body].turn <= _turn(part) and not (own and bodies[body].ground.contains(pad.polygon)):
            round_pad[at].append(bodies[body])
    shut = []
    for at, some in sorted(round_pad.items()):
        pad, part = pads[at]
        if all(one.part is part for one in some):
            continue  # beside itself a part leaves room
        open_at = _open_part(pad, some, part)
        stands = [next((one.part for one in some if _in_the_way(pad, open_at, one, turn)), None) for turn in range(_SIDES)]
        if all(stands):
            others = dict.fromkeys(one for one in stands if one is not None and one is not part)
            shut.append(_Shut(pad, part, tuple(others) or (part,)))
    return shut


def _open_part(pad: PlacedPad, bodies: list[_Body], part: PlacedPart) -> tuple[float, float]:
    """The middle of what its own body leaves open of a pad."""
    own = next((body.ground for body in bodies if body.part is part), None)
    middle = (pad.polygon if own is None else pad.polygon.difference(own)).centroid
    return middle.x, middle.y


def _in_the_way(pad: PlacedPad, at: tuple[float, float], body: _Body, turn: int) -> bool:
    """Whether a body stands in the way by which an iron comes to a place of a pad from one of the sides."""
    angle = 360.0 / _SIDES * turn
    long = min(pad.width, pad.height) / 2 + body.high
    x, y = (value + long / 2 * part for value, part in zip(at, (cos(radians(angle)), sin(radians(angle))), strict=True))
    return bool(box_at(x, y, long, _TIP_MM, angle).intersects(body.ground))


def _turn(part: PlacedPart) -> float:
    """When a part is soldered: low ones come first."""
    return max(part.part.height_mm, part.part.behind_mm)


def _body(part: PlacedPart, side: str) -> _Body | None:
    """What a part has standing on a side, if an iron does not pass over it; leads on the other side are nothing."""
    leads = any(pad.drill_mm for pad in part.part.pads)
    high = part.part.height_mm if part.side == side else 0.0 if leads else part.part.behind_mm
    if high < _LOW_MM:
        return None
    ground = box_at(part.x, part.y, *part.part.body_mm, part.angle_deg)
    return _Body(part, ground, min(high, _HIGH_MM), _turn(part))


def _by_iron(part: PlacedPart, reflow: bool) -> bool:
    """Whether a part is soldered with an iron: what has leads is, what lies on its pads where nothing else is at hand."""
    if part.part.solder == "reflow":
        return False
    return part.part.solder == "by hand" or not reflow or any(pad.drill_mm for pad in part.part.pads)


def _soldered(part: PlacedPart) -> list[PlacedPad]:
    """The pads where a part is soldered: leads on the side that its body is not on."""
    return [pad for pad in part.pads() if not pad.drill_mm or pad.side != part.side]


CHECKS = (
    Pass("tools", ("brief",), attrgetter("tools")),
    Pass("tool room check", ("placements", "tools", "by hand"), tool_room_findings),
)
