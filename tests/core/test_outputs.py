"""Lights on the outputs of registers: in another order, so that the ways are shorter; what is joined stays what it was."""

from __future__ import annotations

import itertools
import math

import pytest
from plates import plate

from outlined_glow.core.errors import Trouble
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.workshop import Compiler, Work
from outlined_glow.core.workshop.connections import output_keys
from outlined_glow.core.workshop.untangle import register_refs, untangled

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
