"""Pictures at their real size and place: disjoint regions per colour, in mm of the picture frame, y up."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from shapely.geometry import box
from shapely.geometry.base import BaseGeometry

from ..colour import ciede2000, hex_to_lab
from ..errors import Trouble
from ..geometry.overlay import overlay_each
from ..geometry.painters_order import resolve_painting
from ..geometry.regions import EMPTY, clean_each, filled, union
from ..geometry.valid import valid
from ..project import Picture, Tones
from ..watch import ALONE, Watch
from .areas import Areas, outline_of
from .compositing import CLEAR
from .drawing import Drawing, Drawn, Item, Layer, Note, Pasted, Points, Written
from .limits import refuse_heap
from .raster import Raster, ToneRules, resolve_raster
from .resolved import OUTLINE, Key, Resolved
from .svg.measure import apply

#: Vector boundaries stay this close to the drawing, mm.
TOLERANCE_MM = 0.005
#: Less than this many root units across is no picture.
_SMALLEST = 1e-6
#: Widths that are flattened alike lie within this ratio.
_STEP = 1.25
#: A drawing whose true size is looked for is flattened as if it were at least and at most this wide, mm.
_LEAST_FINE_MM, _MOST_FINE_MM = 1.0, 2000.0
#: Mixed colours nearer than this to another one become it (CIEDE2000).
_SAME = 2.5

Source = Drawing | Raster


@dataclass(frozen=True)
class Swatch:
    """One colour of the artwork, the region it paints, the appearance it was named (or ""), and its side."""

    colour: str
    region: BaseGeometry
    word: str = ""
    side: str = "front"


@dataclass(frozen=True)
class Painted:
    """The whole artwork: swatches by falling area, the size of the first picture's box, everything painted in front.

    `outline` is the edge that a layer of that name draws; `behind` everything painted on the back; `words` the texts.
    """

    swatches: tuple[Swatch, ...]
    size: tuple[float, float]
    silhouette: BaseGeometry
    notes: tuple[Note, ...]
    outline: BaseGeometry = EMPTY
    behind: BaseGeometry = EMPTY
    words: tuple[Written, ...] = ()


def paint(source: Source, width_mm: float, name: str, watch: Watch = ALONE) -> Painted:
    """The picture so that what it paints is `width_mm` wide. `Trouble` when it paints nothing."""
    return place(resolve(source, fine_width(width_mm), name, watch=watch), Picture(member="", name=name, width_mm=width_mm))


def fine_width(width_mm: float) -> float:
    """The width for which a picture is flattened: the next of a few steps, so that small changes flatten nothing anew."""
    return float(_STEP ** math.ceil(math.log(width_mm, _STEP) - 1e-9))


def resolve(
    source: Source,
    fine_mm: float,
    name: str,
    tones: Tones | None = None,
    tone_rules: ToneRules | None = None,
    watch: Watch = ALONE,
) -> Resolved:
    """What the picture paints, in painter's order, fine enough to be `fine_mm` wide; `tone_rules` are for dots."""
    tones = tones or Tones()
    if isinstance(source, Raster):
        return resolve_raster(source, tones, fine_mm, name, tone_rules, watch)
    guess = _extent(source)
    if guess is None:
        why = f" {source.notes[0].text}" if source.notes else ""
        raise Trouble(f"“{name}” paints nothing that can be read; check that its shapes have a fill or a stroke.{why}")
    found = _resolve_drawing(source, guess, fine_mm, name, tones, tone_rules, watch)
    low, _, high, _ = found.silhouette.bounds
    if guess > 1.3 * (high - low) > _SMALLEST:
        # Clipped to a part of what is drawn: flatten that part finely enough.
        found = _resolve_drawing(source, high - low, fine_mm, name, tones, tone_rules, watch)
    return found


def _resolve_drawing(
    drawing: Drawing, wide: float, fine_mm: float, name: str, tones: Tones, tone_rules: ToneRules | None, watch: Watch
) -> Resolved:
    areas = Areas(name, TOLERANCE_MM * 0.8 * wide / fine_mm, fine_mm / wide, tones, tone_rules, watch.part(0.0, 0.4))
    pieces, outline = outline_of(areas.pieces(drawing.paths))
    solid = areas.solid(pieces)
    seen = _on_page([area for _, area in solid], drawing)
    shapes = [(key, area) for (key, _), area in zip(solid, seen, strict=True) if not area.is_empty]
    if not shapes and outline.is_empty:
        raise Trouble(f"“{name}” paints nothing inside its page.")
    refuse_heap(np.array([shape for _, shape in shapes], dtype=object), name)
    silhouette = union([shape for _, shape in shapes]) if shapes else outline
    regions: Mapping[Key, BaseGeometry] = resolve_painting(shapes, watch.part(0.4, 1.0))
    notes = dict.fromkeys((*drawing.notes, *areas.notes))
    return Resolved(_without_shades(regions, areas.mixed), silhouette, tuple(notes), outline, drawing.words)


