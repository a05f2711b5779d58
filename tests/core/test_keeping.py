"""Nothing is lost: unknown keys, older files, locks, the journal, and programs that are killed."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
import time
import zipfile
from concurrent.futures import ThreadPoolExecutor
from math import isfinite
from pathlib import Path
from random import Random
from typing import Any

import msgspec
import pytest
from examples import EXAMPLES, ready
from hypothesis import given
from hypothesis import strategies as st
from killed import Outcome, kill_once

from outlined_glow.core.errors import Trouble
from outlined_glow.core.project import Artwork, Design, History, Param, Picture, Project, Stack, apply_edit
from outlined_glow.core.project.atomic import atomic_folder
from outlined_glow.core.project.edits import find_edit
from outlined_glow.core.project.journal import Journal, forget, left_behind, recover
from outlined_glow.core.project.lock import FileLock, age, held
from outlined_glow.core.project.migrate import SCHEMA, migrate
from outlined_glow.core.project.storage import encode, load, now, project_of, save
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.rescue import makeable

SAMPLES = Path(__file__).parents[1] / "data" / "schema"


def edited(project: Project, names: list[str]) -> History:
    history = History(project)
    for name in names:
        history.do(apply_edit(history.project, "rename", {"name": name}), f"renamed {name}")
    return history


def written(root: Path, history: History, path: Path | None = None) -> Journal:
    journal = Journal(root)
    for at, step in enumerate(history.all_steps()):
        journal.record(at, step.words, step.project, path)
    return journal


# -- files ------------------------------------------------------------------------------------------------------------


def extremes(param: Param) -> list[Any]:
    """The largest and the smallest that a key may be given, and more."""
    words = ["A" * most for most in (9, 41, 61, 81, 200)]
    numbers = [one for one in (param.low, param.high, 1e9) if isfinite(one)]
    return {
        "text": [*words, "\ud800", "\u202e"], "names": [*((one,) for one in words), ("",), tuple(map(str, range(500))), ()],
        "quantity": numbers, "count": [int(one) for one in numbers], "list": [(0.0,) * 50, (1e300,), ()],
        "numbers": [tuple(range(1, 30_000)), ()], "points": [tuple((float(at), float(at % 7)) for at in range(300)), ()],
    }.get(param.kind, [])  # fmt: skip


@pytest.mark.parametrize("name", sorted(EXAMPLES))
def test_what_an_edit_accepts_is_read_again(moth: Project, name: str) -> None:
    project = ready(moth, name)
    for key, param in find_edit(name).params.items():
        for value in extremes(param):
            try:
                changed = apply_edit(project, name, {**EXAMPLES[name], key: value})
            except Trouble as trouble:
                assert "$" not in str(trouble)
                continue
            assert project_of(json.loads(encode(changed)), changed.members) == changed, (key, value)


@pytest.mark.parametrize(
    ("name", "change", "said"),
    [
        ("letters", {"text": "A" * 61}, "text may have 60 characters at most"),
        ("order-gates", {"gates": tuple(f"n{at}" for at in range(201))}, "gates may have 200 entries at most"),
        ("add-words", {"text": "\ud800"}, "text of 1 to 200"), ("wire", {"nets": ("A" * 61,)}, "60 characters"),
    ],
)  # fmt: skip
def test_what_no_file_could_hold_is_refused(moth: Project, name: str, change: dict[str, Any], said: str) -> None:
    with pytest.raises(Trouble, match=said):
        apply_edit(ready(moth, name), name, {**EXAMPLES[name], **change})


@pytest.mark.parametrize("version", range(1, SCHEMA + 1))
def test_a_file_of_every_schema_version_opens_and_saves_again(version: int, tmp_path: Path) -> None:
    project = load(SAMPLES / f"{version}.oglow")
    assert len(project.designs[0].lights) == 7
    assert project.designs[0].artwork.chosen["8E4F92"] == "ink"
    save(project, tmp_path / "again.oglow")
    assert load(tmp_path / "again.oglow") == project


def test_older_schemas_are_brought_up_step_by_step() -> None:
    steps: dict[int, Any] = {
        1: lambda old: {**old, "title": old["name"]},
        2: lambda old: {"schema": 3, "title": old["title"].upper()},
    }
    assert migrate({"schema": 1, "name": "a"}, 3, steps) == {"title": "A"}
    assert migrate({"schema": 3, "title": "b"}, 3, steps) == {"title": "b"}
    with pytest.raises(Trouble, match="newer"):
        migrate({"schema": 4}, 3, steps)
    for wrong in ("1", None, True, 0, -1, 1.5):
        with pytest.raises(ValueError, match="schema"):
            migrate({"schema": wrong})


KEYS = st.text("abcxyz_", min_size=5, max_size=9).map(lambda word: f"later_{word}")
VALUES = st.recursive(
    st.none() | st.booleans() | st.integers(-9, 9) | st.text(max_size=5), lambda inner: st.lists(inner, max_size=2)
)


@given(st.lists(st.tuples(st.integers(0, 11), KEYS, VALUES), max_size=12))
def test_keys_of_a_later_version_survive_wherever_they_stand(moth: Project, additions: list[tuple[int, str, Any]]) -> None:
    content = json.loads(encode(moth))
    design = content["designs"][0]
    places = [content, content["brief"], content["brief"]["stack"], design, design["artwork"], design["artwork"]["pictures"][0],
              design["artwork"]["pictures"][0]["tones"],
              design["shape"], *design["lights"], design["drive"], content["motion"], design["shape"]["hole"]]  # fmt: skip
    for at, key, value in additions:
        places[at % len(places)][key] = value
    project = project_of(content, moth.members)
    assert json.loads(encode(project)) == content
    changed = apply_edit(project, "set-border", {"border_mm": 4.0})
    design["shape"]["border_mm"] = 4.0
    assert json.loads(encode(changed)) == content


def test_members_of_a_later_version_are_kept_but_no_trap_is(moth: Project, tmp_path: Path) -> None:
    path = tmp_path / "later.oglow"
    save(moth, path)
    with zipfile.ZipFile(path, "a") as archive:
        archive.writestr("sounds/hum.wav", b"hum")
        archive.writestr("../../outside", b"no")
        archive.writestr("/etc/outside", b"no")
        trap = zipfile.ZipInfo("linked")
        trap.external_attr = 0o120777 << 16
        archive.writestr(trap, "/etc/passwd")
        archive.writestr("pictures/unused.svg", b"left over")
    project = load(path)
    assert sorted(one for one in project.members if not one.startswith(("clean/", "copper/"))) == [
        "pictures/moth.svg",
        "sounds/hum.wav",
    ]
    save(project, path)
    with zipfile.ZipFile(path) as archive:
        assert archive.read("sounds/hum.wav") == b"hum"


def test_a_swarm_of_entries_is_refused_before_it_is_read(tmp_path: Path) -> None:
    path = tmp_path / "swarm.oglow"
    with zipfile.ZipFile(path, "w") as archive:
        for number in range(5_001):
            archive.writestr(f"{number}", b"")
    with pytest.raises(Trouble, match="5000 files"):
        load(path)


# -- the lock -----------------------------------------------------------------------------------------------------------


def test_a_file_open_elsewhere_is_noticed_and_a_dead_owner_is_not(tmp_path: Path) -> None:
    path = tmp_path / "a.oglow"
    code = (
        "import sys, time; from pathlib import Path; from outlined_glow.core.project.lock import FileLock\n"
        "print(FileLock(Path(sys.argv[1])).take(), flush=True)\ntime.sleep(60)"
    )
    other = subprocess.Popen([sys.executable, "-c", code, str(path)], stdout=subprocess.PIPE, text=True)
    assert other.stdout is not None
    assert other.stdout.readline() == "None\n"
    owner = FileLock(path).take()
    assert owner is not None
    assert owner.pid == other.pid
    assert owner.words().endswith("for a moment")
    assert FileLock(path).take() == owner
    other.kill()
    other.wait()
    other.stdout.close()
    lock = FileLock(path)
    assert lock.take() is None
    assert lock.held
    lock.free()
    assert list(tmp_path.iterdir()) == []


def test_the_lock_of_another_machine_holds_for_a_week(tmp_path: Path) -> None:
    lock = FileLock(tmp_path / "a.oglow")
    claim = {"user": "ada", "host": "elsewhere", "pid": 1, "since": time.time() - 7200}
    lock.path.write_text(json.dumps(claim))
    owner = lock.take()
    assert owner is not None
    assert owner.words() == "ada on elsewhere, for 2 hours"
    assert lock.take(by_force=True) is None
    lock.free()
    for content in (json.dumps({**claim, "since": time.time() - 9 * 86400}), "{", "[]", "\x00"):
        lock.path.write_text(content)
        assert lock.take() is None, content
        lock.free()


def test_where_no_lock_can_be_written_there_is_none_to_mind(tmp_path: Path) -> None:
    lock = FileLock(tmp_path / "gone" / "a.oglow")
    assert lock.take() is None
    assert not lock.held
    (tmp_path / ".b.oglow.open").symlink_to(tmp_path / "victim")
    assert FileLock(tmp_path / "b.oglow").take() is None
    assert not (tmp_path / "victim").exists()


def test_ages_are_said_as_people_do() -> None:
    assert [age(0, now) for now in (5, 60, 119, 3600, 86400 * 3)] == ["a moment", "1 minute", "1 minute", "1 hour", "3 days"]


# -- the journal ----------------------------------------------------------------------------------------------------------


def test_a_journal_gives_the_whole_history_back(moth: Project, tmp_path: Path) -> None:
    history = edited(moth, ["one", "two", "three"])
    journal = written(tmp_path, history, tmp_path / "moth.oglow")
    journal.flush()
    assert left_behind(tmp_path) == [], "its window still lives"
    history.undo()
    journal.record(history.place, "", history.project, tmp_path / "moth.oglow", went=True)
    journal.flush()
    journal.show(b"a picture")
    journal.end()
    [left] = left_behind(tmp_path)
    assert (left.name, left.steps, left.picture, left.saved_as) == ("three", 3, b"a picture", tmp_path / "moth.oglow")
    again = recover(left)
    assert again.steps == history.steps
    assert again.place == history.place == 2
    assert again.project == history.project
    assert again.unsaved
    again.redo()
    assert again.project.name == "three"
    forget(left)
    assert left_behind(tmp_path) == []


@given(cut=st.integers(1, 4000), junk=st.binary(max_size=20))
def test_a_torn_journal_gives_back_what_is_whole(moth: Project, tmp_path_factory: Any, cut: int, junk: bytes) -> None:
    root = tmp_path_factory.mktemp("torn")
    written(root, edited(moth, ["one", "two", "three"])).end()
    [steps] = root.glob("*/steps.jsonl")
    steps.write_bytes(steps.read_bytes()[:-cut] + junk)
    for left in left_behind(root):
        history = recover(left)
        assert history.steps == ("opened", "renamed one", "renamed two", "renamed three")[: len(history.steps)]


def test_the_steps_of_a_drag_are_one_and_nothing_worth_keeping_is_cleared_away(moth: Project, tmp_path: Path) -> None:
    journal = Journal(tmp_path)
    journal.record(0, "opened", moth, None)
    journal.flush()
    for width in range(40, 140):
        journal.record(1, "width", apply_edit(moth, "set-width", {"width_mm": float(width)}), None, "drag")
    journal.end()
    [left] = left_behind(tmp_path)
    assert left.steps <= 3
    assert recover(left).project.designs[0].artwork.pictures[0].width_mm == 139.0
    lone = Journal(tmp_path)
    lone.record(0, "opened", moth, None)
    lone.end()
    assert len(left_behind(tmp_path)) == 1
    assert not lone.folder.exists()


def test_a_journal_that_grows_too_long_begins_anew(moth: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("outlined_glow.core.project.journal._MOST_BYTES", 20_000)
    monkeypatch.setattr("outlined_glow.core.project.journal._PAUSE_S", 0.001)
    history = edited(moth, [f"name {number}" for number in range(40)])
    journal = Journal(tmp_path)
    for at, step in enumerate(history.all_steps()):
        journal.record(at, step.words, step.project, None)
        journal.flush()
    history.go(20)
    journal.record(20, "", history.project, None, went=True)
    journal.end()
    [steps] = tmp_path.glob("*/steps.jsonl")
    assert steps.stat().st_size < 30_000
    [left] = left_behind(tmp_path)
    assert recover(left).project == history.project


def test_a_full_disk_is_told_once_and_the_work_goes_on(moth: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    told: list[str] = []
    journal = Journal(tmp_path, told.append)
    with monkeypatch.context() as patch:
        patch.setattr(os, "fsync", full)
        for name in ("one", "two"):
            journal.record(1, name, apply_edit(moth, "rename", {"name": name}), None)
            assert not journal.flush(1.5)
    assert len(told) == 1
    assert "No space left" in told[0]
    journal.record(1, "three", apply_edit(moth, "rename", {"name": "three"}), None)
    journal.flush()
    journal.discard()
    assert list(tmp_path.iterdir()) == []
    assert threading.active_count() < 10


def test_a_journal_whose_pictures_were_spoiled_says_so(moth: Project, tmp_path: Path) -> None:
    written(tmp_path, edited(moth, ["one"])).end()
    [picture] = [one for one in tmp_path.glob("*/pictures/*") if b"<svg" in one.read_bytes()]
    picture.write_bytes(b"spoiled")
    [left] = left_behind(tmp_path)
    with pytest.raises(Trouble, match="cannot be restored"):
        recover(left)


def test_killed_at_any_moment_file_and_journal_open(tmp_path: Path) -> None:
    def run(number: int) -> Outcome:
        return kill_once(tmp_path / str(number), Random(number))

    with ThreadPoolExecutor(3) as pool:
        outcomes = list(pool.map(run, range(50)))
    assert all(one.file_opens and one.file_is_a_saved_one and one.journal_opens for one in outcomes), outcomes


def test_history_goes_anywhere(moth: Project) -> None:
    history = edited(moth, ["one", "two", "three"])
    history.mark_saved()
    assert history.saved_place == 3
    assert history.go(1).name == "one"
    assert history.unsaved
    assert history.go(99).name == "three"
    assert not history.unsaved
    assert history.go(-5) is moth
    assert msgspec.structs.replace(moth, name="x") != history.project


def test_a_disk_full_for_a_while_loses_no_step_and_no_line(
    moth: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Half a line is written when the disk is full; once there is room, everything is there."""
    told: list[str] = []
    journal = Journal(tmp_path, told.append)
    history = edited(moth, ["one"])
    for at, step in enumerate(history.all_steps()):
        journal.record(at, step.words, step.project, None)
    assert journal.flush()
    real = os.pwrite

    def full(handle: int, data: bytes, at: int) -> int:
        if len(data) > 40:
            return real(handle, data[:40], at)
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "pwrite", full)
    history.do(apply_edit(history.project, "rename", {"name": "two"}), "renamed two")
    journal.record(2, "renamed two", history.project, None)
    assert not journal.flush(3)
    assert told == ["No space left on device"]
    monkeypatch.undo()
    history.do(apply_edit(history.project, "rename", {"name": "three"}), "renamed three")
    journal.record(3, "renamed three", history.project, None)
    journal.flush(5)
    journal.end()
    (left,) = left_behind(tmp_path)
    assert [step.project.name for step in recover(left).all_steps()] == [moth.name, "one", "two", "three"]
    assert told == ["No space left on device"], "told once"


