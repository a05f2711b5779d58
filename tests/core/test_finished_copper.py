"""Finished copper: its files are read by code that shares nothing with the core, damage is found, and the rest is told."""

from __future__ import annotations

import math
import random
import re
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from plates import BY_CHANCE, ROW, codes, etched_at_home, files_of, made_by_chance, plate
from shapely.geometry import Point, box
from wired import faults

from outlined_glow import DEMOS
from outlined_glow.core.board.copper_findings import copper_findings
from outlined_glow.core.order.proof.compare import prove_files
from outlined_glow.core.parts import PlacedPad, emitters
from outlined_glow.core.project import Finding, apply_edit
from outlined_glow.core.wiring.continuity import continuity, shapes_of
from outlined_glow.core.workshop import Compiler, Work
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.core.workshop.drops import drops
from outlined_glow.core.workshop.net_facts import net_facts


@pytest.mark.parametrize("name", DEMOS)
def test_a_demo_can_be_ordered_and_its_files_make_every_net(name: str) -> None:
    compiler = Compiler()
    work = compiler.compile(demo_project(name))
    assert not [one for one in compiler.findings(work) if one.severity == "stop"]
    assert "routed" not in codes(compiler, work)
    files = files_of(work)
    rules = work.board.profile
    assert faults(files, rules.gap_mm, rules.track_mm) == []
    proof = prove_files(files, name, work.board)
    assert proof.good, proof.differences[:3]
    facts = net_facts(work)
    assert {one["state"] for one in facts["nets"]} == {"joined"}
    assert facts["unjoined"] == []


@pytest.mark.parametrize("seed", BY_CHANCE)
def test_a_board_made_by_chance_has_no_open_short_or_gap_that_is_not_told(seed: int) -> None:
    compiler = Compiler()
    work = compiler.compile(made_by_chance(seed))
    told = {one.code for one in compiler.findings(work)}
    rules = work.board.profile
    found = faults(files_of(work), rules.gap_mm, rules.track_mm)
    opens = [one for one in found if one.startswith("open")]
    assert [one for one in found if one not in opens] == []
    assert bool(opens) == ("net-open" in told), opens
    assert len(opens) <= 1, opens


@pytest.mark.parametrize("way", ["each", "strings", "charlieplex"])
@pytest.mark.parametrize(("emitter", "over"), [("5 mm diffused red", True), ("1206 red", False)])
def test_boards_etched_at_home_have_wires_in_the_place_of_plated_holes(way: str, emitter: str, over: bool) -> None:
    compiler = Compiler()
    work = compiler.compile(etched_at_home(emitter, way))
    files, links = files_of(work), work.board.wires.links
    assert faults(files, 0.4, 0.4) == []
    assert prove_files(files, "plate", work.board).good
    assert links
    assert [one.ref for one in links] == [f"W{number}" for number in range(1, len(links) + 1)]
    assert not any(hole.plated and hole.purpose == "wire link" for hole in work.board.holes)
    told = codes(compiler, work)["wire-links"]
    assert told.severity == "note"
    assert told.count == len(links)
    rows = net_facts(work)["links"]
    assert [(one["reference"], one["net"]) for one in rows] == [(one.ref, one.net) for one in links]
    for one, row in zip(links, rows, strict=True):
        ends = [(row[key]["x_mm"], row[key]["y_mm"]) for key in ("from", "to")]
        assert ends == [pytest.approx(spot, abs=1e-3) for spot in (one.start, one.end)]
        assert row["length_mm"] == pytest.approx(math.dist(one.start, one.end) + (2 if over else 1) * 1.6, abs=0.01)
        assert {row["from"]["side"], row["to"]["side"]} == ({"back"} if over else {"front", "back"})
    if over:  # one side alone is etched
        assert not [one for one in work.board.wires.tracks if one.side == "front"]
    # No part lies over a wire's hole.
    parts = [one for one in work.board.parts if not one.part.shines]
    assert all(not one.court().contains(Point(spot)) for one in parts for link in links for spot in (link.start, link.end))
    table = next(data.decode() for name, data in files.items() if name.endswith("wire-links.csv"))
    assert len(table.splitlines()) == 1 + len(links)
    lacking = dict(files)
    ipc = next(name for name in files if name.endswith(".ipc"))
    lacking[ipc] = b"\n".join(row for row in files[ipc].split(b"\n") if b"   W1    -" not in row)
    assert not prove_files(lacking, "plate", None).good
    lost = drops(work)
    assert any(one.worst_v > 0 for one in lost.nets.values())


