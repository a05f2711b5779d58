"""Between the picture frame, in which places are kept, and the board frame, in which they are told and given."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from .edits import find_edit
from .finding import Finding, Remedy

Point = tuple[float, float]


def shifted_values(name: str, values: Mapping[str, Any], by: Point) -> dict[str, Any]:
    """The values of an edit with its places moved by (dx, dy)."""
    params = find_edit(name).params
    shifts = {"x": by[0], "y": by[1]}
    out: dict[str, Any] = {}
    for key, value in values.items():
        axis = params[key].axis if key in params else ""
        if axis == "xy" and isinstance(value, tuple):
            out[key] = tuple((x + by[0], y + by[1]) for x, y in value)
        else:
            out[key] = value + shifts[axis] if axis in shifts and isinstance(value, int | float) else value
    return out


def in_board_frame(finding: Finding, origin: Point) -> Finding:
    """A finding made in the picture frame, with its places and those of its remedies told in the board frame."""
    dx, dy = origin
    remedies = tuple(_told(remedy, (-dx, -dy)) for remedy in finding.remedies)
    places = tuple((x - dx, y - dy) for x, y in finding.places)
    x = None if finding.x_mm is None else finding.x_mm - dx
    y = None if finding.y_mm is None else finding.y_mm - dy
    return replace(finding, x_mm=x, y_mm=y, places=places, remedies=remedies)


def all_in_board_frame(findings: Iterable[Finding], origin: Point) -> tuple[Finding, ...]:
    """Several of them."""
    return tuple(in_board_frame(finding, origin) for finding in findings)


def _told(remedy: Remedy, by: Point) -> Remedy:
    if remedy.edit is None:
        return remedy
    values = shifted_values(remedy.edit, dict(remedy.values), by)
    return Remedy(remedy.text, remedy.edit, tuple((key, _rounded(value)) for key, value in values.items()))


def _rounded(value: Any) -> Any:
    return round(value, 4) if isinstance(value, float) else value
