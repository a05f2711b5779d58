"""Where a part lies best for its tracks: nearest to the pins that its own are to be joined with."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ..parts import Part, PlacedPart
from ..parts.nets import Net
from .before import Frame

#: How much the way to a net counts that every part hangs on, beside one of its own.
_COMMON = 0.15
#: Of a net with more pins than this, so many stand for all.
_MOST_PINS = 12
#: So many of many places are put in order at first.
_IN_A_ROW = 1000
_ANGLES = (0.0, 90.0, 180.0, 270.0)


@dataclass
class Pins:
    """The pins that lie on the board already, by net; and what each pin of a part belongs to."""

    nets: Sequence[Net]
    _places: dict[str, list[tuple[float, float]]] = field(default_factory=dict)
    _kinds: dict[str, str] = field(default_factory=dict)
    _of_pin: dict[tuple[str, str], str] = field(default_factory=dict)
    #: Supply pins of chips, with how many capacitors lie beside each.
    _fed: dict[tuple[str, float, float], int] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for net in self.nets:
            self._kinds[net.name] = net.kind
            self._of_pin.update(dict.fromkeys(net.pins, net.name))

    def add(self, one: PlacedPart) -> None:
        """One more part lies there."""
        for pin in {pad.pin: pad for pad in one.pads()}.values():
            net = self._of_pin.get((one.ref, pin.pin))
            if net is None:
                continue
            self._places.setdefault(net, []).append((pin.x, pin.y))
            if self._kinds[net] == "supply" and len(one.part.pins) > 4:
                self._fed.setdefault((net, pin.x, pin.y), 0)

    def add_all(self, some: Iterable[PlacedPart]) -> None:
        """So do these."""
        for one in some:
            self.add(one)

    def pulls(self, ref: str, part: Part) -> list[Pull]:
        """What draws each pin of a part."""
        beside = self._beside_chip(ref, part)
        if beside is not None:
            return [beside]
        out = []
        for pad in {pad.pin: pad for pad in part.pads}.values():
            net = self._of_pin.get((ref, pad.pin))
            places = self._places.get(net or "", [])
            if net is not None and places:
                step = math.ceil(len(places) / _MOST_PINS)
                common = self._kinds[net] in ("supply", "ground")
                out.append(Pull(pad.x_mm, pad.y_mm, _COMMON if common else 1.0, tuple(places[::step])))
        return out

    def _beside_chip(self, ref: str, part: Part) -> Pull | None:
        """A capacitor across the supply belongs beside the supply pin of a chip that has none yet."""
        if part.kind != "capacitor" or len(part.pads) != 2:
            return None
        ends = [(pad, self._of_pin.get((ref, pad.pin), "")) for pad in part.pads]
        if {self._kinds.get(net, "") for _, net in ends} != {"supply", "ground"}:
            return None
        pad, net = next((pad, net) for pad, net in ends if self._kinds[net] == "supply")
        chips = [key for key in self._fed if key[0] == net]
        if not chips:
            return None
        first = min(chips, key=lambda key: self._fed[key])
        self._fed[first] += 1
        return Pull(pad.x_mm, pad.y_mm, 1.0, (first[1:],))


@dataclass(frozen=True)
class Pull:
    """A pin of a part, in its own frame, how much its way counts, and the places of the pins it is to be joined with."""

    x_mm: float
    y_mm: float
    weight: float
    places: tuple[tuple[float, float], ...]


def steps_over(low: float, high: float, step: float) -> NDArray[np.float64]:
    """Whole multiples of a step between two ends: a wider board moves none of them."""
    steps: NDArray[np.float64] = np.arange(math.ceil(low / step), math.floor(high / step) + 1).astype(np.float64) * step
    return steps


def grid_over(bounds: Frame, step: float) -> NDArray[np.float64]:
    """Places (3: x, y, angle; n) over a box, in the four ways in which a part lies upright."""
    left, bottom, right, top = bounds
    axes = steps_over(left, right, step), steps_over(bottom, top, step), np.array(_ANGLES)
    return np.array([grid.ravel() for grid in np.meshgrid(*axes, indexing="ij")])


def ways_mm(
    pulls: Sequence[Pull], x: NDArray[np.float64], y: NDArray[np.float64], angle: NDArray[np.float64], side: str
) -> NDArray[np.float64]:
    """How long the ways from places (n,) to what draws the pins are, by how much each counts, mm."""
    far = np.zeros(len(x))
    flip = -1.0 if side == "back" else 1.0
    a = np.radians(angle)
    cosine, sine = np.cos(a), np.sin(a)
    for pull in pulls:
        px = x + pull.x_mm * cosine - flip * pull.y_mm * sine
        py = y + pull.x_mm * sine + flip * pull.y_mm * cosine
        nearest = np.full(len(x), np.inf)
        for to_x, to_y in pull.places:
            np.minimum(nearest, (px - to_x) ** 2 + (py - to_y) ** 2, out=nearest)
        far += pull.weight * np.sqrt(nearest)
    return far


def places_by_nets(pulls: Sequence[Pull], bounds: Frame, step: float, side: str) -> Iterator[NDArray[np.float64]]:
    """Places (n, 3: x, y, angle) over a box, those with the shortest ways to what draws the pins first, in rows: mostly the
    first of them is enough, and only it is put in order."""
    x, y, angle = grid_over(bounds, step)
    far = _rounded(pulls, x, y, angle, side)
    many, after = _IN_A_ROW, -math.inf
    while after < math.inf:
        until = float(np.partition(far, many)[many]) if many < len(far) else math.inf
        row = (far > after) & (far <= until)
        yield _in_order(x[row], y[row], angle[row], far[row])
        many, after = 4 * many, until


def places_near(
    pulls: Sequence[Pull], bounds: Frame, step: float, side: str, frames: Sequence[Frame], around: float
) -> NDArray[np.float64]:
    """Those of these places that lie so near to one of some frames, in their order."""
    x, y, angle = _grid_near(frames, around, bounds, step)
    return _in_order(x, y, angle, _rounded(pulls, x, y, angle, side))


def places_before(
    spot: tuple[float, float, float], pulls: Sequence[Pull], then: Sequence[Pull], bounds: Frame, step: float, side: str,
    frames: Sequence[Frame], around: float,
) -> NDArray[np.float64]:  # fmt: skip
    """Those of these places that come before one of them, in their order: what lies so near to one of some frames, and, where
    other pulls drew the part then, what did not come before it then."""
    same = pulls == then
    x, y, angle = _grid_near(frames, around, bounds, step) if same else grid_over(bounds, step)
    far = _rounded(pulls, x, y, angle, side)
    first = _before(spot, x, y, angle, far, pulls, side)
    x, y, angle, far = x[first], y[first], angle[first], far[first]
    if not same:
        asked = ~_before(spot, x, y, angle, _rounded(then, x, y, angle, side), then, side)
        for x0, y0, x1, y1 in frames:
            asked |= (x > x0 - around) & (x < x1 + around) & (y > y0 - around) & (y < y1 + around)
        x, y, angle, far = x[asked], y[asked], angle[asked], far[asked]
    return _in_order(x, y, angle, far)


def _grid_near(frames: Sequence[Frame], around: float, bounds: Frame, step: float) -> NDArray[np.float64]:
    left, bottom, right, top = bounds
    boxes = [
        (max(x0 - around, left), max(y0 - around, bottom), min(x1 + around, right), min(y1 + around, top))
        for x0, y0, x1, y1 in frames
    ]
    return np.concatenate([grid_over(box, step) for box in boxes] or [np.zeros((3, 0))], axis=1)


def _before(
    spot: tuple[float, float, float], x: NDArray[np.float64], y: NDArray[np.float64], angle: NDArray[np.float64],
    far: NDArray[np.float64], pulls: Sequence[Pull], side: str,
) -> NDArray[np.bool_]:  # fmt: skip
    """Which places come before one of them."""
    at, there, turned = np.array(spot)[:, None]
    own = _rounded(pulls, at, there, turned, side)[0]
    before: NDArray[np.bool_] = far < own
    for tied in np.flatnonzero(far == own).tolist():
        before[tied] = (x[tied], y[tied], angle[tied]) < spot
    return before


def _rounded(
    pulls: Sequence[Pull], x: NDArray[np.float64], y: NDArray[np.float64], angle: NDArray[np.float64], side: str
) -> NDArray[np.float64]:
    """Ways as they are compared."""
    return np.round(ways_mm(pulls, x, y, angle, side), 6)


def _in_order(
    x: NDArray[np.float64], y: NDArray[np.float64], angle: NDArray[np.float64], far: NDArray[np.float64]
) -> NDArray[np.float64]:
    """Places (n, 3) by rising ways."""
    return np.column_stack([x, y, angle])[np.lexsort((angle, y, x, far))]
