"""Package against board: every layer, the outline, the holes; each difference with its place."""

from __future__ import annotations

import base64
import hashlib
import json
import zipfile
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import shapely
from shapely import affinity
from shapely.errors import ShapelyError
from shapely.geometry.base import BaseGeometry

from ... import compiled
from ...board import Board
from ...errors import Trouble
from ...geometry.overlay import overlay
from ...geometry.prepared import prepared
from ...project.storage import UNREADABLE_ZIP
from .coverage import raster, worst
from .drill_reader import read_drill
from .gerber_reader import Layer, Unreadable, read_gerber
from .nets import net_faults

#: File function -> layer; what every package must hold.
FUNCTIONS = {
    "Copper,L1,Top": "front copper",
    "Copper,L2,Bot": "back copper",
    "Soldermask,Top": "front mask",
    "Soldermask,Bot": "back mask",
    "Legend,Top": "front legend",
    "Legend,Bot": "back legend",
    "Paste,Top": "front paste",
    "Paste,Bot": "back paste",
    "Profile,NP": "outline",
}
_POLARITY = {"front mask": "Negative", "back mask": "Negative"}
#: Differences smaller than this are the rounding of the file, mm² and mm.
_SMALL_MM2, _THIN_MM = 0.0004, 0.002
#: What a package of several boards tells of them.
BOARDS = "boards.json"
_MOST_BYTES = 300_000_000
#: So many bytes are worth loading compiled code for.
_MANY = 10_000_000
#: Cells of a coverage picture: a square metre at 4 px/mm.
_MOST_CELLS = 16_000_000
#: No figure of a board is larger: a square metre in mm² a hundred times over.
_FARTHEST = 1e8


@dataclass(frozen=True)
class Difference:
    """Where a package departs from its board: layer or file, sentence, place (board frame) and area."""

    layer: str
    text: str
    x_mm: float | None = None
    y_mm: float | None = None
    area_mm2: float | None = None
    note: bool = False


@dataclass(frozen=True)
class Proof:
    """What was read, and every difference. `layers` are the regions drawn from the files alone."""

    layers: Mapping[str, BaseGeometry]
    holes: tuple[tuple[float, float, float, bool], ...]
    differences: tuple[Difference, ...]
    files: tuple[str, ...]

    @property
    def good(self) -> bool:
        """Whether the package is what the board says (notes apart)."""
        return not any(not difference.note for difference in self.differences)


def prove_boards(path: Path, boards: Mapping[str, Board] | None = None) -> dict[str, Proof]:
    """The proof of every board in a package, by its name; a package of one board has it under "".

    `boards` are those of the project, by name; without them each is compared with its own board.json. `Trouble` when there
    is no package to read, or it has other boards than the project.
    """
    files = read_files(path)
    if BOARDS not in files:
        if boards is not None and len(boards) > 1:
            raise Trouble(f"“{path}” holds the files of one board; its project has {len(boards)}: name one with --board.")
        return {"": prove_files(files, str(path), next(iter(boards.values())) if boards else None)}
    folders = _folders(files, path)
    for name in folders if boards is None else dict.fromkeys((*folders, *boards)):
        if name not in folders or (boards is not None and name not in boards):
            lacking = "the package" if name not in folders else "the project"
            raise Trouble(f"There is a board “{name}”, but {lacking} has none of that name.")
    return {
        name: prove_files(_within(files, folder), f"{path}/{folder}", boards[name] if boards is not None else None)
        for name, folder in folders.items()
    }


def _folders(files: Mapping[str, bytes], path: Path) -> dict[str, str]:
    """The boards of a package by name, each with its folder."""
    try:
        content = json.loads(files[BOARDS])
        folders = {str(one["name"]): str(one["folder"]) for one in content["boards"]}
        if content["format"] != 1 or not folders or len(folders) < len(content["boards"]):
            raise ValueError("format")
    except (ValueError, KeyError, TypeError, RecursionError) as error:
        raise Trouble(f"The {BOARDS} of “{path}” cannot be read.") from error
    return folders


def _within(files: Mapping[str, bytes], folder: str) -> dict[str, bytes]:
    start = f"{folder}/"
    return {name[len(start) :]: data for name, data in files.items() if name.startswith(start)}


