"""Single LEDs."""

from __future__ import annotations

from ...project import Single
from .drawing import where_it_ends
from .kind import MIDDLE, PLACED, TURNED, Kind, LightPaths, Spot, in_the_middle, middle_handle


def single_spots(array: Single, paths: LightPaths | None = None) -> list[Spot]:
    """The one place."""
    return [(array.x_mm, array.y_mm, array.angle_deg)]


SINGLE = Kind(
    Single,
    "single",
    "A single LED",
    "LED “{array}”",
    "One LED.",
    {**TURNED, **MIDDLE},
    PLACED,
    single_spots,
    middle_handle,
    in_the_middle,
    drawn=where_it_ends,
)
