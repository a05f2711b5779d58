"""Whether the copper of a board joins what it should and nothing else: opens, shorts, gaps, tracks that end nowhere."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import shapely
from shapely.geometry import Point

from ..parts import PlacedPart, Profile
from ..parts.copper import track_width
from ..parts.nets import Net
from ..passes import Pass
from ..project import Finding, LabelPlace, Remedy, Wiring
from ..project.finding import some_of
from ..text_safety import short
from ..units import show_under
from ..wiring.classes import COPPER_UM, RISE_K, NetClass, is_chosen
from ..wiring.continuity import Continuity, Near, Open, Short, continuity, shapes_of
from ..wiring.copper import Wires
from ..wiring.quiet import TOLD_MM, beside_quiet
from .labels import LabelSpot
from .layers import PartLayers
from .model import LightSpot

DRAW = Remedy("draw the tracks", "wire")
#: A track may be narrow for so long, at a small pad, mm.
_SHORT_MM = 2.0


def helps(tried: bool, rules: Profile, wiring: Wiring) -> tuple[Remedy, ...]:
    """What can join what is not joined: tracks, where they were not `tried`; else finer ones, others in front, other holes."""
    if not tried:
        return (DRAW,)
    out = []
    if not rules.plated:
        out.append(Remedy("take a fabricator with plated holes", "set-profile", (("profile", "standard"),)))
    elif rules.name == "standard":
        out.append(Remedy("take a fabricator with finer tracks", "set-profile", (("profile", "fine"),)))
    if wiring.front != "free":
        out.append(Remedy("let tracks run in front too", "wire", (("front", "free"),)))
    return (*out, Remedy("move a part away there"))


def continuity_of(
    laid: PartLayers, wires: Wires, nets: tuple[Net, ...], classes: Mapping[str, NetClass], rules: Profile, wiring: Wiring
) -> Continuity | None:
    """What the finished copper joins; None where nothing is wired."""
    if not wiring.made and not wiring.tracks:
        return None
    of_pin = {pin: net.name for net in nets for pin in net.pins}
    refs = {pad.ref for pad in laid.pads}
    others = [(one.side, one.region, one.net) for one in laid.copper if one.owner not in refs]
    shapes = shapes_of(laid.pads, others)
    holes = [(pad.x, pad.y, pad.drill_mm) for pad in laid.pads if pad.drill_mm and pad.side == "front"]
    holes += [(via.x, via.y, via.drill) for via in wires.vias if rules.plated]
    apart = {name: one.clearance for name, one in classes.items()}
    wired = [tuple((side, *spot) for _, spot, side in link.pins) for link in wires.links]
    return continuity(shapes, holes, of_pin, rules.gap_mm, apart, wired)


def label_findings(
    spots: Mapping[str, LabelSpot], by_hand: tuple[LabelPlace, ...], placed: tuple[PlacedPart, ...],
    origin: tuple[float, float],
) -> list[Finding]:  # fmt: skip
    """Labels that have no room where they were put by hand."""
    behind = {part.ref for part in placed if part.side == "back"}
    out = []
    for one in by_hand:
        free = Remedy("let it find its place", "free-label", (("part", one.part),))
        if one.printed and one.part in behind and not (one.part in spots and spots[one.part].by_hand):
            where = "stands elsewhere" if one.part in spots else "is not printed"
            text = f"The label of {one.part} has no room where it was put by hand, and {where}."
            out.append(
                Finding(
                    code="label-without-room", severity="note", stage="wiring", text=text, x_mm=one.x_mm - origin[0],
                    y_mm=one.y_mm - origin[1], layer="back legend", remedies=(free,),
                )
            )  # fmt: skip
    return out


def absent_findings(wiring: Wiring, labels: tuple[LabelPlace, ...], placed: tuple[PlacedPart, ...]) -> list[Finding]:
    """Parts that were placed by hand, or whose labels were, and that the drive does not have."""
    refs = {part.ref for part in placed}
    out = []
    for every, what, edit in ((wiring.places, "which", "free-part"), (labels, "whose label", "free-label")):
        lost = [one.part for one in every if one.part not in refs]
        if not lost or not refs:
            continue
        more = f", as are {len(lost) - 1} more" if len(lost) > 1 else ""
        text = (
            f"The drive has no part “{short(lost[0])}”, {what} was placed by hand{more}. It will lie there if it comes;"
            " or forget its place."
        )
        forget = Remedy(f"forget the place of “{short(lost[0])}”", edit, (("part", lost[0]),))
        out.append(
            Finding(code="part-unknown", severity="note", stage="wiring", text=text, count=len(lost), remedies=(forget,))
        )
    return out


def wiring_findings(
    found: Continuity | None, lights: tuple[LightSpot, ...], nets: tuple[Net, ...], wires: Wires, laid: PartLayers,
    classes: Mapping[str, NetClass], rules: Profile, wiring: Wiring,
) -> list[Finding]:  # fmt: skip
    """What keeps a board from working. Board frame."""
    stray = _unknown(nets, wiring)
    if found is None:
        return [*(_unwired(lights) if lights else _unjoined(nets, laid)), *stray]
    return [
        *(_open(one, wires, is_chosen(one.net, wiring.nets), rules, wiring) for one in found.opens),
        *(_short(one) for one in found.shorts),
        *_near(found.near),
        *_ends(wires, laid),
        *_narrow(wires, classes, rules),
        *_links(wires),
        *stray,
    ]


def _unknown(nets: tuple[Net, ...], wiring: Wiring) -> list[Finding]:
    """Nets that the wiring names and the drive does not have."""
    known = {net.name for net in nets}
    parts = {word.strip() for name in known for word in name.split(",")}
    named = (
        [one.net for one in wiring.tracks]
        + [one.net for one in wiring.pours]
        + [one for one in wiring.nets if one not in parts]
    )
    lost = list(dict.fromkeys(one for one in named if one not in known))
    free = [one for one in wiring.locked if one not in known]
    if not known:
        return []
    out = []
    if lost:
        text = f"{_no_net(lost)}: its tracks and pours join nothing. Draw them for another, or remove them."
        out.append(Finding(code="net-unknown", severity="warning", stage="wiring", text=text, count=len(lost)))
    if free:
        text = f"{_no_net(free)}: what was locked as its tracks is drawn as it comes. Lock the net that it is now."
        forget = Remedy(f"forget the lock of “{short(free[0])}”", "lock-net", (("net", free[0]), ("lock", False)))
        out.append(
            Finding(code="lock-without-net", severity="note", stage="wiring", text=text, count=len(free), remedies=(forget,))
        )
    return out


def _no_net(names: list[str]) -> str:
    more = f" and {len(names) - 1} more" if len(names) > 1 else ""
    return f"There is no net “{short(names[0])}”{more}"


def _links(wires: Wires) -> list[Finding]:
    """Wires in the place of plated holes."""
    if not wires.links:
        return []
    first, last = wires.links[0], wires.links[-1]
    names = first.ref if first is last else f"{first.ref} to {last.ref}"
    over = "over the front from hole to hole, insulated" if first.side else "through the board, soldered on both sides"
    what = "A piece of wire stands" if first is last else f"{len(wires.links)} pieces of wire stand"
    text = f"{what} in the place of plated holes: {names}, {over}. Solder them first."
    spots = tuple(one.start for one in wires.links)
    return [
        Finding(
            code="wire-links", severity="note", stage="wiring", text=text, count=len(wires.links), places=spots,
            remedies=(Remedy("take a fabricator with plated holes", "set-profile", (("profile", "standard"),)),),
        )
    ]  # fmt: skip


def _unwired(lights: tuple[LightSpot, ...]) -> list[Finding]:
    leds = {spot.index: (spot.x, spot.y) for spot in reversed(lights)}
    places = tuple(reversed(leds.values()))
    what = f"The {len(leds)} LEDs are" if len(leds) > 1 else "The LED is"
    return [
        Finding(
            code="not-wired", severity="stop", stage="wiring", text=f"{what} not joined yet: the board has no tracks.",
            count=len(leds), places=places, remedies=(DRAW,),
        )
    ]  # fmt: skip


def _unjoined(nets: tuple[Net, ...], laid: PartLayers) -> list[Finding]:
    """A board without lights, whose plugs are to be joined."""
    there = {(pad.ref, pad.pin): (pad.x, pad.y) for pad in laid.pads}
    lost = [pins for net in nets if len(pins := [pin for pin in net.pins if pin in there]) > 1]
    if not lost:
        return []
    text = f"{len(lost)} nets are not joined yet: the board has no tracks."
    places = tuple(there[pins[0]] for pins in lost)
    return [
        Finding(
            code="not-wired", severity="stop", stage="wiring", text=text, count=len(lost), places=places, remedies=(DRAW,),
        )
    ]  # fmt: skip


def _pin(pin: tuple[str, str]) -> str:
    return ".".join(pin)


def _open(one: Open, wires: Wires, wished: bool, rules: Profile, wiring: Wiring) -> Finding:
    rest = one.groups[1:]
    names = some_of([_pin(group[0]) for group in rest])
    verb = "is" if len(rest) == 1 else "are"
    why = {lost.net: lost.why for lost in wires.unjoined}.get(one.net)
    text = f"Net “{one.net}”: {names} {verb} not joined with {_pin(one.groups[0][0])}{f': {why}' if why else ''}."
    remedies = helps(bool(why) and wished, rules, wiring)
    return Finding(
        code="net-open", severity="stop", stage="wiring", text=text, count=len(rest), places=one.places[1:],
        remedies=remedies,
    )  # fmt: skip


def _short(one: Short) -> Finding:
    names = " and ".join(f"“{name}”" for name in one.nets[:3])
    text = f"The nets {names} touch: a short. Move the track or the part there."
    return Finding(code="net-short", severity="stop", stage="wiring", text=text, places=(one.place,))


def _near(near: Sequence[Near]) -> list[Finding]:
    if not near:
        return []
    worst = near[0]
    a, b = (f"“{name}”" if name else "copper of the art" for name in worst.nets)
    more = f" ({len(near)} places)" if len(near) > 1 else ""
    text = f"{a} and {b} are {show_under(worst.gap, worst.rule)} mm apart{more}. They need {worst.rule:g} mm."
    return [
        Finding(
            code="copper-too-near", severity="stop", stage="wiring", text=text[0].upper() + text[1:],
            measured=round(worst.gap, 3), allowed=worst.rule, layer=f"{worst.side} copper", count=len(near),
            places=tuple(one.place for one in near), remedies=(Remedy("draw the tracks anew", "wire"),),
        )
    ]  # fmt: skip


def _ends(wires: Wires, laid: PartLayers) -> list[Finding]:
    """Tracks that end on nothing."""
    lost: list[tuple[float, float]] = []
    for side in ("front", "back"):
        tracks = [one for one in wires.tracks if one.side == side]
        lands = [pad.polygon for pad in laid.pads if pad.side == side] + [via.region for via in wires.vias if via.on(side)]
        shapes = [*(one.region for one in tracks), *lands]
        if not tracks:
            continue
        tree = shapely.STRtree(shapes)
        ends = [(at, Point(end)) for at, one in enumerate(tracks) for end in (one.points[0], one.points[-1])]
        which, hit = tree.query([spot for _, spot in ends], predicate="dwithin", distance=1e-3)
        others = dict.fromkeys(range(len(ends)), 0)
        for end, shape in zip(which.tolist(), hit.tolist(), strict=True):
            others[end] += shape != ends[end][0]
        lost += [(ends[end][1].x, ends[end][1].y) for end, count in others.items() if not count]
    if not lost:
        return []
    text = f"A track ends on nothing at {len(lost)} place{'s' if len(lost) > 1 else ''}. Draw it on, or remove it."
    return [
        Finding(code="track-ends", severity="warning", stage="wiring", text=text, count=len(lost), places=tuple(lost))
    ]  # fmt: skip


def _narrow(wires: Wires, classes: Mapping[str, NetClass], rules: Profile) -> list[Finding]:
    out = []
    thin = [one for one in wires.tracks if one.width < rules.track_mm - 1e-9]
    if thin:
        least = min(thin, key=lambda one: one.width)
        text = f"A track of “{least.net}” is {least.width:g} mm wide. The fabricator needs {rules.track_mm:g} mm."
        out.append(
            Finding(
                code="track-too-thin", severity="stop", stage="wiring", text=text, measured=least.width, allowed=rules.track_mm,
                layer=f"{least.side} copper", count=len(thin), places=tuple(one.points[0] for one in thin),
            )
        )  # fmt: skip
    needed = {name: track_width(one.current_a, RISE_K, COPPER_UM) for name, one in classes.items() if one.current_a > 0}
    warm = [one for one in wires.tracks if one.width < needed.get(one.net, 0.0) - 1e-3 and one.length > _SHORT_MM]
    if warm:
        worst = min(warm, key=lambda one: one.width / needed[one.net])
        text = f"A track of “{worst.net}” is {worst.width:g} mm wide. Its current needs {needed[worst.net]:.2f} mm "
        text += f"to stay within {RISE_K:g} K."
        out.append(
            Finding(
                code="track-too-warm", severity="warning", stage="wiring", text=text, measured=worst.width,
                allowed=round(needed[worst.net], 3), layer=f"{worst.side} copper", count=len(warm),
                places=tuple(one.points[0] for one in warm),
            )
        )  # fmt: skip
    return out


def quiet_findings(wires: Wires, nets: tuple[Net, ...], parts: tuple[PlacedPart, ...]) -> list[Finding]:
    """Nets that switch and run long beside one that is disturbed."""
    found = {pair: long for pair, long in beside_quiet(wires, nets, parts).items() if long > TOLD_MM}
    if not found:
        return []
    quiet, loud = max(found, key=lambda pair: found[pair])
    most = found[quiet, loud]
    text = (
        f"“{short(loud)}” switches, and runs {most:.0f} mm beside “{short(quiet)}”, which is easily disturbed. Move a part"
        " between them, or draw one of them anew."
    )
    again = Remedy(f"draw “{short(loud)}” anew", "rewire", (("net", loud),))
    return [
        Finding(
            code="quiet-net-disturbed", severity="note", stage="wiring", text=text, measured=round(most, 2), allowed=TOLD_MM,
            count=len(found), remedies=(again,),
        )
    ]  # fmt: skip


CHECKS = (
    Pass("quiet check", ("wires", "nets", "placed parts"), quiet_findings),
    Pass("label check", ("label spots", "labels by hand", "placed parts", "origin"), label_findings),
    Pass("absent check", ("wiring", "labels by hand", "placed parts"), absent_findings),
    Pass("continuity", ("wired layers", "wires", "nets", "net classes", "rules", "wiring"), continuity_of, weight=3),
    Pass(
        "wiring check", ("continuity", "lights", "nets", "wires", "wired layers", "net classes", "rules", "wiring"),
        wiring_findings,
    ),
)  # fmt: skip
