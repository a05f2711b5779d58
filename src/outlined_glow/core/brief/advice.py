"""What a choice of the brief prevents, and its cautions, whatever the board is (data/brief.json; DOMAIN 1, 5, 10, 13, 17)."""

from __future__ import annotations

import json
from collections.abc import Sequence
from functools import cache
from importlib import resources
from typing import Any


@cache
def _table() -> dict[str, Any]:
    text = resources.files("outlined_glow.data").joinpath("brief.json").read_text("utf-8")
    return json.loads(text)  # type: ignore[no-any-return]


def ruled_out(key: str, word: str) -> tuple[str, ...]:
    """What is not possible with the word of a key, in few words each."""
    return tuple(_table()["rules_out"].get(key, {}).get(word, ()))


def care(key: str, word: str) -> tuple[str, ...]:
    """What to take care of with the word of a key, in few words each."""
    return tuple(_table()["care"].get(key, {}).get(word, ()))


def out_of_reach(tools: Sequence[str]) -> tuple[str, ...]:
    """What cannot be done with just these tools."""
    return tuple(row["without"] for row in _table()["tools"] if not set(row["any"]) & set(tools))


def usual_distance_m(place: str) -> float:
    """From how far something in a place is usually seen, m (DOMAIN 12)."""
    return float(_table()["usual_distance_m"][place])


def ambient_lux(ambient: str) -> float:
    """How much light there is in a place, lx."""
    return float(_table()["ambient_lux"][ambient])


def dazzling_mcd(ambient: str) -> float | None:
    """From which intensity on an LED dazzles there, mcd; None where none does."""
    found = _table()["dazzling_mcd"].get(ambient)
    return None if found is None else float(found)


def legible_mm(distance_m: float) -> float:
    """How high letters must be to be read from a distance, mm (DOMAIN 10)."""
    return distance_m * 1000 * float(_table()["letters_per_distance"])


def fine_packages(skill: str) -> tuple[str, ...]:
    """Bodies too fine for hands of that skill."""
    return tuple(_table()["fine_packages"][skill])
