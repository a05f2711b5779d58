"""The edit that gives an array another name, and what follows: strips that play on it, a way of driving of its own, and nets
that are called after it."""

from __future__ import annotations

import msgspec

from ..errors import Trouble
from ..project import Design, Param, Project, Strip, following_edit
from ..text_safety import short
from .edits import array_of
from .groups import groups_of


@following_edit(
    "rename-array", "Array “{array}” is “{name}”", array=Param("text", optional=False), name=Param("text", optional=False)
)
def rename_array(project: Project, design: Design, *, array: str, name: str) -> Project:
    """Give an array another name; the strips that play on it, a way of driving of its own, and what was drawn for nets that are
    called after it, go with it."""
    _, one = array_of(design, array)
    called = name.strip()
    if any(other.name == called for other in design.lights):
        raise Trouble(f"There is an array “{short(called)}” already; take another name.")
    new = msgspec.structs.replace(one, name=called)
    renamed = msgspec.structs.replace(design, lights=tuple(new if other is one else other for other in design.lights))
    # LEDs that are in no group are in one that is called like their array.
    group = array if not one.groups and array not in groups_of(renamed) else ""
    renamed = _nets_following(_driven_alike(renamed, group, called), group, called) if group else renamed
    others = [other for other in project.designs if other is not design]
    score = tuple(
        _following(strip, array, group, called, others) if strip.board in ("", design.name) else strip
        for strip in project.motion.score
    )
    changed = project.with_board(design, renamed)
    return msgspec.structs.replace(changed, motion=msgspec.structs.replace(project.motion, score=score))


def _driven_alike(design: Design, group: str, called: str) -> Design:
    """A board whose group is driven as it was."""
    ways = tuple(msgspec.structs.replace(way, group=called) if way.group == group else way for way in design.drive.groups)
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, groups=ways))


def _nets_following(design: Design, group: str, called: str) -> Design:
    """A board whose nets are called after the group, such as “stage 5, row”, with what names them."""

    def now(net: str) -> str:
        return f"{net.removesuffix(group)}{called}" if net.endswith(f", {group}") else net

    wiring, drive = design.wiring, design.drive
    wiring = msgspec.structs.replace(
        wiring, nets=tuple(map(now, wiring.nets)), locked=tuple(map(now, wiring.locked)),
        **{key: tuple(msgspec.structs.replace(one, net=now(one.net)) for one in getattr(wiring, key))
           for key in ("tracks", "pours", "anew")},
    )  # fmt: skip
    drive = msgspec.structs.replace(
        drive, gates=tuple(map(now, drive.gates)),
        given=tuple(msgspec.structs.replace(one, net=now(one.net)) for one in drive.given),
        plugs=tuple(msgspec.structs.replace(one, nets=tuple(map(now, one.nets))) for one in drive.plugs),
    )  # fmt: skip
    return msgspec.structs.replace(design, wiring=wiring, drive=drive)


def _following(strip: Strip, array: str, group: str, called: str, others: list[Design]) -> Strip:
    """A strip that plays where it did; one of all boards goes on to play on what is still called so on others."""
    shared = () if strip.board else tuple(others)
    arrays = _renamed(strip.arrays, array, called, any(one.name == array for other in shared for one in other.lights))
    groups = _renamed(strip.groups, group, called, any(group in groups_of(other) for other in shared))
    return msgspec.structs.replace(strip, arrays=arrays, groups=groups)


def _renamed(names: tuple[str, ...], name: str, other: str, both: bool) -> tuple[str, ...]:
    """Names of which one is another now; `both` where it goes on to stand for something else too."""
    now = (name, other) if both else (other,)
    return tuple(dict.fromkeys(one for known in names for one in (now if known == name else (known,))))
