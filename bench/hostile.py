"""What strangers send: pictures and projects that must be refused, each made from nothing.

    .venv/bin/python bench/hostile.py      each with its sentence, seconds of CPU and memory

`PICTURES` and `PROJECTS` map a name to a function that gives the bytes; `refused` runs the program on them.
"""

from __future__ import annotations

import io
import json
import os
import random
import resource
import stat
import struct
import subprocess
import sys
import tempfile
import zipfile
import zlib
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path

NAMES = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
HEAD = f'<svg {NAMES} viewBox="0 0 100 100">'
#: Seconds of CPU and bytes of memory that refusing may cost.
MOST_S = 25
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


def _rules(rules: int, elements: int) -> bytes:
    sheet = "".join(f"rect:not(.x{n}):nth-child({n % 7 + 1}n){{fill:#{n % 16:x}00}}" for n in range(rules))
    return svg(f"<style>{sheet}</style>", '<rect width="9" height="9"/>' * elements)


def _doubling(levels: int) -> bytes:
    groups = "".join(f'<g id="g{n}"><use href="#g{n - 1}"/><use href="#g{n - 1}" x="1"/></g>' for n in range(1, levels))
    return svg(f'<g id="g0"><rect width="1" height="1"/></g>{groups}')


def _vast_png() -> bytes:
    """A header that promises 3,600 million pixels."""
    chunk = b"IHDR" + struct.pack(">IIBBBBB", 60_000, 60_000, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + struct.pack(">I", 13) + chunk + struct.pack(">I", zlib.crc32(chunk)) + bytes(40)


def _vast_tiff() -> bytes:
    """A directory that promises a strip of 40,000 x 40,000 pixels in a file of 200 bytes."""
    tags = [
        (256, 4, 40_000),
        (257, 4, 40_000),
        (258, 3, 8),
        (259, 3, 1),
        (262, 3, 1),
        (273, 4, 150),
        (277, 3, 1),
        (278, 4, 40_000),
        (279, 4, 50),
    ]
    rows = b"".join(struct.pack("<HHII", tag, kind, 1, value) for tag, kind, value in tags)
    return b"II*\x00" + struct.pack("<I", 8) + struct.pack("<H", len(tags)) + rows + bytes(90)


def _blocks(levels: int) -> bytes:
    """Blocks that each hold the one before twice."""
    rows = ["0 SECTION 2 BLOCKS", "0 BLOCK 8 0 2 b0 70 0 10 0 20 0 0 LINE 8 0 10 0 20 0 11 9 21 9 0 ENDBLK 8 0"]
    twice = "0 INSERT 8 0 2 b{0} 10 0 20 0 0 INSERT 8 0 2 b{0} 10 1 20 0"
    rows += [f"0 BLOCK 8 0 2 b{n} 70 0 10 0 20 0 {twice.format(n - 1)} 0 ENDBLK 8 0" for n in range(1, levels)]
    rows += [f"0 ENDSEC 0 SECTION 2 ENTITIES 0 INSERT 8 0 2 b{levels - 1} 10 0 20 0 0 ENDSEC 0 EOF"]
    return ("\n".join(" ".join(rows).split()) + "\n").encode()


def _picture(mode: str, size: tuple[int, int], colour: object, kind: str = "PNG") -> bytes:
    from PIL import Image

    buffer = io.BytesIO()
    Image.new(mode, size, colour).save(buffer, kind)  # type: ignore[arg-type]
    return buffer.getvalue()


PICTURES: dict[str, Callable[[], bytes]] = {
    "a vast PNG": _vast_png,
    "a vast TIFF": _vast_tiff,
    "a transparent picture": lambda: _picture("RGBA", (40, 40), (0, 0, 0, 0)),
    "half a JPEG": lambda: _picture("RGB", (300, 300), (200, 30, 30), "JPEG")[:400],
    "a GIF without a picture": lambda: b"GIF89a\x05\x00\x05\x00\x00\x00\x00;",
    "a WebP of nothing": lambda: b"RIFF\x10\x00\x00\x00WEBPVP8 " + bytes(20),
    "a BMP of minus one": lambda: b"BM" + bytes(16) + struct.pack("<ii", -1, -1) + bytes(40),
    "a PDF": lambda: b"%PDF-1.7\n",
    "an archive": lambda: b"PK\x03\x04" + bytes(40),
    "a DXF of nothing": lambda: b"0\nSECTION\n2\nENTITIES\n0\nENDSEC\n0\nEOF\n",
    "half a DXF": lambda: b"0\nSECTION\n2\nENTITIES\n0\nLINE\n10\n",
    "a DXF of rubbish": lambda: b"0\nSECTION\n" + bytes(random.Random(4).randbytes(4000)),
    "a DXF of doubling blocks": lambda: _blocks(30),
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
    "references that follow one another": lambda: svg(
        '<defs><rect id="u0" width="9" height="9"/>',
        *(f'<g id="u{at + 1}"><use href="#u{at}"/></g>' for at in range(2000)), '</defs><use href="#u2000"/>',
    ),
    "brackets in brackets": lambda: svg(f'<rect width="9" height="9" style="fill:{"rgb(" * 5000}"/>'),
    "groups in groups": lambda: svg("<g>" * 5000, '<rect width="9" height="9"/>', "</g>" * 5000),
    "100,000 elements": lambda: _rectangles(100_000),
    "a million points": lambda: _scribble(1_000_000, 'fill="red"'),
    "a million short points": lambda: svg(f'<path d="M0 0{" 9 9 1 5" * 500_000}" fill="red"/>'),
    "a scribble": lambda: _scribble(30_000, 'fill="red"'),
    "a stroked scribble": lambda: _scribble(30_000, 'fill="none" stroke="red" stroke-width="2"'),
    "lines across lines": lambda: _lines(6_000),
    "20,000 style rules": lambda: _rules(20_000, 5_000),
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
    "lines across lines", "20,000 style rules", "a lying zip",
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
                out: list[str | Path] = ["-o", home / "y.oglow", "--width", "40mm"] if verb == "new" else []
                got = answer(verb, path, *out, home=home)
                cost = f"{got.seconds:6.1f} s {got.memory / 1e6:6.0f} MB"
                print(f"{title:<8}{name:<28}{got.code:>3} {cost}  {got.said.strip()[-150:]}")
                assert not (home / "y.oglow").exists() or got.code == 0
                (home / "y.oglow").unlink(missing_ok=True)


if __name__ == "__main__":
    main()
