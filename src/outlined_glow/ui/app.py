"""Starting the window."""

from __future__ import annotations

import contextlib
import logging
import os
import socket
import sys
import traceback
from collections.abc import Sequence
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

from .. import DEMOS
from ..report import watch_for_a_hard_end, went_well
from .assets import has_asset

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QApplication

    from .shell import MainWindow

_WITHOUT_DISPLAY = ("offscreen", "minimal", "vnc")


def has_display() -> bool:
    """Whether Qt will find something to draw on; asked before Qt is, which would end the process."""
    platform = os.environ.get("QT_QPA_PLATFORM", "").split(":")[0]
    if platform in _WITHOUT_DISPLAY:
        return True
    if os.environ.get("WAYLAND_DISPLAY"):
        return True
    return _x_answers(os.environ.get("DISPLAY", ""))


def _x_answers(display: str) -> bool:
    host, colon, rest = display.rpartition(":")
    number = rest.split(".")[0]
    if not colon or not number.isdigit():
        return False
    path = f"/tmp/.X11-unix/X{number}"
    targets: list[tuple[int, object]] = [(socket.AF_UNIX, "\0" + path), (socket.AF_UNIX, path)]
    if host and host != "unix":
        targets = [(socket.AF_INET, (host, 6000 + int(number)))]
    for family, target in targets:
        with socket.socket(family, socket.SOCK_STREAM) as one, contextlib.suppress(OSError):
            one.settimeout(2)
            one.connect(target)  # type: ignore[arg-type]
            return True
    return False


def run_window(words: Sequence[str]) -> int:
    """Open the window: empty, on a demo, or on a file. Returns the exit code."""
    if not has_display():
        print("glow: there is no display to open a window on; set DISPLAY, or use a command (glow --help).", file=sys.stderr)
        return 2
    watch_for_a_hard_end()
    logging.basicConfig(level=logging.WARNING, format="%(name)s: %(message)s")
    demo = ""
    if words and words[0] == "demo":
        demo = words[1] if len(words) > 1 else "moth"
        if len(words) > 2 or not _known_demo(demo):
            print(f"glow demo: there is no demo “{demo}”. Choose one of: {', '.join(DEMOS)}.", file=sys.stderr)
            return 2
    elif words and not Path(words[0]).is_file():
        print(f"glow: “{words[0]}” is no file.", file=sys.stderr)
        return 2
    from PyQt6.QtWidgets import QApplication

    app = QApplication.instance() or QApplication(["outlined-glow"])
    assert isinstance(app, QApplication)
    window = make_window(app, demo, words[0] if words and not demo else "")
    sys.excepthook = _Reporter(window)
    code = app.exec()
    went_well()
    if not window.ended_well:
        # A worker is deep in a library and would keep the program alive for as long as that takes.
        from .recent import state_written

        state_written()
        sys.stdout.flush()
        sys.stderr.flush()
        os._exit(code)
    return code


def make_window(app: QApplication, demo: str = "", path: str = "") -> MainWindow:
    """The window as it starts: shown at once, then a demo or a file opened and the core loaded behind it."""
    from .icons import app_icon
    from .shell import MainWindow
    from .style import use_style
    from .theme import font, load_fonts

    app.setApplicationName("Outlined Glow")
    app.setDesktopFileName("org.outlinedglow.OutlinedGlow")
    app.setWindowIcon(app_icon())
    use_style(app)
    _keep_dialogs_off_the_disk()
    load_fonts()
    app.setFont(font())  # what gets its style sheet before the font keeps another
    window = MainWindow()
    window.show()
    if demo:
        window.later(lambda: window.files.open_demo(demo))
    elif path:
        window.later(lambda: window.files.open(Path(path).absolute()))
    window.later(window.warm_up)
    return window


def _keep_dialogs_off_the_disk() -> None:
    """Qt's file dialog writes down how it looked when it closes, and waits until the disk has it: on a busy one the window
    stood still for a second. Where the session has a folder in memory, that takes it."""
    from PyQt6.QtCore import QSettings

    folder = os.environ.get("XDG_RUNTIME_DIR", "")
    if folder and os.access(folder, os.W_OK):
        QSettings.setPath(QSettings.Format.NativeFormat, QSettings.Scope.UserScope, folder)


def _known_demo(name: str) -> bool:
    return name in DEMOS and has_asset("demos", name, "demo.json")


class _Reporter:
    """An error nobody expected: written down and told, and the window goes on."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window

    def __call__(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, error, trace)
            return
        logging.getLogger("outlined_glow").error("".join(traceback.format_exception(kind, error, trace)))
        self._window.show_failure(error)
