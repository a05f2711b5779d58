"""What the bench shows: which board, through which camera, in which light, and what is in hand there."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy

from ..core_door import core
from ..jobs import Jobs
from ..session import Session
from ..theme import theme, theme_signal
from .camera import Camera
from .flip import Flip
from .glyph_paint import GlyphPaint
from .handles import Handle, handles_for
from .kept import Carrier
from .marks import Marks, marks_of
from .render_cache import RenderCache
from .renderer import Request
from .wires_view import WiresView

#: A step of the registration's rehearsal.
_PHASE_MS = 320
#: How long the view rests before it is drawn sharp.
_SHARPEN_MS = 60


class Canvas(Carrier):
    """Shows a board through a camera: asks for pictures of it, and knows what lies over them."""

    turned = pyqtSignal(str)
    drawn = pyqtSignal()

    def __init__(self, session: Session, jobs: Jobs) -> None:
        super().__init__()
        self._session = session
        self.renders = RenderCache(session, jobs)
        self.camera = Camera()
        self.stage = "artwork"
        self.sun = 1.0
        self.time_s: float | None = None
        self.real = self.dark = False
        self.by_hand: Any = None
        #: So long a frame of slow motion lasts, s; None at its own speed.
        self.span_s: float | None = None
        self.rail: Any = None
        self.strip: Any = None
        self.glyph = GlyphPaint()
        self.hidden: frozenset[str] = frozenset()
        self.leaf, self.compare = "", "picture"
        self.wipe: float | None = None
        self.phase: int | None = None
        self.selected: str | None = None
        #: LEDs in hand, by array and place in it.
        self.picked: frozenset[tuple[str, int]] = frozenset()
        self.unseen: frozenset[str] = frozenset()  # arrays whose numbers and rings are hidden
        self._lasso: list[QPointF] = []
        #: Whether the way of the chain is drawn, and whether Ctrl-drag paints it.
        self.shows_chain = self.paints_chain = False
        self.picture = self.feature = 1
        self.wires = WiresView(self._wires_changed)
        self.marks = Marks()
        self.bottom_margin = 0
        self._handles: list[Handle] = []
        self._grabbed: Handle | None = None
        self._caught: Any = None
        self._pan_from: QPointF | None = None
        self._panned = self._wiping = self._fitted = self._by_key = False
        self._measure: tuple[QPointF, QPointF] | None = None
        self._readout = ""
        self._fitted_size = (1.0, 1.0)
        self._focus_handle = -1
        self._be_a_widget()
        self.moves = True
        self._flip = Flip(self)
        self._flip.moved.connect(self.update)
        self.renders.board_arrived.connect(self._arrived)
        self.renders.changed.connect(self.update)
        self.renders.first_seen.connect(self.fit)
        self._rehearsing = self._timer(_PHASE_MS, self._next_phase)
        self._sharpen = self._timer(_SHARPEN_MS, self.redraw)
        self._sharpen.setSingleShot(True)
        theme_signal.changed.connect(self._in_theme)

    def _be_a_widget(self) -> None:
        """Take mouse, keys and files that are dropped, and all the room there is."""
        self.setMouseTracking(True)
        self.setAcceptDrops(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Bench")
        self.setProperty("plays", True)

    def _timer(self, every_ms: int, run: Callable[[], None]) -> QTimer:
        one = QTimer(self)
        one.setInterval(every_ms)
        one.timeout.connect(run)
        return one

    def sizeHint(self) -> QSize:
        return QSize(868, 744)

    # -- what is shown -------------------------------------------------------------------------------------------

    @property
    def work(self) -> Any:
        """The board on the bench, or None."""
        return self._session.work

    @property
    def _seen(self) -> Any:
        """The board that is seen: that on the bench, or the first one of a project before all of it is made; or None."""
        return self.work or self.renders.first

    def show_work(self, first: bool) -> None:
        """A new board lies here; the first one of a project is fitted."""
        self.renders.first = None
        if first or (self._fitted and self._grabbed is None and self._outgrown()):
            self.fit()
        self.wires.found_again(self.work)
        self._refresh_handles()
        self.redraw()

    def clear(self) -> None:
        """Nothing lies here, and no picture of the last board is wanted any more."""
        self.renders.forget()
        self._rehearsing.stop()
        self._flip.stop()
        self._fitted, self.marks = False, Marks()
        self.phase = self.selected = self.time_s = self.wipe = None
        self.wires.clear()
        self.update()

    def show_stage(self, stage: str) -> None:
        """Another stage is open."""
        self.stage = stage
        self._refresh_handles()
        self.update()

    def select(self, array: str | None) -> None:
        """Take an array in hand, and none of its LEDs alone."""
        self.selected = array
        self.pick(frozenset())

    def pick(self, leds: frozenset[tuple[str, int]]) -> None:
        """Take LEDs in hand."""
        self.picked = leds
        self._refresh_handles()
        self.update()

    def show_chain(self, on: bool) -> None:
        """Draw the way of the chain from LED to LED, or not."""
        self.shows_chain = on
        self.update()

    def set_compare(self, what: str) -> None:
        """What lies left of the seam: the picture, or the differences."""
        self.compare = what
        self.renders.forget_art()
        self.redraw()

    def rehearse(self, on: bool) -> None:
        """Show the board with its layers off by the fabricator's tolerances, going round; or true again."""
        self.phase = 0 if on else None
        if on:
            self._rehearsing.start()
        else:
            self._rehearsing.stop()
        self.redraw()

    def _next_phase(self) -> None:
        if self.phase is not None and not self.renders.waiting:
            self.phase = (self.phase + 1) % core("rehearsal").PHASES
            self.redraw()

    def take_picture(self, which: int) -> None:
        """Take a picture in hand, counted from 1."""
        self.picture = which
        self._refresh_handles()
        self.update()

    def take_feature(self, which: int) -> None:
        """Take a feature of the shape in hand, counted from 1: its distances are shown."""
        self.feature = which
        self.update()

    def _wires_changed(self) -> None:
        self._refresh_handles()
        self.update()

    def mark(self, finding: Any, which: int = 0, bring: bool = True) -> None:
        """Mark the places of a finding, None for none; `bring` its side up and the place in hand into view."""
        self.marks = Marks() if finding is None else marks_of(finding, which)
        if bring and self.marks.here is not None and self.work is not None:
            behind = finding.layer is not None and finding.layer.startswith("back")
            if (self.camera.side == "back") != behind:
                self.turn_over()
            at = self.screen_of(*self.marks.here)
            inside = QRectF(60, 70, self.width() - 120, self.height() - 200 - self.bottom_margin)
            if not inside.contains(at):
                x, y = self.camera.to_mm(at)
                self.camera = replace(self.camera, x=x, y=y)
                self.redraw()
        self.update()

    def set_sun(self, sun: float) -> None:
        """Another hour."""
        self.sun = sun
        self.redraw()

    def set_real(self, on: bool) -> None:
        """Show what the LEDs can do as they are driven, or what is wanted."""
        self.real = on
        self.redraw()

    def set_dark(self, dark: bool) -> None:
        """No LED is lit: the scene is over, or switched off."""
        if dark != self.dark:
            self.dark = dark
            self.redraw()

    def set_turned(self, motion: Any) -> None:
        """What plays while a knob is in the hand; None for that of the project."""
        self.by_hand = motion
        self.redraw()

    def set_rail(self, shares: Any) -> None:
        """The share of its light that each light of each LED gives; None for all of it."""
        self.rail = shares
        self.redraw()

    def show_way(self, strip: Any) -> None:
        """Number the LEDs in the order in which a strip of the score runs over them; None for no strip."""
        self.strip = strip
        self.update()

    def set_time(self, time_s: float | None) -> None:
        """Another moment of the pattern; None lights everything."""
        self.time_s = time_s
        self.redraw()

    def set_layers(self, hidden: frozenset[str], leaf: str) -> None:
        """Other leaves."""
        self.hidden, self.leaf = hidden, leaf
        self.redraw()

    def set_wipe(self, share: float | None) -> None:
        """Where the seam between picture and board stands, as a share of the width; None: no seam."""
        self.wipe = share
        if share is not None and self.renders.art is None:
            self.redraw()
        self.update()

    # -- drawing in the background -------------------------------------------------------------------------------

    def redraw(self) -> None:
        """Ask for a new picture of what should be seen now."""
        if self._seen is None or self.width() < 10:
            self.update()
            return
        wanted = self._request()
        self.renders.ask(wanted)
        if self.wipe is not None:
            self.renders.ask_art(wanted)
        self.update()

    def _arrived(self) -> None:
        self._flip.arrived()
        self.drawn.emit()

    def _request(self) -> Request:
        camera = replace(self.camera, width=self.width(), height=self.height())
        leaf, ground = self.leaf or None, theme().bench
        scale = self.devicePixelRatioF()
        return Request(
            self._seen,
            camera,
            scale,
            self.sun,
            self.time_s,
            self.hidden,
            leaf,
            ground,
            self.compare,
            self.phase,
            self.real,
            self.dark,
            self.by_hand,
            self.rail if self.stage == "motion" else None,
            self.span_s if self.stage == "motion" else None,
        )

    # -- camera ---------------------------------------------------------------------------------------------------

    def fit(self) -> None:
        """The whole board in view."""
        if self._seen is None:
            return
        (ox, oy), (w, h) = self._seen.board.origin, self._seen.board.size
        self.camera = replace(self.camera, width=self.width(), height=self.height()).fitted(
            ox, oy, w, h, (46, 92, 46, self.under_board)
        )
        self._fitted = True
        self._fitted_size = (w, h)
        self.redraw()

    @property
    def under_board(self) -> int:
        """How high that is which lies under a board that is fitted, px."""
        return 56 + self.bottom_margin if self.bottom_margin else 128

    def _outgrown(self) -> bool:
        """Whether the board is of quite another size than the one that was fitted; a view somebody chose is left alone."""
        now = self.work.board.size
        return any(not 0.87 < new / old < 1.15 for new, old in zip(now, self._fitted_size, strict=True))

    def turn_over(self) -> None:
        """Flip the board like a thing in the hand: about the vertical through its middle."""
        if self.work is None:
            return
        middle = self.work.board.origin[0] + self.work.board.size[0] / 2
        side = "back" if self.camera.side == "front" else "front"
        if self.moves and self.renders.board is not None:
            self._flip.start(self.renders.board, self.renders.camera, self.camera.to_screen(middle, 0).x())
        self.camera = replace(self.camera, side=side, x=2 * middle - self.camera.x)
        self.renders.board = None
        self._refresh_handles()
        self.redraw()
        self.turned.emit(side)

    def zoom_by(self, factor: float) -> None:
        """Nearer or farther about the middle."""
        here = replace(self.camera, width=self.width(), height=self.height())
        self.camera = here.zoomed(factor, QPointF(self.width() / 2, self.height() / 2))
        self.redraw()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        old = event.oldSize() if event is not None else QSize()
        self.camera = replace(self.camera, width=self.width(), height=self.height())
        if old.width() < 10 or self._fitted:
            self.fit()
        self._sharpen.start()

    def _in_theme(self) -> None:
        """The theme is another one."""
        self.renders.art = None
        self.redraw()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """A frame shows the focus only to those who came by key."""
        reasons = (Qt.FocusReason.TabFocusReason, Qt.FocusReason.BacktabFocusReason)
        self._by_key = event is not None and event.reason() in reasons
        super().focusInEvent(event)

    # -- handles -------------------------------------------------------------------------------------------

    def _refresh_handles(self) -> None:
        self._handles = handles_for(
            self.stage, self.work, self.selected, self.picked, self.picture, self.camera.side, self.wires
        )
        self._focus_handle = min(self._focus_handle, len(self._handles) - 1)

    @property
    def handles(self) -> list[Handle]:
        """The handles now on the bench."""
        return self._handles

    def screen_of(self, x_mm: float, y_mm: float) -> QPointF:
        """A place of the board frame on the widget."""
        ox, oy = self.work.board.origin if self.work is not None else (0.0, 0.0)
        return self.camera.to_screen(x_mm + ox, y_mm + oy)

    def _seam(self) -> float | None:
        return None if self.wipe is None or self.stage != "artwork" else self.wipe * self.width()
