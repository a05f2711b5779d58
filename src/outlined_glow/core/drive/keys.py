"""The keys of the ways to drive LEDs, with what people read: the edits name them without loading what builds circuits."""

from __future__ import annotations

#: Which controller: whichever fits, or none at all; no regulator, no second source, no latch.
ANY, NO_CONTROLLER, NO_REGULATOR, NO_SOURCE, NO_LATCH = "any", "none", "none", "none", "none"
#: The logic family, where none is told; the families there are to choose from.
ANY_FAMILY, FAMILIES = "any", ("HC", "HCT", "4000")
#: The controller of one's own, and a pin that is whichever is free.
OWN, ANY_PIN = "own", "any"
#: Every way, in the order they are offered; a test compares them with the methods.
TITLES: tuple[tuple[str, str], ...] = (
    ("each", "one resistor each"),
    ("shared", "one resistor for all"),
    ("strings", "strings in series"),
    ("scan", "row-and-column scan"),
    ("charlieplex", "charlieplex"),
    ("shift-register", "shift registers"),
    ("sink", "constant-current sinks"),
    ("pixels", "one-wire pixel chain"),
    ("counter-chaser", "timer and decade counter"),
    ("ripple", "ripple counter"),
    ("decade-digits", "counters for digits"),
    ("decoder", "decoders for digits"),
    ("pins", "controller pins"),
    ("filament", "filament lamps"),
    ("tube", "digit tubes"),
)
KEYS = tuple(key for key, _ in TITLES)
#: The columns of the table of ways: key, heading, width in pixels (0: what is left).
WAY_COLUMNS: tuple[tuple[str, str, int], ...] = (
    ("title", "way", 216),
    ("verdict", "verdict", 124),
    ("pins", "pins", 40),
    ("parts", "parts", 44),
    ("bars", "average, peak", 82),
    ("current", "average", 68),
    ("light", "light", 58),
    ("refresh", "refresh", 60),
    ("price", "parts cost", 70),
    ("hours", "lasts", 58),
    ("all", "for all pieces", 92),
    ("peak", "peak, each LED", 98),
    ("worst", "at worst, each", 98),
    ("tall", "stands up", 74),
    ("heat", "heat", 66),
    ("standing", "with all off", 82),
    ("joints", "joints", 52),
    ("minutes", "by hand", 64),
    ("later", "changed later", 96),
)
