"""Pictures of the bench, made by the core on a worker; the heavy part is kept while only light changes."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from PyQt6.QtGui import QImage

from ..core_door import core
from .camera import Camera


@dataclass(frozen=True)
class Request:
    """What the bench should show."""

    work: Any
    camera: Camera
    scale: float
    sun: float
    time_s: float | None
    hidden: frozenset[str]
    leaf: str | None
    background: str
    #: What lies on the left of the seam: the picture, or where the board differs from it.
    compare: str = "picture"
    #: The moment of the registration's rehearsal, or None.
    phase: int | None = None
    #: What the LEDs can do as they are driven, in the place of what is wanted.
    real: bool = False
    #: No LED is lit.
    dark: bool = False
    #: What plays, with a knob in the hand; None for that of the project.
    motion: Any = None
    #: The share of its light that each light of each LED gives; None for all of it.
    rail: Any = None
    #: So long a frame of slow motion lasts on the board, s; None at its own speed.
    span_s: float | None = None


class Renderer:
    """Remembers surfaces and light fields of the latest view."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._painter: Any = None
        self._player: Any = None
        self._played: Any = None
        self._compiled = False
        self._pulses: tuple[Any, Any] | None = None
        self._art_key: tuple[Any, ...] = ()
        self._shifted: dict[float, Any] = {}
        self._shifted_board: Any = None
        self._art: QImage | None = None

    def view(self, camera: Camera, scale: float, origin: tuple[float, float]) -> Any:
        """The camera as the core's view, in the board frame and in device pixels."""
        zoom = camera.zoom * scale
        width, height = round(camera.width * scale), round(camera.height * scale)
        left = camera.x - camera.sign * width / 2 / zoom - origin[0]
        return core("view").View(camera.side, zoom, left, camera.y + height / 2 / zoom - origin[1], width, height)

    def board(self, wanted: Request, cancelled: Callable[[], bool]) -> QImage | None:
        """The board in its materials and its light, or one leaf of it."""
        with self._lock:
            if cancelled():
                return None
            board = self._rehearsed(wanted)
            view = self.view(wanted.camera, wanted.scale, board.origin)
            if wanted.leaf:
                return image(core("draw").draw_leaf(board, wanted.leaf, view, wanted.background), wanted.scale)
            repaint = core("repaint")
            if self._painter is None:
                self._painter = repaint.Painter()
            sight = repaint.Sight(view, 3 if wanted.scale == 1 else 2, wanted.hidden, wanted.sun, wanted.background)
            exposed = self._painter.exposed(board, sight, cancelled)
            if exposed is None:
                return None
            motion, lamps = wanted.motion or wanted.work.project.motion, wanted.work.lamps
            score = core("score")
            playing = wanted.time_s is not None
            if playing and wanted.dark:
                levels = 0.0 * score.still(motion, lamps)
            elif playing and wanted.span_s is not None:
                eye = core("moving_eye")
                if self._pulses is None or self._pulses[0] is not wanted.work:
                    self._pulses = (wanted.work, eye.pulses(wanted.work))
                levels = eye.instant(wanted.work, self._pulses[1], motion, wanted.time_s, wanted.span_s)
            elif playing and wanted.real:
                levels = core("truth").real_at(wanted.work.design.drive, motion, lamps, wanted.time_s)
            else:
                levels = core("briefest").seen_at(motion, lamps, wanted.time_s) if playing else score.still(motion, lamps)
            if wanted.rail is not None and wanted.rail.shape == levels.shape:
                levels = levels * wanted.rail
            pixels = self._frames(exposed)(levels) if playing else self._painter.still(levels)
            return image(pixels, wanted.scale)

    def _frames(self, exposed: Any) -> Any:
        """What makes frame after frame of the light in view; compiled code once that is loaded."""
        playing = core("playing")  # first: its functions count only once they are declared
        loaded = core("compiled").loaded()
        if self._player is None or exposed is not self._played or loaded != self._compiled:
            self._player, self._played, self._compiled = playing.player(exposed), exposed, loaded
        return self._player

    def load_kernels(self, cancelled: Callable[[], bool]) -> bool:
        """Load what is compiled for playing; until then frames are made by plain code."""
        return bool(core("kernels").load())

    def _rehearsed(self, wanted: Request) -> Any:
        """The board, or, while its registration is rehearsed, the board as it then lies."""
        board = wanted.work.board
        if wanted.phase is None or self._shifted_board is not board:
            self._shifted_board, self._shifted = board, {}
        if wanted.phase is None:
            return board
        if wanted.phase not in self._shifted:
            self._shifted[wanted.phase] = core("rehearsal").worst_case(board, wanted.phase)
        return self._shifted[wanted.phase]

    def art(self, wanted: Request, cancelled: Callable[[], bool]) -> QImage | None:
        """The picture in its own colours, where it lies on the board."""
        with self._lock:
            board = wanted.work.board
            view = self.view(wanted.camera, wanted.scale, board.origin)
            key = (wanted.work.painted, board if wanted.compare == "difference" else board.origin, view, wanted.compare)
            if key != self._art_key:
                if cancelled():
                    return None
                if wanted.compare == "difference":
                    pixels = core("difference").difference_map(wanted.work.painted, board, view)
                else:
                    pixels = core("draw").draw_picture(wanted.work.painted, board.origin, view)
                self._art = image(pixels, wanted.scale)
                self._art_key = key
            return self._art


def image(pixels: Any, scale: float) -> QImage:
    """Core pixels (h, w, 3) as an image of its own."""
    height, width, _ = pixels.shape
    one = QImage(pixels.data, width, height, 3 * width, QImage.Format.Format_RGB888).convertToFormat(QImage.Format.Format_RGB32)
    one.setDevicePixelRatio(scale)
    return one
