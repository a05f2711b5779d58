"""The edits of feeds: values that change while the score plays."""

from __future__ import annotations

from typing import Any

import msgspec

from ..errors import Trouble
from ..project import Feed, Param, Project, edit
from ..text_safety import short
from .edits import NONE, strip_of
from .feeds import read_points
from .pattern import pattern
from .score import LEVEL

KINDS = (
    ("tide", "a tide"),
    ("clock", "a clock"),
    ("counter", "a counter"),
    ("walk", "a slow walk of chance"),
    ("charge", "a cell that empties"),
    ("wave", "a wave"),
    ("recorded", "as recorded"),
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
    file=Param("picture"),
)
def set_feed(project: Project, *, name: str, **told: Any) -> Project:
    """Make a feed, or change it: a value that changes while the score plays, simulated or from a file of recorded values (CSV:
    moment in s, value; or JSON lines with t and value)."""
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


@edit(
    "bind",
    "{key} of strip {number} follows {feed}",
    number=Param("count", "", 1, 100_000, optional=False),
    key=Param("text", optional=False),
    feed=Param("text", optional=False),
)
def bind(project: Project, *, number: int, key: str, feed: str) -> Project:
    """Let a number of the pattern of a strip (such as value), or its level, follow a feed; none lets it be as it is set."""
    motion = project.motion
    one = strip_of(motion, number)
    kept = tuple(row for row in one.bound if row[0] != key)
    if feed != NONE:
        takes = (*pattern(one.pattern).keys, LEVEL)
        if key not in takes:
            raise Trouble(f"“{one.pattern}” has no “{short(key)}” that could follow a feed; there are: {', '.join(takes)}.")
        if feed not in {known.name for known in motion.feeds}:
            known = ", ".join(one.name for one in motion.feeds) or "none"
            raise Trouble(f"There is no feed “{short(feed)}”; there are: {known}.")
        kept = tuple(sorted((*kept, (key, feed))))
    score = tuple(msgspec.structs.replace(one, bound=kept) if one.number == number else one for one in motion.score)
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(motion, score=score))


@edit("remove-feed", "No feed {name}", name=Param("text", optional=False))
def remove_feed(project: Project, *, name: str) -> Project:
    """Remove a feed; what was bound to it plays as the pattern has it."""
    feeds = project.motion.feeds
    kept = tuple(one for one in feeds if one.name != name)
    if len(kept) == len(feeds):
        known = ", ".join(one.name for one in feeds) or "none"
        raise Trouble(f"There is no feed “{short(name)}”; there are: {known}.")
    score = tuple(
        msgspec.structs.replace(one, bound=tuple(row for row in one.bound if row[1] != name)) for one in project.motion.score
    )
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(project.motion, feeds=kept, score=score))
