"""The arrays of LEDs as they are kept; what they do is in `lights/kinds.py`."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .section import Angle, Count, Place, Positive, Section


class Array(Section, frozen=True, kw_only=True):
    """What every array of LEDs has. `groups` names shares of equal length along the array."""

    name: str
    emitter: str = "0805 amber"
    groups: tuple[str, ...] = ()
    mirrored: bool = False

    @property
    def asked(self) -> int:
        """How many LEDs it asks for, mirrored ones left out."""
        return getattr(self, "count", 1)


class Ring(Array, frozen=True, tag="ring", kw_only=True):
    """LEDs on a circle."""

    x_mm: Place
    y_mm: Place
    diameter_mm: Positive = 30.0
    count: Count = 12
    start_deg: Angle = 90.0
    direction: Literal["clockwise", "counter-clockwise"] = "clockwise"


class Grid(Array, frozen=True, tag="grid", kw_only=True):
    """LEDs in rows and columns about a middle."""

    x_mm: Place
    y_mm: Place
    rows: Count = 3
    columns: Count = 4
    pitch_x_mm: Positive = 6.0
    pitch_y_mm: Positive = 6.0
    angle_deg: Angle = 0.0

    @property
    def asked(self) -> int:
        return self.rows * self.columns


class Along(Array, frozen=True, tag="along", kw_only=True):
    """LEDs at equal steps along the silhouette, set in from its edge.

    `start` and `end` are shares of the contour's length, clockwise from its top on the picture's middle.
    """

    count: Count = 8
    inset_mm: Positive = 2.35
    start: Annotated[float, Meta(ge=0, le=1)] = 0.1
    end: Annotated[float, Meta(ge=0, le=1)] = 0.4


class Single(Array, frozen=True, tag="single", kw_only=True):
    """One LED."""

    x_mm: Place
    y_mm: Place
    angle_deg: Angle = 0.0
