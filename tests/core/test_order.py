"""Files of the order: read back by the proof, by an independent Gerber library, and after tampering."""

from __future__ import annotations

import csv
import io
import json
import re
import zipfile
from collections import Counter
from pathlib import Path
from types import SimpleNamespace

import numpy as np
import pytest
from drawings import SIGN
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from plates import ROW, plate
from shapely.geometry import MultiPolygon, Point, Polygon, box
from test_drive_ways import some

from outlined_glow.core.drive import plan_drive
from outlined_glow.core.errors import Trouble
from outlined_glow.core.geometry.offset import grow
from outlined_glow.core.geometry.regions import box_at, disc, minus, union
from outlined_glow.core.order import make_package, prove_boards, write_package
from outlined_glow.core.order.gerber import Heading, art_layer, escaped, profile_layer, slug
from outlined_glow.core.order.package import GERBERS
from outlined_glow.core.order.proof import compare
from outlined_glow.core.order.proof.compare import prove_files
from outlined_glow.core.order.proof.coverage import raster
from outlined_glow.core.order.proof.drill_reader import read_drill
from outlined_glow.core.order.proof.gerber_reader import Unreadable, read_gerber
from outlined_glow.core.order.tables import borne
from outlined_glow.core.parts import PlacedPad, part
from outlined_glow.core.project import Drive, Project, SecondSource
from outlined_glow.core.units import show_si
from outlined_glow.core.workshop import Compiler, Work, apply_values, new_project

DATE = "2026-01-01T00:00:00Z"
HEADING = Heading("Copper,L1,Top", "Positive", "test", "2026-01-01T00:00:00+00:00")


@pytest.fixture(scope="module")
def lit() -> Work:
    """A sign with six LEDs and a hanging hole."""
    project = new_project(SIGN, "Glow sign.svg")
    for name, values in (
        ("ring", {"array": "r", "x_mm": 19.0, "y_mm": 11.0, "diameter_mm": 11.0, "count": 5, "start_deg": 77.0}),
        ("single", {"array": "eye", "x_mm": 50.0, "y_mm": 12.0, "emitter": "1206 reverse-mount red"}),
        ("set-hole", {"diameter_mm": 2.5}),
    ):
        project = apply_values(project, name, values, (0.0, 0.0))
    return Compiler().compile(project)


@pytest.fixture(scope="module")
def package(lit: Work) -> dict[str, bytes]:
    """Its files."""
    return make_package(lit.board, 8, DATE).files


def pad(x: float, y: float, width: float, height: float, angle: float) -> PlacedPad:
    return PlacedPad("R1", "1", x, y, width, height, angle, "front", box_at(x, y, width, height, angle))


def nested() -> MultiPolygon:
    """An island in a hole in an island in a hole."""
    return MultiPolygon(
        [
            minus(box(0, 0, 40, 40), box(4, 4, 36, 36)),
            minus(box(8, 8, 32, 32), disc(20, 20, 9)),
            disc(20, 20, 5),
            box(50, 0, 60, 9),
        ]
    )


def test_regions_with_holes_come_back_exactly() -> None:
    text = art_layer(HEADING, nested(), [], 0, "NonConductor").decode()
    image = read_gerber(text).region()
    assert image.symmetric_difference(nested()).area < 1e-4
    assert "%LPC*%" in text
    assert text.count("G36*") == text.count("G37*") == 6


@given(
    st.lists(
        st.tuples(st.floats(0, 90), st.floats(0, 90), st.floats(0.2, 9), st.floats(0.2, 9), st.floats(0, 360)), max_size=6
    ),
    st.floats(0, 0.2),
)
def test_pads_come_back_where_they_are(rows: list[tuple[float, float, float, float, float]], grown: float) -> None:
    pads = [pad(*row) for row in rows]
    text = art_layer(HEADING, MultiPolygon(), pads, grown, "Material", "Material").decode()
    wanted = union([box_at(p.x, p.y, p.width + 2 * grown, p.height + 2 * grown, p.angle_deg) for p in pads])
    assert read_gerber(text).region().symmetric_difference(wanted).area < 2e-4


