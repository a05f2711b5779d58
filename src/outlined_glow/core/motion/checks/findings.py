"""What the chosen hardware cannot do of what plays, strips without LEDs, and flashes that are not safe."""

from __future__ import annotations

import math

import msgspec

from ...drive.carriers import carriers
from ...drive.methods import ways_of
from ...geometry.valid import shifted
from ...passes import Pass
from ...project import Ambient, Drive, Finding, Motion, Remedy
from ...shape import Outline
from ..ambient import HUNTS, STICKS, unsteady
from ..flash import ALLOWED, AREA_SR, Flashes, flash_report
from ..lamps import Lamps
from ..way import rows_of
from .currents import current_findings, load_findings, warm_findings
from .scenes import scene_findings
from .tables import table_findings
from .words import feed_findings, word_findings

_STEADY = Motion(pattern="steady", brightness=1.0)


def motion_findings(motion: Motion, leds: int, drive: Drive) -> list[Finding]:
    """A warning when the hardware cannot show what plays."""
    if leds == 0:
        return []
    cannot = next((way for way, own in ways_of(drive) if not way.can_show(own, motion)), None)
    if cannot is None:
        return []
    what = "The score" if motion.score else "Dimmed steady light" if motion.is_steady else f"“{motion.pattern}”"
    text = f"{what} is a preview only: {cannot.title} cannot show it. Drive says which ways can."
    remedies: tuple[Remedy, ...] = (Remedy("choose a way with a program"),)
    if motion.ambient.feed and cannot.shows(msgspec.structs.replace(motion, ambient=Ambient())):
        remedies = (Remedy("do without the sensor", "set-ambient", (("feed", "none"),)), *remedies)
    elif cannot.shows(_STEADY) and not motion.score:
        remedies = (Remedy("make it steady", "set-pattern", (("pattern", "steady"), ("brightness", 1.0))), *remedies)
    return [Finding(code="pattern-is-a-wish", severity="warning", stage="motion", text=text, remedies=remedies)]


def strip_findings(motion: Motion, lamps: Lamps) -> list[Finding]:
    """Strips that light nothing."""
    out = []
    for one in motion.score:
        elsewhere = bool(one.board) and one.board != lamps.board
        if not one.muted and not elsewhere and lamps.count and not len(rows_of(one, lamps)):
            text = f"Strip {one.number} ({one.pattern}) plays on no LED: what it is for is no longer there. Choose its LEDs."
            remedies = (
                Remedy("play it on all LEDs", "set-strip", (("number", one.number), ("everywhere", True))),
                Remedy("remove it", "remove-strip", (("number", one.number),)),
            )
            out.append(Finding(code="strip-without-leds", severity="warning", stage="motion", text=text, remedies=remedies))
    return out


def flash_findings(motion: Motion, lamps: Lamps, outline: Outline, seen_from_m: float) -> list[Finding]:
    """Flashes that are not safe from where the board is seen, and from half as far."""
    edge = shifted(outline.region, -outline.origin[0], -outline.origin[1])
    report = flash_report(motion, lamps, edge, seen_from_m)
    out = [
        _unsafe(code, kind, one, seen_from_m, "warning")
        for code, kind, one in (("flash-general", "", report.general), ("flash-red", "red ", report.red))
        if not one.safe
    ]
    if not out and report.worst.most > ALLOWED:
        near = flash_report(motion, lamps, edge, seen_from_m / 2)
        out += [
            _unsafe("flash-near", kind, one, seen_from_m / 2, "note")
            for kind, one in (("", near.general), ("red ", near.red))
            if not one.safe
        ][:1]
    return out


def _unsafe(code: str, kind: str, one: Flashes, distance_m: float, severity: str) -> Finding:
    by = math.ceil(10 * one.most / ALLOWED) / 10
    text = (
        f"Seen from {distance_m:g} m, {one.area_sr:.3g} sr have {one.most:g} {kind}flashes in the second before"
        f" {one.worst_s:.1f} s. {ALLOWED} a second are safe, or {AREA_SR:g} sr. Play it slower."
    )
    # Over a whole flash its light is even; what flashes slower than is counted goes over in less.
    soft_s = min(2.0, math.ceil(100 / max(one.most, 1.0)) / 100)
    remedies: tuple[Remedy, ...] = (Remedy(f"let it go over in {soft_s:g} s", "soften-score", (("soft_s", soft_s),)),)
    if by <= 20:
        remedies = (Remedy(f"{by:g} times as slow", "stretch-score", (("by", by),)), *remedies)
    return Finding(
        code=code, severity=severity, stage="motion", text=text, measured=round(one.most, 1),  # type: ignore[arg-type]
        allowed=float(ALLOWED), remedies=remedies,
    )  # fmt: skip


def ambient_findings(motion: Motion) -> list[Finding]:
    """A sensor that sees the board's own light, and lets it hunt or stick; one without a feed."""
    one = motion.ambient
    if not one.feed:
        return []
    if one.feed not in {feed.name for feed in motion.feeds}:
        text = f"The light of the place is the feed “{one.feed}”, and there is no such feed."
        leave = Remedy("do without the sensor", "set-ambient", (("feed", "none"),))
        return [Finding(code="feed-lacking", severity="warning", stage="motion", text=text, remedies=(leave,))]
    found = unsteady(one)
    if found is None:
        return []
    shield = Remedy("keep the board's light off the sensor", "set-ambient", (("own_lx", 0.0),))
    if found.hunts > HUNTS:
        text = (
            f"At {found.lx:.3g} lx the board's own light on its sensor lets it go up and down by {100 * found.hunts:.0f} %."
            " Let it go slower, or keep its light off the sensor."
        )
        slower = Remedy("go over five times as long", "set-ambient", (("smooth_s", max(5.0, min(600.0, 5 * one.smooth_s))),))
        return [_ambient("ambient-hunts", text, found.hunts, HUNTS, (slower, shield))]
    text = (
        f"At {found.lx:.3g} lx the board's own light on its sensor keeps it bright or dark, as it was before:"
        f" {100 * found.sticks:.0f} % apart."
    )
    return [_ambient("ambient-sticks", text, found.sticks, STICKS, (shield,))]


def _ambient(code: str, text: str, measured: float, allowed: float, remedies: tuple[Remedy, ...]) -> Finding:
    return Finding(
        code=code,
        severity="warning",
        stage="motion",
        text=text,
        measured=round(measured, 3),
        allowed=allowed,
        remedies=remedies,
    )


CHECKS = (
    Pass("ambient check", ("motion",), ambient_findings),
    Pass("words check", ("motion", "lamps", "seen from"), word_findings),
    Pass("scene check", ("motion", "lamps"), scene_findings),
    Pass("table check", ("motion", "lamps", "drive", "plan"), table_findings),
    Pass(
        "current check",
        ("motion", "lamps", "plan", "played"),
        lambda motion, lamps, plan, _: current_findings(motion, lamps, plan),
    ),
    Pass("carriers", ("plan", "drive", "leds"), carriers),
    Pass("load check", ("motion", "lamps", "plan", "drive", "carriers"), load_findings),
    Pass("heat check", ("motion", "lamps", "plan", "shown", "outline", "place"), warm_findings),
    Pass("feed check", ("motion",), feed_findings),
    Pass("led count", ("leds",), len),
    Pass("motion check", ("motion", "led count", "drive"), motion_findings),
    Pass("strip check", ("motion", "lamps"), strip_findings),
    Pass("flash check", ("motion", "lamps", "outline", "seen from"), flash_findings),
)
