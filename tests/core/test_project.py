"""The value, its edits, history, and the file."""

from __future__ import annotations

import os
import re
import zipfile
from pathlib import Path
from typing import Any

import msgspec
import pytest
from drawings import SIGN
from examples import EXAMPLES, ready, with_board
from hypothesis import given
from hypothesis import strategies as st

from outlined_glow.core.errors import Trouble
from outlined_glow.core.project import History, Project, apply_edit, edits
from outlined_glow.core.project.edits import find_edit, sentence
from outlined_glow.core.project.frames import shifted_values
from outlined_glow.core.project.migrate import SCHEMA
from outlined_glow.core.project.model import Feature, Grid, Single, Words
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.project.storage import dated, encode, load, now, read_thumbnail, save, zip_time
from outlined_glow.core.workshop import Compiler, apply_text, apply_values
from outlined_glow.core.workshop.edit import numbered


def test_saving_and_loading_keep_everything(moth: Project, tmp_path: Path) -> None:
    path = tmp_path / "moth.oglow"
    save(moth, path, b"\x89PNG thumbnail")
    assert load(path) == moth
    assert read_thumbnail(path) == b"\x89PNG thumbnail"
    with zipfile.ZipFile(path) as archive:
        assert archive.namelist()[0] == "mimetype"
        assert archive.read("mimetype") == b"application/x-outlined-glow"
        assert archive.infolist()[0].compress_type == zipfile.ZIP_STORED
        assert archive.read("pictures/moth.svg") == moth.members["pictures/moth.svg"]
    first = path.read_bytes()
    save(moth, path, b"\x89PNG thumbnail")
    assert path.read_bytes() == first
    assert (tmp_path / "moth.oglow~").read_bytes() == first


