"""Parts of a project's own: read from files, used, compared with the real ones, put right, carried along."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st
from plates import ROW, files_of, plate

from outlined_glow.core.errors import Trouble
from outlined_glow.core.lights.own_parts import library_of
from outlined_glow.core.order.proof.compare import prove_files
from outlined_glow.core.parts import emitter, part, part_file, parts, read_part
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.workshop import Compiler, apply_text

LAMP: dict[str, Any] = {
    "name": "shop lamp", "kind": "led", "title": "a lamp from the drawer", "prefix": "D",
    "pins": [{"number": "1", "name": "K", "role": "cathode"}, {"number": "2", "name": "A", "role": "anode"}],
    "pads": [
        {"pin": "1", "x_mm": -1.5, "y_mm": 0.4, "width_mm": 1.0, "height_mm": 1.2},
        {"pin": "2", "x_mm": 1.5, "y_mm": 0, "width_mm": 1.0, "height_mm": 1.2},
    ],
    "body_mm": [3.0, 1.6], "height_mm": 1.0, "legend": "bar", "shines": "forward",
    "light": {"forward_v": [1.8, 2.0, 2.4], "mcd": 300, "light": "FF5030"},
}  # fmt: skip


def file_of(**changes: Any) -> PictureFile:
    return PictureFile("lamp.json", json.dumps({**LAMP, **changes}, indent=1).encode())


def lit(sign: Project) -> Project:
    project = apply_edit(sign, "add-part", {"file": file_of()})
    return apply_edit(project, "single", {"array": "one", "x_mm": 20.0, "y_mm": 15.0, "emitter": "shop lamp"})


@pytest.mark.parametrize("name", sorted(parts()))
def test_a_part_is_its_file(name: str) -> None:
    assert read_part(part_file(part(name))) == part(name)


def lines(change: str, by: str) -> bytes:
    return json.dumps(LAMP, indent=1).replace(change, by).encode()


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "line 1"), (b"[1]", "must begin with {"), (b'{"name": "x",\n "kind": led}', "line 2"), (b"\xff{}", "UTF-8"),
        (lines('"x_mm": 1.5', '"x_mm": "wide"'), "line 28: Expected `float`"),
        (lines('"width_mm": 1.0', '"width_mil": 40'), "line 23: the part contains unknown field `width_mil`"),
        (lines('"x_mm": 1.5', '"x_mm": NaN'), "has “NaN” in it"), (lines('"x_mm": 1.5', '"x_mm": 1e999'), "line 28"),
        (lines('"pin": "2"', '"pin": "3"'), "pin 3, which it does not have"),
        (lines('"x_mm": 1.5', '"x_mm": -1.4'), "pads of pins 1 and 2 cross"),
        (lines('"prefix": "D"', '"prefix": ""'), "no prefix"),
        (lines('"role": "anode"', '"role": "passive"'), "anode or its cathode"),
        (lines(b"1.8,\\n   2.0".decode("unicode_escape"), "2.8,\n   2.0"), "order least, typical, most"),
        (lines('"shop lamp"', '"' + "x" * 61 + '"'), "1 to 60 letters"), (b" " * 50_000_000, "50.0 MB"),
        (b"[" * 100_000, "nested too deep"),
    ],
)  # fmt: skip
def test_a_part_file_that_is_wrong_is_refused_with_its_line(data: bytes, said: str) -> None:
    with pytest.raises(Trouble, match=said):
        read_part(data)


VALUES = st.recursive(
    st.none() | st.floats() | st.text(max_size=4),
    lambda inner: st.lists(inner) | st.dictionaries(st.sampled_from(sorted(LAMP)), inner),
)


@given(st.binary(max_size=60) | VALUES.map(lambda value: json.dumps(value).encode()))
def test_any_file_is_read_or_refused_in_a_sentence(data: bytes) -> None:
    with pytest.raises(Trouble) as trouble:
        read_part(data)
    assert len(str(trouble.value)) < 300


def test_a_part_without_pads_is_its_file_too() -> None:
    flying = read_part(json.dumps({**LAMP, "pads": []}).encode())
    assert flying.pads == ()
    assert read_part(part_file(flying)) == flying


@pytest.mark.parametrize("prefix", ["LAMPREY", "灯", "D 1"])
def test_references_and_pins_without_room_in_the_test_file_are_told_apart(prefix: str) -> None:
    """Pins whose names begin alike, references of long prefixes and of other letters: the proof finds each in its net."""
    own = json.dumps({**LAMP, "prefix": prefix}).replace('"1"', '"cathode of 1"').replace('"2"', '"cathode of 1, not"')
    row = {**ROW[1], "emitter": "shop lamp"}
    project = plate(("add-part", {"file": PictureFile("lamp.json", own.encode())}), (ROW[0], row), ("wire", {}))
    work = Compiler().compile(project)
    assert {one.ref for one in work.board.parts if one.part.shines} == {f"{prefix}{number}" for number in range(1, 5)}
    files = files_of(work)
    proof = prove_files(files, "plate", work.board)
    assert proof.good, [one.text for one in proof.differences]
    text = next(data for name, data in files.items() if name.endswith(".ipc")).decode()
    rows = [(line[20:26], line[27:31]) for line in text.splitlines() if line[:3] in ("317", "327") and line[26] == "-"]
    assert len(set(rows)) == len(rows) == sum(len(one.part.pads) for one in work.board.parts)


def test_an_own_part_is_used_and_travels_with_the_project(sign: Project, tmp_path: Path) -> None:
    project = lit(sign)
    save(project, tmp_path / "p.oglow")
    again = load(tmp_path / "p.oglow")
    assert again == project
    work = Compiler().compile(again)
    [spot] = work.board.lights
    assert (spot.colour, spot.emitter) == ("FF5030", "shop lamp")
    [led] = [one for one in work.board.parts if one.ref == "D1"]
    assert sorted((round(pad.x - led.x, 6), round(pad.y - led.y, 6)) for pad in led.pads()) == [(-1.5, 0.4), (1.5, 0)]
    gone = apply_edit(project, "remove-part", {"part": "shop lamp"})
    assert "parts/shop-lamp.json" not in gone.members
    compiler = Compiler()
    findings = {one.code: one for one in compiler.findings(compiler.compile(gone))}
    assert "“shop lamp”" in findings["part-missing"].text
    assert not compiler.compile(gone).leds, "nothing is drawn wrong in its place"
    with pytest.raises(Trouble, match="no LED “shop lump”; did you mean shop lamp"):
        apply_edit(project, "single", {"x_mm": 9.0, "y_mm": 9.0, "emitter": "shop lump"})


def codes(project: Project) -> set[str]:
    """What is found about its parts."""
    compiler = Compiler()
    return {one.code for one in compiler.findings(compiler.compile(project)) if one.code.startswith("part-")}


def test_a_passport_stands_until_it_is_answered_and_puts_pads_right(sign: Project) -> None:
    compiler = Compiler()

    project = lit(sign)
    assert codes(project) == {"part-unproved"}
    answers = {"part": "shop lamp", "pin1": "as drawn", "common": "none", "closes": "pin 2 is plus"}
    assert codes(apply_edit(project, "answer-passport", answers)) == set()
    half = apply_edit(project, "answer-passport", {"part": "shop lamp", "common": "none"})
    assert codes(half) == {"part-unproved"}
    for how, first in (("turned", (1.5, -0.4)), ("mirrored", (1.5, 0.4))):
        wrong = apply_edit(project, "answer-passport", {**answers, "pin1": how})
        assert codes(wrong) == {"part-drawn-wrong"}
        [finding] = [one for one in compiler.findings(compiler.compile(wrong)) if one.code == "part-drawn-wrong"]
        [remedy] = finding.remedies
        assert remedy.edit is not None
        right = apply_edit(wrong, remedy.edit, dict(remedy.values))
        pad = library_of(right.members).part("shop lamp").pads[0]
        assert (pad.x_mm, pad.y_mm) == first
        assert codes(right) == set()
    # A new file of the same name has not been compared.
    assert codes(apply_edit(apply_edit(project, "answer-passport", answers), "add-part", {"file": file_of()})) == {
        "part-unproved"
    }


def test_a_copy_is_the_emitter_under_another_name(sign: Project) -> None:
    project = apply_edit(sign, "copy-part", {"part": "3 mm clear blue", "name": "my blue"})
    copy, whole = library_of(project.members).emitters["my blue"], emitter("3 mm clear blue")
    for key in ("lights", "half_angle_deg", "holes_mm", "lens_mm"):
        assert getattr(copy, key) == getattr(whole, key)
    assert copy.part.pads == whole.part.pads
    with pytest.raises(Trouble, match="There is a part “my blue” already"):
        apply_edit(project, "copy-part", {"part": "led 0805", "name": "my blue"})
    with pytest.raises(Trouble, match="no part “led 0805” of its own"):
        apply_edit(project, "remove-part", {"part": "led 0805"})


def test_a_display_is_compared_with_the_real_one(sign: Project) -> None:
    """Its pins differ from maker to maker: a warning until it is; one that is drawn turned is put right for every colour."""
    kind = "digit 14.2 common anode"
    project = apply_edit(sign, "single", {"x_mm": 20.0, "y_mm": 15.0, "emitter": f"{kind} red"})
    assert codes(project) == {"part-unproved"}
    answers = {"part": kind, "pin1": "turned", "common": "3 and 8", "closes": "segment a"}
    turned = apply_edit(project, "answer-passport", answers)
    assert codes(turned) == {"part-drawn-wrong"}
    right = apply_edit(turned, "put-part-right", {"part": kind})
    assert codes(right) == set()
    there, here = (library_of(one.members).emitters[f"{kind} green"] for one in (project, right))
    for one, other in zip(there.part.pads, here.part.pads, strict=True):
        assert (one.pin, one.x_mm, one.y_mm) == (other.pin, -other.x_mm, -other.y_mm)
    # Drawn upside down, its points lie at the upper left.
    assert [tuple(-value for value in one.points[0]) for one in there.lights] == [one.points[0] for one in here.lights]


def test_a_part_of_the_circuit_is_taken_from_the_project(moth: Project) -> None:
    """One of the name of a part that ships takes its place, is compared with the real one, and is put right."""
    there, wider = part("slide switch"), [{**msgspec.to_builtins(pad), "width_mm": 1.1} for pad in part("slide switch").pads]
    own = PictureFile("s.json", json.dumps({**msgspec.to_builtins(there), "pads": wider}).encode())
    project = apply_edit(moth, "add-part", {"file": own})
    assert codes(moth) == set()
    assert codes(project) == {"part-unproved"}
    placed = next(one for one in Compiler().compile(project).board.parts if one.part.name == there.name)
    assert {pad.width_mm for pad in placed.part.pads} == {1.1}
    wrong = apply_edit(moth, "answer-passport", {"part": there.name, "pin1": "mirrored"})
    assert codes(wrong) == {"part-drawn-wrong"}
    right = Compiler().compile(apply_edit(wrong, "put-part-right", {"part": there.name}))
    [placed] = [one for one in right.board.parts if one.part.name == there.name]
    assert [pad.x_mm for pad in placed.part.pads] == [-pad.x_mm for pad in there.pads]


@pytest.mark.parametrize(
    ("name", "change", "said"),
    [
        ("slide switch", {"pads": [], "pins": [{"number": "1"}]}, "takes the place of the library's and has no pad of pin 1"),
        ("led 0805", {"pins": [{"number": "1"}, {"number": "2"}]}, "no pin is its anode or its cathode"),
        ("pixel 2020 four colours", {"dies": [{"name": "red"}]}, "the library's and does not say what light it gives"),
        ("pixel 2020 four colours", {"dies": [{"name": "red"}, {"name": "b", "colour": "blue"}]}, "what light its “red” gives"),
    ],
)
def test_a_part_that_no_board_can_use_is_refused(sign: Project, name: str, change: dict[str, Any], said: str) -> None:
    entry = {**json.loads(part_file(part(name))), **change}
    with pytest.raises(Trouble, match=said):
        apply_edit(sign, "add-part", {"file": PictureFile("p.json", json.dumps(entry).encode())})


def test_a_project_whose_board_cannot_be_made_is_mended_from_the_command_line(sign: Project) -> None:
    broken = apply_edit(lit(sign), "set-shape", {"base": "outline"})
    compiler = Compiler()
    with pytest.raises(Trouble):
        compiler.compile(broken)
    mended = apply_text(broken, "remove-array", ["array=one"], compiler)
    assert not mended.board().lights
    with pytest.raises(Trouble):
        apply_text(broken, "single", ["x=9mm", "y=9mm"], compiler)
