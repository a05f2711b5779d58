"""Fonts of whole pixels (BDF 2.1): those that ship are found by name."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np
from numpy.typing import NDArray

from ..errors import Trouble
from ..project import Glyph
from ..text_safety import short
from .set_font import OUTLINES, SetFont

Bits = NDArray[np.bool_]
_MOST_GLYPHS, _MOST_SIDE = 20_000, 64
_FONTS = "outlined_glow.data.fonts.pixel"


@dataclass(frozen=True, eq=False)
class PixelFont:
    """Letters as pixels (height, width), and how far each moves on."""

    name: str
    height: int
    glyphs: dict[str, tuple[Bits, int]]

    def line(self, text: str) -> Bits:
        """A line of text (height, width); a letter that the font lacks is a frame."""
        parts = [self.glyphs.get(letter, self._frame) for letter in text]
        out = np.zeros((self.height, sum(step for _, step in parts)), bool)
        at = 0
        for number, (bits, step) in enumerate(parts):
            wide = min(bits.shape[1], out.shape[1] - at)
            out[:, at : at + wide] |= bits[:, :wide]
            at += step - (self.kern(*text[number : number + 2]) if number + 1 < len(parts) else 0)
        # The gap behind the last letter is none.
        return out[:, : max(0, at - 1)] if parts else out

    @cache  # noqa: B019  (fonts stay as long as the program runs)
    def kern(self, one: str, other: str) -> int:
        """How many pixels nearer than usual two letters stand: as far as no pixel of one touches the other, not even aslant.
        Digits keep their places, for they change."""
        (left, step), (right, _) = (self.glyphs.get(letter, self._frame) for letter in (one, other))
        if one.isdigit() or other.isdigit() or not left.any() or not right.any():
            return 0
        away = self.height + left.shape[1] + right.shape[1]
        behind = np.where(left.any(1), left[:, ::-1].argmax(1), away) + step - left.shape[1]
        before = np.where(right.any(1), right.argmax(1), away)
        # The nearest of a row and of those above and below it.
        padded = np.pad(before, 1, constant_values=away)
        near = np.minimum(np.minimum(padded[:-2], padded[1:-1]), padded[2:])
        return int(min(max(0, (behind + near).min() - 1), max(1, self.height // 5)))

    def lacks(self, text: str) -> str:
        """The letters of a text that it has not, each once."""
        return "".join(dict.fromkeys(letter for letter in text if letter not in self.glyphs))

    @property
    def _frame(self) -> tuple[Bits, int]:
        bits = np.ones((self.height, 3), bool)
        bits[1:-1, 1] = False
        return bits, 4


def read_bdf(name: str, text: str) -> PixelFont:
    """A font from a BDF file. `Trouble` tells the line that is wrong."""
    lines = text.splitlines()
    if not lines or not lines[0].startswith("STARTFONT"):
        raise Trouble(f"“{short(name)}” is no BDF font: it does not begin with STARTFONT.")
    box, at = (0, 0, 0, 0), 0
    glyphs: dict[str, tuple[Bits, int]] = {}
    code, step, own = -1, 0, (0, 0, 0, 0)
    while at < len(lines):
        word, _, rest = lines[at].strip().partition(" ")
        at += 1
        try:
            if word == "FONTBOUNDINGBOX":
                box = _four(rest)
            elif word == "ENCODING":
                code = int(rest.split()[0])
            elif word == "DWIDTH":
                step = int(rest.split()[0])
            elif word == "BBX":
                own = _four(rest)
            elif word == "BITMAP":
                bits = _bitmap(lines[at : at + own[1]], own, box)
                at += own[1]
                if 0 <= code <= 0x10FFFF and len(glyphs) < _MOST_GLYPHS:
                    glyphs[chr(code)] = (bits, max(1, min(step, _MOST_SIDE)))
        except (ValueError, IndexError) as error:
            raise Trouble(f"“{short(name)}” is no BDF font: line {at} cannot be read.") from error
    if not glyphs:
        raise Trouble(f"“{short(name)}” is a BDF font without letters.")
    return PixelFont(name, box[1], glyphs)


def _four(text: str) -> tuple[int, int, int, int]:
    wide, high, x, y = (int(one) for one in text.split()[:4])
    if not (0 <= wide <= _MOST_SIDE and 0 <= high <= _MOST_SIDE and abs(x) <= _MOST_SIDE and abs(y) <= _MOST_SIDE):
        raise ValueError("out of range")
    return wide, high, x, y


def _bitmap(rows: list[str], own: tuple[int, int, int, int], box: tuple[int, int, int, int]) -> Bits:
    """A letter in the height of the font: it stands on the base line, which lies as its box and that of the font say."""
    wide, high, x, y = own
    if len(rows) < high:
        raise ValueError("rows are missing")
    out = np.zeros((box[1], max(0, x) + wide), bool)
    top = box[1] + box[3] - (y + high)
    for row, text in enumerate(rows):
        digits = text.strip()
        bits = (
            np.array([letter == "1" for letter in f"{int(digits, 16):0{4 * len(digits)}b}"], bool)
            if digits
            else np.zeros(0, bool)
        )
        if 0 <= top + row < box[1]:
            there = out[top + row, max(0, x) :]
            there[: min(wide, len(bits))] = bits[:wide]
    return out


@cache
def _heights() -> dict[str, int]:
    """The fonts that ship, by name, and how high each is, the smallest first: told by the box of each, for to read all their
    letters takes long."""
    found = {}
    for one in resources.files(_FONTS).iterdir():
        if one.name.endswith(".bdf"):
            with one.open(encoding="utf-8") as lines:
                box = next(line for line in lines if line.startswith("FONTBOUNDINGBOX"))
            found[one.name.removesuffix(".bdf")] = int(box.split()[2])
    return dict(sorted(found.items(), key=lambda item: (item[1], item[0])))


@cache
def pixel_font(name: str) -> PixelFont:
    """The font of that name that ships."""
    return read_bdf(name, resources.files(_FONTS).joinpath(f"{name}.bdf").read_text("utf-8"))


def pixel_fonts() -> dict[str, PixelFont]:
    """The fonts that ship, by name, the smallest first."""
    return {name: pixel_font(name) for name in _heights()}


def font_names() -> tuple[str, ...]:
    """The names of the fonts that ship: those of whole pixels, and the one that is set from its outlines."""
    return (*_heights(), OUTLINES)


@dataclass(frozen=True)
class Lettered:
    """A font with letters that were painted, which stand on its lowest row and go before its own."""

    font: PixelFont | SetFont
    painted: tuple[Glyph, ...]

    @property
    def name(self) -> str:
        """That of the font."""
        return self.font.name

    @property
    def height(self) -> int:
        """That of the font."""
        return self.font.height

    def line(self, text: str) -> Bits:
        """A line of text (height, width): what lies between painted letters is set as the font does."""
        own = {one.letter: painted_bits(one, self.height) for one in self.painted}
        parts: list[Bits] = []
        for painted, letters in itertools.groupby(text, own.__contains__):
            run = "".join(letters)
            parts += [own[letter] for letter in run] if painted else [self.font.line(run)]
        gap = np.zeros((self.height, 1), bool)
        spaced = [bits for part in parts if part.shape[1] for bits in (part, gap)]
        return np.concatenate(spaced[:-1], axis=1) if spaced else np.zeros((self.height, 0), bool)

    def lacks(self, text: str) -> str:
        """The letters of a text that it has not, each once."""
        return self.font.lacks("".join(letter for letter in text if letter not in {one.letter for one in self.painted}))


def painted_bits(one: Glyph, height: int) -> Bits:
    """A painted letter in so many rows, on the lowest; what is higher is cut off."""
    wide = max(map(len, one.rows))
    bits = np.array([[sign == "#" for sign in row.ljust(wide, ".")] for row in one.rows], bool)
    out = np.zeros((height, wide), bool)
    high = min(height, len(bits))
    out[height - high :] = bits[len(bits) - high :]
    return out


def glyph_of(letter: str, name: str, rows: int) -> Glyph:
    """A letter as a font has it, to be painted over; empty where the font lacks it."""
    font = font_for(name, rows)
    bits = np.zeros((rows, 5), bool) if font.lacks(letter) else font.line(letter)
    bits = bits if bits.shape[1] else np.zeros((font.height, 3), bool)
    return Glyph(letter=letter, rows=tuple("".join("#" if lit else "." for lit in row) for row in bits.tolist()))


def font_for(name: str, rows: int, painted: tuple[Glyph, ...] = ()) -> PixelFont | SetFont | Lettered:
    """The font of that name: one that ships, or a family set at the height of so many rows; of "" the tallest that ships and
    has room, else the smallest; with letters that were `painted`."""
    if painted:
        return Lettered(_font_for(name, rows), painted)
    return _font_for(name, rows)


def _font_for(name: str, rows: int) -> PixelFont | SetFont:
    heights = _heights()
    if name:
        return pixel_font(name) if name in heights else SetFont(name, rows)
    fitting = [name for name, height in heights.items() if height <= rows]
    return pixel_font(fitting[-1] if fitting else next(iter(heights)))
