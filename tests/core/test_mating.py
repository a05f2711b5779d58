"""Boards that plug onto one another, beside places worked out by hand."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from plates import plate

from outlined_glow.core.drive.plugs import GAP_MM, plug_part
from outlined_glow.core.errors import Trouble
from outlined_glow.core.parts import PlacedPart
from outlined_glow.core.parts.part import wrong_with
from outlined_glow.core.project import Finding, Project, apply_edit
from outlined_glow.core.workshop import Compiler, apply_values
from outlined_glow.core.workshop.drops import drops
from outlined_glow.core.workshop.feeding import given_by
from outlined_glow.core.workshop.mating import Fit, _fits, _pairs, mated, plug_rows

LINE = ("line", {"array": "row", "x_mm": 22.0, "y_mm": 27.0, "count": 2, "pitch_mm": 8.0, "emitter": "0805 red"})


def two(nets: tuple[str, ...], its: tuple[str, ...], rows: int = 1, **second: Any) -> Project:
    """Two plates: pins on the back of the first, in the middle; a socket on the other, on a side, at an angle."""
    project = plate(LINE, ("drive", {"supply": "usb", "method": "each"}))
    project = apply_edit(project, "add-board", {"name": "lid", "like": "main"})
    project = apply_edit(project, "set-supply", {"supply": "other-board", "board": "lid"})
    for board, name, kind, own in (("main", "out", "pins", nets), ("lid", "in", "socket", its)):
        values = {"name": name, "kind": kind, "nets": own, "rows": rows, "board": board}
        project = apply_edit(project, "plug", values)
    project = apply_edit(project, "plug", {"name": "out", "onto": "in", "board": "main"})
    place = {"part": ref_of(project, "main"), "x_mm": 24.0, "y_mm": 13.0, "side": "back", "board": "main"}
    project = apply_values(project, "place-part", place, (0.0, 0.0))
    there = {"part": ref_of(project, "lid"), "x_mm": 24.0, "y_mm": 13.0, "side": "front", "board": "lid", **second}
    return apply_values(project, "place-part", there, (0.0, 0.0))


def ref_of(project: Project, board: str) -> str:
    work = Compiler().compile(project, board=board)
    return next(one.ref for one in work.plan.wanted if one.part.kind == "plug")


def found(project: Project) -> dict[str, Finding]:
    compiler = Compiler()
    return {one.code: one for one in compiler.all_findings(compiler.compile_all(project))}


RAILS = ("supply", "ground")


@given(
    st.sampled_from(["front", "back"]), st.sampled_from(["front", "back"]), st.integers(0, 359), st.integers(0, 359),
    st.integers(1, 2), st.integers(2, 5),
)  # fmt: skip
def test_every_pin_meets_the_one_that_lies_over_it(
    side: str, its_side: str, angle: int, its_angle: int, rows: int, columns: int
) -> None:
    count = rows * columns
    mine = PlacedPart("J1", plug_part("pins", rows, count), "", 12.0, 7.0, float(angle), side)
    its = PlacedPart("J2", plug_part("socket", rows, count), "", -3.0, 20.0, float(its_angle), its_side)
    fits = _fits(mine, its)
    for fit in fits:
        assert len(_pairs(mine, its, fit)) == count, "turned by half it goes on too"
        # A rigid motion, mirrored just where both are on the same side: the area of a triangle tells.
        triangle = np.array([[0.0, 0.0], [3.0, 0.0], [0.0, 2.0]])
        there = fit.there(triangle)
        area = np.linalg.det(there[1:] - there[0]) / 2
        assert area == pytest.approx(-3.0 if side == its_side else 3.0)
    # Face to face: along the row pin 1 meets pin 1, and across two rows its neighbour.
    first = dict(_pairs(mine, its, fits[0])), dict(_pairs(mine, its, fits[1]))
    mates = {one["1"] for one in first}
    assert mates == ({"1", str(count)} if rows == 1 else {"2", str(count - 1)})


def test_a_body_is_numbered_along_its_rows() -> None:
    for kind in ("pins", "socket"):
        for rows, count in ((1, 1), (1, 7), (2, 2), (2, 10)):
            part = plug_part(kind, rows, count)
            assert wrong_with(part) is None
            spots = np.array([(pad.x_mm, pad.y_mm) for pad in part.pads])
            assert np.allclose(spots.mean(axis=0), 0)
            if rows == 2:
                assert (spots[0, 1], spots[1, 1]) == (1.27, -1.27)
                assert spots[0, 0] == spots[1, 0]


def test_rails_that_meet_are_good_and_crossed_ones_are_a_stop_with_a_remedy() -> None:
    good = two(RAILS, RAILS)
    codes = found(good)
    assert not {"plug-nets-differ", "plugs-do-not-fit", "plug-alone", "plugs-apart", "two-supplies-joined"} & set(codes)
    told = codes["plug-turned"]
    assert told.remedies[0].edit == "plug"
    keyed = apply_edit(good, "plug", dict(told.remedies[0].values))
    assert "plug-turned" not in found(keyed)
    crossed = two(RAILS, ("ground", "supply"), angle_deg=180.0)
    works = Compiler().compile_all(crossed)
    one = mated(works)[0]
    assert len(one.pairs) == 2
    three = two(("supply", "ground", "row 1"), ("supply", "row 1", "ground"))
    told = found(three)["plug-nets-differ"]
    assert told.severity == "stop"
    assert told.board == "main"
    mended = apply_edit(three, "plug", dict(told.remedies[0].values))
    assert "plug-nets-differ" not in found(mended)


def test_the_volts_lost_count_what_the_boards_take_that_are_fed() -> None:
    project = apply_edit(two(RAILS, RAILS), "wire", {"board": "main"})
    main, lid = works = Compiler().compile_all(project)
    takes = lid.plan.current_max_a + lid.plan.standing_a
    ref = next(one.ref for one in main.board.parts if one.part.kind == "plug")
    assert given_by(main, works) == {((ref, "1"), True): takes, ((ref, "2"), False): takes}
    assert given_by(lid, works) == {}
    alone, both = drops(main), drops(main, works)
    for name in ("supply", "ground"):
        more = {pin: both.nets[name].pins[pin] - volts for pin, volts in alone.nets[name].pins.items()}
        assert min(more.values()) > -1e-9
        assert more[ref, "1" if name == "supply" else "2"] == pytest.approx(max(more.values())), "most is lost at the plug"
    assert both.worst is not None
    assert alone.worst is not None
    assert both.worst[1] < alone.worst[1]


def test_what_a_board_feeds_is_told_with_its_volts_and_its_current() -> None:
    good = two(RAILS, RAILS)
    assert not {"fed-other-volts", "boards-over-current", "feeds-other-boards"} & found(good).keys(), "USB feeds both"
    cells = apply_edit(good, "drive", {"supply": "aa-alkaline", "cells": 2, "current_a": 0.01, "board": "main"})
    codes = found(cells)
    told = codes["fed-other-volts"]
    assert (told.board, told.severity) == ("lid", "warning")
    same = apply_edit(cells, "drive", dict(told.remedies[0].values))
    codes = found(same)
    assert "fed-other-volts" not in codes
    main, lid = Compiler().compile_all(same)
    assert lid.plan.supply_v == pytest.approx(main.plan.supply_v, abs=0.02)
    # About the share that both currents say: that of the other board is taken to stay while the cells sag.
    both = codes["feeds-other-boards"].measured
    assert both is not None
    share = main.plan.current_a / (main.plan.current_a + lid.plan.current_a)
    assert both == pytest.approx(share * main.plan.steady.hours, rel=0.2)
    coin = apply_edit(same, "drive", {"supply": "coin-2032", "current_a": 0.005, "board": "main"})
    for amps, over in ((0.001, False), (0.004, True)):
        some = apply_edit(coin, "drive", {"current_a": amps, "volts_v": 3.1, "board": "lid"})
        assert ("boards-over-current" in found(some)) is over


def test_two_rows_that_face_one_another_are_seen_in_mirror() -> None:
    nets = ("supply", "ground", "a", "b")
    same = two(nets, nets, rows=2)
    told = found(same)["plug-nets-differ"]
    assert "in mirror" in told.text
    assert told.count == 4
    mended = apply_edit(same, "plug", dict(told.remedies[0].values))
    assert mended.board("lid").drive.plugs[0].nets in (("ground", "supply", "b", "a"), ("a", "b", "supply", "ground"))
    works = Compiler().compile_all(mended)
    row = plug_rows(works, works[0])[0]
    assert all(pin["net"] == pin["its_net"] for pin in row["pins"])
    assert row["gap_mm"] == GAP_MM == 11.0
    back = plug_rows(works, works[1])[0]
    assert {pin["pin"]: pin["meets"] for pin in row["pins"]} == {pin["meets"]: pin["pin"] for pin in back["pins"]}


def test_what_does_not_fit_is_told() -> None:
    good = two(RAILS, RAILS)
    pins = apply_edit(good, "plug", {"name": "in", "kind": "pins", "board": "lid"})
    told = found(pins)["plugs-do-not-fit"]
    assert "both are pins" in told.text
    assert "plugs-do-not-fit" not in found(apply_edit(pins, "plug", dict(told.remedies[0].values)))
    more = apply_edit(good, "plug", {"name": "in", "nets": ("supply", "ground", "none"), "board": "lid"})
    assert "1 x 2 pins, the other 1 x 3" in found(more)["plugs-do-not-fit"].text
    gone = apply_edit(good, "remove-plug", {"name": "in", "board": "lid"})
    alone = found(gone)["plug-alone"]
    assert "plug-alone" not in found(apply_edit(gone, "plug", dict(alone.remedies[0].values)))
    both = apply_edit(good, "set-supply", {"supply": "usb", "board": "lid"})
    joined = found(both)["two-supplies-joined"]
    assert "two-supplies-joined" not in found(apply_edit(both, "set-supply", dict(joined.remedies[0].values)))
    lone = apply_edit(good, "plug", {"name": "out", "nets": ("supply", "nowhere"), "board": "main"})
    nowhere = found(lone)["plug-net-alone"]
    assert "plug-net-alone" not in found(apply_edit(lone, "plug", dict(nowhere.remedies[0].values)))
    with pytest.raises(Trouble, match="no plug"):
        apply_edit(good, "remove-plug", {"name": "in"})
    with pytest.raises(Trouble, match="name"):
        apply_edit(good, "plug", {"name": " "})
    with pytest.raises(Trouble, match="1 to 80 pins"):
        apply_edit(good, "plug", {"name": "x", "nets": ("a",) * 81})


def test_parts_for_which_there_is_no_room_between_the_boards() -> None:
    good = two(RAILS, RAILS)
    works = Compiler().compile_all(good)
    assert "boards-too-near" not in found(good)
    # Lamps on either board that stand against one another, higher together than the boards are apart.
    tall = good
    for board in ("main", "lid"):
        tall = apply_edit(tall, "line", {"array": "row", "emitter": "5 mm diffused red", "board": board})
    assert "boards-too-near" not in found(tall), "those of the main board are in front"
    tall = apply_edit(tall, "line", {"array": "row", "side": "back", "board": "main"})
    told = found(tall)["boards-too-near"]
    assert told.measured > told.allowed == GAP_MM
    assert "of the other board need" in told.text
    assert mated(works)[0].fit.mirrored is False


def test_a_board_without_lights_joins_its_plugs() -> None:
    plugs = [
        ("plug", {"name": name, "kind": kind, "nets": ("supply", "ground", "x")})
        for name, kind in (("a", "pins"), ("b", "socket"))
    ]
    bare = plate(*plugs)
    assert found(bare)["not-wired"].count == 3
    wired = apply_edit(bare, "wire", {})
    work = Compiler().compile(wired)
    assert [one.part.kind for one in work.board.parts] == ["plug", "plug"], "and needs nothing of the drive"
    assert {one.net for one in work.board.wires.tracks} == {"supply", "ground", "x"}
    assert not {one.severity for one in found(wired).values()} & {"stop", "warning"}


def test_a_plug_without_room_is_told() -> None:
    long = plate(LINE, ("plug", {"name": "long", "nets": ("supply",) * 40}))
    told = found(long)["plug-without-place"]
    assert "(101.6 × 2.54 mm)" in told.text
    assert "two rows" in told.text
    assert "plug-without-place" not in found(apply_edit(long, "plug", {"name": "long", "nets": ("supply",) * 12, "rows": 2}))
    tiny = plate(LINE, ("set-shape", {"base": "rectangle", "width_mm": 14.0, "height_mm": 9.0}), ("drive", {"method": "sink"}))
    assert "part-without-place" in found(tiny)


def test_two_pairs_of_plugs_lie_as_the_boards_lie() -> None:
    project = two(RAILS, RAILS)
    for board, name, kind in (("main", "out 2", "pins"), ("lid", "in 2", "socket")):
        project = apply_edit(project, "plug", {"name": name, "kind": kind, "nets": ("a", "b"), "board": board})
    project = apply_edit(project, "plug", {"name": "out 2", "onto": "in 2", "board": "main"})
    compiler = Compiler()
    for board, x in (("main", 38.0), ("lid", 38.0)):
        work = compiler.compile(project, board=board)
        ref = [one.ref for one in work.plan.wanted if one.part.kind == "plug"][1]
        side = "back" if board == "main" else "front"
        place = {"part": ref, "x_mm": x, "y_mm": 10.0, "side": side, "board": board}
        project = apply_values(project, "place-part", place, (0.0, 0.0))
    assert not {"plugs-apart", "plug-turned", "plug-nets-differ"} & set(found(project)), "they can only lie one way"
    moved = apply_values(
        project, "place-part", {"part": ref, "x_mm": 36.0, "y_mm": 10.0, "side": "front", "board": "lid"}, (0.0, 0.0)
    )
    assert found(moved)["plugs-apart"].count == 2
    assert isinstance(mated(Compiler().compile_all(project))[0].fit, Fit)
