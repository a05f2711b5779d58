"""Outlined Glow: from a picture to a decorative circuit board that lights up."""

__version__ = "0.1.0"

#: The demo boards, by the names of their folders in data/demos. (Here, since the window must know them without the core.)
DEMOS = ("moth", "tide-board", "frost-tags", "seed-room", "paper-boat")
