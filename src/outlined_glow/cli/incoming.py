"""Lines that come in while a command runs: from a file, a pipe, or standard input."""

from __future__ import annotations

import os
import select
import sys
from collections.abc import Iterator

from ..core.errors import Trouble

#: Longer than this nobody waits for the next line, s; a line has no more bytes, and all of them together.
WAIT_S = 20.0
_LONGEST, _MOST = 10_000, 50_000_000


def incoming(name: str) -> Iterator[str]:
    """The lines of a file or a pipe, of standard input for “-”, as they come. They end where nothing comes for a while."""
    if name == "-":
        yield from _lines(sys.stdin.fileno())
        return
    try:
        file = os.open(name, os.O_RDONLY)
    except OSError as error:
        raise Trouble(f"“{name}” cannot be read: {error.strerror}.") from error
    try:
        yield from _lines(file)
    except OSError as error:
        raise Trouble(f"“{name}” cannot be read: {error.strerror}.") from error
    finally:
        os.close(file)


def _lines(file: int) -> Iterator[str]:
    rest, total = b"", 0
    while select.select([file], [], [], WAIT_S)[0]:
        piece = os.read(file, 65_536)
        total += len(piece)
        if not piece or total > _MOST:
            break
        *whole, rest = (rest + piece).split(b"\n")
        for one in whole:
            yield one[:_LONGEST].decode("utf-8", "replace")
        if len(rest) > _LONGEST:
            # A line without an end: what it is, is told; the rest of it is passed over.
            yield rest[:_LONGEST].decode("utf-8", "replace")
            rest = b""
    if rest:
        yield rest.decode("utf-8", "replace")
