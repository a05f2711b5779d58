"""Pieces that hang on nothing."""

from __future__ import annotations

from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.offset import grow
from ..project import Finding, Remedy


def loose_island(piece: Polygon, board: Polygon, cuts: BaseGeometry) -> Finding:
    """A loose piece, whether it was cut free or drawn apart from the rest."""
    spot = piece.representative_point()
    gap = piece.distance(board)
    here = (("x_mm", round(spot.x, 3)), ("y_mm", round(spot.y, 3)))
    freed = grow(piece, 0.05).intersects(cuts)
    hold = Remedy("hold it by tabs", "hold-island", (*here, ("how", "tabs")))
    keep = (Remedy("do not cut round it", "hold-island", (*here, ("how", "keep"))),) if freed else ()
    drop = Remedy("cut it out" if freed else "leave it away", "hold-island", (*here, ("how", "drop")))
    return Finding(
        code="loose-island",
        severity="stop",
        stage="shape",
        text=f"A piece of {piece.area:.1f} mm² is loose, {gap:.2f} mm from the board. It would fall out.",
        x_mm=spot.x,
        y_mm=spot.y,
        measured=round(gap, 2),
        allowed=0.0,
        layer="outline",
        remedies=(hold, *keep, drop),
    )
