"""The core, loaded when it is first needed: the window paints before the geometry libraries are read."""

from __future__ import annotations

import gc
import importlib
import os
import sys
import threading
import time
from types import ModuleType

from .jobs import meanwhile

#: The libraries take no threads of their own: with two no picture came sooner, and twice the work stood in the window's way.
for _setting in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "OPENCV_FOR_THREADS_NUM"):
    os.environ.setdefault(_setting, "1")

_PARTS = {
    "history": "outlined_glow.core.project.history",
    "journal": "outlined_glow.core.project.journal",
    "lock": "outlined_glow.core.project.lock",
    "storage": "outlined_glow.core.project.storage",
    "edits": "outlined_glow.core.project.edits",
    "frames": "outlined_glow.core.project.frames",
    "start": "outlined_glow.core.workshop.start",
    "workshop": "outlined_glow.core.workshop",
    "demos": "outlined_glow.core.workshop.demos",
    "facts": "outlined_glow.core.workshop.facts",
    "other_colours": "outlined_glow.core.workshop.other_colours",
    "outline_file": "outlined_glow.core.workshop.outline_file",
    "clean_report": "outlined_glow.core.workshop.clean_report",
    "rescue": "outlined_glow.core.workshop.rescue",
    "choices": "outlined_glow.core.workshop.choices",
    "advice": "outlined_glow.core.brief.advice",
    "brief": "outlined_glow.core.brief.edits",
    "brief_findings": "outlined_glow.core.brief.findings",
    "atomic": "outlined_glow.core.project.atomic",
    "primitives": "outlined_glow.core.shape.primitives",
    "features": "outlined_glow.core.shape.features",
    "placing": "outlined_glow.core.shape.placing",
    "words": "outlined_glow.core.artwork.words",
    "pictures": "outlined_glow.core.artwork.pictures",
    "mends": "outlined_glow.core.artwork.mends",
    "film": "outlined_glow.core.workshop.film",
    "order": "outlined_glow.core.order",
    "draw": "outlined_glow.core.board.draw",
    "flat": "outlined_glow.core.board.flat",
    "difference": "outlined_glow.core.board.difference",
    "rehearsal": "outlined_glow.core.board.rehearsal",
    "repaint": "outlined_glow.core.board.repaint",
    "view": "outlined_glow.core.board.view",
    "compiled": "outlined_glow.core.compiled",
    "kernels": "outlined_glow.core.kernels",
    "playing": "outlined_glow.core.board.playing",
    "pattern": "outlined_glow.core.motion.pattern",
    "score": "outlined_glow.core.motion.score",
    "truth": "outlined_glow.core.motion.truth",
    "briefest": "outlined_glow.core.motion.briefest",
    "scenes": "outlined_glow.core.motion.scenes",
    "pattern_edits": "outlined_glow.core.motion.edits.patterns",
    "feed_edits": "outlined_glow.core.motion.edits.feeds",
    "sign_edits": "outlined_glow.core.motion.edits.signs",
    "scene_edits": "outlined_glow.core.motion.edits.scenes",
    "films": "outlined_glow.core.motion.film_files",
    "motion_edits": "outlined_glow.core.motion.edits.strips",
    "way": "outlined_glow.core.motion.way",
    "motion_facts": "outlined_glow.core.workshop.motion_facts",
    "shades": "outlined_glow.core.motion.shades",
    "strips": "outlined_glow.core.motion.strips",
    "price": "outlined_glow.core.brief.price",
    "materials": "outlined_glow.core.colour.materials",
    "parts": "outlined_glow.core.parts",
    "kinds": "outlined_glow.core.lights.kinds",
    "order_of": "outlined_glow.core.lights.order",
    "own_parts": "outlined_glow.core.lights.own_parts",
    "param": "outlined_glow.core.project.param",
    "part_picture": "outlined_glow.core.board.part_picture",
    "sheets": "outlined_glow.core.order.sheets",
    "grid_wires": "outlined_glow.core.workshop.grid_wires",
    "hand_wires": "outlined_glow.core.workshop.hand_wires",
    "untangle": "outlined_glow.core.workshop.untangle",
    "glyph_cells": "outlined_glow.core.motion.glyph_cells",
    "pixel_font": "outlined_glow.core.motion.pixel_font",
    "moving_eye": "outlined_glow.core.workshop.moving_eye",
    "swung": "outlined_glow.core.motion.swung",
    "mating": "outlined_glow.core.workshop.mating",
    "lead_facts": "outlined_glow.core.workshop.lead_facts",
    "lights": "outlined_glow.core.lights",
    "light_map": "outlined_glow.core.board.light_map",
    "light_picture": "outlined_glow.core.board.light_picture",
    "light_surfaces": "outlined_glow.core.workshop.light_surfaces",
    "light_facts": "outlined_glow.core.workshop.light_facts",
    "calculators": "outlined_glow.core.workshop.calculators",
    "way_table": "outlined_glow.core.workshop.way_table",
    "blocks": "outlined_glow.core.workshop.blocks",
    "drive_keys": "outlined_glow.core.drive.keys",
    "pin_table": "outlined_glow.core.workshop.pin_table",
    "sketches": "outlined_glow.core.drive.sketches",
    "instead": "outlined_glow.core.workshop.instead",
    "net_facts": "outlined_glow.core.workshop.net_facts",
    "rail": "outlined_glow.core.workshop.rail",
    "drops": "outlined_glow.core.workshop.drops",
    "hand_track": "outlined_glow.core.workshop.hand_track",
    "net_lens": "outlined_glow.core.workshop.net_lens",
    "part_heat": "outlined_glow.core.workshop.part_heat",
    "pace_facts": "outlined_glow.core.workshop.pace_facts",
    "connections": "outlined_glow.core.workshop.connections",
    "pin_header": "outlined_glow.core.workshop.pin_header",
    "supply_facts": "outlined_glow.core.workshop.supply_facts",
    "drive_facts": "outlined_glow.core.workshop.drive_facts",
    "probe": "outlined_glow.core.board.probe",
    "watch": "outlined_glow.core.watch",
    "why_supply": "outlined_glow.core.workshop.why_supply",
    "why": "outlined_glow.core.workshop.why",
}


