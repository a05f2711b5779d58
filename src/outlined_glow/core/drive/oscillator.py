"""A ripple counter with its own oscillator: what stands round it, whatever it counts for (DOMAIN 8)."""

from __future__ import annotations

from ..parts import part, resistor
from ..project import Drive
from .circuit import GROUND, SUPPLY, Circuit, pin_named
from .first_second import Reset
from .resistor import short_ohms
from .timing import short_farads

COUNTER = "ripple counter, 14 stages"
#: What keeps a reset low that a button pulls up, ohm.
_PULL_OHM = 1e5


def join_oscillator(
    circuit: Circuit, ref: str, pace: tuple[float, float], reset: Reset | None, drive: Drive, of: str = ""
) -> None:  # fmt: skip
    """The supply of a ripple counter, the resistor and the capacitor of its oscillator, the resistor that guards its input,
    and the network that resets it at the start, or a button, or nothing; its nets are named after what they are `of`."""
    body, chip, cap = part(COUNTER), resistor(drive.resistor), part("capacitor 0603")
    circuit.feed(ref, body)
    circuit.two(cap, "100n", SUPPLY, GROUND)
    ohm, farad = pace
    middle = circuit.join(f"{of}oscillator")
    rext = circuit.join(f"{of}oscillator resistor", (ref, pin_named(body, "oscillator resistor")))
    cext = circuit.join(f"{of}oscillator capacitor", (ref, pin_named(body, "oscillator capacitor")))
    into = circuit.join(f"{of}oscillator in", (ref, pin_named(body, "oscillator in")))
    circuit.two(chip, short_ohms(ohm), rext, middle)
    circuit.two(part("capacitor 0603" if farad < 2e-6 else "capacitor 1206"), short_farads(farad), cext, middle)
    circuit.two(chip, short_ohms(float(f"{min(10 * ohm, 1e7):.2g}")), middle, into)
    if reset is None and drive.reset != "by hand":
        circuit.join(GROUND, (ref, pin_named(body, "reset")))
        return
    held = circuit.join(f"{of}reset", (ref, pin_named(body, "reset")))
    if reset is None:
        button = circuit.add(part("push button"), "reset", outside=True)
        circuit.join(SUPPLY, (button, "1"))
        circuit.join(held, (button, "2"))
        circuit.two(chip, short_ohms(_PULL_OHM), held, GROUND)
        return
    circuit.two(cap, short_farads(reset.farad), SUPPLY, held)
    circuit.two(chip, short_ohms(reset.ohm), held, GROUND)
