"""Scenes: which part of the score plays when, after which presses; a press is told from what a contact does."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import msgspec
import numpy as np

from ..project import Button, Feed, Motion, Scene, SceneChange
from .feeds import values_of

#: The kinds of a press, and what else leads from scene to scene.
PRESSES = ("short", "long", "very long", "double")
#: What of a motion decides which scene plays, beside its feeds.
_SCENERY = ("scenes", "buttons", "changes", "after_cut")
#: Feeds are looked at so often, s.
_LOOK_S = 0.05


@dataclass(frozen=True)
class Press:
    """A press that was told: when that was, s, of which kind, and of which button."""

    time_s: float
    kind: str
    button: str


def presses_of(button: Button, edges: Sequence[tuple[float, bool]]) -> list[Press]:
    """The presses that a contact makes: `edges` are moments (s) and whether it is closed from then on. What is shorter than the
    bounce is none. A long press is told as soon as it is long enough, a short one when it ends, or once no second one came."""
    pressed = [(time, closed == (button.contact == "closes")) for time, closed in edges]
    settled: list[tuple[float, bool]] = []
    for at, (time, down) in enumerate(pressed):
        until = pressed[at + 1][0] if at + 1 < len(pressed) else float("inf")
        if until - time >= button.debounce_s and (settled[-1][1] if settled else False) != down:
            settled.append((time, down))
    out: list[Press] = []
    ended: float | None = None
    for at, (time, down) in enumerate(settled):
        if not down:
            continue
        end = settled[at + 1][0] if at + 1 < len(settled) else float("inf")
        told = [(button.long_s, "long"), (button.very_long_s, "very long")]
        held = [Press(time + after, kind, button.name) for after, kind in told if end - time >= after]
        if held:
            out += held
            ended = None
        elif ended is not None and time - ended <= button.double_s:
            out[-1] = Press(end, "double", button.name)
            ended = None
        else:
            out.append(Press(end, "short", button.name))
            ended = end
    return sorted(out, key=lambda one: one.time_s)


class Contact:
    """A button that somebody presses now, by a hand that does not bounce."""

    def __init__(self, button: Button) -> None:
        self._button = msgspec.structs.replace(button, debounce_s=0.0, contact="closes")
        self._edges: list[tuple[float, bool]] = []
        self._told_s = -1.0

    def at(self, time_s: float, down: bool | None = None) -> list[Press]:
        """The presses that are told at a moment, at which it goes down or up, or (None) stays as it is."""
        if down is not None:
            if down and self._edges and time_s - self._edges[-1][0] > self._button.double_s:
                self._edges = []  # what was before has nothing to do with this press
            self._edges.append((time_s, down))
        found = [one for one in presses_of(self._button, self._edges) if self._told_s < one.time_s <= time_s]
        self._told_s = max([self._told_s, *(one.time_s for one in found)])
        return found


class Run:
    """A motion while somebody uses it: the scene that plays, since when, and what leads on from it."""

    def __init__(self, motion: Motion, last: str = "") -> None:
        self.motion = motion
        self._scenes = {one.name: one for one in motion.scenes}
        first = motion.scenes[0] if motion.scenes else None
        #: After a power cut the last scene may go on: it is known by its name.
        self.scene: Scene | None = self._scenes.get(last, first) if motion.after_cut == "last" else first
        self.since_s = 0.0
        self._now = 0.0
        self._feeds: dict[str, Feed] = {one.name: one for one in motion.feeds}

    def goes_on_with(self, motion: Motion) -> bool:
        """Whether scenes, buttons and changes are those of another motion, as where its strips or feeds alone are others: then
        that plays on from where this is."""
        if any(getattr(motion, name) != getattr(self.motion, name) for name in _SCENERY):
            return False
        self.motion, self._feeds = motion, {one.name: one for one in motion.feeds}
        return True

    def press(self, kind: str, button: str, time_s: float) -> bool:
        """A press; whether something follows from it."""
        self.go(time_s)
        change = next((one for one in self._from_here() if one.by == kind and one.button == button), None)
        if change is None:
            return False
        self._to(change, time_s)
        return True

    def go(self, time_s: float) -> None:
        """Let time pass up to a moment: ends, times and feeds lead on."""
        for _ in range(10_000):
            due = self._due(time_s)
            if due is None:
                break
            self._to(due[1], due[0])
        self._now = max(self._now, time_s)

    def score_s(self, time_s: float) -> float | None:
        """The moment of the score that is to be seen; None where all is dark."""
        one = self.scene
        if not self.motion.scenes:
            return time_s % self.motion.seconds
        if one is None:
            return None
        past = time_s - self.since_s
        if past < one.length_s:
            return one.start_s + max(0.0, past)
        if one.then == "again":
            return one.start_s + past % one.length_s
        # The last moment, not the first one of what follows.
        return one.start_s + one.length_s * (1 - 1e-6) if one.then == "hold" else None

    def _from_here(self) -> list[SceneChange]:
        """The changes that lead on from the scene; those of its own come before those of any. Switched off, a press of a button
        that leads anywhere switches on."""
        name = "" if self.scene is None else self.scene.name
        own = [one for one in self.motion.changes if one.of == name] if name else []
        return own + [one for one in self.motion.changes if one.of == ""]

    def _due(self, until: float) -> tuple[float, SceneChange] | None:
        """The change that is due first, up to a moment, and when."""
        if self.scene is None:
            return None
        found: list[tuple[float, SceneChange]] = []
        for one in self._from_here():
            when = {"end": self.since_s + self.scene.length_s, "time": self.since_s + max(one.value, 0.001)}.get(one.by)
            if one.by in ("over", "under"):
                when = self._passes(one, until)
            if when is not None and when <= until:
                found.append((when, one))
        if self.scene.then == "off" and self.since_s + self.scene.length_s <= until:
            found.append((self.since_s + self.scene.length_s, SceneChange(number=1, to="")))
        return min(found, key=lambda pair: pair[0], default=None)

    def _passes(self, one: SceneChange, until: float) -> float | None:
        """When a feed passes the value of a change."""
        feed = self._feeds.get(one.feed)
        if feed is None or until <= self._now:
            return None
        # The looks are at the same moments, in however small steps time passes.
        first, last = (int(moment / _LOOK_S + 1e-9) for moment in (max(self._now, self.since_s), until))
        times = np.minimum(np.arange(first + 1, last + 1) * _LOOK_S, until)
        values = values_of(feed, times)
        hit = np.flatnonzero(values > one.value if one.by == "over" else values < one.value)
        return float(times[hit[0]]) if len(hit) else None

    def _to(self, change: SceneChange, time_s: float) -> None:
        self.scene = self._scenes.get(change.to)
        self.since_s = self._now = time_s


def reached(motion: Motion) -> set[str]:
    """The scenes that can come to play."""
    if not motion.scenes:
        return set()
    known = {one.name for one in motion.scenes}
    out, left = {motion.scenes[0].name}, [motion.scenes[0].name]
    while left:
        name = left.pop()
        for one in motion.changes:
            if one.of in ("", name) and one.to in known and one.to not in out:
                out.add(one.to)
                left.append(one.to)
    return out


def leads_on(motion: Motion, scene: Scene) -> bool:
    """Whether something ends a scene: a change, or that it switches itself off."""
    return scene.then == "off" or any(one.of in ("", scene.name) and one.to != scene.name for one in motion.changes)
