"""`render` and `animate`: pictures."""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np

from ...core.board.draw import PX_PER_MM, USUAL_PIXELS, draw_board, draw_leaf, png
from ...core.board.view import fitting_scale, whole_view
from ...core.errors import Trouble
from ...core.motion import level_at
from ...core.project import Param
from ...core.project.atomic import atomic_write
from ...core.units import parse_number, parse_quantity
from ...core.workshop import Compiler
from ...core.workshop.film import contact_sheet, write_film
from ...core.workshop.motion_facts import flash_words, flashes_of
from ..exits import DONE
from . import Arguments
from .opening import ending_in, opened, scale_of


def render_(given: Arguments) -> int:
    """Run `render`."""
    _, work = opened(given, Compiler())
    scale = scale_of(given.px_per_mm, 100) or fitting_scale(work.board.size, PX_PER_MM, USUAL_PIXELS)
    sun = Param("quantity", "", 0, 1).check("--sun", parse_number(given.sun))
    target = ending_in(given.output, ".png")
    if given.leaf:
        pixels = draw_leaf(work.board, given.leaf, whole_view(work.board.size, given.side, scale))
    else:
        lit = np.ones(len(work.leds))
        if given.time is not None:
            lit = level_at(work.project.motion, work.lamps, parse_quantity(given.time, "s", bare="s"))
        pixels = draw_board(work.board, side=given.side, sun=sun, px_per_mm=scale, levels=lit)
    atomic_write(target, png(pixels, scale))
    return DONE


def animate_(given: Arguments) -> int:
    """Run `animate`."""
    project, work = opened(given, Compiler())
    motion, target = project.motion, Path(given.output)
    start_s = parse_quantity(given.start, "s", bare="s")
    if not 0 <= start_s < motion.seconds:
        raise Trouble(f"--from must be a moment of the score, 0 to {motion.seconds:g} s, not {given.start}.")
    seconds = parse_quantity(given.seconds, "s", bare="s") if given.seconds else None
    sun = Param("quantity", "", 0, 1).check("--sun", parse_number(given.sun))
    if work.leds:
        verdict, more, safe = flash_words(flashes_of(work))
        if not safe:
            print(f"{verdict} {more}", file=sys.stderr)
    if given.sheet:
        count = Param("count", "", 2, 60).parse("--sheet", given.sheet, True)
        data = contact_sheet(
            work.board, motion, work.lamps, seconds=seconds or motion.seconds - start_s, count=count, sun=sun, side=given.side,
            drive=work.design.drive, shown=given.shown, start_s=start_s,
        )  # fmt: skip
        atomic_write(ending_in(given.output, ".png"), data)
        print(f"{given.output}: {count} moments side by side")
        return DONE
    count = write_film(
        work.board, motion, work.lamps, target, seconds=seconds, fps=parse_number(given.fps), sun=sun, side=given.side,
        px_per_mm=scale_of(given.px_per_mm, 60), drive=work.design.drive, shown=given.shown, start_s=start_s,
    )  # fmt: skip
    print(f"{given.output}: {count} frames")
    return DONE
