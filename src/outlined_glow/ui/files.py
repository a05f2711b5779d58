"""Opening, saving, closing: what is asked, and that nothing is lost on the way."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from .recent import read_state, remember_file, write_state
from .session import Session

#: As in the core, which is not loaded yet when the first window stands.
SUFFIX = ".oglow"
_PICTURES = "Pictures (*.svg *.svgz)"
_PROJECTS = f"Projects (*{SUFFIX})"


class Files(QObject):
    """The dialogs of one window. `reading` tells what is being opened."""

    reading = pyqtSignal(str)

    def __init__(self, window: QWidget, session: Session, say: Callable[[str], None]) -> None:
        super().__init__(window)
        self._window, self._session, self._say = window, session, say

    def open(self, name: str | Path, width_mm: float | None = None) -> None:
        """Open a project, or begin from a picture of that painted width."""
        path = Path(name)
        if not self.may_close():
            return
        if path.suffix.lower() == SUFFIX:
            self._session.open_file(path)
        else:
            self._session.open_picture(path, width_mm)
        self.reading.emit(f"reading {path.name}…")

    def open_demo(self, name: str) -> None:
        """Open a demo."""
        if self.may_close():
            self._session.open_demo(name)
            self.reading.emit("unpacking the demo…")

    def choose_picture(self, width_mm: float | None = None) -> None:
        """Ask for a picture."""
        name, _ = QFileDialog.getOpenFileName(self._window, "Choose a picture", str(_folder()), _PICTURES)
        if name:
            self.open(name, width_mm)

    def choose(self) -> None:
        """Ask for a project or a picture."""
        kinds = f"Projects and pictures (*{SUFFIX} *.svg *.svgz);;{_PROJECTS};;{_PICTURES}"
        name, _ = QFileDialog.getOpenFileName(self._window, "Open", str(_folder()), kinds)
        if name:
            self.open(name)

    def save(self) -> bool:
        """Save under its name, or ask for one."""
        return self.save_to(self._session.path) if self._session.path else self.save_as()

    def save_as(self) -> bool:
        """Ask for a name and save."""
        if self._session.project is None:
            return False
        start = str(_folder() / f"{self._file_name()}{SUFFIX}")
        name, _ = QFileDialog.getSaveFileName(self._window, "Save as", start, _PROJECTS)
        if not name:
            return False
        return self.save_to(Path(name if name.endswith(SUFFIX) else name + SUFFIX))

    def save_to(self, path: Path) -> bool:
        """Save there, and say so; False when it could not be."""
        done = self._session.save(path)
        if done:
            remember_file(path)
            write_state(folder=str(path.parent))
            self._say(f"saved as {path.name}")
        return done

    def choose_export(self) -> Path | None:
        """Ask where the package should go: a zip, or a folder for a name without `.zip`."""
        start = str(_folder() / f"{self._file_name()} order.zip")
        kinds = "Zip (*.zip);;Folder (*)"
        name, _ = QFileDialog.getSaveFileName(self._window, "Export the package", start, kinds)
        return Path(name) if name else None

    def may_close(self) -> bool:
        """Whether the open project may go: saved, let go on purpose, or not at all."""
        if not self._session.unsaved or self._session.project is None:
            return True
        ask = QMessageBox(self._window)
        ask.setWindowTitle("Outlined Glow")
        ask.setText(f"“{self._session.project.name}” has changes that are on no disk yet.")
        keep = ask.addButton("Save them", QMessageBox.ButtonRole.AcceptRole)
        drop = ask.addButton("Let them go", QMessageBox.ButtonRole.DestructiveRole)
        stay = ask.addButton("Stay here", QMessageBox.ButtonRole.RejectRole)
        ask.setDefaultButton(keep)
        ask.setEscapeButton(stay)
        ask.exec()
        if ask.clickedButton() is keep:
            return self.save()
        return ask.clickedButton() is drop

    def close(self) -> None:
        """Put the project away and go back to the start page."""
        if self.may_close():
            self._session.close_project()

    def _file_name(self) -> str:
        project = self._session.project
        return (project.name if project is not None else "board").replace("/", "-").strip(". ") or "board"


def _folder() -> Path:
    return Path(read_state().get("folder", Path.home()))
