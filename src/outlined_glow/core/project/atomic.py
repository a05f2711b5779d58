"""Files, and folders of files, appear whole or not at all."""

from __future__ import annotations

import contextlib
import ctypes
import errno
import os
import shutil
import stat
import tempfile
from collections.abc import Collection, Mapping
from pathlib import Path

from ..errors import Trouble

_EXCHANGE = 2  # RENAME_EXCHANGE of renameat2(2)
_HERE = -100  # AT_FDCWD


def atomic_write(path: Path, data: bytes, keep_previous: bool = False) -> None:
    """Write beside the target, flush to the disk, then take its name. A failure leaves the old file whole.

    With `keep_previous` the old file stays beside the new one as `NAME~`. A symbolic link stays one: what it leads to is
    written. An old file keeps its permissions. Devices and pipes are refused, not replaced.
    """
    temporary = ""
    try:
        target = Path(os.path.realpath(path)) if path.is_symlink() else path
        before = _ordinary(target, path)
        handle, temporary = tempfile.mkstemp(prefix=f".{target.name[:60]}.", dir=target.parent)
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        os.chmod(temporary, 0o666 & ~_umask() if before is None else stat.S_IMODE(before.st_mode))
        if keep_previous and before is not None:
            _keep(target)
        os.replace(temporary, target)
        _sync_folder(target.parent)
    except OSError as error:
        if temporary and os.path.exists(temporary):
            os.unlink(temporary)
        raise Trouble(f"“{path}” could not be written ({error.strerror}); nothing was changed.") from error


def _ordinary(target: Path, path: Path) -> os.stat_result | None:
    """What is there now, if it is a file; `Trouble` for what must not be replaced."""
    try:
        found = target.stat()
    except FileNotFoundError:
        return None
    if not stat.S_ISREG(found.st_mode):
        raise Trouble(f"“{path}” is not a file; write to a file's name.")
    return found


def _keep(target: Path) -> None:
    """The old file beside the new one. Made anew first and then named, so that a version before is never gone."""
    previous = target.with_name(target.name + "~")
    beside = target.with_name(f".{target.name[:60]}.kept")
    beside.unlink(missing_ok=True)
    try:
        try:
            os.link(target, beside)
        except OSError:  # a folder that knows no hard links
            shutil.copy2(target, beside)
        os.replace(beside, previous)
    finally:
        beside.unlink(missing_ok=True)


def atomic_folder(target: Path, files: Mapping[str, bytes], old: Collection[str] = ()) -> None:
    """Make a folder hold exactly these files, besides others of its own that are not named in `old`: all of it or nothing.

    The folder is made anew beside the old one and both change names at once.
    """
    target = Path(os.path.realpath(target))
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        scratch = Path(tempfile.mkdtemp(prefix=f".{target.name[:60]}.", dir=target.parent))
    except OSError as error:
        raise Trouble(f"“{target}” could not be written ({error.strerror}); nothing was changed.") from error
    try:
        os.chmod(scratch, 0o777 & ~_umask())
        if target.is_dir():
            _take_along(target, scratch, {*files, *old})
            shutil.copystat(target, scratch)
        for name, data in files.items():
            (scratch / name).parent.mkdir(parents=True, exist_ok=True)
            with (scratch / name).open("wb") as stream:
                stream.write(data)
                stream.flush()
                os.fsync(stream.fileno())
        for folder in {(scratch / name).parent for name in files} | {scratch}:
            _sync_folder(folder)
        if target.is_dir():
            _exchange(scratch, target)
        else:
            os.rename(scratch, target)
        _sync_folder(target.parent)
    except OSError as error:
        raise Trouble(f"“{target}” could not be written ({error.strerror}); nothing was changed.") from error
    finally:
        shutil.rmtree(scratch, ignore_errors=True)


def _take_along(target: Path, scratch: Path, but: set[str], within: str = "") -> None:
    """Everything else in a folder into the new one; of folders that hold some of it, what is not of it."""
    for entry in target.iterdir():
        name = f"{within}{entry.name}"
        if name in but:
            continue
        if entry.is_dir() and not entry.is_symlink():
            if not any(one.startswith(f"{name}/") for one in but):
                shutil.copytree(entry, scratch / entry.name, symlinks=True)
                continue
            rest = [one for one in entry.iterdir() if f"{name}/{one.name}" not in but]
            if rest:
                (scratch / entry.name).mkdir()
                _take_along(entry, scratch / entry.name, but, f"{name}/")
                shutil.copystat(entry, scratch / entry.name)
        else:
            shutil.copy2(entry, scratch / entry.name, follow_symlinks=False)


def _exchange(one: Path, other: Path) -> None:
    """Two folders change names: at once where the system can, else by way of a third name."""
    call = getattr(ctypes.CDLL(None, use_errno=True), "renameat2", None)
    if call is not None and call(_HERE, os.fsencode(one), _HERE, os.fsencode(other), _EXCHANGE) == 0:
        return
    if call is not None and ctypes.get_errno() not in (errno.EINVAL, errno.ENOSYS, errno.ENOTSUP):
        number = ctypes.get_errno()
        raise OSError(number, os.strerror(number))
    aside = one.with_name(one.name + ".old")
    os.rename(other, aside)
    try:
        os.rename(one, other)
    except OSError:
        os.rename(aside, other)
        raise
    os.rename(aside, one)


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _sync_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY)
    try:
        with contextlib.suppress(OSError):  # a file system that cannot
            os.fsync(handle)
    finally:
        os.close(handle)
