"""What plays as moving pictures: GIF, animated PNG and MP4; and as a contact sheet of moments side by side."""

from __future__ import annotations

import io
import math
from collections.abc import Callable, Iterator
from fractions import Fraction
from itertools import pairwise
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw

from .. import compiled
from ..board import Board
from ..board.draw import BENCH
from ..board.glow import Pixels, expose
from ..board.light import make_light
from ..board.light_picture import sheet_font
from ..board.playing import player
from ..board.surface import make_surface
from ..board.view import fitting_scale, whole_view
from ..errors import Trouble
from ..motion import Lamps
from ..motion.briefest import seen_at
from ..motion.truth import real_at
from ..project import Drive, Motion
from ..project.atomic import atomic_write
from ..units import show
from ..watch import ALONE, Watch

Progress = Callable[[float, str], None]
#: So many frames are worth loading compiled code for; more than the most are refused.
_MANY_FRAMES, _MOST_FRAMES = 60, 3000
#: Frames a second beyond which players of GIF slow down: it counts in hundredths of a second, and one alone is taken for ten.
_MOST_OF_GIF = 50.0
_PX_PER_MM = 7.0
#: Pixels of one frame, and of all together.
_MOST_IN_FRAME, _MOST_IN_ALL = 4e6, 150e6
#: Pixels of a contact sheet, how wide it is to its height, what lies between its pictures, and room for a time.
_IN_SHEET, _SHEET_SHAPE, _GAP, _TIME, _INK = 5e6, 1.5, 10, 30, "#D8D0E0"


def frames(
    board: Board, motion: Motion, lamps: Lamps, *, seconds: float, fps: float, sun: float, side: str, px_per_mm: float,
    drive: Drive | None = None, shown: str = "wanted", start_s: float = 0.0, moments: bool = False, watch: Watch = ALONE,
) -> Iterator[Pixels]:  # fmt: skip
    """The board at each moment from `start_s` on; size as `render` has it. It is `shown` as “wanted”, as the `drive` makes it
    (“real”), or “both” side by side. Where light is briefer than a frame, a frame has the mean of its time, unless `moments`
    are asked for."""
    view = whole_view(board.size, side, px_per_mm)
    exposed = expose(make_surface(board, view), make_light(board, view), sun, BENCH, board)
    count = max(1, round(seconds * fps))
    if count >= _MANY_FRAMES:
        compiled.load()
    play = player(exposed)
    frame_s = 0.0 if moments else 1 / fps
    for place in range(count):
        watch.at(place / count)
        time_s, pictures = start_s + place / fps, []
        if shown != "real" or drive is None:
            pictures.append(play(seen_at(motion, lamps, time_s, frame_s)))
        if shown != "wanted" and drive is not None:
            pictures.append(play(real_at(drive, motion, lamps, time_s, frame_s)))
        yield pictures[0] if len(pictures) == 1 else np.hstack(pictures)


def write_film(
    board: Board,
    motion: Motion,
    lamps: Lamps,
    target: Path,
    *,
    seconds: float | None = None,
    fps: float = 20.0,
    sun: float = 0.2,
    side: str = "front",
    px_per_mm: float | None = None,
    drive: Drive | None = None,
    shown: str = "wanted",
    start_s: float = 0.0,
    watch: Watch = ALONE,
) -> int:
    """Write a film of what plays (from a moment on, once round unless told) and return its number of frames.

    It is drawn at 7 px/mm unless told, or at what keeps a long film of a large board within bounds.
    """
    length = seconds if seconds is not None else max(0.02, motion.seconds - start_s)
    if not 1 <= fps <= 60 or not 0.02 <= length <= 600 or length * fps > _MOST_FRAMES:
        raise Trouble(f"A film runs at 1 to 60 frames a second and has at most {_MOST_FRAMES} frames.")
    kind = target.suffix.lower()
    fps = min(fps, _MOST_OF_GIF) if kind == ".gif" else fps
    count = max(1, round(length * fps))
    if kind not in _WRITERS:
        raise Trouble(f"“{target.name}” is no film this program writes; name it .gif, .png or .mp4.")
    # A gif or an animated png is held in memory until it is whole.
    most = min(_MOST_IN_FRAME, _MOST_IN_ALL / count if kind != ".mp4" else math.inf)
    largest = fitting_scale(board.size, math.inf, most)
    if px_per_mm is None:
        px_per_mm = min(_PX_PER_MM, largest)
    elif px_per_mm > largest:
        raise Trouble(f"{count} frames of that size are too large; ask for at most {largest:g} pixels per millimetre.")
    pictures = frames(
        board, motion, lamps, seconds=length, fps=fps, sun=sun, side=side, px_per_mm=px_per_mm, drive=drive, shown=shown,
        start_s=start_s, watch=watch,
    )  # fmt: skip
    data, count = _WRITERS[kind](pictures, fps)
    atomic_write(target, data)
    return count


