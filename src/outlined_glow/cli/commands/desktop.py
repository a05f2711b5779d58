"""`desktop`: the program among those of the desktop."""

from __future__ import annotations

from ..counting import counted
from ..desktop_entry import data_folder, install, remove
from ..exits import DONE
from . import Arguments


def desktop_(given: Arguments) -> int:
    """Run `desktop`."""
    folder = data_folder()
    if given.install:
        print(f"{counted(len(install(folder)), 'files')} written to {folder}")
    else:
        print(f"{counted(len(remove(folder)), 'files')} removed from {folder}")
    return DONE
