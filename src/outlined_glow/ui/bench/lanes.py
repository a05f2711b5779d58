"""The strips of a score in their rows: where they lie, their pictures, and what a hand does to them."""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass
from typing import Any

import msgspec
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPen, QPixmap

from ..core_door import core
from ..theme import DUSK, font, theme

#: What strips are drawn on: the bench at dusk.
GROUND = (0x17, 0x14, 0x1B)
_GAP, _EDGE, _SNAP_PX, _LEAST_S = 3.0, 7.0, 6.0, 0.05
#: So far the ring of a strip in hand reaches over it.
_RING = 2.0
_COLUMNS = 240
#: Beyond the end there is room for more.
_MORE = 1.12
#: Steps that a drag snaps to, s; the finest that is far enough apart is taken.
_BEATS = (0.05, 0.1, 0.25, 0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0)
#: Steps of the times that are written down, s.
_TICKS = (0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 30.0, 60.0, 120.0, 300.0, 600.0, 1200.0)


@dataclass(frozen=True)
class Hold:
    """What of a strip is in the hand: its start, its end or all of it, where it was taken, and where it is now."""

    strip: Any
    part: str
    from_s: float
    start_s: float
    length_s: float
    row: int


@dataclass(frozen=True)
class _Picture:
    """The light of a strip, what it was made of, and whether there are LEDs it plays on."""

    looks: Any
    image: QImage
    lit: bool


def _beside(ends: list[float], time_s: float) -> list[float]:
    """The moments just before and after another one."""
    at = bisect_left(ends, time_s)
    return ends[max(0, at - 1) : at + 1]


