"""Quantities: `4.7u`, `2k2`, `0.5 in`, `12 mm`, `5,5 mA` in; tidy figures out.

The parser refuses what it does not know: a wrong guess about a unit is worse than a question.
"""

from __future__ import annotations

import math
import re

from ..errors import Trouble

_PREFIX = {"p": 1e-12, "n": 1e-9, "u": 1e-6, "µ": 1e-6, "μ": 1e-6, "m": 1e-3, "": 1.0, "k": 1e3, "K": 1e3, "M": 1e6}

#: Units that are not a prefix on a base: value in the base of their kind.
_LENGTHS = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, '"': 25.4, "mil": 0.0254, "um": 1e-3, "µm": 1e-3, "μm": 1e-3}
_ANGLES = {"deg": 1.0, "°": 1.0, "turn": 360.0, "rad": 180 / math.pi}
_TIMES = {"min": 60.0, "h": 3600.0, "d": 86400.0}
_BASES = {"ohm": ("ohm", "Ω", "Ohm", "R"), "A": ("A",), "V": ("V",), "F": ("F",), "s": ("s",), "Hz": ("Hz",), "W": ("W",)}
_NUMBER = re.compile(r"^([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d+)?)\s*(.*)$")
#: A prefix in the place of the point, or the letter of the unit itself (R for ohm): 2k2, 4n7, 3V3, R47.
_LETTER_POINT = re.compile(r"^(\d*)([pnuµμmkKM]|[RVAF])(\d+)\s*(.*)$")
_OWN_LETTER = {"ohm": "R", "V": "V", "A": "A", "F": "F"}


def parse_number(text: str) -> float:
    """A bare finite number; a decimal comma is understood.

    >>> parse_number("1,5")
    1.5
    """
    try:
        value = float(text.strip().replace(",", ".").replace("\N{MINUS SIGN}", "-"))
    except ValueError:
        raise Trouble(f"“{text}” is not a number.") from None
    if not math.isfinite(value):
        raise Trouble(f"“{text}” is not a finite number.")
    return value


def parse_quantity(text: str, unit: str, *, bare: str | None = None) -> float:
    """`text` as a number in `unit` (mm, deg, ohm, A, V, F, s, Hz, W, %, or "" for a plain number).

    `bare` is the unit a number without one is taken in; without `bare` such a number is refused
    (plain numbers excepted).

    >>> parse_quantity("0.5 in", "mm")
    12.7
    >>> parse_quantity("2k2", "ohm", bare="ohm")
    2200.0
    """
    clean = text.strip().replace("\N{MINUS SIGN}", "-")
    point = _LETTER_POINT.match(clean)
    if point and unit in _OWN_LETTER and point[4] in ("", *_BASES[unit]):
        whole, letter, rest, _ = point.groups()
        own = letter == _OWN_LETTER[unit]
        if own or (whole and letter in _PREFIX):
            return parse_number(f"{whole}.{rest}") * (1.0 if own else _PREFIX[letter])
    match = _NUMBER.match(clean)
    if not match:
        raise Trouble(f"“{text}” is not a quantity; write it like {_example(unit)}.")
    value, suffix = parse_number(match.group(1)), match.group(2).strip()
    if not suffix:
        if unit in ("", "%"):
            return value
        if bare is None:
            raise Trouble(f"“{text}” needs a unit, such as {_example(unit)}.")
        suffix = bare
    factor = _factor(suffix, unit)
    if factor is None:
        raise Trouble(f"“{text}” is not a quantity in {unit or 'plain numbers'}; write it like {_example(unit)}.")
    return value * factor


def _factor(suffix: str, unit: str) -> float | None:
    if suffix == unit:
        return 1.0
    table = {"mm": _LENGTHS, "deg": _ANGLES, "%": {"%": 1.0}}.get(unit)
    if table is not None:
        return table.get(suffix)
    if unit == "s" and suffix in _TIMES:
        return _TIMES[suffix]
    for name in _BASES.get(unit, ()):
        if suffix.endswith(name) and suffix[: -len(name)] in _PREFIX:
            return _PREFIX[suffix[: -len(name)]]
    return _PREFIX.get(suffix) if unit in _BASES else None


def _example(unit: str) -> str:
    return {"mm": "12mm", "deg": "90deg", "ohm": "2k2", "A": "5mA", "V": "5V", "F": "100n", "s": "2s", "%": "50%"}.get(
        unit, f"1{unit}"
    )


def show(value: float, digits: int = 2) -> str:
    """A figure without trailing noughts.

    >>> show(3.0), show(2.346)
    ('3', '2.35')
    """
    text = f"{value:.{digits}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return "0" if text == "-0" else text


def show_under(value: float, limit: float) -> str:
    """A figure that is too small, in two digits, or in as many as show that it is.

    >>> show_under(0.084, 0.15), show_under(0.0995, 0.1)
    ('0.08', '0.0995')
    """
    return next((text for digits in (2, 3, 4) if float(text := f"{value:.{digits}f}") < limit), f"{value:.5f}")


def show_si(value: float, unit: str, digits: int = 3) -> str:
    """A value with the prefix that reads best.

    >>> show_si(0.0047, "A"), show_si(2200, "Ω")
    ('4.7 mA', '2.2 kΩ')
    """
    if value == 0 or not math.isfinite(value):
        return f"{value:g} {unit}"
    for factor, prefix in ((1e6, "M"), (1e3, "k"), (1.0, ""), (1e-3, "m"), (1e-6, "µ"), (1e-9, "n")):
        if abs(value) >= factor * 0.9995:
            return f"{float(f'{value / factor:.{digits}g}'):g} {prefix}{unit}"
    return f"{value / 1e-12:.{digits}g} p{unit}"


_BEFORE_UNIT = re.compile(r"(?<=\d) (?=(?:%|[°Ω]C?|mm²?|cm²?|mcd|min|[hd]|[pnuµmkM]?(?:A|Ah|V|W|Hz|ohm|F|s|m|B))(?!\w))")


def on_one_line(text: str) -> str:
    """The text with a space that no line breaks at between each number and its unit.

    >>> on_one_line("0.13 mm at 2 places").split(" ")
    ['0.13\\xa0mm', 'at', '2', 'places']
    """
    return _BEFORE_UNIT.sub("\N{NO-BREAK SPACE}", text)
