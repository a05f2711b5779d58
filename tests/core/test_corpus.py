"""Every drawing of the corpus: its regions cover what was painted, never overlap, and agree with an independent renderer."""

from __future__ import annotations

import io

import numpy as np
import pytest
import resvg_py
import shapely
from corpus import drawings
from PIL import Image

from outlined_glow.core.artwork import paint, read_picture
from outlined_glow.core.artwork.painting import Painted

_PX = 768
NAMES = sorted(drawings())
#: The corpus in lots, so that a failure names few.
LOTS = [NAMES[start : start + 16] for start in range(0, len(NAMES), 16)]


def reference(text: str) -> np.ndarray:
    """The drawing by the other renderer (h, w, 4)."""
    png = resvg_py.svg_to_bytes(svg_string=text, width=_PX, dpi=96, skip_system_fonts=True)
    return np.asarray(Image.open(io.BytesIO(bytes(png))).convert("RGBA")).astype(int)


def wrong_areas(painted: Painted, pixels: np.ndarray) -> dict[str, float]:
    """How far each colour's area is off the renderer's, as a share of all that is painted."""
    solid = pixels[..., 3] >= 128
    colours = np.array([[int(swatch.colour[at : at + 2], 16) for at in (0, 2, 4)] for swatch in painted.swatches])
    packed, count = np.unique(pixels[solid][:, :3] @ (1 << 16, 1 << 8, 1), return_counts=True)
    seen = np.column_stack([packed >> 16, packed >> 8 & 255, packed & 255])
    nearest = np.argmin(((seen[:, None] - colours[None]) ** 2).sum(axis=2), axis=1)
    shares = np.bincount(nearest, count, minlength=len(colours)) / count.sum()
    whole = painted.silhouette.area
    return {
        swatch.colour: abs(swatch.region.area / whole - share) for swatch, share in zip(painted.swatches, shares, strict=True)
    }


@pytest.mark.parametrize("lot", LOTS, ids=lambda lot: lot[0])
def test_drawings_of_strangers_come_out_right(lot: list[str]) -> None:
    for name in lot:
        text = drawings()[name]
        painted = paint(read_picture(text.encode(), f"{name}.svg"), 30.0, f"{name}.svg")
        regions = [swatch.region for swatch in painted.swatches]
        assert all(region.is_valid for region in regions), name
        together = sum(region.area for region in regions)
        assert shapely.union_all(regions).area == pytest.approx(together, rel=1e-6), f"{name}: regions overlap"
        assert together == pytest.approx(painted.silhouette.area, rel=1e-4), f"{name}: something painted is lost"
        off = wrong_areas(painted, reference(text))
        assert max(off.values()) < 0.01, (name, off)


def test_the_corpus_is_worth_its_name() -> None:
    assert len(NAMES) >= 300
    colours = [len(paint(read_picture(drawings()[name].encode(), name), 30.0, name).swatches) for name in NAMES[::10]]
    assert np.mean(colours) > 2.5
