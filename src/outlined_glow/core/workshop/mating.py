"""Boards that plug onto one another: which pin meets which, in mirror where both plugs are on the same side of their boards."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from ..drive.plugs import GAP_MM, NO_NET
from ..parts import PlacedPart
from ..project import Plug
from .work import Work

Spots = NDArray[np.float64]
#: Pins meet where they are this near, mm.
_MEETS_MM = 0.3


@dataclass(frozen=True)
class Fit:
    """How another board lies on this one, both seen from this one's front: `mirrored` if turned over, then turned by an angle,
    then shifted."""

    mirrored: bool
    angle_deg: float
    shift: tuple[float, float]

    def there(self, spots: Spots) -> Spots:
        """Places (n, 2) of the other board, on this one."""
        flipped = spots * np.array([-1.0, 1.0]) if self.mirrored else spots
        a = math.radians(self.angle_deg)
        turn = np.array([[math.cos(a), -math.sin(a)], [math.sin(a), math.cos(a)]])
        return np.asarray(flipped @ turn.T + np.array(self.shift), float)


@dataclass(frozen=True)
class Mated:
    """Two plugs that meet: each on its board, how the boards lie, and the pins that meet (this one's, the other's); in
    `turned` those that would meet if it were plugged in turned, where that can be."""

    one: Work
    other: Work
    mine: Plug
    its: Plug
    part: PlacedPart
    its_part: PlacedPart
    fit: Fit
    pairs: tuple[tuple[str, str], ...]
    turned: tuple[tuple[str, str], ...] = ()

    def nets(self, pair: tuple[str, str]) -> tuple[str, str]:
        """The nets of two pins that meet, "" for none."""
        return net_of(self.mine, pair[0]), net_of(self.its, pair[1])

    @property
    def differing(self) -> tuple[tuple[str, str], ...]:
        """The pins that meet and carry different nets."""
        return tuple(pair for pair in self.pairs if len(set(self.nets(pair))) > 1)

    @property
    def joins_supplies(self) -> bool:
        """Whether their supplies meet."""
        return any(set(self.nets(pair)) == {"supply"} for pair in self.pairs)

    @property
    def as_it_meets(self) -> tuple[str, ...]:
        """The nets that the other plug needs, pin by pin, for all that meet to agree."""
        wanted = {its: net_of(self.mine, mine) for mine, its in self.pairs}
        return tuple(wanted.get(str(at), net) or NO_NET for at, net in enumerate(self.its.nets, 1))


def net_of(plug: Plug, pin: str) -> str:
    """The net of a pin of a plug."""
    return plug.nets[int(pin) - 1]


def placed_plug(work: Work, plug: Plug) -> PlacedPart | None:
    """Where a plug lies on its board; None where it found no place."""
    return next((one for one in work.board.parts if one.part.kind == "plug" and one.value == plug.name), None)


def partner(works: Sequence[Work], work: Work, plug: Plug) -> tuple[Work, Plug] | None:
    """The plug of another board that a plug goes onto; None where there is none, or where several are called so."""
    found = [
        (other, its)
        for other in works
        if other.design.name != work.design.name and plug.onto_board in ("", other.design.name)
        for its in other.design.drive.plugs
        if its.name == plug.onto
    ]
    return found[0] if plug.onto and len(found) == 1 else None


def mated(works: Sequence[Work]) -> tuple[Mated, ...]:
    """All plugs of all boards that meet, each pair once. Plugs between the same boards meet as the boards lie."""
    links: dict[tuple[str, str], list[tuple[Work, Work, Plug, Plug, PlacedPart, PlacedPart]]] = {}
    seen: set[frozenset[tuple[str, str]]] = set()
    for work in works:
        for plug in work.design.drive.plugs:
            met = partner(works, work, plug)
            if met is None:
                continue
            other, its = met
            key = frozenset({(work.design.name, plug.name), (other.design.name, its.name)})
            part, its_part = placed_plug(work, plug), placed_plug(other, its)
            if key not in seen and part is not None and its_part is not None and len(plug.nets) == len(its.nets):
                seen.add(key)
                row = (work, other, plug, its, part, its_part)
                if (other.design.name, work.design.name) in links:
                    row = (other, work, its, plug, its_part, part)
                links.setdefault((row[0].design.name, row[1].design.name), []).append(row)
    return tuple(one for rows in links.values() for one in _between(rows))


def _between(rows: list[tuple[Work, Work, Plug, Plug, PlacedPart, PlacedPart]]) -> list[Mated]:
    """The plugs between two boards, in the position in which most pins meet and the boards cover one another most."""
    fits = [fit for *_, part, its_part in rows for fit in _fits(part, its_part)]

    def goodness(fit: Fit) -> tuple[int, float, int]:
        meeting = [_pairs(part, its_part, fit) for *_, part, its_part in rows]
        edge, its_edge = rows[0][0].board.outline, rows[0][1].board.outline
        over = edge.intersection(shapely.transform(its_edge, fit.there)).area / min(edge.area, its_edge.area)
        alike = sum(
            net_of(mine, a) == net_of(its, b)
            for (_, _, mine, its, _, _), some in zip(rows, meeting, strict=True)
            for a, b in some
        )
        return sum(map(len, meeting)), round(over, 1), alike  # where both cover about as much, nets that agree are meant

    best = max(fits, key=goodness)
    out = []
    for one, other, mine, its, part, its_part in rows:
        turned: tuple[tuple[str, str], ...] = ()
        if len(rows) == 1 and not (mine.keyed or its.keyed):
            others = [pairs for fit in _fits(part, its_part) if (pairs := _pairs(part, its_part, fit))]
            here = _pairs(part, its_part, best)
            turned = next((pairs for pairs in others if len(pairs) == len(here) and pairs != here), ())
        out.append(Mated(one, other, mine, its, part, its_part, best, _pairs(part, its_part, best), turned))
    return out


def _spots(part: PlacedPart) -> dict[str, tuple[float, float]]:
    return {pad.pin: (pad.x, pad.y) for pad in part.pads() if pad.side == "front"}


def _fits(part: PlacedPart, its: PlacedPart) -> list[Fit]:
    """The ways in which a plug can lie on another one: its middle on that one's, along it, and turned by half."""
    mirrored = part.side == its.side
    here, there = np.array(list(_spots(part).values())), np.array(list(_spots(its).values()))
    its_angle = 180.0 - its.angle_deg if mirrored else its.angle_deg
    out = []
    for turn in (0.0, 180.0):
        bare = Fit(mirrored, (part.angle_deg - its_angle + turn) % 360.0, (0.0, 0.0))
        shift = here.mean(axis=0) - bare.there(there).mean(axis=0)
        out.append(Fit(mirrored, bare.angle_deg, (float(shift[0]), float(shift[1]))))
    return out


