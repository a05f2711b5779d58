"""`calc`: a sum on its own."""

from __future__ import annotations

import json

from ...core.errors import Trouble
from ...core.workshop.calculators import CALCULATORS, calculate
from ..exits import DONE
from . import Arguments


def calc_(given: Arguments) -> int:
    """Run `calc`."""
    if given.name is None:
        told = {name: one.about for name, one in CALCULATORS.items()}
        print(json.dumps(told, indent=1) if given.json else "\n".join(f"{name}: {about}" for name, about in told.items()))
        return DONE
    if given.explain and given.json:
        raise Trouble("--help explains a sum in words, --json gives its answer; ask for one of them.")
    if given.explain:
        return _explain(given.name)
    answer = calculate(given.name, given.values)
    if given.json:
        print(json.dumps(answer, indent=1))
    else:
        for key, value in answer.items():
            print(f"{key:<18} {value:.6g}" if isinstance(value, float) else f"{key:<18} {value}")
    return DONE


def _explain(name: str) -> int:
    one = CALCULATORS.get(name)
    if one is None:
        raise Trouble(f"There is no calculator “{name}”; there are {', '.join(CALCULATORS)}.")
    print(f"{name}: {one.about}\nSource: {one.source}\n")
    for key, param in one.params.items():
        default = one.defaults.get(key)
        note = "needed" if not param.optional else f"default {default}" if default is not None else "optional"
        print(f"  {key:<16} {param.describe():<28} {note}")
    return DONE
