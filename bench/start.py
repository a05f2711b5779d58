"""From nothing to the first window, and to the first board on it."""

from __future__ import annotations

from timing import Row, child

_HEAD = """
import time; start = time.process_time()
from PyQt6.QtWidgets import QApplication, QMainWindow
app = QApplication(['x'])
"""
_BARE = (
    _HEAD
    + """
window = QMainWindow()
window.resize(1280, 800); window.show(); app.processEvents()
print(time.process_time() - start)
"""
)
_OURS = (
    _HEAD
    + """
from outlined_glow.ui.style import use_style
from outlined_glow.ui.theme import load_fonts
from outlined_glow.ui.shell import MainWindow
load_fonts(); use_style(app); window = MainWindow()
window.resize(1280, 800); window.show(); app.processEvents()
print(time.process_time() - start)
window.close()
"""
)
_BOARD = (
    _HEAD
    + """
from outlined_glow.ui.app import make_window
window = make_window(app, 'moth')
while window.area.bench.renders.board is None:
    app.processEvents(); time.sleep(0.002)
window.area.bench.repaint()
print(time.process_time() - start)
window.session.history.mark_saved(); window.close()
"""
)


def rows() -> list[Row]:
    """Ratios to a bare window of the same size."""
    bare, ours, board = child(_BARE)[0], child(_OURS)[0], child(_BOARD, 2)[0]
    return [
        Row("start", "first paint / bare PyQt6 window", ours / bare, 2.5),
        Row("start", "first painted board of the moth, its tracks to come / bare PyQt6 window", board / bare),
    ]
