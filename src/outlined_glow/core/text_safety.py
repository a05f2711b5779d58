"""Text from elsewhere, made fit to be shown on one line and written to any file."""

from __future__ import annotations

import re

#: Control characters, line separators, and halves of surrogate pairs (from file names that are no UTF-8).
_UNPRINTABLE = re.compile(r"[\x00-\x1f\x7f-\x9f\u2028\u2029\ud800-\udfff]+")


def printable(text: str, instead: str = "?") -> str:
    """The text with every run of characters that no line can show replaced.

    >>> printable("two" + chr(10) + "lines", " ")
    'two lines'
    """
    return _UNPRINTABLE.sub(instead, text)


def in_c_comment(text: str) -> str:
    """The text on one line that neither ends a comment of C nor begins one.

    >>> in_c_comment("moth */ int x; /* again")
    'moth * / int x; / * again'
    """
    return printable(text, " ").replace("*/", "* /").replace("/*", "/ *")


def short(text: str, most: int = 60) -> str:
    """The text on one line and no longer than `most` characters, for a message about it.

    >>> short("a" * 70, 5)
    'aaaa…'
    """
    line = printable(text[: 4 * most], " ").strip()
    return line if len(line) <= most and len(text) <= 4 * most else line[: most - 1].rstrip() + "…"
