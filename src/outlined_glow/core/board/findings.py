"""Whether a desk can print those layers: thin places, gaps, webs, ink over copper edges."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..geometry.regions import grow, minus, polygons, shifted
from ..geometry.thin import ThinPlace, narrow_gaps, thin_places
from ..project import Finding, Mend, Remedy, Width
from .layers import ArtLayers, SideArt
from .model import Board

#: What a layer's finding is about: the appearance that a remedy changes.
_KINDS = {"metal": "metal", "copper": "raised", "ink": "ink"}


def layer_findings(board: Board, art: ArtLayers, mends: Sequence[Mend] = ()) -> list[Finding]:
    """Every feature of the art under the profile, on both sides, places of a kind together. Board frame."""
    out: list[Finding] = []
    for side in ("front", "back"):
        if not art.sides[side].copper.is_empty or not art.sides[side].ink.is_empty or side == "front":
            out += _Side(board, art.sides[side], side, mends).findings()
    return out


class _Side:
    """The findings of one side."""

    def __init__(self, board: Board, art: SideArt, side: str, mends: Sequence[Mend]) -> None:
        self._board, self._art, self._side, self._mends = board, art, side, mends
        self._shift = (-board.origin[0], -board.origin[1])

    def findings(self) -> list[Finding]:
        board, side, rules = self._board, self._side, self._board.profile
        metal, copper = shifted(self._art.metal, *self._shift), board.art_copper[side]
        out = self._thin("metal-too-thin", "metal", "copper", metal, rules.track_mm)
        raised = minus(copper, grow(metal, 0.15)) if not metal.is_empty else copper
        out += self._thin("copper-too-thin", "copper", "copper", raised, rules.track_mm)
        reach = rules.mask_expansion_mm + rules.registration.mask_mm
        out += self._gap("copper-gap-too-narrow", "gap in the copper", "copper", copper, rules.gap_mm, "raised", reach)
        if rules.has_mask:
            web = rules.mask_web(board.stack.mask)
            openings = board.openings_without_pads[side]
            out += self._gap("mask-web-too-narrow", "bridge of mask", "mask", openings, web, "metal")
        if rules.has_legend:
            drawn = shifted(self._art.ink, *self._shift)
            ink = minus(drawn, grow(board.layer(f"{side} mask"), rules.legend_gap_mm))
            out += self._thin("ink-too-thin", "ink", "legend", ink, rules.legend_line_mm)
            out += _ink_over_edges(board, ink, side)
            out += _ink_pulled_back(drawn, ink, rules.legend_gap_mm, side)
        return out

    def _thin(self, code: str, name: str, layer: str, region: BaseGeometry, rule: float) -> list[Finding]:
        start = "Lines of ink are" if name == "ink" else f"The {name} is"
        return self._grouped(code, layer, f"{start} only {{width}} mm wide, under {{rule}} mm", thin_places(region, rule), rule,
                             _KINDS[name], _thin_remedies)  # fmt: skip

    def _gap(
        self, code: str, name: str, layer: str, region: BaseGeometry, rule: float, kind: str, under: float = 0.0
    ) -> list[Finding]:
        """`under`: how far copper reaches beyond the drawing, which a bridge has to span too."""
        text = f"A {name} is only {{width}} mm wide, under {{rule}} mm"
        return self._grouped(code, layer, text, narrow_gaps(region, rule), rule, kind,
                             lambda kind, rule, side: _gap_remedies(kind, rule + 2 * under, side))  # fmt: skip

    def _grouped(
        self,
        code: str,
        layer: str,
        text: str,
        places: Sequence[ThinPlace],
        rule: float,
        kind: str,
        remedies: Callable[[str, float, str], tuple[Remedy, ...]],
    ) -> list[Finding]:
        """One finding for all places of a kind; those that were accepted are told apart, as a note."""
        if not places:
            return []
        accepted = [place for place in places if any(self._covers(one, kind, place) for one in self._mends)]
        rest = [place for place in places if place not in accepted]
        out = []
        for group, severity in ((rest, "warning"), (accepted, "note")):
            if not group:
                continue
            worst = group[0]
            told = text.format(width=f"{worst.width:.2f}", rule=f"{rule:g}")
            more = f" ({len(group)} places)" if len(group) > 1 else ""
            where = "" if self._side == "front" else " on the back"
            out.append(
                Finding(
                    code, severity, "artwork", f"{told}{where}{more}{', accepted' if severity == 'note' else ''}.",  # type: ignore[arg-type]
                    round(worst.x, 3), round(worst.y, 3), round(worst.width, 3), rule, f"{self._side} {layer}",
                    remedies(kind, rule, self._side) if severity == "warning" else self._take_back(kind), len(group),
                    tuple((place.x, place.y) for place in group),
                    tuple(Width(place.width, place.across_deg) for place in group),
                )
            )  # fmt: skip
        return out

    def _covers(self, one: Mend, kind: str, place: ThinPlace) -> bool:
        if one.how != "accept" or one.appearance != kind or one.side != self._side:
            return False
        if one.x_mm is None or one.y_mm is None:
            return True
        x, y = place.x - self._shift[0], place.y - self._shift[1]
        return bool(np.hypot(x - one.x_mm, y - one.y_mm) <= one.reach_mm)

    def _take_back(self, kind: str) -> tuple[Remedy, ...]:
        for number, one in enumerate(self._mends, 1):
            if one.how == "accept" and one.appearance == kind and one.side == self._side:
                return (Remedy("look at it again", "unmend", (("number", number),)),)
        return ()


def _mend(text: str, how: str, kind: str, rule: float, side: str, **more: str) -> Remedy:
    values = (("how", how), ("appearance", kind), ("width_mm", rule), ("side", side), *more.items())
    return Remedy(text, "mend", values)


def _thin_remedies(kind: str, rule: float, side: str) -> tuple[Remedy, ...]:
    other = "ink" if kind != "ink" else "raised"
    return (
        _mend(f"thicken to {rule:g} mm", "thicken", kind, rule, side),
        _mend("smooth", "smooth", kind, rule, side),
        _mend("drop", "drop", kind, rule, side),
        _mend(f"make it {'raised tone' if other == 'raised' else other}", "become", kind, rule, side, becomes=other),
        _mend("accept", "accept", kind, rule, side),
    )


def _gap_remedies(kind: str, rule: float, side: str) -> tuple[Remedy, ...]:
    return (_mend("bridge", "bridge", kind, rule, side), _mend("accept", "accept", kind, rule, side))


def _ink_over_edges(board: Board, ink: BaseGeometry, side: str) -> list[Finding]:
    """Ink that crosses a copper step thins, skips or breaks there."""
    if ink.is_empty or board.art_copper[side].is_empty:
        return []
    edges = board.art_copper[side].boundary
    crossing = shapely.line_merge(edges.intersection(grow(ink, -0.02)))
    parts = [part for part in shapely.get_parts(crossing) if part.length > 0.05]
    if not parts:
        return []
    parts.sort(key=lambda part: -part.length)
    middles = [part.interpolate(0.5, normalized=True) for part in parts]
    places = tuple((middle.x, middle.y) for middle in middles)
    text = f"Ink crosses a copper edge, where it may break ({len(parts)} places)."
    remedies = (Remedy("make the ground under it mask tone, or all raised"), Remedy("accept it"))
    length = round(parts[0].length, 3)
    return [
        Finding(
            "ink-over-copper-edge", "warning", "artwork", text, *places[0], length, 0.0, f"{side} legend", remedies,
            len(parts), places,
        )
    ]  # fmt: skip


def _ink_pulled_back(drawn: BaseGeometry, printed: BaseGeometry, gap: float, side: str) -> list[Finding]:
    lost = [piece for piece in polygons(minus(drawn, printed)) if piece.area > 0.02]
    if not lost:
        return []
    area = sum(piece.area for piece in lost)
    lost.sort(key=lambda piece: -piece.area)
    places = tuple((piece.representative_point().x, piece.representative_point().y) for piece in lost)
    text = f"Ink lies on or beside bare metal or laminate, where it will not print: {area:.1f} mm² are left out"
    text += f" to keep {gap:g} mm from every opening."
    return [
        Finding(
            "ink-on-opening", "warning", "artwork", text, *places[0], round(area, 3), gap, f"{side} legend",
            (Remedy("leave mask tone between ink and metal"),), len(lost), places,
        )
    ]  # fmt: skip
