"""The edits of a controller's pins: which drives what, what is kept, and a table of one's own."""

from __future__ import annotations

from typing import Any, get_args

import msgspec

from ..errors import Trouble
from ..project import Design, Drive, GivenPin, OwnController, OwnPin, Param, ReservedPin, board_edit
from ..project.driving import PinKind
from ..project.param import PictureFile
from ..text_safety import short
from .keys import ANY_PIN, OWN
from .own_controller import checked_controller, controllers_of, copy_of, read_controller

#: A pin that is kept for nothing.
_NOTHING = "nothing"


def _with(design: Design, **changes: Any) -> Design:
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, **changes))


@board_edit("give-pin", "Pin {pin} for {net}", net=Param("text", optional=False), pin=Param("text", optional=False))
def give_pin(design: Design, *, net: str, pin: str) -> Design:
    """Give a pin of the controller to a net by hand (any: let it be chosen again). What had that pin takes the one that the net
    had by hand."""
    now = {one.net: one.pin for one in design.drive.given}
    if pin == ANY_PIN:
        if now.pop(net, None) is None:
            raise Trouble(f"No pin was given to “{short(net)}” by hand.")
    else:
        _no_longer(design.drive, pin)
        before = now.get(net)
        other = next((name for name, number in now.items() if number == pin and name != net), None)
        if other is not None:
            now.pop(other)
            if before is not None:
                now[other] = before
        now[net] = pin
    return _with(design, given=tuple(GivenPin(net=name, pin=number) for name, number in now.items()))


def _no_longer(drive: Drive, pin: str) -> None:
    """Refuse a pin that is kept for something."""
    kept = next((one for one in drive.reserved if one.pin == pin), None)
    if kept is not None:
        raise Trouble(f"Pin {short(pin)} is kept for “{short(kept.name)}”; reserve it for nothing first.")


@board_edit("order-outputs", "Outputs of the registers", outputs=Param("names", optional=False))
def order_outputs(design: Design, *, outputs: tuple[str, ...]) -> Design:
    """Hang lights on the outputs of registers in this order, each by the number of its LED, and a letter where that has several
    lights (3, 3B); any is the order of the numbers. The program sends their levels in that order."""
    if tuple(outputs) == (ANY_PIN,):
        return _with(design, outputs=())
    if len(set(outputs)) < len(outputs):
        raise Trouble("A light is named twice; each has one output.")
    wrong = next((one for one in outputs if not one[:1].isdigit() or len(one) > 12), None)
    if wrong is not None:
        raise Trouble(f"“{short(wrong)}” is no light: lights are written as 3 or 3B.")
    return _with(design, outputs=tuple(outputs))


@board_edit("order-gates", "Gates of the level shifters", gates=Param("names", optional=False))
def order_gates(design: Design, *, gates: tuple[str, ...]) -> Design:
    """Put lines on the gates of the level shifters in this order, each by its net (any: in the order they are needed in)."""
    if tuple(gates) == (ANY_PIN,):
        return _with(design, gates=())
    if len(set(gates)) < len(gates):
        raise Trouble("A line is named twice; each has one gate.")
    return _with(design, gates=tuple(gates))


@board_edit("reserve-pin", "Pin {pin} kept for {name}", pin=Param("text", optional=False), name=Param("text", optional=False))
def reserve_pin(design: Design, *, pin: str, name: str) -> Design:
    """Keep a pin of the controller for a serial line, a button, a sensor (nothing: give it back); it comes out to a pad."""
    others = tuple(one for one in design.drive.reserved if one.pin != pin)
    if name == _NOTHING:
        if len(others) == len(design.drive.reserved):
            raise Trouble(f"Pin {short(pin)} is kept for nothing.")
        return _with(design, reserved=others)
    if any(one.name == name for one in others):
        raise Trouble(f"A pin is kept for “{short(name)}” already; give this one another name.")
    given = tuple(one for one in design.drive.given if one.pin != pin)
    return _with(design, reserved=(*others, ReservedPin(pin=pin, name=name)), given=given)


