"""Where a walk through a document is, and what clips, text and pictures may ask of the reader."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np
from lxml import etree

from ..drawing import Drawn, Item, Layer, Mask, Matrix, Paint, Pasted, Points, Subpath, Written
from ..raster import Raster
from .measure import apply, times
from .style import Cascade, Style

#: x, y, width, height in user units.
Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class Place:
    """Matrix, inherited style, viewport, solidity, the `use` chain, and whether only the area counts (clips), or the room that
    outlines take, painted or not (`measuring`)."""

    matrix: Matrix
    style: Style
    view: tuple[float, float]
    alpha: float = 1.0
    uses: tuple[etree._Element, ...] = ()
    depth: int = 0
    clipping: bool = False
    measuring: bool = False


class Walker(Protocol):
    """The reader, as those who work for it see it."""

    name: str
    ids: dict[str, etree._Element]
    cascade: Cascade

    def note(self, code: str, text: str) -> None:
        """Something was not taken as drawn."""

    def wrote(self, words: Written) -> None:
        """A text was drawn, to be proofread."""

    def items(self, elements: Iterable[etree._Element], place: Place) -> tuple[Item, ...]:
        """What the elements paint."""

    def draw(
        self, element: etree._Element, subpaths: tuple[Subpath, ...], place: Place, room: Box | None = None
    ) -> tuple[Item, ...]:
        """Outlines in the paints of their style; gradients and patterns span `room`, or else the outlines."""

    def em(self, place: Place) -> float:
        """The font size."""


def box_of(items: Iterable[Item], matrix: Matrix) -> Box | None:
    """The box (x, y, width, height) of items in the user units of `matrix`; None of nothing."""
    try:
        back = np.linalg.inv(np.vstack([matrix, [0, 0, 1]]))[:2]
    except np.linalg.LinAlgError:
        return None
    rows = [apply(times(back, item.matrix), points) for item, points in _reach(items)]
    if not rows:
        return None
    points = np.vstack(rows)
    low, high = points.min(axis=0), points.max(axis=0)
    return float(low[0]), float(low[1]), float(high[0] - low[0]), float(high[1] - low[1])


def _reach(items: Iterable[Item]) -> Iterable[tuple[Drawn | Pasted, Points]]:
    for item in items:
        if isinstance(item, Layer):
            yield from _reach(item.clips[0] if item.fills else item.items)
        elif isinstance(item, Drawn):
            for subpath in item.subpaths:
                yield item, along(subpath)
        elif isinstance(item.raster, Raster):
            wide, high = item.raster.page
            yield item, np.array([[0, 0], [wide, 0], [wide, high], [0, high]], float)


def along(subpath: Subpath, steps: int = 8) -> Points:
    """Places along a subpath, near enough for its box."""
    begins = np.vstack([subpath.start[None], subpath.curves[:-1, 2]]) if len(subpath.curves) else subpath.start[None]
    if not len(subpath.curves):
        return begins
    t = np.linspace(0, 1, steps + 1)[None, :, None]
    p0, p1, p2, p3 = begins[:, None], *(subpath.curves[:, place][:, None] for place in range(3))
    curve = (1 - t) ** 3 * p0 + 3 * (1 - t) ** 2 * t * p1 + 3 * (1 - t) * t**2 * p2 + t**3 * p3
    return np.asarray(curve.reshape(-1, 2))


def moved(item: Item, by: Matrix) -> Item:
    """An item under one more matrix in root units."""
    if isinstance(item, Layer):
        return Layer(
            tuple(moved(one, by) for one in item.items),
            tuple(tuple(moved(one, by) for one in clip) for clip in item.clips),
            tuple(Mask(tuple(moved(one, by) for one in mask.items), mask.by_alpha) for mask in item.masks),
            item.alpha,
            item.word,
            item.fills,
        )
    if isinstance(item, Pasted):
        return Pasted(item.raster, times(by, item.matrix))
    return Drawn(
        item.subpaths,
        times(by, item.matrix),
        moved_paint(item.fill, by),
        item.rule,
        moved_paint(item.line, by),
        item.stroke,
        item.stroke_first,
    )


def moved_paint(paint: Paint | None, by: Matrix) -> Paint | None:
    """A paint under one more matrix."""
    if paint is None or isinstance(paint.colour, str):
        return paint
    return Paint(replace(paint.colour, matrix=times(by, paint.colour.matrix)), paint.alpha)
