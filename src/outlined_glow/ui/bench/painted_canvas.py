"""What the bench paints in each frame: the last picture of the board where it belongs now, and over it rulers, handles, marks,
the seam and the measure."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QRect, QRectF, Qt
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ..core_door import core
from ..jobs import Jobs
from ..session import Session
from ..theme import on_bench
from .canvas import Canvas
from .chain import Chain, Taken
from .marks import paint_marks
from .moved import MovedView
from .overlays import (
    paint_caught,
    paint_differences,
    paint_dimensions,
    paint_handles,
    paint_lasso,
    paint_left_of_seam,
    paint_measure,
    paint_words,
)
from .render_cache import bare, paint_render
from .rulers import Rulers, ScaleBar, beside_rulers, scale_bar_area
from .way_marks import paint_way


class PaintedCanvas(Canvas):
    """A frame is little more than pictures that are moved: whatever takes long to paint is kept until it looks otherwise."""

    def __init__(self, session: Session, jobs: Jobs) -> None:
        super().__init__(session, jobs)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self._moved = MovedView()
        self._chain, self._rulers, self._scale_bar = Chain(), Rulers(), ScaleBar()
        self._differ_key: tuple[Any, str] | None = None
        self._differ_rows: Any = ()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        # A move of the pointer changes the words about the place there, and nothing else.
        words_alone = event is not None and event.rect() != self.rect() and self._readout_area().contains(event.rect())
        self._paint(painter, words_alone)
        if not words_alone:
            self.paint_carried(painter)
        painter.end()  # now, whoever looks at this frame of the program meanwhile

    def _paint(self, painter: QPainter, words_alone: bool) -> None:
        if self.work is None or self._flip.running or self.renders.board is None:
            painter.fillRect(self.rect(), on_bench().colour("bench"))
            if self.renders.first is not None and self.renders.board is not None:
                paint_render(painter, self.camera, self.renders.board, self.renders.camera)
            elif self._flip.running and (self._flip.shows_old or self.renders.board is not None):
                painter.save()
                self._paint_flip(painter)
                painter.restore()
            elif not self._flip.running:
                words = "laying the board on the bench…" if self._session.project is not None else ""
                paint_words(painter, self.rect(), words)
            return
        # What does not move with the board is none of what is kept of a moved view.
        still = self._seam() is not None or self.glyph.cells is not None
        if still:
            self._moved.forget()
        self._moved.paint(painter, self.camera, self._paint_view, beside_rulers(self.camera, self.bottom_margin))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)  # whole pictures are copied twice as fast without
        if not words_alone:
            self._rulers.paint(painter, self.camera, self.work.board.origin, self.bottom_margin)
        self._scale_bar.paint(painter, self.camera, *self._scale_bar_at(), self._readout)
        if self.hasFocus() and self._by_key:
            painter.setPen(QPen(on_bench().colour("ring", 0.7), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))

    def update(self, *area: Any) -> None:
        """Something looks otherwise now."""
        self._moved.forget()
        super().update(*area)

    def update_moved(self) -> None:
        """The view has moved; what is in it looks as before."""
        QWidget.update(self)

    def update_words(self) -> None:
        """The words about the place under the pointer are others."""
        QWidget.update(self, self._readout_area())

    def _paint_view(self, painter: QPainter, area: QRect) -> None:
        """All that moves with the view, in an area of the widget."""
        assert self.renders.board is not None
        self._paint_board(painter, self.renders.board, area)
        self._paint_stage(painter)
        self._paint_in_hand(painter)

    def _paint_board(self, painter: QPainter, picture: QImage, area: QRect) -> None:
        """The board with the numbers of its LEDs, the bench round its picture, and what lies left of the seam."""
        for edge in bare(self.camera, self.renders.camera, area):
            painter.fillRect(edge, on_bench().colour("bench"))
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, self.camera.zoom != self.renders.camera.zoom)
        paint_render(painter, self.camera, picture, self.renders.camera)
        if self.stage == "lights":
            taken = Taken(self.selected, self.picked, self.shows_chain, self.unseen)
            self._chain.paint(painter, self.camera, self.work, taken)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        seam, art = self._seam(), self.renders.art
        if seam is not None and art is not None:
            paint_left_of_seam(painter, self.camera, self.work, seam, (art, self.renders.art_camera), self.compare)
        if seam is not None and self.compare == "difference":
            paint_differences(painter, self.camera, self.work.board.origin, self._differing())

    def _paint_stage(self, painter: QPainter) -> None:
        """What the stage shows on the board."""
        if self.stage == "lights":
            paint_lasso(painter, self._lasso)
        if self.stage == "motion":
            if self.glyph.cells is not None:
                self.glyph.paint(painter, self.camera, self.work.board.origin, QRectF(self.rect()))
            elif self.strip is not None:
                paint_way(painter, self.camera, self.work, self.strip)
            paint_lasso(painter, self._lasso)
        if self.stage == "wiring":
            held = self._grabbed
            dragged = (held.x, held.y) if held is not None and held.name == "part" else None
            self.wires.paint(painter, self.camera, self.work, dragged)

    def _paint_in_hand(self, painter: QPainter) -> None:
        """Marks of a finding, what catches a drag, distances, handles, and the measure."""
        paint_marks(painter, self.camera, self.work.board.origin, self.marks)
        if self._caught is not None:
            paint_caught(painter, self.camera, self._caught)
        if self.stage == "shape":
            self._paint_dimensions(painter)
        paint_handles(painter, self.camera, self._handles, self._grabbed, self._focus_handle if self.hasFocus() else -1)
        if self._measure is not None:
            paint_measure(painter, self.camera, self._measure, self.width())

    def _scale_bar_at(self) -> tuple[float, float]:
        return self.width() - 20, self.height() - 70 - self.bottom_margin

    def _readout_area(self) -> QRect:
        """Where the words about the place under the pointer stand: a move of it repaints no more."""
        return scale_bar_area(self.camera.zoom, *self._scale_bar_at())

    def _differing(self) -> Any:
        """Where board and picture differ most on the side in view, found once for a board."""
        key = (self.work, self.camera.side)
        if self._differ_key != key:
            work, side = key
            self._differ_key = key
            self._differ_rows = core("difference").differ_most(work.art.chosen, work.board.origin, side)
        return self._differ_rows

    def _paint_dimensions(self, painter: QPainter) -> None:
        """How far the feature in hand is from the edges."""
        features = self.work.design.shape.features
        if 0 < self.feature <= len(features) and not features[self.feature - 1].along:
            one = features[self.feature - 1]
            paint_dimensions(painter, self.camera, core("placing").dimensions(self.work.outline, one.x_mm, one.y_mm))

    def _paint_flip(self, painter: QPainter) -> None:
        """The board alone while it turns over."""
        old = self._flip.shows_old
        picture = self._flip.picture if old else self.renders.board
        self._flip.squeeze(painter)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        if picture is not None and old:
            painter.drawImage(0, 0, picture)
        elif picture is not None:
            paint_render(painter, self.camera, picture, self.renders.camera)
