"""A sheet of the leads that go off the board: which strand is soldered where, seen from behind, and what each is."""

from __future__ import annotations

from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from shapely import affinity

from ...board import Board
from .page import A4, MARGIN_MM, Document, line, pen, region, text

_LINE_MM, _HEAD_MM = 4.6, 16.0


def leads_sheet(board: Board, leads: Sequence[tuple[str, Sequence[str]]]) -> bytes:
    """The sheet: for each lead its part and its sentences."""
    sheet = Document(f"{board.name}: leads")
    rows = [(f"{number}. {one}" if not at else one, not at) for number, (_, some) in enumerate(leads, 1)
            for at, one in enumerate(some)]  # fmt: skip
    first = True
    while rows or first:
        canvas = sheet.page(A4)
        top = A4[1] - MARGIN_MM
        text(canvas, MARGIN_MM, top - 5, f"{board.name}: leads off the board", 5, bold=True)
        y = top - _HEAD_MM
        if first:
            y = _picture(canvas, board, [part for part, _ in leads], y)
        while rows and y > MARGIN_MM + _LINE_MM:
            words, head = rows.pop(0)
            y -= _LINE_MM * (1.4 if head else 1.0)
            text(canvas, MARGIN_MM + (0 if head else 5), y, words, 3.2, bold=head)
        sheet.end_page()
        first = False
    return sheet.data()


def _picture(canvas: Canvas, board: Board, refs: Sequence[str], top: float) -> float:
    """The board seen from behind, with the lands of the leads; where it ends."""
    wide = min(A4[0] - 2 * MARGIN_MM, board.size[0])
    scale = min(wide / board.size[0], 110.0 / board.size[1])
    left, bottom = (A4[0] - board.size[0] * scale) / 2, top - 8 - board.size[1] * scale
    text(canvas, MARGIN_MM, top - 2, f"seen from behind{'' if scale == 1 else f', at {scale:.0%}'}; pin 1 is filled", 3.0)
    canvas.saveState()
    canvas.translate(left * mm, bottom * mm)
    canvas.scale(scale, scale)
    canvas.translate(board.size[0] * mm, 0)
    pen(canvas, 0.15, 0.4)
    region(canvas, affinity.scale(board.outline, xfact=-1, origin=(0, 0)))
    for number, ref in enumerate(refs, 1):
        part = next(one for one in board.parts if one.ref == ref)
        pen(canvas, 0.2)
        for pad in part.pads():
            fill = 0.6 if pad.pin == part.part.pins[0].number else None
            region(canvas, affinity.scale(pad.polygon, xfact=-1, origin=(0, 0)), fill)
            text(canvas, -pad.x, pad.y + pad.polygon.bounds[3] - pad.y + 0.8, pad.pin, 2.4, middle=True)
        # A line from the land that is nearest a side edge to there, and the number of the lead.
        left = part.x > board.size[0] / 2
        pad = (max if left else min)(part.pads(), key=lambda one: one.x)
        edge = -board.size[0] - 4.0 if left else 4.0
        line(canvas, -pad.polygon.bounds[2 if left else 0], pad.y, edge, pad.y)
        text(canvas, edge + (-4 if left else 1), pad.y - 1, str(number), 3.2, bold=True)
    canvas.restoreState()
    return bottom - 4
