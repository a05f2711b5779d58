"""The stages of the work: one table for the folders of the core, the bulbs of the window, its keys, the command line and the
manual.

To add one: a line here, a folder of that name in the core, and its drawer in `ui/drawers`.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Stage:
    """A stage: its number, which is its key in the window, its name in the code, its title, and what is done there.

    `about_leds`: without an LED there is nothing to see in it. One that is not `made` yet keeps its number.
    """

    number: int
    key: str
    title: str
    tip: str
    about_leds: bool = False
    made: bool = True


_EVERY = (
    Stage(1, "brief", "Brief", "What it is made of, by whom, how many"),
    Stage(2, "artwork", "Artwork", "What each colour becomes"),
    Stage(3, "shape", "Shape", "Border, outline and hanging hole"),
    Stage(4, "lights", "Lights", "Arrays of LEDs", about_leds=True),
    Stage(5, "drive", "Drive", "Supply, resistors and currents", about_leds=True),
    Stage(6, "wiring", "Wiring", "Parts, tracks and pours", about_leds=True),
    Stage(7, "motion", "Motion", "The pattern of the lights", about_leds=True),
    Stage(8, "order", "Order", "Findings, price and the files"),
    Stage(9, "build", "Build", "Assembly step by step", made=False),
)


def stages() -> tuple[Stage, ...]:
    """Those that are made, in their order."""
    return tuple(one for one in _EVERY if one.made)


def stage_of(module: str) -> str:
    """The key of the stage that a module of the core belongs to, by its folder; "" for one that serves several."""
    folders = module.split(".")
    return next((one.key for one in _EVERY if one.key in folders[:-1]), "")
