"""Values that change while a score plays: simulated ones, and recorded ones; and texts that have them in it."""

from __future__ import annotations

import csv
import io
import json
import math
import re
import string
from collections.abc import Callable, Mapping, Sequence

import msgspec
import numpy as np
from numpy.typing import NDArray

from ..errors import Trouble
from ..project import Feed, NoValue
from ..text_safety import short
from .formula import hashed
from .sensing import as_read, turned

Numbers = NDArray[np.float64]
#: The two tides of moon and sun: hours of each, and how much of the whole the second one makes.
_MOON_H, _SUN_H, _SUN_SHARE = 12.42, 12.0, 0.3
_DAY_S = 86_400.0
#: How fast that goes which follows a feed is looked at so often, s.
_PACE_S = 0.05
#: Values of a recorded feed.
MOST_POINTS = 20_000
#: A value is never too old.
NEVER_S = 1e7
_NUMBER = re.compile(r"[+\- ]?0?\d{0,2}(\.\d)?[fdg%]?")
_CLOCK = re.compile(r"(%[HIMSp]|[^%{}])*")


def values_of(feed: Feed, times_s: Numbers) -> Numbers:
    """The value (t,) at moments (t,), s, as the board reads it; NaN where there is none."""
    times = np.asarray(times_s, float)
    raw = _KINDS[feed.kind]
    if not (feed.noise or feed.bits or feed.smooth_s or feed.dead_band):
        return np.asarray(raw(feed, times), float)
    return as_read(feed, lambda moments: np.asarray(raw(feed, moments), float), times)


def shares_of(feed: Feed, times_s: Numbers) -> Numbers:
    """Where between its lowest and its highest a value lies (t,), 0 to 1; 0 where there is none. Of a clock: of the day."""
    if feed.kind == "clock":
        return values_of(feed, times_s) / _DAY_S
    share = (values_of(feed, times_s) - feed.low) / (feed.high - feed.low)
    return np.clip(np.nan_to_num(share), 0, 1)


def pace_of(feed: Feed, times_s: Numbers) -> Numbers:
    """How fast what follows a feed goes (t,): twice as fast at its highest, or not at all."""
    return 2 * shares_of(feed, times_s)


def passed_s(feed: Feed, times_s: Numbers) -> Numbers:
    """How much time has passed (t,), s, for what goes as fast as a feed tells."""
    return passed(lambda moments: pace_of(feed, moments), times_s)


def passed(rate: Callable[[Numbers], Numbers], times_s: Numbers) -> Numbers:
    """What has passed (t,) since the beginning of what goes at a rate (t,), so much a second."""
    moments = np.arange(int(times_s.max(initial=0.0) / _PACE_S) + 2, dtype=float) * _PACE_S
    rates = rate(moments)
    whole = np.concatenate([[0.0], np.cumsum(rates[1:] + rates[:-1]) * _PACE_S / 2])
    return np.asarray(np.interp(times_s, moments, whole), float)


def _between(feed: Feed, share: Numbers) -> Numbers:
    return feed.low + (feed.high - feed.low) * share


def _tide(feed: Feed, times: Numbers) -> Numbers:
    turn = 2 * math.pi * times / feed.period_s
    sun = turn * _MOON_H / _SUN_H
    return _between(feed, 0.5 - (np.cos(turn) * (1 - _SUN_SHARE) + np.cos(sun + 1.0) * _SUN_SHARE) / 2)


def _clock(feed: Feed, times: Numbers) -> Numbers:
    """Seconds of the day; a day takes one period."""
    return np.asarray((feed.low + times * _DAY_S / feed.period_s) % _DAY_S, float)


def _counter(feed: Feed, times: Numbers) -> Numbers:
    """A pulse a period; each is counted once, for its bounces are shorter than it is waited for."""
    count = max(1.0, feed.high - feed.low + 1)
    return np.asarray(feed.low + np.floor(times / feed.period_s) % count, float)


def _walk(feed: Feed, times: Numbers) -> Numbers:
    """From one value that chance gave to the next, smoothly."""
    at = times / feed.period_s
    first = np.floor(at)
    part = at - first
    part = part * part * (3 - 2 * part)
    one, other = (
        hashed((first + step + 1_000_003 * feed.seed).astype(np.int64).view(np.uint64)) for step in (0, 1)
    )  # fmt: skip
    return _between(feed, one + (other - one) * part)


def _charge(feed: Feed, times: Numbers) -> Numbers:
    return _between(feed, 1 - (times / feed.period_s) % 1.0)


def _wave(feed: Feed, times: Numbers) -> Numbers:
    return _between(feed, 0.5 - 0.5 * np.cos(2 * math.pi * times / feed.period_s))


def _recorded(feed: Feed, times: Numbers) -> Numbers:
    """As it was recorded: each value holds until the next; none before the first, and none once the last is a period old."""
    if not feed.points:
        return np.full(len(times), np.nan)
    moments, values = (np.array(row) for row in zip(*feed.points, strict=True))
    at = np.searchsorted(moments, times, side="right") - 1
    out = np.where(at < 0, np.nan, values[np.maximum(at, 0)])
    old = times - moments[np.maximum(at, 0)] > feed.timeout_s if feed.timeout_s else times > moments[-1] + feed.period_s
    return np.asarray(np.where(old, np.nan, out), float)


