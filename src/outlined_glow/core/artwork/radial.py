"""Radial gradients: circles that lead from a start circle to the unit circle, and on beyond both (SVG 2, 14.2.3).

The circle of a share t lies about f(1 - t) with radius r + t(1 - r): f is the middle of the start circle, the focus,
and r its radius. Of several circles through a place, the one of the largest share is seen.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.flatten import circle_points
from ..geometry.overlay import overlay
from .drawing import Points, Shade

#: Circles that all but touch are told apart by this share of how much larger each is than the one before.
_APART = 0.99
#: Places on each side of a box at which the shares of a cone are looked at.
_SEEN = 256


@dataclass(frozen=True)
class Circles:
    """The circles of a shade, in its own units."""

    x: float
    y: float
    radius: float

    @classmethod
    def of(cls, shade: Shade) -> Circles:
        """Those of a shade, moved by a hair where all of them would touch in one point."""
        radius = shade.focus_radius if abs(1 - shade.focus_radius) > 1e-4 else 1 - 1e-4
        x, y = shade.focus
        far, grows = float(np.hypot(x, y)), abs(1 - radius)
        if _APART * grows < far < grows * (2 - _APART):
            x, y = x * _APART * grows / far, y * _APART * grows / far
        return cls(x, y, radius)

    @property
    def nested(self) -> bool:
        """Whether each circle lies within the next, or the next within it; else they lie in a cone that they touch."""
        return float(np.hypot(self.x, self.y)) < abs(1 - self.radius)

    def shares(self, places: Points) -> NDArray[np.float64]:
        """The share at places (n, 2); NaN beside the cone."""
        dx, dy, grows = places[:, 0] - self.x, places[:, 1] - self.y, 1 - self.radius
        # |d + t f| = r + t (1 - r), squared.
        a = self.x * self.x + self.y * self.y - grows * grows
        b, c = dx * self.x + dy * self.y - self.radius * grows, dx * dx + dy * dy - self.radius * self.radius
        inside = b * b - a * c
        with np.errstate(invalid="ignore"):
            root = np.sqrt(np.maximum(inside, 0.0) if self.nested else inside)
            both = np.stack([(-b - root) / a, (-b + root) / a])
            both[self.radius + both * grows < -1e-9] = np.nan
            return np.asarray(np.fmax(both[0], both[1]))

    def reach(self, corners: Points) -> tuple[float, float]:
        """The lowest and highest share that can be seen between the corners (4, 2) of a box."""
        grows = 1 - self.radius
        dot = -self.radius / grows
        if self.nested and grows > 0:
            # The share is a convex function: it is largest at a corner.
            return dot, float(self.shares(corners).max()) * (1 + 1e-9)
        # How far the circles move on from a place, and how much they shrink or grow meanwhile.
        away = float(np.hypot(corners[:, 0] - self.x, corners[:, 1] - self.y).max())
        moved = abs(float(np.hypot(self.x, self.y)) - abs(grows))
        most = (self.radius + away) / moved + 1
        if not self.nested:
            # In a cone nearly as wide as half a plane that is far too much: the share is largest at the rim of the box.
            sides = zip(corners, np.roll(corners, -1, axis=0), strict=True)
            seen = self.shares(np.vstack([np.linspace(*side, _SEEN) for side in sides]))
            most = min(most, float(np.nanmax(seen)) + 0.5) if not np.isnan(seen).all() else most
        return (max(dot, -most), most) if grows > 0 else (-most, min(dot, most))

    def band(self, low: float, high: float, fine: float) -> BaseGeometry:
        """Where the shares from `low` to `high` are seen. Chords leave circles by at most `fine`."""
        first, last = self._disc(low, fine), self._disc(high, fine)
        if self.nested:
            whole, without = (last, first) if self.radius < 1 else (first, last)
            if whole.contains_properly(without) and isinstance(without, Polygon):
                return Polygon(shapely.get_exterior_ring(whole), [shapely.get_exterior_ring(without)])
        else:
            # What the circles go over on their way, less the last of them, in which further ones are seen.
            whole, without = shapely.convex_hull(shapely.geometrycollections([first, last])), last
        band: BaseGeometry = overlay(shapely.difference, whole, without) if isinstance(without, Polygon) else whole
        return band

    def _disc(self, share: float, fine: float) -> BaseGeometry:
        """The circle of a share; the point from which the circles come, or to which they go, where there is none."""
        grows = 1 - self.radius
        dot = -self.radius / grows
        share = max(share, dot) if grows > 0 else min(share, dot)
        x, y, radius = self.x * (1 - share), self.y * (1 - share), self.radius + share * grows
        return Polygon(circle_points(x, y, radius, fine)) if radius > fine else shapely.Point(x, y)
