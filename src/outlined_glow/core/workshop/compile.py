"""project -> board: pure stage functions, each remembered by the identity of what it reads."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

import msgspec
from shapely.geometry.base import BaseGeometry

from .. import brief, motion  # noqa: F401  (every stage's edits are registered by loading it)
from ..artwork import (
    Art,
    Chosen,
    Painted,
    Resolved,
    Source,
    ToneRules,
    choose,
    compose,
    fine_width,
    group,
    place,
    read_picture,
    resolve,
    touching,
)
from ..artwork.mends import mended
from ..artwork.words import Paths, paths_of, with_words
from ..board import Board
from ..board.clean import Cleaned, Rules, clean_art, mark_of, pack, unpack
from ..board.layers import ArtLayers, Ground, Regions, art_layers, back_ink, front_ink, lay_ground, make_board
from ..board.room import Room, room_of
from ..board.under_ink import raised_under_ink
from ..brief.look import look_of
from ..colour import Materials
from ..drive import DrivePlan, plan_drive
from ..drive.seats import Part, find_seats, wanted_seats, with_values
from ..geometry.regions import EMPTY, union
from ..lights import Led, place_leds
from ..order import check
from ..parts import Profile, profile_of
from ..project import Artwork, Finding, Mend, Project, Shape, Tones, Words
from ..project.frames import in_board_frame
from ..shape import Outline, base_of, make_outline, taken_outline
from ..shape.findings import Recut
from ..watch import ALONE, Watch

Result = TypeVar("Result")
#: Dots of a tone are so much larger than the smallest feature that prints.
_SURE = 1.5
#: Where a clean-up is kept in a project's file.
CLEANED = "clean/"


@dataclass(frozen=True)
class Work:
    """Everything compile found out about one project."""

    project: Project
    pictures: tuple[tuple[Source, Painted], ...]
    painted: Painted
    art: Art
    #: The art as it is drawn, before its clean-up.
    drawn: Art
    outline: Outline
    leds: tuple[Led, ...]
    plan: DrivePlan
    board: Board
    flat: ArtLayers
    paths: Paths
    recut: Recut
    #: Members that save doing the clean-up again.
    kept: dict[str, bytes]
    found: tuple[Finding, ...]


class Compiler:
    """Keeps each stage's last inputs and result, so that an edit recomputes only what it touches.

    One compiler serves one window or one command; calls from several threads take turns.
    """

    def __init__(self) -> None:
        self._memory: dict[str, tuple[tuple[Any, ...], Any]] = {}
        self._lock = threading.Lock()

    def compile(self, project: Project, watch: Watch = ALONE) -> Work:
        """The board and all that led to it. `Trouble` when there is no board to be made."""
        with self._lock:
            return self._compile(project, watch)

    def _compile(self, project: Project, watch: Watch) -> Work:
        design, stack = project.design, project.brief.stack
        rules: Profile = profile_of(project.brief)
        materials: Materials = self._stage("materials", look_of, stack, rules)
        pictures = self._pictures(project, materials, rules, watch.part(0.0, 0.5, "taking the picture apart"))
        painted: Painted = self._stage("painted", _composed, *(one for _, one in pictures))
        beside = self._stage("beside", touching, painted)
        chosen = self._stage("choice", choose, painted, beside, design.artwork.chosen, materials, rules.has_mask)
        taken = self._stage("drawn", taken_outline, project.members.get(design.shape.drawn, b""))
        base = self._stage("base", base_of, painted, design.shape, taken)
        paths: Paths = self._stage("paths", paths_of, base, painted)
        drawn = self._art(painted, chosen, design.artwork, paths)
        watch.at(0.55)
        cut = drawn.regions.get("cut", EMPTY)
        outline: Outline = self._stage("outline", make_outline, base, cut, design.shape, rules)

        def recut(shape: Shape) -> Outline:
            return make_outline(base, cut, shape, rules)

        raised = self._stage("under ink", _raised, drawn.regions, drawn.back, design.artwork.mends)
        room: Room = self._stage("room", room_of, outline, rules)
        kept: dict[str, bytes] = {}
        art, raised = self._cleaned(project, drawn, raised, rules, kept, watch.part(0.55, 0.6, "cleaning up"))
        flat: ArtLayers = self._stage(
            "layers", art_layers, art.regions, art.back, raised, outline, room, design.artwork.edged_by, rules
        )
        leds, light_findings = self._stage("lights", place_leds, design.lights, *_to_place_on(painted, outline))
        plan: DrivePlan = self._stage("drive", plan_drive, design.drive, leds)
        watch.at(0.65)
        windows = self._stage("windows", _kept_clear, art.regions, art.back, outline)
        seats: tuple[Part, ...]
        wanted = wanted_seats(design.drive, plan, leds)
        seats, seat_findings = self._stage("seats", find_seats, *wanted, leds, outline, windows, rules)
        watch.at(0.8)
        ground: Ground = self._stage("ground", lay_ground, flat, outline, leds, seats, rules)
        watch.at(0.9)
        parts: tuple[Part, ...] = self._stage("parts", with_values, seats, plan)
        front = self._stage("front ink", front_ink, flat, ground, leds, outline, rules)
        back = self._stage("back ink", back_ink, project.name, flat, ground, leds, parts, outline, rules)
        inks = self._stage("inks", _pair, front, back)
        board: Board = self._stage(
            "board", make_board, project.name, ground, inks, outline, leds, plan, parts, stack, rules, materials
        )
        moved = tuple(in_board_frame(one, board.origin) for one in (*outline.findings, *light_findings, *seat_findings))
        found = (*moved, *plan.findings)
        return Work(project, pictures, painted, art, drawn, outline, leds, plan, board, flat, paths, recut, kept, found)

    def _pictures(
        self, project: Project, materials: Materials, rules: Profile, watch: Watch
    ) -> tuple[tuple[Source, Painted], ...]:
        """Every picture of the board: as it was read, and taken apart and set in its place."""
        pictures = project.design.artwork.pictures
        placed = []
        for number, picture in enumerate(pictures):
            source: Source = self._stage(f"source {number}", read_picture, project.members[picture.member], picture.name)
            tone_rules = (
                self._stage("tone rules", tone_rules_of, materials, rules)
                if picture.tones.how in ("diffuse", "screen")
                else None
            )
            fine = picture.width_mm if tone_rules is not None else fine_width(picture.width_mm)
            resolved: Resolved = self._stage(
                f"resolved {number}",
                resolve,
                source,
                fine,
                picture.name,
                picture.tones,
                tone_rules,
                skip=(watch.part(number / len(pictures), (number + 1) / len(pictures)),),
            )
            placed.append((source, self._stage(f"placed {number}", place, resolved, picture)))
        return tuple(placed)

    def _art(self, painted: Painted, chosen: tuple[Chosen, ...], artwork: Artwork, paths: Paths) -> Art:
        words = ",".join(one.appearance for one in chosen)
        sides = []
        for side in ("front", "back"):
            regions: Regions = self._stage(f"regions {side}", group, painted, words, side)
            regions = self._stage(f"mended {side}", mended, regions, artwork.mends, side)
            sides.append(self._stage(f"words {side}", with_words, regions, artwork.words, side, paths))
        return Art(chosen, *sides)

    def _cleaned(
        self,
        project: Project,
        drawn: Art,
        raised: tuple[BaseGeometry, BaseGeometry],
        rules: Profile,
        kept: dict[str, bytes],
        watch: Watch,
    ) -> tuple[Art, tuple[BaseGeometry, BaseGeometry]]:
        """The art after its clean-up, and where copper lies that is not metal, each side. `kept` gets what is worth keeping
        in the project's file."""
        artwork = project.design.artwork
        if artwork.clean is None:
            return drawn, raised
        asked = Rules.of(rules, project.brief.stack.mask, artwork.edged_by, artwork.clean.keep)
        sides = []
        for at, (regions, copper) in enumerate(((drawn.regions, raised[0]), (drawn.back, raised[1]))):
            part = watch.part(at / 2, at / 2 + 0.5)
            mark: str = self._stage(f"clean mark {at}", mark_of, regions, copper, asked)
            member = f"{CLEANED}{mark}.bin"
            data = project.members.get(member, b"")
            done: Cleaned = self._stage(f"clean {at}", _clean, mark, skip=(regions, copper, asked, data, part))
            kept[member] = data or self._stage(f"packed {at}", pack, done)
            sides.append(done)
        art: Art = self._stage("cleaned", Art, drawn.chosen, sides[0].regions, sides[1].regions)
        return art, self._stage("copper of it", _pair, sides[0].copper, sides[1].copper)

    def findings(self, work: Work) -> tuple[Finding, ...]:
        """Every finding about the work, stops first; remembered for the latest."""
        with self._lock:
            return self._stage("findings", _check, work)

    def _stage(self, name: str, run: Callable[..., Result], *inputs: Any, skip: tuple[Any, ...] = ()) -> Result:
        known = self._memory.get(name)
        if (
            known is not None
            and len(known[0]) == len(inputs)
            and all(_same(a, b) for a, b in zip(known[0], inputs, strict=True))
        ):
            return known[1]  # type: ignore[no-any-return]
        result = run(*inputs, *skip)
        self._memory[name] = (inputs, result)
        return result


