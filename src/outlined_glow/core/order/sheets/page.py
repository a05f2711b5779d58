"""A page of a PDF in millimetres, its origin at the lower left, with the shipped font and a ruler to check the print by."""

from __future__ import annotations

import io
from collections.abc import Sequence
from functools import cache
from importlib import resources

import shapely
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from shapely.geometry.base import BaseGeometry

from ...text_safety import printable
from .other_letters import Run, draw, runs_of

A4 = (210.0, 297.0)
MARGIN_MM = 12.0
_FACES = {False: "Regular", True: "Semibold"}
_RULER_MM = 100
#: The head of a page: room for its title, the size of the words below it, and from line to line.
_TITLE_MM, _TOLD_MM, _STEP_MM = 9.0, 3.0, 4.4


class Document:
    """Pages that are drawn one after the other; the same content gives the same bytes."""

    def __init__(self, title: str) -> None:
        _fonts()
        self._out = io.BytesIO()
        self._canvas = Canvas(self._out, pageCompression=1, invariant=1)
        self._canvas.setTitle(title)
        self._canvas.setCreator("Outlined Glow")

    def page(self, size: tuple[float, float] = A4) -> Canvas:
        """Begin a page of that size, mm. What is drawn on the canvas is in points: use the functions here."""
        self._canvas.setPageSize((size[0] * mm, size[1] * mm))
        return self._canvas

    def end_page(self) -> None:
        """The page is done."""
        self._canvas.showPage()

    def data(self) -> bytes:
        """The file."""
        self._canvas.save()
        return self._out.getvalue()


@cache
def _fonts() -> None:
    for style in _FACES.values():
        data = resources.files("outlined_glow.data.fonts").joinpath(f"SourceSans3-{style}.ttf").read_bytes()
        pdfmetrics.registerFont(TTFont(style, io.BytesIO(data)))


def pen(canvas: Canvas, width_mm: float, grey: float = 0.0, dashes: Sequence[float] = ()) -> None:
    """How the next lines are drawn: width, from black (0) to white (1), dashes in mm."""
    canvas.setLineWidth(width_mm * mm)
    canvas.setStrokeGray(grey)
    canvas.setDash([one * mm for one in dashes])


def line(canvas: Canvas, x0: float, y0: float, x1: float, y1: float) -> None:
    """A straight line."""
    canvas.line(x0 * mm, y0 * mm, x1 * mm, y1 * mm)


def circle(canvas: Canvas, x: float, y: float, diameter: float) -> None:
    """The outline of a circle."""
    canvas.circle(x * mm, y * mm, diameter / 2 * mm, stroke=1, fill=0)


def cross(canvas: Canvas, x: float, y: float, reach: float) -> None:
    """Two short lines that meet in a point."""
    line(canvas, x - reach, y, x + reach, y)
    line(canvas, x, y - reach, x, y + reach)


def region(canvas: Canvas, shape: BaseGeometry, fill_grey: float | None = None) -> None:
    """The outline of a region with its holes, filled if a grey is given."""
    path = canvas.beginPath()
    for polygon in shapely.get_parts(shape):
        for ring in (polygon.exterior, *polygon.interiors):
            points = list(ring.coords)
            path.moveTo(points[0][0] * mm, points[0][1] * mm)
            for x, y in points[1:-1]:
                path.lineTo(x * mm, y * mm)
            path.close()
    if fill_grey is not None:
        canvas.setFillGray(fill_grey)
    canvas.drawPath(path, stroke=1, fill=int(fill_grey is not None), fillMode=0)


def text(
    canvas: Canvas, x: float, y: float, words: str, high_mm: float = 3.2, bold: bool = False, middle: bool = False,
    wide_mm: float | None = None,
) -> None:  # fmt: skip
    """A line of words from x on, or about it; `high_mm` is the size of the font, less where they are longer than `wide_mm`."""
    told = printable(words, " ")
    if wide_mm is not None:
        high_mm *= min(1.0, wide_mm / max(wide_mm, width_of(told, high_mm, bold)))
    canvas.setFillGray(0)
    canvas.setFont(_FACES[bold], high_mm * mm)
    left = x - (width_of(told, high_mm, bold) / 2 if middle else 0.0)
    for run in runs_of(told, bold):
        if run.face is None:
            canvas.drawString(left * mm, y * mm, run.letters)
        else:
            draw(canvas, left * mm, y * mm, run, high_mm * mm)
        left += _wide(run, high_mm, bold)


def width_of(words: str, high_mm: float, bold: bool = False) -> float:
    """How long a line of words is, mm."""
    return sum(_wide(run, high_mm, bold) for run in runs_of(printable(words, " "), bold))


def _wide(run: Run, high_mm: float, bold: bool) -> float:
    if run.face is not None:
        return run.wide(high_mm)
    _fonts()
    return float(pdfmetrics.stringWidth(run.letters, _FACES[bold], high_mm * mm) / mm)


def lines_of(words: str, high_mm: float, wide_mm: float, bold: bool = False) -> list[str]:
    """Words in lines that are no longer than that; a word that is longer alone is broken."""
    out, line = [], ""
    for word in words.split(" "):
        if line and width_of(f"{line} {word}", high_mm, bold) > wide_mm:
            out.append(line)
            line = ""
        line = f"{line} {word}" if line else word
        while width_of(line, high_mm, bold) > wide_mm and len(line) > 1:
            fits = next(at for at in range(len(line) - 1, 0, -1) if at == 1 or width_of(line[:at], high_mm, bold) <= wide_mm)
            out.append(line[:fits])
            line = line[fits:]
    return [*out, line]


def head_mm(told: str, wide_mm: float) -> float:
    """How high the head of a page is: its title, and what is told below it."""
    return _TITLE_MM + _STEP_MM * len(lines_of(told, _TOLD_MM, wide_mm))


def head(canvas: Canvas, page: tuple[float, float], title: str, told: str) -> float:
    """The head of a page: its title, and what is told below it. Where its foot is."""
    top, wide = page[1] - MARGIN_MM, page[0] - 2 * MARGIN_MM
    text(canvas, MARGIN_MM, top - 5, title, 5, bold=True, wide_mm=wide)
    for at, line_ in enumerate(lines_of(told, _TOLD_MM, wide)):
        text(canvas, MARGIN_MM, top - 11 - _STEP_MM * at, line_, _TOLD_MM)
    return top - head_mm(told, wide)


def ruler(canvas: Canvas, x: float, y: float) -> None:
    """100 mm to lay a real ruler against."""
    pen(canvas, 0.15)
    line(canvas, x, y, x + _RULER_MM, y)
    for at in range(_RULER_MM + 1):
        line(canvas, x + at, y, x + at, y + (4 if at % 10 == 0 else 2.6 if at % 5 == 0 else 1.6))
    for at in range(0, _RULER_MM + 1, 10):
        text(canvas, x + at, y - 3.4, str(at), 2.6, middle=True)
    text(canvas, x + _RULER_MM + 4, y - 0.6, "mm. Print at 100 %; this is 100 mm long.", 2.8)
