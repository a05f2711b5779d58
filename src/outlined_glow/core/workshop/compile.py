"""project -> board: pure stage functions, each remembered by the identity of what it reads."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, TypeVar

from .. import brief, motion  # noqa: F401  (every stage's edits are registered by loading it)
from ..artwork import Art, Drawing, Painted, Resolved, choose, fine_width, group, place, read_picture, resolve
from ..board import Board
from ..board.layers import ArtLayers, Ground, Regions, art_layers, back_ink, front_ink, lay_ground, make_board, raised_under_ink
from ..colour import Materials, materials_of
from ..drive import DrivePlan, plan_drive
from ..drive.seats import Part, find_seats, wanted_seats, with_values
from ..errors import Trouble
from ..geometry.regions import EMPTY, union
from ..lights import Led, place_leds
from ..order import check
from ..parts import Profile, profile
from ..project import Finding, Project
from ..shape import Outline, make_outline

Result = TypeVar("Result")


class Cancelled(Exception):
    """The work is no longer wanted."""


@dataclass(frozen=True)
class Work:
    """Everything compile found out about one project."""

    project: Project
    painted: Painted
    art: Art
    outline: Outline
    leds: tuple[Led, ...]
    plan: DrivePlan
    board: Board
    flat: ArtLayers
    found: tuple[Finding, ...]


class Compiler:
    """Keeps each stage's last inputs and result, so that an edit recomputes only what it touches.

    One compiler serves one window or one command; calls from several threads take turns.
    """

    def __init__(self) -> None:
        self._memory: dict[str, tuple[tuple[Any, ...], Any]] = {}
        self._lock = threading.Lock()

    def compile(self, project: Project, cancelled: Callable[[], bool] = lambda: False) -> Work:
        """The board and all that led to it. `Trouble` when there is no board to be made."""
        with self._lock:
            return self._compile(project, cancelled)

    def _compile(self, project: Project, cancelled: Callable[[], bool]) -> Work:
        design, stack = project.design, project.brief.stack
        picture = design.artwork.picture
        if picture is None:
            raise Trouble("There is no picture yet; open one to begin.")
        rules: Profile = profile(project.brief.profile)
        data = project.members[picture.member]
        drawing: Drawing = self._stage("drawing", read_picture, data, picture.name)
        width, called = design.artwork.width_mm, picture.name
        resolved: Resolved = self._stage("resolved", resolve, drawing, fine_width(width), called, skip=(cancelled,))
        self._check(cancelled, "resolved")
        painted: Painted = self._stage("paint", place, resolved, width, called)
        materials: Materials = self._stage("materials", materials_of, stack.mask, stack.finish, stack.ink, stack.thickness_mm)
        chosen = self._stage("choice", choose, painted, design.artwork.chosen, materials, rules.has_mask)
        words = ",".join(one.appearance for one in chosen)
        regions: Regions = self._stage("regions", group, painted, words)
        art = Art(chosen, regions)
        self._check(cancelled)
        cut = regions.get("cut", EMPTY)
        outline: Outline = self._stage("outline", make_outline, painted.silhouette, cut, design.shape, rules)
        raised = self._stage("under ink", raised_under_ink, regions)
        flat: ArtLayers = self._stage("layers", art_layers, regions, raised, outline, rules)
        leds, light_findings = self._stage("lights", place_leds, design.lights, painted.silhouette, painted.size)
        plan: DrivePlan = self._stage("drive", plan_drive, design.drive, leds)
        self._check(cancelled)
        windows = self._stage("windows", _both, regions.get("window", EMPTY), regions.get("veiled", EMPTY))
        seats: tuple[Part, ...]
        wanted = wanted_seats(design.drive, plan, leds)
        seats, seat_findings = self._stage("seats", find_seats, *wanted, leds, outline, windows, rules)
        self._check(cancelled)
        ground: Ground = self._stage("ground", lay_ground, flat, outline, leds, seats, rules)
        self._check(cancelled)
        parts: tuple[Part, ...] = self._stage("parts", with_values, seats, plan)
        front = self._stage("front ink", front_ink, flat, ground, leds, outline, rules)
        back = self._stage("back ink", back_ink, project.name, ground, leds, parts, outline, rules)
        inks = self._stage("inks", _pair, front, back)
        board: Board = self._stage(
            "board", make_board, project.name, ground, inks, outline, leds, plan, parts, stack, rules, materials
        )
        moved = tuple(_in_board_frame(one, board) for one in (*outline.findings, *light_findings, *seat_findings))
        return Work(project, painted, art, outline, leds, plan, board, flat, (*moved, *plan.findings))

    def findings(self, work: Work) -> tuple[Finding, ...]:
        """Every finding about the work, stops first; remembered for the latest."""
        with self._lock:
            return self._stage("findings", _check, work)

    def _stage(self, name: str, run: Callable[..., Result], *inputs: Any, skip: tuple[Any, ...] = ()) -> Result:
        known = self._memory.get(name)
        if known is not None and all(_same(a, b) for a, b in zip(known[0], inputs, strict=True)):
            return known[1]  # type: ignore[no-any-return]
        result = run(*inputs, *skip)
        self._memory[name] = (inputs, result)
        return result

    def _check(self, cancelled: Callable[[], bool], unfinished: str = "") -> None:
        if cancelled():
            if unfinished:
                self._memory.pop(unfinished, None)
            raise Cancelled


def _same(one: Any, other: Any) -> bool:
    if one is other:
        return True
    return isinstance(one, str | float | int | bool) and type(one) is type(other) and one == other


def _check(work: Work) -> tuple[Finding, ...]:
    return check(work.project, work.painted, work.art, work.outline, work.flat, work.board, work.found)


def _pair(one: Any, other: Any) -> Any:
    return one, other


def _both(one: Any, other: Any) -> Any:
    return union([one, other])


def _in_board_frame(finding: Finding, board: Board) -> Finding:
    if finding.x_mm is None or finding.y_mm is None:
        return finding
    dx, dy = board.origin
    places = tuple((x - dx, y - dy) for x, y in finding.places)
    return replace(finding, x_mm=finding.x_mm - dx, y_mm=finding.y_mm - dy, places=places)
