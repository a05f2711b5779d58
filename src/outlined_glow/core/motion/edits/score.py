"""The edits of a score as a whole: its pace, its markers, all of it gone."""

from __future__ import annotations

import msgspec

from ...errors import Trouble
from ...project import Marker, Param, Project, edit
from ...text_safety import short
from .strips import with_score

OVER = (("dim", "dims the frame"), ("clip", "clips the brightest"))


@edit(
    "stretch-score",
    "Everything takes {by} times as long",
    by=Param("quantity", "", 0.05, 20, optional=False, title="times as long", step=0.1),
)
def stretch_score(project: Project, *, by: float) -> Project:
    """Play everything slower (by more than 1) or faster: starts, lengths, periods and fades."""
    motion = project.motion
    score = tuple(
        msgspec.structs.replace(
            one, start_s=one.start_s * by, length_s=one.length_s * by, period_s=one.period_s * by,
            fade_in_s=one.fade_in_s * by, fade_out_s=one.fade_out_s * by,
        )
        for one in motion.score
    )  # fmt: skip
    longest = max((one.end_s for one in score), default=motion.period_s * by)
    most = 7200.0 if score else 600.0
    if longest > most or (not score and motion.period_s * by < 0.05):
        raise Trouble(f"It would take {longest:g} s; from 0.05 s to {most:g} s are possible.")
    pace = motion.period_s if score else motion.period_s * by
    # What is told of parts of the score goes with them.
    late = max([*(one.start_s + one.length_s for one in motion.scenes), *(one.at_s for one in motion.markers)], default=0.0)
    if score and late * by > most:
        raise Trouble(f"A scene or a marker would be at {late * by:g} s; a score lasts at most two hours (7200 s).")
    scenes, markers = motion.scenes, motion.markers
    if score:
        scenes = tuple(
            msgspec.structs.replace(one, start_s=one.start_s * by, length_s=one.length_s * by) for one in motion.scenes
        )
        markers = tuple(msgspec.structs.replace(one, at_s=one.at_s * by) for one in motion.markers)
    made = msgspec.structs.replace(motion, score=score, period_s=pace, scenes=scenes, markers=markers)
    return msgspec.structs.replace(project, motion=made)


@edit(
    "set-marker",
    "Marker {name}",
    name=Param("text", optional=False),
    at_s=Param("quantity", "s", 0, 7200, title="is at", step=0.25),
    called=Param("text"),
)
def set_marker(project: Project, *, name: str, at_s: float | None = None, called: str | None = None) -> Project:
    """Mark a moment of the score by a name, move a marker, or (`called`) name it otherwise."""
    markers = {one.name: one for one in project.motion.markers}
    new = called or name
    if len(new) > 40 or (new != name and new in markers):
        raise Trouble(f"A marker is named by up to 40 letters, and no two alike, not “{short(new)}”.")
    if called is not None and name not in markers:
        raise Trouble(f"There is no marker “{short(name)}”; there are: {', '.join(markers) or 'none'}.")
    before = markers.pop(name, Marker(name=name))
    if len(markers) >= 200:
        raise Trouble("There are 200 markers at most; remove one.")
    made = msgspec.structs.replace(before, name=new, at_s=before.at_s if at_s is None else at_s)
    order = tuple(sorted((*markers.values(), made), key=lambda one: (one.at_s, one.name)))
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(project.motion, markers=order))


@edit("remove-marker", "No marker {name}", name=Param("text", optional=False))
def remove_marker(project: Project, *, name: str) -> Project:
    """Remove a marker of the score."""
    markers = project.motion.markers
    kept = tuple(one for one in markers if one.name != name)
    if len(kept) == len(markers):
        there = ", ".join(one.name for one in markers) or "none"
        raise Trouble(f"There is no marker “{short(name)}”; there are: {there}.")
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(project.motion, markers=kept))


@edit(
    "soften-score",
    "Softer over {soft_s} s",
    soft_s=Param("quantity", "s", 0, 2, optional=False, title="what switches goes over in", step=0.05),
)
def soften_score(project: Project, *, soft_s: float) -> Project:
    """Let everything that switches go over in a time, in light alone: starts, lengths and periods stay. 0 lets it switch."""
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(project.motion, soft_s=soft_s))


@edit(
    "set-limit",
    "No frame over {limit_a} A",
    limit_a=Param("quantity", "A", 0, 100, title="at most", shown="mA", step=10, digits=1),
    over=Param("choice", choices=tuple(word for word, _ in OVER), titles=OVER, title="what is over"),
)
def set_limit(project: Project, *, limit_a: float | None = None, over: str | None = None) -> Project:
    """Keep every frame of what plays under a current (0: any): dim a frame that is over it as a whole, or clip its brightest
    lights. It counts in tables for a controller as well."""
    told = {"limit_a": limit_a, "over": over}
    kept = {key: value for key, value in told.items() if value is not None}
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(project.motion, **kept))


@edit("clear-score", "Score cleared")
def clear_score(project: Project) -> Project:
    """Take all strips out of the score; the pattern plays on all LEDs again."""
    return with_score(project, ())
