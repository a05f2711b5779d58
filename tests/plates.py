"""Plain boards for the tests of the wiring, what is asked of them, and demos without their tracks."""

from __future__ import annotations

import os
import random
from collections.abc import Mapping
from typing import Any

import pytest

from outlined_glow.core.order import make_package, package
from outlined_glow.core.project import Finding, Project, apply_edit
from outlined_glow.core.workshop import Compiler, Work, apply_values, new_project
from outlined_glow.core.workshop.demos import demo_project

STAMP = "2026-11-27T20:00:00Z"


PLATE = (
    b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 44 30" width="44mm" height="30mm">'
    b'<rect width="44" height="30" fill="#123222"/></svg>'
)


def plate(*edits: tuple[str, dict[str, Any]]) -> Project:
    """A plain board of 48 x 34 mm with what edits make of it."""
    project = new_project(PLATE, "plate.svg")
    for name, values in edits:
        project = apply_values(project, name, values, (0.0, 0.0))
    return project


def without_tracks(name: str) -> Project:
    """A demo before it is wired: what a test does with it would have tracks drawn anew each time."""
    return apply_edit(demo_project(name), "unwire", {})


ROW = ("line", {"array": "row", "x_mm": 22.0, "y_mm": 22.0, "count": 4, "pitch_mm": 6.0})


def files_of(work: Work) -> Mapping[str, bytes]:
    """The files of an order, with small pictures: most of what a package takes is drawing those."""
    with pytest.MonkeyPatch.context() as patched:
        patched.setattr(package, "_PX_PER_MM", 2.0)
        return make_package(work.board, 8, STAMP).files


#: How many of those made by chance a run looks at: the same ones every time, or all of them where new ones are looked for.
BY_CHANCE = range(0, 60, 1 if "GLOW_EXPLORE" in os.environ else 3)


def codes(compiler: Compiler, work: Work) -> dict[str, Finding]:
    return {one.code: one for one in compiler.findings(work) if one.stage == "wiring"}


def made_by_chance(seed: int) -> Project:
    """A board by chance: array, way, outline, profile, front, lines."""
    dice = random.Random(seed)
    where = {"array": "a", "x_mm": 22.0, "y_mm": 16.0}
    array = dice.choice([
        ("ring", {**where, "count": dice.randint(3, 9), "diameter_mm": dice.uniform(10, 22)}),
        ("grid", {**where, "rows": dice.randint(2, 3), "columns": dice.randint(2, 4), "pitch_x_mm": 6.0,
                  "pitch_y_mm": dice.uniform(4.5, 7)}),
        ("line", {**where, "count": dice.randint(2, 6), "pitch_mm": dice.uniform(4, 6)}),
    ])  # fmt: skip
    way = dice.choice(["each", "scan", "shift-register", "counter-chaser", "ripple", "pins", "strings", "charlieplex"])
    edits = [
        array,
        ("set-profile", {"profile": dice.choice(["standard", "standard", "fine"])}),
        ("drive", {"method": way, "supply": dice.choice(["usb", "usb", "coin-2032"]), "current_a": 0.003}),
        ("set-shape", {"base": dice.choice(["rectangle", "capsule", "circle"]), "width_mm": 52.0, "height_mm": 44.0}),
        ("wire", {"front": dice.choice(["clean", "few", "free"]), "style": dice.choice(["straight", "rounded", "flowing"]),
                  "teardrops": dice.random() < 0.5, "seed": seed}),
    ]  # fmt: skip
    if dice.random() < 0.4:
        pour = {"net": "ground", "style": dice.choice(["solid", "solid", "hatched"]), "vias_mm": dice.choice([0.0, 3.0, 1.5])}
        both = pour["style"] == "solid" and dice.random() < 0.6  # hatching has ten thousands of corners
        edits += [("pour", pour)] + ([("pour", {**pour, "side": "front"})] if both else [])
    return plate(*edits)


def etched_at_home(emitter: str, way: str) -> Project:
    grid = {"array": "a", "x_mm": 22.0, "y_mm": 20.0, "rows": 3, "columns": 4, "pitch_x_mm": 12.0, "pitch_y_mm": 12.0}
    return plate(
        ("grid", {**grid, "emitter": emitter}),
        ("set-shape", {"base": "rectangle", "width_mm": 90.0, "height_mm": 80.0}),
        ("set-profile", {"profile": "home-etch"}),
        ("drive", {"method": way, "supply": "usb", "current_a": 0.003}), ("wire", {}),
    )  # fmt: skip
