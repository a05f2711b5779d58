"""The same picture under every mask, finish and ink: how near each comes to it, and what it costs."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass

import msgspec
import numpy as np
from numpy.typing import NDArray

from ..artwork import Beside, Chosen, choose, touching
from ..board.surface import share
from ..board.view import View, coverage
from ..brief import price_of
from ..brief.look import look_of
from ..colour.difference import hex_to_rgb
from ..colour.materials import finishes, inks, masks
from ..geometry.valid import shifted
from ..project import Stack
from .work import Work

#: Pixels of the small pictures.
PICTURE_PX = (88, 66)


@dataclass(frozen=True)
class OtherColours:
    """One stack: mean difference to the picture (CIEDE2000, by area), price, days, and what each swatch becomes."""

    stack: Stack
    difference: float
    boards: float
    each: float
    days: int
    appearances: tuple[str, ...]
    now: bool

    def change(self, here: Stack) -> str:
        """What it changes of another stack, in few words."""
        words = [getattr(self.stack, key) for key in ("mask", "finish") if getattr(self.stack, key) != getattr(here, key)]
        words += [f"{self.stack.ink} ink"] if self.stack.ink != here.ink else []
        return " · ".join(words).replace("-", " ") or "as now"

    @property
    def name(self) -> str:
        """In words."""
        return f"{self.stack.mask} · {self.stack.finish} · {self.stack.ink}".replace("-", " ")


def explore(work: Work) -> list[OtherColours]:
    """Every stack the profile offers, the nearest to the picture first. A choice made by hand is kept in all of them."""
    beside, here, rules = touching(work.painted), work.brief.stack, work.board.profile
    masks_, inks_ = (masks(), inks()) if rules.has_mask else ((here.mask,), (here.ink,))
    every = itertools.product(masks_, finishes(), inks_)
    stacks = [msgspec.structs.replace(here, mask=mask, finish=finish, ink=ink) for mask, finish, ink in every]
    return sorted(
        (under(work, stack, beside) for stack in stacks), key=lambda one: (round(one.difference, 2), one.boards, one.name)
    )


def under(work: Work, stack: Stack, beside: Beside) -> OtherColours:
    """The picture under one stack. `beside` says which swatches touch."""
    brief, board, rules = work.brief, work.board, work.board.profile
    look = look_of(stack, rules)
    chosen = choose(work.painted, beside, work.design.artwork.chosen, look, rules.has_mask)
    price = price_of(board.size, stack, brief.pieces, work.board.profile.at_home, board.edge_copper)
    words = tuple(one.appearance for one in chosen)
    days = rules.days_make + rules.days_arrive
    return OtherColours(stack, _mean(chosen), price.boards, price.each, days, words, stack == brief.stack)


def _mean(chosen: tuple[Chosen, ...]) -> float:
    areas = np.array([one.region.area for one in chosen])
    far = np.array([one.difference for one in chosen])
    return float((areas * far).sum() / max(float(areas.sum()), 1e-12))


class Pictures:
    """Small pictures of the front under many stacks: regions are laid once, only their colours change."""

    def __init__(self, work: Work, cancelled: Callable[[], bool] = lambda: False) -> None:
        board = work.board
        self._rules = board.profile
        wide, high = PICTURE_PX
        scale = min(wide / (board.size[0] + 2), high / (board.size[1] + 2))
        left, top = (board.size[0] - wide / scale) / 2, (board.size[1] + high / scale) / 2
        view = View("front", scale, left, top, wide, high)
        origin = work.outline.origin
        self._core = share(coverage(board.layer("core"), view))
        self._shown: list[tuple[int, NDArray[np.float32]]] = []
        for place, swatch in enumerate(work.painted.swatches):
            if swatch.side == "front" and not cancelled():
                region = shifted(swatch.region, -origin[0], -origin[1])
                self._shown.append((place, share(coverage(region, view))))

    def drawn(self, other: OtherColours, background: str) -> NDArray[np.uint8]:
        """The picture under one stack, as pixels (h, w, 3)."""
        stack = other.stack
        look = look_of(stack, self._rules)
        out = np.broadcast_to(np.array(hex_to_rgb(look.mask), np.float32), (*self._core.shape, 3)).copy()
        for place, cover in self._shown:
            colour = look.colour(other.appearances[place]) if other.appearances[place] != "cut" else background
            out += (np.array(hex_to_rgb(colour), np.float32) - out) * cover[..., None]
        ground = np.array(hex_to_rgb(background), np.float32)
        return np.round(ground + (out - ground) * self._core[..., None]).astype(np.uint8)