def _without_shades(regions: Mapping[Key, BaseGeometry], mixed: set[str]) -> Mapping[Key, BaseGeometry]:
    """Colours that came of mixing become the larger colour they cannot be told from."""
    if not mixed:
        return regions
    kept: dict[Key, list[BaseGeometry]] = {}
    labs: dict[Key, Points] = {}
    for key, region in sorted(regions.items(), key=lambda one: (one[0].colour in mixed, -one[1].area, one[0])):
        lab = np.array(hex_to_lab(key.colour))
        twin = None
        if key.colour in mixed:
            alike = [(float(ciede2000(lab, labs[other])), other) for other in labs if other.word == key.word]
            twin = min(alike)[1] if alike and min(alike)[0] < _SAME else None
        if twin is None:
            labs[key] = lab
        kept.setdefault(twin or key, []).append(region)
    return {key: union(parts) for key, parts in kept.items()}


def place(resolved: Resolved, picture: Picture, first: bool = True) -> Painted:
    """One picture at its real size, turned and set down. `first`: it defines the picture frame."""
    name = picture.name
    left, top, right, bottom = resolved.silhouette.bounds
    if min(right - left, bottom - top) < _SMALLEST:
        raise Trouble(f"“{name}” paints something too small to be a picture; draw it larger.")
    width = picture.width_mm
    scale = width / (right - left)
    height = (bottom - top) * scale
    if not 0.01 <= height <= 1000:
        raise Trouble(f"“{name}” would be {height:.3g} mm high at that width; choose another width.")
    x = picture.x_mm if picture.x_mm is not None else width / 2
    y = picture.y_mm if picture.y_mm is not None else height / 2
    a = math.radians(picture.angle_deg)
    # The back is drawn as it is read, from behind.
    mirror = -1.0 if picture.flipped != (picture.side == "back") else 1.0
    turn = np.array([[math.cos(a), -math.sin(a)], [math.sin(a), math.cos(a)]])
    still = mirror == 1.0 and picture.angle_deg == 0.0

    def to_mm(points: Points) -> Points:
        flat = np.column_stack([(points[:, 0] - left) * scale, (bottom - points[:, 1]) * scale])
        if still and picture.x_mm is None and picture.y_mm is None:
            return flat
        middle = (flat - (width / 2, height / 2)) * (mirror, 1.0)
        return np.asarray(middle @ turn.T + (x, y))

    def moved(region: BaseGeometry) -> BaseGeometry:
        there = valid(shapely.transform(region, to_mm))
        return shapely.orient_polygons(there) if mirror < 0 else there

    if picture.role == "outline":
        edge = moved(filled(resolved.silhouette if resolved.outline.is_empty else resolved.outline))
        return Painted((), (width, height), edge if first else EMPTY, resolved.notes, edge)
    swatches = [Swatch(key.colour, moved(region), key.word, picture.side) for key, region in resolved.regions.items()]
    swatches.sort(key=_by_area)
    everything = moved(resolved.silhouette)
    front = picture.side == "front"
    return Painted(
        tuple(swatches),
        (width, height),
        everything if front else EMPTY,
        resolved.notes,
        moved(resolved.outline) if not resolved.outline.is_empty else EMPTY,
        EMPTY if front else everything,
        tuple(_written(one, to_mm, scale, picture.side) for one in resolved.words),
    )


def _written(one: Written, to_mm: Callable[[Points], Points], scale: float, side: str) -> Written:
    x, y = to_mm(np.array([[one.x, one.y]]))[0].tolist()
    return replace(one, x=x, y=y, caps=one.caps * scale, side=side)


def _by_area(swatch: Swatch) -> tuple[float, str, str]:
    return -swatch.region.area, swatch.colour, swatch.word


def compose(placed: Sequence[Painted]) -> Painted:
    """Several pictures together, later ones over earlier ones of their side; the first one gives the frame."""
    if not placed:
        return Painted((), (0.0, 0.0), EMPTY, ())
    if len(placed) == 1:
        return placed[0]
    swatches: list[Swatch] = []
    for side in ("front", "back"):
        apart = [[swatch for swatch in one.swatches if swatch.side == side] for one in placed]
        mine = [swatch for some in apart for swatch in some]
        if sum(map(bool, apart)) < 2:  # of one picture nothing lies over anything
            swatches += mine
            continue
        regions = resolve_painting([((swatch.colour, swatch.word), swatch.region) for swatch in mine])
        swatches += [Swatch(colour, region, word, side) for (colour, word), region in regions.items()]
    swatches.sort(key=_by_area)
    return Painted(
        tuple(swatches),
        placed[0].size,
        union([one.silhouette for one in placed]),
        tuple(dict.fromkeys(note for one in placed for note in one.notes)),
        union([one.outline for one in placed]),
        union([one.behind for one in placed]),
        tuple(words for one in placed for words in one.words),
    )


