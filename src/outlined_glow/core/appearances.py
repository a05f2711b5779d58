"""What a place of a board can look like, and what that is called (DOMAIN 1)."""

from __future__ import annotations

#: Every appearance a picture colour can be given, darkest layer first.
TITLES = {
    "mask": "solder mask",
    "raised": "mask over copper",
    "metal": "bare metal",
    "ink": "silkscreen ink",
    "window": "light window",
    "veiled": "masked window",
    "cut": "cut-out",
}
APPEARANCES = tuple(TITLES)


def title_of(appearance: str, printed: bool = True) -> str:
    """The title; where neither mask nor ink is printed, a light window is bare laminate."""
    return "bare laminate" if appearance == "window" and not printed else TITLES.get(appearance, appearance)
