"""The few building blocks of every drawer: cards, rows, fields, choices, links."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QEvent, QObject, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from ..core.errors import Trouble
from ..core.units import parse_quantity, show
from .theme import theme


def label(text: str, role: str = "", wrap: bool = False) -> QLabel:
    """A label in one of the roles of the style sheet."""
    one = QLabel(text)
    if role:
        one.setObjectName(role)
    one.setWordWrap(wrap)
    if wrap:
        one.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
    return one


class ElidedLabel(QLabel):
    """A label that gives way: what does not fit ends in an ellipsis and is told in full on hover."""

    def __init__(self, text: str = "", role: str = "") -> None:
        super().__init__()
        self.setObjectName(role)
        self._full = ""
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.set_full(text)

    def set_full(self, text: str) -> None:
        """Change the whole text."""
        self._full = text
        self.setAccessibleName(text)
        self.setToolTip(text)
        self.setText(text)
        self.update()

    def minimumSizeHint(self) -> QSize:
        return QSize(10, super().minimumSizeHint().height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setPen(self.palette().windowText().color())
        shown = self.fontMetrics().elidedText(self._full, Qt.TextElideMode.ElideRight, self.contentsRect().width())
        painter.drawText(self.contentsRect(), self.alignment() | Qt.AlignmentFlag.AlignVCenter, shown)


class Card(QFrame):
    """A titled group: what belongs together, result beside cause."""

    def __init__(self, title: str, aside: str = "") -> None:
        super().__init__()
        self.setObjectName("card")
        self.setAccessibleName(title)
        self.body = QVBoxLayout(self)
        self.body.setContentsMargins(14, 10, 14, 12)
        self.body.setSpacing(6)
        head = QHBoxLayout()
        head.setSpacing(8)
        self.title = label(title, "cardTitle")
        self.aside = ElidedLabel(aside, "quiet")
        self.aside.setAlignment(Qt.AlignmentFlag.AlignRight)
        head.addWidget(self.title)
        head.addWidget(self.aside, 1)
        self.body.addLayout(head)

    def add(self, widget: QWidget) -> QWidget:
        """One more line."""
        self.body.addWidget(widget)
        return widget

    def row(self, name: str, widget: QWidget, why: Callable[[], None] | None = None) -> QWidget:
        """A named line with a field of the common width, and “why” if there is a reason to give."""
        holder = QWidget()
        line = QHBoxLayout(holder)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(8)
        title = label(name, "quiet")
        title.setBuddy(widget)
        if not widget.accessibleName():
            widget.setAccessibleName(name)
        line.addWidget(title, 1)
        if isinstance(widget, QComboBox):
            widget.setFixedWidth(150)
        elif isinstance(widget, QLineEdit):
            widget.setFixedWidth(max(104, widget.minimumWidth()))
        line.addWidget(widget)
        if why is not None:
            line.addWidget(link("why", why, "why", f"Why this {name}?"))
        self.body.addWidget(holder)
        return holder

    def figure(self, name: str, role: str = "", why: Callable[[], None] | None = None) -> QLabel:
        """A named line with a computed figure."""
        holder = QWidget()
        line = QHBoxLayout(holder)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(8)
        line.addWidget(label(name, "quiet"), 1)
        value = label("–", role)
        value.setAccessibleName(name)
        line.addWidget(value)
        if why is not None:
            line.addWidget(link("why", why, "why", f"Why this {name}?"))
        self.body.addWidget(holder)
        return value


def link(text: str, run: Callable[[], None], role: str = "link", tip: str = "") -> QPushButton:
    """A word that does something."""
    one = QPushButton(text)
    one.setObjectName(role)
    one.setCursor(Qt.CursorShape.PointingHandCursor)
    one.setFlat(True)
    one.setAccessibleName(tip or text)
    if tip:
        one.setToolTip(tip)
    one.clicked.connect(lambda _=False: run())
    return one


def button(text: str, run: Callable[[], None], filled: bool = False) -> QPushButton:
    """A main button, or one that stands back."""
    one = QPushButton(text)
    if filled:
        one.setObjectName("filled")
    one.setCursor(Qt.CursorShape.PointingHandCursor)
    one.clicked.connect(lambda _=False: run())
    return one


class QuantityField(QLineEdit):
    """A number with its unit, as people write it; Enter or leaving commits, arrows and wheel step.

    `factor` is what one shown unit is in the unit of the edit (mA: 0.001 A).
    """

    committed = pyqtSignal(float)

    def __init__(self, unit: str, base: str, *, factor: float = 1.0, step: float = 1.0, digits: int = 2) -> None:
        super().__init__()
        self._unit, self._base, self._factor, self._step, self._digits = unit, base, factor, step, digits
        self._value: float | None = None
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        if unit:
            self.setTextMargins(0, 0, self.fontMetrics().horizontalAdvance(unit) + 7, 0)
        self.editingFinished.connect(self._commit)
        self.textEdited.connect(lambda _: self._mark(False))

    def show_value(self, value: float | None) -> None:
        """Show a value (in the unit of the edit) unless it is being typed over."""
        self._value = value
        if self.hasFocus() and self.isModified():
            return
        self._mark(False)
        self.setText("" if value is None else show(value / self._factor, self._digits))

    def _mark(self, wrong: bool, tip: str = "") -> None:
        if bool(self.property("wrong")) != wrong:
            self.setProperty("wrong", wrong)
            style = self.style()
            if style is not None:
                style.unpolish(self)
                style.polish(self)
        self.setToolTip(tip)

    def _commit(self) -> None:
        if not self.isModified():
            return
        try:
            value = parse_quantity(self.text(), self._base, bare=self._unit or None)
        except Trouble as trouble:
            self._mark(True, str(trouble))
            return
        self.setModified(False)
        self._value = value
        self.committed.emit(value)

    def _nudge(self, steps: float) -> None:
        if self._value is None:
            return
        shown = self._value / self._factor + steps * self._step
        self._value = shown * self._factor
        self.setModified(False)
        self.setText(show(shown, self._digits))
        self.committed.emit(self._value)

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


def clear(layout: Any) -> None:
    """Take every widget out of a layout."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
        elif item.layout() is not None:
            clear(item.layout())


class KeyCatcher(QObject):
    """Calls back for a key pressed anywhere below a widget."""

    def __init__(self, parent: QObject, keys: dict[int, Callable[[], None]]) -> None:
        super().__init__(parent)
        self._keys = keys
        parent.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() in self._keys:
            self._keys[event.key()]()
            return True
        return False
