"""Pictures inside a drawing: only those that the file carries itself."""

from __future__ import annotations

import base64
import binascii
import math
from urllib.parse import unquote_to_bytes

import numpy as np
from lxml import etree

from ...errors import Trouble
from ..drawing import Item, Layer, Pasted
from ..raster import Raster, read_raster
from .document import XLINK_HREF, where
from .effects import framed
from .measure import length, times, viewport_matrix
from .walk import Place, Walker

_MOST_BYTES = 60_000_000


def carried(element: etree._Element) -> tuple[bytes, str] | None:
    """The bytes in a `data:` address and their type; None for any other address."""
    address = (element.get("href") or element.get(XLINK_HREF) or "").strip()
    head, comma, body = address.partition(",")
    if not head.startswith("data:") or not comma or len(body) > _MOST_BYTES:
        return None
    try:
        data = base64.b64decode("".join(body.split())) if head.endswith("base64") else unquote_to_bytes(body)
    except (binascii.Error, ValueError):
        return None
    return data, head[5:].split(";")[0].lower()


def pasted(walker: Walker, element: etree._Element, place: Place) -> tuple[Item, ...]:
    """The raster picture of an <image>, fitted into its frame."""
    found = carried(element)
    if found is None:
        walker.note("image-not-drawn", f"A picture outside the file, or a damaged one, is left out: {where(element)}.")
        return ()
    try:
        raster: Raster = read_raster(found[0], walker.name)
    except Trouble:
        walker.note("image-not-drawn", f"A picture inside the file cannot be read: {where(element)}.")
        return ()
    frame = frame_of(walker, place, (float(raster.size_px[0]), float(raster.size_px[1])))
    fitted = viewport_matrix([0, 0, *raster.page], *frame, element.get("preserveAspectRatio"))
    if fitted is None or not np.isfinite(fitted).all():
        return ()
    item = Pasted(raster, times(place.matrix, fitted))
    if "slice" in (element.get("preserveAspectRatio") or ""):
        return (Layer((item,), clips=(framed(frame, place.matrix),)),)
    return (item,)


def frame_of(walker: Walker, place: Place, own: tuple[float, float]) -> tuple[float, float, float, float]:
    """Where an <image> lies (x, y, width, height): what is not said of its size follows from that of the picture itself."""
    style, view, em = place.style, place.view, walker.em(place)
    x, y = length(style["x"], 0, view[0], em), length(style["y"], 0, view[1], em)
    width, height = length(style["width"], math.nan, view[0], em), length(style["height"], math.nan, view[1], em)
    if math.isnan(width):
        width = own[0] if math.isnan(height) else height * own[0] / own[1]
    return x, y, width, width * own[1] / own[0] if math.isnan(height) else height
