"""A random hand on the real window: presses, types, chooses, drags and answers whatever it is asked.

    QT_QPA_PLATFORM=offscreen python bench/random_hand.py 10000 [SEED [TRACES]]

is a long run; its figures are in docs/reliability.md, and the file TRACES then says what every thread did in a silence.

It works in a folder of its own. What may never happen: an error nobody expected, a warning of Qt, a project that cannot be
saved and opened again. Every time the window did not answer for longer than a person lets pass is counted by what it did then.
"""

from __future__ import annotations

import os
import random
import sys
import tempfile
import threading
import time
import traceback
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, TextIO

from PyQt6 import QtTest
from PyQt6.QtCore import QEvent, QPoint, Qt, QTimer, qInstallMessageHandler
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QMenu,
    QMessageBox,
    QWidget,
)

from outlined_glow import DEMOS
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.stages import stages
from outlined_glow.ui.app import make_window
from outlined_glow.ui.shell import MainWindow

#: Its functions need no object, which its stubs do not say.
QTest: Any = QtTest.QTest
#: What the platform without a screen says, and what a window without a session bus says.
_HARMLESS = ("This plugin does not support", "QFont::", "propagateSizeHints", "XDG_RUNTIME_DIR")
_TYPED = (
    "",
    "0",
    "1",
    "2.5",
    "-3",
    "1e9",
    "nan",
    "12 mm",
    "0,5",
    "1 in",
    "seven",
    "2026-12-24",
    "iron, meter",
    "naïve 名",
    "x" * 300,
)
_DRAWING = b'<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30">%s</svg>'
_SHAPES = b'<rect width="40" height="30" fill="#2E1240"/><circle cx="20" cy="15" r="9" fill="#D9A441"/>'
#: How often the window is asked for a sign of life, and from when on its silence is counted (s).
_TICK, _SILENT = 0.02, 0.3
#: A long run tells how it stands after so many actions.
_TOLD = 5000


@dataclass
class Found:
    """What a run met."""

    actions: Counter[str] = field(default_factory=Counter)
    wrong: list[str] = field(default_factory=list)
    longest_s: float = 0.0
    longest_at: str = ""
    silences: Counter[str] = field(default_factory=Counter)


