"""Raster pictures to layers, and a corpus of drawings picture by picture."""

from __future__ import annotations

import io
import tempfile

import cv2
import numpy as np
import resvg_py
import shapely
from corpus import drawings
from PIL import Image
from timing import Row, child, cpu, once

from outlined_glow.core.artwork import paint, read_picture, resolve
from outlined_glow.core.colour import rgb_to_lab

#: Run in a process of its own, so that its peak memory is its own; prints CPU seconds and peak MB.
_VAST = """
import time
from timing import peak_mb
data = open({path!r}, "rb").read()
from outlined_glow.core.artwork import read_picture, resolve
start = time.process_time()
resolve(read_picture(data, "x.png"), 60.0, "x.png")
took = time.process_time() - start
print(took, peak_mb())
"""


def blurred(side: int) -> np.ndarray:
    """A picture of six smooth colours, `side` pixels square."""
    small = np.random.default_rng(4).random((60, 60)).astype(np.float32)
    field = cv2.resize(small, (side, side), interpolation=cv2.INTER_CUBIC)
    tone = np.clip((field - field.min()) / (field.max() - field.min()) * 6, 0, 5.999).astype(np.uint8)
    colours = np.array([(18, 18, 18), (46, 18, 64), (90, 42, 120), (217, 178, 90), (181, 167, 102), (244, 242, 236)], np.uint8)
    return np.asarray(colours[tone])


def encoded(pixels: np.ndarray) -> bytes:
    """As PNG."""
    buffer = io.BytesIO()
    Image.fromarray(pixels).save(buffer, "PNG", compress_level=1)
    return buffer.getvalue()


def _colours_only(pixels: np.ndarray) -> None:
    """Colour conversion and the nearest of six colours, for every pixel, and nothing else."""
    centres = rgb_to_lab(
        np.array([(18, 18, 18), (46, 18, 64), (90, 42, 120), (217, 178, 90), (181, 167, 102), (244, 242, 236)])
    )
    lab = cv2.cvtColor(pixels.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    best = np.full(lab.shape[:2], np.inf, np.float32)
    label = np.zeros(lab.shape[:2], np.uint8)
    for place, centre in enumerate(centres.astype(np.float32)):
        far = ((lab - centre) ** 2).sum(axis=2)
        label[far < best] = place
        np.minimum(best, far, out=best)


def rows() -> list[Row]:
    """Ratios to the bare colour work, to the other renderer's raster, and to a bare union."""
    pixels = blurred(3000)
    data = encoded(pixels)

    def layers() -> None:
        read_picture.cache_clear()
        resolve(read_picture(data, "x.png"), 60.0, "x.png")

    one, bare = cpu(layers, 2), cpu(lambda: _colours_only(pixels), 2)
    with tempfile.NamedTemporaryFile(suffix=".png") as file:
        file.write(encoded(blurred(12_000)))
        file.flush()
        vast, peak = child(_VAST.format(path=file.name), 1)
    out = [
        Row(
            "raster",
            "3000 x 3000 to layers / its colours and nearest of six alone",
            one / bare,
            3.0,
            note=f"{one:.2f} s of CPU",
        ),
        Row("raster", "12,000 x 12,000 / 3000 x 3000", vast / one, 17.0),
        Row("raster", "12,000 x 12,000, peak memory, its file included", peak, 1600, "MB"),
    ]
    ours, theirs, unions = [], [], []
    for name, text in drawings().items():
        raw = text.encode()
        read_picture.cache_clear()
        took, painted = once(lambda raw=raw, name=name: paint(read_picture(raw, name), 30.0, name))
        ours.append(took)
        theirs.append(
            once(lambda text=text: resvg_py.svg_to_bytes(svg_string=text, width=600, dpi=96, skip_system_fonts=True))[0]
        )
        unions.append(once(lambda painted=painted: shapely.union_all([one.region for one in painted.swatches]))[0])
    for what, pick in (("median", 50), ("95th percentile", 95)):
        mine = float(np.percentile(ours, pick))
        note = f"{mine * 1000:.0f} ms of CPU"
        out.append(
            Row(
                "raster",
                f"a drawing of the corpus, {what} / its raster at 20 px/mm",
                mine / float(np.percentile(theirs, pick)),
                note=note,
            )
        )
        out.append(Row("raster", f"the same / a bare union of its regions, {what}", mine / float(np.percentile(unions, pick))))
    return out