def test_every_layer_agrees_with_an_independent_library(lit: Work, package: dict[str, bytes], tmp_path: Path) -> None:
    from pygerber.gerberx3.api.v2 import ColorScheme, GerberFile

    scale = 12
    board, files = lit.board, package
    for layer, (stem, _, _) in GERBERS.items():
        region = board.layer(layer)
        assert not region.is_empty
        parsed = GerberFile.from_str(files[f"glow-sign-{stem}.gbr"].decode()).parse()
        target = tmp_path / "layer.png"
        parsed.render_raster(str(target), dpmm=scale, color_scheme=ColorScheme.DEBUG_1)
        info = parsed.get_info()
        bounds = (float(info.min_x_mm), float(info.min_y_mm), float(info.max_x_mm), float(info.max_y_mm))
        assert bounds == pytest.approx(region.bounds, abs=0.02), layer
        with Image.open(target) as opened:
            picture = np.asarray(opened.convert("RGB")).astype(int)
        grid = {
            "px_per_mm": scale, "width": picture.shape[1], "height": picture.shape[0],
            "left_mm": bounds[0], "top_mm": bounds[3],
        }  # fmt: skip
        inside = raster(grow(region, -0.1), grid) > 0.98
        outside = raster(grow(region, 0.1), grid) < 0.02
        # Its colours for dark, clear and nothing are its own: a colour is dark where most of it lies inside.
        colours, which = np.unique(picture.reshape(-1, 3), axis=0, return_inverse=True)
        which = which.reshape(picture.shape[:2])
        dark = [inside[which == place].mean() > outside[which == place].mean() for place in range(len(colours))]
        drawn = np.array(dark)[which]
        assert drawn[inside].mean() > 0.985, layer
        assert drawn[outside].mean() < 0.02, layer


def test_attributes_say_what_each_file_is(package: dict[str, bytes]) -> None:
    functions = {}
    for name, data in package.items():
        if name.endswith(".gbr"):
            text = data.decode("ascii")
            functions[name] = re.search(r"%TF\.FileFunction,([^*]+)\*%", text).group(1)  # type: ignore[union-attr]
            polarity = re.search(r"%TF\.FilePolarity,([^*]+)\*%", text).group(1)  # type: ignore[union-attr]
            assert polarity == ("Negative" if "mask" in name else "Positive")
            assert "%FSLAX46Y46*%" in text
            assert "%MOMM*%" in text
            assert text.endswith("M02*\n")
            assert not re.search(r"%(LM|MI|SF|OF|AS|IP|IR)", text), "nothing mirrored or outdated"
    assert sorted(functions.values()) == sorted([
        "Copper,L1,Top", "Copper,L2,Bot", "Soldermask,Top", "Soldermask,Bot", "Legend,Top", "Legend,Bot", "Paste,Top",
        "Paste,Bot", "Profile,NP",
    ])  # fmt: skip


def test_pads_say_whether_a_pin_goes_through_them() -> None:
    work = Compiler().compile(plate(ROW, ("line", {"array": "row", "emitter": "5 mm diffused red"})))
    package = make_package(work.board, 1, DATE).files
    for side in ("front", "back"):
        function, code = "", 0
        of_code: dict[int, str] = {}
        flashed: Counter[str] = Counter()
        for line in package[f"plate-copper-{side}.gbr"].decode().splitlines():
            if (told := re.match(r"%TA\.AperFunction,(.*)\*%", line)) is not None:
                function = told[1]
            elif (defined := re.match(r"%ADD(\d+)", line)) is not None:
                of_code[int(defined[1])] = function
            elif (chosen := re.match(r"D(\d+)\*", line)) is not None:
                code = int(chosen[1])
            elif line.endswith("D03*"):
                flashed[of_code[code]] += 1
        pads = [pad for pad in work.board.pads if pad.side == side]
        through = sum(pad.drill_mm > 0 for pad in pads)
        assert through
        assert flashed["ComponentPad"] == through
        assert flashed["SMDPad,CuDef"] == len(pads) - through


