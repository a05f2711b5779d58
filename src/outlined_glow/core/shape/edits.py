"""The edits of the shape."""

from __future__ import annotations

from typing import Any

import msgspec

from ..errors import Trouble
from ..project import Design, Feature, Hole, Island, Param, board_edit
from ..project.bounds import MOST_FEATURES, MOST_ISLANDS
from ..project.numbered import exchanged, numbered
from .features import fixings
from .primitives import FORMS

BASES = ("silhouette", "outline", "colour", "drawn", *FORMS)
_TITLES = (
    ("silhouette", "the silhouette"),
    ("outline", "the outline layer"),
    ("colour", "one colour"),
    ("drawn", "outline from a file"),
)
_FEATURE = {
    "x_mm": Param("quantity", "mm", -1000, 1000, axis="x", title="x", step=0.5),
    "y_mm": Param("quantity", "mm", -1000, 1000, axis="y", title="y", step=0.5),
    "angle_deg": Param("quantity", "deg", -360, 360, title="turned", step=5, digits=1),
    "size_mm": Param("quantity", "mm", 0.3, 200, title="diameter or width", step=0.1),
    "length_mm": Param("quantity", "mm", 0.3, 400, title="length", step=0.5),
    "screw": Param("choice", choices=lambda: tuple(fixings()["screws"]), title="for a screw"),
    "count": Param("count", "", 1, 200, title="how many"),
    "along": Param("flag", title="spaced evenly along the edge"),
    "inset_mm": Param("quantity", "mm", 0.1, 100, title="from the board edge", step=0.1),
    "start": Param("quantity", "", 0, 1, title="start, % of the way round", shown="%", step=2, digits=1),
    "thread": Param("choice", choices=("conductive", "plain"), title="for thread"),
    "needle_mm": Param("quantity", "mm", 0.2, 5, title="for a needle of", step=0.1),
}


def _with_shape(design: Design, **changes: object) -> Design:
    return msgspec.structs.replace(design, shape=msgspec.structs.replace(design.shape, **changes))


@board_edit(
    "set-shape",
    "Shape",
    base=Param("choice", choices=BASES, title="outline from", titles=_TITLES),
    colour=Param("colour", title="which colour"),
    width_mm=Param("quantity", "mm", 1, 1000, title="width"),
    height_mm=Param("quantity", "mm", 1, 1000, title="height"),
    points=Param("count", "", 3, 24, title="points"),
    depth=Param("quantity", "", 0.05, 0.95, title="depth", step=0.05),
    corner_mm=Param("quantity", "mm", 0, 200, title="corner radius", step=0.5),
    x_mm=Param("quantity", "mm", -1000, 1000, axis="x"),
    y_mm=Param("quantity", "mm", -1000, 1000, axis="y"),
    angle_deg=Param("quantity", "deg", -360, 360, title="turned", step=5, digits=1),
    with_picture=Param("flag", title="add the picture's silhouette"),
    smooth_mm=Param("quantity", "mm", 0, 20, title="smooth", step=0.2),
    copper_to_edge=Param("flag", title="copper over the edge"),
)
def set_shape(design: Design, **changes: Any) -> Design:
    """What the board is cut from: the silhouette, a layer, a colour, or a form with its parameters; the rest stays."""
    given = {key: value for key, value in changes.items() if value is not None}
    if given.get("base") == "silhouette" and not design.artwork.pictures:
        raise Trouble("There is no picture whose silhouette could be taken; add one first.")
    if given.get("base") == "drawn" and not design.shape.drawn:
        raise Trouble("No outline was taken from a file yet: take-outline file=… does that.")
    if given.get("base") == "colour" and not given.get("colour", design.shape.colour):
        raise Trouble("Say which colour of the picture is the board: colour=RRGGBB.")
    return _with_shape(design, **given)


def _feature(values: dict[str, Any], one: Feature) -> Feature:
    """A feature with the values given; a needle says how wide its hole must be (DOMAIN 14)."""
    needle = values.pop("needle_mm", None)
    if needle is not None:
        values["size_mm"] = round(needle + fixings()["needle_spare_mm"], 3)
    return msgspec.structs.replace(one, **{key: value for key, value in values.items() if value is not None})


@board_edit(
    "add-feature", "{kind} added", kind=Param("choice", choices=lambda: tuple(fixings()["kinds"]), optional=False), **_FEATURE
)
def add_feature(design: Design, *, kind: str, **values: Any) -> Design:
    """A hole, slot, cut or pad: at a place, or by rule along the edge (along=yes, count)."""
    features = design.shape.features
    if len(features) >= MOST_FEATURES:
        raise Trouble(f"A board takes {MOST_FEATURES} features; set some of them by rule, many at once.")
    return _with_shape(design, features=(*features, _feature(values, Feature(kind=kind))))  # type: ignore[arg-type]


