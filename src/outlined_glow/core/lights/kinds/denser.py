"""The same ground with more LEDs on it."""

from __future__ import annotations

from typing import Any

from ...project import Array, Digits, Fill, Grid, Letters, Ring, Slots, Spaced
from .kind import Kind, LightPaths
from .spacing import steps_of

#: More LEDs in a row than this no edit takes, and a spacing finer than this neither, mm.
_MOST, _FINEST_MM = 1024, 0.2


def denser_array(array: Array, kind: Kind, times: float, paths: LightPaths) -> dict[str, Any] | None:
    """The values that lay LEDs about so many times as densely over the same ground; None for what cannot be denser."""
    if isinstance(array, Grid):
        rows, high = _more(array.rows, array.pitch_y_mm, times)
        columns, wide = _more(array.columns, array.pitch_x_mm, times)
        return _checked({"rows": rows, "pitch_y_mm": high, "columns": columns, "pitch_x_mm": wide})
    if isinstance(array, Slots):
        count, pitch = _more(array.per_slot, array.pitch_mm, times)
        return _checked({"per_slot": count, "pitch_mm": pitch})
    if isinstance(array, Fill | Letters):
        return _checked({"pitch_mm": round(array.pitch_mm / times, 2)})
    if isinstance(array, Ring):
        return _checked({"count": round(array.count * times)})
    if isinstance(array, Digits):
        return _checked({"per_segment": max(array.per_segment + 1, round(array.per_segment * times))})
    if isinstance(array, Spaced) and kind.course is not None:
        whole, closed = kind.course(array, paths)
        count, _, length = steps_of(array, whole, closed)
        steps = count if closed else count - 1
        values: dict[str, Any] = {"count": max(count + 1, round(steps * times) + (not closed))}
        return _checked({**values, "length_mm": round(length, 3)} if array.pitch_mm is not None else values)
    return None


def _more(count: int, pitch: float, times: float) -> tuple[int, float]:
    """So many times as many steps over the same length; one LED stays one."""
    if count < 2:
        return count, pitch
    steps = max(count, round((count - 1) * times))
    return steps + 1, round(pitch * (count - 1) / steps, 3)


def _checked(values: dict[str, Any]) -> dict[str, Any] | None:
    fine = min((value for key, value in values.items() if key.startswith("pitch")), default=1.0)
    many = max((value for value in values.values() if isinstance(value, int)), default=1)
    return values if fine >= _FINEST_MM and many <= _MOST else None
