"""The sections of a project: frozen values, every length in mm in the picture frame.

The picture frame is fixed to the artwork's painted box: origin at its lower left corner, y up. A wider
border therefore moves nothing. The board frame (origin at the outline's lower left) is made by compile.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

import msgspec
from msgspec import Meta

from ..errors import Trouble
from .arrays import Along, Arc, Chain, Contour, Curve, Digits, Fill, Grid, Letters, Line, Ring, Single, Slots
from .driving import Drive
from .motion import Motion
from .section import BOARD_FILES, Angle, Appearance, BoardName, Colour, Place, Positive, Section, Side
from .wiring import Wiring


class Stack(Section, frozen=True):
    """What the board is made of."""

    thickness_mm: Positive = 1.6
    mask: str = "black"
    finish: str = "gold"
    ink: str = "white"


class Limits(Section, frozen=True):
    """The yardstick: what the board may measure and cost, how high parts may stand, when it must be here, how long it must
    run; None is no limit."""

    width_mm: Positive | None = None
    height_mm: Positive | None = None
    tall_mm: Positive | None = None
    each: Annotated[float, Meta(gt=0, le=1e6)] | None = None
    ready_by: Annotated[str, Meta(pattern=r"^\d{4}-\d{2}-\d{2}$")] | None = None
    run_time_h: Annotated[float, Meta(gt=0, le=1e5)] | None = None


class Brief(Section, frozen=True):
    """What is wanted: what for, where it is seen and how it is made; limits; stack, fabricator profile, number of pieces. A
    number display shows so many `digits`; 0 says nothing of it.

    `own_profile` holds the rules of a profile of one's own, as in its file; it is used while `profile` is its name.
    """

    stack: Stack = Stack()
    profile: str = "standard"
    own_profile: dict[str, Any] = {}
    pieces: Annotated[int, Meta(ge=1, le=100_000)] = 8
    purpose: Literal["badge", "sign", "number display", "wearable light", "edge-lit piece", "lantern", "other"] = "badge"
    place: Literal["worn", "desk", "wall", "outdoors"] = "worn"
    distance_m: Annotated[float, Meta(gt=0, le=100)] = 1.0
    digits: Annotated[int, Meta(ge=0, le=24)] = 0
    ambient: Literal["dark room", "desk", "shop", "sun"] = "desk"
    limits: Limits = Limits()
    tools: tuple[str, ...] = ("iron",)
    skill: Literal["first board", "some boards", "many boards"] = "some boards"


class Tones(Section, frozen=True):
    """How a picture of many colours becomes one of few (raster pictures, and gradients of drawings).

    `flat`: at most `colours` clusters; `threshold`: dark and light at `level`; `diffuse` and `screen`: dots of the
    board's own appearances, those in `palette` or all. `ground` is what happens to the colour it stands on.
    """

    how: Literal["flat", "threshold", "diffuse", "screen"] = "flat"
    colours: Annotated[int, Meta(ge=2, le=8)] = 5
    seed: Annotated[int, Meta(ge=0, le=9999)] = 1
    level: Annotated[float, Meta(ge=0, le=1)] = 0.5
    ground: Literal["keep", "outside", "everywhere"] = "keep"
    ground_colour: Colour | None = None
    ground_spread: Annotated[float, Meta(ge=0, le=60)] = 12.0
    smooth_mm: Annotated[float, Meta(ge=0, le=2)] = 0.0
    smallest_mm: Annotated[float, Meta(ge=0, le=5)] = 0.15
    deviation_mm: Annotated[float, Meta(ge=0.005, le=0.5)] = 0.02
    palette: tuple[Appearance, ...] = ()
    dot_mm: Annotated[float, Meta(ge=0.05, le=5)] | None = None
    kernel: Literal["near", "wide", "crisp"] = "near"
    screen: Literal["dot", "line"] = "dot"
    ruling_per_cm: Annotated[float, Meta(ge=1, le=60)] | None = None
    screen_deg: Angle = 45.0
    steps: Annotated[int, Meta(ge=2, le=64)] = 8


class Picture(Section, frozen=True):
    """An original picture: its member in the project file, the name it came under, and where it lies.

    `width_mm` is the width of what it paints, unturned. Without a place the first picture's painted box begins at
    the origin of the picture frame, which it defines; a place is that of the box's middle. In the role of the
    outline it paints nothing: what it would paint is the board.
    """

    member: str
    name: str
    width_mm: Positive = 60.0
    x_mm: Place | None = None
    y_mm: Place | None = None
    angle_deg: Angle = 0.0
    flipped: bool = False
    side: Side = "front"
    role: Literal["art", "outline"] = "art"
    tones: Tones = Tones()


class Words(Section, frozen=True):
    """Words added to the board: `height_mm` is that of its capitals, the place the middle of its baseline.

    Over or under a circle about (x, y) they are read clockwise over its top, or inside it under its bottom. On the edge
    they follow that of the board before its border, or of a colour (`path`: board, RRGGBB), `inset_mm` in from it,
    about a share of its length clockwise from the top; inward their heads are towards the middle.
    """

    text: Annotated[str, Meta(min_length=1, max_length=200)]
    x_mm: Place
    y_mm: Place
    height_mm: Annotated[float, Meta(ge=0.3, le=200)] = 3.0
    angle_deg: Angle = 0.0
    side: Side = "front"
    appearance: Appearance = "ink"
    weight: Literal["regular", "semibold", "bold"] = "semibold"
    bend: Literal["straight", "over", "under", "edge", "edge-inward"] = "straight"
    radius_mm: Positive = 20.0
    inset_mm: Annotated[float, Meta(ge=-50, le=200)] = 2.0
    share: Annotated[float, Meta(ge=0, le=1)] = 0.0
    path: Annotated[str, Meta(pattern="^(board|[0-9A-F]{6})$")] = "board"


class Mend(Section, frozen=True):
    """What is done about features that are too small: all of a kind on a side, or those within `reach_mm` of a place.

    `raise` lays copper under ink that crosses a copper edge, `lower` takes it away there. What is accepted stays as it
    is: findings of the code `finding`, or all that are about the appearance.
    """

    how: Literal["thicken", "bridge", "smooth", "drop", "become", "raise", "lower", "accept"]
    appearance: Appearance
    width_mm: Annotated[float, Meta(gt=0, le=5)]
    side: Side = "front"
    becomes: Appearance = "mask"
    finding: str = ""
    x_mm: Place | None = None
    y_mm: Place | None = None
    reach_mm: Positive = 2.0


class Clean(Section, frozen=True):
    """The art is brought to the fabricator's rules. `keep`: how much of what is too thin is kept and made thicker; at 0
    all of it is given up, at 1 all of it is kept, and at a half whichever changes less is done."""

    keep: Annotated[float, Meta(ge=0, le=1)] = 0.5


class Artwork(Section, frozen=True):
    """The pictures, the appearances chosen by hand (colour -> appearance), words, and what was done about small features.

    `clean` is done last, for every rule at once, and follows when rules or pictures change.
    """

    pictures: tuple[Picture, ...] = ()
    chosen: dict[Colour, Appearance] = {}
    edged_by: Literal["mask", "copper"] = "mask"
    words: tuple[Words, ...] = ()
    mends: tuple[Mend, ...] = ()
    clean: Clean | None = None


class Hole(Section, frozen=True):
    """A hanging hole; without a place it finds its own."""

    diameter_mm: Positive = 2.5
    x_mm: Place | None = None
    y_mm: Place | None = None


FeatureKind = Literal["hole", "keyring", "screw", "sew", "slot", "notch", "opening", "pin-pad", "magnet-pad", "edge-pad"]


class Feature(Section, frozen=True):
    """Something fixed to the board: holes, slots, cuts, pads. By hand at a place, or by rule `count` times along the edge.

    `size_mm` is a diameter or a width; sizes of None are the usual ones. `inset_mm` is how far in from the edge a rule
    sets them, `start` where on it the first one stands (a share, clockwise from the top). Sewing holes for conductive
    `thread` are plated pads; for plain thread they are bare holes.
    """

    kind: FeatureKind
    x_mm: Place = 0.0
    y_mm: Place = 0.0
    angle_deg: Angle = 0.0
    size_mm: Positive | None = None
    length_mm: Positive | None = None
    screw: Literal["M1.6", "M2", "M2.5", "M3", "M4"] = "M3"
    thread: Literal["conductive", "plain"] = "conductive"
    count: Annotated[int, Meta(ge=1, le=200)] = 1
    along: bool = False
    inset_mm: Positive = 2.5
    start: Annotated[float, Meta(ge=0, le=1)] = 0.0


class Island(Section, frozen=True):
    """What is done about a piece that hangs on nothing, known by a place on it.

    `tabs`: `count` bridges as wide as the narrowest neck hold it; `keep`: the cut round it is not made; `drop`: it is cut
    out whole.
    """

    x_mm: Place
    y_mm: Place
    how: Literal["tabs", "keep", "drop"] = "tabs"
    count: Annotated[int, Meta(ge=1, le=12)] = 3


class Shape(Section, frozen=True):
    """How the board's edge comes about.

    `base`: the pictures' silhouette, the layer called outline (or pictures laid as one), one colour, or a form of
    `width_mm` x `height_mm` about (x, y), the middle of the picture unless told; `with_picture` joins the silhouette to it.
    `drawn` is an outline taken from elsewhere at its true size, kept in a member of the file.
    """

    base: Literal[
        "silhouette", "outline", "colour", "drawn", "circle", "rectangle", "polygon", "star", "shield", "capsule", "kite"
    ] = "silhouette"
    drawn: str = ""
    colour: Colour | None = None
    width_mm: Positive = 50.0
    height_mm: Positive = 50.0
    points: Annotated[int, Meta(ge=3, le=24)] = 5
    depth: Annotated[float, Meta(ge=0.05, le=0.95)] = 0.5
    corner_mm: Annotated[float, Meta(ge=0, le=200)] = 0.0
    x_mm: Place | None = None
    y_mm: Place | None = None
    angle_deg: Angle = 0.0
    with_picture: bool = False
    smooth_mm: Annotated[float, Meta(ge=0, le=20)] = 0.0
    features: tuple[Feature, ...] = ()
    copper_to_edge: bool = False
    border_mm: Annotated[float, Meta(ge=0, le=50)] = 1.6
    keep_holes: bool = False
    hole: Hole | None = None
    islands: tuple[Island, ...] = ()


class Design(Section, frozen=True):
    """One board of the project. A `stack` of its own takes the place of the brief's; `numbered` is the highest number that any
    of its LEDs ever had."""

    name: BoardName = "main"
    artwork: Artwork = Artwork()
    shape: Shape = Shape()
    lights: tuple[Ring | Arc | Grid | Line | Curve | Along | Contour | Fill | Digits | Letters | Slots | Single, ...] = ()
    chain: Chain = Chain()
    numbered: Annotated[int, Meta(ge=0, le=1_000_000)] = 0
    drive: Drive = Drive()
    wiring: Wiring = Wiring()
    stack: Stack | None = None

    @property
    def files(self) -> frozenset[str]:
        """The members of the project's file that this board is made from."""
        return frozenset({picture.member for picture in self.artwork.pictures} | ({self.shape.drawn} - {""}))


