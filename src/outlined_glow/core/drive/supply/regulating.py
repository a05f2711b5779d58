"""A regulator in a circuit: its parts, and what it cannot do (DOMAIN 5 and 9)."""

from __future__ import annotations

from ...parts import part
from ...project import Drive, Finding, Remedy
from ...units import show, show_si
from ..circuit import GROUND, Circuit, pin_named
from ..devices import Regulator
from ..limits import stop
from .feed import Feed
from .rail import MOST_RISE_K, copper_for, heat_w, kelvin_a_watt, least_source_v, rail_v, tab_copper_mm2

#: What a converter module may turn into heat, W.
_MODULE_W = 0.8


def join_regulator(circuit: Circuit, one: Regulator, before: str, after: str, volts: float) -> None:
    """The regulator in the way of the supply, a capacitor on either side."""
    body = part(one.part)
    ref = circuit.add(body, f"{volts:g} V")
    circuit.join(before, (ref, pin_named(body, "in")))
    for pin in body.pins:
        if pin.name == "out":
            circuit.join(after, (ref, pin.number))
        elif pin.role == "ground":
            circuit.join(GROUND, (ref, pin.number))
    circuit.two(part("capacitor 0805"), "10u", before, GROUND)
    circuit.two(part("capacitor 0805"), "10u", after, GROUND)


def regulator_findings(drive: Drive, one: Regulator, source: Feed, current_a: float) -> list[Finding]:
    """What a regulator cannot do on its supply, or on either of two; `current_a` is what its rail gives at worst."""
    high_v = source.high_v
    rail, out = rail_v(drive), []
    least = least_source_v(one, rail)
    usual_v, which = min((each.open_v, each.supply.title) for each in source.each)
    if usual_v < least:
        out.append(
            stop(
                "regulator-drops-out",
                f"The {one.title} needs {show(least, 2)} V to make {rail:g} V; "
                f"the supply ({which}) gives {show(usual_v, 2)} V.",
                Remedy("choose a low-dropout regulator or a step-up converter"), Remedy("lower the rail"),
                measured=round(usual_v, 3), allowed=round(least, 3),
            )
        )  # fmt: skip
    above_v = max(each.open_v for each in source.each)
    if high_v > one.most_in_v or (one.efficiency is not None and above_v > rail):
        most = one.most_in_v if one.efficiency is None else min(one.most_in_v, rail)
        out.append(
            stop(
                "regulator-input-too-high",
                f"The {one.title} takes at most {most:g} V; the supply gives {show(high_v, 2)} V.",
                Remedy("choose another regulator"), measured=round(high_v, 3), allowed=most,
            )
        )  # fmt: skip
    if current_a > one.most_a:
        out.append(
            stop(
                "regulator-over-current",
                f"The {one.title} gives at most {show_si(one.most_a, 'A')}; {show_si(current_a, 'A')} are asked of it.",
                Remedy("lower the LED current"), measured=current_a, allowed=one.most_a,
            )
        )  # fmt: skip
    return out + _warm(one, heat_w(one, rail, current_a, high_v))


def _warm(one: Regulator, watts: float) -> list[Finding]:
    """A regulator that becomes too warm on the copper that there is, or more than half as warm."""
    if one.efficiency is not None:
        most, told = _MODULE_W, f"a module of its size bears {_MODULE_W:g} W"
        helps: tuple[Remedy, ...] = (Remedy("lower the LED current"),)
    else:
        copper = tab_copper_mm2(part(one.part))
        most = MOST_RISE_K / kelvin_a_watt(copper)
        rise = watts * kelvin_a_watt(copper)
        told = f"on the {copper:.1f} mm² of copper at its tab it warms by {rise:.0f} K, and {MOST_RISE_K:g} K it bears"
        needs = copper_for(watts)
        wide = Remedy(f"give its tab {needs:.0f} mm² of copper") if needs else Remedy("use a step-up or step-down module")
        helps = (wide, Remedy("choose a supply nearer to the rail"), Remedy("lower the LED current"))
    if watts <= most / 2:
        return []
    return [
        Finding(
            code="regulator-warm", severity="stop" if watts > most else "warning", stage="drive",
            text=f"The {one.title} turns {show_si(watts, 'W')} into heat at worst: {told}.",
            measured=watts, allowed=round(most, 3), remedies=helps,
        )
    ]  # fmt: skip
