"""Shape: border, holes of the picture, hanging hole."""

from __future__ import annotations

from typing import Any

from ...core.units import show
from ..fields import QuantityField, Switch
from ..widgets import link
from .base import Drawer


class ShapeDrawer(Drawer):
    """The silhouette becomes a board."""

    stage, title = "shape", "Shape"

    def build(self) -> None:
        outline = self.add_card("Outline", "from the silhouette")
        self.border = QuantityField("mm", "mm", step=0.1)
        self.border.committed.connect(lambda value: self.edit("set-border", border_mm=value))
        outline.row("border", self.border)
        self.keep = Switch("keep holes of the picture")
        self.keep.switched.connect(lambda on: self.edit("keep-holes", keep=on))
        outline.row("keep holes of the picture", self.keep)
        self.size = outline.figure("size")
        self.area = outline.figure("area")
        self.round = outline.figure("round its edge")
        hole = self.add_card("Hanging hole")
        self.has_hole = Switch("hanging hole")
        self.has_hole.switched.connect(lambda on: self.edit("set-hole" if on else "remove-hole"))
        hole.row("a hole to hang it by", self.has_hole)
        self.diameter = QuantityField("mm", "mm", step=0.1)
        self.diameter.committed.connect(lambda value: self.edit("set-hole", diameter_mm=value))
        self._diameter_row = hole.row("diameter, unplated", self.diameter)
        self.x = QuantityField("mm", "mm", step=0.5)
        self.x.committed.connect(lambda value: self._move(x_mm=value))
        self.y = QuantityField("mm", "mm", step=0.5)
        self.y.committed.connect(lambda value: self._move(y_mm=value))
        self._x_row, self._y_row = hole.row("x", self.x), hole.row("y", self.y)
        self.find = link("let it find its own place", lambda: self.edit("set-hole", automatic=True))
        hole.add(self.find)

    def _move(self, **place: float) -> None:
        """A typed coordinate; the other one stays where the hole is."""
        work = self.session.work
        if work is None or not work.board.holes:
            return
        hole = work.board.holes[0]
        self.edit("set-hole", **{"x_mm": hole.x, "y_mm": hole.y, **place})

    def show_work(self, work: Any) -> None:
        shape, board = work.project.design.shape, work.board
        self.border.show_value(shape.border_mm)
        self.keep.setChecked(shape.keep_holes)
        self.size.setText(f"{board.size[0]:.2f} × {board.size[1]:.2f} mm")
        self.area.setText(f"{board.layer('core').area / 100:.1f} cm²")
        self.round.setText(f"{show(board.outline.length, 1)} mm")
        on = shape.hole is not None
        self.has_hole.setChecked(on)
        for row in (self._diameter_row, self._x_row, self._y_row):
            row.setVisible(on)
        self.find.setVisible(on and shape.hole.x_mm is not None)
        if on:
            self.diameter.show_value(shape.hole.diameter_mm)
            self.x.show_value(board.holes[0].x)
            self.y.show_value(board.holes[0].y)
        lug = " · hole on a lug" if work.outline.lug else ""
        self.subtitle.set_full(f"border {shape.border_mm:g} mm, inside corners {board.profile.router_mm / 2:g} mm{lug}")
