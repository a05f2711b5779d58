"""What an earlier placing found: a part finds the same place again while nothing that reaches it is taken otherwise than then.

Parts take their places one after another, each the best of what is left. So what a part finds depends on the ground it looks
over and on what was taken before. Where both are as they were, the answer is too, and need not be looked for.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Hashable, Sequence
from dataclasses import dataclass, field
from typing import Any

from ..parts import Part

Frame = tuple[float, float, float, float]

#: Where so many frames differ, looking anew is as quick.
_MOST = 256
#: Things that touch may be in each other's way, mm.
_SURE_MM = 0.01


@dataclass(frozen=True)
class Step:
    """A question, what was found, and the frames that this takes; beyond `reach_mm` of what was asked about nothing counts."""

    asked: Hashable
    found: Any
    takes: tuple[Frame, ...] = ()
    reach_mm: float = 0.0


@dataclass
class Before:
    """The steps of an earlier placing, gone through in their order, and where things differ from then by now."""

    steps: Sequence[Step] = ()
    differs: list[Frame] = field(default_factory=list)
    _next: int = 0

    def __post_init__(self) -> None:
        self._put = {step.found.ref: step for step in self.steps if isinstance(step.asked, tuple) and step.asked[0] == "hand"}
        self._of: defaultdict[Hashable, list[int]] = defaultdict(list)
        for at in range(len(self.steps) - 1, -1, -1):
            self._of[self.steps[at].asked].append(at)

    def same_question(self, asked: Hashable) -> Step | None:
        """The next step that asked the same. What the steps before it took, and nobody asked for by now, differs."""
        if len(self.differs) > _MOST:
            return None
        places = self._of.get(asked, [])
        while places and places[-1] < self._next:
            places.pop()
        if not places:
            return None
        at = places.pop()
        for step in self.steps[self._next : at]:
            self.differs.extend(step.takes)
        self._next = at + 1
        return self.steps[at]

    def went(self, then: Step | None, now: Step) -> None:
        """A step was taken; where it is another one than `then`, what both take differs."""
        if then is None or then.takes != now.takes:
            self.differs.extend((*now.takes, *(then.takes if then is not None else ())))

    def stood(self, ref: str, part: Part, place: tuple[float, float, float]) -> bool:
        """Whether a part had been put where it is to stand, and nothing differs there by now."""
        step = self._put.get(ref)
        if step is None or step.found.part is not part or (step.found.x, step.found.y, step.found.angle_deg) != place:
            return False
        return not any(a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3] for a in step.takes for b in self.differs)

    def stays(self, x: float, y: float, reach_mm: float) -> bool:
        """Whether all within reach of a place is as it was then."""
        return len(self.differs) <= _MOST and not any(
            x0 - reach_mm < x < x1 + reach_mm and y0 - reach_mm < y < y1 + reach_mm for x0, y0, x1, y1 in self.differs
        )


def frame_of(*bounds: Frame) -> Frame:
    """The frame round several."""
    x0, y0, x1, y1 = zip(*bounds, strict=True)
    return min(x0) - _SURE_MM, min(y0) - _SURE_MM, max(x1) + _SURE_MM, max(y1) + _SURE_MM
