"""A board that is swung by hand: the lines that its lights draw in the eye, with the gaps that their pulses leave."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..project import Drive, Motion
from ..units import show
from ..watch import give_way
from .instant import Pulses, instant_levels
from .lamps import Lamps

Numbers = NDArray[np.float64]
Pixels = NDArray[np.uint8]
#: The picture: at most so many pixels along, and so many to a mm; the ground it is on.
_MOST_PX, _PX_PER_MM, _GROUND = 1600, 4.0, (14, 12, 18)
#: Moments in each turn of the quickest pulse, and of all at most; how wide a light is drawn, mm.
_IN_TURN, _MOST_MOMENTS, _WIDE_MM = 24, 6000, 1.4
#: Without pulses there are so many moments a second.
_STEADY_HZ = 2000.0


@dataclass(frozen=True, eq=False)
class Swung:
    """The picture that is drawn (h, w, 3); how far apart the flashes of one light lie, mm (None: it is not switched); how far
    apart LEDs are across the way, mm, and how long a column as wide as that lasts, s."""

    picture: Pixels
    px_per_mm: float
    hz: float
    gap_mm: float | None
    pitch_mm: float
    column_s: float

    @property
    def needs_hz(self) -> float:
        """How often light has to be told anew for columns as wide as LEDs are apart."""
        return 1 / self.column_s


def swung(
    drive: Drive, motion: Motion, lamps: Lamps, pulses: Pulses, *, speed_m_s: float, angle_deg: float = 0.0,
    seconds: float = 0.2, start_s: float = 0.0,
) -> Swung:  # fmt: skip
    """A board that moves at a speed along a direction (0: to the right) for a time, seen by an eye that stands still."""
    way = np.array([math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))])
    hz = pulses.slowest_hz
    quick = max(float(pulses.hz.max(initial=0.0)) * _IN_TURN / max(float(pulses.part.min(initial=1.0)), 1 / 64), _STEADY_HZ)
    count = int(min(_MOST_MOMENTS, max(2, quick * seconds)))
    # Fewer moments than the pulses ask for lie anywhere in their share of the time: in a grid some pulses would never be seen.
    within = 0.5 if count >= quick * seconds - 1 else np.random.default_rng(count).random(count)
    times = start_s + seconds * (np.arange(count) + within) / count
    travel = 1000 * speed_m_s * seconds * way
    low = np.minimum(lamps.places.min(axis=0), lamps.places.min(axis=0) + travel) - 3.0
    high = np.maximum(lamps.places.max(axis=0), lamps.places.max(axis=0) + travel) + 3.0
    scale = min(_PX_PER_MM, _MOST_PX / float((high - low).max()))
    wide, tall = (max(1, math.ceil(side * scale)) for side in (high - low).tolist())
    sums = np.zeros((tall * wide, 3))
    for first in range(0, count, 256):
        give_way()
        some = times[first : first + 256]
        lit = instant_levels(drive, motion, lamps, pulses, some)
        moved = lamps.places[None] + 1000 * speed_m_s * (some - start_s)[:, None, None] * way
        x = np.clip(((moved[..., 0] - low[0]) * scale).astype(np.intp), 0, wide - 1)
        y = np.clip(((high[1] - moved[..., 1]) * scale).astype(np.intp), 0, tall - 1)
        colours = np.einsum("tnc,nck->tnk", lit, lamps.shades / 255.0)
        for at in range(3):
            sums[:, at] += np.bincount((y * wide + x).ravel(), colours[..., at].ravel(), tall * wide)
    pitch = _pitch(lamps.places, way)
    return Swung(
        _developed(sums.reshape(tall, wide, 3), scale), scale, hz, 1000 * speed_m_s / hz if hz else None, pitch,
        pitch / (1000 * speed_m_s),
    )  # fmt: skip


def _pitch(places: Numbers, way: Numbers) -> float:
    """How far apart LEDs lie across the way, mm: the usual step between their tracks, or that along it where there is one."""
    for axis in (np.array([-way[1], way[0]]), way):
        steps = np.diff(np.unique(np.round(places @ axis, 2)))
        steps = steps[steps > 0.3]
        if len(steps):
            return float(np.median(steps))
    return 1.0


def _developed(sums: Numbers, scale: float) -> Pixels:
    """The sums of light as a picture: each light as wide as it is, the brightest line full."""
    from scipy.ndimage import gaussian_filter  # only who asks loads it

    radius = _WIDE_MM / 2 * scale
    soft = gaussian_filter(sums, (radius / 1.6, radius / 1.6, 0))
    most = float(np.quantile(soft.max(axis=-1)[soft.max(axis=-1) > 0], 0.995)) if (soft > 0).any() else 1.0
    light = np.clip(soft / max(most, 1e-9), 0, 1) ** 0.6
    ground = np.array(_GROUND, float)
    return np.asarray(np.round(ground + (255 - ground) * light), np.uint8)


def swung_rows(one: Swung) -> list[tuple[str, str]]:
    """What there is to say of it, in words."""
    light = f"{one.hz:.0f} Hz" if one.hz else "no, it is steady"
    gap = "none" if one.gap_mm is None else f"{show(one.gap_mm, 1)} mm"
    return [
        ("light is switched", light),
        ("flashes are apart by", gap),
        (f"a column of {show(one.pitch_mm, 1)} mm lasts", f"{show(1000 * one.column_s, 2)} ms"),
        ("such columns need", f"{one.needs_hz:.0f} Hz"),
    ]
