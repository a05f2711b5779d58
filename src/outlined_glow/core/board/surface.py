"""The board's own colours under even light: materials by layer coverage, relief, parts."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon

from ..colour.difference import hex_to_rgb, to_linear
from ..drive.seats import Part
from ..geometry.regions import box_at, common, disc, union
from .model import Board
from .view import Mask, View, coverage

Picture = NDArray[np.float32]

_BODY = {
    "led": "E9E2CC",
    "lens": "F7E9B4",
    "mark": "2F8F5B",
    "terminal": "C6C8CA",
    "resistor": "1C1B1E",
    "holder": "2B2A30",
}


@dataclass(frozen=True, eq=False)
class Surface:
    """Pictures of one side in one view: albedo (h, w, 3) linear, board coverage, and what comes through windows."""

    view: View
    albedo: Picture
    cover: Picture
    through: Picture
    shadow: Picture


def share(covered: Mask) -> Picture:
    """Coverage bytes as shares from 0 to 1."""
    return np.asarray(covered, np.float32) / np.float32(255)


def linear(colour: str) -> NDArray[np.float32]:
    """A colour (hex) in linear light (3,)."""
    return np.asarray(to_linear(hex_to_rgb(colour)), np.float32)


def make_surface(board: Board, view: View, sharp: int = 3, hidden: frozenset[str] = frozenset()) -> Surface:
    """Lay the materials over one another as the layers are: laminate, copper, mask, ink; then the parts.

    `hidden` layers are left out as if they were not there; without the core, bare laminate is clear.
    """
    side = view.side
    look = board.materials

    def cover(name: str) -> Picture:
        if name in hidden:
            return np.full((view.height, view.width), float("mask" in name), np.float32)
        return share(coverage(board.layer(name), view, sharp))

    solid = board.outline if "drills" in hidden else board.layer("core")
    core = share(coverage(solid, view, sharp))
    copper = cover(f"{side} copper")
    opening, ink = cover(f"{side} mask"), cover(f"{side} legend")
    bare = _mix(linear(look.laminate), linear(look.metal), copper) * _sheen(copper, view)[..., None]
    masked = _mix(linear(look.mask), linear(look.raised), copper)
    albedo = _mix(masked, bare, opening)
    albedo *= _relief(copper, opening, view)[..., None]
    albedo = _mix(albedo, linear(look.ink), ink * (1 - opening))
    albedo *= _gloss(view)[..., None]
    albedo *= _edge_light(core, view)[..., None]
    for part in board.parts:
        if part.side == side:
            albedo = _draw_part(albedo, part, view)
    if "core" in hidden:
        core = core * (1 - opening * (1 - copper))
    through = _through(board, view, sharp)
    return Surface(view, np.ascontiguousarray(albedo, np.float32), core, through, _shadow(core, view))


def _mix(base: NDArray[np.float32], over: NDArray[np.float32] | Picture, amount: Picture) -> Picture:
    return np.asarray(base + (over - base) * amount[..., None], np.float32)


def _sheen(copper: Picture, view: View) -> Picture:
    """Metal mirrors its room: broad bands across the board, only where there is metal."""
    y, x = np.mgrid[0 : view.height, 0 : view.width].astype(np.float32)
    sign = 1.0 if view.side == "front" else -1.0
    across = ((x / view.px_per_mm) * sign * 0.8 + y / view.px_per_mm + (view.left * 0.8 - view.top)) / 26.0
    band = 1.02 + 0.13 * np.sin(across * 2 * np.pi) + 0.05 * np.sin(across * 5.3 + 1.0)
    return np.asarray(1 + (band - 1) * copper, np.float32)


def _relief(copper: Picture, opening: Picture, view: View) -> Picture:
    """Copper stands 35 um proud and mask lies over it: light from the upper left catches the steps."""
    height = copper * 0.7 - opening * 0.3
    blur = max(0.6, view.px_per_mm * 0.05)
    soft = cv2.GaussianBlur(height, (0, 0), blur)
    slope = cv2.Sobel(soft, cv2.CV_32F, 1, 0, ksize=3) + cv2.Sobel(soft, cv2.CV_32F, 0, 1, ksize=3)
    return np.asarray(np.clip(1 + 0.22 * slope * min(1.5, blur), 0.62, 1.5), np.float32)


def _gloss(view: View) -> Picture:
    """A little more light from the upper left."""
    y, x = np.mgrid[0 : view.height, 0 : view.width].astype(np.float32)
    fall = (x / max(1, view.width) + y / max(1, view.height)) / 2
    return np.asarray(1.06 - 0.12 * fall, np.float32)


def _edge_light(core: Picture, view: View) -> Picture:
    """The cut edge of the board: brighter where it faces the light, darker away from it."""
    soft = cv2.GaussianBlur(core, (0, 0), max(0.8, view.px_per_mm * 0.12))
    slope = cv2.Sobel(soft, cv2.CV_32F, 1, 0, ksize=3) + cv2.Sobel(soft, cv2.CV_32F, 0, 1, ksize=3)
    return np.asarray(np.clip(1 + 0.9 * slope, 0.55, 2.2), np.float32)


def _shadow(core: Picture, view: View) -> Picture:
    """What the board's shadow leaves of the light beside it (1: all)."""
    reach = view.px_per_mm
    move = np.array([[1, 0, 0.55 * reach], [0, 1, 0.9 * reach]], np.float32)
    cast = cv2.warpAffine(core, move, (view.width, view.height))
    soft = cv2.GaussianBlur(cast, (0, 0), max(1.0, 0.9 * reach))
    return np.asarray(1 - 0.62 * soft, np.float32)


