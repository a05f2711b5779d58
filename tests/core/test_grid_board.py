"""Boards wired by hand: by single wires from a table, and on a plain board of holes, every net joined and nothing else."""

from __future__ import annotations

import csv
import io
import itertools
import math
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from plates import made_by_chance, plate
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtPdf import QPdfDocument
from scipy.sparse import csr_array
from scipy.sparse.csgraph import connected_components, minimum_spanning_tree

from outlined_glow.cli.main import run
from outlined_glow.core.errors import Trouble
from outlined_glow.core.order.sheets.grid import grid_sheet
from outlined_glow.core.parts import part
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.storage import save
from outlined_glow.core.wiring.grid_board import PITCH_MM, GridBoard, hole_name, legs_of
from outlined_glow.core.workshop import Compiler, Work, new_project
from outlined_glow.core.workshop.grid_wires import grid_file, grid_of, grid_table
from outlined_glow.core.workshop.hand_wires import hand_wires, wires_file


def checked(work: Work) -> GridBoard:
    """The plan of a board, looked over by other means."""
    plan = grid_of(work)
    holes = {(one.ref, pin): cell for one in plan.parts for pin, cell in one.legs}
    assert len(set(holes.values())) == len(holes), "no hole has two legs"
    assert all(0 <= x < plan.columns and 0 <= y < plan.rows for x, y in holes.values())
    frames = [
        (min(x for _, (x, _) in one.legs), min(y for _, (_, y) in one.legs), max(x for _, (x, _) in one.legs),
         max(y for _, (_, y) in one.legs)) for one in plan.parts
    ]  # fmt: skip
    for at, (a, b, c, d) in enumerate(frames):
        assert not any(a <= g and c >= e and b <= h and d >= f for e, f, g, h in frames[at + 1 :]), "no part lies on another"
    # What the copper side joins: links, and every hole that a bare wire passes.
    edges: list[tuple[tuple[int, int], tuple[int, int]]] = []
    for link in plan.links:
        edges.append((link.start, link.end))
        (ax, ay), (bx, by) = link.start, link.end
        if link.kind == "solder":
            assert abs(ax - bx) + abs(ay - by) == 1
        if link.kind == "bare wire":
            assert ax == bx or ay == by
            way = [(x, y) for x in range(min(ax, bx), max(ax, bx) + 1) for y in range(min(ay, by), max(ay, by) + 1)]
            edges += itertools.pairwise(way)
    cells = list(dict.fromkeys([*holes.values(), *(cell for edge in edges for cell in edge)]))
    number = {cell: at for at, cell in enumerate(cells)}
    rows, columns = ([number[edge[end]] for edge in edges] for end in (0, 1))
    graph = csr_array((np.ones(len(edges)), (rows, columns)), shape=(len(cells), len(cells)))
    group = connected_components(graph, directed=False)[1]
    joined: dict[int, set[str]] = {}
    for net in work.board.nets:
        mine = {int(group[number[holes[pin]]]) for pin in net.pins if pin in holes}
        assert len(mine) <= 1, "a net is whole"
        for one in mine:
            joined.setdefault(one, set()).add(net.name)
    assert all(len(names) == 1 for names in joined.values()), "nets keep apart"
    return plan


def test_the_moth_goes_on_a_plain_board(moth: Project) -> None:
    work = Compiler().compile(moth)
    plan = checked(work)
    assert plan.moved_mm < 2 * PITCH_MM, "the lights are where they were, as near as holes are"
    table = list(csv.DictReader(io.StringIO(grid_table(plan).decode())))
    assert len([row for row in table if row["what"] != "leg"]) == len(plan.links)
    led = next(row for row in table if row["name"] == "D1.1")
    light = next(one for one in plan.parts if one.ref == "D1")
    assert led["from"] == hole_name(dict(light.legs)["1"])


@given(st.integers(0, 10_000))
@settings(max_examples=12, deadline=None)
def test_boards_by_chance_are_joined_and_nothing_else(seed: int) -> None:
    work = Compiler().compile(apply_edit(made_by_chance(seed), "unwire", {}))
    if work.board.nets:
        checked(work)


def test_legs_of_parts() -> None:
    assert legs_of(part("led 0805")) == {"1": (0, 0), "2": (1, 0)} or len(legs_of(part("led 0805"))) == 2
    chip = legs_of(part("decade counter"))
    assert len(chip) == 16
    assert {row for _, row in chip.values()} == {0, 3}
    assert (chip["1"], chip["8"], chip["9"], chip["16"]) == ((0, 3), (7, 3), (7, 0), (0, 0)), "round it, from the lower left"


