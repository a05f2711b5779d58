"""The logic family of counters and registers: the one that is wished, or the first that runs on the supply (DOMAIN 5)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ..project import Drive, Finding, Remedy
from .devices import Family, families, family
from .limits import Refused, out_of_range
from .supply.feed import Feed


def works_on(key: str, feed: Feed) -> bool:
    """Whether a family runs over the whole range of a supply."""
    return out_of_range("", family(key), feed) is None


def logic_of(drive: Drive, allowed: Sequence[str], what: str, feed: Feed) -> Family:
    """The family of a counter or register, of those that it comes in. `Refused` where it does not run on the supply, with one
    that does as an edit."""
    wish: str = drive.family if drive.family in allowed else ""
    key = wish or next((one for one in allowed if works_on(one, feed)), allowed[0])
    wrong = out_of_range(what, family(key), feed)
    if wrong is not None:
        raise Refused(_with_another(wrong, [one for one in allowed if one != key and works_on(one, feed)]))
    return family(key)


def _with_another(wrong: Finding, others: Sequence[str]) -> Finding:
    """A finding with the families that would run as edits, before its other remedies."""
    edits = tuple(Remedy(f"take {families()[one].title}", "drive", (("family", one),)) for one in others)
    return replace(wrong, remedies=(*edits, *wrong.remedies))
