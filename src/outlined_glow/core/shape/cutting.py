"""What is cut through a board: by which cutter, and what holds the pieces that a cut would free."""

from __future__ import annotations

import math
from collections.abc import Sequence

import shapely
from shapely.geometry import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.narrow.thin import thin_pieces
from ..geometry.offset import grow
from ..geometry.regions import EMPTY, common, minus, polygons, region_of, union
from ..parts import Profile
from ..project import Island

#: Spare width that keeps a tab from being measured as a narrow neck, mm.
_SPARE = 0.06
#: Crumbs of the arithmetic, mm².
_CRUMB = 1e-4


def routed(cuts: BaseGeometry, profile: Profile) -> BaseGeometry:
    """What is really cut away: a cutter leaves its radius in the board's inside corners, the usual one or, where that one
    does not pass, the fine one. A cut that is too narrow even for that is cut as drawn: what is drawn as cut is cut."""
    if cuts.is_empty or not profile.router_mm:
        return cuts
    wide = _opened(cuts, profile.router_mm)
    rest = minus(cuts, grow(wide, 1e-3))
    through = region_of(thin_pieces(cuts, profile.router_mm))
    narrow = union([common(rest, grow(through, 0.01)), _beyond_corners(rest, profile.router_mm, _SQUARE)])
    if narrow.is_empty:
        return wide
    # The fine cutter goes on from where the usual one had to stop.
    reach = common(cuts, grow(narrow, profile.router_mm))
    fine = _opened(reach, profile.router_fine_mm) if profile.router_fine_mm else EMPTY
    done = union([wide, fine])
    if profile.router_fine_mm:
        beyond = _beyond_corners(minus(cuts, grow(done, 1e-3)), profile.router_fine_mm, _SHARP)
        narrow = union([region_of(thin_pieces(cuts, profile.router_fine_mm)), beyond])
    return union([done, common(cuts, grow(narrow, 0.01))])


#: What a cutter leaves in a corner is under so many squares of its radius: in one of 90 degrees, and in one of 30.
_SQUARE, _SHARP = 1.0, 2.5


def _beyond_corners(left: BaseGeometry, cutter_mm: float, squares: float) -> BaseGeometry:
    """The pieces that a cutter leaves which are more than a corner: the short arm of a cut that it does not get into."""
    return region_of([piece for piece in polygons(left) if piece.area > squares * (cutter_mm / 2) ** 2])


def _opened(cuts: BaseGeometry, cutter_mm: float) -> BaseGeometry:
    radius = 0.98 * cutter_mm / 2
    return common(grow(grow(cuts, -radius), radius), cuts)


def held(
    solid: BaseGeometry, cuts: BaseGeometry, islands: Sequence[Island], profile: Profile
) -> tuple[BaseGeometry, BaseGeometry]:
    """The board before it is cut, and the cuts, after what was chosen for each loose piece, in its order."""
    for one in islands:
        pieces = sorted(polygons(minus(solid, cuts)), key=lambda piece: -piece.area)
        place = Point(one.x_mm, one.y_mm)
        piece = next((piece for piece in pieces[1:] if piece.dwithin(place, 0.02)), None)
        if piece is None:
            continue
        freed = grow(piece, 0.02).intersects(cuts)
        if one.how == "drop" and freed:
            # What stands inside it goes too, but not the board that a frame stands round.
            whole = Polygon(piece.exterior)
            cuts = union([cuts, grow(piece if whole.contains(pieces[0]) else whole, 0.005)])
        elif one.how == "drop":
            solid = minus(solid, grow(piece, 0.005))
        elif one.how == "keep":
            cuts = region_of(part for part in polygons(cuts) if not grow(piece, 0.02).intersects(part))
        else:
            others = region_of(other for other in pieces if other is not piece)
            tabs = union(tabs_of(piece, others, one.count, profile.neck_mm + _SPARE))
            solid, cuts = union([solid, tabs]), minus(cuts, tabs)
    return solid, cuts


def tabs_of(piece: Polygon, others: BaseGeometry, count: int, width: float) -> list[BaseGeometry]:
    """Bridges from a piece to what lies round it: the shortest way first, then the shortest in each other direction."""
    edge, middle = piece.exterior, piece.centroid
    spots = [edge.interpolate(far) for far in _steps(edge.length)]
    ways = [shapely.shortest_line(spot, others) for spot in spots]
    best = min(range(len(ways)), key=lambda place: ways[place].length)
    begin = math.atan2(spots[best].y - middle.y, spots[best].x - middle.x)
    most = 3 * ways[best].length + width
    chosen: dict[int, tuple[float, LineString]] = {}
    for spot, way in zip(spots, ways, strict=True):
        turn = (math.atan2(spot.y - middle.y, spot.x - middle.x) - begin) / math.tau * count
        sector, aside = round(turn) % count, abs(turn - round(turn))
        # Of ways about as short the one in the middle of its direction is taken: tabs stand evenly then.
        score = way.length * (1 + 0.5 * aside)
        if way.length <= most and (sector not in chosen or score < chosen[sector][0]):
            chosen[sector] = (score, way)
    return [_bridge(way, width) for _, way in chosen.values()]


def _steps(length: float) -> list[float]:
    count = max(24, min(400, round(length / 0.25)))
    return [length * place / count for place in range(count)]


def _bridge(way: LineString, width: float) -> BaseGeometry:
    """A strip along a way, reaching so far into both ends that it holds."""
    (x0, y0), (x1, y1) = shapely.get_coordinates(way)[[0, -1]].tolist()
    far = math.hypot(x1 - x0, y1 - y0)
    dx, dy = ((x1 - x0) / far, (y1 - y0) / far) if far > _CRUMB else (1.0, 0.0)
    into = width / 2
    line = LineString([(x0 - dx * into, y0 - dy * into), (x1 + dx * into, y1 + dy * into)])
    return line.buffer(width / 2, cap_style="flat")
