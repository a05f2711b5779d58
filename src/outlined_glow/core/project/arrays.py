"""The arrays of LEDs as they are kept; what they do is in `lights/kinds`."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .section import Angle, Count, Place, Positive, Section

#: Along a line round the largest board.
Course = Annotated[float, Meta(gt=0, le=2000)]
PlaceNumber = Annotated[int, Meta(ge=1, le=20_000)]


class Change(Section, frozen=True):
    """What one LED of an array has of its own: left out, moved, turned, another emitter, groups
    beside that of its array. Its number stays."""

    place: PlaceNumber
    skipped: bool = False
    dx_mm: Place = 0.0
    dy_mm: Place = 0.0
    turn_deg: Angle = 0.0
    emitter: str = ""
    groups: tuple[str, ...] = ()


class Array(Section, frozen=True, kw_only=True):
    """What every array of LEDs has. `groups` names shares of equal length along the array.

    LEDs lie along the array, face outward from it, or all the same way; `turn_deg` turns each of them beyond that. All of
    it may be mirrored across the picture's middle, and laid so many times evenly round it (`copies`). They lie on the
    side that is usual for their kind, or on the one that is told. `changes` says what single LEDs have of their own, by
    their place in the array; `numbers` are those of its places, as runs of a first number and how many. What is `locked`
    is not edited.
    """

    name: str
    emitter: str = "0805 amber"
    groups: tuple[str, ...] = ()
    mirrored: bool = False
    copies: Annotated[int, Meta(ge=1, le=64)] = 1
    facing: Literal["along", "outward", "alike"] = "along"
    turn_deg: Angle = 0.0
    side: Literal["usual", "front", "back"] = "usual"
    locked: bool = False
    changes: tuple[Change, ...] = ()
    numbers: tuple[tuple[PlaceNumber, PlaceNumber], ...] = ()

    @property
    def asked(self) -> int:
        """How many LEDs it asks for, mirrored ones and copies left out."""
        return getattr(self, "count", 1)


class Ring(Array, frozen=True, tag="ring", kw_only=True):
    """LEDs on a circle, or on several circles `step_mm` apart, the innermost of which has that diameter."""

    x_mm: Place
    y_mm: Place
    diameter_mm: Positive = 30.0
    count: Count = 12
    start_deg: Angle = 90.0
    direction: Literal["clockwise", "counter-clockwise"] = "clockwise"
    rings: Count = 1
    step_mm: Positive = 6.0

    @property
    def asked(self) -> int:
        return self.rings * self.count


class Grid(Array, frozen=True, tag="grid", kw_only=True):
    """LEDs in rows and columns about a middle; staggered, every other row is moved by half a step."""

    x_mm: Place
    y_mm: Place
    rows: Count = 3
    columns: Count = 4
    pitch_x_mm: Positive = 6.0
    pitch_y_mm: Positive = 6.0
    staggered: bool = False
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


class Spaced(Array, frozen=True, kw_only=True):
    """LEDs at equal steps: two of number, pitch and length, or one of the first two and the whole course."""

    count: Count | None = 8
    pitch_mm: Positive | None = None
    length_mm: Course | None = None

    @property
    def asked(self) -> int:
        if self.count is not None:
            return self.count
        return int((self.length_mm or 0.0) / (self.pitch_mm or 1.0)) + 1


class Line(Spaced, frozen=True, tag="line", kw_only=True):
    """LEDs on a straight line about its middle."""

    x_mm: Place
    y_mm: Place
    angle_deg: Angle = 0.0
    length_mm: Course | None = 30.0


class Arc(Spaced, frozen=True, tag="arc", kw_only=True):
    """LEDs on a part of a circle."""

    x_mm: Place
    y_mm: Place
    diameter_mm: Positive = 30.0
    start_deg: Angle = 180.0
    sweep_deg: Annotated[float, Meta(gt=0, le=360)] = 180.0
    direction: Literal["clockwise", "counter-clockwise"] = "clockwise"


class Curve(Spaced, frozen=True, tag="curve", kw_only=True):
    """LEDs on a line through points, bent through them or straight from one to the next."""

    points: Annotated[tuple[tuple[Place, Place], ...], Meta(min_length=2, max_length=200)]
    bent: bool = True
    closed: bool = False


Path = Annotated[str, Meta(pattern="^(silhouette|board|[0-9A-F]{6})$")]


class Contour(Spaced, frozen=True, tag="contour", kw_only=True):
    """LEDs along a contour, set in from it. `start` and `end` are shares of its length, clockwise from its top."""

    path: Path = "board"
    inset_mm: Positive = 3.0
    start: Annotated[float, Meta(ge=0, le=1)] = 0.0
    end: Annotated[float, Meta(ge=0, le=1)] = 1.0


class Fill(Array, frozen=True, tag="fill", kw_only=True):
    """LEDs all over a region, at least `inset_mm` from its edge."""

    path: Path = "board"
    layout: Literal["squares", "honeycomb", "scattered"] = "honeycomb"
    pitch_mm: Positive = 8.0
    inset_mm: Positive = 3.0
    angle_deg: Angle = 0.0
    seed: Annotated[int, Meta(ge=1, le=9999)] = 1


class Digits(Array, frozen=True, tag="digits", kw_only=True):
    """Digits of so many LEDs a segment, about the middle of them all; `slant_deg` leans them to the right."""

    x_mm: Place
    y_mm: Place
    digits: Annotated[int, Meta(ge=1, le=24)] = 4
    segments: Literal["7", "14"] = "7"
    per_segment: Count = 2
    height_mm: Positive = 20.0
    gap_mm: Positive = 6.0
    slant_deg: Annotated[float, Meta(ge=-20, le=20)] = 0.0
    angle_deg: Angle = 0.0

    @property
    def asked(self) -> int:
        return self.digits * int(self.segments) * self.per_segment


class Letters(Array, frozen=True, tag="letters", kw_only=True):
    """Words of LEDs on a square grid, about their middle."""

    x_mm: Place
    y_mm: Place
    text: Annotated[str, Meta(min_length=1, max_length=60)]
    height_mm: Positive = 20.0
    pitch_mm: Positive = 2.2
    angle_deg: Angle = 0.0


class Slots(Array, frozen=True, tag="slots", kw_only=True):
    """LEDs under slots. In a row the slots are `spacing_mm` apart; round a middle their middles are that far from it."""

    x_mm: Place
    y_mm: Place
    slots: Count = 4
    per_slot: Count = 5
    pitch_mm: Positive = 6.0
    layout: Literal["row", "round"] = "row"
    spacing_mm: Positive = 10.0
    angle_deg: Angle = 0.0

    @property
    def asked(self) -> int:
        return self.slots * self.per_slot


class Single(Array, frozen=True, tag="single", kw_only=True):
    """One LED."""

    x_mm: Place
    y_mm: Place
    angle_deg: Angle = 0.0


class Chain(Section, frozen=True):
    """In which order the LEDs of a board are chained; `turned`: from its other end. By hand: the numbers of `leds` in a row."""

    how: Literal["along", "rows", "serpentine", "columns", "spiral", "angle", "shortest", "hand"] = "along"
    turned: bool = False
    leds: tuple[PlaceNumber, ...] = ()
