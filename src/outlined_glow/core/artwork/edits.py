"""The edits of the artwork: pictures, their tones, and what colours become. Words and mends have files of their own."""

from __future__ import annotations

from typing import Any

import msgspec

from ..appearances import APPEARANCES
from ..errors import Trouble
from ..project import Design, Param, Picture, Tones, board_edit
from ..project.numbered import exchanged, numbered

#: Which of the pictures, counted from 1.
WHICH = Param("count", "", 1, 99)
_WAYS = (("flat", "flat colours"), ("threshold", "two colours (threshold)"), ("diffuse", "dither"), ("screen", "halftone"))
_BACKGROUNDS = (("outside", "remove outside"), ("everywhere", "remove everywhere"))
_EDGES = (("mask", "solder mask (sharp)"), ("copper", "copper (thin laminate rim)"))
SIDES = ("front", "back")


def picture_at(design: Design, which: int | None) -> tuple[int, Picture]:
    """The number of a picture, the first one unless told, and the picture; `Trouble` if there is none."""
    pictures = design.artwork.pictures
    if not pictures:
        raise Trouble("There is no picture yet; add one first.")
    return which or 1, numbered(pictures, which or 1, "picture")


def with_artwork(design: Design, **changes: object) -> Design:
    """The board with parts of its artwork replaced."""
    return msgspec.structs.replace(design, artwork=msgspec.structs.replace(design.artwork, **changes))


def with_picture(design: Design, number: int, *instead: Picture) -> Design:
    """The board with another picture in the place of one, or without that one."""
    return with_artwork(design, pictures=exchanged(design.artwork.pictures, number, *instead))


@board_edit(
    "set-width",
    "Picture {width_mm} wide",
    width_mm=Param("quantity", "mm", 1, 1000, optional=False, title="painted width"),
    picture=WHICH,
)
def set_width(design: Design, *, width_mm: float, picture: int | None = None) -> Design:
    """The painted width of a picture, the first one unless told; everything placed on it stays where it is."""
    number, one = picture_at(design, picture)
    return with_picture(design, number, msgspec.structs.replace(one, width_mm=width_mm))


@board_edit(
    "place-picture",
    "Picture placed",
    picture=WHICH,
    x_mm=Param("quantity", "mm", -1000, 1000, axis="x", title="middle, x", step=0.5),
    y_mm=Param("quantity", "mm", -1000, 1000, axis="y", title="middle, y", step=0.5),
    angle_deg=Param("quantity", "deg", -360, 360, title="turned", step=5),
    width_mm=Param("quantity", "mm", 1, 1000, title="painted width"),
    flipped=Param("flag", title="flipped"),
    side=Param("choice", choices=SIDES, title="lies on the"),
    role=Param("choice", choices=("art", "outline")),
)
def place_picture(design: Design, *, picture: int | None = None, **changes: Any) -> Design:
    """Move a picture's middle, turn, size or flip it, lay it on the other side, or take it as the outline; the rest stays."""
    number, one = picture_at(design, picture)
    given = {key: value for key, value in changes.items() if value is not None}
    return with_picture(design, number, msgspec.structs.replace(one, **given))


@board_edit("remove-picture", "Picture taken away", picture=WHICH)
def remove_picture(design: Design, *, picture: int | None = None) -> Design:
    """Take a picture off the board; the last one stays."""
    number, _ = picture_at(design, picture)
    pictures = design.artwork.pictures
    if len(pictures) == 1 and design.shape.base in ("silhouette", "outline", "colour"):
        raise Trouble("The board is cut from this picture; give it another shape first, or replace the picture.")
    return with_picture(design, number)


@board_edit("raise-picture", "Picture {picture} laid over the others", picture=Param("count", "", 1, 99, optional=False))
def raise_picture(design: Design, *, picture: int) -> Design:
    """Lay a picture over the other ones of its side; the first one, which gives the frame, stays the first."""
    number, one = picture_at(design, picture)
    if number == 1:
        raise Trouble("The first picture gives the frame of all others and lies under them.")
    return with_artwork(design, pictures=(*exchanged(design.artwork.pictures, number), one))


