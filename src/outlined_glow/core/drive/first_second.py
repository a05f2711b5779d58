"""The first second: what every counter, register, pull and light does from power-up on, as far as it is known (DOMAIN 8)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ..project import Finding, Remedy
from ..units import show_si

Level = Literal["0", "1", "unknown"]
#: How fast a supply rises unless it is told, s; and the longest that a board may give no sign of life, s.
RISE_S, LONGEST_DARK_S = 0.010, 2.0
#: A reset lasts so many times the rise of the supply, at least; its resistor, ohm.
_RESET_TIMES, RESET_OHM = 10.0, 1e6
#: The share of the supply under which a reset is let go.
LET_GO = 0.3


@dataclass(frozen=True)
class Node:
    """A net and its levels: each from a time on, s. A light is 1 while it is lit."""

    net: str
    levels: tuple[tuple[float, Level], ...]

    def changes(self) -> Node:
        """The same without times at which nothing changes."""
        kept = [one for at, one in enumerate(self.levels) if not at or one[1] != self.levels[at - 1][1]]
        return Node(self.net, tuple(kept))

    def at(self, time_s: float) -> Level:
        """Its level at a time."""
        found: Level = "unknown"
        for since, level in self.levels:
            if since <= time_s:
                found = level
        return found


@dataclass(frozen=True)
class Reset:
    """The network that holds a counter at its start: a capacitor from the supply, a resistor to ground."""

    ohm: float
    farad: float

    @property
    def lasts_s(self) -> float:
        """Until it is let go, s.

        >>> round(Reset(1e6, 1e-7).lasts_s, 2)
        0.12
        """
        return self.ohm * self.farad * math.log(1 / LET_GO)


def reset_for(rise_s: float = RISE_S) -> Reset:
    """A reset network that outlasts the rise of the supply by as much as it should."""
    decade = 10.0 ** math.ceil(math.log10(_RESET_TIMES * rise_s / RESET_OHM) - 1e-9)
    return Reset(RESET_OHM, decade)


@dataclass(frozen=True)
class Start:
    """How a way begins: its nodes, and the longest that none of its lights is lit, s, over everything that is unknown."""

    nodes: tuple[Node, ...] = ()
    dark_s: float = RISE_S
    reset: Reset | None = None


#: Nothing is told of how it begins.
NOTHING_KNOWN = Start()


@dataclass(frozen=True)
class FirstSecond:
    """The start of a whole board."""

    rise_s: float
    dark_s: float
    nodes: tuple[Node, ...]
    reset: Reset | None


def with_supply(net: str, lit_from_s: float = RISE_S) -> Node:
    """A light that is lit as soon as there is a supply, or from later on."""
    return Node(net, ((0.0, "0"), (lit_from_s, "1")))


def together(starts: Sequence[Start]) -> FirstSecond:
    """The start of a board from those of its ways; the first that lights is its sign of life."""
    supply = Node("supply", ((0.0, "0"), (RISE_S, "1")))
    nodes = (supply, *(node.changes() for one in starts for node in one.nodes))
    dark = min((one.dark_s for one in starts), default=0.0)
    return FirstSecond(RISE_S, dark, nodes, next((one.reset for one in starts if one.reset is not None), None))


def dark_finding(first: FirstSecond, period_s: float) -> list[Finding]:
    """A board that gives no sign of life for too long."""
    if first.dark_s <= LONGEST_DARK_S:
        return []
    shorter = float(f"{period_s * 0.9 * LONGEST_DARK_S / first.dark_s:.2g}")
    return [
        Finding(
            code="dark-at-start", severity="warning", stage="drive",
            text=f"After power-on no LED may be lit for {show_si(first.dark_s, 's')}: it looks as if the board were dead.",
            measured=round(first.dark_s, 3), allowed=LONGEST_DARK_S,
            remedies=(
                Remedy(f"shorten the period to {show_si(shorter, 's')}", "drive", (("period_s", shorter),)),
                Remedy("add an LED that is lit at once"),
            ),
        )
    ]  # fmt: skip
