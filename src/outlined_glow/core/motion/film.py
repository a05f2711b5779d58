"""Pictures, moving pictures and tables that are brought in and played on LEDs."""

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
from ..project import Strip
from ..text_safety import short
from ..watch import give_way
from .lamps import Lamps
from .shades import in_lights
from .way import Way

if TYPE_CHECKING:
    from PIL import Image

Numbers = NDArray[np.float64]
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
    """Frames (f, h, w, 3) in linear light, or a table of levels (f, n) in the order of the chain; when each frame ends, s."""

    pixels: NDArray[np.float32] | None
    table: NDArray[np.float64] | None
    ends_s: Numbers

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
    frames, lasts = found
    if not frames:
        raise Trouble(f"“{short(name)}” has no frames.")
    return Film(np.stack(frames), None, np.cumsum(lasts))


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


def _pictures(data: bytes) -> tuple[list[NDArray[np.float32]], list[float]]:
    from PIL import Image, ImageSequence  # only pictures need it

    with Image.open(io.BytesIO(data)) as image:
        if image.width * image.height > _MOST_READ:
            raise _too_large(image.width, image.height)
        count = min(getattr(image, "n_frames", 1), MOST_FRAMES)
        if image.width * image.height * count > _MOST_IN_ALL:
            raise _too_large(image.width, image.height, count)
        frames, lasts = [], []
        for frame in ImageSequence.Iterator(image):
            give_way()
            # A vast frame is halved and halved before its light is worked out.
            shown = frame.convert("RGBA")
            shrink = max(shown.size) // _LARGE
            frames.append(_small(np.asarray(shown.reduce(shrink) if shrink > 1 else shown), count))
            lasts.append(frame.info.get("duration", 0) / 1000 or (_USUAL_S if count > 1 else STILL_S))
            if len(frames) >= count:
                break
    return frames, lasts