def test_a_damaged_line_costs_that_line_alone(moth: Project, tmp_path: Path) -> None:
    journal = written(tmp_path, edited(moth, ["one", "two", "three"]))
    journal.end()
    steps = journal.folder / "steps.jsonl"
    lines = steps.read_bytes().splitlines(keepends=True)
    lines[2] = lines[2][:200] + b"\x00\xff" + lines[2][210:]
    steps.write_bytes(b"".join(lines))
    (left,) = left_behind(tmp_path)
    assert recover(left).project.name == "three"


@pytest.mark.parametrize("damage", ["noise", "unreadable", "old"])
def test_no_journal_is_cleared_away_unread(damage: str, moth: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    journal = written(tmp_path, edited(moth, ["one"]))
    journal.end()
    steps = journal.folder / "steps.jsonl"
    before = steps.read_bytes()
    if damage == "noise":
        steps.write_bytes(b"\x00" * 500 + b"\n" + before[:50] + b"\n")
    elif damage == "old":
        os.utime(steps, (1.0, 1.0))
    else:
        real = Path.open

        def broken(self: Path, *given: Any, **more: Any) -> Any:
            if self == steps:
                raise OSError(5, "I/O error")
            return real(self, *given, **more)

        monkeypatch.setattr(Path, "open", broken)
    found = left_behind(tmp_path)
    monkeypatch.undo()
    assert steps.exists()
    assert len(found) == (0 if damage == "unreadable" else 1)
    if damage == "noise":
        with pytest.raises(Trouble, match="stays in"):
            recover(found[0])


def test_a_spoiled_picture_is_taken_from_the_saved_file(moth: Project, tmp_path: Path) -> None:
    path = tmp_path / "moth.oglow"
    save(moth, path)
    journal = written(tmp_path / "journal", edited(moth, ["one"]), path)
    journal.end()
    for one in (journal.folder / "pictures").iterdir():
        one.write_bytes(b"spoiled")
    (left,) = left_behind(tmp_path / "journal")
    assert recover(left).project.members == moth.members


def test_any_error_of_the_writer_is_told_and_its_thread_lives(
    moth: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    told: list[str] = []
    journal = Journal(tmp_path, told.append)
    monkeypatch.setattr(Journal, "_text", lambda self, line: 1 / 0)
    journal.record(0, "opened", moth, None)
    assert not journal.flush(3)
    monkeypatch.undo()
    assert journal.flush(5)
    assert told == ["an error inside the program"]
    journal.discard()


def test_a_save_ends_a_drag(moth: Project) -> None:
    history = History(moth)
    history.do(apply_edit(moth, "rename", {"name": "a"}), "moved", "arrow")
    history.mark_saved()
    history.do(apply_edit(moth, "rename", {"name": "b"}), "moved", "arrow")
    assert len(history.steps) == 3
    assert history.undo().name == "a"
    assert not history.unsaved


def test_saving_keeps_links_permissions_and_the_version_before(
    moth: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    real = tmp_path / "far" / "real.oglow"
    real.parent.mkdir()
    save(moth, real)
    real.chmod(0o600)
    link = tmp_path / "link.oglow"
    link.symlink_to(real)

    def refused(*_: object, **__: object) -> None:
        raise PermissionError(1, "Operation not permitted")

    monkeypatch.setattr(os, "link", refused)
    save(apply_edit(moth, "rename", {"name": "two"}), link)
    assert link.is_symlink()
    assert load(real).name == "two"
    assert real.stat().st_mode & 0o777 == 0o600
    kept = real.with_name("real.oglow~")
    assert zipfile.is_zipfile(kept)
    kept.rename(tmp_path / "kept.oglow")
    assert load(tmp_path / "kept.oglow").name == moth.name


def test_pipes_and_devices_are_not_replaced(moth: Project, tmp_path: Path) -> None:
    pipe = tmp_path / "pipe.oglow"
    os.mkfifo(pipe)
    with pytest.raises(Trouble, match="not a file"):
        save(moth, pipe)
    assert pipe.is_fifo()


def test_a_package_in_a_folder_is_replaced_whole(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    target = tmp_path / "order"
    atomic_folder(target, {"a.gbr": b"old a", "b.gbr": b"old b"})
    (target / "notes.txt").write_text("mine")
    (target / "photos").mkdir()
    (target / "photos" / "one.jpg").write_bytes(b"x")
    real = os.fsync
    calls = []

    def failing(handle: int) -> None:
        calls.append(handle)
        if len(calls) == 2:
            raise OSError(28, "No space left on device")
        real(handle)

    monkeypatch.setattr(os, "fsync", failing)
    with pytest.raises(Trouble, match="nothing was changed"):
        atomic_folder(target, {"a.gbr": b"new a", "c.gbr": b"new c"}, ["b.gbr"])
    monkeypatch.undo()
    assert (target / "a.gbr").read_bytes() == b"old a"
    assert [one.name for one in tmp_path.iterdir()] == ["order"]
    atomic_folder(target, {"a.gbr": b"new a", "c.gbr": b"new c"}, ["b.gbr"])
    assert sorted(one.name for one in target.iterdir()) == ["a.gbr", "c.gbr", "notes.txt", "photos"]
    assert (target / "a.gbr").read_bytes() == b"new a"
    assert (target / "photos" / "one.jpg").read_bytes() == b"x"
    assert [one.name for one in tmp_path.iterdir()] == ["order"]


def test_a_project_whose_board_cannot_be_made_is_mended(sign: Project) -> None:
    for name, values in (("set-shape", {"base": "outline"}), ("set-width", {"width_mm": 1000.0})):
        broken = apply_edit(apply_edit(sign, name, values), "set-border", {"border_mm": 50.0})
        with pytest.raises(Trouble):
            Compiler().compile(broken)
        mended, words = makeable(broken)
        assert Compiler().compile(mended).board.size[0] > 5
        assert words


def test_what_is_left_out_to_make_a_board_is_saved_as_it_stands(tmp_path: Path) -> None:
    """A picture that paints nothing is left out, and with it its bytes: what is saved opens as it was."""
    empty = b'<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm"><path d="M0 0L9"/></svg>'
    picture = Picture(member="pictures/c.svg", name="c.svg", width_mm=40.0)
    art = Artwork(pictures=(picture,))
    broken = Project(name="c", edited=now(), designs=(Design(artwork=art),), members={picture.member: empty})
    with pytest.raises(Trouble):
        Compiler().compile(broken)
    mended, words = makeable(broken)
    assert "left out" in words
    save(mended, tmp_path / "mended.oglow")
    assert load(tmp_path / "mended.oglow") == mended


def test_a_stack_that_nobody_makes_is_set_back_and_nothing_else(moth: Project) -> None:
    broken = msgspec.structs.replace(moth, brief=msgspec.structs.replace(moth.brief, stack=Stack(mask="tartan")))
    with pytest.raises(Trouble, match="no mask “tartan”; there are green"):
        Compiler().compile(broken)
    mended, words = makeable(broken)
    assert words == "Mask, finish, ink, thickness and fabricator were set back"
    assert mended.designs == moth.designs


def test_a_lock_that_says_nothing_yet_is_waited_for(tmp_path: Path) -> None:
    """Whoever takes a lock writes its name a moment later: that is no window that has the file open."""
    path = tmp_path / "a.oglow"
    first = FileLock(path)
    assert first.take(command=True) is None
    text = first.path.read_bytes()
    first.path.write_bytes(b"")
    threading.Timer(0.3, first.free).start()
    with held(path, wait_s=5.0) as owner:
        assert owner is None
    assert json.loads(text)["command"]
