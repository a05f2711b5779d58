"""The board's own colours under even light: materials by layer coverage, relief, parts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..colour.difference import hex_to_rgb, to_linear
from ..geometry.regions import common, disc, region_of, union
from ..parts import PlacedPart, Stroke
from .model import Board
from .view import Mask, View, coverage, covered

Picture = NDArray[np.float32]

#: Solder, and how far it reaches round the hole of a lead, mm.
_SOLDER, _FILLET_MM = "C3C6CA", 0.2
#: How soft the light at the board's edge is, the shade of pads behind windows, and the shadow of the board, mm.
EDGE_MM, SHADE_MM, SHADOW_MM = 0.12, 0.25, 0.9


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
    place = round_board(board, view)
    whole = (view.height, view.width)
    albedo, core, through = np.zeros((*whole, 3), np.float32), np.zeros(whole, np.float32), np.zeros(whole, np.float32)
    if place is not None:
        inner = Piece(view, place).own
        every = slice(0, inner.height), slice(0, inner.width)
        made = materials_in(board, Piece(inner, every), gloss_of(view)[place], sharp, hidden)
        albedo[place], core[place], through[place] = made
    return Surface(view, albedo, core, through, shadow_of(core, view))


def round_board(board: Board, view: View) -> tuple[slice, slice] | None:
    """The part of the view that board and parts can be seen in, with room for soft edges."""
    margin = 0.5 + 4 / view.px_per_mm
    reach = [board.outline.bounds, *(part.court().bounds for part in board.parts if part.side == view.side)]
    low, high = np.min(reach, axis=0)[:2] - margin, np.max(reach, axis=0)[2:] + margin
    return window(view, (float(low[0]), float(low[1]), float(high[0]), float(high[1])))


@dataclass(frozen=True)
class Piece:
    """Rows and columns of a picture that are painted: they look the same as they do in the whole."""

    view: View
    place: tuple[slice, slice]

    @cached_property
    def own(self) -> View:
        """The view of the piece alone."""
        rows, columns = self.place
        left, top = self.view.to_mm(columns.start, rows.start)
        return View(self.view.side, self.view.px_per_mm, left, top, columns.stop - columns.start, rows.stop - rows.start)

    def share(self, region: BaseGeometry, sharp: int) -> Picture:
        """How much of each pixel a region covers, from 0 to 1."""
        return share(coverage(region, self.view, sharp)[self.place])


def materials_in(
    board: Board, piece: Piece, gloss: Picture, sharp: int, hidden: frozenset[str]
) -> tuple[Picture, Picture, Picture]:
    """Albedo (h, w, 3), coverage of the board, and what comes through windows."""
    view = piece.own
    side = view.side
    look = board.materials

    def cover(name: str) -> Picture:
        if name in hidden:
            return np.full((view.height, view.width), float("mask" in name), np.float32)
        return piece.share(board.layer(name), sharp)

    solid = board.outline if "drills" in hidden else board.layer("core")
    core = piece.share(solid, sharp)
    copper, opening, ink = cover(f"{side} copper"), cover(f"{side} mask"), cover(f"{side} legend")
    even = gloss * _edge_light(core, view)
    light = _relief(copper, opening, view) * even
    inked = ink * (1 - opening)
    # How much of each pixel is laminate, metal, mask, raised tone and ink; their colours then mix in one step.
    bare = opening * light
    bare *= 1 - inked
    covered = light - opening * light
    covered *= 1 - inked
    metal = bare * copper
    raised = covered * copper
    shares = (bare - metal, metal * _sheen(view), covered - raised, raised, inked * even)
    albedo = _blend(shares, (look.laminate, look.metal, look.mask, look.raised, look.ink))
    leads = soldered(board)
    if leads:
        solder = piece.share(region_of(leads), sharp)
        core = np.maximum(core, solder)
        albedo = _mix(albedo, linear(_SOLDER), solder)
    _draw_parts(albedo, [part for part in board.parts if part.side == side], piece)
    if "core" in hidden:
        core = core * (1 - opening * (1 - copper))
    return albedo, core, _through(board, piece, sharp)


def soldered(board: Board) -> list[Polygon]:
    """The holes that leads of parts fill, and the solder round them."""
    refs = {part.ref for part in board.parts}
    return [
        disc(hole.x, hole.y, hole.diameter / 2 + _FILLET_MM) for hole in board.holes if hole.plated and hole.purpose in refs
    ]


def _blend(shares: Sequence[Picture], colours: Sequence[str]) -> Picture:
    """The sum (h, w, 3) of colours by shares (h, w)."""
    channels = []
    for strengths in np.stack([linear(colour) for colour in colours], axis=1).tolist():
        channel = shares[0] * np.float32(strengths[0])
        for part, strength in zip(shares[1:], strengths[1:], strict=True):
            cv2.scaleAdd(part, strength, channel, channel)
        channels.append(channel)
    return np.asarray(cv2.merge(channels), np.float32)


def _mix(base: NDArray[np.float32], over: NDArray[np.float32] | Picture, amount: Picture) -> Picture:
    return np.asarray(base + (over - base) * amount[..., None], np.float32)


def _sheen(view: View) -> Picture:
    """Metal mirrors its room: broad bands across the board."""
    sign = 1.0 if view.side == "front" else -1.0
    x = (np.arange(view.width) / view.px_per_mm * sign * 0.8 + view.left * 0.8) / 26.0
    y = (np.arange(view.height) / view.px_per_mm - view.top) / 26.0
    # The sine of a sum, from the sines of its parts: two outer products in place of a sine for every pixel.
    band = np.full((view.height, view.width), 1.02, np.float32)
    for strength, pitch, phase in ((0.13, 2 * np.pi, 0.0), (0.05, 5.3, 1.0)):
        across, down = x * pitch, y * pitch + phase
        rows = np.stack([np.sin(down), np.cos(down)], axis=1).astype(np.float32)
        columns = np.stack([np.cos(across), np.sin(across)]).astype(np.float32) * np.float32(strength)
        band += rows @ columns
    return band


def _relief(copper: Picture, opening: Picture, view: View) -> Picture:
    """Copper stands 35 um proud and mask lies over it: light from the upper left catches the steps."""
    height = copper * 0.7 - opening * 0.3
    blur = max(0.6, view.px_per_mm * 0.05)
    soft = cv2.GaussianBlur(height, (0, 0), blur)
    slope = cv2.Sobel(soft, cv2.CV_32F, 1, 0, ksize=3) + cv2.Sobel(soft, cv2.CV_32F, 0, 1, ksize=3)
    return np.asarray(np.clip(1 + 0.22 * slope * min(1.5, blur), 0.62, 1.5), np.float32)


@lru_cache(maxsize=2)
def gloss_of(view: View) -> Picture:
    """A little more light from the upper left."""
    across = np.arange(view.width, dtype=np.float32) / max(1, view.width)
    down = np.arange(view.height, dtype=np.float32) / max(1, view.height)
    return np.asarray(1.06 - 0.06 * (across[None, :] + down[:, None]), np.float32)


def _edge_light(core: Picture, view: View) -> Picture:
    """The cut edge of the board: brighter where it faces the light, darker away from it."""
    soft = cv2.GaussianBlur(core, (0, 0), max(0.8, view.px_per_mm * EDGE_MM))
    slope = cv2.Sobel(soft, cv2.CV_32F, 1, 0, ksize=3) + cv2.Sobel(soft, cv2.CV_32F, 0, 1, ksize=3)
    return np.asarray(np.clip(1 + 0.9 * slope, 0.55, 2.2), np.float32)


def shadow_of(core: Picture, view: View) -> Picture:
    """What the board's shadow leaves of the light beside it (1: all)."""
    reach = view.px_per_mm
    move = np.array([[1, 0, 0.55 * reach], [0, 1, SHADOW_MM * reach]], np.float32)
    cast = cv2.warpAffine(core, move, (view.width, view.height))
    # A wide blur has no small detail: it is made on a smaller picture.
    part = max(1, int(SHADOW_MM * reach / 2.5))
    small = (max(1, view.width // part), max(1, view.height // part))
    soft = cv2.GaussianBlur(cv2.resize(cast, small, interpolation=cv2.INTER_AREA), (0, 0), max(1.0, SHADOW_MM * reach) / part)
    return np.asarray(1 - 0.62 * cv2.resize(soft, (view.width, view.height), interpolation=cv2.INTER_LINEAR), np.float32)


def _through(board: Board, piece: Piece, sharp: int) -> Picture:
    """Transmittance (h, w) of light windows and masked windows, the shadow of pads behind them taken off."""
    view = piece.own
    if board.windows.is_empty and board.veiled.is_empty:
        return np.zeros((view.height, view.width), np.float32)
    look = board.materials
    out = look.through_laminate * (piece.share(board.windows, sharp) + piece.share(board.veiled, sharp) * look.through_mask)
    pads = union(view.near([pad.polygon for pad in board.pads if pad.side == "back"]))
    behind = common(pads, union([board.windows, board.veiled])) if not pads.is_empty else pads
    if not behind.is_empty:
        shade = cv2.GaussianBlur(piece.share(behind, 1), (0, 0), max(0.8, SHADE_MM * view.px_per_mm))
        out = out * (1 - 0.55 * shade)
    return np.asarray(out, np.float32)


def _draw_parts(albedo: Picture, parts: Sequence[PlacedPart], piece: Piece) -> None:
    """Parts from above. Equal strokes of equal parts are laid down together: parts do not overlap."""
    strokes: dict[tuple[str, int], list[tuple[Stroke, Polygon]]] = {}
    for one in parts:
        if window(piece.own, one.drawn_bounds) is None:
            continue
        for step, there in enumerate(zip(one.part.drawing, one.drawn(), strict=True)):
            strokes.setdefault((one.part.kind, step), []).append(there)
    for equal in strokes.values():
        everything = covered(region_of([shape for _, shape in equal]), piece.view, 3)[piece.place]
        for stroke, shape in equal:
            place = window(piece.own, shape.bounds)
            if place is not None:
                amount = share(everything[place]) * np.float32(stroke.strength)
                albedo[place] = _mix(albedo[place], linear(stroke.colour), amount)


def window(view: View, bounds: tuple[float, float, float, float]) -> tuple[slice, slice] | None:
    """The rows and columns round a box of the board; None outside the picture."""
    corners = view.to_px(np.array([bounds[:2], bounds[2:]]))
    (left, high), (right, low) = corners.min(axis=0), corners.max(axis=0)
    x0, x1 = max(0, int(left) - 1), min(view.width, int(right) + 2)
    y0, y1 = max(0, int(high) - 1), min(view.height, int(low) + 2)
    return (slice(y0, y1), slice(x0, x1)) if x0 < x1 and y0 < y1 else None