def test_a_track_drawn_in_front_of_an_etched_board_stays_and_its_ends_have_wires() -> None:
    compiler = Compiler()
    work = compiler.compile(etched_at_home("5 mm diffused red", "each"))
    ox, oy = work.board.origin
    points = {"front": ((10.0, 8.0), (20.0, 8.0)), "back": ((20.0, 8.0), (20.0, 14.0))}
    project = work.project
    for side, way in points.items():
        shifted = tuple((x + ox, y + oy) for x, y in way)
        project = apply_edit(project, "track", {"net": "ground", "layer": side, "width_mm": 0.8, "points": shifted})
    for made in (True, False):
        tried = project if made else apply_edit(project, "unwire", {})
        after = compiler.compile(tried).board
        assert [one.side for one in after.wires.tracks if one.by_hand] == ["front", "back"]
        assert np.allclose(after.wires.tracks[0].points, points["front"])
        assert any(math.dist(one.start, (20.0, 8.0)) < 1e-6 and one.start == one.end for one in after.wires.links)


@pytest.fixture(scope="module")
def wired() -> Work:
    return Compiler().compile(plate(ROW, ("wire", {})))


def _changed(files: Mapping[str, bytes], end: str, change: Any) -> dict[str, bytes]:
    return {name: change(data.decode()).encode() if name.endswith(end) else data for name, data in files.items()}


def _without_a_track(text: str) -> str:
    lines = text.splitlines()
    at = max(number for number, line in enumerate(lines) if line.endswith("D02*"))
    end = next(number for number in range(at + 1, len(lines)) if not lines[number].endswith("D01*"))
    return "\n".join(lines[:at] + lines[end:]) + "\n"


def _with_a_bridge(text: str) -> str:
    last = next(line for line in reversed(text.splitlines()) if line.endswith("D01*"))
    return text.replace("M02*", f"D{_track_tool(text)}*\n{last.replace('D01*', 'D02*')}\nX24000000Y20000000D01*\n"
                                "X4000000Y4000000D01*\nX40000000Y28000000D01*\nM02*")  # fmt: skip


def _track_tool(text: str) -> str:
    at = text.index("%TA.AperFunction,Conductor*%")
    return text[at:].split("%ADD")[1][:2]


def _mirrored(text: str) -> str:
    return re.sub(r"^X(-?\d+)(?=Y)", lambda found: f"X{48_000_000 - int(found[1])}", text, flags=re.MULTILINE)


DAMAGE = {
    "a track is cut": ("copper-back.gbr", _without_a_track),
    "a bridge": ("copper-back.gbr", _with_a_bridge),
    "a layer mirrored": ("copper-back.gbr", _mirrored),
    "vias lost": ("-plated.xnc", lambda text: "\n".join(one for one in text.splitlines() if not one.startswith("X")) + "\n"),
    "a net renamed": (".ipc", lambda text: text.replace("327ground        ", "327supply        ", 1)),
    "a pad elsewhere": (".ipc", lambda text: text.replace("X+0", "X+9", 1)),
    "no test file": (".ipc", lambda text: "327\n"),
}


@pytest.mark.parametrize("name", DAMAGE)
@pytest.mark.parametrize("with_board", [True, False])
def test_damaged_files_are_found_by_the_proof(wired: Work, name: str, with_board: bool) -> None:
    files = files_of(wired)
    assert prove_files(files, "good", wired.board).good
    end, change = DAMAGE[name]
    damaged = _changed(files, end, change)
    assert damaged != files
    proof = prove_files(damaged, name, wired.board if with_board else None)
    assert any(one.layer == "nets" for one in proof.differences), [one.text for one in proof.differences]