class Passport(Section, frozen=True):
    """What the real part said of a part of one's own: how its drawing lies against it, and what a meter told."""

    pin1: Literal["", "as drawn", "turned", "mirrored"] = ""
    common: str = ""
    closes: str = ""


class Project(Section, frozen=True):
    """Everything a user made. `edited` is the UTC time of the last edit, the date every file carries.

    `members` holds the original pictures, and outlines taken from elsewhere, by member name; they are stored beside
    the JSON, untouched.
    """

    name: str
    edited: str
    brief: Brief = Brief()
    designs: tuple[Design, ...] = (Design(),)
    motion: Motion = Motion()
    passports: dict[str, Passport] = {}
    members: dict[str, bytes] = {}

    def __repr__(self) -> str:
        return f"<Project {self.name!r}, edited {self.edited}>"

    def board(self, name: str | None = None) -> Design:
        """The board of that name, the first one unless named; `Trouble` if there is none."""
        if name is None:
            return self.designs[0]
        known = {design.name: design for design in self.designs}
        if name not in known:
            raise Trouble(f"There is no board “{name}”; there {_are(tuple(known))}.")
        return known[name]

    def title_of(self, design: Design) -> str:
        """What a board is called where it stands alone: on its legend, on its files."""
        return self.name if len(self.designs) == 1 else f"{self.name} {design.name}"

    def brief_of(self, design: Design) -> Brief:
        """The brief as it is for one board: with its stack."""
        return self.brief if design.stack is None else msgspec.structs.replace(self.brief, stack=design.stack)

    def with_board(self, before: Design, after: Design, files: Mapping[str, bytes] | None = None) -> Project:
        """The project with a board in the place of one of its boards, and the files the new one brings."""
        at = next(place for place, one in enumerate(self.designs) if one is before)
        return self.with_boards((*self.designs[:at], after, *self.designs[at + 1 :]), files)

    def with_boards(self, designs: tuple[Design, ...], files: Mapping[str, bytes] | None = None) -> Project:
        """The project with other boards. Files that no board is made from any more go: a file keeps what can be seen in it."""
        members = {**self.members, **files} if files else self.members
        used = frozenset().union(*(design.files for design in designs))
        unused = {name for name in members if name.startswith(BOARD_FILES) and name not in used}
        if unused:
            members = {name: data for name, data in members.items() if name not in unused}
        return msgspec.structs.replace(self, designs=designs, members=members)


def _are(names: tuple[str, ...]) -> str:
    """“is moth”, “are lid, base”."""
    return f"{'is' if len(names) == 1 else 'are'} {', '.join(names)}"
