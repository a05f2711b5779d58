"""The table of passes from one board of a project to its `Board`, in the order they run (see `core/passes.py`).

Names are those of what is made. What a pass reads stands in `given_of` or is made by a pass above it.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
from operator import attrgetter, itemgetter
from typing import Any

import msgspec
from shapely.geometry.base import BaseGeometry

from ..artwork import Art, Chosen, group
from ..artwork.mends import mended
from ..artwork.words import Paths, paths_of, with_words, words_region
from ..board.clean import Cleaned, Rules, clean_art, clean_beside, mark_of, pack, unpack
from ..board.layers import (
    ArtLayers,
    Regions,
    art_layers,
    art_round_pads,
    back_ink,
    back_words,
    front_ink,
    lights_of,
    make_board,
    part_layers,
    printed_ink,
    pulled_ink,
)
from ..board.printable_area import printable_area_of
from ..board.under_ink import raised_under_ink
from ..geometry.regions import EMPTY, union
from ..lights.own_parts import own_parts
from ..motion.film_files import FILMS
from ..parts import Profile
from ..passes import Pass
from ..project import Clean, Design, Mend, Project, Shape, Stack, Words
from ..shape import Outline, base_of, make_outline, taken_outline
from ..watch import Watch
from .artwork_passes import ARTWORK
from .drive_passes import DRIVEN
from .light_passes import LIGHTS
from .motion_passes import MOTION
from .wiring_passes import WIRING

SIDES = ("front", "back")
#: Where a clean-up is kept in a project's file.
CLEANED = "clean/"


def given_of(project: Project, design: Design) -> dict[str, Any]:
    """What the passes of one board begin from."""
    brief, artwork, members = project.brief_of(design), design.artwork, project.members
    return {
        "title": project.title_of(design),
        "brief": brief,
        "stack": brief.stack,
        "design": design,
        "pictures": artwork.pictures,
        "picture files": tuple((members[picture.member], picture.name) for picture in artwork.pictures),
        "chosen by hand": artwork.chosen,
        "edged by": artwork.edged_by,
        "words": artwork.words,
        "mends": artwork.mends,
        "clean": artwork.clean,
        "kept clean-ups": {name: data for name, data in members.items() if name.startswith(CLEANED)},
        "shape": design.shape,
        "taken file": members.get(design.shape.drawn, b""),
        "seen from": brief.distance_m,
        "own patterns": project.motion.patterns,
        "own glyphs": project.motion.glyphs,
        "current limit": project.motion.limit_a,
        "digits to show": brief.digits,
        "ambient": brief.ambient,
        "purpose": brief.purpose,
        "place": brief.place,
        "limits": brief.limits,
        "own parts": own_parts(members),
        "passports": project.passports,
        "arrays": design.lights,
        "numbered": design.numbered,
        "chaining": design.chain,
        "drive": design.drive,
        # A label that is moved draws no track anew.
        "wiring": msgspec.structs.replace(design.wiring, labels=()) if design.wiring.labels else design.wiring,
        "labels by hand": design.wiring.labels,
        "motion": project.motion,
        # Two boards that are alike are made once, unless the score tells them apart.
        "board name": design.name if any(one.board for one in project.motion.score) else "",
        "films": tuple(sorted((name, data) for name, data in members.items() if name.startswith(FILMS))),
        "copper before": None,
        "stood before": (),
    }


# -- the art of each side, its edge and its clean-up ----------------------------------------------------------------


def _drawn(chosen: tuple[Chosen, ...], front: Regions, back: Regions) -> Art:
    return Art(chosen, front, back)


def _cut(front: Regions) -> BaseGeometry:
    return front.get("cut", EMPTY)


def _recut(base: BaseGeometry, cut: BaseGeometry, rules: Profile) -> partial[Outline]:
    """The outline as it would be under another shape."""
    return partial(_outline_under, base, cut, rules)


def _outline_under(base: BaseGeometry, cut: BaseGeometry, rules: Profile, shape: Shape) -> Outline:
    return make_outline(base, cut, shape, rules)


def _clean_rules(rules: Profile, stack: Stack, edged_by: str, clean: Clean | None) -> Rules | None:
    return None if clean is None else Rules.of(rules, stack.mask, edged_by, clean.keep)


def _mark(regions: Regions, copper: BaseGeometry, rules: Rules | None) -> str:
    """What tells one clean-up from another; "" where none is wanted."""
    return "" if rules is None else mark_of(regions, copper, rules)


def _cleaned(
    mark: str, regions: Regions, copper: BaseGeometry, rules: Rules, kept: Mapping[str, bytes], watch: Watch
) -> Cleaned | None:
    """The clean-up that was kept in the project's file, or a new one."""
    if not mark:
        return None
    data = kept.get(clean_member(mark), b"")
    return (unpack(data) if data else None) or clean_art(regions, copper, rules, watch)


