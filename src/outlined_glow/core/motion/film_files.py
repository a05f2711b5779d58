"""Files of pictures, moving pictures and tables, as frames that LEDs play."""

from __future__ import annotations

import csv
import io
import json
import logging
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from pathlib import PurePath
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..colour.difference import to_linear
from ..errors import Trouble
from ..text_safety import short
from ..watch import give_way

if TYPE_CHECKING:
    from PIL import Image

Numbers = NDArray[np.float64]
#: Frames, how long each is seen, s, and whether the file goes on.
Frames = tuple[list[NDArray[np.float32]], list[float], bool]
#: The folder of the project's file in which they lie.
FILMS = "motion/"
#: Pixels of a picture that is read, and of all frames together once they are small; frames; the longer side of a small one.
_MOST_READ, _MOST_KEPT, MOST_FRAMES, _SIDE = 40e6, 3e6, 3000, 96
#: Pixels of all frames together, before; a longer side than this is shrunk first.
_MOST_IN_ALL, _LARGE = 4e9, 400
#: Of each byte of sRGB its linear light.
_LINEAR = to_linear(np.arange(256)).astype(np.float32)
#: A still picture plays so long; frames that do not tell go on after so much, s.
STILL_S, _USUAL_S = 5.0, 0.1


@dataclass(frozen=True, eq=False)
class Film:
    """Frames (f, h, w, 3) in linear light, or a table of levels (f, n) in the order of the chain, with so many lights for each
    LED (0: it does not tell); when each frame ends, s; whether the file goes on after them."""

    pixels: NDArray[np.float32] | None
    table: NDArray[np.float64] | None
    ends_s: Numbers
    goes_on: bool = False
    lights: int = 0

    @property
    def seconds(self) -> float:
        """How long it is."""
        return float(self.ends_s[-1])


@lru_cache(maxsize=32)
def read_film(data: bytes, name: str) -> Film:
    """A film from the bytes of a file: GIF, PNG, WebP, JPEG, MP4 and other video, or a table of levels (CSV or JSON, as
    `frames` writes them). `Trouble` for one that cannot be read."""
    kind = PurePath(name).suffix.lower()
    if kind in (".csv", ".json"):
        return _table(data, name, kind)
    try:
        found = _video(data) if kind in (".mp4", ".webm", ".mov", ".mkv", ".avi") else _pictures(data)
    except Trouble:
        raise
    except Exception as error:  # whatever a library meets in a stranger's file
        logging.getLogger(__name__).info("a film cannot be read", exc_info=True)
        raise Trouble(f"“{short(name)}” cannot be read as a picture or a film; bring a GIF, PNG, WebP, JPEG or MP4.") from error
    frames, lasts, goes_on = found
    if not frames:
        raise Trouble(f"“{short(name)}” has no frames.")
    return Film(np.stack([_as_large(one, frames[0]) for one in frames]), None, np.cumsum(lasts), goes_on)


def _too_large(wide: int, high: int, count: int = 1) -> Trouble:
    frames = f" in {count} frames" if count > 1 else ""
    most = _MOST_READ if count == 1 else _MOST_IN_ALL
    return Trouble(f"It has {wide} × {high} pixels{frames}; {most / 1e6:,.0f} million are possible. Make it smaller.")


def read_films(films: tuple[tuple[str, bytes], ...]) -> tuple[Film | None, ...]:
    """Every film of a project, None for one that cannot be read."""
    return tuple(film_of(films, name) for name, _ in films)


def film_of(films: tuple[tuple[str, bytes], ...], name: str) -> Film | None:
    """The film of that name; None where there is none, or it cannot be read."""
    data = dict(films).get(name)
    try:
        return None if data is None else read_film(data, name)
    except Trouble:
        return None


