"""Drill files in XNC (XNC Format Specification), one for plated and one for unplated holes."""

from __future__ import annotations

from ... import __version__
from ..board import Board


def drill_file(board: Board, plated: bool, edited: str) -> bytes:
    """All round holes of one kind; written, empty or not."""
    holes = [hole for hole in board.holes if hole.plated == plated]
    sizes = sorted({round(hole.diameter, 4) for hole in holes})
    function = "Plated,1,2,PTH" if plated else "NonPlated,1,2,NPTH"
    lines = [
        "M48",
        f"; #@! TF.FileFunction,{function}",
        f"; #@! TF.GenerationSoftware,Outlined Glow,Outlined Glow,{__version__}",
        f"; #@! TF.CreationDate,{edited.replace('Z', '+00:00')}",
        "METRIC",
        *(f"T{number:02d}C{size:.3f}" for number, size in enumerate(sizes, 1)),
        "%",
        "G05",
    ]
    for number, size in enumerate(sizes, 1):
        lines.append(f"T{number:02d}")
        lines += [f"X{hole.x:.4f}Y{hole.y:.4f}" for hole in holes if round(hole.diameter, 4) == size]
    return ("\n".join([*lines, "M30"]) + "\n").encode("ascii")
