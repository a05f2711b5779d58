"""What an eye sees that moves past a board, or that a board moves past: its lights one pulse after another."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ..errors import Trouble
from ..motion.instant import Pulses, instant_at, pulses_of
from ..motion.swung import Swung, swung
from ..project import Motion
from .work import Work

#: How fast a board may be swung, m/s, and for how long it is looked at, s.
FASTEST_M_S, LONGEST_S = 30.0, 2.0


def pulses(work: Work) -> Pulses:
    """How the lights of a board are switched."""
    return pulses_of(work.plan, work.design.drive, work.leds, work.lamps)


def instant(work: Work, switching: Pulses, motion: Motion, time_s: float, span_s: float) -> NDArray[np.float64]:
    """What is lit (n, c) in a frame of slow motion."""
    return instant_at(work.design.drive, motion, work.lamps, switching, time_s, span_s)


def swing(work: Work, speed_m_s: float, angle_deg: float = 0.0, seconds: float = 0.2, start_s: float = 0.0) -> Swung:
    """The picture that a board draws which is swung by hand. `Trouble` where it has no lights, or that is out of range."""
    if not work.leds:
        raise Trouble("This board has no LEDs yet; there is nothing to see.")
    if not 0.01 <= speed_m_s <= FASTEST_M_S or not 0.005 <= seconds <= LONGEST_S:
        raise Trouble(f"A board is swung at 0.01 to {FASTEST_M_S:g} m/s, and looked at for 5 ms to {LONGEST_S:g} s.")
    return swung(
        work.design.drive, work.project.motion, work.lamps, pulses(work), speed_m_s=speed_m_s, angle_deg=angle_deg,
        seconds=seconds, start_s=start_s,
    )  # fmt: skip


def swing_facts(one: Swung) -> dict[str, Any]:
    """It in figures, for the command line."""
    return {
        "refresh_hz": one.hz or None, "gap_mm": None if one.gap_mm is None else round(one.gap_mm, 3),
        "pitch_mm": round(one.pitch_mm, 3), "column_s": round(one.column_s, 6), "needs_hz": round(one.needs_hz, 2),
    }  # fmt: skip


def swing_png(one: Swung) -> bytes:
    """The picture as a file."""
    out = io.BytesIO()
    Image.fromarray(one.picture).save(out, "PNG")
    return out.getvalue()
