"""What lies at a place of the board."""

from __future__ import annotations

import shapely
from shapely.geometry import Point

from ..appearances import title_of
from .model import Board


def material_at(board: Board, side: str, x: float, y: float) -> str:
    """What one would touch there: a part, or an appearance; "" off the board."""
    point = Point(x, y)
    core = board.layer("core")
    shapely.prepare(core)
    if not core.contains(point):
        return "hole" if board.outline.contains(point) else ""
    for part in board.parts:
        near = part.side == side and abs(part.x - x) + abs(part.y - y) < sum(part.part.courtyard)
        if near and part.court().contains(point):
            return f"LED {part.led}" if part.part.shines else part.ref
    on = {}
    for layer in ("legend", "mask", "copper"):
        region = board.layer(f"{side} {layer}")
        shapely.prepare(region)
        on[layer] = region.contains(point)
    if on["legend"]:
        return title_of("ink")
    if on["mask"]:
        return title_of("metal" if on["copper"] else "window", board.profile.has_mask)
    if board.veiled.contains(point):
        return title_of("veiled")
    return title_of("raised" if on["copper"] else "mask")
