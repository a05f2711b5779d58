"""Text of any script on a matrix: set from the outlines of a font, kerned and joined as its script asks for, at its height."""

from __future__ import annotations

import unicodedata
from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from .. import lettering
from ..geometry.fill import fill
from ..geometry.flatten import flatten_cubics
from ..geometry.regions import polygons

if TYPE_CHECKING:
    from ..lettering import Face

Bits = NDArray[np.bool_]
#: The shipped face as a font of a strip.
OUTLINES = "outlines"
#: A pixel is looked at in so many parts each way, and lit from so much of it on.
_PARTS, _LIT = 8, 0.42
#: What reaches farther below the line than this share of the capitals hangs under it.
_HANGS = 0.06
_MOST_WIDE = 20_000


@dataclass(frozen=True)
class SetFont:
    """A face at the height of a matrix, in rows. `name` is a family, or that of the shipped face."""

    name: str
    height: int

    def line(self, text: str) -> Bits:
        """A line of text (height, width)."""
        return _line(self.name, self.height, text)

    def lacks(self, text: str) -> str:
        """The letters of a text that no font here has, each once."""
        face = _face(self.name)
        return "".join(letter for letter in face.lacks(text) if lettering.stand_in(letter, self._families) is None)

    @property
    def _families(self) -> tuple[str, ...]:
        return () if self.name == OUTLINES else (self.name,)


def missing_family(name: str) -> bool:
    """Whether a family is neither shipped nor installed."""
    return name != OUTLINES and bool(lettering.find_face((name,), 600)[1])


def runs_rightward(text: str) -> bool:
    """Whether a text is read from right to left, and so runs through a matrix to the right."""
    strong = next((way for letter in text if (way := unicodedata.bidirectional(letter)) in ("L", "R", "AL")), "L")
    return strong != "L"


def _face(name: str) -> Face:
    return lettering.find_face(() if name == OUTLINES else (name,), 600)[0]


@lru_cache(maxsize=512)
def _line(name: str, height: int, text: str) -> Bits:
    import cv2  # only set text needs it

    face = _face(name)
    lacking = face.lacks(text)
    if lacking:
        # One face for all of a line, so that letters that join do.
        face = lettering.stand_in(lacking[0], () if name == OUTLINES else (name,), 600) or face
    glyphs = face.shape(text)
    hangs = any(low < -_HANGS * face.caps for low in (_lowest(face, one.number) + one.y for one in glyphs))
    below = -face.descent if hangs else 0.0
    scale = height / (face.caps + below)
    wide = min(_MOST_WIDE, int(np.ceil(sum(one.advance for one in glyphs) * scale)))
    if wide < 1:
        return np.zeros((height, 0), bool)
    fine = np.zeros((height * _PARTS, wide * _PARTS), np.uint8)
    for one in glyphs:
        for rings in _rings(face, one.number):
            moved = [
                np.column_stack([(ring[:, 0] + one.x) * scale, height - (ring[:, 1] + one.y + below) * scale]) for ring in rings
            ]
            # Between the middles of small parts, in sixteenths of them.
            corners = [np.round((ring * _PARTS - 0.5) * 16).astype(np.int32) for ring in moved]
            cv2.fillPoly(fine, corners, 1, cv2.LINE_8, 4)
    share = fine.reshape(height, _PARTS, wide, _PARTS).mean(axis=(1, 3))
    return np.asarray(share >= _LIT, bool)


@lru_cache(maxsize=4096)
def _rings(face: Face, glyph: int) -> tuple[tuple[NDArray[np.float64], ...], ...]:
    """The polygons of a glyph as rings of corners, font units."""
    contours = [flatten_cubics(start, curves, face.units / 500) for start, curves in face.outline(glyph)]
    return tuple(
        tuple(np.asarray(ring.coords, float) for ring in (one.exterior, *one.interiors))
        for one in polygons(fill(contours, "nonzero"))
    )


def _lowest(face: Face, glyph: int) -> float:
    return min((float(ring[:, 1].min()) for rings in _rings(face, glyph) for ring in rings), default=0.0)
