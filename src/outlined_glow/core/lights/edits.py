"""The edits of the lights: for each kind of array one that makes the array it names, or changes the keys given."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Mapping
from difflib import get_close_matches
from typing import Any

import msgspec

from ..errors import Trouble
from ..project import Along, Array, Chain, Change, Contour, Curve, Design, Fill, Param, Spaced, board_edit, file_edit
from ..project.bounds import MOST_LEDS
from ..text_safety import short
from .kinds import KINDS, Kind
from .kinds.spacing import respaced
from .order import HOW
from .own_parts import library_of

#: The keys that every array has.
COMMON = {
    "emitter": Param("text"),
    "groups": Param("names", title="groups"),
    "mirrored": Param("flag", title="mirrored"),
    "copies": Param("count", "", 1, 64, title="times round the middle"),
    "facing": Param(
        "choice", choices=("along", "outward", "alike"), title="LEDs lie",
        titles=(("along", "along the array"), ("outward", "across it"), ("alike", "all the same way")),
    ),
    "turn_deg": Param("quantity", "deg", -3600, 3600, title="each turned", step=90),
    "side": Param(
        "choice", choices=("usual", "front", "back"), title="side",
        titles=(("usual", "as usual for this LED"), ("front", "front"), ("back", "back")),
    ),
}  # fmt: skip


def _put(design: Design, kind: Kind, name: str | None, values: dict[str, Any]) -> Design:
    """Change the array of that name, or append a new one; without a name a new one gets its kind and a number."""
    array = name if name is not None else _free_name(design, kind.tag)
    values = {key: value for key, value in values.items() if value is not None}
    arrays = list(design.lights)
    for place, one in enumerate(arrays):
        if one.name == array:
            _refuse_locked(one)
            if type(one) is not kind.array:
                raise Trouble(f"The array “{array}” is of another kind; take another name or remove it first.")
            arrays[place] = _changed(one, values)  # type: ignore[call-overload]
            return msgspec.structs.replace(design, lights=tuple(arrays))
    missing = [key for key in kind.needed if key not in values]
    if missing:
        raise Trouble(f"A new array needs {' and '.join(missing)}.")
    new = kind.array(name=array.strip(), **{key: values[key] for key in kind.needed})
    arrays.append(_changed(new, values))  # type: ignore[arg-type]
    return msgspec.structs.replace(design, lights=tuple(arrays))


def _changed(array: Array, values: dict[str, Any]) -> Array:
    if isinstance(array, Spaced):
        values = {**values, **respaced(array, values)}
    return msgspec.structs.replace(array, **values)


def _free_name(design: Design, stem: str, first: int = 1) -> str:
    taken = {one.name for one in design.lights}
    return next(name for name in (f"{stem} {number}" for number in itertools.count(first)) if name not in taken)


def _edit_of(kind: Kind) -> Callable[..., Design]:
    def put(design: Design, *, files: Mapping[str, bytes], array: str | None = None, **values: Any) -> Design:
        _refuse_unknown(values.get("emitter"), files)
        return _put(design, kind, array, values)

    put.__doc__ = kind.about
    return put


def _refuse_unknown(emitter: str | None, files: Mapping[str, bytes]) -> None:
    """`Trouble` for an LED that neither the library nor the project has."""
    known = library_of(files).emitters
    if emitter is not None and emitter not in known:
        near = get_close_matches(emitter, known, 3)
        hint = f"did you mean {' or '.join(near)}?" if near else "`library` names the parts there are."
        raise Trouble(f"There is no LED “{short(emitter)}”; {hint}")


for _kind in KINDS.values():
    file_edit(_kind.tag, _kind.sentence, array=Param("text"), **_kind.keys, **COMMON)(_edit_of(_kind))


@board_edit("remove-array", "Array “{array}” removed", array=Param("text", optional=False))
def remove_array(design: Design, *, array: str) -> Design:
    """Take an array away."""
    left = tuple(one for one in design.lights if one.name != array)
    if len(left) == len(design.lights):
        raise Trouble(f"There is no array “{array}” to remove.")
    _refuse_locked(array_of(design, array)[1])
    return msgspec.structs.replace(design, lights=left)


def array_of(design: Design, name: str) -> tuple[int, Array]:
    """The array of that name, and its place in the list. `Trouble` where there is none."""
    for at, one in enumerate(design.lights):
        if one.name == name:
            return at, one
    raise Trouble(f"There is no array “{short(name)}”.")


def _refuse_locked(array: Array) -> None:
    """`Trouble` for an array that nobody wants changed."""
    if array.locked:
        raise Trouble(f"The array “{short(array.name)}” is locked. Unlock it first.")


@board_edit("lock", "Array “{array}” locked", array=Param("text", optional=False), locked=Param("flag", title="locked"))
def lock(design: Design, *, array: str, locked: bool | None = None) -> Design:
    """Lock an array against every edit, or (locked=no) unlock it."""
    at, one = array_of(design, array)
    lights = (*design.lights[:at], msgspec.structs.replace(one, locked=locked is not False), *design.lights[at + 1 :])
    return msgspec.structs.replace(design, lights=lights)


def _with_array(design: Design, at: int, array: Array) -> Design:
    _refuse_locked(design.lights[at])
    lights = (*design.lights[:at], array, *design.lights[at + 1 :])
    return msgspec.structs.replace(design, lights=lights)


@board_edit(
    "move-array",
    "Array “{array}” at place {to}",
    array=Param("text", optional=False),
    to=Param("count", "", 1, MOST_LEDS, optional=False),
)
def move_array(design: Design, *, array: str, to: int) -> Design:
    """Put an array at another place of the list, from 1: arrays are chained in that order. No LED gets another number."""
    at, one = array_of(design, array)
    rest = (*design.lights[:at], *design.lights[at + 1 :])
    place = min(to, len(design.lights)) - 1
    return msgspec.structs.replace(design, lights=(*rest[:place], one, *rest[place:]))


@board_edit(
    "duplicate-array", "Array “{array}” twice", array=Param("text", optional=False), name=Param("text"),
    dx_mm=Param("quantity", "mm", -1000, 1000), dy_mm=Param("quantity", "mm", -1000, 1000),
)  # fmt: skip
def duplicate_array(
    design: Design, *, array: str, name: str | None = None, dx_mm: float | None = None, dy_mm: float | None = None
) -> Design:
    """A second array like one that is there, so far from it (of one that goes by a contour, so much further in); its LEDs get
    numbers of their own."""
    _, one = array_of(design, array)
    if name is not None and any(other.name == name for other in design.lights):
        raise Trouble(f"There is an array “{short(name)}” already; take another name.")
    moved = _moved(one, dx_mm or 0.0, dy_mm or 0.0)
    twin = msgspec.structs.replace(moved, name=name or _free_name(design, array, 2), numbers=(), locked=False)
    return msgspec.structs.replace(design, lights=(*design.lights, twin))


def _moved(array: Array, dx: float, dy: float) -> Array:
    """The same array elsewhere, mm; what fills a region fills it."""
    if isinstance(array, Fill):
        return array
    if isinstance(array, Curve):
        return msgspec.structs.replace(array, points=tuple((x + dx, y + dy) for x, y in array.points))
    if isinstance(array, Along | Contour):
        return msgspec.structs.replace(array, inset_mm=array.inset_mm + math.hypot(dx, dy))
    return msgspec.structs.replace(array, x_mm=array.x_mm + dx, y_mm=array.y_mm + dy)  # type: ignore[attr-defined]


# -- single LEDs of an array ----------------------------------------------------------------------------------------

_ONE = {"array": Param("text", optional=False), "place": Param("numbers", optional=False)}


def _with_changes(design: Design, array: str, places: tuple[int, ...], change: Callable[[Change], Change]) -> Design:
    """The design with what some LEDs of an array have of their own changed."""
    at, there = array_of(design, array)
    known = {one.place: one for one in there.changes}
    for place in places:
        known[place] = change(known.get(place, Change(place=place)))
    kept = tuple(one for _, one in sorted(known.items()) if one != Change(place=one.place))
    return _with_array(design, at, msgspec.structs.replace(there, changes=kept))


@board_edit("skip", "LED {place} of “{array}” left out", **_ONE, skipped=Param("flag"))
def skip(design: Design, *, array: str, place: tuple[int, ...], skipped: bool | None = None) -> Design:
    """Leave LEDs of an array out, or (skipped=no) take them in again. The others keep their numbers."""
    out = skipped is not False
    return _with_changes(design, array, place, lambda one: msgspec.structs.replace(one, skipped=out))


@board_edit(
    "nudge", "LED {place} of “{array}” moved", **_ONE,
    dx_mm=Param("quantity", "mm", -1000, 1000), dy_mm=Param("quantity", "mm", -1000, 1000),
    turn_deg=Param("quantity", "deg", -3600, 3600),
)  # fmt: skip
def nudge(design: Design, *, array: str, place: tuple[int, ...], **by: float | None) -> Design:
    """Move and turn LEDs of an array: so far from where it puts them, and so much beyond its turn."""
    given = {key: value for key, value in by.items() if value is not None}
    return _with_changes(design, array, place, lambda one: msgspec.structs.replace(one, **given))


@file_edit("retype", "LED {place} of “{array}” is {emitter}", **_ONE, emitter=Param("text"))
def retype(
    design: Design, *, files: Mapping[str, bytes], array: str, place: tuple[int, ...], emitter: str | None = None
) -> Design:
    """Give LEDs of an array another emitter than the rest of it has; without one, that of the array again."""
    _refuse_unknown(emitter, files)
    return _with_changes(design, array, place, lambda one: msgspec.structs.replace(one, emitter=emitter or ""))


@board_edit("group", "LED {place} of “{array}” in {groups}", **_ONE, groups=Param("names", optional=False))
def group(design: Design, *, array: str, place: tuple[int, ...], groups: tuple[str, ...]) -> Design:
    """Put LEDs of an array into groups beside that of their array: these and no others."""
    return _with_changes(design, array, place, lambda one: msgspec.structs.replace(one, groups=groups))


@board_edit("as-array", "LED {place} of “{array}” as the array has it", **_ONE)
def as_array(design: Design, *, array: str, place: tuple[int, ...]) -> Design:
    """Take back all that LEDs of an array have of their own."""
    return _with_changes(design, array, place, lambda one: Change(place=one.place))


# -- the chain ------------------------------------------------------------------------------------------------------

_HOW = (
    ("along", "array by array"), ("rows", "row by row"), ("serpentine", "rows, there and back"),
    ("columns", "column by column"),
    ("spiral", "spiral inward"), ("angle", "around the middle"), ("shortest", "shortest way"), ("hand", "by hand"),
)  # fmt: skip


@board_edit("renumber", "LEDs numbered anew")
def renumber(design: Design) -> Design:
    """Number the LEDs from 1, array by array, without gaps but for those left out."""
    arrays = tuple(msgspec.structs.replace(one, numbers=()) for one in design.lights)
    return msgspec.structs.replace(design, lights=arrays, numbered=0)


@board_edit(
    "order",
    "Chain {how}",
    how=Param("choice", choices=(*HOW, "hand"), optional=False, title="order", titles=_HOW),
    turned=Param("flag", title="from the other end"),
    leds=Param("numbers"),
)
def order(design: Design, *, how: str, turned: bool | None = None, leds: tuple[int, ...] | None = None) -> Design:
    """In which order the LEDs are chained. No LED gets another number. By hand: the numbers in their row."""
    if (leds is not None) != (how == "hand"):
        raise Trouble("leds= and how=hand go together: give the numbers of the LEDs in their row.")
    turned = design.chain.turned if turned is None else turned
    chain = Chain(how=how, turned=turned and how != "hand", leds=leds or ())  # type: ignore[arg-type]
    return msgspec.structs.replace(design, chain=chain)
