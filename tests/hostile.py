"""What strangers send: pictures and projects that must be refused, each made from nothing.

    .venv/bin/python tests/hostile.py      each with its sentence, seconds of CPU and memory

`PICTURES` and `PROJECTS` map a name to a function that gives the bytes; `refused` runs the program on them.
"""

from __future__ import annotations

import io
import json
import os
import random
import resource
import stat
import subprocess
import sys
import tempfile
import zipfile
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path

NAMES = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
HEAD = f'<svg {NAMES} viewBox="0 0 100 100">'
#: Seconds of CPU and bytes of memory that refusing may cost.
MOST_S = 10
MOST_BYTES = 10**9


def svg(*inside: str, box: str = "0 0 100 100") -> bytes:
    """A drawing with these elements."""
    return f'<svg {NAMES} viewBox="{box}">{"".join(inside)}</svg>'.encode()


def _entities() -> bytes:
    rows = ['<!ENTITY a0 "lol">', *(f'<!ENTITY a{n} "{f"&a{n - 1};" * 10}">' for n in range(1, 12))]
    return f'<?xml version="1.0"?><!DOCTYPE svg [{"".join(rows)}]>{HEAD}<text>&a11;</text></svg>'.encode()


def _rectangles(count: int) -> bytes:
    chance = random.Random(1)
    one = '<rect x="{:.1f}" y="{:.1f}" width="9" height="9" fill="#{:06x}"/>'
    return svg(*(one.format(chance.random() * 90, chance.random() * 90, chance.randrange(2**24)) for _ in range(count)))


def _scribble(points: int, paint: str) -> bytes:
    chance = random.Random(2)
    places = " ".join(f"{chance.random() * 100:.2f},{chance.random() * 100:.2f}" for _ in range(points))
    return svg(f'<path d="M{places}" {paint}/>')


def _lines(count: int) -> bytes:
    chance = random.Random(3)
    one = '<path d="M{:.1f} 0L{:.1f} 100" stroke="#{:06x}" stroke-width=".1"/>'
    return svg(*(one.format(chance.random() * 100, chance.random() * 100, chance.randrange(2**24)) for _ in range(count)))


def _doubling(levels: int) -> bytes:
    groups = "".join(f'<g id="g{n}"><use href="#g{n - 1}"/><use href="#g{n - 1}" x="1"/></g>' for n in range(1, levels))
    return svg(f'<g id="g0"><rect width="1" height="1"/></g>{groups}')


PICTURES: dict[str, Callable[[], bytes]] = {
    "not an SVG": lambda: b"Dear sir, please find enclosed",
    "a web page": lambda: b"<html><body><p>404</p></body></html>",
    "a photograph": lambda: b"\x89PNG\r\n\x1a\n" + bytes(400),
    "empty": lambda: b"",
    "only blanks": lambda: b"  \n\t ",
    "truncated": lambda: svg('<rect width="50" height="50"/>')[:-30],
    "nothing painted": lambda: svg('<rect width="50" height="50" fill="none"/>'),
    "zero width": lambda: svg('<rect width="0" height="50"/>'),
    "a page without width": lambda: svg('<rect width="9" height="9"/>', box="0 0 0 10"),
    "an entity bomb": _entities,
    "an outside entity": lambda: f'<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]>{HEAD}<text>&x;</text></svg>'.encode(),
    "an outside picture": lambda: svg('<image href="http://example.invalid/a.png" width="9" height="9"/>'),
    "an outside reference": lambda: svg('<use href="file:///etc/passwd#a"/>'),
    "a use of itself": lambda: svg('<g id="a"><rect width="9" height="9"/><use href="#a"/></g>'),
    "two uses of one another": lambda: svg('<g id="a"><use href="#b"/></g><g id="b"><use xlink:href="#a"/></g>'),
    "doubling uses": lambda: _doubling(40),
    "groups in groups": lambda: svg("<g>" * 5000, '<rect width="9" height="9"/>', "</g>" * 5000),
    "100,000 elements": lambda: _rectangles(100_000),
    "a million points": lambda: _scribble(1_000_000, 'fill="red"'),
    "a million short points": lambda: svg(f'<path d="M0 0{" 9 9 1 5" * 500_000}" fill="red"/>'),
    "a scribble": lambda: _scribble(30_000, 'fill="red"'),
    "a stroked scribble": lambda: _scribble(30_000, 'fill="none" stroke="red" stroke-width="2"'),
    "lines across lines": lambda: _lines(6_000),
    "coordinates that are none": lambda: svg('<path d="M NaN NaN L inf 1 1 inf z"/>'),
    "huge coordinates": lambda: svg('<path d="M0 0L1e300 0 1e300 1e300z"/><rect width="1e300" height="1e300"/>'),
    "a huge transform": lambda: svg('<rect width="9" height="9" transform="scale(1e200)"/>'),
    "a hair": lambda: svg('<rect width="100" height="0.0000001"/>'),
    "a tall page": lambda: svg('<rect width="1" height="9999"/>', box="0 0 1 9999"),
    "100,000 x 100,000": lambda: (
        b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR\0\1\x86\xa0\0\1\x86\xa0\x08\6\0\0\0" + bytes(40)
    ),
}  # fmt: skip
#: Those that are refused only after some work; a test watches what it costs.
HEAVY = (
    "doubling uses", "100,000 elements", "a million points", "a million short points", "a scribble", "a stroked scribble",
    "lines across lines", "a lying zip",
)  # fmt: skip


