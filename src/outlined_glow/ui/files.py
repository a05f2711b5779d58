"""Opening, saving, closing: what is asked, and that nothing is lost on the way."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QBuffer, QObject, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QImage
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from ..core.errors import Trouble
from .bringing import Bringing
from .core_door import core, load_first
from .jobs import meanwhile
from .opening import read_bytes
from .recent import journal_folder, read_state, remember_file, write_state
from .session import Session
from .theme import keep_in_theme

if TYPE_CHECKING:
    from ..core.project.journal import Left
    from ..core.project.lock import FileLock

#: As in the core, which is not loaded yet when the first window stands.
SUFFIX = ".oglow"
_PICTURES = "Pictures (*.svg *.svgz *.dxf *.png *.jpg *.jpeg *.webp *.tif *.tiff *.bmp *.gif)"
_PROJECTS = f"Projects (*{SUFFIX})"


class Files(QObject):
    """The dialogs of one window. `reading` tells what is being opened."""

    reading = pyqtSignal(str)

    def __init__(self, window: QWidget, session: Session, say: Callable[[str], None]) -> None:
        super().__init__(window)
        self._session, self._say = session, say
        self.bringing = Bringing(session)
        self._host = QWidget(window)  # what dialogs belong to: not shown, it gives them the window's looks
        self._host.hide()
        keep_in_theme(self._host)

    def open(self, name: str | Path, width_mm: float | None = None) -> None:
        """Open a project, or begin from a picture of that painted width."""
        path = Path(name)
        if not self.may_close():
            return
        if path.suffix.lower() != SUFFIX:
            self._session.open_picture(path, width_mm)
        elif not self._open_project(path):
            return
        self.reading.emit(f"reading {path.name}…")

    def dropped(self, name: str) -> None:
        """A file was dropped on the bench: a project is opened; a picture is added to the board, or starts one."""
        path = Path(name)
        if path.suffix.lower() == SUFFIX or self._session.project is None:
            self.open(path)
            return
        words = f"What should happen with “{path.name}”?"
        answer = ask(self._host, words, ("Add it to this board", "Start a new board", "Cancel"))
        if answer == 0:
            self._bring(path)
        elif answer == 1:
            self.open(path)

    def bring(self, what: str, which: int) -> None:
        """Ask for a picture to add to the board, or (`replace`) to take in the place of one."""
        title = "Add a picture to the board" if what == "add" else "Replace this picture"
        name, _ = QFileDialog.getOpenFileName(self._host, title, str(_folder()), _PICTURES)
        if name:
            self._bring(Path(name), which if what == "replace" else 0)

    def bring_outline(self) -> None:
        """Ask for a project or a drawing whose outline the board should have."""
        kinds = f"Outlines (*{SUFFIX} *.rings {_PICTURES.partition('(')[2]};;{_PROJECTS};;{_PICTURES}"
        name, _ = QFileDialog.getOpenFileName(self._host, "Use the outline of a file", str(_folder()), kinds)
        if not name:
            return
        try:
            self.bringing.outline(Path(name).name, read_bytes(Path(name)))
        except Trouble as trouble:
            self._session.trouble.emit(str(trouble))

    def _bring(self, path: Path, replaced: int = 0) -> None:
        try:
            data = read_bytes(path)
        except Trouble as trouble:
            self._session.trouble.emit(str(trouble))
            return
        self.bringing.picture(path.name, data, replaced)

    def paste(self) -> None:
        """A picture from the clipboard: onto the board, or, with nothing on the bench, to begin one."""
        try:
            found = _from_clipboard()
        except Trouble as trouble:
            self._session.trouble.emit(str(trouble))
            return
        if found is None:
            self._session.trouble.emit("The clipboard holds no picture; copy one first.")
        elif self._session.project is not None:
            self.bringing.picture(*found)
        else:
            self._session.open_bytes(*found, None)
            self.reading.emit("reading the clipboard…")

    def _open_project(self, path: Path) -> bool:
        load_first("journal", "lock")
        left = next((one for one in core("journal").left_behind(journal_folder()) if _is_same(one.saved_as, path)), None)
        if left is not None:
            steps, ago = _count(left.steps, "change"), core("lock").age(left.written)
            newer = f"Unsaved changes to “{path.name}” were recovered: {steps}, {ago} old."
            answer = ask(self._host, newer, ("Restore them", "Open the saved file", "Cancel"))
            if answer == 0:
                return self.take_up(left)
            if answer == 2:
                return False
        taken, lock = self._lock(path)
        if taken:
            self._session.open_file(path, lock)
        return taken

    def _lock(self, path: Path) -> tuple[bool, FileLock | None]:
        """Whether to go on, and the file's lock: none to open it as a copy."""
        if _is_same(self._session.path, path):
            self._session.release()
        lock = core("lock").FileLock(path)
        owner = meanwhile(lock.take)
        if owner is None:
            return True, lock
        words = f"“{path.name}” is already open ({owner.words()}). Saving from two windows would lose changes."
        answer = ask(self._host, words, ("Open a copy", "Cancel"))
        return answer == 0, None

    def take_up(self, left: Left) -> bool:
        """Restore what a killed window left behind, under its file's name if nobody else has that open."""
        lock = core("lock").FileLock(left.saved_as) if left.saved_as is not None else None
        if lock is not None and meanwhile(lock.take) is not None:
            lock = None
        self._session.open_left(left, lock)
        self.reading.emit(f"restoring {left.name}…")
        return True

    def take_up_left(self, left: Left) -> None:
        """The same from the start page."""
        if self.may_close():
            self.take_up(left)

    def open_demo(self, name: str) -> None:
        """Open a demo."""
        if self.may_close():
            self._session.open_demo(name)
            self.reading.emit("unpacking the demo…")

    def choose_picture(self, width_mm: float | None = None) -> None:
        """Ask for a picture."""
        name, _ = QFileDialog.getOpenFileName(self._host, "Choose a picture", str(_folder()), _PICTURES)
        if name:
            self.open(name, width_mm)

    def choose(self) -> None:
        """Ask for a project or a picture."""
        kinds = f"Projects and pictures (*{SUFFIX} *.svg *.svgz);;{_PROJECTS};;{_PICTURES}"
        name, _ = QFileDialog.getOpenFileName(self._host, "Open", str(_folder()), kinds)
        if name:
            self.open(name)

    def save(self) -> bool:
        """Save under its name, or ask for one."""
        path = self._session.path
        if path is None:
            return self.save_as()
        if self._session.changed_on_disk():
            words = f"“{path.name}” changed on disk after you opened it. The backup is “{path.name}~”."
            answer = ask(self._host, words, ("Save as…", "Overwrite, keep a backup", "Cancel"))
            if answer != 1:
                return answer == 0 and self.save_as()
        return self.save_to(path)

    def save_as(self) -> bool:
        """Ask for a name and save."""
        if self._session.project is None:
            return False
        start = str(_folder() / f"{self._file_name()}{SUFFIX}")
        name, _ = QFileDialog.getSaveFileName(self._host, "Save as", start, _PROJECTS)
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

    def write(self, title: str, what: str, kinds: str, make: Callable[[Path], bytes]) -> None:
        """Ask where something made of this project should go, and write it there; its name tells the format."""
        start = str(_folder() / f"{self._file_name()} {what}")
        name, _ = QFileDialog.getSaveFileName(self._host, title, start, kinds)
        if not name:
            return
        try:
            meanwhile(lambda: core("atomic").atomic_write(Path(name), make(Path(name))))
        except Trouble as trouble:
            self._session.trouble.emit(str(trouble))
            return
        self._say(f"saved as {Path(name).name}")

    def write_meanwhile(self, key: str, title: str, what: str, kinds: str, make: Callable[[Path, Any], object]) -> None:
        """The same for what takes a while: it is written beside the window, and may be stopped; `make` writes it itself."""
        start = str(_folder() / f"{self._file_name()} {what}")
        name, _ = QFileDialog.getSaveFileName(self._host, title, start, kinds)
        if name:
            path = Path(name)
            self._session.jobs.submit(
                key, lambda cancelled: make(path, cancelled), lambda _: self._say(f"saved as {path.name}"),
                self._session.trouble.emit,
            )  # fmt: skip

    def choose_export(self) -> Path | None:
        """Ask where the package should go: a zip, or a folder for a name without `.zip`."""
        start = str(_folder() / f"{self._file_name()} order.zip")
        kinds = "Zip (*.zip);;Folder (*)"
        name, _ = QFileDialog.getSaveFileName(self._host, "Export the package", start, kinds)
        return Path(name) if name else None

    def may_close(self) -> bool:
        """Whether the open project may close: saved, or its changes discarded on purpose."""
        if not self._session.unsaved or self._session.project is None:
            return True
        words = f"Save your changes to “{self._session.project.name}” before closing?"
        answer = ask(self._host, words, ("Save", "Discard changes", "Cancel"))
        return self.save() if answer == 0 else answer == 1

    def close(self) -> None:
        """Close the project and go back to the start page."""
        if self.may_close():
            self._session.close_project()

    def _file_name(self) -> str:
        project = self._session.project
        return (project.name if project is not None else "board").replace("/", "-").strip(". ") or "board"


