"""The edits of the wiring."""

from __future__ import annotations

from typing import Any, get_args

import msgspec

from ..errors import Trouble
from ..project import Anew, Design, DrawnTrack, Param, PartPlace, Pour, board_edit
from ..project.numbered import exchanged, numbered
from ..project.wiring import Front, Style
from ..text_safety import short

_SIDES = ("front", "back")
_FRONTS = (("clean", "where nothing else goes"), ("few", "few"), ("free", "as on the back"))
_STYLES = (("straight", "straight"), ("rounded", "rounded"))
_NET = Param("text", optional=False, title="net")
_NUMBER = Param("count", "", 1, 20_000, optional=False)


def _with(design: Design, **changes: Any) -> Design:
    return msgspec.structs.replace(design, wiring=msgspec.structs.replace(design.wiring, **changes))


@board_edit(
    "wire",
    "Draw the tracks",
    nets=Param("names", title="only these nets"),
    front=Param("choice", choices=get_args(Front), title="tracks in front", titles=_FRONTS),
    style=Param("choice", choices=get_args(Style), title="lines", titles=_STYLES),
    seed=Param("count", "", 0, 1_000_000, title="seed"),
)
def wire(
    design: Design,
    *,
    nets: tuple[str, ...] | None = None,
    front: str | None = None,
    style: str | None = None,
    seed: int | None = None,
) -> Design:
    """Draw tracks for all nets, or for some; what is right of those that are there stays."""
    told = {"front": front, "style": style, "seed": seed}
    chosen = {key: value for key, value in told.items() if value is not None}
    return _with(design, made=True, nets=nets or (), **chosen)


@board_edit("rewire", "Draw {net} anew", net=_NET)
def rewire(design: Design, *, net: str) -> Design:
    """Draw the tracks of a net from nothing."""
    times = {one.net: one.times for one in design.wiring.anew}
    times[net] = times.get(net, 0) + 1
    return _with(design, made=True, anew=tuple(Anew(net=name, times=count) for name, count in times.items()))


@board_edit("unwire", "Remove the tracks", all=Param("flag", title="those drawn by hand too"))
def unwire(design: Design, *, all: bool | None = None) -> Design:
    """Remove the tracks that were made; with all=yes those drawn by hand, the pours and the places of parts too."""
    if all:
        return _with(design, made=False, nets=(), tracks=(), pours=(), places=(), anew=())
    return _with(design, made=False, nets=())


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
    "track",
    "Track of {net}",
    net=_NET,
    layer=Param("choice", choices=_SIDES, optional=False, title="side"),
    width_mm=Param("quantity", "mm", 0.05, 20, title="width", shown="mm", step=0.05),
    points=Param("points", axis="xy", optional=False),
)
def track(
    design: Design, *, net: str, layer: str, points: tuple[tuple[float, float], ...], width_mm: float | None = None
) -> Design:
    """Draw a track by hand; tracks of a net that end in one place on both sides are joined by a via."""
    one = DrawnTrack(net=net, side=layer, width_mm=width_mm or 0.3, points=points)  # type: ignore[arg-type]
    return _with(design, tracks=(*design.wiring.tracks, one))


@board_edit("remove-track", "Remove track {number}", number=_NUMBER)
def remove_track(design: Design, *, number: int) -> Design:
    """Remove a track that was drawn by hand."""
    tracks = design.wiring.tracks
    numbered(tracks, number, "track drawn by hand")
    return _with(design, tracks=exchanged(tracks, number))


@board_edit(
    "pour",
    "Pour {net}",
    net=_NET,
    side=Param("choice", choices=_SIDES, title="side"),
    style=Param("choice", choices=("solid", "hatched", "none"), title="copper"),
)
def pour(design: Design, *, net: str, side: str | None = None, style: str | None = None) -> Design:
    """Fill a side with copper of a net wherever there is room (style=none: no longer)."""
    where = side or "back"
    before = next((one for one in design.wiring.pours if (one.net, one.side) == (net, where)), None)
    others = tuple(one for one in design.wiring.pours if one is not before)
    if style == "none":
        if before is None:
            raise Trouble(f"There is no pour of “{short(net)}” on the {where}.")
        return _with(design, pours=others)
    return _with(design, pours=(*others, Pour(net=net, side=where, style=style or "solid")))  # type: ignore[arg-type]