def test_empty_layers_are_written_too(sign: Project) -> None:
    files = make_package(Compiler().compile(sign).board, 4, DATE).files
    assert len([name for name in files if name.endswith(".gbr")]) == 9
    assert read_gerber(files["sign-paste-front.gbr"].decode()).region().is_empty
    assert read_drill(files["sign-plated.xnc"].decode()) == ("Plated", [])
    assert prove_files(files, "sign").good


def test_drill_files_state_their_plating(package: dict[str, bytes], lit: Work) -> None:
    hole = lit.board.holes[0]
    assert read_drill(package["glow-sign-plated.xnc"].decode()) == ("Plated", [])
    function, holes = read_drill(package["glow-sign-unplated.xnc"].decode())
    assert function == "NonPlated"
    assert holes == [(pytest.approx(hole.x, abs=1e-4), pytest.approx(hole.y, abs=1e-4), 2.5)]


def test_tables(package: dict[str, bytes], lit: Work) -> None:
    text = package["glow-sign-placement.csv"].decode()
    notes = [line for line in text.splitlines() if line.startswith("#")]
    assert "counter-clockwise" in " ".join(notes)
    rows = list(csv.DictReader(io.StringIO("\n".join(line for line in text.splitlines() if not line.startswith("#")))))
    placed = {part.ref for part in lit.board.parts}
    assert "J1" in placed, "the pads for the lead, where nothing stands"
    assert [row["reference"] for row in rows] == [part.ref for part in lit.board.parts if part.ref != "J1"]
    led = next(row for row in rows if row["reference"] == "D3")
    spot = lit.board.lights[2]
    assert (float(led["x_mm"]), float(led["y_mm"]), led["side"]) == (
        pytest.approx(spot.x, abs=1e-4),
        pytest.approx(spot.y, abs=1e-4),
        "front",
    )
    bill = list(csv.DictReader(io.StringIO(package["glow-sign-bill-of-materials.csv"].decode())))
    assert {ref for row in bill for ref in row["references"].split()} == placed - {"J1"}
    assert all(int(row["count"]) == len(row["references"].split()) for row in bill)
    assert {row["at_least"] for row in bill if "resistor" in row["package"]} == {"0.125 W"}
    job = json.loads(package["glow-sign.gbrjob"])
    assert job["GeneralSpecs"]["LayerNumber"] == 2
    assert {entry["Path"] for entry in job["FilesAttributes"]} == {name for name in package if name.endswith(".gbr")}
    page = package["order-page.txt"].decode()
    assert "black" in page
    assert "ENIG" in page
    assert "2.5 mm" in page


def test_what_a_part_bears_is_in_the_bill() -> None:
    """By the volts that it lies at (half as many again) and the current through it."""
    drive = Drive(method="counter-chaser", supply="adapter", volts=12.0, fitted=("reverse",), family="4000")
    plan = plan_drive(drive, some((4, "0805 red")))
    parts = {one.part.kind: one.part for one in plan.wanted}
    assert borne(parts["capacitor"], plan) == "25 V"
    assert borne(parts["transistor"], plan) == "2 A, 25 V, on from 1.8 V at its gate"
    for one, other in (("usb", "adapter"), ("adapter", "usb")):  # whichever is plugged in
        volts = {"usb": None, "adapter": 12.0}
        two = SecondSource(other, volts=volts[other], joined="diodes")
        both = plan_drive(Drive(supply=one, volts=volts[one], second=two, current_a=0.01), some((4, "0805 red")))
        assert borne(part("capacitor 0603"), both) == "25 V"
        worst_ma = 4000 * both.branches[0].current_max_a
        amps, volts_borne = borne(part("diode"), both).split(", ")
        assert volts_borne == "25 V"
        assert float(amps.removesuffix(" mA")) == pytest.approx(worst_ma, rel=0.05)
    cell = plan_drive(Drive(supply="coin-2032", fitted=("switch",), current_a=0.001), some((4, "0805 red")))
    assert borne(part("capacitor 0603"), cell) == "6.3 V"
    assert borne(part("slide switch"), cell) == show_si(cell.current_max_a, "A")
    assert borne(part("double-layer capacitor"), plan) == borne(part("led 0805"), plan) == ""


