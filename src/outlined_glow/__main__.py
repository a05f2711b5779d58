"""`python -m outlined_glow`: a command, or the window."""

from __future__ import annotations

import io
import sys
from collections.abc import Sequence


def main(arguments: Sequence[str] | None = None) -> int:
    """Run a command if one is named; otherwise open the window, on a project or picture if one is given."""
    words = list(sys.argv[1:] if arguments is None else arguments)
    wants_window = not words or (words[0] == "demo" and not any(word.startswith("-o") for word in words)) or _is_file(words)
    if wants_window and not {"-h", "--help"} & set(words):
        from .ui.app import run_window

        return run_window(words)
    from .cli.main import run

    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="backslashreplace")  # a file may have a name that no terminal can print
    return run(words)


def _is_file(words: list[str]) -> bool:
    """A single word that is no command but looks like a path to open."""
    return len(words) == 1 and not words[0].startswith("-") and ("." in words[0] or "/" in words[0])


if __name__ == "__main__":
    raise SystemExit(main())
