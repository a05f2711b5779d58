"""Pictures for tests, made from nothing: raster ones by Pillow, DXF by hand."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from PIL import Image, ImageDraw


def encoded(pixels: np.ndarray | Image.Image, kind: str = "PNG", **more: Any) -> bytes:
    """Pixels as the bytes of a file."""
    buffer = io.BytesIO()
    picture = pixels if isinstance(pixels, Image.Image) else Image.fromarray(pixels)
    picture.save(buffer, kind, **more)
    return buffer.getvalue()


def badge(wide: int = 400, soft: int = 4) -> Image.Image:
    """A disc and a bar in three colours on white, with soft edges: drawn `soft` times larger and averaged."""
    size = (wide * soft, wide * soft * 3 // 4)
    one = Image.new("RGB", size, "#FFFFFF")
    pen = ImageDraw.Draw(one)
    w, h = size
    pen.ellipse((w * 0.1, h * 0.1, w * 0.6, h * 0.1 + w * 0.5), fill="#2E1240")
    pen.rectangle((w * 0.5, h * 0.4, w * 0.9, h * 0.8), fill="#D9B25A")
    pen.rectangle((w * 0.6, h * 0.5, w * 0.8, h * 0.7), fill="#121212")
    return one.resize((wide, wide * 3 // 4), Image.Resampling.BOX)


def hills(wide: int = 160) -> Image.Image:
    """Something with tones: a sky, a sun and waves."""
    y, x = np.mgrid[0 : wide * 3 // 4, 0:wide] / wide
    tone = 40 + 170 * y + 25 * np.sin(9 * x + 5 * y)
    tone[np.hypot(x - 0.7, y - 0.25) < 0.12] = 245
    return Image.fromarray(np.clip(np.stack([tone, tone * 0.9, 255 - tone], axis=-1), 0, 255).astype(np.uint8))


def dxf(*entities: str, head: str = "", blocks: str = "") -> bytes:
    """A DXF file of entities, each as group codes and values with blanks between."""
    rows = ["0 SECTION 2 HEADER 9 $ACADVER 1 AC1009", head, "0 ENDSEC"]
    rows += ["0 SECTION 2 BLOCKS", blocks, "0 ENDSEC"] if blocks else []
    rows += ["0 SECTION 2 ENTITIES", *entities, "0 ENDSEC 0 EOF"]
    return ("\n".join(" ".join(rows).split()) + "\n").encode()


def line(x0: float, y0: float, x1: float, y1: float, layer: str = "0") -> str:
    """A straight line."""
    return f"0 LINE 8 {layer} 10 {x0} 20 {y0} 11 {x1} 21 {y1}"


def frame(x: float, y: float, wide: float, high: float, layer: str = "0", colour: int = 256) -> str:
    """A closed polyline."""
    corners = [(x, y), (x + wide, y), (x + wide, y + high), (x, y + high)]
    points = " ".join(f"0 VERTEX 8 {layer} 10 {a} 20 {b}" for a, b in corners)
    return f"0 POLYLINE 8 {layer} 62 {colour} 66 1 70 1 10 0 20 0 {points} 0 SEQEND"
