"""The edits of labels on the back that are put by hand."""

from __future__ import annotations

import msgspec

from ..errors import Trouble
from ..project import Design, LabelPlace, Param, board_edit
from ..text_safety import short


@board_edit(
    "place-label",
    "Label of {part}",
    part=Param("text", optional=False),
    x_mm=Param("quantity", "mm", -1e4, 1e4, axis="x", title="x"),
    y_mm=Param("quantity", "mm", -1e4, 1e4, axis="y", title="y"),
    upright=Param("flag", title="label on end"),
    printed=Param("flag", title="label printed"),
)
def place_label(
    design: Design, *, part: str, x_mm: float | None = None, y_mm: float | None = None, upright: bool | None = None,
    printed: bool | None = None,
) -> Design:  # fmt: skip
    """Put the label of a part on the back by hand: the middle of its words, lying or on end, or not printed at all. Where there
    is no room for it there, it finds its place by itself, and that is told."""
    labels = {one.part: one for one in design.wiring.labels}
    before = labels.get(part)
    if before is None and (x_mm is None or y_mm is None) and printed is not False:
        raise Trouble(f"The label of “{short(part)}” has no place by hand yet; give x= and y= as well.")
    if len(part) > 12:
        raise Trouble(f"A part is called by up to 12 letters and figures, such as R12, not “{short(part)}”.")
    told = {"x_mm": x_mm, "y_mm": y_mm, "upright": upright, "printed": printed}
    kept = {key: value for key, value in told.items() if value is not None}
    labels[part] = msgspec.structs.replace(before or LabelPlace(part=part, x_mm=x_mm or 0.0, y_mm=y_mm or 0.0), **kept)
    return _with(design, tuple(labels.values()))


@board_edit("free-label", "Free the label of {part}", part=Param("text", optional=False))
def free_label(design: Design, *, part: str) -> Design:
    """Have the label of a part find its place by itself again."""
    kept = tuple(one for one in design.wiring.labels if one.part != part)
    if len(kept) == len(design.wiring.labels):
        raise Trouble(f"The label of “{short(part)}” was not put by hand.")
    return _with(design, kept)


def _with(design: Design, labels: tuple[LabelPlace, ...]) -> Design:
    return msgspec.structs.replace(design, wiring=msgspec.structs.replace(design.wiring, labels=labels))
