"""Parts of a project's own: their files, and what was found when they were compared with the real ones."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

import msgspec

from ..errors import Trouble
from ..parts import (
    Library,
    Light,
    Part,
    gives_light,
    library_with,
    part_file,
    read_part,
    refuse_other_kind,
    shipped_library,
)  # fmt: skip
from ..passes import Pass
from ..project import Array, Finding, Param, Passport, Project, Remedy, edit
from ..project.param import PictureFile

#: Where the files of own parts lie in a project's file, and how many there may be.
PARTS, MOST_PARTS = "parts/", 200


def own_parts(members: Mapping[str, bytes]) -> tuple[tuple[str, bytes], ...]:
    """The part files of a project, by member name."""
    return tuple(sorted((name, data) for name, data in members.items() if name.startswith(PARTS)))


def library_of(members: Mapping[str, bytes]) -> Library:
    """Everything that can be used in a project."""
    return library_with(own_parts(members))


def _named(member: str, data: bytes) -> str:
    """The name of a part; a file that cannot be read has its own."""
    try:
        return read_part(data).name
    except Trouble:
        return member.removeprefix(PARTS)


def _member_of(members: Mapping[str, bytes], name: str) -> str | None:
    return next((member for member, data in own_parts(members) if _named(member, data) == name), None)


def _with_part(project: Project, one: Part) -> Project:
    member = _member_of(project.members, one.name)
    if member is None:
        if len(own_parts(project.members)) >= MOST_PARTS:
            raise Trouble(f"A project takes {MOST_PARTS} parts of its own.")
        stem = re.sub(r"[^a-z0-9]+", "-", one.name.lower()).strip("-") or "part"
        free = (f"{PARTS}{stem}{f'-{number}' if number > 1 else ''}.json" for number in range(1, MOST_PARTS + 2))
        member = next(name for name in free if name not in project.members)
    return msgspec.structs.replace(project, members={**project.members, member: part_file(one)})


@edit("add-part", "Part file {file}", file=Param("picture", optional=False))
def add_part(project: Project, *, file: PictureFile) -> Project:
    """A part of one's own from its file (JSON); one of the same name is replaced, and has to be compared again."""
    one = read_part(file.data)
    refuse_other_kind(one)
    answers = {name: kept for name, kept in project.passports.items() if name != one.name}
    changed = msgspec.structs.replace(_with_part(project, one), passports=answers)
    _ = library_of(changed.members).emitters  # what gives no light is refused here, and not by the board made of it
    return changed


@edit("copy-part", "Part “{part}” copied", part=Param("text", optional=False), name=Param("text", optional=False))
def copy_part(project: Project, *, part: str, name: str) -> Project:
    """A part of the library under a name of its own, in this project; an LED with what is known of its light."""
    library = library_of(project.members)
    if name in library.parts or name in library.emitters:
        raise Trouble(f"There is a part “{name}” already; give the copy another name.")
    return _with_part(project, msgspec.structs.replace(lit_part(library, part), name=name))


def lit_part(library: Library, name: str) -> Part:
    """A part, or an emitter as the part that says what light it gives."""
    if name not in library.emitters:
        return library.part(name)
    one = library.emitters[name]
    if gives_light(one.part):
        return msgspec.structs.replace(one.part, name=name)
    of = one.lights[0]
    # A light of several says itself how bright it is against the whole.
    share = one.part.dies[0].share if one.part.dies else 1.0
    light = Light(
        of.forward_v, of.mcd / share, of.light, of.forward_a, of.continuous_a, one.half_angle_deg, one.lens_mm,
        dict(one.holes_mm),
    )  # fmt: skip
    return msgspec.structs.replace(one.part, name=name, light=light)


@edit("remove-part", "Part “{part}” removed", part=Param("text", optional=False))
def remove_part(project: Project, *, part: str) -> Project:
    """Take a part of one's own out of the project; one that cannot be read is known by the name of its file."""
    member = _member_of(project.members, part)
    if member is None:
        raise Trouble(f"This project has no part “{part}” of its own.")
    members = {name: data for name, data in project.members.items() if name != member}
    answers = {name: kept for name, kept in project.passports.items() if name != part}
    return msgspec.structs.replace(project, members=members, passports=answers)


