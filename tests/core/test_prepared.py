"""What is remembered of a board may be asked by several threads at once: no shape of it is prepared by anybody."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from typing import Any

import msgspec
import numpy as np
import pytest
import shapely
from plates import ROW, plate
from shapely.geometry.base import BaseGeometry

from outlined_glow.core.board.probe import material_at
from outlined_glow.core.geometry.prepared import prepared, prepared_some
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.clean_report import report
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.core.workshop.drops import drops
from outlined_glow.core.workshop.net_facts import continuity_found


def shapes_in(value: Any, seen: set[int], names: tuple[str, ...] = ()) -> Iterator[tuple[tuple[str, ...], BaseGeometry]]:
    """Every shape that a value holds, and where."""
    if id(value) in seen or len(names) > 14:
        return
    seen.add(id(value))
    inner: list[tuple[str, Any]] = []
    if isinstance(value, BaseGeometry):
        yield names, value
    elif isinstance(value, dict):
        inner = [(str(key), one) for key, one in value.items()]
    elif isinstance(value, (list, tuple, set, frozenset)):
        inner = [("", one) for one in value]
    elif isinstance(value, np.ndarray) and value.dtype == object:
        inner = [("", one) for one in value.ravel()]
    elif isinstance(value, msgspec.Struct):
        inner = [(name, getattr(value, name)) for name in value.__struct_fields__]
    elif hasattr(value, "__dict__") and not isinstance(value, type):
        inner = list(vars(value).items())
    for name, one in inner:
        yield from shapes_in(one, seen, (*names, name))


@pytest.mark.parametrize("name", ["frost-tags", "paper-boat"])
def test_no_shape_of_a_board_is_prepared(name: str) -> None:
    compiler = Compiler()
    work = compiler.compile(demo_project(name))
    findings = compiler.findings(work)
    drops(work)
    continuity_found(work)
    report(work, findings, 5)
    wide, high = work.board.size
    assert [material_at(work.board, side, wide / 2, high / 2) for side in ("front", "back")]
    held = list(shapes_in({**work.values, "work": work}, set()))
    assert len(held) > 300
    assert not {names[:3] for names, one in held if shapely.is_prepared(one) and not one.is_empty}


def test_two_threads_ask_the_same_copper() -> None:
    """Once this ended the program: both asked one prepared pour."""
    work = Compiler().compile(
        plate(ROW, ("wire", {}), ("pour", {"net": "ground"}), ("pour", {"net": "ground", "side": "front"}))
    )
    alone = drops(work).lost, continuity_found(work)
    found: list[Any] = []
    threads = [
        threading.Thread(target=lambda ask=ask: found.extend(ask(work) for _ in range(6)))  # type: ignore[misc]
        for ask in (lambda work: drops(work).lost, continuity_found)
    ]
    for one in threads:
        one.start()
    for one in threads:
        one.join(60)
    assert len(found) == 12
    assert all(one in alone for one in found)


def test_what_was_given_stays_as_it_was() -> None:
    given = np.array([shapely.Point(at, 0).buffer(1, quad_segs=100) for at in range(4)], dtype=object)
    some = prepared_some(given, np.array([1, 3]))
    assert shapely.is_prepared(some).tolist() == [False, True, False, True]
    assert shapely.equals_identical(some, given).all()
    assert not shapely.is_prepared(given).any()
    mine = prepared(given[0])
    assert shapely.is_prepared(mine)
    assert not shapely.is_prepared(given[0])
    assert prepared(given[0]) is mine, "an edit that leaves it asks the same copy"
    theirs: list[BaseGeometry] = []
    thread = threading.Thread(target=lambda: theirs.append(prepared(given[0])))
    thread.start()
    thread.join()
    assert theirs[0] is not mine
    for _ in range(1200):  # more than a thread keeps
        prepared(shapely.Point(0, 0).buffer(1, quad_segs=100))
    assert prepared(given[0]) is not mine
