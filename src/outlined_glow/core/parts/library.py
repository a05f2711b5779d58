"""The library: parts by name, and what is known of them as sources of light, as resistors, as supplies (DOMAIN 3 and 9:
typical, house-neutral values). To add one, add a JSON file to `data/parts`.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

import msgspec

from ..errors import Trouble
from ..shipped import entries
from .part import Part, wrong_with

Curve = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Emitter:
    """An LED: its part, forward voltage (min, typ, max) at `forward_a`, intensity there, colour of its light."""

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


@cache
def parts() -> dict[str, Part]:
    """Every part by name. `Trouble` for one that cannot be."""
    out = {}
    for name, entry in _entries("parts").items():
        try:
            out[name] = msgspec.convert({"name": name, **entry}, Part)
        except msgspec.ValidationError as error:
            raise Trouble(f"The part “{name}” is wrong: {error}.") from error
        wrong = wrong_with(out[name])
        if wrong is not None:
            raise Trouble(f"The part “{name}” is wrong: {wrong}.")
    return out


def part(name: str) -> Part:
    """The part of that name, or `Trouble`."""
    found = parts().get(name)
    if found is None:
        raise Trouble(f"There is no part “{name}” in the library.")
    return found


@cache
def emitters() -> dict[str, Emitter]:
    """Every emitter by name: each package in each colour, such as `0805 amber`, and those with an entry of their own."""
    out = {}
    for package, body in _entries("led_packages").items():
        for colour, light in _entries("led_colours").items():
            name = f"{package} {colour}"
            title = f"LED, {colour}, {package}"
            out[name] = _emitter(name, {**light, **body, "package": package, "colour": colour, "title": title})
    for name, entry in _entries("emitters").items():
        out[name] = _emitter(name, entry)
    return out


def _emitter(name: str, entry: dict[str, Any]) -> Emitter:
    body = part(entry["part"])
    low, typical, high = map(float, entry["forward_v"])
    return Emitter(
        name=name,
        package=str(entry.get("package", "")),
        colour=str(entry.get("colour", "")),
        part=msgspec.structs.replace(body, title=entry.get("title", body.title)),
        forward_v=(low, typical, high),
        forward_a=float(entry["forward_a"]),
        mcd=float(entry["mcd"]),
        light=str(entry["light"]),
        continuous_a=float(entry["continuous_a"]),
        lens_mm=float(entry.get("lens_mm", 0.0)),
    )


def emitter(name: str) -> Emitter:
    """The emitter of that name, or `Trouble`."""
    found = emitters().get(name)
    if found is None:
        raise Trouble(f"There is no LED “{name}”; there is, for example, 0805 amber.")
    return found


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
