"""The door for pictures: by what the bytes are, not by what the name says."""

from __future__ import annotations

from functools import lru_cache

from ..errors import Trouble
from .dxf import is_dxf, read_dxf
from .painting import Source
from .raster import read_raster
from .svg import read_svg

_RASTER = (b"\x89PNG", b"\xff\xd8\xff", b"GIF8", b"BM", b"RIFF", b"II*\x00", b"MM\x00*", b"II+\x00", b"MM\x00+")
#: Kinds that are known and not taken, and what to do instead.
_OTHERS = {
    b"%PDF": "a PDF file; export it as SVG",
    b"%!PS": "a PostScript file; export it as SVG",
    b"8BPS": "a layered picture; export it as PNG",
    b"AC10": "a drawing in a closed format; save it as DXF",
    b"PK\x03\x04": "an archive; open what is in it",
}


@lru_cache(maxsize=4)
def read_picture(data: bytes, name: str) -> Source:
    """The drawing, or the pixels, in a picture file. `Trouble` says what cannot be read and what to do.

    The last few pictures are remembered: a project is begun and compiled from the same bytes.
    """
    if data.startswith(_RASTER):
        return read_raster(data, name)
    for start, kind in _OTHERS.items():
        if data.startswith(start):
            raise Trouble(f"“{name}” is {kind}.")
    if is_dxf(data):
        return read_dxf(data, name)
    return read_svg(data, name)
