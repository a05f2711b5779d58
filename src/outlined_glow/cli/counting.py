"""Words that several commands say."""

from __future__ import annotations


def counted(count: int, kinds: str) -> str:
    """“1 stop”, “3 stops”."""
    return f"{count} {kinds[:-1] if count == 1 else kinds}"