def _packed(mark: str, cleaned: Cleaned | None, kept: Mapping[str, bytes]) -> bytes:
    return b"" if cleaned is None else kept.get(clean_member(mark), b"") or pack(cleaned)


def clean_member(mark: str) -> str:
    """Where a clean-up is kept in the project's file."""
    return f"{CLEANED}{mark}.bin"


def _clean_regions(drawn: Regions, cleaned: Cleaned | None) -> Regions:
    return drawn if cleaned is None else cleaned.regions


def _clean_copper(raised: BaseGeometry, cleaned: Cleaned | None) -> BaseGeometry:
    return raised if cleaned is None else cleaned.copper


def _raised(
    side: str, drawn: Regions, mended: Regions, under_ink: BaseGeometry, mends: tuple[Mend, ...], rules: Rules | None
) -> BaseGeometry:
    """Copper that is not metal, under ink too, of art that nobody cleans up."""
    if rules is not None:
        return EMPTY
    return under_ink if drawn is mended else raised_under_ink(drawn, mends, side)


def _to_clean(under_ink: BaseGeometry, rules: Rules | None) -> BaseGeometry:
    """The same of art that is to be cleaned up, before its text."""
    return EMPTY if rules is None else under_ink


def _text_cleaned(
    side: str,
    cleaned: Cleaned | None,
    words: tuple[Words, ...],
    paths: Paths,
    mends: tuple[Mend, ...],
    rules: Rules | None,
    watch: Watch,
) -> Cleaned | None:
    """The clean-up with text laid over it, which is cleaned up by itself: other text cleans no picture anew."""
    mine = [one for one in words if one.side == side]
    if cleaned is None or rules is None or not mine:
        return cleaned
    laid = union([words_region(one, paths) for one in mine])
    art = with_words(cleaned.regions, words, side, paths)
    return clean_beside(cleaned, art, raised_under_ink(art, mends, side), laid, rules, watch)


def _of_side(side: str) -> tuple[Pass, ...]:
    def own(name: str) -> str:
        return f"{side} {name}"

    return (
        Pass(own("regions"), ("painted", "appearances"), partial(_side_of, group, side), weight=2),
        Pass(own("mended"), (own("regions"), "mends"), partial(_side_of, mended, side), weight=2),
        Pass(own("drawn"), (own("mended"), "words", "paths"), partial(_lettered, side)),
        Pass(own("under ink"), (own("mended"), "mends"), partial(_side_of, raised_under_ink, side), weight=2),
        Pass(own("raised"), (own("drawn"), own("mended"), own("under ink"), "mends", "clean rules"), partial(_raised, side)),
        Pass(own("to clean"), (own("under ink"), "clean rules"), _to_clean),
        Pass(own("mark"), (own("mended"), own("to clean"), "clean rules"), _mark),
        Pass(
            own("cleaned"), (own("mark"),), _cleaned, watched=True, weight=4, words="cleaning up",
            aside=(own("mended"), own("to clean"), "clean rules", "kept clean-ups"),
        ),
        Pass(own("packed"), (own("mark"), own("cleaned")), _packed, aside=("kept clean-ups",)),
        Pass(
            own("text cleaned"), (own("cleaned"), "words", "paths", "mends", "clean rules"), partial(_text_cleaned, side),
            watched=True, weight=2, words="cleaning up",
        ),
        Pass(own("art"), (own("drawn"), own("text cleaned")), _clean_regions),
        Pass(own("copper"), (own("raised"), own("text cleaned")), _clean_copper),
    )  # fmt: skip