def _same(one: Any, other: Any) -> bool:
    if one is other:
        return True
    if isinstance(one, Tones | Rules) or (isinstance(one, tuple) and one and isinstance(one[0], Words | Mend)):
        return type(one) is type(other) and bool(one == other)
    return isinstance(one, str | float | int | bool) and type(one) is type(other) and one == other


def _check(work: Work) -> tuple[Finding, ...]:
    return check(
        work.project, work.painted, work.drawn, work.outline, work.flat, work.board, work.paths, work.recut, work.found
    )


def _pair(one: Any, other: Any) -> Any:
    return one, other


def _clean(mark: str, regions: Regions, copper: BaseGeometry, rules: Rules, data: bytes, watch: Watch) -> Cleaned:
    """The clean-up that was kept in the project's file, or a new one."""
    return (unpack(data) if data else None) or clean_art(regions, copper, rules, watch)


def with_cleaned(work: Work) -> Project:
    """The project with its clean-up among its members, so that it opens without doing it again."""
    members = {name: data for name, data in work.project.members.items() if not name.startswith(CLEANED)}
    return msgspec.structs.replace(work.project, members={**members, **work.kept})


def _composed(*placed: Painted) -> Painted:
    return compose(placed)


def _raised(front: Regions, back: Regions, mends: tuple[Mend, ...]) -> tuple[BaseGeometry, BaseGeometry]:
    return raised_under_ink(front, mends, "front"), raised_under_ink(back, mends, "back")


def _to_place_on(painted: Painted, outline: Outline) -> tuple[BaseGeometry, tuple[float, float]]:
    """The silhouette that lights run along, and the picture's box; a board without a picture is its own."""
    if painted.silhouette.is_empty:
        return outline.region, outline.size
    return painted.silhouette, painted.size


def _kept_clear(front: Regions, back: Regions, outline: Outline) -> BaseGeometry:
    """Where no part may sit on the back: behind what lets light through, on the metal there, under screw heads."""
    light = [art[kind] for art in (front, back) for kind in ("window", "veiled") if kind in art]
    return union([*light, back.get("metal", EMPTY), outline.fixed.reserved])


def tone_rules_of(materials: Materials, rules: Profile) -> ToneRules:
    """What tones are made of there: every appearance a proposal may choose but windows, and the smallest dot."""
    offered = ("mask", "raised", "metal", "ink") if rules.has_mask else ("metal", "window")
    dot = _SURE * max(rules.track_mm, rules.gap_mm, rules.legend_line_mm if rules.has_legend else 0.0)
    return ToneRules(tuple((word, materials.colour(word)) for word in offered), dot)
