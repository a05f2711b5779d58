"""What is known of a board once it is made."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from ..artwork import Art, Painted, Source
from ..artwork.words import Paths
from ..board import Board
from ..board.layers import ArtLayers
from ..drive import DrivePlan
from ..lights import Led
from ..motion import Lamps
from ..project import Brief, Design, Project
from ..shape import Outline


@dataclass(frozen=True, eq=False)
class Work:
    """Everything compile found out about one board of a project."""

    project: Project
    design: Design
    #: What every pass made, by its name: the findings read it.
    values: Mapping[str, Any] = field(repr=False)

    @property
    def brief(self) -> Brief:
        """The brief as it is for this board: with its stack."""
        return self.values["brief"]  # type: ignore[no-any-return]

    @cached_property
    def pictures(self) -> tuple[tuple[Source, Painted], ...]:
        """Its pictures as they were read, and as they lie there."""
        return tuple(zip(self.values["sources"], self.values["placed"], strict=True))

    @property
    def painted(self) -> Painted:
        """All of its pictures together."""
        return self.values["painted"]  # type: ignore[no-any-return]

    @property
    def art(self) -> Art:
        """The art of both sides."""
        return self.values["art"]  # type: ignore[no-any-return]

    @property
    def drawn(self) -> Art:
        """The art as it is drawn, before its clean-up."""
        return self.values["drawn"]  # type: ignore[no-any-return]

    @property
    def outline(self) -> Outline:
        """Its edge, holes and what keeps clear of them."""
        return self.values["outline"]  # type: ignore[no-any-return]

    @property
    def leds(self) -> tuple[Led, ...]:
        """Its LEDs."""
        return self.values["leds"]  # type: ignore[no-any-return]

    @property
    def lamps(self) -> Lamps:
        """The LEDs as a table for motion."""
        return self.values["lamps"]  # type: ignore[no-any-return]

    @property
    def plan(self) -> DrivePlan:
        """How they are driven."""
        return self.values["plan"]  # type: ignore[no-any-return]

    @property
    def board(self) -> Board:
        """The board with all of its layers."""
        return self.values["board"]  # type: ignore[no-any-return]

    @property
    def flat(self) -> ArtLayers:
        """What the art brings to the layers, in the picture frame."""
        return self.values["flat"]  # type: ignore[no-any-return]

    @property
    def paths(self) -> Paths:
        """The ways that text may run along."""
        return self.values["paths"]  # type: ignore[no-any-return]
