"""The command line as a user runs it."""

from __future__ import annotations

import itertools
import json
import os
import subprocess
import sys
from pathlib import Path

import av
import numpy as np
import pytest
from drawings import SIGN
from pictures import badge, dxf, encoded, frame, hills
from PIL import Image

from outlined_glow.cli.main import run
from outlined_glow.core.project.storage import load
from outlined_glow.core.stages import stages


def glow(*words: object) -> int:
    return run([str(word) for word in words])


@pytest.fixture
def project(sign_file: Path, tmp_path: Path) -> Path:
    """The sign as a project."""
    path = tmp_path / "sign.oglow"
    assert glow("new", sign_file, "-o", path, "--width", "60mm") == 0
    return path


def pixels(path: Path) -> np.ndarray:
    with Image.open(path) as picture:
        return np.asarray(picture.convert("RGB"))


def facts(path: Path, capsys: pytest.CaptureFixture[str]) -> dict:  # type: ignore[type-arg]
    capsys.readouterr()
    assert glow("info", path, "--json") == 0
    return json.loads(capsys.readouterr().out)  # type: ignore[no-any-return]


def test_new_makes_neither_hole_nor_text_and_info_says_so(project: Path, capsys: pytest.CaptureFixture[str]) -> None:
    said = facts(project, capsys)
    assert said["size_mm"] == pytest.approx([63.2, 43.2], abs=0.01)
    assert said["outline"]["holes"] == 0
    assert said["outline"]["area_mm2"] == pytest.approx(60 * 40 + 2 * 1.6 * 100 + np.pi * 1.6**2, rel=1e-3)
    assert [(one["colour"], one["appearance"]) for one in said["swatches"]][:2] == [("121212", "mask"), ("1D1B1A", "raised")]
    areas = {one["colour"]: one["area_mm2"] for one in said["swatches"]}
    assert areas["D9B25A"] == pytest.approx(240, rel=1e-4)
    assert areas["B5A766"] == pytest.approx(np.pi * 25, rel=1e-3)
    assert said["leds"] == []
    assert said["run_time_h"] is None
    assert said["price"]["each"] == pytest.approx(2.4)
    assert said["stack"] == {"thickness_mm": 1.6, "mask": "black", "finish": "gold", "ink": "white"}


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("badge.png", encoded(badge(200)), ["--colours", "4", "--ground", "outside"]),
        ("hills.jpg", encoded(hills(120), "JPEG"), ["--tones", "diffuse"]),
        ("hills.tif", encoded(hills(120), "TIFF"), ["--tones", "screen"]),
        ("hills.webp", encoded(hills(120), "WEBP"), ["--tones", "threshold"]),
        ("plate.dxf", dxf(frame(0, 0, 40, 30), frame(10, 10, 14, 14)), ["--keep-holes", "--map", "000000=metal"]),
    ],
)
def test_new_takes_every_kind_of_picture(
    tmp_path: Path, name: str, data: bytes, words: list[str], capsys: pytest.CaptureFixture[str]
) -> None:
    art, path = tmp_path / name, tmp_path / "x.oglow"
    art.write_bytes(data)
    assert glow("new", art, "-o", path, "--width", "20mm", "--border", "2mm", *words) == 0
    said = facts(path, capsys)
    assert said["size_mm"][0] == pytest.approx(24, abs=0.3)
    assert all(one["area_mm2"] > 0 and one["thinnest_mm"] >= 0 for one in said["swatches"])
    assert said["outline"]["holes"] == (1 if "--keep-holes" in words else 0)
    if "diffuse" in words:
        assert {one["appearance"] for one in said["swatches"]} <= {"mask", "raised", "metal", "ink"}
    capsys.readouterr()
    glow("check", path, "--json")
    for one in json.loads(capsys.readouterr().out)["findings"]:
        assert {"code", "severity", "text", "x_mm", "y_mm", "measured", "allowed", "layer", "remedies"} <= set(one)


