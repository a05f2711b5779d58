"""The edits that bring pictures, films and tables into a score."""

from __future__ import annotations

from pathlib import PurePath
from typing import Any

import msgspec

from ...errors import Trouble
from ...project import Param, Project, Strip, edit
from ...project.param import PictureFile
from ..film_files import FILMS, MOST_FRAMES, read_film, slides, whole_frames
from .strips import free_row, with_score

_WHERE: dict[str, Param] = {
    "start_s": Param("quantity", "s", 0, 7200),
    "group": Param("names"),
    "array": Param("names"),
}


@edit("add-film", "Film {file}", file=Param("picture", optional=False), **_WHERE)
def add_film(project: Project, *, file: PictureFile, **where: Any) -> Project:
    """Bring a picture, a film (GIF, PNG, WebP, JPEG, MP4) or a table of levels (CSV, JSON) into the score, as a strip that is
    as long as it is."""
    return _with(project, file, read_film(file.data, file.name).seconds, **where)


@edit(
    "add-slides",
    "{files} one after another",
    files=Param("pictures", optional=False),
    each_s=Param("quantity", "s", 0.01, 3600, title="each for", step=0.5),
    fade=Param("quantity", "", 0, 1, title="goes over for", shown="%", step=10, digits=0),
    **_WHERE,
)
def add_slides(
    project: Project, *, files: tuple[PictureFile, ...], each_s: float | None = None, fade: float | None = None, **where: Any
) -> Project:
    """Bring pictures into the score, one after another: frames of a film (each_s=40ms), or slides that go over into one another
    for a share of their time (fade=30%). Files have commas between them, or * in their names."""
    if len(files) > MOST_FRAMES:
        raise Trouble(f"{len(files):,} pictures are given; {MOST_FRAMES:,} are possible. Bring a film instead.")
    lasts = whole_frames(2.0 if each_s is None else each_s)
    data = slides([(one.name, one.data) for one in files], lasts)
    first = PurePath(files[0].name).stem
    keys = (("fade", fade),) if fade else ()
    return _with(project, PictureFile(f"{first}-{len(files)}.png", data), lasts * len(files), keys=keys, **where)


def _with(
    project: Project, file: PictureFile, seconds: float, *, start_s: float | None = None, group: tuple[str, ...] = (),
    array: tuple[str, ...] = (), keys: tuple[tuple[str, float], ...] = (),
) -> Project:  # fmt: skip
    """A strip of a file, which becomes one of the project's."""
    score, taken = project.motion.score, project.members
    plain = "".join(letter if letter.isalnum() or letter in "-_." else "-" for letter in PurePath(file.name).name)[-60:]
    same = next((name for name, data in taken.items() if name.startswith(FILMS) and data == file.data), None)
    names = (f"{FILMS}{at}-{plain}" for at in range(1, 1000))
    member = same or next(name for name in names if name not in taken)
    made = Strip(
        number=max((one.number for one in score), default=0) + 1, pattern="picture", film=member, start_s=start_s or 0.0,
        length_s=min(max(seconds, 0.02), 3600.0), groups=group or (), arrays=array or (), keys=keys,
    )  # fmt: skip
    changed = with_score(project, (*score, msgspec.structs.replace(made, row=free_row(score, made))))
    return msgspec.structs.replace(changed, members={**taken, member: file.data})
