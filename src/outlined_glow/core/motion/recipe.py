"""A table of levels as a recipe in whole numbers: few tracks of straight ramps, which lights play, each with a delay.

A track is a row of ramps: so many frames, the level it begins with, and its slope in 1/65536 of a level a frame. The level of
frame k of a ramp is (65536 start + 32768 + k slope) / 65536, rounded down: nothing is lost.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..compiled import kernel
from ..errors import Trouble

Whole = NDArray[np.int64]
#: Frames, tracks and ramps are counted in two bytes.
_MOST = 65_535
_HALF, _ONE = 32_768, 65_536
_RAMP = np.dtype([("frames", "<u2"), ("start", "<u2"), ("slope", "<i4")])


@kernel("i8(i8[::1], i8[:,::1])", exact=True)
def _ramps(levels: Any, out: Any) -> Any:
    """The fewest ramps that make a track, one after another, each as long as it goes; how many there are."""
    count = 0
    at = 0
    while at < len(levels):
        start = levels[at]
        low, high = -(1 << 31) + 1, (1 << 31) - 1
        length = 1
        while at + length < len(levels) and length < 65_535:
            off = levels[at + length] - start
            least = -((-(2 * off - 1) * 32_768) // length)
            most = -((-(2 * off + 1) * 32_768) // length) - 1
            if max(low, least) > min(high, most):
                break
            low, high = max(low, least), min(high, most)
            length += 1
        out[count, 0], out[count, 1] = length, start
        out[count, 2] = 0 if low <= 0 <= high else (low + high) // 2
        count += 1
        at += length
    return count


def recipe(levels: Whole) -> bytes | None:
    """The recipe of levels (frames, lights); None where there are more frames, tracks or ramps than can be counted.

    Two bytes each, low first: how many tracks; for each light its track and its delay in frames; then for each track how many
    ramps, and those: frames, start, slope (four bytes).
    """
    frames, lights = levels.shape
    if frames > _MOST or not frames:
        return None
    tracks: list[Whole] = []
    #: Tracks that have the same levels in any order, by those levels.
    alike: dict[bytes, list[int]] = {}
    played = np.zeros((lights, 2), "<u2")
    for light in range(lights):
        track = np.ascontiguousarray(levels[:, light])
        known = alike.setdefault(np.sort(track).tobytes(), [])
        found = next(((at, delay) for at in known if (delay := _delay(tracks[at], track)) is not None), None)
        if found is None:
            found = len(tracks), 0
            known.append(len(tracks))
            tracks.append(track)
        if len(tracks) > _MOST:
            return None
        played[light] = found
    out = bytearray(len(tracks).to_bytes(2, "little") + played.tobytes())
    room = np.zeros((frames, 3), np.int64)
    for track in tracks:
        count = int(_ramps(track, room))
        rows = np.zeros(count, _RAMP)
        rows["frames"], rows["start"], rows["slope"] = room[:count].T
        out += count.to_bytes(2, "little") + rows.tobytes()
    return bytes(out)


def _delay(track: Whole, other: Whole) -> int | None:
    """By how many frames another track is late, going round; None where it is another one."""
    if np.array_equal(track, other):
        return 0
    twice = np.concatenate([other, other]).astype("<i8").tobytes()
    wanted, size = track.astype("<i8").tobytes(), 8
    at = twice.find(wanted)
    while at >= 0 and at % size:
        at = twice.find(wanted, at + 1)
    return None if at < 0 else at // size


def cooked(data: bytes, frames: int, lights: int) -> Whole:
    """The levels (frames, lights) of a recipe, as a controller works them out. `Trouble` where it cannot be read."""
    try:
        count = int.from_bytes(data[:2], "little")
        played = np.frombuffer(data, "<u2", 2 * lights, 2).reshape(lights, 2)
        at, tracks = 2 + 4 * lights, []
        for _ in range(count):
            many = int.from_bytes(data[at : at + 2], "little")
            rows = np.frombuffer(data, _RAMP, many, at + 2)
            if int(rows["frames"].sum(dtype=np.int64)) != frames:
                raise Trouble(f"The recipe has a track of {rows['frames'].sum(dtype=np.int64)} frames, and there are {frames}.")
            tracks.append(np.concatenate([_ramp(row) for row in rows]))
            at += 2 + _RAMP.itemsize * many
        if at != len(data):
            raise Trouble(f"The recipe ends at byte {at} of {len(data)}.")
        if lights and int(played[:, 0].max()) >= count:
            raise Trouble(f"The recipe has {count} tracks, and a light plays track {int(played[:, 0].max())}.")
    except ValueError as error:
        raise Trouble("The recipe ends within a track.") from error
    out = np.zeros((frames, lights), np.int64)
    for light, (track, delay) in enumerate(played.tolist()):
        out[:, light] = np.roll(tracks[track], delay)
    return out


def _ramp(row: Any) -> Whole:
    steps = np.arange(int(row["frames"]), dtype=np.int64)
    return np.asarray((int(row["start"]) * _ONE + _HALF + steps * int(row["slope"])) // _ONE, np.int64)
