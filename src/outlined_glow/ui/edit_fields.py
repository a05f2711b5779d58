"""Fields made from the keys of an edit in the registry: what the window asks for is what the command line takes."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from typing import Any

from PyQt6.QtWidgets import QWidget

from .core_door import core
from .fields import Choice, ListField, QuantityField, Switch, TextField
from .widgets import Card

#: How a unit is shown, and what one of a shown unit is in that of the key.
_SHOWN = {"deg": "°"}
_FACTORS = {("%", ""): 0.01, ("ms", "s"): 1e-3, ("mA", "A"): 1e-3, ("min", "s"): 60.0}


def params_of(edit: str) -> Mapping[str, Any]:
    """The keys of an edit."""
    core("workshop")  # every room's edits are registered by loading it
    params: Mapping[str, Any] = core("edits").edits()[edit].params
    return params


def field_of(param: Any) -> QuantityField | Choice | Switch | TextField | ListField:
    """The field that takes a key: a number with its unit, several of them, a choice, a switch, or words."""
    if param.kind == "flag":
        return Switch(param.title)
    if param.kind in ("choice", "colour", "path"):
        titles = dict(param.titles)
        return Choice([(word, titles.get(word, word)) for word in (param.options() if param.kind == "choice" else ())])
    if param.kind in ("text", "names"):
        return TextField()
    if param.kind == "list":
        return ListField(lambda text: param.parse(param.title, text or "none", True), param.unit)
    shown = param.shown if param.shown is not None else _SHOWN.get(param.unit, param.unit)
    return QuantityField(
        shown,
        shown if shown == "%" else param.unit,
        factor=_FACTORS.get((shown, param.unit), 1.0),
        step=param.step,
        digits=0 if param.kind == "count" else param.digits,
        low=param.low,
        high=param.high,
    )


class KeyRows:
    """Rows of a card for keys of an edit. Each commits its key and value; all are shown from values by key."""

    def __init__(self, card: Card, edit: str, commit: Callable[[str, Any], object]) -> None:
        self._card, self._edit, self._params, self._commit = card, edit, params_of(edit), commit
        self.rows: dict[str, QWidget] = {}
        self.fields: dict[str, Any] = {}

    def __getitem__(self, key: str) -> Any:
        """The field of a key."""
        return self.fields[key]

    def add(self, *keys: str) -> Any:
        """Rows for some keys, one under the other; the field of the last one."""
        for key in keys:
            param = self._params[key]
            field = field_of(param)
            if isinstance(field, Switch):
                field.switched.connect(lambda on, key=key: self._commit(key, on))
            elif isinstance(field, TextField):
                field.committed.connect(lambda text, key=key: self._words(key, text))
            elif isinstance(field, ListField):
                field.committed.connect(lambda numbers, key=key: self._commit(key, numbers))
            elif isinstance(field, Choice):
                field.chosen.connect(lambda word, key=key: self._commit(key, word))
            else:
                whole = param.kind == "count"
                field.committed.connect(lambda value, key=key, whole=whole: self._commit(key, round(value) if whole else value))
            self.rows[key], self.fields[key] = self._card.row(param.title, field), field
        return self.fields[keys[-1]]

    def _words(self, key: str, text: str) -> None:
        names = self._params[key].kind == "names"
        if self._commit(key, self._params[key].parse(key, text, False) if names else text) is False:
            self.fields[key].refused()

    def show(self, values: Mapping[str, Any]) -> None:
        """Show the values of the keys that are given."""
        for key, value in values.items():
            field = self.fields[key]
            if isinstance(field, Switch):
                field.setChecked(bool(value))
            elif isinstance(field, Choice):
                field.show_key(value)
            elif isinstance(field, ListField):
                field.show_numbers(value)
            elif isinstance(field, TextField):
                field.show_text(value if isinstance(value, str) else ", ".join(value))
            else:
                field.show_value(value)

    def show_of(self, one: Any, origin: tuple[float, float] = (0.0, 0.0), **others: Any) -> None:
        """Show the attributes that are named as the keys; places are told from `origin`, `others` are shown instead."""
        values = {key: getattr(one, key) for key in self.fields if key not in others}
        shifted = core("frames").shifted_values(self._edit, values, (-origin[0], -origin[1]))
        self.show({**shifted, **others})

    def only(self, keys: Collection[str]) -> None:
        """Leave only these rows in view."""
        for key, row in self.rows.items():
            row.setVisible(key in keys)
