"""The package: every file of an order, from the board; the same project gives the same bytes."""

from __future__ import annotations

import base64
import hashlib
import io
import json
import zipfile
import zlib
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache
from itertools import chain, count
from pathlib import Path
from typing import Any

import shapely

from .. import compiled
from ..board import Board, Layer
from ..board.draw import draw_board, draw_hours, png
from ..board.model import POUR, TEAR
from ..board.view import coverage, fitting_scale, whole_view
from ..errors import Trouble
from ..geometry.regions import EMPTY, polygons, region_of, union
from ..parts import PlacedPad
from ..project.atomic import atomic_folder, atomic_write
from ..project.storage import zip_time
from .drill import drill_file
from .gerber import Drawn, Heading, art_layer, board_heading, copper_layer, profile_layer, slug
from .netlist import netlist_356
from .tables import bill_csv, job_file, links_csv, order_page, placement_csv

#: Resolution of the coverage pictures in board.json.
COVERAGE_PX_PER_MM = 4.0
#: Resolution of the pictures.
_PX_PER_MM, _MOST_PIXELS = 12.0, 9e6  # of the pictures in a package; large boards get fewer
Progress = Callable[[float, str], None]


#: So many corners of all layers are worth loading compiled code for.
_MANY = 400_000


@dataclass(frozen=True)
class Package:
    """Files by name, in the order they are written."""

    files: dict[str, bytes]
    edited: str


#: Layer -> (file stem, file function, polarity).
GERBERS = {
    Layer("front", "copper"): ("copper-front", "Copper,L1,Top", "Positive"),
    Layer("back", "copper"): ("copper-back", "Copper,L2,Bot", "Positive"),
    Layer("front", "mask"): ("mask-front", "Soldermask,Top", "Negative"),
    Layer("back", "mask"): ("mask-back", "Soldermask,Bot", "Negative"),
    Layer("front", "legend"): ("legend-front", "Legend,Top", "Positive"),
    Layer("back", "legend"): ("legend-back", "Legend,Bot", "Positive"),
    Layer("front", "paste"): ("paste-front", "Paste,Top", "Positive"),
    Layer("back", "paste"): ("paste-back", "Paste,Bot", "Positive"),
}


def _quiet(share: float, words: str) -> None:
    return None


def make_package(
    board: Board, pieces: int, edited: str, progress: Progress = _quiet, cancelled: Callable[[], bool] = lambda: False
) -> Package:
    """Every file, dated `edited` (UTC, ISO 8601). Stops between files when `cancelled` says so, by raising `Trouble`."""
    if sum(int(shapely.get_num_coordinates(layer)) for layer in board.layers.values()) > _MANY:
        compiled.load()
    stem = slug(board.name)
    files: dict[str, bytes] = {}
    gerbers: list[tuple[str, str, str]] = []
    jobs: list[tuple[str, Callable[[], bytes]]] = []
    scale = fitting_scale(board.size, _PX_PER_MM, _MOST_PIXELS)
    hours = cache(lambda: draw_hours(board, (1.0, 0.25), px_per_mm=scale))
    for layer, (name, function, polarity) in GERBERS.items():
        if layer not in board.made_layers:
            continue
        path = f"{stem}-{name}.gbr"
        gerbers.append((path, function, polarity))
        jobs.append((path, lambda layer=layer, f=function, p=polarity: _layer(board, layer, f, p, edited)))  # type: ignore[misc]
    profile_path = f"{stem}-profile.gbr"
    gerbers.append((profile_path, "Profile,NP", "Positive"))
    jobs.append((profile_path, lambda: profile_layer(board_heading(board, edited, "Profile,NP"), board.outline)))
    jobs += [
        (f"{stem}-plated.xnc", lambda: drill_file(board, True, edited)),
        (f"{stem}-unplated.xnc", lambda: drill_file(board, False, edited)),
        *([(f"{stem}-nets.ipc", lambda: netlist_356(board, edited))] if board.wires else []),
        *([(f"{stem}-wire-links.csv", lambda: links_csv(board))] if board.wires.links else []),
        (f"{stem}-placement.csv", lambda: placement_csv(board)),
        (f"{stem}-bill-of-materials.csv", lambda: bill_csv(board)),
        (f"{stem}.gbrjob", lambda: job_file(board, gerbers, edited)),
        (f"{stem}-front.png", lambda: png(hours()[0], scale)),
        (f"{stem}-dusk.png", lambda: png(hours()[1], scale)),
        (f"{stem}-back.png", lambda: png(draw_board(board, side="back", px_per_mm=scale), scale)),
    ]
    for place, (path, make) in enumerate(jobs):
        if cancelled():
            raise Trouble("The export was stopped; nothing was written.")
        progress(place / (len(jobs) + 2), path)
        files[path] = make()
    names = [*files, "order-page.txt", "board.json"]
    files["order-page.txt"] = order_page(board, pieces, names)
    progress(0.95, "board.json")
    files["board.json"] = board_json(board, files, edited)
    return Package(files, edited)


