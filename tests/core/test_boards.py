"""Several boards in one project: edits, stacks, findings and packages know which board they are about."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from drawings import SIGN
from msgspec import structs
from plates import ROW, plate

from outlined_glow.cli.main import run
from outlined_glow.core.errors import Trouble
from outlined_glow.core.order import package_of, prove_boards, write_package
from outlined_glow.core.project import Project, apply_edit, edits
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.workshop import Compiler, apply_text, new_project, with_kept
from outlined_glow.core.workshop.kept import kept_of
from outlined_glow.core.workshop.rescue import makeable


@pytest.fixture
def three() -> Project:
    """A sign, a plate of its own colour with a ring of LEDs, and a copy of the sign."""
    project = new_project(SIGN, "sign.svg", width_mm=50)
    project = apply_edit(project, "add-board", {"name": "lid"})
    project = apply_edit(project, "add-board", {"name": "twin", "like": "main"})
    project = apply_edit(project, "set-stack", {"mask": "purple", "board": "lid"})
    return apply_edit(project, "ring", {"board": "lid", "array": "halo", "x_mm": 0.0, "y_mm": 0.0, "count": 5})


def test_an_edit_of_a_board_leaves_the_others_as_they_are(three: Project) -> None:
    first, lid, twin = three.designs
    assert (first.name, lid.name, twin.name) == ("main", "lid", "twin")
    assert [one.name for one in lid.lights] == ["halo"]
    assert not first.lights
    assert not twin.lights
    wider = apply_edit(three, "set-border", {"board": "twin", "border_mm": 4.0})
    assert wider.designs[:2] == (first, lid)
    assert wider.designs[2].shape.border_mm == 4.0
    assert apply_edit(three, "set-border", {"border_mm": 4.0}).designs[1:] == (lid, twin), "the first one unless told"
    with pytest.raises(Trouble, match="no board “cover”; there are main, lid, twin"):
        apply_edit(three, "set-border", {"board": "cover", "border_mm": 4.0})


def test_every_edit_of_a_board_can_be_told_which() -> None:
    for one in edits().values():
        assert not one.of_board or "board" in one.params
    alone = {name for name, one in edits().items() if not one.of_board and "board" in one.params}
    assert all(one.stage for one in edits().values()), "each belongs to a stage"
    assert alone == {"set-stack", "rename-board", "remove-board", "add-strip", "set-strip"}


def test_boards_have_a_stack_of_their_own_or_that_of_the_brief(three: Project) -> None:
    works = Compiler().compile_all(three)
    assert [work.board.stack.mask for work in works] == ["black", "purple", "black"]
    green = apply_edit(three, "set-stack", {"mask": "green"})
    assert [work.board.stack.mask for work in Compiler().compile_all(green)] == ["green", "purple", "green"]
    shared = apply_edit(green, "share-stack", {"board": "lid"})
    assert {work.board.stack.mask for work in Compiler().compile_all(shared)} == {"green"}


def test_findings_and_their_remedies_name_their_board(three: Project) -> None:
    compiler = Compiler()
    works = compiler.compile_all(three)
    findings = compiler.all_findings(works)
    assert {one.board for one in findings} <= {"main", "lid", "twin"}
    [unwired] = [one for one in findings if one.code == "not-wired"]
    assert unwired.board == "lid"
    assert unwired.sentence.startswith("lid: ")
    tiny = apply_edit(three, "add-words", {"board": "twin", "text": "hi", "x_mm": 20.0, "y_mm": 10.0, "height_mm": 0.5})
    found = compiler.look_over(tiny)
    [small] = [one for one in found if one.code == "words-too-small"]
    remedy = small.remedies[0]
    assert small.board == "twin"
    assert remedy.edit is not None
    assert ("board", "twin") in remedy.values
    mended = apply_edit(tiny, remedy.edit, dict(remedy.values))
    assert mended.board("twin").artwork.words[0].height_mm == 1.0
    assert "words-too-small" not in {one.code for one in compiler.look_over(mended)}
    assert all(not one.board for one in compiler.findings(compiler.compile(new_project(SIGN, "sign.svg"))))


def test_equal_boards_are_made_once(three: Project) -> None:
    compiler = Compiler()
    compiler.compile(three)
    before = dict(compiler.memory.runs)
    compiler.compile(three, board="twin")
    again = {name for name, runs in compiler.memory.runs.items() if runs != before.get(name)}
    assert again == {"back words", "board"}, "only its name differs"


def test_a_package_of_three_boards_is_proved_board_by_board(three: Project, tmp_path: Path) -> None:
    works = Compiler().compile_all(three)
    boards = {work.design.name: work.board for work in works}
    package = package_of(boards, 8, three.edited)
    for target in (tmp_path / "order", tmp_path / "order.zip"):
        write_package(package, target)
        assert all(proof.good for proof in prove_boards(target).values())
        proofs = prove_boards(target, boards)
        assert list(proofs) == ["main", "lid", "twin"]
        assert all(proof.good for proof in proofs.values())
    swapped = {**boards, "lid": boards["main"], "main": boards["lid"]}
    assert not prove_boards(tmp_path / "order", swapped)["lid"].good
    with pytest.raises(Trouble, match=r"board “twin”, but the project has none"):
        prove_boards(tmp_path / "order", {**{name: boards[name] for name in ("main", "lid")}, "twin 2": boards["twin"]})
    (tmp_path / "order" / "lid" / "my notes.txt").write_text("kept")
    two = package_of({name: boards[name] for name in ("main", "lid")}, 8, three.edited)
    write_package(two, tmp_path / "order", force=True)
    assert (tmp_path / "order" / "lid" / "my notes.txt").read_text() == "kept"
    assert not (tmp_path / "order" / "twin").exists(), "of an older package nothing is left"
    names = {one["name"] for one in json.loads((tmp_path / "order" / "boards.json").read_text())["boards"]}
    assert names == {"main", "lid"}


def test_names_of_boards(three: Project, tmp_path: Path) -> None:
    renamed = apply_edit(three, "rename-board", {"board": "lid", "name": "cover"})
    assert [one.name for one in renamed.designs] == ["main", "cover", "twin"]
    assert renamed.title_of(renamed.designs[1]) == "sign cover"
    for name, words in (("twin", "already"), ("x" * 41, "at most 40")):
        with pytest.raises(Trouble, match=words):
            apply_edit(three, "rename-board", {"board": "lid", "name": name})
    one = apply_edit(apply_edit(three, "remove-board", {"board": "twin"}), "remove-board", {"board": "main"})
    assert not one.members, "the picture was on no board any more"
    with pytest.raises(Trouble, match="only board"):
        apply_edit(one, "remove-board", {"board": "lid"})
    save(three, tmp_path / "three.oglow")
    assert load(tmp_path / "three.oglow") == three
    double = structs.replace(three, designs=(three.designs[0], three.designs[0]))
    save(double, tmp_path / "double.oglow")
    with pytest.raises(Trouble, match="same name"):
        load(tmp_path / "double.oglow")


def test_pictures_of_several_boards_stay_while_one_of_them_needs_them(three: Project) -> None:
    other = PictureFile("other.svg", SIGN.replace(b"40", b"41"))
    changed = apply_edit(three, "replace-picture", {"board": "twin", "file": other})
    assert len(changed.members) == 2
    gone = apply_edit(changed, "replace-picture", {"board": "main", "file": other})
    assert len(gone.members) == 1
    assert gone.designs[0].artwork.pictures[0].member in gone.members


def test_places_are_in_the_frame_of_the_board_meant(three: Project) -> None:
    compiler = Compiler()
    changed = apply_text(three, "single", ["board=lid", "array=eye", "x=10mm", "y=12mm"], compiler)
    work = compiler.compile(changed, board="lid")
    [eye] = [spot for spot in work.board.lights if spot.index == len(work.leds)]
    assert (eye.x, eye.y) == (pytest.approx(10), pytest.approx(12))


def test_a_board_that_cannot_be_made_is_a_stop_and_the_others_are_looked_over(three: Project) -> None:
    lid = three.board("lid")
    broken = three.with_board(lid, structs.replace(lid, shape=structs.replace(lid.shape, base="silhouette")))
    findings = Compiler().look_over(broken)
    [stop] = [one for one in findings if one.code == "board-not-made"]
    assert stop.board == "lid"
    assert stop.severity == "stop"
    assert any(one.board == "twin" for one in findings)
    with pytest.raises(Trouble, match=r"^Board “lid”: "):
        Compiler().compile_all(broken)
    mended, words = makeable(broken)
    assert words == "The outline was set to a rectangle"
    assert mended.designs[0] == broken.designs[0]


def test_clean_ups_of_every_board_are_kept(three: Project) -> None:
    both = apply_edit(apply_edit(three, "clean", {}), "clean", {"board": "twin", "strength_percent": 90.0})
    compiler = Compiler()
    works = compiler.compile_all(both)
    kept = with_kept(both, works)
    of_each = [set(kept_of(work)) for work in works]
    assert of_each[0] <= set(kept.members)
    assert of_each[2] <= set(kept.members)
    part = with_kept(kept, works[:1])
    assert set(part.members) == set(kept.members), "what is known of one board alone takes nothing from the others"


def test_every_board_is_told_of_by_its_name_on_the_command_line(
    three: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "three.oglow"
    save(three, path)
    assert run(["info", str(path)]) == 0
    told = capsys.readouterr().out
    assert [line.split(maxsplit=1)[1] for line in told.splitlines() if line.startswith("name ")] == [
        "sign main", "sign lid", "sign twin",
    ]  # fmt: skip
    assert run(["info", str(path), "--json"]) == 0
    facts = json.loads(capsys.readouterr().out)
    assert [one["name"] for one in facts["boards"]] == ["sign main", "sign lid", "sign twin"]
    assert run(["check", str(path), "--board", "main"]) == 0
    capsys.readouterr()
    assert run(["check", str(path), "--json"]) == 1
    stops = [one for one in json.loads(capsys.readouterr().out)["findings"] if one["severity"] == "stop"]
    assert {one["board"] for one in stops} == {"lid"}
    for name, code in (("lid", 0), ("cover", 2)):
        assert run(["render", str(path), "-o", str(tmp_path / "x.png"), "--px-per-mm", "4", "--board", name]) == code


def test_what_names_an_array_a_board_or_a_feed_follows_its_new_name() -> None:
    project = plate(ROW, ("drive", {"group": "row", "method": "pins"}))
    for board in ("lid", "foot"):
        project = apply_edit(project, "add-board", {"name": board, "like": "main"})
    plug = {"name": "out", "kind": "pins", "onto": "in", "onto_board": "lid", "nets": ("supply",), "board": "main"}
    project = apply_edit(project, "plug", plug)
    row = ("row",)
    for where in ({"array": row}, {"group": row}, {"array": row, "board": "main"}, {"group": row, "board": "lid"}):
        project = apply_edit(project, "add-strip", {"pattern": "blink", "start_s": 0.0, "length_s": 2.0, **where})
    eyes = apply_edit(project, "rename-array", {"array": "row", "name": "eyes", "board": "main"})
    names = [(one.arrays, one.groups) for one in eyes.motion.score]
    assert names == [(("row", "eyes"), ()), ((), ("row", "eyes")), (("eyes",), ()), ((), ("row",))]
    assert [one.group for one in eyes.board("main").drive.groups] == ["eyes"]
    assert [one.group for one in eyes.board("lid").drive.groups] == ["row"]
    for one in eyes.designs:
        work = Compiler().on_demand(eyes, board=one.name)
        assert "group-without-leds" not in {found.code for found in work.plan.findings}
    with pytest.raises(Trouble, match="There is an array “eyes” already"):
        apply_edit(eyes, "rename-array", {"array": "eyes", "name": "eyes", "board": "main"})
    named = apply_edit(eyes, "rename-board", {"board": "lid", "name": "cover"})
    assert named.board("main").drive.plugs[0].onto_board == "cover"


def test_what_is_drawn_for_nets_that_are_called_after_an_array_stays() -> None:
    brow = ("line", {"array": "brow", "x_mm": 22.0, "y_mm": 20.0, "count": 2, "pitch_mm": 8.0, "emitter": "0805 red"})
    project = plate(ROW, brow, ("drive", {"method": "ripple", "current_a": 0.001}))
    [net] = [one.name for one in Compiler().on_demand(project).plan.nets if one.name.endswith(", row")]
    for edit, values in (
        ("track", {"net": net, "layer": "back", "points": ((4.0, 4.0), (9.0, 4.0))}), ("lock-net", {"net": net}),
        ("plug", {"name": "out", "kind": "pins", "nets": (net, "supply")}), ("rewire", {"net": net}),
    ):  # fmt: skip
        project = apply_edit(project, edit, values)
    renamed = apply_edit(project, "rename-array", {"array": "row", "name": "eyes"}).designs[0]
    new = f"{net.removesuffix('row')}eyes"
    wiring = renamed.wiring
    assert [one.net for one in (*wiring.tracks, *wiring.anew)] == [new, new]
    assert (wiring.locked, renamed.drive.plugs[0].nets) == ((new,), (new, "supply"))
    assert new in [one.name for one in Compiler().on_demand(project.with_board(project.designs[0], renamed)).plan.nets]


def test_what_a_feed_led_to_goes_with_it() -> None:
    project = plate(ROW, ("set-feed", {"name": "heat"}))
    for at, name in enumerate(("one", "two")):
        project = apply_edit(project, "set-scene", {"name": name, "start_s": 2.0 * at, "length_s": 2.0})
    project = apply_edit(project, "add-change", {"of": "one", "to": "two", "by": "over", "feed": "heat", "value": 3.0})
    assert apply_edit(project, "remove-feed", {"name": "heat"}).motion.changes == ()
