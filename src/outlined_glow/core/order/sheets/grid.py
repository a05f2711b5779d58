"""A sheet to wire a plain board of holes by hand: the holes with their parts and links, and what goes where."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from shapely.geometry import Point

from ...wiring.grid_board import PITCH_MM, GridBoard, GridLink, hole_name
from .listing import listing
from .names import Names
from .page import A4, MARGIN_MM, Document, head, line, pen, text

_COLUMNS = 3


def grid_sheet(name: str, board: GridBoard) -> bytes:
    """The sheet: the board seen from the side of the parts, the holes of every leg, every link with a box to tick."""
    sheet = Document(f"{name}: plain board")
    canvas = sheet.page(A4)
    _picture(canvas, board, _title(canvas, name, board))
    sheet.end_page()
    rows = [("Parts", True), *((_legs(one.ref, one.value, one.legs), False) for one in board.parts), ("Links", True)]
    rows += [(_link(one), False) for one in board.links]
    listing(sheet, rows, lambda canvas: _title(canvas, name, board), _COLUMNS, 2.8)
    return sheet.data()


def _link(one: GridLink) -> str:
    long = f", {one.length_mm:.0f} mm" if "wire" in one.kind else ""
    return f"{one.number}   {hole_name(one.start)} – {hole_name(one.end)}   {one.kind}{long}"


def _legs(ref: str, value: str, legs: Sequence[tuple[str, tuple[int, int]]]) -> str:
    holes = [f"{pin}:{hole_name(cell)}" for pin, cell in legs]
    where = " ".join(holes) if len(holes) <= 4 else f"{holes[0]} … {holes[-1]}"
    return f"{ref} {value}".strip() + f"   {where}"


def _title(canvas: Canvas, name: str, board: GridBoard) -> float:
    what = (
        f"{board.columns} × {board.rows} holes, {PITCH_MM} mm apart, seen from the side of the parts. Rows by letters from the "
        "top, columns by numbers. The larger dot is the first pin. Thick: bare wire. Dashed: insulated wire, behind."
    )
    return head(canvas, A4, f"{name}: plain board", what)


def _picture(canvas: Canvas, board: GridBoard, foot: float) -> None:
    """The board as large as the page below its head: holes, parts by name, links: bare wire thick, insulated wire thin and
    dashed."""
    wide, high = A4[0] - 2 * MARGIN_MM - 8, foot - MARGIN_MM - 8
    step = min(wide / board.columns, high / board.rows, 7.0)
    left, top = MARGIN_MM + 8, foot - 8

    def spot(cell: tuple[int, int]) -> tuple[float, float]:
        return left + (cell[0] + 0.5) * step, top - (cell[1] + 0.5) * step

    pen(canvas, 0.2, 0.4)
    canvas.rect(left * mm, (top - board.rows * step) * mm, board.columns * step * mm, board.rows * step * mm)
    pen(canvas, 0.1, 0.75)
    for column in range(board.columns):
        for row in range(board.rows):
            x, y = spot((column, row))
            canvas.circle(x * mm, y * mm, 0.14 * step * mm, stroke=1, fill=0)
    size = max(1.6, min(2.6, 0.45 * step))
    for column in range(0, board.columns, 5):
        text(canvas, spot((column, 0))[0], top + 1.2, str(column + 1), size, middle=True)
    for row in range(board.rows):
        text(canvas, left - 6, spot((0, row))[1] - size / 3, hole_name((0, row))[:-1], min(size, 0.8 * step))
    for part in board.parts:
        xs, ys = [cell[0] for _, cell in part.legs], [cell[1] for _, cell in part.legs]
        x0, y0 = spot((min(xs), max(ys)))
        pen(canvas, 0.2, 0.0)
        canvas.setFillGray(0.93)
        canvas.rect(
            (x0 - 0.4 * step) * mm, (y0 - 0.4 * step) * mm, ((max(xs) - min(xs)) + 0.8) * step * mm,
            ((max(ys) - min(ys)) + 0.8) * step * mm, stroke=1, fill=1,
        )  # fmt: skip
        canvas.setFillGray(0)
        for at, (_, cell) in enumerate(part.legs):
            x, y = spot(cell)
            canvas.circle(x * mm, y * mm, (0.2 if at else 0.3) * step * mm, stroke=0, fill=1)  # the first leg is larger
    for link in board.links:
        pen(canvas, *{"insulated wire": (0.25, 0.3, (0.8, 0.5))}.get(link.kind, (0.7, 0.2, ())))
        line(canvas, *spot(link.start), *spot(link.end))
    dots = [Point(spot(cell)).buffer(0.25 * step) for part in board.parts for _, cell in part.legs]
    names = Names(dots, min(size, 0.6 * step))
    for part in board.parts:
        ends = np.array([spot(cell) for _, cell in part.legs])
        x, y = (ends.min(axis=0) + ends.max(axis=0)).tolist()
        half = (np.ptp(ends, axis=0) / 2 + 0.4 * step).tolist()
        names.put(part.ref, x / 2, y / 2, [(0.0, 0.0), *names.beside(part.ref, *half)], plate=True)
    names.draw(canvas)
