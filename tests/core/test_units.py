"""Quantities as people write them."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from outlined_glow.core.errors import Trouble
from outlined_glow.core.units import parse_number, parse_quantity, show, show_si


@pytest.mark.parametrize(
    ("text", "unit", "bare", "value"),
    [
        ("60mm", "mm", None, 60.0),
        ("0.5 in", "mm", None, 12.7),
        ('2"', "mm", None, 50.8),
        ("20 mil", "mm", None, 0.508),
        ("1,5 mm", "mm", None, 1.5),
        ("12", "mm", "mm", 12.0),
        ("2k2", "ohm", "ohm", 2200.0),
        ("4R7", "ohm", "ohm", 4.7),
        ("1M", "ohm", "ohm", 1e6),
        ("R47", "ohm", "ohm", 0.47),
        ("4k7 Ω", "ohm", None, 4700.0),
        ("4n7", "F", "F", 4.7e-9),
        ("3V3", "V", "V", 3.3),
        ("\N{MINUS SIGN}3 mm", "mm", None, -3.0),
        ("35 μm", "mm", None, 0.035),  # the Greek letter
        ("4.7u", "F", "F", 4.7e-6),
        ("100 nF", "F", "F", 1e-7),
        ("5mA", "A", None, 0.005),
        ("2.5 mA", "A", "A", 0.0025),
        ("0.005", "A", "A", 0.005),
        ("50%", "%", None, 50.0),
        ("90°", "deg", "deg", 90.0),
        ("0.25turn", "deg", None, 90.0),
        ("2 min", "s", None, 120.0),
        ("1500ms", "s", None, 1.5),
        ("0.3", "", None, 0.3),
    ],
)
def test_reads_what_people_write(text: str, unit: str, bare: str | None, value: float) -> None:
    assert parse_quantity(text, unit, bare=bare) == pytest.approx(value, rel=1e-12)


@pytest.mark.parametrize(
    ("text", "unit", "bare"),
    [
        ("", "mm", "mm"),
        ("wide", "mm", "mm"),
        ("12 furlongs", "mm", None),
        ("12", "mm", None),
        ("12 mm ± 0.1", "mm", None),
        ("5 V", "A", "A"),
        ("nan", "mm", "mm"),
        ("1e999", "mm", "mm"),
        ("inf", "", None),
        ("1.2.3", "mm", "mm"),
        ("k47", "ohm", "ohm"),
        ("4k7 V", "ohm", "ohm"),
        ("9" * 400 + "k2", "ohm", "ohm"),
    ],
)
def test_refuses_what_it_does_not_know(text: str, unit: str, bare: str | None) -> None:
    with pytest.raises(Trouble):
        parse_quantity(text, unit, bare=bare)


@given(st.floats(-1e6, 1e6, allow_nan=False))
def test_a_number_shown_in_full_is_read_back(value: float) -> None:
    assert parse_number(repr(value)) == value


@given(st.floats(1e-9, 9e5))
def test_prefixes_show_what_they_stand_for(value: float) -> None:
    figure, unit = show_si(value, "A").split(" ")
    assert parse_quantity(figure + unit, "A") == pytest.approx(value, rel=6e-3)


def test_figures_are_tidy() -> None:
    assert show(3.0) == "3"
    assert show(-0.001, 2) == "0"
    assert show_si(0.0385, "A") == "38.5 mA"
    assert show_si(750, "Ω") == "750 Ω"
    assert show_si(0, "A") == "0 A"
