"""Parts by name, from data/parts/*.json (DOMAIN 3 and 9: typical, house-neutral values)."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from ..errors import Trouble

#: A round land is flashed as a true circle; its polygon stays this near to it, mm.
DISC_TOLERANCE_MM = 0.0001
Curve = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Pad:
    """A land about (x, y) of its part, mm: a rectangle, or a bare disc that a cell lies on. Pad 1 is the cathode, minus
    or pin 1, toward −x.
    """

    x: float
    y: float
    width: float
    height: float
    disc: bool = False


@dataclass(frozen=True)
class Body:
    """What a part takes of the board: length x width x height in mm, and its pads."""

    title: str
    size: tuple[float, float, float]
    pads: tuple[Pad, ...]
    cell_mm: float = 0.0

    @property
    def courtyard(self) -> tuple[float, float]:
        """Length and width that body, pads and the cell lying in it need together, mm."""
        length = max([self.size[0], self.cell_mm] + [2 * (abs(pad.x) + pad.width / 2) for pad in self.pads])
        width = max([self.size[1], self.cell_mm] + [2 * (abs(pad.y) + pad.height / 2) for pad in self.pads])
        return length, width


@dataclass(frozen=True)
class Emitter:
    """An LED: package, forward voltage (min, typ, max) at `forward_a`, intensity there, colour of its light."""

    name: str
    package: str
    colour: str
    body: Body
    forward_v: tuple[float, float, float]
    forward_a: float
    mcd: float
    light: str
    continuous_a: float
    reverse: bool
    lens_mm: float


@dataclass(frozen=True)
class Resistor:
    """A chip resistor's body and rated power."""

    size: str
    body: Body
    rated_w: float


@dataclass(frozen=True)
class Supply:
    """A source: a fixed voltage (min, typ, max) or a cell with its curves over depth of discharge."""

    name: str
    title: str
    ends: bool
    volts: tuple[float, float, float] | None
    ohm: float
    most_a: float
    continuous_a: float | None
    capacity_ah: float
    cut_off_v: float
    open_v: Curve
    resistance_ohm: Curve
    ohm_ah: float
    share: Curve
    bodies: dict[int, Body]


@cache
def _data(name: str) -> dict[str, Any]:
    text = resources.files("outlined_glow.data.parts").joinpath(name).read_text("utf-8")
    return json.loads(text)  # type: ignore[no-any-return]


def _body(title: str, entry: dict[str, Any]) -> Body:
    pads = tuple(Pad(float(x), float(y), float(width), float(height)) for x, y, width, height in entry["pads"])
    length, width, height = map(float, entry["body_mm"])
    if "bare_disc_mm" in entry:
        across = float(entry["bare_disc_mm"])
        pads = (Pad(0.0, 0.0, across, across, disc=True), *pads)
    return Body(title, (length, width, height), pads, float(entry.get("cell_mm", 0.0)))


@cache
def emitters() -> dict[str, Emitter]:
    """Every emitter by name: each package in each colour, such as `0805 amber`."""
    data = _data("emitters.json")
    out = {}
    for package, entry in data["packages"].items():
        for colour, light in data["colours"].items():
            name = f"{package} {colour}"
            low, typical, high = map(float, light["forward_v"])
            out[name] = Emitter(
                name=name,
                package=package,
                colour=colour,
                body=_body(f"LED, {colour}, {package}", entry),
                forward_v=(low, typical, high),
                forward_a=float(data["forward_a"]),
                mcd=float(light["mcd"]),
                light=str(light["light"]),
                continuous_a=float(entry["continuous_a"]),
                reverse=bool(entry.get("reverse", False)),
                lens_mm=float(entry.get("lens_mm", 0.0)),
            )
    return out


def emitter(name: str) -> Emitter:
    """The emitter of that name, or `Trouble`."""
    found = emitters().get(name)
    if found is None:
        raise Trouble(f"There is no LED “{name}”; there is, for example, 0805 amber.")
    return found


@cache
def resistor(size: str) -> Resistor:
    """The chip resistor of that size (0402, 0603, 0805, 1206)."""
    entry = _data("passives.json")["resistors"][size]
    return Resistor(size, _body(f"resistor, {size}", entry), float(entry["rated_w"]))


def tolerance(series: str) -> float:
    """The tolerance that goes with a preferred series, as a share."""
    return float(_data("passives.json")["tolerance"][series])


def _curve(points: list[list[float]]) -> Curve:
    return tuple((float(x), float(y)) for x, y in points)


@cache
def supplies() -> dict[str, Supply]:
    """Every source by name."""
    out = {}
    for name, entry in _data("supplies.json")["supplies"].items():
        volts = tuple(map(float, entry["volts"])) if "volts" in entry else None
        out[name] = Supply(
            name=name,
            title=entry["title"],
            ends=bool(entry["ends"]),
            volts=volts,  # type: ignore[arg-type]
            ohm=float(entry.get("ohm", 0)),
            most_a=float(entry["most_a"]),
            continuous_a=entry.get("continuous_a"),
            capacity_ah=float(entry.get("capacity_ah", 0)),
            cut_off_v=float(entry.get("cut_off_v", 0)),
            open_v=_curve(entry.get("open_v", [])),
            resistance_ohm=_curve(entry.get("resistance_ohm", [])),
            ohm_ah=float(entry.get("ohm_ah", 0)),
            share=_curve(entry.get("share", [])),
            bodies={int(count): _body(body["title"], body) for count, body in entry["body"].items()},
        )
    return out


def supply(name: str) -> Supply:
    """The source of that name, or `Trouble`."""
    found = supplies().get(name)
    if found is None:
        raise Trouble(f"There is no supply “{name}”; there are {', '.join(supplies())}.")
    return found
