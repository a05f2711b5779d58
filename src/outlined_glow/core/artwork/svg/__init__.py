"""Reading SVG: cascade, units, transforms, `use`, shapes and strokes, in painter's order."""

from .reader import read_svg

__all__ = ["read_svg"]
