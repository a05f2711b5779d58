"""What flows in each net of a board with all its LEDs on: what every pin takes of it, and by which one it comes."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from .carriers import WHENEVER
from .circuit import PinOf
from .current_ways import CurrentWay

#: What pins take of a net, A; what they give is below 0.
Amps = Mapping[PinOf, float]


@dataclass(frozen=True)
class NetCurrents:
    """The pin of a net by which its current comes; what the pins take `always`, and in each of the `turns` of a way of driving,
    by its number; how much flows in the net at most, A."""

    source: PinOf
    always: Amps
    turns: Mapping[int, tuple[Amps, ...]]
    most_a: float


def net_currents(ways: Iterable[CurrentWay]) -> dict[str, NetCurrents]:
    """The currents of all nets in which one flows."""
    pins: dict[str, dict[tuple[int, int], dict[PinOf, float]]] = defaultdict(lambda: defaultdict(lambda: defaultdict(float)))
    whole: dict[str, dict[tuple[int, int], float]] = defaultdict(lambda: defaultdict(float))
    near: dict[str, dict[PinOf, float]] = defaultdict(lambda: defaultdict(float))
    last: dict[int, int] = {}
    for way in ways:
        number, turn = way.turn
        last[number] = max(turn, last.get(number, 0))
        for hops, amps in ((way.fed, way.current_a), (way.back, -way.current_a)):
            for hop in hops:
                pins[hop.net][way.turn][hop.far] += amps
                pins[hop.net][way.turn][hop.near] -= amps
                whole[hop.net][way.turn] += way.current_a
                near[hop.net][hop.near] += way.current_a
    return {net: _of_net(near[net], pins[net], whole[net], last) for net in pins}


def _of_net(
    near: Amps, pins: Mapping[tuple[int, int], Amps], whole: Mapping[tuple[int, int], float], last: Mapping[int, int]
) -> NetCurrents:
    source = max(near, key=lambda pin: near[pin])
    numbers = sorted({number for number, _ in pins if number != WHENEVER[0]})
    turns = {number: [pins.get((number, turn), {}) for turn in range(1, last[number] + 1)] for number in numbers}
    most = [max(amps for (number, _), amps in whole.items() if number == one) for one in numbers]
    return NetCurrents(
        source, dict(pins.get(WHENEVER, {})), {number: tuple(map(dict, some)) for number, some in turns.items()},
        whole.get(WHENEVER, 0.0) + sum(most),
    )  # fmt: skip


def at_once_a(ways: Iterable[CurrentWay]) -> float:
    """What all of them take together at a time, A: those that take turns as much as in the turn that takes most."""
    turns: dict[tuple[int, int], float] = defaultdict(float)
    for way in ways:
        turns[way.turn] += way.current_a
    most: dict[int, float] = defaultdict(float)
    for (number, _), amps in turns.items():
        most[number] = max(most[number], amps)
    return sum(most.values())
