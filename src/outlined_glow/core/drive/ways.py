"""Ways of a current: LEDs in series with a resistor and whatever else stands before it; the resistor is chosen, and the
currents follow by the LED law, at minimum, typical and maximum (DOMAIN 3 and 4)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..parts import Emitter, Source
from ..parts.library import tolerance
from ..project import Drive
from .law import LedLaw, branch_current, law_of
from .plan import Branch
from .resistor import preferred
from .supply.feed import Feed
from .supply.runtime import Load, source_state
from .turns import allowed_peak

#: The least resistor that is put before an LED, ohm.
_LEAST_OHM = 10.0


@dataclass(frozen=True)
class Way:
    """Alike lights, by the indices of their LEDs, and what their current goes through.

    `target_a` is the current wanted while they are lit, for a share `duty` of the time; `count` of them lie in series. `ohm`
    and `drop_v` stand in the way besides: outputs and switches. `limit_a` is the most that an output of them bears. Where
    a circuit regulates the current, `regulated` tells so: it takes no resistor. What is fed by pins has no more than
    `most_v`, whatever the supply is. A circuit that lights one after another has a share `at_once` of them lit at a time. Where
    they share their resistors, `shared` tells how many there are, and the share of the time that each carries a current.
    """

    emitter: Emitter
    light: Source
    indices: tuple[int, ...]
    target_a: float
    duty: float = 1.0
    count: int = 1
    ohm: float = 0.0
    drop_v: float = 0.0
    limit_a: float | None = None
    regulated: bool = False
    most_v: float = math.inf
    at_once: float = 1.0
    shared: tuple[int, float] | None = None

    @property
    def law(self) -> LedLaw:
        """The typical light."""
        return law_of(self.light)

    @property
    def needs_v(self) -> float:
        """What it takes before any resistor, V."""
        return self.count * self.law.volts(self.target_a) + self.drop_v

    @property
    def most_a(self) -> float:
        """The most current while lit that light and output bear."""
        most = allowed_peak(self.light.continuous_a, self.duty)
        return most if self.limit_a is None else min(most, self.limit_a)

    def at_most(self, feed: Feed, resistor_ohm: float, spread: float) -> float:
        """The current at the highest supply, the least forward voltage and resistor, A."""
        if self.regulated:
            return self.target_a
        law = LedLaw(self.light.forward_v[0], self.light.forward_a)
        volts = min(feed.high_v, self.most_v) - self.drop_v
        return branch_current(volts, resistor_ohm * (1 - spread) + self.ohm, law, self.count)

    def at_least(self, feed: Feed, resistor_ohm: float, spread: float) -> float:
        """The current at the lowest supply, the most forward voltage and resistor, A."""
        law = LedLaw(self.light.forward_v[2], self.light.forward_a)
        volts = min(feed.low_v, self.most_v) - self.drop_v
        flows = branch_current(volts, resistor_ohm * (1 + spread) + self.ohm, law, self.count)
        return min(flows, self.target_a) if self.regulated else flows


@dataclass(frozen=True)
class Sized:
    """A way with its resistor (None: no voltage is left for one; 0: none is needed), what the sum asked for, the volts left for
    it, and whether it was raised so that the worst case holds."""

    way: Way
    resistor_ohm: float | None
    ideal_ohm: float | None
    headroom_v: float
    raised: bool = False


def sized(way: Way, loaded_v: float, feed: Feed, drive: Drive) -> Sized:
    """The resistor of a way on what is left of the supply."""
    headroom = loaded_v - way.needs_v
    if headroom <= 0:
        return Sized(way, None, None, headroom)
    if way.regulated:
        return Sized(way, 0.0, 0.0, headroom)
    ideal = headroom / way.target_a - way.ohm
    chosen = (
        preferred(ideal, drive.series, drive.choose, drive.stock) if ideal >= _LEAST_OHM else 0.0 if way.ohm else _LEAST_OHM
    )
    first, spread = chosen, tolerance(drive.series)
    if way.at_most(feed, chosen, spread) > way.most_a:
        law = LedLaw(way.light.forward_v[0], way.light.forward_a)
        left = min(feed.high_v, way.most_v) - way.drop_v - way.count * law.volts(way.most_a)
        chosen = preferred(max((left / way.most_a - way.ohm) / (1 - spread), _LEAST_OHM), drive.series, "at-most", drive.stock)
    return Sized(way, chosen, ideal, headroom, chosen > first)


def lit_a(one: Sized, volts: float) -> float:
    """What flows in a way while it is lit, with so much left of the supply, A."""
    way = one.way
    if one.resistor_ohm is None or way.regulated:
        return 0.0 if one.resistor_ohm is None else way.target_a
    return branch_current(min(volts, way.most_v) - way.drop_v, one.resistor_ohm + way.ohm, way.law, way.count)


def share_at_once(outputs: Sequence[float]) -> float:
    """The share that flows at a time of what flows in outputs of which one is lit after another: that of the strongest."""
    return max(outputs, default=1.0) / (sum(outputs) or 1.0)


def sharing(rows: Sequence[Sized], ohm: float, resistors: int, carries: float) -> list[Sized]:
    """Ways that share so many resistors of one value, each of which carries a current for a share of the time."""
    return [
        row
        if row.resistor_ohm is None
        else Sized(replace(row.way, shared=(resistors, carries)), ohm, row.ideal_ohm, row.headroom_v)
        for row in rows
    ]


def load_of(one: Sized) -> Load:
    """What a way draws, for the sums over the whole board."""
    way, law = one.way, one.way.law
    whole = LedLaw(
        way.count * law.forward_v + way.drop_v, law.forward_a, way.count * law.ideality, way.count * law.series_ohm
    )  # fmt: skip
    light = way.light.mcd / way.light.forward_a * way.count
    strings = len(way.indices) / way.count * way.at_once
    most_a = way.target_a if way.regulated else None
    return Load(whole, (one.resistor_ohm or 0.0) + way.ohm, strings, light, way.duty, most_a, most_v=way.most_v)


def merged(loads: Sequence[Load]) -> tuple[Load, ...]:
    """Equal loads put together: the sums over the whole board grow with their number."""
    out: dict[Load, float] = {}
    for one in loads:
        alone = replace(one, lights=1.0)
        out[alone] = out.get(alone, 0.0) + one.lights
    return tuple(replace(one, lights=lights) for one, lights in out.items())


def together(rows: Sequence[Sized]) -> list[Sized]:
    """Ways that are alike but for their LEDs, each kind of them as one."""
    kinds: dict[tuple[object, ...], list[Sized]] = {}
    for one in rows:
        way = one.way
        told = (way.target_a, way.duty, way.count, way.ohm, way.drop_v, way.limit_a, way.regulated, way.most_v)
        told_too = (way.at_once, way.shared, one.resistor_ohm, one.raised)
        kinds.setdefault((way.emitter.name, way.light.name, *told, *told_too), []).append(one)
    out = []
    for some in kinds.values():
        indices = tuple(sorted(index for one in some for index in one.way.indices))
        out.append(replace(some[0], way=replace(some[0].way, indices=indices)))
    return out


def branch_of(one: Sized, terminal_v: float, feed: Feed, drive: Drive) -> Branch:
    """What flows in a way when so much is left of the supply."""
    if one.resistor_ohm is None:
        return _branch(one, 0.0, feed, drive)
    volts = min(terminal_v, one.way.most_v)
    _, (peak,) = source_state(feed.supply, feed.cells, (load_of(one),), volts, 0.0)
    return _branch(one, peak, feed, drive)


def _branch(one: Sized, peak: float, feed: Feed, drive: Drive) -> Branch:
    way, ohms, duty = one.way, one.resistor_ohm, one.way.duty
    light = way.light
    if ohms is None:
        return Branch(
            way.emitter, light, way.indices, way.target_a * duty, None, None, one.headroom_v, light.forward_v[1],
            0.0, 0.0, 0.0, 0.0, duty, way.count, way.ohm, way.drop_v, most_v=way.most_v,
        )  # fmt: skip
    resistors, carries = way.shared or (len(way.indices) // way.count, duty)
    spread = tolerance(drive.series)
    most = way.at_most(feed, ohms, spread)
    least = way.at_least(feed, ohms, spread)
    volts = way.law.volts(max(peak, 1e-9))
    return Branch(
        way.emitter, light, way.indices, way.target_a * duty, ohms, one.ideal_ohm, one.headroom_v, volts,
        least * duty, peak * duty, most * duty, most**2 * ohms * carries, duty, way.count, way.ohm, way.drop_v,
        resistors, way.most_v, way.regulated,
    )  # fmt: skip
