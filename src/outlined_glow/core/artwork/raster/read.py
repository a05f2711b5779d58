"""PNG, JPEG, WebP, TIFF, BMP and GIF as upright sRGB pixels; what strangers send is refused before it is decoded."""

from __future__ import annotations

import io
import struct
import warnings
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from ...colour.difference import from_linear
from ...errors import Trouble
from ..drawing import Note
from .deep_grey import eight_bit_grey

Pixels = NDArray[np.uint8]

#: What is decoded at all, and the longer side of what is then worked on, in pixels.
MOST_PIXELS = 150_000_000
WORKING_SIDE = 4096
_FORMATS = ("PNG", "JPEG", "WEBP", "TIFF", "BMP", "GIF")
_UNREADABLE = (OSError, ValueError, SyntaxError, EOFError, struct.error, MemoryError, TypeError, KeyError, IndexError,
               OverflowError, ZeroDivisionError, NotImplementedError, RuntimeError, AttributeError)  # fmt: skip
#: Resolutions under this are a screen's and no size; and what stands for none at all.
_LEAST_DPI = 100
_UNSAID = (1000.0, 1000.0)
#: The tag of EXIF that tells how a picture lies.
_ORIENTATION = 0x0112
#: Where the primaries and the white of sRGB lie (x, y), and how far off others may be said to be the same.
_SRGB_PLACES = (0.3127, 0.3290, 0.64, 0.33, 0.30, 0.60, 0.15, 0.06)
_NEAR_PLACE = 0.01
#: PNG writes the power of light that its values are; this is what stands for sRGB, and what is so near counts as it.
_SRGB_POWER, _NEAR_POWER = 1 / 2.2, 0.02
# Our own limit above is asked before anything is decoded.
Image.MAX_IMAGE_PIXELS = None


@dataclass(frozen=True, eq=False)
class Raster:
    """Pixels (h, w, 3) sRGB, how solid each is (h, w) or None, mm a pixel if the file says, and the file's own size."""

    pixels: Pixels
    solid: Pixels | None
    mm_per_px: float | None
    size_px: tuple[int, int]
    notes: tuple[Note, ...]

    @property
    def page(self) -> tuple[float, float]:
        """Width and height in working pixels."""
        return float(self.pixels.shape[1]), float(self.pixels.shape[0])


def read_raster(data: bytes, name: str) -> Raster:
    """The picture, upright by its EXIF orientation, in sRGB by its colour profile, its first frame or page.

    Larger ones are averaged down to a longer side of `WORKING_SIDE`. `Trouble` says why one cannot be read.
    """
    try:
        # What the library mutters about a damaged tag is no news: the picture is read, or it is not.
        with warnings.catch_warnings(action="ignore"), Image.open(io.BytesIO(data), formats=_FORMATS) as picture:
            wide, high = picture.size
            if wide * high > MOST_PIXELS:
                raise Trouble(
                    f"“{name}” has {wide:,} x {high:,} pixels; {MOST_PIXELS // 1_000_000} million are taken: make it smaller."
                )
            return _read(picture, name)
    except Trouble:
        raise
    except UnidentifiedImageError as error:
        raise Trouble(f"“{name}” is damaged, or no picture of a kind that can be read.") from error
    except _UNREADABLE as error:
        raise Trouble(f"“{name}” is a damaged picture; save it again and try that.") from error


