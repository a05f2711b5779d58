"""The pins of a controller: given by hand, kept, brought out; and a table of one's own."""

from __future__ import annotations

import json
import re
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec import structs
from plates import plate, without_tracks
from test_drive_ways import AMBER, joined, some

from outlined_glow.core.drive import plan_drive
from outlined_glow.core.drive.circuit import Circuit
from outlined_glow.core.drive.devices import controllers
from outlined_glow.core.drive.own_controller import body_of, controller_file, copy_of, read_controller
from outlined_glow.core.errors import Trouble
from outlined_glow.core.parts.part import wrong_with
from outlined_glow.core.project import Drive, GivenPin, ReservedPin
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.workshop import Compiler, apply_text, apply_values
from outlined_glow.core.workshop.connections import assignment_rows, lit_rows, pin_rows
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.core.workshop.pin_header import pin_header
from outlined_glow.core.workshop.pin_table import pin_table, table_file

BIG = "8-bit 5 V, 20 pins"
PINS = Drive(method="pins", controller=BIG, current_a=0.004)
FIVE = some((5, "0805 red"))


def of(plan: Any) -> dict[str, str]:
    """The pin of everything that is driven, after it was found on that net of the connection list."""
    nets, _ = joined(plan, ())
    chip = next(one.ref for one in plan.wanted if one.part.kind == "controller")
    assert all(nets[chip, one.number] == one.drives for one in plan.pins)
    assert len({one.number for one in plan.pins}) == len(plan.pins), "no pin twice"
    return {one.drives: one.number for one in plan.pins}


@settings(max_examples=60, deadline=None)
@given(data=st.data())
def test_pins_given_by_hand_are_had_and_the_rest_is_handed_out(data: st.DataObject) -> None:
    outputs = [one.number for one in controllers()[BIG].outputs]
    numbers = data.draw(st.lists(st.sampled_from([one.number for one in controllers()[BIG].pins]), max_size=4, unique=True))
    nets = data.draw(st.permutations([f"D{at} pin" for at in range(1, 6)]))
    kept = data.draw(st.lists(st.sampled_from(outputs), max_size=6, unique=True))
    drive = structs.replace(
        PINS, spare_pads=data.draw(st.booleans()),
        given=tuple(GivenPin(net=net, pin=number) for net, number in zip(nets, numbers, strict=False)),
        reserved=tuple(ReservedPin(pin=number, name=f"thing {number}") for number in kept),
    )  # fmt: skip
    plan = plan_drive(drive, FIVE)
    drives = of(plan)
    told = [one.text for one in plan.findings if one.code == "pin-cannot-drive"]
    for net, number in zip(nets, numbers, strict=False):
        can = number in outputs and number not in kept
        assert (drives[net] == number) == can
        assert any(f"Pin {number} " in text and net in text for text in told) != can
    for number in kept:
        assert drives[f"thing {number}"] == number
    pads = [one for one in plan.wanted if one.part.name == "one pad"]
    spare = len(outputs) - 5 - len(kept)
    assert len(pads) == len(kept) + (spare if drive.spare_pads else 0)


def test_pins_that_are_kept_are_no_more_to_be_had() -> None:
    small = structs.replace(PINS, controller="small 8-pin", reserved=(ReservedPin(pin="2", name="button"),))
    [wrong] = [one for one in plan_drive(small, FIVE).findings if one.code == "too-few-pins"]
    assert (wrong.measured, wrong.allowed) == (5, 4)
    free = plan_drive(structs.replace(small, controller=""), FIVE)
    assert free.controller == controllers()[BIG].title, "a larger one is taken"
    assert "button" not in of(free) or of(free)["button"] == "2"


def test_a_pin_that_another_controller_does_not_have_is_told() -> None:
    """Kept on a large controller, then a small one is chosen: what is its supply there can be kept for nothing."""
    drive = structs.replace(PINS, controller="small 8-pin", reserved=(ReservedPin(pin="8", name="button"),))
    few = plan_drive(drive, some((2, "0805 red")))
    [told] = [one for one in few.findings if one.code == "pin-cannot-drive"]
    assert "Pin 8 " in told.text
    assert "supply" in told.text
    far = plan_drive(structs.replace(drive, reserved=(ReservedPin(pin="44", name="button"),)), some((2, "0805 red")))
    [gone] = [one for one in far.findings if one.code == "pin-cannot-drive"]
    assert "it has none" in gone.text
    assert gone.remedies[0].edit == "reserve-pin"
    assert "button" not in of(few)


