"""What the bench shows of the wiring: a net seen through the board, the part or the track in hand, the map of the volts lost,
what is being drawn."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtGui import QPainter

from ..core_door import core
from .camera import Camera
from .wires import (
    paint_area,
    paint_drop,
    paint_held,
    paint_lacking,
    paint_lens,
    paint_links,
    paint_part,
    paint_pulls,
    paint_track,
)

Spot = tuple[float, float]
#: A smaller area is a click, mm.
_CLICK_MM = 0.5


class WiresView:
    """Nets, parts and tracks on the bench; `changed` is called when there is something else to see. Places are in mm of the
    picture frame."""

    def __init__(self, changed: Callable[[], None]) -> None:
        self._changed = changed
        #: The net that is seen through the board; the part, by its reference, or the track in hand.
        self.net: str | None = None
        self.part: str | None = None
        self.track: Any = None
        #: The stretches of track in the colours of the volts they lose, by side; None: not shown.
        self.drop: Any = None
        #: What the next drag draws: a “track”, an “area” in which tracks are drawn anew, or nothing.
        self.draws = ""
        self._drawn: list[Spot] = []
        self._kind = ""
        self._seen: tuple[Any, str | None] | None = None
        self._lens: Any = None

    def clear(self) -> None:
        """Nothing lies on the bench."""
        self.net = self.part = self.track = self.drop = self._seen = None
        self._drawn = []

    def take_net(self, net: str | None) -> None:
        """See a net through the board."""
        self.net = net
        self._changed()

    def take_part(self, ref: str | None) -> None:
        """Take a part of the drive in hand."""
        self.part = ref
        self._changed()

    def take_track(self, held: Any) -> None:
        """Take a track in hand."""
        self.track = held
        self._changed()

    def found_again(self, work: Any) -> None:
        """Another board lies there: the track in hand is the one that it has of it."""
        if self.track is not None:
            self.take_track(core("hand_track").held_again(work, self.track))

    def show_drop(self, lines: Any) -> None:
        """Lay the map of the volts that copper loses over the board, or take it away (None)."""
        self.drop = lines
        self._changed()

    # -- drawing ---------------------------------------------------------------------------------------------------

    @property
    def drawing(self) -> bool:
        """Whether something is being drawn."""
        return bool(self._drawn)

    def begin(self, spot: Spot, kind: str) -> None:
        """Begin a track or an area."""
        self._drawn, self._kind = [spot], kind

    def go_on(self, spot: Spot) -> None:
        """The hand is there by now."""
        if self._kind == "track":
            self._drawn = [self._drawn[0], spot]
        else:
            self._drawn.append(spot)

    def end(self, work: Any, side: str) -> tuple[str, dict[str, Any]] | str:
        """The edit that what was drawn makes, or what is wrong with it."""
        drawn, self._drawn = self._drawn, []
        if self._kind == "area":
            wide = max(abs(a - b) for axis in zip(*drawn, strict=True) for a in axis for b in axis)
            points = tuple((round(x, 3), round(y, 3)) for x, y in drawn)
            return ("rewire", {"area": points}) if wide > _CLICK_MM and len(points) > 2 else ""
        values = core("hand_track").drawn_track(work, drawn[0], drawn[-1], side)
        if values is None:
            return "A track begins at a pad, a track or a via of its net, and ends elsewhere."
        return "track", values

    # -- painting --------------------------------------------------------------------------------------------------

    def paint(self, painter: QPainter, camera: Camera, work: Any, dragged: Spot | None) -> None:
        """The map, the net in view, what is not joined, the part in hand (where it is `dragged` to, with the ways to its nets),
        the track in hand, and what is being drawn."""
        if self._seen != (work, self.net):
            self._seen = (work, self.net)
            lens = core("net_lens").lens(work, self.net) if self.net else None
            links = [(one.ref, one.moved(*work.board.origin)) for one in work.board.wires.links]
            self._lens = lens, core("net_lens").lacking(work) if lens is None else lens.lacking, links
        seen, lacking, links = self._lens
        if self.drop is not None:
            paint_drop(painter, camera, self.drop)
        if seen is not None:
            paint_lens(painter, camera, seen)
        paint_lacking(painter, camera, lacking)
        paint_links(painter, camera, links)
        part = core("net_lens").placed(work, self.part) if self.part else None
        if part is not None and dragged is not None:
            paint_pulls(painter, camera, core("net_lens").pulls(work, self.part, *dragged))
            part = part.moved(dragged[0] - part.x, dragged[1] - part.y)
        if part is not None:
            paint_part(painter, camera, part)
        if self.track is not None:
            paint_held(painter, camera, self.track.track)
        if self._drawn and self._kind == "area":
            paint_area(painter, camera, self._drawn)
        elif self._drawn:
            paint_track(painter, camera, core("hand_track").elbow(self._drawn[0], self._drawn[-1]))
