"""Clip paths, masks, patterns and markers: what makes an element seen in part, in tiles, or with tips."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import replace

import numpy as np
from lxml import etree

from ..drawing import Drawn, Item, Layer, Mask, Matrix, Paint, Points, Subpath
from .document import local, where
from .measure import apply, length, numbers, times, transform, view_box, viewport_matrix
from .paint import chain, said
from .shapes import rectangle
from .walk import Box, Place, Walker, box_of, moved

_URL = re.compile(r"""^url\(\s*["']?\s*#?([^"')]*)["']?\s*\)""")
_MOST_TILES = 2_000
_MOST_MARKS = 2_000
_DEEPEST = 12


def reference(text: str) -> str:
    """The id in url(#id); "" if it is none."""
    match = _URL.match(text.strip())
    return match.group(1) if match else ""


def framed(box: tuple[float, float, float, float], matrix: Matrix) -> tuple[Item, ...]:
    """A rectangle to be seen through."""
    return (Drawn(rectangle(*box), matrix, Paint("000000")),)


#: Tells the box of an element in its own units, where one asks for it; None of nothing.
BoxOf = Callable[[], Box | None]
_TOO_DEEP = f"lies more than {_DEEPEST} references deep and is left out"


def _again(walker: Walker, target: etree._Element, place: Place, code: str, words: str) -> bool:
    """Whether something leads back to itself, which is as if it were not there, or too deep to be followed, which is told."""
    if target in place.uses:
        return True
    if len(place.uses) > _DEEPEST:
        walker.note(code, words)
        return True
    return False


def clip_of(walker: Walker, text: str, element: etree._Element, box_of_it: BoxOf, place: Place) -> list[tuple[Item, ...]]:
    """The clips that a `clip-path` asks for, root units; an unknown one clips nothing."""
    clip = walker.ids.get(reference(text))
    if clip is None or local(clip) != "clipPath":
        walker.note("clip-ignored", f"A clip path cannot be found, or is no path: {where(element)}.")
        return []
    if _again(walker, clip, place, "clip-ignored", f"A clip path {_TOO_DEEP}: {where(element)}."):
        return []
    matrix = times(place.matrix, transform(clip.get("transform")))
    if clip.get("clipPathUnits") == "objectBoundingBox":
        box = box_of_it()
        if box is None:
            return []
        matrix = times(matrix, np.array([[box[2], 0, box[0]], [0, box[3], box[1]]]))
    style = walker.cascade.style_there(clip)
    inner = Place(matrix, style, place.view, uses=(*place.uses, clip), depth=place.depth + 1, clipping=True)
    out = [walker.items(clip, inner)]
    if style["clip-path"] != "none":
        # It lies where what is clipped lies, whatever the units and the transform of the clip itself.
        out += clip_of(walker, style["clip-path"], clip, box_of_it, replace(inner, matrix=place.matrix))
    return out


def mask_of(walker: Walker, text: str, element: etree._Element, box_of_it: BoxOf, place: Place) -> Mask | None:
    """The mask an element asks for: what is light in it is seen; None where there is none."""
    mask = walker.ids.get(reference(text))
    if mask is None or local(mask) != "mask":
        walker.note("mask-ignored", f"A mask cannot be found: {where(element)}.")
        return None
    if _again(walker, mask, place, "mask-ignored", f"A mask {_TOO_DEEP}: {where(element)}."):
        return None
    box = box_of_it()
    if box is None:
        return None
    units = np.array([[box[2], 0, box[0]], [0, box[3], box[1]]])
    own = place.matrix
    if mask.get("maskContentUnits") == "objectBoundingBox":
        own = times(own, units)
    style = walker.cascade.style_there(mask)
    inner = Place(own, style, place.view, uses=(*place.uses, mask), depth=place.depth + 1)
    content = walker.items(mask, inner)
    deeper = replace(place, uses=inner.uses)
    beyond = mask_of(walker, style["mask"], mask, box_of_it, deeper) if style["mask"] != "none" else None
    clips = clip_of(walker, style["clip-path"], mask, box_of_it, place) if style["clip-path"] != "none" else []
    whole = place.view if mask.get("maskUnits") == "userSpaceOnUse" else (1.0, 1.0)
    across = place.matrix if mask.get("maskUnits") == "userSpaceOnUse" else times(place.matrix, units)
    x, y = length(mask.get("x") or "-10%", 0, whole[0]), length(mask.get("y") or "-10%", 0, whole[1])
    wide, high = length(mask.get("width") or "120%", 0, whole[0]), length(mask.get("height") or "120%", 0, whole[1])
    seen = Layer(content, (framed((x, y, wide, high), across), *clips), (beyond,) if beyond is not None else ())
    return Mask((seen,), style["mask-type"] == "alpha")


def pattern_items(
    walker: Walker, pattern: etree._Element, box: Box, element: etree._Element, place: Place
) -> tuple[Item, ...] | None:
    """The tiles of a pattern over a box; None where it paints nothing or cannot be laid."""
    if _again(walker, pattern, place, "paint-flattened", f"A pattern {_TOO_DEEP}: {where(element)}."):
        return None
    servers = chain(pattern, walker.ids)
    content = next((one for one in servers if len(one)), None)
    if content is None:
        return None
    user = said(servers, "patternUnits") == "userSpaceOnUse"
    whole = place.view if user else (1.0, 1.0)
    sizes = [length(said(servers, key), 0.0, whole[n % 2]) for n, key in enumerate(("x", "y", "width", "height"))]
    x, y, wide, high = sizes if user else (
        box[0] + sizes[0] * box[2], box[1] + sizes[1] * box[3], sizes[2] * box[2], sizes[3] * box[3],
    )  # fmt: skip
    if wide <= 0 or high <= 0:
        return None
    base = times(place.matrix, transform(said(servers, "patternTransform")))
    inner = times(base, np.array([[1.0, 0, x], [0, 1.0, y]]))
    view = view_box(said(servers, "viewBox"))
    if len(view) == 4:
        fitted = viewport_matrix(view, 0, 0, wide, high, said(servers, "preserveAspectRatio"))
        if fitted is None:
            return None
        inner = times(inner, fitted)
    elif said(servers, "patternContentUnits") == "objectBoundingBox":
        inner = times(inner, np.array([[box[2], 0, 0], [0, box[3], 0]]))
    style = walker.cascade.style_there(content)
    tile = walker.items(content, Place(inner, style, place.view, uses=(*place.uses, pattern), depth=place.depth + 1))
    if not tile:
        return None
    return _tiled(walker, tile, (x, y, wide, high), base, box, element, place)


def _tiled(
    walker: Walker,
    tile: tuple[Item, ...],
    cell: tuple[float, float, float, float],
    base: Matrix,
    box: tuple[float, float, float, float],
    element: etree._Element,
    place: Place,
) -> tuple[Item, ...] | None:
    x, y, wide, high = cell
    try:
        back = np.linalg.inv(np.vstack([base, [0, 0, 1]]))[:2]
    except np.linalg.LinAlgError:
        return None
    corners = np.array(
        [[box[0], box[1]], [box[0] + box[2], box[1]], [box[0], box[1] + box[3]], [box[0] + box[2], box[1] + box[3]]]
    )
    own = apply(times(back, place.matrix), corners)
    low = np.floor((own.min(axis=0) - (x, y)) / (wide, high))
    high_ = np.ceil((own.max(axis=0) - (x, y)) / (wide, high))
    columns, rows = (int(value) for value in high_ - low)
    if columns * rows * len(tile) > _MOST_TILES * 4 or columns * rows > _MOST_TILES:
        walker.note("paint-flattened", f"A pattern of too many tiles is left out: {where(element)}.")
        return None
    inside = box_of(tile, base)
    spills = inside is not None and not (
        inside[0] >= x - 1e-6 and inside[1] >= y - 1e-6
        and inside[0] + inside[2] <= x + wide + 1e-6 and inside[1] + inside[3] <= y + high + 1e-6
    )  # fmt: skip
    one: tuple[Item, ...] = (Layer(tile, clips=(framed(cell, base),)),) if spills else tile
    out: list[Item] = []
    for row in range(rows):
        for column in range(columns):
            step = np.array([[1.0, 0, (low[0] + column) * wide], [0, 1.0, (low[1] + row) * high]])
            by = times(times(base, step), back)
            out += [moved(item, by) for item in one]
    return tuple(out)


def markers(walker: Walker, element: etree._Element, subpaths: tuple[Subpath, ...], width: float, place: Place) -> list[Item]:
    """The tips, joints and tails along a path."""
    names = {end: reference(place.style[f"marker-{end}"]) for end in ("start", "mid", "end")}
    if not any(names.values()):
        return []
    if sum(len(subpath.curves) + 1 for subpath in subpaths) > _MOST_MARKS:
        walker.note("marker-ignored", f"More than {_MOST_MARKS:,} markers are left out: {where(element)}.")
        return []
    spots = _spots(subpaths)
    out: list[Item] = []
    for number, (at, angle) in enumerate(spots):
        end = "start" if number == 0 else "end" if number == len(spots) - 1 else "mid"
        marker = walker.ids.get(names[end])
        if marker is None or local(marker) != "marker":
            continue
        if _again(walker, marker, place, "marker-ignored", f"A marker {_TOO_DEEP}: {where(element)}."):
            continue
        out += _marker(walker, marker, at, angle, end, width, place)
    return out


def _marker(
    walker: Walker, marker: etree._Element, at: Points, angle: float, end: str, width: float, place: Place
) -> tuple[Item, ...]:
    orient = (marker.get("orient") or "0").strip()
    if orient == "auto-start-reverse":
        angle += math.pi if end == "start" else 0.0
    elif orient != "auto":
        found = numbers(orient)
        angle = math.radians(found[0]) if found else 0.0
    scale = 1.0 if marker.get("markerUnits") == "userSpaceOnUse" else width
    wide, high = length(marker.get("markerWidth"), 3, place.view[0]), length(marker.get("markerHeight"), 3, place.view[1])
    view = view_box(marker.get("viewBox"))
    fitted = viewport_matrix(view, 0, 0, wide, high, marker.get("preserveAspectRatio"))
    if fitted is None or wide <= 0 or high <= 0:
        return ()
    c, s = math.cos(angle) * scale, math.sin(angle) * scale
    spot = times(place.matrix, np.array([[c, -s, at[0]], [s, c, at[1]]]))
    ref = apply(fitted, np.array([[length(marker.get("refX"), 0, 1), length(marker.get("refY"), 0, 1)]]))[0]
    outer = times(spot, np.array([[1.0, 0, -ref[0]], [0, 1.0, -ref[1]]]))
    style = walker.cascade.style_there(marker)
    inner = Place(times(outer, fitted), style, place.view, place.alpha, (*place.uses, marker), place.depth + 1)
    items = walker.items(marker, inner)
    if not items or style["overflow"] in ("visible", "auto"):
        return items
    return (Layer(items, clips=(framed((0, 0, wide, high), outer),)),)


def _spots(subpaths: tuple[Subpath, ...]) -> list[tuple[Points, float]]:
    """Vertices of a path with the direction there: that in, that out, or between both."""
    out: list[tuple[Points, float]] = []
    for subpath in subpaths:
        own = points = np.vstack([subpath.start[None], subpath.curves[:, 2]])
        if subpath.closed and len(points) > 1 and not np.allclose(points[0], points[-1]):
            points = np.vstack([points, points[:1]])
        before = [None, *(_heading(subpath, own, place, False) for place in range(len(points) - 1))]
        after = [*(_heading(subpath, own, place, True) for place in range(len(points) - 1)), None]
        if subpath.closed and len(points) > 1:
            before[0], after[-1] = before[-1], after[0]
        for point, one, other in zip(points, before, after, strict=True):
            ways = [way for way in (one, other) if way is not None]
            total = np.sum(ways, axis=0) if ways else np.array([1.0, 0])
            out.append((point, math.atan2(total[1], total[0])))
    return out


def _heading(subpath: Subpath, points: Points, place: int, at_start: bool) -> Points | None:
    """The direction at an end of a segment, of length 1; `points` are the ends of the segments."""
    if place >= len(subpath.curves):
        row = np.vstack([points[-1], points[0]])
    else:
        row = np.vstack([points[place], subpath.curves[place]])
    steps = row[1:] - row[0] if at_start else row[-1] - row[-2::-1]
    for step in steps:
        size = float(np.hypot(*step))
        if size > 1e-9:
            return np.asarray(step / size)
    return None
