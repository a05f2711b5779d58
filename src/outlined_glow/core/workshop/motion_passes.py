"""The passes after the board: the table of LEDs that a motion plays on, whether it is shown, and how long the supply lasts."""

from __future__ import annotations

from ..drive import DrivePlan, RunTime
from ..drive.methods import ways_of
from ..motion import Lamps, average_share, lamps_of
from ..motion.currents import played
from ..motion.film_files import read_films
from ..motion.lamps import regions_of
from ..passes import Pass
from ..project import Drive, Motion


def _shown(drive: Drive, motion: Motion) -> bool:
    """Whether the LEDs as they are driven can show a motion."""
    return all(way.can_show(own, motion) for way, own in ways_of(drive))


def _run(plan: DrivePlan, shown: bool, motion: Motion, lamps: Lamps) -> RunTime | None:
    """How long the supply lasts: with the motion where that is shown, else as the circuit lights the LEDs by itself; None where
    it does not end."""
    if plan.steady is None:
        return None
    if shown and not motion.is_full:
        return plan.hours(average_share(motion, lamps))
    return plan.steady if plan.average == 1.0 else plan.hours(plan.average)


def _pattern_run(plan: DrivePlan, shown: bool, motion: Motion, lamps: Lamps) -> RunTime | None:
    """How long the supply would last with the pattern; None where the LEDs show it as they are, or it does not end."""
    if plan.steady is None or shown:
        return None
    return plan.hours(average_share(motion, lamps))


MOTION = (
    Pass("regions of LEDs", ("leds", "chosen"), regions_of),
    Pass(
        "lamps",
        ("lights", "chain", "leds", "regions of LEDs", "board name", "films", "outline", "own patterns", "own glyphs"),
        lamps_of,
    ),
    # Both are worked out here, beside the window, and remembered where they are asked for.
    Pass("films read", ("films",), read_films, words="reading the films"),
    Pass("played", ("motion", "lamps"), played, words="working out the score"),
    Pass("shown", ("drive", "motion"), _shown),
    Pass("run", ("plan", "shown", "motion", "lamps"), _run),
    Pass("pattern run", ("plan", "shown", "motion", "lamps"), _pattern_run),
)
