"""A choice that tells beforehand what each of its words would mean: look, price and days in the list, the rest below."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import QModelIndex, QSize, Qt
from PyQt6.QtGui import QColor, QIcon, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import QStyledItemDelegate, QStyleOptionViewItem

from ..fields import Choice
from ..theme import theme
from ..widgets import Card, label

_ASIDE = int(Qt.ItemDataRole.UserRole) + 1
_LIST_WIDTH = 268


class ConsequenceChoice(Choice):
    """A row of a card, with what the chosen word means and rules out in quiet words under it."""

    def __init__(self, card: Card, title: str) -> None:
        super().__init__([])
        self.setItemDelegate(_WithAside(self))
        self.setIconSize(QSize(26, 14))
        card.row(title, self)
        self.means = label("", "quiet", wrap=True)
        self.means.setContentsMargins(8, 0, 0, 2)
        self.means.hide()
        card.add(self.means)
        view = self.view()
        if view is not None:
            view.setMinimumWidth(_LIST_WIDTH)
        self._told: dict[str, Any] = {}
        self._here = ""

    def offer(self, words: Sequence[tuple[str, str]]) -> None:
        """The words, if they are others than those there."""
        if [(self.itemData(at), self.itemText(at)) for at in range(self.count())] != list(words):
            self.fill(words)
            self._decorate()

    def show_key(self, key: Any) -> None:
        super().show_key(key)
        self._here = str(key)
        self._explain()

    def tell(self, rows: Sequence[Any]) -> None:
        """What each word would mean."""
        self._told = {one.word: one for one in rows}
        self._decorate()
        self._explain()

    def _decorate(self) -> None:
        for at in range(self.count()):
            one = self._told.get(self.itemData(at))
            if one is None:
                continue
            self.setItemData(at, _aside(one), _ASIDE)
            self.setItemData(at, meaning(one), Qt.ItemDataRole.ToolTipRole)
            if one.looks:
                self.setItemIcon(at, _chip(one.looks, self.devicePixelRatioF()))

    def _explain(self) -> None:
        one = self._told.get(self._here)
        words = meaning(one) if one is not None else ""
        self.means.setText(words)
        self.means.setVisible(bool(words))


def meaning(one: Any) -> str:
    """What a word means for this board: its price, what it prevents, what to take care of."""
    ruled = f"not possible: {'; '.join(one.rules_out)}" if one.rules_out else ""
    care = f"take care: {'; '.join(one.care)}" if one.care else ""
    price = f"{one.dearer:+.2f} credits per order (example price)" if one.dearer else ""
    return "\n".join(words for words in (one.tells, price, ruled, care) if words)


def _aside(one: Any) -> str:
    price = f"{one.dearer:+.2f}" if one.dearer else ""
    days = f"{one.later:+d} d" if one.later else ""
    return "  ".join(words for words in (days, price) if words)


def _chip(colours: Sequence[str], scale: float) -> QIcon:
    picture = QPixmap(round(26 * scale), round(14 * scale))
    picture.setDevicePixelRatio(scale)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    share = 26 / len(colours)
    for place, colour in enumerate(colours):
        painter.setPen(QPen(theme().colour("line"), 1))
        painter.setBrush(QColor("#" + colour))
        painter.drawRoundedRect(round(place * share), 1, round(share) - 1, 12, 3, 3)
    painter.end()
    icon = QIcon(picture)
    icon.addPixmap(picture, QIcon.Mode.Selected)
    return icon


class _WithAside(QStyledItemDelegate):
    """A word of the list with what it costs at its right."""

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        super().paint(painter, option, index)
        aside = index.data(_ASIDE)
        if painter is None or not aside:
            return
        painter.save()
        painter.setFont(option.font)
        painter.setPen(theme().colour("honey"))
        area = option.rect.adjusted(0, 0, -10, 0)
        painter.drawText(area, int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter), str(aside))
        painter.restore()

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        size = super().sizeHint(option, index)
        return QSize(size.width() + 80, max(26, size.height()))
