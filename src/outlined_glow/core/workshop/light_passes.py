"""The passes from arrays to LEDs and their chain; `board_passes.py` says where they stand."""

from __future__ import annotations

from operator import attrgetter
from typing import Any, NamedTuple

from ..artwork import Painted
from ..lights import Led, LightPaths, chain_of, place_leds
from ..lights.numbers import Numbers
from ..parts import Library, library_with
from ..passes import Pass
from ..shape import Outline


class _LedPlaces(NamedTuple):
    leds: tuple[Led, ...]
    findings: tuple[Any, ...]
    numbers: tuple[tuple[str, tuple[int, ...]], ...]


def _light_paths(painted: Painted, outline: Outline) -> LightPaths:
    """LEDs run along the silhouette, the board or a colour; a board without a picture is its own silhouette."""
    if painted.silhouette.is_empty:
        return LightPaths(outline.region, outline.size[0], {"board": outline.region})
    colours = {swatch.colour: swatch.region for swatch in painted.swatches}
    return LightPaths(painted.silhouette, painted.size[0], {**colours, "board": outline.region})


def _leds(arrays: Any, paths: LightPaths, known: Library, numbered: int) -> _LedPlaces:
    numbers = Numbers(arrays, numbered)
    leds, findings = place_leds(arrays, paths, known, numbers)
    return _LedPlaces(leds, findings, tuple(numbers.of_array.items()))


LIGHTS = (
    Pass("light paths", ("painted", "outline"), _light_paths),
    Pass("library", ("own parts",), library_with),
    Pass("places", ("arrays", "light paths", "library", "numbered"), _leds),
    Pass("leds", ("places",), attrgetter("leds")),
    Pass("chain", ("leds", "chaining"), chain_of),
    Pass("light findings", ("places",), attrgetter("findings")),
)
