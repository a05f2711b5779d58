"""The edits of how scenes tell which one they are, and what they do after a power cut."""

from __future__ import annotations

import msgspec

from ...errors import Trouble
from ...project import Param, Project, Scene, Strip, edit
from .strips import NONE, with_score

SIGNS = (
    ("led", "an LED of its own"),
    ("colour", "a colour of its own"),
    ("digit", "its number on a digit"),
    ("blinks", "so many blinks"),
)
AFTER = (("first", "plays the first scene"), ("last", "plays the last scene"))
#: Colours that are told from one another, also by most who see fewer of them.
_COLOURS = ("FFB000", "3060FF", "20C040", "FF3020", "C040FF", "20D0D0", "F0F0F0", "FF60A0")
#: A blink of a sign, and how long a scene tells its number at its beginning, s.
_BLINK_S, _SHORT_S = 0.4, 1.5


@edit(
    "sign-scenes",
    "Scenes tell themselves by {by}",
    by=Param("choice", choices=(*(word for word, _ in SIGNS), NONE), titles=(*SIGNS, (NONE, "nothing")), optional=False,
             title="told by"),
    leds=Param("numbers"),
    group=Param("names"),
    array=Param("names"),
)  # fmt: skip
def sign_scenes(
    project: Project, *, by: str, leds: tuple[int, ...] | None = None, group: tuple[str, ...] | None = None,
    array: tuple[str, ...] | None = None,
) -> Project:  # fmt: skip
    """Let every scene tell which one it is, by strips over all others: an LED of its own for as long as it plays, a colour, its
    number on a digit, or so many blinks at its beginning; on the LEDs that are given. Signs that were there before go."""
    motion = project.motion
    score = tuple(one for one in motion.score if not one.sign_of)
    if by == NONE:
        return with_score(project, score)
    scenes = motion.scenes
    if not scenes:
        raise Trouble("There are no scenes that could be told apart; make them first (set-scene).")
    if not (leds or group or array):
        raise Trouble("A sign needs LEDs of its own: give leds=, group= or array=.")
    if by == "led" and len(leds or ()) < len(scenes):
        raise Trouble(f"There are {len(scenes)} scenes; give as many LEDs (leds=), one for each, not {len(leds or ())}.")
    if by in ("colour", "digit", "blinks") and len(scenes) > (8 if by == "colour" else 9):
        raise Trouble(
            f"{len(scenes)} scenes cannot be told by {dict(SIGNS)[by]}; there are {8 if by == 'colour' else 9} at most."
        )
    row = max((one.row for one in score), default=0) + 1
    if row > 199:
        raise Trouble("The score has no row left for signs; remove a strip of the highest row.")
    number = max((one.number for one in score), default=0)
    made: list[Strip] = []
    for at, scene in enumerate(scenes):
        where = {"leds": leds or (), "groups": group or (), "arrays": array or ()}
        for strip in _sign(by, at, scene):
            number += 1
            own = {**where, "leds": (leds[at],)} if by == "led" and leds else where
            # Scenes may lie over one another: then each has a row of its own.
            made.append(msgspec.structs.replace(strip, number=number, row=min(200, row + _over(scenes, at)), **own))
    return with_score(project, (*score, *made))


def _sign(by: str, at: int, scene: Scene) -> list[Strip]:
    whole = Strip(number=1, pattern="steady", start_s=scene.start_s, length_s=scene.length_s, period_s=scene.length_s,
                  sign_of=scene.name)  # fmt: skip
    if by == "led":
        return [whole]
    if by == "colour":
        return [msgspec.structs.replace(whole, colour=_COLOURS[at])]
    short = min(scene.length_s, _SHORT_S)
    if by == "digit":
        return [msgspec.structs.replace(whole, pattern="number", text=str(at + 1), length_s=short)]
    blink = min(_BLINK_S, scene.length_s / (at + 1))
    return [
        msgspec.structs.replace(whole, pattern="blink", length_s=blink, period_s=blink, repeats=at + 1)
    ]  # fmt: skip


def _over(scenes: tuple[Scene, ...], at: int) -> int:
    """How many scenes before a scene play at a time at which it does."""
    one = scenes[at]
    return sum(
        other.start_s < one.start_s + one.length_s and one.start_s < other.start_s + other.length_s for other in scenes[:at]
    )


@edit(
    "set-power-cut",
    "After a power cut",
    after=Param("choice", choices=tuple(word for word, _ in AFTER), titles=AFTER, optional=False, title="after a power cut it"),
)
def set_power_cut(project: Project, *, after: str) -> Project:
    """What plays after a power cut: the first scene, or the last one that played, which the program of the controller then has
    to keep."""
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(project.motion, after_cut=after))
