"""A drill template at true size: a cross at each LED, and how wide the hole is bare, with a clip and with a bezel."""

from __future__ import annotations

import math

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from ...board import Board
from ...errors import Trouble
from ...parts import Emitter
from .page import A4, MARGIN_MM, Document, circle, cross, line, pen, region, ruler, text

#: Room for the head and the ruler, and how far pages of one template overlap.
_HEAD_MM, _FOOT_MM, _OVERLAP_MM = 16.0, 16.0, 10.0
_CROSS_MM = 2.0


def template(board: Board) -> bytes:
    """The sheet, seen from the front: one page where it fits, else pages that overlap. `Trouble` without any LED."""
    if not board.lights:
        raise Trouble("This board has no LEDs, so there is nothing to drill.")
    sheet = Document(f"{board.name}: drill template")
    page, (columns, rows) = _pages(board.size)
    wide, high = page[0] - 2 * MARGIN_MM, page[1] - 2 * MARGIN_MM - _HEAD_MM - _FOOT_MM
    for row in range(rows):
        for column in range(columns):
            canvas = sheet.page(page)
            _head(canvas, board, page, row * columns + column + 1, rows * columns)
            left = column * (wide - _OVERLAP_MM) if columns > 1 else (board.size[0] - wide) / 2
            bottom = board.size[1] - high - row * (high - _OVERLAP_MM) if rows > 1 else (board.size[1] - high) / 2
            canvas.saveState()
            frame = canvas.beginPath()
            frame.rect(MARGIN_MM * mm, (MARGIN_MM + _FOOT_MM) * mm, wide * mm, high * mm)
            canvas.clipPath(frame, stroke=0)
            canvas.translate((MARGIN_MM - left) * mm, (MARGIN_MM + _FOOT_MM - bottom) * mm)
            _holes(canvas, board)
            canvas.restoreState()
            sheet.end_page()
    return sheet.data()


def _pages(size: tuple[float, float]) -> tuple[tuple[float, float], tuple[int, int]]:
    """The page, upright or lying, and how many of them beside and over one another: as few as do."""
    best: tuple[int, tuple[float, float], tuple[int, int]] | None = None
    for page in (A4, A4[::-1]):
        wide, high = page[0] - 2 * MARGIN_MM, page[1] - 2 * MARGIN_MM - _HEAD_MM - _FOOT_MM
        many = tuple(
            1 if need <= room else math.ceil((need - _OVERLAP_MM) / (room - _OVERLAP_MM))
            for need, room in zip(size, (wide, high), strict=True)
        )
        if best is None or math.prod(many) < best[0]:
            best = math.prod(many), page, (many[0], many[1])
    assert best is not None
    return best[1], best[2]


def _head(canvas: Canvas, board: Board, page: tuple[float, float], number: int, of: int) -> None:
    top = page[1] - MARGIN_MM
    told = f"page {number} of {of}, overlapping by {_OVERLAP_MM:g} mm" if of > 1 else "seen from the front"
    text(canvas, MARGIN_MM, top - 5, f"{board.name}: drill template", 5, bold=True)
    kinds = [one for one in _used(board) if one.holes_mm]
    words = "; ".join(f"{one.name}: {_sizes(one)}" for one in kinds[:2]) or "each cross is the middle of an LED"
    text(canvas, MARGIN_MM, top - 11, f"{told}. {words}.", 3.0)
    ruler(canvas, MARGIN_MM, MARGIN_MM + 4)


def _used(board: Board) -> list[Emitter]:
    return list({spot.kind.name: spot.kind for spot in board.lights}.values())


def _sizes(one: Emitter) -> str:
    return ", ".join(f"{words} {diameter:g} mm" for words, diameter in one.holes_mm)


def _holes(canvas: Canvas, board: Board) -> None:
    """The outline of the board, and for each LED its cross and circles: lens full, clip dashed, bezel dotted."""
    pen(canvas, 0.1, 0.55)
    region(canvas, board.outline)
    kinds = {spot.index: spot.kind for spot in board.lights}
    for lamp in board.parts:
        if lamp.led is None or not lamp.part.shines:
            continue
        one = kinds[lamp.led]
        pen(canvas, 0.1)
        cross(canvas, lamp.x, lamp.y, _CROSS_MM)
        diameters = [diameter for _, diameter in one.holes_mm] or [one.lens_mm or min(one.part.body_mm)]
        for diameter, dashes in zip(diameters, ((), (0.8, 0.5), (0.2, 0.4)), strict=False):
            pen(canvas, 0.12, 0.0, dashes)
            circle(canvas, lamp.x, lamp.y, diameter)
        pen(canvas, 0.1)
        line(canvas, lamp.x, lamp.y, lamp.x, lamp.y)
        text(canvas, lamp.x + max(diameters) / 2 + 0.5, lamp.y + 0.6, str(lamp.led), 2.0)
