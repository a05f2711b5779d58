"""Colours as the lights of an LED make them, and palettes that run through CIELAB."""

from __future__ import annotations

import re
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..colour.difference import hex_to_lab, hex_to_rgb, lab_to_linear, to_linear
from ..errors import Trouble
from ..shipped import entries
from ..text_safety import short
from .lamps import BLUE, GREEN, RED, WHITE, Lamps

Numbers = NDArray[np.float64]
#: So finely a palette is worked out.
_STEPS = 512
_HEX = re.compile("[0-9A-F]{6}")


def palettes() -> dict[str, tuple[str, ...]]:
    """Every palette by name: the colours that it runs through."""
    return {name: tuple(colours) for name, colours in entries("patterns", "palettes").items()}


def palette_names() -> tuple[str, ...]:
    """The names of all palettes."""
    return tuple(palettes())


def own_colours(name: str) -> tuple[str, ...]:
    """The colours of a palette that is told by them; none for one that is told by its name."""
    words = tuple(name.split())
    return words if len(words) > 1 and all(_HEX.fullmatch(word) for word in words) else ()


@lru_cache(maxsize=64)
def _table(name: str) -> Numbers:
    """A palette (steps, 3), linear light, from its first colour to its last at even steps of CIELAB between them."""
    found = palettes().get(name) or own_colours(name)
    if not found:
        raise Trouble(f"There is no palette “{short(name)}”; there are {', '.join(palettes())}.")
    labs = np.array([hex_to_lab(one) for one in found])
    at = np.linspace(0, 1, _STEPS)
    mixed = np.stack([np.interp(at, np.linspace(0, 1, len(labs)), labs[:, part]) for part in range(3)], axis=-1)
    return lab_to_linear(mixed)


def of_palette(name: str, where: Numbers) -> Numbers:
    """Linear light (..., 3) at places of a palette (...), which begins again after 1."""
    share = np.nan_to_num(where) % 1.0
    return _table(name)[np.round(share * (_STEPS - 1)).astype(np.intp)]


def of_colour(colour: str) -> Numbers:
    """Linear light (3,) of a colour."""
    return to_linear(np.array(hex_to_rgb(colour), float))


def in_lights(light: Numbers, lamps: Lamps, rows: NDArray[np.intp]) -> Numbers:
    """What each light of some LEDs gives of linear light (..., m, 3): levels (..., m, c). White that is common to all three is
    left to a light of its own; an LED of one colour is as bright as the brightest part."""
    red, green, blue = np.moveaxis(light, -1, 0)
    kinds = lamps.kinds[rows]
    common = np.where((kinds == WHITE).any(axis=-1), np.minimum(np.minimum(red, green), blue), 0.0)
    most = np.maximum(np.maximum(red, green), blue)
    parts: dict[int, Any] = {RED: red - common, GREEN: green - common, BLUE: blue - common, WHITE: common}
    # Two whites side by side, or a white beside one colour, have no three colours to mix from.
    lone = ~((kinds == RED).any(-1) & (kinds == GREEN).any(-1) & (kinds == BLUE).any(-1))
    out = np.zeros((*light.shape[:-1], kinds.shape[-1]))
    for at in range(kinds.shape[-1]):
        kind = kinds[:, at]
        value = np.where(kind == 0, 0.0, most)
        for which, part in parts.items():
            value = np.where((kind == which) & ~(lone & (kind == WHITE)), part, value)
        out[..., at] = value
    return out
