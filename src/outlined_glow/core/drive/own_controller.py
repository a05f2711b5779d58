"""Controllers of one's own: their files, their bodies, and which controllers a board can have (DOMAIN 5)."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Mapping

import msgspec

from ..errors import Trouble
from ..parts import Part, part, parts
from ..parts.file import read_struct
from ..parts.part import Pad, Pin, Stroke
from ..project import Drive, OwnController, OwnPin
from ..text_safety import printable, short
from .devices import Controller, ControllerPin, controllers
from .keys import OWN

#: Two rows of pins: their pitch, how far apart the rows are, pads and drills, mm; what such a body costs, and how tall it is.
_PITCH_MM, _ROWS_MM, _PAD_MM, _DRILL_MM, _PRICE, _TALL_MM = 2.54, 15.24, 1.7, 1.0, 4.0, 11.0
_ROLES: Mapping[str, str] = {
    "supply": "supply",
    "ground": "ground",
    "reset": "reset",
    "output": "output",
    "analog only": "sense",
}


def controllers_of(drive: Drive) -> Mapping[str, Controller]:
    """Every controller that a board can have, by the key it is chosen by."""
    if drive.own is None:
        return controllers()
    return {**controllers(), OWN: as_controller(drive.own)}


def as_controller(own: OwnController) -> Controller:
    """A controller of one's own among the others."""
    pins = tuple(ControllerPin(one.number, one.name, one.kind, one.pwm, one.at_start, one.lamp) for one in own.pins)
    return Controller(
        own.name, own.supply_v, own.pin_a, own.total_a, own.standing_a, own.part, pins, own.regulated_v,
        own.regulated_from_v, own.start_s,
    )  # fmt: skip


def body_of(one: Controller) -> Part:
    """The part that a controller is: one of the library, or two rows of pins, numbered as a chip's are."""
    if one.part:
        return part(one.part)
    left = (len(one.pins) + 1) // 2
    pads, pins = [], []
    for at, pin in enumerate(one.pins):
        row, place = (-1, at) if at < left else (1, len(one.pins) - 1 - at)
        y = _PITCH_MM * ((left - 1) / 2 - place)
        pads.append(Pad(pin.number, row * _ROWS_MM / 2, y, _PAD_MM, _PAD_MM, "box" if at == 0 else "round", _DRILL_MM))
        pins.append(Pin(pin.number, pin.name, _ROLES.get(pin.kind, "passive")))  # type: ignore[arg-type]
    tall = _PITCH_MM * left
    return Part(
        name=f"controller {one.title}", kind="controller", title=one.title, prefix="U", pins=tuple(pins), pads=tuple(pads),
        body_mm=(_ROWS_MM + _PITCH_MM, tall), height_mm=_TALL_MM, legend="dot", price=_PRICE, solder="by hand",
        mark="the square pad is pin 1", drawing=(Stroke("22382E", _ROWS_MM + _PITCH_MM, tall),),
    )  # fmt: skip


def checked_controller(own: OwnController) -> OwnController:
    """The table, or `Trouble` that says what is wrong with it."""
    if own.name != printable(own.name) or not own.name.strip():
        raise Trouble(f"A controller's name has 1 to 60 letters; this one is “{short(own.name)}”.")
    if own.name in controllers():
        raise Trouble(f"There is a controller “{own.name}” already; give yours another name.")
    twice = next((number for number, times in Counter(one.number for one in own.pins).items() if times > 1), None)
    if twice is not None:
        raise Trouble(f"The controller “{short(own.name)}” has pin {short(twice)} twice; each number stands once.")
    low, high = own.supply_v
    if low > high:
        raise Trouble(f"The supply of “{short(own.name)}” goes from {low:g} to {high:g} V; the first must be the lower.")
    for kind in ("supply", "ground", "output"):
        if all(one.kind != kind for one in own.pins):
            raise Trouble(f"The controller “{short(own.name)}” has no {kind} pin; it needs one at least.")
    if own.part:
        body = parts().get(own.part)
        if body is None:
            raise Trouble(f"There is no part “{short(own.part)}” for the controller; leave part= away for two rows of pins.")
        strange = sorted({one.number for one in own.pins} - {pin.number for pin in body.pins})
        if strange:
            raise Trouble(f"The part “{short(own.part)}” has no pin {short(strange[0])}, which the controller's table names.")
    return own


def read_controller(data: bytes) -> OwnController:
    """The pin table of a file. `Trouble` names the line that is wrong."""
    return checked_controller(
        read_struct(data, OwnController, "controller", "name, supply_v, pin_a, total_a, standing_a and pins")
    )


def controller_file(one: Controller) -> bytes:
    """A pin table as the file that `read_controller` reads."""
    told = msgspec.to_builtins(one)
    plain = {"name": told.pop("title"), **{key: value for key, value in told.items() if value not in (None, "")}}
    return (json.dumps(plain, indent=1, ensure_ascii=False) + "\n").encode()


def copy_of(one: Controller, name: str) -> OwnController:
    """A controller as the beginning of one's own."""
    pins = tuple(
        OwnPin(number=pin.number, name=pin.name, kind=pin.kind, pwm=pin.pwm, at_start=pin.at_start, lamp=pin.lamp)
        for pin in one.pins
    )  # fmt: skip
    return checked_controller(
        OwnController(
            name=name, supply_v=one.supply_v, pin_a=one.pin_a, total_a=one.total_a, standing_a=one.standing_a, pins=pins,
            part=one.part, regulated_v=one.regulated_v, regulated_from_v=one.regulated_from_v, start_s=one.start_s,
        )
    )  # fmt: skip


def chosen_controller(drive: Drive, told: str) -> Controller | None:
    """The controller that a plan tells of, by its name or its title; None where there is none."""
    known = controllers_of(drive)
    return known.get(told) or next((one for one in known.values() if one.title == told), None)
