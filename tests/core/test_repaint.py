"""Pictures painted again: only where a board looks otherwise, and then as if all of it were painted."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from plates import ROW, plate
from shapely.geometry import Polygon, box

from outlined_glow.core.board import repaint
from outlined_glow.core.board.repaint import Painter, Sight
from outlined_glow.core.board.view import View, coverage, whole_view
from outlined_glow.core.geometry.edges import edges_differ, numbers_of
from outlined_glow.core.project import Project
from outlined_glow.core.workshop import Compiler, apply_values
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.core.workshop.work import Work

_SQUARES = st.lists(st.tuples(st.integers(0, 20), st.integers(0, 20), st.integers(1, 6), st.integers(1, 6)), max_size=5)


@given(_SQUARES, _SQUARES)
def test_what_only_one_of_two_regions_covers_lies_in_the_box_of_their_edges(one: list[Any], other: list[Any]) -> None:
    a, b = (shapely.union_all([box(x, y, x + w, y + h) for x, y, w, h in some]) for some in (one, other))
    found, alone = edges_differ(a, b), a.symmetric_difference(b)
    if found is None:
        assert alone.area == 0.0
    else:
        assert alone.is_empty or box(*found).buffer(1e-9).covers(alone)
    assert edges_differ(a, shapely.reverse(a)) is None, "the same edges, run through the other way"


def test_the_same_corners_joined_otherwise_look_otherwise() -> None:
    notched = shapely.Polygon([(0, 0), (4, 0), (4, 4), (2, 1), (0, 4)])
    dented = shapely.Polygon([(0, 0), (2, 1), (4, 0), (4, 4), (0, 4)])
    assert edges_differ(notched, dented) == (0.0, 0.0, 4.0, 4.0)
    assert edges_differ(shapely.MultiPolygon([notched, box(9, 9, 10, 10)]), notched) == (9.0, 9.0, 10.0, 10.0)
    plate, holes = box(0, 0, 50, 50), [box(at, 10, at + 2, 12) for at in (5, 20, 30)]
    one, other = (plate.difference(shapely.MultiPolygon(some)) for some in (holes[:2], holes[::2]))
    assert edges_differ(one, other) == (20.0, 10.0, 32.0, 12.0), "the hole that moved, and nothing of the plate"
    assert edges_differ(shapely.MultiPolygon([one, holes[0]]), one) == holes[0].bounds, "a hole that is filled"
    parts = np.array([one, other, shapely.reverse(one), holes[0]], dtype=object)
    assert len(set(numbers_of(parts).tolist())) == 3


def _sight(work: Work, side: str, **other: Any) -> Sight:
    asked = {
        "view": whole_view(work.board.size, side, 11.0),
        "sharp": 3,
        "hidden": frozenset(),
        "sun": 1.0,
        "background": "17141B",
    }
    return Sight(**(asked | other))


def _fresh(work: Work, sight: Sight, levels: Any) -> Any:
    painter = Painter()
    painter.exposed(work.board, sight)
    return painter.still(levels)


_STEPS: list[tuple[str, dict[str, Any]]] = [
    ("place-part", {"part": "R1", "x_mm": 12.0, "y_mm": 25.0, "angle_deg": 90.0}),
    ("rename", {"name": "another"}),
    ("place-part", {"part": "R2", "x_mm": 30.0, "y_mm": 6.0, "angle_deg": 30.0}),
    ("nudge", {"array": "row", "place": (1,), "dx_mm": 0.4}),
    ("set-purpose", {"purpose": "sign"}),
    ("add-feature", {"kind": "hole", "x_mm": 6.0, "y_mm": 6.0, "size_mm": 2.0}),
    ("free-part", {"part": "R1"}),
    ("skip", {"array": "row", "place": (3,)}),
    ("set-border", {"border_mm": 1.5}),
]


def _edited(project: Project) -> list[Project]:
    out = [project]
    for name, values in _STEPS:
        out.append(apply_values(out[-1], name, values, (0.0, 0.0)))
    return out


@pytest.mark.parametrize("wired", [False, True])
def test_a_board_painted_again_looks_as_if_painted_from_nothing(wired: bool) -> None:
    steps = _edited(plate(ROW, ("drive", {"method": "each", "supply": "usb"}), *([("wire", {})] if wired else [])))
    compiler, painters = Compiler(), {side: Painter() for side in ("front", "back")}
    pieces = 0
    for at, project in enumerate([*steps, *steps[-2::-1]]):
        work = compiler.compile(project)
        for side, painter in painters.items():
            for levels in (np.ones(len(work.leds)), np.linspace(0, 1, len(work.leds)))[: 1 + at % 2]:
                sight = _sight(work, side)
                painter.exposed(work.board, sight)
                assert np.array_equal(painter.still(levels), _fresh(work, sight, levels)), (at, side)
            assert painter._painted is not None
            pieces += painter._painted.place is not repaint._ALL
    assert pieces > 8, "much of it was painted in pieces"


def test_pictures_between_stills_are_not_forgotten() -> None:
    """A pattern plays while two edits are made: the next still shows both."""
    compiler, steps = Compiler(), _edited(plate(ROW, ("drive", {"method": "each", "supply": "usb"})))
    works = [compiler.compile(steps[at]) for at in (0, 1, 3)]
    painter, levels = Painter(), np.ones(len(works[0].leds))
    for at, work in enumerate(works):
        painter.exposed(work.board, _sight(work, "back"))
        if at != 1:
            picture = painter.still(levels)
    assert np.array_equal(picture, _fresh(works[2], _sight(works[2], "back"), levels))


def test_another_view_sun_or_leaf_is_painted_from_nothing() -> None:
    work = Compiler().compile(demo_project("frost-tags"))
    painter, levels = Painter(), np.ones(len(work.leds))
    for other in (
        {},
        {"sun": 0.1},
        {"hidden": frozenset({"front mask"})},
        {"view": whole_view(work.board.size, "front", 8.0)},
        {},
    ):
        sight = _sight(work, "front", **other)
        painter.exposed(work.board, sight)
        assert np.array_equal(painter.still(levels), _fresh(work, sight, levels)), other
    assert painter.exposed(work.board, _sight(work, "front", sun=0.4), lambda: True) is None, "nobody waits for it"


def test_a_comb_seen_from_near_shows_all_its_teeth() -> None:
    """A ring far larger than the picture falls apart where it is cut to its surroundings."""
    teeth = [(x, y) for at in range(40) for x, y in ((at, 0.0), (at, 50.0), (at + 0.5, 50.0), (at + 0.5, 0.0))]
    comb = Polygon([(0.0, -50.0), *teeth, (40.0, -50.0)])
    view = View("front", 40.0, 18.1, 30.0, 120, 80)
    seen = coverage(comb, view)
    left, top = view.to_mm(0, 0)
    share = comb.intersection(box(left, top - 2.0, left + 3.0, top)).area / 6.0
    assert seen.mean() / 255 == pytest.approx(share, abs=0.01)


def test_of_a_vast_picture_less_is_kept(monkeypatch: pytest.MonkeyPatch) -> None:
    steps = _edited(plate(ROW, ("drive", {"method": "each", "supply": "usb"})))[:4]
    compiler = Compiler()
    works = [compiler.compile(step) for step in steps]
    levels = np.ones(len(works[0].leds))
    kept = Painter(), Painter()
    for at, work in enumerate(works):
        pictures = []
        for painter, most in zip(kept, (10_000_000, 10), strict=True):
            monkeypatch.setattr(repaint, "_KEPT_PIXELS", most)
            painter.exposed(work.board, _sight(work, "back"))
            pictures.append(painter.still(levels))
        assert np.array_equal(*pictures), at
    assert kept[0]._still is not None
    assert kept[0]._still.light is not None
    assert kept[1]._still is not None
    assert kept[1]._still.light is None
