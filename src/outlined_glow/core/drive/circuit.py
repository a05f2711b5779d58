"""A circuit as it is put together: parts with their values, and the nets that join their pins."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Mapping

from ..parts import Part
from ..parts.nets import Net
from .wanted import Wanted

#: A pin: the reference of its part, and its number.
PinOf = tuple[str, str]

SUPPLY, GROUND = "supply", "ground"


class Circuit:
    """Parts beside the LEDs, and nets over all of them. Resistors that belong to no LED are numbered `after` those that do."""

    def __init__(self, after: int = 0) -> None:
        self._parts: list[tuple[Wanted, str]] = []
        self._nets: dict[str, tuple[str, dict[PinOf, None]]] = {SUPPLY: (SUPPLY, {}), GROUND: (GROUND, {})}
        self._count: Counter[str] = Counter(R=after)
        self._refs: set[str] = set()
        #: Nets whose name is none of the circuit's, by that name: the other name they have where the circuit uses it too; and
        #: what each is called now, by that other name.
        self._apart: dict[str, str] = {}
        self._called: dict[str, str] = {}
        #: What ways share: the supply, and what leads to it; and the nets of the way that is built, by what it calls them.
        self._common: set[str] = {SUPPLY, GROUND}
        self._own: dict[str, str] | None = None
        self._own_names: set[str] = set()
        self._of = ""

    def add(self, part: Part, value: str = "", led: int | None = None, ref: str = "", outside: bool = False) -> str:
        """One more part, beside an LED, in the middle of the board or far from it; its reference, the next free one unless
        told."""
        while not ref or ref in self._refs:
            self._count[part.prefix] += 1
            ref = f"{part.prefix}{self._count[part.prefix]}"
        self._refs.add(ref)
        self._parts.append((Wanted(ref, part, led, outside=outside), value))
        return ref

    def join(self, net: str, *pins: PinOf, kind: str = "signal") -> str:
        """Join pins to a net, which is there from then on; its name."""
        name = self.named(net)
        if name in self._apart:  # it gives way
            other = self._apart.pop(name)
            new = self._called[other] = self._unused(other)
            self._nets = {new if known == name else known: value for known, value in self._nets.items()}
        self._nets.setdefault(name, (kind, {}))[1].update(dict.fromkeys(pins))
        return name

    def begin(self, of: str) -> None:
        """From here on another way is built: nets that it calls like those of ways before it are others, told apart by `of`."""
        if self._own is None:
            self._common.update(self._nets.keys() - self._apart.keys())
        self._own, self._own_names, self._of = {}, set(), of

    def has(self, net: str) -> str:
        """What the way that was built last calls so: the name of its net, or the same where that is none."""
        return (self._own or {}).get(net, net)

    def end(self) -> None:
        """All ways are built; what comes after is common to them."""
        self._own = None

    def named(self, net: str) -> str:
        """The name of a net that the way that is built calls so."""
        if self._own is None or net in self._common or net in self._own_names:
            return net
        if net not in self._own:
            free = net not in self._nets or net in self._apart
            name = self._own[net] = net if free else self._unused(f"{net}, {self._of}")
            self._own_names.add(name)
        return self._own[net]

    def apart(self, net: str, other: str, *pins: PinOf) -> None:
        """Join pins to a net that stays one of its own: where the circuit has, or comes to have, one of that name, it has the
        other name, which is given to no other net."""
        name = net
        if net in self._nets:
            name = self._unused(other)
        else:
            self._apart[net] = other
        self._called[other] = name
        self._nets[name] = ("signal", dict.fromkeys(pins))

    def called(self, other: str) -> str:
        """What the net of that other name is called now."""
        return self._called[other]

    def _unused(self, name: str) -> str:
        """The name, or the first number after it, that no net has."""
        names = itertools.chain([name], (f"{name} {at}" for at in itertools.count(2)))
        return next(one for one in names if one not in self._nets)

    def two(self, part: Part, value: str, one: str, other: str, led: int | None = None, ref: str = "") -> str:
        """A part of two pins between two nets; its reference."""
        ref = self.add(part, value, led, ref)
        first, second = part.pins[0].number, part.pins[1].number
        self.join(one, (ref, first))
        self.join(other, (ref, second))
        return ref

    def feed(self, ref: str, part: Part, supply: str = SUPPLY) -> None:
        """Join the pins of a part that are its supply and its ground."""
        for pin in part.pins:
            if pin.role in (SUPPLY, GROUND):
                self.join(supply if pin.role == SUPPLY else GROUND, (ref, pin.number))

    @property
    def wanted(self) -> tuple[Wanted, ...]:
        """The parts, in their order."""
        return tuple(one for one, _ in self._parts)

    @property
    def values(self) -> Mapping[str, str]:
        """What they are worth, by reference."""
        return {one.ref: value for one, value in self._parts}

    @property
    def nets(self) -> tuple[Net, ...]:
        """Every net that joins something; the supply and the ground are always there."""
        named = self._nets.items()
        return tuple(Net(name, tuple(pins), kind) for name, (kind, pins) in named if pins or name in (SUPPLY, GROUND))


def pin_named(part: Part, name: str) -> str:
    """The number of the pin of a part that is called so."""
    return next(pin.number for pin in part.pins if pin.name == name)
