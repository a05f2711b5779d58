"""`library`, `passport` and `template`: the parts there are, and sheets at true size about them."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import msgspec

from ...core.parts import Part, part, parts
from ...core.project.atomic import atomic_write
from ..exits import DONE
from . import Arguments
from .opening import ending_in, opened


def library_(given: Arguments) -> int:
    """Run `library`."""
    chosen = [part(given.name)] if given.name else list(parts().values())
    if given.json:
        rows = [_told(one) for one in chosen]
        print(json.dumps(rows[0] if given.name else {"parts": rows}, indent=1, ensure_ascii=False))
        return DONE
    for one in chosen:
        length, width = one.body_mm
        print(f"{one.name:<34} {one.kind:<9} {len(one.pins):>3} pins  {length:g} x {width:g} x {one.height_mm:g} mm")
    if given.name:
        for pin in chosen[0].pins:
            print(f"  pin {pin.number:<3} {pin.name:<6} {pin.role}")
        print(f"  {chosen[0].mark}" if chosen[0].mark else "  nothing is known of how the part itself is marked")
    return DONE


def _told(one: Part) -> dict[str, Any]:
    return {**msgspec.to_builtins(one), "price": None}


def template_(given: Arguments) -> int:
    """Run `template`."""
    from ...core.order.sheets import template_as  # printing is loaded by who prints
    from ...core.workshop import Compiler

    target = Path(given.output)
    _, work = opened(given, Compiler())
    atomic_write(target, template_as(work.board, target))
    return DONE


def passport_(given: Arguments) -> int:
    """Run `passport`."""
    from ...core.lights.own_parts import library_of, lit_part
    from ...core.order.sheets import passport
    from ...core.workshop import Compiler

    target = ending_in(given.output, ".pdf")
    project, _ = opened(given, Compiler())
    atomic_write(target, passport(lit_part(library_of(project.members), given.part)))
    return DONE
