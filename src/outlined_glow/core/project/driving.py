"""What feeds a board and how its LEDs are driven, as a project keeps it."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .section import Section

#: How many LEDs are lit at a time: all, one, or a number.
Lit = Annotated[str, Meta(pattern="^(all|one|[1-9][0-9]{0,4})$")]
PinKind = Literal["output", "input only", "analog only", "programming", "supply", "ground", "reset"]
PinNumber = Annotated[str, Meta(min_length=1, max_length=8)]
NetName = Annotated[str, Meta(min_length=1, max_length=60)]


class OwnPin(Section, frozen=True):
    """A pin of a controller of one's own: what it can be, and how it stands at start."""

    number: PinNumber
    name: Annotated[str, Meta(min_length=1, max_length=40)]
    kind: PinKind
    pwm: bool = False
    at_start: Literal["floating", "high", "low"] = "floating"
    lamp: bool = False


class OwnController(Section, frozen=True):
    """A controller of one's own as a table of pins: its supply, what a pin and all of them together carry, what it draws, after
    which time its program runs. Its body is that of a `part`, or two rows of pins."""

    name: Annotated[str, Meta(min_length=1, max_length=60)]
    supply_v: tuple[Annotated[float, Meta(gt=0, le=60)], Annotated[float, Meta(gt=0, le=60)]]
    pin_a: Annotated[float, Meta(gt=0, le=2)]
    total_a: Annotated[float, Meta(gt=0, le=20)]
    standing_a: Annotated[float, Meta(ge=0, le=2)]
    pins: Annotated[tuple[OwnPin, ...], Meta(min_length=1, max_length=400)]
    part: str = ""
    regulated_v: Annotated[float, Meta(gt=0, le=60)] | None = None
    regulated_from_v: Annotated[float, Meta(ge=0, le=60)] = 0.0
    start_s: Annotated[float, Meta(ge=0, le=60)] = 0.1


class GivenPin(Section, frozen=True):
    """A pin of the controller that was given to a net by hand."""

    net: NetName
    pin: PinNumber


class ReservedPin(Section, frozen=True):
    """A pin of the controller that is kept for something else: a serial line, a button, a sensor."""

    pin: PinNumber
    name: NetName


class Plug(Section, frozen=True):
    """Pins, or a socket for pins, by which a board plugs onto another one, 2.54 mm apart: the nets of the pins in their order
    ("" for none), in how many rows. It goes `onto` one of another board (`onto_board`, where several have one of that name);
    one that is `keyed` cannot be plugged in turned."""

    name: NetName
    kind: Literal["pins", "socket"] = "pins"
    nets: Annotated[tuple[Annotated[str, Meta(max_length=60)], ...], Meta(min_length=1, max_length=80)] = ("supply", "ground")
    rows: Literal[1, 2] = 1
    onto: Annotated[str, Meta(max_length=60)] = ""
    onto_board: Annotated[str, Meta(max_length=200)] = ""
    keyed: bool = False


class SecondSource(Section, frozen=True):
    """Another source of a board beside its supply, and what keeps the two apart: a selector switch, diodes, or nothing."""

    supply: str
    cells: Annotated[int, Meta(ge=1, le=4)] = 1
    volts: Annotated[float, Meta(gt=0, le=60)] | None = None
    joined: Literal["nothing", "switch", "diodes"] = "switch"


class AutoOff(Section, frozen=True):
    """A latch that a press of a button closes and a counter opens after a while, s: a transistor or a relay."""

    by: Literal["transistor", "relay"] = "transistor"
    after_s: Annotated[float, Meta(gt=0, le=86_400)] = 600.0


class Driven(Section, frozen=True):
    """How the LEDs of a group are driven where that differs from the others of their board: what is None is theirs."""

    group: str
    method: str
    current_a: Annotated[float, Meta(gt=0, le=0.02)] | None = None
    lit: Lit | None = None
    average: Annotated[float, Meta(ge=0, le=1)] | None = None
    rows: Annotated[int, Meta(ge=1, le=1000)] | None = None
    period_s: Annotated[float, Meta(gt=0, le=86_400)] | None = None
    other_period_s: Annotated[float, Meta(gt=0, le=86_400)] | None = None


class Drive(Section, frozen=True):
    """The supply, the way the LEDs are driven, and how their resistors are chosen.

    `volts` is what a supply gives that can be set, `capacity_ah` that of a cell of a kind that comes in many. A `regulator`
    makes a `rail` of it, V. `farad` is the capacitor that a solar cell fills, `sun_a` what that cell gives in full sun. A
    `second` source may feed the board too. Of what they
    need (switch, fuse …), some are `fitted`, some `left_away` on purpose. `controller` is the name of one, none,
    "own" for the `own` one, or "" for whichever fits. Pins are `given` by hand, `reserved`, or brought out to `spare_pads`.
    `family` is that of counters and registers, or "" for the first that fits, `reset` what holds a counter at its start.
    `lit` says how many LEDs are lit at a time, `average` for which share of the time each is; `rows` are
    those of a scan, `period_s` how long a pattern of counters takes, `other_period_s` at
    the other place of a switch. `balanced`: brighter colours get less current, until
    all are as bright as the dimmest. `groups` are driven in ways of their own. `stock` are the resistors at hand, ohm.
    """

    method: str = "each"
    supply: str = "usb"
    cells: Annotated[int, Meta(ge=1, le=4)] = 2
    volts: Annotated[float, Meta(gt=0, le=60)] | None = None
    capacity_ah: Annotated[float, Meta(gt=0, le=1000)] | None = None
    farad: Annotated[float, Meta(gt=0, le=1000)] | None = None
    sun_a: Annotated[float, Meta(gt=0, le=10)] | None = None
    second: SecondSource | None = None
    auto_off: AutoOff | None = None
    regulator: str = ""
    rail: Annotated[float, Meta(gt=0, le=60)] | None = None
    fitted: tuple[str, ...] = ()
    left_away: tuple[str, ...] = ()
    controller: str = ""
    own: OwnController | None = None
    given: tuple[GivenPin, ...] = ()
    #: The lights on the outputs of registers, in the order of those, each by LED and letter (“3”, “3B”); others follow.
    outputs: Annotated[tuple[Annotated[str, Meta(max_length=12)], ...], Meta(max_length=20_000)] = ()
    #: The lines that level shifters raise, in the order of their gates; others follow.
    gates: Annotated[tuple[NetName, ...], Meta(max_length=200)] = ()
    reserved: tuple[ReservedPin, ...] = ()
    spare_pads: bool = False
    #: Where the board plugs onto others.
    plugs: Annotated[tuple[Plug, ...], Meta(max_length=40)] = ()
    family: Literal["", "HC", "HCT", "4000"] = ""
    reset: Literal["network", "by hand", "none"] = "network"
    lit: Lit = "all"
    average: Annotated[float, Meta(ge=0, le=1)] = 1.0
    rows: Annotated[int, Meta(ge=1, le=1000)] | None = None
    period_s: Annotated[float, Meta(gt=0, le=86_400)] = 1.0
    other_period_s: Annotated[float, Meta(gt=0, le=86_400)] | None = None
    current_a: Annotated[float, Meta(gt=0, le=0.02)] = 0.005
    groups: tuple[Driven, ...] = ()
    balanced: bool = False
    series: str = "E24"
    stock: tuple[Annotated[float, Meta(gt=0, le=1e9)], ...] = ()
    choose: Literal["at-most", "nearest"] = "at-most"
    resistor: str = "0805"