def _read(picture: Image.Image, name: str) -> Raster:
    notes = []
    frames = getattr(picture, "n_frames", 1)
    if frames > 1:
        notes.append(Note("first-frame-taken", f"“{name}” holds {frames} frames or pages; the first one is taken."))
    size, pitch = picture.size, _mm_per_px(picture)
    if picture.format == "JPEG":
        picture.draft(None, (WORKING_SIDE, WORKING_SIDE))
    picture.load()
    turned = orientation_of(picture)
    working, lost = upright(picture, turned, -(-max(picture.size) // WORKING_SIDE))
    notes += [Note("colour-profile-ignored", words.format(f"“{name}”")) for words in lost]
    if turned >= 5:
        size, pitch = (size[1], size[0]), pitch[::-1]
    if pitch[0] != pitch[1]:
        working = _squared(working, pitch[1] / pitch[0])
        words = f"The pixels of “{name}” are not square (it states two resolutions). It is drawn in its true proportions."
        notes.append(Note("pixels-not-square", words))
    solid = np.asarray(working.getchannel("A")) if "A" in working.getbands() else None
    if solid is not None and int(solid.max(initial=0)) < 128:
        raise Trouble(f"“{name}” is transparent all over; there is nothing to make a board of.")
    if solid is not None and int(solid.min()) == 255:
        solid = None
    pixels = np.asarray(working.convert("RGB"))
    across = size[0] * pitch[0] / pixels.shape[1] if max(pitch) <= 25.4 / _LEAST_DPI else None
    return Raster(pixels, solid, across, size, tuple(notes))


def orientation_of(picture: Image.Image) -> int:
    """How a loaded picture lies, by EXIF: 1 is upright, from 5 on it lies on its side."""
    return int(picture.getexif().get(_ORIENTATION, 1))


def upright(picture: Image.Image, orientation: int, factor: int = 1) -> tuple[Image.Image, list[str]]:
    """The frame that a picture stands at, averaged down by a factor, as upright RGB or RGBA in sRGB; and what of its colours is
    passed over, in sentences with {} for its name."""
    profile, lost = picture.info.get("icc_profile"), []
    working = _eight_bits(picture)
    if factor > 1:
        working = working.reduce(factor)
    working, unread = _in_srgb(working, profile)
    if unread:
        lost.append("The colour profile of {} cannot be read; plain sRGB is taken.")
    if not profile and "srgb" not in picture.info:
        working, unlike = _by_its_power(working, picture.info)
        lost += ["{} states other primaries than those of sRGB; its colours are taken as sRGB."] * unlike
    if orientation != 1:
        working.getexif()[_ORIENTATION] = orientation
        working = ImageOps.exif_transpose(working)
    return working, lost


def _squared(picture: Image.Image, tall: float) -> Image.Image:
    """A picture whose pixels are `tall` times as high as wide, with square ones: the coarser way is made finer."""
    wide, high = picture.size
    wide, high = (wide, round(high * tall)) if tall > 1 else (round(wide / tall), high)
    share = min(1.0, WORKING_SIDE / max(wide, high))
    return picture.resize((max(1, round(wide * share)), max(1, round(high * share))), Image.Resampling.BILINEAR)


def _mm_per_px(picture: Image.Image) -> tuple[float, float]:
    """How wide and high a pixel is by the resolution the file states; (1000, 1000) where it states none.

    What is coarser than `_LEAST_DPI` (screens' 72 and 96) tells a shape, but no size.
    """
    info = picture.info
    dpi = info.get("dpi")
    shape = dpi or info.get("aspect") or info.get("resolution") or info.get("jfif_density")
    try:
        across, down = (float(shape[0]), float(shape[1])) if shape else (0.0, 0.0)
        if not dpi and across > 0 and down > 0:  # no unit: a shape alone
            across, down = 1.0, down / across
    except (TypeError, ValueError, ZeroDivisionError, OverflowError, IndexError):
        return _UNSAID
    if not (0.1 < across < 10_000 and 0.1 < down < 10_000) or not 0.1 <= across / down <= 10:
        return _UNSAID
    return (25.4 / across, 25.4 / down) if abs(across / down - 1) > 0.01 else (25.4 / across, 25.4 / across)


def _eight_bits(picture: Image.Image) -> Image.Image:
    """Any mode as RGB, RGBA, L, LA or CMYK of eight bits a channel."""
    mode = picture.mode
    if mode in ("I", "F") or mode.startswith("I;16"):
        return eight_bit_grey(picture)
    if mode in ("P", "PA", "1") or (mode in ("RGB", "L") and "transparency" in picture.info):
        return picture.convert("RGBA")
    if mode in ("RGB", "RGBA", "L", "LA", "CMYK"):
        return picture
    return picture.convert("RGBA" if "a" in mode else "RGB")


def _in_srgb(picture: Image.Image, profile: bytes | None) -> tuple[Image.Image, bool]:
    """The picture as RGB or RGBA in sRGB, and whether its profile had to be ignored."""
    alpha = picture.getchannel("A") if "A" in picture.getbands() else None
    plain = picture.convert({"LA": "L", "RGBA": "RGB"}.get(picture.mode, picture.mode)) if alpha else picture
    lost = False
    if profile:
        try:
            source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            made = ImageCms.profileToProfile(plain, source, ImageCms.createProfile("sRGB"), outputMode="RGB")
            plain = made if made is not None else plain
        except (ImageCms.PyCMSError, OSError, ValueError, TypeError):
            lost = True
    plain = plain.convert("RGB")
    if alpha is not None:
        plain.putalpha(alpha)
    return plain, lost


def _by_its_power(picture: Image.Image, info: dict[Any, Any]) -> tuple[Image.Image, bool]:
    """A PNG of RGB or RGBA without a profile as sRGB, by the power of light that it states (gAMA); and whether it states
    other primaries (cHRM), which are left."""
    places = info.get("chromaticity", ())
    unlike = any(abs(one - srgb) > _NEAR_PLACE for one, srgb in zip(places, _SRGB_PLACES, strict=False))
    power = info.get("gamma")
    if not power or abs(power - _SRGB_POWER) < _NEAR_POWER:
        return picture, unlike
    light = (np.arange(256) / 255) ** (1 / power)
    table = [round(value) for value in from_linear(light).tolist()]
    plain = list(range(256))
    return picture.point(table * 3 + (plain if picture.mode == "RGBA" else [])), unlike
