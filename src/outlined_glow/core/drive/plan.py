"""The whole drive of a board, whatever its method: currents, parts, nets, limits, run time."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

from ..parts import Emitter, Source, Supply
from ..parts.nets import Net
from ..project import Finding
from .first_second import FirstSecond
from .law import LedLaw, law_of
from .supply.runtime import Load, RunTime, run_time
from .timing import Astable, Oscillator, TwoSpeeds
from .wanted import Wanted


@dataclass(frozen=True)
class Branch:
    """LEDs of one kind that are driven alike, by their indices: the current of one of their lights (which, `light` says)
    that is wanted, and that flows at minimum, typical and maximum, A.

    Where they have `resistors`, one each or fewer: their value, what the sum asked for, the volts left for one, and its power
    at worst. They are lit a share `duty` of the time, `count` of them in series: the currents are averages over that. `ohm` and
    `drop_v` are what stands in their way besides: outputs and switches. What is fed by pins has no more than `most_v`;
    of what is `regulated` the circuit keeps the current as it is.
    """

    emitter: Emitter
    light: Source
    indices: tuple[int, ...]
    target_a: float
    resistor_ohm: float | None
    ideal_ohm: float | None
    headroom_v: float
    forward_v: float
    current_min_a: float
    current_a: float
    current_max_a: float
    power_w: float
    duty: float = 1.0
    count: int = 1
    ohm: float = 0.0
    drop_v: float = 0.0
    resistors: int = 0
    most_v: float = math.inf
    regulated: bool = False

    @property
    def peak_a(self) -> float:
        """The typical current while lit, A."""
        return self.current_a / self.duty

    @property
    def law(self) -> LedLaw:
        """The typical LED of this kind."""
        return law_of(self.light)

    @property
    def title(self) -> str:
        """What it is: the kind of LED, and which of its lights."""
        return f"{self.emitter.name}, {self.light.name}" if self.light.name else self.emitter.name


@dataclass(frozen=True)
class PinUse:
    """A pin of the controller that is used: its number and name, and what it drives; whether that dims by its duty."""

    number: str
    name: str
    drives: str
    at_start: str = "floating"
    pwm: bool = False


@dataclass(frozen=True)
class DrivePlan:
    """What a method makes of the LEDs, all of them lit: source, branches, totals, run time (None where it does not end).

    `wanted` are the parts that it needs beside the LEDs, `values` what they are worth by their reference, `nets` what is
    joined with what. `controller` is the name of one, with the pins of it that are used. All LEDs together are lit anew
    `refresh_hz` times a second, where they take turns. `standing_a` flows while none is lit. The circuit ends
    `ends_below_v`. `average` is the share of the time that is told, `first` what happens from power-up on. `runs_on` is the
    source whose run time counts, of it and a `second` one, with its cells; after `off_s` a latch switches the board off.
    `current_a` is that of all LEDs, as if all were on; a circuit that lights one after another draws a share `at_once` of it,
    which the supply, its loads and `current_max_a`, the most at worst of either source, go by.
    """

    #: The key of the way they are driven.
    method: str
    supply: Supply
    cells: int
    supply_v: float
    branches: tuple[Branch, ...]
    current_a: float
    current_max_a: float
    steady: RunTime | None
    loads: tuple[Load, ...]
    findings: tuple[Finding, ...]
    wanted: tuple[Wanted, ...] = ()
    values: Mapping[str, str] = field(default_factory=dict)
    nets: tuple[Net, ...] = ()
    controller: str = ""
    pins: tuple[PinUse, ...] = ()
    refresh_hz: float | None = None
    standing_a: float = 0.0
    ends_below_v: float = 0.0
    average: float = 1.0
    first: FirstSecond | None = None
    capacity_ah: float | None = None
    extra_ohm: float = 0.0
    source_v: float = 0.0
    #: The most that the supply itself gives at worst, whatever a second source does, A.
    supply_max_a: float = 0.0
    #: The most that anything on the board may have, V: of either source when full, and of its rail.
    most_v: float = 0.0
    second: Supply | None = None
    runs_on: tuple[Supply, int] | None = None
    off_s: float | None = None
    drop_v: float = 0.0
    #: What the regulator turns into heat with all LEDs on that are on at once, W.
    regulator_w: float = 0.0
    at_once: float = 1.0
    #: What sets the pace where no program does.
    pace: Astable | Oscillator | TwoSpeeds | None = None

    @property
    def lit_a(self) -> float:
        """What all LEDs take that are lit at once, A."""
        return self.current_a * self.at_once

    @property
    def sources(self) -> tuple[Supply, ...]:
        """The supply, and the second source where there is one."""
        return (self.supply,) if self.second is None else (self.supply, self.second)

    @cached_property
    def _branches(self) -> dict[tuple[int, str], Branch]:
        return {(index, branch.light.name): branch for branch in self.branches for index in branch.indices}

    def branch_of(self, index: int, light: str = "") -> Branch | None:
        """The branch that holds a light of an LED; None for one that this method cannot light."""
        return self._branches.get((index, light))

    @cached_property
    def led_currents(self) -> dict[int, float]:
        """Typical current of each LED by index with all its lights on, A."""
        out: dict[int, float] = {}
        for (index, _), branch in self._branches.items():
            out[index] = out.get(index, 0.0) + branch.current_a
        return out

    def hours(self, duty: float, more_a: float = 0.0) -> RunTime | None:
        """The run time when the LEDs are lit a share of the time, and so much more is always drawn; None where it does not end
        or nothing is lit."""
        supply, cells = self.runs_on or (self.supply, self.cells)
        if not supply.ends or not self.loads or duty <= 0:
            return None
        return run_time(
            supply, cells, self.loads, duty=min(duty / self.at_once, 1.0), capacity_ah=self.capacity_ah,
            standing_a=self.standing_a + supply.leak_a + more_a, ends_below_v=self.ends_below_v, extra_ohm=self.extra_ohm,
            drop_v=self.drop_v,
        )  # fmt: skip
