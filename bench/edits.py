"""From an edit to new pixels, for every edit there is, on the demo."""

from __future__ import annotations

import statistics
from dataclasses import replace
from typing import Any

from msgspec import structs
from timing import Row, once

from outlined_glow.core.parts import profile, profile_text
from outlined_glow.core.project import Project, edits
from outlined_glow.core.project.edits import PictureFile
from outlined_glow.core.workshop import Compiler, apply_values
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.ui.bench.camera import Camera
from outlined_glow.ui.bench.renderer import Renderer, Request

_TAG = PictureFile(
    "tag.svg",
    b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 6"><path d="M0 0h9v6z" fill="#D9A441"/>'
    b'<circle cx="3" cy="4" r="1" fill="#F4EFE2"/></svg>',
)
DESK = profile_text(structs.replace(profile("fine"), name="shed", title="Shed")).encode()
#: An example of every edit; a new one without an example here stops the run.
EXAMPLES: dict[str, dict[str, Any]] = {
    "rename": {"name": "Another moth"},
    "set-stack": {"mask": "green"},
    "set-profile": {"profile": "fine"},
    "set-pieces": {"pieces": 20},
    "set-pattern": {"period_s": 5.0},
    "set-width": {"width_mm": 68.9},
    "set-appearance": {"colour": "8E4F92", "appearance": "window"},
    "propose-appearance": {"colour": "8E4F92"},
    "propose-all": {},
    "edge-metal": {"by": "copper"},
    "place-picture": {"x_mm": 35.0, "y_mm": 26.0, "angle_deg": 5.0},
    "remove-picture": {"picture": 2},
    "raise-picture": {"picture": 2},
    "set-tones": {"how": "diffuse", "colours": 4},
    "add-picture": {"file": _TAG, "width_mm": 12.0, "side": "back"},
    "replace-picture": {"file": _TAG},
    "add-words": {"text": "night", "x_mm": 34.0, "y_mm": 20.0, "height_mm": 2.0, "appearance": "ink"},
    "set-words": {"number": 1, "height_mm": 1.6},
    "remove-words": {"number": 1},
    "mend": {"how": "thicken", "appearance": "metal", "width_mm": 0.2},
    "unmend": {"number": 1},
    "take-profile": {"file": PictureFile("desk.json", DESK)},
    "copy-profile": {"name": "Shed desk"},
    "set-rule": {"rule": "track_mm", "value": 0.2},
    "set-purpose": {"place": "wall", "tools": ("iron", "oven")},
    "set-limits": {"width_mm": 60.0, "ready_by": "2026-12-24"},
    "set-shape": {"base": "star", "points": 7, "corner_mm": 3.0, "with_picture": True},
    "add-feature": {"kind": "sew", "along": True, "count": 3, "needle_mm": 1.1},
    "set-feature": {"number": 1, "size_mm": 1.5},
    "remove-feature": {"number": 1},
    "set-supply": {"supply": "usb"},
    "set-current": {"current_a": 0.003},
    "set-resistors": {"series": "E12"},
    "ring": {"array": "ring", "x_mm": 36.0, "y_mm": 28.0, "count": 6, "diameter_mm": 9.0},
    "grid": {"array": "grid", "x_mm": 36.0, "y_mm": 28.0, "rows": 2, "columns": 2},
    "along": {"array": "fore wings", "inset_mm": 2.8},
    "single": {"array": "one more", "x_mm": 30.0, "y_mm": 20.0},
    "remove-array": {"array": "hind wings"},
    "set-border": {"border_mm": 1.9},
    "keep-holes": {"keep": True},
    "set-hole": {"diameter_mm": 2.6},
    "remove-hole": {},
}


#: Edits that need a second picture, words or a mend to be there.
_NEED_MORE = (
    "remove-picture",
    "raise-picture",
    "set-words",
    "remove-words",
    "unmend",
    "set-feature",
    "remove-feature",
    "set-rule",
)


def _ready(project: Project) -> Project:
    for name in ("add-picture", "add-picture", "add-words", "mend", "add-feature", "copy-profile"):
        project = apply_values(project, name, EXAMPLES[name], (0, 0))
    return project


def _show(renderer: Renderer, work: Any) -> None:
    """The board on a bench of 868 x 744, all lit, at noon, by the window's own renderer."""
    (ox, oy), (w, h) = work.board.origin, work.board.size
    camera = replace(Camera(), width=868, height=744).fitted(ox, oy, w, h, (46, 92, 46, 128))
    renderer.board(Request(work, camera, 1.0, 1.0, None, frozenset(), None, "17141B"), lambda: False)


def rows() -> list[Row]:
    """CPU milliseconds by edit, their median and worst."""
    moth: Project = demo_project("moth")
    compiler, renderer = Compiler(), Renderer()
    took = {}
    for name in edits():
        before = _ready(moth) if name in _NEED_MORE else moth
        changed = apply_values(before, name, EXAMPLES[name], (0, 0))
        best = float("inf")
        for _ in range(2):
            _show(renderer, compiler.compile(before))
            best = min(best, once(lambda changed=changed: _show(renderer, compiler.compile(changed)))[0])
        took[name] = best * 1000
    worst = max(took, key=lambda name: took[name])
    every = ", ".join(f"{name} {ms:.0f}" for name, ms in sorted(took.items(), key=lambda item: item[1]))
    return [
        Row("edits", f"edit to pixels, median of {len(took)}", statistics.median(took.values()), 100, "ms", every),
        Row("edits", f"edit to pixels, worst ({worst})", took[worst], 100, "ms"),
    ]
