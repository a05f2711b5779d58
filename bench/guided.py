"""A longer, coverage-guided run against one reader: what it keeps is what reaches code nothing reached before.

    python -m pip install atheris==3.0.0
    python bench/guided.py picture 600        ten minutes; `all 600` takes each reader in turn

An answer or one sentence is right; anything else, or ten seconds, or a gigabyte, ends the run and leaves its input
beside this file. The figures of the last run are in docs/reliability.md.
"""

from __future__ import annotations

import io
import json
import re
import subprocess
import sys
import tempfile
import zipfile
from collections.abc import Callable
from pathlib import Path

import atheris

with atheris.instrument_imports(include=["outlined_glow", "fontTools.svgLib", "tinycss2"]):
    from outlined_glow.core.artwork import paint, read_picture
    from outlined_glow.core.artwork.svg.shapes import path_subpaths
    from outlined_glow.core.errors import Trouble
    from outlined_glow.core.order.proof.compare import prove_files
    from outlined_glow.core.order.proof.drill_reader import read_drill
    from outlined_glow.core.order.proof.gerber_reader import Unreadable, read_gerber
    from outlined_glow.core.project.journal import left_behind, recover
    from outlined_glow.core.project.storage import load
    from outlined_glow.core.units import parse_quantity

HERE = Path(__file__).parent
SCRATCH = Path(tempfile.mkdtemp(prefix="guided-"))


def picture(data: bytes) -> None:
    """A whole SVG document, to regions."""
    read_picture.cache_clear()
    painted = paint(read_picture(data, "x.svg"), 40, "x.svg")
    assert all(swatch.region.is_valid for swatch in painted.swatches)


def element(data: bytes) -> None:
    """The inside of an SVG document, so that the search starts behind the XML parser."""
    inside = data.decode("utf-8", "ignore")
    picture(f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 30">{inside}</svg>'.encode())


def path(data: bytes) -> None:
    """Path data."""
    path_subpaths(data.decode("latin-1"))


def project(data: bytes) -> None:
    """A project file as it lies on the disk."""
    target = SCRATCH / "x.oglow"
    target.write_bytes(data)
    load(target)


def content(data: bytes) -> None:
    """`project.json` in a good zip."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        archive.writestr("project.json", data)
        archive.writestr("pictures/sign.svg", b"<svg/>")
    project(buffer.getvalue())


def journal(data: bytes) -> None:
    """What a killed window left."""
    folder = SCRATCH / "journals" / "1-1"
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "owner").touch()
    (folder / "steps.jsonl").write_bytes(data)
    for left in left_behind(SCRATCH / "journals"):
        recover(left)


def gerber(data: bytes) -> None:
    """A layer of a package."""
    read_gerber(data.decode("latin-1")).region()


def drill(data: bytes) -> None:
    """A drill file of a package."""
    read_drill(data.decode("latin-1"))


def dxf(data: bytes) -> None:
    """A DXF drawing behind its first line, to regions."""
    paint(read_picture(b"0\nSECTION\n" + data, "x.dxf"), 40.0, "x.dxf")


def package(data: bytes) -> None:
    """A package's own account of its layers."""
    prove_files({"board.json": data, "sign-copper-front.gbr": SEEDS["gerber"][0]}, "package")


def quantity(data: bytes) -> None:
    """A field of the window."""
    parse_quantity(data.decode("utf-8", "ignore"), "mm", bare="mm")


TARGETS: dict[str, Callable[[bytes], None]] = {
    one.__name__: one for one in (picture, element, path, dxf, project, content, journal, gerber, drill, package, quantity)
}


def _seeds() -> dict[str, list[bytes]]:
    """Good files to begin with, made by the program itself."""
    sys.path.insert(0, str(HERE.parent / "tests"))
    import pictures
    from drawings import SIGN

    from outlined_glow.core.order import make_package
    from outlined_glow.core.project.storage import encode, save
    from outlined_glow.core.workshop import Compiler, apply_values, new_project

    made = apply_values(new_project(SIGN, "sign.svg"), "set-hole", {}, (0, 0))
    save(made, SCRATCH / "seed.oglow")
    files = make_package(Compiler().compile(made).board, 4, "2026-01-01T00:00:00Z").files
    inside = re.sub(rb"^.*?<svg[^>]*>|</svg>\s*$", b"", SIGN, flags=re.DOTALL)
    line = json.dumps({"place": 0, "words": "a", "project": json.loads(encode(made)), "pictures": {}}).encode()
    circle = "0 CIRCLE 8 0 10 9 20 9 40 3"
    dxf_seed = pictures.dxf(pictures.frame(0, 0, 40, 30), pictures.line(5, 5, 9, 9), circle).split(b"\n", 2)[2]
    return {
        "picture": [SIGN],
        "element": [inside],
        "path": [b"M1 1L9 9 3,4h2v3H1V2C1 2 3 4 5 6S1 2 3 4Q1 2 3 4T5 6A5 5 0 0 1 9 9Zm1 1l2 2z"],
        "dxf": [dxf_seed],
        "project": [(SCRATCH / "seed.oglow").read_bytes()],
        "content": [encode(made)],
        "journal": [line + b"\n"],
        "gerber": [data for name, data in files.items() if name.endswith(".gbr")],
        "drill": [data for name, data in files.items() if name.endswith(".xnc")],
        "package": [files["board.json"]],
        "quantity": [b"12 mm", b"0.5 in", b"4.7u", b"1,5"],
    }


SEEDS: dict[str, list[bytes]] = {}


def _try(target: Callable[[bytes], None], data: bytes) -> None:
    try:
        target(data)
    except Trouble as trouble:
        assert "\n" not in str(trouble)
    except (Unreadable, ValueError, KeyError, IndexError):
        # Inside a package these are caught where the file is named (order/proof/compare.py).
        if target not in (gerber, drill):
            raise


def _one(name: str, seconds: int) -> None:
    SEEDS.update(_seeds())
    corpus = SCRATCH / "corpus"
    corpus.mkdir()
    for at, data in enumerate(SEEDS[name]):
        (corpus / f"seed-{at}").write_bytes(data)
    options = [f"-max_total_time={seconds}", "-timeout=10", "-rss_limit_mb=4000", "-malloc_limit_mb=1000", "-max_len=20000"]
    options += [f"-artifact_prefix={HERE}/found-{name}-", "-print_final_stats=1", "-verbosity=1"]
    atheris.Setup([sys.argv[0], *options, str(corpus)], lambda data: _try(TARGETS[name], data))
    atheris.Fuzz()


def main() -> None:
    """One target, or all of them in turn with a line each."""
    name, seconds = sys.argv[1], int(sys.argv[2])
    if name != "all":
        _one(name, seconds)
        return
    for each in TARGETS:
        ended = subprocess.run([sys.executable, __file__, each, str(seconds)], capture_output=True, text=True, check=False)
        runs = re.findall(r"stat::number_of_executed_units:\s*(\d+)", ended.stderr) or ["?"]
        edges = re.findall(r"cov: (\d+)", ended.stderr) or ["?"]
        memory = re.findall(r"stat::peak_rss_mb:\s*(\d+)", ended.stderr) or ["?"]
        good = "nothing found" if ended.returncode == 0 else f"FOUND: {ended.stderr.strip().splitlines()[-1][:150]}"
        print(f"| {each} | {runs[-1]} | {edges[-1]} | {memory[-1]} MB | {good} |", flush=True)


if __name__ == "__main__":
    main()