@pytest.mark.parametrize("name", ["ground", "supply", "supply +", "D1 anode", "D1 pin", "program, reset", "sensor"])
def test_a_pin_kept_for_something_is_joined_with_its_pad_alone_whatever_it_is_called(name: str) -> None:
    project = apply_values(demo_project("paper-boat"), "reserve-pin", {"pin": "17", "name": name}, (0.0, 0.0))
    work = Compiler().compile(project)
    [net] = [one for one in work.plan.nets if ("U1", "17") in one.pins]
    assert [ref for ref, _ in net.pins] == ["U1", "TP2"]
    assert net.name == (name if name == "sensor" else f"{name}, pin 17")
    assert next(one.drives for one in work.plan.pins if one.number == "17") == net.name
    assert len({one.name for one in work.plan.nets}) == len(work.plan.nets)


def test_nets_kept_apart_never_become_one() -> None:
    circuit = Circuit()
    for at, (net, other) in enumerate((("tap, pin 1", "tap, pin 0"), ("tap", "tap, pin 1"), ("tap", "tap, pin 2"))):
        circuit.apart(net, other, ("U1", str(at)))
    circuit.begin("tips")
    assert circuit.join("tap", ("U2", "3")) == "tap"
    circuit.begin("eyes")
    assert circuit.join("tap", ("U3", "3")) == "tap, eyes"
    joined = {net.name: net.pins for net in circuit.nets if net.kind == "signal"}
    assert sorted(joined.values()) == [(("U1", "0"),), (("U1", "1"),), (("U1", "2"),), (("U2", "3"),), (("U3", "3"),)]
    assert joined[circuit.called("tap, pin 2")] == (("U1", "2"),)


def test_spare_pins_of_one_name_have_a_pad_each() -> None:
    tide, compiler = without_tracks("tide-board"), Compiler()
    own = apply_text(tide, "copy-controller", [f"controller={BIG}", "name=mine"], compiler)
    spare = [one.number for one in pin_table(compiler.compile(own)).lines if one.takes and not one.drives]
    for number in spare[:2]:
        own = apply_text(own, "set-pin", [f"pin={number}", "name=IO"], compiler)
    own = apply_text(own, "drive", ["spare_pads=yes"], compiler)
    plan = compiler.compile(own).plan
    joined = [[pin for ref, pin in net.pins if ref == "U1"] for net in plan.nets if net.name.startswith("spare IO")]
    assert len(joined) == 2
    assert sorted(joined) == sorted([number] for number in spare[:2])


def test_a_table_of_ones_own_is_copied_changed_saved_and_read(tmp_path: Any) -> None:
    tide, compiler = without_tracks("tide-board"), Compiler()
    own = apply_text(tide, "copy-controller", [f"controller={BIG}", "name=mine"], compiler)
    own = apply_text(own, "set-controller", ["pin=30mA", "standing=1mA", "least=3V"], compiler)
    own = apply_text(own, "set-pin", ["pin=14", "kind=input only", "name=I9"], compiler)
    own = apply_text(own, "reserve-pin", ["pin=14", "name=tide sensor"], compiler)
    path = tmp_path / "own.oglow"
    save(own, path)
    work = compiler.compile(load(path))
    assert work.plan.controller == "mine"
    assert work.plan.standing_a == pytest.approx(compiler.compile(tide).plan.standing_a - 0.007, abs=1e-6)
    table = pin_table(work)
    assert table.own.pin_a == 0.03
    line = table.line("14")
    assert (line.name, line.state, line.drives, line.takes) == ("I9", "kept", "tide sensor", False)
    assert "PIN_TIDE_SENSOR" in pin_header(work)
    again = read_controller(table_file(work))
    assert again == structs.replace(own.board().drive.own, unknown={})
    shipped = apply_text(own, "remove-controller", [], compiler)
    assert compiler.compile(shipped).plan.controller == controllers()[BIG].title


