"""Files appear whole or not at all."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from ..errors import Trouble


def atomic_write(path: Path, data: bytes, keep_previous: bool = False) -> None:
    """Write beside the target, flush to the disk, then take its name. A failure leaves the old file whole.

    With `keep_previous` the old file stays beside the new one as `NAME~`.
    """
    temporary = ""
    try:
        handle, temporary = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        os.chmod(temporary, 0o666 & ~_umask())
        if keep_previous and path.exists():
            previous = path.with_name(path.name + "~")
            previous.unlink(missing_ok=True)
            os.link(path, previous)
        os.replace(temporary, path)
        _sync_folder(path.parent)
    except OSError as error:
        if temporary and os.path.exists(temporary):
            os.unlink(temporary)
        raise Trouble(f"“{path}” could not be written ({error.strerror}); nothing was changed.") from error


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _sync_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