# -- the proof ------------------------------------------------------------------------------------------------------


def test_a_good_package_is_good(package: dict[str, bytes], lit: Work) -> None:
    for board in (None, lit.board):
        proof = prove_files(package, "moth", board)
        assert proof.good
        assert proof.differences == ()
    assert set(proof.layers) == {*GERBERS, "outline"}


def test_the_moth_is_proved_too(moth_work: Work) -> None:
    files = make_package(moth_work.board, 8, DATE).files
    assert prove_files(files, "moth").differences == ()
    assert prove_files(files, "moth", moth_work.board).differences == ()


def without_a_region(text: str) -> str:
    """The file with its largest filled contour but the first taken out."""
    blocks = list(re.finditer(r"G36\*\n.*?G37\*\n", text, re.S))
    victim = sorted(blocks, key=lambda block: len(block.group()))[-2]
    return text[: victim.start()] + text[victim.end() :]


def moved(text: str, dx: int, flip: bool = False, width: float = 0.0) -> str:
    """Every X of a file shifted by dx micrometres, or mirrored about a width."""

    def change(match: re.Match[str]) -> str:
        x = int(match.group(1))
        return f"X{round(width * 1e6) - x if flip else x + dx * 1000}Y"

    return re.sub(r"^X(-?\d+)Y", change, text, flags=re.M)


@pytest.mark.parametrize("with_board", [False, True])
@pytest.mark.parametrize(
    ("name", "change", "layer"),
    [
        ("copper-front.gbr", without_a_region, "front copper"),
        ("legend-front.gbr", without_a_region, "front legend"),
        ("mask-front.gbr", lambda text: moved(text, 120), "front mask"),
        ("copper-front.gbr", lambda text: moved(text, 60), "front copper"),
        ("profile.gbr", lambda text: moved(text, 300), "outline"),
        ("paste-back.gbr", lambda text: text[:-5], "back paste"),
        ("mask-back.gbr", lambda text: text.replace("Soldermask,Bot", "Soldermask,Top"), "back mask"),
        ("copper-back.gbr", lambda text: text.replace("Copper,L2,Bot", "Drawing"), "back copper"),
        ("legend-back.gbr", lambda text: text.replace("%LPC*%", "%LPD*%"), "back legend"),
    ],
)  # fmt: skip
def test_tampering_is_named(package: dict[str, bytes], lit: Work, with_board: bool, name: str, change, layer: str) -> None:  # type: ignore[no-untyped-def]
    full = f"glow-sign-{name}"
    files = {**package, full: change(package[full].decode()).encode()}
    assert files[full] != package[full]
    proof = prove_files(files, "moth", lit.board if with_board else None)
    assert not proof.good
    assert layer in [difference.layer for difference in proof.differences if not difference.note]


def test_a_difference_has_its_place(package: dict[str, bytes], lit: Work) -> None:
    name = "glow-sign-paste-front.gbr"
    text = package[name].decode()
    led = lit.board.lights[2]
    flash = re.search(r"%TO\.P,D3,1\*%\nX-?\d+Y-?\d+D03\*\n", text)
    assert flash is not None
    files = {**package, name: (text[: flash.start()] + text[flash.end() :]).encode()}
    for board in (None, lit.board):
        difference = next(
            one for one in prove_files(files, "moth", board).differences if one.layer == "front paste" and not one.note
        )
        assert difference.x_mm == pytest.approx(led.x, abs=1.6)
        assert difference.y_mm == pytest.approx(led.y, abs=1.6)
        assert "missing" in difference.text


