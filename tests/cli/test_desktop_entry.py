"""Menu entry, icons, file type and thumbnailer put where a desktop looks, and taken away."""

from __future__ import annotations

import os
import shlex
import shutil
import subprocess
import tomllib
from pathlib import Path

import pytest

from outlined_glow.__main__ import main
from outlined_glow.cli import desktop_entry

ROOT = Path(__file__).parents[2]


@pytest.fixture
def person(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> Path:
    """The data folder of somebody who is not root."""
    monkeypatch.setattr(os, "geteuid", lambda: 1000)
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    return tmp_path / "data"


def test_installed_where_the_desktop_looks_and_removed_without_a_trace(
    person: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    other = person / "applications" / "other.desktop"
    other.parent.mkdir(parents=True)
    other.write_text("[Desktop Entry]\n")
    assert main(["desktop", "--install"]) == 0
    entry = person / "applications/org.outlinedglow.OutlinedGlow.desktop"
    assert f"files written to {person}" in capsys.readouterr().out
    assert (person / "icons/hicolor/48x48/apps/org.outlinedglow.OutlinedGlow.png").is_file()
    assert (person / "thumbnailers/outlined-glow.thumbnailer").is_file()
    if shutil.which("desktop-file-validate"):
        assert subprocess.run(["desktop-file-validate", entry], check=False).returncode == 0
    command = next(line for line in entry.read_text().splitlines() if line.startswith("Exec=")).removeprefix("Exec=")
    program = shlex.split(command)[0]
    assert Path(program) == ROOT / "glow"
    assert os.access(program, os.X_OK)
    assert main(["desktop", "--remove"]) == 0
    left = [path for path in person.rglob("*") if path.is_file() and "OutlinedGlow" in path.name]
    assert left == []
    assert other.is_file()
    assert main(["desktop", "--remove"]) == 0
    assert "0 files removed" in capsys.readouterr().out


def test_a_folder_that_cannot_be_written_is_told(person: Path, capsys: pytest.CaptureFixture[str]) -> None:
    person.write_text("a file where a folder should be")
    assert main(["desktop", "--install"]) == 2
    assert "cannot be written" in capsys.readouterr().err


def test_a_path_with_blanks_quotes_and_percent_signs_is_quoted_as_the_standard_says() -> None:
    text = desktop_entry._with_program("TryExec=x\nExec=x %f\n", Path('/a b/50% "c"/$d/glow'))
    assert text.splitlines() == ['TryExec=/a b/50% "c"/$d/glow', 'Exec="/a b/50%% \\\\"c\\\\"/\\\\$d/glow" %f']


def test_the_package_ships_every_file_that_is_installed() -> None:
    shipped = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["hatch"]["build"]["targets"]["wheel"]["shared-data"]
    assert {f"share/{place}": source for place, source in desktop_entry.FILES.items()} == {
        to: src for src, to in shipped.items()
    }
