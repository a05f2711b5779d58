"""Outlined Glow: from a picture to a decorative circuit board that lights up."""

__version__ = "0.1.0"
