"""Words on a sheet whose letters the shipped face lacks: those are drawn, from an installed font that has them."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from reportlab.pdfgen.canvas import Canvas

from ...lettering import Face, shipped_face, stand_in

_WEIGHTS = {False: ("regular", 400), True: ("semibold", 600)}


@dataclass(frozen=True)
class Run:
    """Letters that follow one another, and the font they are drawn from; None for that of the sheet."""

    letters: str
    face: Face | None

    def wide(self, high: float) -> float:
        """How long they are where the font is so `high`."""
        assert self.face is not None
        return sum(one.advance for one in self.face.shape(self.letters)) * high / self.face.units


@lru_cache(maxsize=4096)
def runs_of(words: str, bold: bool) -> tuple[Run, ...]:
    """Words in runs of one font each. Blanks between letters of another font belong to them, so that those which are read
    from the right keep their order; a letter that no font has stays with the sheet's, which draws a box."""
    weight, number = _WEIGHTS[bold]
    lacking = shipped_face(weight).lacks(words)
    if not lacking:
        return (Run(words, None),)
    faces = {letter: stand_in(letter, (), number) for letter in lacking}
    out: list[Run] = []
    pieces = re.findall(r"\s+|\S", words)
    for piece, after in zip(pieces, [*pieces[1:], ""], strict=True):
        face = faces.get(after if piece.isspace() and out and faces.get(after) is out[-1].face else piece)
        if out and out[-1].face is face:
            out[-1] = Run(out[-1].letters + piece, face)
        else:
            out.append(Run(piece, face))
    return tuple(out)


def draw(canvas: Canvas, x: float, y: float, run: Run, high: float) -> None:
    """Draw a run of another font as outlines, from x on; in the units of the canvas."""
    assert run.face is not None
    scale = high / run.face.units
    path = canvas.beginPath()
    for glyph in run.face.shape(run.letters):
        left, low = x + glyph.x * scale, y + glyph.y * scale
        for start, curves in run.face.outline(glyph.number):
            path.moveTo(left + start[0] * scale, low + start[1] * scale)
            for one, other, end in (curves * scale).tolist():
                path.curveTo(left + one[0], low + one[1], left + other[0], low + other[1], left + end[0], low + end[1])
            path.close()
    canvas.drawPath(path, stroke=0, fill=1, fillMode=1)
