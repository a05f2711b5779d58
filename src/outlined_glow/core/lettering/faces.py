"""Faces: those that ship, and those installed on the machine, found by family, weight and slant."""

from __future__ import annotations

import os
import re
import struct
import unicodedata
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, cached_property, lru_cache
from importlib import resources
from itertools import islice
from pathlib import Path

import numpy as np
import uharfbuzz as hb
from fontTools.misc import sstruct
from fontTools.ttLib import TTFont, TTLibError
from numpy.typing import NDArray

Points = NDArray[np.float64]
#: One contour: its start (2,), and its segments as control, control, end (n, 3, 2).
Contour = tuple[Points, Points]

#: File and CSS weight of what ships.
_SHIPPED = {"regular": 400, "semibold": 600, "bold": 700}
_OWN_FAMILIES = {"sourcesans3", "sourcesans", "sansserif", "systemui", "uisansserif", ""}
_GENERIC = {"serif", "monospace", "cursive", "fantasy"}
#: What reading a damaged font may raise.
_DAMAGED = (OSError, TTLibError, sstruct.Error, struct.error, LookupError, ValueError, AttributeError, AssertionError,
            TypeError, EOFError)  # fmt: skip
_UNSEEN = {"Cc", "Cf", "Zl", "Zp", "Zs"}
_MOST_FILES = 4000
_MOST_READ = 200
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

    def shape(self, text: str, features: Mapping[str, bool] | None = None) -> list[Glyph]:
        """The glyphs of a line of text, kerned; OpenType `features` switched on or off."""
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        hb.shape(self._font, buffer, dict(features or {}))
        out, at = [], 0.0
        for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
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
        plain = _plain(family)
        if plain in _GENERIC:
            return
        found = _nearest_shipped(weight) if plain in _OWN_FAMILIES else _installed(plain, weight, slanted)
        if found is not None:
            yield found


@lru_cache(maxsize=256)
def _with_letter(letter: str, weight: int, slanted: bool) -> Face | None:
    """An installed face that has a letter, of about that weight; only so many files are looked into."""
    faces = [
        (abs(heavy - weight) + 1000 * (slant != slanted), path, index)
        for path in islice(_files(), _MOST_READ)
        for index, (_, heavy, slant) in enumerate(_described(path))
    ]
    for _, path, index in sorted(faces):
        face = _opened(path, index)
        if face is not None and not face.lacks(letter):
            return face
    return None


def _opened(path: Path, index: int) -> Face | None:
    try:
        return Face(path.read_bytes(), index)
    except (OSError, ValueError, RuntimeError):
        return None


def _nearest_shipped(weight: int) -> Face:
    return shipped_face(min(_SHIPPED, key=lambda name: abs(_SHIPPED[name] - weight)))


def _plain(words: str) -> str:
    return re.sub(r"[^a-z0-9]", "", words.lower())


def _folders() -> list[Path]:
    data = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local/share")
    return [Path(data) / "fonts", Path.home() / ".fonts", Path("/usr/local/share/fonts"), Path("/usr/share/fonts")]


def _files() -> Iterator[Path]:
    count = 0
    for folder in _folders():
        for where, inner, names in os.walk(folder):
            inner.sort()
            for name in sorted(names):
                if name.lower().endswith((".ttf", ".otf", ".ttc")):
                    count += 1
                    if count > _MOST_FILES:
                        return
                    yield Path(where) / name


@lru_cache(maxsize=64)
def _installed(family: str, weight: int, slanted: bool) -> Face | None:
    """The best face of an installed family; files whose names are like it are looked into."""
    start = family[:5]
    best: tuple[float, Path, int] | None = None
    for read, path in enumerate(one for one in _files() if start in _plain(one.stem)):
        if read > _MOST_READ:
            break
        for index, (name, heavy, slant) in enumerate(_described(path)):
            if name != family:
                continue
            far = abs(heavy - weight) + 1000 * (slant != slanted)
            if best is None or far < best[0]:
                best = (far, path, index)
    return None if best is None else _opened(best[1], best[2])


@lru_cache(maxsize=512)
def _described(path: Path) -> tuple[tuple[str, int, bool], ...]:
    """Family (plain), weight and slant of each face of a file; a damaged font has none."""
    out = []
    try:
        if path.stat().st_size > _MOST_BYTES:
            return ()
        with path.open("rb") as stream:
            many = path.suffix.lower() == ".ttc"
            count = TTFont(stream, lazy=True, fontNumber=0).reader.numFonts if many else 1
            for index in range(min(count, 32)):
                font = TTFont(stream, lazy=True, fontNumber=index)
                if any(table in font for table in ("glyf", "CFF ", "CFF2")):
                    name = font["name"].getDebugName(16) or font["name"].getDebugName(1) or ""
                    out.append((_plain(name), int(font["OS/2"].usWeightClass), bool(font["OS/2"].fsSelection & 1)))
    except _DAMAGED:
        pass  # what was read before the damage stands
    return tuple(out)
