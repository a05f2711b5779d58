"""Letters that are painted: one in hand, pixel by pixel."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QInputDialog

from ..core_door import core
from ..fields import Choice, QuantityField, Switch
from ..flow import FlowLayout
from ..session import Session
from ..widgets import label, link
from .base import Drawer, Window
from .glyph_field import GlyphField

#: A new letter is that of this font, and as high as that is.
_FIRST_FONT, _FIRST_ROWS, _MOST = "plain-5x7", 7, 32
_ON_BOARD = "Press or drag over LEDs; beyond the letter it grows. Esc: leave it"


class GlyphsCard:
    """The painted letters of the project."""

    def __init__(self, drawer: Drawer, session: Session) -> None:
        self._drawer, self._session, self._edit = drawer, session, drawer.edit
        self._letter = ""
        self._window: Window | None = None
        self._known: tuple[Any, Any, Any] | None = None
        self.card = drawer.add_card("Painted letters", "for words")
        self.of = Choice([])
        self.of.chosen.connect(self._take)
        self._of_row = self.card.row("letter", self.of)
        self.field = GlyphField()
        self.field.painted.connect(lambda rows: self._edit("set-glyph", letter=self._letter, rows=rows))
        self.card.add(self.field)
        self.on_board = Switch("paint on the board")
        self.on_board.switched.connect(lambda _: self._show_on_board())
        self._on_board_row = self.card.row("paint on the board", self.on_board)
        self.wide, self.high = (QuantityField("", "", digits=0, low=1, high=_MOST) for _ in range(2))
        self.wide.committed.connect(lambda value: self._resize(round(value), self.field.high))
        self.high.committed.connect(lambda value: self._resize(self.field.wide, round(value)))
        self._size_rows = self.card.row("columns", self.wide), self.card.row("rows", self.high)
        self.words = label("A letter that no font has, or a sign of your own, pixel by pixel.", "quiet", wrap=True)
        self.card.add(self.words)
        links = FlowLayout()
        self.make = link("paint a letter…", self._make)
        self.remove = link("remove this letter", lambda: self._edit("remove-glyph", letter=self._letter))
        for one in (self.make, self.remove):
            links.addWidget(one)
        self.card.body.addLayout(links)

    def attach(self, window: Window) -> None:
        """The window is there."""
        self._window = window
        bench = window.area.bench
        bench.painted_glyph.connect(lambda rows: self._edit("set-glyph", letter=self._letter, rows=rows))
        bench.left_glyph.connect(self._leave)
        window.area.score.chosen.connect(lambda _: self._show_on_board())

    def show_work(self, work: Any) -> None:
        """Show the letter in hand."""
        glyphs = {one.letter: one for one in work.project.motion.glyphs}
        self.card.setVisible(bool(work.leds))
        if self._letter not in glyphs:
            self._letter = next(reversed(glyphs), "")
        self.of.fill([(letter, letter) for letter in glyphs])
        self.of.show_key(self._letter)
        one = glyphs.get(self._letter)
        for widget in (self._of_row, self.field, self._on_board_row, *self._size_rows, self.remove):
            widget.setVisible(one is not None)
        self.words.setVisible(one is None)
        if one is not None:
            self.field.show_rows(one.rows)
            self.wide.show_value(self.field.wide)
            self.high.show_value(self.field.high)
        self._show_on_board()

    def _show_on_board(self) -> None:
        """Show the letter on the LEDs, where it is painted there, and whether there are any that can show one."""
        work = self._session.work
        if self._window is None or work is None:
            return
        motion, bench = work.project.motion, self._window.area.bench
        one = next((one for one in motion.glyphs if one.letter == self._letter), None)
        cells = None if one is None else self._cells(work, bench.strip)
        self.on_board.setEnabled(cells is not None)
        self.on_board.setToolTip(_ON_BOARD if cells is not None else "The LEDs of this board stand in no rows and columns")
        if one is None or cells is None:
            self.on_board.setChecked(False)
        bench.paint_glyph(() if one is None else one.rows, cells if self.on_board.isChecked() else None)

    def _cells(self, work: Any, strip: Any) -> Any:
        """The LEDs that a letter can be painted on, looked for anew only where these, the score or the strip are others."""
        motion = work.project.motion
        key = (strip, motion.score, motion.glyphs)
        if self._known is None or self._known[0] is not work.lamps or self._known[1] != key:
            self._known = work.lamps, key, core("glyph_cells").glyph_cells(motion, work.lamps, strip)
        return self._known[2]

    def _leave(self) -> None:
        self.on_board.setChecked(False)
        self._show_on_board()

    def _take(self, letter: str) -> None:
        self._letter = letter
        if self._session.work is not None:
            self.show_work(self._session.work)

    def _resize(self, wide: int, high: int) -> None:
        rows = core("glyph_cells").resized(self.field.rows.split(), wide, high)
        self._edit("set-glyph", letter=self._letter, rows=" ".join(rows))

    def _make(self) -> None:
        letter, good = QInputDialog.getText(self._drawer, "Paint a letter", "The letter, as it is written in words")
        letter = letter.strip()
        if good and letter:
            rows = core("pixel_font").glyph_of(letter[0], _FIRST_FONT, _FIRST_ROWS).rows if len(letter) == 1 else ()
            if self._edit("set-glyph", letter=letter, rows=" ".join(rows) or "."):
                self._letter = letter
