"""Gerber X2, one layer a file (Gerber Layer Format Specification, revision 2024.05).

Everything is in front coordinates, mm, 4.6 digits, never mirrored. Regions with holes are drawn by clear
polarity, level by level: outer contours dark, their holes clear, what stands in the holes dark again.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID, uuid5

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LinearRing, Polygon
from shapely.geometry.base import BaseGeometry

from ... import __version__
from ..board import Board
from ..geometry.regions import polygons
from ..parts import PlacedPad
from ..wiring.copper import Track, Via
from .contours import UNITS, contours

#: The names among which a project's identity is its own.
_PROJECTS = UUID("8d6c2b1e-4a0f-5c39-9e57-0b7a4f1d2c63")
_MACRO = "%AMTurnedBox*21,1,$1,$2,0,0,$3*%"


@dataclass(frozen=True)
class Heading:
    """What every file says of itself."""

    function: str
    polarity: str
    project: str
    created: str


def slug(name: str) -> str:
    """A name that every system takes as part of a file name."""
    kept = "".join(letter if letter.isascii() and letter.isalnum() else "-" for letter in name.lower())
    return "-".join(word for word in kept.split("-") if word)[:48] or "board"


def art_layer(
    heading: Heading, region: BaseGeometry, pads: Sequence[PlacedPad], grow_mm: float, region_function: str,
    pad_function: str = "",
) -> bytes:  # fmt: skip
    """A layer of art and pads; each pad is flashed, larger by `grow_mm` on every side, and told to be for what it is for unless
    one function is told of all."""
    lines = _start(heading)
    table, flashes, _ = _apertures(pads, grow_mm, pad_function)
    lines += table
    lines += _regions(region, region_function)
    lines += flashes
    return _finished(lines)


@dataclass(frozen=True)
class Drawn:
    """Copper that is drawn as a region: its net ("" for none), what it is for, the region."""

    net: str
    function: str
    region: BaseGeometry


def copper_layer(
    heading: Heading, regions: Sequence[Drawn], tracks: Sequence[Track], vias: Sequence[Via], pads: Sequence[PlacedPad]
) -> bytes:
    """A layer of copper: art and pours as regions, tracks as lines, vias and pads flashed, each with its net."""
    table, flashes, codes = _apertures(pads, 0.0)
    lines = [*_start(heading), *table]
    code = 10 + codes
    widths: dict[str, int] = {}
    for name, function in [(f"C,{one.width:.6f}", "Conductor") for one in tracks] + [
        (f"C,{one.diameter:.6f}", "ViaPad") for one in vias
    ]:
        key = f"{function} {name}"
        if key not in widths:
            widths[key] = code
            lines += [f"%TA.AperFunction,{function}*%", f"%ADD{code}{name}*%", "%TD*%"]
            code += 1
    lines += _drawn(regions)
    for one in sorted(tracks, key=lambda one: (one.width, one.net)):
        lines += [f"D{widths[f'Conductor C,{one.width:.6f}']}*", f"%TO.N,{escaped(one.net)}*%"]
        points = _whole(np.array(one.points)).tolist()
        lines.append(f"X{points[0][0]}Y{points[0][1]}D02*")
        lines += [f"X{x}Y{y}D01*" for x, y in points[1:]]
    for via in vias:
        x, y = _whole(np.array([via.x, via.y])).tolist()
        lines += [f"D{widths[f'ViaPad C,{via.diameter:.6f}']}*", f"%TO.N,{escaped(via.net)}*%", f"X{x}Y{y}D03*"]
    if tracks or vias:
        lines.append("%TD*%")
    return _finished([*lines, *flashes])


def _drawn(regions: Sequence[Drawn]) -> list[str]:
    """Regions of several nets, level by level: what stands in the hole of one may belong to another."""
    parts = [(part, one) for one in regions for part in polygons(one.region)]
    if not parts:
        return []
    by_part = {id(part): one for part, one in parts}
    lines: list[str] = []
    dark = True
    for level in _levels([part for part, _ in parts]):
        if not dark:
            lines.append("%LPD*%")
        for net, function in dict.fromkeys((by_part[id(part)].net, by_part[id(part)].function) for part in level):
            mine = [part for part in level if (by_part[id(part)].net, by_part[id(part)].function) == (net, function)]
            lines += [f"%TA.AperFunction,{function}*%", *([f"%TO.N,{escaped(net)}*%"] if net else [])]
            lines += [*_filled([part.exterior for part in mine]), "%TD*%"]
        holes = [ring for part in level for ring in part.interiors]
        dark = not holes
        if holes:
            lines += ["%LPC*%", *_filled(holes)]
    if not dark:
        lines.append("%LPD*%")
    return lines


def profile_layer(heading: Heading, outline: Polygon) -> bytes:
    """The board's edge and its routed cut-outs as closed lines."""
    lines = _start(heading)
    lines += ["%TA.AperFunction,Profile*%", "%ADD10C,0.100000*%", "%TD*%", "D10*", "G01*"]
    lines.append(contours(shapely.get_rings([outline]), filled=False))
    return _finished(lines)


def board_heading(board: Board, edited: str, function: str, polarity: str = "Positive") -> Heading:
    """The heading of one of a board's files."""
    return Heading(function, polarity, board.name, edited.replace("Z", "+00:00"))


