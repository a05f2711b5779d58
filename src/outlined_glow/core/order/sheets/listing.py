"""Lists on sheets: rows in columns, page after page, each with a box to tick where it is something to do."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from .page import A4, MARGIN_MM, Document, lines_of, pen, text

_BOX_MM, _BESIDE_MM = 2.6, 4.6
#: A row (its words, and whether it heads those that follow).
Row = tuple[str, bool]


def listing(
    sheet: Document, rows: Sequence[Row], head: Callable[[Canvas], float], columns: int, high_mm: float, tick: bool = True
) -> None:
    """The rows on as many pages as they need. `head` draws the head of each and tells where it ends. Words that are too long
    for their column go on below."""
    wide = (A4[0] - 2 * MARGIN_MM) / columns
    lines = []
    for words, heads in rows:
        indent = 0.0 if heads else _BESIDE_MM
        some = lines_of(words, high_mm, wide - indent - 2.0, bold=heads)
        lines += [(one, heads, indent, not at) for at, one in enumerate(some)]
    at, step = 0, 1.5 * high_mm
    while at < len(lines):
        canvas = sheet.page(A4)
        top = head(canvas)
        for column in range(columns):
            left, y = MARGIN_MM + column * wide, top
            while at < len(lines) and y > MARGIN_MM + step:
                words, heads, indent, first = lines[at]
                begun = heads and first
                if begun and y < MARGIN_MM + 4 * step:
                    break  # no heading alone at the foot of a column
                y -= step * (1.5 if begun and y < top else 1.0)
                text(canvas, left + indent, y, words, high_mm, bold=heads)
                if tick and first and not heads:
                    pen(canvas, 0.15, 0.3)
                    canvas.rect(left * mm, (y - 0.3) * mm, _BOX_MM * mm, _BOX_MM * mm)
                at += 1
        sheet.end_page()
