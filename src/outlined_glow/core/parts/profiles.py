"""Fabricator profiles: what a fabricator can make (DOMAIN 2), one JSON file each."""

from __future__ import annotations

import json
import math
import re
from functools import cache, lru_cache
from typing import Any

import msgspec

from ..errors import Trouble
from ..project import Brief
from ..shipped import files


class Registration(msgspec.Struct, frozen=True):
    """How far a layer may lie off the copper, mm."""

    legend_mm: float
    mask_mm: float
    drill_mm: float
    outline_mm: float


class Profile(msgspec.Struct, frozen=True):
    """The rules of a fabricator, mm. `mask_web_other_mm` holds for every mask but green."""

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
    #: Made at one's own table: no price, no parcel, other cautions.
    at_home: bool = False

    @property
    def makes(self) -> frozenset[str]:
        """The appearances that can be made there."""
        printed = {"ink"} if self.has_legend else set()
        return frozenset({"metal", "window", "cut", *printed, *(("mask", "raised", "veiled") if self.has_mask else ())})

    def mask_web(self, mask: str) -> float:
        """The narrowest bridge of mask between two openings, mm."""
        return self.mask_web_mm if mask == "green" else self.mask_web_other_mm


@cache
def profiles() -> dict[str, Profile]:
    """Every shipped profile by name: a file of rules each, in the order of their `place`."""
    found = [json.loads(one.read_text("utf-8")) for one in files("profiles")]
    rules = sorted((one for one in found if "track_mm" in one), key=lambda one: (one.get("place", 99), one["name"]))
    return {one["name"]: msgspec.convert(one, Profile) for one in rules}


def read_profile(data: bytes, name: str) -> Profile:
    """A profile from its file (JSON, the keys of the shipped ones). `Trouble` names the line that is wrong."""
    try:
        found = msgspec.convert(_with_nature(json.loads(data)), Profile)
    except json.JSONDecodeError as error:
        raise Trouble(f"“{name}” is no profile: {error.msg} on line {error.lineno}.") from error
    except (UnicodeDecodeError, RecursionError) as error:
        raise Trouble(f"“{name}” is no profile: it is not JSON.") from error
    except msgspec.ValidationError as error:
        raise Trouble(f"“{name}” is no profile: {_where(str(error), data)}.") from error
    wrong = check_profile(found)
    if wrong:
        key, words = wrong
        raise Trouble(f"“{name}” is no profile: {key} {words} (line {_line_of(key, data)}).")
    return found


def _with_nature(content: Any) -> Any:
    """Files written before a profile said so: without mask, ink and days it is one for making at home."""
    if isinstance(content, dict) and "at_home" not in content:
        bare = not any(content.get(key) for key in ("has_mask", "has_legend", "days_make", "days_arrive"))
        return {**content, "at_home": bare}
    return content


#: Rules of fine structures: what is larger than this was meant in another unit, mm.
_FINE_MM = 10.0
_FINE = (
    "track_mm", "gap_mm", "drill_min_mm", "ring_mm", "slot_plated_mm", "slot_mm", "edge_routed_mm", "edge_scored_mm",
    "hole_gap_mm", "mask_expansion_mm", "mask_web_mm", "mask_web_other_mm", "legend_line_mm", "legend_height_mm",
    "legend_gap_mm", "router_mm", "router_fine_mm", "neck_mm",
)  # fmt: skip


def check_profile(one: Profile) -> tuple[str, str] | None:
    """The first rule that no fabricator can have, and why; None when all of them can be."""
    rules = {**msgspec.structs.asdict(one), **msgspec.structs.asdict(one.registration)}
    for key, value in rules.items():
        if isinstance(value, float) and not (math.isfinite(value) and 0 <= value <= 1000):
            return key, "must be between 0 and 1000"
        if isinstance(value, int) and not isinstance(value, bool) and not 0 <= value <= 1000:
            return key, "must be between 0 and 1000"
    for key in ("track_mm", "gap_mm", "drill_min_mm", "neck_mm", "side_min_mm"):
        if getattr(one, key) <= 0:
            return key, "must be more than 0"
    for key in _FINE:
        if getattr(one, key) > _FINE_MM:
            return key, f"must be {_FINE_MM:g} mm at most, not {getattr(one, key):g}"
    for low, high in (("drill_min_mm", "drill_max_mm"), ("side_min_mm", "side_max_mm")):
        if getattr(one, low) > getattr(one, high):
            return high, f"is less than {low}"
    if not one.name.strip() or one.name in profiles() or len(one.title) > 40:
        return "name", "must be a name of its own, not that of a shipped profile"
    if not one.thickness_mm or not all(0.1 <= value <= 10 for value in one.thickness_mm):
        return "thickness_mm", "must list thicknesses between 0.1 and 10"
    return None


def _where(words: str, data: bytes) -> str:
    """What msgspec says, with the line of the key it is about."""
    path = re.search(r"at `\$\.?([\w.]*)", words) or re.search(r"field `(\w+)`", words)
    key = path.group(1).split(".")[-1] if path else ""
    plain = words.split(" - at ")[0].replace("`", "“", 1).replace("`", "”", 1)
    line = _line_of(key, data) if key else 0
    return f"{plain}, {key} on line {line}" if line else plain


def _line_of(key: str, data: bytes) -> int:
    text = data.decode("utf-8", "replace")
    at = text.find(f'"{key}"')
    return text.count("\n", 0, at) + 1 if at >= 0 else 1


def profile_of(brief: Brief) -> Profile:
    """The profile a brief asks for: its own, or a shipped one."""
    if brief.own_profile and brief.profile == brief.own_profile.get("name"):
        return _own(json.dumps(brief.own_profile, sort_keys=True))
    return profile(brief.profile)


@lru_cache(maxsize=16)
def _own(text: str) -> Profile:
    return read_profile(text.encode(), "the project's own profile")


def profile_text(one: Profile) -> str:
    """A profile as its file."""
    return json.dumps(msgspec.to_builtins(one), indent=1, ensure_ascii=False) + "\n"


def profile(name: str) -> Profile:
    """The shipped profile of that name, or `Trouble`."""
    found = profiles().get(name)
    if found is None:
        raise Trouble(f"There is no profile “{name}”; there are {', '.join(profiles())}.")
    return found
