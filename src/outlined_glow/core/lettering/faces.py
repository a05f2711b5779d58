"""Faces: those that ship, and those installed on the machine, found by family, weight and slant."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, cached_property, lru_cache
from importlib import resources
from pathlib import Path

import numpy as np
import uharfbuzz as hb
from numpy.typing import NDArray

from .installed import InstalledFont, installed_fonts, plain_family

Points = NDArray[np.float64]
#: One contour: its start (2,), and its segments as control, control, end (n, 3, 2).
Contour = tuple[Points, Points]

#: File and CSS weight of what ships.
_SHIPPED = {"regular": 400, "semibold": 600, "bold": 700}
_OWN_FAMILIES = {"sourcesans3", "sourcesans", "sansserif", "systemui", "uisansserif", ""}
_GENERIC = {"serif", "monospace", "cursive", "fantasy"}
_UNSEEN = {"Cc", "Cf", "Zl", "Zp", "Zs"}
_MOST_BYTES = 60_000_000


class _Pen:
    """Collects a glyph's contours as cubic segments, in font units."""

    def __init__(self) -> None:
        self.contours: list[Contour] = []
        self._start: tuple[float, float] | None = None
        self._here = (0.0, 0.0)
        self._rows: list[float] = []

    def move_to(self, x: float, y: float, _: object) -> None:
        self.close(None)
        self._start = self._here = (x, y)

    def line_to(self, x: float, y: float, _: object) -> None:
        self._rows += (*self._here, x, y, x, y)
        self._here = (x, y)

    def quadratic_to(self, cx: float, cy: float, x: float, y: float, _: object) -> None:
        (x0, y0) = self._here
        one = (x0 + (cx - x0) * 2 / 3, y0 + (cy - y0) * 2 / 3)
        self._rows += (*one, x + (cx - x) * 2 / 3, y + (cy - y) * 2 / 3, x, y)
        self._here = (x, y)

    def cubic_to(self, ax: float, ay: float, bx: float, by: float, x: float, y: float, _: object) -> None:
        self._rows += (ax, ay, bx, by, x, y)
        self._here = (x, y)

    def close(self, _: object) -> None:
        if self._start is not None and self._rows:
            self.contours.append((np.array(self._start), np.array(self._rows, float).reshape(-1, 3, 2)))
        self._start, self._rows = None, []


@dataclass(frozen=True)
class Glyph:
    """One shaped glyph: its number, where it stands and how far the pen goes on, in font units; which letter it begins."""

    number: int
    x: float
    y: float
    advance: float
    letter: int


#: Features by their four letters: for a whole text, or (from letter, to letter, on or off).
Features = Mapping[str, bool | list[tuple[int, int, bool]]]