def _video(data: bytes) -> tuple[list[NDArray[np.float32]], list[float]]:
    import av  # only a video needs it

    frames: list[NDArray[np.float32]] = []
    with av.open(io.BytesIO(data), "r") as container:
        stream = container.streams.video[0]
        if stream.width * stream.height > _MOST_READ:
            raise _too_large(stream.width, stream.height)
        step = float(1 / stream.average_rate) if stream.average_rate else _USUAL_S
        count = min(stream.frames or MOST_FRAMES, MOST_FRAMES)
        for frame in container.decode(video=0):
            give_way()
            shrink = max(1, max(frame.width, frame.height) // _LARGE)
            rgb = frame.to_ndarray(format="rgb24", width=frame.width // shrink, height=frame.height // shrink)
            frames.append(_small(np.dstack([rgb, np.full(rgb.shape[:2], 255, np.uint8)]), count))
            if len(frames) >= MOST_FRAMES:
                break
    return frames, [step] * len(frames)


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
        else:
            lines = data.decode("utf-8").splitlines()
            told = dict(part.strip().split(" ")[:2] for part in lines[0].lstrip("# ").split(","))
            fps, bits = float(told["fps"]), int(told["bits"])
            rows = [[int(one) for one in row] for row in csv.reader(lines[2:])]
        table = np.array(rows, float) / ((1 << bits) - 1)
        if table.ndim != 2 or not table.size or not 0 < fps <= 1000 or not 1 <= bits <= 16 or not np.isfinite(table).all():
            raise ValueError("no table")
    except (ValueError, KeyError, TypeError, IndexError, UnicodeDecodeError, csv.Error) as error:
        raise Trouble(
            f"“{short(name)}” is no table of levels as frames writes it: fps, bits, and a row for each frame."
        ) from error
    if len(table) > 100 * MOST_FRAMES:
        raise Trouble(f"“{short(name)}” has {len(table):,} frames; {100 * MOST_FRAMES:,} are possible.")
    return Film(None, np.clip(table, 0, 1), (np.arange(len(table)) + 1) / fps)


def film_levels(strip: Strip, lamps: Lamps, way: Way, local_s: Numbers, speed: float, fade: float = 0.0) -> Numbers:
    """Levels (t, m, c) of the film of a strip on its LEDs; dark where the film is not there. For a share of its time, `fade`,
    each frame goes over into the next one."""
    out = np.zeros((len(local_s), len(way.rows), lamps.channels))
    film = film_of(lamps.films, strip.film)
    if film is None or not len(way.rows):
        return out
    now = (local_s * speed) % film.seconds
    frame = np.minimum(np.searchsorted(film.ends_s, now, side="right"), len(film.ends_s) - 1)
    after = (frame + 1) % len(film.ends_s)
    there, back = np.unique(np.concatenate([frame, after]) if fade > 0 else frame, return_inverse=True)
    if film.table is not None:
        made = _of_table(film.table[there], lamps, way)
    else:
        assert film.pixels is not None
        made = in_lights(sampled(film.pixels[there], lamps.places[way.rows]), lamps, way.rows)
    if fade <= 0:
        return np.asarray(made[back], float)
    starts = np.concatenate([[0.0], film.ends_s[:-1]])
    lasts = film.ends_s - starts
    over = np.clip(((now - starts[frame]) / lasts[frame] - (1 - fade)) / fade, 0, 1)[:, None, None]
    return np.asarray(made[back[: len(now)]] * (1 - over) + made[back[len(now) :]] * over, float)


def slides(files: Sequence[tuple[str, bytes]], each_s: float) -> bytes:
    """Pictures as one film (an animated PNG), each shown so long; all take the size of the first one."""
    from PIL import Image, ImageOps  # only pictures need it

    frames: list[Image.Image] = []
    # Twice as fine as a film is kept.
    side = 2 * min(_SIDE, int(np.sqrt(_MOST_KEPT / max(1, len(files)))))
    for name, data in files:
        give_way()
        try:
            with Image.open(io.BytesIO(data)) as image:
                if image.width * image.height > _MOST_READ:
                    raise _too_large(image.width, image.height)
                shown = image.convert("RGBA")
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
    frames[0].save(buffer, "PNG", save_all=True, append_images=frames[1:], duration=round(1000 * each_s), loop=0)
    return buffer.getvalue()


def _of_table(rows: Numbers, lamps: Lamps, way: Way) -> Numbers:
    """Rows (f, columns) of levels in the order of the chain, the lights of an LED one after another, on the LEDs of a way."""
    lights = lamps.channels if rows.shape[1] % max(1, lamps.channels) == 0 else 1
    cells = rows.reshape(len(rows), -1, lights)
    place = np.argsort(np.argsort(lamps.chain[way.rows], kind="stable"), kind="stable")
    out = np.zeros((len(rows), len(way.rows), lamps.channels))
    there = place < cells.shape[1]
    out[:, there, :lights] = cells[:, place[there]]
    return out * (lamps.kinds[way.rows] > 0)


def sampled(pixels: NDArray[np.float32], places: Numbers) -> Numbers:
    """Frames (f, h, w, 3) at places (m, 2: mm, y up): (f, m, 3), each the mean of a square as large as LEDs are apart. The
    picture covers the box round all places, with its middle on that of the box."""
    high, wide = pixels.shape[1:3]
    low, top = places.min(axis=0), places.max(axis=0)
    pitch = _apart(places)
    box = np.maximum(top - low + pitch, 1e-6)
    per_mm = min(wide / box[0], high / box[1])
    x = (places[:, 0] - (low[0] + top[0]) / 2) * per_mm + wide / 2
    y = high / 2 - (places[:, 1] - (low[1] + top[1]) / 2) * per_mm
    half = max(0.5, pitch * per_mm / 2)
    x0, x1 = np.clip(np.round(x - half), 0, wide - 1).astype(int), np.clip(np.round(x + half), 1, wide).astype(int)
    y0, y1 = np.clip(np.round(y - half), 0, high - 1).astype(int), np.clip(np.round(y + half), 1, high).astype(int)
    x1, y1 = np.maximum(x1, x0 + 1), np.maximum(y1, y0 + 1)
    whole = np.zeros((len(pixels), high + 1, wide + 1, 3))
    whole[:, 1:, 1:] = pixels.cumsum(axis=1, dtype=float).cumsum(axis=2)
    total = whole[:, y1, x1] - whole[:, y0, x1] - whole[:, y1, x0] + whole[:, y0, x0]
    return np.asarray(np.clip(total / ((x1 - x0) * (y1 - y0))[:, None], 0, 1), float)


def _apart(places: Numbers) -> float:
    """How far apart places usually are from their nearest one, mm."""
    from scipy.spatial import cKDTree  # only who plays a film loads it

    if len(places) < 2:
        return 1.0
    return float(np.median(cKDTree(places).query(places, k=2)[0][:, 1]))
