"""The board in any light: sun, LEDs falling on it and shining through it, exposure, and so to pixels (DOMAIN 10)."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from ..lights.footprint import FRONT_HEIGHT_MM, REACH, footprint
from .model import Board, LightSpot
from .surface import Picture, Surface, linear
from .view import View

Pixels = NDArray[np.uint8]

#: The sun at midnight, of that at noon.
_NIGHT = 1 / 300
#: Linear light on the surface right under an LED of one millicandela.
_PER_MCD = 0.0045
#: Light of the lens itself, and of its halo in the eye, against the light under it.
_LENS, _HALO, _TYPICAL_MCD = 30.0, 0.10, 21.0
#: How much more of the light behind a window is gathered by the eye than falls on a pixel beside an LED.
_THROUGH = 9.0
_STEPS = 1 << 16
_BRIGHTEST = 8.0
#: Exposed light is kept in squared steps of the table: its square root is the step.
UNIT = (_STEPS - 1) ** 2 / _BRIGHTEST
#: Where the shoulder begins, and how soft it is.
_KNEE, _SOFT = 0.72, 1.6
#: Fields are made at this many pixels per mm at most and scaled up: the footprint is smooth.
_FIELD_PX_PER_MM = 7.0


@dataclass(frozen=True, eq=False)
class _Patch:
    rows: slice
    columns: slice
    direct: Picture
    halo: Picture


@dataclass(frozen=True, eq=False)
class LightField:
    """Each LED's light in one view, cut to where it reaches; summed by level for a frame."""

    view: View
    small: tuple[int, int]
    spots: tuple[LightSpot, ...]
    patches: tuple[_Patch, ...]
    colours: tuple[str, ...]


def make_light(board: Board, view: View) -> LightField:
    """The light of each LED that shows on the view's side: its own side's, and those behind windows in front."""
    scale = min(1.0, _FIELD_PX_PER_MM / view.px_per_mm)
    small = (max(1, round(view.height * scale)), max(1, round(view.width * scale)))
    spots, patches = [], []
    for spot in board.lights:
        if spot.side != view.side and not (spot.behind and view.side == "front"):
            continue
        patch = _make_patch(spot, board, view, small)
        if patch is not None:
            spots.append(spot)
            patches.append(patch)
    colours = tuple(dict.fromkeys(spot.colour for spot in spots))
    return LightField(view, small, tuple(spots), tuple(patches), colours)


def _make_patch(spot: LightSpot, board: Board, view: View, small: tuple[int, int]) -> _Patch | None:
    behind = spot.behind and view.side == "front"
    height = board.stack.thickness_mm if behind else FRONT_HEIGHT_MM
    sy, sx = small[0] / view.height, small[1] / view.width
    px, py = view.to_px(np.array([[spot.x, spot.y]]))[0]
    mm = 1 / view.px_per_mm
    reach = REACH * max(height, 1.2) / mm
    x0, x1 = max(0, int((px - reach) * sx)), min(small[1], int((px + reach) * sx) + 2)
    y0, y1 = max(0, int((py - reach) * sy)), min(small[0], int((py + reach) * sy) + 2)
    if x0 >= x1 or y0 >= y1:
        return None
    x = ((np.arange(x0, x1, dtype=np.float32) + 0.5) / np.float32(sx) - np.float32(px)) * np.float32(mm)
    y = ((np.arange(y0, y1, dtype=np.float32) + 0.5) / np.float32(sy) - np.float32(py)) * np.float32(mm)
    distance = np.hypot(x[None, :], y[:, None])
    # Fades to nothing where the patch ends, so that no edge of it shows on a bright board.
    fade = np.square(np.clip(1 - np.square(distance / np.float32(reach * mm)), 0, 1))
    direct = footprint(distance, height) * fade * np.float32(spot.mcd * _PER_MCD)
    if behind:
        halo = np.zeros_like(direct)
    else:
        # What the eye makes of a lens grows slower than its light.
        strength = np.float32(_TYPICAL_MCD * (spot.mcd / _TYPICAL_MCD) ** 0.6 * _PER_MCD) if spot.mcd > 0 else np.float32(0)
        lens = np.exp(-np.square(distance / 0.42)) * np.float32(_LENS * 0.25)
        glare = np.float32(_HALO) / (1.0 + np.square(distance / 2.2)) ** 1.5
        halo = (lens + glare) * fade * strength
    return _Patch(slice(y0, y1), slice(x0, x1), direct.astype(np.float32), halo.astype(np.float32))


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
        return _fields_of(light, levels, light.colours[0])
    sums: list[Any] = [None, None, None]
    for colour in light.colours:
        shade = _glow_of(colour)
        for which, field in enumerate(_fields_of(light, levels, colour)):
            if field is not None:
                coloured = _coloured(field, shade * exposed.tint if which == 2 else shade)
                sums[which] = coloured if sums[which] is None else sums[which] + coloured
    return tuple(sums)


def _fields_of(
    light: LightField, levels: NDArray[np.float64], colour: str
) -> tuple[Picture | None, Picture | None, Picture | None]:
    """Sums (h, w) of the patches of one colour: falling on the side, in the eye, and from behind."""
    direct = np.zeros(light.small, np.float32)
    halo = np.zeros(light.small, np.float32)
    behind = np.zeros(light.small, np.float32)
    some = [False, False]
    for spot, patch in zip(light.spots, light.patches, strict=True):
        level = np.float32(levels[spot.index - 1]) if spot.index <= len(levels) else np.float32(0)
        if spot.colour != colour or level <= 0:
            continue
        place = (patch.rows, patch.columns)
        if spot.behind and light.view.side == "front":
            behind[place] += level * patch.direct
            some[1] = True
        else:
            direct[place] += level * patch.direct
            halo[place] += level * patch.halo
            some[0] = True
    return direct if some[0] else None, halo if some[0] else None, behind if some[1] else None


def develop(picture: Picture) -> Pixels:
    """Exposed light (h, w, 3), nowhere below 0, to sRGB bytes through the shoulder, by a look-up table."""
    steps = cv2.add(cv2.sqrt(picture.reshape(picture.shape[0], -1)), 0.0, dtype=cv2.CV_16U)  # type: ignore[call-overload]
    return np.asarray(cv2.LUT(steps, _curve()), np.uint8).reshape(picture.shape)
