"""What the passes make of a board, each made when it is first asked for: a reading costs no more than what it reads."""

from __future__ import annotations

import threading
from collections.abc import Iterator, Mapping
from typing import Any

from ..passes import Memory, leading_to
from .board_passes import PASSES

_NAMES = frozenset(one.name for one in PASSES)


class OnDemand(Mapping[str, Any]):
    """The results of all passes of one board by name. To ask for one makes it, and those that lead to it."""

    def __init__(self, memory: Memory, given: Mapping[str, Any], making: threading.Lock) -> None:
        self._memory, self._making = memory, making
        self._made = dict(given)

    def __getitem__(self, name: str) -> Any:
        if name not in self._made and name in self:
            with self._making:
                missing = [one for one in leading_to(PASSES, (name,)) if one.name not in self._made]
                self._made = self._memory.run(missing, self._made)
        return self._made[name]

    def __contains__(self, name: object) -> bool:
        return name in _NAMES or name in self._made

    def __iter__(self) -> Iterator[str]:
        return iter(dict.fromkeys((*self._made, *(one.name for one in PASSES))))

    def __len__(self) -> int:
        return len(_NAMES.union(self._made))
