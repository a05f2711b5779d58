"""The light map against sums written here, and what the command line tells of the lights."""

from __future__ import annotations

import csv
import io
import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from scipy.integrate import dblquad
from shapely.geometry import box

from outlined_glow.cli.main import run
from outlined_glow.core.board.light_map import illuminance, light_map, plane_for
from outlined_glow.core.board.model import LightSpot
from outlined_glow.core.errors import Trouble
from outlined_glow.core.parts import beam_exponent, emitter
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.storage import save
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.light_facts import lit_region


def lit(sign: Project, **grid: Any) -> Any:
    values = {"x_mm": 20.0, "y_mm": 15.0, "rows": 3, "columns": 4, "pitch_x_mm": 7.0, "pitch_y_mm": 7.0, **grid}
    return Compiler().compile(apply_edit(sign, "grid", values)).board


def direct(spots: tuple[LightSpot, ...], x: float, y: float, plane: float) -> float:
    """Lux by cosines and square metres, written out: a half at 60 degrees is the first power of the cosine."""
    total = 0.0
    for spot in spots:
        slant = math.sqrt((x - spot.x) ** 2 + (y - spot.y) ** 2 + plane**2) / 1000
        cosine = plane / 1000 / slant
        total += spot.mcd / 1000 * cosine * cosine / slant**2
    return total


def test_the_map_is_the_sum_of_its_lamps(sign: Project) -> None:
    board = lit(sign)
    region = box(2, 2, 38, 28)
    for plane in (2.0, 8.0, 30.0):
        made = light_map(board, plane, region)
        row, column = np.unravel_index(int(made.lux.argmax()), made.lux.shape)
        for r, c in ((0, 0), (row, column), (made.lux.shape[0] // 2, 7)):
            there = direct(board.lights, made.left + c * made.step_mm, made.top - r * made.step_mm, plane)
            assert made.lux[r, c] == pytest.approx(there, rel=1e-6)
        mean = dblquad(lambda y, x, plane=plane: direct(board.lights, x, y, plane), 2, 38, 2, 28, epsrel=1e-3)[0] / (36 * 26)
        assert made.mean == pytest.approx(mean, rel=0.01)
        tried = [direct(board.lights, x, y, plane) for x in np.linspace(2, 38, 60) for y in np.linspace(2, 28, 60)]
        assert made.least == pytest.approx(min(tried), rel=0.01)
        assert made.uniformity == pytest.approx(min(tried) / mean, rel=0.01)
        assert direct(board.lights, *made.worst, plane) == pytest.approx(made.least, rel=1e-6)


def test_a_side_on_led_lights_what_lies_before_it(sign: Project) -> None:
    """It looks along its own −y: on a plane over the board by the cosines at both ends, and nothing behind it."""
    for turn, side in ((0.0, "front"), (90.0, "front"), (30.0, "back")):
        values = {"x_mm": 20.0, "y_mm": 15.0, "emitter": "side-on red", "angle_deg": turn, "side": side}
        board = Compiler().compile(apply_edit(sign, "single", values)).board
        [spot] = board.lights
        [part] = [one for one in board.parts if one.ref == "D1"]
        axis = np.array(part.at(0, -1)) - (part.x, part.y)
        for way in (axis * 9, axis * 4 + axis[::-1] * (1, -1) * 3, -axis * 5):
            place = np.append(way, 6.0) / 1000
            length = np.linalg.norm(place)
            told = spot.mcd / 1000 * max(0.0, axis @ place[:2] / length) * (place[2] / length) / length**2
            [lux] = illuminance((spot,), np.array([[spot.x, spot.y]]) + way, 6.0)
            assert lux == pytest.approx(told, rel=1e-6)


def test_an_even_light_begins_where_it_says(sign: Project) -> None:
    board = lit(sign)
    region = box(10, 8, 30, 22)
    plane = plane_for(board, region)
    assert plane is not None
    assert light_map(board, plane, region).uniformity >= 0.69
    assert light_map(board, plane * 0.9, region).uniformity < 0.7
    assert plane_for(board, region, 1.0001) is None


def test_a_narrow_beam_has_the_flux_of_a_wide_one() -> None:
    """All light on a plane is I0·2π/(m + 2) lumens for a flat source, whatever the exponent is: sum it up in rings."""
    assert beam_exponent(60) == pytest.approx(1)
    reach = np.linspace(0, 4000, 400_001)
    lumens = []
    for name in ("0805 amber", "3 mm diffused amber", "5 mm clear amber"):
        one, light = emitter(name), emitter(name).lights[0]
        spot = LightSpot(1, "", 0, 0, "front", "g", one, 0, light.light, light.mcd, 0.02, False)
        lux = illuminance((spot,), np.column_stack((reach, 0 * reach)), 10.0)
        # On a sphere a beam of cos^m has 2π/(m + 1); what falls on a plane is told of the whole of it.
        lumens.append(np.trapezoid(lux * 2 * np.pi * reach / 1e6, reach))
        assert lumens[-1] == pytest.approx(2 * math.pi * light.mcd / 1000 / (beam_exponent(one.half_angle_deg) + 1), rel=0.02)
    assert lumens == pytest.approx([0.22 * math.pi] * 3, rel=0.02), "220 mcd by the cosine, whatever the lens"


def test_what_cannot_be_mapped_is_said(sign: Project) -> None:
    work = Compiler().compile(apply_edit(sign, "set-appearance", {"colour": "B5A766", "appearance": "mask"}))
    with pytest.raises(Trouble, match="No LED shines to the front"):
        light_map(work.board, 5, box(0, 0, 9, 9))
    for over, words in (("moon", "no “moon”"), ("window", "no window"), ("lights", "no LEDs")):
        with pytest.raises(Trouble, match=words):
            lit_region(work, over)


def test_lights_and_their_map_from_the_command_line(sign: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    project = apply_edit(sign, "grid", {"x_mm": 20.0, "y_mm": 15.0, "rows": 2, "columns": 3})
    project = apply_edit(apply_edit(project, "skip", {"array": "grid 1", "place": (2,)}), "order", {"how": "serpentine"})
    path = tmp_path / "p.oglow"
    save(project, path)
    assert run(["lights", str(path), "--json"]) == 0
    leds = json.loads(capsys.readouterr().out)["leds"]
    assert [led["index"] for led in leds] == [1, 3, 6, 5, 4]
    assert [led["chain"] for led in leds] == [1, 2, 3, 4, 5]
    assert run(["lights", str(path), "--csv"]) == 0
    table = list(csv.DictReader(io.StringIO(capsys.readouterr().out)))
    assert [int(row["index"]) for row in table] == [1, 3, 6, 5, 4]
    assert all(0 < float(row["u"]) < 1 and 0 < float(row["v"]) < 1 for row in table)
    out = tmp_path / "map.png"
    assert run(["light-map", str(path), "--plane", "8mm", "over=lights", "-o", str(out), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["uniformity"] == pytest.approx(told["lux"]["min"] / told["lux"]["mean"], abs=1e-3)
    with Image.open(out) as picture:
        assert picture.size[0] > 500
    assert run(["light-map", str(path), "--plane", "8"]) == 2
    assert "unit" in capsys.readouterr().err
    assert run(["light-map", str(path), "over=night"]) == 2
    assert "board, lights, window" in capsys.readouterr().err
