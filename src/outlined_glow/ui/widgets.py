"""The few building blocks of every drawer: cards, rows, fields, choices, links."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
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

from ..core.units import on_one_line
from .window_first import window_first


def label(text: str, role: str = "", wrap: bool = False) -> QLabel:
    """A label in one of the roles of the style sheet."""
    one = Paragraph(text) if wrap else QLabel(text)
    if role:
        one.setObjectName(role)
    if wrap:
        one.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
    return one


class Paragraph(QLabel):
    """A label that goes on in further lines; no number parts from its unit there."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._plain = ""
        self.setWordWrap(True)
        self.setText(text)

    def setText(self, text: str | None) -> None:
        self._plain = text or ""
        super().setText(on_one_line(self._plain))

    def text(self) -> str:
        return self._plain


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
        self.title = ElidedLabel(title, "cardTitle")
        self.title.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
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
            # Its words may be long or short: one width, and less only beside a long name.
            widget.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            widget.setMinimumContentsLength(20)
            widget.setMinimumWidth(118)
            widget.setMaximumWidth(158)
        elif isinstance(widget, QLineEdit):
            widget.setFixedWidth(max(104, widget.minimumWidth()))
        line.addWidget(widget)
        if why is not None:
            line.addWidget(link("why", why, "why", f"Why this {name}?"))
        self.body.addWidget(holder)
        return holder

    def figure(self, name: str, role: str = "", why: Callable[[], None] | None = None) -> QLabel:
        """A named line with a computed figure; words that are too long for it run on in further lines."""
        holder, line, value = _figure_line(name, role)
        if why is not None:
            line.addWidget(link("why", why, "why", f"Why this {name}?"))
        self.body.addWidget(holder)
        return value


def figure_row(name: str, words: str) -> QWidget:
    """A named line with a figure that is made anew with what it is about."""
    holder, _, value = _figure_line(name, "")
    value.setText(words)
    return holder


def _figure_line(name: str, role: str) -> tuple[QWidget, QHBoxLayout, QLabel]:
    """A line with a name and room for a figure: the line, its layout, and the figure."""
    holder = QWidget()
    line = QHBoxLayout(holder)
    line.setContentsMargins(0, 0, 0, 0)
    line.setSpacing(8)
    line.addWidget(label(name, "quiet"), 0, Qt.AlignmentFlag.AlignTop)
    value = Paragraph("–")
    value.setObjectName(role)
    value.setAccessibleName(name)
    value.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop)
    line.addWidget(value, 1)
    return holder, line, value


def link(text: str, run: Callable[[], object], role: str = "link", tip: str = "") -> QPushButton:
    """A word that does something."""
    one = QPushButton(text)
    one.setObjectName(role)
    one.setCursor(Qt.CursorShape.PointingHandCursor)
    one.setFlat(True)
    one.setAccessibleName(tip or text)
    if tip:
        one.setToolTip(tip)
    _when_pressed(one, run)
    return one


class Pressable(QAbstractButton):
    """A surface with a drawing of its own that is pressed like any button: by mouse, Enter and the space bar."""

    def __init__(self, focus: Qt.FocusPolicy = Qt.FocusPolicy.TabFocus) -> None:
        super().__init__()
        self.setFocusPolicy(focus)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Preferred)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
            return
        super().keyPressEvent(event)


class RowButton(QPushButton):
    """A row of a list to choose from; what does not fit ends in an ellipsis."""

    def __init__(self, text: str, tip: str, picture: int = 0) -> None:
        """`picture`: the width that an icon takes, with the space beside it."""
        super().__init__()
        self._picture = picture
        self.setObjectName("row")
        self.setCheckable(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self._full = text
        self.setAccessibleName(text)
        self.setToolTip(tip)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.setText(self.fontMetrics().elidedText(self._full, Qt.TextElideMode.ElideRight, self.width() - 20 - self._picture))


def button(text: str, run: Callable[[], object], filled: bool = False) -> QPushButton:
    """A main button, or one that stands back."""
    one = QPushButton(text)
    if filled:
        one.setObjectName("filled")
    one.setCursor(Qt.CursorShape.PointingHandCursor)
    _when_pressed(one, run)
    return one


def _when_pressed(one: QPushButton, run: Callable[[], object]) -> None:
    def pressed() -> None:
        window_first()
        run()

    one.clicked.connect(lambda _=False: pressed())


def put_away(widget: QWidget) -> None:
    """Have a widget gone at once, and deleted in a turn of the event loop."""
    widget.hide()
    widget.deleteLater()


def clear(layout: Any) -> None:
    """Take every widget out of a layout."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget()
        if widget is not None:
            put_away(widget)
        elif item.layout() is not None:
            clear(item.layout())
