"""Strips as they are painted, at rest and in the hand."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QApplication

from outlined_glow.core.motion.lamps import plain_lamps
from outlined_glow.core.project import Marker, Motion, Strip
from outlined_glow.ui.bench.lanes import Lanes

SCORE = Motion(
    score=(
        Strip(number=1, pattern="chase", start_s=0.0, length_s=2.0),
        Strip(number=2, pattern="wave", start_s=3.0, length_s=2.0, row=2, repeats=2),
        Strip(number=3, pattern="steady", start_s=5.0, length_s=1.0),
    ),
    markers=(Marker(name="dawn", at_s=4.2),),
)


@pytest.fixture
def lanes(qapp: QApplication) -> Lanes:
    one = Lanes()
    one.show(SCORE, plain_lamps(np.column_stack([np.arange(6.0), np.zeros(6)]), ("g",) * 6))
    one.area = QRectF(10, 10, 700, 90)
    return one


def painted(lanes: Lanes, chosen: int) -> np.ndarray:
    picture = QImage(730, 110, QImage.Format.Format_RGB32)
    picture.fill(0)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    lanes.paint(painter, chosen)
    painter.end()
    bits = picture.constBits()
    assert bits is not None
    return np.frombuffer(bits.asarray(picture.sizeInBytes()), np.uint8).reshape(110, 730, 4)[..., :3].astype(int)


def test_a_strip_in_hand_looks_as_it_does_at_rest(lanes: Lanes) -> None:
    rest = painted(lanes, 2)
    strip = SCORE.score[1]
    lanes.take(strip, "all", lanes.x_of(3.5))
    held = painted(lanes, 2)
    # To half a pixel: at rest it lies between pixels.
    assert np.abs(held - rest).mean() < 4.0
    assert np.abs(held - np.roll(rest, 40, axis=1)).mean() > 2 * np.abs(held - rest).mean()
    # Moved on, it lies elsewhere and looks the same; stretched, it is painted anew.
    lanes.drag(QPointF(lanes.x_of(3.5) + 100, 30))
    moved = painted(lanes, 2)
    box, by = lanes.box(strip), lanes.box(strip).left() - lanes.x_of(3.0)
    assert by > 50
    a = moved[int(box.top()) + 4 : int(box.bottom()) - 4, round(box.left()) + 120 : round(box.right()) - 20]
    b = rest[
        int(box.top()) + 4 : int(box.bottom()) - 4, round(lanes.x_of(3.0)) + 120 : round(lanes.x_of(3.0)) + 120 + a.shape[1]
    ]
    assert np.abs(a - b).mean() < 6.0
    lanes.let_go()
    lanes.take(strip, "end", lanes.box(strip).right())
    wide = lanes.box(strip).width()
    lanes.drag(QPointF(lanes.box(strip).right() - 60, 30))
    assert lanes.box(strip).width() < wide - 40
    after = painted(lanes, 2)
    assert not np.array_equal(after, moved)


def test_times_snap_to_the_nearest_of_all_ends_and_markers(lanes: Lanes) -> None:
    strip = SCORE.score[2]
    lanes.take(strip, "all", lanes.x_of(5.0))
    ends = [0.0, 0.0, 2.0, 3.0, 7.0, 4.2]
    per_px = lanes.span_s / lanes.area.width()
    for at in np.arange(0.0, 7.0, 0.013):
        for length in (0.0, 1.0):
            near = min((end - off for end in ends for off in (0.0, length)), key=lambda one, at=at: abs(one - at))
            got = lanes.snapped(float(at), strip, length)
            if abs(near - at) < 6.0 * per_px:
                assert got == pytest.approx(near)
            else:
                beat = lanes.beat_s()
                assert got == pytest.approx(round(at / beat) * beat, abs=1e-6)
