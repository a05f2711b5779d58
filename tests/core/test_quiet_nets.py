"""Oscillators and inputs that measure, and what switches near them."""

from __future__ import annotations

import math
from typing import Any

import pytest
from plates import ROW, plate

from outlined_glow.core.board.wiring_findings import quiet_findings
from outlined_glow.core.parts import PlacedPart
from outlined_glow.core.project import Project
from outlined_glow.core.wiring import route
from outlined_glow.core.wiring.copper import Track, Wires
from outlined_glow.core.wiring.quiet import GUARD_MM, beside_quiet, loud_nets, quiet_nets
from outlined_glow.core.workshop import Compiler, Work


def board(method: str, seed: int = 1, count: int = 5, **more: Any) -> Project:
    row = ("line", {**ROW[1], "count": count, "pitch_mm": 6.0})
    drive = {"method": method, "supply": "usb", "current_a": 0.003, **more}
    return plate(row, ("drive", drive), ("wire", {"front": "free", "seed": seed}))


def names(work: Work) -> tuple[frozenset[str], frozenset[str]]:
    parts: tuple[PlacedPart, ...] = work.board.parts
    return quiet_nets(work.board.nets, parts), loud_nets(work.board.nets, parts)


def test_which_nets_are_disturbed_and_which_switch() -> None:
    quiet, loud = names(Compiler().compile(board("ripple")))
    assert quiet == {"oscillator", "oscillator resistor", "oscillator capacitor", "oscillator in"}
    assert loud
    assert all(name.startswith("stage") for name in loud)
    quiet, loud = names(Compiler().compile(board("sink")))
    assert quiet == {"current set 1"}
    assert {"sinks data", "sinks clock", "sinks latch", "output 1"} <= loud
    assert not {"supply", "ground"} & (quiet | loud)
    quiet, loud = names(Compiler().compile(board("shift-register")))
    assert not quiet
    assert not loud, "where nothing is disturbed nothing has to make way"


def walked(work: Work) -> float:
    """How far what switches runs beside what is disturbed, in small steps."""
    quiet, loud = names(work)
    step, total = 0.05, 0.0
    still = [
        (one.side, one.points[at], one.points[at + 1])
        for one in work.board.wires.tracks if one.net in quiet for at in range(len(one.points) - 1)
    ]  # fmt: skip
    for one in work.board.wires.tracks:
        if one.net not in loud:
            continue
        for (x, y), (x1, y1) in zip(one.points, one.points[1:], strict=False):
            steps = max(1, round(math.hypot(x1 - x, y1 - y) / step))
            for at in range(steps):
                spot = (x + (x1 - x) * (at + 0.5) / steps, y + (y1 - y) * (at + 0.5) / steps)
                near = any(side == one.side and apart(spot, a, b) < GUARD_MM for side, a, b in still)
                total += math.hypot(x1 - x, y1 - y) / steps if near else 0.0
    return total


def apart(spot: tuple[float, float], a: tuple[float, float], b: tuple[float, float]) -> float:
    long = math.hypot(b[0] - a[0], b[1] - a[1])
    t = 0.0 if long == 0 else ((spot[0] - a[0]) * (b[0] - a[0]) + (spot[1] - a[1]) * (b[1] - a[1])) / long**2
    t = min(1.0, max(0.0, t))
    return math.hypot(spot[0] - a[0] - t * (b[0] - a[0]), spot[1] - a[1] - t * (b[1] - a[1]))


def test_what_switches_keeps_away_where_it_can(monkeypatch: pytest.MonkeyPatch) -> None:
    kept = plain = 0.0
    for seed in range(1, 5):
        work = Compiler().compile(board("ripple", seed, 6))
        assert not work.board.wires.unjoined
        found = beside_quiet(work.board.wires, work.board.nets, work.board.parts)
        assert sum(found.values()) == pytest.approx(walked(work), abs=0.5)
        kept += sum(found.values())
        with monkeypatch.context() as patch:
            patch.setattr(route, "dear_beside_quiet", lambda *_: {})
            bare = Compiler().compile(board("ripple", seed, 6))
        plain += sum(beside_quiet(bare.board.wires, bare.board.nets, bare.board.parts).values())
    assert kept < 0.2 * plain, "an edge that switches stays away from the oscillator"


def test_a_long_way_beside_an_oscillator_is_told() -> None:
    work = Compiler().compile(board("ripple"))
    quiet, loud = (min(some) for some in names(work))

    def beside(long: float, side: str = "back") -> list[Any]:
        wires = Wires(
            (Track(quiet, "back", 0.3, ((0.0, 0.0), (30.0, 0.0))), Track(loud, side, 0.3, ((2.0, 1.0), (2.0 + long, 1.0))))
        )
        return quiet_findings(wires, work.board.nets, work.board.parts)

    [told] = beside(12.0)
    assert (told.code, told.measured) == ("quiet-net-disturbed", 12.0)
    assert loud in told.text
    assert not beside(7.0)
    assert not beside(12.0, "front"), "the board lies between"
