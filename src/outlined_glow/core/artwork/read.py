"""The door for pictures: by what the bytes are, not by what the name says."""

from __future__ import annotations

from functools import lru_cache

from ..errors import Trouble
from .drawing import Drawing
from .svg import read_svg

_OTHERS = {
    b"\x89PNG": "a PNG picture",
    b"\xff\xd8\xff": "a JPEG picture",
    b"GIF8": "a GIF picture",
    b"BM": "a BMP picture",
    b"RIFF": "a WebP picture",
    b"II*\x00": "a TIFF picture",
    b"MM\x00*": "a TIFF picture",
    b"%PDF": "a PDF file",
}


@lru_cache(maxsize=2)
def read_picture(data: bytes, name: str) -> Drawing:
    """The drawing in a picture file. `Trouble` says what cannot be read and what to do.

    The last two pictures are remembered: a project is begun and compiled from the same bytes.
    """
    for start, kind in _OTHERS.items():
        if data.startswith(start):
            raise Trouble(f"“{name}” is {kind}; this version reads SVG drawings, so trace it to SVG first.")
    return read_svg(data, name)
