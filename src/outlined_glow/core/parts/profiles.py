"""Fabricator profiles: what a desk can make (DOMAIN 2), one JSON file each."""

from __future__ import annotations

from functools import cache
from importlib import resources

import msgspec

from ..errors import Trouble


class Registration(msgspec.Struct, frozen=True):
    """How far a layer may lie off the copper, mm."""

    legend_mm: float
    mask_mm: float
    drill_mm: float
    outline_mm: float


class Profile(msgspec.Struct, frozen=True):
    """The rules of a desk, mm. `mask_web_other_mm` holds for every mask but green."""

    name: str
    title: str
    track_mm: float
    gap_mm: float
    drill_min_mm: float
    drill_max_mm: float
    ring_mm: float
    plated: bool
    barrel_um: float
    slot_plated_mm: float
    slot_mm: float
    edge_routed_mm: float
    edge_scored_mm: float
    hole_gap_mm: float
    mask_expansion_mm: float
    mask_web_mm: float
    mask_web_other_mm: float
    legend_line_mm: float
    legend_height_mm: float
    legend_gap_mm: float
    router_mm: float
    router_fine_mm: float
    neck_mm: float
    registration: Registration
    side_min_mm: float
    side_max_mm: float
    thickness_mm: tuple[float, ...]
    has_mask: bool
    has_legend: bool
    days_make: int
    days_arrive: int
    days_slow: int

    def mask_web(self, mask: str) -> float:
        """The narrowest bridge of mask between two openings, mm."""
        return self.mask_web_mm if mask == "green" else self.mask_web_other_mm


@cache
def profiles() -> dict[str, Profile]:
    """Every shipped profile by name."""
    out = {}
    for name in ("standard", "fine", "home-etch"):
        data = resources.files("outlined_glow.data.profiles").joinpath(f"{name}.json").read_bytes()
        out[name] = msgspec.json.decode(data, type=Profile)
    return out


def profile(name: str) -> Profile:
    """The profile of that name, or `Trouble`."""
    found = profiles().get(name)
    if found is None:
        raise Trouble(f"There is no profile “{name}”; there are {', '.join(profiles())}.")
    return found
