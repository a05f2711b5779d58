"""Whether a fabricator can print those layers: thin places, gaps, webs, ink over copper edges."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..appearances import title_of
from ..geometry.narrow.places import ThinPlace, narrow_gaps, thin_places
from ..geometry.offset import grow
from ..geometry.overlay import overlay
from ..geometry.prepared import prepared
from ..geometry.regions import EMPTY, minus, polygons
from ..parts import Profile
from ..passes import Pass
from ..project import Finding, Mend, Remedy, Severity, Stack, Width
from ..project.frames import Point
from ..units import show_under
from .layers import ArtLayers, PartLayers, SideArt

#: Widths are told from this on: two points that touch are no line of 0.00 mm.
_LEAST_TOLD = 0.01
#: Copper this near to metal is the metal's, mm.
_RIM = 0.15
#: What a layer's finding is about: the appearance that a remedy changes.
_KINDS = {"bare metal": "metal", "copper": "raised", "ink": "ink"}


def layer_findings(
    side: str,
    laid: PartLayers,
    printed: BaseGeometry,
    art: ArtLayers,
    mends: Sequence[Mend],
    rules: Profile,
    stack: Stack,
    origin: Point,
) -> list[Finding]:
    """Every feature of a side's art under the profile, places of a kind together. Board frame."""
    if art.sides[side].copper.is_empty and art.sides[side].ink.is_empty and side == "back":
        return []
    return _Side(laid, printed, art.sides[side], side, mends, rules, stack, origin).findings()


class _Side:
    """The findings of one side."""

    def __init__(
        self,
        laid: PartLayers,
        printed: BaseGeometry,
        art: SideArt,
        side: str,
        mends: Sequence[Mend],
        rules: Profile,
        stack: Stack,
        origin: Point,
    ) -> None:
        self._laid, self._printed, self._art, self._side, self._mends = laid, printed, art, side, mends
        self._rules, self._stack = rules, stack
        self._shift = (-origin[0], -origin[1])

    def findings(self) -> list[Finding]:
        laid, side, rules = self._laid, self._side, self._rules
        metal, copper = self._art.metal, laid.art_copper(side)
        out = self._thin("metal-too-thin", "bare metal", "copper", metal, rules.track_mm)
        out += self._thin("copper-too-thin", "copper", "copper", copper, rules.track_mm, but=metal)
        reach = rules.mask_expansion_mm + rules.registration.mask_mm
        out += self._gap("copper-gap-too-narrow", "gap in the copper", "copper", copper, rules.gap_mm, "raised", reach)
        if rules.has_mask:
            web = rules.mask_web(self._stack.mask)
            openings = laid.openings_without_pads[side]
            out += self._gap("mask-web-too-narrow", "mask web between two openings", "mask", openings, web, "metal")
        if rules.has_legend:
            drawn, ink = self._art.ink, self._printed
            out += self._thin("ink-too-thin", "ink", "legend", ink, rules.legend_line_mm)
            out += self._over_edges(ink)
            out += _ink_pulled_back(drawn, ink, rules.legend_gap_mm, side)
        return out

    def _thin(
        self, code: str, name: str, layer: str, region: BaseGeometry, rule: float, but: BaseGeometry = EMPTY
    ) -> list[Finding]:
        """`but`: what is told of by itself."""
        places = thin_places(region, rule)
        if places and not but.is_empty:
            spots = shapely.points([(place.x, place.y) for place in places])
            apart = ~shapely.dwithin(spots, prepared(but), _RIM)
            places = tuple(place for place, kept in zip(places, apart.tolist(), strict=True) if kept)
        text = f"{name.capitalize()} is {{width}} mm wide{{where}}. The fabricator needs {{rule}} mm"
        remedies = partial(_thin_remedies, self._rules)
        return self._grouped(code, layer, text, places, rule, _KINDS[name], remedies)

    def _gap(
        self, code: str, name: str, layer: str, region: BaseGeometry, rule: float, kind: str, under: float = 0.0
    ) -> list[Finding]:
        """`under`: how far copper reaches beyond the drawing, which a fill has to span too."""
        text = f"The {name} is {{width}} mm{{where}}. The fabricator needs {{rule}} mm"
        return self._grouped(code, layer, text, narrow_gaps(region, rule), rule, kind,
                             partial(_gap_remedies, self._rules, 2 * under))  # fmt: skip

    def _grouped(
        self,
        code: str,
        layer: str,
        text: str,
        places: Sequence[ThinPlace],
        rule: float,
        kind: str,
        remedies: Callable[[str, float, str, str], tuple[Remedy, ...]],
    ) -> list[Finding]:
        """One finding for all places of a kind; those left as drawn are told apart, as a note."""
        if not places:
            return []
        accepted = [place for place in places if self._accepted(code, kind, place.x, place.y)]
        rest = [place for place in places if place not in accepted]
        out = []
        groups: tuple[tuple[list[ThinPlace], Severity], ...] = ((rest, "warning"), (accepted, "note"))
        for group, severity in groups:
            if not group:
                continue
            worst = group[0]
            todo = remedies(kind, rule, self._side, code) if severity == "warning" else self._take_back(kind, code)
            where = "" if self._side == "front" else " on the back"
            where += f" at {len(group)} places" if len(group) > 1 else ""
            told = text.format(width=show_under(max(_LEAST_TOLD, worst.width), rule), rule=f"{rule:g}", where=where)
            out.append(
                Finding(
                    code=code, severity=severity, stage="artwork",
                    text=f"{told}{'; left as drawn' if severity == 'note' else ''}.", x_mm=round(worst.x, 3),
                    y_mm=round(worst.y, 3), measured=round(max(_LEAST_TOLD, worst.width), 3), allowed=rule,
                    layer=f"{self._side} {layer}", remedies=todo, count=len(group),
                    places=tuple((place.x, place.y) for place in group),
                    widths=tuple(Width(max(_LEAST_TOLD, place.width), place.across_deg) for place in group),
                )
            )  # fmt: skip
        return out

    def _accepted(self, code: str, kind: str, x: float, y: float) -> bool:
        """Whether a place of a finding is left as drawn."""
        for one in self._accepting(code, kind):
            if one.x_mm is None or one.y_mm is None:
                return True
            if np.hypot(x - self._shift[0] - one.x_mm, y - self._shift[1] - one.y_mm) <= one.reach_mm:
                return True
        return False

    def _accepting(self, code: str, kind: str) -> list[Mend]:
        return [
            one for one in self._mends
            if one.how == "accept" and one.appearance == kind and one.side == self._side and one.finding in ("", code)
        ]  # fmt: skip

    def _take_back(self, kind: str, code: str) -> tuple[Remedy, ...]:
        for one in self._accepting(code, kind):
            return (Remedy("stop ignoring", "unmend", (("number", self._mends.index(one) + 1),)),)
        return ()

    def _over_edges(self, ink: BaseGeometry) -> list[Finding]:
        """Ink that crosses a copper step thins, skips or breaks there."""
        copper, side = self._laid.art_copper(self._side), self._side
        if ink.is_empty or copper.is_empty:
            return []
        crossing = shapely.line_merge(overlay(shapely.intersection, copper.boundary, grow(ink, -0.02)))
        parts = sorted((part for part in shapely.get_parts(crossing) if part.length > 0.05), key=lambda part: -part.length)
        code, rule = "ink-over-copper-edge", self._rules.legend_line_mm
        middles = [(part.length, *part.interpolate(0.5, normalized=True).coords[0][:2]) for part in parts]
        accepted = [row for row in middles if self._accepted(code, "ink", row[1], row[2])]
        todo = (
            _mend("copper under all the ink", "raise", "ink", rule, side),
            _mend("no copper under the ink", "lower", "ink", rule, side),
            _mend("leave as drawn", "accept", "ink", rule, side, finding=code),
        )
        out = []
        cases: tuple[tuple[list[tuple[float, float, float]], Severity, tuple[Remedy, ...]], ...] = (
            ([row for row in middles if row not in accepted], "warning", todo),
            (accepted, "note", self._take_back("ink", code)),
        )
        for rows, severity, remedies in cases:
            if rows:
                length = rows[0][0]
                calm = ", left as drawn" if severity == "note" else ""
                text = f"Ink crosses a copper edge, where it may break ({len(rows)} places){calm}."
                places = tuple((x, y) for _, x, y in rows)
                out.append(
                    Finding(
                        code="ink-over-copper-edge", severity=severity, stage="artwork", text=text, measured=round(length, 3),
                        allowed=0.0, layer=f"{side} legend", remedies=remedies, count=len(rows), places=places,
                    )
                )  # fmt: skip
        return out


