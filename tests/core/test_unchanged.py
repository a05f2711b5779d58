"""Boards stay what they were: the demos and the cases, in numbers."""

from __future__ import annotations

import json
from typing import Any

import pytest
from boards import NUMBERS, numbers, projects

from outlined_glow.core.errors import Trouble
from outlined_glow.core.project import Project
from outlined_glow.core.workshop import Compiler

BEFORE: dict[str, dict[str, Any]] = json.loads(NUMBERS.read_text("utf-8"))


@pytest.mark.parametrize(("name", "project"), list(projects()), ids=lambda one: one if isinstance(one, str) else "")
def test_a_board_is_as_it_was(name: str, project: Project) -> None:
    before, compiler = BEFORE[name], Compiler()
    if "refused" in before:
        with pytest.raises(Trouble) as refused:
            compiler.compile(project)
        assert str(refused.value) == before["refused"]
        return
    now = numbers(compiler.compile(project), compiler)
    assert now["layers_mm2"].keys() == before["layers_mm2"].keys()
    for layer, area in before["layers_mm2"].items():
        assert now["layers_mm2"][layer] == pytest.approx(area, abs=0.002), layer
    for key in ("size_mm", "holes", "parts", "current_a", "findings"):
        assert json.loads(json.dumps(now[key])) == before[key], key


def test_none_is_missing() -> None:
    assert [name for name, _ in projects()] == sorted(BEFORE, key=[name for name, _ in projects()].index)
