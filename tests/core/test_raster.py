"""Raster pictures: read as they are meant, traced within their deviation, toned as dots that print."""

from __future__ import annotations

import io
import struct
import tracemalloc
import zlib

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st
from hypothesis.extra import numpy as arrays
from pictures import badge, encoded, hills
from PIL import Image, ImageCms, ImageDraw, ImageFilter

from outlined_glow.core.artwork import ToneRules, paint, place, read_picture, resolve
from outlined_glow.core.artwork.painting import natural_width_mm
from outlined_glow.core.artwork.raster import Raster, read_raster
from outlined_glow.core.artwork.raster.tones import KERNELS, Steps, diffuse, finest_ruling, threshold_of
from outlined_glow.core.colour.difference import to_linear
from outlined_glow.core.errors import Trouble
from outlined_glow.core.geometry.cracks import NOTHING
from outlined_glow.core.geometry.trace import trace
from outlined_glow.core.project import Picture, Tones
from outlined_glow.core.watch import Cancelled, Watch
from outlined_glow.core.workshop import Compiler, new_project
from outlined_glow.core.workshop.facts import picture_facts

LABELS = arrays.arrays(np.uint8, arrays.array_shapes(min_dims=2, max_dims=2, min_side=1, max_side=14),
                       elements=st.sampled_from([0, 1, 2, NOTHING]))  # fmt: skip
DESK = ToneRules((("mask", "121212"), ("raised", "1D1B1A"), ("metal", "D9B25A"), ("ink", "F4F2EC")), 0.2)


@given(LABELS)
def test_pixels_traced_exactly_are_the_pixels(labels: np.ndarray) -> None:
    found = trace(labels, 0.0)
    for label in (0, 1, 2):
        region = found.get(label)
        count = int((labels == label).sum())
        assert (region.area if region is not None else 0) == pytest.approx(count)
        if region is not None:
            rows, columns = np.nonzero(labels == label)
            assert shapely.contains_xy(region, columns + 0.5, rows + 0.5).all()
            assert region.is_valid


@given(LABELS, st.integers(0, 99), st.floats(0.05, 0.9))
@example(np.array([[0, 0, 1, 0, 0, 0, 0], [0, 1, 0, 0, 0, 0, 0], [1, 0, 0, 0, 0, 0, 0]], np.uint8), 0, 0.5)
def test_smoothed_regions_neither_overlap_nor_leave_gaps(labels: np.ndarray, seed: int, tolerance: float) -> None:
    dice = np.random.default_rng(seed).random(labels.size)
    found = trace(labels, tolerance, lambda one, other: dice[one])
    regions = list(found.values())
    assert all(region.is_valid for region in regions)
    if regions:
        whole = shapely.union_all(regions)
        assert whole.area == pytest.approx(sum(region.area for region in regions), abs=1e-6)


def test_soft_edges_are_found_between_the_pixels_and_corners_are_kept() -> None:
    fine = paint(read_picture(encoded(badge(400)), "badge.png"), 40.0, "badge.png")
    colours = {swatch.colour: swatch.region for swatch in fine.swatches}
    assert set(colours) == {"FFFFFF", "2E1240", "D9B25A", "121212"}
    bar = shapely.box(20, 6, 36, 18)
    disc = shapely.Point(14, 17).buffer(10, quad_segs=64)
    ring = colours["D9B25A"]
    assert ring.symmetric_difference(bar.difference(shapely.box(24, 9, 32, 15))).area < 0.02 * bar.length
    assert shapely.hausdorff_distance(ring.exterior, bar.exterior) < 0.05, "square corners stay square"
    assert colours["2E1240"].symmetric_difference(disc.difference(bar)).area < 0.02 * disc.length
    assert sum(region.area for region in colours.values()) == pytest.approx(fine.silhouette.area)