@board_edit(
    "set-tones",
    "Colours of the picture",
    picture=WHICH,
    how=Param("choice", choices=("flat", "threshold", "diffuse", "screen"), title="becomes", titles=_WAYS),
    colours=Param("count", "", 2, 8, title="colours, at most"),
    seed=Param("count", "", 0, 9999),
    level_percent=Param("quantity", "%", 0, 100, title="threshold", step=5),
    ground=Param("choice", choices=("keep", "outside", "everywhere"), title="background", titles=_BACKGROUNDS),
    ground_colour=Param("colour"),
    ground_spread=Param("quantity", "", 0, 60, title="colours close to it", shown="ΔE"),
    smooth_mm=Param("quantity", "mm", 0, 2, title="smooth", step=0.05),
    smallest_mm=Param("quantity", "mm", 0, 5, title="remove specks under", step=0.05),
    deviation_mm=Param("quantity", "mm", 0.005, 0.5, title="edge tolerance", step=0.01, digits=3),
    palette=Param("names"),
    dot_mm=Param("quantity", "mm", 0.05, 5, title="smallest dot", step=0.05),
    kernel=Param("choice", choices=("near", "wide", "crisp"), title="dither", titles=(("near", "fine"),)),
    screen=Param("choice", choices=("dot", "line"), title="halftone of", titles=(("dot", "dots"), ("line", "lines"))),
    ruling_per_cm=Param("quantity", "", 1, 60, title="ruling", shown="/cm"),
    screen_deg=Param("quantity", "deg", -180, 180, title="turned", step=5),
    steps=Param("count", "", 2, 64),
)
def set_tones(design: Design, *, picture: int | None = None, level_percent: float | None = None, **changes: Any) -> Design:
    """How many colours become few: flat clusters, a threshold, diffusion or a screen; and what happens to the background."""
    number, one = picture_at(design, picture)
    given = {key: value for key, value in changes.items() if value is not None}
    if level_percent is not None:
        given["level"] = level_percent / 100
    for word in given.get("palette", ()):
        if word not in APPEARANCES:
            raise Trouble(f"There is no appearance “{word}”; there are {', '.join(APPEARANCES)}.")
    tones: Tones = msgspec.structs.replace(one.tones, **given)
    return with_picture(design, number, msgspec.structs.replace(one, tones=tones))


@board_edit(
    "set-appearance",
    "Colour {colour} becomes {appearance}",
    colour=Param("colour", optional=False),
    appearance=Param("choice", choices=APPEARANCES, optional=False),
)
def set_appearance(design: Design, *, colour: str, appearance: str) -> Design:
    """Choose by hand what a colour becomes; that choice is kept whatever the stack."""
    chosen = {**design.artwork.chosen, colour: appearance}
    return with_artwork(design, chosen=dict(sorted(chosen.items())))


@board_edit("propose-appearance", "Colour {colour} as suggested", colour=Param("colour", optional=False))
def propose_appearance(design: Design, *, colour: str) -> Design:
    """Leave a colour to the proposal again."""
    chosen = {key: value for key, value in design.artwork.chosen.items() if key != colour}
    return with_artwork(design, chosen=chosen)


@board_edit("propose-all", "Every colour as suggested")
def propose_all(design: Design) -> Design:
    """Leave every colour to the proposal again."""
    return with_artwork(design, chosen={})


@board_edit(
    "edge-metal",
    "Metal edged by the {by}",
    by=Param("choice", choices=("mask", "copper"), optional=False, title="metal edge set by", titles=_EDGES),
)
def edge_metal(design: Design, *, by: str) -> Design:
    """Whether art metal ends where the mask opens (crisp, no rim) or where its copper ends (a thin rim of laminate)."""
    return with_artwork(design, edged_by=by)
