"""The edits of the lights: each makes the array it names, or changes the keys given."""

from __future__ import annotations

import itertools
from typing import Any

import msgspec

from ..errors import Trouble
from ..parts import emitters
from ..project import Along, Array, Grid, Param, Project, Ring, Single, edit

_NAME = Param("text")
_EMITTER = Param("choice", choices=lambda: tuple(emitters()))
_X, _Y = Param("quantity", "mm", -1000, 1000, axis="x"), Param("quantity", "mm", -1000, 1000, axis="y")
_COUNT = Param("count", "", 1, 1024)
_PITCH = Param("quantity", "mm", 0.2, 500)
_TURN = Param("quantity", "deg", -3600, 3600)
_COMMON = {"emitter": _EMITTER, "groups": Param("names"), "mirrored": Param("flag")}


def _put(project: Project, kind: type[Array], name: str | None, values: dict[str, Any], needed: tuple[str, ...]) -> Project:
    """Change the array of that name, or append a new one; without a name a new one gets its kind and a number."""
    array = name if name is not None else _free_name(project, str(kind.__struct_config__.tag))
    values = {key: value for key, value in values.items() if value is not None}
    arrays = list(project.design.lights)
    for place, one in enumerate(arrays):
        if one.name == array:
            if type(one) is not kind:
                raise Trouble(f"The array “{array}” is of another kind; take another name or remove it first.")
            arrays[place] = msgspec.structs.replace(one, **values)
            return project.with_design(lights=tuple(arrays))
    missing = [key for key in needed if key not in values]
    if missing:
        raise Trouble(f"A new array needs {' and '.join(missing)}.")
    arrays.append(kind(name=array.strip(), **values))  # type: ignore[arg-type]
    return project.with_design(lights=tuple(arrays))


def _free_name(project: Project, kind: str) -> str:
    taken = {one.name for one in project.design.lights}
    return next(name for name in (f"{kind} {number}" for number in itertools.count(1)) if name not in taken)


@edit(
    "ring", "Ring “{array}”",
    array=_NAME, x_mm=_X, y_mm=_Y, diameter_mm=Param("quantity", "mm", 0.5, 1000), count=_COUNT, start_deg=_TURN,
    direction=Param("choice", choices=("clockwise", "counter-clockwise")), **_COMMON,
)  # fmt: skip
def ring(project: Project, *, array: str | None = None, **values: Any) -> Project:
    """LEDs on a circle."""
    return _put(project, Ring, array, values, ("x_mm", "y_mm"))


@edit(
    "grid", "Grid “{array}”",
    array=_NAME, x_mm=_X, y_mm=_Y, rows=_COUNT, columns=_COUNT, pitch_x_mm=_PITCH, pitch_y_mm=_PITCH, angle_deg=_TURN,
    **_COMMON,
)  # fmt: skip
def grid(project: Project, *, array: str | None = None, **values: Any) -> Project:
    """LEDs in rows and columns."""
    return _put(project, Grid, array, values, ("x_mm", "y_mm"))


@edit(
    "along", "Along the edge “{array}”",
    array=_NAME, count=_COUNT, inset_mm=Param("quantity", "mm", 0.1, 200), start=Param("quantity", "", 0, 1),
    end=Param("quantity", "", 0, 1), **_COMMON,
)  # fmt: skip
def along(project: Project, *, array: str | None = None, **values: Any) -> Project:
    """LEDs at equal steps along the silhouette, set in from it."""
    return _put(project, Along, array, values, ())


@edit("single", "LED “{array}”", array=_NAME, x_mm=_X, y_mm=_Y, angle_deg=_TURN, **_COMMON)
def single(project: Project, *, array: str | None = None, **values: Any) -> Project:
    """One LED."""
    return _put(project, Single, array, values, ("x_mm", "y_mm"))


@edit("remove-array", "Array “{array}” removed", array=Param("text", optional=False))
def remove_array(project: Project, *, array: str) -> Project:
    """Take an array away."""
    left = tuple(one for one in project.design.lights if one.name != array)
    if len(left) == len(project.design.lights):
        raise Trouble(f"There is no array “{array}” to remove.")
    return project.with_design(lights=left)
