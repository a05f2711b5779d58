"""The window: string, bench, drawer and ledger round one session."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import QByteArray, QTimer
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QMainWindow,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from .actions import Actions, Entry
from .bench import BenchArea
from .core_door import core, warm
from .drawers import DRAWERS, make_drawer
from .files import Files
from .jobs import Jobs
from .ledger import Ledger
from .light_string import STAGES, LightString
from .recent import read_state, remember_file, write_state
from .session import Session
from .start import BeginDrawer, StartPage
from .theme import darken_room, theme, use_theme
from .toast import Toast


class MainWindow(QMainWindow):
    """Connects the parts; each part knows only the session."""

    def __init__(self) -> None:
        super().__init__()
        _use_remembered_theme()
        self.jobs = Jobs(self)
        self.session = Session(self.jobs)
        self.stage = "artwork"
        self.string = LightString()
        self.start = StartPage()
        self.area = BenchArea(self.session, self.jobs)
        self.begin = BeginDrawer()
        self.ledger = Ledger()
        self.drawers: dict[str, Any] = {}
        self.centre = QStackedWidget()
        self.centre.addWidget(self.start)
        self.centre.addWidget(self.area)
        self.drawer_stack = QStackedWidget()
        self.drawer_stack.setFixedWidth(320)
        self.drawer_stack.addWidget(self.begin)
        self.toast = Toast(self)
        self.files = Files(self, self.session, self.toast.say)
        self.actions_ = Actions(self, self._entries())
        self._fresh = True
        self._lay_out()
        self._connect()
        self.resize(1280, 800)
        self.setMinimumSize(980, 640)
        self._restore()
        self.show_start()

    # -- putting together ---------------------------------------------------------------------------------------

    def _lay_out(self) -> None:
        root = QWidget()
        self.setProperty("plays", True)
        outer = QHBoxLayout(root)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        outer.addWidget(self.string)
        right = QVBoxLayout()
        right.setContentsMargins(0, 0, 0, 0)
        right.setSpacing(0)
        upper = QHBoxLayout()
        upper.setContentsMargins(0, 0, 0, 0)
        upper.setSpacing(0)
        upper.addWidget(self.centre, 1)
        upper.addWidget(self.drawer_stack)
        right.addLayout(upper, 1)
        right.addWidget(self.ledger)
        outer.addLayout(right, 1)
        self.setCentralWidget(root)
        self.area.add_tool_widget(self.actions_.menu_button())
        self.area.add_tools(self.actions_.tools())

    def _connect(self) -> None:
        session = self.session
        session.project_changed.connect(self._project_changed)
        session.work_ready.connect(self._work_ready)
        session.findings_ready.connect(self._findings_ready)
        session.trouble.connect(self.tell)
        session.closed.connect(self.show_start)
        self.string.chosen.connect(self.show_stage)
        self.ledger.wanted.connect(self.show_stage)
        self.ledger.play_toggled.connect(self.area.toggle_play)
        self.area.moment.connect(self.ledger.show_now)
        self.area.room_changed.connect(self._icons)
        self.area.playing_changed.connect(self.ledger.refresh_icons)
        self.area.bench.dropped.connect(self.files.open)
        self.start.demo_wanted.connect(self.files.open_demo)
        self.start.file_dropped.connect(lambda path: self.files.open(path, self.start.zone.chosen_width))
        self.start.picture_wanted.connect(lambda: self.files.choose_picture(self.start.zone.chosen_width))
        self.begin.open_wanted.connect(self.files.choose)
        self.begin.file_wanted.connect(self.files.open)
        self.begin.left_wanted.connect(self.files.take_up_left)
        self.files.reading.connect(self.begin.state.setText)

    def _restore(self) -> None:
        geometry = read_state().get("geometry")
        if isinstance(geometry, str):
            self.restoreGeometry(QByteArray.fromBase64(geometry.encode()))
        self._icons()

    def _icons(self) -> None:
        self.actions_.refresh_icons()
        self.area.refresh_icons()
        self.ledger.refresh_icons(self.area.playing)
        self.actions_.refresh_icons()

    def drawer(self, key: str) -> Any:
        """The drawer of a stage, made when it is first opened."""
        if key not in self.drawers:
            one: Any = make_drawer(key, self.session)
            one.show_place.connect(self._show_place)
            one.go.connect(self.show_stage)
            if key == "lights":
                one.selected.connect(self.area.bench.select)
                self.area.bench.selected_array.connect(one.select)
            if key == "order":
                one.export_wanted.connect(self.export)
            if key == "artwork":
                one.wipe.setChecked(True)
                one.wipe.switched.connect(lambda on: self.area.bench.set_wipe(0.5 if on else None))
            self.drawers[key] = one
            self.drawer_stack.addWidget(one)
            if self.session.work is not None:
                one.show_work(self.session.work)
            if self.session.findings is not None:
                one.show_findings(self.session.findings)
        return self.drawers[key]

    def warm_up(self) -> None:
        """Load the core once the window stands, and look for work that was left behind."""
        self.begin.show_left()
        self.jobs.submit("warm", lambda cancelled: warm(), lambda _: None, self.tell)

    # -- stages and events ----------------------------------------------------------------------------------------

    def show_start(self) -> None:
        """Nothing lies on the bench."""
        self.area.clear()
        darken_room(1.0)
        self.begin.refresh()
        if self.isVisible():
            self.begin.show_left()
        self.begin.state.setText("nothing on the bench yet")
        self.centre.setCurrentWidget(self.start)
        self.drawer_stack.setCurrentWidget(self.begin)
        self.string.show_current(self.stage, False)
        self.ledger.empty()
        self.setWindowTitle("Outlined Glow")
        self.actions_.refresh(self.session.history)
        self.start.demos[0].setFocus()

    def show_stage(self, key: str) -> None:
        """Open a stage."""
        if self.session.project is None or key not in DRAWERS:
            return
        self.stage = key
        drawer: Any = self.drawer(key)
        self.drawer_stack.setCurrentWidget(drawer)
        self.string.show_current(key, True)
        self.area.bench.show_marks((), "note", False)
        self.area.show_stage(key)
        if key == "lights":
            self.area.bench.select(drawer.array)

    def _project_changed(self, project: Any) -> None:
        self.actions_.refresh(self.session.history)
        self.area.show_history()
        mark = " •" if self.session.unsaved else ""
        self.setWindowTitle(f"{project.name}{mark} – Outlined Glow")
        if self.session.work is None:
            self._fresh = True
            if self.session.path is not None:
                remember_file(self.session.path)
            darken_room(self.area.sun.sun)
            self._icons()
            self.area.clear()
            self.area.leaves.reset()
            self.area.bench.set_layers(frozenset(), "")
            self.centre.setCurrentWidget(self.area)
            self.show_stage("artwork")
            self.area.bench.setFocus()

    def _work_ready(self, work: Any) -> None:
        self.area.show_work(work, self._fresh)
        self._fresh = False
        self.ledger.show_work(work)
        for one in self.drawers.values():
            one.show_work(work)
        self._light_up(work, self.session.findings or ())

    def _findings_ready(self, findings: Any) -> None:
        self.ledger.show_findings(findings)
        for one in self.drawers.values():
            one.show_findings(findings)
        self._light_up(self.session.work, findings)

    def _light_up(self, work: Any, findings: Any) -> None:
        self.string.show_states(core("facts").stage_states(work, findings, tuple(DRAWERS)))

    def _show_place(self, finding: Any) -> None:
        places = finding.places or ([(finding.x_mm, finding.y_mm)] if finding.x_mm is not None else [])
        on_back = finding.layer is not None and finding.layer.startswith("back")
        if places and (self.area.bench.camera.side == "back") != on_back:
            self.area.bench.turn_over()
        self.area.bench.show_marks(places, finding.severity, True)

    def tell(self, words: str) -> None:
        """One sentence to the user, over the bench."""
        self.begin.state.setText("nothing on the bench yet")
        self.toast.say(words)

    def export(self) -> None:
        """Ask where to, and let the order drawer write the package there."""
        if self.session.project is None:
            return
        drawer: Any = self.drawer("order")
        target = self.files.choose_export()
        if target is not None:
            drawer.export_to(target)

    # -- actions ----------------------------------------------------------------------------------------------------

    def _entries(self) -> list[Entry]:
        """Everything one can do, in the order of the menu."""
        bench, files, session = self.area.bench, self.files, self.session
        return [
            Entry("new", "New…", "Ctrl+N", files.close, "Put this away and begin with a picture", needs=True),
            Entry("open", "Open…", "Ctrl+O", files.choose, "Open a project or begin from a picture"),
            Entry("save", "Save", "Ctrl+S", files.save, "Save the project", needs=True),
            Entry("save-as", "Save as…", "Ctrl+Shift+S", files.save_as, "Save under another name", needs=True),
            Entry("export", "Export the package…", "Ctrl+E", self.export, "Write the files of the order", needs=True),
            Entry("close", "Close the project", "Ctrl+W", files.close, "Put the project away", needs=True),
            Entry("quit", "Quit", "Ctrl+Q", self.close, "Leave Outlined Glow"),
            Entry("undo", "Undo", "Ctrl+Z", session.undo, "Take the last step back", needs=True, group=True),
            Entry("redo", "Redo", "Ctrl+Shift+Z", session.redo, "Do it again", needs=True),
            Entry(
                "steps", "Steps", "Ctrl+H", self.area.toggle_steps, "Every step of this project; go to any of them", needs=True
            ),
            Entry("fit", "Fit the board", "F", bench.fit, "The whole board in view", needs=True, group=True),
            Entry("nearer", "Nearer", "+", lambda: bench.zoom_by(1.25), "Zoom in", needs=True),
            Entry("farther", "Farther", "-", lambda: bench.zoom_by(0.8), "Zoom out", needs=True),
            Entry("turn", "Turn over", "T", bench.turn_over, "See the other side", needs=True),
            Entry("night", "Noon to night", "N", self.noon_to_night, "Noon, dusk, night, and round again", group=True),
            Entry("play", "Play or pause", "Space", self.area.toggle_play, "Run the pattern", needs=True),
            Entry("all-on", "All lit", "Home", self.area.stop, "Stop the pattern and light every LED", needs=True),
            Entry("theme", "Dusk or paper", "Ctrl+T", self.switch_theme, "Switch between the dark and the light look"),
            *(
                Entry(f"stage-{one.key}", one.title, str(one.number), partial(self.show_stage, one.key), one.tip, True, not at)
                for at, one in enumerate(STAGES)
            ),
        ]

    # -- looks ------------------------------------------------------------------------------------------------------

    def switch_theme(self) -> None:
        """Dusk to paper and back."""
        name = "paper" if theme().name == "dusk" else "dusk"
        app = QApplication.instance()
        if isinstance(app, QApplication):
            use_theme(app, name)
        write_state(theme=name)
        self._icons()
        if self.session.work is not None:
            self.area.leaves.show_work(self.session.work)
        for widget in self.findChildren(QWidget):
            widget.update()

    def noon_to_night(self) -> None:
        """Noon, dusk, night, and round again."""
        slider = self.area.sun if self.session.project is not None else self.start.sun
        slider.set_sun(0.35 if slider.sun > 0.6 else 0.12 if slider.sun > 0.2 else 1.0)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if not self.files.may_close():
            event.ignore()
            return
        state = self.saveGeometry().toBase64()
        write_state(geometry=bytes(state.data()).decode())
        self.area.pause()
        self.session.close_project()
        self.jobs.close()
        event.accept()

    def later(self, run: Any) -> None:
        """Run something once the window has painted."""
        QTimer.singleShot(0, run)


def _use_remembered_theme() -> None:
    """Before the first widget is made, so that all of them measure with the shipped font."""
    use = read_state().get("theme", "dusk")
    app = QApplication.instance()
    if isinstance(app, QApplication):
        use_theme(app, use if use in ("dusk", "paper") else "dusk")
