"""The passes from pictures to appearances; `board_passes.py` says where they stand."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

import msgspec

from ..artwork import (
    Chosen,
    Drawing,
    Painted,
    Resolved,
    Source,
    ToneRules,
    choose,
    compose,
    fine_width,
    place,
    read_picture,
    resolve,
    touching,
)
from ..brief.look import look_of
from ..colour import Materials
from ..parts import Profile, profile_of
from ..passes import Pass
from ..project import Picture, Tones
from ..watch import Watch

#: Dots of a tone are so much larger than the smallest feature that prints.
_SURE = 1.5


class _Fineness(NamedTuple):
    """How finely a picture is taken apart, what it is called and what happens to its tones."""

    width_mm: float
    name: str
    tones: Tones
    rules: ToneRules | None


def tone_rules_of(materials: Materials, rules: Profile) -> ToneRules:
    """What tones are made of there: every appearance a proposal may choose but windows, and the smallest dot."""
    offered = ("mask", "raised", "metal", "ink") if rules.has_mask else ("metal", "window")
    dot = _SURE * max(rules.track_mm, rules.gap_mm, rules.legend_line_mm if rules.has_legend else 0.0)
    return ToneRules(tuple((word, materials.colour(word)) for word in offered), dot)


def _fineness(picture: Picture, source: Source, rules: ToneRules) -> _Fineness:
    if isinstance(source, Drawing) and not source.shaded:  # what is to become of tones touches nothing in it
        return _Fineness(fine_width(picture.width_mm), picture.name, Tones(), None)
    if picture.tones.how in ("diffuse", "screen"):
        return _Fineness(picture.width_mm, picture.name, picture.tones, rules)
    return _Fineness(fine_width(picture.width_mm), picture.name, picture.tones, None)


def _lying(picture: Picture) -> Picture:
    """A picture as far as it says where and how it lies."""
    return msgspec.structs.replace(picture, tones=Tones())


def _resolved(source: Source, fine: _Fineness, watch: Watch) -> Resolved:
    return resolve(source, fine.width_mm, fine.name, fine.tones, fine.rules, watch)


def _chosen(painted: Painted, beside: Any, by_hand: Mapping[str, str], look: Materials, rules: Profile) -> tuple[Chosen, ...]:
    return choose(painted, beside, by_hand, look, rules.has_mask)


def _appearances(chosen: tuple[Chosen, ...]) -> str:
    return ",".join(one.appearance for one in chosen)


ARTWORK = (
    Pass("rules", ("brief",), profile_of),
    Pass("look", ("stack", "rules"), look_of),
    Pass("tone rules", ("look", "rules"), tone_rules_of),
    Pass(
        "sources", (), lambda file: read_picture(*file), each=("picture files",), weight=8, words="reading the picture", kept=1
    ),
    Pass("fineness", ("tone rules",), _fineness, each=("pictures", "sources")),
    Pass(
        "resolved",
        (),
        _resolved,
        each=("sources", "fineness"),
        watched=True,
        weight=40,
        words="taking the picture apart",
        kept=3,
    ),
    Pass("lying", (), _lying, each=("pictures",)),
    Pass("placed", (), place, each=("resolved", "lying"), weight=2),
    Pass("painted", ("placed",), compose),
    Pass("beside", ("painted",), touching),
    Pass("chosen", ("painted", "beside", "chosen by hand", "look", "rules"), _chosen),
    Pass("appearances", ("chosen",), _appearances),
)
