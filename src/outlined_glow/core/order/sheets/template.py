"""A drill template at true size: the board's edge and holes, a cross at each LED, and the holes that a bare lamp, a clip and a
bezel need, or the window of a display."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import shapely
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from shapely.geometry import Point

from ...board import Board
from .lamps import LENS, Lamp, holes_of_lid, lamps_of_lid
from .names import Names
from .page import A4, MARGIN_MM, Document, circle, cross, head, head_mm, pen, region, ruler

#: Room for the ruler, and how far pages of one template overlap.
_FOOT_MM, _OVERLAP_MM = 16.0, 10.0
_CROSS_MM = 2.0
#: How the holes of a lamp are drawn, in their order.
_LINES: tuple[tuple[str, tuple[float, ...]], ...] = (("full", ()), ("dashed", (0.8, 0.5)), ("dotted", (0.2, 0.4)))


def template(board: Board) -> bytes:
    """The sheet, seen from the front: one page where it fits, else pages that overlap. `Trouble` without any LED."""
    lamps = lamps_of_lid(board)
    title = f"{board.name}: drill template"
    sheet = Document(title)
    told, numbers = _told(board, lamps), _numbers(lamps)
    page, room, (columns, rows) = _pages(board.size, told)
    for row in range(rows):
        for column in range(columns):
            canvas = sheet.page(page)
            which = f"Page {row * columns + column + 1} of {rows * columns}, overlapping by {_OVERLAP_MM:g} mm. "
            head(canvas, page, title, (which if rows * columns > 1 else "") + told)
            ruler(canvas, MARGIN_MM, MARGIN_MM + 4)
            left, bottom = (
                at * (wide - _OVERLAP_MM) if many > 1 else (size - wide) / 2
                for at, many, size, wide in ((column, columns, board.size[0], room[0]), (row, rows, board.size[1], room[1]))
            )
            bottom = board.size[1] - room[1] - bottom if rows > 1 else bottom
            canvas.saveState()
            frame = canvas.beginPath()
            frame.rect(MARGIN_MM * mm, (MARGIN_MM + _FOOT_MM) * mm, room[0] * mm, room[1] * mm)
            canvas.clipPath(frame, stroke=0)
            canvas.translate((MARGIN_MM - left) * mm, (MARGIN_MM + _FOOT_MM - bottom) * mm)
            _holes(canvas, board, lamps, numbers)
            canvas.restoreState()
            sheet.end_page()
    return sheet.data()


def _pages(size: tuple[float, float], told: str) -> tuple[tuple[float, float], tuple[float, float], tuple[int, int]]:
    """The page, upright or lying, the room on it, and how many of them beside and over one another: as few as do."""
    found = []
    for page in (A4, A4[::-1]):
        wide = page[0] - 2 * MARGIN_MM
        # The first words of a page of many may take a line more.
        room = wide, page[1] - 2 * MARGIN_MM - head_mm("Page 10 of 10, overlapping by 10 mm. " + told, wide) - _FOOT_MM
        many = [
            1 if need <= there else math.ceil((need - _OVERLAP_MM) / (there - _OVERLAP_MM))
            for need, there in zip(size, room, strict=True)
        ]
        found.append((page, room, (many[0], many[1])))
    return min(found, key=lambda one: math.prod(one[2]))


def _told(board: Board, lamps: Sequence[Lamp]) -> str:
    """What is drawn, in sentences."""
    out = ["Seen from the front.", "Each cross is the middle of an LED."]
    fitting = {lamp.name: lamp.holes for lamp in lamps if any(words != LENS for words, _ in lamp.holes)}
    out += [f"{name}: {_sizes(holes)}." for name, holes in fitting.items()]
    if any(words == LENS for lamp in lamps for words, _ in lamp.holes):
        out.append(f"{'Other circles are' if fitting else 'A circle is'} as wide as the LED.")
    if any(lamp.window is not None for lamp in lamps):
        out.append("Rectangles are windows, as large as the display.")
    if holes_of_lid(board):
        out.append("Grey: the edge of the board and its holes.")
    return " ".join(out)


def _sizes(holes: Sequence[tuple[str, float]]) -> str:
    return ", ".join(f"{words} {diameter:g} mm ({_line_of(at)[0]})" for at, (words, diameter) in enumerate(holes))


def _line_of(at: int) -> tuple[str, tuple[float, ...]]:
    return _LINES[min(at, len(_LINES) - 1)]


def _holes(canvas: Canvas, board: Board, lamps: Sequence[Lamp], numbers: Names) -> None:
    """The board's edge and holes; for each LED its cross and circles, or its window; and its number beside."""
    pen(canvas, 0.1, 0.55)
    region(canvas, board.outline)
    for hole in holes_of_lid(board):
        circle(canvas, hole.x, hole.y, hole.diameter)
        cross(canvas, hole.x, hole.y, _CROSS_MM)
    for lamp in lamps:
        pen(canvas, 0.1)
        cross(canvas, lamp.x, lamp.y, _CROSS_MM)
        for at, (_, diameter) in enumerate(lamp.holes):
            pen(canvas, 0.12, 0.0, _line_of(at)[1])
            circle(canvas, lamp.x, lamp.y, diameter)
        if lamp.window is not None:
            pen(canvas, 0.12)
            region(canvas, lamp.window)
    numbers.draw(canvas)


def _numbers(lamps: Sequence[Lamp]) -> Names:
    """The numbers of the LEDs beside their circles and crosses."""
    x, y = (np.array([getattr(lamp, name) for lamp in lamps]) for name in ("x", "y"))
    drawn = [
        *shapely.box(x - _CROSS_MM, y - 0.1, x + _CROSS_MM, y + 0.1),
        *shapely.box(x - 0.1, y - _CROSS_MM, x + 0.1, y + _CROSS_MM),
    ]
    for lamp in lamps:
        drawn += [Point(lamp.x, lamp.y).buffer(diameter / 2) for _, diameter in lamp.holes]
        drawn += [] if lamp.window is None else [shapely.buffer(lamp.window.exterior, 0.1)]
    names = Names(drawn, 2.0)
    for lamp in lamps:
        number, reach = str(lamp.number), max([0.6, *(diameter / 2 for _, diameter in lamp.holes)])
        spots = [spot for far in (reach, max(reach, _CROSS_MM)) for spot in names.beside(number, far)]
        names.put(number, lamp.x, lamp.y, spots)
    return names
