"""Files of older schema versions, brought up one version at a time.

To change the schema: raise `SCHEMA`, add the step from the version before it to `STEPS`, and keep a file that the version
before wrote in `tests/data/schema`. A step takes and gives the plain values of `project.json`.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..errors import Trouble

SCHEMA = 14

Step = Callable[[dict[str, Any]], dict[str, Any]]


def _many_pictures(content: dict[str, Any]) -> dict[str, Any]:
    """1 to 2: a board has any number of pictures, each with its width."""
    for design in content.get("designs", []):
        art = design.get("artwork", {})
        picture, width = art.pop("picture", None), art.pop("width_mm", None)
        if picture is not None:
            art["pictures"] = [{**picture, **({} if width is None else {"width_mm": width})}]
    return content


def _as_it_is(content: dict[str, Any]) -> dict[str, Any]:
    """Keys came, nothing went. To 3: outlines from elsewhere, words along an edge. To 4: loose pieces, clean-up. To 6:
    arrays of more kinds, LEDs of their own, the order of the chain, own parts with their passports. To 7: the side of an
    array, whether it is locked, staggered grids, several rings,
    a limit of how high parts stand, colours balanced by their current,
    arrays laid several times round the middle. To 9: a second source, a capacitor, an auto-off latch, resistors at hand,
    pins given out by hand. To 10: the wiring. To 11: locked nets, areas drawn anew, teardrops,
    vias of pours, leads. To 12: the score. To 13: more of a score. To 14: plugs."""
    return content


def _named_boards(content: dict[str, Any]) -> dict[str, Any]:
    """4 to 5: every board has a name, and may have a stack of its own."""
    for number, design in enumerate(content.get("designs", []), 1):
        design.setdefault("name", "main" if number == 1 else f"board {number}")
    return content


def _left_away(content: dict[str, Any]) -> dict[str, Any]:
    """7 to 8: a supply's switch, fuse and the like are parts of the board. What had none has none, and says so."""
    for design in content.get("designs", []):
        drive = design.setdefault("drive", {})
        drive["left_away"] = ["charger", "reverse", "fuse", "switch", "strain relief"]
    return content


#: From a version to the next one.
STEPS: dict[int, Step] = {
    1: _many_pictures,
    2: _as_it_is,
    3: _as_it_is,
    4: _named_boards,
    5: _as_it_is,
    6: _as_it_is,
    7: _left_away,
    8: _as_it_is,
    9: _as_it_is,
    10: _as_it_is,
    11: _as_it_is,
    12: _as_it_is,
    13: _as_it_is,
}


def migrate(content: dict[str, Any], newest: int = SCHEMA, steps: dict[int, Step] | None = None) -> dict[str, Any]:
    """The content in the newest schema, without its `schema` key. `Trouble` for a newer one, ValueError for none."""
    version = content.get("schema")
    if isinstance(version, bool) or not isinstance(version, int) or version < 1:
        raise ValueError("no schema version")
    if version > newest:
        raise Trouble("it was written by a newer Outlined Glow; update to open it")
    for step in range(version, newest):
        content = (STEPS if steps is None else steps)[step](content)
    return {key: value for key, value in content.items() if key != "schema"}
