"""Pictures, films and tables that are brought into the score: read, sampled on LEDs, or told."""

from __future__ import annotations

import io
import struct
import tracemalloc
from dataclasses import replace
from fractions import Fraction
from typing import Any

import av
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from plates import ROW, plate
from test_score import pixels_of, row_of

from outlined_glow.core.colour.difference import to_linear
from outlined_glow.core.errors import Trouble
from outlined_glow.core.motion import film_files, level_at, levels
from outlined_glow.core.motion.film import sampled
from outlined_glow.core.motion.film_files import read_film, slides
from outlined_glow.core.motion.frames import as_csv, as_json, table_of
from outlined_glow.core.project import Drive, Motion, Project, Strip, apply_edit
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.workshop import Compiler

LARGE = ("set-shape", {"base": "rectangle", "width_mm": 90.0, "height_mm": 70.0})
GRID = ("grid", {"array": "m", "x_mm": 22.0, "y_mm": 16.0, "rows": 4, "columns": 6, "pitch_x_mm": 5.0, "pitch_y_mm": 5.0})


def saved(frames: list[np.ndarray], kind: str = "GIF", **keys: Any) -> bytes:
    data, images = io.BytesIO(), [Image.fromarray(frame) for frame in frames]
    more = {"save_all": True, "append_images": images[1:]} if len(images) > 1 else {}
    images[0].save(data, kind, **more, **keys)
    return data.getvalue()


def flat(value: int, high: int = 8, wide: int = 12) -> np.ndarray:
    return np.full((high, wide, 3), value, np.uint8)


def brought(data: bytes, name: str, **keys: Any) -> Project:
    return apply_edit(plate(LARGE, GRID), "add-film", {"file": PictureFile(name, data), **keys})


def test_a_gif_plays_frame_by_frame_as_long_as_each_lasts() -> None:
    data = saved([flat(255), flat(0), flat(128)], duration=[100, 300, 200])
    project = brought(data, "blink.gif", start_s=1.0)
    [strip] = project.motion.score
    assert (strip.pattern, strip.start_s, strip.length_s) == ("picture", 1.0, pytest.approx(0.6))
    work = Compiler().compile(project)
    half = float(to_linear(np.array([128.0]))[0])
    for time, level in ((1.05, 1.0), (1.15, 0.0), (1.35, 0.0), (1.5, half)):
        assert level_at(project.motion, work.lamps, time) == pytest.approx(np.full((24, 1), level), abs=0.02)
    quick = apply_edit(project, "set-strip", {"number": 1, "keys": "speed=2"})
    assert level_at(quick.motion, work.lamps, 1.06).max() == 0.0
    again = apply_edit(project, "add-film", {"file": PictureFile("other.gif", data)})
    assert again.motion.score[1].film == strip.film, "the same file is kept once"


@given(st.integers(2, 9), st.integers(2, 9), st.integers(1, 30), st.integers(1, 30), st.randoms(use_true_random=False))
def test_every_led_has_the_mean_of_its_area(rows: int, columns: int, high: int, wide: int, dice: Any) -> None:
    pixels = np.array([[[dice.random()] * 3 for _ in range(wide)] for _ in range(high)], np.float32)[None]
    places = np.array([(3.0 * column, -3.0 * row) for row in range(rows) for column in range(columns)])
    found = sampled(pixels, places)
    assert found.shape == (1, rows * columns, 3)
    assert pixels.min() - 1e-6 <= found.min() <= found.max() <= pixels.max() + 1e-6
    whole = np.full((1, high, wide, 3), 0.25, np.float32)
    assert sampled(whole, places) == pytest.approx(0.25)


