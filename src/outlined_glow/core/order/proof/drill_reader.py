"""A reader of XNC drill files of its own."""

from __future__ import annotations

import re

from .gerber_reader import Unreadable, near


def read_drill(text: str) -> tuple[str, list[tuple[float, float, float]]]:
    """Plating (`Plated`, `NonPlated` or "") and the holes: x, y, diameter in mm."""
    function = ""
    scale = 1.0
    tools: dict[int, float] = {}
    tool: int | None = None
    holes: list[tuple[float, float, float]] = []
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if not lines or lines[0] != "M48":
        raise Unreadable("no drill header")
    if lines[-1] != "M30":
        raise Unreadable("the file does not end with M30: it is cut short")
    for line in lines[1:-1]:
        attribute = re.match(r";\s*#@!\s*TF\.FileFunction,(\w+)", line)
        definition = re.match(r"T(\d+)C([\d.]+)$", line)
        choice = re.match(r"T(\d+)$", line)
        hit = re.match(r"X(-?[\d.]+)Y(-?[\d.]+)$", line)
        if attribute:
            function = attribute.group(1)
        elif line.startswith(";") or line in ("%", "G05", "G90"):
            continue
        elif line.startswith(("METRIC", "INCH")):
            scale = 1.0 if line.startswith("METRIC") else 25.4
        elif definition:
            tools[int(definition.group(1))] = near(float(definition.group(2)) * scale)
        elif choice:
            tool = int(choice.group(1))
        elif hit:
            if tool not in tools:
                raise Unreadable(f"the tool T{tool} is used and nowhere defined")
            holes.append((near(float(hit.group(1)) * scale), near(float(hit.group(2)) * scale), tools[tool]))
        else:
            raise Unreadable(f"the command {line[:20]}")
    return function, holes
