"""Words as regions, in the shipped font."""

from __future__ import annotations

from functools import cache, lru_cache
from importlib import resources
from typing import Any

import numpy as np
import shapely
import uharfbuzz as hb
from shapely.geometry.base import BaseGeometry

from ..geometry.fill import fill
from ..geometry.flatten import Points, flatten_cubics
from ..geometry.regions import EMPTY, shifted, union


class _Outlines:
    """Collects glyph outlines as flattened contours, in font units."""

    def __init__(self, tolerance: float) -> None:
        self.contours: list[Points] = []
        self._rows: list[Points] = []
        self._tolerance = tolerance

    def move_to(self, x: float, y: float, _: Any) -> None:
        self._rows = [np.array([[x, y]])]

    def line_to(self, x: float, y: float, _: Any) -> None:
        self._rows.append(np.array([[x, y]]))

    def quadratic_to(self, cx: float, cy: float, x: float, y: float, _: Any) -> None:
        here, control, end = self._rows[-1][-1], np.array([cx, cy]), np.array([x, y])
        self._cubic(here + (control - here) * 2 / 3, end + (control - end) * 2 / 3, end)

    def cubic_to(self, ax: float, ay: float, bx: float, by: float, x: float, y: float, _: Any) -> None:
        self._cubic(np.array([ax, ay]), np.array([bx, by]), np.array([x, y]))

    def _cubic(self, one: Points, two: Points, end: Points) -> None:
        curve = np.stack([one, two, end])[None]
        self._rows.append(flatten_cubics(self._rows[-1][-1], curve, self._tolerance)[1:])

    def close(self, _: Any) -> None:
        if self._rows:
            self.contours.append(np.vstack(self._rows))
        self._rows = []


@cache
def _font() -> tuple[hb.Font, float]:
    data = resources.files("outlined_glow.data.fonts").joinpath("SourceSans3-Semibold.ttf").read_bytes()
    font = hb.Font(hb.Face(data))
    caps = font.get_glyph_extents(font.get_nominal_glyph(ord("H")))
    return font, float(caps.y_bearing)


@cache
def _glyph(glyph: int, tolerance: float) -> BaseGeometry:
    font, _ = _font()
    out = _Outlines(tolerance)
    functions = hb.DrawFuncs()
    functions.set_move_to_func(out.move_to)
    functions.set_line_to_func(out.line_to)
    functions.set_quadratic_to_func(out.quadratic_to)
    functions.set_cubic_to_func(out.cubic_to)
    functions.set_close_path_func(out.close)
    font.draw_glyph(glyph, functions, None)
    return fill(out.contours, "nonzero")


@lru_cache(maxsize=512)
def text_region(text: str, height_mm: float, tolerance_mm: float = 0.01) -> BaseGeometry:
    """The words as one region: capitals `height_mm` high, standing on y = 0, centred on x = 0."""
    font, caps = _font()
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    hb.shape(font, buffer)
    scale = height_mm / caps
    pieces: list[BaseGeometry] = []
    at = 0.0
    for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        outline = _glyph(info.codepoint, round(tolerance_mm / scale, 3))
        if not outline.is_empty:
            dx, dy = at + place.x_offset, place.y_offset
            pieces.append(shifted(outline, dx, dy))
        at += place.x_advance
    if not pieces:
        return EMPTY
    return shapely.transform(union(pieces), lambda p: (p - (at / 2, 0)) * scale)


def placed(region: BaseGeometry, x: float, y: float, angle_deg: float, mirrored: bool) -> BaseGeometry:
    """A region turned and moved; mirrored for words that are read from behind."""
    a = np.radians(angle_deg)
    turn = np.array([[np.cos(a), np.sin(a)], [-np.sin(a), np.cos(a)]])
    flip = np.array([-1.0 if mirrored else 1.0, 1.0])
    return shapely.transform(region, lambda p: (p * flip) @ turn + (x, y))
