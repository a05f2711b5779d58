"""The one error a user may cause."""

from __future__ import annotations

from .text_safety import printable


class Trouble(Exception):
    """An expected failure, told in one sentence: which thing, what is wrong, what to do.

    The window shows it as it is, the command line prints it on standard error and ends with 2. What a thing's
    name brings along that would break the line, or cannot be printed at all, is shown as “?”.
    """

    def __init__(self, sentence: str) -> None:
        super().__init__(printable(sentence))
