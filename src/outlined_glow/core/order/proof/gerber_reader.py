"""A Gerber reader of its own: commands to dark and clear areas, and so to a region.

It reads what the standard allows (circle, rectangle, obround, polygon and macro apertures, lines, arcs,
regions, polarity) and says so when a file holds something else.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import affinity
from shapely.geometry import LineString, MultiPolygon, Point, Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from ...geometry.flatten import quarter_segments
from ...geometry.overlay import overlay
from .digits import rows_of

#: Tables that leave of a run of coordinates its letters, and its numbers with blanks between.
_WORD = re.compile(r"([XYIJD])([+-]?\d+)|G0?(\d+)|M0?(\d+)")
_ARC_STEP_DEG = 3.0
#: How far the chords of a round aperture may lie inside it, mm, and how many a quarter of it has at most: a thousand vias have
#: no more corners than it takes.
_INSIDE_MM, _MOST_CHORDS = 5e-5, 256
#: No board reaches farther (mm), and no coordinate of one has more digits.
FARTHEST_MM, _MOST_DIGITS = 10_000.0, 12


class Unreadable(Exception):
    """The file is no Gerber this reader understands."""


def near(value: float) -> float:
    """A length or place in mm that a board may have; `Unreadable` names any other."""
    if not abs(value) <= FARTHEST_MM:  # NaN is none either
        raise Unreadable(f"{value:g} mm is farther than any board reaches")
    return value


@dataclass
class Layer:
    """What a file says: its attributes, its image, and for a profile the closed lines it draws."""

    attributes: dict[str, list[str]] = field(default_factory=dict)
    runs: list[tuple[bool, list[BaseGeometry]]] = field(default_factory=list)
    lines: list[list[tuple[float, float]]] = field(default_factory=list)

    def add(self, dark: bool, area: BaseGeometry) -> None:
        """One more object, in painting order."""
        if not self.runs or self.runs[-1][0] != dark:
            self.runs.append((dark, []))
        self.runs[-1][1].append(area)

    def region(self) -> BaseGeometry:
        """The image as one region: dark adds, clear takes away, in order."""
        image: BaseGeometry = MultiPolygon()
        for dark, areas in self.runs:
            together = unary_union(areas)
            image = overlay(shapely.union if dark else shapely.difference, image, together)
        return image

    def outline(self) -> BaseGeometry:
        """The area inside the largest closed line, less the others."""
        loops = [Polygon(line) for line in self.lines if len(line) >= 4 and line[0] == line[-1]]
        if not loops:
            return MultiPolygon()
        loops.sort(key=lambda loop: -loop.area)
        whole: BaseGeometry = overlay(shapely.difference, loops[0], unary_union(loops[1:])) if len(loops) > 1 else loops[0]
        return whole


def read_gerber(text: str) -> Layer:
    """The layer in a Gerber file; `Unreadable` names the command that is not understood."""
    return _Reader().read(text)


class _Reader:
    def __init__(self) -> None:
        self.layer = Layer()
        self.digits = 6
        self.scale = 1.0
        self.apertures: dict[int, tuple[str, list[float]]] = {}
        self.macros: dict[str, list[str]] = {}
        self.current: int | None = None
        self.dark = True
        self.mode = 1
        self.in_region = False
        self.contour: list[tuple[float, float]] = []
        self.x = self.y = 0.0
        self.ended = False

    def read(self, text: str) -> Layer:
        place = 0
        while place < len(text):
            if text[place] in "\r\n\t ":
                place += 1
            elif text[place] == "%":
                end = text.find("%", place + 1)
                if end < 0:
                    raise Unreadable("an extended command does not end")
                self._extended(text[place + 1 : end].replace("\n", "").replace("\r", ""))
                place = end + 1
            else:
                end = text.find("*", place)
                if end < 0:
                    raise Unreadable("a command does not end")
                self._word(text[place:end].strip())
                place = end + 1
                if self.in_region and self.mode == 1:
                    place = self._contours(text, place)
        if not self.ended:
            raise Unreadable("the file does not end with M02: it is cut short")
        return self.layer

    def _contours(self, text: str, place: int) -> int:
        """Read a run of plain moves and lines to the end of a region at once; the place behind it, or `place` if it is not."""
        end = text.find("G37*", place)
        block = text[place:end] if end > 0 else ""
        rows = rows_of(block)
        if rows is None:
            return place
        kinds, points = rows[:, 2], rows[:, :2] * (self.scale / 10**self.digits)
        moves = kinds == 2
        if not moves[0] or not (moves | (kinds == 1)).all():
            return place
        near(float(max(points.max(), -points.min())))
        for area in _areas_of(points, np.flatnonzero(moves)):
            self.layer.add(self.dark, area if area.is_valid else area.buffer(0))
        self.contour = []
        self.x, self.y = map(float, points[-1])
        return end

    def _extended(self, body: str) -> None:
        code = body[:2]
        content = body.rstrip("*")
        if code in ("TF", "TA", "TO"):
            if code == "TF":
                name, *words = content[2:].split(",")
                self.layer.attributes[name] = words
        elif code in ("TD", "LN", "IN", "IP"):
            return
        elif code == "FS":
            match = re.match(r"FSLAX\d(\d)Y\d(\d)$", content)
            if not match or match.group(1) != match.group(2):
                raise Unreadable(f"the format {content}")
            self.digits = int(match.group(1))
        elif code == "MO":
            self.scale = {"MM": 1.0, "IN": 25.4}[content[2:4]]
        elif code == "LP":
            self.dark = content[2] == "D"
        elif code == "AM":
            name, *blocks = body[2:].strip("*").split("*")
            self.macros[name] = blocks
        elif code == "AD":
            match = re.match(r"ADD(\d+)([A-Za-z_.$][A-Za-z_.$0-9-]*)(?:,(.*))?$", content)
            if not match:
                raise Unreadable(f"the aperture {content}")
            values = [near(float(value)) for value in (match.group(3) or "").split("X") if value]
            self.apertures[int(match.group(1))] = (match.group(2), values)
        elif code in ("LM", "LR", "LS") and content[2:] in ("N", "0", "0.0", "1", "1.0"):
            return
        else:
            raise Unreadable(f"the command {code}")

    def _word(self, word: str) -> None:
        if word.startswith(("G04", "G4 ")) or not word:
            return
        values: dict[str, int] = {}
        for letter, number, mode, stop in _WORD.findall(word):
            if len(number) > _MOST_DIGITS:
                raise Unreadable(f"the number {number[:20]}… has more digits than any coordinate")
            if letter:
                values[letter] = int(number)
            elif mode:
                self._mode(int(mode))
            elif stop and int(stop) in (0, 2):
                self.ended = True
        if "D" in values and values["D"] >= 10:
            self.current = values["D"]
            return
        if "X" in values or "Y" in values or "D" in values:
            self._operation(values)

    def _mode(self, number: int) -> None:
        if number in (1, 2, 3):
            self.mode = number
        elif number == 36:
            self.in_region, self.contour = True, []
        elif number == 37:
            self._close_contour()
            self.in_region = False
        elif number not in (54, 55, 70, 71, 74, 75, 90, 91):
            raise Unreadable(f"the command G{number:02d}")

    def _operation(self, values: dict[str, int]) -> None:
        unit = self.scale / 10**self.digits
        x = near(values["X"] * unit) if "X" in values else self.x
        y = near(values["Y"] * unit) if "Y" in values else self.y
        kind = values.get("D", 1)
        if kind == 2:
            if self.in_region:
                self._close_contour()
                self.contour = [(x, y)]
            else:
                self.layer.lines.append([(x, y)])
        elif kind == 1:
            centre = (self.x + values.get("I", 0) * unit, self.y + values.get("J", 0) * unit)
            path = [(x, y)] if self.mode == 1 else self._arc(x, y, centre)
            self._line(path)
        elif kind == 3:
            self.layer.add(self.dark, affinity.translate(self._shape(), x, y))
        else:
            raise Unreadable(f"the operation D{kind:02d}")
        self.x, self.y = x, y

    def _line(self, path: list[tuple[float, float]]) -> None:
        if self.in_region:
            self.contour += path
            return
        if not self.layer.lines:
            self.layer.lines.append([(self.x, self.y)])
        self.layer.lines[-1] += path
        name, values = self._aperture()
        if name != "C":
            raise Unreadable("a line drawn with an aperture that is not round")
        track = LineString([(self.x, self.y), *path])
        self.layer.add(self.dark, track.buffer(values[0] / 2, quad_segs=16))

    def _arc(self, x: float, y: float, centre: tuple[float, float]) -> list[tuple[float, float]]:
        radius = math.hypot(self.x - centre[0], self.y - centre[1])
        start = math.atan2(self.y - centre[1], self.x - centre[0])
        sweep = math.atan2(y - centre[1], x - centre[0]) - start
        if self.mode == 3 and sweep <= 1e-12:
            sweep += 2 * math.pi
        if self.mode == 2 and sweep >= -1e-12:
            sweep -= 2 * math.pi
        count = max(2, math.ceil(abs(math.degrees(sweep)) / _ARC_STEP_DEG))
        angles = [start + sweep * step / count for step in range(1, count)]
        return [(centre[0] + radius * math.cos(a), centre[1] + radius * math.sin(a)) for a in angles] + [(x, y)]

    def _close_contour(self) -> None:
        if len(self.contour) >= 4:
            area = Polygon(self.contour)
            self.layer.add(self.dark, area if area.is_valid else area.buffer(0))
        self.contour = []

    def _aperture(self) -> tuple[str, list[float]]:
        if self.current not in self.apertures:
            raise Unreadable(f"the aperture D{self.current} is used and nowhere defined")
        return self.apertures[self.current]

    def _shape(self) -> BaseGeometry:
        name, values = self._aperture()
        if name == "C":
            radius = values[0] * self.scale / 2
            return Point(0, 0).buffer(radius, quad_segs=_chords(radius))
        if name in ("R", "O"):
            w, h = values[0] * self.scale / 2, values[1] * self.scale / 2
            if name == "R":
                return box(-w, -h, w, h)
            short = min(w, h)
            middle = LineString([(short - w, short - h), (w - short, h - short)])
            return middle.buffer(short, quad_segs=_chords(short))
        if name == "P":
            turn = math.radians(values[2]) if len(values) > 2 else 0.0
            count, radius = int(values[1]), values[0] * self.scale / 2
            corners = [turn + 2 * math.pi * place / count for place in range(count)]
            return Polygon([(radius * math.cos(a), radius * math.sin(a)) for a in corners])
        if name in self.macros:
            return self._macro(self.macros[name], values)
        raise Unreadable(f"the aperture {name}")

    def _macro(self, blocks: list[str], values: list[float]) -> BaseGeometry:
        image: BaseGeometry = MultiPolygon()
        for block in blocks:
            fields = [self._number(part, values) for part in block.split(",")]
            code, on = int(fields[0]), fields[1] >= 0.5 if len(fields) > 1 else True
            k = self.scale
            if code == 0:
                continue
            if code == 1:
                radius = fields[2] * k / 2
                one: BaseGeometry = Point(fields[3] * k, fields[4] * k).buffer(radius, quad_segs=_chords(radius))
                turn = fields[5] if len(fields) > 5 else 0.0
            elif code == 21:
                w, h, x, y = (value * k for value in fields[2:6])
                one, turn = box(x - w / 2, y - h / 2, x + w / 2, y + h / 2), fields[6]
            elif code == 4:
                count = int(fields[2])
                rows = fields[3 : 3 + 2 * (count + 1)]
                one = Polygon([(rows[i] * k, rows[i + 1] * k) for i in range(0, len(rows), 2)])
                turn = fields[3 + 2 * (count + 1)]
            else:
                raise Unreadable(f"the macro primitive {code}")
            one = affinity.rotate(one, turn, origin=(0, 0)) if turn else one
            image = image.union(one) if on else image.difference(one)
        return image

    @staticmethod
    def _number(text: str, values: list[float]) -> float:
        text = text.strip()
        if text.startswith("$"):
            place = int(text[1:]) - 1
            return values[place] if place < len(values) else 0.0
        try:
            return float(text)
        except ValueError as error:
            raise Unreadable(f"the macro expression {text}") from error


def _chords(radius: float) -> int:
    """How many stand for a quarter of a circle, mm."""
    return min(_MOST_CHORDS, quarter_segments(radius, _INSIDE_MM))


def _areas_of(points: NDArray[np.float64], starts: NDArray[np.intp]) -> Iterable[Polygon]:
    """The areas of closed contours, one after another, that begin at those places; what has no area is none."""
    if len(starts) == 1:
        return [Polygon(points)] if len(points) >= 4 else []
    sizes = np.diff(starts, append=len(points))
    large = sizes >= 4
    which = np.repeat(np.arange(large.sum()), sizes[large])
    areas: Any = shapely.polygons(shapely.linearrings(points[np.repeat(large, sizes)], indices=which))
    return list(areas)
