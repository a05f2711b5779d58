"""`.oglow`: a zip of `mimetype`, `project.json`, the original pictures and a thumbnail (docs/file-format.md)."""

from __future__ import annotations

import io
import json
import os
import struct
import zipfile
import zlib
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import msgspec

from ..errors import Trouble
from .atomic import atomic_write
from .model import Project

SCHEMA = 1
MIMETYPE = "application/x-outlined-glow"
SUFFIX = ".oglow"
_MOST_BYTES = 400_000_000
#: Everything that reading a damaged zip may raise.
UNREADABLE_ZIP = (
    OSError,
    zipfile.BadZipFile,
    zipfile.LargeZipFile,
    zlib.error,
    struct.error,
    EOFError,
    NotImplementedError,
    RuntimeError,
    ValueError,
    OverflowError,
)
_STAMP = "%Y-%m-%dT%H:%M:%SZ"


def now() -> str:
    """The present in UTC, as projects write it; SOURCE_DATE_EPOCH wins."""
    return dated(datetime.now(UTC).strftime(_STAMP))


def dated(stamp: str) -> str:
    """The date files carry: that of the last edit, unless SOURCE_DATE_EPOCH says another."""
    fixed = os.environ.get("SOURCE_DATE_EPOCH", "")
    return datetime.fromtimestamp(int(fixed), UTC).strftime(_STAMP) if fixed.isdigit() else stamp


def encode(project: Project) -> bytes:
    """`project.json`: sorted keys, readable, the members left out."""
    content: dict[str, Any] = {"schema": SCHEMA}
    for name in Project.__struct_fields__:
        if name != "members":
            content[name] = msgspec.to_builtins(getattr(project, name))
    return (json.dumps(content, indent=1, sort_keys=True, ensure_ascii=False, allow_nan=False) + "\n").encode()


def save(project: Project, path: Path, thumbnail: bytes | None = None) -> None:
    """Write the project; atomic, and the previous file is kept as `NAME~`."""
    buffer = io.BytesIO()
    stamp = zip_time(dated(project.edited))
    with zipfile.ZipFile(buffer, "w") as archive:
        _member(archive, "mimetype", MIMETYPE.encode(), stamp, zipfile.ZIP_STORED)
        _member(archive, "project.json", encode(project), stamp)
        for name in sorted(project.members):
            _member(archive, name, project.members[name], stamp)
        if thumbnail:
            _member(archive, "thumbnail.png", thumbnail, stamp, zipfile.ZIP_STORED)
    atomic_write(path, buffer.getvalue(), keep_previous=True)


def load(path: Path) -> Project:
    """Read a project; `Trouble` says what is wrong with a file that is none."""
    try:
        with zipfile.ZipFile(path) as archive:
            return _read(archive, path)
    except UNREADABLE_ZIP as error:
        reason = error.strerror if isinstance(error, OSError) and error.strerror else "not a project file, or damaged"
        raise Trouble(f"“{path}” cannot be opened: {reason}.") from error


def read_thumbnail(path: Path) -> bytes | None:
    """The picture a project file carries of itself, if it has one."""
    try:
        with zipfile.ZipFile(path) as archive:
            return archive.read("thumbnail.png")
    except (*UNREADABLE_ZIP, KeyError):
        return None


def zip_time(stamp: str) -> tuple[int, int, int, int, int, int]:
    """A project's time as a zip entry wants it (1980 at the earliest)."""
    moment = datetime.strptime(stamp, _STAMP)
    return max(1980, moment.year), moment.month, moment.day, moment.hour, moment.minute, moment.second


def _member(
    archive: zipfile.ZipFile, name: str, data: bytes, stamp: tuple[int, ...], method: int = zipfile.ZIP_DEFLATED
) -> None:
    entry = zipfile.ZipInfo(name, stamp)  # type: ignore[arg-type]
    entry.compress_type = method
    entry.external_attr = 0o644 << 16
    archive.writestr(entry, data)


def _read(archive: zipfile.ZipFile, path: Path) -> Project:
    entries = {entry.filename: entry for entry in archive.infolist()}
    if "project.json" not in entries:
        raise Trouble(f"“{path}” is not a project of Outlined Glow.")
    if sum(entry.file_size for entry in entries.values()) > _MOST_BYTES:
        raise Trouble(f"“{path}” unpacks to more than {_MOST_BYTES // 1_000_000} MB and was not opened.")
    try:
        content = json.loads(archive.read("project.json"))
        if not isinstance(content, dict):
            raise ValueError("no object at its root")
        if int(content.get("schema", 0)) > SCHEMA:
            raise Trouble(f"“{path}” was written by a newer Outlined Glow; update to open it.")
        pictures = [design.get("artwork", {}).get("picture") for design in content.get("designs", ())]
        members = {one["member"]: archive.read(entries[one["member"]]) for one in pictures if one}
        project = msgspec.convert({**content, "members": {}}, Project)
        zip_time(project.edited)
    except msgspec.ValidationError as error:
        raise Trouble(f"“{path}” is damaged: {error}.") from error
    except (ValueError, KeyError, AttributeError, TypeError, RecursionError) as error:
        raise Trouble(f"“{path}” is damaged: its project.json or a picture in it cannot be read.") from error
    if not project.designs:
        raise Trouble(f"“{path}” is damaged: it holds no board.")
    return msgspec.structs.replace(project, members=members)
