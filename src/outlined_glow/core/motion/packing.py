"""Tables of levels packed for a controller, as a binary or as C, and read back as a controller reads them."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from ..errors import Trouble
from ..project import Drive, Motion
from .frames import MOST_FRAMES, USUAL_FPS, Table, Whole, bits_of, table_of
from .lamps import Lamps
from .recipe import cooked, recipe

#: Numbers of a table that is packed only to know its size; of one, in lights that differ, for which a recipe is tried unasked.
_MOST_MEASURED, _MOST_COOKED = 2_000_000, 300_000
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
RECIPE = "recipe"
#: Every packing in the order of their numbers; and what `auto` may be.
_NAMES = (*_PACK, RECIPE)
PACKINGS = ("auto", *_NAMES)


def packed(table: Table, packing: str = "auto") -> tuple[str, bytes]:
    """The packing, of “auto” the one that comes out smallest, and the bytes."""
    if packing not in PACKINGS:
        raise Trouble(f"A table is packed as one of {', '.join(PACKINGS)}, not “{packing}”.")
    rows = _rows(table)
    wide = rows.shape[1] > _MOST_CHANGES
    made = {name: run(rows) for name, run in _PACK.items() if packing in ("auto", name) and (name == "raw" or not wide)}
    if packing == RECIPE or (packing == "auto" and _distinct(table.levels) <= _MOST_COOKED):
        cooked_up = recipe(table.levels)
        if cooked_up is not None:
            made[RECIPE] = cooked_up
    if not made:
        return "raw", rows.tobytes()
    name = min(made, key=lambda one: len(made[one]))
    return name, made[name]


def _distinct(levels: Whole) -> int:
    """How many numbers there are in columns that differ."""
    return len({column.tobytes() for column in np.ascontiguousarray(levels.T)}) * len(levels)


def packed_size(drive: Drive, motion: Motion, lamps: Lamps) -> int | None:
    """How many bytes a controller keeps for all that plays, packed as small as it goes, at the usual frames a second; None
    where so long a table is not made to know that."""
    frames = motion.seconds * USUAL_FPS
    if frames > MOST_FRAMES or frames * lamps.kinds.size > _MOST_MEASURED:
        return None
    return len(packed(table_of(drive, motion, lamps))[1])


def frame_bytes(drive: Drive, lamps: Lamps) -> int:
    """How many bytes one frame takes in the working memory of a controller: a whole number of bytes for each light."""
    return int(lamps.kinds.size) * -(-bits_of(drive, lamps) // 8)


def as_binary(table: Table, packing: str = "raw") -> bytes:
    """The table as a file: raw numbers bare, packed ones behind a mark and the number of their packing."""
    name, data = packed(table, packing)
    return data if name == "raw" else _MARK + bytes([_NAMES.index(name)]) + data


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
        f"#define GLOW_FRAME_BYTES {rows.shape[1]}u", f"#define GLOW_PACKING {_NAMES.index(name)}u /* {name} */",
        f"#define GLOW_BYTES {len(data)}u", "", "static const uint8_t glow_table[GLOW_BYTES] = {",
        *(" " + " ".join(f"0x{one:02X}," for one in data[at : at + 16]) for at in range(0, len(data), 16)),
        "};", "", *_READ_BY.get(name, ()), "#endif",
    ]  # fmt: skip
    return ("\n".join(lines) + "\n").encode("ascii", "replace")


_HOW = {
    "raw": "frames one after another, the first number in the highest bits, each frame filled up to a whole byte.",
    "runs": "how many frames alike follow (1 byte), then the bytes of that frame; again and again.",
    "recipe": "tracks of straight ramps; each light plays one with a delay: glow_level below works them out.",
    "differences": "each frame: how many bytes change (2 bytes, low first), then the place (2 bytes) and value of each.",
}


#: How a program reads one level, where it may ask for any.
_READ_BY = {
    "raw": (
        "/* The level of a light (from 0) in a frame (from 0). */",
        "static inline uint16_t glow_level(uint32_t frame, uint16_t light) {",
        "  uint32_t bit = (uint32_t)light * GLOW_BITS, level = 0, at;",
        "  const uint8_t *row = glow_table + (uint32_t)frame * GLOW_FRAME_BYTES;",
        "  for (at = bit; at < bit + GLOW_BITS; at++) level = level << 1 | (row[at / 8] >> (7 - at % 8) & 1u);",
        "  return (uint16_t)level;", "}", "",
    ),
    "recipe": (
        "/* The level of a light (from 0) in a frame (from 0). */",
        "static inline uint16_t glow_level(uint32_t frame, uint16_t light) {",
        "  const uint8_t *own = glow_table + 2 + 4 * (uint32_t)light, *at = glow_table + 2 + 4 * GLOW_LEDS * GLOW_LIGHTS;",
        "  uint16_t track = (uint16_t)(own[0] | own[1] << 8);",
        "  uint32_t k = ((uint32_t)frame + GLOW_FRAMES - (uint16_t)(own[2] | own[3] << 8)) % GLOW_FRAMES;",
        "  while (track--) at += 2 + 8 * (uint32_t)(at[0] | at[1] << 8);",
        "  for (at += 2; k >= (uint32_t)(at[0] | at[1] << 8); at += 8) k -= (uint32_t)(at[0] | at[1] << 8);",
        "  return (uint16_t)(((uint32_t)(at[2] | at[3] << 8) * 65536u + 32768u + k * ((uint32_t)at[4] | (uint32_t)at[5] << 8",
        "    | (uint32_t)at[6] << 16 | (uint32_t)at[7] << 24)) >> 16);", "}", "",
    ),
}  # fmt: skip


def read_table(data: bytes, table: Table) -> Whole:
    """The numbers of a file (binary or C header) that is to hold such a table, as a controller would read them. `Trouble` where
    it cannot be read."""
    name = "raw"
    if b"glow_table" in data[:20_000]:
        name, data = _of_header(data)
    elif data[:3] == _MARK and len(data) > 3 and data[3] < len(_NAMES):
        name, data = _NAMES[data[3]], data[4:]
    if name == RECIPE:
        return cooked(data, *table.levels.shape)
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
    if not closed or not number.isdecimal() or int(number) >= len(_NAMES):
        raise Trouble("The C header holds no whole table glow_table.")
    try:
        values = bytes(int(word, 0) for word in inside.replace("\n", " ").split(",") if word.strip())
    except ValueError:
        raise Trouble("The C header has something in its table that is no byte.") from None
    return _NAMES[int(number)], values


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
