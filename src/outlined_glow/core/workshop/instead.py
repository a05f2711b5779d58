"""What could light instead of the LEDs there are: ready dot blocks or digits, sheets lit from their edge, a plain window. Each
is driven by the way that goes best with it, and compared by what that takes (DOMAIN 16)."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from msgspec.structs import replace

from ..drive.planner import Row, planned, row_of
from ..lights import Led
from ..parts import Emitter, emitters
from ..units import show, show_si
from .work import Work

#: A sheet of acrylic that is cut and engraved costs about so much; LEDs lie so far apart under it, and behind a window, mm.
_SHEET_PRICE, _SHEET_PITCH_MM, _WINDOW_PITCH_MM = 0.8, 8.0, 10.0
#: How much a sheet stands above what it shows, mm.
_FOOT_MM = 6.0
#: A part is laid by hand in so many seconds, a joint soldered in so many (DOMAIN 13); a sheet is set in so many.
_PART_S, _JOINT_S, _SHEET_S = 12.0, 6.0, 60.0
#: Characters of ready digits, by the name of the part: how tall, mm.
_DIGITS = {"digit 10.2 common cathode": 10.2, "digit 14.2 common cathode": 14.2, "digit 20.3 common cathode": 20.3}
_BLOCKS = {"dots 5 x 7 row cathode": (5, 7), "dots 8 x 8 row cathode": (8, 8)}
#: What a colour is taken for where a part does not come in it.
_USUAL = "amber"


@dataclass(frozen=True)
class Instead:
    """One thing that could light: what it can show, how many of it, the room it takes, what it takes to make, and the way it is
    driven best. `price` is that of lights and parts, `height_mm` how far all that stands up."""

    key: str
    title: str
    shows: str
    many: int
    size_mm: tuple[float, float]
    price: float
    current_a: float | None
    height_mm: float
    joints: int
    minutes: float
    way: str
    program: bool
    reason: str


def instead(work: Work) -> list[Instead]:
    """The LEDs of a board beside what could light instead of them, over the same room."""
    return [] if not work.leds else list(_rows(work))


def _rows(work: Work) -> Iterator[Instead]:
    leds, wide, high = work.leds, *_room(work)
    colour = _colour(leds)
    yield _row(work, "own", "own LEDs", "any picture of its LEDs", leds, (wide, high))
    digits = work.brief.digits or _digits_across(wide, high)
    name, block, across, down = _blocks(work, wide, high)
    one = _emitter(name, colour)
    shows = f"any picture of {across * block[0]} × {down * block[1]} dots"
    yield _row(work, "blocks", "ready dot blocks", shows, _alike(one, across * down), _times(one, across, down))
    name = _digit_for(high)
    one = _emitter(name, colour)
    yield _row(work, "digits", "ready digits", f"numbers of {digits} digits", _alike(one, digits), _times(one, digits, 1))
    sheets = 10 * work.brief.digits if work.brief.digits else 1
    under = sheets * max(2, round(wide / max(1, work.brief.digits or 1) / _SHEET_PITCH_MM))
    chip = _emitter("0805", colour)
    told = "the ten numerals of each place" if work.brief.digits else "one drawing"
    yield _row(work, "sheets", "edge-lit sheets", told, _alike(chip, under), (wide, high), sheets, high + _FOOT_MM)
    behind = math.ceil(wide / _WINDOW_PITCH_MM) * math.ceil(high / _WINDOW_PITCH_MM)
    lamp = _emitter("1206 reverse-mount", colour)
    yield _row(work, "window", "plain window", "one shape, lit as a whole", _alike(lamp, behind), (wide, high))


def _room(work: Work) -> tuple[float, float]:
    """The room that the LEDs take, half a step beyond the outer ones, mm."""
    xs, ys = [led.x for led in work.leds], [led.y for led in work.leds]
    reach = max(max(led.kind.part.body_mm) for led in work.leds)
    return max(xs) - min(xs) + reach, max(ys) - min(ys) + reach


def _colour(leds: tuple[Led, ...]) -> str:
    """The colour most of the LEDs have, as emitters are named after."""
    names = Counter(led.kind.lights[0].light for led in leds)
    return names.most_common(1)[0][0]


def _emitter(name: str, colour: str) -> Emitter:
    every = emitters()
    return every.get(f"{name} {colour}") or every[f"{name} {_USUAL}"]


def _alike(one: Emitter, many: int) -> tuple[Led, ...]:
    """So many of an emitter side by side, as a board would have them."""
    wide = one.part.body_mm[0]
    return tuple(Led(at + 1, at * wide, 0.0, 0.0, "front", one, "instead", "instead", at + 1) for at in range(many))


def _times(one: Emitter, across: int, down: int) -> tuple[float, float]:
    return one.part.body_mm[0] * across, one.part.body_mm[1] * down


def _blocks(work: Work, wide: float, high: float) -> tuple[str, tuple[int, int], int, int]:
    """The dot block that takes fewest for the rows and columns there are, or else for the room; how many across and down."""
    grids = [one for one in work.values["grids"].values() if one[0] > 1 and one[1] > 1]
    rows, columns = max(grids, key=lambda one: one[0] * one[1]) if grids else (0, 0)
    found = []
    for name, (dots_x, dots_y) in _BLOCKS.items():
        body = _emitter(name, _USUAL).part.body_mm
        across = math.ceil(columns / dots_x) if columns else max(1, round(wide / body[0]))
        down = math.ceil(rows / dots_y) if rows else max(1, round(high / body[1]))
        found.append((across * down, name, (dots_x, dots_y), across, down))
    _, name, block, across, down = min(found)
    return name, block, across, down


def _digit_for(high: float) -> str:
    """The largest digit whose body is no taller than the room; the smallest where none is."""
    fitting = [name for name in _DIGITS if _emitter(name, _USUAL).part.body_mm[1] <= high]
    return max(fitting or [min(_DIGITS, key=_DIGITS.__getitem__)], key=_DIGITS.__getitem__)


def _digits_across(wide: float, high: float) -> int:
    return max(1, int(wide // _emitter(_digit_for(high), _USUAL).part.body_mm[0]))


def _row(
    work: Work, key: str, title: str, shows: str, leds: tuple[Led, ...], size: tuple[float, float],
    sheets: int = 0, stands_mm: float = 0.0,
) -> Instead:  # fmt: skip
    """What some LEDs take, driven by the way that goes best with them, with so many sheets over them that stand so tall."""
    drive = work.design.drive
    grids = work.values["grids"] if key == "own" else {}
    if key == "own" and drive.groups:
        best = row_of(drive, leds, grids)
    else:
        best = min(planned(replace(drive, groups=()), leds, grids), key=_by_worth)
    lights_price = sum(led.kind.part.price or 0.0 for led in leds)
    joints = best.joints + sum(len(led.kind.part.pads) for led in leds)
    minutes = best.minutes + (sum(_PART_S + _JOINT_S * len(led.kind.part.pads) for led in leds) + sheets * _SHEET_S) / 60
    works = best.verdict.word != "refused"
    return Instead(
        key, title, shows, len(leds), size, round(best.price + lights_price + sheets * _SHEET_PRICE, 2), best.total_average_a,
        max(stands_mm, best.height_mm, *(led.kind.part.height_mm for led in leds)), joints, round(minutes, 1),
        best.title if works else "no way drives them", best.program, best.verdict.reason,
    )  # fmt: skip


#: What a minute of one's own work counts for beside a price.
_MINUTE_PRICE = 0.1


def _by_worth(row: Row) -> tuple[bool, bool, float]:
    """Those that work first, then without a caution, then of a low price and little work."""
    return row.verdict.word == "refused", row.verdict.word != "works", row.price + _MINUTE_PRICE * row.minutes


def instead_row(row: Instead) -> dict[str, Any]:
    """A row, as the command line tells it."""
    return {
        "what": row.key, "title": row.title, "shows": row.shows, "lights": row.many, "width_mm": round(row.size_mm[0], 1),
        "height_mm": round(row.size_mm[1], 1), "price": row.price, "average_a": row.current_a,
        "stands_mm": round(row.height_mm, 1), "joints": row.joints, "minutes": row.minutes, "way": row.way,
        "program": row.program, "reason": row.reason or None,
    }  # fmt: skip


#: The columns of the table, with their headings and widths in pixels (0: what is left).
COLUMNS = (
    ("title", "what lights", 118), ("shows", "what it can show", 0), ("many", "lights", 48), ("size", "room", 96),
    ("price", "price", 50), ("current", "average", 66), ("stands", "stands up", 68), ("joints", "joints", 46),
    ("minutes", "by hand", 58), ("way", "best driven by", 132),
)  # fmt: skip


def instead_cells(row: Instead) -> dict[str, tuple[str, float | None]]:
    """The cells of a row for the window: words, and the number they are sorted by."""
    return {
        "title": (row.title, None),
        "shows": (row.shows, None),
        "many": (str(row.many), float(row.many)),
        "size": (f"{show(row.size_mm[0], 0)} × {show(row.size_mm[1], 0)} mm", row.size_mm[0] * row.size_mm[1]),
        "price": (f"{row.price:.2f}", row.price),
        "current": ("–" if row.current_a is None else show_si(row.current_a, "A"), row.current_a),
        "stands": (f"{show(row.height_mm, 1)} mm", row.height_mm),
        "joints": (str(row.joints), float(row.joints)),
        "minutes": (f"{row.minutes:.0f} min", row.minutes),
        "way": (f"{row.way}, a program" if row.program else row.way, None),
    }