def contact_sheet(
    board: Board, motion: Motion, lamps: Lamps, *, seconds: float, count: int = 12, sun: float = 0.2, side: str = "front",
    drive: Drive | None = None, shown: str = "wanted", start_s: float = 0.0, watch: Watch = ALONE,
) -> bytes:  # fmt: skip
    """Moments of what plays side by side, evenly over its length, each with its time: a PNG."""
    if not 2 <= count <= 60:
        raise Trouble(f"A contact sheet has 2 to 60 pictures, not {count}.")
    px_per_mm = fitting_scale(board.size, _PX_PER_MM, _IN_SHEET / count)
    pictures = list(
        frames(
            board, motion, lamps, seconds=seconds, fps=count / seconds, sun=sun, side=side, px_per_mm=px_per_mm, drive=drive,
            shown=shown, start_s=start_s, moments=True, watch=watch,
        )
    )  # fmt: skip
    high, wide = pictures[0].shape[:2]
    columns = min(count, max(1, round(math.sqrt(count * _SHEET_SHAPE * high / wide))))
    rows = -(-count // columns)
    sheet = Image.new("RGB", (columns * (wide + _GAP) + _GAP, rows * (high + _TIME) + _GAP), f"#{BENCH}")
    pen, letters = ImageDraw.Draw(sheet), sheet_font("Regular", 16)
    for at, picture in enumerate(pictures):
        x, y = _GAP + at % columns * (wide + _GAP), _GAP + at // columns * (high + _TIME)
        sheet.paste(Image.fromarray(picture), (x, y))
        moment = f"{show(start_s + at * seconds / count, 2)} s"
        captions = [f"{moment}, as wanted", f"{moment}, as driven"] if shown == "both" and drive is not None else [moment]
        for part, words in enumerate(captions):
            middle = x + (part + 0.5) * wide / len(captions)
            pen.text((middle, y + high + 4), words, _INK, letters, anchor="ma")
    buffer = io.BytesIO()
    sheet.save(buffer, "PNG")
    return buffer.getvalue()


def _gif(pictures: Iterator[Pixels], fps: float) -> tuple[bytes, int]:
    images = [Image.fromarray(picture) for picture in pictures]
    # One palette for all frames, from a spread of them side by side.
    chosen = images[:: max(1, len(images) // 6)][:6]
    sheet = Image.new("RGB", (chosen[0].width, chosen[0].height * len(chosen)))
    for place, image in enumerate(chosen):
        sheet.paste(image, (0, place * image.height))
    palette = sheet.quantize(255, Image.Quantize.MEDIANCUT)
    flat = [image.quantize(palette=palette, dither=Image.Dither.FLOYDSTEINBERG) for image in images]
    buffer = io.BytesIO()
    lasts = [10 * one for one in _lasting(len(flat), 100 / fps)]
    flat[0].save(buffer, "GIF", save_all=True, append_images=flat[1:], duration=lasts, loop=0, optimize=False)
    return buffer.getvalue(), len(flat)


def _apng(pictures: Iterator[Pixels], fps: float) -> tuple[bytes, int]:
    images = [Image.fromarray(picture) for picture in pictures]
    buffer = io.BytesIO()
    lasts = _lasting(len(images), 1000 / fps)
    images[0].save(buffer, "PNG", save_all=True, append_images=images[1:], duration=lasts, loop=0)
    return buffer.getvalue(), len(images)


def _lasting(count: int, each: float) -> list[int]:
    """Whole numbers for frames that last `each`, so that the film as a whole keeps its time."""
    ends = [round(at * each) for at in range(count + 1)]
    return [end - start for start, end in pairwise(ends)]


def _mp4(pictures: Iterator[Pixels], fps: float) -> tuple[bytes, int]:
    import av  # a hundred milliseconds that only this needs

    buffer = io.BytesIO()
    count = 0
    with av.open(buffer, "w", format="mp4") as container:
        stream = container.add_stream("libx264", rate=Fraction(fps).limit_denominator(1000))
        stream.pix_fmt = "yuv420p"
        # As large as by the usual preset at 18 and 0.7 dB farther from the pictures, in half the time. One thread: always the
        # same bytes.
        stream.options = {"preset": "veryfast", "crf": "17", "threads": "1"}
        for picture in pictures:
            even = np.pad(picture, ((0, picture.shape[0] % 2), (0, picture.shape[1] % 2), (0, 0)), mode="edge")
            if count == 0:
                stream.height, stream.width = even.shape[:2]
            for packet in stream.encode(av.VideoFrame.from_ndarray(np.ascontiguousarray(even), format="rgb24")):
                container.mux(packet)
            count += 1
        for packet in stream.encode():
            container.mux(packet)
    return buffer.getvalue(), count


#: What writes each kind of film: its bytes, and how many frames it has.
_WRITERS = {".gif": _gif, ".png": _apng, ".mp4": _mp4}