@given(
    st.lists(
        st.tuples(st.integers(0, 40), st.integers(0, 40), st.integers(2, 12), st.floats(-0.004, 0.004)), min_size=1, max_size=8
    )
)
def test_what_lies_within_a_region_but_for_rounding_differs_in_nothing(rows: list[tuple[int, int, int, float]]) -> None:
    one = union([box(x, y, x + size, y + size) for x, y, size, _ in rows])
    other = union([box(x, y, x + size + by, y + size) for x, y, size, by in rows])
    for inner, outer in ((one, other), (other, one)):
        piece = compare._largest(inner.difference(outer))
        assert piece is None or not compare._covered(inner, outer)
    if all(abs(by) < 0.0008 for *_, by in rows):
        assert compare._covered(one, other)
    assert not compare._covered(one, one.difference(box(-1, -1, 60, one.bounds[1] + 0.003)))


def test_a_mirrored_layer_is_called_so(package: dict[str, bytes], sign: Project) -> None:
    board = Compiler().compile(sign).board
    files = make_package(board, 4, DATE).files
    files["sign-copper-front.gbr"] = moved(files["sign-copper-front.gbr"].decode(), 0, True, board.size[0]).encode()
    differences = prove_files(files, "sign", board).differences
    assert any("mirrored" in one.text for one in differences if one.layer == "front copper")


def test_missing_and_changed_files(package: dict[str, bytes], lit: Work) -> None:
    for gone, layer in (
        ("mask-back.gbr", "back mask"),
        ("unplated.xnc", "unplated drill"),
        ("placement.csv", "glow-sign-placement.csv"),
    ):
        files = {name: data for name, data in package.items() if name != f"glow-sign-{gone}"}
        assert layer in [one.layer for one in prove_files(files, "moth").differences]
    files = {**package, "glow-sign-unplated.xnc": package["glow-sign-unplated.xnc"].replace(b"C2.500", b"C2.200")}
    assert "2.200" in prove_files(files, "moth").differences[0].text
    swapped = {**package, "glow-sign-unplated.xnc": package["glow-sign-unplated.xnc"].replace(b"NonPlated", b"Plated")}
    assert not prove_files(swapped, "moth").good
    commented = {**package}
    name = "glow-sign-profile.gbr"
    commented[name] = commented[name].replace(b"G01*\n", b"G01*\nG04 looked at*\n", 1)
    proof = prove_files(commented, "moth")
    assert proof.good
    assert [one.note for one in proof.differences] == [True]
    changed = {**package, "order-page.txt": b"pay twice"}
    assert not prove_files(changed, "moth").good


def test_packages_in_folders_and_zips(sign: Project, tmp_path: Path) -> None:
    board = Compiler().compile(sign).board
    package = make_package(board, 4, DATE)
    folder, archive = tmp_path / "deep" / "order", tmp_path / "order.zip"
    write_package(package, folder)
    write_package(package, archive)
    assert prove_boards(folder, {"": board})[""].good
    assert prove_boards(archive)[""].good
    with zipfile.ZipFile(archive) as one:
        assert one.namelist() == list(package.files)
    for target in (folder, archive):
        with pytest.raises(Trouble, match="--force"):
            write_package(package, target)
        write_package(package, target, force=True)
    (tmp_path / "file").write_text("x")
    with pytest.raises(Trouble):
        write_package(package, tmp_path / "file")
    for bad in (tmp_path / "nowhere", tmp_path / "file"):
        with pytest.raises(Trouble):
            prove_boards(bad)
    (tmp_path / "empty").mkdir()
    with pytest.raises(Trouble):
        prove_boards(tmp_path / "empty")


def test_the_same_project_gives_the_same_bytes(sign: Project) -> None:
    one, other = (make_package(Compiler().compile(sign).board, 4, DATE).files for _ in range(2))
    assert one == other


def test_files_carry_the_date_given(sign: Project) -> None:
    files = make_package(Compiler().compile(sign).board, 4, "2001-09-09T01:46:40Z").files
    assert b"CreationDate,2001-09-09T01:46:40+00:00" in files["sign-profile.gbr"]
    assert b"CreationDate,2001-09-09T01:46:40+00:00" in files["sign-plated.xnc"]
    assert json.loads(files["board.json"])["edited"] == "2001-09-09T01:46:40Z"


