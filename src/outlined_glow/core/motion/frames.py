"""What plays as whole numbers, frame after frame, in the order of the chain: for a controller, and to read back."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from dataclasses import dataclass

import msgspec
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ..errors import Trouble
from ..project import Drive, Motion
from .lamps import Lamps
from .score import levels
from .truth import real_levels, shares_of

Whole = NDArray[np.int64]
#: Frames a second unless told.
USUAL_FPS = 50.0
#: Frames of one table, and numbers in it; numbers of one that is packed only to know its size.
_MOST_FRAMES, _MOST_NUMBERS, _MOST_MEASURED = 100_000, 50_000_000, 2_000_000


@dataclass(frozen=True, eq=False)
class Table:
    """Levels (frames, LEDs x lights) of so many bits, so many frames a second. LEDs in the order of the chain by their index;
    the lights of each come one after another."""

    levels: Whole
    fps: float
    bits: int
    channels: int
    leds: tuple[int, ...]


def table_of(
    drive: Drive, motion: Motion, lamps: Lamps, *, fps: float = USUAL_FPS, seconds: float | None = None, real: bool = False
) -> Table:
    """The table of what is wanted, or of what the LEDs really show as they are driven."""
    length = motion.seconds if seconds is None else seconds
    count = max(1, round(length * fps))
    if not 1 <= fps <= 1000 or count > _MOST_FRAMES or count * max(1, lamps.kinds.size) > _MOST_NUMBERS:
        raise Trouble(
            f"{length:g} s at {fps:g} frames a second are {count} frames of {lamps.kinds.size} numbers;"
            f" {_MOST_FRAMES:,} frames and {_MOST_NUMBERS:,} numbers in all are possible. Ask for fewer."
        )
    bits = max((way.bits(own) for way, own, rows in shares_of(drive, lamps) if len(rows)), default=8)
    order = np.argsort(lamps.chain, kind="stable")
    most = (1 << bits) - 1
    parts = []
    for first in range(0, count, 1000):
        times = np.arange(first, min(count, first + 1000)) / fps
        made = real_levels(drive, motion, lamps, times) if real else levels(motion, lamps, times)
        parts.append(np.round(made[:, order] * most).astype(np.int64).reshape(len(times), -1))
    indices = tuple(lamps.indices[at] for at in order.tolist())
    return Table(np.concatenate(parts), fps, bits, lamps.channels, indices)


def as_json(table: Table) -> bytes:
    """One object: fps, bits, channels, the LEDs by index, the frames."""
    content = {
        "fps": table.fps, "bits": table.bits, "channels": table.channels, "leds": list(table.leds),
        "frames": table.levels.tolist(),
    }  # fmt: skip
    return msgspec.json.encode(content) + b"\n"


def as_csv(table: Table) -> bytes:
    """A row a frame under a line that tells fps and bits and one that names the columns."""
    text = io.StringIO()
    text.write(f"# fps {table.fps:g}, bits {table.bits}, channels {table.channels}\n")
    out = csv.writer(text, lineterminator="\n")
    names = [f"{led}" if table.channels == 1 else f"{led}.{light + 1}" for led in table.leds for light in range(table.channels)]
    out.writerow(names)
    out.writerows(table.levels.tolist())
    return text.getvalue().encode()


def as_picture(table: Table) -> bytes:
    """A grey picture: LEDs down, frames across."""
    grey = np.round(table.levels.T * (255 / ((1 << table.bits) - 1))).astype(np.uint8)
    buffer = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(grey)).save(buffer, "PNG")
    return buffer.getvalue()


# -- packed for a controller --------------------------------------------------------------------------------------

#: How a packed table begins, so that it is told from raw numbers; then the number of the packing.
_MARK = b"OGT"
#: A run or a list of differences counts to this.
_MOST_RUN, _MOST_CHANGES = 255, 65_535


def raw(table: Table) -> bytes:
    """Frames one after another, the first number in the highest bits, each frame filled up to a whole byte."""
    return _rows(table).tobytes()


def _rows(table: Table) -> NDArray[np.uint8]:
    """The bytes (frames, bytes) of each frame."""
    shifts = np.arange(table.bits - 1, -1, -1)
    bits = (table.levels[:, :, None] >> shifts) & 1
    return np.packbits(bits.reshape(len(table.levels), -1).astype(np.uint8), axis=1)


def _runs(rows: NDArray[np.uint8]) -> bytes:
    """How often a frame stays, one byte, and the frame."""
    out = bytearray()
    at = 0
    while at < len(rows):
        end = at + 1
        while end < len(rows) and end - at < _MOST_RUN and np.array_equal(rows[end], rows[at]):
            end += 1
        out += bytes([end - at]) + rows[at].tobytes()
        at = end
    return bytes(out)


def _unrun(data: bytes, wide: int) -> NDArray[np.uint8]:
    out = []
    for at in range(0, len(data), wide + 1):
        piece = data[at : at + wide + 1]
        if len(piece) != wide + 1 or piece[0] == 0:
            raise Trouble(f"The table of runs ends within a frame, at byte {at}.")
        out += [piece[1:]] * piece[0]
    return np.frombuffer(b"".join(out), np.uint8).reshape(-1, wide)


def _differences(rows: NDArray[np.uint8]) -> bytes:
    """The bytes that change from a frame to the next: their count (two bytes, low first), then place (two bytes) and value."""
    out = bytearray()
    before = np.zeros(rows.shape[1], np.uint8)
    for row in rows:
        changed = np.flatnonzero(row != before)
        out += len(changed).to_bytes(2, "little")
        for at in changed.tolist():
            out += at.to_bytes(2, "little") + bytes([row[at]])
        before = row
    return bytes(out)


def _added_up(data: bytes, wide: int) -> NDArray[np.uint8]:
    out, now, at = [], bytearray(wide), 0
    while at < len(data):
        count = int.from_bytes(data[at : at + 2], "little")
        piece = data[at + 2 : at + 2 + 3 * count]
        if len(data) < at + 2 or len(piece) != 3 * count:
            raise Trouble(f"The table of differences ends within a frame, at byte {at}.")
        for place in range(0, len(piece), 3):
            where = int.from_bytes(piece[place : place + 2], "little")
            if where >= wide:
                raise Trouble(f"The table changes byte {where} of a frame of {wide}, at byte {at}.")
            now[where] = piece[place + 2]
        out.append(bytes(now))
        at += 2 + 3 * count
    return np.frombuffer(b"".join(out), np.uint8).reshape(-1, wide)


_PACK: dict[str, Callable[[NDArray[np.uint8]], bytes]] = {
    "raw": lambda rows: rows.tobytes(), "runs": _runs, "differences": _differences,
}  # fmt: skip
_UNPACK: dict[str, Callable[[bytes, int], NDArray[np.uint8]]] = {
    "raw": lambda data, wide: np.frombuffer(data, np.uint8).reshape(-1, wide), "runs": _unrun, "differences": _added_up,
}  # fmt: skip
PACKINGS = ("auto", *_PACK)


def packed(table: Table, packing: str = "auto") -> tuple[str, bytes]:
    """The packing, of “auto” the one that comes out smallest, and the bytes."""
    if packing not in PACKINGS:
        raise Trouble(f"A table is packed as one of {', '.join(PACKINGS)}, not “{packing}”.")
    rows = _rows(table)
    if rows.shape[1] > _MOST_CHANGES:
        return "raw", rows.tobytes()
    made = {name: run(rows) for name, run in _PACK.items() if packing in ("auto", name)}
    name = min(made, key=lambda one: len(made[one]))
    return name, made[name]


def packed_size(drive: Drive, motion: Motion, lamps: Lamps) -> int | None:
    """How many bytes a controller keeps for all that plays, packed as small as it goes, at the usual frames a second; None
    where so long a table is not made to know that."""
    frames = motion.seconds * USUAL_FPS
    if frames > _MOST_FRAMES or frames * lamps.kinds.size > _MOST_MEASURED:
        return None
    return len(packed(table_of(drive, motion, lamps))[1])


def as_binary(table: Table, packing: str = "raw") -> bytes:
    """The table as a file: raw numbers bare, packed ones behind a mark and the number of their packing."""
    name, data = packed(table, packing)
    return data if name == "raw" else _MARK + bytes([list(_PACK).index(name)]) + data


def as_header(table: Table, title: str, packing: str = "auto") -> bytes:
    """The table as C (C99)."""
    name, data = packed(table, packing)
    rows = _rows(table)
    plain = "".join(letter if letter.isalnum() or letter in " -_." else " " for letter in title).strip()
    lines = [
        f"/* {plain}: levels for {len(table.leds)} LEDs in the order of the chain. */",
        f"/* Packing: {_HOW[name]} */",
        "#ifndef GLOW_TABLE_H", "#define GLOW_TABLE_H", "#include <stdint.h>", "",
        f"#define GLOW_FRAMES {len(table.levels)}u", f"#define GLOW_FRAMES_PER_1000_S {round(1000 * table.fps)}u",
        f"#define GLOW_LEDS {len(table.leds)}u", f"#define GLOW_LIGHTS {table.channels}u", f"#define GLOW_BITS {table.bits}u",
        f"#define GLOW_FRAME_BYTES {rows.shape[1]}u", f"#define GLOW_PACKING {list(_PACK).index(name)}u /* {name} */",
        f"#define GLOW_BYTES {len(data)}u", "", "static const uint8_t glow_table[GLOW_BYTES] = {",
        *(" " + " ".join(f"0x{one:02X}," for one in data[at : at + 16]) for at in range(0, len(data), 16)),
        "};", "", "#endif",
    ]  # fmt: skip
    return ("\n".join(lines) + "\n").encode("ascii", "replace")


_HOW = {
    "raw": "frames one after another, the first number in the highest bits, each frame filled up to a whole byte.",
    "runs": "how many frames alike follow (1 byte), then the bytes of that frame; again and again.",
    "differences": "each frame: how many bytes change (2 bytes, low first), then the place (2 bytes) and value of each.",
}


def read_table(data: bytes, table: Table) -> Whole:
    """The numbers of a file (binary or C header) that is to hold such a table, as a controller would read them. `Trouble` where
    it cannot be read."""
    name = "raw"
    if data.lstrip().startswith(b"/*") or b"glow_table" in data[:20_000]:
        name, data = _of_header(data)
    elif data[:3] == _MARK and len(data) > 3 and data[3] < len(_PACK):
        name, data = list(_PACK)[data[3]], data[4:]
    wide = _rows(table).shape[1]
    if not data or (name == "raw" and len(data) % wide):
        raise Trouble(f"The table has {len(data)} bytes; frames of {wide} bytes do not fill that.")
    rows = _UNPACK[name](data, wide)
    bits = np.unpackbits(rows, axis=1)[:, : table.levels.shape[1] * table.bits]
    weights = 1 << np.arange(table.bits - 1, -1, -1)
    return np.asarray(bits.reshape(len(rows), -1, table.bits) @ weights, np.int64)


def _of_header(data: bytes) -> tuple[str, bytes]:
    text = data.decode("ascii", "replace")
    _, _, after = text.partition("glow_table[GLOW_BYTES] = {")
    inside, closed, _ = after.partition("}")
    number = text.partition("#define GLOW_PACKING ")[2][:1]
    if not closed or not number.isdecimal() or int(number) >= len(_PACK):
        raise Trouble("The C header holds no whole table glow_table.")
    try:
        values = bytes(int(word, 0) for word in inside.replace("\n", " ").split(",") if word.strip())
    except ValueError:
        raise Trouble("The C header has something in its table that is no byte.") from None
    return list(_PACK)[int(number)], values


def first_difference(wanted: Table, got: Whole) -> tuple[int, int, int | None, int | None] | None:
    """The first frame and LED whose level is another one, wanted and got; None where a frame is not there at all."""
    frames = min(len(wanted.levels), len(got))
    off = np.argwhere(wanted.levels[:frames] != got[:frames])
    if len(off):
        frame, at = off[0].tolist()
        led = wanted.leds[at // wanted.channels]
        return frame, led, int(wanted.levels[frame, at]), int(got[frame, at])
    if len(wanted.levels) != len(got):
        led = wanted.leds[0] if wanted.leds else 0
        longer = wanted.levels if len(wanted.levels) > frames else got
        value = int(longer[frames, 0]) if longer.size else None
        return frames, led, value if longer is wanted.levels else None, value if longer is got else None
    return None
