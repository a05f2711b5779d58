"""Path data and lists of points, read as SVG 2 (9.3, 9.5.4) asks: what comes before the first thing that is not understood is
drawn, and where that begins is told."""

from __future__ import annotations

import cmath
import re
from collections.abc import Callable, Sequence
from typing import Protocol

_Pair = tuple[float, float]
_BETWEEN = r"[ \t\n\f\r]*,?[ \t\n\f\r]*"
#: A number is never taken apart, so that what follows finds a number of its own.
_NUMBER = r"((?>[+-]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[eE][+-]?[0-9]+)?))"
_SPACE, _ONE, _POINT = (re.compile(one) for one in (_BETWEEN, _BETWEEN + _NUMBER, 2 * (_BETWEEN + _NUMBER)))
#: What numbers are written with, what may lie between them, and what may not.
_RUN, _APART, _TWO_COMMAS = re.compile(r"[0-9eE+\-., \t\n\f\r]*"), str.maketrans("", "", ", \t\n\f\r"), re.compile(r",\s*,")
#: A letter, and a number, of plain path data; an arc, and commas beside letters, beside one another and at the end.
_LETTER, _PLAIN = re.compile(r"([MmLlHhVvCcSsQqTtZz])"), re.compile(r"[+-]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[eE][+-]?[0-9]+)?")
_UNUSUAL = re.compile(r"[^MmLlHhVvCcSsQqTtZz0-9eE+\-., \t\n\f\r]|,\s*(?:[A-Za-z,]|$)|[A-Za-z]\s*,")
#: The numbers of an arc; its flags need nothing between them and what follows.
_ARC = re.compile(_BETWEEN + _BETWEEN.join([*3 * [_NUMBER], "([01])", "([01])", *2 * [_NUMBER]]))


class Pen(Protocol):
    """What draws the segments of a path."""

    def moveTo(self, point: _Pair) -> None: ...
    def lineTo(self, point: _Pair) -> None: ...
    def curveTo(self, one: _Pair, two: _Pair, point: _Pair) -> None: ...
    def curvesTo(self, numbers: Sequence[float]) -> None: ...
    def qCurveTo(self, control: _Pair, point: _Pair) -> None: ...
    def arcTo(self, rx: float, ry: float, rotation: float, large: bool, sweep: bool, point: _Pair) -> None: ...
    def closePath(self) -> None: ...
    def endPath(self) -> None: ...


def draw_path(data: str, pen: Pen) -> str:
    """Draw path data; what of it, from its beginning on, could not be read ("" if all could)."""
    path = _Path(pen)
    plain = _plain(data)
    unread = _drawn(data, path) if plain is None else ""
    for letter, values in plain or ():
        if letter == "C":
            path.curves(values)
        else:
            path.draw(letter, values)
    path.end()
    return unread


def _plain(data: str) -> list[tuple[str, list[float]]] | None:
    """The segments of path data that is written as most is: no arc, nothing that is not understood, commas between numbers
    alone. It is taken apart in one step instead of one a segment, and curves (C) that follow one another come together. None
    of other data."""
    if data[:1] not in ("M", "m") or _UNUSUAL.search(data):
        return None
    out: list[tuple[str, list[float]]] = []
    parts = _LETTER.split(data)
    for letter, text in zip(parts[1::2], parts[2::2], strict=True):
        values, count = _plain_numbers(text), _COUNTS[letter.upper()]
        many = len(values) if values is not None else 0
        if values is None or ((many % count or not many) if count else many):
            return None
        if letter == "C":
            if out and out[-1][0] == "C":
                out[-1][1].extend(values)
            else:
                out.append((letter, values))
            continue
        for first in range(0, max(many, 1), count or 1):
            out.append((letter if first == 0 else _THEN.get(letter, letter), values[first : first + count]))
    return out


def _plain_numbers(text: str) -> list[float] | None:
    """The numbers of a text; None where something else is in it."""
    try:
        return list(map(float, text.replace(",", " ").split()))
    except ValueError:  # numbers between which nothing lies
        found = _PLAIN.findall(text)
        return list(map(float, found)) if "".join(found) == text.translate(_APART) else None


def _drawn(data: str, path: _Path) -> str:
    at = _after_space(data, 0)
    while at < len(data):
        begin, letter = at, data[at]
        count = _COUNTS.get(letter.upper())
        if count is None or not (path.begun or letter in "Mm"):
            return data[begin:]
        values, at = _taken(data, at + 1, count)
        steps = len(values) // count if count else 1
        try:
            for step in range(steps):
                path.draw(letter if step == 0 else _THEN.get(letter, letter), values[count * step : count * (step + 1)])
        except (ArithmeticError, ValueError):  # an arc beyond all bounds
            return data[begin:]
        at = _after_space(data, at)
        if steps == 0 or len(values) > count * steps:
            return data[begin:]
    return ""


def read_points(text: str) -> tuple[list[_Pair], str]:
    """The points of a list, and what of it, from its beginning on, could not be read."""
    values, at = _found(_POINT, text, 0)
    points = list(zip(values[0::2], values[1::2], strict=True))
    return points, text[_after_space(text, at) :]


