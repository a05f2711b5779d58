"""The edits of the drive."""

from __future__ import annotations

import msgspec

from ..errors import Trouble
from ..project import Param, Project, edit


@edit(
    "set-supply",
    "Supply {supply}",
    supply=Param("choice", choices=("usb", "coin-2032", "aa-alkaline", "aaa-alkaline"), optional=False),
    cells=Param("count", "", 1, 4),
)
def set_supply(project: Project, *, supply: str, cells: int | None = None) -> Project:
    """What feeds the board, and how many cells in series (AA and AAA)."""
    drive = project.design.drive
    several = supply in ("aa-alkaline", "aaa-alkaline")
    if cells is not None and cells > 1 and not several:
        raise Trouble(f"cells={cells} goes with AA and AAA cells only. Leave it away, or choose one of those.")
    count = cells or (drive.cells if several else 1)
    return project.with_design(drive=msgspec.structs.replace(drive, supply=supply, cells=count if several else 1))


@edit("set-current", "{current_a} for each LED", current_a=Param("quantity", "A", 1e-5, 0.02, optional=False))
def set_current(project: Project, *, current_a: float) -> Project:
    """The current wanted through each LED."""
    return project.with_design(drive=msgspec.structs.replace(project.design.drive, current_a=current_a))


@edit(
    "set-resistors",
    "Resistors",
    series=Param("choice", choices=("E6", "E12", "E24", "E48", "E96")),
    choose=Param("choice", choices=("at-most", "nearest")),
    size=Param("choice", choices=("0402", "0603", "0805", "1206")),
)
def set_resistors(
    project: Project, *, series: str | None = None, choose: str | None = None, size: str | None = None
) -> Project:
    """Preferred series, choice among its values, and body of the resistors."""
    changes = {"series": series, "choose": choose, "resistor": size}
    kept = {key: value for key, value in changes.items() if value is not None}
    return project.with_design(drive=msgspec.structs.replace(project.design.drive, **kept))
