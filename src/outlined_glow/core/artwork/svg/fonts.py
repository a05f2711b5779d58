"""Font properties as CSS writes them: sizes in any unit, weights beside the parent's, the `font` shorthand (CSS Fonts 4)."""

from __future__ import annotations

import re

from .measure import length

_NAMED = {"xx-small": 9.0, "x-small": 10.0, "small": 13.0, "medium": 16.0, "large": 18.0, "x-large": 24.0,
          "xx-large": 32.0, "xxx-large": 48.0}  # fmt: skip
_STEP = 1.2
_WEIGHTS = ("normal", "bold", "bolder", "lighter")
_PIECE = re.compile(r"""("[^"]*"|'[^']*'|\([^)]*\)|[^\s"'(])+""")


def font_size(text: str, parent: float, root: float) -> float | None:
    """A `font-size` in user units, under the parent's and the root's; None if it is none."""
    word = text.strip().lower()
    if word in _NAMED:
        return _NAMED[word]
    if word in ("larger", "smaller"):
        return parent * _STEP if word == "larger" else parent / _STEP
    size = length(word, -1.0, parent, root if word.endswith("rem") else parent)
    return size if size >= 0 else None


def font_weight(text: str, parent: str) -> str:
    """A `font-weight` as a number, `bolder` and `lighter` by the parent's."""
    word = text.strip().lower()
    if word in ("bolder", "lighter"):
        heavy = int(float(parent)) if parent.replace(".", "", 1).isdigit() else 400
        if word == "bolder":
            return "400" if heavy < 350 else "700" if heavy < 550 else "900"
        return "100" if heavy < 550 else "400" if heavy < 750 else "700"
    return {"normal": "400", "bold": "700"}.get(word, word)


def font_shorthand(text: str) -> dict[str, str] | None:
    """The longhands of `font: [style weight …] size[/line] family`; None if it is none."""
    words = [match.group(0) for match in _PIECE.finditer(text)]
    out = {"font-style": "normal", "font-weight": "400", "font-variant": "normal", "font-stretch": "normal"}
    for place, word in enumerate(words):
        low = word.lower()
        if low in ("italic", "oblique"):
            out["font-style"] = low
        elif low in _WEIGHTS[1:] or (low.isdigit() and 1 <= int(low) <= 1000):
            out["font-weight"] = low
        elif low == "small-caps":
            out["font-variant"] = low
        elif low.endswith(("condensed", "expanded")):
            out["font-stretch"] = low
        elif low != "normal":
            size = low.split("/")[0]
            family = " ".join(words[place + 1 :])
            if family.startswith("/"):
                family = family.lstrip("/ ").partition(" ")[2]
            return {**out, "font-size": size, "font-family": family} if family and font_size(size, 16, 16) is not None else None
    return None
