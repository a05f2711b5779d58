"""The Board: what every view and every file is a reading of. Board frame: mm, x right, y up, seen from the front."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..colour import Materials
from ..drive.plan import DrivePlan
from ..geometry.regions import EMPTY
from ..parts import PlacedPad, PlacedPart, Profile
from ..parts.nets import Net
from ..project import Stack
from ..shape import RoundHole

#: The physical layers from the front to the back, as the leaves show them. Mask layers hold their openings.
LAYERS = (
    "front paste",
    "front legend",
    "front mask",
    "front copper",
    "core",
    "back copper",
    "back mask",
    "back legend",
    "back paste",
    "drills",
)


@dataclass(frozen=True)
class LightSpot:
    """An LED as light: place, side, colour (sRGB hex), and its intensity in mcd when fully on."""

    index: int
    x: float
    y: float
    side: str
    group: str
    emitter: str
    angle_deg: float
    colour: str
    mcd: float
    current_a: float
    behind: bool


@dataclass(frozen=True, eq=False)
class Board:
    """Outline, holes, layers (pads included), art of the copper without pads, pads, parts, lights, stack."""

    name: str
    size: tuple[float, float]
    origin: tuple[float, float]
    outline: Polygon
    holes: tuple[RoundHole, ...]
    layers: Mapping[str, BaseGeometry]
    art_copper: Mapping[str, BaseGeometry]
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
    #: What its copper joins; none before it is wired.
    nets: tuple[Net, ...] = ()

    @property
    def made_layers(self) -> tuple[str, ...]:
        """The layers that this fabricator makes: no mask where there is none, no legend where nothing is printed."""
        lacking = {kind for kind, made in (("mask", self.profile.has_mask), ("legend", self.profile.has_legend)) if not made}
        return tuple(name for name in LAYERS if name.split(" ")[-1] not in lacking)

    def layer(self, name: str) -> BaseGeometry:
        """The region of a layer, empty if nothing is on it."""
        return self.layers.get(name, EMPTY)
