"""What the bench shows of the wiring: a net seen through the board, the part in hand, the map of the volts lost, a track that
is being drawn."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtGui import QPainter

from ..core_door import core
from .camera import Camera
from .wires import paint_drop, paint_lacking, paint_lens, paint_part, paint_track

#: A track from a place to a place, in the picture frame.
Way = tuple[tuple[float, float], tuple[float, float]]


class WiresView:
    """Nets, parts and tracks on the bench; `changed` is called when there is something else to see."""

    def __init__(self, changed: Callable[[], None]) -> None:
        self._changed = changed
        #: The net that is seen through the board, and the part in hand, by its reference.
        self.net: str | None = None
        self.part: str | None = None
        #: The stretches of track in the colours of the volts they lose, by side; None: not shown.
        self.drop: Any = None
        #: A track that is being drawn by hand.
        self.track: Way | None = None
        self._seen: tuple[Any, str | None] | None = None
        self._lens: Any = None

    def clear(self) -> None:
        """Nothing lies on the bench."""
        self.net = self.part = self.drop = self.track = self._seen = None

    def take_net(self, net: str | None) -> None:
        """See a net through the board."""
        self.net = net
        self._changed()

    def take_part(self, ref: str | None) -> None:
        """Take a part of the drive in hand."""
        self.part = ref
        self._changed()

    def show_drop(self, lines: Any) -> None:
        """Lay the map of the volts that copper loses over the board, or take it away (None)."""
        self.drop = lines
        self._changed()

    def paint(self, painter: QPainter, camera: Camera, work: Any) -> None:
        """The map, the net in view, what is not joined, the part in hand, and the track that is being drawn."""
        if self._seen != (work, self.net):
            self._seen = (work, self.net)
            lens = core("net_lens").lens(work, self.net) if self.net else None
            self._lens = lens, core("net_lens").lacking(work) if lens is None else lens.lacking
        seen, lacking = self._lens
        if self.drop is not None:
            paint_drop(painter, camera, self.drop)
        if seen is not None:
            paint_lens(painter, camera, seen)
        paint_lacking(painter, camera, lacking)
        part = core("net_lens").placed(work, self.part) if self.part else None
        if part is not None:
            paint_part(painter, camera, part)
        if self.track is not None:
            paint_track(painter, camera, core("hand_track").elbow(*self.track))
