"""Misalignment: the board as it looks when every layer lies as far off as the profile allows."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import partial

import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.along import run_beside
from ..geometry.offset import grow
from ..geometry.overlay import overlay
from ..geometry.valid import shifted
from ..parts import Profile
from ..passes import Pass
from ..project import Finding, Remedy
from .layers import PartLayers
from .model import Board, Layer

#: Each kind of layer goes its own way, so that the worst of them meet: degrees at phase 0.
_WAYS = {"legend": 0.0, "mask": 140.0, "drill": 250.0, "outline": 310.0}
PHASES = 12


def worst_case(board: Board, phase: int) -> Board:
    """The board with legend, mask, drill and outline shifted against the copper, by the full tolerance of each.

    `phase` of `PHASES` turns all of these ways together once round.
    """
    off = board.profile.registration
    reach = {"legend": off.legend_mm, "mask": off.mask_mm, "drill": off.drill_mm, "outline": off.outline_mm}
    turn = 360.0 * phase / PHASES

    def way(kind: str) -> tuple[float, float]:
        a = math.radians(_WAYS[kind] + turn)
        return reach[kind] * math.cos(a), reach[kind] * math.sin(a)

    layers = {
        layer: shifted(region, *way(layer.kind)) if layer.kind in ("legend", "mask") and not region.is_empty else region
        for layer, region in board.layers.items()
    }
    drill = way("drill")
    outline = shifted(board.outline, *way("outline"))
    assert isinstance(outline, Polygon)
    drills = shifted(board.layer("drills"), *drill)
    layers[Layer("", "drills")] = drills
    layers[Layer("", "core")] = overlay(shapely.difference, outline, drills) if not drills.is_empty else outline
    holes = tuple(replace(one, x=one.x + drill[0], y=one.y + drill[1]) for one in board.holes)
    veil = way("mask")
    return replace(board, layers=layers, outline=outline, holes=holes, veiled=shifted(board.veiled, *veil))


def registration_findings(side: str, laid: PartLayers, ink: BaseGeometry, rules: Profile) -> list[Finding]:
    """Where a side's art depends on layers lying true: ink that ends on copper's edge, art that follows the board's edge."""
    out: list[Finding] = []
    off = rules.registration
    copper = laid.art_copper(side)
    if not ink.is_empty and not copper.is_empty:
        length, (x, y) = run_beside(ink.boundary, copper.boundary, 0.02)
        if length > 4:
            text = f"Ink and copper share an edge for {length:.0f} mm. "
            text += f"If print is {off.legend_mm:g} mm off, a thin line shows."
            out.append(Finding(
                code="registration-shows", severity="note", stage="artwork", text=text, x_mm=x, y_mm=y,
                measured=round(length, 1), layer=f"{side} legend", remedies=(Remedy("overlap them in the drawing"),),
            ))  # fmt: skip
    drawn = [region for region in (copper, ink) if not region.is_empty]
    if not drawn:
        return out
    near = 4 * off.outline_mm
    rim = laid.outline.difference(grow(laid.outline, -near)) if near else Polygon()
    along = sum(float(overlay(shapely.intersection, region.boundary, rim).length) for region in drawn)
    if along > 0.5 * laid.outline.length:
        spot = laid.outline.representative_point()
        text = f"Art follows the board's edge within {near:.2g} mm along {along:.0f} mm; the cut may lie"
        text += f" {off.outline_mm:g} mm off, and the rim will look uneven."
        remedies = (Remedy("widen the border"), Remedy("let the art run off the edge"))
        out.append(
            Finding(
                code="rim-shows-the-cut",
                severity="note",
                stage="artwork",
                text=text,
                x_mm=spot.x,
                y_mm=spot.y,
                measured=round(near, 2),
                layer=f"{side} copper",
                remedies=remedies,
            )
        )
    return out


CHECKS = tuple(
    Pass(f"{side} registration check", ("wired layers", f"{side} printed ink", "rules"), partial(registration_findings, side))
    for side in ("front", "back")
)
