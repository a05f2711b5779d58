"""Every function that is compiled, in one place: run as a program at set-up, it compiles them all."""

from __future__ import annotations

from .board import light_rows  # noqa: F401  (its kernels are declared by loading it)
from .compiled import load
from .lights import shortest  # noqa: F401
from .motion import flash, formula, recipe  # noqa: F401
from .order import contours  # noqa: F401
from .order.proof import digits  # noqa: F401
from .wiring import maze  # noqa: F401

if __name__ == "__main__":
    raise SystemExit(0 if load() else 1)
