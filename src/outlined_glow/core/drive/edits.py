"""The edits of the drive."""

from __future__ import annotations

from typing import Any

import msgspec

from ..errors import Trouble
from ..lights.groups import groups_of
from ..parts import Supply, offered_supplies, resistor_sizes, series_names, supplies
from ..project import AutoOff, Design, Drive, Driven, Param, SecondSource, board_edit
from ..text_safety import short
from .devices import controllers, latches, needs, regulators
from .keys import ANY, ANY_FAMILY, FAMILIES, KEYS, NO_CONTROLLER, NO_LATCH, NO_REGULATOR, NO_SOURCE, OWN, TITLES

_JOINED = (("nothing", "nothing"), ("switch", "a selector switch"), ("diodes", "two diodes"))
_RESETS = (("network", "by R and C"), ("by hand", "by a button"), ("none", "none"))
_ROUNDING = (("at-most", "round up"), ("nearest", "nearest value"))


def _checked(name: str, cells: int | None, volts: float | None) -> Supply:
    """A source by its name, that takes so many cells and can be set to such volts."""
    one = supplies()[name]
    if cells is not None and cells > 1 and len(one.bodies) == 1:
        raise Trouble(f"cells={cells} goes with AA and AAA cells only. Leave it away, or choose one of those.")
    if volts is not None and one.spread is None:
        raise Trouble(f"volts={volts:g} goes with a supply that can be set: a bench supply or a mains adapter.")
    return one


def _with_supply(drive: Drive, supply: str | None, cells: int | None, volts: float | None, capacity: float | None) -> Drive:
    """The drive on another supply, or with another number of cells, volts or capacity of the one it has."""
    name = supply or drive.supply
    one = _checked(name, cells, volts)
    several = len(one.bodies) > 1
    if capacity is not None and not one.usual_ah:
        raise Trouble(f"capacity={capacity:g} goes with lithium-polymer cells only: the others have one of their own.")
    same = name == drive.supply
    return msgspec.structs.replace(
        drive, supply=name, cells=(cells or drive.cells) if several else 1,
        volts=volts if volts is not None else drive.volts if same else None,
        capacity_ah=capacity if capacity is not None else drive.capacity_ah if same else None,
    )  # fmt: skip


_CELLS = Param("count", "", 1, 4, title="cells in series")


@board_edit(
    "set-supply",
    "Supply {supply}",
    supply=Param("choice", choices=lambda: tuple(offered_supplies()), optional=False),
    cells=_CELLS,
)
def set_supply(design: Design, *, supply: str, cells: int | None = None) -> Design:
    """What feeds the board, and how many cells in series (AA and AAA)."""
    return msgspec.structs.replace(design, drive=_with_supply(design.drive, supply, cells, None, None))


