"""The wires lens: the copper of a net through the board, the lines between pins that lack a track, and the part in hand."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QLineF, QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from ..core_door import core
from ..theme import on_bench
from .camera import Camera

#: So many wires have their names beside them; of more only once they are seen so near, pixels for each mm.
_NAMED, _NEAR_PX = 40, 14.0


def paint_lens(painter: QPainter, camera: Camera, lens: Any) -> None:
    """A net: solid where it lies on the side in view, dashed through the board."""
    t = on_bench()
    other = "front" if camera.side == "back" else "back"
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(t.colour("lamp", 0.9), 1.3, Qt.PenStyle.DashLine))
    painter.drawPath(_path(camera, lens.copper.get(other, ())))
    near = _path(camera, lens.copper.get(camera.side, ()))
    painter.setPen(QPen(t.colour("lamp", 0.28), 7))
    painter.drawPath(near)
    painter.setPen(QPen(t.colour("lamp"), 1))
    painter.setBrush(t.colour("honey", 0.92))
    painter.drawPath(near)


def paint_lacking(painter: QPainter, camera: Camera, lines: Any) -> None:
    """What is to be joined yet: a dashed line with a ring at either end."""
    t = on_bench()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    drawn = [QLineF(camera.to_screen(*one), camera.to_screen(*other)) for one, other in lines]
    for pen in (QPen(t.colour("bench", 0.7), 3.6), QPen(t.colour("warn"), 1.4, Qt.PenStyle.DashLine)):
        painter.setPen(pen)
        for line in drawn:
            painter.drawLine(line)
    painter.setPen(QPen(t.colour("warn"), 1.6))
    if len(drawn) <= 60:
        for line in drawn:
            painter.drawEllipse(line.p1(), 4.5, 4.5)
            painter.drawEllipse(line.p2(), 4.5, 4.5)


def paint_links(painter: QPainter, camera: Camera, links: Any) -> None:
    """Wires in the place of plated holes, with their names: solid where they lie on the side in view."""
    t = on_bench()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for name, one in links:
        start, end = camera.to_screen(*one.start), camera.to_screen(*one.end)
        style = Qt.PenStyle.DashLine if one.side == camera.side else Qt.PenStyle.SolidLine
        for pen in (QPen(t.colour("bench", 0.7), 4), QPen(t.colour("note"), 2, style)):
            painter.setPen(pen)
            painter.drawLine(start, end)
            painter.drawEllipse(start, 3.5, 3.5)
            painter.drawEllipse(end, 3.5, 3.5)
        if len(links) <= _NAMED or camera.zoom > _NEAR_PX:
            painter.setPen(t.colour("text"))
            painter.drawText((start + end) / 2 + QPointF(5, -5), name)


def paint_part(painter: QPainter, camera: Camera, part: Any) -> None:
    """The part in hand, ringed."""
    t = on_bench()
    corners = QPolygonF([camera.to_screen(x, y) for x, y in part.court(0.2).exterior.coords])
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for pen in (QPen(t.colour("bench", 0.7), 4), QPen(t.colour("ring"), 1.6)):
        painter.setPen(pen)
        painter.drawPolygon(corners)


def paint_drop(painter: QPainter, camera: Camera, lines: Any) -> None:
    """Tracks in the colours of the volts that they have lost."""
    for start, end, width, colour in lines.get(camera.side, ()):
        pen = QPen(QColor(*colour), max(1.6, width * camera.zoom))
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(pen)
        painter.drawLine(camera.to_screen(*start), camera.to_screen(*end))


def paint_pulls(painter: QPainter, camera: Camera, lines: Any) -> None:
    """Where the pins of a part that is dragged are drawn to."""
    t = on_bench()
    for pen in (QPen(t.colour("bench", 0.7), 3), QPen(t.colour("ring", 0.9), 1.2)):
        painter.setPen(pen)
        for one, other in lines:
            painter.drawLine(camera.to_screen(*one), camera.to_screen(*other))


def paint_held(painter: QPainter, camera: Camera, track: Any) -> None:
    """The track in hand, ringed; through the board where it lies on the other side."""
    t = on_bench()
    style = Qt.PenStyle.SolidLine if track.side == camera.side else Qt.PenStyle.DashLine
    painter.setBrush(Qt.BrushStyle.NoBrush)
    ring = _path(camera, core("net_lens").rings([track.region]))
    for pen in (QPen(t.colour("bench", 0.7), 3.6), QPen(t.colour("ring"), 1.6, style)):
        painter.setPen(pen)
        painter.drawPath(ring)


def paint_area(painter: QPainter, camera: Camera, points: Any) -> None:
    """The area round which a line is being drawn."""
    t = on_bench()
    painter.setPen(QPen(t.colour("ring"), 1.4, Qt.PenStyle.DashLine))
    painter.setBrush(t.colour("ring", 0.08))
    painter.drawPolygon(QPolygonF([camera.to_screen(x, y) for x, y in points]))


def paint_track(painter: QPainter, camera: Camera, points: Any) -> None:
    """The track that is being drawn."""
    t = on_bench()
    way = QPolygonF([camera.to_screen(x, y) for x, y in points])
    for pen in (QPen(t.colour("bench", 0.7), 5), QPen(t.colour("ring"), 2.2)):
        painter.setPen(pen)
        painter.drawPolyline(way)


def _path(camera: Camera, rings: Any) -> QPainterPath:
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    for ring in rings:
        path.addPolygon(QPolygonF([QPointF(camera.to_screen(x, y)) for x, y in ring.tolist()]))
    return path
