"""What each command does. A command's module is loaded when it is run: a sum needs no pictures."""

from __future__ import annotations

import argparse
import importlib
from collections.abc import Callable

Arguments = argparse.Namespace

#: Command -> the module that has it, as the function of its name with a line under it.
COMMANDS = {
    "new": "begin",
    "demo": "begin",
    "edit": "change",
    "info": "tell",
    "check": "tell",
    "lights": "lights",
    "light-map": "lights",
    "plan": "drive",
    "nets": "drive",
    "pins": "drive",
    "power": "drive",
    "first-second": "drive",
    "drop": "wiring",
    "leads": "wiring",
    "untangle": "wiring",
    "frames": "motion",
    "play": "motion",
    "truth": "motion",
    "swing": "motion",
    "library": "library",
    "template": "library",
    "passport": "library",
    "render": "draw",
    "animate": "draw",
    "thumbnail": "thumbnail",
    "export": "order",
    "layers": "order",
    "proof": "order",
    "calc": "calc",
    "desktop": "desktop",
}


def command(name: str) -> Callable[[Arguments], int]:
    """What runs a command."""
    module = importlib.import_module(f".{COMMANDS[name]}", __package__)
    found: Callable[[Arguments], int] = getattr(module, f"{name.replace('-', '_')}_")
    return found
