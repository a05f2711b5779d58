"""Numbers typed beside a handle: what dragging it would set, as fields."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QWidget

from ..core_door import core
from ..edit_fields import KeyRows, params_of
from ..session import Session
from ..theme import keep_in_theme
from ..widgets import Card
from .handles import Handle

_AWAY_PX, _WIDE_PX = 14, 260


class TypedFields(Card):
    """A card that stands beside a handle until it is left; Enter in a field takes its number."""

    def __init__(self, parent: QWidget, session: Session, handle: Handle, edit: str, values: dict[str, Any]) -> None:
        super().__init__(handle.name)
        self.setParent(parent)
        self.setWindowFlags(Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setFixedWidth(_WIDE_PX)
        keep_in_theme(self)
        params = params_of(edit)
        self._session, self._edit = session, edit
        self._keys = [key for key in values if key in params and params[key].title]
        self._whose = {key: value for key, value in values.items() if key not in self._keys}
        self.rows = KeyRows(self, edit, self._take)
        if self._keys:
            self.rows.add(*self._keys)
            work = session.work
            left, bottom = work.board.origin if work is not None else (0.0, 0.0)
            told = core("frames").shifted_values(edit, values, (-left, -bottom))
            self.rows.show({key: told[key] for key in self._keys})

    @property
    def empty(self) -> bool:
        """Whether the handle sets nothing that has a number."""
        return not self._keys

    def show_at(self, at: QPoint) -> None:
        """Stand beside a place of the screen, the first field ready to be typed in."""
        self.adjustSize()
        self.move(at + QPoint(_AWAY_PX, -self.height() // 2))
        self.show()
        first = self.rows[self._keys[0]]
        first.setFocus()
        first.selectAll()

    def _take(self, key: str, value: Any) -> None:
        others = {one: self.rows[one].value for one in self._keys if one != key}
        self._session.edit(self._edit, {**self._whose, **others, key: value})


def type_beside(bench: QWidget, session: Session, handle: Handle, at: QPoint) -> TypedFields | None:
    """Open the fields of a handle beside a place of the bench; None for one without numbers."""
    wanted = handle.drag(handle.x, handle.y)
    if wanted is None:
        return None
    fields = TypedFields(bench, session, handle, *wanted)
    if fields.empty:
        fields.deleteLater()
        return None
    fields.show_at(bench.mapToGlobal(at))
    return fields