def test_it_is_printed_and_told_where_there_is_nothing(tmp_path: Path, moth: Project, qapp: QGuiApplication) -> None:
    save(moth, tmp_path / "moth.oglow")
    for name in ("a.pdf", "a.csv"):
        assert run(["nets", str(tmp_path / "moth.oglow"), "--grid", "-o", str(tmp_path / name)]) == 0
    assert (tmp_path / "a.csv").read_text().startswith("what,name,value,from,to,length_mm,net\n")
    sheet = QPdfDocument(None)
    sheet.load(str(tmp_path / "a.pdf"))
    assert sheet.pageCount() >= 2
    words = sheet.getAllText(0).text()
    assert "plain board" in words
    assert "D1" in words
    assert grid_file(Compiler().compile(moth), ".pdf") == (tmp_path / "a.pdf").read_bytes()
    with pytest.raises(Trouble, match="no nets"):
        grid_of(Compiler().compile(plate()))
    assert math.isclose(PITCH_MM, 2.54)


def test_a_long_value_goes_on_below_and_every_wire_has_its_length(tmp_path: Path, moth: Project, qapp: QGuiApplication) -> None:
    plan = grid_of(Compiler().compile(moth))
    value = "a value that somebody wrote out at length because it matters to him"
    first = replace(plan.parts[0], value=value)
    (tmp_path / "a.pdf").write_bytes(grid_sheet("a name that goes on " * 12, replace(plan, parts=(first, *plan.parts[1:]))))
    sheet = QPdfDocument(None)
    sheet.load(str(tmp_path / "a.pdf"))
    told = " ".join(" ".join(sheet.getAllText(page).text() for page in range(sheet.pageCount())).split())
    assert set(value.split()) <= set(told.split())
    assert all(f"{one.kind}, {one.length_mm:.0f} mm" in told for one in plan.links if "wire" in one.kind)


PLATE = (
    b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9" width="9mm"><rect width="9" height="9" fill="#123222"/></svg>'
)


def test_the_wires_join_every_net_with_as_little_wire_as_there_can_be(moth: Project) -> None:
    work = Compiler().compile(moth)
    wires = hand_wires(work)
    assert [one.number for one in wires] == list(range(1, len(wires) + 1))
    lands = {(pad.ref, pad.pin): (pad.x, pad.y) for pad in reversed(work.board.pads)}
    for net in work.board.nets:
        mine = [one for one in wires if one.net == net.name]
        pins = {f"{ref}.{pin}": lands[ref, pin] for ref, pin in net.pins if (ref, pin) in lands}
        assert len(mine) == len(pins) - 1
        groups = {pin: {pin} for pin in pins}
        for one in mine:
            assert one.places == (pins[one.start], pins[one.end])
            assert groups[one.start] is not groups[one.end]
            both = groups[one.start] | groups[one.end]
            groups.update(dict.fromkeys(both, both))
        spots = np.array(list(pins.values()))
        apart = np.hypot(*(spots[:, None] - spots[None]).transpose(2, 0, 1))
        # Pins over one another have no way between them, which is no edge there.
        assert sum(one.straight_mm for one in mine) == pytest.approx(minimum_spanning_tree(apart + 1e-9).sum(), abs=1e-5)
        assert len({one.colour for one in mine}) <= 1
    colours = {one.net: one.colour for one in wires}
    assert (colours["ground"], colours["supply"], colours["supply +"]) == ("black", "red", "red")
    assert not {"black", "red"} & {colour for net, colour in colours.items() if net.split()[0] not in ("ground", "supply")}
    assert all(one.cut_mm >= one.straight_mm + 10 for one in wires)


def test_table_and_sheet_have_every_wire(
    moth: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str], qapp: QGuiApplication
) -> None:
    save(moth, tmp_path / "moth.oglow")
    wires = hand_wires(Compiler().compile(moth))
    assert run(["nets", str(tmp_path / "moth.oglow"), "-o", str(tmp_path / "w.csv")]) == 0
    rows = list(csv.DictReader(io.StringIO((tmp_path / "w.csv").read_text())))
    assert [(row["from"], row["to"], int(row["cut_mm"])) for row in rows] == [(one.start, one.end, one.cut_mm) for one in wires]
    assert run(["nets", str(tmp_path / "moth.oglow"), "-o", str(tmp_path / "w.pdf")]) == 0
    document = QPdfDocument(None)
    document.load(str(tmp_path / "w.pdf"))
    words = " ".join(document.getAllText(page).text() for page in range(document.pageCount()))
    assert all(f"{one.start} – {one.end}" in words for one in wires)
    assert math.isclose(document.pagePointSize(0).width(), 210 / 25.4 * 72, abs_tol=0.5)
    capsys.readouterr()
    assert run(["nets", str(tmp_path / "moth.oglow"), "-o", str(tmp_path / "w.txt")]) == 2
    with pytest.raises(Trouble, match="no nets"):
        wires_file(Compiler().compile(new_project(PLATE, "plate.svg")), ".pdf")
