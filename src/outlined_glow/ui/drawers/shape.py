"""Shape: what the board is cut from, border, hanging hole, and what is fixed to it."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QMenu, QVBoxLayout

from ...core.units import show
from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Switch
from ..widgets import Card, RowButton, clear, label, link
from .base import Drawer, Window

#: Keys that matter, by base.
_KEYS = {
    "silhouette": (), "outline": (), "colour": ("colour",), "drawn": ("angle_deg", "with_picture"),
    "circle": (), "rectangle": ("corner_mm",),
    "polygon": ("points", "corner_mm"), "star": ("points", "depth", "corner_mm"), "shield": ("corner_mm",), "capsule": (),
    "kite": ("depth", "corner_mm"),
}  # fmt: skip
_ALWAYS = ("base", "smooth_mm", "copper_to_edge")
_FORMED = ("width_mm", "height_mm", "angle_deg", "with_picture")
_NAMES = {
    "hole": "round hole", "keyring": "keyring hole", "screw": "screw hole", "sew": "sewing holes", "slot": "slot",
    "notch": "notch", "opening": "cut-out", "pin-pad": "pad for a pin", "magnet-pad": "pad for a magnet",
    "edge-pad": "edge pad",
}  # fmt: skip


class ShapeDrawer(Drawer):
    """The board's edge and what is fixed to it."""

    feature_taken = pyqtSignal(int)
    outline_wanted = pyqtSignal()

    def build(self) -> None:
        outline = self.add_card("Outline")
        self.outline = outline
        self.keys = KeyRows(outline, "set-shape", self._set)
        self.base = self.keys.add("base")
        self._bases = [(self.base.itemData(at), self.base.itemText(at)) for at in range(self.base.count())]
        self.take = link(
            "use an outline from a file…", self.outline_wanted.emit, tip="The outline of another project, or of a drawing"
        )
        outline.body.addWidget(self.take, 0, Qt.AlignmentFlag.AlignRight)
        self.keys.add("colour", "width_mm", "height_mm", "points", "depth", "corner_mm", "angle_deg", "with_picture")
        border = KeyRows(outline, "set-border", lambda _, value: self.edit("set-border", border_mm=value))
        self.border = border.add("border_mm")
        self.keys.add("smooth_mm")
        keep = KeyRows(outline, "keep-holes", lambda _, value: self.edit("keep-holes", keep=value))
        self.keep = keep.add("keep")
        self.keys.add("copper_to_edge").setToolTip("Let art copper run to the board edge. Fabricators charge extra for this.")
        self.size_label = outline.figure("size")
        self.area = outline.figure("area")
        self.round = outline.figure("perimeter")
        self.step = outline.figure("price break", "honey")
        self._hanging()
        self.features = FeaturesCard(self)
        self.cards.addWidget(self.features)
        self.islands = IslandsCard(self)
        self.cards.addWidget(self.islands)

    def _hanging(self) -> None:
        hole = self.add_card("Hanging hole")
        self.has_hole = Switch("hanging hole")
        self.has_hole.switched.connect(lambda on: self.edit("set-hole" if on else "remove-hole"))
        hole.row("add a hanging hole", self.has_hole)
        self.hole = KeyRows(hole, "set-hole", self._set_hole)
        self.hole.add("diameter_mm", "x_mm", "y_mm")
        self.find_link = link("place it automatically", lambda: self.edit("set-hole", automatic=True))
        hole.add(self.find_link)

    def _set(self, key: str, value: Any) -> None:
        if key == "base":
            self._take_base(value)
        elif key == "colour":
            self.edit("set-shape", base="colour", colour=value)
        else:
            self.edit("set-shape", **{key: value})

    def _take_base(self, word: str) -> None:
        values: dict[str, Any] = {"base": word}
        work = self.session.work
        if word == "colour" and work is not None and work.art.chosen:
            values["colour"] = work.design.shape.colour or work.art.chosen[0].colour
        elif word in core("primitives").FORMS and work is not None and work.design.shape.base not in core("primitives").FORMS:
            # A form begins as large as the board is now.
            border = 2 * work.design.shape.border_mm
            values |= {"width_mm": round(max(1.0, work.board.size[0] - border), 1),
                       "height_mm": round(max(1.0, work.board.size[1] - border), 1)}  # fmt: skip
        self.edit("set-shape", **values)

    def _set_hole(self, key: str, value: float) -> None:
        """A typed coordinate; the other one stays where the hole is."""
        work = self.session.work
        there = {}
        if key != "diameter_mm" and work is not None and work.board.holes:
            there = {"x_mm": work.board.holes[0].x, "y_mm": work.board.holes[0].y}
        self.edit("set-hole", **{**there, key: value})

    def attach(self, window: Window) -> None:
        super().attach(window)
        self.feature_taken.connect(window.area.bench.take_feature)
        self.outline_wanted.connect(window.files.bring_outline)

    def show_work(self, work: Any) -> None:
        shape, board = work.design.shape, work.board
        words = [(word, title) for word, title in self._bases if word != "drawn" or shape.drawn]
        self.base.fill(words)
        self.keys["colour"].fill([(one.colour, f"#{one.colour}") for one in work.art.chosen[:24]])
        self.keys.show_of(shape)
        self.keys.only({*_ALWAYS, *_KEYS[shape.base], *(_FORMED if shape.base in core("primitives").FORMS else ())})
        self.border.show_value(shape.border_mm)
        self.keep.setChecked(shape.keep_holes)
        self.size_label.setText(f"{board.size[0]:.2f} × {board.size[1]:.2f} mm")
        self.area.setText(f"{board.layer('core').area / 100:.1f} cm²")
        self.round.setText(f"{show(board.outline.length, 1)} mm")
        self.step.setText(core("facts").step_words(work))
        on = shape.hole is not None
        self.has_hole.setChecked(on)
        self.hole.only(self.hole.rows if on else ())
        self.find_link.setVisible(on and shape.hole.x_mm is not None)
        if on:
            self.hole.show_of(shape.hole, x_mm=board.holes[0].x, y_mm=board.holes[0].y)
        self.features.show_work(work)
        self.islands.show_choices(work.design.shape.islands)
        lug = " · hole on a lug" if work.outline.lug else ""
        cut = (
            f"like {shape.drawn.removeprefix('outlines/').removesuffix('.rings')}"
            if shape.base == "drawn"
            else f"border {shape.border_mm:g} mm"
        )
        self.subtitle.set_full(f"{cut}, inside corners {board.profile.router_mm / 2:g} mm{lug}")


