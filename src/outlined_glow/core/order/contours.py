"""Closed rings as Gerber text, all at once: a million vertices are written by table, not one by one."""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from .. import compiled
from ..compiled import kernel

#: Units of the file in a millimetre (format 4.6).
UNITS = 1_000_000
_GROUP = 100_000
_DIGITS = 10
#: A record: G36*⏎ X-dddddddddd Y-dddddddddd D01*⏎ G37*⏎; what a vertex does not need of it is left out.
_BEFORE, _AFTER = 5, 10
_WIDTH = _BEFORE + 2 * (2 + _DIGITS) + _AFTER


def contours(rings: NDArray[np.object_], filled: bool) -> str:
    """Linear rings (mm) as moves and lines, each closed; `filled` encloses each in a region statement.

    Points that fall together at file resolution are dropped, and rings of which no area is left.
    """
    points, which = shapely.get_coordinates(rings, return_index=True)
    rows, first, last = _closed(np.round(points * UNITS).astype(np.int64), which)
    if len(rows) == 0:
        return ""
    if compiled.loaded():
        whole = np.empty(len(rows) * _WIDTH, np.uint8)
        return whole[: _write(rows, first, last, filled, whole)].tobytes().decode("ascii").rstrip("\n")
    out = np.empty((len(rows), _WIDTH), np.uint8)
    keep = np.ones((len(rows), _WIDTH), bool)
    out[:, :_BEFORE] = _bytes("G36*\n")
    keep[:, :_BEFORE] = first[:, None] if filled else False
    at = _BEFORE
    for letter, values in ((b"X", rows[:, 0]), (b"Y", rows[:, 1])):
        _number(out[:, at : at + 2 + _DIGITS], keep[:, at : at + 2 + _DIGITS], letter, values)
        at += 2 + _DIGITS
    out[:, at : at + 5] = _bytes("D01*\n")
    out[first, at + 2] = ord("2")
    out[:, at + 5 :] = _bytes("G37*\n")
    keep[:, at + 5 :] = last[:, None] if filled else False
    return out[keep].tobytes().decode("ascii").rstrip("\n")


@kernel("i8(i8[:,::1], b1[::1], b1[::1], b1, u1[::1])")
def _write(rows: Any, first: Any, last: Any, filled: Any, out: Any) -> Any:
    """The text of rows (n, 2) into `out`, as `contours` says; how many bytes it has."""
    at, digits = 0, np.empty(24, np.uint8)
    for n in range(len(rows)):
        if filled and first[n]:
            out[at], out[at + 1], out[at + 2], out[at + 3], out[at + 4] = 71, 51, 54, 42, 10  # G36*
            at += 5
        for axis in range(2):
            out[at] = 88 + axis  # X, Y
            at += 1
            value = rows[n, axis]
            if value < 0:
                out[at] = 45
                at += 1
                value = -value
            count = 0
            while value > 0 or count == 0:
                digits[count] = 48 + value % 10
                value //= 10
                count += 1
            for place in range(count):
                out[at + place] = digits[count - 1 - place]
            at += count
        out[at], out[at + 1], out[at + 2], out[at + 3], out[at + 4] = 68, 48, 50 if first[n] else 49, 42, 10  # D01*
        at += 5
        if filled and last[n]:
            out[at], out[at + 1], out[at + 2], out[at + 3], out[at + 4] = 71, 51, 55, 42, 10  # G37*
            at += 5
    return at


def _closed(rows: NDArray[np.int64], which: NDArray[np.intp]) -> tuple[NDArray[np.int64], NDArray[np.bool_], NDArray[np.bool_]]:
    """The rows without repeats, of rings of at least three corners, and which of them begin and end a ring.

    The rings come closed, and rounding keeps them so: their first point is their last.
    """
    same = np.zeros(len(rows), bool)
    same[1:] = (which[1:] == which[:-1]) & (rows[1:] == rows[:-1]).all(axis=1)
    rows, which = rows[~same], which[~same]
    large = (np.bincount(which) >= 4)[which] if len(which) else np.zeros(0, bool)
    rows, which = rows[large], which[large]
    first, last = np.ones(len(rows), bool), np.ones(len(rows), bool)
    first[1:] = last[:-1] = which[1:] != which[:-1]
    return np.ascontiguousarray(rows), first, last


def _number(out: NDArray[np.uint8], keep: NDArray[np.bool_], letter: bytes, values: NDArray[np.int64]) -> None:
    """A letter, a sign where one is needed, and the digits without leading zeros, into the columns given."""
    size = np.abs(values)
    out[:, 0] = ord(letter)
    out[:, 1] = ord("-")
    keep[:, 1] = values < 0
    high = size // _GROUP
    table = _table()
    out[:, 2:7] = table[high]
    out[:, 7:12] = table[size - high * _GROUP]
    digits = 1 + np.searchsorted(10 ** np.arange(1, _DIGITS), size, side="right")
    keep[:, 2:12] = np.arange(_DIGITS) >= (_DIGITS - digits)[:, None]


@cache
def _table() -> NDArray[np.uint8]:
    """Five digits for each number below a hundred thousand."""
    return np.frombuffer("".join(f"{number:05d}" for number in range(_GROUP)).encode(), np.uint8).reshape(_GROUP, 5)


def _bytes(text: str) -> NDArray[np.uint8]:
    return np.frombuffer(text.encode(), np.uint8)
