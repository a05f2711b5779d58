"""An example of every edit on the demo, for the tests and for the bench."""

from __future__ import annotations

import io
from typing import Any

from drawings import SIGN
from msgspec import structs
from PIL import Image

from outlined_glow.core.drive.devices import controllers
from outlined_glow.core.drive.own_controller import controller_file
from outlined_glow.core.parts import part, part_file, profile, profile_text
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.edit import numbered

DESK = profile_text(structs.replace(profile("fine"), name="shed", title="Shed")).encode()
LAMP = part_file(structs.replace(part("led 1206"), name="shed lamp"))
CHIP = controller_file(structs.replace(controllers()["small 8-pin"], title="shed chip"))


def small_picture() -> bytes:
    """A picture of four pixels."""
    data = io.BytesIO()
    Image.frombytes("RGB", (2, 2), bytes([255, 0, 0, 0, 255, 0, 0, 0, 255, 255, 255, 255])).save(data, "PNG")
    return data.getvalue()


#: An example of every edit, with places in the picture frame.
EXAMPLES: dict[str, dict[str, Any]] = {
    "rename": {"name": "Night moth"},
    "set-stack": {"mask": "green", "finish": "tin", "ink": "black", "thickness_mm": 0.8},
    "set-profile": {"profile": "fine"},
    "set-pieces": {"pieces": 20},
    "set-width": {"width_mm": 55.0},
    "set-appearance": {"colour": "D9A441", "appearance": "ink"},
    "propose-appearance": {"colour": "8E4F92"},
    "propose-all": {},
    "edge-metal": {"by": "copper"},
    "place-picture": {"x_mm": 35.0, "y_mm": 26.0, "angle_deg": 5.0},
    "remove-picture": {"picture": 2},
    "raise-picture": {"picture": 2},
    "set-tones": {"how": "diffuse", "colours": 4},
    "add-picture": {"file": PictureFile("sign.svg", SIGN), "width_mm": 12.0, "side": "back"},
    "replace-picture": {"file": PictureFile("sign.svg", SIGN)},
    "add-words": {"text": "night", "x_mm": 34.0, "y_mm": 20.0, "height_mm": 2.0, "appearance": "ink"},
    "set-words": {"number": 1, "height_mm": 1.6},
    "remove-words": {"number": 1},
    "mend": {"how": "thicken", "appearance": "metal", "width_mm": 0.2},
    "unmend": {"number": 1},
    "clean": {"strength_percent": 30.0},
    "unclean": {},
    "take-profile": {"file": PictureFile("desk.json", DESK)},
    "copy-profile": {"name": "Shed desk"},
    "set-rule": {"rule": "track_mm", "value": 0.2},
    "set-purpose": {"place": "wall", "tools": ("iron", "oven")},
    "set-limits": {"width_mm": 60.0, "ready_by": "2026-12-24"},
    "set-shape": {"base": "star", "points": 7, "corner_mm": 3.0, "with_picture": True},
    "take-outline": {"file": PictureFile("sign.svg", SIGN), "width_mm": 80.0},
    "add-feature": {"kind": "sew", "along": True, "count": 3, "needle_mm": 1.1},
    "set-feature": {"number": 1, "size_mm": 1.5},
    "remove-feature": {"number": 1},
    "set-border": {"border_mm": 2.5},
    "keep-holes": {"keep": True},
    "hold-island": {"x_mm": 30.0, "y_mm": 20.0, "how": "tabs"},
    "release-island": {"number": 1},
    "set-hole": {"diameter_mm": 3.0, "x_mm": 30.0, "y_mm": 44.0},
    "remove-hole": {},
    "ring": {"array": "halo", "x_mm": 34.0, "y_mm": 26.0, "count": 7, "diameter_mm": 20.0, "mirrored": False},
    "grid": {"array": "block", "x_mm": 30.0, "y_mm": 20.0, "rows": 2, "columns": 3, "groups": ("a", "b")},
    "along": {"array": "hind wings", "count": 3},
    "arc": {"array": "bow", "x_mm": 34.0, "y_mm": 26.0, "count": 5, "sweep_deg": 120.0},
    "line": {"array": "row", "x_mm": 34.0, "y_mm": 26.0, "pitch_mm": 3.0, "length_mm": 12.0},
    "curve": {"array": "swing", "points": ((28.0, 20.0), (34.0, 24.0), (40.0, 20.0)), "count": 4},
    "contour": {"array": "rim", "path": "board", "inset_mm": 3.0, "count": 6},
    "fill": {"array": "dust", "path": "8E4F92", "layout": "scattered", "pitch_mm": 6.0},
    "digits": {"array": "time", "x_mm": 34.0, "y_mm": 26.0, "digits": 1, "per_segment": 1, "height_mm": 12.0},
    "letters": {"array": "word", "x_mm": 34.0, "y_mm": 26.0, "text": "i", "height_mm": 12.0},
    "group": {"array": "fore wings", "place": (1, 2), "groups": ("tips", "slow")},
    "slots": {"array": "sheets", "x_mm": 34.0, "y_mm": 26.0, "slots": 2, "per_slot": 3},
    "rename-array": {"array": "fore wings", "name": "wing tips"},
    "lock": {"array": "fore wings"},
    "move-array": {"array": "fore wings", "to": 3},
    "balance": {"balanced": True},
    "duplicate-array": {"array": "hind eyes", "name": "third eyes", "dx_mm": 4.0, "dy_mm": 9.0},
    "skip": {"array": "fore wings", "place": (2,)},
    "nudge": {"array": "fore wings", "place": (3,), "dx_mm": 0.4},
    "retype": {"array": "fore wings", "place": (1, 2), "emitter": "0603 blue"},
    "as-array": {"array": "fore wings", "place": (3,)},
    "order": {"how": "shortest", "turned": True},
    "renumber": {},
    "single": {"array": "one", "x_mm": 30.0, "y_mm": 20.0, "angle_deg": 45.0},
    "add-part": {"file": PictureFile("lamp.json", LAMP)},
    "copy-part": {"part": "0805 amber", "name": "honey lamp"},
    "remove-part": {"part": "honey lamp"},
    "answer-passport": {"part": "honey lamp", "pin1": "turned", "common": "none", "closes": "pin 2 is plus"},
    "put-part-right": {"part": "honey lamp"},
    "remove-array": {"array": "fore eyes"},
    "set-supply": {"supply": "coin-2032"},
    "set-current": {"current_a": 0.003},
    "drive": {"method": "shift-register", "supply": "usb", "current_a": 0.004, "group": "eyes"},
    "drive-alike": {"group": "eyes"},
    "give-pin": {"net": "registers data", "pin": "5"},
    "order-outputs": {"outputs": ("3", "1", "2")},
    "plug": {"name": "out", "kind": "socket", "nets": ("supply", "ground", "none"), "rows": 1, "keyed": True},
    "remove-plug": {"name": "out"},
    "order-gates": {"gates": ("registers shift clock", "registers data")},
    "reserve-pin": {"pin": "6", "name": "button"},
    "add-controller": {"file": PictureFile("chip.json", CHIP)},
    "copy-controller": {"controller": "small 8-pin", "name": "mine"},
    "set-pin": {"pin": "2", "name": "P9", "kind": "analog only"},
    "set-controller": {"pin_a": 0.01},
    "remove-controller": {},
    "second-source": {"supply": "aaa-alkaline", "cells": 3, "joined": "diodes"},
    "auto-off": {"by": "transistor", "after_s": 600.0},
    "set-resistors": {"series": "E12", "choose": "nearest", "size": "0603", "stock": (470.0, 1200.0)},
    "wire": {"front": "clean", "style": "rounded", "seed": 2},
    "rewire": {"net": "ground"},
    "unwire": {"all": True},
    "place-label": {"part": "R22", "x_mm": 36.0, "y_mm": 9.0},
    "free-label": {"part": "R22"},
    "place-part": {"part": "R22", "x_mm": 36.0, "y_mm": 6.0, "angle_deg": 90.0, "side": "back", "lock": True},
    "free-part": {"part": "R22"},
    "track": {"net": "ground", "layer": "back", "points": ((20.0, 10.0), (30.0, 10.0)), "width_mm": 0.4},
    "set-track": {"number": 1, "layer": "front", "width_mm": 0.5, "points": ((20.0, 10.0), (32.0, 10.0))},
    "remove-track": {"number": 1},
    "lock-net": {"net": "ground"},
    "lead": {
        "part": "BT1",
        "to": "cells",
        "length_mm": 120.0,
        "wire": "stranded 0.25",
        "colours": "black, red",
        "held": "glue",
        "connector": "locking 2.0",
        "gender": "socket",
        "keyed": True,
    },
    "remove-lead": {"part": "BT1"},
    "pour": {"net": "ground", "side": "back", "style": "solid"},
    "add-board": {"name": "lid"},
    "rename-board": {"board": "lid", "name": "cover"},
    "remove-board": {"board": "lid"},
    "share-stack": {},
    "set-pattern": {"pattern": "chase", "period_s": 3.0, "brightness": 0.5},
    "add-strip": {"pattern": "chase", "group": ("wing tips",), "start_s": 1.0, "length_s": 4.0, "keys": "tail=2"},
    "set-strip": {"number": 1, "pattern": "wave", "along": "line", "angle_deg": 30.0, "fade_in_s": 0.5},
    "remove-strip": {"number": 1},
    "add-film": {"file": PictureFile("dots.png", small_picture())},
    "copy-strip": {"number": 1},
    "split-strip": {"number": 1, "at_s": 2.0},
    "stretch-score": {"by": 1.5},
    "clear-score": {},
    "add-slides": {"files": (PictureFile("a.png", small_picture()), PictureFile("b.png", small_picture())), "fade": 0.5},
    "set-ambient": {"feed": "tide", "floor": 0.1, "own_lx": 20.0},
    "sign-scenes": {"by": "blinks", "leds": (1, 2)},
    "set-power-cut": {"after": "last"},
    "set-glyph": {"letter": "♥", "rows": ".#.#. ##### ##### .###. ..#.."},
    "remove-glyph": {"letter": "♥"},
    "set-formula": {"name": "two waves", "level": "0.5 + 0.5 * sin(2 * pi * (phase * speed - share))", "keys": "speed=1:0:4"},
    "add-patterns": {"file": PictureFile("p.json", b'{"patterns": {"slow blink": {"level": "choose(phase < 0.8, 1, 0)"}}}')},
    "remove-formula": {"name": "two waves"},
    "set-marker": {"name": "dawn", "at_s": 1.5},
    "soften-score": {"soft_s": 0.3},
    "set-limit": {"limit_a": 0.1, "over": "clip"},
    "remove-marker": {"name": "dawn"},
    "set-feed": {"name": "tide", "low": 0.4, "high": 4.2, "period_s": 12.0},
    "bind": {"number": 1, "key": "level", "feed": "tide"},
    "remove-feed": {"name": "tide"},
    "set-scene": {"name": "night", "start_s": 0.0, "length_s": 4.0, "then": "hold"},
    "remove-scene": {"name": "night"},
    "add-button": {"name": "key", "long_s": 1.0},
    "remove-button": {"name": "key"},
    "add-change": {"of": "any", "to": "night", "by": "short"},
    "remove-change": {"number": 1},
}


