"""The Board: what every view and every file is a reading of. Board frame: mm, x right, y up, seen from the front."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property

from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..colour import Materials
from ..drive.plan import DrivePlan
from ..geometry.regions import EMPTY, union
from ..parts import Emitter, PlacedPad, PlacedPart, Profile
from ..parts.nets import Net
from ..project import Stack
from ..shape import RoundHole
from ..wiring.copper import NO_WIRES, Wires


class Layer(str):
    """A physical layer: its side, "" for what is in the whole board, and its kind. As a text it is its name."""

    side: str
    kind: str

    def __new__(cls, side: str, kind: str) -> Layer:
        one = super().__new__(cls, f"{side} {kind}".strip())
        one.side, one.kind = side, kind
        return one

    def __getnewargs__(self) -> tuple[str, str]:  # type: ignore[override]
        return self.side, self.kind


#: What lies on either side, from the outside in.
_ON_A_SIDE = ("paste", "legend", "mask", "copper")
#: The physical layers from the front to the back, as the leaves show them. Mask layers hold their openings.
LAYERS = (
    *(Layer("front", kind) for kind in _ON_A_SIDE),
    Layer("", "core"),
    *(Layer("back", kind) for kind in reversed(_ON_A_SIDE)),
    Layer("", "drills"),
)
#: Whose copper is that is no part's: that of the art, of tracks and vias, of teardrops, of pours.
ART, TRACK, TEAR, POUR = "art", "track", "teardrop", "pour"


@dataclass(frozen=True, eq=False)
class Copper:
    """A piece of copper: its side, whose it is (`ART`, `TRACK`, `TEAR`, `POUR`, or the reference of a part), its net ("" for
    none), its region."""

    side: str
    owner: str
    net: str
    region: BaseGeometry


def copper_of(pieces: Iterable[Copper], side: str, owner: str = ART) -> BaseGeometry:
    """The copper of one owner on a side."""
    return union([one.region for one in pieces if one.side == side and one.owner == owner])


@dataclass(frozen=True)
class LightSpot:
    """A point that an LED shines from: which of its lights it belongs to ("" for the only one), place, side, colour (sRGB
    hex), and its intensity in mcd when fully on. A light that is a bar has several points."""

    index: int
    light: str
    x: float
    y: float
    side: str
    group: str
    kind: Emitter
    angle_deg: float
    colour: str
    mcd: float
    current_a: float
    behind: bool

    @property
    def emitter(self) -> str:
        """The name of what it is."""
        return self.kind.name

    @property
    def shines_to(self) -> str:
        """The side that it lights: the other one from behind a window."""
        return self.side if not self.behind else "front" if self.side == "back" else "back"


@dataclass(frozen=True, eq=False)
class Board:
    """Outline, holes, layers, the copper piece by piece, pads, parts, lights, stack."""

    name: str
    size: tuple[float, float]
    origin: tuple[float, float]
    outline: Polygon
    holes: tuple[RoundHole, ...]
    layers: Mapping[Layer, BaseGeometry]
    copper: tuple[Copper, ...]
    openings_without_pads: Mapping[str, BaseGeometry]
    pads: tuple[PlacedPad, ...]
    parts: tuple[PlacedPart, ...]
    lights: tuple[LightSpot, ...]
    windows: BaseGeometry
    veiled: BaseGeometry
    stack: Stack
    profile: Profile
    materials: Materials
    drive: DrivePlan
    #: Copper goes over the edge on purpose, which costs extra.
    edge_copper: bool = False
    #: What its copper is to join.
    nets: tuple[Net, ...] = ()
    #: The tracks and vias that do it; none before it is wired.
    wires: Wires = NO_WIRES

    @cached_property
    def led_indices(self) -> tuple[int, ...]:
        """The index of every LED, in the order of the board."""
        return tuple(dict.fromkeys(spot.index for spot in self.lights))

    @cached_property
    def channels(self) -> tuple[int, ...]:
        """Which of its LED's lights each point belongs to, from 0, in the order in which they come."""
        known: dict[int, list[str]] = {}
        out = []
        for spot in self.lights:
            names = known.setdefault(spot.index, [])
            if spot.light not in names:
                names.append(spot.light)
            out.append(names.index(spot.light))
        return tuple(out)

    @property
    def made_layers(self) -> tuple[Layer, ...]:
        """The layers that this fabricator makes: no mask where there is none, no legend where nothing is printed."""
        lacking = {kind for kind, made in (("mask", self.profile.has_mask), ("legend", self.profile.has_legend)) if not made}
        return tuple(layer for layer in LAYERS if layer.kind not in lacking)

    def layer(self, name: str) -> BaseGeometry:
        """The region of a layer, empty if nothing is on it."""
        return self.layers.get(name, EMPTY)  # type: ignore[call-overload,no-any-return]

    def art_copper(self, side: str) -> BaseGeometry:
        """The copper of a side's art, without the lands of parts."""
        return copper_of(self.copper, side)
