"""Pictures of a board, one after another: what an edit leaves as it was is not painted again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..geometry.edges import Box
from .differing import looks_otherwise, shines_otherwise
from .glow import Exposed, Fallen, Pixels, expose, exposed_again, fallen, seen_by
from .light import LightField, make_light
from .model import Board
from .surface import (
    EDGE_MM,
    SHADE_MM,
    SHADOW_MM,
    Piece,
    Surface,
    gloss_of,
    make_surface,
    materials_in,
    round_board,
    shadow_of,
    window,
)
from .view import View

#: Rows and columns of a picture.
Place = tuple[slice, slice]
_ALL: Place = (slice(None), slice(None))
#: The light that fell on a picture of more pixels is not kept.
_KEPT_PIXELS = 1_500_000
#: Of the board's place in the picture, so much is painted as soon from nothing as in pieces.
_MOST = 0.6


@dataclass(frozen=True)
class Sight:
    """Which picture of a board: its view, samples along a pixel, hidden layers, sun, and what lies behind it."""

    view: View
    sharp: int
    hidden: frozenset[str]
    sun: float
    background: str


@dataclass(frozen=True, eq=False)
class _Painted:
    """A board as it was painted, how many were painted before it, and where it looks otherwise than the last of them."""

    board: Board
    sight: Sight
    surface: Surface
    light: LightField
    exposed: Exposed
    number: int = 0
    place: Place = _ALL


@dataclass(frozen=True, eq=False)
class _Still:
    """A picture with what made it; the light as it fell only where that is not too much to keep."""

    number: int
    field: LightField
    levels: NDArray[np.float64]
    light: Fallen | None
    pixels: Pixels


class Painter:
    """Remembers the latest picture, and paints the next one over it: what `exposed` gave holds until it is asked again."""

    def __init__(self) -> None:
        self._painted: _Painted | None = None
        self._still: _Still | None = None

    def exposed(self, board: Board, sight: Sight, cancelled: Callable[[], bool] = lambda: False) -> Exposed | None:
        """A board with all that does not change while a pattern plays; None where nobody waits for it any more."""
        was = self._painted
        if was is None or was.board is not board or was.sight != sight:
            self._painted = None  # what breaks off half painted over is painted from nothing
            made = _paint(was, board, sight, cancelled)
            self._painted = was if made is None else made
            return None if made is None else made.exposed
        return was.exposed

    def still(self, levels: NDArray[np.float64]) -> Pixels:
        """The picture (h, w, 3) sRGB of the board that was exposed last, at some levels of its LEDs."""
        painted, was = self._painted, self._still
        assert painted is not None
        exposed, view = painted.exposed, painted.sight.view
        alike = was is not None and was.field is exposed.light and np.array_equal(was.levels, levels)
        if was is not None and alike and was.number == painted.number:
            return was.pixels
        if was is not None and alike and was.light is not None:
            place = painted.place if painted.number == was.number + 1 else _ALL
            light, pixels = was.light, was.pixels.copy()
            pixels[place] = seen_by(exposed, light, place)
        else:
            light = fallen(exposed.light, levels)
            pixels = seen_by(exposed, light)
        small = view.width * view.height <= _KEPT_PIXELS
        self._still = _Still(painted.number, exposed.light, levels, light if small else None, pixels)
        return pixels


def _paint(was: _Painted | None, board: Board, sight: Sight, cancelled: Callable[[], bool]) -> _Painted | None:
    number = 0 if was is None else was.number + 1
    alike = was is not None and (was.sight.view, was.sight.sharp, was.sight.hidden) == (sight.view, sight.sharp, sight.hidden)
    made = _renewed(was, board) if was is not None and alike else None
    surface, place = made or (make_surface(board, sight.view, sight.sharp, sight.hidden), _ALL)
    painted_over = made is not None and was is not None and surface is not was.surface
    if not painted_over and cancelled():
        return None
    shines = was is None or not alike or shines_otherwise(was.board, board)
    light = make_light(board, sight.view) if was is None or shines else was.light
    if was is None or sight != was.sight or place is _ALL:
        exposed = expose(surface, light, sight.sun, sight.background, board)
        return _Painted(board, sight, surface, light, exposed, number)
    if surface is not was.surface:
        exposed = exposed_again(was.exposed, surface, light, place, sight.sun, sight.background, board)
        return _Painted(board, sight, surface, light, exposed, number, place)
    if light is was.light:
        return replace(was, board=board)
    return _Painted(board, sight, surface, light, replace(was.exposed, light=light), number)


def _renewed(was: _Painted, board: Board) -> tuple[Surface, Place] | None:
    """The surface of a board that looks otherwise in a piece alone, and where that is; None where it is as well made from
    nothing."""
    sight, before = was.sight, was.surface
    nowhere = slice(0, 0), slice(0, 0)
    if was.board is board:
        return before, nowhere
    ground = round_board(board, sight.view)
    if was.board.materials != board.materials or ground is None or ground != round_board(was.board, sight.view):
        return None
    box = looks_otherwise(was.board, board, sight.view.side)
    if box is None:
        return before, nowhere
    # So far, mm, soft edges and shades reach; what lies as far beyond makes them.
    reach = 4 * max(EDGE_MM, SHADE_MM) + 6 / sight.view.px_per_mm
    out, around = _round(box, reach, sight.view, ground), _round(box, 2 * reach, sight.view, ground)
    if out is None or around is None:
        return before, nowhere
    if _size(around) > _MOST * _size(ground):
        return None
    surface = _laid(before, board, sight, ground, out, around)
    if surface.shadow is before.shadow:
        return surface, out
    whole = (slice(0, sight.view.height), slice(0, sight.view.width))
    shade = _round(box, reach + 5 * SHADOW_MM + 3 / sight.view.px_per_mm, sight.view, whole)
    return surface, shade or whole


def _laid(before: Surface, board: Board, sight: Sight, ground: Place, out: Place, around: Place) -> Surface:
    """A surface with some rows and columns of it as another board shows them, painted over, with those round them."""
    view = sight.view
    piece = Piece(Piece(view, ground).own, _from(ground, around))
    made = materials_in(board, piece, gloss_of(view)[around], sight.sharp, sight.hidden)
    rows, columns = _from(around, out)
    core = not np.array_equal(before.cover[out], made[1][rows, columns])
    for old, new in zip((before.albedo, before.cover, before.through), made, strict=True):
        old[out] = new[rows, columns]
    return replace(before, shadow=shadow_of(before.cover, view) if core else before.shadow)


def _round(box: Box, by_mm: float, view: View, ground: Place) -> Place | None:
    """The rows and columns round a box of the board with a margin, as far as they lie in others; None where none do."""
    place = window(view, (box[0] - by_mm, box[1] - by_mm, box[2] + by_mm, box[3] + by_mm))
    if place is None:
        return None
    rows, columns = (slice(max(a.start, b.start), min(a.stop, b.stop)) for a, b in zip(place, ground, strict=True))
    return (rows, columns) if rows.start < rows.stop and columns.start < columns.stop else None


def _from(start: Place, place: Place) -> Place:
    """Rows and columns as they are counted from where others start."""
    rows, columns = (slice(one.start - a.start, one.stop - a.start) for one, a in zip(place, start, strict=True))
    return rows, columns


def _size(place: Place) -> int:
    return int((place[0].stop - place[0].start) * (place[1].stop - place[1].start))
