"""Pictures in a row: frames and slides that go over into one another; contact sheets; parts of films."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from plates import ROW, plate

from outlined_glow.core.errors import Trouble
from outlined_glow.core.motion import level_at
from outlined_glow.core.motion.briefest import seen_at
from outlined_glow.core.motion.film_files import read_film, slides
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.param import PictureFile, in_order, sorted_names
from outlined_glow.core.watch import Cancelled, Watch
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.film import contact_sheet, frames, write_film


def grey(value: int, size: tuple[int, int] = (8, 8)) -> bytes:
    data = io.BytesIO()
    Image.new("RGB", size, (value, value, value)).save(data, "PNG")
    return data.getvalue()


def files(*values: int) -> tuple[PictureFile, ...]:
    return tuple(PictureFile(f"f{at}.png", grey(value)) for at, value in enumerate(values))


def lit(project: Project, time_s: float) -> float:
    return float(level_at(project.motion, Compiler().on_demand(project).lamps, time_s).mean())


def test_slides_go_over_into_one_another_for_a_share_of_their_time() -> None:
    project = apply_edit(plate(ROW), "add-slides", {"files": files(0, 255), "each_s": 2.0, "fade": 0.5})
    [strip] = project.motion.score
    assert (strip.length_s, strip.keys) == (4.0, (("fade", 0.5),))
    # Dark for a second, then into the light for another; that is left again before the strip begins anew.
    shown = [lit(project, time) for time in (0.5, 1.25, 1.5, 1.75, 2.5, 3.5)]
    assert shown == pytest.approx([0.0, 0.25, 0.5, 0.75, 1.0, 0.5], abs=0.01)
    hard = apply_edit(project, "set-strip", {"number": 1, "keys": "fade=0"})
    assert [lit(hard, time) for time in (0.5, 1.9, 2.1, 3.9)] == [0, 0, 1, 1]


def test_frames_keep_their_time_though_some_are_alike() -> None:
    film = read_film(slides([(f"{at}", grey(value)) for at, value in enumerate((9, 9, 9, 200, 9))], 0.04), "a.png")
    assert film.seconds == pytest.approx(0.2)
    tall = slides([("a", grey(255, (8, 8))), ("b", grey(255, (4, 8)))], 1.0)
    second = read_film(tall, "a.png").pixels
    assert second is not None
    assert second.shape[:3] == (2, 8, 8)
    assert second[1, :, 3:5].min() > 0.9, "it is whole, in the middle of the first"
    assert second[1, :, 0].max() == 0
    single = apply_edit(plate(ROW), "add-slides", {"files": files(255), "each_s": 3.0})
    assert single.motion.score[0].length_s == 3.0


def test_what_is_no_picture_is_named() -> None:
    bad = (*files(1), PictureFile("notes.png", b"no picture"))
    with pytest.raises(Trouble, match="notes"):
        apply_edit(plate(ROW), "add-slides", {"files": bad})
    with pytest.raises(Trouble, match="picture files"):
        apply_edit(plate(ROW), "add-slides", {"files": ()})


def test_files_are_taken_by_the_numbers_in_their_names(tmp_path: Path) -> None:
    for name in ("f10.png", "f9.png", "f1.png", "other.txt"):
        (tmp_path / name).write_bytes(grey(1))
    names = [Path(one).name for one in sorted_names(f"{tmp_path}/f*.png, {tmp_path}/other.txt")]
    assert names == ["f1.png", "f9.png", "f10.png", "other.txt"]
    assert sorted(("b2", "a10", "a9"), key=in_order) == ["a9", "a10", "b2"]
    with pytest.raises(Trouble, match="no file"):
        sorted_names(f"{tmp_path}/z*.png")


def work_of(**pattern: Any) -> Any:
    return Compiler().compile(plate(ROW, ("set-pattern", {"pattern": "one at a time", "period_s": 4.0, **pattern})))


@pytest.mark.parametrize("each_s", [0.0105, 59.999, 166.806, 3600.0])
def test_slides_may_last_from_moments_to_an_hour(each_s: float) -> None:
    project = apply_edit(plate(ROW), "add-slides", {"files": files(0, 255), "each_s": each_s})
    [strip] = project.motion.score
    film = read_film(project.members[strip.film], strip.film)
    assert film.ends_s.tolist() == pytest.approx([each_s, 2 * each_s], rel=1e-3, abs=1e-3)
    assert strip.length_s == pytest.approx(min(film.seconds, 3600.0), abs=1e-6)


def test_a_contact_sheet_has_its_moments_side_by_side() -> None:
    work = work_of()
    data = contact_sheet(work.board, work.project.motion, work.lamps, seconds=4.0, count=4, sun=0.0)
    with Image.open(io.BytesIO(data)) as image:
        pixels = np.asarray(image.convert("L")).astype(float)
    assert 300_000 < pixels.size < 6_000_000
    with pytest.raises(Trouble, match="2 to 60"):
        contact_sheet(work.board, work.project.motion, work.lamps, seconds=4.0, count=61)


def test_a_part_of_the_score_is_written_and_may_be_stopped(tmp_path: Path) -> None:
    work = work_of()

    def write(name: str, **how: Any) -> list[np.ndarray[Any, Any]]:
        write_film(work.board, work.project.motion, work.lamps, tmp_path / name, fps=2, px_per_mm=3.0, sun=0.0, **how)
        with Image.open(tmp_path / name) as film:
            out = []
            for at in range(film.n_frames):  # type: ignore[attr-defined]
                film.seek(at)
                out.append(np.asarray(film.convert("RGB")).copy())
        return out

    whole, rest = write("a.png", seconds=4.0), write("b.png", start_s=2.0)
    assert len(rest) < len(whole)
    assert np.array_equal(rest[0], whole[len(whole) // 2])
    told: list[float] = []
    with pytest.raises(Cancelled):
        write("c.png", watch=Watch(cancelled=lambda: len(told) > 2, told=lambda share, words: told.append(share)))
    assert not (tmp_path / "c.png").exists()


def test_light_that_is_briefer_than_a_frame_is_in_the_film() -> None:
    project = apply_edit(plate(ROW), "set-pattern", {"pattern": "blink", "period_s": 0.5})
    work = Compiler().compile(apply_edit(project, "add-strip", {"pattern": "blink", "period_s": 0.5, "length_s": 2.0,
                                                                "start_s": 0.0, "keys": "lit=0.05"}))  # fmt: skip
    how: dict[str, Any] = {"sun": 0.0, "side": "front", "px_per_mm": 2.0}
    light = [one.astype(float).mean() for one in frames(work.board, work.project.motion, work.lamps, seconds=1.0, fps=8, **how)]
    dark, full = min(light), max(light)
    assert [at for at, one in enumerate(light) if one > dark + 0.5 * (full - dark)] == [0, 4], "25 ms of 125, twice a second"
    first = next(frames(work.board, work.project.motion, work.lamps, seconds=1.0, fps=8, moments=True, **how))
    assert first.mean() > full + 1, "at that moment they are fully on"
    lit = [float(seen_at(work.project.motion, work.lamps, at / 30, 1 / 30).mean()) for at in range(30)]
    assert sum(lit) / 30 == pytest.approx(0.05, rel=0.1), "25 ms twice a second, wherever frames of 33 ms fall"


@pytest.mark.parametrize("fps", [12.5, 24, 30, 50, 60])
@pytest.mark.parametrize("name", ["a.gif", "a.png", "a.mp4"])
def test_a_film_keeps_its_time_whatever_its_pace(tmp_path: Path, name: str, fps: float) -> None:
    work = work_of(pattern="breathe", period_s=0.9)
    given = {"seconds": 0.7, "fps": fps, "px_per_mm": 1.5, "sun": 0.0}
    write_film(work.board, work.project.motion, work.lamps, tmp_path / name, **given)
    film = read_film((tmp_path / name).read_bytes(), name)
    assert film.seconds == pytest.approx(round(0.7 * fps) / fps, abs=0.011)
    assert np.diff(film.ends_s, prepend=0.0).min() >= 0.009
    if name == "a.gif":
        assert np.diff(film.ends_s, prepend=0.0).min() >= 0.0199, "what lasts less is slowed down by players"