def read_files(path: Path) -> dict[str, bytes]:
    """The files of a package by name, those in its folders as “folder/name”."""
    if path.exists() and not (path.is_dir() or path.is_file()):
        raise Trouble(f"“{path}” cannot be read as a package (a folder or a zip).")
    try:
        if path.is_dir():
            found = _files_in(path)
            if (path / BOARDS).is_file():
                folders = _folders({BOARDS: (path / BOARDS).read_bytes()}, path).values()
                found += [one for folder in folders if "/" not in folder for one in _files_in(path / folder)]
            if sum(one.stat().st_size for one in found) > _MOST_BYTES:
                raise Trouble(f"The folder “{path}” holds more than a package ever does.")
            return {one.relative_to(path).as_posix(): one.read_bytes() for one in found}
        with zipfile.ZipFile(path) as archive:
            if sum(entry.file_size for entry in archive.infolist()) > _MOST_BYTES:
                raise Trouble(f"“{path}” unpacks to more than a package ever holds.")
            return {name: archive.read(name) for name in archive.namelist() if name.count("/") < 2 and name[-1:] != "/"}
    except UNREADABLE_ZIP as error:
        raise Trouble(f"“{path}” cannot be read as a package (a folder or a zip).") from error


def _files_in(folder: Path) -> list[Path]:
    return [one for one in sorted(folder.iterdir()) if one.is_file()]


def prove_files(files: Mapping[str, bytes], where: str, board: Board | None = None) -> Proof:
    """The proof of files already in memory."""
    said = _board_json(files, where) if board is None or "board.json" in files else {}
    found, holes, problems = _read_layers(files)
    if not found and not holes and not problems:
        raise Trouble(f"“{where}” holds no Gerber files.")
    differences = list(problems)
    wanted = {*(board.made_layers if board is not None else said.get("layers") or FUNCTIONS.values()), "outline"}
    missing = [layer for layer in FUNCTIONS.values() if layer in wanted and layer not in found and not _told(problems, layer)]
    differences += [
        Difference(layer, f"There is a file of the {layer}, which this fabricator does not make.")
        for layer in found
        if layer not in wanted
    ]
    found = {layer: one for layer, one in found.items() if layer in wanted}
    differences += [Difference(layer, f"The file of the {layer} is missing.") for layer in missing]
    for plated, word in ((True, "plated"), (False, "unplated")):
        if plated not in holes and not _told(problems, f"{word} drill"):
            differences.append(Difference(f"{word} drill", f"The file of the {word} holes is missing."))
    regions = {name: layer.outline() if name == "outline" else layer.region() for name, layer in found.items()}
    drilled = tuple((x, y, d, plated) for plated in sorted(holes) for x, y, d in holes[plated])
    if board is not None:
        differences += _against_board(regions, drilled, board)
    else:
        differences += _against_said(regions, drilled, said)
    found_nets = net_faults(
        files, regions, drilled, None if board is None else board.nets, board is not None and bool(board.wires),
        () if board is None else board.parts,
    )  # fmt: skip
    differences += [Difference("nets", one.text, one.x, one.y) for one in found_nets]
    differences += _checksums(files, said, differences)
    return Proof(regions, drilled, tuple(differences), tuple(files))


def _told(problems: list[Difference], layer: str) -> bool:
    return any(problem.layer == layer for problem in problems)


def _board_json(files: Mapping[str, bytes], where: str) -> dict[str, Any]:
    if "board.json" not in files:
        raise Trouble(f"“{where}” holds no board.json; give its project with --project to prove it.")
    try:
        content = json.loads(files["board.json"])
        if content["format"] != 1 or not isinstance(content["layers"], dict):
            raise ValueError("format")
        far = _far(content)
    except (ValueError, KeyError, TypeError, RecursionError) as error:
        raise Trouble(f"The board.json of “{where}” cannot be read.") from error
    if far is not None:
        key, value = far
        raise Trouble(f"The board.json of “{where}” is damaged: {key} is {value:g}, which no board has.")
    return content  # type: ignore[no-any-return]


def _far(content: Any, key: str = "") -> tuple[str, float] | None:
    """The first number that is none or beyond all boards, with its key."""
    if isinstance(content, dict):
        parts = [(f"{key}.{name}".lstrip("."), part) for name, part in content.items()]
    elif isinstance(content, list):
        parts = [(f"{key}[{at}]", part) for at, part in enumerate(content)]
    elif isinstance(content, float) and not abs(content) <= _FARTHEST:
        return key, content
    else:
        return None
    return next((found for name, part in parts if (found := _far(part, name)) is not None), None)


