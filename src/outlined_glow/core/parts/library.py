"""The library: parts by name, and what is known of them as sources of light, as resistors, as supplies (DOMAIN 3 and 9:
typical, house-neutral values). To add one, add a JSON file to `data/parts`.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache, cached_property, lru_cache
from typing import Any

import msgspec

from ..errors import Trouble
from ..shipped import entries
from ..text_safety import short
from .file import checked, read_part
from .part import Part

Curve = tuple[tuple[float, float], ...]

#: Half-angle of the packages that intensities are told for.
_WIDE_DEG = 60.0


@dataclass(frozen=True)
class Emitter:
    """An LED: its part, forward voltage (min, typ, max) at `forward_a`, intensity there, colour of its light.

    At `half_angle_deg` from its axis it is half as bright. `holes_mm` are the holes in a lid or panel that it fits, each
    with what holds it there.
    """

    name: str
    package: str
    colour: str
    part: Part
    forward_v: tuple[float, float, float]
    forward_a: float
    mcd: float
    light: str
    continuous_a: float
    lens_mm: float
    half_angle_deg: float
    holes_mm: tuple[tuple[str, float], ...]

    @property
    def reverse(self) -> bool:
        """Whether it shines through the board from the other side."""
        return self.part.shines == "through"


@dataclass(frozen=True)
class Supply:
    """A source: a fixed voltage (min, typ, max) or a cell with its curves over depth of discharge."""

    name: str
    title: str
    ends: bool
    volts: tuple[float, float, float] | None
    ohm: float
    most_a: float
    least_a: float
    continuous_a: float | None
    capacity_ah: float
    cut_off_v: float
    open_v: Curve
    resistance_ohm: Curve
    ohm_ah: float
    share: Curve
    #: What it is called where supplies are chosen; "" for one that cannot be yet. What to take care of with it.
    offered: str
    care: str
    #: The part that a number of cells lies in, or that a lead is soldered to.
    bodies: dict[int, Part]


def _entries(key: str) -> dict[str, Any]:
    return entries("parts", key)


class Library:
    """Every part and emitter by name: those that ship, and over them a project's own (name -> the file's bytes)."""

    def __init__(self, own: tuple[tuple[str, bytes], ...] = ()) -> None:
        self.own = tuple(read_part(data) for _, data in own)

    @cached_property
    def parts(self) -> dict[str, Part]:
        """Every part. `Trouble` for one that cannot be."""
        return {**_shipped_parts(), **{one.name: one for one in self.own}}

    @cached_property
    def emitters(self) -> dict[str, Emitter]:
        """Every emitter: each package in each colour, such as `0805 amber`, and parts that say what light they give."""
        return {**_shipped_emitters(), **{one.name: _own_emitter(one) for one in self.own if one.light is not None}}

    def part(self, name: str) -> Part:
        """The part of that name, or `Trouble`."""
        found = self.parts.get(name)
        if found is None:
            raise Trouble(f"There is no part “{short(name)}” in the library.")
        return found

    def emitter(self, name: str) -> Emitter:
        """The emitter of that name, or `Trouble`."""
        found = self.emitters.get(name)
        if found is None:
            raise Trouble(f"There is no LED “{short(name)}”; there is, for example, 0805 amber.")
        return found


@lru_cache(maxsize=16)
def library_with(own: tuple[tuple[str, bytes], ...]) -> Library:
    """The library of a project with parts of its own."""
    return Library(own)


def shipped_library() -> Library:
    """What ships."""
    return library_with(())


@cache
def _shipped_parts() -> dict[str, Part]:
    return {name: checked({"name": name, **entry}) for name, entry in _entries("parts").items()}


def parts() -> dict[str, Part]:
    """Every part that ships, by name. `Trouble` for one that cannot be."""
    return shipped_library().parts


def part(name: str) -> Part:
    """The part of that name that ships, or `Trouble`."""
    return shipped_library().part(name)


@cache
def _shipped_emitters() -> dict[str, Emitter]:
    out = {}
    for package, body in _entries("led_packages").items():
        for colour, light in _entries("led_colours").items():
            name = f"{package} {colour}"
            title = f"LED, {colour}, {package}"
            out[name] = _emitter(name, {**light, **body, "package": package, "colour": colour, "title": title})
    for name, entry in _entries("emitters").items():
        out[name] = _emitter(name, entry)
    return out


def emitters() -> dict[str, Emitter]:
    """Every emitter that ships, by name."""
    return shipped_library().emitters


def beam_exponent(half_angle_deg: float) -> float:
    """m of an emitter whose intensity falls as cos^m, to a half at that angle from its axis (DOMAIN 10)."""
    return math.log(0.5) / math.log(math.cos(math.radians(half_angle_deg)))


def _emitter(name: str, entry: dict[str, Any]) -> Emitter:
    body = part(entry["part"])
    low, typical, high = map(float, entry["forward_v"])
    half_angle = float(entry.get("half_angle_deg", _WIDE_DEG))
    # Intensities are those of a wide beam; the same flux in a narrower one is brighter ahead (DOMAIN 3).
    ahead = (beam_exponent(half_angle) + 1) / (beam_exponent(_WIDE_DEG) + 1)
    return Emitter(
        name=name,
        package=str(entry.get("package", "")),
        colour=str(entry.get("colour", "")),
        part=msgspec.structs.replace(body, title=entry.get("title", body.title)),
        forward_v=(low, typical, high),
        forward_a=float(entry["forward_a"]),
        mcd=float(entry["mcd"]) * ahead,
        light=str(entry["light"]),
        continuous_a=float(entry["continuous_a"]),
        lens_mm=float(entry.get("lens_mm", 0.0)),
        half_angle_deg=half_angle,
        holes_mm=tuple((words, float(size)) for words, size in entry.get("holes_mm", {}).items()),
    )


def _own_emitter(one: Part) -> Emitter:
    """A part of one's own that says what light it gives, as an emitter."""
    light = one.light
    assert light is not None
    return Emitter(
        name=one.name, package=one.name, colour="", part=msgspec.structs.replace(one, light=None),
        forward_v=light.forward_v, forward_a=light.forward_a,
        mcd=light.mcd, light=light.light, continuous_a=light.continuous_a, lens_mm=light.lens_mm,
        half_angle_deg=light.half_angle_deg, holes_mm=tuple(light.holes_mm.items()),
    )  # fmt: skip


