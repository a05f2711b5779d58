"""Make the pictures in docs/screenshots from the demo: `.venv/bin/python docs/screenshots.py` (needs a display)."""

from __future__ import annotations

import os
import subprocess
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
from outlined_glow.ui.groups import BY_HAND  # noqa: E402
from outlined_glow.ui.help.keys import KeySheet  # noqa: E402
from outlined_glow.ui.help.library import LibraryDialog  # noqa: E402
from outlined_glow.ui.shell import MainWindow  # noqa: E402

TARGET = Path(__file__).parent / "screenshots"


def wait(ms: int) -> None:
    """The window goes on meanwhile."""
    QTest.qWait(ms)  # type: ignore[call-arg, arg-type]  # it is static, which its types do not say


def saved(window: MainWindow) -> None:
    """Nothing is to be asked when the next project is opened."""
    if window.session.history is not None:
        window.session.history.mark_saved()


def settle(window: MainWindow) -> None:
    """Wait until the bench is drawn."""
    quiet = 0
    while quiet < 4:
        wait(40)
        busy = window.jobs._running or window.session.making.waiting or window.area.bench._flip.running
        quiet = 0 if busy else quiet + 1


def opened(app: QApplication) -> MainWindow:
    """The window at its usual size."""
    window = make_window(app)
    window.resize(1280, 800)
    settle(window)
    return window


def shot(window: MainWindow, name: str) -> None:
    """Take a picture of the window at rest."""
    settle(window)
    window.grab().save(str(TARGET / f"{name}.png"))
    print(name)


def motion(window: MainWindow) -> None:
    """A score of three strips on the moth, one of them in hand; then the moth is as it was."""
    strips: tuple[dict[str, object], ...] = (
        {"pattern": "flame", "length_s": 12.0, "period_s": 4.0, "level": 0.5},
        {"pattern": "wave", "along": "line", "angle_deg": 30.0, "start_s": 2.0, "length_s": 7.0, "blend": "lighter"},
        {"pattern": "chase", "group": ("tips", "edge"), "start_s": 6.0, "length_s": 6.0, "row": 3, "keys": "tail=5"},
    )
    for one in strips:
        window.session.edit("add-strip", one)
    window.show_stage("motion")
    window.area.sun.set_sun(0.12)
    settle(window)
    window.area.score.choose(2)
    window.area.score.scrubbed.emit(6.4)
    shot(window, "motion")
    window.area.stop()
    for _ in strips:
        window.session.undo()
    settle(window)


def large(app: QApplication) -> None:
    """Both themes at twice the size."""
    window = opened(app)
    window.files.open_demo("moth")
    settle(window)
    window.show_stage("motion")
    window.area.sun.set_sun(0.12)
    shot(window, "dusk-200")
    window.help.switch_theme()
    window.area.sun.set_sun(1.0)
    window.show_stage("lights")
    shot(window, "paper-200")
    window.close()


def closer_looks(window: MainWindow) -> None:
    """Narrow places with their widths, and where picture and board differ most."""
    drawer, bench = window.drawer("artwork"), window.area.bench
    bench.set_wipe(None)
    window.session.edit("unclean", {})
    settle(window)
    drawer.places_card.rows[0].click()
    shot(window, "narrow")
    bench.mark(None)
    window.session.undo()
    settle(window)
    bench.set_compare("difference")
    bench.set_wipe(0.55)
    shot(window, "differ")
    bench.set_compare("picture")
    bench.set_wipe(0.5)


def other_demos(window: MainWindow) -> None:
    """The light in a sheet on edge, and the matrix of the tide board in the dark."""
    saved(window)
    window.files.open_demo("seed-room")
    settle(window)
    window.show_stage("lights")
    drawer = window.drawer("lights")
    drawer.select("sheets")
    drawer.evenness.on.show_key("sheet")
    drawer.evenness.look()
    window.area.sun.set_sun(0.2)
    settle(window)
    drawer.bring_into_view(drawer.evenness.card)
    shot(window, "evenness")
    saved(window)
    window.files.open_demo("tide-board")
    settle(window)
    window.show_stage("motion")
    window.area.sun.set_sun(0.08)
    window.area.score.scrubbed.emit(5.4)
    shot(window, "tide-board")


def main() -> int:
    """Drive the window through every stage and take a picture of each."""
    app = QApplication(["screenshots"])
    if "large" in sys.argv:
        large(app)
        return 0
    window = opened(app)
    shot(window, "start")
    window.files.open_demo("moth")
    settle(window)
    window.show_stage("artwork")
    shot(window, "artwork")
    closer_looks(window)
    for stage, sun, name in (
        ("brief", 1.0, "brief"),
        ("shape", 0.62, "shape"),
        ("lights", 0.3, "lights"),
        ("drive", 0.2, "drive"),
        ("order", 0.85, "order"),
    ):
        window.area.sun.set_sun(sun)
        window.show_stage(stage)
        shot(window, name)
    window.area.sun.set_sun(1.0)
    window.show_stage("wiring")
    window.area.bench.turn_over()
    settle(window)
    nets = window.drawer("wiring").nets
    nets.selectRow(next(row for row in range(nets.rowCount()) if nets.item(row, 0).text().startswith("stage 5")))
    shot(window, "wiring")
    nets.clearSelection()
    window.area.bench.turn_over()
    motion(window)
    sheet = KeySheet(window, window.actions_.entries, BY_HAND)
    sheet.show()
    wait(100)
    sheet.grab().save(str(TARGET / "keys.png"))
    library = LibraryDialog(window, window.session, window.files)
    library.show()
    library.search.setText("digit 14.2")
    wait(200)
    library.grab().save(str(TARGET / "library.png"))
    library.close()
    sheet.close()
    window.help.switch_theme()
    window.area.sun.set_sun(1.0)
    window.show_stage("artwork")
    shot(window, "paper")
    (TARGET / "moth-dusk.png").write_bytes(png(draw_board(window.session.work.board, sun=0.25, px_per_mm=12), 12))
    window.help.switch_theme()
    other_demos(window)
    window.close()
    subprocess.run([sys.executable, __file__, "large"], env={**os.environ, "QT_SCALE_FACTOR": "2"}, check=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