_KINDS: Mapping[str, Callable[[Feed, Numbers], Numbers]] = {
    "tide": _tide, "clock": _clock, "counter": _counter, "walk": _walk, "charge": _charge, "wave": _wave,
    "recorded": _recorded, "knob": turned, "encoder": turned,
}  # fmt: skip


def read_points(data: bytes, name: str) -> tuple[tuple[float, float], ...]:
    """Moments (s) and values of a file: CSV with two columns, or JSON lines with `t` and `value`. Spreadsheets may write
    semicolons or tabs between columns, and commas in numbers. What is half a line or no number is told with its place."""
    text = data.decode("utf-8-sig", "replace")
    rows: list[tuple[float, float]] = []
    as_json = text.lstrip().startswith(("{", "["))
    try:
        lines = text.splitlines() if as_json else _rows(text)
    except csv.Error as error:
        raise Trouble(f"“{short(name)}” is no table of values: a moment and a value are wanted, such as 12.5,3.1.") from error
    for number, line in enumerate(lines, 1):
        if not line or (isinstance(line, str) and not line.strip()):
            continue
        try:
            if isinstance(line, str):
                one = json.loads(line)
                moment, value = (one["t"], one["value"]) if isinstance(one, dict) else one
            else:
                moment, value = line
            pair = float(moment), float(value)
        except (ValueError, TypeError, KeyError, RecursionError, OverflowError) as error:
            if number == 1 and not as_json:
                continue  # a head
            raise Trouble(f"“{short(name)}”, line {number}: a moment and a value are wanted, such as 12.5,3.1.") from error
        if not all(math.isfinite(part) for part in pair):
            raise Trouble(f"“{short(name)}”, line {number}: a value is no finite number.")
        rows.append(pair)
        if len(rows) > MOST_POINTS:
            raise Trouble(f"“{short(name)}” has more than {MOST_POINTS:,} values; record fewer.")
    if not rows:
        raise Trouble(f"“{short(name)}” has no values: a line is a moment in seconds and a value, such as 12.5,3.1.")
    rows.sort(key=lambda pair: pair[0])
    first = rows[0][0]
    return tuple((round(moment - first, 6), value) for moment, value in rows)


def cells_of(line: str) -> list[str]:
    """The cells of one row, without blanks around them; none of what is no row."""
    try:
        return [cell.strip() for row in _rows(line) for cell in row]
    except csv.Error:
        return []


def _rows(text: str) -> list[list[str]]:
    first = next((line for line in text.splitlines() if line.strip()), "")
    between = next((one for one in ";\t" if one in first), ",")
    rows = list(csv.reader(io.StringIO(text, newline=None), delimiter=between))
    return rows if between == "," else [[cell.replace(",", ".") for cell in row] for row in rows]


# -- texts --------------------------------------------------------------------------------------------------------


def fields_of(text: str) -> list[tuple[str, str, str]]:
    """The parts of a text: what stands before a live field, the name of the feed, and how its value is written. `Trouble` where
    that cannot be."""
    out = []
    try:
        parts = list(string.Formatter().parse(text))
    except ValueError as error:
        how = "a live field is written as {name:4.1f}; a brace of its own is {{ or }}"
        raise Trouble(f"“{short(text)}”: {how}.") from error
    for before, name, spec, converted in parts:
        if name is None:
            out.append((before, "", ""))
            continue
        if converted or not name.isidentifier():
            raise Trouble(f"“{{{short(name)}}}” names no feed; a live field is written as {{name:4.1f}}.")
        how = spec or "g"
        if not (_CLOCK if ("%" in how and not how.endswith("%")) or how.startswith("%") else _NUMBER).fullmatch(how):
            raise Trouble(f"“{short(how)}” is no way to write a value; 4.1f, 03d and %H:%M are.")
        out.append((before, name, how))
    return out


def texts_at(text: str, feeds: Sequence[Feed], times_s: Numbers, no_value: NoValue = "dashes") -> list[str]:
    """The text at each moment, with its live fields as they are then; where there is no value, dashes, blanks, or the last."""
    parts = fields_of(text)
    if no_value == "last":
        feeds = [msgspec.structs.replace(one, timeout_s=NEVER_S) for one in feeds]
    known = {feed.name: feed for feed in feeds}
    values = {name: values_of(known[name], times_s) for _, name, _ in parts if name in known}
    if not values:
        plain = "".join(before + ("--" if name else "") for before, name, _ in parts)
        return [plain] * len(times_s)
    out = []
    for at in range(len(times_s)):
        row = ""
        for before, name, how in parts:
            row += before
            if name:
                shown = _written(values[name][at], how, known[name].kind) if name in values else "--"
                row += " " * len(shown) if no_value == "blank" and shown == "--" else shown
        out.append(row)
    return out


def _written(value: float, how: str, kind: str) -> str:
    if not math.isfinite(value):
        return "--"
    if ("%" in how and not how.endswith("%")) or how.startswith("%"):
        second = int(value) % int(_DAY_S)
        hour, minute = second // 3600, second // 60 % 60
        told = {"%H": f"{hour:02}", "%I": f"{(hour + 11) % 12 + 1:2}", "%M": f"{minute:02}", "%S": f"{second % 60:02}",
                "%p": "AM" if hour < 12 else "PM"}  # fmt: skip
        for word, shown in told.items():
            how = how.replace(word, shown)
        return how
    return format(round(value) if how.endswith("d") else value, how)