def test_a_grain_on_an_even_ground_keeps_its_colours() -> None:
    """No two pixels of the shapes are alike, and the even ground is more than half of the picture."""
    plain = np.asarray(badge(300)).astype(float)
    grain = np.random.default_rng(4).normal(0, 9, plain.shape) * (plain.min(axis=2, keepdims=True) < 250)
    shares = []
    for pixels in (plain + grain, plain):
        data = encoded(np.clip(pixels, 0, 255).astype(np.uint8))
        found = resolve(read_picture(data, "badge.png"), 60.0, "badge.png", Tones(colours=4))
        shares.append(sorted(region.area / found.silhouette.area for region in found.regions.values()))
    assert shares[0] == pytest.approx(shares[1], rel=0.2)


def test_drawn_pixels_stay_squares() -> None:
    face = np.full((12, 12, 3), (250, 200, 60), np.uint8)
    face[0], face[-1], face[:, 0], face[:, -1] = ((60, 30, 10),) * 4
    face[4:6, 3], face[4:6, 8], face[8, 3:9] = (20, 20, 20), (20, 20, 20), (200, 60, 60)
    work = Compiler().compile(new_project(encoded(face), "f.png", width_mm=12.0))
    assert picture_facts(work, 1).fineness == "1 dots/mm, squares"
    for tones, upright in ((Tones(), True), (Tones(smooth_mm=0.5), False)):
        regions = resolve(read_picture(encoded(face), "f.png"), 12.0, "f.png", tones).regions.values()
        sides = np.concatenate([np.diff(shapely.get_coordinates(ring), axis=0) for ring in shapely.get_rings(list(regions))])
        assert bool((np.abs(sides).min(axis=1) < 1e-9).all()) is upright, "only who evens it out rounds its corners"
    for times, exact in ((1, True), (8, False)):
        # Enlarged, a soft rim of half a large pixel is still within what one sees, and corners are found as in any picture.
        large = np.repeat(np.repeat(face, times, 0), times, 1)
        found = {
            swatch.colour: swatch.region for swatch in paint(read_picture(encoded(large), "f.png"), 12.0, "f.png").swatches
        }
        assert set(found) == {"FAC83C", "3C1E0A", "141414", "C83C3C"}
        eye = shapely.union_all([shapely.box(3, 6, 4, 8), shapely.box(8, 6, 9, 8)])
        assert found["141414"].symmetric_difference(eye).area < (1e-9 if exact else 0.05)
        assert found["3C1E0A"].area == pytest.approx(44, rel=1e-9 if exact else 0.01)


def test_a_mark_that_a_sample_would_miss_is_found() -> None:
    pixels = np.zeros((2100, 2100, 4), np.uint8)
    pixels[101:1901, 1001] = (200, 30, 40, 255)
    found = resolve(read_picture(encoded(pixels), "line.png"), 20.0, "line.png")
    assert {key.colour: round(region.area) for key, region in found.regions.items()} == {"C81E28": 1800}


def test_the_ground_goes_and_leaves_no_rim() -> None:
    source = read_picture(encoded(badge(300)), "badge.png")
    for ground in ("outside", "everywhere"):
        found = resolve(source, 30.0, "badge.png", Tones(ground=ground))
        assert {key.colour for key in found.regions} == {"2E1240", "D9B25A", "121212"}
    kept = resolve(source, 30.0, "badge.png")
    assert [note.code for note in kept.notes] == ["plain-ground"]


def test_no_rim_is_left_where_the_colour_of_the_ground_is_within_too() -> None:
    """Of a lossy picture with soft edges, in which white is a colour of the drawing as well."""
    toadstool = Image.new("RGB", (600, 600), "white")
    pen = ImageDraw.Draw(toadstool)
    pen.ellipse((60, 60, 540, 540), fill="#C8102E")
    pen.ellipse((200, 200, 320, 320), fill="white")
    data = encoded(toadstool.filter(ImageFilter.GaussianBlur(1)), "JPEG", quality=60)
    found = resolve(read_picture(data, "t.jpg"), 48.0, "t.jpg", Tones(colours=4, ground="outside"))
    white, red = sorted(found.regions.values(), key=lambda region: region.area)
    assert white.area == pytest.approx(np.pi * 60**2, rel=0.02)
    assert red.area == pytest.approx(np.pi * (240**2 - 60**2), rel=0.01)


