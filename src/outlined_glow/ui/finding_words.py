"""How many findings there are, in words: the same wherever it is told."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any


def counted(findings: Sequence[Any]) -> str:
    """Stops first, then how many more."""
    stops = sum(one.severity == "stop" for one in findings)
    rest = len(findings) - stops
    words = f"{stops or 'no'} stop{'' if stops == 1 else 's'}"
    return words + (f" · {rest} more" if rest else "")
