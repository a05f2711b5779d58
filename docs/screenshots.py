"""Make the pictures in docs/screenshots from the demo: `.venv/bin/python docs/screenshots.py` (needs a display)."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path

_HOME = tempfile.mkdtemp(prefix="glow-shots-")
os.environ["XDG_STATE_HOME"] = _HOME
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtTest import QTest  # noqa: E402
from PyQt6.QtWidgets import QApplication  # noqa: E402

from outlined_glow.core.board.draw import draw_board, png  # noqa: E402
from outlined_glow.ui.app import make_window  # noqa: E402
from outlined_glow.ui.shell import MainWindow  # noqa: E402

TARGET = Path(__file__).parent / "screenshots"


def settle(window: MainWindow) -> None:
    """Wait until the bench is drawn."""
    quiet = 0
    while quiet < 4:
        QTest.qWait(40)
        quiet = 0 if window.jobs._running or window.session._later.isActive() else quiet + 1


def main() -> int:
    """Drive the window through every stage and take a picture of each."""
    app = QApplication(["screenshots"])
    window = make_window(app)
    window.resize(1280, 800)
    settle(window)

    def shot(name: str) -> None:
        settle(window)
        window.grab().save(str(TARGET / f"{name}.png"))
        print(name)

    shot("start")
    window.files.open_demo("moth")
    settle(window)
    for stage, sun, name in (
        ("artwork", 1.0, "artwork"),
        ("brief", 1.0, "brief"),
        ("shape", 0.62, "shape"),
        ("lights", 0.3, "lights"),
        ("drive", 0.2, "drive"),
        ("order", 0.85, "order"),
    ):
        window.area.sun.set_sun(sun)
        window.show_stage(stage)
        shot(name)
    window.area.bench.turn_over()
    shot("back")
    window.area.bench.turn_over()
    window.show_stage("motion")
    window.area.sun.set_sun(0.12)
    settle(window)
    window.area.score.scrubbed.emit(1.9)
    shot("motion")
    window.area.stop()
    window.switch_theme()
    window.area.sun.set_sun(1.0)
    window.show_stage("artwork")
    shot("paper")
    (TARGET / "moth-dusk.png").write_bytes(png(draw_board(window.session.work.board, sun=0.25, px_per_mm=12), 12))
    window.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
