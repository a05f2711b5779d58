"""What a place of a board can look like, and what that is called (DOMAIN 1)."""

from __future__ import annotations

#: Every appearance a picture colour can be given, darkest layer first.
TITLES = {
    "mask": "mask tone",
    "raised": "raised tone",
    "metal": "metal",
    "ink": "ink",
    "window": "window",
    "veiled": "veiled window",
    "cut": "cut out",
}
APPEARANCES = tuple(TITLES)


def title_of(appearance: str, printed: bool = True) -> str:
    """The title; a desk that prints neither mask nor ink has no windows, but bare laminate."""
    return "bare laminate" if appearance == "window" and not printed else TITLES.get(appearance, appearance)
