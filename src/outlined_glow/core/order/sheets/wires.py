"""A sheet to wire a board by hand: where the pins lie, seen from behind, and every wire with a box to tick."""

from __future__ import annotations

from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from shapely import affinity

from ...board import Board
from .page import A4, MARGIN_MM, Document, line, pen, region, text

_LINE_MM, _HEAD_MM, _BOX_MM, _COLUMNS = 4.4, 16.0, 2.6, 2
Places = tuple[tuple[float, float], tuple[float, float]]


def wires_sheet(board: Board, wires: Sequence[tuple[str, str, Places]]) -> bytes:
    """The sheet: for each wire its net, its words, and where it begins and ends."""
    sheet = Document(f"{board.name}: wires by hand")
    canvas = sheet.page(A4)
    _title(canvas, board)
    _picture(canvas, board, [places for _, _, places in wires])
    sheet.end_page()
    rows: list[tuple[str, bool]] = []
    for at, (net, words, _) in enumerate(wires):
        if not at or wires[at - 1][0] != net:
            rows.append((net, True))
        rows.append((words, False))
    wide = (A4[0] - 2 * MARGIN_MM) / _COLUMNS
    while rows:
        canvas = sheet.page(A4)
        _title(canvas, board)
        for column in range(_COLUMNS):
            left, y = MARGIN_MM + column * wide, A4[1] - MARGIN_MM - _HEAD_MM
            while rows and y > MARGIN_MM + _LINE_MM:
                words, head = rows.pop(0)
                y -= _LINE_MM * (1.5 if head else 1.0)
                text(canvas, left + (0 if head else _BOX_MM + 2), y, words, 3.0, bold=head)
                if not head:
                    pen(canvas, 0.15, 0.3)
                    canvas.rect(left * mm, (y - 0.3) * mm, _BOX_MM * mm, _BOX_MM * mm)
        sheet.end_page()
    return sheet.data()


def _title(canvas: Canvas, board: Board) -> None:
    top = A4[1] - MARGIN_MM
    text(canvas, MARGIN_MM, top - 5, f"{board.name}: wires by hand", 5, bold=True)
    text(canvas, MARGIN_MM, top - 11, "Seen from behind. Lengths are cut lengths, with both ends stripped.", 3.0)


def _picture(canvas: Canvas, board: Board, wires: Sequence[Places]) -> None:
    """The board seen from behind, as large as the page: its pads, its parts by name, and every wire as a straight line."""
    wide, high = A4[0] - 2 * MARGIN_MM, A4[1] - 2 * MARGIN_MM - _HEAD_MM
    scale = min(wide / board.size[0], high / board.size[1], 4.0)
    left, bottom = (A4[0] - board.size[0] * scale) / 2, A4[1] - MARGIN_MM - _HEAD_MM - 4 - board.size[1] * scale
    canvas.saveState()
    canvas.translate(left * mm, bottom * mm)
    canvas.scale(scale, scale)
    canvas.translate(board.size[0] * mm, 0)
    pen(canvas, 0.15 / scale, 0.5)
    region(canvas, affinity.scale(board.outline, xfact=-1, origin=(0, 0)))
    pen(canvas, 0.12 / scale, 0.2)
    for pad in board.pads:
        if pad.side == "back" or not pad.drill_mm:
            region(canvas, affinity.scale(pad.polygon, xfact=-1, origin=(0, 0)), 0.9 if pad.side == "back" else None)
    pen(canvas, 0.18 / scale, 0.0)
    for (ax, ay), (bx, by) in wires:
        line(canvas, -ax, ay, -bx, by)
    for part in board.parts:
        text(canvas, -part.x, part.y - 0.8 / scale, part.ref, 2.2 / scale, middle=True)
    canvas.restoreState()
