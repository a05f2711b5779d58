"""Colours of other spaces than sRGB, as sRGB (CSS Color 4, 10 and 17). What no sRGB colour can be is drawn in to what can."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from .difference import TO_XYZ, from_linear, to_linear

_FROM_XYZ = np.linalg.inv(TO_XYZ)
#: From the white of D50 to that of D65 (Bradford), and from linear Display P3 to CIE XYZ.
_D50_TO_D65 = np.array(
    [[0.955473, -0.023099, 0.063259], [-0.028370, 1.009995, 0.021041], [0.012314, -0.020508, 1.330366]],
)
_P3_TO_XYZ = np.array([[0.486571, 0.265668, 0.198217], [0.228975, 0.691739, 0.079287], [0.0, 0.045113, 1.043944]])
#: From each space, made linear, to linear sRGB.
_TO_SRGB = {
    "srgb-linear": np.eye(3),
    "xyz-d65": _FROM_XYZ,
    "xyz-d50": _FROM_XYZ @ _D50_TO_D65,
    "display-p3": _FROM_XYZ @ _P3_TO_XYZ,
}


def to_srgb(space: str, values: Sequence[float]) -> NDArray[np.float64] | None:
    """A colour (3,) of a space as sRGB (3,), 0..255; None of a space that is not known here."""
    if space not in _TO_SRGB:
        return None
    linear = to_linear(np.clip(np.array(values, float), 0.0, 1.0) * 255) if space == "display-p3" else np.array(values, float)
    return from_linear(np.clip(_TO_SRGB[space] @ linear, 0.0, 1.0))