def _read_layers(
    files: Mapping[str, bytes],
) -> tuple[dict[str, Layer], dict[bool, list[tuple[float, float, float]]], list[Difference]]:
    found: dict[str, Layer] = {}
    holes: dict[bool, list[tuple[float, float, float]]] = {}
    problems: list[Difference] = []
    if sum(map(len, files.values())) > _MANY:
        compiled.load()
    for name, data in files.items():
        lower = name.lower()
        try:
            if lower.endswith(".gbr"):
                layer = read_gerber(data.decode("ascii"))
                function = ",".join(layer.attributes.get(".FileFunction", []))
                place = FUNCTIONS.get(function)
                if place is None:
                    problems.append(Difference(name, f"“{name}” says it is “{function}”, which the board has not."))
                elif place in found:
                    problems.append(Difference(place, f"Two files say they are the {place}; “{name}” is one."))
                else:
                    found[place] = layer
                    polarity = layer.attributes.get(".FilePolarity", ["Positive"])[0]
                    if polarity != _POLARITY.get(place, "Positive"):
                        problems.append(Difference(place, f"“{name}” says its polarity is {polarity}."))
            elif lower.endswith((".xnc", ".drl")):
                plating, rows = read_drill(data.decode("ascii"))
                if plating not in ("Plated", "NonPlated"):
                    problems.append(Difference(name, f"“{name}” does not say whether its holes are plated."))
                else:
                    holes[plating == "Plated"] = rows
        except (Unreadable, UnicodeDecodeError, KeyError, ValueError, IndexError, OverflowError, ShapelyError) as error:
            reason = str(error) if isinstance(error, Unreadable) else "not the text of one"
            problems.append(Difference(_guess(lower), f"“{name}” cannot be read: {reason}."))
    return found, holes, problems


def _guess(name: str) -> str:
    """The layer a file is by its name, for a file that cannot say so itself."""
    for stem, layer in (
        ("copper-front", "front copper"), ("copper-back", "back copper"), ("mask-front", "front mask"),
        ("mask-back", "back mask"), ("legend-front", "front legend"), ("legend-back", "back legend"),
        ("paste-front", "front paste"), ("paste-back", "back paste"), ("profile", "outline"),
        ("unplated", "unplated drill"), ("plated", "plated drill"),
    ):  # fmt: skip
        if stem in name:
            return layer
    return name


def _against_board(
    regions: Mapping[str, BaseGeometry], drilled: tuple[tuple[float, float, float, bool], ...], board: Board
) -> list[Difference]:
    out = []
    for layer, region in regions.items():
        wanted = board.outline if layer == "outline" else board.layer(layer)
        for missing, (one, other) in ((True, (wanted, region)), (False, (region, wanted))):
            piece = None if _covered(one, other) else _largest(overlay(shapely.difference, one, other))
            if piece is not None:
                out.append(_piece_difference(layer, piece, missing, _mirrored(region, wanted, board.size[0])))
    wanted_holes = [(h.x, h.y, h.diameter, h.plated) for h in board.holes]
    return out + _holes(drilled, wanted_holes)


def _covered(one: BaseGeometry, other: BaseGeometry) -> bool:
    """Whether a region lies within another but for rounding: nothing of it is farther outside than half of what is thin, so
    that no piece is wider than that. Two layers that agree to a hair cost a tenth of their difference this way."""
    around = prepared(shapely.buffer(other, 0.45 * _THIN_MM, quad_segs=1, join_style="bevel"))
    return bool(shapely.covers(around, one))


def _largest(area: BaseGeometry) -> BaseGeometry | None:
    """The largest piece of a difference that is more than rounding."""
    pieces = [piece for piece in getattr(area, "geoms", [area]) if piece.area > _SMALL_MM2]
    pieces = [piece for piece in pieces if piece.area / max(piece.length, 1e-9) * 2 > _THIN_MM]
    return max(pieces, key=lambda piece: piece.area) if pieces else None


def _mirrored(region: BaseGeometry, wanted: BaseGeometry, width: float) -> bool:
    """Whether the layer is the wanted one seen from the other side."""
    if region.is_empty or wanted.is_empty or abs(region.area - wanted.area) > 0.01 * wanted.area:
        return False
    flipped = affinity.scale(region, xfact=-1, origin=(width / 2, 0))
    return bool(shapely.symmetric_difference(flipped, wanted).area < 0.05 * shapely.symmetric_difference(region, wanted).area)


def _piece_difference(layer: str, piece: BaseGeometry, missing: bool, mirrored: bool) -> Difference:
    spot = piece.representative_point()
    words = "is missing" if missing else "is there and should not be"
    text = f"On the {layer}, {piece.area:.3f} mm² {words} at x {spot.x:.2f} y {spot.y:.2f} mm"
    text += "; the layer is mirrored." if mirrored else "."
    return Difference(layer, text, round(spot.x, 3), round(spot.y, 3), round(piece.area, 5))