class RandomHand:
    """Acts on a window, `count` times, by the dice of `seed`; where every thread is in a silence goes to `traces`."""

    def __init__(self, app: QApplication, folder: Path, seed: int, traces: TextIO | None = None) -> None:
        self._watched = traces is not None
        self._dice, self._folder, self._app = random.Random(seed), folder, app
        self.found = Found()
        self._now = "start"
        for name, body in (("a.svg", _SHAPES), ("b.svg", b""), ("c.svg", b"<path d='M0 0L9'/>")):
            (folder / name).write_bytes(_DRAWING % body)
        self._window: MainWindow = make_window(app)
        self._window.resize(1280, 800)
        self._window.jobs.broke.connect(lambda error: self._raised(type(error), error, error.__traceback__))
        self._last = time.monotonic()
        if traces is not None:
            threading.Thread(target=self._trace, args=(traces,), daemon=True).start()
        self._tick = QTimer()
        self._tick.timeout.connect(self._ticked)
        self._tick.start(round(_TICK * 1000))
        self._asked = QTimer()
        self._asked.timeout.connect(self._answer)
        self._asked.start(40)

    def run(self, count: int) -> Found:
        """Act, then save what there is and open it again."""
        said = qInstallMessageHandler(self._said)
        hook, sys.excepthook = sys.excepthook, self._raised
        try:
            self._window.files.open_demo(self._dice.choice(DEMOS))
            for at in range(count):
                if self._window.session.project is None and at % 10 == 0:
                    self._window.files.open_demo(self._dice.choice(DEMOS))
                if at and at % _TOLD == 0:
                    told = f"{len(self.found.wrong)} wrong, {sum(self.found.silences.values())} silences"
                    print(f"{at} actions: {told}, the longest {self.found.longest_s:.2f} s", flush=True)
                act = self._dice.choices([run for run, _ in self._ways], [much for _, much in self._ways])[0]
                self._now = act.__name__.strip("_")
                self.found.actions[self._now] += 1
                act()
                QTest.qWait(self._dice.choice((0, 0, 1, 5, 30)))
            self._now = "end"
            QTest.qWait(300)
            project = self._window.session.project
            if project is not None:
                save(project, self._folder / "end.oglow")
                again = load(self._folder / "end.oglow")
                assert again == project, _parting(again, project)
        finally:
            self._watched = False
            self._tick.stop()
            self._asked.stop()
            if self._window.session.history is not None:
                self._window.session.history.mark_saved()
            self._window.close()
            sys.excepthook = hook
            qInstallMessageHandler(said)
        return self.found

    # -- what it does ---------------------------------------------------------------------------------------------

    @property
    def _ways(self) -> list[tuple[Callable[[], None], int]]:
        return [(self._press, 30), (self._type, 18), (self._choose, 18), (self._key, 14), (self._drag, 12), (self._stage, 6),
                (self._undo, 4), (self._theme, 1), (self._size, 1)]  # fmt: skip

    def _visible(self, *kinds: type[QWidget]) -> list[QWidget]:
        root, begun = self._window, time.monotonic()
        found = [one for kind in kinds for one in root.findChildren(kind) if one.isVisibleTo(root) and one.isEnabled()]
        self._last += time.monotonic() - begun  # the hand looks for something to press: no silence of the window
        return found

    def _press(self) -> None:
        buttons = self._visible(QAbstractButton)
        if buttons:
            one = self._dice.choice(buttons)
            self._now = f"press {one.accessibleName() or one.text()}"  # type: ignore[attr-defined]
            QTest.mouseClick(one, Qt.MouseButton.LeftButton, pos=one.rect().center())

    def _type(self) -> None:
        fields = self._visible(QLineEdit)
        if fields:
            one = self._dice.choice(fields)
            self._now = f"type {one.accessibleName()}"
            one.setFocus()
            one.selectAll()  # type: ignore[attr-defined]
            text = self._dice.choice(_TYPED)  # letters of any script, which QTest.keyClicks cannot send
            self._app.sendEvent(one, QKeyEvent(QEvent.Type.KeyPress, 0, Qt.KeyboardModifier.NoModifier, text))
            QTest.keyClick(one, self._dice.choice((Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Up, Qt.Key.Key_Tab)))

    def _choose(self) -> None:
        choices = self._visible(QComboBox)
        if choices:
            one = self._dice.choice(choices)
            self._now = f"choose {one.accessibleName()}"
            one.setFocus()
            QTest.keyClick(one, self._dice.choice((Qt.Key.Key_Down, Qt.Key.Key_Up, Qt.Key.Key_Home, Qt.Key.Key_End)))

    def _key(self) -> None:
        actions = [one for name, one in self._window.actions_.by_name.items() if one.isEnabled() and name not in ("quit",)]
        one = self._dice.choice(actions)
        self._now = f"action {one.text()}"
        one.trigger()

    def _drag(self) -> None:
        bench = self._window.area.bench
        if not bench.isVisible():
            return
        start, end = (QPoint(self._dice.randrange(20, 850), self._dice.randrange(60, 700)) for _ in range(2))
        shift = self._dice.choice((Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier))
        QTest.mousePress(bench, Qt.MouseButton.LeftButton, shift, start)
        QTest.mouseMove(bench, (start + end) / 2)
        QTest.mouseMove(bench, end)
        QTest.mouseRelease(bench, Qt.MouseButton.LeftButton, shift, end)

    def _stage(self) -> None:
        self._window.show_stage(self._dice.choice([one.key for one in stages()]))

    def _undo(self) -> None:
        for _ in range(self._dice.randrange(1, 6)):
            self._dice.choice((self._window.session.undo, self._window.session.undo, self._window.session.redo))()
            QTest.qWait(0)  # as between two presses of a key

    def _theme(self) -> None:
        self._window.help.switch_theme()

    def _size(self) -> None:
        self._window.resize(*self._dice.choice(((1280, 800), (1600, 1000), (1920, 1080))))

    # -- what it is asked -----------------------------------------------------------------------------------------

    def _answer(self) -> None:
        """Answer the dialog or menu that is open."""
        menu = self._app.activePopupWidget()
        if isinstance(menu, QMenu):
            ready = [one for one in menu.actions() if one.isEnabled() and one.menu() is None and "Quit" not in one.text()]
            menu.close()
            if ready and self._dice.random() < 0.6:
                self._dice.choice(ready).trigger()
            return
        if menu is not None:
            menu.close()
            return
        dialog = self._app.activeModalWidget()
        if isinstance(dialog, QFileDialog):
            self._file(dialog)
        elif isinstance(dialog, QInputDialog):
            dialog.setTextValue(self._dice.choice(_TYPED))
            self._dice.choice((dialog.accept, dialog.reject))()
        elif isinstance(dialog, QMessageBox):
            self._dice.choice(dialog.buttons()).click()
        elif isinstance(dialog, QDialog):
            dialog.reject()

    def _file(self, dialog: QFileDialog) -> None:
        if self._dice.random() < 0.3:
            dialog.reject()
            return
        dialog.setOption(QFileDialog.Option.DontConfirmOverwrite)  # nobody answers a dialog of this dialog
        names = ["a.svg", "b.svg", "c.svg", "p.oglow", "q.oglow", "nowhere.svg", "order.zip", "order"]
        if dialog.acceptMode() == QFileDialog.AcceptMode.AcceptOpen:
            names = [name for name in names if (self._folder / name).is_file()]
        [line] = [one for one in dialog.findChildren(QLineEdit) if one.objectName() == "fileNameEdit"]
        line.setText(str(self._folder / self._dice.choice(names)))
        QTest.keyClick(line, Qt.Key.Key_Return)
        if dialog.isVisible():
            dialog.reject()

    # -- what it watches ------------------------------------------------------------------------------------------

    def _ticked(self) -> None:
        now = time.monotonic()
        late = now - self._last - _TICK
        if late > _SILENT:
            self.found.silences[self._now] += 1
        if late > self.found.longest_s:
            self.found.longest_s, self.found.longest_at = late, self._now
        self._last = now

    def _trace(self, traces: TextIO) -> None:
        told = 0.0
        while self._watched:
            time.sleep(_TICK)
            if time.monotonic() - self._last > _SILENT and told != self._last:
                told = self._last
                traces.write(f"== {self._now}\n" + _where_all_are())
                traces.flush()

    def _said(self, kind: object, where: object, words: str | None) -> None:
        if words and not any(one in words for one in _HARMLESS):
            self.found.wrong.append(f"{self._now}: Qt says {words}")

    def _raised(self, kind: type[BaseException], error: BaseException, trace: object) -> None:
        told = "".join(traceback.format_exception(kind, error, error.__traceback__))
        self.found.wrong.append(f"{self._now}: {told}")


