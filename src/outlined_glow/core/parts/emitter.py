"""Parts that give light: what is known of each of their lights (DOMAIN 3: typical values)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import msgspec

from ..errors import Trouble
from ..shipped import entries
from ..text_safety import short
from .part import Die, Light, Part, wrong_with

#: Half-angle of the packages that intensities are told for.
_WIDE_DEG = 60.0
#: The light of a bar is that of points so far apart, mm.
_POINTS_MM = 0.8


@dataclass(frozen=True)
class Source:
    """One light of an emitter: its name ("" for the only one), the pins it lies between, its forward voltage (min, typ, max)
    at `forward_a`, its intensity there, its colour, and the points it shines from, mm about the part's middle."""

    name: str
    anode: str
    cathode: str
    forward_v: tuple[float, float, float]
    forward_a: float
    continuous_a: float
    mcd: float
    light: str
    points: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Emitter:
    """A part that gives light: an LED, a display, a pixel, a lamp. It has one light, or several.

    At `half_angle_deg` from its axis it is half as bright. `holes_mm` are the holes in a lid or panel that it fits, each
    with what holds it there.
    """

    name: str
    package: str
    colour: str
    part: Part
    lights: tuple[Source, ...]
    lens_mm: float
    half_angle_deg: float
    holes_mm: tuple[tuple[str, float], ...]

    @property
    def reverse(self) -> bool:
        """Whether it shines through the board from the other side."""
        return self.part.shines == "through"

    @property
    def shares_pins(self) -> bool:
        """Whether its lights lie in rows and columns: both ends of one are those of others too."""
        anodes = [one.anode for one in self.lights]
        cathodes = [one.cathode for one in self.lights]
        return any(anodes.count(one.anode) > 1 and cathodes.count(one.cathode) > 1 for one in self.lights)


def gives_light(one: Part) -> bool:
    """Whether a part says by itself what light it gives."""
    return one.light is not None or any(die.colour or die.light for die in one.dies)


def colour_entry(name: str) -> dict[str, Any]:
    """An entry of the table of colours. `Trouble` for one that is not there."""
    table = entries("parts", "led_colours")
    if name not in table:
        raise Trouble(f"There is no LED colour “{short(name)}”; there are {', '.join(table)}.")
    return {key: value for key, value in table[name].items() if key not in ("nm", "caution")}


def caution_of(one: Emitter) -> str:
    """What to take care of with a colour of light, in words; "" for nothing."""
    return str(entries("parts", "led_colours").get(one.colour, {}).get("caution", ""))


def light_of(entry: dict[str, Any]) -> Light:
    """The light of a colour in a package: intensities are those of a wide beam, and the same flux in a narrower one is
    brighter ahead (DOMAIN 3)."""
    light = msgspec.convert(entry, Light)
    ahead = (beam_exponent(light.half_angle_deg) + 1) / (beam_exponent(_WIDE_DEG) + 1)
    return msgspec.structs.replace(light, mcd=light.mcd * ahead)


def beam_exponent(half_angle_deg: float) -> float:
    """m of an emitter whose intensity falls as cos^m, to a half at that angle from its axis (DOMAIN 10)."""
    return math.log(0.5) / math.log(math.cos(math.radians(half_angle_deg)))


def emitter_of(name: str, one: Part, package: str = "", colour: str = "") -> Emitter:
    """A part that gives light, as an emitter."""
    wrong = wrong_with(one)  # a body that ships without light, and is lit here
    if wrong is not None:
        raise Trouble(f"The part “{short(one.name)}” is wrong: {wrong}.")
    dies = one.dies or (Die("", _pin_of(one, "anode"), _pin_of(one, "cathode")),)
    lights = tuple(_source(die, _light_of(die, one)) for die in dies)
    whole = one.light or _light_of(dies[0], one)
    return Emitter(
        name, package or name, colour, msgspec.structs.replace(one, light=None), lights,
        whole.lens_mm, whole.half_angle_deg, tuple(whole.holes_mm.items()),
    )  # fmt: skip


def _light_of(die: Die, one: Part) -> Light:
    light = die.light or (light_of(colour_entry(die.colour)) if die.colour else one.light)
    if light is None:
        raise Trouble(f"The part “{short(one.name)}” does not say what light its “{die.name}” gives.")
    return light


def _pin_of(one: Part, role: str) -> str:
    return next((pin.number for pin in one.pins if pin.role == role), "")


def _source(die: Die, light: Light) -> Source:
    x, y = die.x_mm, die.y_mm
    along_x, along_y = (die.to_mm[0] - x, die.to_mm[1] - y) if die.to_mm is not None else (0.0, 0.0)
    steps = math.ceil(math.hypot(along_x, along_y) / _POINTS_MM)
    points = tuple((x + along_x * at / max(1, steps), y + along_y * at / max(1, steps)) for at in range(steps + 1))
    return Source(
        die.name, die.anode, die.cathode, light.forward_v, light.forward_a, light.continuous_a, light.mcd * die.share,
        light.light, points,
    )  # fmt: skip
