"""The auto-off latch: a press of a button closes it, a counter or a program opens it after a while (DOMAIN 9)."""

from __future__ import annotations

from ...parts import part, resistor
from ...project import Drive, Finding, Remedy
from ...units import show
from ..circuit import GROUND, SUPPLY, Circuit, pin_named
from ..devices import Family, family, latch
from ..first_second import Reset, reset_for
from ..limits import out_of_range, outside
from ..logic import works_on
from ..oscillator import COUNTER, join_oscillator
from ..pins import Pins
from ..resistor import short_ohms
from ..timing import best_oscillator, oscillator_hz
from .feed import Feed

#: The net that opens the latch when it goes high, and the one that holds it.
_OPENS, _HOLDS = "auto-off", "auto-off hold"
#: The counter's last stage goes high after so many beats of its oscillator.
_STAGE, _BEATS = 14, 2**13
#: What holds the gates where nothing drives them, ohm; that at the opener is weaker than what drives it.
_PULL_OHM, _WEAK_OHM = 1e5, 1e6
#: Cells that a board empties sooner when it is forgotten are worth a latch, h.
PAYS_H = 48.0


def join_latch(circuit: Circuit, drive: Drive, before: str, after: str) -> None:
    """The latch between two nets, with its button; nothing opens it yet."""
    assert drive.auto_off is not None
    by, chip = drive.auto_off.by, resistor(drive.resistor)
    body, small, button = part(latch(by).part), part("switching transistor, N"), part("push button")
    held = circuit.add(body, latch(by).title)
    pressed = circuit.add(button, "on", outside=True)
    holder, opener = circuit.add(small, "holds"), circuit.add(small, "opens")
    if by == "transistor":
        gate = circuit.join("auto-off gate", (held, pin_named(body, "gate")), (holder, pin_named(small, "drain")))
        circuit.join(before, (held, pin_named(body, "source")))
        circuit.join(after, (held, pin_named(body, "drain")))
        circuit.two(chip, short_ohms(_PULL_OHM), before, gate)
        circuit.join(gate, (pressed, "1"))
        circuit.join(GROUND, (pressed, "2"))
    else:
        coil = circuit.join("auto-off coil", (held, pin_named(body, "coil -")), (holder, pin_named(small, "drain")))
        circuit.join(SUPPLY, (held, pin_named(body, "coil +")))
        circuit.join(before, (held, pin_named(body, "contact")), (pressed, "1"))
        circuit.join(after, (held, pin_named(body, "contact closed")), (pressed, "2"))
        back = circuit.add(part("diode"))
        circuit.join(SUPPLY, (back, "1"))
        circuit.join(coil, (back, "2"))
    circuit.join(_HOLDS, (holder, pin_named(small, "gate")), (opener, pin_named(small, "drain")))
    circuit.join(_OPENS, (opener, pin_named(small, "gate")))
    for one in (holder, opener):
        circuit.join(GROUND, (one, pin_named(small, "source")))
    circuit.two(chip, short_ohms(_PULL_OHM), SUPPLY, _HOLDS)
    circuit.two(chip, short_ohms(_WEAK_OHM), _OPENS, GROUND)


def give_opener(circuit: Circuit, drive: Drive, feed: Feed, pins: Pins | None) -> tuple[float, float, list[Finding]]:
    """What opens the latch: a pin that a program raises, or a counter. After which time that is, s; what it and a coil draw
    while the board is on, A; and what is wrong with it."""
    assert drive.auto_off is not None
    one, wanted = latch(drive.auto_off.by), drive.auto_off.after_s
    draws = feed.open_v / one.coil_ohm if one.coil_ohm else 0.0
    found = _outside_latch(drive.auto_off.by, feed)
    if pins is not None and pins.left_but("high"):
        pins.take(_OPENS, but="high")  # one that is high from the start would open it as soon as it is closed
        return wanted, draws, found
    logic = family(next((one for one in ("HC", "4000") if works_on(one, feed)), "HC"))
    wrong = out_of_range("auto-off counter", logic, feed)
    pace = best_oscillator(wanted / _BEATS)
    reset = reset_for()
    ref = _counter(circuit, drive, pace, reset, logic)
    circuit.join(_OPENS, (ref, pin_named(part(COUNTER), f"Q{_STAGE}")))
    after = reset.lasts_s + _BEATS / oscillator_hz(*pace)
    return after, draws + logic.standing_a, found + ([wrong] if wrong is not None else [])


def _works(by: str, feed: Feed) -> bool:
    """Whether a latch works on a supply: a coil lies on the rail, a transistor before any regulator."""
    one, there = latch(by), feed if latch(by).coil_ohm else feed.before or feed
    return one.supply_v[0] <= there.least_v and there.high_v <= one.supply_v[1]


def _outside_latch(by: str, feed: Feed) -> list[Finding]:
    if _works(by, feed):
        return []
    one, other = latch(by), "transistor" if by == "relay" else "relay"
    take = Remedy(f"take a {latch(other).title}", "auto-off", (("by", other),))
    remedy = take if _works(other, feed) else Remedy("choose another supply")
    return [outside(f"The {one.title} works", one.supply_v, feed if one.coil_ohm else feed.before or feed, remedy)]


def _counter(circuit: Circuit, drive: Drive, pace: tuple[float, float], reset: Reset, logic: Family) -> str:
    """A counter with its own oscillator that begins to count at the press; its reference."""
    ref = circuit.add(part(COUNTER), f"4060 type, {logic.title}")
    join_oscillator(circuit, ref, pace, reset, drive, "auto-off ")
    return ref


def pays_finding(drive: Drive, hours: float | None) -> list[Finding]:
    """A board that empties its cells within two days when it is forgotten, and has nothing that switches it off."""
    if drive.auto_off is not None or hours is None or hours >= PAYS_H:
        return []
    price = sum(part(name).price or 0.0 for name in (latch("transistor").part, "push button", COUNTER))
    return [
        Finding(
            code="auto-off-pays", severity="note", stage="drive",
            text=f"Left on, the board empties its supply in {show(hours, 1)} h; "
            f"parts for about {price:.2f} switch it off after 10 minutes.",
            measured=round(hours, 3), allowed=PAYS_H,
            remedies=(Remedy("add an auto-off latch", "auto-off", (("by", "transistor"), ("after_s", 600.0))),),
        )
    ]  # fmt: skip