def _where_all_are() -> str:
    """File and line of every call of every thread. Nothing else may run meanwhile: a painter whose frame is held lives on."""
    turn = sys.getswitchinterval()
    sys.setswitchinterval(60)
    rows = []
    for frame in sys._current_frames().values():
        rows.append("")
        while frame is not None:
            rows.append(f"{frame.f_code.co_filename}:{frame.f_lineno} {frame.f_code.co_name}")
            frame = frame.f_back  # type: ignore[assignment]
    sys.setswitchinterval(turn)
    return "\n".join(rows) + "\n"


def _parting(one: object, other: object, key: str = "project") -> str:
    """Where two values part, for the report."""
    fields = getattr(one, "__struct_fields__", ())
    for name in fields:
        here, there = getattr(one, name), getattr(other, name)
        if here != there:
            return _parting(here, there, f"{key}.{name}")
    return f"{key} is {str(one)[:300]}, was {str(other)[:300]}"


def main() -> int:
    """A long run."""
    count, seed = int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1
    shared = "/dev/shm" if os.path.isdir("/dev/shm") else None
    with tempfile.TemporaryDirectory() as name, tempfile.TemporaryDirectory(dir=shared) as memory:
        os.environ.update(HOME=name, XDG_STATE_HOME=f"{name}/state", XDG_DATA_HOME=f"{name}/data")
        os.environ.setdefault("XDG_RUNTIME_DIR", memory)  # as every desktop session has one
        app = QApplication(["random hand"])
        begun = time.monotonic()
        with open(sys.argv[3] if len(sys.argv) > 3 else os.devnull, "w") as traces:
            found = RandomHand(app, Path(name), seed, traces).run(count)
    for one in found.wrong[:20]:
        print(one)
    print(f"{sum(found.actions.values())} actions in {time.monotonic() - begun:.0f} s, {len(found.wrong)} wrong")
    print(f"longest without an answer: {found.longest_s:.2f} s at {found.longest_at}")
    print(f"{sum(found.silences.values())} over {_SILENT} s: {dict(found.silences.most_common(30))}")
    sys.stdout.flush()
    os._exit(1 if found.wrong else 0)


if __name__ == "__main__":
    raise SystemExit(main())
