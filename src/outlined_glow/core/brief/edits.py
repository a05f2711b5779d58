"""The edits of the brief."""

from __future__ import annotations

from datetime import date
from typing import Any

import msgspec

from ..colour.materials import finishes, inks, masks
from ..errors import Trouble
from ..parts import Profile, profile_of, profiles, read_profile
from ..parts.profiles import check_profile
from ..project import Param, Project, edit
from ..project.param import PictureFile
from .advice import usual_distance_m


@edit("rename", "Named “{name}”", name=Param("text", optional=False))
def rename(project: Project, *, name: str) -> Project:
    """Give the project another name."""
    return msgspec.structs.replace(project, name=name.strip())


@edit(
    "set-stack",
    "Stack",
    mask=Param("choice", choices=masks, title="mask"),
    finish=Param("choice", choices=finishes, title="finish"),
    ink=Param("choice", choices=inks, title="ink (silkscreen)"),
    thickness_mm=Param("quantity", "mm", 0.6, 2.0, title="thickness"),
    board=Param("text"),
)
def set_stack(project: Project, *, board: str | None = None, **changes: object) -> Project:
    """Choose mask, finish, ink and thickness of every board, or of the board named alone; what is not named stays."""
    given = {key: value for key, value in changes.items() if value is not None}
    if board is None:
        return _with_brief(project, stack=msgspec.structs.replace(project.brief.stack, **given))
    design = project.board(board)
    own = msgspec.structs.replace(project.brief_of(design).stack, **given)
    return project.with_board(design, msgspec.structs.replace(design, stack=own))


@edit("set-profile", "Fabricator profile {profile}", profile=Param("text", optional=False))
def set_profile(project: Project, *, profile: str) -> Project:
    """Choose the fabricator profile whose rules hold: a shipped one, or the project's own."""
    brief = project.brief
    if profile not in profiles() and profile != brief.own_profile.get("name"):
        known = [*profiles(), *([brief.own_profile["name"]] if brief.own_profile else [])]
        raise Trouble(f"profile cannot be “{profile}”; it is one of {', '.join(known)}.")
    return _with_brief(project, profile=profile)


def _with_brief(project: Project, **changes: object) -> Project:
    return msgspec.structs.replace(project, brief=msgspec.structs.replace(project.brief, **changes))


def _with_own(project: Project, own: Profile) -> Project:
    # As it comes out of the project's file, which has lists where values have tuples.
    return _with_brief(project, own_profile=msgspec.json.decode(msgspec.json.encode(own)), profile=own.name)


@edit("take-profile", "Profile from {file}", file=Param("picture", optional=False))
def take_profile(project: Project, *, file: PictureFile) -> Project:
    """Take a profile from its file, to be the project's own; one that is wrong is refused with its line."""
    return _with_own(project, read_profile(file.data, file.name))


@edit("copy-profile", "Profile copied as “{name}”", name=Param("text", optional=False))
def copy_profile(project: Project, *, name: str) -> Project:
    """Make the profile in use the project's own, under another name, so that its rules can be changed."""
    own = msgspec.structs.replace(
        profile_of(project.brief), name=name.strip().lower().replace(" ", "-"), title=name.strip()[:40]
    )
    return _with_own(project, _checked(own))


def _checked(own: Profile) -> Profile:
    wrong = check_profile(own)
    if wrong:
        raise Trouble(f"{wrong[0]} {wrong[1]}.")
    return own


def rules() -> tuple[str, ...]:
    """The rules that are plain numbers."""
    one = profiles()["standard"]
    return tuple(key for key in one.__struct_fields__ if type(getattr(one, key)) in (int, float))


def rule_title(rule: str) -> tuple[str, str]:
    """What a rule is called, and its unit."""
    title, _, unit = _RULES[rule].rpartition(", ")
    return title, unit


#: Every rule that is a number: its title and unit.
_RULES = {
    "track_mm": "narrowest track, mm",
    "gap_mm": "narrowest gap, mm",
    "drill_min_mm": "smallest drill, mm",
    "drill_max_mm": "largest drill, mm",
    "ring_mm": "annular ring, mm",
    "barrel_um": "copper in plated holes, µm",
    "slot_plated_mm": "narrowest plated slot, mm",
    "slot_mm": "narrowest slot, mm",
    "edge_routed_mm": "copper to routed edge, mm",
    "edge_scored_mm": "copper to scored edge, mm",
    "hole_gap_mm": "hole to hole, mm",
    "mask_expansion_mm": "solder mask opening around a pad, mm",
    "mask_web_mm": "solder mask web, green, mm",
    "mask_web_other_mm": "solder mask web, not green, mm",
    "legend_line_mm": "narrowest ink line, mm",
    "legend_height_mm": "lowest ink text, mm",
    "legend_gap_mm": "ink to mask opening, mm",
    "router_mm": "router, mm",
    "router_fine_mm": "fine router, mm",
    "neck_mm": "narrowest place of the board, mm",
    "side_min_mm": "shortest side, mm",
    "side_max_mm": "longest side, mm",
    "days_make": "days of production, d",
    "days_arrive": "days of shipping, d",
    "days_slow": "days of slow shipping, d",
}


