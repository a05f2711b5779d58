"""The pictures the bench shows: of the board, and of what lies left of the seam; asked for in the background and kept."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QObject, QPointF, QRect, QRectF, pyqtSignal
from PyQt6.QtGui import QImage, QPainter

from ..jobs import Jobs
from ..session import Session
from .camera import Camera
from .renderer import Renderer, Request


class RenderCache(QObject):
    """Keeps the latest picture of each with the camera it was made for, so that it can be moved until a new one is here."""

    board_arrived = pyqtSignal()
    first_seen = pyqtSignal()
    changed = pyqtSignal()

    def __init__(self, session: Session, jobs: Jobs) -> None:
        super().__init__()
        self._session, self._jobs = session, jobs
        self._renderer = Renderer()
        self.board: QImage | None = None
        self.camera = Camera()
        self.art: QImage | None = None
        self.art_camera = Camera()
        self._art_of: Any = None
        self._prepared = False
        #: What was asked for last; a board that is seen in the place of that on the bench, and which that is.
        self._wanted: Request | None = None
        self._instead: tuple[Any, Any] | None = None
        #: A board that is seen before the first one of a project is made.
        self.first: Any = None
        session.making.drawn.connect(self._drawn)

    def forget(self) -> None:
        """Nothing lies on the bench, and no picture of the last board is wanted any more."""
        for key in ("picture", "art"):
            self._jobs.cancel(key)
        self.board = self.art = None
        self._wanted = self._instead = self.first = None

    def _drawn(self, work: Any, project: Any) -> None:
        """A board is seen already, while its art is cleaned up and its tracks are drawn; None: it is not made."""
        if self._session.work is None:
            if project is self._session.project:  # not of one that was put away meanwhile
                self.first = work
                self.first_seen.emit()
            return
        wanted, self._wanted = self._wanted, None
        if wanted is None:
            self._instead = None
            return
        alike = work is not None and work.design.name == wanted.work.design.name
        self._instead = (work, wanted.work) if alike else None
        if wanted.work is self._session.work:
            self.ask(wanted)

    def forget_art(self) -> None:
        """What lies left of the seam is to be drawn anew."""
        self._art_of = None

    @property
    def waiting(self) -> bool:
        """Whether a picture of the board is under way."""
        return self._jobs.waiting("picture")

    def prepare_to_play(self) -> None:
        """Load what is compiled for playing, in the background."""
        if not self._prepared:
            self._prepared = True
            self._jobs.submit("kernels", self._renderer.load_kernels, lambda _: None, self._session.trouble.emit)

    def ask(self, wanted: Request) -> None:
        """Ask for the board; while the pattern plays, a frame under way is finished rather than dropped."""
        self._wanted = wanted
        if self._instead is not None and self._instead[1] is wanted.work:
            wanted = replace(wanted, work=self._instead[0])
        asked = self._wanted
        playing = wanted.time_s is not None and self.board is not None and self.camera == wanted.camera
        if playing and self.waiting:
            return

        def took(picture: QImage | None) -> None:
            if picture is not None:
                self.board, self.camera = picture, wanted.camera
                self.board_arrived.emit()
                self.changed.emit()
            latest = self._wanted
            if latest is not None and latest is not asked and latest.time_s is not None:
                self.ask(latest)  # a moment that was asked for while this one was made

        run = self._renderer.board
        self._jobs.submit("picture", lambda cancelled: run(wanted, cancelled), took, self._session.trouble.emit)

    def ask_art(self, wanted: Request) -> None:
        """Ask for what lies left of the seam, if it is not what is here."""
        shown = wanted.work.board if wanted.compare == "difference" else wanted.work.painted
        if self.art is not None and self.art_camera == wanted.camera and self._art_of is shown:
            return

        def took(picture: QImage | None) -> None:
            if picture is not None:
                self.art, self.art_camera, self._art_of = picture, wanted.camera, shown
                self.changed.emit()

        run = self._renderer.art
        self._jobs.submit("art", lambda cancelled: run(wanted, cancelled), took, self._session.trouble.emit)


def bare(now: Camera, then: Camera, view: QRect | None = None) -> list[QRect]:
    """What a picture made for one camera leaves bare in the view of another, or in an area round it: so many whole pixels at
    each edge of it."""
    view = view or QRect(0, 0, now.width, now.height)
    area, (x0, y0, x1, y1) = _area(now, then), (view.x(), view.y(), view.x() + view.width(), view.y() + view.height())
    left, top = max(x0, math.ceil(area.left())), max(y0, math.ceil(area.top()))
    right, bottom = min(x1, math.floor(area.right())), min(y1, math.floor(area.bottom()))
    if left >= right or top >= bottom:
        return [view]
    edges = (
        QRect(x0, y0, x1 - x0, top - y0),
        QRect(x0, bottom, x1 - x0, y1 - bottom),
        QRect(x0, top, left - x0, bottom - top),
        QRect(right, top, x1 - right, bottom - top),
    )
    return [edge for edge in edges if not edge.isEmpty()]


def paint_render(painter: QPainter, now: Camera, picture: QImage, then: Camera) -> None:
    """A picture where it belongs now: moved or stretched until a sharp one arrives."""
    area = _area(now, then)
    if abs(now.zoom / then.zoom - 1) < 1e-9:
        painter.drawImage(area.topLeft(), picture)
    else:
        painter.drawImage(area, picture, QRectF(picture.rect()))


def _area(now: Camera, then: Camera) -> QRectF:
    """Where a picture made for one camera lies in another, px."""
    corner, ratio = now.to_screen(*then.to_mm(QPointF(0, 0))), now.zoom / then.zoom
    # A corner computed by way of millimetres may miss its pixel by a rounding.
    return QRectF(round(corner.x(), 6), round(corner.y(), 6), then.width * ratio, then.height * ratio)
