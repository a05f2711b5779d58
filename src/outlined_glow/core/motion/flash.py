"""Flash safety: general and red flashes of what plays, as WCAG 2.2 counts them (DOMAIN 12)."""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..colour.difference import TO_XYZ, to_linear
from ..compiled import kernel
from ..geometry.prepared import prepared
from ..project import Motion, Strip
from ..watch import give_way
from .briefest import times_as_often
from .lamps import Lamps
from .score import levels, strips_of

Numbers = NDArray[np.float64]
#: A change counts from so much of full scale on, where the darker side is under so much.
CHANGE, DARKER = 0.1, 0.8
#: Flashes in a second that are allowed; the area that may flash more often, sr; half the field it is looked for in.
ALLOWED, AREA_SR, HALF_FIELD_DEG = 3, 0.006, 5.0
#: Saturated red: this share of the three parts; and the change in u'v' that counts.
RED_SHARE, RED_CHANGE = 0.8, 0.2
#: Below this share of its light an LED is dark, which counts as white.
_DARK = 0.1
#: The source is looked at so often a second, this many moments at once; some seconds longer than once round, for it begins
#: again and its end flashes with its beginning.
_A_SECOND, _AT_ONCE, _AGAIN_S = 60, 1200, 3.0
#: What flashes or goes round so often a second may do so too often: its briefest light is looked at so often.
_OFTEN_HZ, _LOOKS = 0.8, 2.5
#: Squares of the board that are dealt out to the LEDs.
_SQUARES = 20_000
_WHITE_UV = np.array([0.1978, 0.4683])


@dataclass(frozen=True)
class Flashes:
    """Flashes of the general or the red kind: the most in any second, the area that flashes more often than is allowed, sr,
    when that is worst, s, and the most of every second."""

    most: float
    area_sr: float
    worst_s: float
    seconds: tuple[float, ...]

    def once_round(self, round_s: float) -> tuple[float, ...]:
        """The most of every second of one round: what was counted beyond its end is of its beginning."""
        count = max(1, min(len(self.seconds), math.ceil(round_s - 1e-9)))
        return tuple(max(self.seconds[at::count]) for at in range(count)) if self.seconds else ()

    @property
    def safe(self) -> bool:
        """Whether nothing larger than is allowed flashes more often than is allowed."""
        return self.area_sr <= AREA_SR


@dataclass(frozen=True)
class FlashReport:
    """What of a motion flashes, seen from a distance, m."""

    general: Flashes
    red: Flashes
    distance_m: float

    @property
    def safe(self) -> bool:
        """Whether neither kind is unsafe."""
        return self.general.safe and self.red.safe

    @property
    def worst(self) -> Flashes:
        """The kind that is worse."""
        return max((self.general, self.red), key=lambda one: (one.area_sr, one.most))


#: The latest reports: findings, window and files ask for the same.
_KNOWN: deque[tuple[Motion, Lamps, BaseGeometry, float, FlashReport]] = deque(maxlen=8)


def flash_report(motion: Motion, lamps: Lamps, outline: BaseGeometry, distance_m: float) -> FlashReport:
    """What of a motion flashes on a board, seen from a distance, m. The latest ones are remembered."""
    for known, table, edge, metres, report in tuple(_KNOWN):
        alike = edge is outline or (edge.bounds == outline.bounds and edge.area == outline.area)
        if table is lamps and alike and metres == distance_m and known == motion:
            return report
    made = flashes(motion, lamps, cells_mm2(outline, lamps), distance_m)
    _KNOWN.append((motion, lamps, outline, distance_m, made))
    return made


