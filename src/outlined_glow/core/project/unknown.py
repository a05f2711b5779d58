"""Keys that a file brings and this version does not know survive opening, editing and saving."""

from __future__ import annotations

from functools import cache
from typing import Any

import msgspec
from msgspec import inspect

from .model import Project

#: Fields that are no keys of the file: what is kept here, and the pictures, which are members of the zip.
_OURS = ("unknown", "members")


def fold(content: Any) -> Any:
    """`project.json` with the unknown keys of every section gathered under `unknown`, ready to be converted."""
    return _fold(content, _project_type())


def unfold(content: Any) -> Any:
    """The reverse: what was kept under `unknown` takes its place again. Known keys win."""
    if isinstance(content, dict):
        kept = content.get("unknown", {})
        return {**kept, **{key: unfold(value) for key, value in content.items() if key not in _OURS}}
    if isinstance(content, list | tuple):
        return [unfold(value) for value in content]
    return content


@cache
def _project_type() -> inspect.Type:
    return inspect.type_info(Project)


def _fold(value: Any, kind: inspect.Type) -> Any:
    if isinstance(kind, inspect.StructType) and isinstance(value, dict):
        return _fold_section(value, kind)
    if isinstance(kind, inspect.UnionType):
        fitting = [one for one in kind.types if _fits(value, one)]
        return _fold(value, fitting[0]) if fitting else value
    if isinstance(kind, inspect.VarTupleType) and isinstance(value, list):
        return [_fold(one, kind.item_type) for one in value]
    return value


def _fits(value: Any, kind: inspect.Type) -> bool:
    if not isinstance(kind, inspect.StructType) or not isinstance(value, dict):
        return False
    return kind.tag is None or value.get(kind.tag_field or "type") == kind.tag


def _fold_section(value: dict[str, Any], kind: inspect.StructType) -> dict[str, Any]:
    types = {field.encode_name: field.type for field in kind.fields if field.encode_name not in _OURS}
    known = {key: _fold(one, types[key]) for key, one in value.items() if key in types}
    rest = {key: one for key, one in value.items() if key not in types and key != kind.tag_field}
    if kind.tag_field and kind.tag_field in value:
        known[kind.tag_field] = value[kind.tag_field]
    return {**known, "unknown": rest}


def plain(section: msgspec.Struct) -> Any:
    """A section as the values of `project.json`."""
    return unfold(msgspec.to_builtins(section))
