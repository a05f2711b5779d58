"""What of a text cannot be shown, or not be told: letters, room, live fields."""

from __future__ import annotations

import numpy as np

from ...brief.advice import legible_mm
from ...errors import Trouble
from ...project import Feed, Finding, Motion, Remedy, Strip
from ..feeds import fields_of, pace_of, texts_at, values_of
from ..film_files import film_of
from ..lamps import Lamps
from ..pattern import pattern
from ..pixel_font import font_for
from ..score import COLOUR, LEVEL, PACE, SPEED, speed_of
from ..way import way_of
from ..written import digits_of, matrix, segments, signs_of

#: Moments at which a text is looked at.
_MOMENTS = 240


def word_findings(motion: Motion, lamps: Lamps, seen_from_m: float) -> list[Finding]:
    """Of every strip with a text, and of everything that follows a feed."""
    out: list[Finding] = []
    for one in motion.score:
        if one.muted or not lamps.count or (one.board and one.board != lamps.board):
            continue
        out += _feeds_gone(one, motion)
        written = pattern(one.pattern, motion.patterns).written
        if written == "picture":
            out += _film(one, lamps)
        elif written:
            out += _half_days(one)
            out += _words(one, motion, lamps, seen_from_m) if written == "words" else _numbers(one, motion, lamps)
            out += _far(one, lamps, seen_from_m) if written == "words" else []
    return out


def _film(strip: Strip, lamps: Lamps) -> list[Finding]:
    """A film that is not there, or that is longer than what is played of it."""
    film = film_of(lamps.films, strip.film)
    if film is None:
        text = f"The film of strip {strip.number} is not in the project, or cannot be read. Bring it again."
        away = Remedy("remove the strip", "remove-strip", (("number", strip.number),))
        return [_told("film-lacking", text, remedies=(away,))]
    if film.goes_on:
        text = f"Of the film of strip {strip.number} the first {len(film.ends_s):,} frames are played, {film.seconds:.1f} s."
        return [_told("film-cut", f"{text} Bring it with fewer frames a second, or in pieces.")]
    return []


def feed_findings(motion: Motion) -> list[Finding]:
    """Feeds that end before the score does."""
    times = np.linspace(0, motion.seconds, _MOMENTS, endpoint=False)
    return [
        Finding(
            code="feed-ends", severity="note", stage="motion",
            text=f"“{one.name}” has no value, or an old one, for part of {motion.seconds:g} s; {_without(one, motion)} then.",
        )
        for one in motion.feeds
        if np.isnan(values_of(one, times)).any()
    ]  # fmt: skip


def _without(feed: Feed, motion: Motion) -> str:
    """What is seen of a feed without a value."""
    shown = [one.no_value for one in motion.score if any(name == feed.name for _, name, _ in fields_of(one.text))]
    how = {
        "dashes": "what shows it has dashes",
        "blank": "what shows it is blank",
        "last": "what shows it keeps the last value",
    }
    return how[shown[0]] if shown else "what follows it is at its lowest"


def _texts(one: Strip, motion: Motion) -> list[str]:
    """Every text that it comes to, and those of the least and the greatest value of its fields."""
    times = one.start_s + np.linspace(0, one.end_s - one.start_s, _MOMENTS, endpoint=False)
    texts = texts_at(one.text, motion.feeds, times)
    for end in ("low", "high"):
        texts += texts_at(one.text, [_held(feed, getattr(feed, end)) for feed in motion.feeds], np.zeros(1))
    return list(dict.fromkeys(texts))


def _held(feed: Feed, value: float) -> Feed:
    """A feed that keeps one value; a clock goes on."""
    if feed.kind == "clock":
        return feed
    return Feed(name=feed.name, kind="recorded", points=((0.0, value),), low=feed.low, high=feed.high)


def _too_fast(one: Strip, motion: Motion, lamps: Lamps, rows: int, seen_from_m: float) -> list[Finding]:
    """Words that run by quicker than they are read: ten letters a second where they are twice as high as they must be to be
    read from there, five where they only just are."""
    speed, font = _fastest(one, motion), font_for(one.font, rows, motion.glyphs)
    texts = [text for text in _texts(one, motion) if len(text) > 3]
    if not texts or speed <= 0 or rows < 2:
        return []
    text = max(texts, key=len)
    each = font.line(text).shape[1] / len(text)
    height = _letter_mm(one, lamps)
    most = 5.0 * min(2.0, max(1.0, height / legible_mm(seen_from_m)))
    pace = speed / max(each, 1.0)
    if pace <= most * 1.001:
        return []
    slower = Remedy(f"{most * each:.0f} columns a second", "set-strip",
                    (("number", one.number), ("keys", f"speed={max(1, int(most * each))}")))  # fmt: skip
    seen = f"from {seen_from_m:g} m, {height:.1f} mm high, {most:.0f} are read"
    words = f"Strip {one.number}: {pace:.0f} letters run by each second; {seen}."
    return [_told("words-too-fast", words, round(pace, 1), round(most, 1), (slower,))]


def _fastest(one: Strip, motion: Motion) -> float:
    """How fast words run at most, columns a second: as told, or as a feed lets them while they play."""
    key, follows = pattern(one.pattern, motion.patterns).keys[SPEED], dict(one.bound)
    feed, pace = (next((some for some in motion.feeds if some.name == follows.get(which)), None) for which in (SPEED, PACE))
    times = one.start_s + np.linspace(0, one.end_s - one.start_s, _MOMENTS, endpoint=False)
    if feed is not None:
        return float(speed_of(key, feed, pace, times).max())
    told = dict(one.keys).get(SPEED, key.value)
    return told if pace is None else told * float(pace_of(pace, times).max())


