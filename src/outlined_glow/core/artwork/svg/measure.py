"""Lengths, transforms and view boxes."""

from __future__ import annotations

import math
import re

import numpy as np

from ..drawing import Matrix

#: CSS pixels per unit.
_UNITS = {"": 1.0, "px": 1.0, "in": 96.0, "cm": 96 / 2.54, "mm": 96 / 25.4, "pt": 96 / 72, "pc": 16.0, "q": 96 / 101.6}
#: Degrees per unit.
_ANGLES = {"deg": 1.0, "rad": 180 / math.pi, "turn": 360.0, "grad": 0.9}
_TIMES = {**_UNITS, **_ANGLES}
_LENGTH = re.compile(r"^\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)\s*([a-zA-Z%]*)\s*$")
_FUNCTION = re.compile(r"([a-zA-Z]+)\s*\(([^)]*)\)")
_NUMBERS = re.compile(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?")
#: No picture has a page ten million units wide.
FAR = 1e7
IDENTITY: Matrix = np.array([[1.0, 0, 0], [0, 1.0, 0]])


def length(text: str | None, default: float, whole: float, em: float = 16.0) -> float:
    """A length in user units; percentages are of `whole`; nonsense and infinities give `default`."""
    match = _LENGTH.match(text) if text else None
    if not match:
        return default
    value, unit = float(match.group(1)), match.group(2).lower()
    if unit == "%":
        value *= whole / 100
    elif unit in ("em", "rem"):
        value *= em
    elif unit == "ex":
        value *= em / 2
    elif unit in _UNITS:
        value *= _UNITS[unit]
    else:
        return default
    return value if math.isfinite(value) else default


def numbers(text: str | None) -> list[float]:
    """Every finite number in a list."""
    return [value for value in map(float, _NUMBERS.findall(text or "")) if math.isfinite(value)]


def view_box(text: str | None) -> list[float]:
    """The four numbers of a view box; none where it is none (SVG 2, 8.6: a negative size is an error)."""
    values = numbers(text)
    return values if len(values) == 4 and min(values[2:]) >= 0 else []


def times(outer: Matrix, inner: Matrix) -> Matrix:
    """The matrix that applies `inner` first, then `outer`."""
    if inner is IDENTITY:
        return outer
    out: Matrix = outer[:, :2] @ inner
    out[:, 2] += outer[:, 2]
    return out


def apply(matrix: Matrix, points: Matrix) -> Matrix:
    """Points (n, 2) through a matrix."""
    out: Matrix = points @ matrix[:, :2].T + matrix[:, 2]
    return out


def transform(text: str | None) -> Matrix:
    """A list of transform functions as one matrix; an unknown or malformed one is the identity."""
    total = IDENTITY
    if not text:
        return total
    for name, inside in _FUNCTION.findall(text or ""):
        one = _one(name.lower(), _arguments(inside))
        if one is not None:
            total = times(total, one)
    return total if np.isfinite(total).all() else IDENTITY


def unread_transforms(text: str | None) -> list[str]:
    """The functions of a transform that are not understood, and so not applied."""
    if not text or text.strip().lower() == "none":
        return []
    found = _FUNCTION.findall(text)
    unread = [f"{name}({inside})" for name, inside in found if _one(name.lower(), _arguments(inside)) is None]
    return unread + ([text] if not found else [])


def _arguments(inside: str) -> list[float]:
    """The numbers of a function; none where one of them is not understood."""
    out = []
    for word in re.split(r"[\s,]+", inside.strip()):
        match = re.match(r"^([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)([a-zA-Z%]*)$", word)
        if match and match.group(2).lower() in _TIMES:
            out.append(float(match.group(1)) * _TIMES[match.group(2).lower()])
        elif "".join(_NUMBERS.findall(word)) == word:
            out += numbers(word)
        else:
            return []
    return out


#: How many numbers each function of a transform takes.
_TAKES = {"matrix": (6,), "translate": (1, 2), "scale": (1, 2), "rotate": (1, 3)}


def _one(name: str, v: list[float]) -> Matrix | None:
    if len(v) not in _TAKES.get(name, (1,)):
        return None
    if name == "matrix":
        return np.array([[v[0], v[2], v[4]], [v[1], v[3], v[5]]])
    if name == "translate":
        return np.array([[1.0, 0, v[0]], [0, 1.0, v[1] if len(v) > 1 else 0]])
    if name in ("translatex", "translatey"):
        return np.array([[1.0, 0, v[0] * (name[-1] == "x")], [0, 1.0, v[0] * (name[-1] == "y")]])
    if name == "scale":
        return np.array([[v[0], 0, 0], [0, v[1] if len(v) > 1 else v[0], 0]])
    if name == "rotate":
        a = math.radians(v[0])
        turn = np.array([[math.cos(a), -math.sin(a), 0], [math.sin(a), math.cos(a), 0]])
        if len(v) >= 3:
            there, back = np.array([[1.0, 0, v[1]], [0, 1.0, v[2]]]), np.array([[1.0, 0, -v[1]], [0, 1.0, -v[2]]])
            return times(times(there, turn), back)
        return turn
    if name == "skewx":
        return np.array([[1.0, math.tan(math.radians(v[0])), 0], [0, 1.0, 0]])
    if name == "skewy":
        return np.array([[1.0, 0, 0], [math.tan(math.radians(v[0])), 1.0, 0]])
    return None


def origin_in(words: list[str], box: tuple[float, float, float, float], em: float) -> tuple[float, float]:
    """A `transform-origin` (one to three words) in a box (x, y, width, height), user units."""
    sides = {"left": "0%", "right": "100%", "top": "0%", "bottom": "100%", "center": "50%"}
    one, other = (*words, "center")[:2]
    if one in ("top", "bottom") or other in ("left", "right"):
        one, other = other, one
    x, y, wide, high = box
    return x + length(sides.get(one, one), wide / 2, wide, em), y + length(sides.get(other, other), high / 2, high, em)


def viewport_matrix(
    view_box: list[float], x: float, y: float, width: float, height: float, aspect: str | None
) -> Matrix | None:
    """From a view box to its viewport, under preserveAspectRatio; None for an empty box."""
    if len(view_box) != 4:
        return np.array([[1.0, 0, x], [0, 1.0, y]])
    left, top, box_width, box_height = view_box
    if box_width <= 0 or box_height <= 0 or width <= 0 or height <= 0:
        return None
    sx, sy = width / box_width, height / box_height
    words = (aspect or "xMidYMid meet").split()
    align = next((word for word in words if word.startswith("x") or word == "none"), "xMidYMid")
    if align != "none":
        sx = sy = max(sx, sy) if "slice" in words else min(sx, sy)
        share = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}
        x += (width - box_width * sx) * share.get(align[1:4], 0.5)
        y += (height - box_height * sy) * share.get(align[5:8], 0.5)
    return np.array([[sx, 0, x - left * sx], [0, sy, y - top * sy]])
