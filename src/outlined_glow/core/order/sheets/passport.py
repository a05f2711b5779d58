"""A part's passport: its pads at true size and larger, and three questions that only the real part can answer (DOMAIN 3)."""

from __future__ import annotations

import numpy as np
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from shapely import affinity
from shapely.geometry import box

from ...parts import Part
from ...parts.placed import PlacedPad, PlacedPart
from .names import DIRECTIONS, Names
from .page import A4, MARGIN_MM, Document, cross, head, line, lines_of, pen, region, ruler, text, width_of

_QUESTIONS = (
    ("Which end is pin 1, seen from here?", "Lay the part on the pads drawn above, the side to be seen upward."),
    ("Which pin is common, or at supply or ground?", "Find it with a meter: on a lamp, the pin shared by all that light up."),
    ("Which contact closes, or which pin lights up what?", "Press it, or touch the meter's tips to two pins at a time."),
)
#: How large the second drawing may be.
_WIDE_MM, _HIGH_MM = 150.0, 84.0
#: The room for a part that is as large on paper as it is.
_ROOM_MM = 180.0, 150.0
#: The names of pins.
_PIN_MM = 3.0


def passport(part: Part) -> bytes:
    """One page."""
    sheet = Document(f"{part.title}: passport")
    canvas = sheet.page(A4)
    top = A4[1] - MARGIN_MM
    words = f"{part.name}, seen from the side on which it lies. Body {part.body_mm[0]:g} x {part.body_mm[1]:g} mm."
    head(canvas, A4, f"{part.title}: does the drawing fit the part?", words)
    length, width = _reach(part)
    scale = min(8, int(min(_WIDE_MM / length, _HIGH_MM / width)))
    vast = scale <= 1 and (length > _ROOM_MM[0] or width > _ROOM_MM[1])
    if scale > 1:
        _titled(canvas, part, top - 52, 1, named=False)
        _titled(canvas, part, top - 134, scale)
    elif not vast:
        _titled(canvas, part, top - 100, 1)
    else:  # a page as large as the part
        text(canvas, A4[0] / 2, top - 24, "Its pads at true size are on the next page.", 3.2, middle=True)
    _asked(canvas, part, top - 192)
    ruler(canvas, MARGIN_MM, MARGIN_MM + 4)
    sheet.end_page()
    if vast:
        page = max(A4[0], length + 4 * MARGIN_MM), max(A4[1], width + 8 * MARGIN_MM)
        canvas = sheet.page(page)
        canvas.translate((page[0] - A4[0]) / 2 * mm, 0)
        _titled(canvas, part, page[1] / 2, 1)
        sheet.end_page()
    return sheet.data()


def _reach(part: Part) -> tuple[float, float]:
    """How long and wide a part is with its pads, about its middle, mm."""
    boxes = np.abs([pad.polygon.bounds for pad in _pads(part)] or np.zeros((1, 4)))
    return max(part.courtyard[0], 2 * boxes[:, ::2].max()), max(part.courtyard[1], 2 * boxes[:, 1::2].max())


def _pads(part: Part) -> list[PlacedPad]:
    return [pad for pad in PlacedPart("", part, "", 0.0, 0.0, 0.0, "front").pads() if pad.side == "front"]


def _titled(canvas: Canvas, part: Part, y: float, scale: int, named: bool = True) -> None:
    """A drawing about the middle of a page of that width, and its scale over it."""
    _drawn(canvas, part, A4[0] / 2, y, scale, named)
    text(canvas, A4[0] / 2, y + max(scale * _reach(part)[1] / 2 + 5, 28), f"{scale} : 1", 3.2, middle=True)


def _drawn(canvas: Canvas, part: Part, x: float, y: float, scale: int, named: bool) -> None:
    """Pads, holes and body about a place of the page, with the names of the pins."""
    canvas.saveState()
    canvas.translate(x * mm, y * mm)
    pen(canvas, 0.1, 0.45, (1.0, 0.6))
    half = part.body_mm[0] / 2 * scale, part.body_mm[1] / 2 * scale
    region(canvas, box(-half[0], -half[1], half[0], half[1]))
    pen(canvas, 0.12)
    pads = _pads(part)
    regions = [affinity.scale(pad.polygon, scale, scale, origin=(0, 0)) for pad in pads]
    for pad, there in zip(pads, regions, strict=True):
        region(canvas, there, 0.86)
        cross(canvas, pad.x * scale, pad.y * scale, 0.4)
    if named:
        names = Names(regions, _PIN_MM)
        for pad, there in zip(pads, regions, strict=True):
            left, bottom, right, up = there.bounds
            wide, high = (right - left) / 2, (up - bottom) / 2
            if wide > width_of(pad.pin, _PIN_MM) / 2 + 0.3 and high > 0.8 * _PIN_MM + 0.6:  # over the cross in its middle
                text(canvas, pad.x * scale, pad.y * scale + 0.9, pad.pin, _PIN_MM, middle=True)
                continue
            # Straight over or under it, or beside it, away from the middle of the part, where no pads are.
            away = [dx * np.sign(pad.x) + dy * np.sign(pad.y or 1) - 9 * bool(dx and dy) for dx, dy in DIRECTIONS]
            spots = names.beside(pad.pin, wide, high)
            names.put(pad.pin, pad.x * scale, pad.y * scale, [spots[at] for at in np.argsort(-np.array(away), kind="stable")])
        names.draw(canvas)
    canvas.restoreState()


def _asked(canvas: Canvas, part: Part, top: float) -> None:
    if part.mark:
        size, some = next(
            (size, some)
            for size in (3.0, 2.4, 1.8, 1.2)
            if len(some := lines_of(f"Expected: {part.mark}.", size, A4[0] - 2 * MARGIN_MM)) * 1.4 * size < 14 or size < 1.8
        )
        for at, words in enumerate(some):
            text(canvas, MARGIN_MM, top + 10 - 1.4 * size * at, words, size)
    for number, (question, how) in enumerate(_QUESTIONS):
        y = top - 6 - 18 * number
        text(canvas, MARGIN_MM, y, f"{number + 1}. {question}", 3.8, bold=True)
        text(canvas, MARGIN_MM + 5, y - 5, how, 3.0)
        pen(canvas, 0.15, 0.4)
        line(canvas, MARGIN_MM + 5, y - 11.5, A4[0] - MARGIN_MM, y - 11.5)
