"""`.oglow`: a zip of `mimetype`, `project.json`, the original pictures and a thumbnail (docs/file-format.md)."""

from __future__ import annotations

import io
import json
import os
import stat
import struct
import zipfile
import zlib
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any, BinaryIO

import msgspec

from ..errors import Trouble
from ..text_safety import printable
from .atomic import atomic_write
from .bounds import refuse_beyond
from .migrate import SCHEMA, migrate
from .model import Project
from .unknown import fold, plain

MIMETYPE = "application/x-outlined-glow"
SUFFIX = ".oglow"
_MOST_BYTES = 400_000_000
_MOST_JSON = 20_000_000
_MOST_ENTRIES = 5_000
_MOST_THUMBNAIL = 8_000_000
#: What saving makes anew; every other member of a file is kept as it came.
_REWRITTEN = ("mimetype", "project.json", "thumbnail.png", "pictures/")
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


def today() -> date:
    """The day now; SOURCE_DATE_EPOCH wins."""
    return datetime.strptime(now(), _STAMP).date()


def dated(stamp: str) -> str:
    """The date files carry: that of the last edit, unless SOURCE_DATE_EPOCH says another."""
    fixed = os.environ.get("SOURCE_DATE_EPOCH", "")
    return datetime.fromtimestamp(int(fixed), UTC).strftime(_STAMP) if fixed.isdigit() else stamp


def encode(project: Project) -> bytes:
    """`project.json`: sorted keys, readable, the members left out."""
    text = json.dumps(content_of(project), indent=1, sort_keys=True, ensure_ascii=False, allow_nan=False)
    return (text + "\n").encode("utf-8", "surrogatepass")


def content_of(project: Project) -> dict[str, Any]:
    """The plain values of `project.json`."""
    return {**plain(project), "schema": SCHEMA}


def project_of(content: Any, members: dict[str, bytes]) -> Project:
    """The project of plain values in any schema up to ours; `ValueError` where they are none, `Trouble` for newer."""
    if not isinstance(content, dict):
        raise ValueError("no object at its root")
    project = msgspec.convert(fold(migrate(content)), Project)
    zip_time(project.edited)
    if not project.designs:
        raise ValueError("it holds no board")
    if len({design.name for design in project.designs}) < len(project.designs):
        raise Trouble("two of its boards have the same name")
    refuse_beyond(project)
    return msgspec.structs.replace(project, name=printable(project.name), members=members)


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
    if path.exists() and not path.is_file():
        raise Trouble(f"“{path}” cannot be opened: it is not a file.")
    try:
        with path.open("rb") as stream:
            _refuse_swarm(stream, path)
            with zipfile.ZipFile(stream) as archive:
                return _read(archive, path)
    except UNREADABLE_ZIP as error:
        reason = error.strerror if isinstance(error, OSError) and error.strerror else "not a project file, or damaged"
        raise Trouble(f"“{path}” cannot be opened: {reason}.{_way_out(path)}") from error


def load_bytes(data: bytes, name: str) -> Project:
    """Read a project from bytes that are at hand; `Trouble` as for a file of that name."""
    stream = io.BytesIO(data)
    try:
        _refuse_swarm(stream, Path(name))
        with zipfile.ZipFile(stream) as archive:
            return _read(archive, Path(name))
    except UNREADABLE_ZIP as error:
        raise Trouble(f"“{name}” cannot be opened: not a project file, or damaged.") from error


def _way_out(path: Path) -> str:
    """What to open instead of a damaged file."""
    previous = path.with_name(path.name + "~")
    return f" The version before it is kept as “{previous.name}”." if path.exists() and previous.exists() else ""


def copy_of(project: Project) -> Project:
    """The same under another name, so that saving it cannot be taken for the original."""
    return msgspec.structs.replace(project, name=f"{project.name} copy")


def read_thumbnail(path: Path) -> bytes | None:
    """The picture a project file carries of itself, if it has one."""
    if not path.is_file():
        return None
    try:
        with zipfile.ZipFile(path) as archive:
            small = archive.getinfo("thumbnail.png").file_size <= _MOST_THUMBNAIL
            return archive.read("thumbnail.png") if small else None
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
    for size, most in (
        (entries["project.json"].file_size, _MOST_JSON),
        (sum(e.file_size for e in entries.values()), _MOST_BYTES),
    ):
        if size > most:
            raise Trouble(f"“{path}” would unpack to {size // 1_000_000} MB, more than any project has; it was not opened.")
    try:
        content = json.loads(archive.read("project.json"))
        project = project_of(content, {})
        wanted = frozenset().union(*(design.files for design in project.designs))
        kept = {name for name in entries if not name.startswith(_REWRITTEN) and _is_plain(entries[name])}
        members = {name: archive.read(entries[name]) for name in sorted(wanted | kept)}
    except msgspec.ValidationError as error:
        raise Trouble(f"“{path}” is damaged: {error}.{_way_out(path)}") from error
    except Trouble as trouble:
        raise Trouble(f"“{path}” cannot be opened: {str(trouble).rstrip('.')}.") from trouble
    except (ValueError, KeyError, AttributeError, TypeError, RecursionError) as error:
        words = "its project.json or a picture in it cannot be read"
        raise Trouble(f"“{path}” is damaged: {words}.{_way_out(path)}") from error
    return msgspec.structs.replace(project, members=members)


def _is_plain(entry: zipfile.ZipInfo) -> bool:
    """Whether a member we do not know is an ordinary file with an ordinary name, worth keeping."""
    parts = entry.filename.split("/")
    return not stat.S_ISLNK(entry.external_attr >> 16) and all(part not in ("", ".", "..") for part in parts)


def _refuse_swarm(stream: BinaryIO, path: Path) -> None:
    """A zip of very many entries would fill the memory with their names before the first is looked at."""
    size = stream.seek(0, os.SEEK_END)
    stream.seek(max(0, size - 66_000))
    end = stream.read()
    at = end.rfind(b"PK\x05\x06")
    if at >= 0 and len(end) >= at + 12 and struct.unpack_from("<H", end, at + 10)[0] > _MOST_ENTRIES:
        raise Trouble(f"“{path}” holds more than {_MOST_ENTRIES} files and was not opened.")
