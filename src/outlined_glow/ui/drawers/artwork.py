"""Artwork: what each colour of the picture becomes."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ...core.units import show
from ..fields import Choice, ColourChip, QuantityField, Switch
from ..widgets import clear, label
from .base import Drawer

_APPEARANCES = (
    ("mask", "mask tone"),
    ("raised", "raised tone"),
    ("metal", "metal"),
    ("ink", "ink"),
    ("window", "window"),
    ("veiled", "veiled window"),
    ("cut", "cut out"),
)


class SwatchRow(QWidget):
    """A colour, what it becomes, its area and how far the two colours are apart."""

    def __init__(self, drawer: ArtworkDrawer, colour: str) -> None:
        super().__init__()
        self.colour = colour
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 1, 0, 1)
        row.setSpacing(6)
        self.chip = ColourChip([colour], 40)
        self.chip.setToolTip(f"#{colour} and what it becomes")
        row.addWidget(self.chip)
        self.choice = Choice([*_APPEARANCES, ("", "as proposed")])
        self.choice.setAccessibleName(f"what the colour {colour} becomes")
        self.choice.chosen.connect(lambda word: drawer.choose(colour, word))
        self.choice.setFixedWidth(126)
        row.addWidget(self.choice)
        self.area = QLabel()
        self.area.setMinimumWidth(40)
        row.addWidget(self.area, 1)
        self.far = label("", "quiet")
        self.far.setToolTip("colour difference (CIEDE2000) between the picture and the board")
        row.addWidget(self.far)

    def show(self, chosen: Any, materials: Any) -> None:  # type: ignore[override]
        """Show what the colour became."""
        self.chip.show_colours([self.colour, materials.colour(chosen.appearance)])
        self.choice.show_key(chosen.appearance)
        self.choice.setToolTip("chosen by hand" if chosen.by_hand else "proposed: the nearest colour of the board")
        self.area.setText(f"{show(chosen.region.area, 0 if chosen.region.area >= 10 else 1)}")
        self.far.setText(f"{chosen.difference:.0f}")
        self.setVisible(True)


class ArtworkDrawer(Drawer):
    """The palette with its appearances, and the true width of the picture."""

    stage, title = "artwork", "Artwork"

    def build(self) -> None:
        self.palette_card = self.add_card("Palette", "mm²   ΔE")
        self._rows = QVBoxLayout()
        self._rows.setSpacing(2)
        self.palette_card.body.addLayout(self._rows)
        self.rows: dict[str, SwatchRow] = {}
        self.more = label("", "quiet", wrap=True)
        self.palette_card.add(self.more)
        picture = self.add_card("Picture")
        self.picture = picture
        self.width_field = QuantityField("mm", "mm", step=1.0)
        self.width_field.committed.connect(lambda value: self.edit("set-width", width_mm=value))
        picture.row("painted width", self.width_field)
        self.height_figure = picture.figure("painted height")
        self.wipe = Switch("compare picture and board")
        picture.row("seam between picture and board", self.wipe)

    def choose(self, colour: str, word: str) -> None:
        """What a person chose for a colour."""
        if word:
            self.edit("set-appearance", colour=colour, appearance=word)
        else:
            self.edit("propose-appearance", colour=colour)

    def show_work(self, work: Any) -> None:
        colours = [one.colour for one in work.art.chosen][:24]
        if list(self.rows) != colours:
            clear(self._rows)
            self.rows = {colour: SwatchRow(self, colour) for colour in colours}
            for row in self.rows.values():
                self._rows.addWidget(row)
        for one in work.art.chosen[:24]:
            self.rows[one.colour].show(one, work.board.materials)
        beyond = len(work.art.chosen) - len(colours)
        self.more.setText(f"and {beyond} smaller colours, as proposed" if beyond > 0 else "")
        self.more.setVisible(beyond > 0)
        self.width_field.show_value(work.painted.size[0])
        self.height_figure.setText(f"{show(work.painted.size[1], 2)} mm")
        picture = work.project.design.artwork.picture
        self.picture.aside.set_full(picture.name)
        self.subtitle.set_full(f"{picture.name} · {len(work.art.chosen)} colours found")
