"""How warm a board becomes (DOMAIN 7 and 17): all that it takes of its supply turns into heat, sooner or later."""

from __future__ import annotations

from ..project import Finding, Remedy
from ..shape import Outline
from ..units import show, show_si
from .plan import DrivePlan

#: What still air takes from a surface, W/m²K; a warm room and what skin bears for hours, C.
AIR_W_M2K, _ROOM_C, _SKIN_C = 11.0, 25.0, 43.0


def board_rise_k(watts: float, area_mm2: float) -> float:
    """How much warmer a board is than the air about it, both of its sides open to it, K: P/(h·A).

    >>> round(board_rise_k(1.0, 90 * 120), 1)
    4.2
    """
    return watts / (AIR_W_M2K * 2 * area_mm2 * 1e-6)


def watts_of(plan: DrivePlan, share: float | None = None) -> float:
    """What a board takes with a share of the current of all LEDs, or with those lit at once, and always besides, W."""
    return plan.source_v * (plan.current_a * (plan.at_once if share is None else share) + plan.standing_a)


def heat_findings(plan: DrivePlan, outline: Outline, place: str, share: float | None = None) -> list[Finding]:
    """A board that is worn and becomes too warm for the skin, with the share of the current that flows, if it is known."""
    watts = watts_of(plan, share)
    warm = _ROOM_C + board_rise_k(watts, outline.region.area)
    if place != "worn" or warm <= _SKIN_C:
        return []
    lit = "With what it plays" if share is not None and share < 1 else "With all LEDs on"
    lit = "With the LEDs lit at once" if share is None and plan.at_once < 1 else lit
    return [
        Finding(
            code="warm-on-skin", severity="warning", stage="drive",
            text=f"{lit} the board takes {show_si(watts, 'W')} and becomes about {show(warm, 0)} °C warm; "
            f"what is worn for hours stays under {_SKIN_C:g} °C.",
            measured=round(warm, 1), allowed=_SKIN_C,
            remedies=(Remedy("lower the LED current"), Remedy("use fewer LEDs"), Remedy("let fewer be lit at once")),
        )
    ]  # fmt: skip
