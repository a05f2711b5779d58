"""Where two boards look otherwise from one side: an edit mostly changes a small piece of a picture."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from ..geometry.edges import Box, edges_differ
from ..parts import PlacedPart
from .model import Board
from .surface import soldered


def looks_otherwise(was: Board, board: Board, side: str) -> Box | None:
    """The box (board frame, mm) round everything that one side shows otherwise; None where it shows nothing otherwise."""
    names = ("core", *(f"{side} {kind}" for kind in ("copper", "mask", "legend")))
    pairs = [(was.layer(name), board.layer(name)) for name in names]
    pairs += [(was.outline, board.outline), (was.windows, board.windows), (was.veiled, board.veiled)]
    boxes = [edges_differ(one, other) for one, other in pairs]
    boxes += _differ(*([(_known(part), part.drawn_bounds) for part in one.parts if part.side == side] for one in (was, board)))
    boxes += _differ(*([(spot.wkb, spot.bounds) for spot in soldered(one)] for one in (was, board)))
    if not (board.windows.is_empty and board.veiled.is_empty):
        boxes += _differ(*([(pad, pad.polygon.bounds) for pad in one.pads if pad.side == "back"] for one in (was, board)))
    found = np.array([box for box in boxes if box is not None])
    if not len(found):
        return None
    left, bottom = found[:, :2].min(axis=0).tolist()
    right, top = found[:, 2:].max(axis=0).tolist()
    return left, bottom, right, top


def shines_otherwise(was: Board, board: Board) -> bool:
    """Whether the LEDs of two boards light them otherwise."""
    return was.lights != board.lights or was.stack.thickness_mm != board.stack.thickness_mm


def _known(part: PlacedPart) -> tuple[object, ...]:
    return part.ref, id(part.part), part.x, part.y, part.angle_deg


def _differ(one: Iterable[tuple[object, Box]], other: Iterable[tuple[object, Box]]) -> list[Box]:
    """The boxes of what is in one of two lists alone."""
    a, b = dict(one), dict(other)
    return [box for key, box in (*a.items(), *b.items()) if key not in a or key not in b]