def cells_mm2(outline: BaseGeometry, lamps: Lamps) -> Numbers:
    """The part of the board (n,) that is nearest to each LED, mm²."""
    from scipy.spatial import cKDTree  # only who asks loads it

    if not lamps.count:
        return np.zeros(0)
    left, bottom, right, top = outline.bounds
    side = math.sqrt(max((right - left) * (top - bottom), 1e-9) / _SQUARES)
    x, y = (
        grid.ravel() for grid in np.meshgrid(np.arange(left + side / 2, right, side), np.arange(bottom + side / 2, top, side))
    )
    inside = shapely.contains_xy(prepared(outline), x, y)
    nearest = cKDTree(lamps.places).query(np.column_stack([x[inside], y[inside]]))[1]
    return np.asarray(np.bincount(nearest, minlength=lamps.count), float) * float(outline.area / max(1, int(inside.sum())))


def flashes(motion: Motion, lamps: Lamps, cells: Numbers, distance_m: float) -> FlashReport:
    """What of a motion flashes, each LED standing for its cell (n,), mm²."""
    if (motion.is_steady and not motion.ambient.feed) or not lamps.count:
        none = Flashes(0.0, 0.0, 0.0, ())
        return FlashReport(none, none, distance_m)
    whole = motion.seconds + _AGAIN_S
    general, red = _Counter(lamps, cells, distance_m, whole), _Counter(lamps, cells, distance_m, whole)
    bright, reds = _Changes(lamps.count), _RedChanges(lamps.count)
    for at, many, shown in _shown(motion, lamps, whole):
        give_way()
        light = _luminance(lamps, shown)
        general.count(at, _of_moments(bright.changed(light), many))
        coloured = _coloured(lamps, shown)
        if coloured is not None:
            red.count(at, _of_moments(reds.changed(light, *coloured), many))
    return FlashReport(general.found(), red.found(), distance_m)


