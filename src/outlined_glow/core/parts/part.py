"""One model of everything that is soldered to a board or plugged into it (DOMAIN 3): pins, pads, holes, body, marks, looks.

The same object is a part of the library and a part in a file of one's own. Lengths are mm about the part's middle, x along it,
as seen from its own side; pin 1, the cathode or minus, is toward −x.
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta, Struct

Role = Literal[
    "anode", "cathode", "common", "supply", "ground", "data in", "data out", "select", "passive", "not connected",
    "input", "output", "clock", "reset", "enable", "oscillator", "sense",
]  # fmt: skip
Length = Annotated[float, Meta(ge=-500, le=500)]
Size = Annotated[float, Meta(gt=0, le=500)]
Colour = Annotated[str, Meta(pattern="^[0-9A-F]{6}$")]
Volts = Annotated[float, Meta(gt=0, le=400)]
Amperes = Annotated[float, Meta(gt=0, le=10)]


class Pin(Struct, frozen=True, forbid_unknown_fields=True):
    """A pin: its number, what it is called, and what it does."""

    number: str
    name: str = ""
    role: Role = "passive"


def pin_order(number: str) -> tuple[bool, int, str]:
    """What pins are sorted by: 2 comes before 10, and letters after numbers.

    >>> sorted(["10", "A1", "2"], key=pin_order)
    ['2', '10', 'A1']
    """
    plain = number.isdecimal()
    return not plain, int(number) if plain else 0, number


class Pad(Struct, frozen=True, forbid_unknown_fields=True):
    """A land of a pin. With a drill it is a plated hole through both sides; one without paste is a bare contact."""

    pin: str
    x_mm: Length
    y_mm: Length
    width_mm: Size
    height_mm: Size
    shape: Literal["box", "round"] = "box"
    drill_mm: Annotated[float, Meta(ge=0, le=20)] = 0.0
    paste: bool = True


class BareHole(Struct, frozen=True, forbid_unknown_fields=True):
    """A hole without copper that the part needs."""

    x_mm: Length
    y_mm: Length
    diameter_mm: Size


class Stroke(Struct, frozen=True, forbid_unknown_fields=True):
    """A piece of a part's picture from above: a box, or a disc as wide as `width_mm`; `strength` is how much it covers."""

    colour: Colour
    width_mm: Size
    height_mm: Annotated[float, Meta(ge=0, le=500)] = 0.0
    x_mm: Length = 0.0
    y_mm: Length = 0.0
    shape: Literal["box", "disc"] = "box"
    strength: Annotated[float, Meta(gt=0, le=1)] = 1.0


class Light(Struct, frozen=True, forbid_unknown_fields=True):
    """What a part is as a source of light: forward voltage (least, typical, most) and intensity at `forward_a`, straight ahead,
    the colour of its light, and at which angle from its axis it is half as bright."""

    forward_v: tuple[Volts, Volts, Volts]
    mcd: Annotated[float, Meta(gt=0, le=1e6)]
    light: Colour
    forward_a: Amperes = 0.02
    continuous_a: Amperes = 0.02
    half_angle_deg: Annotated[float, Meta(gt=1, lt=89)] = 60.0
    lens_mm: Annotated[float, Meta(ge=0, le=100)] = 0.0
    holes_mm: dict[str, Size] = {}


class Die(Struct, frozen=True, forbid_unknown_fields=True):
    """One of the lights of a part that has several: a chip, a segment, a dot.

    `anode` and `cathode` are the pins that it lies between; a part that drives its lights itself names none. Its light is a
    `colour` of the library's table, or `light`, or else that of the whole part, `share` times as bright. It lies at a place,
    or is a bar from there to `to_mm`.
    """

    name: str
    anode: str = ""
    cathode: str = ""
    colour: str = ""
    light: Light | None = None
    share: Annotated[float, Meta(gt=0, le=10)] = 1.0
    x_mm: Length = 0.0
    y_mm: Length = 0.0
    to_mm: tuple[Length, Length] | None = None