def _side_of(run: Any, side: str, *read: Any) -> Any:
    return run(*read, side)


def _lettered(side: str, regions: Regions, words: Any, paths: Any) -> Regions:
    if not any(one.side == side for one in words):
        return regions
    return with_words(regions, words, side, paths)


SHAPE = (
    Pass("taken", ("taken file",), taken_outline),
    Pass("base", ("painted", "shape", "taken"), base_of, weight=2),
    Pass("paths", ("base", "painted"), paths_of),
    Pass("clean rules", ("rules", "stack", "edged by", "clean"), _clean_rules),
    *_of_side("front"),
    *_of_side("back"),
    Pass("drawn", ("chosen", "front drawn", "back drawn"), _drawn),
    Pass("art", ("chosen", "front art", "back art"), _drawn),
    Pass("cut", ("front drawn",), _cut),
    Pass("outline", ("base", "cut", "shape", "rules"), make_outline, weight=3),
    Pass("recut", ("base", "cut", "rules"), _recut),
    Pass("printable area", ("outline", "rules"), printable_area_of),
)

# -- LEDs, their drive, and the layers --------------------------------------------------------------------------------


def _flat(
    front: Regions,
    back: Regions,
    raised_front: Any,
    raised_back: Any,
    outline: Outline,
    printable: Any,
    edged: str,
    rules: Profile,
) -> Any:
    return art_layers(front, back, (raised_front, raised_back), outline, printable, edged, rules)


def _board(title: str, laid: Any, front: Any, back: Any, *rest: Any) -> Any:
    return make_board(title, laid, (front, back), *rest)


BOARD = (
    Pass(
        "flat",
        ("front art", "back art", "front copper", "back copper", "outline", "printable area", "edged by", "rules"),
        _flat,
        weight=6,
    ),
    Pass("flat here", ("flat", "outline"), ArtLayers.in_board_frame),
    *LIGHTS,
    *DRIVEN,
    Pass("part layers", ("flat here", "placements", "rules"), part_layers, weight=3),
    Pass("art round pads", ("flat here", "part layers", "rules"), art_round_pads, weight=6),
    *WIRING,
    *(
        one
        for side in SIDES
        for one in (
            Pass(f"{side} pulled ink", ("flat here", "rules"), partial(pulled_ink, side)),
            Pass(f"{side} printed ink", (f"{side} pulled ink", "part layers", "rules"), partial(printed_ink, side)),
        )
    ),
    Pass("front ink", ("front printed ink", "flat here", "part layers", "placements", "rules"), front_ink, weight=4),
    Pass("values", ("plan",), attrgetter("values")),
    Pass(
        "back words",
        ("title", "flat", "leds", "chain", "placed parts", "values", "outline", "rules", "labels by hand"),
        back_words,
        weight=4,
    ),
    Pass("back ink", ("back words", "outline"), back_ink),
    Pass("label spots", ("back words",), itemgetter(1)),
    Pass("lights", ("leds", "plan", "outline"), lights_of),
    Pass(
        "board",
        (
            "title",
            "wired layers",
            "front ink",
            "back ink",
            "outline",
            "lights",
            "plan",
            "parts",
            "stack",
            "rules",
            "look",
            "wires",
        ),
        _board,
        weight=2,
    ),
    *MOTION,
)

#: From a board of the project to the Board.
PASSES = (*ARTWORK, *SHAPE, *BOARD)
