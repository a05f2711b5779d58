"""How LEDs lie, how they are seen in the light of their place, and what harms the eye."""

from __future__ import annotations

import math
from typing import Any

import pytest

from outlined_glow.core.project import Finding, Project, apply_edit
from outlined_glow.core.workshop import Compiler

GRID = {"array": "g", "x_mm": 20.0, "y_mm": 15.0, "rows": 3, "columns": 4, "pitch_x_mm": 7.0, "pitch_y_mm": 7.0}


def made(project: Project, *edits: tuple[str, dict[str, Any]]) -> Project:
    for name, values in edits:
        project = apply_edit(project, name, values)
    return project


def found(project: Project) -> dict[str, Finding]:
    compiler = Compiler()
    return {one.code: one for one in compiler.findings(compiler.compile(project))}


def place(emitter: str, x: float, y: float, **more: Any) -> tuple[str, dict[str, Any]]:
    return "single", {"x_mm": x, "y_mm": y, "emitter": emitter, "facing": "alike", **more}


DIGIT = "digit 10.2 common anode red"
CASES = {
    "polarity-mixed": (("grid", GRID), ("nudge", {"array": "g", "place": (5, 6), "turn_deg": 180.0})),
    "display-turned": (place(DIGIT, 20.0, 15.0, turn_deg=180.0, array="d"),),
    "common-mixed": (place(DIGIT, 10.0, 15.0), place(DIGIT, 20.0, 15.0), place("digit 10.2 common cathode red", 31.0, 15.0)),
    "eye-caution": (place("0805 violet", 20.0, 15.0),),
    "hardly-shows": (("grid", {**GRID, "emitter": "0603 yellow-green"}), ("set-purpose", {"ambient": "sun"}),
                     ("set-current", {"current_a": 0.001})),
    "dazzles": (("grid", {**GRID, "emitter": "0805 green"}), ("set-purpose", {"ambient": "dark room"})),
    "shines-sideways": (place("side-on red", 20.0, 15.0),),
    "whites-mixed": (place("0805 cool white", 12.0, 15.0), place("0805 warm white", 24.0, 15.0)),
    "part-too-tall": (place("3 mm clear red", 20.0, 15.0), ("set-limits", {"tall_mm": 2.0})),
    "mask-glows": (("set-stack", {"mask": "white"}), ("set-appearance", {"colour": "B5A766", "appearance": "window"}),
                   place("1206 reverse-mount amber", 20.0, 15.0)),
    "too-few-digits": (("digits", {"array": "d", "x_mm": 20.0, "y_mm": 15.0, "digits": 3, "height_mm": 6.0, "gap_mm": 2.0}),
                       ("set-purpose", {"purpose": "number display", "digits": 4})),
    "narrow-beam": (place("3 mm clear red", 20.0, 15.0),),
    "edge-glows": (place("1206 reverse-mount amber", 0.5, 15.0),),
}  # fmt: skip


@pytest.mark.parametrize("code", CASES)
def test_it_is_told_and_its_remedy_helps(sign: Project, code: str) -> None:
    project = made(sign, *CASES[code])
    told = found(project)
    assert code in told
    assert told[code].x_mm is not None
    edits = [one for one in told[code].remedies if one.edit]
    for one in edits:
        after = found(apply_edit(project, one.edit, dict(one.values)))
        assert code not in after, one.text
    assert code not in found(made(sign, *CASES[code][:0], ("grid", GRID))), "plain LEDs on a desk give none"
    assert bool(edits) == (code not in ("common-mixed", "eye-caution", "whites-mixed"))


def test_digits_of_every_kind_are_counted(sign: Project) -> None:
    wanted = ("set-purpose", {"purpose": "number display", "digits": 6})
    four = place("four digits 14.2 common anode red", 20.0, 15.0, array="four")
    tube = place("digit tube on its socket", 8.0, 15.0, array="tube")
    assert found(made(sign, four, tube, wanted))["too-few-digits"].measured == 5
    assert "too-few-digits" not in found(made(sign, four, tube, place(DIGIT, 34.0, 15.0, array="one"), wanted))
    assert "too-few-digits" not in found(made(sign, ("grid", GRID), wanted)), "no digits at all: it is not there yet"


def test_contrast_is_worked_out_by_hand(sign: Project) -> None:
    """12 LEDs of 60 mcd at 20 mA, run at what really flows, one to 49 mm², over purple in the sun: 60,000 lx."""
    finding = found(made(sign, *CASES["hardly-shows"]))["hardly-shows"]
    work = Compiler().compile(made(sign, *CASES["hardly-shows"]))
    candela = 0.06 * work.plan.branches[0].current_a / 0.02
    channels = [int(work.board.materials.mask[at : at + 2], 16) / 255 for at in (0, 2, 4)]
    linear = [value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4 for value in channels]
    back = 60_000 / math.pi * max(0.01, 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2])
    assert finding.measured == pytest.approx((candela / 49e-6 + back) / back, abs=0.01)


def test_a_group_within_a_group_is_in_both(sign: Project) -> None:
    project = made(sign, ("grid", {**GRID, "groups": ("sky/left", "sky/right")}))
    leds = Compiler().on_demand(project).leds
    assert leds[0].groups == ("sky/left", "sky")
    assert leds[-1].groups == ("sky/right", "sky")
