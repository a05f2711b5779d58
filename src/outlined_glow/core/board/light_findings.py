"""Whether the LEDs lie as they should, can be seen in the light of their place, and harm no eye (DOMAIN 3, 10, 17)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import NamedTuple

import shapely
from shapely.geometry.base import BaseGeometry

from ..brief.advice import ambient_lux, dazzling_mcd
from ..colour import Materials
from ..colour.difference import hex_to_rgb, to_linear
from ..drive import DrivePlan
from ..lights import Led
from ..parts import PlacedPart, caution_of
from ..passes import Pass
from ..project import Array, Change, Finding, Limits, Remedy, Stack
from ..project.finding import Severity, some_of
from ..shape import Outline
from ..units import show, show_si

#: Neighbours turned by more than this against one another lie the other way round; what is read stands upright within that.
_OPPOSITE_DEG, _UPRIGHT_DEG = 135.0, 60.0
#: Letters and pictures of light want this much contrast; an array of so many LEDs shows some (DOMAIN 10).
_CONTRAST, _SHOWS = 3.0, 9
#: The next preferred resistor gives a little less than the current asked for.
_SPARE = 1.08
#: A mask that lets more than this through glows where there is a light behind it.
_GLOWS = 0.3
#: Light within the laminate falls to a quarter on this way, mm (DOMAIN 10: by e every 2.2 mm).
_LEAKS_MM, _SLACK_MM = 3.0, 0.01


class Lights(NamedTuple):
    """The LEDs of a board (picture frame), what drives them, and what of brief and board decides how they are seen."""

    leds: tuple[Led, ...]
    arrays: tuple[Array, ...]
    plan: DrivePlan
    ambient: str
    limits: Limits
    parts: tuple[PlacedPart, ...]
    stack: Stack
    look: Materials
    purpose: str
    outline: Outline


def light_findings(here: Lights) -> list[Finding]:
    """What is to be told of the LEDs. Board frame."""
    return [*_turned_round(here), *_upside_down(here), *_both_commons(here), *_eyes(here), *_pale(here), *_dazzling(here),
            *_glowing_mask(here), *_glowing_edge(here), *_sideways(here), *_whites(here), *_too_tall(here)]  # fmt: skip


def _of(here: Lights, array: Array) -> list[Led]:
    return [led for led in here.leds if led.array == array.name]


def _at(here: Lights, leds: Sequence[Led]) -> tuple[tuple[float, float], ...]:
    x, y = here.outline.origin
    return tuple((led.x - x, led.y - y) for led in leds)


def _told(
    here: Lights,
    code: str,
    severity: Severity,
    text: str,
    leds: Sequence[Led],
    remedies: tuple[Remedy, ...],
    measured: float | None = None,
    allowed: float | None = None,
) -> Finding:
    places = _at(here, leds)
    x, y = places[0]
    return Finding(
        code=code, severity=severity, stage="lights", text=text, x_mm=x, y_mm=y, measured=measured, allowed=allowed,
        remedies=remedies, count=len(leds), places=places,
    )  # fmt: skip


def _numbers(leds: Sequence[Led]) -> str:
    names = some_of([str(led.index) for led in leds], 6)
    return f"LED {names}" if len(leds) == 1 else f"LEDs {names}"


def _turned_round(here: Lights) -> list[Finding]:
    """LEDs that somebody turned the other way round than the others of their array lie."""
    out = []
    for array in here.arrays:
        turned = {one.place for one in array.changes if abs((one.turn_deg + 180) % 360 - 180) > _OPPOSITE_DEG}
        leds = [led for led in _of(here, array) if led.place in turned]
        if leds and len(leds) < len(_of(here, array)):
            verb = "lies" if len(leds) == 1 else "lie"
            text = f"{_numbers(leds)} of “{array.name}” {verb} the other way round than the rest: mind the cathode there."
            values = (("array", array.name), ("place", tuple(led.place for led in leds)), ("turn_deg", 0.0))
            out.append(_told(here, "polarity-mixed", "note", text, leds, (Remedy("lay them like the rest", "nudge", values),)))
    return out


def _upside_down(here: Lights) -> list[Finding]:
    """What is read and does not stand upright."""
    out = []
    for array in here.arrays:
        leds = [
            led for led in _of(here, array)
            if led.kind.part.upright and abs((led.angle_deg + 180) % 360 - 180) > _UPRIGHT_DEG
        ]  # fmt: skip
        if leds:
            text = f"{_numbers(leds)} of “{array.name}” would be read lying down or upside down."
            values = (("array", array.name), ("facing", "alike"), ("turn_deg", 0.0))
            tag = str(array.__struct_config__.tag)
            out.append(_told(here, "display-turned", "warning", text, leds, (Remedy("set them upright", tag, values),)))
    return out


def _both_commons(here: Lights) -> list[Finding]:
    """Displays of common anode beside others of common cathode: nothing drives both alike."""
    kinds: dict[str, list[Led]] = {}
    for led in here.leds:
        commons = {pin.number for pin in led.kind.part.pins if pin.role == "common"}
        if commons:
            side = "anode" if any(one.anode in commons for one in led.kind.lights) else "cathode"
            kinds.setdefault(side, []).append(led)
    if len(kinds) < 2:
        return []
    few = min(kinds.values(), key=len)
    text = f"{_numbers(few)} of “{few[0].array}” share the other end than the rest: common anode and common cathode are driven "
    text += "differently. Use one of them throughout."
    return [_told(here, "common-mixed", "warning", text, few, (Remedy("choose the other kind"),))]


def _eyes(here: Lights) -> list[Finding]:
    """A caution where a colour calls for one."""
    out = []
    for words, leds in itertools.groupby(
        sorted(here.leds, key=lambda led: caution_of(led.kind)), key=lambda led: caution_of(led.kind)
    ):
        if words:
            some = list(leds)
            out.append(_told(here, "eye-caution", "note", f"{_numbers(some)}: {words}.", some, ()))
    return out


def _mcd(here: Lights, led: Led) -> float:
    """How bright an LED is on the side that it shines to: through the laminate, where it has no hole of its own."""
    total, through = 0.0, here.look.through_laminate if led.kind.reverse and not led.kind.part.holes else 1.0
    for light in led.kind.lights:
        branch = here.plan.branch_of(led.index, light.name)
        total += light.mcd if branch is None else light.mcd * branch.current_a / light.forward_a
    return total * through


def _pale(here: Lights) -> list[Finding]:
    """Arrays whose light hardly shows against what its place throws back of the light there (DOMAIN 10)."""
    lux = ambient_lux(here.ambient)
    back = lux * _lightness(here.look.mask) / math.pi
    out = []
    for array in here.arrays:
        leds = [led for led in _of(here, array) if led.side == "front" and not led.kind.reverse]
        if len(leds) < _SHOWS or len({led.kind.name for led in leds}) > 1 or len(leds[0].kind.lights) > 1:
            continue
        cell = min(math.hypot(one.x - other.x, one.y - other.y) for one, other in itertools.pairwise(leds))
        shown = _mcd(here, leds[0]) / 1000 / max(1e-12, (cell / 1000) ** 2)
        contrast = (shown + back) / back
        if contrast < _CONTRAST:
            text = f"“{array.name}” has a contrast of {show(contrast, 1)} against {show(lux, 0)} lx where it is seen. "
            text += f"To be read it needs {_CONTRAST:g}."
            remedies = _brighter(here, leds[0], shown, (_CONTRAST - 1) * back)
            out.append(
                _told(here, "hardly-shows", "warning", text, leds, remedies, measured=round(contrast, 2), allowed=_CONTRAST)
            )
    return out


def _brighter(here: Lights, led: Led, shown: float, wanted: float) -> tuple[Remedy, ...]:
    """More current, where the LED bears it."""
    light = led.kind.lights[0]
    branch = here.plan.branch_of(led.index, light.name)
    current = 0.0 if branch is None or shown <= 0 else math.ceil(branch.current_a * _SPARE * wanted / shown * 2000) / 2000
    if 0 < current <= light.continuous_a:
        return (Remedy(f"raise the current to {show_si(current, 'A')}", "set-current", (("current_a", current),)),)
    return (Remedy("choose brighter LEDs"), Remedy("lay them nearer together"))


def _lightness(colour: str) -> float:
    """Relative luminance of a colour (sRGB hex), 0..1, and never quite none."""
    red, green, blue = to_linear(hex_to_rgb(colour)).tolist()
    return max(0.01, float(0.2126 * red + 0.7152 * green + 0.0722 * blue))


def _dazzling(here: Lights) -> list[Finding]:
    """LEDs too bright for the dark that they are seen in."""
    most = dazzling_mcd(here.ambient)
    if most is None:
        return []
    bright = [led for led in here.leds if _mcd(here, led) > most]
    if not bright:
        return []
    worst = max(_mcd(here, led) for led in bright)
    text = f"{_numbers(bright)} give up to {show(worst, 0)} mcd. In a {here.ambient} more than {show(most, 0)} mcd dazzles."
    branches = [branch for branch in here.plan.branches if branch.current_a > 0]
    remedies: tuple[Remedy, ...] = (Remedy("choose dimmer LEDs"),)
    if branches:
        current = max(0.0001, math.floor(max(one.current_a for one in branches) * most / worst * 10_000) / 10_000)
        remedies = (Remedy(f"lower the current to {show_si(current, 'A')}", "set-current", (("current_a", current),)),)
    return [_told(here, "dazzles", "note", text, bright, remedies, round(worst, 1), most)]


def _glowing_mask(here: Lights) -> list[Finding]:
    """Light from behind that comes through the mask beside its window."""
    behind = [led for led in here.leds if led.kind.reverse and not led.kind.part.holes]
    if not behind or here.look.through_mask < _GLOWS:
        return []
    share = f"{100 * here.look.through_mask:.0f} %"
    text = f"The {here.stack.mask} mask lets {share} of the light through: it glows round the windows too."
    remedies = tuple(Remedy(f"{mask} mask", "set-stack", (("mask", mask),)) for mask in ("black", "blue"))
    return [_told(here, "mask-glows", "note", text, behind, remedies, round(here.look.through_mask, 2), _GLOWS)]


def _glowing_edge(here: Lights) -> list[Finding]:
    """Light that is sent through the laminate and comes out at its edge, or in a cut-out."""
    behind = [led for led in here.leds if led.kind.reverse and not led.kind.part.holes]
    if not behind or here.outline.region.is_empty:
        return []
    edge = shapely.boundary(here.outline.region)
    far = shapely.distance(edge, shapely.points([(led.x, led.y) for led in behind]))
    near = sorted((one for one in zip(far.tolist(), behind, strict=True) if one[0] < _LEAKS_MM), key=lambda one: one[0])
    if not near:
        return []
    leds, least = [led for _, led in near], near[0][0]
    verb = "shines" if len(leds) == 1 else "shine"
    text = f"{_numbers(leds)} {verb} through the laminate {show(least, 1)} mm from its edge, which glows there too."
    remedies = (_further_in(here, leds[0], edge, least), Remedy("paint the edge there black, or leave it as a glowing rim"))
    return [_told(here, "edge-glows", "note", text, leds, remedies, round(least, 2), _LEAKS_MM)]


def _further_in(here: Lights, led: Led, edge: BaseGeometry, far: float) -> Remedy:
    """The LED moved straight away from the edge."""
    x, y = shapely.get_coordinates(shapely.shortest_line(edge, shapely.Point(led.x, led.y)))[0]
    way = (_LEAKS_MM + _SLACK_MM - far) / max(far, 1e-6)
    array = next(one for one in here.arrays if one.name == led.array)
    moved = next((one for one in array.changes if one.place == led.place), Change(place=led.place))
    by = {"dx_mm": round(moved.dx_mm + way * (led.x - x), 3), "dy_mm": round(moved.dy_mm + way * (led.y - y), 3)}
    return Remedy(f"move LED {led.index} further in", "nudge", (("array", led.array), ("place", (led.place,)), *by.items()))


def _sideways(here: Lights) -> list[Finding]:
    """LEDs that shine along the board, on one that is looked at from the front."""
    leds = [led for led in here.leds if led.kind.part.shines == "sideways"]
    if not leds or here.purpose == "edge-lit piece":
        return []
    verb = "shines" if len(leds) == 1 else "shine"
    text = (
        f"{_numbers(leds)} {verb} along the board: from the front that hardly shows. It is meant for sheets lit at their edge."
    )
    remedies = (Remedy("it is an edge-lit piece", "set-purpose", (("purpose", "edge-lit piece"),)),)
    return [_told(here, "shines-sideways", "note", text, leds, remedies)]


def _whites(here: Lights) -> list[Finding]:
    """Cool and warm white beside one another: told, for they are seldom meant."""
    kinds = {led.kind.colour: led for led in here.leds if led.kind.colour.endswith("white")}
    if len(kinds) < 2:
        return []
    few = min(kinds, key=lambda name: sum(led.kind.colour == name for led in here.leds))
    leds = [led for led in here.leds if led.kind.colour == few]
    rest = next(name for name in kinds if name != few)
    text = f"{_numbers(leds)} of “{leds[0].array}” {'is' if len(leds) == 1 else 'are'} {few}, the others {rest}: "
    text += "beside one another one looks blue and the other yellow, and they fade at different rates."
    return [_told(here, "whites-mixed", "note", text, leds, (Remedy("choose one of them throughout"),))]


def _too_tall(here: Lights) -> list[Finding]:
    """Parts that stand up higher, on either side, than the brief allows."""
    most = here.limits.tall_mm
    tall = [part for part in here.parts if most is not None and max(part.part.height_mm, part.part.behind_mm) > most]
    if not tall or most is None:
        return []
    worst = max(max(one.part.height_mm, one.part.behind_mm) for one in tall)
    names = some_of([one.ref for one in tall], 6)
    text = (
        f"{names} {'stands' if len(tall) == 1 else 'stand'} up to {show(worst, 1)} mm high; your limit is {show(most, 1)} mm."
    )
    return [
        Finding(
            code="part-too-tall", severity="warning", stage="lights", text=text, x_mm=tall[0].x, y_mm=tall[0].y,
            measured=worst, allowed=most, count=len(tall), places=tuple((one.x, one.y) for one in tall),
            remedies=(Remedy("choose a lower part"), Remedy("drop the limit", "set-limits", (("drop", ("tall_mm",)),))),
        )
    ]  # fmt: skip


def _found(
    leds: tuple[Led, ...], arrays: tuple[Array, ...], plan: DrivePlan, ambient: str, limits: Limits,
    parts: tuple[PlacedPart, ...], stack: Stack, look: Materials, purpose: str, outline: Outline,
) -> list[Finding]:  # fmt: skip
    return light_findings(Lights(leds, arrays, plan, ambient, limits, parts, stack, look, purpose, outline))


_READ = ("leds", "arrays", "plan", "ambient", "limits", "placements", "stack", "look", "purpose", "outline")
CHECKS = (Pass("seen lights check", _READ, _found),)
