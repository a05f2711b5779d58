"""The library: parts by name, and what is known of them as sources of light, as resistors, as supplies (DOMAIN 3 and 9:
typical, house-neutral values). To add one, add a JSON file to `data/parts`.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, cached_property, lru_cache
from typing import Any

import msgspec

from ..errors import Trouble
from ..shipped import entries
from ..text_safety import short
from .emitter import Emitter, colour_entry, emitter_of, gives_light, light_of
from .file import checked, read_part
from .part import Part

Curve = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Supply:
    """A source: a voltage (min, typ, max) or a cell with its curves over depth of discharge.

    Where the voltage can be set, it keeps within a `spread` of that, as a share. `usual_ah` is the capacity of a kind of
    cell that comes in many, `usual_farad` that of a capacitor, which loses `leak_a` all the time and is filled by `sun_a`.
    `needs` are what it always needs beside it.
    """

    name: str
    title: str
    ends: bool
    volts: tuple[float, float, float] | None
    ohm: float
    most_a: float
    least_a: float
    continuous_a: float | None
    capacity_ah: float
    usual_ah: float
    usual_farad: float
    leak_a: float
    sun_a: float
    spread: float | None
    needs: tuple[str, ...]
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
        self.own = tuple(_readable(member, data) for member, data in own)

    @cached_property
    def parts(self) -> dict[str, Part]:
        """Every part. `Trouble` for one that cannot be."""
        return {**_shipped_parts(), **{one.name: one for one in self.own}}

    @cached_property
    def emitters(self) -> dict[str, Emitter]:
        """Every emitter: each package in each colour, such as `0805 amber`, and parts that say what light they give."""
        changed = [
            (name, one) for name, one in _entries("led_packages").items() if one["part"] in {own.name for own in self.own}
        ]
        again = {made.name: made for name, one in changed for made in _package(name, one, self.parts[one["part"]])}
        return {**_shipped_emitters(), **again, **{one.name: emitter_of(one.name, one) for one in self.own if gives_light(one)}}

    def own_of(self, one: Part) -> Part:
        """The project's own part that takes the place of one that ships, or else that one."""
        return next((own for own in self.own if own.name == one.name and one.name in _shipped_parts()), one)

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


def _readable(member: str, data: bytes) -> Part:
    """The part of a file of a project. `Trouble` tells how to be rid of one that is damaged."""
    try:
        one = read_part(data)
        refuse_other_kind(one)
        return one
    except Trouble as trouble:
        name = member.rpartition("/")[2]
        raise Trouble(
            f"The part file “{name}” in this project is damaged: {trouble} Remove it: remove-part part={name}."
        ) from trouble


def refuse_other_kind(one: Part) -> None:
    """`Trouble` for a part that takes the place of one that ships, and lacks what that is used for."""
    shipped = _shipped_parts().get(one.name)
    if shipped is None:
        return
    lacks = {pad.pin for pad in shipped.pads} - {pad.pin for pad in one.pads}
    wrong = f"has no pad of pin {min(lacks)}" if lacks else "does not say what light it gives"
    if lacks or (gives_light(shipped) and not gives_light(one)):
        raise Trouble(
            f"The part “{short(one.name)}” takes the place of the library's and {wrong}. Put that into its file, or give it "
            "another name."
        )


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
    """Each package in each of its colours, and the parts whose light is always the same."""
    packages = [_package(name, entry, part(entry["part"])) for name, entry in _entries("led_packages").items()]
    out = {one.name: one for some in packages for one in some}
    return {**out, **{name: emitter_of(name, one) for name, one in _shipped_parts().items() if gives_light(one)}}


def _package(package: str, entry: dict[str, Any], body: Part) -> list[Emitter]:
    """A body in each of its colours."""
    out = []
    for colour in entry.get("colours", _entries("led_colours")):
        title = f"{entry.get('title', 'LED')}, {colour}, {package}"
        light = {**colour_entry(colour), **{key: entry[key] for key in entry if key not in _OF_PACKAGES}}
        made = msgspec.structs.replace(body, title=title, light=light_of(light))
        out.append(emitter_of(f"{package} {colour}", made, package, colour))
    return out


#: What an entry of a package says that is nothing of its light.
_OF_PACKAGES = ("part", "colours", "title")


def emitters() -> dict[str, Emitter]:
    """Every emitter that ships, by name."""
    return shipped_library().emitters


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
            usual_ah=float(entry.get("usual_ah", 0)),
            usual_farad=float(entry.get("usual_farad", 0)),
            leak_a=float(entry.get("leak_a", 0)),
            sun_a=float(entry.get("sun_a", 0)),
            spread=entry.get("spread"),
            needs=tuple(entry.get("needs", ())),
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
