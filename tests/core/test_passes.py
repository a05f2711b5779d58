"""The table of passes: complete, run only where something new is read, cancelled between two."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import msgspec
import pytest
import shapely
from drawings import SIGN
from examples import EXAMPLES
from hypothesis import given, settings
from hypothesis import strategies as st
from plates import plate
from shapely.geometry import Point

from outlined_glow.core.drive import free_ground, side
from outlined_glow.core.errors import Trouble
from outlined_glow.core.geometry.narrow import places
from outlined_glow.core.lights import place
from outlined_glow.core.order.check import CHECKS
from outlined_glow.core.parts import placed
from outlined_glow.core.passes import Memory, Pass, same, unmet
from outlined_glow.core.project import Project, Shape, apply_edit
from outlined_glow.core.watch import Cancelled, Watch
from outlined_glow.core.wiring import flowing
from outlined_glow.core.workshop import Compiler, new_project
from outlined_glow.core.workshop.board_passes import PASSES, given_of
from outlined_glow.core.workshop.demos import demo_project


def runs_of(compiler: Compiler, act: Callable[[], Any]) -> set[str]:
    """The passes that ran meanwhile."""
    before = {**compiler.memory.runs, **compiler.checked.runs}
    act()
    after = {**compiler.memory.runs, **compiler.checked.runs}
    return {name for name, runs in after.items() if runs != before.get(name)}


def test_every_pass_reads_what_is_there(moth: Project) -> None:
    begun = list(given_of(moth, moth.board()))
    assert unmet(PASSES, begun) == []
    assert unmet(CHECKS, [*begun, *(one.name for one in PASSES), "today"]) == []
    assert unmet((Pass("a", ("b",), len),), ()) == ["a reads b"]
    assert unmet((Pass("a", (), len),), ("a",)) == ["a is made twice"]


def test_a_pass_runs_when_it_reads_something_new() -> None:
    seen: list[int] = []

    def double(number: int) -> int:
        seen.append(number)
        return 2 * number

    memory = Memory(kept=2)
    table = (Pass("even", ("number",), double), Pass("sign", ("even",), lambda even: even > 0))
    for number in (1, 1, 2, 1, 3, 2):
        assert memory.run(table, {"number": number})["even"] == 2 * number
    assert seen == [1, 2, 3, 2], "of the two latest nothing is made anew"
    assert memory.runs["sign"] == 4


def test_a_pass_for_each_runs_for_new_items_only() -> None:
    memory = Memory()
    table = (Pass("squares", ("power",), lambda item, power: item**power, each=("items",)),)
    assert memory.run(table, {"items": (1, 2, 3), "power": 2})["squares"] == (1, 4, 9)
    assert memory.run(table, {"items": (3, 1, 5), "power": 2})["squares"] == (9, 1, 25)
    assert memory.runs["squares"] == 4


def test_what_comes_out_as_before_runs_nothing_after_it() -> None:
    memory = Memory()
    table = (
        Pass("rounded", ("number",), lambda number: (round(number), "mm")),
        Pass("told", ("rounded",), lambda rounded: [rounded]),
    )
    first = memory.run(table, {"number": 1.1})
    second = memory.run(table, {"number": 1.2})
    assert second["told"] is first["told"]
    assert memory.runs == {"rounded": 2, "told": 1}


@dataclass(frozen=True, eq=False)
class Made:
    name: str
    region: Point


@given(
    st.recursive(
        st.integers() | st.text() | st.none(), lambda inner: st.tuples(inner, inner) | st.dictionaries(st.text(), inner)
    )
)
def test_equal_plain_values_are_the_same(value: Any) -> None:
    import copy

    assert same(value, copy.deepcopy(value))
    assert not same((value, 1), (value, 2))


def test_geometry_is_the_same_only_as_the_same_object() -> None:
    point = Point(1, 2)
    assert same(Made("a", point), Made("a", point))
    assert not same(Made("a", point), Made("b", point))
    assert not same(Made("a", point), Made("a", Point(1, 2)))
    assert same(Shape(border_mm=2), Shape(border_mm=2))
    assert not same(Shape(border_mm=2), Shape(border_mm=3))
    assert not same(1, 1.0)
    assert not same(True, 1)


def test_progress_is_told_and_work_called_off_between_two_passes() -> None:
    told: list[tuple[float, str]] = []
    table = tuple(Pass(name, (), lambda: 0, words=name) for name in "abcd")
    Memory().run(table, {}, Watch(told=lambda share, words: told.append((share, words))))
    assert told == [(0.0, "a"), (0.25, "b"), (0.5, "c"), (0.75, "d")]
    memory = Memory()
    with pytest.raises(Cancelled):
        memory.run(table, {}, Watch(cancelled=lambda: memory.runs.get("b", 0) > 0))
    assert set(memory.runs) == {"a", "b"}


def test_an_edit_runs_what_it_touches(moth: Project) -> None:
    compiler = Compiler()
    work = compiler.compile(moth)
    compiler.findings(work)

    def after(name: str, **values: Any) -> set[str]:
        changed = apply_edit(moth, name, values)
        return runs_of(compiler, lambda: compiler.findings(compiler.compile(changed)))

    assert not runs_of(compiler, lambda: compiler.findings(compiler.compile(moth)))
    brighter = after("set-pattern", brightness=0.5)
    score = {
        "strip check",
        "words check",
        "feed check",
        "scene check",
        "flash check",
        "table check",
        "ambient check",
        "current check",
        "load check",
        "heat check",
        "played",
    }
    assert brighter == {"motion check", "pattern run", "run", "shown", "hours", "brief check", *score}
    currents = after("set-current", current_a=0.003)
    still = {"placing", "part layers", "flat", "front ink", "front layers check", "back layers check", "parts check"}
    assert still <= {one.name for one in (*PASSES, *CHECKS)}
    assert not currents & still
    assert "back ink" in currents, "the values of the resistors are printed there"
    quantity = after("set-pieces", pieces=30)
    assert quantity <= {"rules", "made of", "brief check", "limits check", "reading distance check", "tools"}


def test_a_new_name_costs_no_finding_anew() -> None:
    tide = demo_project("tide-board")
    compiler = Compiler()
    compiler.findings(compiler.compile(tide))
    renamed = apply_edit(tide, "rename", {"name": "High water"})
    assert runs_of(compiler, lambda: compiler.compile(renamed)) == {"back words", "label spots", "back ink", "board"}
    work = compiler.compile(renamed)
    assert runs_of(compiler, lambda: compiler.findings(work)) <= {"board parts", "edge copper"}


def test_a_step_back_is_remembered(moth: Project) -> None:
    compiler = Compiler()
    steps = [moth]
    for border in (2.0, 2.5, 3.0):
        steps.append(apply_edit(steps[-1], "set-border", {"border_mm": border}))
        compiler.compile(steps[-2])
    compiler.compile(steps[-1])
    for step in reversed(steps):
        assert not runs_of(compiler, lambda step=step: compiler.compile(step))


def forgotten() -> Compiler:
    """A compiler that knows nothing, and nothing known beside it."""
    for remembered in (free_ground.free_ground, places.thin_places, places.narrow_gaps):
        remembered.cache_clear()
    for remembered in (flowing._KNOWN, placed._LYING, place._LEDS, side._LATEST):
        remembered.clear()
    return Compiler()


#: Edits that change what others find remembered; those of several boards are tried with boards.
STEPS = sorted(set(EXAMPLES) - {"clean", "set-tones", "add-board", "rename-board", "remove-board", "share-stack"})


@settings(max_examples=12)
@given(st.lists(st.sampled_from(STEPS), min_size=3, max_size=8))
def test_edits_in_any_order_make_the_board_that_is_made_from_nothing(names: list[str]) -> None:
    """To the bit: every layer, part, hole and finding."""
    project, compiler = new_project(SIGN, "sign.svg", width_mm=60), Compiler()
    project = apply_edit(project, "grid", EXAMPLES["grid"])
    for name in names:
        made = dict(compiler._made)
        try:
            changed = apply_edit(project, name, EXAMPLES[name])
            compiler.seen_first(changed)  # leaves no trace
            work = compiler.compile(changed)
        except Trouble:
            continue
        project, fresh = changed, forgotten()
        fresh._made = made  # what is right of the tracks there were stays: that is what both begin from
        alone = fresh.compile(project)
        for layer, region in alone.board.layers.items():
            assert shapely.to_wkb(region) == shapely.to_wkb(work.board.layer(layer)), (names, name, layer)
        assert (work.board.parts, work.board.holes) == (alone.board.parts, alone.board.holes)
        assert compiler.findings(work) == fresh.findings(alone), (names, name)


def test_a_label_that_is_put_by_hand_draws_no_track_anew() -> None:
    from plates import ROW, plate

    compiler = Compiler()
    project = plate(ROW, ("wire", {}))
    before = compiler.compile(project)
    moved = apply_edit(project, "place-label", {"part": "R1", "x_mm": 20.0, "y_mm": 30.0})
    ran = runs_of(compiler, lambda: compiler.compile(moved))
    assert ran <= {"back words", "label spots", "back ink", "board", "lights", "lamps"}
    assert compiler.compile(moved).board.wires == before.board.wires


def test_on_demand_only_that_is_made_which_somebody_asks_for(wired_moth: Project) -> None:
    compiler = Compiler()
    work = compiler.on_demand(wired_moth)
    assert not compiler.memory.runs
    assert work.lamps.count == 20
    assert {"leds", "plan", "lamps"} <= set(compiler.memory.runs)
    assert not {"routed", "part layers", "board", "back words"} & set(compiler.memory.runs)
    whole = Compiler().compile(wired_moth)
    assert set(work.values) == set(whole.values)
    assert len(work.values) == len(whole.values)
    assert work.board.layers == whole.board.layers
    assert compiler.findings(work) == Compiler().findings(whole)
    assert max(compiler.memory.runs[name] for name in ("flat", "outline", "routed")) == 1
    with pytest.raises(KeyError):
        work.values["no such pass"]
    assert "no such pass" not in work.values


def test_a_board_that_cannot_be_made_is_told_when_it_is_asked_for() -> None:
    project = plate()
    unread = msgspec.structs.replace(project, members=dict.fromkeys(project.members, b"<svg"))
    work = Compiler().on_demand(unread)
    with pytest.raises(Trouble, match="picture"):
        _ = work.board
    with pytest.raises(Trouble, match="no such board"):
        Compiler().on_demand(project, "no such board")
