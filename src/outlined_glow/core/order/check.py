"""All findings about a board, from every stage, stops first."""

from __future__ import annotations

from collections.abc import Sequence

from ..artwork import Art, Painted
from ..artwork.findings import artwork_findings
from ..artwork.words import Paths
from ..board import Board
from ..board.cut_off import cut_off_findings
from ..board.findings import layer_findings
from ..board.layers import ArtLayers
from ..board.part_findings import part_findings
from ..board.rehearsal import registration_findings
from ..brief.findings import brief_findings
from ..motion.findings import motion_findings
from ..project import Finding, Project
from ..project.finding import in_order
from ..project.frames import in_board_frame
from ..project.storage import today
from ..shape import Outline
from ..shape.findings import Recut, shape_findings


def _hours(project: Project, board: Board) -> float | None:
    """Run time with every LED lit; None where the supply does not end, or nothing is lit."""
    plan = board.drive
    return plan.steady.hours if plan.steady is not None and board.lights else None


def check(
    project: Project,
    painted: Painted,
    art: Art,
    outline: Outline,
    flat: ArtLayers,
    board: Board,
    paths: Paths,
    recut: Recut,
    found: Sequence[Finding],
) -> tuple[Finding, ...]:
    """Every stage's findings, in the board frame. `found` are those the compile already made."""
    out = list(found)
    out += [in_board_frame(one, board.origin) for one in artwork_findings(painted, art, project, board.profile, paths)]
    out += brief_findings(project, board.size, _hours(project, board), board.edge_copper, board.profile, today())
    out += shape_findings(outline, project, board.profile, recut)
    out += layer_findings(board, flat, project.design.artwork.mends)
    lost = cut_off_findings(project, {"front": art.regions, "back": art.back}, flat, paths)
    out += [in_board_frame(one, board.origin) for one in lost]
    out += registration_findings(board, flat)
    out += part_findings(board, flat, outline.fixed)
    out += motion_findings(project.motion, len(board.lights))
    if board.lights:
        out.append(
            Finding(
                "not-wired",
                "stop",
                "order",
                f"The {len(board.lights)} LEDs have no tracks to them: this version does not route wiring yet. "
                "Remove the LEDs to order a plain badge.",
                board.lights[0].x,
                board.lights[0].y,
                count=len(board.lights),
                places=tuple((spot.x, spot.y) for spot in board.lights),
            )
        )
    return in_order(out)
