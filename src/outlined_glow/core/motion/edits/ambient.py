"""The edit of the sensor that dims a board by the light of its place."""

from __future__ import annotations

from typing import Any

import msgspec

from ...errors import Trouble
from ...project import Param, Project, edit
from ...text_safety import short
from .strips import NONE

MAPS = (("log", "evenly to the eye"), ("linear", "evenly in light"))


@edit(
    "set-ambient",
    "Dimmed by the light of the place",
    feed=Param("text", title="light of the place"),
    map=Param("choice", choices=tuple(word for word, _ in MAPS), titles=MAPS, title="follows it"),
    dark_lx=Param("quantity", "", 0.01, 1e6, title="dark below", shown="lx", step=1),
    bright_lx=Param("quantity", "", 0.01, 1e6, title="bright over", shown="lx", step=50, digits=0),
    floor=Param("quantity", "", 0, 1, title="dimmed at most to", shown="%", step=1, digits=0),
    ceiling=Param("quantity", "", 0, 1, title="in bright light", shown="%", step=5, digits=0),
    falls=Param("flag", title="brighter in the dark"),
    own_lx=Param("quantity", "", 0, 1e6, title="own light on the sensor", shown="lx", step=5, digits=1),
    every_s=Param("quantity", "s", 0.01, 60, title="looks every", step=0.1),
    smooth_s=Param("quantity", "s", 0, 600, title="goes over", step=0.5),
)
def set_ambient(project: Project, **told: Any) -> Project:
    """Dim all that plays by the light of the place (a feed in lx; none switches the sensor off): from dark to bright between a
    floor and a ceiling. The board's own light on the sensor counts."""
    motion = project.motion
    kept = {key: value for key, value in told.items() if value is not None}
    if "feed" in kept:
        kept["feed"] = "" if kept["feed"] == NONE else kept["feed"]
        if kept["feed"] and kept["feed"] not in {one.name for one in motion.feeds}:
            known = ", ".join(one.name for one in motion.feeds) or "none"
            raise Trouble(f"There is no feed “{short(kept['feed'])}”; there are: {known}.")
    made = msgspec.structs.replace(motion.ambient, **kept)
    if made.bright_lx <= made.dark_lx:
        raise Trouble(f"Bright must be over dark, {made.dark_lx:g} lx; it is {made.bright_lx:g} lx.")
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(motion, ambient=made))