def test_a_picture_as_large_as_the_matrix_is_seen_pixel_by_pixel() -> None:
    dice = np.random.default_rng(1)
    picture = dice.integers(0, 2, (4, 6, 1), np.uint8) * np.full((1, 1, 3), 255, np.uint8)
    project = brought(saved([picture], "PNG"), "a.png")
    assert project.motion.score[0].length_s == 5.0
    work = Compiler().compile(project)
    level = level_at(project.motion, work.lamps, 0.5)[:, 0]
    x, y = work.lamps.places.T
    column, row = np.round((x - x.min()) / 5).astype(int), np.round((y.max() - y) / 5).astype(int)
    assert level.tolist() == (picture[row, column, 0] / 255).tolist()


def test_colours_and_alpha_and_video_are_read() -> None:
    red = np.zeros((4, 4, 4), np.uint8)
    red[:, :2] = (255, 0, 0, 255)
    red[:, 2:] = (0, 255, 0, 0)
    film = read_film(saved([red], "PNG"), "a.png")
    assert film.pixels is not None
    assert film.pixels[0, 0, 0].tolist() == [1, 0, 0]
    assert film.pixels[0, 0, 3].tolist() == [0, 0, 0], "what is clear is dark"
    buffer = io.BytesIO()
    with av.open(buffer, "w", format="mp4") as container:
        stream = container.add_stream("libx264", rate=10)
        stream.width, stream.height, stream.pix_fmt = 32, 32, "yuv420p"
        for at in range(20):
            picture = flat(255 if at < 10 else 0, 32, 32)
            for packet in stream.encode(av.VideoFrame.from_ndarray(picture, format="rgb24")):
                container.mux(packet)
        for packet in stream.encode():
            container.mux(packet)
    film = read_film(buffer.getvalue(), "a.mp4")
    assert film.pixels is not None
    assert len(film.pixels) == 20
    assert film.seconds == pytest.approx(2.0)
    assert film.pixels[:9].mean() > 0.9 > 0.1 > film.pixels[11:].mean()
    lamps = pixels_of(3)
    assert lamps.channels == 4
    large = read_film(saved([flat(200, 900, 1600)], "PNG"), "large.png")
    assert large.pixels is not None
    assert max(large.pixels.shape) <= 96


