"""What every test stands on: a home of its own, the demo compiled once, small drawings."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

os.environ.setdefault("QT_ACCESSIBILITY", "0")
# The same examples at every run; GLOW_EXPLORE=1 looks for new ones.
settings.register_profile(
    "glow",
    derandomize="GLOW_EXPLORE" not in os.environ,
    deadline=None,
    max_examples=40,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.function_scoped_fixture],
)
settings.load_profile("glow")

from drawings import SIGN  # noqa: E402
from met import pytest_sessionfinish, pytest_testnodedown, watch_codes  # noqa: E402

from outlined_glow.core.project import Project, apply_edit  # noqa: E402
from outlined_glow.core.workshop import Compiler, Work, new_project  # noqa: E402
from outlined_glow.core.workshop.demos import demo_project  # noqa: E402

__all__ = ["pytest_sessionfinish", "pytest_testnodedown"]
watch_codes()


@pytest.fixture(autouse=True)
def home(tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch) -> Path:
    """No test sees or changes the home of who runs it."""
    place = tmp_path_factory.mktemp("home")
    monkeypatch.setenv("HOME", str(place))
    for name in ("CONFIG", "DATA", "CACHE", "STATE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(place / name.lower()))
    monkeypatch.delenv("SOURCE_DATE_EPOCH", raising=False)
    return place


@pytest.fixture(scope="session")
def wired_moth() -> Project:
    """The demo."""
    return demo_project("moth")


@pytest.fixture(scope="session")
def moth(wired_moth: Project) -> Project:
    """The demo without its tracks: most of what is tested is quicker without."""
    return apply_edit(wired_moth, "unwire", {})


@pytest.fixture(scope="session")
def compiler() -> Compiler:
    """One compiler for the tests that only look."""
    return Compiler()


@pytest.fixture(scope="session")
def moth_work(moth: Project) -> Work:
    """The demo's board."""
    return Compiler().compile(moth)


@pytest.fixture
def sign() -> Project:
    """A plain sign without lights."""
    return new_project(SIGN, "sign.svg")


@pytest.fixture
def sign_file(tmp_path: Path) -> Iterator[Path]:
    """The sign as a file."""
    path = tmp_path / "sign.svg"
    path.write_bytes(SIGN)
    return path
