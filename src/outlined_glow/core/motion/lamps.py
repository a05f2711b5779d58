"""The table of LEDs that a motion plays on: places, groups, colours, currents, and their order in the chain."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import TYPE_CHECKING, Any

import numpy as np
import shapely
from numpy.typing import NDArray

from ..colour.difference import hex_to_rgb
from ..geometry.prepared import prepared
from ..geometry.valid import shifted
from ..project import Glyph, OwnPattern

if TYPE_CHECKING:
    from ..artwork.appearance import Chosen
    from ..board.model import LightSpot
    from ..lights import Led
    from ..shape import Outline

Numbers = NDArray[np.float64]
#: What a light of an LED with several is for.
NOTHING, RED, GREEN, BLUE, WHITE, ANY = range(6)
#: A colour whose lowest part is at least so much of its highest is taken for white.
_PALE = 0.55


@dataclass(frozen=True, eq=False)
class Lamps:
    """LEDs in the order of the board, n of them, with up to c lights each.

    `places` (n, 2) in mm of the board frame; `groups` the first group of each; `colours` (n, 3) sRGB 0..255, all its lights
    mixed; `shades` (n, c, 3) those of each light; `currents` (n, c) fully on, A; `kinds` (n, c) what each light is for; `chain`
    (n,) the position of each in the chain, from 0; their indices; every group, array and region of the picture of each.
    """

    places: Numbers
    groups: tuple[str, ...]
    colours: Numbers
    shades: Numbers
    currents: Numbers
    kinds: NDArray[np.intp]
    chain: NDArray[np.intp]
    indices: tuple[int, ...] = ()
    all_groups: tuple[tuple[str, ...], ...] = ()
    arrays: tuple[str, ...] = ()
    regions: tuple[str, ...] = ()
    #: The names of the lights of each, and where those are (n, c, 2), mm.
    light_names: tuple[tuple[str, ...], ...] = ()
    light_places: Numbers = field(default_factory=lambda: np.zeros((0, 1, 2)))
    #: The name of their board, and the films there are: the name of each file and its bytes.
    board: str = ""
    films: tuple[tuple[str, bytes], ...] = ()
    #: The edge of the board, anticlockwise from its highest point; None where there is no board.
    edge: shapely.LinearRing | None = None
    #: Patterns of the project's own.
    patterns: tuple[OwnPattern, ...] = ()
    #: Letters that were painted.
    glyphs: tuple[Glyph, ...] = ()

    @property
    def count(self) -> int:
        """How many there are."""
        return len(self.groups)

    @property
    def channels(self) -> int:
        """How many lights the LED with most of them has."""
        return int(self.kinds.shape[1])

    @property
    def edge_mm(self) -> float:
        """How long the edge of the board is, mm."""
        return 0.0 if self.edge is None else float(self.edge.length)

    @cached_property
    def group_numbers(self) -> Numbers:
        """The number of the group of each (n,), from 0, as they first appear."""
        rank = {name: at for at, name in enumerate(dict.fromkeys(self.groups))}
        return np.array([rank[name] for name in self.groups], float)

    @cached_property
    def full_a(self) -> float:
        """The current of all of them fully on, A."""
        return float(self.currents.sum())

    def by_group(self) -> tuple[tuple[str, ...], NDArray[np.intp]]:
        """The names of the groups as they first appear, and the LEDs (n,) group after group, each in the order of the board."""
        names = tuple(dict.fromkeys(self.groups))
        rank = {name: at for at, name in enumerate(names)}
        return names, np.argsort([rank[name] for name in self.groups], kind="stable")


def lights_of(lamps: Lamps, rows: NDArray[np.intp]) -> int:
    """How many lights some LEDs have."""
    return int((lamps.kinds[rows] > 0).sum())


def plain_lamps(places: Numbers, groups: Sequence[str]) -> Lamps:
    """White LEDs with one light each, chained as they come."""
    count = len(groups)
    white = np.full((count, 3), 255.0)
    return Lamps(
        places, tuple(groups), white, white[:, None], np.ones((count, 1)), np.full((count, 1), ANY), np.arange(count),
        tuple(range(1, count + 1)), tuple((one,) for one in groups), ("",) * count, ("",) * count,
        (("",),) * count, places[:, None],
    )  # fmt: skip


def lamps_of(
    lights: tuple[LightSpot, ...],
    chain: tuple[int, ...],
    leds: tuple[Led, ...] = (),
    regions: tuple[str, ...] = (),
    board: str = "",
    films: tuple[tuple[str, bytes], ...] = (),
    outline: Outline | None = None,
    patterns: tuple[OwnPattern, ...] = (),
    glyphs: tuple[Glyph, ...] = (),
) -> Lamps:
    """The table of a board's LEDs; `chain` has their indices in the order in which they are chained, `regions` the colour of
    the picture that each of the `leds` lies on."""
    position = {index: at for at, index in enumerate(chain)}
    known = {led.index: (led, region) for led, region in zip(leds, regions or ("",) * len(leds), strict=True)}
    first: dict[int, LightSpot] = {}
    for spot in lights:
        first.setdefault(spot.index, spot)
    at = _Lights.of(lights)
    mixed = np.stack([np.bincount(at.rows, at.weights * at.own[:, part], at.count) for part in range(3)], axis=1)
    points = np.bincount(at.rows, minlength=at.count)[:, None]
    spots, many = at.table(2), at.table(1)
    np.add.at(spots, (at.rows, at.channel), at.where)
    np.add.at(many, (at.rows, at.channel), 1.0)
    currents = at.table(1)[..., 0]
    np.add.at(currents, (at.rows, at.channel), [spot.current_a for spot in lights])
    shades = at.table(3)
    shades[at.rows, at.channel] = at.own
    return Lamps(
        places=np.stack([np.bincount(at.rows, at.where[:, axis], at.count) for axis in range(2)], axis=1) / points,
        groups=tuple(spot.group for spot in first.values()),
        colours=mixed / np.bincount(at.rows, at.weights, at.count)[:, None],
        shades=shades,
        currents=currents,
        kinds=_kinds(at.names, shades),
        chain=np.array([position[index] for index in first], np.intp),
        indices=tuple(first),
        all_groups=tuple(known[one][0].groups if one in known else (first[one].group,) for one in first),
        arrays=tuple(known[one][0].array if one in known else "" for one in first),
        regions=tuple(known[one][1] if one in known else "" for one in first),
        light_names=at.names,
        light_places=spots / np.maximum(many, 1.0),
        board=board,
        films=films,
        edge=None if outline is None else _edge_of(outline),
        patterns=patterns,
        glyphs=glyphs,
    )


@dataclass(frozen=True)
class _Lights:
    """The points of light (n,) of a board: the row of the LED of each and which of its lights it is, how much each weighs, its
    colour (n, 3) and place (n, 2), mm; and the names of the lights of each LED."""

    rows: NDArray[np.intp]
    channel: NDArray[np.intp]
    weights: Numbers
    own: Numbers
    where: Numbers
    names: tuple[tuple[str, ...], ...]

    @classmethod
    def of(cls, lights: tuple[LightSpot, ...]) -> _Lights:
        """Those of a board."""
        of_led: dict[int, dict[str, int]] = {}
        for spot in lights:
            names = of_led.setdefault(spot.index, {})
            names.setdefault(spot.light, len(names))
        row = {index: at for at, index in enumerate(of_led)}
        return cls(
            np.array([row[spot.index] for spot in lights], np.intp),
            np.array([of_led[spot.index][spot.light] for spot in lights], np.intp),
            np.array([spot.mcd for spot in lights], float) + 1e-9,
            np.array([hex_to_rgb(spot.colour) for spot in lights], float).reshape(-1, 3),
            np.array([(spot.x, spot.y) for spot in lights], float).reshape(-1, 2),
            tuple(tuple(names) for names in of_led.values()),
        )

    @property
    def count(self) -> int:
        """How many LEDs there are."""
        return len(self.names)

    def table(self, wide: int) -> Numbers:
        """Room for so many numbers of each light of each LED: (LEDs, lights, wide)."""
        return np.zeros((self.count, max((len(names) for names in self.names), default=1), wide))


def _kinds(names: tuple[tuple[str, ...], ...], shades: Numbers) -> NDArray[np.intp]:
    """What each light (LEDs, lights) is for."""
    kinds = np.zeros(shades.shape[:2], np.intp)
    for at, some in enumerate(names):
        kinds[at, : len(some)] = [ANY] if len(some) == 1 else [_kind(shades[at, one]) for one in range(len(some))]
    return kinds


def _edge_of(outline: Outline) -> shapely.LinearRing:
    """The edge of a board in its own frame, anticlockwise from its highest point."""
    region = shifted(outline.region, -outline.origin[0], -outline.origin[1])
    largest: Any = max(getattr(region, "geoms", (region,)), key=lambda part: part.area)
    corners = shapely.get_coordinates(shapely.geometry.polygon.orient(largest).exterior)[:-1]
    return shapely.LinearRing(np.roll(corners, -int(np.argmax(corners[:, 1])), axis=0))


def regions_of(leds: tuple[Led, ...], chosen: Sequence[Chosen]) -> tuple[str, ...]:
    """The colour of the picture that each LED lies on, "" where it lies on none."""
    x, y = (np.array([getattr(led, axis) for led in leds], float) for axis in ("x", "y"))
    out = np.full(len(leds), "", dtype="U6")
    for one in chosen:
        if len(leds) and not one.region.is_empty:
            out[shapely.contains_xy(prepared(one.region), x, y) & (out == "")] = one.colour
    return tuple(out.tolist())


def _kind(shade: Numbers) -> int:
    """What a light of that colour (sRGB 0..255) is for, among several."""
    if shade.min() >= _PALE * max(shade.max(), 1.0):
        return WHITE
    return (RED, GREEN, BLUE)[int(np.argmax(shade))]
