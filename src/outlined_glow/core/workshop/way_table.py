"""The table of ways to drive LEDs as the window shows it: words, and the numbers they are sorted by."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..drive.planner import Row
from ..units import show_si
from .drive_facts import plan_rows
from .facts import hours_words
from .work import Work


@dataclass(frozen=True)
class WayRow:
    """A way as the window shows it: each cell's words with the number it is sorted by, its verdict with the reason, and the
    shares of its average and its peak of the most there is."""

    key: str
    words: str
    verdict: str
    reason: str
    cells: Mapping[str, tuple[str, float | None]]
    shares: tuple[float, float] | None


def way_table(work: Work, group: str = "") -> list[WayRow]:
    """Every way to drive the LEDs of a board or of a group, for the window: those that work first, then those that break a
    limit, last those that are not for such LEDs."""
    rows = sorted(plan_rows(work, group), key=lambda row: (_ORDER[row.verdict.word], not row.verdict.limit))
    most = max((row.total_peak_a for row in rows if row.total_peak_a), default=1.0)
    return [_way_row(at, row, most, work.brief.pieces) for at, row in enumerate(rows)]


_ORDER = {"works": 0.0, "works, with a caution": 1.0, "refused": 2.0}


def _amps(value: float | None) -> tuple[str, float | None]:
    return ("–" if value is None else show_si(value, "A"), value)


def _way_row(at: int, row: Row, most: float, pieces: int) -> WayRow:
    average, peak = row.total_average_a, row.total_peak_a
    lasts = row.run_time_h
    cells: dict[str, tuple[str, float | None]] = {
        "title": (row.title, float(at)),
        "pins": (str(row.pins), float(row.pins)),
        "parts": (str(row.parts), float(row.parts)),
        "bars": ("", average),
        "current": _amps(average),
        "light": ("–" if row.relative_light is None else f"{100 * row.relative_light:.0f} %", row.relative_light),
        "refresh": ("–" if row.refresh_hz is None else f"{row.refresh_hz:.0f} Hz", row.refresh_hz),
        "price": (f"{row.price:.2f}", row.price),
        "hours": ("–" if lasts is None else hours_words(lasts), lasts),
        "all": (f"{row.price * pieces:.2f}", row.price * pieces),
        "peak": _amps(row.peak_a),
        "worst": _amps(row.worst_a),
        "tall": (f"{row.height_mm:g} mm", row.height_mm),
        "heat": ("–" if row.heat_w is None else show_si(row.heat_w, "W"), row.heat_w),
        "standing": (show_si(row.standing_a, "A") if row.standing_a else "nothing", row.standing_a),
        "joints": (str(row.joints), float(row.joints)),
        "minutes": (f"{row.minutes:.0f} min", row.minutes),
        "later": ("by its program" if row.program else "no", float(row.program)),
        "verdict": (_short(row), _ORDER[row.verdict.word]),
    }
    shares = None if average is None or peak is None else (min(1.0, average / most), min(1.0, peak / most))
    return WayRow(row.method, row.words, row.verdict.word, row.verdict.reason, cells, shares)


#: What a broken limit is called in a word or two.
_LIMIT_WORDS = {
    "supply-range": "not on this supply",
    "pin-current": "too much for an output",
    "package-current": "too much for a package",
    "pulse": "too much in a pulse",
    "headroom": "no voltage left",
    "pins": "too few pins",
    "ghost": "ghosts",
    "program": "needs a controller",
    "supply-current": "too much for the supply",
    "heat": "warm resistors",
}


def _short(row: Row) -> str:
    """The verdict in a few words."""
    if row.verdict.word == "refused":
        return _LIMIT_WORDS.get(row.verdict.limit, "not for these LEDs")
    return "needs a program" if row.program else "works as it is"
