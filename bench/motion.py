"""A long score: its currents and flashes, what an edit of it costs, a frame of levels, and a strip that is dragged."""

from __future__ import annotations

import msgspec
import numpy as np
import scipy.spatial  # noqa: F401  (what looks for areas loads it: the time of that is not the time of counting)
from timing import Row, child, cpu, once

from outlined_glow.core import compiled, kernels  # noqa: F401  (its functions are declared by loading it)
from outlined_glow.core.motion.currents import played
from outlined_glow.core.motion.flash import flashes
from outlined_glow.core.motion.lamps import Lamps, plain_lamps
from outlined_glow.core.motion.score import level_at
from outlined_glow.core.project import Motion, Strip

_LEDS, _STRIPS, _SECONDS, _A_SECOND = 1024, 200, 600, 60
_PATTERNS = ("chase", "wave", "fill", "twinkle", "breathe", "sparks", "wipe", "rain")


def lamps() -> Lamps:
    """LEDs in a square."""
    at = np.arange(_LEDS)
    return plain_lamps(np.column_stack([at % 32 * 3.0, at // 32 * 3.0]), ("g",) * _LEDS)


def score() -> Motion:
    """Ten minutes of strips, one after another in three rows."""
    each = _SECONDS / _STRIPS
    return Motion(
        score=tuple(
            Strip(number=at + 1, pattern=_PATTERNS[at % 8], start_s=each * at, length_s=each, row=1 + at % 3)
            for at in range(_STRIPS)
        )
    )


def rows() -> list[Row]:
    """Against a bare multiply-and-sum of as many numbers as ten minutes of 1,024 LEDs have."""
    compiled.load()
    table, motion = lamps(), score()
    block = np.random.default_rng(1).random((_A_SECOND * 10, _LEDS), np.float32)
    weights = np.ones(_LEDS, np.float32)
    bare = cpu(lambda: (block * weights).sum(axis=1)) * _SECONDS / 10
    currents, _ = once(played, motion, table)
    one = motion.score[50]
    changed = Motion(score=(*motion.score[:50], msgspec.structs.replace(one, level=0.5), *motion.score[51:]))
    edit, _ = once(played, changed, table)
    flashing, _ = once(flashes, motion, table, np.full(_LEDS, 30.0), 1.0)
    memory = child(_MEMORY)[0]
    frame = cpu(lambda: level_at(motion, table, 100.0), 20)
    drag = child(_DRAG)[0]
    what = "ten minutes, 1,024 LEDs, 200 strips"
    return [
        Row("motion", f"currents of {what} / a bare multiply-and-sum", currents / bare, 15),
        Row("motion", "the same after an edit of one strip / from nothing", edit / currents, note="its span alone"),
        Row("motion", f"flashes of {what} / a bare multiply-and-sum", flashing / bare, 40),
        Row("motion", "memory of both", memory, 300, "MB", note="a process of its own"),
        Row("motion", "levels of a frame of 1,024 LEDs", 1000 * frame, unit="ms"),
        Row("motion", "a strip dragged, painting the score / an empty fill", drag, 2.5),
    ]


_MEMORY = """
import numpy as np
import motion as bench
from timing import peak_mb
from outlined_glow.core import compiled
from outlined_glow.core.motion.currents import played
from outlined_glow.core.motion.flash import flashes
compiled.load()
score, lamps = bench.score(), bench.lamps()
played(score, lamps)
flashes(score, lamps, np.full(lamps.count, 30.0), 1.0)
print(peak_mb())
"""

_DRAG = """
import time
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtWidgets import QApplication
app = QApplication([])
import motion as bench
from outlined_glow.ui.bench.lanes import Lanes
lanes, table, score = Lanes(), bench.lamps(), bench.score()
lanes.show(score, table)
lanes.area = QRectF(0, 0, 1000, 120)
picture = QImage(1100, 214, QImage.Format.Format_RGB32)
painter = QPainter(picture)
lanes.paint(painter, 1)
lanes.take(score.score[20], "all", lanes.x_of(61.0))
def drag():
    for at in range(40):
        lanes.drag(QPointF(200.0 + at, 60.0))
        lanes.paint(painter, 21)
def fill():
    for at in range(40):
        painter.fillRect(picture.rect(), QColor("#221E28"))
best = []
for run in (drag, fill):
    run()
    start = time.process_time(); run(); best.append(time.process_time() - start)
print(best[0] / best[1])
"""