def with_board(project: Project, **changes: Any) -> Project:
    """The project with parts of its first board replaced, by no edit."""
    return project.with_board(project.board(), structs.replace(project.board(), **changes))


#: What has to be there before an edit, as other examples.
_BEFORE: dict[str, tuple[str, ...]] = {
    "remove-picture": ("add-picture",), "raise-picture": ("add-picture",), "set-words": ("add-words",),
    "remove-words": ("add-words",), "unmend": ("mend",), "set-feature": ("add-feature",), "remove-feature": ("add-feature",),
    "release-island": ("hold-island",), "set-rule": ("copy-profile",), "remove-part": ("copy-part",),
    "answer-passport": ("copy-part",), "put-part-right": ("copy-part", "answer-passport"), "as-array": ("nudge",),
    "rename-board": ("add-board",), "remove-board": ("add-board",), "drive-alike": ("drive",),
    "unwire": ("wire",), "free-part": ("place-part",),
    "free-label": ("place-label",), "remove-track": ("track",), "set-track": ("track",),
    "remove-plug": ("plug",),
    "remove-lead": ("lead",), "set-strip": ("add-strip",), "remove-strip": ("add-strip",), "copy-strip": ("add-strip",),
    "split-strip": ("add-strip",), "clear-score": ("add-strip",), "remove-feed": ("set-feed",),
    "sign-scenes": ("set-scene",), "set-ambient": ("set-feed",),
    "remove-glyph": ("set-glyph",),
    "remove-marker": ("set-marker",), "remove-formula": ("set-formula",),
    "bind": ("add-strip", "set-feed"),
    "remove-scene": ("set-scene",),
    "remove-button": ("add-button",),
    "add-change": ("set-scene", "add-button"), "remove-change": ("set-scene", "add-button", "add-change"),
    "set-pin": ("copy-controller",), "set-controller": ("copy-controller",), "remove-controller": ("copy-controller",),
}  # fmt: skip


def ready(moth: Project, name: str) -> Project:
    """The demo, with what an edit needs to be there first."""
    for before in _BEFORE.get(name, ()):
        moth = apply_edit(moth, before, EXAMPLES[before])
    if name == "raise-picture":
        moth = apply_edit(moth, "add-picture", {**EXAMPLES["add-picture"], "width_mm": 9.0})
    if name == "renumber":
        moth = numbered(moth, (Compiler().compile(moth),))
    if name == "share-stack":
        moth = apply_edit(moth, "set-stack", {"mask": "red", "board": "main"})
    return moth
