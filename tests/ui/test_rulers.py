"""The rulers of the bench: every tick where the camera sees its millimetre, from the front and from behind."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from hand import Hand
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QApplication

from outlined_glow.ui.bench.camera import LEAST, MOST, Camera
from outlined_glow.ui.bench.rulers import Rulers, _ticks, steps
from outlined_glow.ui.theme import theme

_MM = st.floats(-200, 200)


@given(_MM, _MM, st.floats(LEAST, MOST), st.sampled_from(["front", "back"]), _MM)
def test_ticks_lie_where_the_camera_sees_their_millimetres(x: float, y: float, zoom: float, side: str, zero: float) -> None:
    camera = Camera(x, y, zoom, side, 900, 700)
    major, minor = steps(zoom)
    found = list(_ticks(zoom, camera.to_screen(zero, 0).x(), camera.sign, 900))
    for at, value, numbered in found:
        assert at == pytest.approx(camera.to_screen(value + zero, 0).x(), abs=1e-6)
        assert -1e-6 <= at <= 900 + 1e-6
        assert numbered == (abs(value / major - round(value / major)) < 1e-6)
    assert len(found) == pytest.approx(900 / (minor * zoom), abs=1.01)
    heights = list(_ticks(zoom, camera.to_screen(0, zero).y(), -1.0, 700))
    assert all(at == pytest.approx(camera.to_screen(0, value + zero).y(), abs=1e-6) for at, value, _ in heights)


def _picture(rulers: Rulers, camera: Camera) -> QImage:
    picture = QImage(640, 480, QImage.Format.Format_RGB32)
    picture.fill(theme().colour("bench"))
    painter = QPainter(picture)
    rulers.paint(painter, camera, (0.0, 0.0), 0)
    painter.end()
    return picture


@pytest.mark.usefixtures("qapp")
def test_numbers_stand_at_their_ticks() -> None:
    camera = Camera(40.0, 30.0, 8.0, "front", 640, 480)
    picture = _picture(Rulers(), camera)
    ground = theme().colour("bench").lightness()

    def inked(x: int, y: int, wide: int, high: int) -> bool:
        return any(picture.pixelColor(i, j).lightness() > ground + 60 for i in range(x, x + wide) for j in range(y, y + high))

    at = round(camera.to_screen(40.0, 0).x())
    assert inked(at - 8, 459, 16, 11), "40 under the middle"
    assert not inked(at + 24, 459, 16, 11), "nothing between two numbers"
    at = round(camera.to_screen(0, 30.0).y())
    assert inked(10, at - 8, 11, 16), "30 beside the middle"


_PX = st.integers(-400, 400)


@given(st.lists(st.tuples(_PX, _PX, st.sampled_from([1.0, 1.0, 1.0, 0.7, 1.9]), st.booleans()), min_size=1, max_size=5))
@settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_kept_rulers_look_like_new_ones(qapp: QApplication, ways: list[tuple[int, int, float, bool]]) -> None:
    camera, kept = Camera(40.0, 30.0, 8.0, "front", 640, 480), Rulers()
    for dx, dy, factor, other_side in ways:
        camera = camera.moved(dx, dy)
        if factor != 1.0:
            camera = camera.zoomed(factor, QPointF(300, 200))
        if other_side:
            camera = replace(camera, side="back" if camera.side == "front" else "front")
        now, anew = _levels(_picture(kept, camera)), _levels(_picture(Rulers(), camera))
        # A tick between two parts of a pixel falls to either of them: a level or two, that nobody sees.
        assert np.abs(now - anew).max() <= 4


def _levels(picture: QImage) -> NDArray[np.int16]:
    """The bytes of a picture."""
    bits = picture.constBits()
    assert bits is not None
    bits.setsize(picture.sizeInBytes())
    return np.frombuffer(bits, np.uint8).astype(np.int16)


def test_words_about_a_place_lie_beside_the_leaves_of_a_small_window(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    hand.window.resize(1280, 800)
    hand.settle()
    area = hand.window.area
    assert not area.bench._readout_area().intersects(area.leaves.geometry())