def _pictures(data: bytes) -> Frames:
    from PIL import Image, ImageSequence  # only pictures need it

    from ..artwork.raster import orientation_of, upright

    with Image.open(io.BytesIO(data)) as image:
        if image.width * image.height > _MOST_READ:
            raise _too_large(image.width, image.height)
        there = getattr(image, "n_frames", 1)
        count = min(there, MOST_FRAMES)
        if image.width * image.height * count > _MOST_IN_ALL:
            raise _too_large(image.width, image.height, count)
        image.load()  # a TIFF is turned by that
        turned = orientation_of(image)
        frames, lasts = [], []
        for frame in ImageSequence.Iterator(image):
            give_way()
            # A vast frame is halved and halved before its light is worked out.
            shown = upright(frame, turned, max(1, max(frame.size) // _LARGE))[0].convert("RGBA")
            frames.append(_small(np.asarray(shown), count))
            lasts.append(frame.info.get("duration", 0) / 1000 or (_USUAL_S if count > 1 else STILL_S))
            if len(frames) >= count:
                break
    return frames, lasts, there > count


def _video(data: bytes) -> Frames:
    import av  # only a video needs it

    frames: list[NDArray[np.float32]] = []
    starts: list[float | None] = []
    goes_on = False
    with av.open(io.BytesIO(data), "r") as container:
        stream = container.streams.video[0]
        if stream.width * stream.height > _MOST_READ:
            raise _too_large(stream.width, stream.height)
        step = float(1 / stream.average_rate) if stream.average_rate else _USUAL_S
        count = min(stream.frames or MOST_FRAMES, MOST_FRAMES)
        wide = float(stream.sample_aspect_ratio or 1)  # of a pixel, by its height
        for frame in container.decode(video=0):
            if len(frames) >= MOST_FRAMES:
                goes_on = True
                break
            give_way()
            shrink = max(1, max(frame.width, frame.height) // _LARGE)
            across, high = max(1, round(frame.width * wide / shrink)), max(1, frame.height // shrink)
            # A camera that was held upright says by how much its frames are to be turned.
            rgb = np.rot90(frame.to_ndarray(format="rgb24", width=across, height=high), round(frame.rotation / 90))
            frames.append(_small(np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)]), count))
            starts.append(frame.time)
    return frames, _lasting(starts, step), goes_on


def _lasting(starts: Sequence[float | None], usual_s: float) -> list[float]:
    """How long each frame is seen, s: until the next one, the last as long as usual; all that, if they do not tell."""
    times = np.array([np.nan if one is None else one for one in starts])
    lasts = np.append(np.diff(times), usual_s)
    return lasts.tolist() if (lasts > 0).all() else [usual_s] * len(starts)


def _as_large(frame: NDArray[np.float32], first: NDArray[np.float32]) -> NDArray[np.float32]:
    """A frame in the size of the first one, for pages may differ: its middle on that of the first, all of it seen."""
    if frame.shape == first.shape:
        return frame
    share = min(there / here for here, there in zip(frame.shape[:2], first.shape[:2], strict=True))
    high, wide = (max(1, round(size * share)) for size in frame.shape[:2])
    rows = ((np.arange(high) + 0.5) * frame.shape[0] / high).astype(int)
    columns = ((np.arange(wide) + 0.5) * frame.shape[1] / wide).astype(int)
    out = np.zeros_like(first)
    top, left = (first.shape[0] - high) // 2, (first.shape[1] - wide) // 2
    out[top : top + high, left : left + wide] = frame[rows][:, columns]
    return out


def _small(rgba: NDArray[np.uint8], count: int) -> NDArray[np.float32]:
    """A frame in linear light over black, by the mean of areas no larger than is kept of so many frames."""
    high, wide = rgba.shape[:2]
    side = min(_SIDE, int(np.sqrt(_MOST_KEPT / max(1, count))))
    rows, columns = (max(1, min(size, round(size * side / max(high, wide)))) for size in (high, wide))
    light = _LINEAR[rgba[..., :3]] * (rgba[..., 3:].astype(np.float32) / 255)
    for axis, size, many in ((0, high, rows), (1, wide, columns)):
        edges = np.linspace(0, size, many + 1).round().astype(int)[:-1]
        light = np.add.reduceat(light, edges, axis=axis)
        sizes = np.diff(np.append(edges, size)).astype(np.float32)
        light = light / (sizes[:, None, None] if axis == 0 else sizes[None, :, None])
    return np.asarray(light, np.float32)


def _table(data: bytes, name: str, kind: str) -> Film:
    """Levels as `frames` writes them."""
    try:
        if kind == ".json":
            content: dict[str, Any] = json.loads(data)
            fps, bits, rows = float(content["fps"]), int(content["bits"]), content["frames"]
            lights = int(content.get("channels", 0))
        else:
            lines = data.decode("utf-8-sig").splitlines()
            told = dict(part.strip().split(" ")[:2] for part in lines[0].lstrip("# ").split(","))
            fps, bits, lights = float(told["fps"]), int(told["bits"]), int(told.get("channels", 0))
            rows = [[int(one) for one in row] for row in csv.reader(lines[2:])]
        if not 0 < fps <= 1000 or not 1 <= bits <= 16:
            raise ValueError("no table")
        table = np.array(rows, float) / ((1 << bits) - 1)
        if table.ndim != 2 or not table.size or not np.isfinite(table).all():
            raise ValueError("no table")
        if lights < 0 or (lights and table.shape[1] % lights):
            raise ValueError("no table")
    except (ValueError, KeyError, TypeError, IndexError, OverflowError, RecursionError, csv.Error) as error:
        raise Trouble(
            f"“{short(name)}” is no table of levels as frames writes it: fps, bits, and a row for each frame."
        ) from error
    if len(table) > 100 * MOST_FRAMES:
        raise Trouble(f"“{short(name)}” has {len(table):,} frames; {100 * MOST_FRAMES:,} are possible.")
    return Film(None, np.clip(table, 0, 1), (np.arange(len(table)) + 1) / fps, lights=lights)


def whole_frames(each_s: float) -> float:
    """How long a frame of `slides` can last that shall last so long: to a millisecond, and beyond a minute, for a file counts
    with sixteen bits, to a tenth of a second."""
    return round(each_s, 3 if each_s <= 60 else 1)


def slides(files: Sequence[tuple[str, bytes]], each_s: float) -> bytes:
    """Pictures as one film (an animated PNG), each shown so long; all take the size of the first one."""
    from PIL import Image, ImageOps  # only pictures need it

    from ..artwork.raster import orientation_of, upright

    frames: list[Image.Image] = []
    # Twice as fine as a film is kept.
    side = 2 * min(_SIDE, int(np.sqrt(_MOST_KEPT / max(1, len(files)))))
    for name, data in files:
        give_way()
        try:
            with Image.open(io.BytesIO(data)) as image:
                if image.width * image.height > _MOST_READ:
                    raise _too_large(image.width, image.height)
                image.load()
                shown = upright(image, orientation_of(image))[0].convert("RGBA")
        except Trouble as trouble:
            raise Trouble(f"“{short(name)}”: {trouble}") from trouble
        except Exception as error:  # whatever a library meets in a stranger's file
            raise Trouble(f"“{short(name)}” cannot be read as a picture.") from error
        shown.thumbnail((side, side))
        if frames and shown.size != frames[0].size:
            # Its middle on that of the first, all of it seen.
            fitted = ImageOps.contain(shown, frames[0].size)
            shown = Image.new("RGBA", frames[0].size)
            shown.paste(fitted, ((shown.width - fitted.width) // 2, (shown.height - fitted.height) // 2))
        frames.append(shown)
    buffer = io.BytesIO()
    # Frames alike would be joined to one; each keeps its time all the same.
    frames[0].save(buffer, "PNG", save_all=True, append_images=frames[1:], duration=round(1000 * whole_frames(each_s)), loop=0)
    return buffer.getvalue()
