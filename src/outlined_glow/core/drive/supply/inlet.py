"""The way of the current from its sources to the rail of the board: holders, what they need, a selector, a latch, a regulator
(DOMAIN 9)."""

from __future__ import annotations

from collections.abc import Sequence

from ...parts import Supply, part
from ...project import Drive, Finding, Remedy
from ...units import show_si
from ..circuit import GROUND, SUPPLY, Circuit, pin_named
from ..timing import short_farads
from .auto_off import join_latch
from .feed import Feed
from .rail import rail_v, regulator_of
from .regulating import join_regulator
from .runtime import Load, source_state
from .source import source_title, supply_findings
from .supply_parts import feed_through, fitted

#: The nets of a supply before its latch, and before its regulator.
_BEFORE_LATCH, _UNREGULATED = "before auto-off", "supply in"
#: A second source on which the LEDs give less than this share of their light is told.
_DIM = 0.5


def join_inlet(circuit: Circuit, drive: Drive, feed: Feed) -> None:
    """Everything before the rail, the holder of the supply first."""
    source, regulator = feed.before or feed, regulator_of(drive)
    rail_in = SUPPLY if regulator is None else _UNREGULATED
    to = rail_in if drive.auto_off is None else _BEFORE_LATCH
    if source.second is None or drive.second is None or drive.second.joined == "nothing":
        _source(circuit, drive, source.supply, source.cells, to)
        if source.second is not None:
            _source(circuit, drive, source.second.supply, source.second.cells, to, "second ")
    else:
        _source(circuit, drive, source.supply, source.cells, "first source")
        _source(circuit, drive, source.second.supply, source.second.cells, "second source", "second ")
        _select(circuit, drive.second.joined, to)
    if drive.auto_off is not None:
        join_latch(circuit, drive, _BEFORE_LATCH, rail_in)
    if regulator is not None:
        join_regulator(circuit, regulator, rail_in, SUPPLY, rail_v(drive))


def _source(circuit: Circuit, drive: Drive, source: Supply, cells: int, to: str, of: str = "") -> None:
    """A source with what is fitted of what it needs; that of a solar cell is the capacitor that it fills."""
    holder = source.bodies.get(cells) or source.bodies[1]
    held = circuit.add(holder, source_title(source, cells))
    if not source.usual_farad:
        feed_through(circuit, held, holder, fitted(drive, source), to, of)
        return
    feed_through(circuit, held, holder, fitted(drive, source), "solar cell", of)
    _diode(circuit, "solar cell", to)
    store = part("double-layer capacitor")
    ref = circuit.add(store, short_farads(drive.farad or source.usual_farad))
    circuit.join(to, (ref, pin_named(store, "+")))
    circuit.join(GROUND, (ref, pin_named(store, "-")))


def _diode(circuit: Circuit, one: str, other: str) -> None:
    """A diode that lets a current from one net to another."""
    body = part("diode")
    ref = circuit.add(body)
    circuit.join(one, (ref, pin_named(body, "anode")))
    circuit.join(other, (ref, pin_named(body, "cathode")))


def _select(circuit: Circuit, by: str, to: str) -> None:
    """What keeps two sources apart."""
    if by == "diodes":
        _diode(circuit, "first source", to)
        _diode(circuit, "second source", to)
        return
    body = part("slide switch, two ways")
    ref = circuit.add(body, "source")
    circuit.join("first source", (ref, pin_named(body, "first")))
    circuit.join("second source", (ref, pin_named(body, "second")))
    circuit.join(to, (ref, pin_named(body, "common")))


def second_findings(
    drive: Drive, feed: Feed, loads: Sequence[Load], terminal_v: float, draws_a: tuple[float, float]
) -> list[Finding]:
    """What is wrong with a second source: nothing keeps it apart from the first, it cannot give what is asked, or the LEDs are
    dim on it. `loads` are what the sources see, `terminal_v` what is left of the first; `draws_a` is what the LEDs draw of
    the second at worst, and what is drawn besides, A."""
    source = feed.before or feed
    if drive.second is None or source.second is None:
        return []
    other = source.second
    names = f"{source_title(source.supply, source.cells)} and {source_title(other.supply, other.cells)}"
    out = [_two_inputs(names)] if drive.second.joined == "nothing" else []
    here = _drawn(source, loads, terminal_v)
    left, _ = source_state(other.supply, other.cells, tuple(loads), other.open_v, other.ohm)
    there = _drawn(other, loads, left)
    out += supply_findings(other.supply, there[0], draws_a[0], drive, standing_a=draws_a[1])
    if here[1] > 0 and there[1] < _DIM * here[1]:
        title = source_title(other.supply, other.cells)
        out.append(
            Finding(
                code="second-source-dim", severity="warning", stage="drive",
                text=f"On the {title} the LEDs give {100 * there[1] / here[1]:.0f} % of the light that they give on the "
                f"{source_title(source.supply, source.cells)}, with {show_si(there[0], 'A')}.",
                measured=round(there[1] / here[1], 3), allowed=_DIM,
                remedies=(Remedy("take a second source of more volts"), Remedy("use a regulator for both")),
            )
        )  # fmt: skip
    return out


def _drawn(feed: Feed, loads: Sequence[Load], terminal_v: float) -> tuple[float, float]:
    """The current of all loads on so much of a source, A, and their light."""
    _, currents = source_state(feed.supply, 1, tuple(loads), terminal_v, 0.0)
    every = [(amps * one.lights * one.duty, one.light_per_a) for amps, one in zip(currents, loads, strict=True)]
    return sum(amps for amps, _ in every), sum(amps * light for amps, light in every)


def _two_inputs(names: str) -> Finding:
    return Finding(
        code="two-inputs", severity="stop", stage="drive",
        text=f"{names} may be plugged in at once: then one drives a current into the other.",
        remedies=(
            Remedy("add a switch that selects one", "second-source", (("joined", "switch"),)),
            Remedy("put a diode before each", "second-source", (("joined", "diodes"),)),
            Remedy("leave the second source away", "second-source", (("supply", "none"),)),
        ),
    )  # fmt: skip


def lasting(feed: Feed) -> tuple[Supply, int] | None:
    """The source that runs empty, with its cells: the first, or else the second; None where neither does."""
    source = feed.before or feed
    if source.supply.ends:
        return source.supply, source.cells
    if source.second is not None and source.second.supply.ends:
        return source.second.supply, source.second.cells
    return None