def emitter(name: str) -> Emitter:
    """The emitter of that name that ships, or `Trouble`."""
    return shipped_library().emitter(name)


def resistor_sizes() -> tuple[str, ...]:
    """The sizes of chip resistors, the smallest first."""
    sizes = [name.removeprefix("resistor ") for name, one in parts().items() if one.kind == "resistor"]
    return tuple(sorted(sizes, key=lambda size: part(f"resistor {size}").body_mm))


def resistor(size: str) -> Part:
    """The chip resistor of that size, or `Trouble`."""
    if size not in resistor_sizes():
        raise Trouble(f"There is no resistor of the size “{size}”; there are {', '.join(resistor_sizes())}.")
    return part(f"resistor {size}")


def series_names() -> tuple[str, ...]:
    """The preferred series of resistors (IEC 60063) that have a tolerance."""
    return tuple(_entries("tolerance"))


def tolerance(series: str) -> float:
    """The tolerance that goes with a preferred series, as a share. `Trouble` for a series that is not there."""
    found = _entries("tolerance").get(series)
    if found is None:
        raise Trouble(f"There is no preferred series “{series}”; there are {', '.join(series_names())}.")
    return float(found)


def _curve(points: list[list[float]]) -> Curve:
    return tuple((float(x), float(y)) for x, y in points)


@cache
def supplies() -> dict[str, Supply]:
    """Every source by name."""
    out = {}
    for name, entry in _entries("supplies").items():
        volts = tuple(map(float, entry["volts"])) if "volts" in entry else None
        out[name] = Supply(
            name=name,
            title=entry["title"],
            ends=bool(entry["ends"]),
            volts=volts,  # type: ignore[arg-type]
            ohm=float(entry.get("ohm", 0)),
            most_a=float(entry["most_a"]),
            least_a=float(entry.get("least_a", 0)),
            offered=str(entry.get("offered", "")),
            care=str(entry.get("care", "")),
            continuous_a=entry.get("continuous_a"),
            capacity_ah=float(entry.get("capacity_ah", 0)),
            cut_off_v=float(entry.get("cut_off_v", 0)),
            open_v=_curve(entry.get("open_v", [])),
            resistance_ohm=_curve(entry.get("resistance_ohm", [])),
            ohm_ah=float(entry.get("ohm_ah", 0)),
            share=_curve(entry.get("share", [])),
            bodies={int(count): part(name) for count, name in entry["bodies"].items()},
        )
    return out


def offered_supplies() -> dict[str, str]:
    """The supplies that a board can be given, each with what it is called there."""
    return {name: one.offered for name, one in supplies().items() if one.offered}


def supply(name: str) -> Supply:
    """The source of that name, or `Trouble`."""
    found = supplies().get(name)
    if found is None:
        raise Trouble(f"There is no supply “{name}”; there are {', '.join(supplies())}.")
    return found
