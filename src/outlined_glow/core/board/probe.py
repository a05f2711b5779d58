"""What lies at a place of the board."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Point

from ..appearances import title_of
from ..geometry.prepared import prepared
from ..parts import PlacedPart
from .model import Board


@lru_cache(maxsize=4)
def _parts_of(board: Board, side: str) -> tuple[list[PlacedPart], NDArray[np.float64], NDArray[np.float64]]:
    """The parts on a side, their places (n, 2), and how far from those they may reach: asked at every move of a pointer."""
    parts = [part for part in board.parts if part.side == side]
    places = np.array([(part.x, part.y) for part in parts], float).reshape(-1, 2)
    kinds = {id(part.part): part.part for part in parts}
    reach = {key: sum(kind.courtyard) for key, kind in kinds.items()}
    return parts, places, np.array([reach[id(part.part)] for part in parts], float)


def material_at(board: Board, side: str, x: float, y: float) -> str:
    """What one would touch there: a part, or an appearance; "" off the board."""
    point = Point(x, y)
    if not prepared(board.layer("core")).contains(point):
        return "hole" if board.outline.contains(point) else ""
    parts, places, reach = _parts_of(board, side)
    for at in np.flatnonzero(np.abs(places - (x, y)).sum(axis=1) < reach).tolist():
        part = parts[at]
        if part.court().contains(point):
            return f"LED {part.led}" if part.part.shines else part.ref
    on = {layer: prepared(board.layer(f"{side} {layer}")).contains(point) for layer in ("legend", "mask", "copper")}
    if on["legend"]:
        return title_of("ink")
    if on["mask"]:
        return title_of("metal" if on["copper"] else "window", board.profile.has_mask)
    if board.veiled.contains(point):
        return title_of("veiled")
    return title_of("raised" if on["copper"] else "mask")
