"""The window: string, bench, drawer and ledger round one session."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QByteArray, Qt, QTimer
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QMainWindow,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ..core.stages import stages
from .actions import Actions
from .core_door import core, warm
from .drawers import make_drawer
from .entries import entries
from .files import Files
from .help.door import Help, use_remembered_look
from .jobs import Jobs
from .ledger import Ledger
from .light_string import LightString
from .recent import read_state, remember_file, write_state
from .session import Session
from .start import BeginDrawer, StartPage
from .theme import darken_room, keep_in_theme
from .toast import Toast
from .window_first import window_first
from .working import Working

if TYPE_CHECKING:
    from ..core.project.history import History
    from .bench.area import BenchArea

#: The bench is made ready soon after the first window stands.
_BENCH_AFTER_MS = 400
#: The drawers that nobody opened yet are made once all is quiet for so long, and then one after another.
_QUIET_MS, _NEXT_MS = 900, 200


class MainWindow(QMainWindow):
    """Connects the parts; each part knows only the session."""

    def __init__(self) -> None:
        super().__init__()
        use_remembered_look()
        self.jobs = Jobs(self)
        self.session = Session(self.jobs)
        self.stages = {one.key: one for one in stages()}
        self.stage = "artwork"
        self.string = LightString()
        self.start = StartPage()
        self._area: BenchArea | None = None
        self.begin = BeginDrawer()
        self.ledger = Ledger()
        self.drawers: dict[str, Any] = {}
        self._behind: dict[str, set[str]] = {}  # by drawer: what of work and findings it has not been shown yet
        self.centre = QStackedWidget()
        self.centre.addWidget(self.start)
        self.drawer_stack = QStackedWidget()
        self.drawer_stack.setFixedWidth(320)
        self.drawer_stack.addWidget(self.begin)
        self.toast = Toast(self)
        self.files = Files(self, self.session, self.toast.say)
        self.help = Help(self, self.session, self.files.save_as, self.toast.say)
        self.working = Working(self.centre, self.jobs)
        self.actions_ = Actions(self, entries(self))
        self.start.show_keys(self.actions_.entries)
        self._fresh = True
        self._history: History | None = None
        #: The board that lies on the bench, and a finding to be marked once its board does.
        self._board_shown = ""
        self._to_mark: tuple[Any, int] | None = None
        self._quiet = QTimer(self)
        self._quiet.setSingleShot(True)
        self._quiet.timeout.connect(self._make_ahead)
        self._lay_out()
        for part in (self.start, self.begin, self.ledger, self.working):
            keep_in_theme(part)
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
        self.help.look_changed.connect(self._look_changed)
        self.help.still_changed.connect(self._be_still)
        self.help.forgotten.connect(self.begin.refresh)
        session.closed.connect(self.show_start)
        session.stopped.connect(lambda: self.begin.state.setText("nothing on the bench yet"))
        self.working.stopped.connect(session.stop)
        self.working.enough.connect(session.making.take_what_there_is)
        session.making.progressed.connect(self.working.progress)
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
        keep_in_theme(area)
        self.centre.addWidget(area)
        area.add_tool(self.actions_.menu_button())
        area.add_tools(self.actions_.tools())
        area.moment.connect(self.ledger.show_now)
        area.room_changed.connect(self._icons)
        area.playing_changed.connect(self.ledger.refresh_icons)
        area.bench.dropped.connect(self.files.dropped)
        area.bench.moves = not self.help.still
        self.working.under_board = lambda: area.bench.under_board if area.bench.renders.board is not None else None
        self.actions_.refresh_icons()
        return area

    def _restore(self) -> None:
        geometry = read_state().get("geometry")
        if isinstance(geometry, str):
            self.restoreGeometry(QByteArray.fromBase64(geometry.encode()))
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
            self._make(key)
        self._bring_up(key)
        return self.drawers[key]

    def _make(self, key: str) -> None:
        one: Any = make_drawer(self.stages[key], self.session)
        one.keep_in_theme()
        one.attach(self)
        self.drawers[key] = one
        self.drawer_stack.addWidget(one)
        self._behind[key] = {"work", "findings"}

    def _make_ahead(self) -> None:
        """Make one of the drawers that nobody opened yet, so that it is there at once when it is wanted."""
        key = next((key for key in self.stages if key not in self.drawers), "")
        if not key or self.session.project is None:
            return
        busy = not self.jobs.idle or QApplication.mouseButtons() != Qt.MouseButton.NoButton
        if not busy and QApplication.activeModalWidget() is None and QApplication.activePopupWidget() is None:
            self._make(key)
        self._quiet.start(_QUIET_MS if busy else _NEXT_MS)

    def _bring_up(self, key: str) -> None:
        """Show a drawer what has come since it was last in view; one that nobody sees costs an edit nothing."""
        behind = self._behind.get(key, set())
        work, findings = self.session.work, self.session.findings
        if "work" in behind and work is not None:
            behind.remove("work")
            self.drawers[key].show_work(work)
        if "findings" in behind and findings is not None:
            behind.remove("findings")
            self.drawers[key].show_findings(findings)

    def _come(self, what: str) -> None:
        """New work or findings are here: the drawer in view gets them now, the others when they are opened."""
        for behind in self._behind.values():
            behind.add(what)
        if self.stage in self.drawers:
            self._bring_up(self.stage)

    def warm_up(self) -> None:
        """Load the core once the window stands, and look for work that was left behind."""
        self.begin.show_left()
        self.help.show_hard_end()
        self.jobs.submit("warm", lambda cancelled: warm(), lambda _: None, self.tell)
        QTimer.singleShot(_BENCH_AFTER_MS, lambda: self.area)

    # -- stages and events ----------------------------------------------------------------------------------------

    def show_start(self) -> None:
        """Nothing lies on the bench."""
        self._history = None
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
        if self.session.project is None or key not in self.stages:
            return
        window_first()
        self.stage = key
        drawer: Any = self.drawer(key)
        self.drawer_stack.setCurrentWidget(drawer)
        self.string.show_current(key, True)
        self.area.bench.mark(None)
        self.area.show_stage(key)
        if key == "lights":
            self.area.bench.select(drawer.array)

    def show_input(self, stage: str, key: str) -> None:
        """Open a stage where something is set that a figure comes from."""
        self.show_stage(stage)
        self.drawer(stage).show_input(key)

    def _project_changed(self, project: Any) -> None:
        self.actions_.refresh(self.session.history)
        self.area.show_history()
        mark = " •" if self.session.unsaved else ""
        self.setWindowTitle(f"{project.name}{mark} – Outlined Glow")
        if self.session.history is not self._history:  # another project, not a step of this one
            self._history = self.session.history
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
        another = work.design.name != self._board_shown
        if another and not self._fresh:
            self.area.bench.mark(None)
            self.area.bench.select(None)
        self.area.show_work(work, self._fresh or another)
        self._fresh, self._board_shown = False, work.design.name
        self.ledger.show_work(work)
        self._come("work")
        self._light_up(work, self.session.findings or ())
        if self._to_mark is not None:
            (finding, which), self._to_mark = self._to_mark, None
            if finding.board == work.design.name:
                self.area.bench.mark(finding, which)

    def _findings_ready(self, findings: Any) -> None:
        self.ledger.show_findings(findings)
        self._come("findings")
        self._light_up(self.session.work, findings)
        self._follow_places()
        self._quiet.start(_QUIET_MS)

    def _follow_places(self) -> None:
        """Narrow places that are marked are so after an edit too, as they are then."""
        bench = self.area.bench
        if bench.marks.widths and self.stage in self.drawers:
            card = self.drawers[self.stage].places_card
            bench.mark(card.finding, card.which, bring=False)

    def _light_up(self, work: Any, findings: Any) -> None:
        self.string.show_states(core("facts").stage_states(work, findings))

    def show_place(self, finding: Any, which: int = 0) -> None:
        """Mark a place of a finding on the bench, with the board that it is about."""
        if finding.board and finding.board != self.session.board:
            self.session.show_board(finding.board)  # its place is marked once it lies on the bench
            self._to_mark = (finding, which)
            return
        self.area.bench.mark(finding, which)

    def tell(self, words: str) -> None:
        """One sentence to the user, over the bench."""
        self.begin.state.setText("nothing on the bench yet")
        self.toast.say(words)

    def show_failure(self, error: BaseException) -> None:
        """Something nobody expected."""
        self.help.show_failure(error, self.stage)

    def export(self) -> None:
        """Ask where to, and let the order drawer write the package there."""
        if self.session.project is None:
            return
        drawer: Any = self.drawer("order")
        target = self.files.choose_export()
        if target is not None:
            drawer.export_to(target)

    # -- looks ------------------------------------------------------------------------------------------------------

    def _look_changed(self) -> None:
        self._icons()
        self.update()

    def _be_still(self, still: bool) -> None:
        if self._area is not None:
            self._area.bench.moves = not still

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
        self.ended_well = self.jobs.close()
        event.accept()

    def later(self, run: Any) -> None:
        """Run something once the window has painted."""
        QTimer.singleShot(0, run)
