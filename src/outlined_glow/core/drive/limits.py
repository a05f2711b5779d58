"""What a way of driving may not do, as findings: which limit is broken, by how much, and what helps (DOMAIN 5)."""

from __future__ import annotations

from collections.abc import Sequence

from ..parts import resistor
from ..project import Drive, Finding, Remedy
from ..text_safety import short
from ..units import show, show_si
from .circuit import Circuit
from .devices import Controller, Family, Sink
from .plan import Branch
from .resistor import short_ohms
from .supply.feed import Feed

#: What is left for a resistor, at least, so that the supply does not decide the brightness, V (DOMAIN 4).
HEADROOM_V = 0.4
#: Which limit a finding of the drive is about, as `plan --json` names it.
LIMITS = {
    "no-voltage-left": "headroom",
    "little-headroom": "headroom",
    "pulse-over-limit": "pulse",
    "resistor-warm": "heat",
    "supply-over-current": "supply-current",
    "cell-over-continuous": "supply-current",
    "needs-controller": "program",
    "too-few-pins": "pins",
    "too-few-outputs": "pins",
    "outside-supply-range": "supply-range",
    "cells-left-full": "supply-range",
    "output-over-current": "pin-current",
    "package-over-current": "package-current",
    "leds-ghost": "ghost",
    "power-bank": "supply-current",
    "lamp-inrush": "supply-current",
    "second-source-dim": "headroom",
}


class Refused(Exception):
    """A way of driving cannot be: the finding that says why."""

    def __init__(self, finding: Finding) -> None:
        super().__init__(finding.text)
        self.finding = finding


def stop(code: str, text: str, *remedies: Remedy, measured: float | None = None, allowed: float | None = None) -> Finding:
    """A stop of the drive."""
    return Finding(
        code=code, severity="stop", stage="drive", text=text, measured=measured, allowed=allowed, remedies=remedies
    )  # fmt: skip


def not_for_these(title: str, why: str) -> Finding:
    """A way that does not go with these LEDs at all."""
    return stop(
        "method-not-for-these",
        f"{title.capitalize()} cannot drive these LEDs: {why}.",
        Remedy("choose another way to drive them"),
    )


def lit_together(title: str, why: str) -> Finding:
    """A way for LEDs of which one at a time is lit, asked to light more."""
    return stop(
        "lit-more-than-one", f"{title.capitalize()} goes only where one LED is lit at a time: {why}.",
        Remedy("light one at a time"),
    )  # fmt: skip


def needs_controller(title: str) -> Finding:
    """A way that needs a program, where no controller is wanted."""
    return stop(
        "needs-controller", f"To drive them by {title} takes a controller with a program, and this board shall have none.",
        Remedy("let a controller be chosen", "drive", (("controller", "any"),)),
    )  # fmt: skip


def controller_out_of_range(one: Controller, feed: Feed) -> Finding:
    """A controller that the supply cannot feed."""
    return outside(f"The {one.title} runs", one.supply_v, feed, Remedy("choose another controller"))


def too_few_pins(title: str, needed: int, one: Controller, free: int) -> Finding:
    """A controller with fewer free outputs than are asked for."""
    return stop(
        "too-few-pins",
        f"To drive them by {title} takes {needed} pins of a controller; the {one.title} has {free} that can drive "
        "something and are not kept for something else.",
        Remedy("drive them by registers"), measured=needed, allowed=free,
    )  # fmt: skip


def no_such_controller(name: str) -> Finding:
    """A controller of one's own that this board does not have."""
    return stop(
        "needs-controller", f"There is no controller “{short(name)}”: its table of pins is not in this project.",
        Remedy("let a controller be chosen", "drive", (("controller", "any"),)),
    )  # fmt: skip


def pin_cannot_be_kept(name: str, number: str, why: str) -> Finding:
    """A pin that was kept for something by hand, and is none that the controller can give."""
    remedy = Remedy("keep it no longer", "reserve-pin", (("pin", number), ("name", "nothing")))
    return _wrong_pin(number, f"kept for “{short(name)}”, but {why}: keep another one", remedy)


def pin_cannot_drive(net: str, number: str, why: str) -> Finding:
    """A pin that was given to something by hand, and cannot have it."""
    remedy = Remedy("let a pin be chosen", "give-pin", (("net", net), ("pin", "any")))
    return _wrong_pin(number, f"given to “{short(net)}”, but {why}", remedy)


def _wrong_pin(number: str, what: str, remedy: Remedy) -> Finding:
    text = f"Pin {short(number)} of the controller was {what}."
    return Finding(code="pin-cannot-drive", severity="warning", stage="drive", text=text, remedies=(remedy,))


def out_of_range(what: str, one: Family, feed: Feed) -> Finding | None:
    """Logic that does not run over the whole range of a supply; on cells, not even when they are new. None where it does."""
    low, high = one.supply_v
    if low <= feed.least_v + 1e-9 and feed.high_v <= high + 1e-9:
        return None
    remedies = Remedy("choose another supply"), Remedy("choose another logic family")
    return outside(f"The {what} ({one.title}) runs", one.supply_v, feed, *remedies)