def corners(high: int, wide: int) -> np.ndarray:
    """A frame of which each quarter has its own brightness."""
    frame = np.zeros((high, wide, 3), np.uint8)
    for at, value in enumerate((255, 180, 90, 20)):
        frame[at // 2 * high // 2 :, at % 2 * wide // 2 :] = value
    return frame


def quarters(pixels: np.ndarray) -> list[float]:
    high, wide = pixels.shape[:2]
    return [float(pixels[y, x, 1]) for y in (high // 4, 3 * high // 4) for x in (wide // 4, 3 * wide // 4)]


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP", "TIFF"])
def test_a_photograph_from_a_camera_on_its_side_is_upright(kind: str) -> None:
    turned = Image.Exif()
    turned[0x0112] = 6  # it is to be turned clockwise
    wanted = to_linear(np.array([255.0, 180.0, 90.0, 20.0]))
    data = saved([np.rot90(corners(64, 96))], kind, exif=turned)
    film = read_film(data, "photo")
    assert film.pixels is not None
    assert film.pixels.shape[1:3] == (64, 96)
    assert quarters(film.pixels[0]) == pytest.approx(wanted, abs=0.03)
    shown = read_film(slides([("a.jpg", data), ("b.png", saved([flat(0)], "PNG"))], 1.0), "x.png").pixels
    assert shown is not None
    assert quarters(shown[0]) == pytest.approx(wanted, abs=0.03)


def test_pages_of_different_sizes_are_frames_alike() -> None:
    data = io.BytesIO()
    pages = [Image.fromarray(one) for one in (flat(255, 40, 60), flat(128, 30, 30))]
    pages[0].save(data, "TIFF", save_all=True, append_images=pages[1:])
    film = read_film(data.getvalue(), "pages.tif")
    assert film.pixels is not None
    assert film.pixels.shape == (2, 40, 60, 3)
    seen = film.pixels[1, :, :, 1] > 0.1
    assert np.argwhere(seen).min(axis=0).tolist() == [0, 10]
    assert np.argwhere(seen).max(axis=0).tolist() == [39, 49]


def test_deep_grey_is_no_white_frame() -> None:
    ramp = np.linspace(0, 65535, 64 * 64).reshape(64, 64).astype(np.uint16)
    film = read_film(saved([ramp], "PNG"), "ramp.png")
    assert film.pixels is not None
    assert film.pixels.mean() == pytest.approx(to_linear(np.arange(256)).mean(), abs=0.01)


def video(starts_ms: list[int], turned: bool = False, tall: int = 1) -> bytes:
    """An MP4 whose frames begin at those times; `turned` by a quarter, its pixels `tall` times as high as wide."""
    data = io.BytesIO()
    with av.open(data, "w", format="mp4") as container:
        stream = container.add_stream("mpeg4", rate=1000, width=96, height=64, bit_rate=8_000_000, time_base=Fraction(1, 1000))
        stream.codec_context.sample_aspect_ratio = Fraction(1, tall)
        for at in starts_ms:
            frame = av.VideoFrame.from_ndarray(corners(64, 96), format="rgb24")
            frame.pts, frame.time_base = at, Fraction(1, 1000)
            container.mux(stream.encode(frame))
        container.mux(stream.encode())
    out = bytearray(data.getvalue())
    if turned:
        at = out.index(b"tkhd") + 4 + 4 + 36
        out[at : at + 36] = struct.pack(">9i", 0, 1 << 16, 0, -1 << 16, 0, 0, 64 << 16, 0, 1 << 30)
    return bytes(out)


def test_a_video_is_upright_in_its_proportions_and_at_its_times() -> None:
    plain = read_film(video([0, 100, 400, 450]), "x.mp4")
    assert plain.pixels is not None
    assert np.diff(plain.ends_s, prepend=0)[:3] == pytest.approx([0.1, 0.3, 0.05], abs=0.002)
    assert quarters(plain.pixels[0]) == pytest.approx(to_linear(np.array([255.0, 180.0, 90.0, 20.0])), abs=0.08)
    turned = read_film(video([0, 100], turned=True), "x.mp4")
    assert turned.pixels is not None
    assert turned.pixels.shape[1:3] == (96, 64)
    a, b, c, d = quarters(plain.pixels[0])
    assert quarters(turned.pixels[0]) == pytest.approx([c, a, d, b], abs=0.02)  # clockwise
    tall = read_film(video([0, 100], tall=2), "x.mp4")
    assert tall.pixels is not None
    assert tall.pixels.shape[1:3] == (64, 48)


def test_a_film_of_more_frames_than_are_read_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(film_files, "MOST_FRAMES", 3)
    read_film.cache_clear()
    for name, data in (
        ("x.gif", saved([flat(40 * at) for at in range(5)], duration=100)),
        ("x.mp4", video([0, 100, 200, 300])),
    ):
        compiler = Compiler()
        [told] = [one for one in compiler.findings(compiler.compile(brought(data, name))) if one.code == "film-cut"]
        assert told.text.startswith("Of the film of strip 1 the first 3 frames are played, 0.3 s.")
        assert "film-cut" not in {one.code for one in compiler.findings(compiler.compile(brought(saved([flat(9)]), "y.gif")))}
    read_film.cache_clear()


def test_a_table_that_was_written_plays_as_what_it_was_written_from() -> None:
    first = plate(LARGE, GRID, ("set-pattern", {"pattern": "chase", "period_s": 2.0}))
    work = Compiler().compile(first)
    table = table_of(Drive(), first.motion, work.lamps, fps=20)
    for name, data in (("a.csv", as_csv(table)), ("a.json", as_json(table))):
        project = brought(data, name)
        again = Compiler().compile(project)
        assert project.motion.seconds == 2.0
        for time in (0.0, 0.33, 1.71):
            frame = int(time * 20 + 1e-9)
            wanted = table.levels[frame] / 255
            assert level_at(project.motion, again.lamps, time)[np.argsort(again.lamps.chain), 0] == pytest.approx(wanted)


@pytest.mark.parametrize("lights", [1, 3])
def test_a_table_is_read_with_as_many_lights_as_it_tells(lights: int) -> None:
    """Six numbers a frame, for LEDs of three lights: six LEDs of one level each, or two of three."""
    work = Compiler().compile(plate(("line", {**ROW[1], "count": 6, "emitter": "pixel 5050 three colours"})))
    data = f"# fps 10, bits 8, channels {lights}\n1,2,3,4,5,6\n0,51,102,153,204,255\n".encode()
    lamps = replace(work.lamps, films=(("a.csv", data),))
    strip = Strip(number=1, pattern="picture", film="a.csv", length_s=1.0)
    [made] = levels(Motion(score=(strip,)), lamps, [0.0])
    shares = np.arange(6) / 5
    wanted = np.repeat(shares[:, None], 3, axis=1) if lights == 1 else np.vstack([shares.reshape(2, 3), np.zeros((4, 3))])
    assert made == pytest.approx(wanted)


@pytest.mark.parametrize(
    ("data", "name", "said"),
    [
        (b"", "a.gif", "cannot be read as a picture"),
        (b"GIF89a\x00\x00", "a.gif", "cannot be read as a picture"),
        (b"\x00" * 99, "a.mp4", "cannot be read as a picture"),
        (b"fps 5\n1,2\n", "a.csv", "no table of levels"),
        (b'{"fps": 0, "bits": 8, "frames": [[1]]}', "a.json", "no table of levels"),
        (b'{"fps": 5, "bits": 8, "frames": [[1], [1, 2]]}', "a.json", "no table of levels"),
        (b'{"fps": 5, "bits": 1e999, "frames": [[1]]}', "a.json", "no table of levels"),
        (b'{"fps": 5, "bits": 9000000000, "frames": [[1]]}', "a.json", "no table of levels"),
        (b"[" * 100_000, "a.json", "no table of levels"),
    ],
)
def test_what_is_no_film_is_told_and_changes_nothing(data: bytes, name: str, said: str) -> None:
    with pytest.raises(Trouble, match=said):
        brought(data, name)


def test_a_huge_picture_is_refused_before_it_is_read() -> None:
    data = bytearray(saved([flat(1)], "PNG"))
    data[16:24] = (60_000).to_bytes(4, "big") * 2
    with pytest.raises(Trouble, match=r"60000 × 60000 pixels|cannot be read"):
        brought(bytes(data), "bomb.png")


def test_a_vast_picture_costs_little_memory() -> None:
    data = saved([np.full((5000, 6000, 3), 200, np.uint8)], "PNG")
    tracemalloc.start()
    try:
        film = read_film(data, "vast.png")
        peak = tracemalloc.get_traced_memory()[1]
    finally:
        tracemalloc.stop()
    assert peak < 150e6
    assert film.pixels is not None
    assert film.pixels.mean() == pytest.approx(float(to_linear(np.array([200.0]))[0]), abs=0.01)


def test_a_film_that_is_gone_is_told() -> None:
    from msgspec.structs import replace

    project = brought(saved([flat(255)], "PNG"), "a.png")
    gone = replace(project, members={name: data for name, data in project.members.items() if not name.startswith("motion/")})
    compiler = Compiler()
    work = compiler.compile(gone)
    assert level_at(gone.motion, work.lamps, 0.5).max() == 0.0
    [found] = [one for one in compiler.findings(work) if one.code == "film-lacking"]
    mended = apply_edit(gone, str(found.remedies[0].edit), dict(found.remedies[0].values))
    assert mended.motion.score == ()
    broken = replace(project, members={**project.members, project.motion.score[0].film: b"no picture"})
    assert "film-lacking" in {one.code for one in compiler.findings(compiler.compile(broken))}
    with pytest.raises(Trouble, match="needs a file"):
        apply_edit(gone, "add-strip", {"pattern": "picture"})
    assert row_of(1).films == ()