def _letter_mm(one: Strip, lamps: Lamps) -> float:
    """How high the letters of a strip are, mm; 0 where it has no rows."""
    rows = way_of(one, lamps).rows
    row, _, high, _, (leds, _) = matrix(lamps, rows)
    if high < 2:
        return 0.0
    y = lamps.places[rows[leds], 1]
    pitch = float(y[row == 0].mean() - y[row == high - 1].mean()) / (high - 1)
    return pitch * min(font_for(one.font, high).height, high)


def _words(one: Strip, motion: Motion, lamps: Lamps, seen_from_m: float) -> list[Finding]:
    rows, columns = matrix(lamps, way_of(one, lamps).rows)[2:4]
    if not rows:
        return []
    font, texts = font_for(one.font, rows, motion.glyphs), _texts(one, motion)
    out = []
    if font.height > rows:
        smaller = Remedy("take the font that has room", "set-strip", (("number", one.number), ("font", "auto")))
        text = f"Strip {one.number}: letters of “{font.name}” are {font.height} high, and its LEDs have {rows} rows."
        out.append(_told("words-cut-off", text, font.height, rows, (smaller,) if one.font else ()))
    lacks = "".join(dict.fromkeys(letter for text in texts for letter in font.lacks(text)))
    if lacks:
        text = f"Strip {one.number}: “{font.name}” has no letters for {' '.join(lacks[:12])}. Write it otherwise."
        out.append(_told("letters-lacking", text))
    out += _too_fast(one, motion, lamps, rows, seen_from_m)
    speed = _fastest(one, motion)
    wide = max((font.line(text).shape[1] for text in texts), default=0)
    if speed == 0 and wide > columns:
        runs = Remedy("let it run", "set-strip", (("number", one.number), ("keys", "speed=10")))
        text = f"Strip {one.number}: the words are {wide} columns wide and stand still on {columns}; the end is not seen."
        out.append(_told("words-too-wide", text, wide, columns, (runs,)))
    return out


def _far(one: Strip, lamps: Lamps, seen_from_m: float) -> list[Finding]:
    """Letters that are too small to be read from where the board is seen (DOMAIN 10)."""
    tall, needs = _letter_mm(one, lamps), legible_mm(seen_from_m)
    if not tall or tall >= needs:
        return []
    text = (
        f"Strip {one.number}: its letters are {tall:.1f} mm high; to be read from {seen_from_m:g} m they need {needs:.1f} mm."
    )
    return [_told("words-too-far", text, round(tall, 2), round(needs, 2), (Remedy("set the LEDs farther apart"),))]


def _numbers(one: Strip, motion: Motion, lamps: Lamps) -> list[Finding]:
    digits, texts = len(digits_of(lamps, way_of(one, lamps))), _texts(one, motion)
    if not digits:
        text = f"Strip {one.number} writes a number, and none of its LEDs is a digit of seven segments."
        return [_told("words-too-wide", text, 1, 0)]
    out = []
    widest = max(texts, key=lambda text: len(signs_of(text)))
    needs = len(signs_of(widest))
    if needs > digits:
        text = f"Strip {one.number}: “{widest}” needs {needs} digits, and there are {digits}; it {_INSTEAD[one.no_room]} then."
        out.append(_told("words-too-wide", text, needs, digits))
    lacks = "".join(dict.fromkeys(sign for text in texts for sign, _ in signs_of(text) if segments(sign) is None))
    if lacks:
        text = f"Strip {one.number}: seven segments cannot show {' '.join(lacks[:12])}. Write it otherwise."
        out.append(_told("letters-lacking", text))
    return out


#: What digits do without room.
_INSTEAD = {"dashes": "shows dashes", "blank": "is blank", "cut": "is cut at the left"}


def _half_days(one: Strip) -> list[Finding]:
    hows = " ".join(how for _, _, how in fields_of(one.text))
    if "%I" not in hows or "%p" in hows:
        return []
    remedy = Remedy("count to 24", "set-strip", (("number", one.number), ("text", one.text.replace("%I", "%H"))))
    text = f"Strip {one.number} counts hours to twelve, and does not tell which half of the day it is."
    return [_told("half-day-not-told", text, remedies=(remedy,))]


def _feeds_gone(one: Strip, motion: Motion) -> list[Finding]:
    known = {feed.name for feed in motion.feeds}
    try:
        named = {name for _, name, _ in fields_of(one.text) if name}
    except Trouble:  # in a file from elsewhere
        named = set()
    out = []
    gone = sorted((named | {feed for _, feed in one.bound}) - known)
    if gone:
        make = Remedy("make it", "set-feed", (("name", gone[0]),))
        remedies = (make,) if gone[0].isidentifier() and gone[0].isascii() else ()
        text = f"Strip {one.number} follows “{gone[0]}”, and there is no such feed."
        out.append(_told("feed-lacking", text, remedies=remedies))
    lost = sorted({key for key, _ in one.bound} - {*pattern(one.pattern, motion.patterns).keys, LEVEL, PACE, COLOUR})
    if lost:
        remedy = Remedy("leave it", "bind", (("number", one.number), ("key", lost[0]), ("feed", "none")))
        text = f"Strip {one.number}: “{lost[0]}” follows a feed, and “{one.pattern}” has no such number."
        out.append(_told("feed-lacking", text, remedies=(remedy,)))
    return out


def _told(
    code: str, text: str, measured: float | None = None, allowed: float | None = None, remedies: tuple[Remedy, ...] = ()
) -> Finding:
    return Finding(
        code=code, severity="warning", stage="motion", text=text, measured=measured, allowed=allowed, remedies=remedies
    )
