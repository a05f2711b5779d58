"""Words on the board: added, changed, taken away; and as regions."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import TYPE_CHECKING, Any

import msgspec
import numpy as np
import shapely
from shapely.geometry import Point, Polygon
from shapely.geometry.base import BaseGeometry

from .. import lettering
from ..appearances import APPEARANCES, TITLES
from ..errors import Trouble
from ..geometry.contours import Contours
from ..geometry.regions import EMPTY, added, minus, union
from ..project import Design, Param, Words, board_edit
from ..project.bounds import MOST_TEXTS
from ..project.numbered import exchanged, numbered
from .edits import SIDES, with_artwork

if TYPE_CHECKING:
    from .painting import Painted

#: Words come to art of more pieces than that without a look at those that they do not touch.
_MANY = 100
WEIGHTS = ("regular", "semibold", "bold")
BENDS = ("straight", "over", "under", "edge", "edge-inward")
_BENDS = (
    ("over", "over a circle"),
    ("under", "under a circle"),
    ("edge", "along the edge, reading from outside"),
    ("edge-inward", "along the edge, reading from inside"),
)
_KEYS = {
    "height_mm": Param("quantity", "mm", 0.3, 200, title="capital height", step=0.2),
    "x_mm": Param("quantity", "mm", -1000, 1000, axis="x", title="x", step=0.5),
    "y_mm": Param("quantity", "mm", -1000, 1000, axis="y", title="y", step=0.5),
    "angle_deg": Param("quantity", "deg", -360, 360, title="turned", step=5),
    "side": Param("choice", choices=SIDES, title="side"),
    "appearance": Param("choice", choices=APPEARANCES, title="appearance", titles=tuple(TITLES.items())),
    "weight": Param("choice", choices=WEIGHTS, title="weight"),
    "bend": Param("choice", choices=BENDS, title="path", titles=_BENDS),
    "radius_mm": Param("quantity", "mm", 1, 500, title="radius"),
    "inset_mm": Param("quantity", "mm", -50, 200, title="from the edge", step=0.2),
    "share": Param("quantity", "", 0, 1, title="centre, % of the way round", shown="%", step=2),
    "path": Param("text"),
}


@board_edit("add-words", "Text “{text}” added", text=Param("text", optional=False), **_KEYS)
def add_words(design: Design, *, text: str, x_mm: float | None = None, y_mm: float | None = None, **given: Any) -> Design:
    """Text on the board, in ink unless told, at the picture frame's origin unless placed."""
    words = design.artwork.words
    if len(words) >= MOST_TEXTS:
        raise Trouble(f"A board takes {MOST_TEXTS} texts; draw more of them in the picture.")
    given = _given(given)
    return with_artwork(design, words=(*words, Words(text=text.strip(), x_mm=x_mm or 0.0, y_mm=y_mm or 0.0, **given)))


def _given(values: dict[str, Any]) -> dict[str, Any]:
    """The values that were given; a path is the board's edge (board), or that of a colour."""
    given = {key: value for key, value in values.items() if value is not None}
    if given.get("path", "board") != "board":
        given["path"] = Param("colour").check("path", given["path"])
    return given


@board_edit(
    "set-words", "Text {number} changed", number=Param("count", "", 1, MOST_TEXTS, optional=False), text=Param("text"), **_KEYS
)
def set_words(design: Design, *, number: int, **given: Any) -> Design:
    """Change a text: what it says, where, how high, in what; what is not named stays."""
    words = design.artwork.words
    one = msgspec.structs.replace(numbered(words, number, "text"), **_given(given))
    return with_artwork(design, words=exchanged(words, number, one))


@board_edit("remove-words", "Text {number} removed", number=Param("count", "", 1, MOST_TEXTS, optional=False))
def remove_words(design: Design, *, number: int) -> Design:
    """Take a text off the board."""
    numbered(design.artwork.words, number, "text")
    return with_artwork(design, words=exchanged(design.artwork.words, number))


#: What words may follow: the edge of the board before its border, and by its colour that of a part of the picture.
Paths = Callable[[str], Contours | None]


def words_region(words: Words, paths: Paths) -> BaseGeometry:
    """The words as a region of the picture frame, mirrored on the back, where they are read from behind."""
    mirrored = words.side == "back"
    if words.bend in ("edge", "edge-inward"):
        return _along_edge(words, paths, mirrored)
    if words.bend == "straight":
        region = lettering.text_region(words.text, words.height_mm, weight=words.weight)
    else:
        region = lettering.bent_region(words.text, words.height_mm, words.radius_mm, words.bend == "under", words.weight)
    if region.is_empty:
        return EMPTY
    return lettering.placed(region, words.x_mm, words.y_mm, words.angle_deg, mirrored)


def _along_edge(words: Words, paths: Paths, mirrored: bool) -> BaseGeometry:
    contours = paths(words.path)
    line = contours.line(words.inset_mm) if contours is not None else None
    if line is None:
        return EMPTY
    points = np.asarray(line.coords)
    # Clockwise, heads are outside; the other way round they are inside. Seen from behind it is the reverse.
    if (words.bend == "edge-inward") != mirrored:
        points, share = points[::-1], 1 - words.share
    else:
        share = words.share
    return lettering.followed_region(words.text, words.height_mm, points, share, mirrored, words.weight)


def edge_place(words: Words, paths: Paths) -> tuple[float, float] | None:
    """Where words that follow an edge have their middle; None for others, and where no edge is left."""
    contours = paths(words.path) if words.bend in ("edge", "edge-inward") else None
    line = contours.line(words.inset_mm) if contours is not None else None
    if line is None:
        return None
    spot = line.interpolate(words.share * line.length)
    return spot.x, spot.y


def edge_share(words: Words, paths: Paths, x: float, y: float) -> tuple[float, float] | None:
    """The share and the inset with which words that follow an edge would stand at a place."""
    contours = paths(words.path)
    edge = contours.line(0.0) if contours is not None else None
    if contours is None or edge is None:
        return None
    inside = Polygon(edge).contains(Point(x, y))
    inset = round(float(edge.distance(Point(x, y))) * (1 if inside else -1), 2)
    line = contours.line(inset)
    return None if line is None else (float(line.project(Point(x, y)) / line.length), inset)


def paths_of(base: BaseGeometry, painted: Painted) -> Paths:
    """The edges that words may follow on a board."""
    known: dict[str, Contours | None] = {}

    def path(colour: str) -> Contours | None:
        if colour not in known:
            region = base if colour == "board" else union([one.region for one in painted.swatches if one.colour == colour])
            left, _, right, _ = region.bounds if not region.is_empty else (0.0, 0.0, 0.0, 0.0)
            known[colour] = None if region.is_empty else Contours(region, (left + right) / 2)
        return known[colour]

    return path


def with_words(
    regions: Mapping[str, BaseGeometry], words: Sequence[Words], side: str, paths: Paths
) -> Mapping[str, BaseGeometry]:
    """The art of a side with its words over it, later ones over earlier ones."""
    out = dict(regions)
    for one in words:
        if one.side != side:
            continue
        region = words_region(one, paths)
        if region.is_empty:
            continue
        out = {kind: minus(area, region) for kind, area in out.items()}
        there = out.get(one.appearance, EMPTY)
        many = shapely.get_num_geometries(there) > _MANY
        out[one.appearance] = added(there, region) if many else union([there, region])
    return {kind: out[kind] for kind in APPEARANCES if kind in out and not out[kind].is_empty}