@board_edit(
    "drive",
    "Drive",
    group=Param("text", title="group"),
    method=Param("choice", choices=KEYS, title="way", titles=TITLES),
    supply=Param("choice", choices=lambda: tuple(offered_supplies())),
    cells=_CELLS,
    volts_v=Param("quantity", "V", 0.5, 60, title="set to", shown="V", step=0.1),
    capacity_ah=Param("quantity", "", 0.001, 1000, title="capacity, Ah", step=0.1, digits=3),
    capacitor_f=Param("quantity", "F", 0.001, 1000, title="capacitor", shown="F", step=0.1, digits=4),
    sun_a=Param("quantity", "A", 1e-4, 10, title="solar cell in full sun", shown="mA", step=5),
    regulator=Param("choice", choices=lambda: (NO_REGULATOR, *regulators()), title="regulator"),
    rail_v=Param("quantity", "V", 1.0, 24, title="it makes", shown="V", step=0.1),
    controller=Param(
        "choice", choices=lambda: (ANY, NO_CONTROLLER, *controllers(), OWN), title="controller", titles=((OWN, "my own"),)
    ),
    current_a=Param("quantity", "A", 1e-5, 0.02, title="target current per LED", shown="mA", step=0.5),
    rows=Param("count", "", 1, 1000, title="rows"),
    lit=Param("text", title="lit at a time"),
    spare_pads=Param("flag", title="pads for spare pins"),
    family=Param("choice", choices=(ANY_FAMILY, *FAMILIES), title="logic family"),
    reset=Param("choice", choices=("network", "by hand", "none"), title="reset of counters", titles=_RESETS),
    average=Param("quantity", "", 0, 1, title="share of the time lit", step=0.05),
    fit=Param("names"),
    leave_away=Param("names"),
    period_s=Param("quantity", "s", 0.001, 86_400, title="period of the pattern", shown="s", step=0.1, digits=3),
    other_period_s=Param("quantity", "s", 0, 86_400, title="at the other speed", shown="s", step=0.1, digits=3),
)
def drive(
    design: Design,
    *,
    group: str | None = None,
    method: str | None = None,
    supply: str | None = None,
    cells: int | None = None,
    volts_v: float | None = None,
    capacity_ah: float | None = None,
    capacitor_f: float | None = None,
    sun_a: float | None = None,
    regulator: str | None = None,
    rail_v: float | None = None,
    controller: str | None = None,
    current_a: float | None = None,
    rows: int | None = None,
    lit: str | None = None,
    spare_pads: bool | None = None,
    family: str | None = None,
    reset: str | None = None,
    average: float | None = None,
    fit: tuple[str, ...] | None = None,
    leave_away: tuple[str, ...] | None = None,
    period_s: float | None = None,
    other_period_s: float | None = None,
) -> Design:
    """How the LEDs are driven, all of them or a group: the way, its supply and controller, and what they are to do."""
    told = {"method": method, "current_a": current_a, "rows": rows, "lit": _lit(lit), "average": average, "period_s": period_s}
    kept: dict[str, Any] = {key: value for key, value in told.items() if value is not None}
    kept |= {} if other_period_s is None else {"other_period_s": other_period_s or None}  # 0: one speed
    now = _with_supply(design.drive, supply, cells, volts_v, capacity_ah)
    now = _with_parts(_with_sun(now, capacitor_f, sun_a), fit or (), leave_away or ())
    if regulator is not None:
        now = msgspec.structs.replace(now, regulator="" if regulator == NO_REGULATOR else regulator)
    if rail_v is not None:
        if not now.regulator:
            raise Trouble(f"rail={rail_v:g}V goes with a regulator: {', '.join(regulators())}.")
        now = msgspec.structs.replace(now, rail=rail_v)
    now = _with_logic(now, spare_pads, family, reset)
    if controller == OWN and now.own is None:
        raise Trouble("There is no controller of your own yet; add its table of pins first: add-controller file=….")
    if controller is not None:
        now = msgspec.structs.replace(now, controller="" if controller == ANY else controller)
    if group is None:
        now = msgspec.structs.replace(now, **kept)
    elif group not in groups_of(design):
        raise Trouble(f"No LED is in a group “{short(group)}”; there are {', '.join(groups_of(design)) or 'none'}.")
    elif kept:
        now = msgspec.structs.replace(now, groups=_with_group(now, group, kept))
    return msgspec.structs.replace(design, drive=now)


def _with_sun(now: Drive, farad: float | None, sun_a: float | None) -> Drive:
    """The drive with another capacitor, or a solar cell of another current."""
    if farad is None and sun_a is None:
        return now
    if not supplies()[now.supply].usual_farad:
        raise Trouble("capacitor= and sun= go with a solar cell on a capacitor; choose supply=solar first.")
    return msgspec.structs.replace(
        now, farad=now.farad if farad is None else farad, sun_a=now.sun_a if sun_a is None else sun_a
    )  # fmt: skip


def _with_logic(now: Drive, spare_pads: bool | None, family: str | None, reset: str | None) -> Drive:
    """The drive with pads for spare pins or without, another logic family, another reset."""
    told = {"spare_pads": spare_pads, "family": "" if family == ANY_FAMILY else family, "reset": reset}
    return msgspec.structs.replace(now, **{key: value for key, value in told.items() if value is not None})


def _with_parts(now: Drive, fit: tuple[str, ...], leave_away: tuple[str, ...]) -> Drive:
    """The drive with things its supply needs fitted, others left away on purpose."""
    strange = next((one for one in (*fit, *leave_away) if one not in needs()), None)
    if strange is not None:
        raise Trouble(f"No supply needs “{short(strange)}”; there are {', '.join(needs())}.")
    kept = tuple(one for one in needs() if one in {*now.fitted, *fit} - set(leave_away))
    away = tuple(one for one in needs() if one in {*now.left_away, *leave_away} - set(fit))
    return msgspec.structs.replace(now, fitted=kept, left_away=away)


def _with_group(now: Drive, group: str, kept: dict[str, Any]) -> tuple[Driven, ...]:
    """The groups with one of them driven otherwise; one that was driven like all the others is from now on by itself."""
    known = next((one for one in now.groups if one.group == group), Driven(group=group, method=now.method))
    changed = msgspec.structs.replace(known, **kept)
    return (*(one for one in now.groups if one.group != group), changed)


