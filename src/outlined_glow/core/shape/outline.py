"""The silhouette becomes a board that a cutter can make."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import shapely
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from ..errors import Trouble
from ..geometry.offset import closed, grow
from ..geometry.regions import EMPTY, common, disc, filled, minus, polygons, region_of, union
from ..geometry.ringfile import unpack
from ..parts import Profile
from ..project import Finding, Hole, Shape
from .cutting import held, routed
from .features import Fixed, RoundHole, fix
from .island_findings import loose_island
from .primitives import form, laid, rounded

if TYPE_CHECKING:
    from ..artwork import Painted

#: Art keeps this far from the edge of a hole, and as far as copper keeps from the edge of the board, mm.
HOLE_CLEARANCE_MM = 0.3
_SIMPLIFY_MM = 0.002
#: What a side of a board may measure at all, mm; a fabricator's limits are narrower and make a finding.
SIDE_MM = (1.0, 1000.0)


@dataclass(frozen=True)
class Outline:
    """The board's edge in the picture frame: one polygon, its inner rings routed; drilled holes apart.

    `origin` is the lower left corner of its box: the board frame is the picture frame less that.
    """

    region: Polygon
    holes: tuple[RoundHole, ...]
    origin: tuple[float, float]
    size: tuple[float, float]
    lug: bool
    findings: tuple[Finding, ...]
    fixed: Fixed = field(default_factory=Fixed)
    #: How far art copper keeps from the edge, mm; 0 where it goes over it on purpose.
    edge_mm: float = 0.0
    #: What is cut through the board as it was drawn, before the cutter rounds its corners.
    cuts: BaseGeometry = EMPTY

    @property
    def cleared(self) -> BaseGeometry:
        """Where no art may be, because a hole is there."""
        apart = max(HOLE_CLEARANCE_MM, self.edge_mm)
        return union([disc(hole.x, hole.y, hole.diameter / 2 + apart) for hole in self.holes])


def make_outline(base: BaseGeometry, cut: BaseGeometry, shape: Shape, profile: Profile) -> Outline:
    """The base (of `base_of`) filled (unless its holes are kept), smoothed, grown by the border, cut out where something is
    drawn as cut, and its inside corners rounded to the cutter.

    The largest piece is the board; others are loose islands. Features are fixed to it then.
    """
    if shape.smooth_mm:
        base = rounded(base, shape.smooth_mm)
    radius = profile.router_mm / 2
    grown = grow(base, shape.border_mm)
    solid = filled(grown)
    solid = filled(closed(solid, radius)) if radius else solid
    cuts = union([cut, minus(filled(grown), grown)]) if shape.keep_holes else cut
    solid, cuts = held(solid, common(cuts, solid), shape.islands, profile)
    body = minus(solid, routed(cuts, profile))
    body = region_of(polygons(shapely.simplify(body, _SIMPLIFY_MM)))
    board, loose = _largest(body)
    holes: tuple[RoundHole, ...] = ()
    lug = False
    if shape.hole is not None:
        hole, lug = _hanging_hole(board, shape.hole, profile)
        holes = (hole,)
        if lug:
            board = _with_lug(board, hole, profile)
    fixed = fix(shape.features, board)
    if fixed.spots:
        board, more = _largest(minus(board, routed(fixed.cuts, profile), fixed.slots))
        loose += more
    findings = [loose_island(piece, board, cuts) for piece in loose]
    left, bottom, right, top = board.bounds
    _refuse_size(right - left, top - bottom)
    size, edge = (right - left, top - bottom), 0.0 if shape.copper_to_edge else profile.edge_routed_mm
    return Outline(board, (*holes, *fixed.holes), (left, bottom), size, lug, tuple(findings), fixed, edge, cuts)


def _largest(body: BaseGeometry) -> tuple[Polygon, list[Polygon]]:
    pieces = sorted(polygons(body), key=lambda piece: -piece.area)
    if not pieces:
        raise Trouble("Nothing is left of the board: all of it is cut out.")
    return pieces[0], pieces[1:]


def base_of(painted: Painted, shape: Shape, drawn: BaseGeometry) -> BaseGeometry:
    """What the board is cut from, before the border. `Trouble` where that is not there.

    `drawn` is the outline taken from elsewhere, about the origin.
    """
    silhouette = union([painted.silhouette, painted.behind]) if painted.silhouette.is_empty else painted.silhouette
    if shape.base == "silhouette":
        if silhouette.is_empty:
            raise Trouble("There is no picture yet; open one to begin, or give the board a form.")
        return silhouette
    if shape.base == "outline":
        if painted.outline.is_empty:
            raise Trouble("No picture has a layer called outline, and none is laid as the outline; choose another base.")
        region = painted.outline
    elif shape.base == "colour":
        region = union([swatch.region for swatch in painted.swatches if swatch.colour == shape.colour])
        if region.is_empty:
            raise Trouble(f"The picture has no colour #{shape.colour or 'none'} to cut the board from; choose another base.")
    elif shape.base == "drawn":
        if drawn.is_empty:
            raise Trouble("No outline was taken from a file yet; take one, or choose another base.")
        region = laid(drawn, shape, _middle(silhouette, drawn.bounds))
    else:
        region = form(shape, _middle(silhouette, (0.0, 0.0, shape.width_mm, shape.height_mm)))
    return union([region, silhouette]) if shape.with_picture and not silhouette.is_empty else region


def taken_outline(data: bytes) -> BaseGeometry:
    """The outline kept in a member of the project file, about the origin; nothing when there is none."""
    try:
        return unpack(data) if data else EMPTY
    except ValueError as error:
        raise Trouble(f"The outline kept in the project is damaged ({error}); take it from its file again.") from error


def _middle(silhouette: BaseGeometry, box: tuple[float, float, float, float]) -> tuple[float, float]:
    """The middle of the picture; without one that of a box of that size whose corner is the origin."""
    if silhouette.is_empty:
        return (box[2] - box[0]) / 2, (box[3] - box[1]) / 2
    left, bottom, right, top = silhouette.bounds
    return (left + right) / 2, (bottom + top) / 2


def _refuse_size(width: float, height: float) -> None:
    if not (SIDE_MM[0] <= width <= SIDE_MM[1] and SIDE_MM[0] <= height <= SIDE_MM[1]):
        low, high = SIDE_MM
        size = f"{width:.4g} x {height:.4g} mm"
        raise Trouble(f"The board would be {size}; a side has {low:g} to {high:,g} mm: give the picture another width.")


def _hanging_hole(board: Polygon, hole: Hole, profile: Profile) -> tuple[RoundHole, bool]:
    """Where the hole goes and whether it needs a lug.

    Without a place of its own: the highest place on the vertical through the centroid where hole radius and
    narrowest neck stay inside; else on a lug above the highest edge there.
    """
    need = hole.diameter_mm / 2 + profile.neck_mm
    if hole.x_mm is not None and hole.y_mm is not None:
        fits = board.contains(disc(hole.x_mm, hole.y_mm, need - 0.01))
        return RoundHole(hole.x_mm, hole.y_mm, hole.diameter_mm), not fits
    x = board.centroid.x
    bottom, top = board.bounds[1] - 1, board.bounds[3] + 1
    vertical = LineString([(x, bottom), (x, top)])
    inside = grow(board, -need).intersection(vertical)
    if not inside.is_empty:
        return RoundHole(x, float(inside.bounds[3]), hole.diameter_mm), False
    edge = board.intersection(vertical)
    highest = float(edge.bounds[3]) if not edge.is_empty else board.bounds[3]
    return RoundHole(x, highest + hole.diameter_mm / 2, hole.diameter_mm), True


def _with_lug(board: Polygon, hole: RoundHole, profile: Profile) -> Polygon:
    lug = disc(hole.x, hole.y, hole.diameter / 2 + profile.neck_mm)
    joined = closed(union([board, lug]), profile.router_mm / 2)
    return max(polygons(joined), key=lambda piece: piece.area)
