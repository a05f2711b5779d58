"""What was found while LEDs were placed, told in the board frame; what cannot be read from where it is looked at."""

from __future__ import annotations

import math

from ..brief.advice import legible_mm
from ..parts import Library
from ..passes import Pass
from ..project import Array, Digits, Finding, Remedy
from ..project.frames import all_in_board_frame
from ..units import show
from .kinds import kind_of
from .own_parts import CHECKS as _OWN_PARTS
from .place import Led


def legible_digits(arrays: tuple[Array, ...], seen_from_m: float) -> list[Finding]:
    """Digits that are too low to be read from where the brief says they are seen (DOMAIN 10)."""
    least = legible_mm(seen_from_m)
    low = [one for one in arrays if isinstance(one, Digits) and one.height_mm < least]
    return [
        Finding(
            code="digits-too-small",
            severity="warning",
            stage="lights",
            text=f"The digits “{one.name}” are {show(one.height_mm)} mm high. Seen from {show(seen_from_m)} m they should "
            f"be {show(least)} mm or more.",
            x_mm=one.x_mm,
            y_mm=one.y_mm,
            measured=one.height_mm,
            allowed=least,
            remedies=(Remedy(f"make them {show(least)} mm high", "digits", (("array", one.name), ("height_mm", least))),),
        )
        for one in low
    ]


def enough_digits(leds: tuple[Led, ...], arrays: tuple[Array, ...], wanted: int) -> list[Finding]:
    """Fewer digits on the board than the brief says it must show."""
    built = [one for one in arrays if isinstance(one, Digits)]
    there = sum(one.digits * one.copies * (2 if one.mirrored else 1) for one in built)
    displays = [led for led in leds if led.kind.part.upright]
    there += sum(map(_digits_of, displays))
    if not 0 < there < wanted:
        return []
    x, y = [*((one.x_mm, one.y_mm) for one in built), *((led.x, led.y) for led in displays)][0]
    remedy = Remedy("add a digit")
    if len(built) == 1 and there == built[0].digits:
        remedy = Remedy(f"make them {wanted} digits", "digits", (("array", built[0].name), ("digits", wanted)))
    text = f"There {'is one digit' if there == 1 else f'are {there} digits'}; the board should show {wanted}."
    return [
        Finding(
            code="too-few-digits", severity="warning", stage="lights", text=text, x_mm=x, y_mm=y, measured=there,
            allowed=wanted,
            remedies=(remedy, Remedy(f"show {there}", "set-purpose", (("digits", there),))),
        )
    ]  # fmt: skip


def _digits_of(led: Led) -> int:
    """How many digits a display has: each has a segment a; a dot block and a tube show one."""
    return max(1, sum(die.name.lstrip("0123456789") == "a" for die in led.kind.part.dies))


#: A lens that sends half of its light nearer to its axis than this makes a beam, which should be so wide where it is seen, mm.
_BEAM_DEG, _BEAM_MM = 20.0, 1000.0


def narrow_beams(
    leds: tuple[Led, ...],
    arrays: tuple[Array, ...],
    seen_from_m: float,
    purpose: str,
    library: Library,
    origin: tuple[float, float],
) -> list[Finding]:
    """Arrays whose light is seen from right ahead and hardly from beside it, in the board frame."""
    out = []
    for array in arrays if purpose != "edge-lit piece" else ():
        mine = [led for led in leds if led.array == array.name and _beam(led) <= _BEAM_DEG]
        if not mine:
            continue
        angle = min(map(_beam, mine))
        wide = 2 * seen_from_m * 1000 * math.tan(math.radians(angle))
        if wide >= _BEAM_MM:
            continue
        places = tuple((led.x - origin[0], led.y - origin[1]) for led in mine)
        text = (
            f"The LEDs of “{array.name}” shine in a beam: seen from {show(seen_from_m)} m it is {show(wide / 1000)} m wide; "
            "beyond that they look less than half as bright."
        )
        out.append(
            Finding(
                code="narrow-beam", severity="note", stage="lights", text=text, x_mm=places[0][0], y_mm=places[0][1],
                measured=round(wide), allowed=_BEAM_MM, count=len(mine), places=places, remedies=_diffused(array, library),
            )
        )  # fmt: skip
    return out


def _beam(led: Led) -> float:
    """At which angle from its axis an LED is half as bright, degrees; one that shines along the board has no beam ahead."""
    return led.kind.half_angle_deg if led.kind.part.shines == "forward" else 90.0


def _diffused(array: Array, library: Library) -> tuple[Remedy, ...]:
    """The same with a lens that spreads its light, where there is one."""
    name = array.emitter.replace(" clear ", " diffused ")
    if name == array.emitter or name not in library.emitters:
        return (Remedy("choose an LED with a diffused lens"),)
    return (Remedy(f"take {name}", kind_of(array).tag, (("array", array.name), ("emitter", name))),)


CHECKS = (
    Pass("digits counted", ("leds", "arrays", "digits to show"), enough_digits),
    Pass("digits counted check", ("digits counted", "origin"), all_in_board_frame),
    Pass("beam check", ("leds", "arrays", "seen from", "purpose", "library", "origin"), narrow_beams),
    Pass("lights check", ("light findings", "origin"), all_in_board_frame),
    Pass("digits found", ("arrays", "seen from"), legible_digits),
    Pass("digits check", ("digits found", "origin"), all_in_board_frame),
    *_OWN_PARTS,
)