_WAYS = ("as drawn", "turned", "mirrored")


@edit(
    "answer-passport",
    "Part “{part}” compared",
    part=Param("text", optional=False),
    pin1=Param("choice", choices=_WAYS, title="pin 1, seen from here"),
    common=Param("text", title="common pin"),
    closes=Param("text", title="what closes, or lights up"),
)
def answer_passport(project: Project, *, part: str, **answers: str | None) -> Project:
    """What the real part and a meter say: where pin 1 is against the drawing, which pin is common, which contact closes."""
    library_of(project.members).part(part)
    given = {key: value for key, value in answers.items() if value is not None}
    known = msgspec.structs.replace(project.passports.get(part, Passport()), **given)
    return msgspec.structs.replace(project, passports={**project.passports, part: known})


@edit("put-part-right", "Part “{part}” put right", part=Param("text", optional=False))
def put_part_right(project: Project, *, part: str) -> Project:
    """Turn or mirror the pads of a part as its passport says the real one is; one that ships becomes the project's own."""
    one = library_of(project.members).part(part)
    answers = project.passports.get(part, Passport())
    if answers.pin1 not in ("turned", "mirrored"):
        raise Trouble(f"The passport of “{part}” does not say that it is turned or mirrored.")
    sign_x, sign_y = (-1, -1) if answers.pin1 == "turned" else (-1, 1)
    moved: dict[str, Any] = {
        key: tuple(
            msgspec.structs.replace(spot, x_mm=sign_x * spot.x_mm, y_mm=sign_y * spot.y_mm) for spot in getattr(one, key)
        )
        for key in ("pads", "holes", "drawing", "dies")
    }
    moved["dies"] = tuple(
        die if die.to_mm is None else msgspec.structs.replace(die, to_mm=(sign_x * die.to_mm[0], sign_y * die.to_mm[1]))
        for die in moved["dies"]
    )
    right = msgspec.structs.replace(answers, pin1="as drawn")
    changed = _with_part(project, msgspec.structs.replace(one, **moved))
    return msgspec.structs.replace(changed, passports={**project.passports, part: right})


def part_findings(
    arrays: tuple[Array, ...], known: Library, answers: Mapping[str, Passport], others: tuple[Part, ...]
) -> list[Finding]:
    """What nobody has proved, or somebody has proved wrong, of the parts that are used: LEDs and others."""
    shipped = shipped_library().parts
    names = dict.fromkeys(name for array in arrays for name in (array.emitter, *(one.emitter for one in array.changes)))
    lit = (known.parts[known.emitters[name].part.name] for name in names if name in known.emitters)
    out = []
    for part, one in {one.name: one for one in (*lit, *others)}.items():
        told = answers.get(part, Passport())
        doubtful = one.pins_differ or (one in known.own and one != shipped.get(part))
        if told.pin1 in ("turned", "mirrored"):
            out.append(_wrong(part, told.pin1))
        elif doubtful and not (told.pin1 and told.common and told.closes):
            out.append(_unproved(part))
    return out


def _wrong(name: str, how: str) -> Finding:
    text = f"The drawing of the part “{name}” is {how} against the real part: it would be soldered the wrong way round."
    remedy = Remedy(f"{'turn' if how == 'turned' else 'mirror'} its pads", "put-part-right", (("part", name),))
    return Finding(code="part-drawn-wrong", severity="stop", stage="lights", text=text, remedies=(remedy,))


def _unproved(name: str) -> Finding:
    text = f"Nobody has compared the part “{name}” with the real one yet. Print its passport and answer its three questions."
    return Finding(code="part-unproved", severity="warning", stage="lights", text=text)


CHECKS = (Pass("part check", ("arrays", "library", "passports", "part kinds"), part_findings),)
