"""The window first: while it builds something, background work waits.

Python lets one thread work at a time and hands over as it likes: a list of a hundred rows, built while two workers trace a
picture, asks for its turn a hundred times and takes a second instead of a twentieth.
"""

from __future__ import annotations

import threading
import time

from PyQt6.QtCore import QTimer

#: The longest that background work waits for one thing that the window does (s).
_LONGEST = 1.0
_idle = threading.Event()
_idle.set()
_until = 0.0


def window_first() -> None:
    """Call it on the window's thread before something is built: background work waits until what was built is seen."""
    global _until
    _until = time.monotonic() + _LONGEST
    if _idle.is_set():
        _idle.clear()
        # What was built is laid out in the first turn of the event loop after this, and painted in the second.
        QTimer.singleShot(0, lambda: QTimer.singleShot(0, _idle.set))


def wait_for_window() -> None:
    """Call it on a worker: comes back once the window is idle."""
    if not _idle.is_set():
        _idle.wait(max(0.0, _until - time.monotonic()))
