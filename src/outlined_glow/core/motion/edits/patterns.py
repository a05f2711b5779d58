"""The edits of patterns of one's own: written as formulas, read from a file, removed."""

from __future__ import annotations

import json
from typing import Any

import msgspec

from ...errors import Trouble
from ...project import OwnPattern, Param, Project, edit
from ...project.param import PictureFile
from ...text_safety import short
from ..pattern import own_pattern
from ..shades import palette_names
from .strips import NONE

MOST = 100


@edit(
    "set-formula",
    "Pattern {name}",
    name=Param("text", optional=False),
    level=Param("text", title="level"),
    colour=Param("text", title="place in the palette"),
    palette=Param("choice", choices=lambda: (NONE, *palette_names()), title="palette"),
    keys=Param("text", title="numbers"),
    about=Param("text"),
)
def set_formula(project: Project, *, name: str, keys: str | None = None, **told: Any) -> Project:
    """Make a pattern of your own, or change it: a formula for the level of each LED, 0 dark to 1 full, such as
    max(0, sin(2 * pi * (phase - share))); numbers that it takes are written as width=0.2:0:1, the usual value, the lowest and
    the highest."""
    known = {one.name: one for one in project.motion.patterns}
    new = {key: value for key, value in told.items() if value is not None}
    for key in ("palette", "colour"):
        if new.get(key) == NONE:
            new[key] = ""
    if keys is not None:
        new["keys"] = _keys(keys)
    if name not in known and "level" not in new:
        raise Trouble(f"There is no pattern “{short(name)}” of your own yet; give level= as well.")
    if len(name) > 40:
        raise Trouble(f"A pattern is named by up to 40 letters, not “{short(name)}”.")
    before = known.get(name) or OwnPattern(name=name, level=new["level"])
    return _with(project, msgspec.structs.replace(before, **new))


@edit("add-patterns", "Patterns of {file}", file=Param("picture", optional=False))
def add_patterns(project: Project, *, file: PictureFile) -> Project:
    """Bring patterns from a file (JSON), such as somebody else wrote. One of the same name is replaced."""
    for one in read_patterns(file.data, file.name):
        project = _with(project, one)
    return project


@edit("remove-formula", "No pattern {name}", name=Param("text", optional=False))
def remove_formula(project: Project, *, name: str) -> Project:
    """Remove a pattern of your own. One that a strip plays stays."""
    motion = project.motion
    kept = tuple(one for one in motion.patterns if one.name != name)
    if len(kept) == len(motion.patterns):
        there = ", ".join(one.name for one in motion.patterns) or "none"
        raise Trouble(f"There is no pattern “{short(name)}” of your own; there are: {there}.")
    playing = [one.number for one in motion.score if one.pattern == name]
    if playing or motion.pattern == name:
        where = f"strip {playing[0]}" if playing else "the board"
        raise Trouble(f"“{short(name)}” is played by {where}; let that play another one first.")
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(motion, patterns=kept))


def read_patterns(data: bytes, name: str) -> tuple[OwnPattern, ...]:
    """The patterns of a file: an object `patterns` of entries by name, as those that ship are written."""
    try:
        entries = json.loads(data.decode("utf-8-sig"))["patterns"]
        out = tuple(_of_entry(key, entry) for key, entry in entries.items())
    except Trouble as trouble:
        raise Trouble(f"“{short(name)}”: {trouble}") from trouble
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError) as error:
        raise Trouble(f"“{short(name)}” is no file of patterns: an object patterns, with level of each by its name.") from error
    if not out:
        raise Trouble(f"“{short(name)}” has no patterns in it.")
    return out


def pattern_file(patterns: tuple[OwnPattern, ...]) -> bytes:
    """Patterns as a file that others can bring in."""
    content = {
        one.name: {
            "about": one.about, "level": one.level, "where": dict(one.where), "colour": one.colour, "palette": one.palette,
            "keys": {key: {"value": value, "low": low, "high": high} for key, value, low, high in one.keys},
        }
        for one in patterns
    }  # fmt: skip
    return (json.dumps({"patterns": content}, indent=1, ensure_ascii=False) + "\n").encode()


def _of_entry(name: str, entry: Any) -> OwnPattern:
    keys = tuple(
        (key, float(one["value"]), float(one["low"]), float(one["high"])) for key, one in entry.get("keys", {}).items()
    )
    unknown = set(entry) - {"level", "about", "keys", "where", "colour", "palette"}
    if unknown:
        raise Trouble(f"the pattern “{short(name)}” has “{short(sorted(unknown)[0])}”, which no pattern has.")
    content = {
        "name": name, "level": entry["level"], "about": entry.get("about", ""), "keys": keys, "colour": entry.get("colour", ""),
        "where": tuple(entry.get("where", {}).items()), "palette": entry.get("palette", ""),
    }  # fmt: skip
    try:
        return msgspec.convert(content, OwnPattern)
    except msgspec.ValidationError as error:
        raise Trouble(f"the pattern “{short(name)}” is wrong: {str(error).rstrip('.')}.") from error


def _keys(text: str) -> tuple[tuple[str, float, float, float], ...]:
    """Numbers as they are written: width=0.2:0:1."""
    out = []
    for word in text.replace(",", " ").split():
        if word == NONE:
            continue
        name, _, rest = word.partition("=")
        try:
            value, low, high = (float(part) for part in rest.split(":"))
        except ValueError:
            raise Trouble(f"numbers are written as width=0.2:0:1; “{short(word)}” is not.") from None
        if not low <= value <= high or not low < high:
            raise Trouble(f"“{short(name)}” must lie between its limits {low:g} and {high:g}; it is {value:g}.")
        out.append((name, value, low, high))
    return tuple(out)


def _with(project: Project, made: OwnPattern) -> Project:
    """The project with a pattern, once it is known to be one. Strips that play it and have numbers it lacks lose those."""
    own_pattern(made)
    patterns = (*(one for one in project.motion.patterns if one.name != made.name), made)
    if len(patterns) > MOST:
        raise Trouble(f"A project has at most {MOST} patterns of its own; remove one.")
    takes = {key: (low, high) for key, _, low, high in made.keys}
    score = tuple(
        msgspec.structs.replace(
            one, keys=tuple((key, min(max(value, takes[key][0]), takes[key][1])) for key, value in one.keys if key in takes)
        )
        if one.pattern == made.name
        else one
        for one in project.motion.score
    )
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(project.motion, patterns=patterns, score=score))