def ask(host: QWidget, words: str, answers: Sequence[str]) -> int:
    """A question and which answer was given; the first is the ready one, the last is what Escape means."""
    box = QMessageBox(host)
    box.setWindowTitle("Outlined Glow")
    box.setText(words)
    buttons = [box.addButton(answer, QMessageBox.ButtonRole.ActionRole) for answer in answers]
    box.setDefaultButton(buttons[0])
    box.setEscapeButton(buttons[-1])
    box.exec()
    chosen = box.clickedButton()
    box.deleteLater()  # else every question asked would stay with its host
    return next((at for at, one in enumerate(buttons) if one is chosen), len(buttons) - 1)


def _from_clipboard() -> tuple[str, bytes] | None:
    """The name and bytes of the picture on the clipboard: a file, a drawing, or pixels."""
    mime = QGuiApplication.clipboard().mimeData()  # type: ignore[union-attr]
    if mime is None:
        return None
    for url in mime.urls():
        path = Path(url.toLocalFile())
        if url.isLocalFile():
            return path.name, read_bytes(path)
    for kind in ("image/svg+xml", "image/x-inkscape-svg"):
        if mime.hasFormat(kind):
            return "pasted.svg", bytes(mime.data(kind).data())
    if mime.hasText() and "<svg" in mime.text()[:2000]:
        return "pasted.svg", mime.text().encode()
    if mime.hasImage():
        buffer = QBuffer()
        buffer.open(QBuffer.OpenModeFlag.WriteOnly)
        image = QImage(mime.imageData())
        if not image.isNull() and image.save(buffer, "PNG"):
            return "pasted.png", bytes(buffer.data().data())
    return None


def _is_same(one: Path | None, other: Path) -> bool:
    return one is not None and os.path.realpath(one) == os.path.realpath(other)


def _count(number: int, noun: str) -> str:
    return f"{number} {noun}{'' if number == 1 else 's'}"


def _folder() -> Path:
    return Path(read_state().get("folder", Path.home()))
