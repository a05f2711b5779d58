"""A small drawing of every way to drive LEDs: what lies between supply and ground, a letter for each thing.

`o` a terminal, `-` `|` `+` wires and where they join, `R` `r` a resistor down and across, `D` `U` `d` an LED that points down,
up and across, `s` a switch, `[` `=` `]` a chip, `x` a pixel, `L` a filament lamp, `8` a digit, `V` a tube.
"""

from __future__ import annotations

from collections.abc import Mapping

SIGNS = frozenset("o-|+RrDUds[=]xL8V ")
#: The rows of a drawing, from above, all of one length.
SKETCHES: Mapping[str, tuple[str, ...]] = {
    "each": (
        "o-+--+--+",
        "  R  R  R",
        "  D  D  D",
        "o-+--+--+",
    ),
    "shared": (
        "o-r-+--+--+",
        "    D  D  D",
        "    s  s  s",
        "o---+--+--+",
    ),
    "strings": (
        "o-+---+",
        "  R   R",
        "  D   D",
        "  D   D",
        "o-+---+",
    ),
    "scan": (
        "s-d+-d+-d+",
        "   |  |  |",
        "s-d+-d+-d+",
        "   |  |  |",
        "   R  R  R",
    ),
    "charlieplex": (
        "=-r-+-+----",
        "=   D U    ",
        "=-r-+-+-+-+",
        "=       D U",
        "=-r-----+-+",
    ),
    "shift-register": (
        "-[==]--[==]",
        "  RR    RR ",
        "  DD    DD ",
        "o-++----++-",
    ),
    "sink": (
        "o-++----++-",
        "  DD    DD ",
        "-[==]--[==]",
    ),
    "pixels": ("=-r-x-x-x-x",),
    "counter-chaser": (
        "[=]-[=====]",
        "     R R R ",
        "     D D D ",
        "o----+-+-+-",
    ),
    "ripple": (
        "o-+--+--+-",
        "  D  D  D ",
        "  R  R  R ",
        " [=======]",
    ),
    "decade-digits": (
        "[=]-[=]-[=]",
        "     |   | ",
        "     8   8 ",
    ),
    "decoder": (
        "=---[=]-[=]",
        "=    |   | ",
        "=    8   8 ",
    ),
    "pins": (
        "=-r-d-+",
        "=-r-d-+",
        "=-r-d-+",
        "o-----+",
    ),
    "filament": (
        "o-+--+--+",
        "  L  L  L",
        "o-+--+--+",
    ),
    "tube": (
        "o-r-+---+-",
        "    V   V ",
        "   [=====]",
    ),
}
