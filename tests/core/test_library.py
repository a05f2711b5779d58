"""The library: one model of parts, something new as a new file, parts placed on either side, drilled pads, nets."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from msgspec import convert, structs, to_builtins
from shapely.geometry import box
from test_drive_motion import chain

from outlined_glow.core import shipped
from outlined_glow.core.board.layers import part_layers
from outlined_glow.core.colour import materials
from outlined_glow.core.drive import METHODS, Method, plan_drive
from outlined_glow.core.drive.methods.each import OneResistorEach
from outlined_glow.core.drive.placement import led_parts, place_parts
from outlined_glow.core.drive.planner import row_of
from outlined_glow.core.drive.wanted import Wanted
from outlined_glow.core.errors import Trouble
from outlined_glow.core.geometry.regions import EMPTY
from outlined_glow.core.motion import level_at, pattern
from outlined_glow.core.parts import (
    Part,
    PlacedPart,
    emitters,
    library,
    offered_supplies,
    part,
    parts,
    resistor_sizes,
    shipped_library,
)
from outlined_glow.core.parts import profiles as read_profiles
from outlined_glow.core.parts.part import Pad, Pin, wrong_with
from outlined_glow.core.project import Drive, Project, apply_edit
from outlined_glow.core.workshop import Compiler, Work
from outlined_glow.core.workshop.light_facts import part_rows

CACHED = (
    shipped.entries, library._shipped_parts, library._shipped_emitters, library.library_with, library.supplies, read_profiles,
    pattern.patterns,
)  # fmt: skip
SOCKET: dict[str, Any] = {
    "kind": "socket", "title": "socket, two pins", "prefix": "J", "body_mm": [6, 3], "height_mm": 8,
    "pins": [{"number": "1", "role": "ground"}, {"number": "2", "role": "supply"}],
    "pads": [
        {"pin": pin, "x_mm": x, "y_mm": 0, "width_mm": 1.8, "height_mm": 1.8, "shape": "round", "drill_mm": 1.0}
        for pin, x in (("1", -1.27), ("2", 1.27))
    ],
    "holes": [{"x_mm": 0, "y_mm": 1, "diameter_mm": 0.8}],
    "drawing": [{"colour": "202020", "width_mm": 6, "height_mm": 3}],
}  # fmt: skip
CHIP: dict[str, Any] = {
    "kind": "controller", "title": "controller, 8 pins", "prefix": "U", "body_mm": [5, 4], "height_mm": 1.8, "legend": "bar",
    "pins": [{"number": str(n), "role": {4: "ground", 8: "supply"}.get(n, "data out")} for n in range(1, 9)],
    "pads": [
        {"pin": str(n), "x_mm": 1.27 * (min(n, 9 - n) - 2.5), "y_mm": -2.7 if n < 5 else 2.7, "width_mm": 0.6, "height_mm": 1.5}
        for n in range(1, 9)
    ],
}  # fmt: skip
CLEAR = {"front": EMPTY, "back": EMPTY}


@pytest.fixture
def added(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    """A folder whose files belong to every part of the library as well."""
    shipped_files = shipped.files

    def files(folder: str) -> Iterator[Any]:
        yield from shipped_files(folder)
        yield from sorted(tmp_path.glob(f"{folder}-*.json"))

    for module in (shipped, library, __import__("outlined_glow.core.parts.profiles", fromlist=["files"])):
        if hasattr(module, "files"):
            monkeypatch.setattr(module, "files", files)
    for one in CACHED:
        one.cache_clear()
    yield tmp_path
    monkeypatch.undo()
    for one in CACHED:
        one.cache_clear()


@pytest.mark.parametrize("side", ["front", "back"])
def test_the_picture_of_a_part_lies_on_its_pads(side: str) -> None:
    """Seen from its own side a part looks as it does: the dot of a chip stays beside pin 1, behind the board too."""
    for one in parts().values():
        there = PlacedPart("X1", one, "", 12.0, 7.0, 37.0, side)
        pads = [(pad.x, pad.y) for pad in there.pads() if pad.side == side]
        strokes = [(stroke.centroid.x, stroke.centroid.y) for stroke in there.drawn()]
        own = np.array([(pad.x_mm, pad.y_mm) for pad in one.pads]).reshape(-1, 2)
        meant = np.array([(stroke.x_mm, stroke.y_mm) for stroke in one.drawing]).reshape(-1, 2)
        apart = np.linalg.norm(own[:, None] - meant[None], axis=2)
        placed = np.linalg.norm(np.array(pads).reshape(-1, 1, 2) - np.array(strokes).reshape(1, -1, 2), axis=2)
        assert placed == pytest.approx(apart, abs=1e-6), one.name


def test_every_part_that_ships_can_be() -> None:
    for name, one in parts().items():
        assert wrong_with(one) is None, name
        assert convert(to_builtins(one), Part) == one
    assert resistor_sizes() == ("0402", "0603", "0805", "1206")
    assert list(offered_supplies())[:4] == ["usb", "coin-2032", "aa-alkaline", "aaa-alkaline"]
    roles = {pin.number: pin.role for pin in emitters()["0805 amber"].part.pins}
    assert roles == {"1": "cathode", "2": "anode"}


def test_something_new_is_a_file_and_no_code(added: Path, sign: Project) -> None:
    rose = {"forward_v": [1.6, 1.7, 1.9], "forward_a": 0.02, "mcd": 90, "light": "FF0044"}
    supply = {"title": "field supply", "offered": "field supply", "volts": [5.9, 6.0, 6.1], "ends": False, "ohm": 0.01,
              "most_a": 1.0, "bodies": {"1": "socket"}}  # fmt: skip
    (added / "parts-new.json").write_text(
        json.dumps({"parts": {"socket": SOCKET, "chip": CHIP}, "led_colours": {"rose": rose}, "supplies": {"field": supply}})
    )
    wave = {"where": {"turn": "2 * pi * phase"}, "level": "0.5 - 0.5 * cos(turn - x_mm / 9)"}
    (added / "patterns-new.json").write_text(json.dumps({"patterns": {"swell": wave}}))
    (added / "materials-new.json").write_text(json.dumps({"finishes": {"brass": {"colour": "C8A94B"}}}))
    fine = next(one for one in shipped.files("profiles") if one.name == "fine.json")
    rules = {**json.loads(fine.read_text()), "name": "garage", "title": "Garage"}
    (added / "profiles-garage.json").write_text(json.dumps(rules))
    assert "brass" in materials.finishes()
    project = apply_edit(sign, "set-profile", {"profile": "garage"})
    project = apply_edit(project, "set-stack", {"finish": "brass"})
    project = apply_edit(project, "ring", {"emitter": "1206 rose", "x_mm": 20.0, "y_mm": 15.0, "count": 3})
    project = apply_edit(project, "set-supply", {"supply": "field"})
    project = apply_edit(project, "set-pattern", {"pattern": "swell", "period_s": 3.0})
    work = Compiler().compile(project)
    here = work.lamps.places[:, 0]
    assert level_at(project.motion, work.lamps, 1.0)[:, 0] == pytest.approx(0.5 - 0.5 * np.cos(2 * np.pi / 3 - here / 9))
    assert work.board.materials.metal == "C8A94B"
    assert work.board.profile.title == "Garage"
    assert {spot.colour for spot in work.board.lights} == {"FF0044"}
    [socket] = [one for one in work.board.parts if one.ref == "J1"]
    assert socket.part.title == "socket, two pins"
    holes = [hole for hole in work.board.holes if hole.purpose == "J1"]
    assert sorted((hole.diameter, hole.plated) for hole in holes) == [(0.8, False), (1.0, True), (1.0, True)]
    for hole in holes:
        assert not work.board.layer("core").contains(box(hole.x, hole.y, hole.x + 0.1, hole.y + 0.1))
    values = work.values
    placing = place_parts((Wanted("U1", part("chip")),), values["leds"], values["outline"], CLEAR, values["rules"])
    assert [pad.pin for pad in placing.parts[0].pads()] == [pin.number for pin in part("chip").pins]


@pytest.mark.parametrize(
    ("entry", "words"),
    [
        ({"level": "sin(phase"}, "cannot be read"),
        ({"level": "phase", "tint": "red"}, "unknown field `tint`"),
        ({"where": {"phase": "1"}, "level": "1"}, "“phase” cannot be the name"),
        ({"where": {"b": "a", "a": "1"}, "level": "1"}, "reads “a”; it may read"),
        ({"level": "1 / 0"}, "has no value"),
        ({"level": "(0 - 8) ** 0.5"}, "no value in it that is a plain number"),
    ],
)
def test_a_pattern_that_cannot_be_is_refused(added: Path, entry: dict[str, Any], words: str) -> None:
    (added / "patterns-new.json").write_text(json.dumps({"patterns": {"swell": entry}}))
    with pytest.raises(Trouble, match=f"The pattern “swell” is wrong: .*{words}"):
        pattern.patterns()


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"pins": [{"number": "1"}, {"number": "1"}]}, "pin 1 is there twice"),
        ({"pins": [{"number": "1"}]}, "a pad belongs to pin 2"),
        ({"pads": [{**SOCKET["pads"][0], "drill_mm": 1.8}, SOCKET["pads"][1]]}, "as wide as the pad"),
        ({"pads": [{**SOCKET["pads"][0], "x_mm": 0.9}, SOCKET["pads"][1]]}, "pads of pins 1 and 2 cross"),
        ({"body_mm": [0, 3]}, "body_mm"),
        ({"colour": "red"}, "unknown field `colour`"),
    ],
)
def test_a_part_that_cannot_be_is_refused(added: Path, change: dict[str, Any], words: str) -> None:
    (added / "parts-new.json").write_text(json.dumps({"parts": {"socket": {**SOCKET, **change}}}))
    with pytest.raises(Trouble, match=f"The part “socket” is wrong: .*{words}"):
        parts()


def test_two_files_may_not_say_different_things(added: Path) -> None:
    (added / "parts-new.json").write_text(json.dumps({"parts": {"resistor 0805": SOCKET}}))
    with pytest.raises(Trouble, match="Two files say what “resistor 0805” is"):
        part("resistor 0805")


def test_a_drilled_pad_lies_on_both_sides_and_gets_no_paste(moth_work: Work) -> None:
    socket = convert({"name": "socket", **SOCKET}, Part)
    there = PlacedPart("J9", socket, "", 30.0, 20.0, 90.0, "back")
    pads = there.pads()
    assert sorted((pad.pin, pad.side) for pad in pads) == [("1", "back"), ("1", "front"), ("2", "back"), ("2", "front")]
    assert not any(pad.paste for pad in pads)
    values = moth_work.values
    laid = part_layers(values["flat here"], (there,), values["rules"])
    assert len(laid.holes) == 3
    without = part_layers(values["flat here"], (), values["rules"])
    area = 2 * 3.14159 * 0.5**2 + 3.14159 * 0.4**2
    assert laid.layers["drills"].area - without.layers["drills"].area == pytest.approx(area, rel=0.02)
    assert without.layers["core"].area - laid.layers["core"].area == pytest.approx(area, rel=0.02)
    for side in ("front", "back"):
        assert laid.layers[f"{side} paste"].is_empty


def test_parts_on_the_back_are_mirrored_then_turned() -> None:
    corner = structs.replace(part("resistor 0805"), pads=(Pad("1", 2.0, 1.0, 0.5, 0.5),), pins=(Pin("1"),))
    for side, angle, place in (
        ("front", 0.0, (2, 1)), ("back", 0.0, (2, -1)), ("front", 90.0, (-1, 2)), ("back", 90.0, (1, 2)),
    ):  # fmt: skip
        [pad] = PlacedPart("R1", corner, "", 0.0, 0.0, angle, side).pads()
        assert (pad.x, pad.y) == (pytest.approx(place[0]), pytest.approx(place[1]))


def test_any_part_is_placed_on_either_side(moth_work: Work) -> None:
    values = moth_work.values
    chip, leds = part("resistor 0402"), values["leds"]
    wanted = (
        Wanted("U1", part("resistor 1206"), side="front"), Wanted("U2", chip, leds[0].index, "front"),
        Wanted("U3", chip, leds[0].index), Wanted("U4", part("resistor 1206"), leds[1].index),
        Wanted("U5", chip, leds[1].index),
    )  # fmt: skip
    placing = place_parts(wanted, leds, values["outline"], CLEAR, values["rules"])
    assert not placing.findings
    assert [(one.ref, one.side) for one in placing.parts] == [(one.ref, one.side) for one in wanted]
    for side in ("front", "back"):
        courts = [one.court() for one in (*led_parts(leds), *placing.parts) if one.side == side]
        for at, one in enumerate(courts):
            assert values["outline"].region.contains(one) or at < len(leds)
            assert not any(one.intersects(other) for other in courts[at + 1 :] if at >= len(leds))


def test_one_resistor_each_joins_every_pin_once() -> None:
    leds = chain(5)
    plan = plan_drive(Drive(), leds)
    joined = [pin for net in plan.nets for pin in net.pins]
    assert len(joined) == len(set(joined))
    every = {(one.ref, pin.number) for one in (*led_parts(leds), *plan.wanted) for pin in one.part.pins}
    assert set(joined) == every
    assert [net.kind for net in plan.nets][:2] == ["supply", "ground"]
    assert ("D3", "1") in plan.nets[1].pins, "cathodes go to ground"
    assert plan.values["R3"] == "680R"


def test_a_method_is_judged_by_what_its_plan_breaks() -> None:
    assert row_of(Drive(), chain(12)).verdict.word == "works"
    careful = row_of(Drive(supply="aa-alkaline", cells=2, current_a=0.005), chain(3, "0805 blue")).verdict
    assert (careful.word, careful.limit) == ("works, with a caution", "headroom")
    refused = row_of(Drive(current_a=0.01), chain(80)).verdict
    assert (refused.word, refused.limit) == ("refused", "supply-current")
    assert "500 mA" in refused.reason
    with pytest.raises(Trouble, match="no way “magic”"):
        plan_drive(Drive(method="magic"), chain(1))


def test_another_method_needs_no_other_code(sign: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    """All LEDs with half the current, which it can also dim: window and board take it as they take the first one."""

    class Halved(OneResistorEach):
        key, title = "halved", "half the current"

        def build(self, job: Any) -> Any:
            return super().build(replace(job, drive=structs.replace(job.drive, current_a=job.drive.current_a / 2)))

        def shows(self, motion: Any) -> bool:
            return True

    assert issubclass(Halved, Method)
    monkeypatch.setitem(METHODS, "halved", Halved())
    project = apply_edit(sign, "ring", {"x_mm": 20.0, "y_mm": 15.0, "count": 3})
    project = apply_edit(project, "set-pattern", {"pattern": "chase"})
    design = project.board()
    halved = project.with_board(design, structs.replace(design, drive=structs.replace(design.drive, method="halved")))
    compiler = Compiler()
    usual, other = compiler.compile(project), compiler.compile(halved)
    assert other.plan.current_a == pytest.approx(usual.plan.current_a / 2, rel=0.1)
    assert other.plan.method == "halved"
    assert "pattern-is-a-wish" in {one.code for one in compiler.findings(usual)}
    assert "pattern-is-a-wish" not in {one.code for one in compiler.findings(other)}
    assert replace(other.plan, method="each") != usual.plan


def test_a_series_that_is_not_there_is_said_with_those_that_are() -> None:
    with pytest.raises(Trouble, match=r"no preferred series “E7”; there are .*E24"):
        library.tolerance("E7")


def test_every_part_that_is_bought_has_an_example_price() -> None:
    bare = ("pads for the lead", "programming pads", "one pad")
    bought = [one for name, one in shipped_library().parts.items() if not name.endswith(bare)]
    assert min(one.price or 0.0 for one in bought) > 0
    assert dict(part_rows(shipped_library().emitters["0805 amber"].part, None))["example price"] == "0.04 credits"
    assert "example price" not in dict(part_rows(part("two pads for the lead"), None))
