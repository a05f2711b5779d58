"""Letters of a matrix: fonts of whole pixels and painted letters; text of any script, set from outlines."""

from __future__ import annotations

import itertools
import string
from dataclasses import replace
from importlib import resources

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageDraw, ImageFont
from plates import plate

from outlined_glow.core.errors import Trouble
from outlined_glow.core.lettering.faces import shipped_face
from outlined_glow.core.lettering.installed import installed_fonts
from outlined_glow.core.motion import levels
from outlined_glow.core.motion.pixel_font import font_for, glyph_of, painted_bits, pixel_fonts
from outlined_glow.core.motion.set_font import OUTLINES, SetFont, runs_rightward
from outlined_glow.core.motion.written import matrix
from outlined_glow.core.project import Glyph, apply_edit
from outlined_glow.core.workshop import Compiler

FONTS = tuple(pixel_fonts())
LETTERS = string.ascii_letters + "ÄÖÜäöüßÅÇçñéŁłĄęŠž" + "ΑΒΓΔΕΖΗΘΙΚΛΜΝΞΟΠΡΣΤΥΦΧΨΩ" + "АБВГДЕЖЗИЙКЛМНОПРСТУФХЦЧШЫЬЭЯ"
SMALL = "αβγδεζηθικλμνξοπρςστυφχψωάέήίόύώ" + "абвгдежзийклмнопрстуфхцчшщъыьэюяіїєґё"
DIGITS = "٠١٢٣٤٥٦٧٨٩۰۱۲۳۴۵۶۷۸۹०१२३४५६७८९〇一二三四五六七八九"


def test_what_each_has_letters_for() -> None:
    for name in FONTS:
        missing = pixel_fonts()[name].lacks(LETTERS)
        assert missing == "" or (name == "small-3x5" and len(missing) < 8), (name, missing)
    for name in FONTS[1:]:
        font = pixel_fonts()[name]
        assert font.lacks(LETTERS + SMALL + DIGITS) == ""
        assert all(bits.shape[0] == font.height for bits, _ in font.glyphs.values())
        for script in (DIGITS[:10], DIGITS[20:30], DIGITS[30:]):
            looks = {font.glyphs[one][0].tobytes() + bytes(font.glyphs[one][0].shape) for one in script}
            assert len(looks) == 10, "no two digits of a script look alike"
    tall = pixel_fonts()["tall-7x11"]
    assert tall.lacks("⠼⠁⠃⠉𝍠𝍡𝍢𝍣𝍤𝍥𝍦𝍧𝍨") == ""
    assert [int(tall.glyphs[chr(0x2800 + cell)][0].sum()) for cell in (1, 3, 63)] == [4, 8, 24]
    assert not tall.lacks("Éğő")


@pytest.mark.parametrize("name", FONTS)
def test_kerned_letters_come_nearer_and_never_touch(name: str) -> None:
    font = pixel_fonts()[name]
    nearer = 0
    for one, other in itertools.product(string.ascii_letters + ".,:-0179", repeat=2):
        left, step = font.glyphs[one]
        right, _ = font.glyphs[other]
        by = font.kern(one, other)
        assert 0 <= by <= max(1, font.height // 5)
        if one.isdigit() or other.isdigit():
            assert by == 0, "figures that change keep their places"
        if not by:
            continue
        nearer += 1
        a = {(x, y) for y, x in np.argwhere(left).tolist()}
        b = {(x + step - by, y) for y, x in np.argwhere(right).tolist()}
        assert all(max(abs(x - u), abs(y - v)) > 1 for x, y in a for u, v in b), (one, other)
    assert nearer > 20
    assert font.line("LT").shape[1] < font.line("HH").shape[1]


@given(st.text(alphabet="aV1♥★L ", max_size=8))
def test_painted_letters_stand_among_those_of_the_font(text: str) -> None:
    heart = Glyph(letter="♥", rows=(".#.#.", "#####", ".###.", "..#.."))
    star = Glyph(letter="★", rows=tuple("#" * 9 for _ in range(12)))
    for name in ("plain-5x7", "outlines"):
        font = font_for(name, 7, (heart, star))
        bare = font_for(name, 7)
        line = font.line(text)
        assert line.shape[0] == font.height == bare.height
        plain = [part for part in text.replace("★", "♥").split("♥") if part and bare.line(part).shape[1]]
        own = text.count("♥") * int(painted_bits(heart, font.height).sum()) + text.count("★") * int(
            painted_bits(star, font.height).sum()
        )
        assert line.sum() == own + sum(int(bare.line(part).sum()) for part in plain)
        assert not set(font.lacks(text)) & {"♥", "★"}


def test_a_painted_letter_is_seen_on_a_matrix_and_told_no_longer() -> None:
    matrix = ("grid", {"array": "m", "x_mm": 4.0, "y_mm": 4.0, "rows": 7, "columns": 9, "pitch_x_mm": 4.0, "pitch_y_mm": 4.0})
    words = ("add-strip", {"pattern": "words", "text": "♥", "font": "plain-5x7", "keys": "speed=0"})
    large = ("set-shape", {"base": "rectangle", "width_mm": 60.0, "height_mm": 50.0})
    project = plate(large, matrix, ("drive", {"method": "scan", "supply": "usb", "current_a": 0.001}), words)
    compiler = Compiler()
    assert "letters-lacking" in {one.code for one in compiler.findings(compiler.compile(project))}
    painted = apply_edit(project, "set-glyph", {"letter": "♥", "rows": ".#.#. ##### ##### .###. ..#.."})
    work = compiler.compile(painted)
    assert "letters-lacking" not in {one.code for one in compiler.findings(work)}
    frame = levels(painted.motion, work.lamps, [0.5])[0, :, 0].reshape(7, 9)
    lit = frame if work.lamps.places[0, 1] > work.lamps.places[-1, 1] else frame[::-1]
    drawn = ["".join("#" if level > 0 else "." for level in row) for row in lit.tolist()]
    assert drawn == ["." * 9] * 2 + ["...#.#...", "..#####..", "..#####..", "...###...", "....#...."]


def test_what_is_no_letter_is_refused() -> None:
    bare = plate()
    high = "up to 32 rows"
    for letter, rows, said in (("ab", "#", "One letter"), (" ", "#", "letter must be"), ("a", "", "rows must be"),
                               ("a", "#x#", high), ("a", "#" * 33, high), ("a", " ".join("#" * 33), high)):  # fmt: skip
        with pytest.raises(Trouble, match=said):
            apply_edit(bare, "set-glyph", {"letter": letter, "rows": rows})
    with pytest.raises(Trouble, match="there are none"):
        apply_edit(bare, "remove-glyph", {"letter": "a"})
    ragged = apply_edit(bare, "set-glyph", {"letter": "a", "rows": "# ###"})
    assert ragged.motion.glyphs[0].rows == ("#..", "###")
    assert glyph_of("L", "plain-5x7", 7).rows[-1] == "#####"
    assert glyph_of("水", "plain-5x7", 7).rows == (".....",) * 7
    assert replace(font_for("", 7, ragged.motion.glyphs), painted=()).line("a").any()


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
