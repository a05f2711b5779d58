"""Fonts of whole pixels (BDF 2.1): those that ship are found by name."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np
from numpy.typing import NDArray

from ..errors import Trouble
from ..text_safety import short
from .set_font import OUTLINES, SetFont

Bits = NDArray[np.bool_]
_MOST_GLYPHS, _MOST_SIDE = 20_000, 64


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
        for bits, step in parts:
            wide = min(bits.shape[1], out.shape[1] - at)
            out[:, at : at + wide] |= bits[:, :wide]
            at += step
        # The gap behind the last letter is none.
        return out[:, : max(0, at - 1)] if parts else out

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
def pixel_fonts() -> dict[str, PixelFont]:
    """The fonts that ship, by name, the smallest first."""
    found = [one for one in resources.files("outlined_glow.data.fonts.pixel").iterdir() if one.name.endswith(".bdf")]
    read = [read_bdf(one.name.removesuffix(".bdf"), one.read_text("utf-8")) for one in found]
    return {one.name: one for one in sorted(read, key=lambda one: (one.height, one.name))}


def font_names() -> tuple[str, ...]:
    """The names of the fonts that ship: those of whole pixels, and the one that is set from its outlines."""
    return (*pixel_fonts(), OUTLINES)


def font_for(name: str, rows: int) -> PixelFont | SetFont:
    """The font of that name: one that ships, or a family set at the height of so many rows; of "" the tallest that ships and
    has room, else the smallest."""
    fonts = pixel_fonts()
    if name:
        return fonts.get(name) or SetFont(name, rows)
    fitting = [one for one in fonts.values() if one.height <= rows]
    return fitting[-1] if fitting else next(iter(fonts.values()))
