"""The fonts of the machine, as fontconfig tells of them: where each lies, its family, weight, slant and letters."""

from __future__ import annotations

import ctypes
import os
import re
import threading
from collections.abc import Callable
from ctypes import POINTER, byref, c_bool, c_char_p, c_double, c_int, c_uint, c_void_p
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

#: Formats whose outlines can be drawn, and the files they lie in.
_FORMATS, _SUFFIXES = {"TrueType", "CFF"}, {".ttf", ".otf", ".ttc", ".otc"}
#: The fonts that the system or the user installed, in the words of fontconfig; and its word for success.
_INSTALLED, _FOUND = 0, 0
_REGULAR = 400
#: What fontconfig itself reads to find fonts.
_PLACES = ("HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "FONTCONFIG_FILE", "FONTCONFIG_PATH")
_turn = threading.Lock()


class _FontSet(ctypes.Structure):
    _fields_ = (("count", c_int), ("room", c_int), ("fonts", POINTER(c_void_p)))


@dataclass(frozen=True)
class InstalledFont:
    """One face of a font file. `families` are its names as `plain_family` writes them; `weight` is that of CSS."""

    path: Path
    index: int
    families: frozenset[str]
    weight: float
    slanted: bool
    has: Callable[[str], bool]

    def far_from(self, weight: int, slanted: bool) -> float:
        """How unlike the wanted weight and slant it is."""
        return abs(self.weight - weight) + 1000 * (self.slanted != slanted)


def plain_family(words: str) -> str:
    """A family's name without case, blanks and signs."""
    return re.sub(r"[\W_]", "", words.lower())


def installed_fonts() -> tuple[InstalledFont, ...]:
    """Every face there is, in the order of their files; none where the machine has no fontconfig."""
    with _turn:
        return _fonts(tuple(os.environ.get(name) for name in _PLACES))


@cache
def _fonts(_places: tuple[str | None, ...]) -> tuple[InstalledFont, ...]:
    library = _library()
    if library is None:
        return ()
    config = library.FcInitLoadConfigAndFonts()  # kept: the letters of each font lie in it
    fonts = library.FcConfigGetFonts(config, _INSTALLED) if config else None
    if not fonts:
        return ()
    found = [_font(library, fonts.contents.fonts[at]) for at in range(fonts.contents.count)]
    return tuple(sorted((one for one in found if one is not None), key=lambda one: (one.path, one.index)))


def _font(library: Any, pattern: int) -> InstalledFont | None:
    """A face as its pattern describes it; None for one that has no outlines."""
    path = Path(os.fsdecode(_text(library, pattern, b"file") or b""))
    index, slant, weight, outlined = c_int(), c_int(), c_double(), c_int()
    letters = c_void_p()
    library.FcPatternGetInteger(pattern, b"index", 0, byref(index))
    library.FcPatternGetInteger(pattern, b"slant", 0, byref(slant))
    library.FcPatternGetBool(pattern, b"outline", 0, byref(outlined))
    format_ = (_text(library, pattern, b"fontformat") or b"").decode("ascii", "replace")
    no_letters = library.FcPatternGetCharSet(pattern, b"charset", 0, byref(letters)) != _FOUND
    # The upper half of the index is an instance of a variable font: the font itself is another entry.
    drawn = outlined.value and format_ in _FORMATS and path.suffix.lower() in _SUFFIXES and index.value >> 16 == 0
    if not drawn or no_letters:
        return None
    weighed = library.FcPatternGetDouble(pattern, b"weight", 0, byref(weight)) == _FOUND
    return InstalledFont(
        path=path,
        index=index.value,
        families=frozenset(map(plain_family, _texts(library, pattern, b"family"))),
        weight=library.FcWeightToOpenTypeDouble(weight) if weighed else _REGULAR,
        slanted=slant.value > 0,
        has=lambda letter: bool(library.FcCharSetHasChar(letters, ord(letter))),
    )


def _text(library: Any, pattern: int, name: bytes, at: int = 0) -> bytes | None:
    value = c_char_p()
    return value.value if library.FcPatternGetString(pattern, name, at, byref(value)) == _FOUND else None


def _texts(library: Any, pattern: int, name: bytes) -> list[str]:
    out: list[str] = []
    while (value := _text(library, pattern, name, len(out))) is not None:
        out.append(value.decode("utf-8", "replace"))
    return out


@cache
def _library() -> Any:
    """The library, with the types of what is called in it; None where it is not installed."""
    try:
        library = ctypes.CDLL("libfontconfig.so.1")
        for name, given, back in (
            ("FcInitLoadConfigAndFonts", (), c_void_p),
            ("FcConfigGetFonts", (c_void_p, c_int), POINTER(_FontSet)),
            ("FcPatternGetString", (c_void_p, c_char_p, c_int, POINTER(c_char_p)), c_int),
            ("FcPatternGetInteger", (c_void_p, c_char_p, c_int, POINTER(c_int)), c_int),
            ("FcPatternGetBool", (c_void_p, c_char_p, c_int, POINTER(c_int)), c_int),
            ("FcPatternGetDouble", (c_void_p, c_char_p, c_int, POINTER(c_double)), c_int),
            ("FcPatternGetCharSet", (c_void_p, c_char_p, c_int, POINTER(c_void_p)), c_int),
            ("FcWeightToOpenTypeDouble", (c_double,), c_double),
            ("FcCharSetHasChar", (c_void_p, c_uint), c_bool),
        ):
            function = getattr(library, name)
            function.argtypes, function.restype = given, back
    except (OSError, AttributeError):
        return None
    return library
