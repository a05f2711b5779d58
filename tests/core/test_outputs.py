"""Lights on the outputs of registers: in another order, so that the ways are shorter; what is joined stays what it was."""

from __future__ import annotations

import itertools
import json
import math
from pathlib import Path

import pytest
from plates import plate

from outlined_glow.cli.main import run
from outlined_glow.core.errors import Trouble
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.workshop import Compiler, Work, apply_values
from outlined_glow.core.workshop.connections import output_keys
from outlined_glow.core.workshop.untangle import register_refs, shifter_refs, untangled

LARGE = ("set-shape", {"base": "rectangle", "width_mm": 70.0, "height_mm": 60.0})
RING = ("ring", {"array": "r", "x_mm": 22.0, "y_mm": 15.0, "count": 8, "diameter_mm": 40.0})


def lit(method: str) -> Project:
    return plate(LARGE, RING, ("drive", {"method": method, "supply": "usb"}))


def straight_mm(work: Work) -> float:
    """How long the straight ways from the outputs are, by hand: the nearest pads of each net on either side."""
    lands = {(pad.ref, pad.pin): (pad.x, pad.y) for pad in work.board.pads}
    refs = set(register_refs(work))
    total = 0.0
    for net in work.board.nets:
        if net.name.startswith("output "):
            own = [lands[pin] for pin in net.pins if pin[0] in refs]
            others = [lands[pin] for pin in net.pins if pin[0] not in refs]
            total += min(math.dist(a, b) for a, b in itertools.product(own, others))
    return total


@pytest.mark.parametrize("method", ["shift-register", "sink"])
def test_outputs_are_untangled_and_every_light_has_one(method: str) -> None:
    compiler = Compiler()
    assert output_keys(compiler.compile(lit(method))) == tuple(str(at) for at in range(1, 9))
    project = apply_edit(lit(method), "order-outputs", {"outputs": ("1", "5", "2", "6", "3", "7", "4", "8")})
    work = compiler.compile(project)
    found = untangled(work)
    assert found is not None
    [(name, values)] = [one for one in found.edits if one[0] == "order-outputs"]
    assert sorted(values["outputs"], key=int) == [str(at) for at in range(1, 9)]
    changed = apply_edit(project, name, values)
    made = compiler.compile(changed)
    assert output_keys(made) == values["outputs"]
    # Every LED hangs on one output, as the list says.
    nets = {net.name: net for net in made.board.nets}
    for at, key in enumerate(values["outputs"], 1):
        parts = {ref for ref, _ in nets[f"output {at}"].pins}
        assert parts & {f"D{key}", f"R{key}"}, "the light itself, or its resistor"
    assert len({net.name for net in made.board.nets}) == len({net.name for net in work.board.nets})
    codes = {one.code for one in compiler.findings(made) if one.severity == "stop"}
    assert codes <= {one.code for one in compiler.findings(work) if one.severity == "stop"}


def test_straight_ways_are_as_short_as_told_where_parts_stay() -> None:
    project = lit("sink")
    compiler = Compiler()
    work = compiler.compile(project)
    for part in [one for one in work.board.parts if not one.part.shines]:
        x, y = part.x + work.board.origin[0], part.y + work.board.origin[1]
        values = {"part": part.ref, "x_mm": x, "y_mm": y, "angle_deg": part.angle_deg, "side": part.side, "lock": True}
        project = apply_edit(project, "place-part", values)
    work = compiler.compile(project)
    found = untangled(work)
    assert found is not None
    for name, values in found.edits:
        project = apply_edit(project, name, values)
    made = compiler.compile(project)
    before = [one for one in found.edits if one[0] == "order-outputs"]
    assert before
    assert straight_mm(made) < straight_mm(work)
    again = untangled(made)
    assert again is None or not [one for one in again.edits if one[0] == "order-outputs"], "it cannot be bettered"


