"""The bench with what lies round it: tools, sun, turn over, leaves, score, the ways to drive LEDs."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import QElapsedTimer, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QAction, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QToolButton, QWidget

from ..core_door import core
from ..fields import Choice
from ..icons import icon
from ..jobs import Jobs
from ..session import Session
from ..theme import darken_room
from .bench import Bench
from .kept import StillButton, StillPanel
from .leaves import Leaves
from .rulers import LEFT
from .score import Score
from .steps import Steps
from .sun import SunSlider
from .ways import Ways

_FRAME_MS = 33
#: What lies at the left leaves the ruler its edge, px.
_BESIDE_RULER = LEFT + 3


class BenchArea(QWidget):
    """Puts the overlays in their places and plays the pattern."""

    moment = pyqtSignal(float, float)  # share of the full current, phase
    playing_changed = pyqtSignal(bool)
    room_changed = pyqtSignal()
    scene_changed = pyqtSignal(str)

    def __init__(self, session: Session, jobs: Jobs) -> None:
        super().__init__()
        self._session = session
        self.bench = Bench(session, jobs)
        self.bench.setParent(self)
        self.score = Score()
        self.score.setParent(self)
        self.score.hide()
        self.ways = Ways()
        self.ways.setParent(self)
        self.ways.hide()
        self.sun = SunSlider()
        self.sun.setParent(self)
        self.leaves = Leaves(jobs)
        self.leaves.setParent(self)
        self.tools = StillPanel(self)
        self.steps = Steps(self)
        self.steps.wanted.connect(session.go)
        self.steps.closed.connect(self.toggle_steps)
        self._tool_row = QHBoxLayout(self.tools)
        self._tool_row.setContentsMargins(4, 1, 4, 1)
        self._tool_row.setSpacing(1)
        self.turn = StillButton()
        self.turn.setParent(self)
        self.turn.setObjectName("turn")
        self.turn.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        self.turn.setAccessibleName("Turn over")
        self.turn.clicked.connect(lambda _=False: self.bench.turn_over())
        for one in (self.sun, self.leaves, self.tools, self.turn):
            self.bench.carry(one)
        self._build_boards()
        session.boards_changed.connect(self._show_boards)
        self._tool_actions: list[tuple[QToolButton, QAction, str]] = []
        self._timer = QTimer(self)
        self._timer.setInterval(_FRAME_MS)
        self._timer.timeout.connect(self._tick)
        self._clock = QElapsedTimer()
        self._started_at, self._slower = 0.0, 1.0
        self._run: Any = None
        self.sun.changed.connect(self._sun)
        self.leaves.alone.connect(lambda _: self._layers())
        self.leaves.hid.connect(lambda _: self._layers())
        self.bench.turned.connect(lambda _: self._show_side())
        self.score.scrubbed.connect(self._scrub)
        self.score.wanted.connect(session.edit)
        self.score.grown.connect(self._score_grown)
        self._show_side()

    def _build_boards(self) -> None:
        """What chooses the board in view."""
        self.boards = Choice(())
        self.boards.setParent(self)
        self.boards.setObjectName("boards")
        self.boards.setAccessibleName("Board in view")
        self.boards.setToolTip("The board on the bench")
        self.boards.activated.connect(lambda at: self._session.show_board(self._session.boards[at]))
        self.boards.hide()

    # -- tools ----------------------------------------------------------------------------------------------------

    def add_tools(self, actions: Sequence[tuple[QAction | None, str]]) -> None:
        """Icon buttons for actions, upper left; None leaves a gap."""
        for action, name in actions:
            if action is None:
                self._tool_row.addSpacing(8)
                continue
            one = StillButton()
            one.setDefaultAction(action)
            one.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonIconOnly)
            one.setAccessibleName(action.text().replace("&", ""))
            self._tool_row.addWidget(one)
            self.tools.stand(one)
            self._tool_actions.append((one, action, name))
        self.refresh_icons()

    def add_tool(self, button: StillButton) -> None:
        """One more button, before the tools."""
        self._tool_row.insertWidget(0, button)
        self.tools.stand(button)

    def refresh_icons(self) -> None:
        """Icons in the colours of the theme."""
        for _, action, name in self._tool_actions:
            action.setIcon(icon(name, bench=True))
            action.setIconVisibleInMenu(False)  # drawn for the bench, whose colours are not a menu's
        self.turn.setIcon(icon("refresh-cw", "lamp", 16))
        self.turn.update()
        self.tools.update()
        self._place()

    def _show_side(self) -> None:
        side = self.bench.camera.side
        self.turn.setText(" front, turn over" if side == "front" else " back, turn over")
        self.turn.setToolTip("Turn the board over (T)")
        self.turn.update()
        self._place()

    def _show_boards(self) -> None:
        """The boards to choose from, where there are several."""
        names = self._session.boards
        self.boards.setVisible(len(names) > 1)
        self.boards.clear()
        self.boards.addItems(names)
        if self._session.board in names:
            self.boards.setCurrentIndex(names.index(self._session.board))
        self._place()

    def _sun(self, sun: float) -> None:
        if darken_room(sun):
            self.room_changed.emit()
            self.leaves.update()
        self.bench.set_sun(sun)

    # -- stages ---------------------------------------------------------------------------------------------------

    def show_stage(self, stage: str) -> None:
        """Raise or lower what belongs to a stage."""
        risen = {"motion": self.score, "drive": self.ways}
        wanted = risen[stage].height() if stage in risen else 0
        changed = wanted != self.bench.bottom_margin
        for key, panel in risen.items():
            panel.setVisible(key == stage)
        self.leaves.setVisible(stage not in risen)
        self.bench.bottom_margin = wanted
        if stage == "artwork" and self.bench.wipe is None:
            self.bench.set_wipe(0.5)
            self.bench.redraw()
        self.bench.show_stage(stage)
        if changed:
            self.bench.fit()
        self._place()

    def show_real(self, on: bool) -> None:
        """Play what the LEDs can do as they are driven, or what is wanted."""
        self.bench.set_real(on)
        if on and self.bench.time_s is None:
            self._at(0.0)

    def turn_knob(self, name: str, at: float) -> None:
        """A knob of the board is turned: what plays is as it is then, until it is let go."""
        work = self._session.work
        if work is not None and work.leds:
            self.bench.set_turned(core("feed_edits").turned_to(work.project.motion, name, at))
            if self.bench.time_s is None:
                self._at(0.0)

    def _score_grown(self) -> None:
        """The score has more rows: the board makes room."""
        if not self.score.isHidden():
            self.show_stage("motion")

    def toggle_steps(self) -> None:
        """Show the list of steps, or put it away."""
        shown = not self.steps.isHidden()
        self.steps.setVisible(not shown)
        if shown:
            self.bench.setFocus()
        else:
            self.show_history()
            self.steps.raise_()
            self.steps.list.setFocus()

    def show_history(self) -> None:
        """Bring the list of steps up to date, if it is shown."""
        if not self.steps.isHidden():
            self.steps.show_history(self._session.history, self._session.path is not None)

    def show_work(self, work: Any, first: bool) -> None:
        """A new board."""
        self.bench.by_hand = None
        self.bench.show_work(first)
        self.leaves.show_work(work)
        self.score.show_work(work)
        if not work.leds:
            self.stop()
        self._tell()

    def clear(self) -> None:
        """No board."""
        self.stop()
        self.leaves.reset()
        self.steps.hide()
        self.bench.clear()

    def _layers(self) -> None:
        self.bench.set_layers(self.leaves.hidden_layers, self.leaves.alone_layer)

    # -- playing --------------------------------------------------------------------------------------------------

    @property
    def playing(self) -> bool:
        """Whether the pattern runs."""
        return self._timer.isActive()

    def toggle_play(self) -> None:
        """Run the pattern, or hold it where it is."""
        if self.playing:
            self.pause()
        elif self._session.work is not None and self._session.work.leds:
            self._started_at = self.bench.time_s or 0.0
            self._begin_scenes()
            self._clock.start()
            self._timer.start()
            self.bench.renders.prepare_to_play()
            self.playing_changed.emit(True)

    def _played_s(self) -> float:
        """For how long it has played, in its own time."""
        return self._clock.elapsed() / 1000 / self._slower

    def play_slower(self, times: float) -> None:
        """Play so many times slower than it is; from ten times on the pulses of its lights are seen."""
        if self.playing:
            self._started_at = self.bench.time_s or 0.0
            self._begin_scenes()
            self._clock.start()
        self._slower = times
        self.bench.span_s = _FRAME_MS / 1000 / times if times > 1 else None
        if self.bench.time_s is None:
            self._at(0.0)
        else:
            self.bench.redraw()

    def pause(self) -> None:
        """Hold the pattern where it is."""
        if self._timer.isActive():
            self._timer.stop()
            self._run = None
            self.bench.set_dark(False)
            self.scene_changed.emit("–")
            self.playing_changed.emit(False)

    def stop(self) -> None:
        """Light everything again."""
        self.pause()
        self.bench.set_time(None)
        self._tell()

    def _begin_scenes(self, last: str = "") -> None:
        """From power-on: the first scene, where there are any, or the last one after a power cut."""
        work = self._session.work
        there = work is not None and bool(work.project.motion.scenes)
        self._run = core("scenes").Run(work.project.motion, last) if there else None

    def cut_power(self) -> None:
        """The power fails and comes back: what was kept goes on, all else begins anew."""
        last = self._run.scene.name if self._run is not None and self._run.scene is not None else ""
        if not self.playing:
            self.toggle_play()
        self._begin_scenes(last)
        self._clock.start()
        self._tick()

    def press(self, kind: str, button: str) -> None:
        """A button of the board is pressed; what does not play yet is switched on first."""
        if not self.playing:
            self.toggle_play()
        if self._run is not None:
            self._run.press(kind, button, self._played_s())
            self._tick()

    def _tick_scenes(self) -> None:
        """Where the scenes are."""
        work, now = self._session.work, self._played_s()
        if work is None:
            return
        motion = self.bench.by_hand or work.project.motion  # with a knob in the hand
        if self._run.motion != motion and not self._run.goes_on_with(motion):
            self._begin_scenes()
            if self._run is None:
                return
            self._clock.start()
            now = 0.0
        self._run.go(now)
        moment = self._run.score_s(now)
        self.scene_changed.emit("off" if self._run.scene is None else self._run.scene.name)
        self.bench.set_dark(moment is None)
        if moment is None and self.bench.time_s is None:
            self.bench.set_time(0.0)
        if moment is not None:
            self._at(moment)

    def _tick(self) -> None:
        if self._run is not None:
            self._tick_scenes()
            return
        now = self._started_at + self._played_s()
        if self.score.loop is not None:
            start, end = self.score.loop
            now = start + self._played_s() % (end - start)
        self._at(now)

    def _scrub(self, time_s: float) -> None:
        self.pause()
        self._at(time_s)

    def _at(self, time_s: float) -> None:
        work = self._session.work
        if work is None:
            return
        self.bench.set_time(time_s % work.project.motion.seconds)
        self._tell()

    def _tell(self) -> None:
        work, time_s = self._session.work, self.bench.time_s
        if work is None or not work.leds:
            return
        motion = work.project.motion
        if time_s is None:
            self.moment.emit(1.0 if motion.score else motion.brightness, 0.0)
            self.score.show_time(0.0)
            return
        share = float(core("score").current_shares(motion, work.lamps, [time_s])[0])
        self.moment.emit(share, (time_s / motion.seconds) % 1.0)
        self.score.show_time(time_s)

    # -- layout ---------------------------------------------------------------------------------------------------

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._place()

    def _place(self) -> None:
        width, height = self.width(), self.height()
        self.bench.setGeometry(0, 0, width, height)
        for panel in (self.score, self.ways):
            panel.setGeometry(0, height - panel.height(), width, panel.height())
        self.tools.adjustSize()
        self.tools.move(_BESIDE_RULER, 13)
        self.steps.move(_BESIDE_RULER, self.tools.y() + self.tools.height() + 8)
        self.turn.adjustSize()
        self.turn.move(width - self.turn.width() - 16, 14)
        self.boards.setMaximumWidth(max(120, self.turn.width()))
        self.boards.adjustSize()
        self.boards.move(width - self.boards.width() - 16, self.turn.y() + self.turn.height() + 8)
        left = self.tools.x() + self.tools.width() + 10
        right = self.turn.x() - 10
        self.sun.move(max(left, min((width - self.sun.width()) // 2, right - self.sun.width())), 12)
        self.leaves.move(_BESIDE_RULER, height - self.leaves.height() - 22)