class Lanes:
    """Rows of strips, the highest on top: it lies over the others."""

    def __init__(self) -> None:
        self.strips: tuple[Any, ...] = ()
        #: How many rows there are.
        self.rows = 0
        self.markers: tuple[Any, ...] = ()
        self.area = QRectF()
        self.hold: Hold | None = None
        self._under: QPixmap | None = None
        #: The strip in hand as it was painted last, and how large it was; the moments that it is drawn to.
        self._held_picture: QPixmap | None = None
        self._ends: list[float] = []
        self._seconds = 1.0
        self._lamps: Any = None
        self._feeds: tuple[Any, ...] = ()
        self._pictures: dict[int, _Picture] = {}

    def show(self, motion: Any, lamps: Any) -> None:
        """The strips of a board's score."""
        if lamps is not self._lamps:
            self._pictures.clear()
        self.strips, self._lamps, self._feeds = motion.score, lamps, motion.feeds
        self.rows = max((one.row for one in self.strips), default=0)
        self.markers = motion.markers
        self._seconds = motion.seconds
        self.hold = None

    @property
    def span_s(self) -> float:
        """How much time is in view."""
        return self._seconds * _MORE

    def x_of(self, time_s: float) -> float:
        """Where a moment lies."""
        return self.area.left() + time_s / self.span_s * self.area.width()

    def time_at(self, x: float) -> float:
        """The moment at a place, within what is in view."""
        share = (x - self.area.left()) / max(1.0, self.area.width())
        return min(max(0.0, share), 1.0) * self.span_s

    def ticks(self) -> list[float]:
        """Moments to write down over the rows, s: a handful of round ones."""
        step = next((one for one in _TICKS if self.span_s / one <= 7), _TICKS[-1])
        return [step * at for at in range(int(self.span_s / step) + 1)]

    def _height(self) -> float:
        return self.area.height() / max(1, self.rows)

    def box(self, strip: Any) -> QRectF:
        """Where a strip lies; the one in hand where the hand has it."""
        start, length, row = strip.start_s, strip.length_s, strip.row
        if self.hold is not None and self.hold.strip.number == strip.number:
            start, length, row = self.hold.start_s, self.hold.length_s, self.hold.row
        top = self.area.top() + (self.rows - row) * self._height()
        left, right = self.x_of(start), self.x_of(start + length * strip.repeats)
        return QRectF(left, top, max(2.0, right - left), self._height() - _GAP)

    def at(self, spot: QPointF) -> tuple[Any, str] | None:
        """The strip under the pointer, and whether its start, its end or all of it is meant."""
        for one in reversed(self.strips):
            box = self.box(one)
            if box.adjusted(-2, 0, 2, 0).contains(spot):
                edge = min(_EDGE, box.width() / 4)
                part = "start" if spot.x() - box.left() < edge else "end" if box.right() - spot.x() < edge else "all"
                return one, part
        return None

    def take(self, strip: Any, part: str, x: float) -> None:
        """A strip is in the hand."""
        self._under, self._held_picture = None, None
        self._ends = self._ends_for(strip)
        self.hold = Hold(strip, part, self.time_at(x), strip.start_s, strip.length_s, strip.row)

    def drag(self, spot: QPointF) -> None:
        """The hand moves; times snap to the ends of other strips and to the beat."""
        hold = self.hold
        if hold is None:
            return
        strip, moved = hold.strip, self.time_at(spot.x()) - hold.from_s
        if hold.part == "all":
            start = max(0.0, self.snapped(strip.start_s + moved, strip, strip.end_s - strip.start_s))
            row = self.rows - int((spot.y() - self.area.top()) // max(1.0, self._height()))
            self.hold = Hold(strip, "all", hold.from_s, start, strip.length_s, min(max(1, row), self.rows))
        elif hold.part == "end":
            end = max(strip.start_s + _LEAST_S * strip.repeats, self.snapped(strip.end_s + moved, strip))
            self.hold = Hold(strip, "end", hold.from_s, strip.start_s, (end - strip.start_s) / strip.repeats, strip.row)
        else:
            start = min(max(0.0, self.snapped(strip.start_s + moved, strip)), strip.end_s - _LEAST_S * strip.repeats)
            self.hold = Hold(strip, "start", hold.from_s, start, (strip.end_s - start) / strip.repeats, strip.row)

    def let_go(self) -> dict[str, Any]:
        """What the hand changed, as keys of the strip; nothing where it is as it was."""
        hold, self.hold = self.hold, None
        if hold is None:
            return {}
        was, now = hold.strip, {"start_s": hold.start_s, "length_s": hold.length_s, "row": hold.row}
        others = tuple(one for one in self.strips if one.number != was.number)
        # It lies on no other: where its row is taken at that time, it goes to one above.
        now["row"] = core("motion_edits").free_row(others, msgspec.structs.replace(was, **now), hold.row)
        return {key: value for key, value in now.items() if abs(value - getattr(was, key)) > 1e-9}

    def beat_s(self) -> float:
        """The step that times snap to, at this scale."""
        per_px = self.span_s / max(1.0, self.area.width())
        return next((one for one in _BEATS if one >= 4 * per_px), _BEATS[-1])

    def new_marker(self) -> str:
        """A name that no marker has."""
        names = {one.name for one in self.markers}
        return next(name for at in range(1, 1000) if (name := f"mark {at}") not in names)

    def snapped(self, time_s: float, strip: Any = None, length_s: float = 0.0) -> float:
        """A moment, drawn to the ends of other strips, to markers (but not of itself) and to the beat."""
        per_px = self.span_s / max(1.0, self.area.width())
        held = self.hold is not None and strip is self.hold.strip
        ends = self._ends if held else self._ends_for(strip)
        near = [end - off for off in (0.0, length_s) for end in _beside(ends, time_s + off)]
        best = min(near, key=lambda one: abs(one - time_s))
        if abs(best - time_s) < _SNAP_PX * per_px:
            return best
        beat = self.beat_s()
        return round(round(time_s / beat) * beat, 6)

    def _ends_for(self, strip: Any) -> list[float]:
        """The moments that a strip, or a marker, is drawn to, in their order."""
        others = [end for one in self.strips if strip is None or one.number != strip.number for end in (one.start_s, one.end_s)]
        return sorted([0.0, *others, *([one.at_s for one in self.markers] if strip is not None else [])])

    # -- painting -------------------------------------------------------------------------------------------------

    def paint(self, painter: QPainter, chosen: int) -> None:
        """Every strip, the chosen one ringed; and where the score ends. What lies under a strip in hand is painted once."""
        if self.hold is None:
            self._paint_all(painter, chosen, 0)
            return
        held = self.hold.strip
        if self._under is None:
            scale = painter.device().devicePixelRatio()  # type: ignore[union-attr]
            size = self.area.size().toSize() * scale
            self._under = QPixmap(size)
            self._under.setDevicePixelRatio(scale)
            own = QPainter(self._under)
            own.setRenderHint(QPainter.RenderHint.Antialiasing)
            own.translate(-self.area.topLeft())
            self._paint_all(own, chosen, held.number)
            own.end()
        painter.drawPixmap(self.area.topLeft(), self._under)
        self._paint_held(painter, held)

    def _paint_held(self, painter: QPainter, held: Any) -> None:
        """The strip in hand: painted anew only where it is longer or shorter."""
        box, scale = self.box(held), painter.device().devicePixelRatio()  # type: ignore[union-attr]
        size = (box.adjusted(-_RING, -_RING, _RING, _RING).size() * scale).toSize()
        if self._held_picture is None or self._held_picture.size() != size:
            self._held_picture = QPixmap(size)
            self._held_picture.setDevicePixelRatio(scale)
            self._held_picture.fill(Qt.GlobalColor.transparent)
            own = QPainter(self._held_picture)
            own.setRenderHint(QPainter.RenderHint.Antialiasing)
            own.translate(_RING - box.left(), _RING - box.top())
            self._paint_strip(own, held, True)
            own.end()
        painter.drawPixmap(QPointF(box.left() - _RING, box.top() - _RING), self._held_picture)

    def _paint_all(self, painter: QPainter, chosen: int, without: int) -> None:
        t = theme()
        painter.fillRect(self.area, QColor(*GROUND))
        end = self.x_of(self._seconds)
        painter.fillRect(QRectF(end, self.area.top(), self.area.right() - end, self.area.height()), t.colour("sunken"))
        for one in sorted(self.strips, key=lambda one: one.number == chosen):
            if one.number != without:
                self._paint_strip(painter, one, one.number == chosen)
        painter.setPen(QPen(t.colour("quiet"), 1, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(end, self.area.top()), QPointF(end, self.area.bottom()))

    def _paint_strip(self, painter: QPainter, one: Any, chosen: bool) -> None:
        box = self.box(one)
        shape = QPainterPath()
        shape.addRoundedRect(box, 3, 3)
        painter.save()
        painter.setClipPath(shape)
        painter.setOpacity(0.3 if one.muted else 1.0)
        picture = self._picture(one)
        painter.drawImage(box, picture.image)
        painter.setOpacity(1.0)
        if one.repeats > 1:
            painter.setPen(QPen(QColor(23, 20, 27, 220), 1.5))
            for at in range(1, one.repeats if box.width() > 3 * one.repeats else 1):
                x = box.left() + box.width() * at / one.repeats
                painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
        painter.setFont(font(12))
        name = one.pattern if one.repeats == 1 else f"{one.pattern} × {one.repeats}"
        words = f"{name}, muted" if one.muted else name
        if not picture.lit:
            words = f"{name}: no LED"
        wide = min(box.width(), painter.fontMetrics().horizontalAdvance(words) + 10)
        if box.height() >= 14 and wide > 14:
            # Strips lie on a dark ground in either theme.
            plate = QRectF(box.left(), box.top(), wide, min(17.0, box.height()))
            painter.fillRect(plate, QColor(23, 20, 27, 200))
            painter.setPen(DUSK.colour("text" if picture.lit else "warn"))
            shown = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(wide) - 6)
            painter.drawText(plate.adjusted(5, 0, -1, 0), int(Qt.AlignmentFlag.AlignVCenter), shown)
        painter.restore()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(DUSK.colour("ring"), 2) if chosen else QPen(QColor("#6B6174"), 1))
        painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 3, 3)

    def _picture(self, one: Any) -> _Picture:
        """The light of a strip; made anew only where that is another one."""
        looks = core("score").as_looks(one, self._feeds)
        known = self._pictures.get(one.number)
        if known is not None and known.looks == looks:
            return known
        pixels = core("strips").strip_picture(one, self._lamps, _COLUMNS, GROUND, self._feeds)
        rows = pixels.shape[0]
        image = QImage(pixels.tobytes(), _COLUMNS, rows, 3 * _COLUMNS, QImage.Format.Format_RGB888).copy()
        made = _Picture(looks, image, bool(len(core("way").rows_of(one, self._lamps))))
        self._pictures[one.number] = made
        return made
