"""Boards that are fed by another one through their plugs: what it gives them, and what they take of its supply."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ..drive.supply.feed import feed_of
from ..drive.supply.rail import regulator_of, taken_a
from ..project import Finding, Remedy
from ..project.edits import BOARD
from ..text_safety import short
from ..units import show_si
from .drive_facts import lit_share, run_of
from .facts import hours_words
from .mating import Mated, mated
from .work import Work

#: The supply of a board that is fed by another one.
FED = "other-board"
#: So much off the volts that a board is made for is told, as a share.
_OFF = 0.05


def feeding_findings(pairs: Sequence[Mated]) -> list[Finding]:
    """Of every board that feeds others."""
    out = []
    for feeder, fed in _fed(pairs):
        out += [one for work in fed for one in _volts(feeder, work)]
        out += [*_too_much(feeder, fed), *_shorter(feeder, fed)]
    return out


def _fed(pairs: Sequence[Mated]) -> Iterator[tuple[Work, list[Work]]]:
    """Each board with a supply of its own, and those whose supply hangs on it; where several bring one, that is told itself."""
    together: list[dict[str, Work]] = []
    for one in pairs:
        if one.joins_supplies:
            joined = {work.design.name: work for work in (one.one, one.other)}
            for some in [known for known in together if known.keys() & joined.keys()]:
                together.remove(some)
                joined |= some
            together.append(joined)
    for some in together:
        feeders = [work for work in some.values() if work.design.drive.supply != FED]
        if len(feeders) == 1:
            yield feeders[0], [work for work in some.values() if work is not feeders[0]]


def given_by(work: Work, works: Sequence[Work]) -> dict[tuple[tuple[str, str], bool], float]:
    """What boards that a board feeds take at most through its plugs, A: of each pin, and whether of its supply or to its
    ground."""
    pairs = mated(works)
    out: dict[tuple[tuple[str, str], bool], float] = {}
    for feeder, fed in _fed(pairs):
        if feeder.design.name != work.design.name:
            continue
        amps = sum(one.plan.current_max_a + one.plan.standing_a for one in fed)
        for net in ("supply", "ground"):
            pins = [
                (part.ref, pin[which])
                for one in pairs
                for which, (mine, part) in enumerate(((one.one, one.part), (one.other, one.its_part)))
                for pin in one.pairs
                if mine.design.name == work.design.name and set(one.nets(pin)) == {net}
            ]
            out |= {(pin, net == "supply"): amps / len(pins) for pin in pins}
    return out


def _volts(feeder: Work, work: Work) -> list[Finding]:
    gives, counts_on = feeder.plan.supply_v, feed_of(work.design.drive, work.plan.supply)
    asked_v = (counts_on.before or counts_on).open_v
    if not work.leds or abs(gives - asked_v) <= _OFF * asked_v:
        return []
    text = (
        f"“{short(work.design.name)}” counts on {asked_v:.2f} V of another board;"
        f" “{short(feeder.design.name)}”, which feeds it, gives {gives:.2f} V."
    )
    take = Remedy(f"count on {gives:.2f} V", "drive", (("volts_v", round(gives, 2)), (BOARD, work.design.name)))
    return [
        Finding(
            code="fed-other-volts", severity="warning", stage="drive", text=text, board=work.design.name, remedies=(take,),
            measured=round(gives, 3), allowed=round(asked_v, 3),
        )
    ]  # fmt: skip


def _too_much(feeder: Work, fed: Sequence[Work]) -> list[Finding]:
    """What all of them draw at worst, where the supply of the one does not give it."""
    plan = feeder.plan
    own = plan.supply_max_a + plan.standing_a
    whole = own + _of_supply(feeder, sum(work.plan.current_max_a + work.plan.standing_a for work in fed))
    if own > plan.supply.most_a or whole <= plan.supply.most_a:
        return []
    text = (
        f"“{short(feeder.design.name)}” and {_names(fed)} together draw {show_si(whole, 'A')} at worst. The supply"
        f" ({plan.supply.title}) gives at most {show_si(plan.supply.most_a, 'A')}."
    )
    return [
        Finding(
            code="boards-over-current", severity="stop", stage="drive", text=text, board=feeder.design.name, measured=whole,
            allowed=plan.supply.most_a,
            remedies=(Remedy("lower the LED current of one of them"), Remedy("choose another supply")),
        )
    ]  # fmt: skip


def _shorter(feeder: Work, fed: Sequence[Work]) -> list[Finding]:
    """How long cells last that feed several boards."""
    alone = run_of(feeder)
    takes = sum(work.plan.current_a * lit_share(work) + work.plan.standing_a for work in fed)
    run = feeder.plan.hours(lit_share(feeder), _of_supply(feeder, takes)) if takes > 0 else None
    if alone is None or run is None:
        return []
    text = (
        f"“{short(feeder.design.name)}” feeds {_names(fed)} too, with {show_si(takes, 'A')} on average: its supply lasts"
        f" {hours_words(run.hours)}, not {hours_words(alone.hours)}."
    )
    return [
        Finding(
            code="feeds-other-boards", severity="note", stage="drive", text=text, board=feeder.design.name,
            measured=round(run.hours, 3),
        )
    ]  # fmt: skip


def _of_supply(feeder: Work, current_a: float) -> float:
    """What a current of the rail takes from the supply of a board, A."""
    one = regulator_of(feeder.design.drive)
    if one is None:
        return current_a
    plan = feeder.plan
    return taken_a(one, plan.supply_v, current_a, plan.source_v)


def _names(works: Sequence[Work]) -> str:
    return " and ".join(f"“{short(work.design.name)}”" for work in works)
