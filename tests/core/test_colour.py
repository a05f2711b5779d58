"""Colour differences against published pairs, and appearances."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from outlined_glow.core.artwork import propose
from outlined_glow.core.colour import ciede2000, hex_to_rgb, materials_of, rgb_to_hex, rgb_to_lab
from outlined_glow.core.colour.materials import finishes, inks, masks

#: Sharma, Wu, Dalal: The CIEDE2000 color-difference formula, table 1.
PUBLISHED = [
    ((50, 2.6772, -79.7751), (50, 0, -82.7485), 2.0425),
    ((50, 3.1571, -77.2803), (50, 0, -82.7485), 2.8615),
    ((50, 2.8361, -74.0200), (50, 0, -82.7485), 3.4412),
    ((50, -1.3802, -84.2814), (50, 0, -82.7485), 1.0000),
    ((50, 0, 0), (50, -1, 2), 2.3669),
    ((50, 2.4900, -0.0010), (50, -2.4900, 0.0009), 7.1792),
    ((50, 2.5, 0), (50, 0, -2.5), 4.3065),
    ((50, 2.5, 0), (73, 25, -18), 27.1492),
    ((60.2574, -34.0099, 36.2677), (60.4626, -34.1751, 39.4387), 1.2644),
    ((2.0776, 0.0795, -1.1350), (0.9033, -0.0636, -0.5514), 0.9082),
]


@pytest.mark.parametrize(("one", "other", "difference"), PUBLISHED)
def test_published_pairs(one: tuple[float, ...], other: tuple[float, ...], difference: float) -> None:
    assert float(ciede2000(one, other)) == pytest.approx(difference, abs=5e-5)
    assert float(ciede2000(other, one)) == pytest.approx(difference, abs=5e-5)


def test_lab_of_known_colours() -> None:
    assert rgb_to_lab((255, 255, 255)) == pytest.approx((100, 0, 0), abs=0.02)
    assert rgb_to_lab((255, 0, 0)) == pytest.approx((53.24, 80.09, 67.20), abs=0.02)
    assert rgb_to_lab((0, 0, 0)) == pytest.approx((0, 0, 0), abs=1e-9)


@given(st.tuples(*[st.integers(0, 255)] * 3))
def test_hex_there_and_back(rgb: tuple[int, int, int]) -> None:
    assert hex_to_rgb(rgb_to_hex(rgb)) == rgb
    assert float(ciede2000(rgb_to_lab(rgb), rgb_to_lab(rgb))) == 0


@pytest.mark.parametrize("mask", masks())
def test_each_material_is_proposed_for_its_own_colour(mask: str) -> None:
    for finish in finishes():
        for ink in inks():
            look = materials_of(mask, finish, ink, 1.6)
            for appearance in ("mask", "raised", "metal", "ink", "window"):
                proposed = propose(look.colour(appearance), look)
                assert look.colour(proposed) == look.colour(appearance)


def test_veiled_and_cut_are_never_proposed_and_home_etch_has_two() -> None:
    look = materials_of("purple", "gold", "white", 1.6)
    rng = np.random.default_rng(4)
    for rgb in rng.integers(0, 256, (60, 3)):
        assert propose(rgb_to_hex(rgb), look) in ("mask", "raised", "metal", "ink", "window")
        assert propose(rgb_to_hex(rgb), look, printed=False) in ("metal", "window")


def test_light_through_laminate_falls_with_its_thickness() -> None:
    thin, thick = (materials_of("green", "gold", "white", t).through_laminate for t in (0.8, 1.6))
    assert thin == pytest.approx(0.55 * np.exp(-0.8 / 2.2))
    assert thick / thin == pytest.approx(np.exp(-0.8 / 2.2))