def test_a_second_picture_words_and_a_slot_by_edits(project: Path, sign_file: Path, tmp_path: Path) -> None:
    assert glow("edit", project, "add-picture", f"file={sign_file}", "side=back", "width=20mm", "x=30mm", "y=20mm") == 0
    assert glow("edit", project, "add-words", "text=harbour lights", "x=30mm", "y=3mm", "height=2mm") == 0
    assert glow("edit", project, "add-feature", "kind=slot", "x=31mm", "y=38mm", "length=12mm", "size=2mm") == 0
    assert glow("edit", project, "add-picture", "file=nowhere.png") == 2
    loaded = load(project)
    assert [one.side for one in loaded.designs[0].artwork.pictures] == ["front", "back"]
    assert len(loaded.members) == 1, "the same picture is kept once"
    assert glow("export", project, "-o", tmp_path / "order") == 0
    assert glow("proof", tmp_path / "order", "--project", project) == 0
    assert glow("render", project, "-o", tmp_path / "back.png", "--side", "back") == 0
    back = pixels(tmp_path / "back.png")
    assert (np.abs(back.astype(int) - (0xD9, 0xB2, 0x5A)).max(axis=2) < 60).sum() > 500, "gold shows on the back"


def test_a_board_without_lights_can_be_ordered_and_proved(
    project: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert glow("check", project) == 0
    assert glow("export", project, "-o", tmp_path / "order.zip") == 0
    assert glow("export", project, "-o", tmp_path / "order.zip") == 2
    assert "--force" in capsys.readouterr().err
    assert glow("proof", tmp_path / "order.zip") == 0
    assert glow("proof", tmp_path / "order.zip", "--project", project) == 0
    assert "is what the board says" in capsys.readouterr().out


def test_a_ring_of_leds_glows_at_once_and_stops_the_order(
    project: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert glow("edit", project, "ring", "array=halo", "x=20.6mm", "y=12.6mm", "diameter=12mm", "count=6") == 0
    said = facts(project, capsys)
    assert [led["index"] for led in said["leds"]] == [1, 2, 3, 4, 5, 6]
    assert (said["leds"][0]["x_mm"], said["leds"][0]["y_mm"]) == pytest.approx((20.6, 18.6), abs=1e-3)
    assert said["drive"]["groups"][0]["resistor_ohm"] == 680
    assert 0.0045 < said["drive"]["groups"][0]["current_a"] <= 0.005
    capsys.readouterr()
    assert glow("check", project, "--json") == 1
    findings = json.loads(capsys.readouterr().out)["findings"]
    stop = next(one for one in findings if one["severity"] == "stop")
    assert stop["code"] == "not-wired"
    assert set(stop) >= {"code", "severity", "text", "x_mm", "y_mm", "measured", "allowed", "layer", "remedies"}
    assert glow("export", project, "-o", tmp_path / "draft") == 1
    assert glow("proof", tmp_path / "draft") == 0


def test_edit_writes_elsewhere_when_told_and_never_over_another(
    project: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    other = tmp_path / "other.oglow"
    before = project.read_bytes()
    assert glow("edit", project, "set-border", "border=3mm", "-o", other) == 0
    assert project.read_bytes() == before
    assert load(other).designs[0].shape.border_mm == 3
    assert glow("edit", project, "set-border", "border=4mm", "-o", other) == 2
    assert load(other).designs[0].shape.border_mm == 3
    assert glow("edit", project, "set-border", "border=4mm", "-o", other, "--force") == 0
    assert glow("edit", project, "set-border", "border=2mm") == 0
    assert load(project).designs[0].shape.border_mm == 2
    capsys.readouterr()
    assert glow("edit", "--list") == 0
    listed = capsys.readouterr().out
    for word in ("set-border", "border_mm", "0..50 mm", "ring", "mirrored", "yes|no", "(needed)"):
        assert word in listed
    titles = [line for line in listed.splitlines() if line[0].isdigit()]
    assert titles == [f"{one.number} {one.title}" for one in stages() if one.key != "order"], "which has no operation yet"


def test_pictures(project: Path, tmp_path: Path) -> None:
    front, back, night, leaf = (tmp_path / f"{name}.png" for name in ("front", "back", "night", "leaf"))
    assert glow("render", project, "-o", front, "--px-per-mm", 5) == 0
    assert glow("render", project, "-o", back, "--px-per-mm", 5, "--side", "back") == 0
    assert glow("render", project, "-o", night, "--px-per-mm", 5, "--sun", 0) == 0
    assert glow("render", project, "-o", leaf, "--px-per-mm", 5, "--leaf", "front copper") == 0
    seen = [pixels(path) for path in (front, back, night, leaf)]
    assert {one.shape for one in seen} == {(round(49.2 * 5), round(69.2 * 5), 3)}
    assert seen[2].mean() < seen[0].mean() / 2


def test_films(project: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert glow("edit", project, "ring", "array=a", "x=20mm", "y=12mm", "diameter=9mm", "count=5") == 0
    assert glow("edit", project, "set-pattern", "pattern=chase", "period=1s") == 0
    gif, mp4, png = (tmp_path / f"a.{kind}" for kind in ("gif", "mp4", "png"))
    assert glow("animate", project, "-o", gif, "--fps", 10, "--px-per-mm", 3) == 0
    frames = []
    with Image.open(gif) as moving:
        assert moving.n_frames == 10  # type: ignore[attr-defined]
        assert moving.info["duration"] == 100
        for place in range(10):
            moving.seek(place)
            frames.append(np.asarray(moving.convert("RGB")).astype(int))
    assert all(np.abs(a - b).max() > 60 for a, b in itertools.pairwise(frames))
    assert glow("animate", project, "-o", mp4, "--fps", 10, "--seconds", 2, "--px-per-mm", 3) == 0
    with av.open(str(mp4)) as film:
        assert sum(1 for _ in film.decode(video=0)) == 20
    assert glow("animate", project, "-o", png, "--fps", 5, "--px-per-mm", 2) == 0
    with Image.open(png) as still:
        assert still.n_frames == 5  # type: ignore[attr-defined]
    assert glow("animate", project, "-o", tmp_path / "a.avi") == 2
    assert glow("animate", project, "-o", tmp_path / "sheet.png", "--sheet", 6) == 0
    assert glow("animate", project, "-o", tmp_path / "sheet.gif", "--sheet", 6) == 2
    assert glow("animate", project, "-o", tmp_path / "part.gif", "--from", "99s") == 2
    assert "a moment of the score" in capsys.readouterr().err
    assert glow("animate", project, "-o", gif, "--fps", 0) == 2


def test_tables_of_levels_are_written_and_played(project: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert glow("frames", project, "-o", tmp_path / "a.csv") == 2
    assert "no LEDs" in capsys.readouterr().err
    assert glow("edit", project, "ring", "array=a", "x=20mm", "y=12mm", "diameter=9mm", "count=5") == 0
    assert glow("edit", project, "add-strip", "pattern=chase", "length=2s", "period=1s", "keys=tail=2", "leds=1-4") == 0
    capsys.readouterr()
    for kind in ("csv", "json", "h", "bin", "png"):
        assert glow("frames", project, "-o", tmp_path / f"a.{kind}", "--fps", 20) == 0
        assert "40 frames of 5 LEDs, 8 bits" in capsys.readouterr().out
    assert len((tmp_path / "a.bin").read_bytes()) == 40 * 5
    for kind in ("h", "bin"):
        assert glow("play", project, "--table", tmp_path / f"a.{kind}", "--fps", 20) == 0
    assert glow("frames", project, "-o", tmp_path / "a.bin", "--fps", 20, "--packing", "differences") == 0
    assert glow("play", project, "--table", tmp_path / "a.bin", "--fps", 20) == 0
    assert glow("frames", project, "-o", tmp_path / "real.bin", "--fps", 20, "--as", "real") == 0
    capsys.readouterr()
    assert glow("play", project, "--table", tmp_path / "real.bin", "--fps", 20, "--json") == 1
    told = json.loads(capsys.readouterr().out)
    assert not told["equal"]
    assert told["first_difference"]["got"] == 255, "one resistor each shows steady light"
    (tmp_path / "real.bin").write_bytes(b"1234567")
    assert glow("play", project, "--table", tmp_path / "real.bin", "--fps", 20) == 2
    assert "frames of 5 bytes do not fill" in capsys.readouterr().err
    assert glow("play", project, "--json") == 0
    assert json.loads(capsys.readouterr().out) == {"equal": True, "frames": 100, "first_difference": None}
    assert glow("frames", project, "-o", tmp_path / "a.txt") == 2
    assert glow("frames", project, "-o", tmp_path / "a.csv", "--seconds", "9h") == 2
    capsys.readouterr()
    assert glow("truth", project, "--json") == 0
    shares = {one["method"]: one["share"] for one in json.loads(capsys.readouterr().out)["methods"]}
    assert shares["pins"] > 0.99 > shares["each"]
    assert glow("animate", project, "-o", tmp_path / "both.png", "--as", "both", "--fps", 5, "--px-per-mm", 2) == 0
    with Image.open(tmp_path / "both.png") as both:
        assert both.width > 1.2 * both.height


def test_values_come_in_while_a_score_plays(
    project: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    assert glow("edit", project, "ring", "array=a", "x=20mm", "y=12mm", "diameter=9mm", "count=5") == 0
    assert glow("edit", project, "add-strip", "pattern=gauge", "length=2s", "period=1s") == 0
    assert glow("play", project, "--feed", tmp_path / "a.csv") == 2
    assert "no feed" in capsys.readouterr().err
    assert glow("edit", project, "set-feed", "name=tide", "kind=knob", "low=0", "high=4", "at=0") == 0
    assert glow("edit", project, "bind", "number=1", "key=value", "feed=tide") == 0
    (tmp_path / "a.csv").write_text("t,tide\n0,0\n1,4\n1.2,nan\n1.4,")
    assert glow("frames", project, "-o", tmp_path / "dark.bin", "--fps", 10) == 0
    capsys.readouterr()
    assert glow("play", project, "--feed", tmp_path / "a.csv", "--table", tmp_path / "dark.bin", "--fps", 10, "--json") == 1
    said = capsys.readouterr()
    told = json.loads(said.out)
    assert told["first_difference"]["frame"] == 10, "from 1 s on the gauge is full, and the table of the knob is dark"
    assert told["first_difference"]["wanted"] == 255
    assert (told["feed"]["values"], told["feed"]["unused_lines"]) == (2, 2)
    assert "Line 4" in said.err
    assert "Line 5 has no value" in said.err
    assert "stopped at 1 s" in said.err
    # A pipe that never ends, and standard input that stops in the middle of a line.
    os.mkfifo(tmp_path / "pipe")
    writer = subprocess.Popen(["sh", "-c", f"exec >'{tmp_path}/pipe'; i=0; while :; do echo $i,1; i=$((i+1)); done"])
    assert glow("play", project, "--feed", tmp_path / "pipe") == 0
    writer.wait(30)
    reading, writing = os.pipe()
    os.write(writing, b'{"t": 0, "tide": 2}\n{"t": 1, "ti')
    os.close(writing)
    with os.fdopen(reading) as stdin:
        monkeypatch.setattr(sys, "stdin", stdin)
        assert glow("play", project, "--feed", "-") == 0
    assert "half a line" in capsys.readouterr().err
    (tmp_path / "empty").write_text("")
    for name in ("empty", "gone"):
        assert glow("play", project, "--feed", tmp_path / name) == 2
    assert "cannot be read" in capsys.readouterr().err


def test_pictures_of_a_large_board_are_drawn_more_coarsely(
    project: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert glow("edit", project, "set-shape", "base=rectangle", "width=900mm", "height=700mm") == 0
    assert glow("edit", project, "single", "array=a", "x=20mm", "y=12mm") == 0
    assert glow("render", project, "-o", tmp_path / "a.png") == 0
    assert 6e6 < np.prod(pixels(tmp_path / "a.png").shape[:2]) < 8.5e6
    assert glow("layers", project, "-o", tmp_path / "layers", "--as", "png") == 0
    for one in (tmp_path / "layers").iterdir():
        with Image.open(one) as layer:
            assert 27e6 < layer.width * layer.height <= 30e6
            assert layer.width / layer.height == pytest.approx(903.2 / 703.2, rel=1e-3)
    capsys.readouterr()
    assert glow("animate", project, "-o", tmp_path / "a.gif", "--px-per-mm", 7) == 2
    assert "40 frames of that size are too large; ask for at most 2.4 pixels per millimetre" in capsys.readouterr().err
    assert glow("animate", project, "-o", tmp_path / "a.gif", "--seconds", 0.1) == 0
    with Image.open(tmp_path / "a.gif") as film:
        assert 3e6 < film.width * film.height < 4.3e6


@pytest.mark.parametrize(
    "words",
    [
        [],
        ["fly"],
        ["new"],
        ["new", "ART", "-o", "OUT", "--width", "60"],
        ["new", "ART", "-o", "OUT", "--width", "5km"],
        ["new", "ART", "-o", "OUT", "--mask", "tartan"],
        ["new", "ART", "-o", "OUT", "--map", "red=metal"],
        ["new", "ART", "-o", "OUT", "--map", "D9B25A=cheese"],
        ["new", "ART", "-o", "OUT", "--thickness", "9mm"],
        ["new", "missing.svg", "-o", "OUT"],
        ["new", "BAD", "-o", "OUT"],
        ["new", "ART", "-o", "nowhere/at/all.oglow"],
        ["edit"],
        ["edit", "P", "fly"],
        ["edit", "P", "set-border", "border"],
        ["edit", "P", "set-border", "width=3mm"],
        ["edit", "missing.oglow", "set-border", "border=3mm"],
        ["info", "ART"],
        ["render", "P", "-o", "x.bmp"],
        ["render", "P", "-o", "x.png", "--sun", "2"],
        ["render", "P", "-o", "x.png", "--px-per-mm", "0"],
        ["render", "P", "-o", "x.png", "--leaf", "cream"],
        ["proof", "missing"],
        ["calc", "fly"],
        ["calc", "ring"],
        ["demo", "fly", "-o", "OUT"],
        ["demo", "--force"],
        ["calc", "run-time", "--help", "--json"],
    ],
)
def test_wrong_use_is_one_line_and_exit_2_and_nothing_written(
    words: list[str],
    sign_file: Path,
    project: Path,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
) -> None:
    bad = tmp_path / "bad.svg"
    bad.write_text("<svg")
    place = tmp_path / "here"
    place.mkdir()
    monkeypatch.chdir(place)
    names = {"ART": str(sign_file), "OUT": "out.oglow", "P": str(project), "BAD": str(bad)}
    before = project.read_bytes()
    capsys.readouterr()
    try:
        code = run([names.get(word, word) for word in words])
    except SystemExit as end:
        code = int(end.code or 0)
    said = capsys.readouterr()
    assert code == 2
    assert said.out == ""
    assert len(said.err.strip().splitlines()) == 1
    assert "Traceback" not in said.err
    assert list(place.iterdir()) == []
    assert project.read_bytes() == before


def test_a_bug_is_told_in_a_sentence_and_kept_in_a_report(
    project: Path, home: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    def broken(_: object) -> int:
        raise ZeroDivisionError("a bug")

    monkeypatch.setattr("outlined_glow.cli.main.command", lambda name: broken)
    assert glow("info", project) == 2
    said = capsys.readouterr().err
    assert len(said.strip().splitlines()) == 1
    report = next(home.rglob("reports/*.txt"))
    assert str(report) in said
    assert "ZeroDivisionError: a bug" in report.read_text()


def test_a_mapped_colour_that_is_not_there_is_a_warning(
    sign_file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "x.oglow"
    words = [
        "--map",
        "abcdef=ink",
        "--map",
        "d9b25a=window",
        "--map",
        "1d1b1a=raised",
        "--mask",
        "matte-black",
        "--finish",
        "lead-free-tin",
    ]
    assert glow("new", sign_file, "-o", path, *words) == 0
    assert glow("new", sign_file, "-o", path) == 2
    assert glow("new", sign_file, "-o", path, *words, "--force") == 0
    capsys.readouterr()
    assert glow("check", path, "--json") == 0
    codes = [one["code"] for one in json.loads(capsys.readouterr().out)["findings"]]
    assert "colour-not-in-picture" in codes
    assert "tones-hardly-show" in codes
    assert {one["colour"]: one["appearance"] for one in facts(path, capsys)["swatches"]}["D9B25A"] == "window"


def test_calculators_explain_themselves(capsys: pytest.CaptureFixture[str]) -> None:
    assert glow("calc", "--json") == 0
    assert "run-time" in json.loads(capsys.readouterr().out)
    assert glow("calc") == 0
    assert "series-resistor" in capsys.readouterr().out
    assert glow("calc", "run-time", "--help") == 0
    explained = capsys.readouterr().out
    assert "light_fraction" in explained
    assert "Source" in explained
    assert glow("calc", "ring", "count=4", "diameter=20mm") == 0
    assert "pitch_mm" in capsys.readouterr().out


def test_the_demo_is_written(tmp_path: Path, wired_moth) -> None:  # type: ignore[no-untyped-def]
    assert glow("demo", "-o", tmp_path / "m.oglow") == 0
    assert load(tmp_path / "m.oglow") == wired_moth
    assert glow("demo", "moth", "-o", tmp_path / "m.oglow") == 2


def outside(*words: str, **environment: str) -> subprocess.CompletedProcess[str]:
    """The program in a process of its own."""
    import os

    clean = {key: value for key, value in os.environ.items() if key not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    return subprocess.run(
        [sys.executable, *words], capture_output=True, text=True, env={**clean, **environment}, timeout=120, check=False
    )


def test_as_a_module_and_without_a_display() -> None:
    assert outside("-m", "outlined_glow", "--version").stdout.startswith("Outlined Glow 0")
    for display in ({}, {"DISPLAY": ":987"}, {"DISPLAY": "nonsense"}):
        for words in ([], ["demo"]):
            ended = outside("-m", "outlined_glow", *words, **display)
            assert ended.returncode == 2
            assert len(ended.stderr.strip().splitlines()) == 1
            assert "display" in ended.stderr
            assert ended.stdout == ""
    assert outside("-m", "outlined_glow", "demo", "fly", QT_QPA_PLATFORM="offscreen").returncode == 2
    assert outside("-m", "outlined_glow", "no-such.oglow", QT_QPA_PLATFORM="offscreen").returncode == 2


def test_the_core_leaves_qt_alone() -> None:
    code = (
        "import sys, pkgutil, importlib, outlined_glow.core as core\n"
        "for one in pkgutil.walk_packages(core.__path__, 'outlined_glow.core.'): importlib.import_module(one.name)\n"
        "import outlined_glow.cli.commands as commands\n"
        "for name in commands.COMMANDS: commands.command(name)\n"
        "print([name for name in sys.modules if name.startswith('PyQt6')])"
    )
    ended = outside("-c", code)
    assert ended.stdout.strip() == "[]", ended.stderr


def test_the_first_paint_needs_none_of_the_slow_libraries() -> None:
    code = """
import sys
from PyQt6.QtWidgets import QApplication
from PyQt6.QtCore import QTimer
app = QApplication(['x'])
from outlined_glow.ui.shell import MainWindow
from outlined_glow.ui.theme import load_fonts
load_fonts()
window = MainWindow()
window.show()
app.processEvents()
slow = [name for name in ('numpy', 'scipy', 'shapely', 'cv2', 'numba', 'ezdxf', 'PIL', 'av') if name in sys.modules]
print(slow)
window.close()
"""
    ended = outside("-c", code, QT_QPA_PLATFORM="offscreen")
    assert ended.stdout.strip() == "[]", ended.stderr


def test_the_core_may_be_loaded_by_several_threads_at_once() -> None:
    """At the start one worker opens a project, another loads what the first board needs, and the window asks too."""
    code = """
import sys, threading
sys.setswitchinterval(0.0005)
from outlined_glow.ui.core_door import core, warm
wrong = []
def run(work):
    try:
        work()
    except BaseException as error:
        wrong.append(error)
runs = [lambda: core('demos').demo_project('moth'), warm, lambda: core('film')]
threads = [threading.Thread(target=run, args=(one,)) for one in runs]
for one in threads:
    one.start()
run(lambda: [core(part) for part in ('journal', 'lock', 'history')])
for one in threads:
    one.join()
print(wrong)
"""
    assert outside("-c", code).stdout.strip() == "[]"


def test_edits_at_once_take_turns_and_none_is_lost(tmp_path: Path) -> None:
    path = tmp_path / "plate.oglow"
    (tmp_path / "plate.svg").write_bytes(SIGN)
    assert run(["new", str(tmp_path / "plate.svg"), "-o", str(path)]) == 0
    command = [sys.executable, "-m", "outlined_glow", "edit", str(path)]
    edits = [["single", f"array={name}", "x=20mm", f"y={5 + 4 * at}mm"] for at, name in enumerate("abcd")]
    started = [subprocess.Popen([*command, *words], stdout=subprocess.DEVNULL, stderr=subprocess.PIPE) for words in edits]
    for one in started:
        assert one.wait() == 0, one.stderr.read() if one.stderr else ""
        if one.stderr:
            one.stderr.close()
    assert {light.name for light in load(path).designs[0].lights} == set("abcd")
    assert sorted(one.name for one in tmp_path.iterdir()) == ["plate.oglow", "plate.oglow~", "plate.svg"]


def test_control_c_ends_in_a_sentence(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    def interrupted(_: object) -> int:
        raise KeyboardInterrupt

    monkeypatch.setattr("outlined_glow.cli.main.command", lambda name: interrupted)
    assert run(["info", "x.oglow"]) == 130
    assert "stopped" in capsys.readouterr().err


def test_how_leds_are_driven_is_told(project: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = project
    for name, groups in (("ring", "a,b,c"), ("ring", "d,e")):
        assert glow("edit", path, name, "x=20mm", "y=15mm", "count=6", f"groups={groups}") == 0
    told_of = ("drive", "method=ripple", "supply=aaa-alkaline", "cells=2", "current=1mA", "period=0.62s")
    assert glow("edit", path, *told_of) == 0

    def told(*words: object) -> dict:  # type: ignore[type-arg]
        capsys.readouterr()
        assert glow(*words, "--json") == 0
        return json.loads(capsys.readouterr().out)  # type: ignore[no-any-return]

    rows = told("plan", path)["methods"]
    assert {"each", "ripple", "scan"} <= {row["method"] for row in rows}
    [ripple] = [row for row in rows if row["method"] == "ripple"]
    assert (ripple["verdict"], ripple["limit"], ripple["program"]) == ("works", None, False)
    assert ripple["total_average_a"] == pytest.approx(told("power", path)["average_a"], rel=0.02)
    power = told("power", path)
    assert power["run_time_h"] == facts(path, capsys)["run_time_h"] == power["curve"][-1]["t_h"]
    assert power["ended_by"] in ("light", "circuit")
    nets = told("nets", path)
    by_name = {net["name"]: net["pins"] for net in nets["nets"]}
    ones = {part["reference"]: part for part in nets["parts"]}
    assert f"U1.{next(pin['number'] for pin in ones['U1']['pins'] if pin['role'] == 'supply')}" in by_name["supply"]
    assert ones["R1"]["value_ohm"] > 900
    assert all(pin["net"] is None or f"{ref}.{pin['number']}" in by_name[pin["net"]] for ref, part in ones.items()
               for pin in part["pins"])  # fmt: skip
    assert told("pins", path)["pins"] == []
    assert glow("edit", path, "drive", "method=charlieplex", "lit=one", "supply=usb", "current=0.5mA") == 0
    capsys.readouterr()
    assert glow("pins", path, "--h") == 0
    assert "#define PIN_LINE_1_PIN" in capsys.readouterr().out
    assert glow("pins", path, "--csv") == 0
    assert capsys.readouterr().out.splitlines()[0] == "pin,name,drives,at_start,pwm"
    assert glow("plan", path) == 0
    assert "*charlieplex" in capsys.readouterr().out
    assert glow("edit", path, "drive", "lit=some") == 2
    assert "lit must be one, all or a number" in capsys.readouterr().err
    assert glow("edit", path, "drive", "group=nobody", "method=pins") == 2
    assert "there are a, b, c, d, e" in capsys.readouterr().err
    assert glow("edit", path, "drive", "volts=9V") == 2
    assert "a supply that can be set" in capsys.readouterr().err
    assert glow("edit", path, "drive", "group=a", "method=pins") == 0
    assert glow("calc", "timer-search", "period=0.9s", "capacitors_f=[1e-6,3.3e-6]", "--json") == 0
