"""What the boards cost by example prices (data/profiles/prices.json; DOMAIN 2), in credits."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from ..parts import profile_of
from ..project import Brief, Stack


@dataclass(frozen=True)
class Price:
    """The lines of a price, and together: `boards` for all pieces, `each` for one."""

    lines: tuple[tuple[str, float], ...]
    boards: float
    each: float
    pieces: int


@cache
def _table() -> dict[str, Any]:
    text = resources.files("outlined_glow.data.profiles").joinpath("prices.json").read_text("utf-8")
    return json.loads(text)  # type: ignore[no-any-return]


def price_of(
    size_mm: tuple[float, float], stack: Stack, pieces: int, at_home: bool = False, edge_plated: bool = False
) -> Price:
    """The price of `pieces` boards of that outline box. What is made at home has none."""
    if at_home:
        return Price((("made at home", 0.0),), 0.0, 0.0, pieces)
    table = _table()
    lines = [(f"{pieces} boards, two layers", _base(table, pieces))]
    lines += _for_size(size_mm, pieces)
    for title, key, value in (
        (f"{stack.finish.replace('-', ' ')} finish", "finish", stack.finish),
        (f"{stack.mask.replace('-', ' ')} mask", "mask", stack.mask),
        (f"{stack.thickness_mm:.1f} mm thick", "thickness", f"{stack.thickness_mm:.1f}"),
    ):
        lines.append((title, float(table[key].get(value, 0.0))))
    if edge_plated:
        lines.append(("copper over the edge", float(table["edge_plated"])))
    boards = round(sum(amount for _, amount in lines), 2)
    return Price(tuple(lines), boards, round(boards / pieces, 2), pieces)


def brief_price(brief: Brief, size_mm: tuple[float, float], edge_plated: bool) -> Price:
    """The price of the boards a brief asks for."""
    return price_of(size_mm, brief.stack, brief.pieces, profile_of(brief).at_home, edge_plated)


def fits_box(size_mm: tuple[float, float]) -> bool:
    """Whether a board stays within the price break, either way round."""
    short, long = sorted(_table()["box_mm"])
    return bool(min(size_mm) <= short + 1e-6 and max(size_mm) <= long + 1e-6)


def over_step(brief: Brief, size_mm: tuple[float, float]) -> tuple[float, float] | None:
    """How much narrower the board must get to fall under the price break, and all that this saves for the order.

    None when it fits already, or is made at home.
    """
    if fits_box(size_mm) or profile_of(brief).at_home:
        return None
    short, long = sorted(_table()["box_mm"])
    excess = max(min(size_mm) - short, max(size_mm) - long)
    return excess, round(sum(amount for _, amount in _for_size(size_mm, brief.pieces)), 2)


def _for_size(size_mm: tuple[float, float], pieces: int) -> list[tuple[str, float]]:
    """What a board over the price break costs more; one that fits it costs none of it."""
    if fits_box(size_mm):
        return []
    table = _table()
    most = float(table["larger_from_cm2"])
    beyond = max(0.0, size_mm[0] * size_mm[1] / 100 - most)
    area = [(f"area beyond {most:g} cm²", round(beyond * float(table["larger_per_cm2"]) * pieces, 2))] if beyond > 0 else []
    return [("larger than the price break", float(table["larger_once"])), *area]


def _base(table: dict[str, Any], pieces: int) -> float:
    for most, amount in table["pieces"]:
        if pieces <= most:
            return float(amount)
    most, amount = table["pieces"][-1]
    return float(round(float(amount) + (pieces - most) * float(table["each_more"]), 2))
