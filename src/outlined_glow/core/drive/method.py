"""What a way to drive LEDs is: one object that builds a circuit, says what limits it, and what it can show."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass, field

from ..lights import Led
from ..project import Drive, Finding, Motion
from .channels import by_kind, channels_of, targets
from .circuit import Circuit
from .first_second import NOTHING_KNOWN, Start
from .pins import Pins
from .plan import Branch
from .shown import Asked, Numbers, all_on, in_steps
from .supply.feed import Feed
from .supply.runtime import Load
from .timing import Astable, Oscillator, TwoSpeeds
from .ways import Sized

#: How often all lights are lit in a second: for wearables, which move, 100 would be too few.
REFRESH_HZ = 200.0


@dataclass(frozen=True)
class Job:
    """LEDs that are driven in one way, what feeds them, and the circuit that is built.

    `loaded_v` is what is left of the supply under the currents that are wanted. `grids` are rows and columns of arrays that
    have them. `choice` says which of the alternatives of `needs` was taken; `pins` are those of the controller, if any.
    """

    drive: Drive
    leds: tuple[Led, ...]
    feed: Feed
    loaded_v: float
    circuit: Circuit
    grids: Mapping[str, tuple[int, int]] = field(default_factory=dict)
    pins: Pins | None = None
    choice: int = 0


@dataclass(frozen=True)
class Built:
    """What became of the LEDs: the ways of their currents, what was found, how often they are lit anew, for which share of the
    time the circuit itself lights each, what it draws besides, the volts it needs, and how it begins. What lights
    by no LED law tells its own `branches`, what they draw of the supply, and as what `loads` unless that is always the same.
    `pace` is the timer that sets it."""

    rows: tuple[Sized, ...]
    findings: tuple[Finding, ...] = ()
    refresh_hz: float | None = None
    share: float = 1.0
    standing_a: float = 0.0
    needs_v: float = 0.0
    start: Start = NOTHING_KNOWN
    branches: tuple[Branch, ...] = ()
    draws_a: float = 0.0
    loads: tuple[Load, ...] = ()
    pace: Astable | Oscillator | TwoSpeeds | None = None


class Method(ABC):
    """A way to drive LEDs. `key` is its name on the command line and in files, `title` what people read; `words` what it is,
    in a line. A `program` makes its lights; it can be changed later."""

    key: str
    title: str
    words: str = ""
    program: bool = False
    #: Which keys of the edit `drive` it goes by, beside supply and current.
    uses: tuple[str, ...] = ()
    #: What it lights: LEDs that take a current, data, a voltage, a high voltage; and whether lights that lie in rows and
    #: columns within a part, such as those of a dot block.
    lights: str = "current"
    #: The pattern that it shows by itself, without a program; how many outputs it deals LEDs out to that are all in one group.
    own_pattern: str = "steady"
    outputs: int = 1
    matrices: bool = False
    #: Whether lights may change places on its outputs: a program sends their levels in the order of those.
    outputs_swap: bool = False
    #: Whether its lights take turns: those that are fed by one net are lit together, net after net.
    turns: bool = False
    #: Whether its circuit lights one of its outputs after another, never two at once.
    one_output: bool = False
    #: How often in a second a program switches its lights to dim them; 0 where they are not switched.
    pulses_hz: float = 0.0

    def programmed(self, drive: Drive) -> bool:
        """Whether a program makes its lights, as it is driven."""
        return self.program

    def can_show(self, drive: Drive, motion: Motion) -> bool:
        """Whether it can truly show a motion, as it is driven."""
        return self.programmed(drive) or self.shows(motion)

    def needs(self, drive: Drive, leds: tuple[Led, ...], grids: Mapping[str, tuple[int, int]]) -> tuple[int, ...]:
        """How many pins of a controller it takes: its alternatives, the one it prefers first."""
        return (0,)

    def asks(self, drive: Drive, leds: tuple[Led, ...], feed: Feed) -> float:
        """The current that all of them together are to take, A."""
        kinds = by_kind(channels_of(leds))
        wanted = targets(drive, [one.light for one in kinds])
        return sum(each * len(one.channels) for each, one in zip(wanted, kinds, strict=True))

    def shows(self, motion: Motion) -> bool:
        """Whether it can truly show a motion; what it cannot is a preview. A program makes any of them; without one there is
        only a steady light at full brightness."""
        return self.program or motion.plays("steady")

    def bits(self, drive: Drive, lights: int = 1) -> int:
        """In how many bits a program tells each of so many lights how bright it is."""
        return 8

    def truly(self, drive: Drive, asked: Asked) -> Numbers:
        """What it shows of the levels that are wanted, (t, n, c): with a program all of them, in its steps; else steady
        light."""
        return in_steps(asked.levels, self.bits(drive, asked.lights)) if self.programmed(drive) else all_on(asked)

    @abstractmethod
    def build(self, job: Job) -> Built:
        """Put the circuit together. `Refused` where that cannot be."""


def lit_at_once(drive: Drive, count: int) -> int:
    """How many of so many LEDs are lit at a time."""
    return count if drive.lit == "all" else 1 if drive.lit == "one" else min(count, int(drive.lit))
