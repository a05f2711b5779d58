"""Parts that find their places again: what an earlier placing found counts only where nothing is taken otherwise than then."""

from __future__ import annotations

import random
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import box

from outlined_glow.core.drive import side
from outlined_glow.core.drive.again import InTheWay
from outlined_glow.core.drive.before import Before, Step
from outlined_glow.core.drive.free_ground import inside
from outlined_glow.core.drive.placement import Placing, place_parts
from outlined_glow.core.errors import Trouble
from outlined_glow.core.geometry.regions import minus, union
from outlined_glow.core.passes import Memory, leading_to
from outlined_glow.core.project import Project
from outlined_glow.core.workshop import apply_values
from outlined_glow.core.workshop.board_passes import PASSES, given_of
from outlined_glow.core.workshop.demos import demo_project

_TO_PLACING = leading_to(PASSES, ["placing"])


def _asked(memory: Memory, project: Project) -> list[Any]:
    """What the parts of a project's board are placed by."""
    given = {**given_of(project, project.designs[0]), "copper before": None}
    values = memory.run(_TO_PLACING[:-1], given)
    return [values[name] for name in _TO_PLACING[-1].reads[:-1]]


def _from_nothing(asked: list[Any]) -> Placing:
    kept = list(side._LATEST)
    side._LATEST.clear()
    placing = place_parts(*asked)
    side._LATEST.clear()
    side._LATEST.extend(kept)
    return placing


def _some_edit(project: Project, dice: random.Random) -> Project:
    """Something that moves LEDs or parts, or needs others."""
    array = dice.choice(project.designs[0].lights).name
    ref = dice.choice(["R1", "R3", "R7", "R12", "R20", "U1", "C1", "Q1", "F1", "SW1", "BT1", "J1"])
    x, y = round(dice.uniform(4, 68), 2), round(dice.uniform(4, 50), 2)
    edits: list[tuple[str, dict[str, Any]]] = [
        ("place-part", {"part": ref, "x_mm": x, "y_mm": y, "angle_deg": dice.choice([0.0, 90.0, 30.0])}),
        ("free-part", {"part": ref}),
        ("nudge", {"array": array, "place": (dice.randrange(2),), "dx_mm": round(dice.uniform(-4, 4), 2)}),
        ("skip", {"array": array, "place": (dice.randrange(2),)}),
        ("set-resistors", {"size": dice.choice(["0402", "0603", "0805"])}),
        ("set-supply", {"supply": dice.choice(["usb", "cr2032", "2xAAA"])}),
        ("single", {"array": f"one {x}", "x_mm": x, "y_mm": y}),
        ("move-array", {"array": array, "dx_mm": round(dice.uniform(-3, 3), 2), "dy_mm": 0.0}),
    ]
    name, values = dice.choice(edits)
    try:
        return apply_values(project, name, values, (0, 0))
    except Trouble:
        return project


@pytest.mark.parametrize(("demo", "seed"), [("moth", 1), ("moth", 2), ("frost-tags", 3)])
def test_parts_lie_where_they_would_from_nothing(demo: str, seed: int) -> None:
    dice, memory = random.Random(seed), Memory()
    start = project = demo_project(demo)
    again = 0
    for _ in range(24):
        project = start if dice.random() < 0.1 else _some_edit(project, dice)
        asked = _asked(memory, project)
        assert place_parts(*asked) == _from_nothing(asked)
        again += sum(step in side._LATEST[-2][2] for step in side._LATEST[-1][2]) if len(side._LATEST) > 1 else 0
    assert again > 60, "most parts stay where they were"


def test_a_part_moved_by_hand_lets_far_ones_stay_without_looking(monkeypatch: pytest.MonkeyPatch) -> None:
    memory, project = Memory(), demo_project("moth")
    place_parts(*_asked(memory, project))
    looked: list[str] = []
    monkeypatch.setattr(side.Side, "_spots", lambda self, ground, one: looked.append(one.ref))
    monkeypatch.setattr(side.Side, "_look_by_nets", lambda self, one, pulls: looked.append(one.ref))
    place_parts(*_asked(memory, project))
    assert not looked
    monkeypatch.undo()
    of_spots, of_nets = side.Side._spots, side.Side._look_by_nets

    def spots(self: side.Side, ground: Any, one: Any) -> Any:
        looked.append(one.ref)
        return of_spots(self, ground, one)

    def nets(self: side.Side, one: Any, pulls: Any) -> Any:
        looked.append(one.ref)
        return of_nets(self, one, pulls)

    monkeypatch.setattr(side.Side, "_spots", spots)
    monkeypatch.setattr(side.Side, "_look_by_nets", nets)
    moved = apply_values(project, "place-part", {"part": "R9", "x_mm": 58.0, "y_mm": 40.5}, (0, 0))
    placing = place_parts(*_asked(memory, moved))
    assert len(looked) < len(placing.parts) / 3


def test_steps_before_are_gone_through_in_their_order() -> None:
    a, b, c = (Step(name, at, ((at, 0.0, at + 1.0, 1.0),), 2.0) for name, at in (("a", 0.0), ("b", 10.0), ("c", 20.0)))
    before = Before((a, b, c))
    assert before.same_question("a") is a
    before.went(a, a)
    assert before.stays(5.0, 0.5, 100.0)
    assert before.same_question("c") is c, "nobody asked for b, and what it took is free now"
    assert not before.stays(8.5, 0.5, 2.0)
    assert before.stays(7.5, 0.5, 2.0)
    assert before.same_question("b") is None, "that one is past"
    before.went(c, Step("c", None))
    assert not before.stays(22.0, 0.5, 2.0), "it took ground then and takes none now"
    before.went(None, Step("d", 0.0, ((40.0, 0.0, 41.0, 1.0),)))
    assert not before.stays(42.0, 0.5, 2.0), "it is new"


_HALVES = st.integers(0, 40).map(lambda many: many / 2)
_RECTANGLES = st.lists(st.tuples(_HALVES, _HALVES, st.integers(1, 12), st.integers(1, 12)), max_size=5)
_PLACES = st.lists(st.tuples(_HALVES, _HALVES, st.sampled_from([0.0, 90.0, 180.0, 270.0])), min_size=1, max_size=12)


@given(_RECTANGLES, _RECTANGLES, _PLACES, st.sampled_from([(4.0, 2.0), (3.0, 3.0), (2.5, 1.2)]))
def test_a_place_has_room_by_itself_where_it_has_among_all(
    taken: list[Any], windows: list[Any], places: list[Any], size: tuple[float, float]
) -> None:
    """Much of it touches: edges and corners lie on the same half millimetres."""
    outline, (taken, windows) = (
        box(0, 0, 20, 20),
        [[box(x, y, x + a / 2, y + b / 2) for x, y, a, b in some] for some in (taken, windows)],
    )
    spots = np.array(places)
    free = minus(outline, *taken, union(windows))
    shapely.prepare(free)
    among = {tuple(one) for one in inside(free, spots, *size)[0].tolist()}
    room = InTheWay(outline, taken, union(windows)).leaves(spots, size)
    assert {tuple(one) for one in room.tolist()} == among