def natural_width_mm(source: Source, name: str, tones: Tones | None = None, watch: Watch = ALONE) -> float | None:
    """The width of what the picture paints, in the real units it states itself; None if it states none."""
    tones = tones or Tones()
    if isinstance(source, Raster):
        if source.mm_per_px is None:
            return None
        page = source.page[0]
        if source.solid is not None or tones.ground != "keep":
            left, _, right, _ = resolve(source, page * source.mm_per_px, name, tones, None, watch).silhouette.bounds
            page = right - left
        return page * source.mm_per_px
    guess = _extent(source) if source.sized else None
    if guess is None:
        return None
    box = _painted_box(source, guess, name, watch)
    if box is not None and guess > 1.3 * (box[2] - box[0]) > _SMALLEST:
        box = _painted_box(source, box[2] - box[0], name, watch)
    return (box[2] - box[0]) * source.mm_per_unit if box is not None else None


def _painted_box(drawing: Drawing, wide: float, name: str, watch: Watch) -> tuple[float, float, float, float] | None:
    """The box (left, top, right, bottom) of what a drawing paints inside its page, root units; `wide` is about its width."""
    fine_mm = min(_MOST_FINE_MM, max(_LEAST_FINE_MM, fine_width(wide * drawing.mm_per_unit)))
    areas = Areas(name, TOLERANCE_MM * 0.8 * wide / fine_mm, fine_mm / wide, Tones(), None, watch)
    pieces, outline = outline_of(areas.pieces(drawing.paths))
    seen = _on_page([piece.area for piece in pieces if piece.alpha >= CLEAR], drawing)
    bounds = np.array([area.bounds for area in seen if not area.is_empty] or [outline.bounds], float).reshape(-1, 4)
    if not np.isfinite(bounds).all():
        return None
    left, top = bounds[:, :2].min(axis=0).tolist()
    right, bottom = bounds[:, 2:].max(axis=0).tolist()
    return left, top, right, bottom


def _on_page(areas: Sequence[BaseGeometry], drawing: Drawing) -> list[BaseGeometry]:
    """What of each area lies on the page."""
    page = box(0, 0, *drawing.page)
    bounds = shapely.bounds(np.array(areas, dtype=object)).reshape(-1, 4)
    beyond = np.flatnonzero(~np.all((bounds[:, :2] >= 0) & (bounds[:, 2:] <= drawing.page), axis=1))
    seen = np.array(areas, dtype=object)
    seen[beyond] = clean_each(overlay_each(shapely.intersection, seen[beyond], np.full(len(beyond), page, dtype=object)))
    found: list[BaseGeometry] = seen.tolist()
    return found


def has_outline(source: Source) -> bool:
    """Whether a layer of the picture says what the edge of the board is."""
    return isinstance(source, Drawing) and any(outline for outline, _ in _flat_items(source.paths))


def _flat_items(items: Iterable[Item], outline: bool = False) -> Iterable[tuple[bool, Drawn | Pasted]]:
    """Every item without its layers, and whether it belongs to the outline."""
    for item in items:
        if isinstance(item, Layer):
            yield from _flat_items(item.items, outline or item.word == OUTLINE)
        else:
            yield outline, item


def _extent(drawing: Drawing) -> float | None:
    """Width of the control points' box in root units, inside the page; of what is painted, if there is more than an edge."""
    low, high = np.inf, -np.inf
    stroked = False
    items = list(_flat_items(drawing.paths))
    reach: dict[int, tuple[Points, list[Points]]] = {}
    for item in [item for outline, item in items if not outline] or [item for _, item in items]:
        reach.setdefault(id(item.matrix), (item.matrix, []))[1].extend(_corners(item))
        stroked = stroked or (isinstance(item, Drawn) and item.stroke is not None)
    for matrix, corners in reach.values():
        x = apply(matrix, np.concatenate([*corners, np.empty((0, 2))]))[:, 0]
        x = x[np.isfinite(x)]
        if len(x):
            low, high = min(low, float(x.min())), max(high, float(x.max()))
    low, high = max(low, 0.0), min(high, drawing.page[0])
    if high - low > _SMALLEST:
        return high - low
    return drawing.page[0] if stroked else None


def _corners(item: Drawn | Pasted) -> list[Points]:
    if isinstance(item, Drawn):
        return [subpath.controls for subpath in item.subpaths]
    assert isinstance(item.raster, Raster)
    wide, high = item.raster.page
    return [np.array([[0, 0], [wide, 0], [wide, high], [0, high]], float)]
