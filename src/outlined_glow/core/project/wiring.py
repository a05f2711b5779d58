"""How a board is wired, as a project keeps it: what is wished, and what was placed and drawn by hand."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .driving import NetName
from .section import Angle, Place, Section, Side

Front = Literal["clean", "few", "free"]
Style = Literal["straight", "rounded", "flowing"]


class PartPlace(Section, frozen=True):
    """Where a part of the drive was placed by hand, by its reference; one that is `locked` stays whatever comes."""

    part: Annotated[str, Meta(min_length=1, max_length=12)]
    x_mm: Place
    y_mm: Place
    angle_deg: Angle = 0.0
    side: Side = "back"
    locked: bool = False


class LabelPlace(Section, frozen=True):
    """Where the middle of the label of a part on the back was put by hand, by its reference; and whether it is printed."""

    part: Annotated[str, Meta(min_length=1, max_length=12)]
    x_mm: Place
    y_mm: Place
    upright: bool = False
    printed: bool = True


class DrawnTrack(Section, frozen=True):
    """A track that was drawn by hand."""

    net: NetName
    side: Side
    width_mm: Annotated[float, Meta(gt=0, le=20)]
    points: Annotated[tuple[tuple[Place, Place], ...], Meta(min_length=2, max_length=2000)]


class Pour(Section, frozen=True):
    """Copper of a net wherever there is room on a side: solid, or hatched; it keeps off raised art or joins it; where the other
    side has it too, vias so far apart join both (0: none)."""

    net: NetName
    side: Side
    style: Literal["solid", "hatched"] = "solid"
    vias_mm: Annotated[float, Meta(ge=0, le=100)] = 0.0
    art: Literal["leave", "join"] = "leave"


class Anew(Section, frozen=True):
    """How often the tracks of a net were drawn from nothing."""

    net: NetName
    times: Annotated[int, Meta(ge=1, le=1_000_000)] = 1


class Lead(Section, frozen=True):
    """A lead that is soldered to a part and goes off the board: where to, how long, of which wire, the colours of its strands
    in the order of the pins, how it is held, and the connector at its other end."""

    part: Annotated[str, Meta(min_length=1, max_length=12)]
    to: Annotated[str, Meta(max_length=80)] = ""
    length_mm: Annotated[float, Meta(gt=0, le=100_000)] = 300.0
    wire: Annotated[str, Meta(min_length=1, max_length=40)] = "stranded 0.14"
    colours: Annotated[str, Meta(max_length=200)] = ""
    held: Literal["joints", "relief", "glue", "hole"] = "joints"
    connector: Annotated[str, Meta(max_length=40)] = "none"
    gender: Literal["plug", "socket"] = "plug"
    keyed: bool = False


class Area(Section, frozen=True):
    """A part of the board in which the tracks were drawn from nothing."""

    points: Annotated[tuple[tuple[Place, Place], ...], Meta(min_length=3, max_length=2000)]


class Wiring(Section, frozen=True):
    """The wiring of a board: whether tracks are made at all, for which nets (none named: all), how clean the front is kept,
    the style of the lines, whether tracks widen into pads and vias, the seed of whatever is left to chance; parts placed,
    tracks and pours drawn by hand; nets whose tracks are locked; nets and areas that were drawn from nothing; the leads."""

    made: bool = False
    nets: Annotated[tuple[NetName, ...], Meta(max_length=2000)] = ()
    front: Front = "few"
    style: Style = "straight"
    seed: Annotated[int, Meta(ge=0, le=1_000_000)] = 1
    places: Annotated[tuple[PartPlace, ...], Meta(max_length=2000)] = ()
    labels: Annotated[tuple[LabelPlace, ...], Meta(max_length=5000)] = ()
    tracks: Annotated[tuple[DrawnTrack, ...], Meta(max_length=20_000)] = ()
    pours: Annotated[tuple[Pour, ...], Meta(max_length=50)] = ()
    anew: Annotated[tuple[Anew, ...], Meta(max_length=20_000)] = ()
    areas: Annotated[tuple[Area, ...], Meta(max_length=2000)] = ()
    locked: Annotated[tuple[NetName, ...], Meta(max_length=2000)] = ()
    teardrops: bool = False
    leads: Annotated[tuple[Lead, ...], Meta(max_length=500)] = ()