def test_what_is_no_order_is_told() -> None:
    project = lit("sink")
    for wrong, said in ((("1", "1"), "named twice"), (("x",), "no light")):
        with pytest.raises(Trouble, match=said):
            apply_edit(project, "order-outputs", {"outputs": wrong})
    some = apply_edit(project, "order-outputs", {"outputs": ("8", "99")})
    assert output_keys(Compiler().compile(some)) == ("8", "1", "2", "3", "4", "5", "6", "7"), "what is not there is passed over"
    assert apply_edit(some, "order-outputs", {"outputs": ("any",)}).designs[0].drive.outputs == ()
    assert untangled(Compiler().compile(plate(LARGE, RING))) is None


def shifted(*order: str) -> Project:
    """Registers on a controller of 3.3 V, whose four lines are raised by the gates of one level shifter."""
    project = plate(LARGE, RING, ("drive", {"method": "shift-register", "supply": "usb", "controller": "32-bit 3.3 V module"}))
    return apply_edit(project, "order-gates", {"gates": order}) if order else project


LINES = ("registers data", "registers shift clock", "registers storage clock", "registers enable")


def gate_ways_mm(work: Work) -> float:
    """How long the straight ways before and behind the gates are."""
    [ref] = shifter_refs(work)
    lands = {(pad.ref, pad.pin): (pad.x, pad.y) for pad in work.board.pads}
    total = 0.0
    for net in work.board.nets:
        if net.kind == "signal":
            own = [lands[pin] for pin in net.pins if pin[0] == ref]
            others = [lands[pin] for pin in net.pins if pin[0] != ref and pin in lands]
            total += min((math.dist(a, b) for a, b in itertools.product(own, others)), default=0.0)
    return total


def test_gates_are_untangled_as_well_as_any_order_of_them() -> None:
    compiler = Compiler()
    plain = compiler.compile(shifted())
    held = [one for one in plain.board.parts if not one.part.shines]
    [ref] = shifter_refs(plain)

    def there(*order: str) -> Project:
        """With all parts where they were, and the level shifter turned round."""
        project = shifted(*order)
        for one in held:
            turned = (one.angle_deg + 180.0) % 360 if one.ref == ref else one.angle_deg
            place = {"part": one.ref, "x_mm": one.x, "y_mm": one.y, "angle_deg": turned, "side": "back", "lock": True}
            project = apply_values(project, "place-part", place, plain.board.origin)
        return project

    ways = {order: gate_ways_mm(compiler.compile(there(*order))) for order in itertools.permutations(LINES)}
    worst = max(ways, key=lambda order: ways[order])
    found = untangled(compiler.compile(there(*worst)))
    assert found is not None
    order = dict(found.edits)["order-gates"]["gates"]
    assert ways[order] == pytest.approx(min(ways.values()), abs=0.02), "no order is shorter"
    mended = apply_edit(there(*worst), "order-gates", {"gates": order})
    made = compiler.compile(mended)
    nets = {net.name: net for net in made.board.nets}
    for line in LINES:
        assert {one for one, _ in nets[line].pins} & {ref}
        assert {one for one, _ in nets[f"{line}, shifted"].pins} & set(register_refs(made))
    with pytest.raises(Trouble, match="named twice"):
        apply_edit(mended, "order-gates", {"gates": (LINES[0], LINES[0])})
    assert apply_edit(mended, "order-gates", {"gates": ("any",)}).designs[0].drive.gates == ()


def test_the_command_line_untangles_too(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "ring.oglow"
    save(apply_edit(lit("shift-register"), "order-outputs", {"outputs": ("1", "5", "2", "6", "3", "7", "4", "8")}), file)
    assert run(["untangle", str(file), "--json"]) == 0
    said = json.loads(capsys.readouterr().out)
    assert said["ways"]["after_mm"] < said["ways"]["before_mm"]
    assert "order-outputs" in {one["edit"] for one in said["edits"]}
    assert load(file).designs[0].drive.outputs != ("1", "5", "2", "6", "3", "7", "4", "8")
    other = tmp_path / "other.oglow"
    assert run(["untangle", str(file), "-o", str(other)]) == 0
    assert other.exists()
    assert "untangle" not in capsys.readouterr().err
    assert run(["untangle", str(file), "-o", str(other)]) == 2
    assert "add --force" in capsys.readouterr().err
