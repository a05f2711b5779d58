"""What is painted over the board: the seam, the thread of the chain, marks, handles and the measure."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache
from typing import Any

from PyQt6.QtCore import QPointF, QRect, QRectF, QSizeF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPen, QPixmap, QPolygonF

from ..theme import SEMIBOLD, font, on_bench
from .camera import Camera
from .handles import Handle
from .kept import blank, stamp
from .plate import paint_plate
from .render_cache import paint_render
from .rulers import BOTTOM, LEFT

#: Room that words beside the seam take.
_WORDS_PX = 160


def paint_pill(painter: QPainter, at: QPointF, words: str, right: bool) -> None:
    """Words on a rounded ground beside a point."""
    t = on_bench()
    painter.setFont(font(13))
    wide = painter.fontMetrics().horizontalAdvance(words) + 22
    area = QRectF(at.x() - (wide if right else 0), at.y(), wide, 24)
    painter.setPen(QPen(t.colour("line"), 1))
    painter.setBrush(t.colour("window", 0.9))
    painter.drawRoundedRect(area, 12, 12)
    painter.setPen(t.colour("text"))
    painter.drawText(area, int(Qt.AlignmentFlag.AlignCenter), words)


def paint_seam(painter: QPainter, x: float, width: int, height: int, left: str) -> None:
    """The seam of the wipe with its knob, and which side is which where there is room for the words."""
    t = on_bench()
    painter.setPen(QPen(t.colour("text"), 1.6))
    painter.drawLine(QPointF(x, 70), QPointF(x, height - 124))
    knob = QRectF(x - 24, height - 142, 48, 22)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(t.colour("lamp"))
    painter.drawRoundedRect(knob, 11, 11)
    painter.setPen(QPen(t.colour("window"), 2))
    middle = knob.center()
    for side in (-1, 1):
        painter.drawPolyline(
            QPolygonF([QPointF(middle.x() + side * 6, middle.y() - 5), QPointF(middle.x() + side * 11, middle.y()),
                       QPointF(middle.x() + side * 6, middle.y() + 5)])
        )  # fmt: skip
    if x > _WORDS_PX:
        paint_pill(painter, QPointF(x - 12, 86), left, right=True)
    if x < width - _WORDS_PX:
        paint_pill(painter, QPointF(x + 12, 86), "the board it makes", right=False)


def paint_words(painter: QPainter, area: QRect, words: str) -> None:
    """Words in the middle of an empty bench."""
    painter.setFont(font(15))
    painter.setPen(on_bench().colour("quiet"))
    painter.drawText(area, int(Qt.AlignmentFlag.AlignCenter), words)


def paint_left_of_seam(
    painter: QPainter, camera: Camera, work: Any, seam: float, art: tuple[QImage, Camera], compare: str
) -> None:
    """The picture on paper, or the differences, up to the seam; `art` as it was drawn, and for which camera."""
    (ox, oy), (w, h) = work.board.origin, work.board.size
    one, other = camera.to_screen(ox - 2, oy - 1), camera.to_screen(ox + w + 2, oy + h + 1)
    paper, whole = QRectF(one, other).normalized(), QRectF(0, 0, camera.width, camera.height)
    painter.save()
    painter.setClipRect(QRectF(0, 0, seam, camera.height))
    painter.fillRect(whole, on_bench().colour("bench"))
    painter.setClipRect(paper, Qt.ClipOperation.IntersectClip)
    painter.fillRect(paper, QColor("#F1E9D8"))
    paint_render(painter, camera, *art)
    painter.restore()
    words = "the picture" if compare == "picture" else "where they differ"
    paint_seam(painter, seam, int(camera.width), int(camera.height), words)


def paint_thread(painter: QPainter, camera: Camera, work: Any) -> None:
    """The chain from its first LED, which has a dot, to its last, where an arrow ends."""
    there = {led.index: camera.to_screen(led.x, led.y) for led in work.leds}
    way = [there[index] for index in work.values["chain"]]
    if len(way) < 2:
        return
    t = on_bench()
    painter.setPen(QPen(t.colour("bench", 0.55), 3.4))
    painter.drawPolyline(QPolygonF(way))
    painter.setPen(QPen(t.colour("sea", 0.75), 1.3))
    painter.drawPolyline(QPolygonF(way))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(t.colour("sea"))
    painter.drawEllipse(way[0], 4, 4)
    last, before = way[-1], way[-2]
    back = before - last
    norm = math.hypot(back.x(), back.y()) or 1.0
    along, across = back * (11 / norm), QPointF(-back.y(), back.x()) * (5 / norm)
    painter.drawPolygon(QPolygonF([last, last + along + across, last + along - across]))


def paint_lasso(painter: QPainter, points: Sequence[QPointF]) -> None:
    """The line that is being drawn round LEDs."""
    if len(points) > 1:
        t = on_bench()
        painter.setPen(QPen(t.colour("ring"), 1.4, Qt.PenStyle.DashLine))
        painter.setBrush(t.colour("ring", 0.08))
        painter.drawPolygon(QPolygonF(points))


def paint_handles(
    painter: QPainter, camera: Camera, handles: Sequence[Handle], grabbed: Handle | None, focused_place: int
) -> None:
    """Knobs; the one in hand, or reached by key, is ringed."""
    dots = painter.device().devicePixelRatio()  # type: ignore[union-attr]
    spots: dict[bool, list[QPointF]] = {False: [], True: []}
    for place, handle in enumerate(handles):
        held = grabbed is not None and grabbed.name == handle.name
        here = grabbed if grabbed is not None and held else handle
        spots[held or place == focused_place].append(camera.to_screen(here.x, here.y))
    for ringed, some in spots.items():
        if some:
            stamp(painter, _knob(ringed, on_bench().name, dots), dots, some)


@lru_cache(maxsize=16)
def _knob(ringed: bool, theme_name: str, dots: float) -> QPixmap:
    """The picture of a knob."""
    t = on_bench()
    side, colour = 20, t.colour("ring" if ringed else "text")
    picture = blank(QSizeF(side, side), dots)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    middle = QPointF(side / 2, side / 2)
    painter.setPen(QPen(t.colour("bench"), 4))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(middle, 7, 7)
    painter.setPen(QPen(colour, 2.4))
    painter.setBrush(t.colour("window"))
    painter.drawEllipse(middle, 6.5, 6.5)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour)
    painter.drawEllipse(middle, 2.4, 2.4)
    painter.end()
    return picture


def paint_measure(painter: QPainter, camera: Camera, measure: tuple[QPointF, QPointF], width: int) -> None:
    """The distance between two places."""
    t = on_bench()
    one, other = measure
    (x0, y0), (x1, y1) = camera.to_mm(one), camera.to_mm(other)
    painter.setPen(QPen(t.colour("ring"), 1.6))
    painter.drawLine(one, other)
    words = f"{math.hypot(x1 - x0, y1 - y0):.2f} mm   Δx {abs(x1 - x0):.2f}   Δy {abs(y1 - y0):.2f}"
    paint_pill(painter, QPointF(other.x() + 12, other.y() - 12), words, right=other.x() > width - 260)


def paint_caught(painter: QPainter, camera: Camera, caught: Any) -> None:
    """The lines that caught what is dragged."""
    painter.setPen(QPen(on_bench().colour("sea", 0.8), 1, Qt.PenStyle.DashLine))
    spot = camera.to_screen(caught.x, caught.y)
    if caught.upright is not None:
        painter.drawLine(QPointF(spot.x(), 0), QPointF(spot.x(), camera.height))
    if caught.level is not None:
        painter.drawLine(QPointF(0, spot.y()), QPointF(camera.width, spot.y()))


def paint_dimensions(painter: QPainter, camera: Camera, dimensions: Sequence[Any]) -> None:
    """Distances with a foot at either end and the figure in the middle."""
    t = on_bench()
    for one in dimensions:
        start, end = camera.to_screen(one.x0, one.y0), camera.to_screen(one.x1, one.y1)
        way = end - start
        long = math.hypot(way.x(), way.y())
        if long < 6:
            continue
        foot = QPointF(-way.y(), way.x()) * (5 / long)
        for pen in (QPen(t.colour("bench", 0.8), 4), QPen(t.colour("sea"), 1.4)):
            painter.setPen(pen)
            painter.drawLine(start, end)
            painter.drawLine(end - foot, end + foot)
        words = f"{one.mm:.2f}"
        painter.setFont(font(12, SEMIBOLD))
        wide = painter.fontMetrics().horizontalAdvance(words) + 14
        middle = start + way * (0.5 if long > wide + 16 else 1 + (wide / 2 + 8) / long)
        # The figure stays beside the rulers, wherever its distance ends.
        left = min(max(middle.x() - wide / 2, LEFT + 3), camera.width - wide - 3)
        room = QRectF(left, min(max(middle.y() - 10, 3), camera.height - BOTTOM - 23), wide, 20)
        painter.setPen(QPen(t.colour("line"), 1))
        painter.setBrush(t.colour("window", 0.9))
        painter.drawRoundedRect(room, 9, 9)
        painter.setPen(t.colour("text"))
        painter.drawText(room, int(Qt.AlignmentFlag.AlignCenter), words)


def paint_differences(painter: QPainter, camera: Camera, origin: tuple[float, float], rows: Sequence[Any]) -> None:
    """Rings round the places of each colour that differs, under its number; and the list of them with their colours."""
    t = on_bench()
    for number, one in enumerate(rows, 1):
        for x, y, radius in one.places:
            spot, reach = camera.to_screen(x + origin[0], y + origin[1]), radius * camera.zoom
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for pen in (QPen(t.colour("bench", 0.8), 4), QPen(t.colour("ring"), 1.6, Qt.PenStyle.DashLine)):
                painter.setPen(pen)
                painter.drawEllipse(spot, reach, reach)
            _number(painter, spot + QPointF(-0.7 * reach, 0.7 * reach), number)
    high = 30 + 24 * len(rows)
    area = QRectF(camera.width - 132, camera.height / 2 - high / 2, 116, high)
    paint_plate(painter, area)
    painter.setFont(font(13))
    painter.setPen(t.colour("quiet"))
    painter.drawText(QRectF(area.x() + 12, area.y() + 5, 98, 20), 0, "differ most, ΔE")
    for number, one in enumerate(rows, 1):
        y = area.y() + 18 + 24 * number
        _number(painter, QPointF(area.x() + 22, y), number)
        painter.setPen(QPen(t.colour("line"), 1))
        painter.setBrush(QColor("#" + one.colour))
        painter.drawRoundedRect(QRectF(area.x() + 38, y - 7, 26, 14), 3, 3)
        painter.setFont(font(13))
        painter.setPen(t.colour("honey"))
        painter.drawText(QRectF(area.x() + 70, y - 10, 34, 20), int(Qt.AlignmentFlag.AlignRight), f"{one.far:.0f}")


def _number(painter: QPainter, at: QPointF, number: int) -> None:
    t = on_bench()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(t.colour("ring"))
    painter.drawEllipse(at, 9, 9)
    painter.setFont(font(12, SEMIBOLD))
    painter.setPen(t.colour("window"))
    painter.drawText(QRectF(at.x() - 9, at.y() - 9, 18, 18), int(Qt.AlignmentFlag.AlignCenter), str(number))
