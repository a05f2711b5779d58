"""Patterns that are written: words on a matrix of LEDs, and numbers on digits of seven segments."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..project import Feed, Strip
from .feeds import texts_at
from .film import film_levels
from .lamps import Lamps
from .pixel_font import font_for
from .set_font import runs_rightward
from .way import Way

Numbers = NDArray[np.float64]
#: LEDs are in one row or column of a matrix that are nearer than this share of the usual step.
_TOGETHER = 0.4
#: The segments of what seven can show; what cannot be told from something else, or not at all, is not there.
SEGMENTS: Mapping[str, str] = {
    "0": "abcdef", "1": "bc", "2": "abdeg", "3": "abcdg", "4": "bcfg", "5": "acdfg", "6": "acdefg", "7": "abc",
    "8": "abcdefg", "9": "abcdfg", " ": "", "-": "g", "_": "d", "=": "dg", "°": "abfg", "'": "f",
    "A": "abcefg", "B": "cdefg", "C": "adef", "D": "bcdeg", "E": "adefg", "F": "aefg", "G": "acdef", "H": "bcefg",
    "I": "ef", "J": "bcde", "L": "def", "N": "ceg", "O": "cdeg", "P": "abefg", "Q": "abcfg", "R": "eg", "S": "acdfg",
    "T": "defg", "U": "bcdef", "Y": "bcdfg", "c": "deg", "h": "cefg", "u": "cde",
}  # fmt: skip


def words_levels(
    strip: Strip, lamps: Lamps, way: Way, times_s: Numbers, local_s: Numbers, keys: Mapping[str, Any], feeds: Sequence[Feed]
) -> Numbers:
    """Levels (t, m, c) of words on the LEDs of a strip: they run from right to left by whole columns, so many a second (what is
    read from right to left, to the right), or stand still in the middle where that is 0. Words that are wider than the matrix
    and stand still begin at the left."""
    out = np.zeros((len(times_s), len(way.rows), lamps.channels))
    row, column, rows, columns, at = matrix(lamps, way.rows)
    if not rows:
        return out
    font = font_for(strip.font, rows, lamps.glyphs)
    speed = keys.get("speed", 0.0)
    texts = texts_at(strip.text, feeds, times_s, strip.no_value)
    lines = {text: font.line(text) for text in dict.fromkeys(texts)}
    top = max(0, (rows - font.height) // 2)
    inside = (row >= top) & (row < top + font.height)
    for step, text in enumerate(texts):
        bits = lines[text]
        wide = bits.shape[1]
        if not wide:
            continue
        if speed > 0:
            first = int(np.floor(local_s[step] * speed)) % (wide + columns) - columns
            if runs_rightward(text):
                first = wide - 1 - (first + columns)
        else:
            first = -max(0, (columns - wide) // 2)
        x = column + first
        lit = inside & (x >= 0) & (x < wide)
        lit[lit] = bits[row[lit] - top, x[lit]]
        out[step, at[0][lit], at[1][lit]] = 1.0
    return out


def numbers_levels(
    strip: Strip, lamps: Lamps, way: Way, times_s: Numbers, local_s: Numbers, keys: Mapping[str, Any], feeds: Sequence[Feed]
) -> Numbers:
    """Levels (t, m, c) of a text on digits of seven segments, to the right; one that has no room is as the strip says."""
    out = np.zeros((len(times_s), len(way.rows), lamps.channels))
    digits = digits_of(lamps, way)
    texts = texts_at(strip.text, feeds, times_s, strip.no_value)
    made: dict[str, list[tuple[int, int]]] = {}
    for step, text in enumerate(texts):
        if text not in made:
            signs = signs_of(text)
            if len(signs) > len(digits):
                signs = _NO_ROOM[strip.no_room](signs, len(digits))
            made[text] = []
            for (led, names), (sign, point) in zip(digits[len(digits) - len(signs) :], signs, strict=True):
                lit = set(segments(sign) or "") | ({"dp"} if point else set())
                made[text] += [(led, light) for name, light in names.items() if name in lit]
        for led, light in made[text]:
            out[step, led, light] = 1.0
    return out


#: What digits show of signs for which there is no room.
_NO_ROOM: Mapping[str, Callable[[list[tuple[str, bool]], int], list[tuple[str, bool]]]] = {
    "dashes": lambda signs, room: [("-", False)] * room,
    "blank": lambda signs, room: [],
    "cut": lambda signs, room: signs[len(signs) - room :],
}


def segments(sign: str) -> str | None:
    """The segments of a sign, None where seven cannot show it."""
    return SEGMENTS.get(sign, SEGMENTS.get(sign.upper()))


def signs_of(text: str) -> list[tuple[str, bool]]:
    """The signs of a text, each with whether a point follows it: that has a light of its own."""
    out: list[tuple[str, bool]] = []
    for letter in text:
        if letter in ".," and out and not out[-1][1]:
            out[-1] = (out[-1][0], True)
        else:
            out.append((" ", True) if letter in ".," else (letter, False))
    return out


def digits_of(lamps: Lamps, way: Way) -> list[tuple[int, dict[str, int]]]:
    """The digits along a way: the place of the LED among those of the way, and which of its lights each segment is. Four digits
    in one body are four."""
    out = []
    for led in np.argsort(way.place, kind="stable").tolist():
        names = lamps.light_names[way.rows[led]]
        for number in dict.fromkeys(name[0] if name[:1].isdigit() else "" for name in names):
            own = {name.removeprefix(number): at for at, name in enumerate(names) if name.startswith(number)}
            if {"a", "g"} <= set(own):
                out.append((led, own))
    return out


def matrix(
    lamps: Lamps, rows: NDArray[np.intp]
) -> tuple[NDArray[np.intp], NDArray[np.intp], int, int, tuple[NDArray[np.intp], NDArray[np.intp]]]:
    """LEDs, or the lights of dot blocks, as a matrix: the row of each from the top, its column from the left, how many rows and
    columns there are, and which LED and light each is. Lights of several colours in one LED are one."""
    leds, lights, places = [], [], []
    for at, led in enumerate(rows.tolist()):
        names = lamps.light_names[led]
        if len(names) > 4:
            for light in range(len(names)):
                leds.append(at)
                lights.append(light)
                places.append(lamps.light_places[led, light])
        else:
            for light in range(len(names)):
                leds.append(at)
                lights.append(light)
                places.append(lamps.places[led])
    where = np.array(places, float).reshape(-1, 2)
    column, columns = _ranks(where[:, 0])
    below, high = _ranks(where[:, 1])
    return high - 1 - below, column, high, columns, (np.array(leds, np.intp), np.array(lights, np.intp))


def _ranks(values: Numbers) -> tuple[NDArray[np.intp], int]:
    """The rank of each value, those that lie together being one; and how many there are."""
    if not len(values):
        return np.zeros(0, np.intp), 0
    order = np.argsort(values, kind="stable")
    steps = np.diff(values[order])
    apart = steps[steps > 0.2]
    far = _TOGETHER * (float(np.median(apart)) if len(apart) else 1.0)
    rank = np.concatenate([[0], np.cumsum(steps > far)])
    out = np.empty(len(values), np.intp)
    out[order] = rank
    return out, int(rank[-1]) + 1


def picture_levels(
    strip: Strip, lamps: Lamps, way: Way, times_s: Numbers, local_s: Numbers, keys: Mapping[str, Any], feeds: Sequence[Feed]
) -> Numbers:
    """Levels (t, m, c) of the picture or film of a strip."""
    return film_levels(strip, lamps, way, local_s, keys.get("speed", 1.0), keys.get("fade", 0.0))


#: What is written by code, by the word in the file of the pattern.
WRITTEN: Mapping[str, Callable[..., Numbers]] = {
    "words": words_levels, "numbers": numbers_levels, "picture": picture_levels,
}  # fmt: skip
