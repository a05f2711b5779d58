"""Mixed colours near the end of the cells: each colour fades at a voltage of its own, so the mixture shifts (DOMAIN 9)."""

from __future__ import annotations

from collections.abc import Sequence

from ...parts import Supply
from ...project import Finding, Remedy
from ..ways import Sized, load_of
from .runtime import RunTime, source_state

#: Of colours that are mixed none may have less left of its light than this share of what another has: more is seen as another
#: colour.
_LEAST_RATIO = 0.75


def light_left(rows: Sequence[Sized], supply: Supply, run: RunTime) -> dict[str, float]:
    """The share of its light that each colour of mixed LEDs has left when the run ends, by the name of the light."""
    out: dict[str, float] = {}
    for row in rows:
        mixed = len({light.light for light in row.way.emitter.lights}) > 1
        if not mixed or row.resistor_ohm is None:
            continue
        new, old = (
            source_state(supply, 1, (load_of(row),), min(volts, row.way.most_v), 0.0)[1][0]
            for volts in (run.curve_v[0], run.end_volts)
        )
        name = row.way.light.name or row.way.light.light
        out[name] = min(out.get(name, 1.0), old / new if new > 0 else 0.0)
    return out


def shift_finding(rows: Sequence[Sized], supply: Supply, run: RunTime | None) -> list[Finding]:
    """Mixed colours that shift before the cells are empty."""
    if run is None:
        return []
    left = light_left(rows, supply, run)
    if len(left) < 2:
        return []
    most, least = max(left, key=lambda name: left[name]), min(left, key=lambda name: left[name])
    if left[least] >= _LEAST_RATIO * left[most]:
        return []
    return [
        Finding(
            code="late-colour-shift", severity="warning", stage="drive",
            text=f"When the supply ends at {run.end_volts:.2f} V, {least} has {100 * left[least]:.0f} % of its light left and "
            f"{most} {100 * left[most]:.0f} %: mixed colours shift.",
            measured=round(left[least] / max(left[most], 1e-9), 3), allowed=_LEAST_RATIO,
            remedies=(Remedy("use a regulator, or a cell more"), Remedy("replace the cells earlier")),
        )
    ]  # fmt: skip
