"""Grey of more than eight bits a pixel, as eight bits."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

#: Rows that are worked on at a time in full precision: a large picture as a whole would take gigabytes.
_BAND = 256
#: Tags of TIFF: bits a pixel, what 0 means (0: white), and what the numbers are (1: no sign).
_BITS, _MEANING, _NUMBERS = 258, 262, 339


def eight_bit_grey(picture: Image.Image) -> Image.Image:
    """A picture of twelve or sixteen bits by their full scale; of floats, or integers that go beyond it, by what they span.
    It is L, or LA where the file names a grey that is transparent."""
    tags: Any = getattr(picture, "tag_v2", {})
    clear = picture.info.get("transparency")
    wide, high = picture.size
    bands = [slice(top, min(high, top + _BAND)) for top in range(0, high, _BAND)]

    def values(band: slice) -> NDArray[np.float64]:
        rows = np.asarray(picture.crop((0, band.start, wide, band.stop)))
        # Thirty-two bits come with a sign, whether they have one or not.
        unsigned = picture.mode == "I" and tags and tags.get(_NUMBERS, (1,))[0] == 1
        return (rows.astype(np.int64) % 2**32 if unsigned else rows).astype(np.float64)

    low, top = 0.0, 4095.0 if tags.get(_BITS) == (12,) else 65535.0
    ends = [(part.min(), part.max()) for band in bands if (part := _finite(values(band))).size] or [(0.0, 1.0)]
    least, most = min(float(one) for one, _ in ends), max(float(one) for _, one in ends)
    if picture.mode == "F" or least < 0 or most > top:
        low, top = least, most
    grey, solid = np.empty((high, wide), np.uint8), np.full((high, wide), 255, np.uint8)
    for band in bands:
        here = values(band)
        share = np.nan_to_num((here - low) / max(top - low, 1e-9), posinf=1.0, neginf=0.0)
        grey[band] = np.clip((1 - share if tags.get(_MEANING) == 0 else share) * 255, 0, 255)
        solid[band][here == clear] = 0
    out = Image.fromarray(grey)
    if isinstance(clear, int):
        out.putalpha(Image.fromarray(solid))
    return out


def _finite(values: NDArray[np.float64]) -> NDArray[np.float64]:
    return values[np.isfinite(values)]
