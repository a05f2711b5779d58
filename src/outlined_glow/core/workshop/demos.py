"""Demo projects: a picture and the edits that made it, in data/demos/NAME/demo.json."""

from __future__ import annotations

import json
from importlib import resources
from typing import Any

import msgspec

from ... import DEMOS
from ..errors import Trouble
from ..project import Project, Stack, apply_edit
from ..wiring.kept import COPPER, copper_member
from . import operations as _operations  # noqa: F401  (every operation is registered by loading it)
from .board_passes import CLEANED
from .start import new_project

#: The tracks of a demo, which has one board.
_COPPER = copper_member("main").removeprefix(COPPER)


def demo_files(name: str) -> Any:
    """The folder of a demo's files."""
    if name not in DEMOS:
        raise Trouble(f"There is no demo “{name}”; choose one of: {', '.join(DEMOS)}.")
    return resources.files("outlined_glow.data.demos").joinpath(name)


def demo_title(name: str) -> dict[str, Any]:
    """Title and the words under it, without building anything."""
    content: dict[str, Any] = json.loads(demo_files(name).joinpath("demo.json").read_text("utf-8"))
    return content


def demo_project(name: str) -> Project:
    """The demo as a project, made by the edits anyone can make."""
    folder = demo_files(name)
    content = demo_title(name)
    picture = folder.joinpath(content["picture"]).read_bytes()
    project = new_project(
        picture,
        content["picture"],
        width_mm=content["width_mm"],
        stack=Stack(**content["stack"]),
        chosen=content["appearances"],
    )
    for operation, values in content["edits"]:
        project = apply_edit(project, operation, {key: tuple(v) if isinstance(v, list) else v for key, v in values.items()})
    kept = {f"{CLEANED}{one.name}": one.read_bytes() for one in folder.iterdir() if one.name.endswith(".bin")}
    kept |= {f"{COPPER}{one.name}": one.read_bytes() for one in folder.iterdir() if one.name in (_COPPER,)}
    return msgspec.structs.replace(
        project, name=content["title"], edited=content["edited"], members={**project.members, **kept}
    )