#: What a worker loads one after the other before anything that draws: in between, the window may load what it needs.
_STEPS = (
    "numpy", "shapely.geometry", "cv2", "lxml.etree", "fontTools.svgLib.path", "uharfbuzz", "PIL.Image",
    *(
        f"outlined_glow.core.{room}"
        for room in (
            "project", "parts", "geometry.regions", "colour", "lettering", "artwork.svg", "artwork.raster", "artwork", "shape",
            "lights", "drive", "board", "motion", "order.package", "order.proof", "order",
        )
    ),
)  # fmt: skip
#: How long a worker leaves between two of them (s): a lock that is taken again at once is never given to who waits.
_GAP_S = 0.002
#: One thread loads at a time: two that load libraries whose modules need one another find them half made.
_turn = threading.RLock()
_known: dict[str, ModuleType] = {}


def core(part: str) -> ModuleType:
    """A module of the core by its short name."""
    found = _known.get(part)
    if found is None:
        if threading.current_thread() is not threading.main_thread():
            for name in _STEPS:
                if name not in sys.modules:
                    _load(name)
                    time.sleep(_GAP_S)
        found = _known[part] = _load(_PARTS[part])
    return found


def load_first(*parts: str) -> None:
    """Load parts of the core that are not there yet on a thread of their own: the window paints meanwhile."""
    if any(part not in _known for part in parts):
        meanwhile(lambda: [core(part) for part in parts])


def _load(name: str) -> ModuleType:
    with _turn:
        return importlib.import_module(name)


def warm() -> None:
    """Load what the first board needs; run in the background once the window stands."""
    for part in ("workshop", "facts", "draw", "repaint", "view", "why"):
        core(part)
    # What the libraries hold is there to stay: looked through again and again it would make the window falter.
    gc.collect()
    gc.freeze()
