"""The board in any light: sun, LEDs falling on it and shining through it, exposure, and so to pixels (DOMAIN 10)."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from .light import LightField
from .model import Board
from .surface import Picture, Surface, linear

Pixels = NDArray[np.uint8]

#: The sun at midnight, of that at noon.
_NIGHT = 1 / 300
#: How much more of the light behind a window is gathered by the eye than falls on a pixel beside an LED.
_THROUGH = 9.0
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
def _curve() -> NDArray[np.uint8]:
    """Linear light 0.._BRIGHTEST, in steps of a square root, to sRGB bytes through a soft shoulder."""
    value = np.linspace(0, 1, _STEPS) ** 2 * _BRIGHTEST
    over = 1 - np.exp(-(value - _KNEE) / (1 - _KNEE) / _SOFT)
    soft = np.where(value < _KNEE, value, _KNEE + (1 - _KNEE) * over)
    srgb = np.where(soft <= 0.0031308, soft * 12.92, 1.055 * np.power(np.maximum(soft, 1e-9), 1 / 2.4) - 0.055)
    return np.round(np.clip(srgb, 0, 1) * 255).astype(np.uint8)


@dataclass(frozen=True, eq=False)
class Exposed:
    """A surface under one sun, exposed: what does not change while the pattern plays.

    The picture is `base` + light falling on the side x `lit` + halo x `eye` + light from behind x `shone`,
    all (h, w, 3) in squared steps of the shoulder's table. Where all LEDs have one colour, it is in the weights and
    the fields of light are grey; otherwise the fields are coloured.
    """

    surface: Surface
    light: LightField
    base: Picture
    lit: Picture
    eye: Picture
    shone: Picture
    tint: NDArray[np.float32]

    @property
    def grey(self) -> bool:
        """Whether the fields of light carry no colour of their own."""
        return len(self.light.colours) == 1


def expose(surface: Surface, light: LightField, sun: float, background: str, board: Board) -> Exposed:
    """Everything of a frame that the levels of the LEDs do not touch. `background` lies behind the board."""
    open_ = np.float32(exposure(sun) * UNIT)
    day = np.float32(sun_strength(sun))
    cover = surface.cover
    inside = surface.albedo * cv2.merge((cover, cover, cover))
    beside = surface.shadow * (1 - cover)
    ground = _ground(background, sun) * np.float32(UNIT)
    base = cv2.merge([beside * shade for shade in ground])
    cv2.scaleAdd(inside, float(day * open_), base, base)
    inside *= open_
    seen = (np.float32(0.55) + np.float32(0.45) * cover) * open_
    through = surface.through * cover * np.float32(_THROUGH * open_)
    tint = np.asarray(0.5 + 0.5 * linear(board.materials.tint), np.float32)
    shade = _glow_of(light.colours[0]) if len(light.colours) == 1 else np.ones(3, np.float32)
    return Exposed(
        surface,
        light,
        base,
        inside * shade if len(light.colours) == 1 else inside,
        _coloured(seen, shade),
        _coloured(through, shade * tint if len(light.colours) == 1 else shade),
        tint,
    )


def _coloured(field: Picture, shade: NDArray[np.float32]) -> Picture:
    """A field (h, w) in a colour: (h, w, 3)."""
    return np.asarray(cv2.merge([field * part for part in shade]), np.float32)


def play(exposed: Exposed, levels: NDArray[np.float64]) -> Pixels:
    """The picture (h, w, 3) sRGB at some levels, 0..1 by LED index."""
    view = exposed.surface.view
    total = exposed.base.copy()
    fields = _fields(exposed, levels)
    for field, weight in zip(fields, (exposed.lit, exposed.eye, exposed.shone), strict=True):
        if field is not None:
            whole: Any = field
            if field.shape[:2] != (view.height, view.width):
                whole = cv2.resize(field, (view.width, view.height), interpolation=cv2.INTER_LINEAR)
            if exposed.grey:
                whole = cv2.merge((whole, whole, whole))
            cv2.accumulateProduct(whole, weight, total)
    return develop(total)


def _glow_of(colour: str) -> NDArray[np.float32]:
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


def _fields(exposed: Exposed, levels: NDArray[np.float64]) -> tuple[Picture | None, ...]:
    """Small sums of the patches, grey (h, w) or coloured (h, w, 3): falling on the side, in the eye, from behind."""
    light = exposed.light
    if exposed.grey:
        return light.fields(levels, light.colours[0])
    sums: list[Any] = [None, None, None]
    for colour in light.colours:
        shade = _glow_of(colour)
        for which, field in enumerate(light.fields(levels, colour)):
            if field is not None:
                coloured = _coloured(field, shade * exposed.tint if which == 2 else shade)
                sums[which] = coloured if sums[which] is None else sums[which] + coloured
    return tuple(sums)


def develop(picture: Picture) -> Pixels:
    """Exposed light (h, w, 3), nowhere below 0, to sRGB bytes through the shoulder, by a look-up table."""
    steps = cv2.add(cv2.sqrt(picture.reshape(picture.shape[0], -1)), 0.0, dtype=cv2.CV_16U)  # type: ignore[call-overload]
    return np.asarray(cv2.LUT(steps, _curve()), np.uint8).reshape(picture.shape)