def test_a_failing_disk_leaves_the_old_file(moth: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "moth.oglow"
    save(moth, path)
    before = path.read_bytes()

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    for call in ("fsync", "replace"):
        monkeypatch.setattr(os, call, full)
        with pytest.raises(Trouble, match="No space left"):
            save(apply_values(moth, "rename", {"name": "other"}, (0, 0)), path)
        monkeypatch.undo()
        assert path.read_bytes() == before
    assert [one.name for one in tmp_path.iterdir() if one.name.startswith(".")] == []


def rewritten(moth: Project, tmp_path: Path, name: str, data: bytes) -> Path:
    path = tmp_path / "x.oglow"
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("mimetype", "application/x-outlined-glow")
        archive.writestr("pictures/moth.svg", moth.members["pictures/moth.svg"])
        archive.writestr(name, data)
    return path


@pytest.mark.parametrize(
    "change",
    [
        lambda text: text[:-40],
        lambda text: "[]",
        lambda text: text.replace('"pieces": 8', '"pieces": "many"'),
        lambda text: text.replace('"pieces": 8', '"pieces": -1'),
        lambda text: text.replace(f'"schema": {SCHEMA}', f'"schema": {SCHEMA + 1}'),
        lambda text: text.replace('"pictures/moth.svg"', '"../../etc/passwd"'),
        lambda text: text.replace('"2026-11-21T20:14:00Z"', '"yesterday"'),
        lambda text: text.replace('"kind": "ring"', '"kind": "spiral"').replace('"type": "along"', '"type": "spiral"'),
        lambda text: text.replace('"designs": [', '"designs": [], "x": ['),
        lambda text: "{" * 5000,
        *(
            lambda text, far=far: re.sub(r'"x_mm": [\d.-]+', f'"x_mm": {far}', text, count=1)
            for far in ("NaN", "1e400", "-Infinity", "1e300", "-200000")
        ),
    ],
)
def test_damaged_projects_are_refused_in_a_sentence(moth: Project, tmp_path: Path, change: Any) -> None:
    text = encode(moth).decode()
    assert change(text) != text
    with pytest.raises(Trouble) as caught:
        load(rewritten(moth, tmp_path, "project.json", change(text).encode()))
    assert "x.oglow" in str(caught.value)


def test_what_is_no_project_is_refused(moth: Project, tmp_path: Path) -> None:
    (tmp_path / "a.oglow").write_bytes(b"not a zip")
    for path in (tmp_path / "a.oglow", tmp_path / "none.oglow", tmp_path):
        with pytest.raises(Trouble):
            load(path)
    with pytest.raises(Trouble, match="not a project"):
        load(rewritten(moth, tmp_path, "other.json", b"{}"))
    assert read_thumbnail(tmp_path / "a.oglow") is None


def test_dates_come_from_the_project_or_the_environment(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("SOURCE_DATE_EPOCH", "1000000000")
    assert now() == "2001-09-09T01:46:40Z"
    assert dated("2026-05-05T05:05:05Z") == "2001-09-09T01:46:40Z"
    monkeypatch.delenv("SOURCE_DATE_EPOCH")
    assert dated("2026-05-05T05:05:05Z") == "2026-05-05T05:05:05Z"
    assert zip_time("1970-01-01T00:00:00Z") == (1980, 1, 1, 0, 0, 0)


# -- the registry ---------------------------------------------------------------------------------------------------


def test_every_edit_has_an_example_words_and_a_docstring() -> None:
    assert set(EXAMPLES) == set(edits())
    for name, one in edits().items():
        assert one.run.__doc__, name
        assert all(param.describe() for param in one.params.values())
        assert sentence(name, EXAMPLES[name])


def as_text(value: Any) -> str:
    """A value as the command line takes it."""
    if not isinstance(value, tuple):
        return str(value)
    places = any(isinstance(one, tuple) for one in value)
    return " ".join(f"{x},{y}" for x, y in value) if places else ",".join(map(str, value))


@pytest.mark.parametrize("name", sorted(EXAMPLES))
def test_every_edit_changes_undoes_and_reads_from_text(moth: Project, name: str, tmp_path: Path, compiler: Compiler) -> None:
    moth = ready(moth, name)
    places = any(param.axis for key, param in find_edit(name).params.items() if key in EXAMPLES[name])
    if places or find_edit(name).stage == "lights":
        moth = numbered(moth, (compiler.compile(moth),))
    changed = apply_edit(moth, name, EXAMPLES[name])
    assert changed != moth
    history = History(moth)
    history.do(changed, "changed")
    assert history.undo() is moth
    assert history.redo() is changed
    words = [f"{key}={as_text(value)}" for key, value in EXAMPLES[name].items()]
    for value in EXAMPLES[name].values():
        for file in value if isinstance(value, tuple) else (value,):
            if isinstance(file, PictureFile):
                (tmp_path / file.name).write_bytes(file.data)
                words = [word.replace(file.name, str(tmp_path / file.name)) for word in words]
    spoken = apply_text(moth, name, words, compiler)
    if places:
        ox, oy = compiler.compile(moth).board.origin
        shifted = shifted_values(name, EXAMPLES[name], (ox, oy))
        changed = apply_edit(moth, name, shifted)
    assert encode(spoken).replace(spoken.edited.encode(), b"") == encode(changed).replace(changed.edited.encode(), b"")


@given(st.lists(st.sampled_from(sorted(EXAMPLES)), max_size=12), st.randoms(use_true_random=False))
def test_undo_all_redo_all_gives_the_same_bytes(moth: Project, names: list[str], dice: Any) -> None:
    history = History(moth)
    for name in names:
        try:
            history.do(apply_edit(history.project, name, EXAMPLES[name]), name, merge=dice.choice(["", "drag"]))
        except Trouble:
            continue
    end = encode(history.project)
    while history.can_undo():
        history.undo()
    assert history.project is moth
    while history.can_redo():
        history.redo()
    assert encode(history.project) == end


def test_history_says_what_was_done() -> None:
    assert sentence("set-stack", {"mask": "green", "thickness_mm": 0.8, "ink": None}) == "Stack: mask green, thickness 0.8 mm"
    assert sentence("set-current", {"current_a": 0.0031}) == "3.1 mA for each LED"
    assert sentence("along", {"array": "wings", "groups": ("a", "b")}) == "Along the edge “wings”: groups a, b"
    assert sentence("remove-hole", {}) == "Hanging hole removed"
    assert sentence("set-hole", {"automatic": True}) == "Hanging hole: automatic yes"


def test_a_drag_is_one_step(moth: Project) -> None:
    history = History(moth)
    for border in (2.0, 2.1, 2.2):
        history.do(apply_edit(history.project, "set-border", {"border_mm": border}), "border", merge="drag")
    history.end_merge()
    history.do(apply_edit(history.project, "set-border", {"border_mm": 3.0}), "border", merge="drag")
    assert len(history.steps) == 3
    history.undo()
    assert history.project.designs[0].shape.border_mm == 2.2
    history.undo()
    assert history.project is moth
    assert not history.unsaved
    history.redo()
    assert history.unsaved
    history.mark_saved()
    assert not history.unsaved


@pytest.mark.parametrize(
    ("name", "values"),
    [
        ("paint-it-blue", {}),
        ("set-border", {}),
        ("set-border", {"border_mm": -1.0}),
        ("set-border", {"border_mm": float("nan")}),
        ("set-border", {"width": 3.0}),
        ("set-stack", {"mask": "tartan"}),
        ("set-appearance", {"colour": "red", "appearance": "metal"}),
        ("ring", {"array": "fore wings", "count": 3}),
        ("ring", {"array": "new"}),
        ("remove-array", {"array": "nobody"}),
        ("set-pieces", {"pieces": 0}),
        ("grid", {"array": "g", "x_mm": 1.0, "y_mm": 1.0, "rows": 1000, "columns": 1000}),
        ("rename", {"name": "  "}),
        ("keep-holes", {"keep": "perhaps"}),
    ],
)
def test_wrong_edits_change_nothing(moth: Project, name: str, values: dict[str, Any]) -> None:
    with pytest.raises(Trouble):
        apply_edit(moth, name, values)


def test_units_of_keys(moth: Project) -> None:
    compiler = Compiler()
    assert apply_text(moth, "set-border", ["border=2.5mm"], compiler).designs[0].shape.border_mm == 2.5
    assert apply_text(moth, "set-border", ["border_mm=2.5"], compiler).designs[0].shape.border_mm == 2.5
    assert apply_text(moth, "set-border", ["border=0.0025"], compiler).designs[0].shape.border_mm == 2.5, "a bare stem is SI"
    assert apply_text(moth, "set-current", ["current=3mA"], compiler).designs[0].drive.current_a == pytest.approx(0.003)
    for words in (["border"], ["border=2", "border_mm=2"], ["border=wide"], ["keep=yes"]):
        with pytest.raises(Trouble):
            apply_text(moth, "set-border", words, compiler)


def test_an_edit_is_dated_and_one_that_changes_nothing_is_not(moth: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("SOURCE_DATE_EPOCH", "1900000000")
    assert apply_values(moth, "set-border", {"border_mm": 4.0}, (0, 0)).edited == "2030-03-17T17:46:40Z"
    assert apply_values(moth, "set-border", {"border_mm": moth.designs[0].shape.border_mm}, (0, 0)).edited == moth.edited


def test_a_project_holds_no_more_than_its_edits_allow(sign: Project, tmp_path: Path) -> None:
    """Neither by a file nor by changing what is there; each is refused at once, with the number."""
    art, shape = sign.designs[0].artwork, sign.designs[0].shape
    grid = Grid(name="g", x_mm=20, y_mm=15, rows=100, columns=50, pitch_x_mm=0.5, pitch_y_mm=0.5, mirrored=True)
    text, hole = Words(text="W", x_mm=1, y_mm=1), Feature(kind="hole")
    replace = msgspec.structs.replace
    full = {
        "10,000 LEDs on a board": ({"lights": (grid,)}, {"lights": (grid, Single(name="s", x_mm=1, y_mm=1))}),
        "60 texts": tuple({"artwork": replace(art, words=(text,) * count)} for count in (60, 61)),
        "99 holes, slots": tuple({"shape": replace(shape, features=(hole,) * count)} for count in (99, 100)),
        "24 pictures": tuple({"artwork": replace(art, pictures=art.pictures * count)} for count in (24, 25)),
    }
    target = tmp_path / "much.oglow"
    for words, (most, more) in full.items():
        save(with_board(sign, **most), target)
        assert load(target).designs[0] == with_board(sign, **most).designs[0]
        save(with_board(sign, **more), target)
        with pytest.raises(Trouble, match=rf"may have {words}.*; this would be [\d,]+\.$"):
            load(target)
    project = apply_edit(sign, "grid", {"array": "g", "x_mm": 20.0, "y_mm": 15.0, "rows": 2, "columns": 2})
    with pytest.raises(Trouble, match="10,000 LEDs on a board; this would be 1,048,576"):
        apply_edit(project, "grid", {"array": "g", "rows": 1024, "columns": 1024})


def test_a_picture_taken_away_or_replaced_is_not_in_the_file_any_more(sign: Project, tmp_path: Path) -> None:
    target, other = tmp_path / "kept.oglow", PictureFile("other.svg", SIGN.replace(b"D9B25A", b"D9B25B"))
    both = apply_edit(sign, "add-picture", {"file": other})
    assert len(both.members) == 2
    one = apply_edit(both, "remove-picture", {"picture": 2})
    assert one.members == sign.members
    changed = apply_edit(sign, "replace-picture", {"file": other})
    twice = apply_edit(
        apply_edit(sign, "add-picture", {"file": PictureFile("again.svg", SIGN)}), "remove-picture", {"picture": 2}
    )
    for project in (one, changed, twice, both):
        save(project, target)
        assert load(target) == project
        with zipfile.ZipFile(target) as archive:
            kept = {archive.read(name) for name in archive.namelist() if name.startswith("pictures/")}
        assert kept == set(project.members.values())
