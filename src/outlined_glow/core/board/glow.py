"""The board in any light: sun, LEDs falling on it and shining through it, exposure, and so to pixels (DOMAIN 10)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache

import cv2
import numpy as np
from numpy.typing import NDArray

from ..colour.difference import from_linear
from .light import LightField, Way
from .model import Board
from .surface import Picture, Surface, linear
from .view import View

Pixels = NDArray[np.uint8]
#: Light of each colour where it falls, by way.
Fallen = Sequence[tuple[str, dict[str, Picture]]]

#: The sun at midnight, of that at noon.
_NIGHT = 1 / 300
#: How much more of the light behind a window is gathered by the eye than falls on a pixel beside an LED.
_THROUGH = 9.0
#: How much of the light that falls on it what lies behind the board throws back.
_BEYOND = 0.35
_STEPS = 1 << 16
_BRIGHTEST = 8.0
#: Exposed light is kept in squared steps of the table: its square root is the step.
UNIT = (_STEPS - 1) ** 2 / _BRIGHTEST
#: Where the shoulder begins, and how soft it is.
_KNEE, _SOFT = 0.72, 1.6


def sun_strength(sun: float) -> float:
    """Linear sunlight for a place of the slider: 1 at noon (1), 1/300 at midnight (0), exponential between."""
    return float(_NIGHT ** (1.0 - min(1.0, max(0.0, sun))))


def exposure(sun: float) -> float:
    """The fixed exposure for each place of the sun: the eye opens as it gets dark, but not all the way."""
    return float(sun_strength(sun) ** -0.62)


@cache
def curve() -> NDArray[np.uint8]:
    """Linear light 0.._BRIGHTEST, in steps of a square root, to sRGB bytes through a soft shoulder."""
    value = np.linspace(0, 1, _STEPS) ** 2 * _BRIGHTEST
    over = 1 - np.exp(-(value - _KNEE) / (1 - _KNEE) / _SOFT)
    soft = np.where(value < _KNEE, value, _KNEE + (1 - _KNEE) * over)
    return np.round(np.clip(from_linear(soft), 0, 255)).astype(np.uint8)


@dataclass(frozen=True, eq=False)
class Exposed:
    """A surface under one sun, exposed: what does not change while the pattern plays.

    The picture is `base` + light falling on the side x `lit` + halo x `seen` + light from behind x `through` + light on what
    lies behind the board x `beyond`, in squared steps of the shoulder's table. Pictures in colour are kept as three planes
    (h, w): nothing is woven until the end.
    """

    view: View
    light: LightField
    base: tuple[Picture, ...]
    lit: tuple[Picture, ...]
    seen: Picture
    through: Picture
    beyond: Picture
    tint: NDArray[np.float32]

    @property
    def planes(self) -> tuple[Picture, ...]:
        """Every plane that the surface makes."""
        return *self.base, *self.lit, self.seen, self.through, self.beyond

    @property
    def from_behind(self) -> tuple[tuple[Way, Picture, NDArray[np.float32]], ...]:
        """The ways of light that does not fall on the side: how much of each is seen where, and how it is tinted."""
        return ("through", self.through, self.tint), ("beyond", self.beyond, np.ones(3, np.float32))


def expose(surface: Surface, light: LightField, sun: float, background: str, board: Board) -> Exposed:
    """Everything of a frame that the levels of the LEDs do not touch. `background` lies behind the board."""
    open_ = np.float32(exposure(sun) * UNIT)
    cover = surface.cover
    inside = cover * open_
    beside = surface.shadow * (1 - cover)
    ground = _ground(background, sun) * np.float32(UNIT)
    lit = tuple(plane * inside for plane in cv2.split(surface.albedo))
    day = sun_strength(sun)
    base = tuple(
        np.asarray(cv2.scaleAdd(plane, day, beside * shade), np.float32) for plane, shade in zip(lit, ground, strict=True)
    )
    seen = (np.float32(0.55) + np.float32(0.45) * cover) * open_
    through = surface.through * inside * np.float32(_THROUGH)
    beyond = (1 - cover) * open_ * np.float32(_BEYOND)
    tint = np.asarray(0.5 + 0.5 * linear(board.materials.tint), np.float32)
    return Exposed(surface.view, light, base, lit, seen, through, beyond, tint)


def exposed_again(
    before: Exposed, surface: Surface, light: LightField, place: tuple[slice, slice], sun: float, background: str, board: Board
) -> Exposed:
    """The same of a surface that differs in some rows and columns alone, under the same sun: painted over what was `before`."""
    there = Surface(
        surface.view, surface.albedo[place], surface.cover[place], surface.through[place], surface.shadow[place]
    )  # fmt: skip
    new = expose(there, light, sun, background, board)
    for old, piece in zip(before.planes, new.planes, strict=True):
        old[place] = piece
    return replace(before, light=light, tint=new.tint)


def play(exposed: Exposed, levels: NDArray[np.float64]) -> Pixels:
    """The picture (h, w, 3) sRGB at some levels, 0..1, of the board's LEDs."""
    return seen_by(exposed, fallen(exposed.light, levels))


