"""The edits of the drive."""

from __future__ import annotations

import msgspec

from ..errors import Trouble
from ..parts import offered_supplies, resistor_sizes, series_names, supplies
from ..project import Design, Param, board_edit

_ROUNDING = (("at-most", "round up"), ("nearest", "nearest value"))


@board_edit(
    "set-supply",
    "Supply {supply}",
    supply=Param("choice", choices=lambda: tuple(offered_supplies()), optional=False),
    cells=Param("count", "", 1, 4, title="cells in series"),
)
def set_supply(design: Design, *, supply: str, cells: int | None = None) -> Design:
    """What feeds the board, and how many cells in series (AA and AAA)."""
    drive = design.drive
    several = len(supplies()[supply].bodies) > 1
    if cells is not None and cells > 1 and not several:
        raise Trouble(f"cells={cells} goes with AA and AAA cells only. Leave it away, or choose one of those.")
    count = cells or (drive.cells if several else 1)
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(drive, supply=supply, cells=count if several else 1))


@board_edit(
    "set-current",
    "{current_a} for each LED",
    current_a=Param("quantity", "A", 1e-5, 0.02, optional=False, title="target current per LED", shown="mA", step=0.5),
)
def set_current(design: Design, *, current_a: float) -> Design:
    """The current wanted through each LED."""
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, current_a=current_a))


@board_edit("balance", "Colours balanced: {balanced}", balanced=Param("flag", title="all colours equally bright"))
def balance(design: Design, *, balanced: bool | None = None) -> Design:
    """Give brighter colours less current, until all are as bright as the dimmest; or (balanced=no) the same to all."""
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, balanced=balanced is not False))


@board_edit(
    "set-resistors",
    "Resistors",
    series=Param("choice", choices=series_names, title="series"),
    choose=Param(
        "choice",
        choices=("at-most", "nearest"),
        title="rounding",
        titles=_ROUNDING,
    ),
    size=Param("choice", choices=resistor_sizes, title="size"),
)
def set_resistors(design: Design, *, series: str | None = None, choose: str | None = None, size: str | None = None) -> Design:
    """Preferred series, choice among its values, and body of the resistors."""
    changes = {"series": series, "choose": choose, "resistor": size}
    kept = {key: value for key, value in changes.items() if value is not None}
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, **kept))