def escaped(text: str) -> str:
    """A string as an attribute field may hold it: `%*,\\` and what is not ASCII as Unicode escapes, of four digits after `\\u`
    or eight after `\\U`."""
    return "".join(letter if _is_plain(letter) else _escape(ord(letter)) for letter in text)


def _is_plain(letter: str) -> bool:
    return letter.isascii() and letter.isprintable() and letter not in "%*,\\"


def _escape(code: int) -> str:
    return f"\\u{code:04X}" if code <= 0xFFFF else f"\\U{code:08X}"


def guid(name: str) -> str:
    """A project's identity from its name alone: the same project gives the same bytes."""
    return str(uuid5(_PROJECTS, name))


def _start(heading: Heading) -> list[str]:
    return [
        f"%TF.GenerationSoftware,Outlined Glow,Outlined Glow,{__version__}*%",
        f"%TF.CreationDate,{heading.created}*%",
        f"%TF.ProjectId,{escaped(heading.project)},{guid(heading.project)},1*%",
        "%TF.SameCoordinates,Original*%",
        "%TF.Part,Single*%",
        f"%TF.FileFunction,{heading.function}*%",
        *([f"%TF.FilePolarity,{heading.polarity}*%"] if heading.polarity else []),
        "%FSLAX46Y46*%",
        "%MOMM*%",
        "%LPD*%",
        "G01*",
    ]


def _finished(lines: list[str]) -> bytes:
    return ("\n".join([*lines, "M02*"]) + "\n").encode("ascii")


def _whole(points: NDArray[np.float64]) -> NDArray[np.int64]:
    return np.round(points * UNITS).astype(np.int64)


def _regions(region: BaseGeometry, function: str) -> list[str]:
    lines: list[str] = []
    if region.is_empty:
        return lines
    lines.append(f"%TA.AperFunction,{function}*%")
    dark = True
    for level in _levels(polygons(region)):
        if not dark:
            lines.append("%LPD*%")
        lines += _filled([part.exterior for part in level])
        holes = [ring for part in level for ring in part.interiors]
        dark = not holes
        if holes:
            lines += ["%LPC*%", *_filled(holes)]
    if not dark:
        lines.append("%LPD*%")
    return [*lines, "%TD*%"]


def _filled(rings: list[LinearRing]) -> list[str]:
    text = contours(np.array(rings, dtype=object), filled=True)
    return [text] if text else []


def _levels(parts: list[Polygon]) -> list[list[Polygon]]:
    """Polygons by how many others enclose them: what stands in a hole is drawn after the hole is cleared."""
    if len(parts) == 1:
        return [parts]
    shells = [Polygon(part.exterior) for part in parts]
    tree = shapely.STRtree(shells)
    spots = [part.representative_point() for part in parts]
    inner, outer = tree.query(spots, predicate="within")
    depth = [0] * len(parts)
    for one, other in zip(inner.tolist(), outer.tolist(), strict=True):
        if one != other and shells[other].area > shells[one].area:
            depth[one] += 1
    return [[part for part, at in zip(parts, depth, strict=True) if at == level] for level in sorted(set(depth))]


def _apertures(pads: Sequence[PlacedPad], grow_mm: float, function: str = "") -> tuple[list[str], list[str], int]:
    """Definitions of the apertures that the pads need, the flashes, and how many apertures there are."""
    codes: dict[tuple[str, str], int] = {}
    flashes: list[str] = []
    current = 0
    wired = any(pad.net for pad in pads)
    for pad in pads:
        shape = _aperture(pad, grow_mm)
        purpose = function or ("ComponentPad" if pad.drill_mm else "SMDPad,CuDef")
        code = codes.setdefault((purpose, shape), 10 + len(codes))
        x, y = _whole(np.array([pad.x, pad.y])).tolist()
        if current != code:
            flashes.append(f"D{code}*")
            current = code
        flashes.append(f"%TO.P,{escaped(pad.ref)},{escaped(pad.pin)}*%")
        if wired:
            flashes.append(f"%TO.C,{escaped(pad.ref)}*%")
            flashes.append(f"%TO.N,{escaped(pad.net) or 'N/C'}*%")
        flashes.append(f"X{x}Y{y}D03*")
    if not codes:
        return [], [], 0
    table = [_MACRO] if any(shape.startswith("TurnedBox") for _, shape in codes) else []
    for purpose in dict.fromkeys(purpose for purpose, _ in codes):
        table.append(f"%TA.AperFunction,{purpose}*%")
        table += [f"%ADD{code}{shape}*%" for (mine, shape), code in codes.items() if mine == purpose]
        table.append("%TD*%")
    return table, [*flashes, "%TD*%"], len(codes)


def _aperture(pad: PlacedPad, grow_mm: float) -> str:
    width, height, angle_deg = pad.width + 2 * grow_mm, pad.height + 2 * grow_mm, pad.angle_deg
    if pad.round:
        return f"C,{width:.6f}"
    quarter = angle_deg / 90
    if abs(quarter - round(quarter)) < 1e-7:
        if round(quarter) % 2:
            width, height = height, width
        return f"R,{width:.6f}X{height:.6f}"
    return f"TurnedBox,{width:.6f}X{height:.6f}X{angle_deg:.6f}"