def _mend(text: str, how: str, kind: str, rule: float, side: str, **more: str) -> Remedy:
    values = (("how", how), ("appearance", kind), ("width_mm", rule), ("side", side), *more.items())
    return Remedy(text, "mend", values)


def _thin_remedies(rules: Profile, kind: str, rule: float, side: str, code: str) -> tuple[Remedy, ...]:
    # Only what this fabricator makes is offered in its place.
    other = next((one for one in ("ink", "raised") if one != kind and one in rules.makes), "")
    instead = (_mend(f"make it {title_of(other)}", "become", kind, rule, side, becomes=other),) if other else ()
    return (
        _mend(f"thicken to {rule:g} mm", "thicken", kind, rule, side),
        _mend("smooth the corners", "smooth", kind, rule, side),
        _mend("remove the thin parts", "drop", kind, rule, side),
        *instead,
        _mend("leave as drawn", "accept", kind, rule, side, finding=code),
    )


def _gap_remedies(rules: Profile, more: float, kind: str, rule: float, side: str, code: str) -> tuple[Remedy, ...]:
    """`more`: what a fill has to span beyond the rule."""
    # Where there is no mask, copper is bare metal.
    filled = kind if kind in rules.makes else "metal"
    words = "join the openings" if code.startswith("mask") else "close the gap"
    accept = _mend("leave as drawn", "accept", kind, rule, side, finding=code)
    return (_mend(words, "bridge", filled, rule + more, side), accept)


def _ink_pulled_back(drawn: BaseGeometry, printed: BaseGeometry, gap: float, side: str) -> list[Finding]:
    lost = [piece for piece in polygons(minus(drawn, printed)) if piece.area > 0.02]
    if not lost:
        return []
    area = sum(piece.area for piece in lost)
    lost.sort(key=lambda piece: -piece.area)
    places = tuple((piece.representative_point().x, piece.representative_point().y) for piece in lost)
    text = f"Ink does not print on bare metal or laminate. {area:.1f} mm² is left out, {gap:g} mm clear of the mask openings."
    return [
        Finding(
            code="ink-on-opening", severity="warning", stage="artwork", text=text, measured=round(area, 3),
            allowed=gap, layer=f"{side} legend", remedies=(Remedy("leave solder mask between ink and metal"),),
            count=len(lost), places=places,
        )
    ]  # fmt: skip


def _of_side(side: str) -> tuple[Pass, ...]:
    read = ("wired layers", f"{side} printed ink", "flat here", "mends", "rules", "stack", "origin")
    return (Pass(f"{side} layers check", read, partial(layer_findings, side), weight=5),)


CHECKS = (*_of_side("front"), *_of_side("back"))
