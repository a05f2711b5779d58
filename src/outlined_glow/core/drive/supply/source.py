"""What a supply gives: its cells, its volts, its own resistance, and what it cannot carry (DOMAIN 9)."""

from __future__ import annotations

from ...parts import Supply
from ...project import Drive, Finding, Remedy
from ...units import show_si


def cells_used(source: Supply, wanted: int) -> int:
    """How many cells a source has: one where it is no cell, or where no holder takes that many."""
    return wanted if source.volts is None and wanted in source.bodies else 1


def source_volts(source: Supply, cells: int, set_v: float | None = None) -> tuple[float, float, float]:
    """Least, usual (new cells) and most open voltage of a source, V; `set_v` is what one that can be set is set to."""
    if source.spread is not None and set_v is not None:
        return set_v * (1 - source.spread), set_v, set_v * (1 + source.spread)
    if source.volts is not None:
        return source.volts
    new = source.open_v[0][1] * cells
    return source.cut_off_v * cells, new, new


def capacity_ah(source: Supply, drive: Drive) -> float:
    """What a source holds when full, Ah: what is told of a kind that there is in many sizes; of a capacitor all that it gives
    down to no volts: C·V."""
    if source.usual_farad:
        return (drive.farad or source.usual_farad) * source.open_v[0][1] / 3600
    return (drive.capacity_ah if source.usual_ah else None) or source.capacity_ah or source.usual_ah


def filled_in_s(source: Supply, drive: Drive) -> float | None:
    """How long full sun takes to fill the capacitor of a solar cell, s; None where there is none."""
    if not source.usual_farad:
        return None
    return (drive.farad or source.usual_farad) * source.open_v[0][1] / (drive.sun_a or source.sun_a)


def source_ohm(source: Supply, cells: int, drive: Drive) -> float:
    """The resistance of the source when new, ohm."""
    if source.volts is not None:
        return source.ohm
    return (source.ohm_ah / capacity_ah(source, drive) if source.ohm_ah else source.resistance_ohm[0][1]) * cells


def source_title(source: Supply, cells: int) -> str:
    """What it is called, with the number of its cells where there are several."""
    return f"{cells} × {source.title}" if cells > 1 else source.title


#: No LED is driven with less, A.
_LEAST_A = 1e-5


def supply_findings(
    source: Supply, total: float, most: float, drive: Drive, at_once: float = 1.0, standing_a: float = 0.0
) -> list[Finding]:
    """What the supply cannot give: `total` is the usual current of all LEDs, `most` that at worst, both in A; or of those that
    are lit at once, where that is a share of them. `standing_a` is drawn besides."""
    room_a = source.most_a - standing_a
    if 0 < max(total, most) > room_a:
        least = drive.current_a * 0.95 * max(room_a, 0.0) / max(total, most)
        lower = float(f"{least:.2g}")
        lower = lower if lower <= least else float(f"{0.95 * least:.2g}")
        lit = "The LEDs lit at once" if at_once < 1 else "All LEDs together"
        besides = f" {show_si(standing_a, 'A')} more flow besides." if standing_a > 0.01 * source.most_a else ""
        set_lower = Remedy(f"lower the LED current to {show_si(lower, 'A')}", "set-current", (("current_a", lower),))
        return [
            Finding(
                code="supply-over-current",
                severity="stop",
                stage="drive",
                text=f"{lit} draw {show_si(total, 'A')}, and {show_si(most, 'A')} at worst.{besides} "
                f"The supply ({source.title}) gives at most {show_si(source.most_a, 'A')}.",
                measured=max(total, most) + (standing_a if besides else 0.0),
                allowed=source.most_a,
                remedies=(*([set_lower] if lower >= _LEAST_A else []), Remedy("use fewer LEDs")),
            )
        ]
    total += standing_a if total > 0 else 0.0
    if source.continuous_a is not None and total > source.continuous_a:
        return [
            Finding(
                code="cell-over-continuous",
                severity="warning",
                stage="drive",
                text=f"{show_si(total, 'A')} is more than a {source.title} can give for long "
                f"({show_si(source.continuous_a, 'A')}). It will run down early.",
                measured=total,
                allowed=source.continuous_a,
                remedies=(Remedy("lower the current"), Remedy("use AAA cells")),
            )
        ]
    if 0 < total < source.least_a:
        text = f"A power bank switches off below about {show_si(source.least_a, 'A')}; this board asks {show_si(total, 'A')}."
        return [Finding(code="power-bank", severity="note", stage="drive", text=text, measured=total, allowed=source.least_a)]
    return []
