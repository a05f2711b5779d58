"""The numbers of a run of plain moves and lines, read in one go."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ... import compiled
from ...compiled import kernel

_WITHOUT_NUMBERS = str.maketrans("", "", "0123456789+-\r\n")
_NUMBERS_ONLY = str.maketrans(dict.fromkeys("XYD*\r\n", " "))


def rows_of(block: str) -> NDArray[np.int64] | None:
    """X, Y and D (n, 3) of a text that holds nothing but `X…Y…D…*`, over and over; None of any other."""
    if compiled.loaded() and block.isascii():
        out = np.empty((block.count("*"), 3), np.int64)
        count = _read(np.frombuffer(bytearray(block, "ascii"), np.uint8), out)
        if count == len(out) > 0:
            return out
    # What the compiled reader does not take, the plain one judges.
    form = block.translate(_WITHOUT_NUMBERS)
    count = len(form) // 4
    if count == 0 or form != "XYD*" * count:
        return None
    rows = np.fromstring(block.translate(_NUMBERS_ONLY), np.int64, sep=" ")
    return rows.reshape(-1, 3) if rows.size == 3 * count else None


@kernel("i8(u1[::1], i8[:,::1])")
def _read(text: Any, out: Any) -> Any:
    """Rows read into `out`; -1 where the text is another one, or has numbers of more digits than are safe."""
    at, row = 0, 0
    while at < len(text):
        if text[at] == 10 or text[at] == 13:
            at += 1
            continue
        if row >= len(out):
            return -1
        for column in range(3):
            if at >= len(text) or text[at] != (88 if column == 0 else 89 if column == 1 else 68):  # X, Y, D
                return -1
            at += 1
            sign = 1
            if at < len(text) and (text[at] == 45 or text[at] == 43):
                sign = -1 if text[at] == 45 else 1
                at += 1
            value, digits = 0, 0
            while at < len(text) and 48 <= text[at] <= 57:
                value = value * 10 + (text[at] - 48)
                digits += 1
                at += 1
            if digits == 0 or digits > 15:
                return -1
            out[row, column] = sign * value
        if at >= len(text) or text[at] != 42:
            return -1
        at += 1
        row += 1
    return row