#: What a package of several boards tells of them.
BOARDS = "boards.json"


def package_of(
    boards: Mapping[str, Board],
    pieces: int,
    edited: str,
    progress: Progress = _quiet,
    cancelled: Callable[[], bool] = lambda: False,
) -> Package:
    """The package of the boards of a project, by their names: each in a folder of its own where there are several."""
    many = len(boards)

    def part(at: int) -> Progress:
        return lambda share, words: progress((at + share) / many, words)

    packages = {
        name: make_package(board, pieces, edited, part(at), cancelled) for at, (name, board) in enumerate(boards.items())
    }
    return next(iter(packages.values())) if len(packages) == 1 else _joined(packages)


def _joined(packages: Mapping[str, Package]) -> Package:
    """Packages as one, each in a folder of its own, with a list of them."""
    folders: dict[str, str] = {}
    for name in packages:
        stem = slug(name)
        folders[name] = next(one for one in chain([stem], (f"{stem}-{n}" for n in count(2))) if one not in folders.values())
    files = {f"{folders[name]}/{file}": data for name, one in packages.items() for file, data in one.files.items()}
    edited = max(one.edited for one in packages.values())
    content = {"format": 1, "edited": edited, "boards": [{"name": name, "folder": folders[name]} for name in packages]}
    files[BOARDS] = (json.dumps(content, indent=1, sort_keys=True, ensure_ascii=False) + "\n").encode()
    return Package(files, edited)


def _layer(board: Board, layer: Layer, function: str, polarity: str, edited: str) -> bytes:
    side, kind = layer.side, layer.kind
    heading = board_heading(board, edited, function, polarity)
    pads = [pad for pad in board.pads if pad.side == side]
    if kind == "copper":
        return _copper(board, side, heading, pads)
    if kind == "mask":
        grown = board.profile.mask_expansion_mm
        return art_layer(heading, board.openings_without_pads[side], pads, grown, "Material", "Material")
    if kind == "paste":
        pasted = [pad for pad in pads if pad.paste]
        return art_layer(heading, EMPTY, pasted, 0.0, "Material", "Material")
    return art_layer(heading, board.layer(layer), [], 0.0, "Material", "Material")


def _copper(board: Board, side: str, heading: Heading, pads: list[PlacedPad]) -> bytes:
    """The copper of a side; of a board without wires only its art and its pads."""
    if not board.wires and all(one.owner != POUR for one in board.copper):
        return art_layer(heading, board.art_copper(side), pads, 0.0, "NonConductor")
    regions = _art_and_pours(board, side)
    # Last, for the holes of what is poured are cleared.
    regions += [Drawn(one.net, "Conductor", one.region) for one in board.copper if one.side == side and one.owner == TEAR]
    tracks = [one for one in board.wires.tracks if one.side == side]
    return copper_layer(heading, regions, tracks, [one for one in board.wires.vias if one.on(side)], pads)


def _art_and_pours(board: Board, side: str) -> list[Drawn]:
    """The copper of the art, and what is poured, with the pieces of the art that it joins."""
    art, pours = polygons(board.art_copper(side)), []
    for one in (each for each in board.copper if each.side == side and each.owner == POUR):
        joined = [piece for piece in art if piece.intersects(one.region)]
        art = [piece for piece in art if not any(piece is other for other in joined)]
        pours.append(Drawn(one.net, "Conductor", union([one.region, *joined]) if joined else one.region))
    return [Drawn("", "NonConductor", region_of(art)), *pours]


