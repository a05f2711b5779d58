"""Leads off the board: what they cost and bear, their sheet and table, and what is told of them."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path

import msgspec
import pytest
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtPdf import QPdfDocument

from outlined_glow.cli.main import run
from outlined_glow.core.errors import Trouble
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.workshop import Compiler, Work
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.core.workshop.drops import drops
from outlined_glow.core.workshop.lead_facts import leads_file, leads_there

LEAD = {"part": "BT1", "to": "the cells", "length_mm": 2000.0, "wire": "stranded 0.14", "colours": "black, red"}


def codes(work: Work, compiler: Compiler) -> set[str]:
    return {one.code for one in compiler.findings(work)}


def test_a_lead_costs_what_its_copper_does_and_the_drop_counts_it(wired_moth: Project) -> None:
    compiler = Compiler()
    bare = drops(compiler.compile(wired_moth))
    work = compiler.compile(apply_edit(wired_moth, "lead", LEAD))
    [one] = leads_there(work)
    ohm = 1.72e-8 * 2.0 / 0.14e-6
    assert [strand.ohm for strand in one.strands] == pytest.approx([ohm, ohm])
    assert {strand.colour for strand in one.strands} == {"black", "red"}
    amps = work.values["net classes"]["ground"].current_a
    assert one.strands[0].net == "ground"
    assert one.strands[0].drop_v == pytest.approx(amps * ohm)
    with_lead = drops(work)
    assert with_lead.worst is not None
    assert bare.worst is not None
    # Both ways: the supply comes to the board so much lower, and the ground lies so much higher.
    assert bare.worst[1] - with_lead.worst[1] == pytest.approx(2 * work.plan.current_max_a * ohm, rel=0.05)
    assert with_lead.nets["supply +"].worst_v > bare.nets["supply +"].worst_v


def test_the_strands_of_a_lead_come_in_the_order_of_its_pins(wired_moth: Project) -> None:
    colours = [f"colour {number}" for number in range(1, 17)]
    work = Compiler().compile(apply_edit(wired_moth, "lead", {"part": "U1", "colours": ", ".join(colours)}))
    [one] = leads_there(work)
    assert [(strand.pin, strand.colour) for strand in one.strands] == [(colour[7:], colour) for colour in colours]


def test_what_holds_a_lead_decides_how_hard_it_may_be_pulled(wired_moth: Project) -> None:
    compiler = Compiler()
    work = compiler.compile(apply_edit(wired_moth, "lead", LEAD))
    [by_joints] = leads_there(work)
    pads = [min(pad.width, pad.height) for pad in work.board.pads if pad.ref == "BT1"]
    assert by_joints.pull_n == pytest.approx(sum(min(0.5 * 200 * 0.14, width) for width in pads))
    assert "lead-on-its-joints" in codes(work, compiler)
    held = compiler.compile(apply_edit(work.project, "lead", {"part": "BT1", "held": "relief"}))
    [by_relief] = leads_there(held)
    assert by_relief.pull_n == pytest.approx(2 * 0.5 * 200 * 0.14)
    assert by_relief.bend_mm == pytest.approx(6 * 1.1)
    assert "lead-on-its-joints" not in codes(held, compiler)
    thread = compiler.compile(apply_edit(work.project, "lead", {"part": "BT1", "wire": "thread"}))
    assert "lead-drops" in codes(thread, compiler)


def test_a_lead_of_a_part_that_is_gone_is_told_and_removed(
    wired_moth: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    compiler = Compiler()
    lost = apply_edit(wired_moth, "lead", {"part": "J77"})
    work = compiler.compile(lost)
    assert leads_there(work) == ()
    told = next(one for one in compiler.findings(work) if one.code == "lead-without-part")
    [remedy] = told.remedies
    assert apply_edit(lost, remedy.edit, dict(remedy.values)).board().wiring.leads == ()
    with pytest.raises(Trouble, match="no lead"):
        apply_edit(wired_moth, "remove-lead", {"part": "BT1"})
    save(wired_moth, tmp_path / "none.oglow")
    assert run(["leads", str(tmp_path / "none.oglow")]) == 0
    assert "no leads" in capsys.readouterr().out
    with pytest.raises(Trouble, match="no leads"):
        leads_file(compiler.compile(wired_moth), ".pdf")
    save(lost, tmp_path / "a.oglow")
    assert load(tmp_path / "a.oglow").board().wiring.leads == lost.board().wiring.leads


def test_a_wire_that_nobody_knows_is_told_and_reckoned_as_the_usual_one(wired_moth: Project) -> None:
    compiler = Compiler()
    project = apply_edit(wired_moth, "lead", LEAD)
    design = project.board()
    leads = (msgspec.structs.replace(design.wiring.leads[0], wire="spider silk"),)
    strange = project.with_board(
        design, msgspec.structs.replace(design, wiring=msgspec.structs.replace(design.wiring, leads=leads))
    )
    work = compiler.compile(strange)
    assert leads_there(work)[0].strands == leads_there(compiler.compile(project))[0].strands
    told = next(one for one in compiler.findings(work) if one.code == "lead-wire-unknown")
    [remedy] = told.remedies
    mended = apply_edit(strange, remedy.edit, dict(remedy.values))
    assert "lead-wire-unknown" not in codes(compiler.compile(mended), compiler)


def test_a_lead_takes_each_pin_once_and_a_part_without_pads_takes_none(tmp_path: Path, qapp: QGuiApplication) -> None:
    """The lamps of the tide board have holes, with pads on both sides; a strain relief has holes alone."""
    compiler = Compiler()
    project = apply_edit(demo_project("tide-board"), "lead", {"part": "D1"})
    (tmp_path / "x.pdf").write_bytes(leads_file(compiler.compile(project), ".pdf"))
    document = QPdfDocument(None)
    document.load(str(tmp_path / "x.pdf"))
    alone = [line for line in document.getAllText(0).text().splitlines() if line.strip().isdecimal()]
    assert sorted(alone) == ["1", "1", "2"], "pins 1 and 2, and lead 1"
    work = compiler.compile(apply_edit(project, "lead", {"part": "H1"}))
    assert [one.lead.part for one in leads_there(work)] == ["D1"]
    assert "lead-without-part" in codes(work, compiler)
    assert leads_file(work, ".pdf").startswith(b"%PDF")


def test_the_sheet_and_the_table_say_the_same(
    wired_moth: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str], qapp: QGuiApplication
) -> None:
    project = apply_edit(wired_moth, "lead", {**LEAD, "connector": "locking 2.0", "gender": "socket", "keyed": True})
    path = tmp_path / "moth.oglow"
    save(project, path)
    assert run(["leads", str(path), "-o", str(tmp_path / "x.csv"), "--json"]) == 0
    [told] = json.loads(capsys.readouterr().out)["leads"]
    assert (told["part"], told["length_mm"], told["gender"], told["keyed"]) == ("BT1", 2000.0, "socket", True)
    rows = list(csv.DictReader(io.StringIO((tmp_path / "x.csv").read_text())))
    assert [(row["pin"], row["net"], row["colour"]) for row in rows] == [
        (one["pin"], one["net"], one["colour"]) for one in told["strands"]
    ]
    assert run(["leads", str(path), "-o", str(tmp_path / "x.pdf")]) == 0
    assert "BT1 to the cells: 2000 mm" in capsys.readouterr().out
    document = QPdfDocument(None)
    document.load(str(tmp_path / "x.pdf"))
    words = document.getAllText(0).text()
    assert "BT1 to the cells: 2000 mm" in words
    assert "a socket on the lead, keyed" in words
    assert run(["leads", str(path), "-o", str(tmp_path / "x.txt")]) == 2
