"""The way by which a coin cell slides into its clip."""

from __future__ import annotations

import pytest
from plates import plate

from outlined_glow.core.parts import PlacedPart
from outlined_glow.core.project import Project
from outlined_glow.core.workshop import Compiler, Work, apply_values

LARGE = ("set-shape", {"base": "rectangle", "width_mm": 90.0, "height_mm": 70.0})
COIN = ("drive", {"method": "each", "supply": "coin-2032", "current_a": 0.002})


def ring(count: int = 8, across: float = 26.0) -> tuple[str, dict[str, object]]:
    return "ring", {"array": "r", "x_mm": 22.0, "y_mm": 15.0, "count": count, "diameter_mm": across}


def board(*edits: tuple[str, dict[str, object]]) -> Project:
    return plate(LARGE, *edits, COIN)


def clip_of(work: Work) -> PlacedPart:
    return next(one for one in work.board.parts if one.part.slides_mm)


def free_ways(work: Work) -> int:
    clip = clip_of(work)
    others = [one.court() for one in work.board.parts if one is not clip and one.side == clip.side]
    return sum(not any(court.intersects(way) for court in others) for way in clip.ways_in())


@pytest.mark.parametrize(("count", "across"), [(4, 20.0), (8, 26.0), (16, 34.0), (30, 50.0)])
def test_one_way_stays_free_whatever_stands_round_it(count: int, across: float) -> None:
    compiler = Compiler()
    work = compiler.compile(board(ring(count, across)))
    assert free_ways(work) >= 1
    assert "cell-cannot-slide" not in {one.code for one in compiler.findings(work)}


def test_the_ways_lie_beside_the_body_and_are_as_long_as_the_cell() -> None:
    clip = clip_of(Compiler().compile(board(ring())))
    for way in clip.ways_in():
        assert way.area == pytest.approx(400.0)
        assert way.distance(clip.court()) < 1e-6
        assert way.intersection(clip.court()).area < 1e-6


def test_what_stands_in_both_ways_is_told_and_a_narrow_board_gives_them_up() -> None:
    compiler = Compiler()
    project = board(ring())
    work = compiler.compile(project)
    clip = clip_of(work)
    refs = [one.ref for one in work.board.parts if one.ref.startswith("R")]
    for ref, way in zip(refs, clip.ways_in(), strict=False):
        place = {"part": ref, "x_mm": way.centroid.x, "y_mm": way.centroid.y, "side": "back", "lock": True}
        project = apply_values(project, "place-part", place, work.board.origin)
    here = {"part": clip.ref, "x_mm": clip.x, "y_mm": clip.y, "angle_deg": clip.angle_deg, "side": "back", "lock": True}
    project = apply_values(project, "place-part", here, work.board.origin)
    told = {one.code: one for one in compiler.findings(compiler.compile(project))}["cell-cannot-slide"]
    assert told.severity == "warning"
    assert refs[0] in told.text
    # Where there is no room else, parts stand there all the same.
    narrow = plate(("set-shape", {"base": "rectangle", "width_mm": 36.0, "height_mm": 34.0}), ring(10, 28.0), COIN)
    made = compiler.compile(narrow)
    assert "resistor-without-place" not in {one.code for one in compiler.findings(made)}
