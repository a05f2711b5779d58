"""The few colours of a picture: clusters in CIELAB, seeded, and each pixel's nearest one."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np
from numpy.typing import NDArray

from ...colour import ciede2000, rgb_to_lab
from ...geometry.cracks import Labels
from .read import Pixels

#: Colours are looked up in a table of this many steps a channel.
_BITS = 6
_STEPS = 1 << _BITS
_ROUNDS = 25
#: Clusters nearer than this are one colour (CIEDE2000); twice so near if one is so small beside the other.
_SAME, _SMALL = 3.0, 0.15
#: A pixel that differs from its neighbours by less lies within an even area.
_EVEN = 16
#: Pixels from this size, mm, and of no more colours than that are squares that somebody set.
_SQUARE_MM, _FEW = 0.4, 24
#: Neighbours so far to either side say whether a pixel lies on a soft edge; so many pixels say what colours there are.
_REACH, _SAMPLE = 2, 1_000_000


@dataclass(frozen=True, eq=False)
class Palette:
    """Colours (k, 3) sRGB, and the table (64³,) from a coarse colour to the nearest of them."""

    colours: NDArray[np.uint8]
    table: Labels


def coarse(pixels: Pixels) -> NDArray[np.int32]:
    """The place of each pixel's colour in a table of 64 steps a channel, (h, w)."""
    down = 8 - _BITS
    out = (pixels[..., 0] >> down).astype(np.int32)
    for channel in (1, 2):
        out <<= _BITS
        out |= pixels[..., channel] >> down
    return out


@cache
def cell_labs() -> NDArray[np.float64]:
    """The CIELAB of every cell of the table, (64³, 3)."""
    return rgb_to_lab(cell_colours())


@cache
def cell_colours() -> NDArray[np.float64]:
    """The sRGB middle of every cell of the table, (64³, 3)."""
    steps = (np.arange(_STEPS) + 0.5) * (256 / _STEPS) - 0.5
    return np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), axis=-1).reshape(-1, 3)


def find_palette(pixels: Pixels, cells: NDArray[np.int32], wanted: NDArray[np.bool_] | None, count: int, seed: int) -> Palette:
    """At most `count` colours for the pixels that are wanted (all, if None); ones that look alike are joined."""
    calm = _calm(pixels, wanted)
    weights = np.bincount(cells[calm], minlength=_STEPS**3).astype(float)
    used = np.flatnonzero(weights)
    lab = cell_labs()[used]
    centres = _joined(*_clusters(lab, weights[used], min(count, len(used)), seed))
    table = _nearest(cell_labs(), centres)
    colours = _true_colours(pixels, cells, calm, table, len(centres))
    return Palette(colours, table)


def _calm(pixels: Pixels, wanted: NDArray[np.bool_] | None) -> NDArray[np.bool_]:
    """A sample of the pixels without those of soft edges, whose colours are mixtures and none of the picture's own."""
    height, width = pixels.shape[:2]
    step = max(1, int(np.sqrt(height * width / _SAMPLE)))
    out = np.zeros((height, width), bool)
    out[::step, ::step] = True if wanted is None else wanted[::step, ::step]
    if wanted is not None and not out.any():
        # So little is wanted that the sample fell beside it.
        out = wanted.copy()
    brush = np.ones((3, 3), np.uint8)
    steps = cv2.dilate(pixels, brush) - cv2.erode(pixels, brush)
    uneven = (steps[..., 0] >= _EVEN) | (steps[..., 1] >= _EVEN) | (steps[..., 2] >= _EVEN)
    # A pixel at the rim of the picture has no neighbours to lie between.
    uneven[:_REACH], uneven[-_REACH:], uneven[:, :_REACH], uneven[:, -_REACH:] = False, False, False, False
    places = np.flatnonzero(out & uneven)
    mixed = _mixed(pixels.reshape(-1, 3), places, width)
    # Where everything is a shade there are no colours but those.
    if np.count_nonzero(mixed) < 0.7 * np.count_nonzero(out):
        out.ravel()[places[mixed]] = False
    return out


def _mixed(flat: NDArray[np.uint8], places: NDArray[np.int64], width: int) -> NDArray[np.bool_]:
    """Whether the colour of each pixel lies between those on two opposite sides of it."""
    own = flat[places].astype(np.float32)
    out = np.zeros(len(places), bool)
    for reach in range(1, _REACH + 1):
        for side in (1, width, width + 1, width - 1):
            one, other = flat[places - reach * side].astype(np.float32), flat[places + reach * side].astype(np.float32)
            way, here = other - one, own - one
            length = np.maximum((way * way).sum(axis=1), 1.0)
            along = (here * way).sum(axis=1) / length
            off = (here * here).sum(axis=1) - along**2 * length
            out |= (length >= _EVEN**2) & (along > 0.06) & (along < 0.94) & (off < 0.05 * length)
    return out