_HELD = {"tabs": "held by {} tabs", "keep": "not cut round", "drop": "removed"}


class IslandsCard(Card):
    """What was chosen for pieces that would fall out; each choice can be undone."""

    def __init__(self, drawer: ShapeDrawer) -> None:
        super().__init__("Loose pieces")
        self._drawer = drawer
        self._list = QVBoxLayout()
        self._list.setSpacing(2)
        self.body.addLayout(self._list)
        self.setVisible(False)

    def show_choices(self, islands: Any) -> None:
        clear(self._list)
        self.setVisible(bool(islands))
        for number, one in enumerate(islands, 1):
            line = QHBoxLayout()
            line.addWidget(label(f"piece {number}: {_HELD[one.how].format(one.count)}", "quiet"), 1)
            tip = f"Undo the choice for loose piece {number}"
            line.addWidget(link("undo", partial(self._drawer.edit, "release-island", number=number), tip=tip))
            self._list.addLayout(line)


class FeaturesCard(Card):
    """Holes, slots, cuts and pads: a list, and the keys of the one in hand."""

    def __init__(self, drawer: ShapeDrawer) -> None:
        super().__init__("Holes, slots and pads")
        self._drawer = drawer
        self.number = 0
        self._list = QVBoxLayout()
        self._list.setSpacing(1)
        self.body.addLayout(self._list)
        self._group = QButtonGroup(self)
        self.empty = label("Holes, slots, notches, cut-outs, pads for pins and magnets.", "quiet", wrap=True)
        self.add(self.empty)
        links = QHBoxLayout()
        links.setSpacing(10)
        self.add_link = link("add…", self._menu, tip="Add a hole, slot, cut or pad")
        links.addWidget(self.add_link)
        self.remove_link = link("remove", self._remove, tip="Remove it from the board")
        links.addWidget(self.remove_link)
        links.addStretch(1)
        self.body.addLayout(links)
        self.keys = KeyRows(self, "set-feature", self._set)
        self.keys.add("screw", "thread").setToolTip(
            "Conductive thread needs plated pads at least 3 mm apart; plain thread needs bare holes"
        )
        self.keys.add("size_mm", "needle_mm", "length_mm", "x_mm", "y_mm", "angle_deg", "count", "inset_mm", "start", "along")

    def _menu(self) -> None:
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for kind, name in _NAMES.items():
            action = QAction(name, menu)
            action.triggered.connect(lambda _=False, kind=kind: self.bring(kind))
            menu.addAction(action)
        menu.popup(self.add_link.mapToGlobal(QPoint(0, self.add_link.height())))

    def bring(self, kind: str) -> None:
        """Add one, in the middle of the board; sewing holes come by rule."""
        work = self._drawer.session.work
        if work is None:
            return
        count = len(work.design.shape.features)
        wide, high = work.board.size
        values: dict[str, Any] = {"kind": kind, "x_mm": round(wide / 2, 2), "y_mm": round(high / 2, 2)}
        if kind == "sew":
            values |= {"along": True, "count": 6, "inset_mm": 3.0}
        self._drawer.edit("add-feature", **values)
        self.number = count + 1
        self._drawer.feature_taken.emit(self.number)

    def _remove(self) -> None:
        if self.number:
            self._drawer.edit("remove-feature", number=self.number)

    def _set(self, key: str, value: Any) -> None:
        if self.number:
            self._drawer.edit("set-feature", number=self.number, **{key: value})

    def select(self, number: int) -> None:
        """Take one in hand."""
        self.number = number
        self._drawer.feature_taken.emit(number)
        if self._drawer.session.work is not None:
            self.show_work(self._drawer.session.work)

    def show_work(self, work: Any) -> None:
        """Bring the list and the fields up to date."""
        features = work.design.shape.features
        self.number = min(self.number, len(features)) or (1 if features else 0)
        clear(self._list)
        for number, one in enumerate(features, 1):
            many = f"{one.count} × " if one.along else ""
            row = RowButton(f"{number}  {many}{_NAMES[one.kind]}", _NAMES[one.kind])
            row.setChecked(number == self.number)
            row.clicked.connect(lambda _=False, number=number: self.select(number))
            self._group.addButton(row)
            self._list.addWidget(row)
        self.aside.set_full(str(len(features)) if features else "")
        self.empty.setVisible(not features)
        self.remove_link.setVisible(bool(features))
        one = features[self.number - 1] if features else None
        shown: set[str] = set()
        if one is not None:
            long = one.kind in ("slot", "notch", "opening", "pin-pad", "edge-pad")
            extra = {"screw": ("screw",), "sew": ("needle_mm", "thread")}.get(one.kind, ())
            shown = {"size_mm", "along", *(("length_mm", "angle_deg") if long else ()), *extra,
                     *(("count", "inset_mm", "start") if one.along else ("x_mm", "y_mm"))}  # fmt: skip
        self.keys.only(shown)
        if one is None:
            return
        size, length = core("features").sizes_of(one)
        needle = size - core("features").fixings()["needle_spare_mm"]
        self.keys.show_of(one, work.board.origin, size_mm=size, length_mm=length, needle_mm=needle)