class Part(Struct, frozen=True, forbid_unknown_fields=True):
    """A part of the library.

    `prefix` begins its reference (R, D, BT). `body_mm` is length and width, `height_mm` how far it stands up on its side,
    `behind_mm` on the other. `court_mm`, where something larger lies in it, is the room that takes; where that slides in along
    its y, from one side or the other, `slides_mm` is how wide and how long its way beside the body is. `legend` is what is
    printed beside it: a bar or a dot at pin 1, the signs of a supply, or nothing; `labelled`: its value is printed with
    its reference. `shines` says which way a source of light sends it (sideways is its own −y), `light` what that is and
    `dies` which lights it has, if it has more than one; `fed_by` is what they need: a current, data, a voltage alone, a
    high voltage. Such a part never moves to make room. `mark` tells in words how the real part shows which end is which.
    `pins_differ` from maker to maker: the real part is compared before it is ordered. What is `upright` is read, and has
    an up: its own +y. `fits` names parts that do the same in another body.
    """

    name: str
    kind: str
    title: str
    prefix: str
    pins: tuple[Pin, ...]
    pads: tuple[Pad, ...]
    body_mm: tuple[Size, Size]
    height_mm: Annotated[float, Meta(ge=0, le=200)]
    behind_mm: Annotated[float, Meta(ge=0, le=200)] = 0.0
    court_mm: tuple[Size, Size] | None = None
    slides_mm: tuple[Size, Size] | None = None
    holes: tuple[BareHole, ...] = ()
    legend: Literal["", "bar", "dot", "signs"] = ""
    labelled: bool = True
    shines: Literal["", "forward", "through", "sideways"] = ""
    mark: str = ""
    drawing: tuple[Stroke, ...] = ()
    rated_w: Annotated[float, Meta(gt=0, le=1000)] | None = None
    light: Light | None = None
    dies: tuple[Die, ...] = ()
    fed_by: Literal["current", "data", "voltage", "high voltage"] = "current"
    pins_differ: bool = False
    upright: bool = False
    price: Annotated[float, Meta(ge=0, le=1e5)] | None = None
    solder: Literal["", "by hand", "reflow", "either"] = ""
    fits: tuple[str, ...] = ()

    def __hash__(self) -> int:
        # By name alone: what a part says of its light has a table in it, which has no hash.
        return hash(self.name)

    @property
    def is_bought(self) -> bool:
        """Whether it is a thing: what has neither height nor price is only pads, for a lead or to program by."""
        return self.height_mm > 0 or self.price is not None

    @property
    def courtyard(self) -> tuple[float, float]:
        """Length and width that body, pads and what lies in it need together, mm."""
        room = self.court_mm or self.body_mm
        length = max([self.body_mm[0], room[0]] + [2 * (abs(pad.x_mm) + pad.width_mm / 2) for pad in self.pads])
        width = max([self.body_mm[1], room[1]] + [2 * (abs(pad.y_mm) + pad.height_mm / 2) for pad in self.pads])
        return length, width

    def pin(self, number: str) -> Pin:
        """The pin of that number."""
        return next(one for one in self.pins if one.number == number)


def wrong_with(part: Part) -> str | None:
    """What makes a part impossible, in words; None for a good one."""
    if not part.pins:
        return "it has no pins"
    if not part.prefix.strip():
        return "it has no prefix for its references, such as D or R"
    numbers = [one.number for one in part.pins]
    double = next((one for one in numbers if numbers.count(one) > 1), None)
    if double is not None:
        return f"pin {double} is there twice"
    stray = next((pad.pin for pad in part.pads if pad.pin not in numbers), None)
    if stray is not None:
        return f"a pad belongs to pin {stray}, which it does not have"
    for pad in part.pads:
        if pad.drill_mm >= min(pad.width_mm, pad.height_mm):
            return f"the hole of a pad of pin {pad.pin} is as wide as the pad"
    for at, pad in enumerate(part.pads):
        for other in part.pads[at + 1 :]:
            apart_x = abs(pad.x_mm - other.x_mm) - (pad.width_mm + other.width_mm) / 2
            apart_y = abs(pad.y_mm - other.y_mm) - (pad.height_mm + other.height_mm) / 2
            if pad.pin != other.pin and max(apart_x, apart_y) <= 0:
                return f"the pads of pins {pad.pin} and {other.pin} cross"
    bare = next((one.number for one in part.pins if one.number not in {pad.pin for pad in part.pads}), None)
    if bare is not None and part.pads:
        return f"pin {bare} has no pad"
    return _wrong_with_light(part)


def _wrong_with_light(part: Part) -> str | None:
    given = [one for one in (part.light, *(die.light for die in part.dies)) if one is not None]
    if any(list(one.forward_v) != sorted(one.forward_v) for one in given):
        return "its forward voltages are not in the order least, typical, most"
    fed = part.fed_by == "current"
    if fed and not part.dies and part.light is not None and not {"anode", "cathode"} <= {one.role for one in part.pins}:
        return "it gives light, and no pin is its anode or its cathode"
    between: dict[tuple[str, str], str] = {}
    numbers = {one.number for one in part.pins}
    for die in part.dies if fed else ():
        stray = next((pin for pin in (die.anode, die.cathode) if pin not in numbers), None)
        if stray is not None:
            return f"its light {die.name} lies at pin “{stray}”, which it does not have"
        if die.anode == die.cathode:
            return f"its light {die.name} has both ends at pin {die.anode}"
        other = between.setdefault((die.anode, die.cathode), die.name)
        if other != die.name:
            return f"its lights {other} and {die.name} lie between the same pins"
    return None
