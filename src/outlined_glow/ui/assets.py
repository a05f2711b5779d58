"""Files that ship with the program: fonts, icons, demo pictures."""

from __future__ import annotations

from pathlib import Path

_DATA = Path(__file__).parent.parent / "data"


def asset(*parts: str) -> bytes:
    """The bytes of a shipped file, named by its path below `data`."""
    return _DATA.joinpath(*parts).read_bytes()


def has_asset(*parts: str) -> bool:
    """Whether there is such a file."""
    return _DATA.joinpath(*parts).is_file()
