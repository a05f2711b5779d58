"""The edits of feeds: values that change while the score plays."""

from __future__ import annotations

from typing import Any

import msgspec

from ...errors import Trouble
from ...project import Feed, Motion, Param, Project, edit
from ...text_safety import short
from ..feeds import read_points
from ..pattern import pattern
from ..score import COLOUR, LEVEL, PACE
from .strips import NONE, strip_of

KINDS = (
    ("tide", "a tide"),
    ("clock", "a clock"),
    ("counter", "a counter"),
    ("walk", "a slow walk of chance"),
    ("charge", "a cell that empties"),
    ("wave", "a wave"),
    ("recorded", "as recorded"),
    ("knob", "a knob or slider"),
    ("encoder", "an encoder"),
)
RESPONSES = (
    ("even", "evenly"),
    ("slow start", "slowly at first"),
    ("slow end", "slowly at last"),
    ("slow ends", "slowly at both ends"),
)


@edit(
    "set-feed",
    "Feed {name}",
    name=Param("text", optional=False),
    kind=Param("choice", choices=tuple(word for word, _ in KINDS), titles=KINDS, title="is"),
    low=Param("quantity", "", -1e9, 1e9, title="lowest"),
    high=Param("quantity", "", -1e9, 1e9, title="highest"),
    period_s=Param("quantity", "s", 0.01, 1e7, title="goes round in", step=1),
    seed=Param("count", "", 0, 1_000_000),
    at=Param("quantity", "", 0, 1, title="is turned to", shown="%", step=5, digits=0),
    response=Param("choice", choices=tuple(word for word, _ in RESPONSES), titles=RESPONSES, title="gives more"),
    detents=Param("count", "", 2, 1000, title="detents"),
    noise=Param("quantity", "", 0, 0.5, title="noise, up and down", shown="%", step=0.5, digits=1),
    bits=Param("count", "", 0, 16, title="bits of its converter"),
    smooth_s=Param("quantity", "s", 0, 3600, title="smoothed over", step=0.1),
    dead_band=Param("quantity", "", 0, 1e9, title="dead band", step=0.1),
    timeout_s=Param("quantity", "s", 0, 1e7, title="too old after", step=1),
    file=Param("picture"),
)
def set_feed(project: Project, *, name: str, **told: Any) -> Project:
    """Make a feed, or change it: a value that changes while the score plays, simulated, turned by hand, or from a file of
    recorded values (CSV: moment in s, value; or JSON lines with t and value). Bits of 0 are any number; a time-out of 0 is a
    period after the last value."""
    feeds = {one.name: one for one in project.motion.feeds}
    new = {key: value for key, value in told.items() if value is not None}
    file = new.pop("file", None)
    if file is not None:
        points = read_points(file.data, file.name)
        values = [value for _, value in points]
        new = {"kind": "recorded", "points": points, "low": min(values), "high": max(values), **new}
        if new["low"] == new["high"]:
            new["high"] = new["low"] + 1.0
    if not name.isidentifier() or len(name) > 30 or not name.isascii():
        raise Trouble(f"A feed is named by up to 30 letters, figures and _, not “{short(name)}”.")
    made = msgspec.structs.replace(feeds.get(name, Feed(name=name)), **new)
    if made.kind == "clock" and "high" not in new:
        made = msgspec.structs.replace(made, high=made.low + 86_400.0)
    if made.high <= made.low:
        raise Trouble(f"The highest value of “{name}” must be over its lowest, {made.low:g}; it is {made.high:g}.")
    if made.kind == "recorded" and not made.points:
        raise Trouble(f"“{name}” is to be as recorded; give file= as well.")
    feeds[name] = made
    if len(feeds) > 100:
        raise Trouble("There are 100 feeds at most; remove one.")
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(project.motion, feeds=tuple(feeds.values())))


def turned_to(motion: Motion, name: str, at: float) -> Motion:
    """A motion with a knob or an encoder turned to a share of its way."""
    feeds = tuple(msgspec.structs.replace(one, at=at) if one.name == name else one for one in motion.feeds)
    return msgspec.structs.replace(motion, feeds=feeds)


@edit(
    "bind",
    "{key} of strip {number} follows {feed}",
    number=Param("count", "", 1, 100_000, optional=False),
    key=Param("text", optional=False),
    feed=Param("text", optional=False),
)
def bind(project: Project, *, number: int, key: str, feed: str) -> Project:
    """Let a number of the pattern of a strip (such as value), its level, its pace (up to twice as fast) or its colour (a place
    in its palette) follow a feed; none lets it be as it is set."""
    motion = project.motion
    one = strip_of(motion, number)
    kept = tuple(row for row in one.bound if row[0] != key)
    if feed != NONE:
        takes = (*pattern(one.pattern, motion.patterns).keys, LEVEL, PACE, COLOUR)
        if key not in takes:
            raise Trouble(f"“{one.pattern}” has no “{short(key)}” that could follow a feed; there are: {', '.join(takes)}.")
        if key == COLOUR and not (one.palette or pattern(one.pattern, motion.patterns).palette):
            raise Trouble(f"Strip {number} has no palette that its colour could run through; choose one first (palette=).")
        if feed not in {known.name for known in motion.feeds}:
            known = ", ".join(one.name for one in motion.feeds) or "none"
            raise Trouble(f"There is no feed “{short(feed)}”; there are: {known}.")
        kept = tuple(sorted((*kept, (key, feed))))
    score = tuple(msgspec.structs.replace(one, bound=kept) if one.number == number else one for one in motion.score)
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(motion, score=score))


@edit("remove-feed", "No feed {name}", name=Param("text", optional=False))
def remove_feed(project: Project, *, name: str) -> Project:
    """Remove a feed; what was bound to it plays as the pattern has it, and what it led to is led to no more."""
    feeds = project.motion.feeds
    kept = tuple(one for one in feeds if one.name != name)
    if len(kept) == len(feeds):
        known = ", ".join(one.name for one in feeds) or "none"
        raise Trouble(f"There is no feed “{short(name)}”; there are: {known}.")
    score = tuple(
        msgspec.structs.replace(one, bound=tuple(row for row in one.bound if row[1] != name)) for one in project.motion.score
    )
    changes = tuple(one for one in project.motion.changes if one.by not in ("over", "under") or one.feed != name)
    motion = msgspec.structs.replace(project.motion, feeds=kept, score=score, changes=changes)
    return msgspec.structs.replace(project, motion=motion)
