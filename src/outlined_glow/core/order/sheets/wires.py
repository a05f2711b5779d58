"""A sheet to wire a board by hand: where the pins lie, seen from behind, and every wire with a box to tick."""

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

_COLUMNS = 2
Places = tuple[tuple[float, float], tuple[float, float]]


def wires_sheet(board: Board, wires: Sequence[tuple[str, str, Places]]) -> bytes:
    """The sheet: for each wire its net, its words, and where it begins and ends."""
    sheet = Document(f"{board.name}: wires by hand")
    canvas = sheet.page(A4)
    _picture(canvas, board, [places for _, _, places in wires], _title(canvas, board) - 4)
    sheet.end_page()
    rows: list[tuple[str, bool]] = []
    for at, (net, words, _) in enumerate(wires):
        if not at or wires[at - 1][0] != net:
            rows.append((net, True))
        rows.append((words, False))
    listing(sheet, rows, lambda canvas: _title(canvas, board), _COLUMNS, 3.0)
    return sheet.data()


def _title(canvas: Canvas, board: Board) -> float:
    told = "Seen from behind. Lengths are cut lengths, with both ends stripped."
    return head(canvas, A4, f"{board.name}: wires by hand", told)


def _picture(canvas: Canvas, board: Board, wires: Sequence[Places], top: float) -> None:
    """The board seen from behind, as large as the page: its pads, every wire as a straight line, and its parts by name."""
    wide, high = A4[0] - 2 * MARGIN_MM, top - MARGIN_MM
    scale = min(wide / board.size[0], high / board.size[1], 4.0)
    canvas.saveState()
    canvas.translate((A4[0] + board.size[0] * scale) / 2 * mm, (top - board.size[1] * scale) * mm)

    def seen(shape: BaseGeometry) -> BaseGeometry:
        return affinity.affine_transform(shape, [-scale, 0, 0, scale, 0, 0])

    pen(canvas, 0.15, 0.5)
    region(canvas, seen(board.outline))
    pen(canvas, 0.12, 0.2)
    pads = [pad for pad in board.pads if pad.side == "back" or not pad.drill_mm]
    lands = [seen(pad.polygon) for pad in pads]
    for pad, land in zip(pads, lands, strict=True):
        region(canvas, land, 0.9 if pad.side == "back" else None)
    pen(canvas, 0.18, 0.0)
    for (ax, ay), (bx, by) in wires:
        line(canvas, -ax * scale, ay * scale, -bx * scale, by * scale)
    names = Names(lands, 2.2)
    for part in board.parts:
        left, bottom, right, up = seen(part.court()).bounds
        spots = names.beside(part.ref, (right - left) / 2, (up - bottom) / 2)
        names.put(part.ref, (left + right) / 2, (bottom + up) / 2, [(0.0, 0.0), *spots], plate=True)
    names.draw(canvas)
    canvas.restoreState()
