"""The data that ships, in folders: every JSON file of a folder adds to it, so that something new is a new file and no code."""

from __future__ import annotations

import json
from collections.abc import Iterator
from functools import cache
from importlib import resources
from importlib.resources.abc import Traversable
from typing import Any

from .errors import Trouble


def files(folder: str) -> Iterator[Traversable]:
    """The JSON files of a folder of the data, in the order of their names."""
    found = resources.files(f"outlined_glow.data.{folder}").iterdir()
    yield from sorted((one for one in found if one.name.endswith(".json")), key=lambda one: one.name)


@cache
def entries(folder: str, key: str) -> dict[str, Any]:
    """Everything that the files of a folder have under a key, by name. `Trouble` where two of them say different things."""
    out: dict[str, Any] = {}
    for one in files(folder):
        content = json.loads(one.read_text("utf-8"))
        for name, entry in content.get(key, {}).items():
            if out.setdefault(name, entry) != entry:
                raise Trouble(f"Two files say what “{name}” is; “{one.name}” is one of them.")
    return out