def outside(runs: str, supply_v: tuple[float, float], feed: Feed, *remedies: Remedy) -> Finding:
    """Something that runs on other volts than the supply gives."""
    low, high = supply_v
    least = feed.least_v
    return stop(
        "outside-supply-range",
        f"{runs} on {low:g} to {high:g} V; the supply gives {feed.low_v:.2f} to {feed.high_v:.2f} V.",
        *remedies, measured=round(least if least < low else feed.high_v, 3), allowed=low if least < low else high,
    )  # fmt: skip


def output_over(what: str, most_a: float, allowed_a: float, drive: Drive) -> Finding:
    """An output that carries more than it bears."""
    text = f"{what} would carry {show_si(most_a, 'A')} at worst; it bears {show_si(allowed_a, 'A')}."
    return _too_much("output-over-current", text, most_a, allowed_a, drive)


def package_over(what: str, most_a: float, allowed_a: float, drive: Drive) -> Finding:
    """A package that carries more through all its outputs than it bears."""
    text = f"All outputs of {what} together would carry {show_si(most_a, 'A')}; it bears {show_si(allowed_a, 'A')}."
    return _too_much("package-over-current", text, most_a, allowed_a, drive)


def _too_much(code: str, text: str, most_a: float, allowed_a: float, drive: Drive) -> Finding:
    lower = float(f"{drive.current_a * 0.9 * allowed_a / most_a:.2g}")
    remedy = Remedy(f"lower the LED current to {show_si(lower, 'A')}", "set-current", (("current_a", lower),))
    return stop(code, text, remedy, measured=most_a, allowed=allowed_a)


def pulse_over(title: str, peak_a: float, allowed_a: float, duty: float, drive: Drive) -> Finding:
    """A pulse beyond what an LED bears at that duty."""
    lower = float(f"{drive.current_a * 0.95 * allowed_a / peak_a:.2g}")
    return stop(
        "pulse-over-limit",
        f"A {title} LED would need {show_si(peak_a, 'A')} while it is lit, 1/{1 / duty:.3g} of the time; "
        f"it bears {show_si(allowed_a, 'A')} then.",
        Remedy(f"lower the LED current to {show_si(lower, 'A')}", "set-current", (("current_a", lower),)),
        measured=peak_a, allowed=allowed_a,
    )  # fmt: skip


def no_voltage(one: Branch, needs_v: float) -> Finding:
    """LEDs that the supply cannot light at the current wanted."""
    several = f"{one.count} {one.emitter.name} LEDs in series" if one.count > 1 else f"{one.emitter.name} LEDs"
    return stop(
        "no-voltage-left",
        f"The supply is too low for {several}: they need {needs_v:.2f} V, "
        f"the supply gives {max(0.0, needs_v + one.headroom_v):.2f} V at this current.",
        Remedy("power it from USB", "set-supply", (("supply", "usb"),)),
        Remedy("choose a colour with a lower forward voltage"),
        Remedy("add a cell"),
        measured=round(needs_v + one.headroom_v, 3), allowed=round(needs_v, 3),
    )  # fmt: skip


def resistor_findings(branch: Branch, drive: Drive) -> list[Finding]:
    """What is said of the resistors of a branch."""
    out = []
    if branch.resistor_ohm and branch.headroom_v < HEADROOM_V:
        out.append(
            Finding(
                code="little-headroom", severity="warning", stage="drive",
                text=f"Only {branch.headroom_v:.2f} V are left for the resistor of the {branch.title} LEDs: "
                "their brightness will follow the supply.",
                measured=round(branch.headroom_v, 3), allowed=HEADROOM_V,
                remedies=(Remedy("raise the supply"), Remedy("lower the current")),
            )
        )  # fmt: skip
    rated = resistor(drive.resistor).rated_w or 0.0
    if branch.power_w > rated / 2:
        out.append(
            Finding(
                code="resistor-warm", severity="warning", stage="drive",
                text=f"A resistor of the {branch.title} LEDs dissipates {show_si(branch.power_w, 'W')}, "
                f"over half of the {show(rated * 1000, 0)} mW an {drive.resistor} resistor is rated for.",
                measured=branch.power_w, allowed=rated / 2,
                remedies=(Remedy("1206 resistors", "set-resistors", (("size", "1206"),)),),
            )
        )  # fmt: skip
    return out


def not_at_hand(drive: Drive, circuit: Circuit) -> list[Finding]:
    """The resistors of a circuit that are none of those at hand, where some are."""
    if not drive.stock:
        return []
    held = {short_ohms(value) for value in drive.stock}
    values = circuit.values
    used = {values[one.ref] for one in circuit.wanted if one.part.kind.startswith("resistor")}
    missing = sorted(used - held, key=lambda text: (text.translate(str.maketrans("", "", "0123456789")), text))
    if not missing:
        return []
    text = f"These resistors are not at hand: {', '.join(missing)}. Get them, or add them to the values at hand."
    return [Finding(code="resistor-not-at-hand", severity="note", stage="drive", text=text, measured=len(missing), allowed=0)]


def only(found: Sequence[Finding | None]) -> list[Finding]:
    """Those that are there."""
    return [one for one in found if one is not None]


def sink_out_of_range(one: Sink, feed: Feed) -> Finding:
    """Sink registers that the supply cannot feed."""
    return outside("Constant-current sinks run", one.supply_v, feed, Remedy("choose another supply"))
