"""The nets that the files of a package make, against its test file (IPC-D-356A): opens and shorts.

It works on the regions that the files draw, joined to whole pieces, and on the plated holes; it shares nothing with the check
of the board.
"""

from __future__ import annotations

import cmath
import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import shapely
from shapely.geometry import Point
from shapely.geometry.base import BaseGeometry

from ...parts import PlacedPart
from ...parts.nets import Net

_ROW = re.compile(
    r"^(?P<code>3[12]7)(?P<net>.{14}) {3}(?P<ref>.{6})(?P<dash>[- ])(?P<pin>.{4}).(?:D\d{4}[PU]| {6})A(?P<side>0[012])"
    r"X(?P<x>[+-]\d{6})Y(?P<y>[+-]\d{6})"
)
_NAME = re.compile(r"^P  (?P<alias>NNAME\d+) (?P<name>.*)$")
#: How a reference, or a pin of one, that there is no room for is called in the rows.
_REFERENCE = re.compile(r"^C  REFERENCE (?P<short>\S+) (?P<name>.*)$")
_PIN = re.compile(r"^C  PIN (?P<ref>\S+) (?P<short>\S+) (?P<name>.*)$")
_SIDES = {"01": ("front",), "02": ("back",), "00": ("front", "back")}
_UNCONNECTED = "N/C"
#: The pins of wires that stand in the place of plated holes.
_LINK = re.compile(r"W\d+\.[12]$")
#: A pin lies where its land pattern has it, if it is no farther off, mm.
_LAND_MM = 0.01
#: A piece meets a hole whose wall comes this near to it, mm.
_WALL_MM = 0.01


class NotATestFile(ValueError):
    """The bytes are no test file; the text says where."""


@dataclass(frozen=True)
class TestPoint:
    """A place where a net ("" for none) comes to the surface: pin (“D1.2”, or “” for a via), place in mm, sides."""

    __test__ = False

    net: str
    pin: str
    x: float
    y: float
    sides: tuple[str, ...]


@dataclass(frozen=True)
class Fault:
    """What is wrong with a net, in a sentence, and where if there is a place."""

    text: str
    x: float | None = None
    y: float | None = None


def net_faults(
    files: Mapping[str, bytes], regions: Mapping[str, BaseGeometry], holes: Sequence[tuple[float, float, float, bool]],
    nets: Sequence[Net] | None, wired: bool, parts: Sequence[PlacedPart] = (),
) -> list[Fault]:  # fmt: skip
    """What the files of a package join, against their test file, and that against the nets and parts of the board where it is
    known."""
    name = next((one for one in files if one.lower().endswith(".ipc")), None)
    if name is None:
        return [Fault("The test file with the nets (IPC-D-356A) is missing.")] if wired else []
    try:
        points = read_test_file(files[name].decode("ascii"))
    except (NotATestFile, UnicodeDecodeError) as error:
        return [Fault(f"“{name}” cannot be read: {error}.")]
    copper = {side: regions[f"{side} copper"] for side in ("front", "back") if f"{side} copper" in regions}
    if len(copper) < 2:
        return []
    found = [*_against_nets(points, nets or ()), *_against_parts(points, parts), *faults(points, copper, holes)]
    return [Fault(f"{one.text} at x {one.x:.2f} y {one.y:.2f} mm.", one.x, one.y) for one in found]


def _against_nets(points: Sequence[TestPoint], nets: Sequence[Net]) -> list[Fault]:
    """Pins that the test file gives to another net than the board does."""
    wanted = {_in_ascii(f"{ref}.{pin}"): net.name for net in nets for ref, pin in net.pins}
    told = {point.pin: point for point in points if point.pin and not _LINK.match(point.pin)} if nets else {}
    return [
        Fault(f"The test file gives {pin} to {_told(point.net)}, not to {_told(wanted.get(pin, ''))}", point.x, point.y)
        for pin, point in told.items()
        if point.net != _in_ascii(wanted.get(pin, ""))
    ]


def _against_parts(points: Sequence[TestPoint], parts: Sequence[PlacedPart]) -> list[Fault]:
    """Parts whose pins are not where their land pattern has them: seen from the wrong side, turned, or moved."""
    told: dict[str, list[complex]] = {}
    for point in points:
        told.setdefault(point.pin, []).append(complex(point.x, point.y))
    out = []
    for part in parts:
        turn = cmath.rect(1.0, math.radians(part.angle_deg))
        lands = [(_in_ascii(f"{part.ref}.{pad.pin}"), complex(pad.x_mm, pad.y_mm)) for pad in part.part.pads]
        seen = [(name, z.conjugate() if part.side == "back" else z) for name, z in lands]
        here = complex(part.x, part.y)
        off = [name for name, z in seen if _apart(here + turn * z, told.get(name, ()))]
        if not off:
            continue
        mirrored = not any(_apart(here + turn * z.conjugate(), told.get(name, ())) for name, z in seen)
        what = "lies mirrored" if mirrored else f"has {off[0].split('.')[-1]} elsewhere than its land pattern"
        out.append(Fault(f"{part.ref} {what}, in the test file", part.x, part.y))
    return out