def _through(board: Board, view: View, sharp: int) -> Picture:
    """Transmittance (h, w) of windows and veiled windows, the shadow of pads behind them taken off."""
    if board.windows.is_empty and board.veiled.is_empty:
        return np.zeros((view.height, view.width), np.float32)
    look = board.materials
    clear = coverage(board.windows, view, sharp).astype(np.float32) / 255
    veil = coverage(board.veiled, view, sharp).astype(np.float32) / 255
    out = look.through_laminate * (clear + veil * look.through_mask)
    pads = union([pad.polygon for pad in board.pads if pad.side == "back"])
    behind = common(pads, union([board.windows, board.veiled])) if not pads.is_empty else pads
    if not behind.is_empty:
        shade = cv2.GaussianBlur(coverage(behind, view, 1).astype(np.float32) / 255, (0, 0), max(0.8, 0.25 * view.px_per_mm))
        out = out * (1 - 0.55 * shade)
    return np.asarray(out, np.float32)


def _draw_part(albedo: Picture, part: Part, view: View) -> Picture:
    """A part from above: body, terminals, and how its own polarity is marked."""
    length, width, _ = part.body.size

    def paint(shape: Polygon, colour: str, strength: float = 1.0) -> None:
        window = _window(view, shape.bounds)
        if window is not None:
            small, rows, columns = window
            amount = share(coverage(shape, small, 3)) * np.float32(strength)
            albedo[rows, columns] = _mix(albedo[rows, columns], linear(colour), amount)

    def local(dx: float, dy: float, size_x: float, size_y: float) -> Polygon:
        a = np.radians(part.angle_deg)
        x, y = part.x + dx * np.cos(a) - dy * np.sin(a), part.y + dx * np.sin(a) + dy * np.cos(a)
        return box_at(float(x), float(y), size_x, size_y, part.angle_deg)

    if part.kind == "holder":
        if part.body.size[2] > 0:
            _draw_holder(paint, local, part)
        return albedo
    if part.kind == "resistor":
        paint(local(0, 0, length, width), _BODY["terminal"])
        paint(local(0, 0, length * 0.62, width), _BODY["resistor"])
        return albedo
    paint(local(0, 0, length, width), _BODY["terminal"])
    paint(local(0, 0, length * 0.66, width), _BODY["led"])
    paint(disc(part.x, part.y, width * 0.34), _BODY["lens"])
    paint(local(-length * 0.28, 0, length * 0.08, width), _BODY["mark"])
    return albedo


def _draw_holder(paint: Callable[..., None], local: Callable[[float, float, float, float], Polygon], part: Part) -> None:
    """A holder as smoked glass, each cell in it with its two ends; pads and copper under it stay to be seen."""
    length, width, _ = part.body.size
    x, y = part.x, part.y
    contact = any(pad.disc for pad in part.body.pads)
    if contact:
        paint(local(0, 0, length, width * 0.5), _BODY["terminal"], 0.85)
        paint(disc(x, y, 10.0), "8B8894", 0.72)
        paint(disc(x, y, 9.2), "A9A6B0", 0.45)
        paint(local(0, 0, length + 8, 3.2), _BODY["terminal"], 0.9)
        paint(local(0, 0, 3.0, 0.6), "4A4852")
        paint(local(0, 0, 0.6, 3.0), "4A4852")
        return
    paint(local(0, 0, length, width), _BODY["holder"], 0.62)
    cells = max(1, round(width / 13))
    pitch = width / cells
    for cell in range(cells):
        y = (cell - (cells - 1) / 2) * pitch
        turn = 1 if cell % 2 else -1
        paint(local(0, y, length - 6.6, pitch - 2.2), "5B5866", 0.6)
        paint(local(0, y + pitch * 0.16, length - 6.6, 0.5), "8B8894", 0.4)
        paint(local(turn * (length / 2 - 2.6), y, 1.4, pitch * 0.36), "B9B4BE", 0.75)
        paint(local(-turn * (length / 2 - 2.4), y, 0.8, pitch - 3.0), "B9B4BE", 0.75)
        paint(local(turn * (length / 2 - 6.0), y, 2.2, 0.45), "D8D4DC", 0.8)
        paint(local(turn * (length / 2 - 6.0), y, 0.45, 2.2), "D8D4DC", 0.8)
        paint(local(-turn * (length / 2 - 6.0), y, 2.2, 0.45), "D8D4DC", 0.8)


def _window(view: View, bounds: tuple[float, float, float, float]) -> tuple[View, slice, slice] | None:
    """The small view round a box of the board, and the rows and columns it takes; None outside the picture."""
    corners = view.to_px(np.array([bounds[:2], bounds[2:]]))
    (left, high), (right, low) = corners.min(axis=0), corners.max(axis=0)
    x0, x1 = max(0, int(left) - 1), min(view.width, int(right) + 2)
    y0, y1 = max(0, int(high) - 1), min(view.height, int(low) + 2)
    if x0 >= x1 or y0 >= y1:
        return None
    x, y = view.to_mm(x0, y0)
    return View(view.side, view.px_per_mm, x, y, x1 - x0, y1 - y0), slice(y0, y1), slice(x0, x1)
