"""What of scenes and presses would not be understood: never reached, no way out, alike, unanswered."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Iterator, Mapping

import numpy as np
from numpy.typing import NDArray

from ...colour.difference import lightness
from ...project import Finding, Motion, Remedy, Scene
from ...project.finding import some_of
from ...units import show
from ..lamps import Lamps
from ..scenes import PRESSES, leads_on, reached
from ..score import levels

Numbers = NDArray[np.float64]
#: Scenes whose mean difference of lightness is under this look alike; a press is to be answered within this, s.
ALIKE, ANSWERED_S = 5.0, 0.2
#: What a scene may end later than the score, and how long one is at least, s.
_SLACK_S, _LEAST_S = 1e-6, 0.02
#: Moments of a scene that are compared, and of the answer to a press.
_MOMENTS, _ANSWERS = 60, 5


def scene_findings(motion: Motion, lamps: Lamps) -> list[Finding]:
    """Of all scenes and changes."""
    if not motion.scenes or not lamps.count:
        return []
    there, out = reached(motion), []
    for one in motion.scenes:
        remove = Remedy("remove it", "remove-scene", (("name", one.name),))
        if one.name not in there:
            text = f"Nothing leads to the scene “{one.name}”. Add a change to it."
            out.append(_told("scene-not-reached", text, (remove,)))
        if not leads_on(motion, one):
            text = f"Nothing leads out of the scene “{one.name}”, and it does not switch off. Add a change."
            ends = Remedy("let it switch off", "set-scene", (("name", one.name), ("then", "off")))
            out.append(_told("scene-without-end", text, (ends,)))
    out += _beyond(motion)
    shown = {one.name: _lightness(motion, lamps, np.linspace(0, one.length_s, _MOMENTS, endpoint=False) + one.start_s)
             for one in motion.scenes}  # fmt: skip
    return [*out, *_looking_alike(motion, shown), *_unanswered(motion, lamps)]


def _beyond(motion: Motion) -> Iterator[Finding]:
    """Scenes of parts that the score does not have: there it begins again."""
    for one in motion.scenes if motion.score else ():
        end = one.start_s + one.length_s
        if end > motion.seconds + _SLACK_S:
            left = motion.seconds - one.start_s
            text = f"The scene “{one.name}” ends at {show(end, 2)} s, and the score at {show(motion.seconds, 2)} s: after that"
            cut = Remedy("end it with the score", "set-scene", (("name", one.name), ("length_s", left)))
            remove = Remedy("remove it", "remove-scene", (("name", one.name),))
            yield _told(
                "scene-beyond-score", f"{text} the score plays from its beginning.",
                (cut if left >= _LEAST_S else remove,), round(end, 3), round(motion.seconds, 3),
            )  # fmt: skip


def _looking_alike(motion: Motion, shown: Mapping[str, Numbers]) -> Iterator[Finding]:
    """Scenes that nobody can tell apart: each with all that look like it, unless they were told together before."""
    signed = {one.sign_of for one in motion.score}
    names, told = [one.name for one in motion.scenes], set[tuple[str, str]]()
    for at, name in enumerate(names):
        others = [one for one in names[at + 1 :] if not {name, one} <= signed]  # a sign tells those
        off = {one: float(np.abs(shown[name] - shown[one]).mean()) for one in others}
        same = [name, *(one for one in others if off[one] < ALIKE)]
        pairs = set(itertools.combinations(same, 2))
        if pairs - told:
            told |= pairs
            which = f"“{same[0]}” and “{same[1]}”" if len(same) == 2 else some_of([f"“{one}”" for one in same])
            text = f"The scenes {which} look alike: nobody can tell which one it is."
            yield _told("scenes-alike", text, measured=round(min(off[one] for one in same[1:]), 2), allowed=ALIKE)


def _unanswered(motion: Motion, lamps: Lamps) -> Iterable[Finding]:
    """Presses after which nothing is seen to change in time."""
    scenes = {one.name: one for one in motion.scenes}
    doubled = {(one.of, one.button) for one in motion.changes if one.by == "double"}
    late = {one.name: one.double_s for one in motion.buttons if one.double_s > ANSWERED_S}
    for one in motion.changes:
        if one.by not in PRESSES:
            continue
        waits = one.by == "short" and one.button in late and {(one.of, one.button), ("", one.button)} & doubled
        if waits:
            text = f"A short press of “{one.button}” waits {late[one.button]:g} s for a second one before anything is seen."
            quicker = Remedy("wait 0.2 s", "add-button", (("name", one.button), ("double_s", ANSWERED_S)))
            yield _told("press-unanswered", text, (quicker,), late[one.button], ANSWERED_S)
        for name in [one.of] if one.of else [name for name in scenes if name != one.to]:
            source, target = scenes.get(name), scenes.get(one.to)
            if source is not None and source is not target and _alike(motion, lamps, source, target):
                text = f"A {one.by} press of “{one.button}” in the scene “{name}” is not answered within {ANSWERED_S:g} s: "
                text += "what is seen hardly changes."
                yield _told("press-unanswered", text, allowed=ANSWERED_S)


def _alike(motion: Motion, lamps: Lamps, source: Scene, target: Scene | None) -> bool:
    """Whether, wherever a scene is, the first moments of the next one look the same."""
    before = _lightness(motion, lamps, source.start_s + np.linspace(0, source.length_s, _MOMENTS, endpoint=False))
    if target is None:
        return bool(before.mean() < ALIKE)
    reach = min(ANSWERED_S, target.length_s)
    after = _lightness(motion, lamps, target.start_s + np.linspace(0, reach, _ANSWERS, endpoint=False))
    most = np.abs(before[:, None] - after[None]).mean(axis=tuple(range(2, before.ndim + 1))).max(axis=1)
    return bool(most.max() < ALIKE)


def _lightness(motion: Motion, lamps: Lamps, times: Numbers) -> Numbers:
    """The lightness (t, n) of each LED at moments, its lights together."""
    there = np.maximum((lamps.kinds > 0).sum(axis=1), 1)
    return lightness(levels(motion, lamps, times).sum(axis=2) / there)


def _told(
    code: str, text: str, remedies: tuple[Remedy, ...] = (), measured: float | None = None, allowed: float | None = None
) -> Finding:
    return Finding(
        code=code, severity="warning", stage="motion", text=text, measured=measured, allowed=allowed, remedies=remedies
    )