def test_a_controller_without_a_part_has_two_rows_of_pins() -> None:
    own = structs.replace(copy_of(controllers()[BIG], "rows"), part="")
    drive = structs.replace(PINS, controller="own", own=own)
    plan = plan_drive(drive, FIVE)
    [chip] = [one for one in plan.wanted if one.part.kind == "controller"]
    assert wrong_with(chip.part) is None
    pads = chip.part.pads
    assert [pad.pin for pad in pads] == [pin.number for pin in own.pins]
    first, last = pads[0], pads[-1]
    assert (first.y_mm, first.x_mm) == (last.y_mm, -last.x_mm), "the last pin is across from the first"
    down = [pad.y_mm for pad in pads[: len(pads) // 2]]
    assert down == sorted(down, reverse=True)
    assert of(plan)
    assert body_of(controllers()[BIG]).name == controllers()[BIG].part


def test_what_moves_by_hand_swaps_and_can_be_let_go() -> None:
    tide, compiler = without_tracks("tide-board"), Compiler()
    lines = {one.drives: one.number for one in pin_table(compiler.compile(tide)).lines if one.drives}
    a, b = "row 1 gate", "row 2 gate"
    moved = apply_values(tide, "give-pin", {"net": a, "pin": lines[b]}, (0, 0))
    moved = apply_values(moved, "give-pin", {"net": b, "pin": lines[a]}, (0, 0))
    after = {one.drives: one.number for one in pin_table(compiler.compile(moved)).lines if one.drives}
    assert (after[a], after[b]) == (lines[b], lines[a])
    assert {net: pin for net, pin in after.items() if net not in (a, b)} == {n: p for n, p in lines.items() if n not in (a, b)}
    back = apply_values(moved, "give-pin", {"net": a, "pin": lines[a]}, (0, 0))
    assert {one.net: one.pin for one in back.board().drive.given} == {a: lines[a], b: lines[b]}, "what had it takes the other"
    free = apply_values(back, "give-pin", {"net": a, "pin": "any"}, (0, 0))
    assert [one.net for one in free.board().drive.given] == [b]
    kept = apply_text(tide, "reserve-pin", ["pin=14", "name=serial"], compiler)
    with pytest.raises(Trouble, match="kept for “serial”"):
        apply_values(kept, "give-pin", {"net": a, "pin": "14"}, (0, 0))
    assert apply_text(kept, "reserve-pin", ["pin=14", "name=nothing"], compiler).board().drive.reserved == ()


def _table(**changes: Any) -> bytes:
    facts = json.loads(controller_file(controllers()["small 8-pin"]))
    facts["name"] = "mine"
    return json.dumps({**facts, **changes}).encode()


def _pins(change: Any) -> list[dict[str, Any]]:
    pins = json.loads(controller_file(controllers()["small 8-pin"]))["pins"]
    return [change(at, pin) for at, pin in enumerate(pins)]


@pytest.mark.parametrize(
    ("data", "told"),
    [
        (b"", "line 1"),
        (b"[]", "holds no controller"),
        (b'{"name": "x", "pin_a": NaN}', "no number"),
        (b"\xff\xfe", "UTF-8"),
        (b" " * 1_100_000, "1.1 MB"),
        (_table(pins=[]), "line"),
        (_table(pins=_pins(lambda at, pin: {**pin, "number": "1"})), "has pin 1 twice"),
        (_table(pins=_pins(lambda at, pin: {**pin, "kind": "output"})), "no supply pin"),
        (_table(pins=_pins(lambda at, pin: {**pin, "kind": "wish"})), "line"),
        (_table(pins=_pins(lambda at, pin: {**pin, "number": str(at + 40)})), "no pin 40"),
        (_table(supply_v=[5.5, 1.8]), "lower"),
        (_table(pin_a=-1), "line"),
        (_table(name="small 8-pin"), "already"),
        (_table(part="nothing of the kind"), "no part"),
        (_table(colour="red"), ""),
    ],
)  # fmt: skip
def test_a_table_is_read_or_refused_in_a_sentence(data: bytes, told: str) -> None:
    if told:
        with pytest.raises(Trouble, match=told):
            read_controller(data)
    else:
        assert read_controller(data).name == "mine"


def test_pins_may_have_letters_and_a_header_is_c_whatever_it_is_called() -> None:
    pins = [{"number": number, "name": name, "kind": kind} for number, name, kind in (
        ("A1", "VDD", "supply"), ("A2", "GND", "ground"), ("VIN", "one */ two", "output"), ("10", "P7", "output"),
        ("9", "output", "output"), ("D 3", "D3", "output"),
    )]  # fmt: skip
    own = {"name": "mine", "supply_v": [2.0, 5.5], "pin_a": 0.02, "total_a": 0.1, "standing_a": 0.005, "pins": pins}
    project = apply_values(demo_project("frost-tags"), "rename", {"name": "3 /* odd */ tags"}, (0, 0))
    project = apply_values(project, "add-controller", {"file": PictureFile("own.json", json.dumps(own).encode())}, (0, 0))
    for at, name in enumerate(("row 1", "row-1", "ряд"), 1):
        project = apply_values(project, "reserve-pin", {"pin": ("VIN", "D 3", "9")[at - 1], "name": name}, (0, 0))
    work = Compiler().compile(project)
    assert [row["pin"] for row in pin_rows(work)] == ["9", "10", "D 3", "VIN"]
    header = pin_header(work)
    without = re.sub(r"/\*.*?\*/", "", header)
    assert "*/" not in without
    assert without.split("\n")[1:3] == ["#ifndef BOARD_3_ODD_TAGS_PINS_H", "#define BOARD_3_ODD_TAGS_PINS_H"]
    named = re.findall(r"(?m)^#define (PIN_[A-Z0-9_]+) (\w+) *$", without)
    assert named == [("PIN_9", "9"), ("PIN_PIXELS_DATA", "7"), ("PIN_ROW_1", "D_3"), ("PIN_ROW_1_AT_VIN", "VIN")]


def test_a_controller_that_is_gone_is_told() -> None:
    plan = plan_drive(structs.replace(PINS, controller="own"), AMBER)
    assert "needs-controller" in {one.code for one in plan.findings}
    project, compiler = without_tracks("moth"), Compiler()
    for edit, words in (("drive", ["controller=own"]), ("set-pin", ["pin=2"]), ("remove-controller", [])):
        with pytest.raises(Trouble, match="controller of your own"):
            apply_text(project, edit, words, compiler)


@pytest.mark.parametrize("lit", ["all", "one"])
def test_a_charlieplex_tells_which_pins_light_which_led(lit: str) -> None:
    compiler = Compiler()
    moth = apply_values(without_tracks("moth"), "drive", {"method": "charlieplex", "supply": "usb", "lit": lit}, (0, 0))
    work = compiler.compile(moth)
    rows = assignment_rows(work)
    assert [row["led"] for row in rows] == [f"D{led.index}" for led in work.leds]
    assert len({(row["high"], row["low"]) for row in rows}) == len(rows), "each between two pins of its own"
    assert {row["high"] for row in rows} | {row["low"] for row in rows} == {pin.name for pin in work.plan.pins}
    header = pin_header(work)
    assert all(f"/* {row['led']}: {row['high']} high, {row['low']} low," in header for row in rows)
    each = compiler.compile(apply_values(moth, "drive", {"method": "shift-register"}, (0, 0)))
    assert assignment_rows(each) == []


@pytest.mark.parametrize(("emitter", "drive", "told"), [
    ("0805 red", {"method": "pins"}, {"high"}),
    ("three-colour 3528 common anode", {"method": "pins"}, {"low"}),
    ("three-colour 3528 common anode", {"method": "shift-register"}, {"low"}),
    ("0805 red", {"method": "shift-register"}, {"high"}),
    ("0805 red", {"method": "sink"}, {"on"}),
    ("0805 red", {"method": "scan", "current_a": 0.015, "rows": 2}, {"low", "on"}),
    ("filament lamp 5 V", {"method": "filament", "lit": "one"}, {"high"}),
    ("0805 red", {"method": "each"}, set()),
    ("0805 red", {"method": "ripple"}, set()),
], ids=lambda one: one if isinstance(one, str) else "")  # fmt: skip
def test_what_lights_a_led_is_told_with_its_level(emitter: str, drive: dict[str, Any], told: set[str]) -> None:
    large = ("set-shape", {"base": "rectangle", "width_mm": 140.0, "height_mm": 90.0})
    grid = {"array": "g", "x_mm": 22.0, "y_mm": 15.0, "rows": 2, "columns": 2, "pitch_x_mm": 16.0, "pitch_y_mm": 16.0}
    project = plate(large, ("grid", {**grid, "emitter": emitter}), ("drive", {"supply": "usb", "current_a": 0.003, **drive}))
    work = Compiler().on_demand(project)
    rows = lit_rows(work)
    assert {one.level for _, outputs in rows for one in outputs} == told
    assert len(rows) == (work.lamps.kinds >= 0).sum() if told else not rows
    assert all(len(outputs) == len(told) for _, outputs in rows)
    # Of two that share an output the others differ, and a row's gate is low: its switch lets a current through then.
    assert len({tuple((one.ref, one.pin) for one in outputs) for _, outputs in rows}) == len(rows)
    gates = {one.net for _, outputs in rows for one in outputs if "gate" in one.net}
    assert len(gates) == (2 if drive["method"] == "scan" else 4 if drive["method"] == "filament" else 0)
    header = pin_header(work)
    assert all(f"/* {led}: " in header for led, _ in rows)
