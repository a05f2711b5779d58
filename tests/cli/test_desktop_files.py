"""What the desktop is given: it validates, is all there after an installation, is put where it belongs, and taken away."""

from __future__ import annotations

import io
import os
import shlex
import shutil
import subprocess
import sys
import tomllib
import zipfile
from pathlib import Path

import pytest
from hostile import PROJECTS
from PIL import Image

from outlined_glow.__main__ import main
from outlined_glow.cli import desktop_entry
from outlined_glow.core.errors import Trouble
from outlined_glow.core.project.small_picture import fitted_png

ROOT = Path(__file__).parents[2]
DESKTOP = ROOT / "desktop"
sys.path.insert(0, str(ROOT / "docs"))

import desktop as maker  # noqa: E402


def size_of(path: Path) -> tuple[int, int]:
    """The size of a picture."""
    with Image.open(path) as picture:
        return picture.size


def test_manual_page_completions_and_icons_are_as_the_program_is_now() -> None:
    again = "written anew by docs/desktop.py"
    assert (DESKTOP / "outlined-glow.1").read_text() == maker.manual_page(), again
    for shell, text in maker.completions().items():
        assert (DESKTOP / f"outlined-glow.{shell}").read_text() == text, again
    for size in maker.SIZES:
        assert size_of(DESKTOP / "icons" / f"{size}.png") == (size, size)


def test_the_manual_page_names_every_command_and_can_be_set() -> None:
    page = maker.manual_page()
    for name in maker._commands(maker.build_parser()):
        assert f"outlined\\-glow {name.replace('-', chr(92) + '-')}" in page
    if shutil.which("groff"):
        set_ = subprocess.run(["groff", "-man", "-Tutf8", "-ww"], input=page, capture_output=True, text=True, check=True)
        assert set_.stderr == ""


def test_every_word_of_the_command_line_is_explained() -> None:
    for name, (command, about) in maker._commands(maker.build_parser()).items():
        assert about, name
        for action in command._actions:
            assert action.help, (name, action.dest)


def test_bash_completes_commands_and_options() -> None:
    ask = f"""source {DESKTOP}/outlined-glow.bash; COMP_WORDS=(outlined-glow @@); COMP_CWORD=$((${{#COMP_WORDS[@]}} - 1))
    COMP_LINE="outlined-glow @@"; COMP_POINT=${{#COMP_LINE}}
    _shtab_outlined_glow; echo "${{COMPREPLY[@]}}" """
    for words, wanted in (("ren", "render"), ("new --fo", "--force")):
        said = subprocess.run(["bash", "-c", ask.replace("@@", words)], capture_output=True, text=True, check=False)
        assert wanted in said.stdout.split()


@pytest.mark.parametrize(
    ("tool", "options", "files"),
    [("appstreamcli", ["validate", "--no-net"], "*.metainfo.xml"), ("desktop-file-validate", [], "*.desktop")],
)
def test_it_validates(tool: str, options: list[str], files: str) -> None:
    if not shutil.which(tool):
        pytest.skip(f"{tool} is not installed")
    for path in DESKTOP.glob(files):
        said = subprocess.run([tool, *options, str(path)], capture_output=True, text=True, check=False)
        assert said.returncode == 0, said.stdout + said.stderr


def test_everything_shared_exists_and_goes_where_desktops_look() -> None:
    content = tomllib.loads((ROOT / "pyproject.toml").read_text())
    shared = content["tool"]["hatch"]["build"]["targets"]["wheel"]["shared-data"]
    assert all((ROOT / source).is_file() for source in shared)
    places = set(shared.values())
    name = "org.outlinedglow.OutlinedGlow"
    assert {f"share/icons/hicolor/{size}x{size}/apps/{name}.png" for size in maker.SIZES} < places
    for kind in ("applications", "metainfo", "mime", "thumbnailers", "man/man1", "bash-completion"):
        assert any(place.startswith(f"share/{kind}/") for place in places)


def test_a_project_gives_its_thumbnail(tmp_path: Path, sign_file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    project, out = tmp_path / "a.oglow", tmp_path / "a.png"
    assert main(["new", str(sign_file), "-o", str(project)]) == 0
    with zipfile.ZipFile(project) as archive:
        assert archive.read("mimetype") == b"application/x-outlined-glow"
    assert project.read_bytes()[30:].startswith(b"mimetypeapplication/x-outlined-glow")
    assert main(["thumbnail", str(project), "-o", str(out), "--size", "128"]) == 0
    assert max(size_of(out)) == 128
    project.write_bytes(PROJECTS["another zip"]())
    out.unlink()
    assert main(["thumbnail", str(project), "-o", str(out)]) == 2
    assert "carries no picture" in capsys.readouterr().err
    assert not out.exists()


def test_a_hostile_thumbnail_is_refused() -> None:
    buffer = io.BytesIO()
    Image.new("1", (5000, 5000)).save(buffer, "PNG")
    for data in (b"", b"\x89PNG\r\n\x1a\n", buffer.getvalue()):
        with pytest.raises(Trouble):
            fitted_png(data, 128)


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