def _zipped(members: Iterable[tuple[str | zipfile.ZipInfo, bytes]]) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in members:
            archive.writestr(name, data)
    return buffer.getvalue()


def _project(**changes: object) -> bytes:
    art = {"picture": {"member": "pictures/a.svg", "name": "a.svg"}, "width_mm": 40.0}
    content = {
        "schema": 1,
        "name": "a",
        "edited": "2026-01-01T00:00:00Z",
        "brief": {},
        "designs": [{"artwork": art}],
        **changes,
    }
    return _zipped([("project.json", json.dumps(content).encode()), ("pictures/a.svg", svg('<rect width="9" height="9"/>'))])


def _member(name: str) -> object:
    return [{"artwork": {"picture": {"member": name, "name": "a.svg"}, "width_mm": 40.0}}]


def _symlink() -> bytes:
    link = zipfile.ZipInfo("project.json")
    link.external_attr = (stat.S_IFLNK | 0o777) << 16
    return _zipped([(link, b"/etc/passwd")])


def _swarm() -> bytes:
    return _zipped((f"pictures/{n}", b"") for n in range(20_000))


def _lying() -> bytes:
    """A member whose directory entry names a small size for a large one."""
    data = _zipped([("project.json", b" " * 50_000_000)])
    return data.replace((50_000_000).to_bytes(4, "little"), (1000).to_bytes(4, "little"))


PROJECTS: dict[str, Callable[[], bytes]] = {
    "no zip": lambda: b"once upon a time",
    "an empty file": lambda: b"",
    "a cut zip": lambda: _project()[:-60],
    "another zip": lambda: _zipped([("readme.txt", b"hello")]),
    "no JSON": lambda: _zipped([("project.json", b"{not json")]),
    "deep JSON": lambda: _zipped([("project.json", b"[" * 2_000_000)]),
    "a zip bomb": lambda: _zipped([("project.json", b" " * 300_000_000)]),
    "a lying zip": _lying,
    "a swarm of files": _swarm,
    "a symlink": _symlink,
    "a path out of the zip": lambda: _project(designs=_member("../../etc/passwd")),
    "a missing picture": lambda: _project(designs=_member("pictures/b.svg")),
    "wrong types": lambda: _project(designs="all of them"),
    "wrong numbers": lambda: _project(brief={"pieces": "many"}),
    "no board": lambda: _project(designs=[]),
    "a later schema": lambda: _project(schema=99),
    "a schema that is none": lambda: _project(schema="new"),
}


@dataclass(frozen=True)
class Answer:
    """How the program took it: exit code, what it said, seconds of CPU, bytes at most."""

    code: int
    said: str
    seconds: float
    memory: int


_LIMITED = f"""
import resource, sys
resource.setrlimit(resource.RLIMIT_CPU, ({2 * MOST_S}, {2 * MOST_S}))
from outlined_glow.__main__ import main
code = main()
sys.stdout.flush()
print(next(line.split()[1] for line in open("/proc/self/status") if line.startswith("VmHWM")))
sys.exit(code)
"""


def answer(*arguments: str | Path, home: Path) -> Answer:
    """Run the command line on it under a limit of CPU time, with a home of its own."""
    environment = {**os.environ, "HOME": str(home), "XDG_STATE_HOME": str(home / "state"), "OMP_NUM_THREADS": "1"}
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    ended = subprocess.Popen(
        [sys.executable, "-c", _LIMITED, *map(str, arguments)],
        env=environment, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
    )  # fmt: skip
    out, said = ended.communicate()
    used = resource.getrusage(resource.RUSAGE_CHILDREN)
    seconds = used.ru_utime + used.ru_stime - before.ru_utime - before.ru_stime
    # Its own word on memory: the system's also counts what this process held when it was parted from it.
    memory = int(out.split()[-1]) * 1024 if out.split() else 0
    return Answer(ended.returncode, said, seconds, memory)


def main() -> None:
    """Every one with what came of it."""
    with tempfile.TemporaryDirectory() as place:
        home = Path(place)
        for title, table, verb in (("picture", PICTURES, "new"), ("project", PROJECTS, "info")):
            for name, make in table.items():
                path = home / ("x.svg" if verb == "new" else "x.oglow")
                path.write_bytes(make())
                out = ["-o", home / "y.oglow", "--width", "40mm"] if verb == "new" else []
                got = answer(verb, path, *out, home=home)
                cost = f"{got.seconds:6.1f} s {got.memory / 1e6:6.0f} MB"
                print(f"{title:<8}{name:<28}{got.code:>3} {cost}  {got.said.strip()[-150:]}")
                assert not (home / "y.oglow").exists() or got.code == 0
                (home / "y.oglow").unlink(missing_ok=True)


if __name__ == "__main__":
    main()
