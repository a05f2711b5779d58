"""Every way to drive LEDs, by its key. To add one, write it in a file here and put it in `METHODS`; nothing else asks which
one it is."""

from __future__ import annotations

from msgspec.structs import replace

from ...errors import Trouble
from ...project import Drive
from ...text_safety import short
from ..method import Method
from .charlieplex import Charlieplex
from .counters import CounterChaser, RippleCounter
from .digits import DigitCounters, DigitDecoders
from .each import OneResistorEach, OneShared, SeriesStrings
from .lamps import DigitTubes, FilamentLamps
from .pins import DirectPins
from .pixels import PixelChain
from .registers import CurrentSinks, ShiftRegisters
from .scan import RowColumnScan

METHODS: dict[str, Method] = {
    one.key: one
    for one in (
        OneResistorEach(), OneShared(), SeriesStrings(), RowColumnScan(), Charlieplex(), ShiftRegisters(), CurrentSinks(),
        PixelChain(), CounterChaser(), RippleCounter(), DigitCounters(), DigitDecoders(), DirectPins(), FilamentLamps(),
        DigitTubes(),
    )
}  # fmt: skip


def method(key: str) -> Method:
    """The method of that key, or `Trouble`."""
    found = METHODS.get(key)
    if found is None:
        raise Trouble(f"There is no way “{short(key)}” to drive LEDs; there are {', '.join(METHODS)}.")
    return found


def ways_of(drive: Drive) -> list[tuple[Method, Drive]]:
    """Every way that a board is driven, with the drive as far as it is its own: for all LEDs, and for each group."""
    own = [replace(drive, method=one.method, lit=one.lit or drive.lit) for one in drive.groups]
    return [(method(one.method), one) for one in (drive, *own)]
