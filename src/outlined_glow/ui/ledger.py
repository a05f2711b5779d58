"""One line that is always true: size, LEDs, currents, run time, price, findings. A click goes to the cause."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QToolButton, QWidget

from ..core.units import show_si
from .core_door import core
from .finding_words import counted
from .icons import icon
from .theme import font, theme
from .widgets import Pressable

#: Key, title, stage it leads to, share of the width.
_CELLS = (
    ("size", "size", "shape", 150),
    ("leds", "LEDs", "lights", 66),
    ("now", "all LEDs on", "drive", 104),
    ("average", "pattern, avg · peak", "motion", 158),
    ("runs", "battery life", "drive", 142),
    ("each", "example, per board", "brief", 160),
    ("findings", "findings", "order", 140),
)


class Cell(Pressable):
    """A title over a figure; pressing it leads to its stage."""

    wanted = pyqtSignal(str)

    def __init__(self, title: str, stage: str, width: int) -> None:
        super().__init__()
        self._title, self._value, self._token, self._stage = title, "–", "text", stage
        self._width = width
        self.setMaximumWidth(width)
        self.setMinimumWidth(width // 2)  # a narrow window shortens the words before it hides a figure
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Expanding)
        self.clicked.connect(lambda _=False: self.wanted.emit(self._stage))
        self._describe()

    def sizeHint(self) -> QSize:
        return QSize(self._width, 40)

    def _describe(self) -> None:
        self.setAccessibleName(f"{self._title}: {self._value}")
        self.setToolTip(f"{self._title}: {self._value} (go to {self._stage.capitalize()})")

    def show_value(self, value: str, token: str = "text", title: str | None = None) -> None:
        """Change the figure."""
        self._value, self._token, self._title = value, token, title or self._title
        self._describe()
        self.update()

    @property
    def value(self) -> str:
        """The figure as shown."""
        return self._value

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        if self.hasFocus():
            painter.setPen(QPen(theme().colour("ring"), 1))
            painter.drawRoundedRect(self.rect().adjusted(0, 5, -6, -6), 5, 5)
        self._write(painter, self._title, 13, "quiet", 9)
        self._write(painter, self._value, 17, self._token, 27)

    def _write(self, painter: QPainter, words: str, pixels: int, token: str, top: int) -> None:
        room = self.width() - 12
        painter.setFont(font(pixels))
        painter.setPen(theme().colour(token))
        shown = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(4, top, self.width(), 22), 0, shown)


class MiniCurve(QWidget):
    """The pattern's current over one period, small."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedSize(78, 34)
        self.setAccessibleName("current over one period")
        self._values: list[float] = []
        self._phase = 0.0

    def show_curve(self, values: Sequence[float]) -> None:
        """Change the curve (0..1)."""
        self._values = list(values)
        self.update()

    def show_phase(self, phase: float) -> None:
        """Where in the period it is."""
        self._phase = phase
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if not self._values:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        painter.setPen(QPen(t.colour("lamp"), 1.4))
        step = self.width() / max(1, len(self._values) - 1)
        points = [(place * step, 29 - value * 24) for place, value in enumerate(self._values)]
        for (x0, y0), (x1, y1) in itertools.pairwise(points):
            painter.drawLine(round(x0), round(y0), round(x1), round(y1))
        painter.setPen(QPen(t.colour("quiet"), 1))
        x = round(self._phase * self.width())
        painter.drawLine(x, 3, x, 31)


class Ledger(QWidget):
    """The line itself, with play and pause at its end."""

    wanted = pyqtSignal(str)
    play_toggled = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(56)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 0, 14, 0)
        row.setSpacing(0)
        self.cells: dict[str, Cell] = {}
        for key, title, stage, width in _CELLS:
            cell = Cell(title, stage, width)
            cell.wanted.connect(self.wanted.emit)
            self.cells[key] = cell
            row.addWidget(cell)
        row.addStretch(1)
        self.curve = MiniCurve()
        row.addWidget(self.curve)
        self.play = QToolButton()
        self.play.setAccessibleName("Play or pause the pattern")
        self.play.clicked.connect(lambda _=False: self.play_toggled.emit())
        row.addWidget(self.play)
        self.pattern = Cell("pattern", "motion", 112)
        self.pattern.wanted.connect(self.wanted.emit)
        row.addWidget(self.pattern)
        self.empty()

    def refresh_icons(self, playing: bool) -> None:
        """Draw the button's icon in the theme's colours."""
        self.play.setIcon(icon("pause" if playing else "play", "lamp"))
        self.play.setToolTip("Pause (space)" if playing else "Play (space)")

    def empty(self) -> None:
        """No board: every place keeps its dash."""
        for key, title, _, _ in _CELLS:
            self.cells[key].show_value("–", "quiet", title)
        self.pattern.show_value("–", "quiet", "pattern")
        self.play.setEnabled(False)
        self.curve.show_curve([])

    def show_work(self, work: Any) -> None:
        """The figures of a board."""
        facts = core("facts")
        motion, count = work.project.motion, len(work.leds)
        self.cells["size"].show_value(" × ".join(f"{side:.1f}" for side in work.board.size) + " mm")
        self.cells["leds"].show_value(str(count))
        total, average, peak = facts.currents(work)
        lit = core("drive_facts").lit_words(work)
        self.cells["now"].show_value(show_si(total, "A") if count else "–", title=lit)
        pair = f"{average * 1000:.3g} · {peak * 1000:.3g} mA"
        driven = facts.shown_truly(work)
        self.cells["average"].show_value(pair if count else "–", "text" if driven else "quiet")
        self.cells["average"].setToolTip("" if driven else "preview: the LEDs as they are driven cannot show the pattern")
        self.cells["runs"].show_value(facts.battery_words(work) if count else "–")
        self.cells["runs"].setToolTip(facts.battery_means(work))
        brief = work.brief
        price = core("price").brief_price(brief, work.board.size, work.board.edge_copper)
        self.cells["each"].show_value(f"{price.each:.2f}", title=f"example, per board of {brief.pieces}")
        self.curve.show_curve(facts.current_curve(work))
        wish_word = "" if driven or not count else ", preview"
        self.pattern.show_value(motion.title if count else "–", "honey" if wish_word else "text", f"pattern{wish_word}")
        self.play.setEnabled(count > 0)

    def show_now(self, share: float, phase: float) -> None:
        """Where the pattern is at this moment."""
        self.curve.show_phase(phase)

    def show_findings(self, findings: Sequence[Any]) -> None:
        """Stops first, then how many more."""
        stops = any(one.severity == "stop" for one in findings)
        self.cells["findings"].show_value(counted(findings), "warn" if stops else "honey" if findings else "sea")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme().colour("sunken"))
        painter.setPen(QPen(theme().colour("line"), 1))
        painter.drawLine(0, 0, self.width(), 0)
