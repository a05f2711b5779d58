"""Fields: quantities with their unit, choices, switches, colour samples."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QWidget

from ..core.errors import Trouble
from ..core.units import parse_quantity, show, show_si
from .theme import theme


def mark_wrong(field: QLineEdit, why: str) -> None:
    """Mark a field whose words cannot be taken, with the reason as its tip; "" for one that is right."""
    if bool(field.property("wrong")) != bool(why):
        field.setProperty("wrong", bool(why))
        style = field.style()
        if style is not None:
            style.unpolish(field)
            style.polish(field)
    field.setToolTip(why)


class QuantityField(QLineEdit):
    """A number with its unit, as people write it; Enter or leaving commits, arrows and wheel step.

    `factor` is what one shown unit is in the unit of the edit (mA: 0.001 A; %: 0.01 of the whole). Steps end at `low` and
    `high`, in the unit of the edit; what is typed beyond them is for the edit to refuse.
    """

    committed = pyqtSignal(float)

    def __init__(
        self,
        unit: str,
        base: str,
        *,
        factor: float = 1.0,
        step: float = 1.0,
        digits: int = 2,
        low: float = -math.inf,
        high: float = math.inf,
    ) -> None:
        super().__init__()
        self._unit, self._base, self._factor, self._step, self._digits = unit, base, factor, step, digits
        self._low, self._high = low, high
        self._value: float | None = None
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.show_unit(unit)
        self.editingFinished.connect(self._commit)
        self.textEdited.connect(lambda _: mark_wrong(self, ""))

    def show_unit(self, unit: str) -> None:
        """Show another unit behind the number."""
        self._unit = unit
        self.setTextMargins(0, 0, self.fontMetrics().horizontalAdvance(unit) + 7 if unit else 0, 0)
        self.update()

    def show_value(self, value: float | None) -> None:
        """Show a value (in the unit of the edit) unless it is being typed over."""
        self._value = value
        if self.hasFocus() and self.isModified():
            return
        mark_wrong(self, "")
        self.setText("" if value is None else show(value / self._factor, self._digits))

    @property
    def unit(self) -> str:
        """The unit behind the number."""
        return self._unit

    @property
    def value(self) -> float | None:
        """The value shown, in the unit of the edit."""
        return self._value

    def _commit(self) -> None:
        if not self.isModified():
            return
        text = self.text().strip()
        if self._base == "" and self._unit:
            text = text.removesuffix(self._unit)  # one may write out what stands behind the number
        try:
            value = parse_quantity(text, self._base, bare=self._unit or None)
            value *= self._factor if self._base == "%" else 1.0
        except Trouble as trouble:
            mark_wrong(self, str(trouble))
            return
        self.setModified(False)
        self._value = value
        self.committed.emit(value)

    def _nudge(self, steps: float) -> None:
        if self._value is None:
            return
        stepped = (self._value / self._factor + steps * self._step) * self._factor
        stepped = min(max(stepped, self._low), self._high)
        self.setModified(False)
        self.setText(show(stepped / self._factor, self._digits))
        if stepped != self._value:
            self._value = stepped
            self.committed.emit(stepped)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            fine = 0.1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
            self._nudge(fine if event.key() == Qt.Key.Key_Up else -fine)
            return
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.setModified(False)
            self.show_value(self._value)
            return
        super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and self.hasFocus():
            self._nudge(1 if event.angleDelta().y() > 0 else -1)
            event.accept()
        elif event is not None:
            event.ignore()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if self._unit:
            painter = QPainter(self)
            painter.setPen(theme().colour("quiet"))
            painter.setFont(self.font())
            area = self.rect().adjusted(0, 0, -9, 0)
            painter.drawText(area, int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter), self._unit)


class TextField(QLineEdit):
    """Words; Enter or leaving commits what was changed."""

    committed = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumWidth(150)
        self.setMaxLength(200)
        self._shown = ""
        self.editingFinished.connect(self._commit)

    def show_text(self, text: str) -> None:
        """Show words, unless somebody is writing others."""
        if not self.hasFocus():
            self._shown = text
            self.setText(text)
            self.setCursorPosition(0)

    def refused(self) -> None:
        """What was committed could not be: Enter commits it again."""
        self._shown = ""

    def _commit(self) -> None:
        if self.text().strip() and self.text() != self._shown:
            self._shown = self.text()
            self.committed.emit(self.text())


class ListField(QLineEdit):
    """Numbers with commas between them, as people write them; Enter or leaving commits, nothing means none."""

    committed = pyqtSignal(object)

    def __init__(self, read: Callable[[str], tuple[float, ...]], unit: str) -> None:
        super().__init__()
        self._read, self._unit = read, unit
        self.setMinimumWidth(150)
        self.setPlaceholderText("any")
        self.editingFinished.connect(self._commit)
        self.textEdited.connect(lambda _: mark_wrong(self, ""))

    def show_numbers(self, numbers: Sequence[float]) -> None:
        """Show numbers, unless somebody is writing others."""
        if self.hasFocus() and self.isModified():
            return
        mark_wrong(self, "")
        self.setText(", ".join(show_si(one, "").strip().replace(" ", "") for one in numbers))
        self.setCursorPosition(0)

    def _commit(self) -> None:
        if not self.isModified():
            return
        try:
            numbers = self._read(self.text().strip())
        except Trouble as trouble:
            mark_wrong(self, str(trouble))
            return
        self.setModified(False)
        self.committed.emit(numbers)


class Choice(QComboBox):
    """One of several words; `chosen` fires only when a person chooses."""

    chosen = pyqtSignal(str)

    def __init__(self, words: Sequence[tuple[str, str]]) -> None:
        super().__init__()
        self.fill(words)
        self.activated.connect(lambda _: self.chosen.emit(str(self.currentData())))

    def fill(self, words: Sequence[tuple[str, str]]) -> None:
        """Replace the words: (key, shown)."""
        self.clear()
        for key, shown in words:
            self.addItem(shown, key)

    def show_key(self, key: Any) -> None:
        """Show the word of a key."""
        place = self.findData(key)
        if place != self.currentIndex():
            self.setCurrentIndex(place)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(theme().colour("quiet"), 1.4))
        x, y = self.width() - 14, self.height() / 2 - 1.5
        painter.drawLine(round(x - 3.5), round(y), round(x), round(y + 4))
        painter.drawLine(round(x), round(y + 4), round(x + 3.5), round(y))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            event.ignore()


class Switch(QCheckBox):
    """Yes or no; `switched` fires only when a person switches."""

    switched = pyqtSignal(bool)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.clicked.connect(self.switched.emit)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        on = self.isChecked()
        painter.setPen(QPen(t.colour("ring" if self.hasFocus() else "lamp" if on else "line"), 1.2))
        painter.setBrush(t.colour("lamp") if on else t.colour("sunken"))
        painter.drawRoundedRect(1, 2, 32, 17, 8.5, 8.5)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.colour("window") if on else t.colour("quiet"))
        painter.drawEllipse(18 if on else 4, 4, 13, 13)

    def sizeHint(self) -> QSize:
        return QSize(36, 22)

    def hitButton(self, pos: Any) -> bool:
        return bool(self.rect().contains(pos))


class ColourChip(QWidget):
    """A small sample of colours side by side."""

    def __init__(self, colours: Sequence[str], width: int = 22) -> None:
        super().__init__()
        self._colours = list(colours)
        self.setFixedSize(width, 16)

    def show_colours(self, colours: Sequence[str]) -> None:
        """Change the sample."""
        self._colours = list(colours)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        share = self.width() / max(1, len(self._colours))
        painter.setPen(Qt.PenStyle.NoPen)
        for place, colour in enumerate(self._colours):
            painter.setBrush(QColor("#" + colour))
            painter.drawRoundedRect(round(place * share), 1, round(share) - 1, 14, 3, 3)
        painter.setPen(QPen(theme().colour("line"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(0, 0, self.width() - 1, 15, 4, 4)
