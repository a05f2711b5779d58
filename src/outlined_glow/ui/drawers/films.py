"""Pictures and films: brought into the score, and written of what plays."""

from __future__ import annotations

from typing import Any

from ..core_door import core
from ..files import ask
from ..flow import FlowLayout
from ..jobs import meanwhile
from ..opening import chosen_file, chosen_files
from ..session import Session
from ..widgets import link
from .base import Drawer, Window

_FILMS = "Pictures, films, tables (*.gif *.png *.webp *.jpg *.jpeg *.mp4 *.webm *.csv *.json)"
_SLIDES = "Pictures (*.png *.jpg *.jpeg *.webp *.gif *.bmp *.tif)"
_FILM_OUT = "GIF (*.gif);;Animated PNG (*.png);;MP4 (*.mp4)"


class FilmsCard:
    """What comes in and what goes out."""

    def __init__(self, drawer: Drawer, session: Session) -> None:
        self._drawer, self._session = drawer, session
        self._window: Window | None = None
        self.card = drawer.add_card("Pictures and films")
        links = FlowLayout()
        self.bring = link("bring a picture or film…", self._bring)
        self.bring.setToolTip("GIF, PNG, WebP, JPEG, MP4; or a table of levels as CSV or JSON")
        self.slides = link("bring pictures in a row…", self._bring_slides)
        self.slides.setToolTip("Each is shown for a while and goes over into the next one; or they are the frames of a film")
        self.film = link("write a film…", self._write_film)
        self.film.setToolTip("What plays, at the hour and from the side that is on the bench")
        self.sheet = link("write a contact sheet…", self._write_sheet)
        self.sheet.setToolTip("Twelve moments side by side")
        for one in (self.bring, self.slides, self.film, self.sheet):
            links.addWidget(one)
        self.card.body.addLayout(links)

    def attach(self, window: Window) -> None:
        """The window is there."""
        self._window = window

    def show_work(self, work: Any) -> None:
        """What has no LEDs has nothing to show."""
        for one in (self.film, self.sheet):
            one.setEnabled(bool(work.leds))

    def _bring(self) -> None:
        """A picture, a film or a table from a file."""
        file = chosen_file(self._drawer, "Bring a picture or a film", _FILMS, self._session.trouble.emit)
        if file is not None:
            self._session.jobs.submit(
                "film", lambda cancelled: core("films").read_film(file.data, file.name),
                lambda _: self._drawer.edit("add-film", file=file), self._session.trouble.emit,
            )  # fmt: skip

    def _bring_slides(self) -> None:
        """Pictures one after another."""
        files = chosen_files(self._drawer, "Bring pictures in a row", _SLIDES, self._session.trouble.emit)
        if files:
            self._drawer.edit("add-slides", files=files, fade=0.3)

    def _write_film(self) -> None:
        """A film of what plays, as it is seen now."""
        work = self._session.work
        if work is None or self._window is None or not self._may_flash(work):
            return
        bench, watch = self._window.area.bench, core("watch").Watch
        shown = "real" if bench.real else "wanted"
        self._window.files.write_meanwhile(
            "film out", "Write a film", "film.gif", _FILM_OUT,
            lambda path, cancelled: core("film").write_film(
                work.board, work.project.motion, work.lamps, path, sun=bench.sun, side=bench.camera.side,
                drive=work.design.drive, shown=shown, watch=watch(cancelled=cancelled),
            ),
        )  # fmt: skip

    def _write_sheet(self) -> None:
        """Moments of what plays side by side."""
        work = self._session.work
        if work is None or self._window is None:
            return
        bench = self._window.area.bench
        motion, shown = work.project.motion, "real" if bench.real else "wanted"

        def make(path: Any, cancelled: Any) -> None:
            data = core("film").contact_sheet(
                work.board, motion, work.lamps, seconds=motion.seconds, sun=bench.sun, side=bench.camera.side,
                drive=work.design.drive, shown=shown, watch=core("watch").Watch(cancelled=cancelled),
            )  # fmt: skip
            core("atomic").atomic_write(path, data)

        self._window.files.write_meanwhile("film out", "Write a contact sheet", "moments.png", "Picture (*.png)", make)

    def _may_flash(self, work: Any) -> bool:
        """Whether a film may be written that flashes more than is safe: who writes it is told first."""
        facts = core("motion_facts")
        verdict, more, safe = facts.flash_words(meanwhile(lambda: facts.flashes_of(work)))
        return safe or ask(self._drawer, f"{verdict} {more} Write the film all the same?", ("Write it", "Cancel")) == 0
