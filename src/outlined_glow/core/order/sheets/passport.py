"""A part's passport: its pads at true size and larger, and three questions that only the real part can answer (DOMAIN 3)."""

from __future__ import annotations

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from shapely.geometry import box

from ...parts import Part
from ...parts.placed import PlacedPart
from .page import A4, MARGIN_MM, Document, cross, line, pen, region, ruler, text

_QUESTIONS = (
    ("Which end is pin 1, seen from here?", "Lay the part on the pads drawn above, the side to be seen upward."),
    ("Which pin is common, or at supply or ground?", "Find it with a meter: on a lamp, the pin shared by all that light up."),
    ("Which contact closes, or which pin lights up what?", "Press it, or touch the meter's tips to two pins at a time."),
)
#: How large the second drawing may be.
_WIDE_MM, _HIGH_MM = 150.0, 84.0


def passport(part: Part) -> bytes:
    """One page."""
    sheet = Document(f"{part.title}: passport")
    canvas = sheet.page(A4)
    top = A4[1] - MARGIN_MM
    text(canvas, MARGIN_MM, top - 6, f"{part.title}: does the drawing fit the part?", 5.4, bold=True)
    words = f"{part.name}, seen from the side on which it lies. Body {part.body_mm[0]:g} x {part.body_mm[1]:g} mm."
    text(canvas, MARGIN_MM, top - 12.5, words, 3.2)
    _drawn(canvas, part, A4[0] / 2, top - 52, 1.0)
    text(canvas, A4[0] / 2, top - 24, "1 : 1", 3.2, middle=True)
    length, width = part.courtyard
    scale = max(1.0, min(8.0, int(min(_WIDE_MM / length, _HIGH_MM / width))))
    _drawn(canvas, part, A4[0] / 2, top - 134, scale)
    text(canvas, A4[0] / 2, top - 86, f"{scale:g} : 1", 3.2, middle=True)
    _asked(canvas, part, top - 192)
    ruler(canvas, MARGIN_MM, MARGIN_MM + 4)
    sheet.end_page()
    return sheet.data()


def _drawn(canvas: Canvas, part: Part, x: float, y: float, scale: float) -> None:
    """Pads, holes and body about a place of the page."""
    canvas.saveState()
    canvas.translate(x * mm, y * mm)
    canvas.scale(scale, scale)
    pen(canvas, 0.1 / scale, 0.45, (1.0 / scale, 0.6 / scale))
    half = part.body_mm[0] / 2, part.body_mm[1] / 2
    region(canvas, box(-half[0], -half[1], half[0], half[1]))
    pen(canvas, 0.12 / scale)
    for pad in PlacedPart("", part, "", 0.0, 0.0, 0.0, "front").pads():
        if pad.side == "front":
            region(canvas, pad.polygon, 0.86)
            cross(canvas, pad.x, pad.y, 0.4 / scale)
            if scale > 1:
                text(canvas, pad.x, pad.y + 0.6 / scale, pad.pin, 3.6 / scale, bold=True, middle=True)
    canvas.restoreState()


def _asked(canvas: Canvas, part: Part, top: float) -> None:
    if part.mark:
        text(canvas, MARGIN_MM, top + 8, f"Expected: {part.mark}.", 3.0)
    for number, (question, how) in enumerate(_QUESTIONS):
        y = top - 4 - 18 * number
        text(canvas, MARGIN_MM, y, f"{number + 1}. {question}", 3.8, bold=True)
        text(canvas, MARGIN_MM + 5, y - 5, how, 3.0)
        pen(canvas, 0.15, 0.4)
        line(canvas, MARGIN_MM + 5, y - 11.5, A4[0] - MARGIN_MM, y - 11.5)