def board_json(board: Board, files: dict[str, bytes], edited: str) -> bytes:
    """What the board says of each layer, and the files' checksums."""
    layers: dict[str, Any] = {}
    view = whole_view(board.size, "front", COVERAGE_PX_PER_MM, 1.0)
    for layer in GERBERS:
        if layer not in board.made_layers:
            continue
        region = board.layer(layer)
        grid = coverage(region, view, 16)
        layers[layer] = {
            "area_mm2": round(region.area, 6),
            "bounds_mm": [round(value, 4) for value in region.bounds] if not region.is_empty else None,
            "islands": len(polygons(region)),
            "coverage": base64.b64encode(zlib.compress(grid.tobytes(), 9)).decode(),
        }
    outline = board.outline
    content = {
        "format": 1,
        "name": board.name,
        "edited": edited,
        "size_mm": [round(value, 4) for value in board.size],
        "outline": {
            "area_mm2": round(outline.area, 6),
            "perimeter_mm": round(outline.length, 6),
            "bounds_mm": [round(value, 4) for value in outline.bounds],
            "holes": len(outline.interiors),
        },
        "holes": [[round(h.x, 4), round(h.y, 4), round(h.diameter, 4), h.plated] for h in board.holes],
        "coverage": {
            "px_per_mm": COVERAGE_PX_PER_MM,
            "width": view.width,
            "height": view.height,
            "left_mm": view.left,
            "top_mm": view.top,
        },
        "layers": layers,
        "files": {name: hashlib.sha256(data).hexdigest() for name, data in sorted(files.items())},
    }
    return (json.dumps(content, indent=1, sort_keys=True, ensure_ascii=False) + "\n").encode()


def write_package(package: Package, target: Path, force: bool = False) -> list[Path]:
    """Write to a folder, or to a zip when the name ends in `.zip`; an existing one only with `force`.

    Either all files are there in the end or nothing has changed. Returns what was written.
    """
    if target.suffix.lower() == ".zip":
        if target.exists() and not force:
            raise Trouble(f"“{target}” exists already; add --force to replace it.")
        buffer = io.BytesIO()
        with zipfile.ZipFile(buffer, "w") as archive:
            for name, data in package.files.items():
                entry = zipfile.ZipInfo(name, zip_time(package.edited))
                entry.compress_type = zipfile.ZIP_DEFLATED
                entry.external_attr = 0o644 << 16
                archive.writestr(entry, data)
        atomic_write(target, buffer.getvalue())
        return [target]
    return _write_folder(package, target, force)


def _write_folder(package: Package, target: Path, force: bool) -> list[Path]:
    if target.exists() and not target.is_dir():
        raise Trouble(f"“{target}” is a file; name a folder, or a name ending in .zip.")
    try:
        filled = target.is_dir() and any(target.iterdir())
    except OSError as error:
        raise Trouble(f"“{target}” could not be written: {error.strerror}.") from error
    if filled and not force:
        raise Trouble(f"The folder “{target}” is not empty; add --force to write into it.")
    atomic_folder(target, package.files, _written_before(target))
    return [target / name for name in package.files]


def _written_before(target: Path) -> list[str]:
    """The files of an older package in a folder, by its lists: of another name they would mix with the new ones."""
    return [
        *_listed(target, "board.json", lambda said: list(said["files"])),
        *(
            f"{folder}/{name}"
            for folder in _listed(target, BOARDS, lambda said: [one["folder"] for one in said["boards"]])
            for name in [*_listed(target / folder, "board.json", lambda said: list(said["files"])), "board.json"]
        ),
        BOARDS,
    ]


def _listed(folder: Path, name: str, names: Callable[[Any], list[Any]]) -> list[str]:
    """The plain names that a list in a folder gives; none where there is no list, or it cannot be read."""
    try:
        said = names(json.loads((folder / name).read_bytes()))
    except (OSError, ValueError, KeyError, TypeError, RecursionError):
        return []
    return [one for one in said if isinstance(one, str) and "/" not in one and one not in ("", ".", "..")]
