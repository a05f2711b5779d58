"""The one error a user may cause."""

from __future__ import annotations


class Trouble(Exception):
    """An expected failure, told in one sentence: which thing, what is wrong, what to do.

    The window shows it as it is, the command line prints it on standard error and ends with 2.
    """
