"""What is joined with what: nets of pins."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Net:
    """Pins that are one conductor: (reference, pin number) each. `kind` is supply, ground or signal."""

    name: str
    pins: tuple[tuple[str, str], ...]
    kind: str = "signal"
