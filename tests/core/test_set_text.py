"""Text of any script on a matrix, set from outlines: against another renderer, kerned, joined, from right to left."""

from __future__ import annotations

from importlib import resources

import numpy as np
import pytest
from PIL import Image, ImageDraw, ImageFont
from plates import plate

from outlined_glow.core.errors import Trouble
from outlined_glow.core.lettering.faces import shipped_face
from outlined_glow.core.lettering.installed import installed_fonts
from outlined_glow.core.motion import levels
from outlined_glow.core.motion.pixel_font import font_for
from outlined_glow.core.motion.set_font import OUTLINES, SetFont, runs_rightward
from outlined_glow.core.motion.written import matrix
from outlined_glow.core.project import apply_edit
from outlined_glow.core.workshop import Compiler

LARGE = ("set-shape", {"base": "rectangle", "width_mm": 130.0, "height_mm": 70.0})
MATRIX = ("grid", {"array": "m", "x_mm": 22.0, "y_mm": 16.0, "rows": 11, "columns": 24, "pitch_x_mm": 4.0, "pitch_y_mm": 4.0})
ARABIC = [one for one in installed_fonts() if one.has("س") and one.has("ל")]


@pytest.mark.parametrize("text", ["H", "Tide 42", "AVATAR", "gypsy"])
def test_letters_are_those_of_another_renderer(text: str) -> None:
    height, face = 48, shipped_face("semibold")
    mine = SetFont(OUTLINES, height).line(text)
    hangs = any(letter in "gypsq,;" for letter in text)
    per_em = height / ((face.caps - (face.descent if hangs else 0.0)) / face.units)
    data = resources.files("outlined_glow.data.fonts").joinpath("SourceSans3-Semibold.ttf")
    with resources.as_file(data) as path:
        font = ImageFont.truetype(str(path), round(per_em * 4))
    big = Image.new("L", (mine.shape[1] * 4, height * 4))
    base = height * 4 if not hangs else height * 4 + round(face.descent / face.units * per_em * 4)
    ImageDraw.Draw(big).text((0, base), text, 255, font, anchor="ls")
    theirs = np.asarray(big.resize((mine.shape[1], height), Image.Resampling.BOX)) > 0.42 * 255
    assert (mine & theirs).sum() / (mine | theirs).sum() > 0.93


def test_height_kerning_and_what_is_lacking() -> None:
    font = font_for(OUTLINES, 11)
    assert font.line("H").shape[0] == 11
    assert font.line("H")[0].any()
    assert font.line("H")[-1].any(), "capitals reach from top to bottom"
    assert not font.line("x")[0].any()
    large = SetFont(OUTLINES, 60)
    assert large.line("AV").shape[1] < large.line("A").shape[1] + large.line("V").shape[1], "they are kerned"
    assert font.line("").shape == (11, 0)
    assert font.lacks("abc") == ""
    assert font.lacks("\U000e0fff") != ""


@pytest.mark.skipif(not ARABIC, reason="no font with these scripts is installed")
def test_what_is_read_from_right_to_left_is_joined_and_runs_to_the_right() -> None:
    assert runs_rightward("سلام")
    assert runs_rightward("12 שלום")
    assert not runs_rightward("tide 12")
    font = SetFont(OUTLINES, 40)
    joined, apart = font.line("سس"), font.line("س")
    assert joined.shape[1] < 2 * apart.shape[1], "a letter within a word has another form"
    project = plate(LARGE, MATRIX, ("add-strip", {"pattern": "words", "text": "שלום", "font": OUTLINES, "keys": "speed=8",
                                                  "length_s": 30.0}))  # fmt: skip
    lamps = Compiler().on_demand(project).lamps
    _, column, _, columns, _ = matrix(lamps, np.arange(lamps.count))
    made = levels(project.motion, lamps, [0.4, 0.6, 0.9])[:, :, 0]
    first, second, third = ({int(one) for one in column[row > 0]} for row in made)
    assert max(first) < max(second) < max(third) < columns / 2, "it comes in at the left"
    hello = apply_edit(project, "set-strip", {"number": 1, "text": "hello"})
    shown = levels(hello.motion, lamps, [0.9])[0, :, 0]
    assert min(int(one) for one in column[shown > 0]) > columns / 2


def test_a_family_must_be_here_and_one_that_is_not_is_stood_in_for() -> None:
    project = plate(LARGE, MATRIX, ("add-strip", {"pattern": "words", "text": "hello"}))
    with pytest.raises(Trouble, match="families that are installed"):
        apply_edit(project, "set-strip", {"number": 1, "font": "No Such Family"})
    assert SetFont("No Such Family", 11).line("hello").any(), "a project from elsewhere is shown all the same"
    for one in [one for one in installed_fonts() if one.has("h")][:1]:
        named = apply_edit(project, "set-strip", {"number": 1, "font": next(iter(one.families))})
        assert levels(named.motion, Compiler().on_demand(named).lamps, [1.2]).any()