def test_nets_whose_names_the_test_file_has_no_letters_for_stay_apart(wired: Work) -> None:
    """Names of other letters, one like a free pin's, one like an alias: each pin is found in its own net."""
    board = wired.board
    named = dict(zip([net.name for net in board.nets], ["左", "右", "N/C", "NNAME1", "back\\slash"], strict=False))

    def of(things: Iterable[Any]) -> tuple[Any, ...]:
        return tuple(replace(one, net=named.get(one.net, one.net)) for one in things)

    nets = tuple(replace(net, name=named.get(net.name, net.name)) for net in board.nets)
    wires = replace(board.wires, tracks=of(board.wires.tracks), vias=of(board.wires.vias))
    other = replace(board, nets=nets, pads=of(board.pads), wires=wires, copper=of(board.copper))
    proof = prove_files(files_of(Work(wired.project, wired.design, {**wired.values, "board": other})), "letters", other)
    assert proof.good, [one.text for one in proof.differences]


def test_holes_that_are_not_plated_join_nothing(wired: Work) -> None:
    files = dict(files_of(wired))
    plated = next(name for name in files if name.endswith("-plated.xnc"))
    bare = next(name for name in files if name.endswith("-unplated.xnc"))
    files[bare] = files[plated].replace(b"Plated,1,2,PTH", b"NonPlated,1,2,NPTH")
    files[plated] = b"\n".join(one for one in files[plated].split(b"\n") if not one.startswith(b"X"))
    texts = [one.text for one in prove_files(files, "bare", wired.board).differences]
    assert any("is open" in text for text in texts), texts
    assert any("unplated" in one for one in faults(files, 0.15, 0.15))


def _pad(ref: str, x: float, y: float, side: str = "back") -> PlacedPad:
    return PlacedPad(ref, "1", x, y, 1.0, 1.0, 0.0, side, box(x - 0.5, y - 0.5, x + 0.5, y + 0.5))


def test_continuity_is_what_shapes_make_and_nothing_else() -> None:
    pads = [_pad("A", 0, 0), _pad("B", 10, 0), _pad("C", 0, 5), _pad("D", 10, 5, "front"), _pad("E", 5, 9)]
    nets = {("A", "1"): "one", ("B", "1"): "one", ("C", "1"): "two", ("D", "1"): "two"}
    lower, upper = box(0, -0.1, 10, 0.1), box(0, 4.9, 10, 5.1)
    both, hole = [("back", lower, "one"), ("back", upper, "two")], (10, 5, 0.3)
    good = continuity(shapes_of(pads, both), [hole], nets, 0.15)
    assert (good.opens, good.shorts, good.near) == ((), (), ())
    lost = continuity(shapes_of(pads, both), [], nets, 0.15)
    assert [one.net for one in lost.opens] == ["two"]
    cut = continuity(shapes_of(pads, [("back", box(0, -0.1, 4, 0.1), ""), ("back", upper, "two")]), [hole], nets, 0.15)
    assert [(one.net, len(one.groups)) for one in cut.opens] == [("one", 2)]
    across = continuity(shapes_of(pads, [*both, ("back", box(4, 0, 4.2, 5), "")]), [hole], nets, 0.15)
    assert across.shorts[0].nets == ("one", "two")
    met = continuity(shapes_of(pads, [*both, ("back", box(4, 0, 4.2, 5), "one")]), [], nets, 0.15)
    assert met.shorts[0].place == pytest.approx((4.1, 5.0), abs=0.3)  # where what is meant for one net meets the other
    stray = continuity(shapes_of(pads, [("back", lower, "one"), ("back", box(1, 0.2, 9, 0.4), "")]), [], nets, 0.15)
    assert stray.near[0].gap == pytest.approx(0.1)
    wide = continuity(shapes_of(pads, both), [hole], nets, 0.15, {"two": 5.0})
    assert {one.rule for one in wide.near} == {5.0}
    unused = continuity(shapes_of(pads, [("back", lower, "one"), ("back", box(4.9, 0, 5.1, 9), "")]), [], nets, 0.15)
    assert unused.shorts[0].nets == ("E.1 (not connected)", "one")


