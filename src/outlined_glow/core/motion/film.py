"""Films on LEDs: which frame is on, and what each LED has of it."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..project import Strip
from .film_files import film_of
from .lamps import Lamps
from .shades import in_lights
from .way import Way

Numbers = NDArray[np.float64]


def film_levels(strip: Strip, lamps: Lamps, way: Way, local_s: Numbers, speed: float, fade: Any = 0.0) -> Numbers:
    """Levels (t, m, c) of the film of a strip on its LEDs; dark where the film is not there. For a share of its time, `fade`,
    which may be another one at each moment (t, 1), each frame goes over into the next one."""
    out = np.zeros((len(local_s), len(way.rows), lamps.channels))
    film = film_of(lamps.films, strip.film)
    if film is None or not len(way.rows):
        return out
    now = (local_s * speed) % film.seconds
    frame = np.minimum(np.searchsorted(film.ends_s, now, side="right"), len(film.ends_s) - 1)
    after, fades = (frame + 1) % len(film.ends_s), np.maximum(np.ravel(fade), 0.0)
    there, back = np.unique(np.concatenate([frame, after]) if fades.any() else frame, return_inverse=True)
    if film.table is not None:
        made = _of_table(film.table[there], film.lights, lamps, way)
    else:
        assert film.pixels is not None
        made = in_lights(sampled(film.pixels[there], lamps.places[way.rows]), lamps, way.rows)
    if not fades.any():
        return np.asarray(made[back], float)
    starts = np.concatenate([[0.0], film.ends_s[:-1]])
    lasts = film.ends_s - starts
    over = np.clip(((now - starts[frame]) / lasts[frame] - (1 - fades)) / np.maximum(fades, 1e-9), 0, 1)[:, None, None]
    return np.asarray(made[back[: len(now)]] * (1 - over) + made[back[len(now) :]] * over, float)


def _of_table(rows: Numbers, lights: int, lamps: Lamps, way: Way) -> Numbers:
    """Rows (f, columns) of levels in the order of the chain, so many lights of each LED one after another, on the LEDs of a
    way. One level for each LED is that of all its lights."""
    each = lights or (lamps.channels if rows.shape[1] % max(1, lamps.channels) == 0 else 1)
    cells = rows.reshape(len(rows), -1, each)
    place = np.argsort(np.argsort(lamps.chain[way.rows], kind="stable"), kind="stable")
    out = np.zeros((len(rows), len(way.rows), lamps.channels))
    there = place < cells.shape[1]
    shown = lamps.channels if each == 1 else min(each, lamps.channels)
    out[:, there, :shown] = cells[:, place[there], :shown]
    return out * (lamps.kinds[way.rows] > 0)


def sampled(pixels: NDArray[np.float32], places: Numbers) -> Numbers:
    """Frames (f, h, w, 3) at places (m, 2: mm, y up): (f, m, 3), each the mean of a square as large as LEDs are apart. The
    picture covers the box round all places, with its middle on that of the box."""
    high, wide = pixels.shape[1:3]
    low, top = places.min(axis=0), places.max(axis=0)
    pitch = _apart(places)
    box = np.maximum(top - low + pitch, 1e-6)
    per_mm = min(wide / box[0], high / box[1])
    x = (places[:, 0] - (low[0] + top[0]) / 2) * per_mm + wide / 2
    y = high / 2 - (places[:, 1] - (low[1] + top[1]) / 2) * per_mm
    half = max(0.5, pitch * per_mm / 2)
    x0, x1 = np.clip(np.round(x - half), 0, wide - 1).astype(int), np.clip(np.round(x + half), 1, wide).astype(int)
    y0, y1 = np.clip(np.round(y - half), 0, high - 1).astype(int), np.clip(np.round(y + half), 1, high).astype(int)
    x1, y1 = np.maximum(x1, x0 + 1), np.maximum(y1, y0 + 1)
    whole = np.zeros((len(pixels), high + 1, wide + 1, 3))
    whole[:, 1:, 1:] = pixels.cumsum(axis=1, dtype=float).cumsum(axis=2)
    total = whole[:, y1, x1] - whole[:, y0, x1] - whole[:, y1, x0] + whole[:, y0, x0]
    return np.asarray(np.clip(total / ((x1 - x0) * (y1 - y0))[:, None], 0, 1), float)


def _apart(places: Numbers) -> float:
    """How far apart places usually are from their nearest one, mm."""
    from scipy.spatial import cKDTree  # only who plays a film loads it

    if len(places) < 2:
        return 1.0
    return float(np.median(cKDTree(places).query(places, k=2)[0][:, 1]))
