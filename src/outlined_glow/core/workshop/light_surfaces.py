"""What the light of a board falls on: a diffuser before it, its own windows, a sheet on edge, the wall behind, the ground."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace

import msgspec
from shapely import MultiPoint
from shapely.affinity import scale

from ..board.edge_lit import Sheet, entering_share, even_from, sheet_lies, sheet_map, stray_share
from ..board.light_map import EVEN, LightMap, ground_map, light_map, plane_for, shines_sideways
from ..board.model import Board, LightSpot
from ..errors import Trouble
from ..lights.kinds import denser, kind_of
from ..project import Array, Param, Slots
from ..shipped import entries
from ..watch import ALONE, Watch
from .light_facts import lit_region
from .work import Work


@dataclass(frozen=True)
class Falls:
    """What a light map is asked for: on which surface, how far from the LEDs (a board that stands upright: over the ground),
    over which region, through which cover; of a sheet, which it is, the array and the slot under it, and how high above its
    lower edge what is engraved begins."""

    on: str = "plane"
    distance_mm: float = 8.0
    over: str = "board"
    side: str = "front"
    cover: str = ""
    sheet: Sheet = field(default_factory=lambda: Sheet(60.0))
    array: str = ""
    slot: int = 1
    from_mm: float = 0.0


#: The lengths that are asked for, with their limits, for window and command line alike.
LENGTHS = {
    "distance": Param("quantity", "mm", 0.1, 5000, title="distance from the LEDs"),
    "above": Param("quantity", "mm", 0.1, 5000, title="board over the ground"),
    "height": Param("quantity", "mm", 1, 1000, title="height"),
    "thick": Param("quantity", "mm", 0.3, 30, title="thickness"),
    "gap": Param("quantity", "mm", 0, 30, title="LEDs to its edge"),
    "start": Param("quantity", "mm", 0, 1000, title="engraved from"),
}


def _checked(asked: Falls) -> Falls:
    """What is asked for, or `Trouble` for a length that no surface has."""
    sheet = asked.sheet
    lengths = {"above" if asked.on == "ground" else "distance": asked.distance_mm}
    if asked.on == "sheet":
        lengths = {"height": sheet.height_mm, "thick": sheet.thickness_mm, "gap": sheet.gap_mm, "start": asked.from_mm}
    for key, value in lengths.items():
        limits = replace(LENGTHS[key], high=sheet.height_mm) if key == "start" else LENGTHS[key]
        limits.check(f"“{limits.title}”", value)
    return asked


@dataclass(frozen=True)
class Lit:
    """A light map, from which distance on (mm; of a sheet, from which height) it is even enough, if any; the share of the
    light that enters a sheet, and what comes into it from the slot beside it, as a share of its own."""

    map: LightMap
    even_from_mm: float | None
    enters: float | None = None
    beside: float | None = None


def covers() -> tuple[str, ...]:
    """What light may pass through, by name."""
    return tuple(entries("materials", "covers"))


def _through(cover: str) -> float:
    if not cover:
        return 1.0
    if cover not in covers():
        raise Trouble(f"There is no cover “{cover}”; there are {', '.join(covers())}.")
    return float(entries("materials", "covers")[cover]["transmittance"])


def _shining(board: Board) -> Board:
    """The board with what shines through its laminate as bright as it is beyond that."""
    through = board.materials.through_laminate
    return replace(board, lights=tuple(replace(one, mcd=one.mcd * through) if one.behind else one for one in board.lights))


def _on_plane(work: Work, asked: Falls, watch: Watch, places: int | None) -> Lit:
    region, board = lit_region(work, asked.over), _shining(work.board)
    many = {} if places is None else {"places": places}
    one = light_map(board, asked.distance_mm, region, asked.side, watch.part(0, 0.5), through=_through(asked.cover), **many)
    return Lit(one, plane_for(board, region, side=asked.side, watch=watch.part(0.5, 1)))


def _on_window(work: Work, asked: Falls, watch: Watch, places: int | None) -> Lit:
    """The windows, lit through the laminate by what is behind them."""
    region, board = lit_region(work, "window"), _shining(work.board)
    board = replace(board, lights=tuple(one for one in board.lights if one.behind and one.shines_to == "front"))
    if not board.lights:
        raise Trouble("No LED shines through the windows of this board from behind.")
    many = {} if places is None else {"places": places}
    one = light_map(board, board.stack.thickness_mm, region, "front", watch.part(0, 0.5), through=_through(asked.cover), **many)
    return Lit(one, plane_for(board, region, watch=watch.part(0.5, 1)))


def _on_wall(work: Work, asked: Falls, watch: Watch, places: int | None) -> Lit:
    return _on_plane(work, replace(asked, side="back"), watch, places)


def _on_ground(work: Work, asked: Falls, watch: Watch, places: int | None) -> Lit:
    return Lit(ground_map(_shining(work.board), asked.distance_mm, asked.side, watch), None)


def _on_sheet(work: Work, asked: Falls, watch: Watch, places: int | None) -> Lit:
    spots, array = _under(work, asked)
    one = sheet_map(spots, asked.sheet, asked.from_mm, watch=watch, lies=sheet_lies(spots))
    angle = spots[0].kind.half_angle_deg
    several = isinstance(array, Slots) and array.layout == "row" and array.slots > 1 and not shines_sideways(spots[0])
    beside = stray_share(angle, asked.sheet, array.spacing_mm) if several and isinstance(array, Slots) else None
    return Lit(one, even_from(one, EVEN), entering_share(angle, asked.sheet), beside)


def _under(work: Work, asked: Falls) -> tuple[tuple[LightSpot, ...], Array]:
    """What shines into the sheet, and its array: the LEDs of one slot, or of an array that is a row."""
    rows = [one for one in work.design.lights if isinstance(one, Slots) or kind_of(one).tag == "line"]
    name = asked.array or (rows[0].name if rows else "")
    array = next((one for one in work.design.lights if one.name == name), None)
    if array is None:
        raise Trouble(f"There is no array “{name}” under a sheet." if name else "No array stands under slots or in a line.")
    places = None
    if isinstance(array, Slots):
        if asked.slot > array.slots:
            raise Trouble(f"“{name}” has {array.slots} slots; there is no slot {asked.slot}.")
        places = range((asked.slot - 1) * array.per_slot + 1, asked.slot * array.per_slot + 1)
    chosen = {led.index for led in work.leds if led.array == name and (places is None or led.place in places)}
    return tuple(spot for spot in _shining(work.board).lights if spot.index in chosen), array


SURFACES: Mapping[str, Callable[[Work, Falls, Watch, int | None], Lit]] = {
    "plane": _on_plane, "window": _on_window, "sheet": _on_sheet, "wall": _on_wall, "ground": _on_ground,
}  # fmt: skip


def light_on(work: Work, asked: Falls, watch: Watch = ALONE, places: int | None = None) -> Lit:
    """The light of the LEDs, fully on. `Trouble` for a surface that they do not reach."""
    return SURFACES[asked.on](work, _checked(asked), watch, places)


#: How many times as dense an array is tried, how finely its light is looked at then, and which share of its length and width
#: counts: beyond the outer LEDs the light falls off, however many there are.
_DENSER, _FEW_PLACES, _MIDDLE = (1.15, 1.3, 1.5, 1.75, 2.0, 2.5, 3.0, 4.0), 2_500, 0.6


def even_by_more(work: Work, array: str, asked: Falls, watch: Watch = ALONE) -> tuple[str, dict[str, object]] | None:
    """The edit that lays the LEDs of an array so near to one another that a diffuser, or the sheet over one of its slots, is
    even over the middle of what they light; None where it is already, or where four times as many are not enough."""
    before = next((one for one in work.design.lights if one.name == array), None)
    spots = [spot for spot in work.board.lights if spot.index in {led.index for led in work.leds if led.array == array}]
    if before is None or not spots or asked.on not in ("plane", "sheet"):
        return None
    paths = work.values["light paths"]
    left, bottom = work.board.origin
    mcd = sum(spot.mcd for spot in spots) / len({spot.index for spot in spots})

    def uniformity(values: dict[str, object]) -> float:
        changed = msgspec.structs.replace(before, **values)
        places = kind_of(before).spots(changed, paths)
        lamps = tuple(
            replace(spots[0], index=at, x=x - left, y=y - bottom, mcd=mcd, side="front", behind=False)
            for at, (x, y, _) in enumerate(places)
        )
        if asked.on == "sheet":
            mine = lamps[: changed.per_slot] if isinstance(changed, Slots) else lamps
            wide = MultiPoint([(one.x, one.y) for one in mine]).convex_hull.length
            return sheet_map(mine, asked.sheet, asked.from_mm, _MIDDLE * wide, watch).uniformity
        ground = scale(MultiPoint([(one.x, one.y) for one in lamps]).convex_hull, _MIDDLE, _MIDDLE)
        board = replace(work.board, lights=lamps)
        return light_map(board, asked.distance_mm, ground, places=_FEW_PLACES, watch=watch).uniformity

    if uniformity({}) >= EVEN:
        return None
    for times in _DENSER:
        values = denser(before, times, paths)
        if values is None:
            return None
        if uniformity(values) >= EVEN:
            return kind_of(before).tag, {"array": array, **values}
    return None


def words_of(values: Mapping[str, object]) -> str:
    """What an edit makes denser, in words: so many LEDs, or so far apart."""
    many = {"rows": "rows", "columns": "columns", "count": "LEDs", "per_slot": "LEDs a slot", "per_segment": "LEDs a segment"}
    told = [f"{values[key]} {word}" for key, word in many.items() if key in values]
    return ", ".join(told) or f"{values['pitch_mm']:g} mm apart"


def slots_of(arrays: tuple[Array, ...]) -> tuple[tuple[str, str], ...]:
    """Where a sheet may stand: each slot of each array of slots, and each line; its key and what it is called."""
    out = []
    for one in arrays:
        if isinstance(one, Slots):
            out += [(f"{slot} {one.name}", f"slot {slot} of {one.name}") for slot in range(1, one.slots + 1)]
        elif kind_of(one).tag == "line":
            out.append((f"1 {one.name}", one.name))
    return tuple(out)


def slot_named(key: str) -> tuple[str, int]:
    """Array and slot of such a key."""
    number, _, name = key.partition(" ")
    return name, int(number or 1)
