"""The colours along a gradient: one period of it as bands of one colour each."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator

import numpy as np
from numpy.typing import NDArray

from ..colour import ciede2000, rgb_to_lab
from .drawing import Points, Shade

Band = tuple[float, float, Points]  # from, to, colour (4,)

#: Neighbouring bands differ by about this much (CIEDE2000).
_STEP = 10.0
_MOST_EACH = 8
#: Bands of one period, and of all that are seen.
_MOST_BANDS, _MOST_SEEN = 48, 600
#: A gradient that repeats more often than this within what it fills is its mean colour there.
MOST_PERIODS = 200


def average(shade: Shade, low: float, high: float) -> Points:
    """The mean colour (4,) from one share to another, both of one period."""
    at, rgba = np.array([-1.0, *shade.at, 2.0]), np.vstack([shade.rgba[:1], shade.rgba, shade.rgba[-1:]])
    wide = np.diff(at)[:, None]
    sums = np.vstack([np.zeros(4), np.cumsum(wide * (rgba[1:] + rgba[:-1]) / 2, axis=0)])

    def sum_to(share: float) -> Points:
        place = int(np.clip(np.searchsorted(at, share, side="right") - 1, 0, len(at) - 2))
        into = share - at[place]
        slope = (rgba[place + 1] - rgba[place]) / max(at[place + 1] - at[place], 1e-12)
        return np.asarray(sums[place] + into * rgba[place] + into * into * slope / 2)

    return (sum_to(high) - sum_to(low)) / max(high - low, 1e-12)


def _counts(shade: Shade, most: int) -> NDArray[np.intp]:
    """How many bands each step between two stops is made of."""
    lab, solid = rgb_to_lab(shade.rgba[:, :3]), shade.rgba[:, 3]
    far = np.asarray(ciede2000(lab[:-1], lab[1:])) / _STEP + np.abs(np.diff(solid)) / 0.2
    wide = np.diff(np.array(shade.at)) >= 1e-9
    coarser = 1.0
    while True:
        counts = np.where(wide, np.clip(np.ceil(far * coarser), 1, _MOST_EACH), 0).astype(int)
        if counts.sum() <= most or counts.max() <= 1:
            return np.asarray(counts)
        coarser *= 0.8


def bands_of_period(shade: Shade, most: int = _MOST_BANDS) -> list[Band]:
    """The bands from its first stop to its last: as fine as its colours differ, and at most `most`."""
    counts = _counts(shade, most)
    if counts.sum() > most:
        # More stops than bands: each band has the mean of those in it.
        edges = np.linspace(shade.at[0], shade.at[-1], most + 1).tolist()
        return [(low, high, average(shade, low, high)) for low, high in itertools.pairwise(edges)]
    out: list[Band] = []
    for place in np.flatnonzero(counts).tolist():
        low, high = shade.at[place], shade.at[place + 1]
        for one, other in itertools.pairwise(np.linspace(low, high, counts[place] + 1).tolist()):
            share = ((one + other) / 2 - low) / (high - low)
            out.append((one, other, shade.rgba[place] * (1 - share) + shade.rgba[place + 1] * share))
    return out


def periods(shade: Shade, reach: tuple[float, float]) -> int:
    """How often a gradient is repeated between two shares; 0 where it is not."""
    return 0 if shade.spread == "pad" else math.ceil(reach[1]) - math.floor(reach[0])


def all_bands(shade: Shade, reach: tuple[float, float]) -> Iterator[Band]:
    """Every band between the lowest and the highest share that is seen."""
    low, high = reach
    first, last = shade.at[0], shade.at[-1]
    count = periods(shade, reach)
    if count > MOST_PERIODS:
        yield low - 1, high + 1, average(shade, 0.0, 1.0)
        return
    if not count:
        inside = bands_of_period(shade)
        if low < first or not inside:
            yield min(low, first) - 1, first, shade.rgba[0]
        yield from inside
        if high > last or not inside:
            yield last, max(high, last) + 1, shade.rgba[-1]
        return
    inside = bands_of_period(shade, min(_MOST_BANDS, max(1, _MOST_SEEN // count)))
    whole: list[Band] = [(0.0, first, shade.rgba[0])] if first > 0 else []
    whole += inside + ([(last, 1.0, shade.rgba[-1])] if last < 1 else [])
    for period in range(math.floor(low), math.ceil(high)):
        mirrored = shade.spread == "reflect" and period % 2
        for one, other, colour in whole:
            yield (period + 1 - other, period + 1 - one, colour) if mirrored else (period + one, period + other, colour)


def spans_of_colours(bands: Iterable[Band]) -> Iterator[tuple[Points, list[tuple[float, float]]]]:
    """Each colour with the spans that have it, from the lowest on; spans that meet are one."""
    found: dict[bytes, tuple[Points, list[tuple[float, float]]]] = {}
    for low, high, colour in sorted(bands, key=lambda band: band[:2]):
        spans = found.setdefault(np.round(colour, 6).tobytes(), (colour, []))[1]
        if spans and low - spans[-1][1] < 1e-9:
            spans[-1] = (spans[-1][0], max(high, spans[-1][1]))
        else:
            spans.append((low, high))
    yield from found.values()