@edit(
    "set-rule",
    "Rule {rule}",
    rule=Param("choice", choices=rules, optional=False),
    value=Param("quantity", "", 0, 1000, optional=False),
)
def set_rule(project: Project, *, rule: str, value: float) -> Project:
    """Change a rule (mm, um or days) of the project's own profile; a shipped one is copied first."""
    if project.brief.profile in profiles():
        raise Trouble("The shipped profiles stay as they are; copy this one under a name of your own first.")
    before = profile_of(project.brief)
    kept = int(value) if isinstance(getattr(before, rule), int) else value
    return _with_own(project, _checked(msgspec.structs.replace(before, **{rule: kept})))


PURPOSES = ("badge", "sign", "number display", "wearable light", "edge-lit piece", "lantern", "other")
PLACES = ("worn", "desk", "wall", "outdoors")
AMBIENTS = ("dark room", "desk", "shop", "sun")
SKILLS = ("first board", "some boards", "many boards")
TOOLS = ("iron", "hot plate", "hot air", "oven", "stencil", "meter", "bench supply", "scope", "magnifier")


@edit(
    "set-purpose",
    "What it is for",
    purpose=Param("choice", choices=PURPOSES, title="type"),
    place=Param("choice", choices=PLACES, title="place"),
    distance_m=Param("quantity", "m", 0.1, 100, title="seen from", step=0.1),
    digits=Param("count", "", 0, 24, title="digits to show"),
    ambient=Param("choice", choices=AMBIENTS, title="light there"),
    skill=Param("choice", choices=SKILLS, title="your experience"),
    tools=Param("names"),
)
def set_purpose(project: Project, **changes: Any) -> Project:
    """What it is, where and from how far it is seen, and what it is made with; another place brings its usual distance."""
    given = {key: value for key, value in changes.items() if value is not None}
    if "place" in given and "distance_m" not in given:
        given["distance_m"] = usual_distance_m(given["place"])
    for tool in given.get("tools", ()):
        if tool not in TOOLS:
            raise Trouble(f"There is no tool “{tool}” here; there are {', '.join(TOOLS)}.")
    return _with_brief(project, **given)


@edit(
    "set-limits",
    "Limits",
    width_mm=Param("quantity", "mm", 1, 1000, title="width"),
    height_mm=Param("quantity", "mm", 1, 1000, title="height"),
    tall_mm=Param("quantity", "mm", 0.1, 200, title="height of parts"),
    each=Param("quantity", "", 0.01, 1e6, title="example price"),
    ready_by=Param("text"),
    run_time_h=Param("quantity", "h", 0.01, 1e5, title="battery life"),
    drop=Param("names"),
)
def set_limits(project: Project, *, drop: tuple[str, ...] = (), **changes: Any) -> Project:
    """Limits: width, height, how high parts stand, price per board, ready-by date (YYYY-MM-DD), battery life. `drop` names
    limits to remove."""
    given = {key: value for key, value in changes.items() if value is not None}
    if "ready_by" in given:
        try:
            given["ready_by"] = date.fromisoformat(given["ready_by"]).isoformat()
        except ValueError:
            raise Trouble(f"ready_by must be a date such as 2026-12-24, not “{given['ready_by']}”.") from None
    limits = project.brief.limits
    for name in drop or ():
        if name not in limits.__struct_fields__ or name == "unknown":
            raise Trouble(f"There is no limit “{name}”; there are width_mm, height_mm, tall_mm, each, ready_by, run_time_h.")
        given[name] = None
    return _with_brief(project, limits=msgspec.structs.replace(limits, **given))


@edit("set-pieces", "{pieces} boards", pieces=Param("count", "", 1, 100_000, optional=False, title="number of boards"))
def set_pieces(project: Project, *, pieces: int) -> Project:
    """How many boards are wanted."""
    return msgspec.structs.replace(project, brief=msgspec.structs.replace(project.brief, pieces=pieces))
