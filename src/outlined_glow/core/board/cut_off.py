"""What is cut off where the board ends: words that reach over an edge, ink of the pictures that does."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

import msgspec
import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..artwork import Art
from ..artwork.words import Paths, edge_place, words_region
from ..geometry.offset import grow
from ..geometry.regions import common, filled, minus, polygons
from ..geometry.valid import shifted
from ..passes import Pass
from ..project import Finding, Remedy, Shape, Words
from ..project.frames import Point, all_in_board_frame
from .layers import ArtLayers

#: Less than that, mm², is no loss that anybody sees.
_SEEN = 0.02
#: Words moved stay so far from where they would be cut, mm, which also covers what their place is rounded by.
_CLEAR = 0.05
#: By how much words are tried lower, and how much further in along an edge, mm.
_LOWER = (0.9, 0.8, 0.7, 0.6, 0.5)
_FURTHER = (0.25, 0.5, 1.0, 1.5, 2.0, 3.0, 4.0, 6.0)
#: How finely the outer corners of words are taken, mm, and in how many parts of the board a place is tried.
_HULL, _MOST_PLACES = 0.05, 4


def cut_off_findings(words: tuple[Words, ...], border_mm: float, art: Art, flat: ArtLayers, paths: Paths) -> list[Finding]:
    """Words that lose a part, each with what would save it; ink lost at the edge. Picture frame."""
    out: list[Finding] = []
    for number, one in enumerate(words, 1):
        # Words cut out may end in the edge: that is how a notch is lettered.
        if one.appearance != "cut":
            out += _cut_words(number, one, flat, paths)
    lettered = {one.side for one in words if one.appearance == "ink"}
    body = filled(flat.printable.body)
    for side, regions in (("front", art.regions), ("back", art.back)):
        ink = regions.get("ink")
        # Of a side with words in ink what is lost may be theirs, which are told of one by one.
        if ink is None or ink.is_empty or body.covers(ink) or (side in lettered and out):
            continue
        lost = sorted((piece for piece in polygons(minus(ink, body)) if piece.area > _SEEN), key=lambda piece: -piece.area)
        if lost:
            area, many = sum(piece.area for piece in lost), f" ({len(lost)} places)" if len(lost) > 1 else ""
            text = f"Ink of the picture reaches over the edge of the board: {area:.1f} mm² are cut off{many}."
            places = tuple(_spot(piece) for piece in lost)
            out.append(Finding(
                code="ink-cut-off", severity="note", stage="artwork", text=text, measured=round(area, 2), allowed=0.0,
                layer=f"{side} legend", remedies=_larger(border_mm, body, ink), count=len(lost), places=places,
            ))  # fmt: skip
    return out


def _spot(region: BaseGeometry) -> tuple[float, float]:
    spot = region.representative_point()
    return spot.x, spot.y


def _larger(border: float, body: BaseGeometry, ink: BaseGeometry) -> tuple[Remedy, ...]:
    """A border that takes the ink in, where the board has one to widen; else only words."""
    for more in (0.5, 1.0, 2.0, 3.0, 5.0):
        if minus(ink, grow(body, more)).area <= _SEEN:
            wide = round(border + more, 2)
            return (Remedy(f"border {wide:g} mm", "set-border", (("border_mm", wide),)),)
    return (Remedy("move the picture, or make it smaller"),)


def _cut_words(number: int, one: Words, flat: ArtLayers, paths: Paths) -> list[Finding]:
    region, area = words_region(one, paths), flat.printable.of(one.appearance)
    lost = minus(region, area)
    if region.is_empty or lost.area <= _SEEN:
        return []
    share = lost.area / region.area
    part = f"{max(1, round(100 * share))} % is cut off. It crosses the board edge, a hole or a keep-out area"
    text = f"“{one.text}”: {'all of it is off the board' if share > 0.99 else part}."
    remedies = tuple(
        Remedy(words, "set-words", (("number", number), *values.items())) for words, values in _saved(one, area, paths)
    )
    x, y = edge_place(one, paths) or (one.x_mm, one.y_mm)
    return [
        Finding(
            code="words-cut-off", severity="warning", stage="artwork", text=text, x_mm=x, y_mm=y,
            measured=round(lost.area, 2), allowed=0.0,
            layer=f"{one.side} {'legend' if one.appearance == 'ink' else 'copper'}",
            remedies=remedies or (Remedy("shorten it, or make the board larger"),),
        )
    ]  # fmt: skip


def _saved(one: Words, area: BaseGeometry, paths: Paths) -> Iterator[tuple[str, dict[str, Any]]]:
    """What would keep words whole: moved, drawn in along their edge, lower, both. Each was tried and loses nothing."""

    def whole(values: dict[str, Any]) -> bool:
        tried = words_region(msgspec.structs.replace(one, **values), paths)
        return not tried.is_empty and minus(tried, area).area <= _SEEN

    def inward(height: dict[str, Any]) -> dict[str, Any] | None:
        if one.bend in ("edge", "edge-inward"):
            ways: Iterable[dict[str, Any]] = ({"inset_mm": round(one.inset_mm + more, 2)} for more in _FURTHER)
        else:
            ways = _places(one, words_region(msgspec.structs.replace(one, **height), paths), area)
        return next((way for way in ways if whole({**way, **height})), None)

    moved = inward({})
    if moved is not None:
        yield f"{moved['inset_mm']:g} mm from the edge" if "inset_mm" in moved else "move it inward", moved
    for height in [{"height_mm": round(one.height_mm * part, 2)} for part in _LOWER]:
        if whole(height):
            yield f"make it {height['height_mm']:g} mm", height
            return
        if moved is None and (there := inward(height)) is not None:
            yield f"make it {height['height_mm']:g} mm, and move it inward", {**height, **there}
            return


def _places(one: Words, region: BaseGeometry, area: BaseGeometry) -> Iterator[dict[str, Any]]:
    """Places where the outer corners of words all lie in the area, the nearest first."""
    hull = shapely.get_coordinates(shapely.convex_hull(region).simplify(_HULL))[:-1]
    free = grow(area, -_CLEAR)
    for x, y in hull - np.array([one.x_mm, one.y_mm]):
        free = common(free, shifted(area, -x, -y))
    here = shapely.Point(one.x_mm, one.y_mm)
    # One step further in than the border of where they may stand, for the place is rounded.
    for free_there in sorted(polygons(grow(free, -_CLEAR)), key=here.distance)[:_MOST_PLACES]:
        for spot in (shapely.shortest_line(free_there, here), free_there.representative_point()):
            x, y = shapely.get_coordinates(spot)[0].tolist()
            yield {"x_mm": round(x, 2), "y_mm": round(y, 2)}


def _checked(
    words: tuple[Words, ...], shape: Shape, art: Art, flat: ArtLayers, paths: Paths, origin: Point
) -> tuple[Finding, ...]:
    return all_in_board_frame(cut_off_findings(words, shape.border_mm, art, flat, paths), origin)


CHECKS = (Pass("cut-off check", ("words", "shape", "drawn", "flat", "paths", "origin"), _checked),)
