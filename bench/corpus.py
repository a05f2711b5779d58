"""A few hundred drawings in many colours, from an open icon set: what strangers draw (tests/data/icons)."""

from __future__ import annotations

import gzip
import json
from functools import cache
from pathlib import Path

_ICONS = Path(__file__).parents[1] / "tests" / "data" / "icons" / "icons.json.gz"


@cache
def drawings() -> dict[str, str]:
    """Name -> SVG document, 48 units square."""
    content = json.loads(gzip.decompress(_ICONS.read_bytes()))
    size = content["size"]
    head = f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 {size} {size}"'
    return {name: f'{head} width="{size}" height="{size}">{body}</svg>' for name, body in content["icons"].items()}
