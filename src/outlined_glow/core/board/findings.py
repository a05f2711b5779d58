"""Whether a desk can print those layers: thin places, gaps, webs, ink over copper edges."""

from __future__ import annotations

import shapely
from shapely.geometry.base import BaseGeometry

from ..geometry.regions import grow, minus, polygons, shifted
from ..geometry.thin import ThinPlace, narrow_gaps, thin_places
from ..project import Finding, Remedy
from .layers import ArtLayers
from .model import Board

_ACCEPT = Remedy("accept")


def layer_findings(board: Board, art: ArtLayers) -> list[Finding]:
    """Every feature under the profile, places of a kind together. Board frame."""
    rules = board.profile
    dx, dy = -board.origin[0], -board.origin[1]
    metal = shifted(art.metal, dx, dy)
    out: list[Finding] = []
    out += _thin("metal-too-thin", "metal", "front copper", metal, rules.track_mm)
    out += _thin("copper-too-thin", "copper", "front copper", board.art_copper["front"], rules.track_mm)
    out += _gap("copper-gap-too-narrow", "gap in the copper", "front copper", board.art_copper["front"], rules.gap_mm)
    if rules.has_mask:
        web = rules.mask_web(board.stack.mask)
        out += _gap("mask-web-too-narrow", "bridge of mask", "front mask", board.openings_without_pads["front"], web)
    if rules.has_legend:
        ink = minus(shifted(art.ink, dx, dy), grow(board.layer("front mask"), rules.legend_gap_mm))
        out += _thin("ink-too-thin", "ink", "front legend", ink, rules.legend_line_mm)
        out += _ink_over_edges(board, ink)
        out += _ink_pulled_back(shifted(art.ink, dx, dy), ink, rules.legend_gap_mm)
    else:
        out += _vanished(art, board)
    return out


def _grouped(code: str, layer: str, text: str, places: list[ThinPlace], rule: float) -> list[Finding]:
    if not places:
        return []
    worst = places[0]
    more = f" ({len(places)} places)" if len(places) > 1 else ""
    return [
        Finding(
            code,
            "warning",
            "artwork",
            text.format(width=f"{worst.width:.2f}", rule=f"{rule:g}") + more + ".",
            round(worst.x, 3),
            round(worst.y, 3),
            round(worst.width, 3),
            rule,
            layer,
            (Remedy("thicken in the drawing"), Remedy("drop"), _ACCEPT),
            len(places),
            tuple((place.x, place.y) for place in places),
        )
    ]


def _thin(code: str, name: str, layer: str, region: BaseGeometry, rule: float) -> list[Finding]:
    verb = "are" if name == "ink" else "is"
    start = "Lines of ink" if name == "ink" else f"The {name}"
    return _grouped(code, layer, f"{start} {verb} only {{width}} mm wide, under {{rule}} mm", thin_places(region, rule), rule)


def _gap(code: str, name: str, layer: str, region: BaseGeometry, rule: float) -> list[Finding]:
    text = f"A {name} is only {{width}} mm wide, under {{rule}} mm"
    return _grouped(code, layer, text, narrow_gaps(region, rule), rule)


def _ink_over_edges(board: Board, ink: BaseGeometry) -> list[Finding]:
    """Ink that crosses a copper step thins, skips or breaks there."""
    if ink.is_empty or board.art_copper["front"].is_empty:
        return []
    edges = board.art_copper["front"].boundary
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
            "ink-over-copper-edge", "warning", "artwork", text, *places[0], length, 0.0, "front legend", remedies,
            len(parts), places,
        )
    ]  # fmt: skip


def _ink_pulled_back(drawn: BaseGeometry, printed: BaseGeometry, gap: float) -> list[Finding]:
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
            "ink-on-opening", "warning", "artwork", text, *places[0], round(area, 3), gap, "front legend",
            (Remedy("leave mask tone between ink and metal"),), len(lost), places,
        )
    ]  # fmt: skip


def _vanished(art: ArtLayers, board: Board) -> list[Finding]:
    """A home etch has no mask and no ink."""
    out = []
    for name, region in (("ink", art.ink), ("veiled window", art.veiled)):
        if not region.is_empty:
            spot = region.representative_point()
            x, y = spot.x - board.origin[0], spot.y - board.origin[1]
            text = f"{name.capitalize()} vanishes: the {board.profile.title} desk has neither mask nor legend."
            out.append(Finding("appearance-vanishes", "warning", "artwork", text, x, y))
    return out