def _lit(word: str | None) -> str | None:
    if word is None or word in ("all", "one") or (word.isdecimal() and 0 < int(word) < 100_000):
        return None if word is None else "one" if word == "1" else word
    raise Trouble(f"lit must be one, all or a number, not “{word}”.")


@board_edit(
    "second-source",
    "Second source",
    supply=Param("choice", choices=lambda: (NO_SOURCE, *offered_supplies()), title="second source"),
    cells=Param("count", "", 1, 4, title="its cells in series"),
    volts_v=Param("quantity", "V", 0.5, 60, title="it is set to", shown="V", step=0.1),
    joined=Param("choice", choices=("nothing", "switch", "diodes"), title="kept apart by", titles=_JOINED),
)
def second_source(
    design: Design,
    *,
    supply: str | None = None,
    cells: int | None = None,
    volts_v: float | None = None,
    joined: str | None = None,
) -> Design:
    """Another source beside the supply (none: no other), and what keeps the two apart."""
    now = design.drive.second
    if supply == NO_SOURCE:
        return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, second=None))
    if now is None and supply is None:
        raise Trouble("There is no second source yet; name one: supply=usb.")
    if now is None or (supply is not None and supply != now.supply):
        now = SecondSource(supply=supply or "", joined=now.joined if now is not None else "switch")
    one = _checked(now.supply, cells, volts_v)
    told = {"cells": cells if len(one.bodies) > 1 else None, "volts": volts_v, "joined": joined}
    second = msgspec.structs.replace(now, **{key: value for key, value in told.items() if value is not None})
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, second=second))


@board_edit(
    "auto-off",
    "Auto-off",
    by=Param("choice", choices=lambda: (NO_LATCH, *latches()), title="switched off by"),
    after_s=Param("quantity", "s", 6, 86_400, title="after", shown="min", step=1),
)
def auto_off(design: Design, *, by: str | None = None, after_s: float | None = None) -> Design:
    """A latch that a press of a button closes and a counter or the program opens after a while (none: no latch)."""
    now = design.drive.auto_off
    if by == NO_LATCH:
        return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, auto_off=None))
    if now is None and by is None:
        raise Trouble("There is no latch yet; name what switches the board off: by=transistor.")
    told = {key: value for key, value in {"by": by, "after_s": after_s}.items() if value is not None}
    latch = msgspec.structs.replace(now or AutoOff(), **told)
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, auto_off=latch))


@board_edit("drive-alike", "{group} driven like the others", group=Param("text", optional=False))
def drive_alike(design: Design, *, group: str) -> Design:
    """Drive a group like the rest of the board again."""
    kept = tuple(one for one in design.drive.groups if one.group != group)
    if len(kept) == len(design.drive.groups):
        raise Trouble(f"The group “{group}” is driven like the others already.")
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, groups=kept))


@board_edit(
    "set-current",
    "{current_a} for each LED",
    current_a=Param("quantity", "A", 1e-5, 0.02, optional=False, title="target current per LED", shown="mA", step=0.5),
)
def set_current(design: Design, *, current_a: float) -> Design:
    """The current wanted through each LED."""
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, current_a=current_a))


@board_edit("balance", "Colours balanced: {balanced}", balanced=Param("flag", title="all colours equally bright"))
def balance(design: Design, *, balanced: bool | None = None) -> Design:
    """Give brighter colours less current, until all are as bright as the dimmest; or (balanced=no) the same to all."""
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, balanced=balanced is not False))


@board_edit(
    "set-resistors",
    "Resistors",
    series=Param("choice", choices=series_names, title="series"),
    choose=Param(
        "choice",
        choices=("at-most", "nearest"),
        title="rounding",
        titles=_ROUNDING,
    ),
    size=Param("choice", choices=resistor_sizes, title="size"),
    stock=Param("list", "ohm", 1, 1e7, title="values at hand"),
)
def set_resistors(
    design: Design,
    *,
    series: str | None = None,
    choose: str | None = None,
    size: str | None = None,
    stock: tuple[float, ...] | None = None,
) -> Design:
    """Preferred series, choice among its values, body of the resistors, and the values at hand (none: any can be had)."""
    at_hand = None if stock is None else tuple(sorted(set(stock)))
    changes = {"series": series, "choose": choose, "resistor": size, "stock": at_hand}
    kept = {key: value for key, value in changes.items() if value is not None}
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, **kept))
