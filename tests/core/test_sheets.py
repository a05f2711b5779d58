"""Printed sheets, measured as an independent renderer shows them, and the library they come from."""

from __future__ import annotations

import json
import re
from collections import Counter
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import ezdxf
import msgspec
import numpy as np
import pytest
from PyQt6.QtCore import QSize
from PyQt6.QtGui import QGuiApplication, QImage
from PyQt6.QtPdf import QPdfDocument

from outlined_glow.cli.main import run
from outlined_glow.core.errors import Trouble
from outlined_glow.core.lettering.faces import Face, shipped_face
from outlined_glow.core.order.sheets import other_letters, passport, template, template_as
from outlined_glow.core.order.sheets.page import Document, text, width_of
from outlined_glow.core.parts import part, part_file, parts
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.project.storage import save
from outlined_glow.core.workshop import Compiler

DPI = 600


def opened(data: bytes, folder: Path) -> QPdfDocument:
    (folder / "sheet.pdf").write_bytes(data)
    document = QPdfDocument(None)
    document.load(str(folder / "sheet.pdf"))
    return document


def shown(data: bytes, folder: Path, dpi: int = DPI) -> list[np.ndarray[Any, Any]]:
    """Grey pictures (h, w) of the pages at that resolution."""
    document = opened(data, folder)
    pages = []
    for number in range(document.pageCount()):
        size = document.pagePointSize(number)
        image = document.render(number, QSize(round(size.width() / 72 * dpi), round(size.height() / 72 * dpi)))
        image = image.convertToFormat(QImage.Format.Format_RGBA8888)
        bits = image.constBits()
        assert bits is not None
        bits.setsize(image.sizeInBytes())
        rgba = (
            np.frombuffer(bits, np.uint8)
            .reshape(image.height(), image.bytesPerLine() // 4, 4)[:, : image.width()]
            .astype(float)
        )
        pages.append(255 - (255 - rgba[..., 0]) * rgba[..., 3] / 255)
    return pages


@pytest.mark.parametrize("name", ["led 3 mm clear", "clip for a 20 mm coin cell", "led 0402"])
def test_a_passport_has_the_pads_at_their_size(name: str, tmp_path: Path, qapp: QGuiApplication) -> None:
    one = part(name)
    [page] = shown(passport(one), tmp_path)
    assert passport(one) == passport(one), "the same bytes at any time"
    px = DPI / 25.4
    # The upper drawing stands 64 mm under the edge, on the middle; its pads are outlined in black.
    y, x = round(64 * px), round(105 * px)
    reach = round(26 * px)
    rows, columns = np.nonzero(page[y - reach : y + reach, x - reach * 2 : x + reach * 2] < 60)
    left = min(pad.x_mm - pad.width_mm / 2 for pad in one.pads)
    right = max(pad.x_mm + pad.width_mm / 2 for pad in one.pads)
    high = max(pad.y_mm + pad.height_mm / 2 for pad in one.pads)
    assert (columns.min() - 2 * reach) / px == pytest.approx(left, abs=0.15)
    assert (columns.max() - 2 * reach) / px == pytest.approx(right, abs=0.15)
    assert (reach - rows.min()) / px == pytest.approx(high, abs=0.15)


def test_a_template_has_a_cross_at_each_led(sign: Project, tmp_path: Path, qapp: QGuiApplication) -> None:
    values = {"x_mm": 20.0, "y_mm": 14.0, "count": 3, "length_mm": 24.0, "emitter": "5 mm diffused red"}
    board = Compiler().compile(apply_edit(sign, "line", values)).board
    [page] = shown(template(board), tmp_path)
    px, height = DPI / 25.4, page.shape[0]
    # The board's middle is that of the page's room: 12 mm margins, a head with two lines of words, 16 mm for the ruler.
    wide, high = page.shape[1] / px - 24, height / px - 24 - 9 - 2 * 4.4 - 16
    for spot in board.lights:
        x = 12 + (wide - board.size[0]) / 2 + spot.x
        y = 12 + 16 + (high - board.size[1]) / 2 + spot.y
        row, column = round(height - y * px), round(x * px)
        for along in (-1.8, -0.9, 0.9, 1.8):
            assert page[row - 3 : row + 4, round(column + along * px)].min() < 128
            assert page[round(row + along * px), column - 3 : column + 4].min() < 128
        assert page[round(row + 1.2 * px), round(column + 1.2 * px)] > 200
        bare = 5.1 / 2 * px
        assert page[row - 3 : row + 4, round(column + bare) - 3 : round(column + bare) + 4].min() < 128


def words_on(data: bytes, folder: Path) -> list[tuple[int, str, tuple[float, float, float, float]]]:
    """Every line of words with its page and its box (mm from the upper left), as an independent reader finds them."""
    document = opened(data, folder)
    out = []
    for page in range(document.pageCount()):
        for found in re.finditer(r"[^\r\n]+", document.getAllText(page).text()):
            box = document.getSelectionAtIndex(page, found.start(), found.end() - found.start()).boundingRectangle()
            sides = (box.left(), box.top(), box.right(), box.bottom())
            out.append((page, found.group(), tuple(side * 25.4 / 72 for side in sides)))
    return out  # type: ignore[return-value]


def test_every_passport_names_every_pin_and_keeps_its_words_on_the_page(tmp_path: Path, qapp: QGuiApplication) -> None:
    long = msgspec.structs.replace(part("timer"), title="a title that goes on and on " * 6, mark="it has a mark here " * 40)
    vast = msgspec.structs.replace(part("holder for four AA side by side"), body_mm=(260.0, 200.0))
    for one in (*parts().values(), long, vast):
        told = words_on(passport(one), tmp_path)
        for _, words, (left, _, right, _) in told:
            assert left > 11, (one.name, words)
            assert right < (210 - 11 if one is not vast else 310), (one.name, words)
        single = Counter(word for _, words, _ in told for word in words.split())
        assert {pin for pin in {pad.pin for pad in one.pads} if not single[pin]} == set(), one.name
        for at, (page, words, box) in enumerate(told):
            for other, others, theirs in told[at + 1 :]:
                wide = min(box[2], theirs[2]) - max(box[0], theirs[0])
                high = min(box[3], theirs[3]) - max(box[1], theirs[1])
                # A line of several pins is taken as one by the reader.
                assert page != other or wide < 0.3 or high < 0.5 or " " in words + others, (one.name, words, others)


def test_a_template_shows_windows_of_displays_and_the_holes_of_the_board(
    sign: Project, tmp_path: Path, qapp: QGuiApplication
) -> None:
    project = apply_edit(sign, "single", {"x_mm": 8.0, "y_mm": 9.0, "emitter": "5 mm clear red"})
    project = apply_edit(project, "single", {"x_mm": 28.0, "y_mm": 15.0, "emitter": "digit 10.2 common anode red"})
    project = apply_edit(project, "add-feature", {"kind": "screw", "x_mm": 4.0, "y_mm": 20.0, "screw": "M3"})
    board = Compiler().compile(project).board
    [page] = shown(template(board), tmp_path)
    told = " ".join(words for _, words, _ in words_on(template(board), tmp_path))
    assert "Rectangles are windows" in told
    assert "bare 5.1 mm (full), in a clip 6.4 mm (dashed), in a bezel 8 mm (dotted)" in told
    px, height = DPI / 25.4, page.shape[0]
    foot = 297 - 24 - 16 - 9 - 4.4 * 2

    def dark(x: float, y: float) -> bool:
        column = round((12 + (186 - board.size[0]) / 2 + x) * px)
        row = round(height - (12 + 16 + (foot - board.size[1]) / 2 + y) * px)
        return bool(page[row - 3 : row + 4, column - 3 : column + 4].min() < 200)

    display = next(one for one in board.parts if one.part.upright)
    for side in ((5.0, 3.0), (-5.0, -3.0), (2.5, 6.5), (-2.5, -6.5), (5.0, 6.5)):
        assert dark(display.x + side[0], display.y + side[1]), side
    assert not dark(display.x + 3.5, display.y + 3.5), "no circle, which would be as wide as the display"
    [hole] = [one for one in board.holes if one.purpose == "screw"]
    for side in ((1.7, 0.0), (0.0, -1.7), (0.0, 1.9)):
        assert dark(hole.x + side[0], hole.y + side[1]), side


def test_holes_of_any_name_are_drawn_for_machines(sign: Project, tmp_path: Path) -> None:
    """Four ways to sit in a lid, with names that neither XML nor layers take."""
    holes = {'flush "fit"': 3.0, "a/b <c>": 4.0, "board": 5.0, "9 mm & more": 9.0}
    entry = json.loads(part_file(part("led 5 mm clear")))
    light = {"forward_v": [1.8, 2.0, 2.4], "mcd": 300, "light": "FF5030", "holes_mm": holes}
    own = PictureFile("own.json", json.dumps({**entry, "name": "own lamp", "light": light}).encode())
    project = apply_edit(
        apply_edit(sign, "add-part", {"file": own}), "single", {"x_mm": 20.0, "y_mm": 14.0, "emitter": "own lamp"}
    )
    board = Compiler().compile(project).board
    svg = ElementTree.fromstring(template_as(board, Path("lid.svg")))
    assert sorted(2 * float(one.get("r", 0)) for one in svg.iter() if one.tag.endswith("circle")) == sorted(holes.values())
    (tmp_path / "lid.dxf").write_bytes(template_as(board, Path("lid.dxf")))
    drawing = ezdxf.readfile(tmp_path / "lid.dxf")
    assert not drawing.audit().errors
    circles = drawing.modelspace().query("CIRCLE")
    assert sorted(2 * one.dxf.radius for one in circles) == sorted(holes.values())
    assert len({one.dxf.layer for one in circles} - {"board"}) == 4
    assert template(board).startswith(b"%PDF")


def test_a_large_template_takes_pages_that_overlap(tmp_path: Path, sign: Project, qapp: QGuiApplication) -> None:
    large = apply_edit(apply_edit(sign, "set-width", {"width_mm": 300.0}), "single", {"x_mm": 280.0, "y_mm": 30.0})
    pages = shown(template(Compiler().compile(large).board), tmp_path, 60)
    assert len(pages) == 2
    with pytest.raises(Trouble, match="no LEDs"):
        template(Compiler().compile(sign).board)


def test_library_and_sheets_from_the_command_line(sign: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "p.oglow"
    save(apply_edit(sign, "single", {"x_mm": 20.0, "y_mm": 14.0}), path)
    assert run(["library", "--json"]) == 0
    told = {one["name"]: one for one in json.loads(capsys.readouterr().out)["parts"]}
    assert set(told) == set(parts())
    assert run(["library", "led 5 mm clear", "--json"]) == 0
    one = json.loads(capsys.readouterr().out)
    assert one == told["led 5 mm clear"]
    assert [pad["drill_mm"] for pad in one["pads"]] == [0.9, 0.9]
    assert run(["library", "led 9 mm"]) == 2
    assert "no part “led 9 mm”" in capsys.readouterr().err
    assert run(["template", str(path), "-o", str(tmp_path / "t.pdf")]) == 0
    assert run(["template", str(path), "-o", str(tmp_path / "t.txt")]) == 2
    assert "must end in .pdf, .svg, .dxf" in capsys.readouterr().err
    assert run(["passport", str(path), "led 0805", "-o", str(tmp_path / "t.pdf")]) == 0
    assert run(["passport", str(path), "led 0805", "-o", str(tmp_path / "t.png")]) == 2
    assert "must end in .pdf" in capsys.readouterr().err


def test_a_lid_is_drawn_for_machines(sign: Project, tmp_path: Path) -> None:
    """Read back by others: a circle of each kind at each lamp, a window as large as the display, the board's edge; mm."""
    project = apply_edit(sign, "single", {"x_mm": 8.0, "y_mm": 9.0, "emitter": "5 mm clear red"})
    project = apply_edit(project, "single", {"x_mm": 28.0, "y_mm": 15.0, "emitter": "digit 10.2 common anode red"})
    board = Compiler().compile(project).board
    (tmp_path / "lid.dxf").write_bytes(template_as(board, Path("lid.DXF")))
    drawing = ezdxf.readfile(tmp_path / "lid.dxf")
    lamp, display = (one for one in board.parts if one.part.shines)
    circles = {one.dxf.layer: one for one in drawing.modelspace().query("CIRCLE")}
    assert {name: 2 * one.dxf.radius for name, one in circles.items()} == {"bare": 5.1, "in-a-clip": 6.4, "in-a-bezel": 8.0}
    assert all((one.dxf.center.x, one.dxf.center.y) == pytest.approx((lamp.x, lamp.y)) for one in circles.values())
    [window] = drawing.modelspace().query("LWPOLYLINE[layer=='windows']")
    x, y = np.array([point[:2] for point in window.get_points()]).T
    assert (np.ptp(x), np.ptp(y)) == pytest.approx((10.0, 13.0))
    assert (x.mean(), y.mean()) == pytest.approx((display.x, display.y))
    assert drawing.units == 4
    svg = ElementTree.fromstring(template_as(board, Path("lid.svg")))
    found = [one for one in svg.iter() if one.tag.endswith("circle")]
    assert [float(one.get("r", 0)) * 2 for one in found] == [5.1, 6.4, 8.0]
    assert {float(one.get("cy", 0)) for one in found} == {round(board.size[1] - lamp.y, 4)}
    assert [len(group) for group in svg if group.get("id") == "windows"] == [1]
    assert svg.get("width") == f"{board.size[0]:.4f}mm"
    with pytest.raises(Trouble, match="no LEDs"):
        template_as(Compiler().compile(sign).board, Path("lid.svg"))


def test_letters_that_the_sheets_font_lacks_are_drawn(
    tmp_path: Path, qapp: QGuiApplication, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Letters taken for ones it lacks, from the same font as outlines: the sheet looks as before."""

    def sheet() -> np.ndarray[Any, Any]:
        document = Document("moth")
        text(document.page(), 20, 200, "Lamplighter moth 12", 8.0)
        text(document.page(), 100, 150, "to the moth", 5.0, middle=True)
        document.end_page()
        return shown(document.data(), tmp_path, 200)[0]

    plain, wide = sheet(), width_of("to the moth", 5.0)
    other_letters.runs_of.cache_clear()
    monkeypatch.setattr(Face, "lacks", lambda _face, words: "".join(sorted(set(words) & set("moth"))))
    monkeypatch.setattr(other_letters, "stand_in", lambda *_: shipped_face("regular"))
    try:
        runs = other_letters.runs_of("to the moth 12", False)
        assert [one.letters for one in runs] == ["to th", "e ", "moth", " 12"]
        drawn = sheet()
        assert width_of("to the moth", 5.0) == pytest.approx(wide, rel=0.02)
    finally:
        other_letters.runs_of.cache_clear()
    assert (plain < 128).sum() > 3000
    assert np.abs(plain - drawn).mean() < 0.3
    assert ((plain < 128) ^ (drawn < 128)).sum() < 0.2 * (plain < 128).sum()
