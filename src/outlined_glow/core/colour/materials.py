"""What mask, finish, ink and laminate look like together (DOMAIN 1, "typical appearances").

The figures live in `data/materials`, in JSON files: typical values, to be calibrated against a sample.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import Trouble
from ..shipped import entries
from ..text_safety import short


@dataclass(frozen=True)
class Materials:
    """The colours (sRGB hex) of one stack, and how much light its laminate lets through (0..1)."""

    mask: str
    raised: str
    metal: str
    ink: str
    laminate: str
    through_laminate: float
    through_mask: float
    tint: str

    def colour(self, appearance: str) -> str:
        """The sRGB hex of an appearance by day; a masked window looks like the mask over laminate."""
        return {"window": self.laminate, "veiled": self.mask, "cut": "000000"}.get(appearance) or str(getattr(self, appearance))


def masks() -> tuple[str, ...]:
    """Mask colours by name."""
    return tuple(entries("materials", "masks"))


def finishes() -> tuple[str, ...]:
    """Finishes by name."""
    return tuple(entries("materials", "finishes"))


def inks() -> tuple[str, ...]:
    """Legend inks by name."""
    return tuple(entries("materials", "inks"))


def laminate_density() -> float:
    """What the laminate weighs, g/cm³."""
    return float(entries("materials", "laminate")["bare"]["g_per_cm3"])


def materials_of(mask: str, finish: str, ink: str, thickness_mm: float, printed: bool = True) -> Materials:
    """The appearances of a stack. Transmittance 0.55 exp(-t / 2.2 mm), times the mask's own (DOMAIN 1).

    Where nothing is printed there is neither mask nor ink: what would lie under them is seen. `Trouble` if there is no such
    mask, finish or ink.
    """
    table = {key: entries("materials", key) for key in ("masks", "finishes", "inks", "laminate")}
    for word, name in (("mask", mask), ("finish", finish), ("ink", ink)):
        known = table["finishes" if word == "finish" else f"{word}s"]
        if name not in known:
            raise Trouble(f"There is no {word} “{short(name)}”; there are {', '.join(known)}.")
    one = table["masks"][mask]
    bare = table["laminate"]["bare"]
    metal, laminate = str(table["finishes"][finish]["colour"]), str(bare["colour"])
    return Materials(
        mask=str(one["over_laminate"]) if printed else laminate,
        raised=str(one["over_copper"]) if printed else metal,
        metal=metal,
        ink=str(table["inks"][ink]["colour"]) if printed else laminate,
        laminate=laminate,
        through_laminate=float(bare["transmittance"]) * math.exp(-thickness_mm / float(bare["decay_mm"])),
        through_mask=float(one["transmittance"]) if printed else 1.0,
        tint=str(bare["tint"]),
    )