def _clusters(
    lab: NDArray[np.float64], weights: NDArray[np.float64], count: int, seed: int
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Lloyd's clusters of weighted points (n, 3), begun far apart from one another by chance with a seed: their middles
    and weights, the heaviest first."""
    chance = np.random.default_rng(seed)
    # The square root keeps small areas of a colour of their own from drowning.
    pull = np.sqrt(weights)
    centres = lab[[int(np.argmax(weights))]]
    far = ((lab - centres[0]) ** 2).sum(axis=1)
    while len(centres) < count and float(far.max()) > 0:
        odds = far * pull
        centres = np.vstack([centres, lab[chance.choice(len(lab), p=odds / odds.sum())]])
        far = np.minimum(far, ((lab - centres[-1]) ** 2).sum(axis=1))
    for _ in range(_ROUNDS):
        mine = _nearest(lab, centres)
        total = np.bincount(mine, pull, len(centres))
        moved = np.stack([np.bincount(mine, pull * lab[:, axis], len(centres)) for axis in range(3)], axis=1)
        new = np.where(total[:, None] > 0, moved / np.maximum(total, 1e-12)[:, None], centres)
        if np.abs(new - centres).max() < 0.02:
            break
        centres = new
    heavy = np.bincount(_nearest(lab, centres), weights, len(centres)).astype(float)
    order = np.argsort(-heavy, kind="stable")
    return centres[order], heavy[order]


def _joined(centres: NDArray[np.float64], heavy: NDArray[np.float64]) -> NDArray[np.float64]:
    """Without those that look like a heavier one; a small one is soon a shade that a lossy file made of it."""
    kept: list[int] = []
    for place, one in enumerate(centres):
        far = ciede2000(one, centres[kept]) if kept else np.array([])
        if (far >= np.where(heavy[place] < _SMALL * heavy[kept], 2 * _SAME, _SAME)).all():
            kept.append(place)
    return centres[kept]


def _nearest(lab: NDArray[np.float64], centres: NDArray[np.float64]) -> Labels:
    best = np.full(len(lab), np.inf)
    out = np.zeros(len(lab), np.uint8)
    for place, centre in enumerate(centres):
        far = ((lab - centre) ** 2).sum(axis=1)
        closer = far < best
        best[closer], out[closer] = far[closer], place
    return out


def pixels_are_drawn(pixels: Pixels, gone: NDArray[np.bool_] | None, pitch: float) -> bool:
    """Whether each pixel was drawn as a square: they are large on the board (`pitch`, mm), and of few colours, whereas a
    small picture with soft edges has many. Those keep their corners."""
    if pitch < _SQUARE_MM:
        return False
    kept = pixels.reshape(-1, 3) if gone is None else pixels[~gone]
    # A few thousand of them tell a photograph from a drawing at once.
    for some in (kept[:: 1 + len(kept) // 4096], kept):
        if len(np.unique(some.astype(np.int32) @ np.array([65536, 256, 1], np.int32))) > _FEW:
            return False
    return True


def _true_colours(
    pixels: Pixels, cells: NDArray[np.int32], calm: NDArray[np.bool_], table: Labels, count: int
) -> NDArray[np.uint8]:
    """The commonest exact colour of each cluster where one stands out (flat art), else the mean of a sample."""
    sample, mine = pixels[calm], table[cells[calm]]
    out = np.zeros((count, 3), np.uint8)
    for place in range(count):
        group = sample[mine == place]
        if not len(group):
            inside = cell_colours()[table == place]
            out[place] = np.round(inside.mean(axis=0)).astype(np.uint8)
            continue
        packed = group.astype(np.int32) @ np.array([65536, 256, 1], np.int32)
        values, often = np.unique(packed, return_counts=True)
        top = int(np.argmax(often))
        if often[top] >= 0.2 * len(group):
            out[place] = [values[top] >> 16, values[top] >> 8 & 255, values[top] & 255]
        else:
            out[place] = np.round(group.mean(axis=0)).astype(np.uint8)
    return out


def mend_fringes(labels: Labels, pixels: Pixels, colours: NDArray[np.uint8]) -> None:
    """Soft edges, in place: a pixel whose colour lies between those on its two sides belongs to one of these.

    Without this a grey of the palette would line every edge between black and white.
    """
    count = len(colours)
    between = _between(colours.astype(float))
    height, width = labels.shape
    for reach in (1, 2):
        flat = labels.ravel()
        edge = np.zeros(labels.shape, bool)
        edge[:, 1:] |= labels[:, 1:] != labels[:, :-1]
        edge[:, :-1] |= edge[:, 1:]
        edge[1:] |= labels[1:] != labels[:-1]
        places = np.flatnonzero(edge)
        rows, columns = np.divmod(places, width)
        inside = (rows >= reach) & (rows < height - reach) & (columns >= reach) & (columns < width - reach)
        places = places[inside]
        places = places[flat[places] < count]
        for step in (1, width, width + 1, width - 1):
            one, other, here = flat[places - reach * step], flat[places + reach * step], flat[places]
            good = (one < count) & (other < count) & (one != here) & (other != here) & (one != other)
            some = np.flatnonzero(good)
            some = some[between[here[some], one[some], other[some]]]
            if not len(some):
                continue
            a, b = colours[one[some]].astype(float), colours[other[some]].astype(float)
            own = pixels.reshape(-1, 3)[places[some]].astype(float)
            along = ((own - a) * (b - a)).sum(axis=1) / ((b - a) ** 2).sum(axis=1)
            flat[places[some]] = np.where(along < 0.5, one[some], other[some])


def _between(colours: NDArray[np.float64]) -> NDArray[np.bool_]:
    """[c, a, b]: whether colour c lies near the straight way from a to b."""
    count = len(colours)
    out = np.zeros((count, count, count), bool)
    for a in range(count):
        for b in range(count):
            way = colours[b] - colours[a]
            length = float(way @ way)
            if a == b or length == 0:
                continue
            along = (colours - colours[a]) @ way / length
            off = np.linalg.norm(colours - colours[a] - along[:, None] * way, axis=1)
            out[:, a, b] = (along > 0.05) & (along < 0.95) & (off < 0.22 * np.sqrt(length))
    return out