def _holes(
    drilled: Sequence[tuple[float, float, float, bool]], wanted: Sequence[tuple[float, float, float, bool]]
) -> list[Difference]:
    out = []
    tree = shapely.STRtree(_middles(drilled))
    pairs = tree.query(_middles(wanted), predicate="dwithin", distance=_THIN_MM)
    near: dict[int, list[int]] = {}
    for at, which in pairs.T.tolist():
        near.setdefault(at, []).append(which)
    left = dict.fromkeys(range(len(drilled)))
    for at, (x, y, diameter, plated) in enumerate(wanted):
        word = "plated" if plated else "unplated"
        match = next((which for which in sorted(near.get(at, ())) if which in left and drilled[which][3] == plated), None)
        if match is None:
            out.append(Difference(f"{word} drill", f"The {word} hole at x {x:.2f} y {y:.2f} mm is missing.", x, y))
            continue
        del left[match]
        found = drilled[match][2]
        if abs(found - diameter) > 0.0015:
            text = f"The {word} hole at x {x:.2f} y {y:.2f} mm is {found:.3f} mm wide, not {diameter:.3f}."
            out.append(Difference(f"{word} drill", text, x, y))
    for x, y, _, plated in (drilled[which] for which in left):
        word = "plated" if plated else "unplated"
        out.append(Difference(f"{word} drill", f"A {word} hole at x {x:.2f} y {y:.2f} mm should not be there.", x, y))
    return out


def _middles(holes: Sequence[tuple[float, float, float, bool]]) -> Any:
    return shapely.points(np.array([hole[:2] for hole in holes], float).reshape(-1, 2))


def _against_said(
    regions: Mapping[str, BaseGeometry], drilled: tuple[tuple[float, float, float, bool], ...], said: dict[str, Any]
) -> list[Difference]:
    out: list[Difference] = []
    try:
        grid = said["coverage"]
        for layer, region in regions.items():
            wanted = said["outline"] if layer == "outline" else said["layers"][layer]
            out += _against_layer(layer, region, wanted, grid)
        out += _holes(drilled, [(float(x), float(y), float(d), bool(p)) for x, y, d, p in said["holes"]])
    except (KeyError, TypeError, ValueError, zlib.error) as error:
        raise Trouble("The board.json of the package is damaged.") from error
    return out


def _against_layer(layer: str, region: BaseGeometry, wanted: dict[str, Any], grid: dict[str, Any]) -> list[Difference]:
    if "coverage" in wanted:
        cells = int(grid["height"]) * int(grid["width"])
        if not (0 < cells <= _MOST_CELLS and grid["px_per_mm"] > 0):
            raise ValueError("grid")
        raw = zlib.decompressobj().decompress(base64.b64decode(wanted["coverage"]), cells + 1)
        expected = np.frombuffer(raw, np.uint8).reshape(grid["height"], grid["width"]).astype(float) / 255
        seen = raster(region, grid)
        place = worst(expected, seen, grid)
        if place is not None:
            x, y, missing = place
            words = "is missing" if missing else "is there and should not be"
            return [Difference(layer, f"On the {layer}, something {words} near x {x:.1f} y {y:.1f} mm.", x, y)]
    elif abs(region.length - wanted["perimeter_mm"]) > 0.02 + 1e-5 * wanted["perimeter_mm"]:
        length = f"{region.length:.2f} mm, not {wanted['perimeter_mm']:.2f}"
        return [Difference(layer, f"The {layer} is {length}, round its edge.")]
    area = float(wanted["area_mm2"])
    if abs(region.area - area) > 0.003 + 5e-5 * area:
        gap = abs(region.area - area)
        return [Difference(layer, f"The {layer} covers {region.area:.3f} mm², not {area:.3f}.", area_mm2=round(gap, 5))]
    bounds = wanted.get("bounds_mm")
    if bounds and not region.is_empty and max(abs(a - b) for a, b in zip(region.bounds, bounds, strict=True)) > 0.004:
        return [Difference(layer, f"The {layer} is shifted or resized: its bounds are {region.bounds}.")]
    return []


def _checksums(files: Mapping[str, bytes], said: dict[str, Any], differences: list[Difference]) -> list[Difference]:
    """Files that are missing or changed against board.json: a note where the geometry is the same."""
    out = []
    for name, checksum in sorted((said.get("files") or {}).items()):
        if name not in files:
            if not name.lower().endswith((".gbr", ".xnc")):
                out.append(Difference(name, f"The file “{name}” is missing."))
        elif hashlib.sha256(files[name]).hexdigest() != checksum:
            drawn = name.lower().endswith((".gbr", ".xnc"))
            text = f"“{name}” was changed after it was written" + (", its geometry was not." if drawn else ".")
            if not drawn or not _told(differences, _guess(name.lower())):
                out.append(Difference(name, text, note=drawn))
    return out
