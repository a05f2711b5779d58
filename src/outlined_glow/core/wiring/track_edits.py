"""The edits of tracks that are drawn by hand."""

from __future__ import annotations

from typing import Any

import msgspec

from ..project import Design, DrawnTrack, Param, board_edit
from ..project.numbered import exchanged, numbered

_NUMBER = Param("count", "", 1, 20_000, optional=False)
_SIDE = Param("choice", choices=("front", "back"), title="side")
_WIDTH = Param("quantity", "mm", 0.05, 20, title="width", shown="mm", step=0.05)
#: A track of no told width is so wide, mm.
_USUAL_MM = 0.3
_WHAT = "track drawn by hand"


def _with(design: Design, tracks: tuple[DrawnTrack, ...]) -> Design:
    return msgspec.structs.replace(design, wiring=msgspec.structs.replace(design.wiring, tracks=tracks))


@board_edit(
    "track",
    "Track of {net}",
    net=Param("text", optional=False, title="net"),
    layer=Param("choice", choices=("front", "back"), optional=False, title="side"),
    width_mm=_WIDTH,
    points=Param("points", axis="xy", optional=False),
)
def track(
    design: Design, *, net: str, layer: str, points: tuple[tuple[float, float], ...], width_mm: float | None = None
) -> Design:
    """Draw a track by hand; tracks of a net that end in one place on both sides are joined by a via."""
    one = DrawnTrack(net=net, side=layer, width_mm=width_mm or _USUAL_MM, points=points)  # type: ignore[arg-type]
    return _with(design, (*design.wiring.tracks, one))


@board_edit(
    "set-track",
    "Change track {number}",
    number=_NUMBER,
    layer=_SIDE,
    width_mm=_WIDTH,
    points=Param("points", axis="xy"),
)
def set_track(
    design: Design,
    *,
    number: int,
    layer: str | None = None,
    width_mm: float | None = None,
    points: tuple[tuple[float, float], ...] | None = None,
) -> Design:
    """Move a track that was drawn by hand, make it wider or narrower, or take it to the other side."""
    tracks = design.wiring.tracks
    told: dict[str, Any] = {"side": layer, "width_mm": width_mm, "points": points}
    changes = {key: value for key, value in told.items() if value is not None}
    changed = msgspec.structs.replace(numbered(tracks, number, _WHAT), **changes)
    return _with(design, exchanged(tracks, number, changed))


@board_edit("remove-track", "Remove track {number}", number=_NUMBER)
def remove_track(design: Design, *, number: int) -> Design:
    """Remove a track that was drawn by hand."""
    tracks = design.wiring.tracks
    numbered(tracks, number, _WHAT)
    return _with(design, exchanged(tracks, number))
