"""What the files of a wired board make, read with nothing but a geometry library: Gerber, drill, IPC-D-356A.

It shares no code with the application: neither its readers nor its check.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field

import shapely
from shapely.geometry import LineString, Point, Polygon, box
from shapely.geometry.base import BaseGeometry

#: The holes of wires in the place of plated ones: their lands are drawn without a hole, or with it.
HOLE_MM = 0.8
#: Rounding of the files, mm.
_ROUND = 0.002


@dataclass
class Files:
    """Copper by side, plated holes (x, y, diameter), test points (net, pin, x, y, sides), the narrowest line."""

    copper: dict[str, BaseGeometry] = field(default_factory=dict)
    plated: list[tuple[float, float, float]] = field(default_factory=list)
    bare: list[tuple[float, float, float]] = field(default_factory=list)
    points: list[tuple[str, str, float, float, tuple[str, ...]]] = field(default_factory=list)
    narrowest: float = 1e9


def read(files: Mapping[str, bytes]) -> Files:
    out = Files()
    for name, data in files.items():
        text = data.decode("utf-8", "replace")
        if name.endswith("copper-front.gbr"):
            out.copper["front"] = _gerber(text, out)
        elif name.endswith("copper-back.gbr"):
            out.copper["back"] = _gerber(text, out)
        elif name.endswith("-plated.xnc"):
            out.plated = _drill(text)
        elif name.endswith("-unplated.xnc"):
            out.bare = _drill(text)
        elif name.endswith(".ipc"):
            out.points = _points(text)
    return out


def _gerber(text: str, out: Files) -> BaseGeometry:
    shapes: dict[str, BaseGeometry] = {}
    stack: list[tuple[bool, list[BaseGeometry]]] = [(True, [])]
    width: dict[str, float] = {}
    turned: list[tuple[float, float]] = []
    here, tool, inside = (0.0, 0.0), "", False
    for block in re.findall(r"%[^%]*%|[^*%]+\*", text.replace("\n", "")):
        if block.startswith("%AD"):
            code, shape, numbers = re.fullmatch(r"%ADD(\d+)(\w+),([\d.X-]+)\*%", block).groups()  # type: ignore[union-attr]
            sizes = [float(one) for one in numbers.split("X")]
            if shape == "C":
                shapes[code], width[code] = Point(0, 0).buffer(sizes[0] / 2, quad_segs=32), sizes[0]
            else:
                one = box(-sizes[0] / 2, -sizes[1] / 2, sizes[0] / 2, sizes[1] / 2)
                shapes[code] = shapely.affinity.rotate(one, sizes[2], origin=(0, 0)) if shape == "TurnedBox" else one
        elif block.startswith("%LP"):
            stack.append((block[3] == "D", []))
        elif block.startswith("%"):
            continue
        elif block == "G36*":
            inside = True
        elif block == "G37*":
            inside = False
            if len(turned) > 3:
                stack[-1][1].append(Polygon(turned).buffer(0))
            turned = []
        elif move := re.fullmatch(r"X(-?\d+)Y(-?\d+)D0([123])\*", block):
            there = (int(move[1]) / 1e6, int(move[2]) / 1e6)
            if inside and move[3] == "2":
                if len(turned) > 3:
                    stack[-1][1].append(Polygon(turned).buffer(0))
                turned = [there]
            elif inside:
                turned.append(there)
            elif move[3] == "1":
                out.narrowest = min(out.narrowest, width[tool])
                stack[-1][1].append(LineString([here, there]).buffer(width[tool] / 2, quad_segs=32))
            elif move[3] == "3":
                stack[-1][1].append(shapely.affinity.translate(shapes[tool], *there))
            here = there
        elif code := re.fullmatch(r"D(\d\d+)\*", block):
            tool = code[1]
    image: BaseGeometry = Polygon()
    for dark, drawn in stack:
        area = shapely.union_all(drawn)
        image = image.union(area) if dark else image.difference(area)
    return image


def _drill(text: str) -> list[tuple[float, float, float]]:
    sizes = dict(re.findall(r"^T(\d+)C([\d.]+)$", text, re.M))
    out, across = [], 0.0
    for line in text.splitlines():
        if re.fullmatch(r"T\d+", line):
            across = float(sizes[line[1:]])
        elif place := re.fullmatch(r"X(-?[\d.]+)Y(-?[\d.]+)", line):
            out.append((float(place[1]), float(place[2]), across))
    return out


def _points(text: str) -> list[tuple[str, str, float, float, tuple[str, ...]]]:
    names = dict(re.findall(r"^P  (NNAME\d+) (.*)$", text, re.M))
    sides = {"0": ("front", "back"), "1": ("front",), "2": ("back",)}
    out = []
    for line in text.splitlines():
        if line[:3] in ("317", "327"):
            net = line[3:17].strip()
            pin = f"{line[20:26].strip()}.{line[27:31].strip()}" if line[26] == "-" else ""
            x, y = int(line[42:49]) / 1000, int(line[50:57]) / 1000
            out.append((names.get(net, net), pin, x, y, sides[line[40]]))
    return out


def faults(files: Mapping[str, bytes], gap: float, track: float) -> list[str]:
    """Everything that is wrong: opens, shorts, copper nearer than the gap, lines under the width, holes in copper."""
    found = read(files)
    pieces = [(side, one) for side, region in found.copper.items() for one in shapely.get_parts(region) if one.area > 1e-9]
    group = list(range(len(pieces)))

    def top(one: int) -> int:
        while group[one] != one:
            one = group[one]
        return one

    trees = {side: _Tree(side, pieces) for side in ("front", "back")}
    for x, y, across in found.plated:
        met = [at for tree in trees.values() for at in tree.near(x, y, across / 2 + 0.01)]
        for one in met[1:]:
            group[top(one)] = top(met[0])
    for wire in {pin.split(".")[0] for _, pin, *_ in found.points if re.fullmatch(r"W\d+\.[12]", pin)}:
        # A wire stands in the place of plated holes: its ends are soldered to what lies there.
        ends = [point for point in found.points if point[1] in (f"{wire}.1", f"{wire}.2")]
        met = [at for _, _, x, y, sides in ends for side in sides for at in trees[side].near(x, y, 0.01 + HOLE_MM / 2)]
        for one in met[1:]:
            group[top(one)] = top(met[0])
    out = [f"a line is {found.narrowest:.3f} mm wide"] if found.narrowest < track - _ROUND else []
    owners: dict[int, set[str]] = {}
    where: dict[str, set[int]] = {}
    for net, pin, x, y, sides in found.points:
        reach = 0.01 + (HOLE_MM / 2 if re.fullmatch(r"W\d+\.[12]", pin) else 0.0)
        met = [at for side in sides for at in trees[side].near(x, y, reach)]
        for at in met:
            name = net if net != "N/C" else f"N/C {pin}"
            owners.setdefault(top(at), set()).add(name)
            where.setdefault(name, set()).add(top(at))
        if pin and not met:
            out.append(f"no copper at {pin}")
    out += [f"open: {net}" for net, tops in where.items() if len(tops) > 1]
    out += [f"short: {' and '.join(sorted(nets))}" for nets in owners.values() if len(nets) > 1]
    out += _near(pieces, top, owners, gap)
    wires = {(x, y) for _, pin, x, y, _ in found.points if re.fullmatch(r"W\d+\.[12]", pin)}
    for x, y, across in found.bare:
        if any(abs(x - a) + abs(y - b) < 0.01 for a, b in wires):
            continue  # its land is what the wire is soldered to
        met = [at for tree in trees.values() for at in tree.near(x, y, across / 2)]
        out += [f"copper in an unplated hole at {x:.2f}, {y:.2f}" for _ in met]
    return out


class _Tree:
    """The pieces of a side, to be asked what lies near a place."""

    def __init__(self, side: str, pieces: list[tuple[str, BaseGeometry]]) -> None:
        self._at = [at for at, (where, _) in enumerate(pieces) if where == side]
        self._tree = shapely.STRtree([pieces[at][1] for at in self._at])

    def near(self, x: float, y: float, reach: float) -> list[int]:
        return [self._at[one] for one in self._tree.query(Point(x, y), predicate="dwithin", distance=reach).tolist()]


def _near(pieces: list[tuple[str, BaseGeometry]], top, owners: dict[int, set[str]], gap: float) -> list[str]:  # type: ignore[no-untyped-def]
    out = []
    for side in ("front", "back"):
        rows = [at for at, (where, _) in enumerate(pieces) if where == side]
        tree = shapely.STRtree([pieces[at][1] for at in rows])
        ones, others = tree.query([pieces[at][1] for at in rows], predicate="dwithin", distance=gap - _ROUND)
        for one, other in zip(ones.tolist(), others.tolist(), strict=True):
            a, b = rows[one], rows[other]
            if a < b and top(a) != top(b) and (top(a) in owners or top(b) in owners):
                far = pieces[a][1].distance(pieces[b][1])
                names = [", ".join(sorted(owners.get(top(at), {"art"}))) for at in (a, b)]
                out.append(f"{far:.3f} mm between {names[0]} and {names[1]}")
    return out
