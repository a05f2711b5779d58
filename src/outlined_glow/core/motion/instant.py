"""What is lit at a moment so short that the turns of a scan and the pulses of dimmed light are seen one by one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..drive import DrivePlan
from ..drive.carriers import turns_of
from ..lights import Led
from ..project import Drive, Motion
from .lamps import Lamps
from .truth import real_levels, shares_of

Numbers = NDArray[np.float64]
#: Moments of which the light of a span is the mean.
_SAMPLES = 24


@dataclass(frozen=True, eq=False)
class Pulses:
    """How each light (n, c) is switched: `hz` times a second (0: it is not), from the share `begin` of such a turn on, for at
    most the share `part` of it."""

    hz: Numbers
    begin: Numbers
    part: Numbers

    @property
    def slowest_hz(self) -> float:
        """Of all that are switched; 0 where none is."""
        there = self.hz[self.hz > 0]
        return float(there.min()) if there.size else 0.0


def pulses_of(plan: DrivePlan, drive: Drive, leds: Sequence[Led], lamps: Lamps) -> Pulses:
    """How the lights of a board are switched as they are driven."""
    shape = (lamps.count, lamps.channels)
    hz, begin, part = np.zeros(shape), np.zeros(shape), np.ones(shape)
    for way, own, rows in shares_of(drive, lamps):
        if len(rows) and way.programmed(own):
            hz[rows] = way.pulses_hz
    turns = turns_of(plan, drive, leds)
    many: dict[int, int] = {}
    for which, number in turns.values():
        many[which] = max(many.get(which, 0), number)
    for row, (index, names) in enumerate(zip(lamps.indices, lamps.light_names, strict=True)):
        for at, name in enumerate(names):
            turn = turns.get((index, name))
            if turn is not None:
                begin[row, at], part[row, at] = (turn[1] - 1) / many[turn[0]], 1 / many[turn[0]]
    return Pulses(hz, begin, part)


def switched(levels: Numbers, pulses: Pulses, times_s: Numbers) -> Numbers:
    """Levels (t, n, c) as they are at each moment: 1 or 0 where light is switched, so that the mean over a turn, as a share of
    the most that the light can give, is the level."""
    phase = np.mod(times_s[:, None, None] * pulses.hz, 1.0)
    since = np.mod(phase - pulses.begin, 1.0)
    on = since < levels * pulses.part
    return np.where(pulses.hz > 0, on.astype(float), levels)


def instant_levels(drive: Drive, motion: Motion, lamps: Lamps, pulses: Pulses, times_s: Sequence[float] | Numbers) -> Numbers:
    """What is lit (t, n, c) at moments, as the LEDs are driven."""
    times = np.asarray(times_s, float)
    return switched(real_levels(drive, motion, lamps, times), pulses, times)


def instant_at(drive: Drive, motion: Motion, lamps: Lamps, pulses: Pulses, time_s: float, span_s: float) -> Numbers:
    """The mean (n, c) of what is lit from a moment on, for a span: what one frame of slow motion shows. A light that takes one
    of several turns is as bright as the eye takes it for when its turn comes."""
    times = time_s + span_s * (np.arange(_SAMPLES) + 0.5) / _SAMPLES
    wanted = real_levels(drive, motion, lamps, [time_s])
    made = switched(np.repeat(wanted, _SAMPLES, axis=0), pulses, times).mean(axis=0)
    return np.asarray(np.minimum(made, 1.0), float)
