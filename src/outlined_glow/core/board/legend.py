"""The legends: polarity marks in front; designators, values, polarity and the board's name on the back."""

from __future__ import annotations

import math
from collections.abc import Iterator

import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..drive.seats import Part
from ..geometry.regions import EMPTY, box_at, grow, minus, shifted, union
from ..parts import Profile
from .text import placed, text_region

_BAR_MM = 0.2
_LABEL_GAP_MM = 0.35


def polarity_bar(part: Part, profile: Profile) -> Polygon:
    """A bar beside the cathode pad, clear of its opening."""
    length, width = part.body.courtyard
    gap = profile.mask_expansion_mm + profile.legend_gap_mm + max(_BAR_MM, profile.legend_line_mm) / 2 + 0.02
    a = math.radians(part.angle_deg)
    reach = length / 2 + gap
    thickness = max(_BAR_MM, profile.legend_line_mm)
    return box_at(part.x - reach * math.cos(a), part.y - reach * math.sin(a), thickness, width, part.angle_deg)


def front_legend(ink: BaseGeometry, openings: BaseGeometry, parts: tuple[Part, ...], profile: Profile) -> BaseGeometry:
    """Art ink and polarity marks, pulled back from every opening by the legend gap."""
    bars = [polarity_bar(part, profile) for part in parts if part.kind == "led" and part.side == "front"]
    marks = union([ink, *bars])
    return minus(marks, grow(openings, profile.legend_gap_mm)) if not marks.is_empty else EMPTY


def back_legend(
    board: BaseGeometry, openings: BaseGeometry, holes: BaseGeometry, parts: tuple[Part, ...], name: str, profile: Profile
) -> BaseGeometry:
    """Designators with values where they fit, polarity bars, and the board's name, all read from behind."""
    if not profile.has_legend:
        return EMPTY
    height = max(1.0, profile.legend_height_mm)
    blocked = union(
        [grow(openings, profile.legend_gap_mm + 0.05), holes, *(part.court() for part in parts if part.side == "back")]
    )
    free = minus(grow(board, -0.4), blocked)
    bars = [polarity_bar(part, profile) for part in parts if part.kind == "led" and part.side == "back"]
    words: list[BaseGeometry] = []
    free = minus(free, *(grow(bar, 0.15) for bar in bars))
    for part in (part for part in parts if part.side == "back"):
        label = _label(part, height, free, words)
        if label is not None:
            words.append(label)
    title = _title(name, free, words)
    signs = [sign for part in parts if part.kind == "holder" for sign in supply_signs(part)]
    marks = union([*words, *([title] if title is not None else []), *bars, *signs])
    return minus(marks, grow(openings, profile.legend_gap_mm))


def _label(part: Part, height: float, free: BaseGeometry, taken: list[BaseGeometry]) -> BaseGeometry | None:
    """Reference and value beside a part, upright or along the board's height; else the reference alone; else nothing."""
    texts = [part.ref] if part.kind == "led" else [f"{part.ref} {part.value}", part.ref]
    for text in texts:
        for angle in (0.0, 90.0):
            word = placed(text_region(text, height), 0, 0, angle, mirrored=True)
            for dx, dy in _beside(part, word):
                label = shifted(word, dx, dy)
                court = shapely.box(*label.bounds).buffer(0.1)
                if free.contains(court) and not any(court.intersects(other) for other in taken):
                    return label
    return None


def _beside(part: Part, word: BaseGeometry) -> Iterator[tuple[float, float]]:
    """How far to move a word to eight places round a part: above, below, beside, then the corners."""
    length, width = part.body.courtyard
    a = math.radians(part.angle_deg)
    half_w = abs(length / 2 * math.cos(a)) + abs(width / 2 * math.sin(a))
    half_h = abs(length / 2 * math.sin(a)) + abs(width / 2 * math.cos(a))
    left, bottom, right, top = word.bounds
    reach_x, reach_y = half_w + _LABEL_GAP_MM + (right - left) / 2, half_h + _LABEL_GAP_MM + (top - bottom) / 2
    for sx, sy in ((0, 1), (0, -1), (1, 0), (-1, 0), (1, 1), (-1, 1), (1, -1), (-1, -1)):
        yield part.x + sx * reach_x - (left + right) / 2, part.y + sy * reach_y - (bottom + top) / 2


def supply_signs(part: Part) -> list[BaseGeometry]:
    """Minus at pad 1 and plus at pad 2 of a supply, printed under its body, inward of the pads."""
    a = math.radians(part.angle_deg)
    out = []
    for pad, sign in zip(part.body.pads, ("–", "+"), strict=False):
        inward = -math.copysign(pad.width / 2 + 1.3, pad.x)
        at = pad.x + (inward if part.body.size[2] > 0 else -inward)
        x, y = part.x + at * math.cos(a), part.y + at * math.sin(a)
        word = text_region(sign, 1.6)
        left, bottom, right, top = word.bounds
        out.append(placed(shifted(word, -(left + right) / 2, -(bottom + top) / 2), x, y, 0.0, mirrored=True))
    return out


def _title(name: str, free: BaseGeometry, taken: list[BaseGeometry]) -> BaseGeometry | None:
    """The board's name as large as fits, low in the middle of the back."""
    if free.is_empty:
        return None
    left, bottom, right, top = free.bounds
    middle = (left + right) / 2
    for height in (2.2, 1.6, 1.2, 1.0):
        region = text_region(name, height)
        if region.is_empty:
            return None
        wide = region.bounds[2] - region.bounds[0]
        y = bottom + 0.5
        while y + height < top:
            for dx in (0.0, wide * 0.3, -wide * 0.3):
                label = placed(region, middle + dx, y, 0.0, mirrored=True)
                court = shapely.box(*label.bounds).buffer(0.3)
                if free.contains(court) and not any(court.intersects(other) for other in taken):
                    return label
            y += 0.8
    return None
