"""The launcher where something is missing: one sentence, and nothing half done."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
FILES = ("glow", "requirements.lock", "requirements-dev.lock")


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """A folder with the launcher and nothing prepared, its name of more than plain letters."""
    there = tmp_path / "mit Leer- und Ümlaut ☾"
    there.mkdir()
    for name in FILES:
        shutil.copy(ROOT / name, there / name)
    return there


def launch(folder: Path, *words: str, **more: str) -> subprocess.CompletedProcess[str]:
    """Run the launcher without any package index, in the plainest locale."""
    kept = {key: os.environ[key] for key in ("PATH", "HOME") if key in os.environ}
    environment = {
        **kept,
        "LC_ALL": "C",
        "PIP_NO_INDEX": "1",
        "PIP_CONFIG_FILE": os.devnull,
        "GLOW_PYTHON": sys.executable,
        **more,
    }
    return subprocess.run([folder / "glow", *words], env=environment, capture_output=True, encoding="utf-8", check=False)


def test_packages_that_cannot_be_had_leave_nothing_half_done(folder: Path) -> None:
    before = {one.name for one in folder.iterdir()}
    said = launch(folder, "calc")
    assert said.returncode == 2
    assert said.stdout == ""
    first, second = said.stderr.splitlines()
    assert first == "glow: preparing (once, about a minute)"
    assert second.startswith("glow: the packages could not be installed; check the network and start again (details: ")
    assert {one.name for one in folder.iterdir()} - before == {".venv.lock", ".venv.log"}


def test_a_python_that_is_too_old_or_missing_is_named(folder: Path) -> None:
    old = folder / "python-of-old"
    old.write_text("#!/bin/sh\nexit 1\n")
    old.chmod(0o755)
    for python in (str(old), "/nowhere/python3"):
        said = launch(folder, "calc", GLOW_PYTHON=python)
        assert (said.returncode, said.stdout) == (2, "")
        assert said.stderr == "glow: Python 3.11 to 3.14 is needed; set GLOW_PYTHON to one\n"


def test_a_folder_that_cannot_be_written_is_prepared_in_the_cache(folder: Path, tmp_path: Path) -> None:
    """Root may write everywhere, so the launcher is asked through a test of its own that says it may not."""
    text = (folder / "glow").read_text("utf-8")
    (folder / "glow").write_text(text.replace('[ ! -w "$here" ]', "true"), "utf-8")
    said = launch(folder, "calc", XDG_CACHE_HOME=str(tmp_path / "cache"))
    assert said.returncode == 2
    assert str(tmp_path / "cache" / "outlined-glow") in said.stderr
    assert sorted(one.name for one in folder.iterdir()) == sorted(FILES)
