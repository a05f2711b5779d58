"""Puts the desktop entry, icons, MIME type and thumbnailer where a desktop looks for them, and takes them away.

Paths follow the XDG base directory specification: `$XDG_DATA_HOME` of a person, `/usr/local/share` for root.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

from ..core.errors import Trouble
from ..core.project.atomic import atomic_write

_ID = "org.outlinedglow.OutlinedGlow"
_CHECKOUT = Path(__file__).parents[3]
_SIZES = (16, 22, 24, 32, 48, 64, 128, 256, 512)
#: Where each file goes under the data folder, and where the checkout has it.
FILES: dict[str, str] = {
    f"applications/{_ID}.desktop": f"desktop/{_ID}.desktop",
    f"metainfo/{_ID}.metainfo.xml": f"desktop/{_ID}.metainfo.xml",
    f"mime/packages/{_ID}.xml": f"desktop/{_ID}-mime.xml",
    "thumbnailers/outlined-glow.thumbnailer": "desktop/outlined-glow.thumbnailer",
    "man/man1/outlined-glow.1": "desktop/outlined-glow.1",
    "bash-completion/completions/outlined-glow": "desktop/outlined-glow.bash",
    "zsh/site-functions/_outlined-glow": "desktop/outlined-glow.zsh",
    f"icons/hicolor/scalable/apps/{_ID}.svg": "src/outlined_glow/data/icon.svg",
    **{f"icons/hicolor/{size}x{size}/apps/{_ID}.png": f"desktop/icons/{size}.png" for size in _SIZES},
}
#: Desktops read these at once; each is run only where it is installed.
_REFRESH = (
    ("update-desktop-database", "applications"),
    ("update-mime-database", "mime"),
    ("gtk-update-icon-cache", "icons/hicolor", "-q", "-t", "-f"),
)


def data_folder() -> Path:
    """Where the desktop of this user looks."""
    if os.geteuid() == 0:
        return Path("/usr/local/share")
    told = os.environ.get("XDG_DATA_HOME", "")
    return Path(told) if told.startswith("/") else Path.home() / ".local/share"


def install(folder: Path) -> list[Path]:
    """Write every file there, with this program's own path in it; the paths written."""
    program = _program()
    written = []
    for place, source in FILES.items():
        data = _read(place, source)
        if place.endswith((".desktop", ".thumbnailer")):
            data = _with_program(data.decode("utf-8"), program).encode("utf-8")
        target = folder / place
        try:
            target.parent.mkdir(parents=True, exist_ok=True)
            atomic_write(target, data)
        except OSError as error:
            raise Trouble(f"“{target}” cannot be written: {error.strerror}.") from error
        written.append(target)
    _refresh(folder)
    return written


def remove(folder: Path) -> list[Path]:
    """Take every file away again; the paths removed."""
    removed = []
    for place in FILES:
        target = folder / place
        try:
            target.unlink()
        except FileNotFoundError:
            continue
        except OSError as error:
            raise Trouble(f"“{target}” cannot be removed: {error.strerror}.") from error
        removed.append(target)
    _refresh(folder)
    return removed


def _program() -> Path:
    """What starts this program: the launcher of the checkout, or the script that was installed."""
    if (_CHECKOUT / "glow").is_file():
        return _CHECKOUT / "glow"
    for found in (Path(sys.executable).parent / "outlined-glow", shutil.which("outlined-glow")):
        if found and Path(found).is_file():
            return Path(found).absolute()
    raise Trouble("The program that starts Outlined Glow cannot be found; install it with pip, or use its checkout.")


def _read(place: str, source: str) -> bytes:
    for path in (_CHECKOUT / source, Path(sys.prefix) / "share" / place):
        if path.is_file():
            return path.read_bytes()
    raise Trouble(f"“{place}” is missing from this installation; install Outlined Glow anew.")


def _with_program(text: str, program: Path) -> str:
    """The entry with the program's path, quoted as the desktop entry specification has it."""
    lines = []
    for line in text.splitlines():
        key, _, value = line.partition("=")
        if key == "TryExec":
            line = f"TryExec={_escaped(str(program))}"
        elif key == "Exec":
            line = f"Exec={_quoted(str(program))} {value.partition(' ')[2]}"
        lines.append(line)
    return "\n".join(lines) + "\n"


def _escaped(text: str) -> str:
    return text.replace("\\", "\\\\")


def _quoted(path: str) -> str:
    """Quoted for Exec: reserved characters behind a backslash, then escaped as a value; a percent sign is doubled."""
    inside = "".join(f"\\{letter}" if letter in '"`$\\' else letter for letter in path)
    return _escaped(f'"{inside}"').replace("%", "%%")


def _refresh(folder: Path) -> None:
    for program, place, *options in _REFRESH:
        found = shutil.which(program)
        if found and (folder / place).is_dir():
            subprocess.run([found, *options, str(folder / place)], check=False, capture_output=True)
