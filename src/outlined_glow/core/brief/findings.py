"""Whether the board keeps within the limits of its brief, and the cautions that its choices call for (DOMAIN 17)."""

from __future__ import annotations

from datetime import date, timedelta
from typing import NamedTuple

import msgspec

from ..parts import Profile, profile_of, supplies
from ..passes import Pass
from ..project import Array, Brief, Drive, Finding, Picture, Remedy, Shape
from ..units import show
from .advice import fine_packages
from .price import brief_price


class MadeOf(NamedTuple):
    """The parts of a board that keep it within its limits or not."""

    pictures: tuple[Picture, ...]
    shape: Shape
    arrays: tuple[Array, ...]
    drive: Drive


def brief_findings(
    brief: Brief,
    made_of: MadeOf,
    size: tuple[float, float],
    run_time_h: float | None,
    edge: bool,
    profile: Profile,
    today: date,
) -> list[Finding]:
    """A warning for each limit that is broken, with what to do. `run_time_h` is None when it does not end."""
    limits = brief.limits
    out: list[Finding] = []
    for name, have, most in (("wide", size[0], limits.width_mm), ("high", size[1], limits.height_mm)):
        if most is not None and have > most + 1e-6:
            text = f"The board is {have:.1f} mm {name}; your limit is {most:g} mm."
            out.append(Finding(
                code="larger-than-wished", severity="warning", stage="brief", text=text, measured=round(have, 2),
                allowed=most, layer="outline", remedies=_smaller(made_of, have, most),
            ))  # fmt: skip
    price = brief_price(brief, size, edge)
    if limits.each is not None and price.each > limits.each:
        text = f"A board costs {price.each:.2f} credits by the example prices; your limit is {limits.each:.2f}."
        out.append(Finding(
            code="dearer-than-wished", severity="warning", stage="brief", text=text, measured=price.each, allowed=limits.each,
            remedies=_cheaper(brief, size, edge),
        ))  # fmt: skip
    if limits.run_time_h is not None and run_time_h is not None and run_time_h < limits.run_time_h:
        text = f"Battery life is {show(run_time_h, 1 if run_time_h >= 1 else 3)} h; your limit is {limits.run_time_h:g} h."
        advice = (Remedy("lower the LED current"), Remedy("use larger cells"))
        out.append(Finding(
            code="runs-too-short", severity="warning", stage="brief", text=text, measured=round(run_time_h, 2),
            allowed=limits.run_time_h, remedies=advice,
        ))  # fmt: skip
    return [*out, *_late(limits.ready_by, profile, today), *_too_fine(brief, made_of)]


def _late(ready_by: str | None, profile: Profile, today: date) -> list[Finding]:
    days = profile.days_make + profile.days_arrive
    here = today + timedelta(days=days)
    if ready_by is None or here.isoformat() <= ready_by:
        return []
    late = (here - date.fromisoformat(ready_by)).days
    day = f"{here.day} {here:%B}" + (f" {here.year}" if here.year != today.year else "")
    text = f"If you order today, boards arrive on {day}: {late} day{'s' * (late > 1)} late."
    faster = (Remedy("choose faster shipping"),)
    return [Finding(code="too-late", severity="warning", stage="brief", text=text, measured=float(days), remedies=faster)]


def _too_fine(brief: Brief, made_of: MadeOf) -> list[Finding]:
    """Parts that are hard to solder with that experience."""
    fine = fine_packages(brief.skill) if "magnifier" not in brief.tools or brief.skill == "first board" else ()
    found: list[tuple[str, Remedy]] = []
    for array in made_of.arrays:
        package, _, colour = array.emitter.partition(" ")
        if package in fine:
            larger = f"{_EASY} {colour}"
            values = (("array", array.name), ("emitter", larger))
            found.append((f"{array.emitter} LEDs", Remedy(f"{array.name}: {larger}", array.__struct_config__.tag, values)))  # type: ignore[arg-type]
    if made_of.arrays and made_of.drive.resistor in fine:
        found.append((f"{made_of.drive.resistor} resistors", Remedy(f"{_EASY} resistors", "set-resistors", (("size", _EASY),))))
    if not found:
        return []
    what = " and ".join(dict.fromkeys(name for name, _ in found))
    text = f"{what[0].upper()}{what[1:]} are hard to solder {_MADE[brief.skill]}. {_EASY} is easier."
    return [
        Finding(
            code="fiddly-parts",
            severity="note",
            stage="brief",
            text=text,
            remedies=tuple(remedy for _, remedy in found),
            count=len(found),
        )
    ]


#: The size that everybody can solder, and how experience reads in a sentence.
_EASY = "0805"
_MADE = {"first board": "on a first board", "some boards": "after a few boards, without a magnifier"}


def _smaller(made_of: MadeOf, have: float, most: float) -> tuple[Remedy, ...]:
    rim = 2 * made_of.shape.border_mm
    pictures = made_of.pictures
    if made_of.shape.base != "silhouette" or len(pictures) != 1 or most <= rim or have <= rim:
        return ()
    width = round(pictures[0].width_mm * (most - rim) / (have - rim) - 0.005, 2)
    return (Remedy(f"picture {width:g} mm wide", "set-width", (("width_mm", width),)),) if width >= 1 else ()


def _cheaper(brief: Brief, size: tuple[float, float], edge: bool) -> tuple[Remedy, ...]:
    """The stack, or the number of pieces, that costs least each."""
    out = []
    base = brief_price(brief, size, edge).each
    for key, value in (("finish", "tin"), ("mask", "green")):
        if getattr(brief.stack, key) != value:
            stack = type(brief.stack)(
                **{**{k: getattr(brief.stack, k) for k in ("thickness_mm", "mask", "finish", "ink")}, key: value}
            )
            each = brief_price(msgspec.structs.replace(brief, stack=stack), size, edge).each
            if each < base:
                out.append(Remedy(f"{value} {key}: {each:.2f} each", "set-stack", ((key, value),)))
    more = brief.pieces * 2
    each = brief_price(msgspec.structs.replace(brief, pieces=more), size, edge).each
    if each < base:
        out.append(Remedy(f"{more} pieces: {each:.2f} each", "set-pieces", (("pieces", more),)))
    return tuple(out)


def cautions(brief: Brief, supply: str) -> tuple[str, ...]:
    """What to take care of with the choices of the brief (DOMAIN 17)."""
    out = []
    if brief.place == "worn":
        out.append(
            "Worn on the body: round off sharp edges. Gold has nickel under it: allergy risk. Keep surfaces under 43 °C."
        )
    if (one := supplies().get(supply)) is not None and one.care:
        out.append(one.care)
    if profile_of(brief).at_home:
        out.append("Etchant and solvent: wear gloves, ventilate, keep flames away. Follow your local disposal rules.")
    if brief.stack.finish == "tin":
        out.append("Tin with lead: wash your hands after soldering. Choose lead-free where children touch the board.")
    if "oven" in brief.tools:
        out.append("Never use an oven for food once it has been used for solder paste.")
    return tuple(out)


CHECKS = (
    Pass("made of", ("pictures", "shape", "arrays", "drive"), MadeOf),
    Pass("brief check", ("brief", "made of", "size", "hours", "edge copper", "rules", "today"), brief_findings),
)
