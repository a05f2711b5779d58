"""The window at work: frames of a drag and moves of the pointer on a board of 300 LEDs against filling the bench with one
colour; and how long the driven window answers nothing. In processes of their own."""

from __future__ import annotations

import statistics

from timing import Row, child

_CODE = """
import itertools
from PyQt6.QtCore import QPoint
from PyQt6.QtTest import QTest
from PyQt6.QtGui import QPainter, QColor
from PyQt6.QtWidgets import QApplication
app = QApplication(['x'])
from outlined_glow.ui.app import make_window
from hand import Hand
from light import _PLAIN, _COUNTS, lit_board
from timing import cpu
window = make_window(app); hand = Hand(window)
work = lit_board(*_COUNTS[300])
window.session.open_project(work.project, None)
hand.settle(120)
window.show_stage('lights'); hand.settle(120)
bench = window.area.bench
window.resize(window.width() + 1280 - bench.width(), window.height() + 800 - bench.height()); hand.settle(120)
from outlined_glow.ui.bench.painted_canvas import PaintedCanvas
paint = PaintedCanvas.paintEvent
def fill(self, event):
    QPainter(self).fillRect(self.rect(), QColor('#17141B'))
ways = itertools.cycle([(3, 1)] * 20 + [(-3, -1)] * 20)
def drag():
    bench.camera = bench.camera.moved(*next(ways)); bench.repaint()
spots = itertools.cycle(bench.rect().center() + QPoint(9 * n, 7 * (n % 5)) for n in range(20))
#: Many frames at once: a single one that finds its pixels in the processor's cache takes half the time.
def each(run):
    return cpu(lambda: [run() for _ in range(40)], 1) / 40
def filled():
    PaintedCanvas.paintEvent = fill
    spent = each(bench.repaint)
    PaintedCanvas.paintEvent = paint
    return spent
def dragged():
    for _ in range(4):  # the first frames of a drag make the picture that the others move
        drag()
    return each(drag)
# By turns, for a machine is now quicker, now slower.
rows = [(filled(), dragged(), each(lambda: QTest.mouseMove(bench, next(spots)))) for _ in range(25)]
bare, moved, hovered = (min(column) for column in zip(*rows))
print(moved / bare, hovered / bare, moved, hovered)
window.session.history.mark_saved(); window.close()
"""

#: Through the stages of a demo by hand: what is done, and the longest time in which the window answered nothing.
_GAPS = """
import time
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QApplication
app = QApplication(['x'])
from outlined_glow.core.stages import stages
from outlined_glow.ui.app import make_window
from hand import Hand
window = make_window(app); window.show()
longest, last = 0.0, time.monotonic()
def tick():
    global longest, last
    now = time.monotonic(); longest, last = max(longest, now - last), now
timer = QTimer(); timer.timeout.connect(tick); timer.start(1)
window.files.open_demo('moth')
hand = Hand(window); hand.settle()
def round_of_work():
    for stage in stages():
        window.show_stage(stage.key); hand.settle()
    edit = window.session.edit
    edit('single', {'array': 'one', 'x_mm': 30.0, 'y_mm': 20.0}); hand.settle()
    edit('set-stack', {'mask': 'white'}); hand.settle()
    hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier); hand.settle()
    hand.drag(hand.screen(30, 20), hand.screen(33, 22)); hand.settle()
    window.noon_to_night(); hand.settle(); window.help.switch_theme(); hand.settle()
longest = 0.0; round_of_work(); first = longest; longest = 0.0; round_of_work()
print(first * 1000, longest * 1000)
window.session.history.mark_saved(); window.close()
"""


def rows() -> list[Row]:
    """Ratios to filling the bench with one colour, and how long the driven window answers nothing."""
    dragged, hovered, drag_s, hover_s = child(_CODE, 5, statistics.median)
    first, again = child(_GAPS, 3)
    return [
        Row(
            "window",
            "a frame of dragging the view, 300 LEDs, 1280 x 800 / an empty fill",
            dragged,
            2.5,
            note=f"{drag_s * 1000:.2f} ms of CPU",
        ),
        Row(
            "window",
            "a move of the pointer over 300 LEDs, 1280 x 800 / an empty fill",
            hovered,
            2.5,
            note=f"{hover_s * 1000:.2f} ms of CPU",
        ),
        Row(
            "window",
            "longest gap of the event loop: stages, edits, undo, a drag, night, theme",
            again,
            50,
            "ms",
            note=f"{first:.0f} ms when each drawer is first made",
        ),
    ]
