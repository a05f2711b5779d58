"""How evenly the LEDs light what their light falls on: figures, and a small map."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QPixmap
from PyQt6.QtWidgets import QLabel, QWidget

from ...core.units import show
from ..bench.renderer import image
from ..core_door import core
from ..fields import Choice, QuantityField
from ..session import Session
from ..theme import theme
from ..widgets import Card, label, link

if TYPE_CHECKING:
    from ..files import Files

_MAP_PX, _PNG = (260, 180), "PNG (*.png)"
#: What light falls on, and what it is called; the rows that each of them needs.
_SURFACES = (
    ("plane", "a diffuser"), ("window", "the windows"), ("sheet", "a sheet on edge"), ("wall", "the wall behind"),
    ("ground", "the ground"),
)  # fmt: skip
_ROWS = {
    "plane": ("distance", "over", "cover"), "window": ("cover",), "sheet": ("slot", "height", "thick", "gap", "start"),
    "wall": ("distance", "over"), "ground": ("above",),
}  # fmt: skip
_FEW_PLACES = 20_000


class EvennessCard:
    """Works the light out behind the window, and offers the edit that makes it even."""

    def __init__(self, card: Card, session: Session, edit: Callable[..., Any], array: Callable[[], str | None]) -> None:
        self.card, self._session, self._edit, self._array = card, session, edit, array
        self.rows: dict[str, QWidget] = {}
        self.on = self._choice("falls", "falls on", _SURFACES)
        self.distance = self._length("distance", 8.0)
        self.above = self._length("above", 300.0)
        self.slot = self._choice("slot", "over", ())
        self.height = self._length("height", 60.0)
        self.thick = self._length("thick", 3.0)
        self.gap = self._length("gap", 0.5)
        self.start = self._length("start", 10.0)
        self.start.setToolTip("How high above the sheet's lower edge the engraving begins")
        over = (("board", "the whole board"), ("lights", "where the LEDs are"), ("window", "the windows"))
        self.over = self._choice("over", "over", over)
        self.cover = self._choice("cover", "through", ())
        self.picture = QLabel()
        self.picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.picture.setAccessibleName("map of the light: brighter where there is more; the ring is the darkest place")
        card.add(self.picture)
        self.even = card.figure("evenness, least / mean")
        self.lux = card.figure("least to most")
        self.reached = card.figure("evenness 0.7 from")
        self.enters = card.figure("light that enters")
        self.beside = card.figure("from the slot beside it")
        self.words = label("", "quiet", wrap=True)
        card.add(self.words)
        self.nearer = link("", self._lay_nearer)
        self.save = link("Save the map…", self._save)
        for one in (self.nearer, self.save):
            card.add(one)
        self.files: Files | None = None
        self._made: Any = None
        self._work: Any = None
        self._more: Any = None
        self._reach()

    def _choice(self, key: str, title: str, words: Any) -> Choice:
        one = Choice(words)
        one.chosen.connect(lambda _: self.look())
        self.rows[key] = self.card.row(title, one)
        return one

    def _length(self, key: str, value: float) -> QuantityField:
        limits = core("light_surfaces").LENGTHS[key]
        one = QuantityField("mm", "mm", low=limits.low, high=limits.high)
        one.show_value(value)
        one.committed.connect(lambda _: self.look())
        self.rows[key] = self.card.row(limits.title, one)
        return one

    def _reach(self) -> None:
        """The rows of the surface that is chosen."""
        wanted = _ROWS[self.on.currentData()]
        for key, row in self.rows.items():
            row.setVisible(key == "falls" or key in wanted)

    def _save(self) -> None:
        if self.files is not None and self._made is not None:
            made = self._made
            self.files.write("Save the map", "light.png", _PNG, lambda _: core("light_picture").draw_light_map(*made))

    def _lay_nearer(self) -> None:
        if self._more is not None:
            operation, values = self._more
            self._edit(operation, **values)

    def show_work(self, work: Any) -> None:
        """Another board: its light is not known yet."""
        self._work = work
        self.card.setVisible(bool(work.leds))
        surfaces = core("light_surfaces")
        if self.cover.count() == 0:
            self.cover.fill([("", "nothing"), *((name, name) for name in surfaces.covers())])
        slots = surfaces.slots_of(work.design.lights)
        if [self.slot.itemData(at) for at in range(self.slot.count())] != [key for key, _ in slots]:
            self.slot.fill(list(slots))

    def _asked(self) -> Any:
        surfaces = core("light_surfaces")
        on = self.on.currentData()
        array, slot = surfaces.slot_named(self.slot.currentData() or "")
        distance = self.above.value if on == "ground" else self.distance.value
        sheet = surfaces.Sheet(self.height.value, self.thick.value, self.gap.value)
        return surfaces.Falls(
            on, distance, self.over.currentData(), cover=self.cover.currentData() or "", sheet=sheet, array=array, slot=slot,
            from_mm=self.start.value,
        )  # fmt: skip

    def look(self) -> None:
        """Work the light out, behind the window."""
        self._reach()
        work, array = self._work, self._array()
        if work is None or not work.leds:
            return
        asked = self._asked()
        background = QColor(theme().colour("card")).getRgb()[:3]

        def run(cancelled: Any) -> Any:
            surfaces, watch = core("light_surfaces"), core("watch").Watch(cancelled)
            lit = surfaces.light_on(work, asked, watch, _FEW_PLACES)
            which = asked.array if asked.on == "sheet" else array
            more = surfaces.even_by_more(work, which, asked, watch) if which else None
            pixels = core("light_picture").map_pixels(lit.map, 2 * _MAP_PX[0], 2 * _MAP_PX[1], background)
            return asked.on, work.board, lit, more, pixels

        self._session.jobs.submit("light map", run, lambda made: self._show(*made), self._cannot)

    def _show(self, on: str, board: Any, lit: Any, more: Any, pixels: Any) -> None:
        lux, self._made, self._more = core("light_picture").lux_words, (lit.map, board), more
        self.save.show()
        self.words.hide()
        self.picture.setPixmap(QPixmap.fromImage(image(pixels, 2.0)))
        self.picture.show()
        self.even.setText(f"{lit.map.uniformity:.2f}")
        self.lux.setText(f"{lux(lit.map.least)} to {lux(lit.map.most)}")
        far = lit.even_from_mm
        where = "above its edge" if on == "sheet" else "on"
        self.reached.setText(("no height" if on == "sheet" else "no distance") if far is None else f"{show(far, 1)} mm {where}")
        self._show_row(self.reached, on != "ground")
        self.enters.setText("" if lit.enters is None else f"{100 * lit.enters:.0f} %")
        self._show_row(self.enters, lit.enters is not None)
        self.beside.setText("" if lit.beside is None else f"{100 * lit.beside:.2g} %")
        self._show_row(self.beside, lit.beside is not None)
        self.nearer.setVisible(more is not None)
        if more is not None:
            self.nearer.setText(f"Make the middle of “{more[1]['array']}” even: {core('light_surfaces').words_of(more[1])}")

    def _show_row(self, figure: QLabel, on: bool) -> None:
        row = figure.parentWidget()
        if row is not None:
            row.setVisible(on)

    def _cannot(self, words: str) -> None:
        for one in (self.picture, self.save, self.nearer):
            one.hide()
        for figure in (self.even, self.lux, self.reached):
            figure.setText("–")
        for row in (self.enters, self.beside):
            self._show_row(row, False)
        self.words.setText(words)
        self.words.show()
