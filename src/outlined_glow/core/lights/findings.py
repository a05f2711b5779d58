"""What was found while LEDs were placed, told in the board frame; what cannot be read from where it is looked at."""

from __future__ import annotations

from ..brief.advice import legible_mm
from ..passes import Pass
from ..project import Array, Digits, Finding, Remedy
from ..project.frames import all_in_board_frame
from ..units import show
from .own_parts import CHECKS as _OWN_PARTS


def legible_digits(arrays: tuple[Array, ...], seen_from_m: float) -> list[Finding]:
    """Digits that are too low to be read from where the brief says they are seen (DOMAIN 10)."""
    least = legible_mm(seen_from_m)
    low = [one for one in arrays if isinstance(one, Digits) and one.height_mm < least]
    return [
        Finding(
            code="digits-too-small",
            severity="warning",
            stage="lights",
            text=f"The digits “{one.name}” are {show(one.height_mm)} mm high. Seen from {show(seen_from_m)} m they should "
            f"be {show(least)} mm or more.",
            x_mm=one.x_mm,
            y_mm=one.y_mm,
            measured=one.height_mm,
            allowed=least,
            remedies=(Remedy(f"make them {show(least)} mm high", "digits", (("array", one.name), ("height_mm", least))),),
        )
        for one in low
    ]


CHECKS = (
    Pass("lights check", ("light findings", "origin"), all_in_board_frame),
    Pass("digits found", ("arrays", "seen from"), legible_digits),
    Pass("digits check", ("digits found", "origin"), all_in_board_frame),
    *_OWN_PARTS,
)
