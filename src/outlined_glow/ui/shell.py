"""The window: string, bench, drawer and ledger round one session."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QByteArray, QTimer
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QMainWindow,
    QMessageBox,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ..core.project.storage import SUFFIX
from .actions import Actions
from .bench import BenchArea
from .core_door import warm
from .drawers import DRAWERS, Drawer
from .drawers.lights import LightsDrawer
from .drawers.order import OrderDrawer
from .jobs import Jobs
from .ledger import Ledger
from .light_string import BROKEN, DARK, HALF, LIT, LightString
from .recent import read_state, remember_file, write_state
from .session import Session
from .start import BeginDrawer, StartPage
from .theme import darken_room, theme, use_theme
from .toast import Toast

_PICTURES = "Pictures (*.svg *.svgz)"
_PROJECTS = f"Projects (*{SUFFIX})"


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
        self.drawers: dict[str, Drawer] = {}
        self.centre = QStackedWidget()
        self.centre.addWidget(self.start)
        self.centre.addWidget(self.area)
        self.drawer_stack = QStackedWidget()
        self.drawer_stack.setFixedWidth(320)
        self.drawer_stack.addWidget(self.begin)
        self.actions_ = Actions(self)
        self.toast = Toast(self)
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
        self.area.bench.dropped.connect(lambda path: self.open_path(Path(path)))
        self.start.demo_wanted.connect(self.open_demo)
        self.start.file_dropped.connect(lambda path: self.open_path(Path(path)))
        self.start.picture_wanted.connect(self.choose_picture)
        self.begin.open_wanted.connect(self.choose_project)
        self.begin.file_wanted.connect(lambda path: self.open_path(Path(path)))

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

    def drawer(self, key: str) -> Drawer:
        """The drawer of a stage, made when it is first opened."""
        if key not in self.drawers:
            one = DRAWERS[key](self.session)
            one.show_place.connect(self._show_place)
            one.go.connect(self.show_stage)
            if isinstance(one, LightsDrawer):
                one.selected.connect(self.area.bench.select)
                self.area.bench.selected_array.connect(one.select)
            if isinstance(one, OrderDrawer):
                one.export_wanted.connect(self.export)
            if key == "artwork":
                one.wipe.setChecked(True)  # type: ignore[attr-defined]
                one.wipe.switched.connect(lambda on: self.area.bench.set_wipe(0.5 if on else None))  # type: ignore[attr-defined]
            self.drawers[key] = one
            self.drawer_stack.addWidget(one)
            if self.session.work is not None:
                one.show_work(self.session.work)
            if self.session.findings is not None:
                one.show_findings(self.session.findings)
        return self.drawers[key]

    def warm_up(self) -> None:
        """Load the core once the window stands."""
        self.jobs.submit("warm", lambda cancelled: warm(), lambda _: None, self.tell)

    # -- stages and events ----------------------------------------------------------------------------------------

    def show_start(self) -> None:
        """Nothing lies on the bench."""
        self.area.clear()
        darken_room(1.0)
        self.begin.refresh()
        self.begin.state.setText("nothing on the bench yet")
        self.centre.setCurrentWidget(self.start)
        self.drawer_stack.setCurrentWidget(self.begin)
        self.string.show_current(self.stage, False)
        self.ledger.empty()
        self.setWindowTitle("Outlined Glow")
        self.actions_.refresh()
        self.start.demos[0].setFocus()

    def show_stage(self, key: str) -> None:
        """Open a stage."""
        if self.session.project is None or key not in DRAWERS:
            return
        self.stage = key
        drawer = self.drawer(key)
        self.drawer_stack.setCurrentWidget(drawer)
        self.string.show_current(key, True)
        self.area.bench.show_marks((), "note", False)
        self.area.show_stage(key)
        if isinstance(drawer, LightsDrawer):
            self.area.bench.select(drawer.array)

    def _project_changed(self, project: Any) -> None:
        self.actions_.refresh()
        mark = " •" if self.session.unsaved else ""
        self.setWindowTitle(f"{project.name}{mark} – Outlined Glow")
        if self.session.work is None:
            self._fresh = True
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
        """Bulbs: broken where a stop stands, half where a warning does, dark where there is nothing yet."""
        states = dict.fromkeys(DRAWERS, LIT)
        if not work.leds:
            states.update(lights=DARK, drive=DARK, motion=DARK)
        for one in reversed(findings):
            if one.severity != "note" and one.stage in states:
                states[one.stage] = BROKEN if one.severity == "stop" else HALF
        if any(one.severity == "stop" for one in findings):
            states["order"] = BROKEN
        self.string.show_states(states)

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

    # -- files ------------------------------------------------------------------------------------------------------

    def open_path(self, path: Path) -> None:
        """Open a project or begin from a picture."""
        if not self.may_close():
            return
        if path.suffix.lower() == SUFFIX:
            remember_file(path)
            self.session.open_file(path)
        else:
            width = self.start.zone.chosen_width if self.session.project is None else None
            self.session.open_picture(path, width)
        self.begin.state.setText(f"reading {path.name}…")

    def open_demo(self, name: str) -> None:
        """Open a demo."""
        if self.may_close():
            self.session.open_demo(name)
            self.begin.state.setText("unpacking the demo…")

    def choose_picture(self) -> None:
        """Ask for a picture."""
        name, _ = QFileDialog.getOpenFileName(self, "Choose a picture", _folder(), _PICTURES)
        if name:
            self.open_path(Path(name))

    def choose_project(self) -> None:
        """Ask for a project or a picture."""
        kinds = f"Projects and pictures (*{SUFFIX} *.svg *.svgz);;{_PROJECTS};;{_PICTURES}"
        name, _ = QFileDialog.getOpenFileName(self, "Open", _folder(), kinds)
        if name:
            self.open_path(Path(name))

    def save(self) -> bool:
        """Save under its name, or ask for one."""
        return self._save_to(self.session.path) if self.session.path else self.save_as()

    def save_as(self) -> bool:
        """Ask for a name and save."""
        if self.session.project is None:
            return False
        start = str(Path(_folder()) / f"{self.session.project.name}{SUFFIX}")
        name, _ = QFileDialog.getSaveFileName(self, "Save as", start, _PROJECTS)
        if not name:
            return False
        return self._save_to(Path(name if name.endswith(SUFFIX) else name + SUFFIX))

    def _save_to(self, path: Path) -> bool:
        done = self.session.save(path)
        if done:
            remember_file(path)
            write_state(folder=str(path.parent))
            self.toast.say(f"saved as {path.name}")
        return done

    def export(self) -> None:
        """Ask for a folder and write the package into it."""
        project, drawer = self.session.project, self.drawer("order")
        if project is None or not isinstance(drawer, OrderDrawer):
            return
        start = str(Path(_folder()) / f"{project.name} order.zip")
        name, _ = QFileDialog.getSaveFileName(self, "Export the package", start, "Zip (*.zip);;Folder (*)")
        if name:
            drawer.export_to(Path(name))

    def may_close(self) -> bool:
        """Whether the open project may go: saved, let go on purpose, or not at all."""
        if not self.session.unsaved or self.session.project is None:
            return True
        ask = QMessageBox(self)
        ask.setWindowTitle("Outlined Glow")
        ask.setText(f"“{self.session.project.name}” has changes that are on no disk yet.")
        keep = ask.addButton("Save them", QMessageBox.ButtonRole.AcceptRole)
        drop = ask.addButton("Let them go", QMessageBox.ButtonRole.DestructiveRole)
        stay = ask.addButton("Stay here", QMessageBox.ButtonRole.RejectRole)
        ask.setDefaultButton(keep)
        ask.setEscapeButton(stay)
        ask.exec()
        if ask.clickedButton() is keep:
            return self.save()
        return ask.clickedButton() is drop

    def close_project(self) -> None:
        """Put the project away and go back to the start page."""
        if self.may_close():
            self.session.close_project()

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
        if not self.may_close():
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


def _folder() -> str:
    return str(read_state().get("folder", Path.home()))
