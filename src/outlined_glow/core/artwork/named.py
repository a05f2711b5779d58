"""Layers that the artist named after an appearance, which is then taken at its word.

A group of an SVG drawing (its label, else its id) or a layer of a DXF drawing called `mask`, `raised`, `metal`,
`ink`, `window`, `veiled` or `cut` becomes that, whatever its colours; `outline` is the edge of the board.
Case, blanks and a number at the end do not matter: `Metal`, `metal 2`, `raised tone` and `legend` are understood.
"""

from __future__ import annotations

import re

from .resolved import OUTLINE

_WORDS = {
    "mask": "mask", "masktone": "mask",
    "raised": "raised", "raisedtone": "raised",
    "metal": "metal",
    "ink": "ink", "legend": "ink", "silkscreen": "ink",
    "window": "window",
    "veiled": "veiled", "veiledwindow": "veiled",
    "cut": "cut", "cutout": "cut",
    "outline": OUTLINE,
}  # fmt: skip


def layer_word(name: str) -> str:
    """The appearance a layer's name stands for, "outline", or ""."""
    return _WORDS.get(re.sub(r"[\d\s_.-]+", "", name.lower()), "")
