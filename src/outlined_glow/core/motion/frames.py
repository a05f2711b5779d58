"""What plays as whole numbers, frame after frame, in the order of the chain: for a controller, and to read back."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

import msgspec
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ..errors import Trouble
from ..project import Drive, Motion
from .lamps import Lamps, lights_of
from .score import levels
from .truth import real_levels, shares_of

Whole = NDArray[np.int64]
#: Frames a second unless told.
USUAL_FPS = 50.0
#: Frames of one table, and numbers in it.
MOST_FRAMES, _MOST_NUMBERS = 100_000, 50_000_000


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
    if not 1 <= fps <= 1000 or count > MOST_FRAMES or count * max(1, lamps.kinds.size) > _MOST_NUMBERS:
        raise Trouble(
            f"{length:g} s at {fps:g} frames a second are {count} frames of {lamps.kinds.size} numbers;"
            f" {MOST_FRAMES:,} frames and {_MOST_NUMBERS:,} numbers in all are possible. Ask for fewer."
        )
    bits = bits_of(drive, lamps)
    order = np.argsort(lamps.chain, kind="stable")
    most = (1 << bits) - 1
    parts = []
    for first in range(0, count, 1000):
        times = np.arange(first, min(count, first + 1000)) / fps
        made = real_levels(drive, motion, lamps, times) if real else levels(motion, lamps, times)
        parts.append(np.round(made[:, order] * most).astype(np.int64).reshape(len(times), -1))
    indices = tuple(lamps.indices[at] for at in order.tolist())
    return Table(np.concatenate(parts), fps, bits, lamps.channels, indices)


def bits_of(drive: Drive, lamps: Lamps) -> int:
    """In how many bits the levels are told."""
    return max((way.bits(own, lights_of(lamps, rows)) for way, own, rows in shares_of(drive, lamps) if len(rows)), default=8)


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
