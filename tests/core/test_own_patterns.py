"""Patterns and palettes of one's own: written, brought, changed, refused, saved with the project."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from plates import ROW, plate

from outlined_glow.core.errors import Trouble
from outlined_glow.core.motion import level_at, levels
from outlined_glow.core.motion.edits.patterns import pattern_file, read_patterns
from outlined_glow.core.motion.shades import of_palette, own_colours
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.shipped import entries
from outlined_glow.core.workshop import Compiler

RISE = ("set-formula", {"name": "rise", "level": "min(1, phase * speed)", "keys": "speed=1:0:4", "about": "Slowly."})


def told(project: Project, name: str, values: dict[str, Any], words: str) -> None:
    with pytest.raises(Trouble, match=words):
        apply_edit(project, name, values)


def test_a_formula_is_played_by_strips_and_as_the_pattern(tmp_path: Path) -> None:
    project = plate(ROW, RISE, ("add-strip", {"pattern": "rise", "length_s": 4.0, "period_s": 4.0, "keys": "speed=2"}))
    work = Compiler().compile(project)
    assert level_at(project.motion, work.lamps, 1.0)[:, 0] == pytest.approx([0.5] * 4)
    save(project, tmp_path / "a.oglow")
    again = load(tmp_path / "a.oglow")
    assert again.motion.patterns == project.motion.patterns
    assert level_at(again.motion, Compiler().on_demand(again).lamps, 1.0)[0, 0] == pytest.approx(0.5)
    whole = apply_edit(apply_edit(project, "clear-score", {}), "set-pattern", {"pattern": "rise", "period_s": 2.0})
    assert level_at(whole.motion, Compiler().on_demand(whole).lamps, 1.0)[0, 0] == pytest.approx(0.5)
    # Another formula, with other limits: the strip keeps what it may.
    other = apply_edit(project, "set-formula", {"name": "rise", "keys": "speed=1:0:1.5"})
    assert other.motion.score[0].keys == (("speed", 1.5),)
    told(other, "set-strip", {"number": 1, "keys": "speed=2"}, "between 0 and 1.5")
    assert apply_edit(project, "set-formula", {"name": "rise", "level": "1", "keys": "none"}).motion.score[0].keys == ()
    told(project, "remove-formula", {"name": "rise"}, "played by strip 1")
    told(whole, "remove-formula", {"name": "rise"}, "played by the board")
    freed = apply_edit(project, "set-strip", {"number": 1, "pattern": "steady"})
    assert apply_edit(freed, "remove-formula", {"name": "rise"}).motion.patterns == ()


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"name": "steady", "level": "1"}, "ships already"), ({"name": "a"}, "give level= as well"),
        ({"name": "a", "level": "open('x')"}, "wrong"), ({"name": "a", "level": "__import__"}, "wrong"),
        ({"name": "a", "level": "speed"}, "wrong"), ({"name": "a", "level": "1", "keys": "speed=3"}, "written as width"),
        ({"name": "a", "level": "1", "keys": "speed=3:0:2"}, "between its limits"), ({"name": "a" * 41, "level": "1"}, "40"),
        ({"name": "a", "level": "1", "keys": "phase=0:0:1"}, "cannot be the name"),
        ({"name": "a", "level": "9 ** 9 ** 9 ** 9"}, "wrong"),
    ],
)  # fmt: skip
def test_what_is_no_formula_is_told(values: dict[str, Any], words: str) -> None:
    told(plate(ROW), "set-formula", values, words)


def test_patterns_come_from_files_and_go_into_them() -> None:
    shipped = {name: one for name, one in entries("patterns", "patterns").items() if "level" in one}
    mine = {f"my {name}": {key: value for key, value in one.items() if key != "keys"} | {
        "keys": {key: {part: number[part] for part in ("value", "low", "high")} for key, number in one.get("keys", {}).items()}
    } for name, one in shipped.items()}  # fmt: skip
    file = PictureFile("p.json", json.dumps({"patterns": mine}).encode())
    project = apply_edit(plate(ROW), "add-patterns", {"file": file})
    assert len(project.motion.patterns) == len(mine)
    assert read_patterns(pattern_file(project.motion.patterns), "again.json") == project.motion.patterns
    lamps = Compiler().on_demand(project).lamps
    times = np.linspace(0, 3, 40)
    for name in shipped:
        one, other = (
            apply_edit(project, "set-pattern", {"pattern": which, "period_s": 3.0}).motion for which in (name, f"my {name}")
        )
        assert np.array_equal(levels(one, lamps, times), levels(other, lamps, times)), name
    for data in (b"", b"[]", b'{"patterns": {}}', b'{"patterns": {"a": {"level": 3}}}', b'{"patterns": {"a": {"lvl": "1"}}}',
                 b'{"patterns": {"a": {"level": "1", "keys": {"b": {"value": 1}}}}}', b"\xff", b"[" * 100_000):  # fmt: skip
        told(plate(ROW), "add-patterns", {"file": PictureFile("bad.json", data)}, "bad.json")


def test_a_palette_is_told_by_its_colours() -> None:
    project = plate(ROW, ("add-strip", {"pattern": "steady", "shades": "ff8000, 400010"}))
    [strip] = project.motion.score
    assert own_colours(strip.palette) == ("FF8000", "400010")
    first = of_palette(strip.palette, np.array([0.0]))[0]
    assert first[0] == pytest.approx(1.0, abs=0.01)
    assert first[2] == pytest.approx(0.0, abs=0.01)
    assert apply_edit(project, "set-strip", {"number": 1, "shades": "none"}).motion.score[0].palette == ""
    for wrong, words in (("FF8000", "2 to 8"), ("red blue", "hexadecimal|RRGGBB|six"), (" ".join(["000000"] * 9), "2 to 8")):
        told(project, "set-strip", {"number": 1, "shades": wrong}, words)
    told(project, "set-strip", {"number": 1, "pattern": "unheard of"}, "no pattern")
