"""A sheet of the leads that go off the board: which strand is soldered where, seen from behind, and what each is."""

from __future__ import annotations

from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from shapely import affinity
from shapely.geometry.base import BaseGeometry

from ...board import Board
from .listing import listing
from .names import Names
from .page import A4, MARGIN_MM, Document, head, line, pen, region

#: Room beside the board for the number of a lead.
_NUMBER_MM = 10.0
#: The names of pins and the numbers of leads.
_PIN_MM = 2.0
#: How much larger a small board is drawn, and how high at most, mm.
_LARGEST, _HIGH_MM = 3.0, 110.0


def leads_sheet(board: Board, leads: Sequence[tuple[str, Sequence[str]]]) -> bytes:
    """The sheet: for each lead its part and its sentences."""
    sheet = Document(f"{board.name}: leads")
    rows = [
        (one if at else f"{number}. {one}", not at) for number, (_, some) in enumerate(leads, 1) for at, one in enumerate(some)
    ]
    refs = [part for part, _ in leads]
    begun: list[Canvas] = []

    def title(canvas: Canvas) -> float:
        told = f"The board is seen from behind, at {100 * _scale_of(board):.0f} % of its size. Pin 1 of each lead is filled."
        foot = head(canvas, A4, f"{board.name}: leads off the board", told)
        if not begun:  # the picture stands on the first page
            begun.append(canvas)
            foot = _picture(canvas, board, refs, foot)
        return foot

    listing(sheet, rows, title, 1, 3.2, tick=False)
    return sheet.data()


def _scale_of(board: Board) -> float:
    return min(_LARGEST, (A4[0] - 2 * MARGIN_MM - 2 * _NUMBER_MM) / board.size[0], _HIGH_MM / board.size[1])


def _picture(canvas: Canvas, board: Board, refs: Sequence[str], top: float) -> float:
    """The board seen from behind, with the lands of the leads, a line from each to its number beside; where it ends."""
    scale = _scale_of(board)
    wide, high = board.size[0] * scale, board.size[1] * scale

    def seen(shape: BaseGeometry) -> BaseGeometry:
        return affinity.affine_transform(shape, [-scale, 0, 0, scale, wide, 0])

    canvas.saveState()
    canvas.translate((A4[0] - wide) / 2 * mm, (top - 4 - high) * mm)
    pen(canvas, 0.15, 0.4)
    region(canvas, seen(board.outline))
    parts = [next(one for one in board.parts if one.ref == ref) for ref in refs]
    # A pad with a drill lies on both sides: it is drawn and named once.
    pads = {part.ref: [pad for pad in part.pads() if pad.side == part.side] for part in parts}
    lands = {ref: [seen(pad.polygon) for pad in some] for ref, some in pads.items()}
    pen(canvas, 0.2)
    ends = []
    for part in parts:
        boxes = [land.bounds for land in lands[part.ref]]
        right = (min(box[0] for box in boxes) + max(box[2] for box in boxes)) / 2 > wide / 2
        left_edge, low, right_edge, up = max(boxes, key=lambda box: box[2]) if right else min(boxes, key=lambda box: box[0])
        ends.append((wide + 4.0 if right else -4.0, (low + up) / 2, right))
        line(canvas, right_edge if right else left_edge, (low + up) / 2, *ends[-1][:2])
        for pad, land in zip(pads[part.ref], lands[part.ref], strict=True):
            region(canvas, land, 0.6 if pad.pin == part.part.pins[0].number else None)
    names = Names([land for some in lands.values() for land in some], _PIN_MM)
    for part in parts:
        for pad, land in zip(pads[part.ref], lands[part.ref], strict=True):
            left, low, right_edge, up = land.bounds
            spots = names.beside(pad.pin, (right_edge - left) / 2, (up - low) / 2)
            names.put(pad.pin, (left + right_edge) / 2, (low + up) / 2, sorted(spots, key=lambda spot: abs(spot[0]) - spot[1]))
    for number, (x, y, right) in enumerate(ends, 1):
        off = 2.0 if right else -2.0
        names.put(str(number), x, y, [(off, step) for step in (0.0, 2.5, -2.5, 5.0, -5.0)])
    names.draw(canvas)
    canvas.restoreState()
    return top - 8 - high