_WHICH = Param("count", "", 1, MOST_FEATURES, optional=False)


@board_edit("set-feature", "Feature {number}", number=_WHICH, **_FEATURE)
def set_feature(design: Design, *, number: int, **values: Any) -> Design:
    """Move or change a feature; what is not named stays."""
    features = design.shape.features
    return _with_shape(design, features=exchanged(features, number, _feature(values, numbered(features, number, "feature"))))


@board_edit("remove-feature", "Feature {number} taken away", number=_WHICH)
def remove_feature(design: Design, *, number: int) -> Design:
    """Take a feature off the board."""
    numbered(design.shape.features, number, "feature")
    return _with_shape(design, features=exchanged(design.shape.features, number))


@board_edit(
    "set-border", "Border {border_mm}", border_mm=Param("quantity", "mm", 0, 50, optional=False, title="border", step=0.1)
)
def set_border(design: Design, *, border_mm: float) -> Design:
    """How far the board reaches beyond the picture."""
    return msgspec.structs.replace(design, shape=msgspec.structs.replace(design.shape, border_mm=border_mm))


@board_edit(
    "keep-holes", "Holes of the picture kept: {keep}", keep=Param("flag", optional=False, title="keep holes of the picture")
)
def keep_holes(design: Design, *, keep: bool) -> Design:
    """Whether holes of the silhouette become holes of the board."""
    return msgspec.structs.replace(design, shape=msgspec.structs.replace(design.shape, keep_holes=keep))


@board_edit(
    "hold-island",
    "Loose piece: {how}",
    x_mm=Param("quantity", "mm", -1000, 1000, optional=False, axis="x"),
    y_mm=Param("quantity", "mm", -1000, 1000, optional=False, axis="y"),
    how=Param("choice", choices=("tabs", "keep", "drop"), optional=False),
    count=Param("count", "", 1, 12),
)
def hold_island(design: Design, *, x_mm: float, y_mm: float, how: str, count: int | None = None) -> Design:
    """Hold a loose piece (a place on it) by tabs, keep the cut round it from being made, or drop it from the board."""
    islands = design.shape.islands
    if len(islands) >= MOST_ISLANDS:
        raise Trouble(f"A board takes {MOST_ISLANDS} such choices; join the pieces in the drawing.")
    one = Island(x_mm, y_mm, how, count or 3)  # type: ignore[arg-type]
    return _with_shape(design, islands=(*islands, one))


@board_edit("release-island", "Choice {number} about a loose piece undone", number=Param("count", "", 1, 99, optional=False))
def release_island(design: Design, *, number: int) -> Design:
    """Undo what was chosen for a loose piece; the number is that of the list."""
    islands = design.shape.islands
    numbered(islands, number, "choice about a loose piece")
    return _with_shape(design, islands=exchanged(islands, number))


@board_edit(
    "set-hole",
    "Hanging hole",
    diameter_mm=Param("quantity", "mm", 0.8, 10, title="diameter, unplated", step=0.1),
    x_mm=Param("quantity", "mm", -1000, 1000, axis="x", title="x", step=0.5),
    y_mm=Param("quantity", "mm", -1000, 1000, axis="y", title="y", step=0.5),
    automatic=Param("flag"),
)
def set_hole(
    design: Design,
    *,
    diameter_mm: float | None = None,
    x_mm: float | None = None,
    y_mm: float | None = None,
    automatic: bool | None = None,
) -> Design:
    """Give the board a hanging hole, or change it; `automatic` lets it find its own place again."""
    shape = design.shape
    hole = shape.hole or Hole()
    x, y = (None, None) if automatic else (hole.x_mm, hole.y_mm)
    changed = Hole(
        diameter_mm if diameter_mm is not None else hole.diameter_mm,
        x_mm if x_mm is not None else x,
        y_mm if y_mm is not None else y,
    )
    if (changed.x_mm is None) != (changed.y_mm is None):
        raise Trouble("The hole finds its own place so far: give it both x and y.")
    return msgspec.structs.replace(design, shape=msgspec.structs.replace(shape, hole=changed))


@board_edit("remove-hole", "Hanging hole removed")
def remove_hole(design: Design) -> Design:
    """Take the hanging hole away."""
    return msgspec.structs.replace(design, shape=msgspec.structs.replace(design.shape, hole=None))
