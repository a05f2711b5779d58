"""Artwork: what each colour of the picture becomes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ...core.appearances import TITLES
from ...core.units import show
from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice, ColourChip, Switch
from ..widgets import clear, label, link
from .base import Drawer, Window
from .clean import CleanCard
from .other_colours import OtherColoursCard
from .pictures import PicturesCard, TonesCard
from .words import WordsCard

_MOST_ROWS = 24


class SwatchRow(QWidget):
    """A colour, what it becomes, its area and how far the two colours are apart."""

    def __init__(self, drawer: ArtworkDrawer, colour: str) -> None:
        super().__init__()
        self.colour = colour
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 1, 0, 1)
        row.setSpacing(4)
        self.chip = ColourChip([colour], 22)
        self.chip.setToolTip(f"#{colour} and what it becomes")
        row.addWidget(self.chip)
        self.choice = Choice([*TITLES.items(), ("", "suggested")])
        self.choice.setAccessibleName(f"what the colour {colour} becomes")
        self.choice.chosen.connect(lambda word: drawer.choose(colour, word))
        self.choice.setFixedWidth(144)
        row.addWidget(self.choice)
        self.area = QLabel()
        self.area.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        row.addWidget(self.area, 1)
        self.thin = label("", "quiet")
        self.thin.setFixedWidth(28)
        self.thin.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.thin.setToolTip(
            "width of the thinnest place of this colour in the picture, mm; thousands of dots are checked in the findings alone"
        )
        row.addWidget(self.thin)
        self.far = label("", "quiet")
        self.far.setToolTip("colour difference (CIEDE2000) between the picture and the board")
        self.far.setFixedWidth(20)
        self.far.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        row.addWidget(self.far)

    def show_thinnest(self, width_mm: float, most: float) -> None:
        """How thin its thinnest feature is; nothing where it is wider than was looked for."""
        self.thin.setText("" if width_mm >= most else f"{width_mm:.2f}".lstrip("0") if width_mm >= 0.01 else "<.01")

    def show(self, chosen: Any, materials: Any) -> None:  # type: ignore[override]
        """Show what the colour became."""
        self.chip.show_colours([self.colour, materials.colour(chosen.appearance)])
        self.choice.show_key(chosen.appearance)
        self.choice.setEnabled(not chosen.word)
        how = "chosen by you: kept under every mask colour" if chosen.by_hand else "suggested, for the whole picture together"
        how = "by the name of its layer, or as a halftone" if chosen.word else how
        self.choice.setToolTip(how)
        held = chosen.by_hand and not chosen.word
        if bool(self.choice.property("held")) != held:
            self.choice.setProperty("held", held)
            style = self.choice.style()
            if style is not None:
                style.polish(self.choice)
        self.chip.setToolTip(f"#{self.colour}{' on the back' if chosen.side == 'back' else ''}: {how}")
        self.area.setText(f"{show(chosen.region.area, 0 if chosen.region.area >= 10 else 1)}")
        self.far.setText(f"{chosen.difference:.0f}")
        self.setVisible(True)


class ArtworkDrawer(Drawer):
    """The palette with its appearances, the pictures and their tones, words, and the same under other stacks."""

    picture_wanted = pyqtSignal(str, int)

    def build(self) -> None:
        self.palette_card = self.add_card("Palette", "mm²    min    ΔE")
        self._rows = QVBoxLayout()
        self._rows.setSpacing(2)
        self.palette_card.body.addLayout(self._rows)
        self.rows: dict[tuple[str, str, str], SwatchRow] = {}
        self.more = label("", "quiet", wrap=True)
        self.palette_card.add(self.more)
        self.free = link("use all suggestions", lambda: self.edit("propose-all"), tip="Undo every choice you made here")
        self.palette_card.body.addWidget(self.free, 0, Qt.AlignmentFlag.AlignRight)
        edged = KeyRows(self.palette_card, "edge-metal", lambda _, word: self.edit("edge-metal", by=word))
        self.edged = edged.add("by")
        self._edged_row = edged.rows["by"]
        self.wipe = Switch("compare picture and board")
        self.palette_card.row("split view: picture and board", self.wipe)
        self.compare = Choice([("picture", "the picture"), ("difference", "where they differ")])
        self.palette_card.row("left half shows", self.compare)
        self.rehearse = Switch("show misalignment")
        self.rehearse.setToolTip(
            "Legend, mask, holes and outline shifted by the fabricator's tolerances: the worst you may get."
        )
        self.palette_card.row("show misalignment", self.rehearse)
        self.pictures = PicturesCard(self.session)
        self.pictures.selected.connect(self._selected)
        self.pictures.wanted.connect(self.picture_wanted.emit)
        self.cards.addWidget(self.pictures)
        self.tones = TonesCard(self.session)
        self.cards.addWidget(self.tones)
        self.words = WordsCard(self.session)
        self.cards.addWidget(self.words)
        self.clean = CleanCard(self.session)
        self.clean.shown.connect(self.show_place.emit)
        self.cards.addWidget(self.clean)
        self.cards.addWidget(self.places_card)
        self.other_colours = OtherColoursCard(self.session)
        self.cards.addWidget(self.other_colours)

    def _selected(self, which: int) -> None:
        if self.session.work is not None:
            self.tones.show_work(self.session.work, which)

    def choose(self, colour: str, word: str) -> None:
        """What a person chose for a colour."""
        if word:
            self.edit("set-appearance", colour=colour, appearance=word)
        else:
            self.edit("propose-appearance", colour=colour)

    def attach(self, window: Window) -> None:
        super().attach(window)
        bench = window.area.bench
        self.wipe.setChecked(True)
        self.wipe.switched.connect(lambda on: bench.set_wipe(0.5 if on else None))
        self.compare.chosen.connect(bench.set_compare)
        self.rehearse.switched.connect(bench.rehearse)
        self.picture_wanted.connect(window.files.bring)
        self.pictures.selected.connect(bench.take_picture)

    def show_work(self, work: Any) -> None:
        art = work.design.artwork
        shown = {(one.colour, one.word, one.side): one for one in work.art.chosen[:_MOST_ROWS]}
        if list(self.rows) != list(shown):
            clear(self._rows)
            self.rows = {key: SwatchRow(self, key[0]) for key in shown}
            for row in self.rows.values():
                self._rows.addWidget(row)
        for key, one in shown.items():
            self.rows[key].show(one, work.board.materials)
        beyond = len(work.art.chosen) - len(shown)
        self.more.setText(f"and {beyond} smaller colours, as suggested" if beyond > 0 else "")
        self.more.setVisible(beyond > 0)
        self.free.setVisible(bool(art.chosen))
        self.edged.show_key(art.edged_by)
        self._edged_row.setVisible("metal" in work.art.regions or "metal" in work.art.back)
        self.pictures.show_work(work)
        self.tones.show_work(work, self.pictures.which)
        self.words.show_work(work)
        self.clean.show_work(work)
        name = art.pictures[0].name if art.pictures else "no picture"
        self.subtitle.set_full(f"{name} · {len(work.art.chosen)} colours found")

    def show_findings(self, findings: Sequence[Any]) -> None:
        super().show_findings(findings)
        if self.session.work is not None:
            self.clean.show_findings(self.session.work, findings)

    def look(self, work: Any) -> None:
        self.other_colours.look(work)
        facts, rows = core("facts"), work.art.chosen[:_MOST_ROWS]

        def took(widths: dict[tuple[str, str, str], float]) -> None:
            for key, width in widths.items():
                if key in self.rows:
                    self.rows[key].show_thinnest(width, facts.THINNEST_MM)

        def run(cancelled: Any) -> dict[tuple[str, str, str], float]:
            small = [one for one in rows if facts.is_measured(one)]
            return {(one.colour, one.word, one.side): facts.thinnest_mm(one) for one in small if not cancelled()}

        self.session.jobs.submit("thinnest", run, took, self.session.trouble.emit)
