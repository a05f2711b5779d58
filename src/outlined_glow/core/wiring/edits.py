"""The edits of the wiring."""

from __future__ import annotations

from typing import Any, get_args

import msgspec

from ..errors import Trouble
from ..project import Anew, Area, Design, Param, PartPlace, Pour, Wiring, board_edit
from ..project.wiring import Front, Style
from ..text_safety import short

_SIDES = ("front", "back")
_FRONTS = (("clean", "where nothing else goes"), ("few", "few"), ("free", "as on the back"))
_STYLES = (("straight", "straight"), ("rounded", "rounded"), ("flowing", "flowing"))
_NET = Param("text", optional=False, title="net")


def _with(design: Design, **changes: Any) -> Design:
    return msgspec.structs.replace(design, wiring=msgspec.structs.replace(design.wiring, **changes))


@board_edit(
    "wire",
    "Draw the tracks",
    nets=Param("names", title="only these nets"),
    front=Param("choice", choices=get_args(Front), title="tracks in front", titles=_FRONTS),
    style=Param("choice", choices=get_args(Style), title="lines", titles=_STYLES),
    seed=Param("count", "", 0, 1_000_000, title="seed"),
    teardrops=Param("flag", title="widen into pads"),
)
def wire(
    design: Design,
    *,
    nets: tuple[str, ...] | None = None,
    front: str | None = None,
    style: str | None = None,
    seed: int | None = None,
    teardrops: bool | None = None,
) -> Design:
    """Draw tracks for all nets, or for some; what is right of those that are there stays."""
    told = {"front": front, "style": style, "seed": seed, "teardrops": teardrops}
    chosen = {key: value for key, value in told.items() if value is not None}
    return _with(design, made=True, nets=nets or (), **chosen)


@board_edit(
    "rewire",
    "Draw tracks anew",
    net=Param("text", title="net"),
    area=Param("points", axis="xy"),
)
def rewire(design: Design, *, net: str | None = None, area: tuple[tuple[float, float], ...] | None = None) -> Design:
    """Draw the tracks of a net, or all that run through an area, from nothing; those of locked nets stay."""
    wiring = design.wiring
    if (net is None) == (area is None):
        raise Trouble("Give the net that is to be drawn anew, or the corners of an area.")
    if area is not None:
        if len(area) < 3:
            raise Trouble("An area has at least three corners.")
        return _with(design, made=True, areas=(*wiring.areas, Area(points=area)))
    assert net is not None
    times = {one.net: one.times for one in wiring.anew}
    times[net] = times.get(net, 0) + 1
    return _with(design, made=True, anew=tuple(Anew(net=name, times=count) for name, count in times.items()))


@board_edit("lock-net", "Lock the tracks of {net}", net=_NET, lock=Param("flag", title="locked"))
def lock_net(design: Design, *, net: str, lock: bool | None = None) -> Design:
    """Have the tracks of a net stay as they are, whatever comes; others make way (lock=no: no longer)."""
    others = tuple(one for one in design.wiring.locked if one != net)
    if lock is False and len(others) == len(design.wiring.locked):
        raise Trouble(f"The tracks of “{short(net)}” are not locked.")
    return _with(design, locked=others if lock is False else (*others, net))


@board_edit("unwire", "Remove the tracks", all=Param("flag", title="those drawn by hand too"))
def unwire(design: Design, *, all: bool | None = None) -> Design:
    """Remove the tracks that were made; with all=yes those drawn by hand, the pours and the places of parts too."""
    if all:
        return msgspec.structs.replace(design, wiring=Wiring(front=design.wiring.front, style=design.wiring.style))
    return _with(design, made=False, nets=(), areas=(), locked=())


@board_edit(
    "place-part",
    "Place {part}",
    part=Param("text", optional=False),
    x_mm=Param("quantity", "mm", -1e4, 1e4, axis="x", title="x", optional=False),
    y_mm=Param("quantity", "mm", -1e4, 1e4, axis="y", title="y", optional=False),
    angle_deg=Param("quantity", "deg", -360, 360, title="turned", step=15),
    side=Param("choice", choices=_SIDES, title="side"),
    lock=Param("flag", title="locked"),
)
def place_part(
    design: Design,
    *,
    part: str,
    x_mm: float,
    y_mm: float,
    angle_deg: float | None = None,
    side: str | None = None,
    lock: bool | None = None,
) -> Design:
    """Place a part of the drive by hand: it stays there while it fits, a locked one whatever comes."""
    places = {one.part: one for one in design.wiring.places}
    before = places.get(part, PartPlace(part=part, x_mm=x_mm, y_mm=y_mm))
    told = {"angle_deg": angle_deg, "side": side, "locked": lock}
    chosen = {key: value for key, value in told.items() if value is not None}
    places[part] = msgspec.structs.replace(before, x_mm=x_mm, y_mm=y_mm, **chosen)
    return _with(design, places=tuple(places.values()))


@board_edit("free-part", "Free {part}", part=Param("text", optional=False))
def free_part(design: Design, *, part: str) -> Design:
    """Have a part that was placed by hand find its place by itself again."""
    kept = tuple(one for one in design.wiring.places if one.part != part)
    if len(kept) == len(design.wiring.places):
        raise Trouble(f"“{short(part)}” was not placed by hand.")
    return _with(design, places=kept)


@board_edit(
    "pour",
    "Pour {net}",
    net=_NET,
    side=Param("choice", choices=_SIDES, title="side"),
    style=Param("choice", choices=("solid", "hatched", "none"), title="copper"),
    vias_mm=Param("quantity", "mm", 0, 100, title="a via every", shown="mm", step=1),
    art=Param("choice", choices=("leave", "join"), title="raised art", titles=(("leave", "keep off it"), ("join", "join it"))),
)
def pour(
    design: Design,
    *,
    net: str,
    side: str | None = None,
    style: str | None = None,
    vias_mm: float | None = None,
    art: str | None = None,
) -> Design:
    """Fill a side with copper of a net wherever there is room (style=none: no longer); `vias_mm` joins it to copper of the net
    on the other side (0: no longer), art=join makes raised art of the side part of it."""
    where = side or "back"
    before = next((one for one in design.wiring.pours if (one.net, one.side) == (net, where)), None)
    others = tuple(one for one in design.wiring.pours if one is not before)
    if style == "none":
        if before is None:
            raise Trouble(f"There is no pour of “{short(net)}” on the {where}.")
        return _with(design, pours=others)
    one = before or Pour(net=net, side=where)  # type: ignore[arg-type]
    told: dict[str, Any] = {"style": style, "vias_mm": vias_mm, "art": art}
    changes = {key: value for key, value in told.items() if value is not None}
    return _with(design, pours=(*others, msgspec.structs.replace(one, **changes)))
