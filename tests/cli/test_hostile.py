"""What strangers send is refused in one sentence that names it; nothing is written, and it costs little."""

from __future__ import annotations

import base64
import json
import os
import zlib
from pathlib import Path

import pytest
from hostile import HEAVY, MOST_BYTES, MOST_S, PICTURES, PROJECTS, answer, svg

from outlined_glow.__main__ import main
from outlined_glow.core.project.lock import FileLock

LIGHT = [("picture", name) for name in PICTURES if name not in HEAVY]
LIGHT += [("project", name) for name in PROJECTS if name not in HEAVY]
SQUARE = svg('<rect width="90" height="90" fill="gold"/>')


def made(kind: str, name: str, folder: Path) -> tuple[Path, list[str]]:
    """The file, and the command that is given it."""
    path = folder / ("x.svg" if kind == "picture" else "x.oglow")
    path.write_bytes((PICTURES if kind == "picture" else PROJECTS)[name]())
    out = folder / "out.oglow"
    return path, ["new", str(path), "-o", str(out)] if kind == "picture" else [
        "edit",
        str(path),
        "set-width",
        "width_mm=30",
        "-o",
        str(out),
    ]


def refused(words: list[str], capsys: pytest.CaptureFixture[str]) -> str:
    """The one line that a command ends with."""
    assert main(words) == 2
    said = capsys.readouterr()
    assert said.out == ""
    assert said.err.count("\n") == 1
    return said.err.strip()


@pytest.mark.parametrize(("kind", "name"), LIGHT)
def test_it_is_refused_in_a_sentence(kind: str, name: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path, words = made(kind, name, tmp_path)
    before = path.read_bytes()
    said = refused(words, capsys)
    assert f"{path.name}”" in said
    assert said.endswith(".")
    assert "went wrong inside" not in said
    assert sorted(tmp_path.iterdir()) == [path]
    assert path.read_bytes() == before


@pytest.mark.parametrize("name", HEAVY)
def test_refusing_costs_little(name: str, tmp_path: Path) -> None:
    path, words = made("picture" if name in PICTURES else "project", name, tmp_path)
    got = answer(*words, home=tmp_path)
    assert got.code == 2, got
    assert path.name in got.said
    assert got.seconds < MOST_S, got
    assert got.memory < MOST_BYTES, got
    assert not (tmp_path / "out.oglow").exists()


@pytest.mark.parametrize("width", ["990mm", "1mm"])
def test_a_board_over_a_metre_is_refused_and_one_beyond_the_fabricator_is_a_stop(
    width: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    art, out = tmp_path / "a.svg", tmp_path / "a.oglow"
    art.write_bytes(SQUARE)
    assert main(["new", str(art), "-o", str(out), "--width", width]) == 0
    assert main(["check", str(out)]) == 1
    assert "stop" in capsys.readouterr().out
    said = refused(["edit", str(out), "set-width", "width_mm=1000"], capsys)
    assert "1,000 mm" in said
    assert main(["check", str(out)]) == 1


@pytest.mark.parametrize("target", ["gone/a.oglow", "a.svg/a.oglow", "/proc/a.oglow"])
def test_a_folder_that_takes_nothing_is_named(target: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    art = tmp_path / "a.svg"
    art.write_bytes(SQUARE)
    said = refused(["new", str(art), "-o", str(tmp_path / target)], capsys)
    assert "a.oglow” could not be written" in said
    assert sorted(tmp_path.iterdir()) == [art]


def test_what_is_no_file_is_not_read(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    os.mkfifo(tmp_path / "pipe.svg")
    out = str(tmp_path / "o.oglow")
    assert "is not a file" in refused(["new", str(tmp_path / "pipe.svg"), "-o", out], capsys)
    assert "is not a file" in refused(["new", str(tmp_path), "-o", out], capsys)
    assert "cannot be read" in refused(["new", str(tmp_path / "none.svg"), "-o", out], capsys)
    for path in (tmp_path / "pipe.svg", tmp_path):
        assert "cannot be opened" in refused(["info", str(path)], capsys)
    with (tmp_path / "long.svg").open("wb") as stream:
        stream.truncate(10**10)
    assert "larger than" in refused(["new", str(tmp_path / "long.svg"), "-o", out], capsys)


@pytest.mark.parametrize("name", ["two\nlines", "moth 🦋", "\"quoted\" 'twice'", "per%cent*;$(x)", "\udcff\udcfe", "tab\there"])
def test_names_of_every_kind_go_through_the_whole_way(name: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    art, project, order = tmp_path / f"{name}.svg", tmp_path / f"{name}.oglow", tmp_path / f"{name}.zip"
    art.write_bytes(SQUARE)
    assert main(["new", str(art), "-o", str(project)]) == 0
    assert main(["export", str(project), "-o", str(order)]) == 0
    assert main(["proof", str(order), "--project", str(project)]) == 0
    capsys.readouterr()
    assert "exists already" in refused(["new", str(art), "-o", str(project)], capsys)


def test_a_project_that_a_window_has_open_is_not_written(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    art, project = tmp_path / "a.svg", tmp_path / "a.oglow"
    art.write_bytes(SQUARE)
    assert main(["new", str(art), "-o", str(project)]) == 0
    capsys.readouterr()
    window = FileLock(project)
    window.take()
    said = refused(["edit", str(project), "set-width", "width_mm=30"], capsys)
    assert "is open" in said
    assert "-o" in said
    window.free()
    assert main(["edit", str(project), "set-width", "width_mm=30"]) == 0


def test_hostile_packages_are_refused(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    art, project, package = tmp_path / "a.svg", tmp_path / "a.oglow", tmp_path / "order"
    art.write_bytes(SQUARE)
    assert main(["new", str(art), "-o", str(project)]) == 0
    assert main(["export", str(project), "-o", str(package)]) == 0
    capsys.readouterr()
    said = json.loads((package / "board.json").read_text())
    layer = next(name for name, one in said["layers"].items() if "coverage" in one)
    bomb = base64.b64encode(zlib.compress(bytes(10**8))).decode()
    bombed = {**said, "layers": {**said["layers"], layer: {**said["layers"][layer], "coverage": bomb}}}
    vast = {**said, "coverage": {**said["coverage"], "width": 10**9, "height": 10**9}}
    for text in ("[" * 10**6, json.dumps(bombed), json.dumps(vast)):
        (package / "board.json").write_text(text)
        assert "board.json" in refused(["proof", str(package)], capsys)
    os.mkfifo(tmp_path / "pipe")
    assert "cannot be read as a package" in refused(["proof", str(tmp_path / "pipe")], capsys)
    with (package / "large").open("wb") as stream:
        stream.truncate(10**10)
    assert "more than a package" in refused(["proof", str(package)], capsys)
