"""The edits of the lights: for each kind of array one that makes the array it names, or changes the keys given."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from typing import Any

import msgspec

from ..errors import Trouble
from ..parts import emitters
from ..project import Design, Param, board_edit
from .kinds import KINDS, Kind

#: The keys that every array has.
COMMON = {
    "emitter": Param("choice", choices=lambda: tuple(emitters())),
    "groups": Param("names", title="groups"),
    "mirrored": Param("flag", title="mirrored"),
}


def _put(design: Design, kind: Kind, name: str | None, values: dict[str, Any]) -> Design:
    """Change the array of that name, or append a new one; without a name a new one gets its kind and a number."""
    array = name if name is not None else _free_name(design, kind.tag)
    values = {key: value for key, value in values.items() if value is not None}
    arrays = list(design.lights)
    for place, one in enumerate(arrays):
        if one.name == array:
            if type(one) is not kind.array:
                raise Trouble(f"The array “{array}” is of another kind; take another name or remove it first.")
            arrays[place] = msgspec.structs.replace(one, **values)
            return msgspec.structs.replace(design, lights=tuple(arrays))
    missing = [key for key in kind.needed if key not in values]
    if missing:
        raise Trouble(f"A new array needs {' and '.join(missing)}.")
    arrays.append(kind.array(name=array.strip(), **values))  # type: ignore[arg-type]
    return msgspec.structs.replace(design, lights=tuple(arrays))


def _free_name(design: Design, kind: str) -> str:
    taken = {one.name for one in design.lights}
    return next(name for name in (f"{kind} {number}" for number in itertools.count(1)) if name not in taken)


def _edit_of(kind: Kind) -> Callable[..., Design]:
    def put(design: Design, *, array: str | None = None, **values: Any) -> Design:
        return _put(design, kind, array, values)

    put.__doc__ = kind.about
    return put


for _kind in KINDS.values():
    board_edit(_kind.tag, _kind.sentence, array=Param("text"), **_kind.keys, **COMMON)(_edit_of(_kind))


@board_edit("remove-array", "Array “{array}” removed", array=Param("text", optional=False))
def remove_array(design: Design, *, array: str) -> Design:
    """Take an array away."""
    left = tuple(one for one in design.lights if one.name != array)
    if len(left) == len(design.lights):
        raise Trouble(f"There is no array “{array}” to remove.")
    return msgspec.structs.replace(design, lights=left)
