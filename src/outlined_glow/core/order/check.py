"""All findings about a board, from every room, stops first: each room declares its own passes, this table runs them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from operator import attrgetter
from typing import Any

from ..artwork.findings import CHECKS as ARTWORK
from ..board.copper_findings import CHECKS as COPPER
from ..board.cut_off import CHECKS as CUT_OFF
from ..board.findings import CHECKS as LAYERS
from ..board.hole_findings import CHECKS as HOLES
from ..board.label_findings import CHECKS as LABELS
from ..board.lead_findings import CHECKS as LEADS
from ..board.light_findings import CHECKS as SEEN
from ..board.part_findings import CHECKS as PARTS
from ..board.rehearsal import CHECKS as REGISTRATION
from ..board.tool_room import CHECKS as TOOL_ROOM
from ..board.wiring_findings import CHECKS as WIRING
from ..brief.findings import CHECKS as BRIEF
from ..drive import RunTime
from ..drive.findings import CHECKS as DRIVE
from ..lights import Led
from ..lights.findings import CHECKS as LIGHTS
from ..motion.checks.findings import CHECKS as MOTION
from ..passes import Memory, Pass
from ..project import Design, Finding, Project, Remedy
from ..project.edits import BOARD, find_edit
from ..project.finding import in_order
from ..project.storage import today
from ..shape.findings import CHECKS as SHAPE
from ..shape.findings import OUTLINE_CHECKS as OUTLINE
from ..watch import ALONE, Watch


def _hours(run: RunTime | None, leds: tuple[Led, ...]) -> float | None:
    """Battery life; None where the supply does not end, or nothing is lit."""
    return run.hours if run is not None and leds else None


#: What several rooms read of the board.
READ = (
    Pass("origin", ("outline",), attrgetter("origin")),
    Pass("size", ("outline",), attrgetter("size")),
    Pass("edge copper", ("board",), attrgetter("edge_copper")),
    Pass("hours", ("run", "leds"), _hours),
)
#: In the order their findings stand in, within a severity. Each makes findings in the board frame.
CHECKS = (
    *READ, *OUTLINE, *LIGHTS, *DRIVE, *ARTWORK, *BRIEF, *SHAPE, *LAYERS, *CUT_OFF, *REGISTRATION, *PARTS, *HOLES, *TOOL_ROOM,
    *SEEN, *MOTION, *WIRING, *COPPER, *LABELS, *LEADS,
)  # fmt: skip


def check(
    project: Project, design: Design, values: Mapping[str, Any], memory: Memory, watch: Watch = ALONE
) -> tuple[Finding, ...]:
    """The findings about a board of a project from what its passes made (`values`), by the passes whose names `CHECKS` has."""
    made = memory.run(CHECKS, {**values, "today": today()}, watch)
    out = [finding for one in CHECKS if one.name.endswith("check") for finding in made[one.name]]
    several = len(project.designs) > 1
    return in_order([_of_board(finding, design, several) for finding in out] if several else out)


def _of_board(finding: Finding, design: Design, several: bool) -> Finding:
    """A finding of one board among several, whose remedies are about that board."""
    return replace(finding, board=design.name, remedies=tuple(_named(remedy, design) for remedy in finding.remedies))


def _named(remedy: Remedy, design: Design) -> Remedy:
    if remedy.edit is None:
        return remedy
    own_stack = remedy.edit == "set-stack" and design.stack is not None
    if not own_stack and not find_edit(remedy.edit).of_board:
        return remedy
    return replace(remedy, values=(*remedy.values, (BOARD, design.name)))