@given(st.integers(0, 10_000))
def test_components_are_those_of_the_union(seed: int) -> None:
    dice = random.Random(seed)
    boxes = [box(x, y, x + dice.uniform(0.2, 3), y + dice.uniform(0.2, 3))
             for x, y in ((dice.uniform(0, 12), dice.uniform(0, 12)) for _ in range(14))]  # fmt: skip
    pads = [PlacedPad(f"P{at}", "1", 0, 0, 1, 1, 0.0, "back", one) for at, one in enumerate(boxes)]
    nets = {(f"P{at}", "1"): "n" for at in range(len(boxes))}
    found = continuity(shapes_of(pads, []), [], nets, 0.01)
    many = len(shapely.get_parts(shapely.union_all(boxes)))
    assert (len(found.opens[0].groups) if found.opens else 1) == many


def _told(work: Work, laid: Any = None, parts: Any = None, nets: Any = None) -> dict[str, Finding]:
    v = work.values
    stack = work.brief.stack
    found = copper_findings(laid or v["wired layers"], parts or v["parts"], nets or v["nets"], v["rules"], stack)
    return {one.code: one for one in found}


def test_a_pad_under_the_mask_and_a_sliver_of_a_pour_are_told() -> None:
    work = Compiler().compile(plate(ROW, ("wire", {}), ("pour", {"net": "ground"})))
    assert _told(work) == {}
    laid = work.values["wired layers"]
    pad = next(pad for pad in laid.pads if pad.side == "back")
    shut = laid.layers["back mask"].difference(pad.polygon.buffer(-0.2))
    found = _told(work, replace(laid, layers={**laid.layers, "back mask": shut}))
    assert found["pad-covered"].count == 1
    assert f"{pad.ref}.{pad.pin}" in found["pad-covered"].text
    sliver = replace(laid, copper=tuple(replace(one, region=one.region.difference(box(0, 14, 3.5, 26)).union(
        box(2.0, 13.9, 2.06, 26.1))) if one.owner == "pour" else one for one in laid.copper))  # fmt: skip
    assert _told(work, sliver)["pour-too-thin"].measured == pytest.approx(0.06, abs=0.02)


def test_a_web_of_mask_that_is_left_away_is_told() -> None:
    work = Compiler().compile(plate(ROW, ("wire", {})))
    laid = work.values["wired layers"]
    pad = next(pad for pad in laid.pads if pad.side == "back")
    beside = replace(pad, ref="X9", pin="1", x=pad.x + pad.width + 0.17, polygon=shapely.affinity.translate(
        pad.polygon, pad.polygon.bounds[2] - pad.polygon.bounds[0] + 0.17))  # fmt: skip
    found = _told(work, replace(laid, pads=(*laid.pads, beside)))["pad-web-too-narrow"]
    assert found.measured == pytest.approx(0.07, abs=0.005)
    assert found.severity == "note"


@pytest.mark.parametrize("emitter", ["1206 red", "digit 14.2 common anode red"])
def test_an_led_the_wrong_way_round_is_told(emitter: str) -> None:
    one = ("single", {"array": "a", "x_mm": 22.0, "y_mm": 15.0, "emitter": emitter})
    work = Compiler().compile(plate(one, ("wire", {})))
    assert "pin-on-wrong-net" not in _told(work)
    swap = {"supply": "ground", "ground": "supply"}
    reversed_ = tuple(replace(net, kind=swap.get(net.kind, net.kind)) for net in work.values["nets"])
    assert _told(work, nets=reversed_)["pin-on-wrong-net"].severity == "stop"