def _pairs(part: PlacedPart, its: PlacedPart, fit: Fit) -> tuple[tuple[str, str], ...]:
    """The pins that meet."""
    there = _spots(its)
    moved = dict(zip(there, fit.there(np.array(list(there.values()))).tolist(), strict=True))
    near = itertools.product(_spots(part).items(), moved.items())
    return tuple((pin, other) for (pin, spot), (other, at) in near if math.dist(spot, at) < _MEETS_MM)


def crowded(one: Mated) -> tuple[PlacedPart, PlacedPart | None, float] | None:
    """The parts between two boards that need most room, if that is more than there is, and how much that is, mm: a part of this
    board and one of the other, or one alone that reaches the other board."""
    mine = [part for part in one.one.board.parts if part.side == one.part.side and part.part.kind != "plug"]
    its = [part for part in one.other.board.parts if part.side == one.its_part.side and part.part.kind != "plug"]
    courts = [shapely.transform(part.court(), one.fit.there) for part in its]
    edge = shapely.transform(one.other.board.outline, one.fit.there)
    found: list[tuple[float, PlacedPart, PlacedPart | None]] = [
        (part.part.height_mm, part, None) for part in mine if part.court().intersects(edge)
    ]
    found += [
        (part.part.height_mm, part, None)
        for part, court in zip(its, courts, strict=True)
        if court.intersects(one.one.board.outline)
    ]
    tree = shapely.STRtree(courts)
    for part in mine:
        for at in tree.query(part.court(), predicate="intersects").tolist() if courts else ():
            found.append((part.part.height_mm + its[at].part.height_mm, part, its[at]))
    most = max(found, key=lambda row: row[0], default=None)
    return (most[1], most[2], most[0]) if most is not None and most[0] > GAP_MM else None


def plug_rows(works: Sequence[Work], work: Work) -> list[dict[str, Any]]:
    """The plugs of a board and what meets their pins, for the command line and the window."""
    pairs_there = mated(works)
    met = {(one.one.design.name, one.mine.name): (one, False) for one in pairs_there}
    met |= {(one.other.design.name, one.its.name): (one, True) for one in pairs_there}
    out = []
    for plug in work.design.drive.plugs:
        found = met.get((work.design.name, plug.name))
        part = placed_plug(work, plug)
        pairs: dict[str, str] = {}
        other: Plug | None = None
        meets: str | None = None
        if found is not None:
            one, back = found
            pairs = {b: a for a, b in one.pairs} if back else dict(one.pairs)
            other = one.mine if back else one.its
            meets = f"{other.name} of {(one.one if back else one.other).design.name}"
        out.append(
            {
                "name": plug.name, "part": part.ref if part else None, "side": part.side if part else None, "kind": plug.kind,
                "rows": plug.rows, "onto": plug.onto or None, "meets": meets, "keyed": plug.keyed,
                "gap_mm": GAP_MM if found else None,
                "pins": [
                    {
                        "pin": str(at), "net": net or None, "meets": pairs.get(str(at)),
                        "its_net": (net_of(other, pairs[str(at)]) or None) if other and str(at) in pairs else None,
                    }
                    for at, net in enumerate(plug.nets, 1)
                ],
            }
        )  # fmt: skip
    return out
