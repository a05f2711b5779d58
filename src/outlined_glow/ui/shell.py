"""The window: string, bench, drawer and ledger round one session."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

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

from ..core.words import printable
from ..report import hard_ends, write_report
from .actions import Actions
from .core_door import core, warm
from .drawers import DRAWERS, make_drawer
from .entries import BY_HAND, entries
from .files import Files
from .jobs import Jobs
from .ledger import Ledger
from .light_string import LightString
from .recent import read_state, remember_file, state_folder, write_state
from .session import Session
from .start import BeginDrawer, StartPage
from .theme import darken_room, theme, theme_for, use_theme
from .toast import Toast
from .working import Working

if TYPE_CHECKING:
    from .bench.area import BenchArea

#: The bench is made ready soon after the first window stands.
_BENCH_AFTER_MS = 400


class MainWindow(QMainWindow):
    """Connects the parts; each part knows only the session."""

    def __init__(self) -> None:
        super().__init__()
        _use_remembered_look()
        self.jobs = Jobs(self)
        self.session = Session(self.jobs)
        self.stage = "artwork"
        self.string = LightString()
        self.start = StartPage()
        self._area: BenchArea | None = None
        self.begin = BeginDrawer()
        self.ledger = Ledger()
        self.drawers: dict[str, Any] = {}
        self.centre = QStackedWidget()
        self.centre.addWidget(self.start)
        self.drawer_stack = QStackedWidget()
        self.drawer_stack.setFixedWidth(320)
        self.drawer_stack.addWidget(self.begin)
        self.toast = Toast(self)
        self.files = Files(self, self.session, self.toast.say)
        self.working = Working(self.centre, self.jobs)
        self.actions_ = Actions(self, entries(self))
        self.start.show_keys(self.actions_.entries)
        self._fresh = True
        self._failing = False
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

    def _connect(self) -> None:
        session = self.session
        session.project_changed.connect(self._project_changed)
        session.work_ready.connect(self._work_ready)
        session.findings_ready.connect(self._findings_ready)
        session.trouble.connect(self.tell)
        session.said.connect(self.toast.say)
        self.jobs.broke.connect(self.show_failure)
        session.closed.connect(self.show_start)
        session.stopped.connect(lambda: self.begin.state.setText("nothing on the bench yet"))
        self.working.stopped.connect(session.stop)
        stop = self.actions_.by_name["stop"]
        stop.setEnabled(False)  # so that Escape is free for fields and lists while there is nothing to stop
        self.working.shown.connect(stop.setEnabled)
        self.string.chosen.connect(self.show_stage)
        self.ledger.wanted.connect(self.show_stage)
        self.ledger.play_toggled.connect(lambda: self.area.toggle_play())
        self.start.demo_wanted.connect(self.files.open_demo)
        self.start.file_dropped.connect(lambda path: self.files.open(path, self.start.zone.chosen_width))
        self.start.picture_wanted.connect(lambda: self.files.choose_picture(self.start.zone.chosen_width))
        self.begin.open_wanted.connect(self.files.choose)
        self.begin.file_wanted.connect(self.files.open)
        self.begin.left_wanted.connect(self.files.take_up_left)
        self.files.reading.connect(self.begin.state.setText)

    @property
    def area(self) -> BenchArea:
        """The bench and what lies round it, made when it is first needed: the start page stands without it."""
        if self._area is None:
            self._area = self._make_area()
        return self._area

    def _make_area(self) -> BenchArea:
        from .bench.area import BenchArea

        area = BenchArea(self.session, self.jobs)
        self.centre.addWidget(area)
        area.add_tool_widget(self.actions_.menu_button())
        area.add_tools(self.actions_.tools())
        area.moment.connect(self.ledger.show_now)
        area.room_changed.connect(self._icons)
        area.playing_changed.connect(self.ledger.refresh_icons)
        area.bench.dropped.connect(self.files.open)
        area.bench.moves = not read_state().get("still")
        self.actions_.refresh_icons()
        return area

    def _restore(self) -> None:
        geometry = read_state().get("geometry")
        if isinstance(geometry, str):
            self.restoreGeometry(QByteArray.fromBase64(geometry.encode()))
        app = QApplication.instance()
        hints = app.styleHints() if isinstance(app, QApplication) else None
        if hints is not None:
            hints.colorSchemeChanged.connect(lambda _: self._follow_look())
        self._icons()

    def _icons(self) -> None:
        self.actions_.refresh_icons()
        if self._area is not None:
            self._area.refresh_icons()
        self.ledger.refresh_icons(self._area is not None and self._area.playing)
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
        for report in hard_ends()[-1:]:
            from .help.failure import Failure

            kept = "What was open then is offered under “After a sudden end”, as far as it had unsaved edits."
            Failure(self, "The program ended without warning the last time.", kept, report, None).open()
        self.jobs.submit("warm", lambda cancelled: warm(), lambda _: None, self.tell)
        QTimer.singleShot(_BENCH_AFTER_MS, lambda: self.area)

    # -- stages and events ----------------------------------------------------------------------------------------

    def show_start(self) -> None:
        """Nothing lies on the bench."""
        if self._area is not None:
            self._area.clear()
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

    def show_failure(self, error: BaseException) -> None:
        """Something nobody expected: what happened, what is kept, and the report; one at a time."""
        from .help.failure import Failure

        last = self.session.history.steps[self.session.history.place] if self.session.history is not None else "nothing open"
        try:
            report = write_report(error, f"{self.stage}; last step: {last}")
        except OSError as problem:
            self.tell(f"Something went wrong inside the program, and no report could be written ({problem.strerror}).")
            return
        if self._failing:
            return
        self._failing = True
        history = self.session.history
        kept = "Nothing was open, so nothing is lost."
        if history is not None:
            kept = f"Your work is kept: “{history.project.name}” stands as after “{last}”, and the journal holds that too."
        happened = f"{type(error).__name__}: {str(error) or 'no further word'}"
        Failure(self, printable(happened)[:300], kept, report, self.files.save_as if history is not None else None).exec()
        self._failing = False

    def export(self) -> None:
        """Ask where to, and let the order drawer write the package there."""
        if self.session.project is None:
            return
        drawer: Any = self.drawer("order")
        target = self.files.choose_export()
        if target is not None:
            drawer.export_to(target)

    # -- looks ------------------------------------------------------------------------------------------------------

    def switch_theme(self) -> None:
        """Dusk to paper and back."""
        self.use_look("paper" if theme().name == "dusk" else "dusk")

    def use_look(self, look: str) -> None:
        """Dusk, paper, or as the desktop says; remembered."""
        write_state(theme=look)
        self._follow_look()

    def _follow_look(self) -> None:
        app = QApplication.instance()
        if isinstance(app, QApplication):
            use_theme(app, theme_for(app, read_state().get("theme", "desktop")))
        self._icons()
        if self.session.work is not None:
            self.area.leaves.show_work(self.session.work)
        for widget in self.findChildren(QWidget):
            widget.update()

    def show_keys(self) -> None:
        """The sheet of keys."""
        from .help.keys import KeySheet

        KeySheet(self, self.actions_.entries, BY_HAND).exec()

    def show_settings(self) -> None:
        """The settings."""
        from .help.settings import Settings

        state = read_state()
        dialog = Settings(self, str(state.get("theme", "desktop")), bool(state.get("still")), state_folder())
        dialog.look_chosen.connect(self.use_look)
        dialog.still_chosen.connect(self._be_still)
        dialog.forgotten.connect(self._forget_recent)
        dialog.exec()

    def _be_still(self, still: bool) -> None:
        write_state(still=still)
        if self._area is not None:
            self._area.bench.moves = not still

    def _forget_recent(self) -> None:
        write_state(recent=[])
        self.begin.refresh()

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
        if self._area is not None:
            self._area.pause()
        self.session.close_project()
        self.jobs.close()
        event.accept()

    def later(self, run: Any) -> None:
        """Run something once the window has painted."""
        QTimer.singleShot(0, run)


def _use_remembered_look() -> None:
    """Before the first widget is made, so that all of them measure with the shipped font."""
    app = QApplication.instance()
    if isinstance(app, QApplication):
        use_theme(app, theme_for(app, read_state().get("theme", "desktop")))