def test_a_part_that_lies_mirrored_in_the_files_is_found_by_the_proof() -> None:
    chip = ("drive", {"method": "shift-register", "supply": "usb", "current_a": 0.003})
    work = Compiler().compile(plate(ROW, chip, ("wire", {})))
    files = dict(files_of(work))
    assert prove_files(files, "plate", work.board).good
    U = next(part for part in work.board.parts if len(part.part.pins) > 8)
    other = replace(U, side="front" if U.side == "back" else "back")
    board = replace(work.board, parts=tuple(other if part is U else part for part in work.board.parts))
    told = [one.text for one in prove_files(files, "plate", board).differences if one.layer == "nets"]
    assert any(text.startswith(f"{U.ref} lies mirrored") for text in told)
    moved = replace(U, x=U.x + 0.5)
    board = replace(work.board, parts=tuple(moved if part is U else part for part in work.board.parts))
    told = [one.text for one in prove_files(files, "plate", board).differences if one.layer == "nets"]
    assert any("elsewhere than its land pattern" in text for text in told)


def test_copper_names_the_nets_pins_and_parts_of_its_pads() -> None:
    work = Compiler().compile(plate(ROW, ("wire", {})))
    text = next(data.decode() for name, data in files_of(work).items() if name.endswith("copper-back.gbr"))
    for pad in (pad for pad in work.board.pads if pad.side == "back"):
        assert f"%TO.P,{pad.ref},{pad.pin}*%\n%TO.C,{pad.ref}*%\n%TO.N,{pad.net or 'N/C'}*%" in text


def track_needs(amps: float) -> float:
    """The width of DOMAIN 7, worked by hand."""
    return float((amps / (0.048 * 10**0.44)) ** (1 / 0.725) * 25.4**2 / 35 / 1000)


def test_a_track_that_is_too_narrow_for_its_current_and_one_too_near_are_told() -> None:
    compiler = Compiler()
    many = ("grid", {"array": "a", "x_mm": 22.0, "y_mm": 15.0, "rows": 5, "columns": 9, "pitch_x_mm": 4.4, "pitch_y_mm": 4.6})
    strong = ("drive", {"method": "each", "supply": "bench", "volts_v": 5.0, "current_a": 0.02})
    way = ("track", {"net": "ground", "layer": "back", "points": ((3.0, 3.0), (40.0, 3.0)), "width_mm": 0.15})
    work = compiler.compile(plate(many, strong, way))
    needed = track_needs(work.plan.current_max_a)
    assert needed > 0.15
    warm = codes(compiler, work)["track-too-warm"]
    assert (warm.measured, warm.allowed) == (0.15, pytest.approx(needed, abs=0.001))
    alone = compiler.compile(plate(ROW))
    pad = next(pad for pad in alone.board.pads if pad.ref == "R1" and pad.pin == "1")
    ox, oy = alone.board.origin
    reach = max(pad.width, pad.height) / 2 + 0.09 + 0.1
    beside = tuple((pad.x + ox + dx, pad.y + oy + reach * 1.42) for dx in (-4.0, 4.0))
    near = ("track", {"net": "ground", "layer": "back", "points": beside, "width_mm": 0.2})
    for down in np.arange(0.0, 2.0, 0.05):
        points = tuple((x, y - down) for x, y in beside)
        found = codes(compiler, compiler.compile(plate(ROW, ("track", {**near[1], "points": points}))))
        if "copper-too-near" in found:
            one = found["copper-too-near"]
            assert one.measured is not None
            assert 0 < one.measured < one.allowed == 0.15
            return
    raise AssertionError("no track came too near")


def test_a_tube_with_its_high_voltage_is_wired_and_nothing_pierces_its_ground() -> None:
    tube = next(name for name in emitters() if "digit tube" in name)
    project = plate(
        ("set-shape", {"base": "rectangle", "width_mm": 110.0, "height_mm": 90.0}),
        ("single", {"array": "t", "x_mm": 22.0, "y_mm": 15.0, "emitter": tube}),
        ("drive", {"method": "tube", "supply": "usb"}), ("wire", {"front": "free"}),
    )  # fmt: skip
    compiler = Compiler()
    work = compiler.compile(project)
    assert not work.board.wires.unjoined
    assert not [one.code for one in compiler.findings(work) if one.severity == "stop"]
    body = next(one for one in work.board.parts if one.ref == "V1").court()
    others = [one for one in work.board.parts if one.ref != "V1" and any(pad.drill_mm for pad in one.part.pads)]
    assert others
    assert all(not body.intersects(pad.polygon) for one in others for pad in one.pads())