def _shown(motion: Motion, lamps: Lamps, whole: float) -> Iterator[tuple[int, int, Numbers]]:
    """The number of a moment, in how many steps it and those after it are looked at, and their levels (t, n, c)."""
    count, strips = max(2, round(whole * _A_SECOND)), strips_of(motion)
    for start in range(0, count, _AT_ONCE):
        end = min(count, start + _AT_ONCE)
        some = [one for one in strips if end > motion.seconds * _A_SECOND or _plays(one, start, end)]
        many = times_as_often(some, motion, lamps, _A_SECOND, _LOOKS, each=True, from_hz=_OFTEN_HZ)
        each = max(1, _AT_ONCE // many)
        for first in range(start, end, each):
            steps = np.arange(first * many, min(end, first + each) * many)
            yield first, many, levels(motion, lamps, (steps + 0.5) / (_A_SECOND * many))


def _plays(strip: Strip, first: int, last: int) -> bool:
    return strip.start_s * _A_SECOND < last and strip.end_s * _A_SECOND > first


def _of_moments(changed: NDArray[np.bool_], many: int) -> NDArray[np.uint8]:
    """How many changes (t, n) each LED has in each moment, of those in its steps."""
    small = changed.view(np.uint8)
    return small if many == 1 else small.reshape(-1, many, changed.shape[1]).sum(axis=1, dtype=np.uint8)


def _weights(lamps: Lamps) -> Numbers:
    """What each light adds to the luminance of its LED (n, c), all of them together 1."""
    weight = (to_linear(lamps.shades) @ TO_XYZ[1] + 1e-6) * (lamps.kinds > 0)
    return np.asarray(weight / weight.sum(axis=1, keepdims=True), float)


def _luminance(lamps: Lamps, shown: Numbers) -> Numbers:
    if lamps.channels == 1:
        return np.asarray(shown[..., 0], float)
    return np.asarray(np.einsum("tnc,nc->tn", shown, _weights(lamps)), float)


def _coloured(lamps: Lamps, shown: Numbers) -> tuple[NDArray[np.bool_], Numbers] | None:
    """Which LEDs are saturated red (t, n), and their colours (t, n, 2) in u'v'; None where no light is red."""
    lights = to_linear(lamps.shades) * (lamps.kinds > 0)[..., None]
    whole = lights.sum(axis=-1)
    if not (lights[..., 0] >= RED_SHARE * np.maximum(whole, 1e-9)).any():
        return None
    light = np.einsum("tnc,nck->tnk", shown, lights)
    total = light.sum(axis=-1)
    is_red = light[..., 0] >= RED_SHARE * np.maximum(total, 1e-12)
    x, y, z = np.moveaxis(light @ TO_XYZ.T, -1, 0)
    below = np.maximum(x + 15 * y + 3 * z, 1e-12)
    return is_red, np.stack([4 * x / below, 9 * y / below], axis=-1)


@kernel("void(f4[:,::1], i1[::1], f4[::1], f4[::1], f4, f4, u1[:,::1])", exact=True)
def _find_changes(light: Any, way: Any, low: Any, high: Any, change: Any, darker: Any, out: Any) -> None:
    """Where (t, n) luminance comes to a change; `way`, `low` and `high` (n,) are where each LED was, and go on."""
    for t in range(light.shape[0]):
        for n in range(light.shape[1]):
            now = light[t, n]
            if way[n] <= 0 and now - low[n] >= change and low[n] < darker:
                way[n], high[n], out[t, n] = 1, now, 1
            elif way[n] >= 0 and high[n] - now >= change and now < darker:
                way[n], low[n], out[t, n] = -1, now, 1
            low[n], high[n] = min(low[n], now), max(high[n], now)


def find_changes(light: Any, way: Any, low: Any, high: Any, change: Any, darker: Any, out: Any) -> None:
    """The same, a moment after the other."""
    for t, now in enumerate(light):
        rose = (way <= 0) & (now - low >= change) & (low < darker)
        fell = (way >= 0) & (high - now >= change) & (now < darker) & ~rose
        way[rose], way[fell] = 1, -1
        high[rose], low[fell] = now[rose], now[fell]
        np.minimum(low, now, out=low)
        np.maximum(high, now, out=high)
        out[t] = rose | fell


@kernel("void(u1[:,::1], i2[::1], i2[::1], i2, u1[:,::1])", exact=True)
def _slide(rows: Any, window: Any, most: Any, allowed: Any, often: Any) -> None:
    """The changes (n,) of every second, whose moments begin one after another: the most of any LED (t,), and where (t, n) there
    are more than are allowed. `window` is the sum of all moments of the first one but the last."""
    last = rows.shape[0] - len(most)
    for t in range(len(most)):
        for n in range(rows.shape[1]):
            count = window[n] + rows[t + last, n]
            most[t] = max(most[t], count)
            often[t, n] = count > allowed
            window[n] = count - rows[t, n]


def slide(rows: Any, window: Any, most: Any, allowed: Any, often: Any) -> None:
    """The same, a moment after the other."""
    last = len(rows) - len(most)
    for t in range(len(most)):
        window += rows[t + last]
        most[t] = window.max()
        often[t] = window > allowed
        window -= rows[t]


def changes_of_seconds(rows: NDArray[Any]) -> tuple[NDArray[np.int16], NDArray[np.bool_]]:
    """Of changes (moments, n): the most (t,) that any LED has in the second from each moment on, and where (t, n) there are
    more than may be."""
    small = rows.view(np.uint8)
    count = len(rows) - _A_SECOND + 1
    window = small[: _A_SECOND - 1].sum(axis=0, dtype=np.int16)
    most, often = np.zeros(count, np.int16), np.zeros((count, rows.shape[1]), np.uint8)
    run = _slide if _slide.made else slide
    run(small, window, most, np.int16(2 * ALLOWED), often)
    return most, often.view(bool)


class _Changes:
    """Opposing changes of luminance, LED by LED."""

    def __init__(self, count: int) -> None:
        self._way = np.zeros(count, np.int8)
        self._low = self._high = np.zeros(0, np.float32)

    def changed(self, light: Numbers) -> NDArray[np.bool_]:
        """Where (t, n) an LED comes to a change with its luminance (t, n)."""
        small = np.ascontiguousarray(light, np.float32)
        if not len(self._low):
            self._low, self._high = small[0].copy(), small[0].copy()
        out = np.zeros(small.shape, np.uint8)
        run = _find_changes if _find_changes.made else find_changes
        # A change that is meant to be of a tenth may lack a little by the arithmetic of small numbers.
        run(small, self._way, self._low, self._high, np.float32(CHANGE - 1e-6), np.float32(DARKER), out)
        return out.astype(bool)


class _RedChanges:
    """Changes to or from a saturated red, LED by LED."""

    def __init__(self, count: int) -> None:
        self._red = np.zeros(count, bool)
        self._where = np.tile(_WHITE_UV, (count, 1))
        self._begun = False

    def changed(self, light: Numbers, is_red: NDArray[np.bool_], where: Numbers) -> NDArray[np.bool_]:
        """Where (t, n) an LED has become a saturated red or left it."""
        dark = light < _DARK
        reds = is_red & ~dark
        places = np.where(dark[..., None], _WHITE_UV, where)
        out = np.zeros(light.shape, bool)
        for step, (red, now) in enumerate(zip(reds, places, strict=True)):
            if not self._begun:
                self._red, self._where, self._begun = red.copy(), now.copy(), True
            moved = np.hypot(*(now - self._where).T) > RED_CHANGE
            if moved.any():
                out[step] = moved & (red | self._red)
                self._red = np.where(moved, red, self._red)
                self._where = np.where(moved[:, None], now, self._where)
        return out


class _Counter:
    """Changes of the last second, LED by LED, and the worst that was seen."""

    def __init__(self, lamps: Lamps, cells: Numbers, distance_m: float, whole_s: float) -> None:
        self._tail = np.zeros((_A_SECOND - 1, lamps.count), np.uint8)
        self._places, self._cells, self._distance = lamps.places, cells, distance_m
        self._seconds = np.zeros(max(1, math.ceil(whole_s)))
        self._most, self._area, self._worst_s = 0.0, 0.0, 0.0

    def count(self, first: int, changed: NDArray[np.uint8]) -> None:
        """Take the changes (t, n) of the moments from the first one on."""
        rows = np.concatenate([self._tail, changed])
        self._tail = rows[-(_A_SECOND - 1) :]
        if not rows.any():
            return
        counts, often = changes_of_seconds(rows)
        most = counts / 2
        # What was counted is of the second that ends then: its middle says which one that is.
        second = np.maximum(0, first + np.arange(len(changed)) - _A_SECOND // 2) // _A_SECOND
        np.maximum.at(self._seconds, np.minimum(second, len(self._seconds) - 1), most)
        at = int(np.argmax(most))
        if most[at] > self._most and not self._area:
            self._worst_s = (first + at) / _A_SECOND
        self._most = max(self._most, float(most[at]))
        known: dict[bytes, float] = {}
        for step in np.flatnonzero(most > ALLOWED).tolist():
            mark = often[step].tobytes()
            if mark not in known:
                known[mark] = self._area_of(often[step])
                if known[mark] > self._area:
                    self._area, self._worst_s = known[mark], (first + step) / _A_SECOND

    def _area_of(self, often: NDArray[np.bool_]) -> float:
        """The largest area that flashes too often within the field, sr."""
        whole = float(self._cells[often].sum()) / (1000 * self._distance) ** 2
        if whole <= max(AREA_SR, self._area):
            return whole
        from scipy.spatial import cKDTree  # only who flashes loads it

        places, cells = self._places[often], self._cells[often]
        tree = cKDTree(places)
        near = tree.query_ball_point(places, 1000 * self._distance * math.tan(math.radians(HALF_FIELD_DEG)))
        return max(float(cells[some].sum()) for some in near) / (1000 * self._distance) ** 2

    def found(self) -> Flashes:
        """What was seen."""
        rounds = self._seconds
        return Flashes(self._most, self._area, self._worst_s, tuple(rounds.tolist()))
