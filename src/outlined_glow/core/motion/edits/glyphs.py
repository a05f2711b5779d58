"""The edits of letters that are painted pixel by pixel."""

from __future__ import annotations

import re
import unicodedata

import msgspec

from ...errors import Trouble
from ...project import Glyph, Param, Project, edit
from ...text_safety import printable, short
from ..glyph_cells import MOST

_MOST = 500


@edit("set-glyph", "Letter {letter}", letter=Param("text", optional=False), rows=Param("text", optional=False))
def set_glyph(project: Project, *, letter: str, rows: str) -> Project:
    """Paint a letter: its rows from the top, with a space between them, # lit and . dark: .#.#. ##### .###. ..#.. is a heart.
    Every strip of words that has it shows it, on the lowest row of its font."""
    letter = unicodedata.normalize("NFC", letter)
    if len(letter) != 1 or not printable(letter).strip():
        raise Trouble(f"One letter is painted at a time, not “{short(letter)}”.")
    lines = tuple(rows.split())
    if not 1 <= len(lines) <= MOST or any(not re.fullmatch(f"[#.]{{1,{MOST}}}", line) for line in lines):
        raise Trouble(f"A letter is up to {MOST} rows of up to {MOST} signs, # lit and . dark, with a space between the rows.")
    wide = max(map(len, lines))
    kept = tuple(one for one in project.motion.glyphs if one.letter != letter)
    if len(kept) >= _MOST:
        raise Trouble(f"A project has at most {_MOST} painted letters; remove some.")
    made = Glyph(letter=letter, rows=tuple(line.ljust(wide, ".") for line in lines))
    return _with(project, (*kept, made))


@edit("remove-glyph", "No painted letter {letter}", letter=Param("text", optional=False))
def remove_glyph(project: Project, *, letter: str) -> Project:
    """Remove a painted letter: it is that of the font again."""
    kept = tuple(one for one in project.motion.glyphs if one.letter != letter)
    if len(kept) == len(project.motion.glyphs):
        there = " ".join(one.letter for one in kept) or "none"
        raise Trouble(f"There is no painted letter “{short(letter)}”; there are {there}.")
    return _with(project, kept)


def _with(project: Project, glyphs: tuple[Glyph, ...]) -> Project:
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(project.motion, glyphs=glyphs))