class Face:
    """A face that can shape a text and draw its glyphs. Units are the font's own, y up."""

    def __init__(self, data: bytes, index: int = 0) -> None:
        self._font = hb.Font(hb.Face(data, index))
        self.units = float(self._font.face.upem)

    @cached_property
    def caps(self) -> float:
        """The height of its capitals."""
        glyph = self._font.get_nominal_glyph(ord("H"))
        extents = self._font.get_glyph_extents(glyph) if glyph else None
        return float(extents.y_bearing) if extents and extents.y_bearing > 0 else 0.7 * self.units

    @cached_property
    def x_height(self) -> float:
        """The height of a small x."""
        return self._metric(hb.OTMetricsTag.X_HEIGHT, 0.5)

    @cached_property
    def ascent(self) -> float:
        """How far letters reach up from the baseline."""
        return self._metric(hb.OTMetricsTag.HORIZONTAL_ASCENDER, 0.9)

    @cached_property
    def descent(self) -> float:
        """How far letters reach below the baseline, negative."""
        return self._metric(hb.OTMetricsTag.HORIZONTAL_DESCENDER, -0.25)

    @cached_property
    def underline(self) -> tuple[float, float]:
        """How high the middle of a line under the letters stands, negative, and how thick it is."""
        return self._metric(hb.OTMetricsTag.UNDERLINE_OFFSET, -0.1), self._metric(hb.OTMetricsTag.UNDERLINE_SIZE, 0.05)

    @cached_property
    def strike(self) -> tuple[float, float]:
        """The same of a line through them."""
        return self._metric(hb.OTMetricsTag.STRIKEOUT_OFFSET, 0.28), self._metric(hb.OTMetricsTag.STRIKEOUT_SIZE, 0.05)

    def _metric(self, tag: hb.OTMetricsTag, usual: float) -> float:
        value = self._font.get_metric_position(tag)
        return float(value) if value else usual * self.units

    def lacks(self, text: str) -> str:
        """The letters of a text that this face has not, each once: boxes would stand for them."""
        letters = dict.fromkeys(unicodedata.normalize("NFC", text))
        return "".join(one for one in letters if not self._has(one) and not self._composes(one))

    def _composes(self, letter: str) -> bool:
        """Whether shaping makes it of a letter and its marks."""
        parts = unicodedata.normalize("NFD", letter)
        return len(parts) > 1 and all(map(self._has, parts))

    def _has(self, letter: str) -> bool:
        # What is not seen (blanks, joiners, marks of direction) needs no drawing.
        return unicodedata.category(letter) in _UNSEEN or bool(self._font.get_nominal_glyph(ord(letter)))

    def shape(self, text: str, features: Features | None = None) -> list[Glyph]:
        """The glyphs of a line of text, kerned; OpenType `features` switched on or off, for all of it or from letter to
        letter."""
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        hb.shape(self._font, buffer, dict(features or {}))
        out, at = [], 0.0
        for info, place in zip(buffer.glyph_infos or (), buffer.glyph_positions or (), strict=True):
            out.append(Glyph(info.codepoint, at + place.x_offset, float(place.y_offset), float(place.x_advance), info.cluster))
            at += place.x_advance
        return out

    @lru_cache(maxsize=2048)  # noqa: B019  (faces live as long as the program)
    def outline(self, glyph: int) -> tuple[Contour, ...]:
        """The contours of a glyph."""
        pen = _Pen()
        functions = hb.DrawFuncs()
        functions.set_move_to_func(pen.move_to)
        functions.set_line_to_func(pen.line_to)
        functions.set_quadratic_to_func(pen.quadratic_to)
        functions.set_cubic_to_func(pen.cubic_to)
        functions.set_close_path_func(pen.close)
        self._font.draw_glyph(glyph, functions, None)
        pen.close(None)
        return tuple(pen.contours)


@cache
def shipped_face(weight: str = "semibold") -> Face:
    """The face that ships, in one of its weights."""
    name = f"SourceSans3-{weight.capitalize()}.ttf"
    return Face(resources.files("outlined_glow.data.fonts").joinpath(name).read_bytes())


def find_face(families: Sequence[str], weight: int = 400, slanted: bool = False) -> tuple[Face, str]:
    """The first family that ships or is installed, and "" or the family that was wanted and is not here."""
    face = next(_named(families, weight, slanted), None)
    return face or _nearest_shipped(weight), "" if face or not families else families[0]


def stand_in(letter: str, families: Sequence[str], weight: int = 400, slanted: bool = False) -> Face | None:
    """A face for a letter that the first family lacks: of the others named, what ships, any that is installed."""
    for face in (*_named(families, weight, slanted), _nearest_shipped(weight)):
        if not face.lacks(letter):
            return face
    return _with_letter(letter, weight, slanted)


def _named(families: Sequence[str], weight: int, slanted: bool) -> Iterator[Face]:
    for family in families:
        plain = plain_family(family)
        if plain in _GENERIC:
            return
        found = _nearest_shipped(weight) if plain in _OWN_FAMILIES else _installed(plain, weight, slanted)
        if found is not None:
            yield found


@lru_cache(maxsize=256)
def _with_letter(letter: str, weight: int, slanted: bool) -> Face | None:
    """An installed face that has a letter, of about that weight."""
    return _nearest((one for one in installed_fonts() if one.has(letter)), weight, slanted)


@lru_cache(maxsize=64)
def _installed(family: str, weight: int, slanted: bool) -> Face | None:
    """The best face of an installed family."""
    return _nearest((one for one in installed_fonts() if family in one.families), weight, slanted)


def _nearest(fonts: Iterable[InstalledFont], weight: int, slanted: bool) -> Face | None:
    """The one of about that weight and slant that can be read."""
    for one in sorted(fonts, key=lambda font: font.far_from(weight, slanted)):
        face = _opened(one.path, one.index)
        if face is not None:
            return face
    return None


@lru_cache(maxsize=64)
def _opened(path: Path, index: int) -> Face | None:
    try:
        return Face(path.read_bytes(), index) if path.stat().st_size <= _MOST_BYTES else None
    except (OSError, ValueError, RuntimeError):
        return None


def _nearest_shipped(weight: int) -> Face:
    return shipped_face(min(_SHIPPED, key=lambda name: abs(_SHIPPED[name] - weight)))
