"""Sheets folded from a board: the angle between two faces, and how far each is set back (DOMAIN 14)."""

from __future__ import annotations

import math


def dihedral_deg(faces: int, slope_deg: float) -> float:
    """The angle between neighbours of equal faces that slope alike to their base: cos = −(cos²s + sin²s·cos(360°/n)).

    >>> round(dihedral_deg(7, 55), 4), round(dihedral_deg(4, 90), 6)
    (138.362, 90.0)
    """
    slope = math.radians(slope_deg)
    cosine = -(math.cos(slope) ** 2 + math.sin(slope) ** 2 * math.cos(2 * math.pi / faces))
    return math.degrees(math.acos(max(-1.0, min(1.0, cosine))))


def setback_mm(thickness_mm: float, angle_deg: float) -> float:
    """How far a face with square edges is set back from the outside shape, where the inner edges meet."""
    return thickness_mm * math.tan(math.radians((180 - angle_deg) / 2))
