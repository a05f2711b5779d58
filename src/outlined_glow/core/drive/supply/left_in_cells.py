"""Cells that a circuit leaves half full, because it needs more volts than they give by then."""

from __future__ import annotations

from ...project import Drive, Finding, Remedy
from ...units import show, show_si
from .runtime import RunTime

#: A circuit that ends before this share of what the same LEDs could have is told.
_LEAST_SHARE = 0.5
#: What step-up converters make, V.
_RAILS = (3.3, 5.0)


def cells_left_finding(
    drive: Drive, source: tuple[str, float], needs_v: float, run: RunTime, without: RunTime
) -> list[Finding]:
    """What is found of a run that ends at the volts of the circuit; `without` is the run if it needed none. `source` is what
    the cells are called, and the most volts that the board has of any source."""
    if run.ended_by != "circuit" or run.hours >= _LEAST_SHARE * without.hours:
        return []
    title, most_v = source
    helps = [Remedy("choose a controller, or logic, that runs on less"), Remedy("use more cells in series")]
    rail = next((one for one in _RAILS if one >= max(needs_v, most_v)), None)
    if not drive.regulator and rail is not None:
        edit = (("regulator", "step-up"), ("rail_v", rail))
        helps.insert(0, Remedy(f"raise the volts to {rail:g} V with a step-up converter", "drive", edit))
    return [
        Finding(
            code="cells-left-full", severity="warning", stage="drive",
            text=f"The circuit needs {show_si(needs_v, 'V')}. With all LEDs on, the supply ({title}) falls below that after "
            f"{_long(run.hours)}; the LEDs alone would go on for {_long(without.hours)}.",
            measured=round(run.hours, 3), allowed=round(_LEAST_SHARE * without.hours, 3), remedies=tuple(helps),
        )
    ]  # fmt: skip


def _long(hours: float) -> str:
    return f"{show(hours, 1)} h" if hours >= 1 else f"{show(60 * hours, 1)} min"