def _apart(wanted: complex, told: Sequence[complex]) -> bool:
    """Whether a pin that the file has lies elsewhere."""
    return bool(told) and min(abs(wanted - one) for one in told) > _LAND_MM


def _told(net: str) -> str:
    return f"“{net}”" if net else "no net"


def _in_ascii(text: str) -> str:
    """A name as the test file has it: what it takes no letter for stands there by its number."""
    return re.sub(r"[^ -\[\]-~]", lambda found: f"\\{ord(found[0]):X}\\", text)


def read_test_file(text: str) -> list[TestPoint]:
    """Every pad and via of a test file."""
    names: dict[str, str] = {}
    refs: dict[str, str] = {}
    pins: dict[tuple[str, str], str] = {}
    out = []
    for number, line in enumerate(text.splitlines(), 1):
        if named := _NAME.match(line):
            names[named["alias"]] = named["name"]
        elif named := _REFERENCE.match(line):
            refs[named["short"]] = named["name"]
        elif named := _PIN.match(line):
            pins[named["ref"], named["short"]] = named["name"]
        if not line.startswith(("317", "327")):
            continue
        row = _ROW.match(line)
        if row is None:
            raise NotATestFile(f"line {number}")
        short, ref, pin = row["net"].strip(), row["ref"].strip(), row["pin"].strip()
        net = "" if short == _UNCONNECTED else names.get(short, short)
        label = f"{refs.get(ref, ref)}.{pins.get((ref, pin), pin)}" if row["dash"] == "-" else ""
        out.append(TestPoint(net, label, int(row["x"]) / 1000, int(row["y"]) / 1000, _SIDES[row["side"]]))
    return out


def faults(
    points: Sequence[TestPoint], copper: Mapping[str, BaseGeometry], holes: Sequence[tuple[float, float, float, bool]]
) -> list[Fault]:
    """Opens and shorts of copper (by side) with drilled holes (x, y, diameter, plated)."""
    pieces = [(side, one) for side, region in copper.items() for one in shapely.get_parts(region) if one.area > 0]
    parent = list(range(len(pieces)))

    def root(one: int) -> int:
        while parent[one] != one:
            parent[one] = parent[parent[one]]
            one = parent[one]
        return one

    trees = {side: [at for at, (where, _) in enumerate(pieces) if where == side] for side in ("front", "back")}
    index = {side: shapely.STRtree([pieces[at][1] for at in rows]) for side, rows in trees.items()}
    for x, y, across, plated in holes:
        met = []
        for side, tree in index.items() if plated else ():
            hit = tree.query(Point(x, y), predicate="dwithin", distance=across / 2 + _WALL_MM)
            met += [trees[side][at] for at in hit.tolist()]
        for one in met[1:]:
            parent[root(one)] = root(met[0])
    for ends in _wires(points).values():
        met = [
            trees[side][at]
            for one in ends
            for side in one.sides
            for at in index[side].query(Point(one.x, one.y), predicate="dwithin", distance=_WALL_MM).tolist()
        ]
        for one in met[1:]:
            parent[root(one)] = root(met[0])
    groups: dict[str, dict[int, TestPoint]] = {}
    owners: dict[int, dict[str, TestPoint]] = {}
    out = []
    for point in points:
        found = []
        for side in point.sides:
            hit = index[side].query(Point(point.x, point.y), predicate="dwithin", distance=_WALL_MM)
            found += [root(trees[side][at]) for at in hit.tolist()]
            if not len(hit) and point.pin:
                out.append(Fault(f"There is no copper at {point.pin} on the {side}", point.x, point.y))
        for one in found:
            net = point.net or f"{point.pin} (not connected)"
            if point.pin:
                groups.setdefault(net, {}).setdefault(one, point)
            owners.setdefault(one, {}).setdefault(net, point)
    return out + _opens(groups) + _shorts(owners)


def _wires(points: Sequence[TestPoint]) -> dict[str, list[TestPoint]]:
    """The ends of each wire that stands in the place of plated holes."""
    out: dict[str, list[TestPoint]] = {}
    for point in points:
        if _LINK.match(point.pin):
            out.setdefault(point.pin.split(".")[0], []).append(point)
    return out


def _opens(groups: Mapping[str, Mapping[int, TestPoint]]) -> list[Fault]:
    out = []
    for net, found in groups.items():
        first, *rest = found.values()
        if rest and len({point.pin for point in found.values()}) > 1:
            text = f"Net “{net}” is open: {rest[0].pin} is not joined with {first.pin}"
            out.append(Fault(text, rest[0].x, rest[0].y))
    return out


def _shorts(owners: Mapping[int, Mapping[str, TestPoint]]) -> list[Fault]:
    out = []
    for found in owners.values():
        if len(found) > 1:
            first, second = list(found)[:2]
            out.append(Fault(f"The nets “{first}” and “{second}” are joined", found[second].x, found[second].y))
    return out