def test_an_export_can_be_stopped(lit: Work) -> None:
    seen: list[float] = []
    with pytest.raises(Trouble, match="stopped"):
        make_package(lit.board, 8, DATE, lambda share, _: seen.append(share), lambda: len(seen) > 3)
    assert 3 <= len(seen) <= 5


@pytest.mark.parametrize(
    "text",
    [
        "",
        "X0Y0D01*",
        "%FSLAX46Y46*%\n%MOMM*%\nD10*\nX0Y0D03*\nM02*",
        "%FSLAX46Y46*%%SRX2Y2I1J1*%M02*",
        "G36*",
        "%FSTAX23Y23*%M02*",
    ],
)
def test_the_reader_refuses_what_it_does_not_know(text: str) -> None:
    with pytest.raises(Unreadable):
        read_gerber(text)


def test_the_reader_knows_more_than_the_writer() -> None:
    text = """%FSLAX36Y36*%%MOMM*%%AMDONUT*1,1,2.0,0,0*1,0,1.0,0,0*%%ADD10DONUT*%%ADD11O,3X1*%%ADD12P,2X6*%%ADD13C,0.5*%
    D10*X0Y0D03*D11*X10000000Y0D03*D12*X20000000Y0D03*D13*G01*X0Y10000000D02*X5000000Y10000000D01*
    G75*G36*X40000000Y0D02*G03*X40000000Y0I-5000000J0D01*G37*M02*"""
    image = read_gerber(text).region()
    disc_area = Polygon(Point(35, 0).buffer(5, quad_segs=64).exterior).area
    expected = np.pi * (1 - 0.25) + (2 + np.pi / 4) + 3 * np.sqrt(3) / 2 + (2.5 + np.pi / 16) + disc_area
    assert image.area == pytest.approx(expected, rel=0.005)


def test_names_are_made_safe() -> None:
    assert slug("Glow sign") == "glow-sign"
    assert slug("  ../../Ünï “x” 🦋 ") == "n-x"
    assert slug("🦋") == "board"
    assert escaped("a,b*%\\ü") == "a\\u002Cb\\u002A\\u0025\\u005C\\u00FC"
    assert escaped("\N{BUTTERFLY}B") == "\\U0001F98BB"


def test_the_outline_with_cut_outs_is_drawn_closed() -> None:
    shape = minus(box(0, 0, 30, 20), disc(10, 10, 4), box(20, 5, 25, 15))
    text = profile_layer(HEADING, shape).decode()  # type: ignore[arg-type]
    assert read_gerber(text).outline().symmetric_difference(shape).area < 1e-3
    lines = read_gerber(text).lines
    assert len(lines) == 3
    assert all(line[0] == line[-1] for line in lines)


def test_the_two_drawing_codes_agree(lit: Work) -> None:
    from outlined_glow.core.board.view import coverage, whole_view

    view = whole_view(lit.board.size, "front", 4, 1.0)
    grid = SimpleNamespace(**vars(view))
    rows = {"px_per_mm": 4.0, "width": grid.width, "height": grid.height, "left_mm": grid.left, "top_mm": grid.top}
    for layer in ("front copper", "front legend", "back mask"):
        region = lit.board.layer(layer)
        ours = coverage(region, view, 16).astype(float) / 255
        assert np.abs(ours - raster(region, rows)).max() < 0.3
        assert raster(region, rows).sum() / 16 == pytest.approx(region.area, rel=0.002)


def test_a_moved_hole_and_a_shifted_board_are_two_things(sign: Project) -> None:
    first = Compiler().compile(apply_values(sign, "set-hole", {"x_mm": 5.0, "y_mm": 35.0}, (0, 0))).board
    second = Compiler().compile(apply_values(sign, "set-hole", {"x_mm": 6.0, "y_mm": 35.0}, (0, 0))).board
    files = make_package(first, 4, DATE).files
    texts = [one.text for one in prove_files(files, "sign", second).differences]
    assert any("hole" in text and "missing" in text for text in texts)
    assert any("hole" in text and "should not" in text for text in texts)
