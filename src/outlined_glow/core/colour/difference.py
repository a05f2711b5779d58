"""sRGB, CIELAB (D65) and CIEDE2000.

Source: IEC 61966-2-1; CIE 15:2004; ISO/CIE 11664-6:2014.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike, NDArray

#: Linear sRGB to CIE XYZ.
TO_XYZ = np.array([[0.4124564, 0.3575761, 0.1804375], [0.2126729, 0.7151522, 0.0721750], [0.0193339, 0.1191920, 0.9503041]])
_WHITE = np.array([0.95047, 1.0, 1.08883])


def hex_to_rgb(text: str) -> tuple[int, int, int]:
    """`"D9A441"` to (217, 164, 65)."""
    return int(text[0:2], 16), int(text[2:4], 16), int(text[4:6], 16)


def rgb_to_hex(rgb: ArrayLike) -> str:
    """(217, 164, 65) to `"D9A441"`."""
    red, green, blue = (int(value) for value in np.asarray(rgb))
    return f"{red:02X}{green:02X}{blue:02X}"


def to_linear(srgb: ArrayLike) -> NDArray[np.float64]:
    """sRGB 0..255 to linear 0..1, any shape."""
    value = np.asarray(srgb, float) / 255.0
    return np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4)


def from_linear(light: ArrayLike) -> NDArray[np.float64]:
    """Linear 0..1 to sRGB 0..255, any shape."""
    value = np.asarray(light, float)
    return 255.0 * np.where(value <= 0.0031308, 12.92 * value, 1.055 * np.maximum(value, 1e-12) ** (1 / 2.4) - 0.055)


def rgb_to_lab(rgb: ArrayLike) -> NDArray[np.float64]:
    """sRGB (..., 3) 0..255 to CIELAB (..., 3)."""
    ratio = (to_linear(rgb) @ TO_XYZ.T) / _WHITE
    f = np.where(ratio > 216 / 24389, np.cbrt(ratio), (24389 / 27 * ratio + 16) / 116)
    return np.stack([116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], axis=-1)


def lab_to_linear(lab: ArrayLike) -> NDArray[np.float64]:
    """CIELAB (..., 3) to linear light 0..1 of sRGB; what no sRGB colour can be is drawn in to what can."""
    light, a, b = np.moveaxis(np.asarray(lab, float), -1, 0)
    y = (light + 16) / 116
    f = np.stack([y + a / 500, y, y - b / 200], axis=-1)
    xyz = np.where(f > 6 / 29, f**3, (116 * f - 16) / (24389 / 27)) * _WHITE
    return np.asarray(np.clip(xyz @ np.linalg.inv(TO_XYZ).T, 0.0, 1.0), float)


def lightness(share: ArrayLike) -> NDArray[np.float64]:
    """CIE 1976 lightness L*, 0..100, of a share of full light."""
    value = np.asarray(share, float)
    return np.where(value > 216 / 24389, 116 * np.cbrt(value) - 16, value * (24389 / 27))


def from_lightness(lightness_: ArrayLike) -> NDArray[np.float64]:
    """The share of full light of a CIE 1976 lightness, 0..100."""
    value = np.asarray(lightness_, float)
    return np.where(value > 8, ((value + 16) / 116) ** 3, value / (24389 / 27))


def ciede2000(lab1: ArrayLike, lab2: ArrayLike) -> NDArray[np.float64]:
    """Colour difference of CIELAB arrays (..., 3), broadcast against one another."""
    one, two = np.asarray(lab1, float), np.asarray(lab2, float)
    l1, a1, b1 = one[..., 0], one[..., 1], one[..., 2]
    l2, a2, b2 = two[..., 0], two[..., 1], two[..., 2]
    mean7 = ((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2) ** 7
    stretch = 1.5 - 0.5 * np.sqrt(mean7 / (mean7 + 25.0**7))
    a1, a2 = a1 * stretch, a2 * stretch
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)
    h1, h2 = np.degrees(np.arctan2(b1, a1)) % 360, np.degrees(np.arctan2(b2, a2)) % 360
    grey = c1 * c2 == 0
    # Opposite hues have their mean half way, whichever comes first; rounding must not send it round the other way.
    plain = np.abs(h2 - h1) <= 180 + 1e-9
    turn = np.where(grey, 0.0, np.where(plain, h2 - h1, (h2 - h1 + 180) % 360 - 180))
    dl, dc, dh = l2 - l1, c2 - c1, 2 * np.sqrt(c1 * c2) * np.sin(np.radians(turn / 2))
    lm, cm = (l1 + l2) / 2, (c1 + c2) / 2
    hm = np.where(grey, h1 + h2, (h1 + turn / 2) % 360)
    t = (
        1
        - 0.17 * np.cos(np.radians(hm - 30))
        + 0.24 * np.cos(np.radians(2 * hm))
        + 0.32 * np.cos(np.radians(3 * hm + 6))
        - 0.20 * np.cos(np.radians(4 * hm - 63))
    )
    sl = 1 + 0.015 * (lm - 50) ** 2 / np.sqrt(20 + (lm - 50) ** 2)
    sc, sh = 1 + 0.045 * cm, 1 + 0.015 * cm * t
    twist = np.sin(2 * np.radians(30 * np.exp(-(((hm - 275) / 25) ** 2))))
    rt = -2 * np.sqrt(cm**7 / (cm**7 + 25.0**7)) * twist
    total: NDArray[np.float64] = np.sqrt((dl / sl) ** 2 + (dc / sc) ** 2 + (dh / sh) ** 2 + rt * (dc / sc) * (dh / sh))
    return total


@lru_cache(maxsize=4096)
def hex_to_lab(text: str) -> tuple[float, float, float]:
    """`"D9A441"` to CIELAB; the colours of a picture and of materials are asked for again and again."""
    light, a, b = rgb_to_lab(hex_to_rgb(text)).tolist()
    return light, a, b


def hex_difference(one: str, other: str) -> float:
    """CIEDE2000 between two sRGB colours."""
    return float(ciede2000(hex_to_lab(one), hex_to_lab(other)))
