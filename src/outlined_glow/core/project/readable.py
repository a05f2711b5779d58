"""What a project holds can be read again from its file: an edit that makes something else is refused."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cache
from typing import Any

import msgspec

from ..errors import Trouble
from .model import Design, Project

Reader = msgspec.json.Decoder[Any]
#: Fields of a project that no edit has to be asked about: what `storage` writes itself, and the boards, asked one by one.
_ASIDE = ("edited", "designs", "members")
#: How msgspec tells of a limit.
_LIMIT = re.compile(r"Expected `(\w+)`(?: of length)? (<=|>=|<|>) ([\d.e+]+)")


def refuse_unreadable(before: Project, after: Project) -> None:
    """`Trouble` names what an edit changed to something that its file could not be read with."""
    for key, reader, value in _changed(before, after):
        try:
            reader.decode(msgspec.json.encode(value))
        except msgspec.ValidationError as error:
            raise Trouble(_in_words(str(error), key)) from error


def _changed(before: Project, after: Project) -> Iterator[tuple[str, Reader, Any]]:
    """Key, reader and value of every section that is another than before."""
    yield from _fields(before, after)
    known = {design.name: design for design in before.designs}
    for at, design in enumerate(after.designs):
        was = known.get(design.name) or before.designs[min(at, len(before.designs) - 1)]
        if design is not was:
            yield from _fields(was, design)


def _fields(before: Project | Design, after: Project | Design) -> Iterator[tuple[str, Reader, Any]]:
    for key, reader in _readers(type(after)).items():
        value = getattr(after, key)
        if value is not getattr(before, key):
            yield key, reader, value


@cache
def _readers(section: type[Project] | type[Design]) -> dict[str, Reader]:
    return {one.name: msgspec.json.Decoder(one.type) for one in msgspec.structs.fields(section) if one.name not in _ASIDE}


def _in_words(said: str, section: str) -> str:
    """What msgspec says of a value, as people say it.

    >>> _in_words("Expected `str` of length <= 60 - at `$[2].text`", "lights")
    'text may have 60 characters at most.'
    >>> _in_words("Expected `array` of length <= 200 - at `$.gates`", "drive")
    'gates may have 200 entries at most.'
    """
    keys = re.findall(r"[A-Za-z]\w*", said.partition(" - at `")[2])
    key = (keys[-1] if keys else section).replace("_", " ")
    limit = _LIMIT.match(said)
    if limit is None:
        return f"{key} cannot be kept so: {said.partition(' - ')[0]}."
    kind, sign, most = limit.group(1), limit.group(2), float(limit.group(3))
    if kind == "str" and sign == ">=":
        return f"{key} may not be empty."
    noun = {"str": " characters", "array": " entries"}.get(kind, "")
    verb, end = ("have" if noun else "be"), ("at most" if "<" in sign else "at least")
    return f"{key} may {verb} {most:g}{noun} {end}."
