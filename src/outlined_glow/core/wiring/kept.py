"""Copper that was made, kept in the project's file: what opens is the board that was saved."""

from __future__ import annotations

import hashlib
import itertools
import json
from typing import Any

from ..drive.standing import standing_from
from .copper import Points
from .flowing import FLOW
from .made import Laid, Lost, Routed

#: Where the copper of boards is kept in a project's file.
COPPER = "copper/"
_FORMAT = 1
#: No board reaches so many cells, or mm, from the corner of its picture.
_FARTHEST = 10_000_000


def copper_member(board: str) -> str:
    """Where the copper of a board of that name is kept."""
    return f"{COPPER}{hashlib.sha256(board.encode()).hexdigest()[:32]}.json"


def pack(routed: Routed) -> bytes:
    """The branches as bytes."""
    rows = [[one.net, one.width, [number for corner in one.corners for number in corner], one.times] for one in routed.laid]
    for row, one in zip(rows, routed.laid, strict=True):
        row += [one.areas] if one.areas else []
    content = {"format": _FORMAT, "pitch_mm": routed.pitch, "wish": routed.wish, "mark": routed.mark, "branches": rows}
    content["unjoined"] = [[one.net, *one.start, *one.end] for one in routed.lost]
    content["stood"] = [one.row() for one in routed.stood]
    if routed.ways:
        content |= {"flow": FLOW, "ways": [[number for spot in way for number in spot] for way in routed.ways]}
    return json.dumps(content, separators=(",", ":")).encode()


def unpack(data: bytes) -> Routed | None:
    """The branches that were packed; None where the bytes are none: they are made anew then."""
    try:
        content = json.loads(data)
        if content["format"] != _FORMAT or not 0 < float(content["pitch_mm"]) < 10:
            return None
        laid = tuple(_laid(*row) for row in content["branches"])
        lost = tuple(_lost(*row) for row in content["unjoined"])
        stood = tuple(standing_from(row) for row in content.get("stood", ()))
        pitch, wish, mark = float(content["pitch_mm"]), str(content["wish"]), str(content["mark"])
    except (ValueError, KeyError, TypeError, RecursionError, OverflowError):
        return None
    return Routed(laid=laid, lost=lost, pitch=pitch, wish=wish, mark=mark, ways=_ways(content), stood=stood)


def _lost(net: Any, ref: Any, pin: Any, other_ref: Any, other_pin: Any) -> Lost:
    words = (net, ref, pin, other_ref, other_pin)
    if not all(isinstance(one, str) for one in words):
        raise ValueError("a pin")
    return Lost(net, (ref, pin), (other_ref, other_pin))


def _ways(content: dict[str, Any]) -> tuple[Points, ...]:
    """How the tracks flow; nothing where that is damaged: they are drawn anew over the branches that were kept."""
    try:
        return tuple(map(_way, content.get("ways", ()))) if content.get("flow") == FLOW else ()
    except (ValueError, TypeError, OverflowError):
        return ()


def _way(numbers: Any) -> Points:
    places = [float(number) for number in numbers]
    if len(places) < 4 or len(places) % 2 or not all(abs(place) < _FARTHEST for place in places):
        raise ValueError("a way")
    return tuple(zip(places[::2], places[1::2], strict=True))


def _laid(net: Any, width: Any, numbers: Any, times: Any, areas: Any = 0) -> Laid:
    if not (isinstance(net, str) and 0 < float(width) < 100 and len(numbers) >= 6 and len(numbers) % 3 == 0):
        raise ValueError("a branch")
    whole = [int(number) for number in numbers]
    corners = tuple(zip(whole[::3], whole[1::3], whole[2::3], strict=True))
    if any(abs(number) > _FARTHEST for number in whole) or any(layer not in (0, 1) for _, _, layer in corners):
        raise ValueError("a place")
    for one, other in itertools.pairwise(corners):
        steps = [abs(a - b) for a, b in zip(one, other, strict=True)]
        level, through = steps[2] == 0 and max(steps[:2]) > 0, steps[:2] == [0, 0] and steps[2] == 1
        if not (through or (level and min(steps[:2]) in (0, max(steps[:2])))):
            raise ValueError("a step")
    return Laid(net, float(width), corners, int(times), int(areas))