def test_transparency_is_no_colour() -> None:
    one = badge(200).convert("RGBA")
    pixels = np.asarray(one).copy()
    pixels[:, :60, 3] = 0
    found = resolve(read_picture(encoded(pixels), "a.png"), 20.0, "a.png")
    assert found.silhouette.bounds[0] == pytest.approx(60, abs=0.6)


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP", "TIFF", "BMP", "GIF"])
def test_every_kind_is_read_by_what_it_is(kind: str) -> None:
    more = {"quality": 95} if kind in ("JPEG", "WEBP") else {}
    source = read_picture(encoded(badge(160), kind, **more), "misnamed.svg")
    assert isinstance(source, Raster)
    assert source.page == (160, 120)
    found = resolve(source, 16.0, "x")
    largest = sorted(found.regions.items(), key=lambda one: -one[1].area)[:3]
    assert len(largest) == 3


@pytest.mark.parametrize("kind", [np.uint16, np.float32])
def test_a_large_grey_picture_is_worked_on_in_bands(kind: type) -> None:
    values = (np.indices((3000, 700)).sum(0) % 300).astype(kind)
    values *= kind(65535 // 299 if kind is np.uint16 else 2)
    if kind is np.float32:
        values[3, 4:7] = np.nan, np.inf, -np.inf
    buffer = io.BytesIO()
    Image.fromarray(values).save(buffer, "TIFF")
    tracemalloc.start()
    seen = read_raster(buffer.getvalue(), "x.tif").pixels[..., 0]
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    wanted = np.floor(values / (65535 if kind is np.uint16 else 598) * 255)
    if kind is np.float32:
        wanted[3, 4:7] = 0, 255, 0
    assert np.abs(seen - wanted).max() <= 1
    assert peak < 12 * values.size  # whole, as floats of eight bytes several times over, it would be 24 and more


@pytest.mark.parametrize("mode", ["1", "L", "LA", "P", "I;16", "I", "F", "CMYK", "RGBA"])
def test_every_mode_becomes_colours(mode: str) -> None:
    if mode in ("I;16", "I", "F"):
        ramp = np.linspace(0, 65535 if mode != "F" else 1.0, 64 * 48).reshape(48, 64)
        one = Image.fromarray(ramp.astype({"I;16": np.uint16, "I": np.int32, "F": np.float32}[mode]))
        assert one.mode == mode
    else:
        one = badge(64).convert(mode)
    raster = read_raster(encoded(one, "TIFF"), "x.tif")
    assert raster.pixels.shape == (48, 64, 3)
    assert int(raster.pixels.max()) > 200
    assert int(raster.pixels.min()) < 60


def test_orientation_resolution_profile_and_frames() -> None:
    turned = Image.Exif()
    turned[0x0112] = 6
    raster = read_raster(encoded(badge(160), "JPEG", exif=turned, dpi=(254, 254)), "x.jpg")
    assert raster.page == (120, 160)
    assert natural_width_mm(raster, "x.png") == pytest.approx(12, rel=0.01)
    lab_like = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    assert not read_raster(encoded(badge(40), icc_profile=lab_like), "x.png").notes
    broken = read_raster(encoded(badge(40), icc_profile=b"no profile"), "x.png")
    assert [note.code for note in broken.notes] == ["colour-profile-ignored"]
    film = encoded(badge(40), "GIF", save_all=True, append_images=[hills(40)])
    assert [note.code for note in read_raster(film, "x.gif").notes] == ["first-frame-taken"]


def _png(bits: int, kind: int, pixels: np.ndarray, **chunks: bytes) -> bytes:
    """A PNG of 16 or 8 bits, written by hand."""

    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    high, wide = pixels.shape[:2]
    rows = b"".join(b"\0" + row.astype(">u2" if bits == 16 else np.uint8).tobytes() for row in pixels)
    body = b"".join(chunk(name.encode(), data) for name, data in chunks.items())
    head = chunk(b"IHDR", struct.pack(">IIBBBBB", wide, high, bits, kind, 0, 0, 0))
    return b"\x89PNG\r\n\x1a\n" + head + body + chunk(b"IDAT", zlib.compress(rows)) + chunk(b"IEND", b"")


def _tiff(size: tuple[int, int], data: bytes, **tags: int) -> bytes:
    """A TIFF of one strip, written by hand; tags as t258=16."""
    fixed = {256: size[0], 257: size[1], 259: 1, 262: 1, 273: 0, 277: 1, 278: size[1], 279: len(data)}
    rows = {**fixed, **{int(key[1:]): value for key, value in tags.items()}}
    rows[273] = 8 + 2 + 12 * len(rows) + 4
    body = b"".join(struct.pack("<HHII", tag, 4, 1, value) for tag, value in sorted(rows.items()))
    return b"II*\0" + struct.pack("<IH", 8, len(rows)) + body + bytes(4) + data


RAMP = np.linspace(0, 65535, 48).reshape(6, 8).astype(np.uint16)


@pytest.mark.parametrize(
    ("values", "tags", "negative"),
    [
        (RAMP, {"t258": 16}, False),
        (RAMP, {"t258": 16, "t262": 0}, True),
        (RAMP.astype(np.uint32) * 65537, {"t258": 32}, False),
        ((RAMP.astype(np.int32) - 32768) * 65536, {"t258": 32, "t339": 2}, False),
        ((RAMP.astype(np.int32) - 32768).astype(np.int16), {"t258": 16, "t339": 2}, False),
        ((RAMP / 9).astype(np.float32), {"t258": 32, "t339": 3, "t262": 0}, True),
    ],
)
def test_deep_grey_is_as_light_as_its_numbers_mean(values: np.ndarray, tags: dict[str, int], negative: bool) -> None:
    seen = read_raster(_tiff((8, 6), values.tobytes(), **tags), "x.tif").pixels[..., 0].astype(int)
    wanted = RAMP / 257
    assert np.abs(seen - (255 - wanted if negative else wanted)).max() <= 1.5


def test_grey_of_twelve_bits_is_not_darker() -> None:
    pairs = (RAMP >> 4).reshape(6, 4, 2)
    packed = np.stack([pairs[..., 0] >> 4, ((pairs[..., 0] & 15) << 4) | (pairs[..., 1] >> 8), pairs[..., 1] & 255], -1)
    seen = read_raster(_tiff((8, 6), packed.astype(np.uint8).tobytes(), t258=12), "x.tif").pixels[..., 0]
    assert np.abs(seen - RAMP / 257).max() <= 1.5


def test_a_png_means_what_its_chunks_say() -> None:
    clear = read_raster(_png(16, 0, RAMP, tRNS=struct.pack(">H", int(RAMP[2, 3]))), "x.png").solid
    assert clear is not None
    assert np.argwhere(clear == 0).tolist() == [[2, 3]]
    colours = np.dstack([RAMP >> 8, RAMP[::-1] >> 8, RAMP[:, ::-1] >> 8]).astype(np.uint8)
    light = np.round(to_linear(colours) * 255)
    seen = read_raster(_png(8, 2, light, gAMA=struct.pack(">I", 100_000)), "x.png").pixels
    bright = colours > 60  # eight bits of light are few where it is dark
    assert np.abs(seen.astype(int) - colours)[bright].max() <= 3
    plain = _png(8, 2, colours, gAMA=struct.pack(">I", 45_455))
    assert np.array_equal(read_raster(plain, "x.png").pixels, colours)
    wide = struct.pack(">8I", 31270, 32900, 64000, 33000, 21000, 71000, 15000, 6000)
    assert [one.code for one in read_raster(_png(8, 2, colours, cHRM=wide), "x.png").notes] == ["colour-profile-ignored"]
    assert not read_raster(_png(8, 2, colours, cHRM=wide, sRGB=b"\0"), "x.png").notes
    flat = read_raster(_png(8, 2, colours, pHYs=struct.pack(">IIB", 2, 1, 0)), "x.png")
    assert [one.code for one in flat.notes] == ["pixels-not-square"]
    assert flat.page == (8, 12)


def test_a_huge_picture_is_averaged_down_and_keeps_its_size() -> None:
    raster = read_raster(encoded(badge(9000, 1), dpi=(1000, 1000)), "huge.png")
    assert raster.size_px == (9000, 6750)
    assert raster.page == (3000, 2250)
    assert natural_width_mm(raster, "x.png") == pytest.approx(228.6, rel=1e-3)


def test_a_threshold_parts_dark_from_light() -> None:
    found = resolve(read_picture(encoded(badge(200)), "x.png"), 20.0, "x.png", Tones(how="threshold", level=0.5))
    assert {key.colour for key in found.regions} == {"000000", "FFFFFF"}
    dark = found.regions[next(key for key in found.regions if key.colour == "000000")]
    assert dark.area == pytest.approx(np.pi * 50**2 - 20 * 46 * 0.9 + 40 * 30, rel=0.2)


@pytest.mark.parametrize("how", ["diffuse", "screen"])
@pytest.mark.parametrize("side", ["dot", "line"])
def test_tones_are_dots_of_the_boards_appearances_as_light_as_the_picture(how: str, side: str) -> None:
    grey = np.full((90, 120, 3), 0, np.uint8)
    grey[:, :] = np.linspace(0, 255, 120).astype(np.uint8)[None, :, None]
    tones = Tones(how=how, screen=side, palette=("mask", "ink"))
    found = resolve(read_picture(encoded(grey), "x.png"), 40.0, "x.png", tones, DESK)
    assert {key.word for key in found.regions} == {"mask", "ink"}
    ink = next(region for key, region in found.regions.items() if key.word == "ink")
    shares = [ink.intersection(shapely.box(x, 0, x + 30, 90)).area / 2700 for x in (0, 30, 60, 90)]
    assert shares == sorted(shares)
    assert shares[0] < 0.1 < 0.4 < shares[-1]


def test_a_diffused_grey_has_that_share_of_dots() -> None:
    steps = Steps.of((("ink", "FFFFFF"), ("mask", "000000")))
    for kernel in KERNELS:
        for share in (0.2, 0.5, 0.8):
            got = diffuse(np.full((80, 100), share), steps, kernel).mean()
            assert got == pytest.approx(share, abs=0.02 if kernel != "crisp" else 0.15)


@pytest.mark.parametrize("how", ["diffuse", "screen"])
def test_a_grainy_white_ground_stays_without_dots(how: str) -> None:
    grey = np.full((200, 200), 246.0)
    grey[60:140, 60:140] = np.linspace(20, 160, 80)
    grey = np.clip(grey + np.random.default_rng(2).normal(0, 4, grey.shape), 0, 255).astype(np.uint8)
    found = resolve(read_picture(encoded(grey), "x.png"), 40.0, "x.png", Tones(how=how), DESK)  # type: ignore[arg-type]
    (white,) = [region for key, region in found.regions.items() if key.word == "ink"]
    ground = shapely.box(0, 0, 200, 200).difference(shapely.box(50, 50, 150, 150))
    assert ground.difference(white).area < 2e-3 * ground.area
    assert len(found.regions) == 4, "and the shade within has all its tones"


def test_a_plain_loop_diffuses_the_same() -> None:
    wanted = np.clip(np.random.default_rng(5).random((17, 23)) * 1.2 - 0.1, 0, 1)
    steps = Steps.of((("ink", "FFFFFF"), ("metal", "888888"), ("mask", "000000")))
    light = np.array(steps.light)
    for kernel, spread in KERNELS.items():
        values, out = wanted.copy(), np.zeros((17, 23), np.uint8)
        for y in range(17):
            for x in range(23):
                if wanted[y, x] in (0, 1):
                    out[y, x] = 2 * wanted[y, x]
                    continue
                out[y, x] = int(np.searchsorted((light[1:] + light[:-1]) / 2, values[y, x]))
                error = np.clip(values[y, x] - light[out[y, x]], -0.5, 0.5)
                for dx, dy, part in spread:
                    if 0 <= x + dx < 23 and y + dy < 17:
                        values[y + dy, x + dx] += error * part
        assert np.array_equal(out, diffuse(wanted, steps, kernel))


def test_the_finest_ruling_and_an_even_threshold() -> None:
    assert finest_ruling(0.15, 8) == pytest.approx(10 / (0.15 * np.sqrt(8)))
    y, x = np.mgrid[0:200, 0:200] + 0.5
    for kind in ("dot", "line"):
        values = threshold_of(kind, x, y, 11.3, 30.0)
        assert [float((values < share).mean()) for share in (0.25, 0.5, 0.75)] == pytest.approx([0.25, 0.5, 0.75], abs=0.03)


def test_a_picture_is_placed_turned_flipped_and_laid_on_the_back() -> None:
    found = resolve(read_picture(encoded(badge(200)), "x.png"), 40.0, "x.png", Tones(ground="everywhere"))
    straight = place(found, Picture(member="", name="x", width_mm=40))
    bar = next(one.region for one in straight.swatches if one.colour == "D9B25A")
    assert bar.bounds[2] == pytest.approx(40, abs=0.1)
    flipped = place(found, Picture(member="", name="x", width_mm=40, flipped=True))
    assert next(one.region for one in flipped.swatches if one.colour == "D9B25A").bounds[0] == pytest.approx(0, abs=0.1)
    turned = place(found, Picture(member="", name="x", width_mm=40, angle_deg=90, x_mm=5, y_mm=7))
    left, bottom, right, top = turned.silhouette.bounds
    assert ((left + right) / 2, (bottom + top) / 2, top - bottom) == pytest.approx((5, 7, 40), abs=0.1)
    behind = place(found, Picture(member="", name="x", width_mm=40, side="back"))
    assert behind.silhouette.is_empty
    assert behind.behind.area == pytest.approx(straight.silhouette.area)
    assert {one.side for one in behind.swatches} == {"back"}


BAD = {
    "one pixel": (encoded(np.zeros((1, 1, 3), np.uint8)), ""),
    "one colour": (encoded(np.full((40, 60, 3), 90, np.uint8)), ""),
    "all transparent": (encoded(np.zeros((9, 9, 4), np.uint8)), "transparent all over"),
    "noise": (encoded(np.random.default_rng(1).integers(0, 255, (300, 300, 3)).astype(np.uint8)), ""),
    "truncated": (encoded(badge(100))[:300], "damaged"),
    "a header and nothing": (b"\x89PNG\r\n\x1a\n" + bytes(60), "damaged"),
    "a web picture of nothing": (b"RIFF\x00\x00\x00\x00WEBPVP8 ", "damaged"),
}


@pytest.mark.parametrize("name", BAD)
def test_odd_pictures_are_read_or_refused_in_a_sentence(name: str) -> None:
    data, words = BAD[name]
    if words:
        with pytest.raises(Trouble, match=words):
            read_picture(data, "x.png")
        return
    found = resolve(read_picture(data, "x.png"), 20.0, "x.png", Tones(smallest_mm=0))
    area = sum(region.area for region in found.regions.values())
    assert area == pytest.approx(found.silhouette.area, rel=1e-9)


def test_a_picture_of_too_many_pixels_is_refused_before_it_is_decoded() -> None:
    header = encoded(np.zeros((1, 1, 3), np.uint8))
    vast = header[:16] + (60_000).to_bytes(4, "big") * 2 + header[24:]
    import zlib

    vast = vast[:29] + zlib.crc32(vast[12:29]).to_bytes(4, "big") + vast[33:]
    with pytest.raises(Trouble, match="60,000 x 60,000"):
        read_picture(vast, "vast.png")


@pytest.mark.parametrize("how", ["flat", "threshold", "diffuse", "screen"])
def test_a_picture_tells_how_far_it_is_and_can_be_called_off(how: str) -> None:
    project = new_project(encoded(hills(160)), "hills.png", width_mm=30.0, tones=Tones(how=how))  # type: ignore[arg-type]
    told: list[float] = []
    compiler = Compiler()
    work = compiler.compile(project, Watch(told=lambda share, words: told.append(share)))
    assert told == sorted(told)
    assert 0 <= told[0] < 0.5 < told[-1] <= 1
    assert len(told) > 6
    for after in (1, len(told) // 2, len(told) - 1):
        calls = iter(range(1000))
        with pytest.raises(Cancelled):
            Compiler().compile(project, Watch(lambda after=after, calls=calls: next(calls) >= after))  # type: ignore[misc]
    assert compiler.compile(project) is not work
    assert compiler.compile(project).board is work.board, "what was called off elsewhere is remembered here"
