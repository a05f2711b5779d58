"""What a whole run of the tests met: every finding of the manual, and every edit made in the window.

Each process that runs tests notes what it meets; a finding that the manual does not tell of fails its test, and at the end of
a run of all of them what nobody met is named and fails it.
"""

from __future__ import annotations

import re
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from outlined_glow.core.appearances import APPEARANCES
from outlined_glow.core.artwork.drawing import Note
from outlined_glow.core.project import Finding, edits

MANUAL = Path(__file__).parents[1] / "docs" / "findings.md"
_met: set[str] = set()


def told_codes() -> set[str]:
    """The codes that the manual tells of."""
    return set(re.findall(r"`([a-z-]+)`", MANUAL.read_text("utf-8"))) - set(APPEARANCES)


def watch_codes() -> None:
    """Note the code of every finding and of every note on a picture; one that the manual does not tell of is refused."""
    told = told_codes()

    def watched(run: Callable[..., None]) -> Callable[..., None]:
        def made(one: Any, *given: Any, **named: Any) -> None:
            run(one, *given, **named)
            assert one.code in told or not one.code.islower(), f"docs/findings.md does not tell of “{one.code}”"
            _met.add(f"finding {one.code}")

        return made

    Finding.__init__ = watched(Finding.__init__)  # type: ignore[method-assign]
    Note.__init__ = watched(Note.__init__)  # type: ignore[method-assign]


def watch_window() -> None:
    """Note every edit that the window asks for: not those that a test makes itself."""
    from outlined_glow.ui.bringing import Bringing
    from outlined_glow.ui.session import Session

    run, run_all = Session.edit, Session.edit_all

    def edit(session: Session, name: str, *given: Any, **named: Any) -> bool:
        if sys._getframe(1).f_globals["__name__"].startswith("outlined_glow.ui"):
            _met.add(f"edit {name}")
        return run(session, name, *given, **named)

    def edit_all(session: Session, steps: Any, words: str) -> None:
        if sys._getframe(1).f_globals["__name__"].startswith("outlined_glow.ui"):
            _met.update(f"edit {name}" for name, _ in steps)
        run_all(session, steps, words)

    def bring(bringing: Bringing, name: str, data: bytes, replaced: int = 0) -> None:
        _met.add("edit replace-picture" if replaced else "edit add-picture")
        bring_picture(bringing, name, data, replaced)

    bring_picture = Bringing.picture
    Session.edit = edit  # type: ignore[method-assign]
    Session.edit_all = edit_all  # type: ignore[method-assign]
    Bringing.picture = bring  # type: ignore[method-assign]


def pytest_testnodedown(node: Any, error: object) -> None:
    """Another process is done: what it met."""
    _met.update(getattr(node, "workeroutput", {}).get("met", ()))


@pytest.hookimpl(trylast=True)
def pytest_sessionfinish(session: pytest.Session) -> None:
    """At the end of a whole run, name what was not met: that fails it."""
    config = session.config
    if hasattr(config, "workeroutput"):
        config.workeroutput["met"] = sorted(_met)
        return
    whole = config.args_source == pytest.Config.ArgsSource.TESTPATHS and not config.option.keyword
    if whole and session.exitstatus == pytest.ExitCode.OK and not config.option.collectonly:
        missing = ({f"finding {code}" for code in told_codes()} | {f"edit {name}" for name in edits()}) - _met
        if missing:
            print("\nno test met: " + ", ".join(sorted(missing)))
            session.exitstatus = pytest.ExitCode.TESTS_FAILED
