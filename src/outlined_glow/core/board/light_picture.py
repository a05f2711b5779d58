"""A light map as a picture: brighter where there is more light, lines of equal light, the worst spot, and the figures."""

from __future__ import annotations

import io
from functools import cache
from importlib import resources

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFont

from .light_map import LightMap
from .model import Board

#: From dark to bright, and what lies round the map.
_RAMP = ((0.0, (38, 26, 56)), (0.35, (112, 52, 92)), (0.65, (214, 110, 70)), (0.85, (246, 186, 88)), (1.0, (255, 246, 214)))
_PAPER, _TEXT, _QUIET, _LINE, _RING = (34, 30, 40), (239, 233, 225), (167, 159, 174), (24, 18, 32), (143, 235, 216)
_LINES = (0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9)
_SIDE_PX, _MARGIN_PX, _HEAD_PX, _HEAD_WIDE_PX = 900, 36, 96, 620


def draw_light_map(one: LightMap, board: Board) -> bytes:
    """The map as a PNG."""
    pixels = map_pixels(one, _SIDE_PX, _SIDE_PX, _PAPER)
    high, wide = pixels.shape[:2]
    sheet = Image.new("RGB", (max(wide, _HEAD_WIDE_PX) + 2 * _MARGIN_PX, high + 2 * _MARGIN_PX + _HEAD_PX), _PAPER)
    sheet.paste(Image.fromarray(pixels), ((sheet.width - wide) // 2, _HEAD_PX + _MARGIN_PX))
    _figures(ImageDraw.Draw(sheet), one, board)
    out = io.BytesIO()
    sheet.save(out, "PNG")
    return out.getvalue()


def map_pixels(one: LightMap, wide_px: int, high_px: int, background: tuple[int, int, int]) -> NDArray[np.uint8]:
    """The map alone (h, w, 3) sRGB, as large as fits; the darkest place is ringed."""
    rows, columns = one.lux.shape
    scale = min(wide_px / columns, high_px / rows)
    size = max(1, round(columns * scale)), max(1, round(rows * scale))
    share = cv2.resize((one.lux / max(one.most, 1e-12)).astype(np.float32), size, interpolation=cv2.INTER_LINEAR)
    inside = cv2.resize(one.inside.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
    pixels = np.where(inside[..., None], _lined(np.asarray(share, float)), np.array(background)).astype(np.uint8)
    picture = Image.fromarray(pixels)
    x = (one.worst[0] - one.left) / one.step_mm * scale + scale / 2
    y = (one.top - one.worst[1]) / one.step_mm * scale + scale / 2
    radius = max(5, max(size) // 80)
    ImageDraw.Draw(picture).ellipse((x - radius, y - radius, x + radius, y + radius), outline=_RING, width=max(2, radius // 3))
    return np.array(picture)


def _lined(share: NDArray[np.float64]) -> NDArray[np.float64]:
    """Colours (h, w, 3) of shares (h, w) of the most light, with lines at every tenth."""
    at = np.array([place for place, _ in _RAMP])
    columns = np.array([colour for _, colour in _RAMP], float)
    out = np.stack([np.interp(share, at, columns[:, channel]) for channel in range(3)], axis=-1)
    band = np.searchsorted(_LINES, share)
    edge = np.zeros(share.shape, bool)
    edge[:, 1:] |= band[:, 1:] != band[:, :-1]
    edge[1:] |= band[1:] != band[:-1]
    out[edge] = 0.45 * out[edge] + 0.55 * np.array(_LINE)
    return out


def _figures(pen: ImageDraw.ImageDraw, one: LightMap, board: Board) -> None:
    pen.text((_MARGIN_PX, 24), f"{board.name}: light {one.title}", _TEXT, sheet_font("Semibold", 24))
    words = (
        f"least {lux_words(one.least)}   mean {lux_words(one.mean)}   most {lux_words(one.most)}   "
        f"evenness (least / mean) {one.uniformity:.2f}"
    )
    pen.text((_MARGIN_PX, 62), words, _TEXT, sheet_font("Regular", 17))
    pen.text(
        (_MARGIN_PX, 88),
        "a line at every tenth of the most light; the ring is the darkest place",
        _QUIET,
        sheet_font("Regular", 14),
    )


def lux_words(value: float) -> str:
    """A figure with its unit, as exact as anybody can see."""
    return f"{value:,.0f} lx" if value >= 100 else f"{value:.3g} lx"


@cache
def sheet_font(weight: str, pixels: int) -> ImageFont.FreeTypeFont:
    """The shipped font for a picture: its weight (“Regular”), and how many pixels high."""
    data = resources.files("outlined_glow.data.fonts").joinpath(f"SourceSans3-{weight}.ttf").read_bytes()
    return ImageFont.truetype(io.BytesIO(data), pixels)
