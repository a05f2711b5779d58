"""Room for the iron: a pad that is shut in by what is soldered before is told, and nothing else is."""

from __future__ import annotations

import math
from typing import Any

import pytest

from outlined_glow.core.board.tool_room import tool_room_findings
from outlined_glow.core.parts import PlacedPart
from outlined_glow.core.parts.part import Light, Pad, Part, Pin
from outlined_glow.core.project import Finding, PartPlace
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.demos import demo_project


def can(high: float, **more: Any) -> Part:
    """A square part of 4 x 4 mm with a pad that looks out at either end."""
    pads = (Pad("1", -2.2, 0.0, 1.2, 1.2), Pad("2", 2.2, 0.0, 1.2, 1.2))
    return Part("can", "capacitor", "can", "C", (Pin("1", "one"), Pin("2", "two")), pads, (4.0, 4.0), high, **more)


def at(ref: str, part: Part, x: float, y: float, angle: float = 0.0, side: str = "back") -> PlacedPart:
    return PlacedPart(ref, part, "", x, y, angle, side)


def row(gap: float, high: float = 6.0) -> tuple[PlacedPart, ...]:
    """A can, and a wall of three across its pin 2, so far from the pad; others close to its long sides."""
    one, wall = can(high), can(high)
    x = 2.8 + gap + 2.0
    walls = [at(f"W{n}", wall, x, 4.2 * n) for n in (-2, -1, 0, 1, 2)]
    beside = [at(f"S{n}", wall, 0.0, 4.2 * n) for n in (-1, 1)]
    corners = [at(f"K{n}", wall, 4.2, 4.3 * n) for n in (-1, 1)]
    return at("C1", one, 0.0, 0.0), *walls, *beside, *corners


def told(parts: tuple[PlacedPart, ...], *tools: str, by_hand: tuple[PartPlace, ...] = ()) -> Finding | None:
    found = tool_room_findings(parts, tools or ("iron",), by_hand)
    assert len(found) <= 1
    return found[0] if found else None


def test_a_pad_that_is_shut_in_is_told() -> None:
    found = told(row(0.5))
    assert found is not None
    assert (found.code, found.severity, found.stage) == ("no-tool-room", "warning", "wiring")
    assert "pin 2 of C1" in found.text
    assert "6 mm high" in found.text
    assert (2.2, 0.0) in found.places
    assert not found.remedies[0].edit


def test_lamps_shut_one_another_in_too() -> None:
    """What a part says of its light has a table in it."""
    parts = row(0.5)
    lamp = can(6.0, light=Light((1.8, 2.0, 2.4), 100.0, "FF5030", holes_mm={"rim": 5.0}))
    lamps = tuple(at(one.ref, lamp, one.x, one.y) for one in parts)
    found, before = told(lamps), told(parts)
    assert found is not None and before is not None  # noqa: PT018
    assert found.text == before.text


@pytest.mark.parametrize("side", ["front", "back"])
def test_what_stands_as_far_as_it_is_high_leaves_room(side: str) -> None:
    """The way of the iron, by hand: at 45 degrees it comes in beside what is no nearer than its height."""
    wall = can(6.0)
    for gap, shut in ((5.7, True), (6.5, False)):
        ring = [
            at(f"W{n}", wall, 2.2 + (0.6 + gap + 2.0) * math.cos(a), (0.6 + gap + 2.0) * math.sin(a), math.degrees(a), side)
            for n, a in enumerate(math.radians(10 * n) for n in range(36))
        ]
        pad_of = can(6.0, solder="by hand")
        parts = (at("C1", pad_of, 0.0, 0.0, 0.0, side), *ring)
        found = tool_room_findings(parts, ("iron", "oven"), ())
        refs = {one.text.split(" of ")[1].split(",")[0] for one in found}
        places = {place for one in found for place in one.places}
        assert ((2.2, 0.0) in places) == shut, (gap, refs)


def test_low_parts_come_first_and_are_in_nobodys_way() -> None:
    assert told(row(0.5, 1.4)) is None, "the iron passes over them"
    low, tall = can(2.0), can(6.0)
    parts = (at("C1", low, 0.0, 0.0), *(at(one.ref, tall, one.x, one.y) for one in row(0.5)[1:]))
    found = told(parts)
    assert found is None or (2.2, 0.0) not in found.places, "it is soldered before the tall ones"


def test_other_tools_and_leads() -> None:
    assert told(row(0.5), "iron", "hot air") is None
    reflow = tuple(at(one.ref, can(6.0, solder="reflow"), one.x, one.y) for one in row(0.5))
    assert told(reflow) is None
    leads = can(6.0)
    drilled = tuple(Pad(pad.pin, pad.x_mm, pad.y_mm, 1.8, 1.8, drill_mm=0.8) for pad in leads.pads)
    through = Part("pin", "capacitor", "pin", "C", leads.pins, drilled, (4.0, 4.0), 6.0)
    parts = tuple(at(one.ref, through, one.x, one.y) for one in row(0.9))
    assert told(parts) is None, "leads are soldered on the other side, where nothing stands"


def test_a_part_placed_by_hand_can_find_its_place_again() -> None:
    found = told(row(0.5), by_hand=(PartPlace("C1", 0.0, 0.0),))
    assert found is not None
    assert (found.remedies[0].edit, dict(found.remedies[0].values)) == ("free-part", {"part": "C1"})


def test_it_is_asked_of_every_board() -> None:
    compiler = Compiler()
    assert "no-tool-room" not in {one.code for one in compiler.findings(compiler.compile(demo_project("frost-tags")))}
    assert compiler.checked.runs["tool room check"] == 1
