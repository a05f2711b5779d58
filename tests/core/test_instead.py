"""What could light instead; the small drawings of the ways; the ways of a block through resistors and LEDs."""

from __future__ import annotations

import pytest

from outlined_glow.core.drive import METHODS
from outlined_glow.core.drive.sketches import SIGNS, SKETCHES
from outlined_glow.core.parts import emitters
from outlined_glow.core.workshop import Compiler, apply_values
from outlined_glow.core.workshop.blocks import block_of
from outlined_glow.core.workshop.connections import connections
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.core.workshop.instead import COLUMNS, instead, instead_cells, instead_row


@pytest.mark.parametrize("key", METHODS)
def test_every_way_has_a_drawing(key: str) -> None:
    rows = SKETCHES[key]
    assert len({len(row) for row in rows}) == 1, "its rows are of one length"
    assert set("".join(rows)) <= SIGNS
    assert 1 <= len(rows) <= 5
    assert len(set(SKETCHES.values())) == len(METHODS), "no two are alike"


def test_what_could_light_instead_takes_what_it_takes() -> None:
    compiler = Compiler()
    work = compiler.compile(apply_values(demo_project("tide-board"), "set-purpose", {"digits": 4}, (0, 0)))
    rows = {one.key: one for one in instead(work)}
    assert list(rows) == ["own", "blocks", "digits", "sheets", "window"]
    own, blocks, digits, sheets = rows["own"], rows["blocks"], rows["digits"], rows["sheets"]
    assert own.many == len(work.leds)
    parts = sum(one.part.price or 0 for one in work.plan.wanted[1:])
    assert own.price == pytest.approx(parts + sum(led.kind.part.price or 0 for led in work.leds), abs=0.01)
    assert own.joints == sum(len(one.part.pads) for one in work.plan.wanted[1:]) + sum(
        len(led.kind.part.pads) for led in work.leds
    )
    # 23 columns and 7 rows: of blocks of 8 x 8 three, of 5 x 7 five.
    assert blocks.many == 3
    assert blocks.way == "row-and-column scan"
    assert digits.many == 4
    body = emitters()["digit 20.3 common cathode amber"].part
    assert digits.size_mm == (4 * body.body_mm[0], body.body_mm[1])
    assert digits.height_mm >= body.height_mm
    assert sheets.many >= 2 * 40, "ten numerals of each of four places"
    assert sheets.height_mm > sheets.size_mm[1]
    for row in rows.values():
        assert row.price > 0
        assert row.minutes > 0
        assert set(instead_cells(row)) == {key for key, _, _ in COLUMNS}
        assert instead_row(row)["what"] == row.key
    assert instead(compiler.compile(apply_values(work.project, "remove-array", {"array": work.leds[0].array}, (0, 0))))


def test_no_leds_are_compared_with_nothing() -> None:
    compiler = Compiler()
    project = demo_project("moth")
    for name in {led.array for led in compiler.compile(project).leds}:
        project = apply_values(project, "remove-array", {"array": name}, (0, 0))
    assert instead(compiler.compile(project)) == []


@pytest.mark.parametrize("demo", ["moth", "tide-board", "frost-tags"])
def test_the_ways_of_a_block_are_those_of_the_connection_list(demo: str) -> None:
    work = Compiler().compile(demo_project(demo))
    facts = connections(work)
    on_net = {net["name"]: set(net["pins"]) for net in facts["nets"]}
    parts = {one["reference"]: one for one in facts["parts"]}
    followed = 0
    for reference in [one for one in parts if one[0] in "UBJ"]:
        block = block_of(work, reference)
        for pin in (*block.left, *block.right):
            net, before = pin.net, reference
            for step in pin.way:
                here = on_net[net]
                there = {one.rsplit(".", 1)[0] for one in here} - {before}
                assert step.reference in there
                assert len(there) == step.many
                assert {(parts[one]["kind"], parts[one]["value"]) for one in there} == {(step.kind, step.value)}, "alike"
                [beyond] = {one["net"] for one in parts[step.reference]["pins"]} - {net, None}
                entered = next(one["role"] for one in parts[step.reference]["pins"] if one["net"] == net)
                assert step.away == (entered != "cathode")
                net, before, followed = beyond, step.reference, followed + 1
            assert pin.others.split("  ")[0] == net
    assert followed or demo == "frost-tags"
