"""A sheet to wire a plain board of holes by hand: the holes with their parts and links, and what goes where."""

from __future__ import annotations

from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from ...wiring.grid_board import PITCH_MM, GridBoard, hole_name
from .page import A4, MARGIN_MM, Document, line, pen, text

_LINE_MM, _HEAD_MM, _BOX_MM, _COLUMNS = 4.4, 18.0, 2.6, 3


def grid_sheet(name: str, board: GridBoard) -> bytes:
    """The sheet: the board seen from the side of the parts, the holes of every leg, every link with a box to tick."""
    sheet = Document(f"{name}: plain board")
    canvas = sheet.page(A4)
    _title(canvas, name, board)
    _picture(canvas, board)
    sheet.end_page()
    rows: list[tuple[str, bool]] = [("Parts", True)]
    rows += [(_legs(one.ref, one.value, one.legs), False) for one in board.parts]
    rows.append(("Links", True))
    rows += [(f"{one.number}   {hole_name(one.start)} – {hole_name(one.end)}   {one.kind}", False) for one in board.links]
    wide = (A4[0] - 2 * MARGIN_MM) / _COLUMNS
    while rows:
        canvas = sheet.page(A4)
        _title(canvas, name, board)
        for column in range(_COLUMNS):
            left, y = MARGIN_MM + column * wide, A4[1] - MARGIN_MM - _HEAD_MM
            while rows and y > MARGIN_MM + _LINE_MM:
                words, head = rows.pop(0)
                y -= _LINE_MM * (1.5 if head else 1.0)
                text(canvas, left + (0 if head else _BOX_MM + 2), y, words[:44], 2.8, bold=head)
                if not head:
                    pen(canvas, 0.15, 0.3)
                    canvas.rect(left * mm, (y - 0.3) * mm, _BOX_MM * mm, _BOX_MM * mm)
        sheet.end_page()
    return sheet.data()


def _legs(ref: str, value: str, legs: Sequence[tuple[str, tuple[int, int]]]) -> str:
    holes = [f"{pin}:{hole_name(cell)}" for pin, cell in legs]
    where = " ".join(holes) if len(holes) <= 4 else f"{holes[0]} … {holes[-1]}"
    return f"{ref} {value}".strip() + f"   {where}"


def _title(canvas: Canvas, name: str, board: GridBoard) -> None:
    top = A4[1] - MARGIN_MM
    text(canvas, MARGIN_MM, top - 5, f"{name}: plain board", 5, bold=True)
    what = f"{board.columns} × {board.rows} holes, {PITCH_MM} mm apart, seen from the side of the parts."
    text(canvas, MARGIN_MM, top - 11, what + " Rows by letters from the top, columns by numbers.", 3.0)
    text(
        canvas, MARGIN_MM, top - 15.5, "The larger dot is the first pin. Thick: bare wire. Dashed: insulated wire, behind.", 3.0
    )


def _picture(canvas: Canvas, board: GridBoard) -> None:
    """The board as large as the page: holes, parts by name, links: bare wire thick, insulated wire thin and dashed."""
    wide, high = A4[0] - 2 * MARGIN_MM - 8, A4[1] - 2 * MARGIN_MM - _HEAD_MM - 8
    step = min(wide / board.columns, high / board.rows, 7.0)
    left, top = MARGIN_MM + 8, A4[1] - MARGIN_MM - _HEAD_MM - 8

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
    for part in board.parts:
        xs, ys = [cell[0] for _, cell in part.legs], [cell[1] for _, cell in part.legs]
        x, y = spot((min(xs), min(ys)))
        text(canvas, x + (max(xs) - min(xs)) * step / 2, y + 0.45 * step, part.ref, min(size, 0.6 * step), middle=True)