@board_edit("add-controller", "Controller from {file}", file=Param("picture", optional=False))
def add_controller(design: Design, *, file: PictureFile) -> Design:
    """A controller of one's own from its table of pins (JSON); it takes the place of the last, and is used from now on."""
    return _with(design, own=read_controller(file.data), controller=OWN)


@board_edit(
    "copy-controller", "Controller {name}", controller=Param("text", optional=False), name=Param("text", optional=False)
)  # fmt: skip
def copy_controller(design: Design, *, controller: str, name: str) -> Design:
    """The table of a controller under a name of one's own, to be changed pin by pin; it is used from now on."""
    known = controllers_of(design.drive)
    if controller not in known:
        raise Trouble(f"There is no controller “{short(controller)}”; there are {', '.join(known)}.")
    return _with(design, own=copy_of(known[controller], name), controller=OWN)


@board_edit("remove-controller", "My controller removed")
def remove_controller(design: Design) -> Design:
    """Let go of the controller of one's own; another is chosen."""
    _own(design.drive)
    return _with(design, own=None, controller="" if design.drive.controller == OWN else design.drive.controller)


@board_edit(
    "set-pin",
    "Pin {pin} of my controller",
    pin=Param("text", optional=False),
    name=Param("text", title="name"),
    kind=Param("choice", choices=get_args(PinKind), title="is"),
    pwm=Param("flag", title="dims by its duty"),
    at_start=Param("choice", choices=("floating", "high", "low"), title="at start"),
    lamp=Param("flag", title="has a lamp on it"),
)
def set_pin(design: Design, *, pin: str, **changes: Any) -> Design:
    """What a pin of one's own controller is called and can be; a number that it does not have yet is a new pin."""
    own = _own(design.drive)
    told = {key: value for key, value in changes.items() if value is not None}
    now = next((one for one in own.pins if one.number == pin), None)
    if now is None:
        new = OwnPin(number=pin, name=told.pop("name", f"pin {pin}"), kind=told.pop("kind", "output"), **told)
        pins = (*own.pins, new)
    else:
        pins = tuple(msgspec.structs.replace(one, **told) if one is now else one for one in own.pins)
    return _with(design, own=_checked(msgspec.structs.replace(own, pins=pins)))


@board_edit(
    "set-controller",
    "My controller",
    name=Param("text", title="name"),
    least_v=Param("quantity", "V", 0.5, 60, title="runs from", shown="V", step=0.1),
    most_v=Param("quantity", "V", 0.5, 60, title="to", shown="V", step=0.1),
    pin_a=Param("quantity", "A", 1e-4, 2, title="a pin bears", shown="mA", step=1),
    total_a=Param("quantity", "A", 1e-4, 20, title="all pins bear", shown="mA", step=10),
    standing_a=Param("quantity", "A", 0, 2, title="it draws", shown="mA", step=1),
    start_s=Param("quantity", "s", 0, 60, title="its program runs after", shown="s", step=0.1),
)
def set_controller(
    design: Design, *, least_v: float | None = None, most_v: float | None = None, **changes: Any
) -> Design:  # fmt: skip
    """The supply of one's own controller, what its pins bear, what it draws, and when its program runs."""
    own = _own(design.drive)
    told = {key: value for key, value in changes.items() if value is not None}
    low, high = own.supply_v
    supply = (low if least_v is None else least_v, high if most_v is None else most_v)
    return _with(design, own=_checked(msgspec.structs.replace(own, supply_v=supply, **told)))


def _own(drive: Drive) -> OwnController:
    if drive.own is None:
        raise Trouble("There is no controller of your own yet; copy one first: copy-controller controller=NAME name=….")
    return drive.own


def _checked(own: OwnController) -> OwnController:
    """A table whose values keep their kinds and limits."""
    try:
        return checked_controller(msgspec.convert(msgspec.to_builtins(own), OwnController))
    except msgspec.ValidationError as error:
        raise Trouble(f"The controller's table cannot be so: {str(error).partition(' - ')[0]}.") from error
