"""The passes in pieces, for a board that is seen before all of it is made."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import partial
from typing import Any

from ..artwork.words import with_words, words_region
from ..board.clean import Cleaned
from ..board.layers import PartLayers
from ..board.under_ink import raised_under_ink
from ..board.wired import seen_first, wired_layers
from ..geometry.regions import common, minus, union
from ..passes import Pass, leading_to
from .board_passes import PASSES, SIDES


def _split(name: str, passes: tuple[Pass, ...]) -> tuple[tuple[Pass, ...], Pass, tuple[Pass, ...]]:
    """Those before one of that name, it, and those after it."""
    at = next(at for at, one in enumerate(passes) if one.name == name)
    return passes[:at], passes[at], passes[at + 1 :]


#: The passes that clean text up, one a side, and what leads to them.
TEXT_CLEANED = {side: next(one for one in PASSES if one.name == f"{side} text cleaned") for side in SIDES}
TO_TEXT = leading_to(PASSES, [name for one in TEXT_CLEANED.values() for name in one.needs])
#: That which draws the tracks, and those that lead to it; the rest up to the layers with their copper, that which makes those,
#: and it made quickly, with pours or without; those up to the legend of the back, that which arranges it, and the rest.
_, ROUTED, _ = _split("routed", PASSES)
BEFORE_TRACKS = leading_to(PASSES, ROUTED.needs)
BEFORE_LAYERS, _layers, _after = _split("wired layers", tuple(one for one in PASSES if one not in (*BEFORE_TRACKS, ROUTED)))
QUICK_LAYERS = (*BEFORE_LAYERS, replace(_layers, name="quick layers", run=partial(wired_layers, quick=True)))
POURS = next(one for one in BEFORE_LAYERS if one.name == "pours")
QUICK_LAYERS_WITHOUT_POURS = tuple(one for one in QUICK_LAYERS if one is not POURS)
LAYERS = (*BEFORE_LAYERS, _layers)
ROUND_PADS = next(one for one in BEFORE_LAYERS if one.name == "art round pads")
SEEN_LAYERS = tuple(one for one in BEFORE_LAYERS if one is not ROUND_PADS)
BEFORE_LEGEND, LEGEND, AFTER_LEGEND = _split("back words", _after)


def layers_seen_first(values: Mapping[str, Any], before: PartLayers) -> PartLayers:
    """The layers of a board of the same art as `before`, to be seen while its tracks are drawn."""
    return seen_first(values["part layers"], values["wires"], values["flat here"], values["nets"], values["rules"], before)


def text_as_drawn(side: str, values: Mapping[str, Any]) -> Cleaned:
    """A clean-up with the text over it as it is drawn, to be seen while that is cleaned up."""
    cleaned, words, paths = values[f"{side} cleaned"], values["words"], values["paths"]
    laid = union([words_region(one, paths) for one in words if one.side == side])
    art = with_words(cleaned.regions, words, side, paths)
    copper = union([minus(cleaned.copper, laid), common(raised_under_ink(art, values["mends"], side), laid)])
    return Cleaned(art, copper)
