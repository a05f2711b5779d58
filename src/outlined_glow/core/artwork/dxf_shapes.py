"""Entities of a DXF file as outlines, where the blocks that hold them are laid."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np

from .drawing import Points, Subpath
from .spline import cubics


@dataclass(frozen=True)
class Within:
    """Where entities stand: in the model itself, or in a block that `matrix` (ezdxf, block to model) lays into it, on a layer
    and in a colour that those of its entities take that have none of their own."""

    matrix: Any = None
    layer: str = "0"
    colour: str | None = None

    def laid(self, path: Any) -> Any:
        """A path of ezdxf in the model."""
        return path if self.matrix is None else path.transform(self.matrix)

    def places(self, vertices: Iterable[Any]) -> Points:
        """Vertices of ezdxf in the model (n, 2)."""
        there = vertices if self.matrix is None else self.matrix.transform_vertices(vertices)
        return np.array([(one.x, one.y) for one in there], float).reshape(-1, 2)

    @property
    def scale(self) -> float:
        """How many times as wide a line becomes, in the mean of all directions."""
        if self.matrix is None:
            return 1.0
        (ax, ay, _), (bx, by, _) = (self.matrix.transform_direction(one) for one in ((1, 0, 0), (0, 1, 0)))
        return float(np.sqrt(abs(ax * by - ay * bx)))


#: A corner of a polyline that is none of the curve laid through it, but of the frame that the curve was made from.
_FRAME = 16


def without_frame(polyline: Any) -> None:
    """Take away what of a polyline is not drawn: where it was made a curve, it holds the corners of before too."""
    drawn = [one for one in polyline.vertices if not int(one.dxf.get("flags", 0)) & _FRAME]
    if drawn:
        polyline.vertices[:] = drawn


def boundaries_of(entity: Any) -> list[Any]:
    """What bounds a hatch or a polygon, as paths of ezdxf: of a hatch those that its style counts (all that lie in one another,
    the outermost two, or the outer one alone)."""
    from ezdxf import path
    from ezdxf.math import Vec3

    filled = entity.dxftype() == "MPOLYGON"
    bounds = entity.paths if filled else entity.paths.rendering_paths(entity.dxf.get("hatch_style", 0))
    offset = entity.dxf.get("offset_vector", (0, 0, 0)) if filled else (0, 0, 0)
    laid = (path.from_hatch_boundary_path(one, entity.ocs(), entity.dxf.elevation.z, Vec3(offset)) for one in bounds)
    return [part for one in laid for part in one.sub_paths()]


def spline_of(entity: Any, within: Within) -> Subpath:
    """A spline as it is defined, over the domain of its knots."""
    curve = entity.construction_tool()
    controls = within.places(curve.control_points)
    knots, weights = np.array(curve.knots(), float), np.array(curve.weights(), float)
    for given in (controls, knots, weights):
        refuse_far(given)
    start, curves = cubics(controls, knots, int(curve.degree), weights)
    refuse_far(np.vstack([start[None], curves.reshape(-1, 2)]))
    size = float(np.ptp(curves.reshape(-1, 2), axis=0).max())
    meets = float(np.hypot(*(curves[-1, 2] - start))) < 1e-6 * max(size, 1e-12)
    return Subpath(start, curves, bool(entity.closed) or meets)


def refuse_far(points: Points) -> None:
    """ValueError where a number is none, or beyond all drawings."""
    if not np.isfinite(points).all() or np.abs(points).max(initial=0) > 1e7:
        raise ValueError("a place beyond reason")


def subpath_of(path: Any, closed: bool) -> Subpath | None:
    """A path of ezdxf as line and cubic segments; None if it has none, ValueError if it is nowhere."""
    start = np.array([path.start.x, path.start.y], float)
    rows: list[float] = []
    here = start
    for command in path.commands():
        end = np.array([command.end.x, command.end.y], float)
        kind = command.type.name
        if kind == "LINE_TO":
            rows += (*here, *end, *end)
        elif kind == "CURVE3_TO":
            control = np.array([command.ctrl.x, command.ctrl.y], float)
            rows += (*(here + (control - here) * 2 / 3), *(end + (control - end) * 2 / 3), *end)
        elif kind == "CURVE4_TO":
            rows += (command.ctrl1.x, command.ctrl1.y, command.ctrl2.x, command.ctrl2.y, *end)
        else:
            continue
        here = end
    curves = np.array(rows, float).reshape(-1, 3, 2)
    refuse_far(np.vstack([start[None], curves.reshape(-1, 2)]))
    return Subpath(start, curves, closed) if len(curves) else None


def polygon_of(corners: Points) -> Subpath:
    """Corners (n, 2) as a closed outline; ValueError if one lies nowhere."""
    refuse_far(corners)
    return Subpath(corners[0], np.stack([corners[:-1], corners[1:], corners[1:]], axis=1), True)