def _after_space(data: str, at: int) -> int:
    found = _SPACE.match(data, at)
    return found.end() if found else at


def _taken(data: str, at: int, count: int) -> tuple[list[float], int]:
    """The numbers of segments of so many numbers from a place on, and where they end."""
    if count in (0, _OF_ARC):
        return _found(_ARC, data, at) if count else ([], at)
    run = _RUN.match(data, at)
    text = run.group() if run else ""
    numbers = _ONE.findall(text)
    if "".join(numbers) == text.translate(_APART) and not _TWO_COMMAS.search(text):
        return list(map(float, numbers)), at + len(text)
    return _found(_ONE, data, at)


def _found(pattern: re.Pattern[str], data: str, at: int) -> tuple[list[float], int]:
    """The numbers that a pattern finds from a place on, one match after the other, and where they end."""
    values: list[float] = []
    while found := pattern.match(data, at):
        values += map(float, found.groups())
        at = found.end()
    return values, at


class _Path:
    """Where a path is: its last point, where its subpath began, and the last control point that a smooth curve mirrors."""

    def __init__(self, pen: Pen) -> None:
        self._pen = pen
        self._here = self._start = self._control = 0j
        self._last = ""
        self.begun = self._open = False

    def draw(self, letter: str, values: Sequence[float]) -> None:
        """One segment."""
        kind = letter.upper()
        if kind not in "MZ" and not self._open:
            self._move(self._start)
        from_ = self._here if letter.islower() else 0j
        _DRAWN[kind](self, values, from_)
        self._last = kind

    def end(self) -> None:
        """Nothing more comes."""
        if self._open:
            self._pen.endPath()

    def _move(self, to: complex) -> None:
        self.end()
        self._pen.moveTo((to.real, to.imag))
        self.begun = self._open = True
        self._here = self._start = to

    def move(self, values: Sequence[float], from_: complex) -> None:
        self._move(from_ + complex(*values))

    def line(self, values: Sequence[float], from_: complex) -> None:
        self._line(from_ + complex(*values))

    def across(self, values: Sequence[float], from_: complex) -> None:
        self._line(complex(from_.real + values[0], self._here.imag))

    def down(self, values: Sequence[float], from_: complex) -> None:
        self._line(complex(self._here.real, from_.imag + values[0]))

    def _line(self, to: complex) -> None:
        self._pen.lineTo((to.real, to.imag))
        self._here = to

    def curve(self, values: Sequence[float], from_: complex) -> None:
        self._curve(from_ + complex(*values[:2]), from_ + complex(*values[2:4]), from_ + complex(*values[4:]))

    def curves(self, values: Sequence[float]) -> None:
        """Curves one after the other: control, control and end of each."""
        if not self._open:
            self._move(self._start)
        self._pen.curvesTo(values)
        self._control, self._here, self._last = complex(*values[-4:-2]), complex(*values[-2:]), "C"

    def smooth(self, values: Sequence[float], from_: complex) -> None:
        mirrored = self._here + self._here - self._control if self._last in ("C", "S") else self._here
        self._curve(mirrored, from_ + complex(*values[:2]), from_ + complex(*values[2:]))

    def _curve(self, one: complex, two: complex, to: complex) -> None:
        self._pen.curveTo((one.real, one.imag), (two.real, two.imag), (to.real, to.imag))
        self._control, self._here = two, to

    def quadratic(self, values: Sequence[float], from_: complex) -> None:
        self._quadratic(from_ + complex(*values[:2]), from_ + complex(*values[2:]))

    def smooth_quadratic(self, values: Sequence[float], from_: complex) -> None:
        mirrored = self._here + self._here - self._control if self._last in ("Q", "T") else self._here
        self._quadratic(mirrored, from_ + complex(*values))

    def _quadratic(self, control: complex, to: complex) -> None:
        self._pen.qCurveTo((control.real, control.imag), (to.real, to.imag))
        self._control, self._here = control, to

    def arc(self, values: Sequence[float], from_: complex) -> None:
        rx, ry, rotation, large, sweep, x, y = values
        to = from_ + complex(x, y)
        self._pen.arcTo(abs(rx), abs(ry), rotation, bool(large), bool(sweep), (to.real, to.imag))
        self._here = to

    def close(self, _values: Sequence[float], _from: complex) -> None:
        if not self._open:
            return
        if not cmath.isclose(self._here, self._start, rel_tol=1e-15, abs_tol=1e-15):
            self._line(self._start)
        self._pen.closePath()
        self._here, self._open = self._start, False


_DRAWN: dict[str, Callable[[_Path, Sequence[float], complex], None]] = {
    "M": _Path.move,
    "L": _Path.line,
    "H": _Path.across,
    "V": _Path.down,
    "C": _Path.curve,
    "S": _Path.smooth,
    "Q": _Path.quadratic,
    "T": _Path.smooth_quadratic,
    "A": _Path.arc,
    "Z": _Path.close,
}
_OF_ARC = 7
#: What follows a move without a letter of its own is a line.
_THEN = {"M": "L", "m": "l"}
#: How many numbers each segment takes.
_COUNTS = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "A": _OF_ARC, "Z": 0}
