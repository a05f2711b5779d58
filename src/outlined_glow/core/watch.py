"""Long work, watched: how far it is, in what, whether it is still wanted, and whether it gives way to something else."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass, replace


class Cancelled(Exception):
    """The work is no longer wanted."""


_thread = threading.local()


def give_way() -> None:
    """For the loops of long work: here it may be held up or called off, as whoever runs it on this thread has it."""
    hold: Callable[[], None] | None = getattr(_thread, "hold", None)
    if hold is not None:
        hold()


def given_way_by(hold: Callable[[], None] | None) -> None:
    """From now on work on this thread calls `hold` wherever it can give way; it may wait there, or raise `Cancelled`."""
    _thread.hold = hold


@dataclass(frozen=True)
class Watch:
    """Somebody who waits: `cancelled` says that they no longer do, `told` takes the share done and what is being done, `enough`
    says that they take what there is by then.

    A part of the work gets a watch of its own, whose shares lie between `low` and `high` of the whole.
    """

    cancelled: Callable[[], bool] = lambda: False
    told: Callable[[float, str], None] = lambda share, words: None
    low: float = 0.0
    high: float = 1.0
    words: str = ""
    enough: Callable[[], bool] = lambda: False

    def at(self, share: float) -> None:
        """So much of this part is done. `Cancelled` when nobody waits any more."""
        give_way()
        if self.cancelled():
            raise Cancelled
        self.told(self.low + (self.high - self.low) * share, self.words)

    def part(self, low: float, high: float, words: str = "") -> Watch:
        """The watch of a part of this work."""
        span = self.high - self.low
        return replace(self, low=self.low + span * low, high=self.low + span * high, words=words or self.words)


#: Nobody waits, and nobody calls it off.
ALONE = Watch()