def fallen(light: LightField, levels: NDArray[np.float64]) -> Fallen:
    """The light of each colour at some levels of the board's LEDs, by way, as large as the view."""
    size = (light.view.width, light.view.height)

    def whole(field: Picture) -> Picture:
        if field.shape[::-1] == size:
            return field
        return np.asarray(cv2.resize(field, size, interpolation=cv2.INTER_LINEAR), np.float32)

    return [(colour, {way: whole(field) for way, field in light.fields(levels, colour).items()}) for colour in light.colours]


def seen_by(exposed: Exposed, light: Fallen, place: tuple[slice, slice] = (slice(None), slice(None))) -> Pixels:
    """The picture (h, w, 3) sRGB of some rows and columns with light that has fallen."""
    total = [plane[place].copy() for plane in exposed.base]
    for colour, fields in light:
        shade = glow_of(colour)
        if "on" in fields:
            falling, spread = fields["on"][place], fields["halo"][place] * exposed.seen[place]
            for plane, lit, part in zip(total, exposed.lit, shade, strict=True):
                cv2.accumulateProduct(falling * part, lit[place], plane)
                cv2.scaleAdd(spread, float(part), plane, plane)
        for way, clear, tint in exposed.from_behind:
            if way in fields:
                shining = fields[way][place] * clear[place]
                for plane, part in zip(total, shade * tint, strict=True):
                    cv2.scaleAdd(shining, float(part), plane, plane)
    return develop(total)


def glow_of(colour: str) -> NDArray[np.float32]:
    """A strong source burns out towards white in the eye: a share of its light is taken colourless."""
    shade = linear(colour)
    return np.asarray(shade * 0.82 + 0.18 * float(shade.max()), np.float32)


def frame(
    surface: Surface, light: LightField, levels: NDArray[np.float64], sun: float, background: str, board: Board
) -> Pixels:
    """One picture on its own: expose, then play."""
    return play(expose(surface, light, sun, background, board), levels)


def _ground(background: str, sun: float) -> NDArray[np.float32]:
    """The bench in that light: as it is by day, never brighter than dusk at night."""
    shade = linear(background)
    night = np.minimum(shade, linear("17141B"))
    amount = min(1.0, max(0.0, (sun - 0.48) / 0.16))
    wanted = night + (shade - night) * amount
    # The shoulder would dull a bright bench: ask for what it turns into the wanted shade.
    bright = np.clip((wanted - _KNEE) / (1 - _KNEE), 0, 0.999)
    return np.asarray(np.where(wanted > _KNEE, _KNEE - (1 - _KNEE) * _SOFT * np.log(1 - bright), wanted), np.float32)


def develop(planes: Sequence[Picture]) -> Pixels:
    """Exposed light (three planes, nowhere below 0) to sRGB bytes (h, w, 3) through the shoulder, by a look-up table."""
    out = []
    for plane in planes:
        steps = cv2.add(cv2.sqrt(plane), 0.0, dtype=cv2.CV_16U)  # type: ignore[call-overload]
        out.append(cv2.LUT(steps, curve()))
    return np.asarray(cv2.merge(out), np.uint8)
