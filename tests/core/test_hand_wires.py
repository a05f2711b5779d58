"""A board that is wired by hand: every net as single wires, as a table and as a sheet."""

from __future__ import annotations

import csv
import io
import math
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtPdf import QPdfDocument
from scipy.sparse.csgraph import minimum_spanning_tree

from outlined_glow.cli.main import run
from outlined_glow.core.errors import Trouble
from outlined_glow.core.project import Project
from outlined_glow.core.project.storage import save
from outlined_glow.core.workshop import Compiler, new_project
from outlined_glow.core.workshop.hand_wires import hand_wires, wires_file

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
