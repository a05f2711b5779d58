"""The rulers of the bench: every tick where the camera sees its millimetre, from the front and from behind."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtGui import QImage, QPainter

from outlined_glow.ui.bench.camera import LEAST, MOST, Camera
from outlined_glow.ui.bench.rulers import _ticks, paint_rulers, steps
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


@pytest.mark.usefixtures("qapp")
def test_numbers_stand_at_their_ticks() -> None:
    camera = Camera(40.0, 30.0, 8.0, "front", 640, 480)
    picture = QImage(640, 480, QImage.Format.Format_RGB32)
    picture.fill(theme().colour("bench"))
    painter = QPainter(picture)
    paint_rulers(painter, camera, (0.0, 0.0), 0)
    painter.end()
    ground = theme().colour("bench").lightness()

    def inked(x: int, y: int, wide: int, high: int) -> bool:
        return any(picture.pixelColor(i, j).lightness() > ground + 60 for i in range(x, x + wide) for j in range(y, y + high))

    at = round(camera.to_screen(40.0, 0).x())
    assert inked(at - 8, 459, 16, 11), "40 under the middle"
    assert not inked(at + 24, 459, 16, 11), "nothing between two numbers"
    at = round(camera.to_screen(0, 30.0).y())
    assert inked(10, at - 8, 11, 16), "30 beside the middle"
