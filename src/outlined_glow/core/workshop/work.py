"""What is known of a board once it is made."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
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


@dataclass(frozen=True)
class Work:
    """Everything compile found out about one board of a project."""

    project: Project
    design: Design
    #: The brief as it is for this board: with its stack.
    brief: Brief
    pictures: tuple[tuple[Source, Painted], ...]
    painted: Painted
    art: Art
    #: The art as it is drawn, before its clean-up.
    drawn: Art
    outline: Outline
    leds: tuple[Led, ...]
    #: The LEDs as a table for motion.
    lamps: Lamps
    plan: DrivePlan
    board: Board
    flat: ArtLayers
    paths: Paths
    #: What every pass made, by its name: the findings read it.
    values: Mapping[str, Any] = field(repr=False)
