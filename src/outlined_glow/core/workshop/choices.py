"""What each choice of the brief would mean for this very board: price, days, look, and what it prevents."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import msgspec

from ..artwork import touching
from ..brief import price_of
from ..brief.advice import care, legible_mm, ruled_out, usual_distance_m
from ..brief.edits import AMBIENTS, PLACES, PURPOSES, SKILLS
from ..brief.look import look_of
from ..colour.difference import hex_difference
from ..colour.materials import finishes, inks, masks
from ..parts import Profile, profile_of, profiles
from ..project import Stack
from .facts import grams
from .other_colours import under
from .work import Work

#: Tones nearer than this hardly show beside one another (DOMAIN 1).
_HARDLY = 8.0


@dataclass(frozen=True)
class Consequence:
    """One word of a choice: how it is called and looks, what the order then costs more and takes longer (days), what
    it is for this board, and what it prevents."""

    word: str
    title: str
    dearer: float = 0.0
    later: int = 0
    tells: str = ""
    looks: tuple[str, ...] = ()
    rules_out: tuple[str, ...] = ()
    care: tuple[str, ...] = ()


def consequences(work: Work) -> dict[str, tuple[Consequence, ...]]:
    """Every choice of the brief by its key, its words in the order offered."""
    return {key: tuple(run(work, key)) for key, run in _KEYS.items()}


def _title(word: str) -> str:
    return word.replace("-", " ")


# -- the stack ----------------------------------------------------------------------------------------------------


def _stacked(work: Work, key: str) -> Iterator[Consequence]:
    """The words of a part of the stack, with what the picture would be under each."""
    words, own = _STACK[key]
    if key in ("mask", "ink") and not work.board.profile.has_mask:
        yield from (Consequence(word, _title(word), tells="this fabricator does not offer it") for word in words())
        return
    beside, here = touching(work.painted), work.brief.stack
    now = under(work, here, beside)
    for word in words():
        stack = msgspec.structs.replace(here, **{key: word})
        then = under(work, stack, beside)
        looks, more = own(work, stack)
        moved = sum(one != other for one, other in zip(then.appearances, now.appearances, strict=True))
        told = then.appearances and (key == "mask" or word != getattr(here, key))
        tells = f"colour difference from the picture: ΔE {then.difference:.0f} (0 = same)" if told else ""
        tells += (
            f", {moved} colours change to another appearance"
            if moved > 1
            else ", 1 colour changes to another appearance"
            if moved
            else ""
        )
        dearer = round(then.boards - now.boards, 2)
        yield Consequence(word, _title(word), dearer, 0, tells, looks, (*more, *ruled_out(key, word)), care(key, word))


Own = tuple[tuple[str, ...], tuple[str, ...]]


def _of_mask(work: Work, stack: Stack) -> Own:
    look, rules = look_of(stack, work.board.profile), work.board.profile
    out = []
    far = hex_difference(look.mask, look.raised)
    if far < _HARDLY:
        out.append(f"mask over copper that shows (ΔE {far:.0f}; 8 shows)")
    if rules.mask_web(stack.mask) > rules.mask_web_mm:
        out.append(f"mask webs under {rules.mask_web(stack.mask):g} mm")
    if look.through_mask < 0.1:
        out.append(f"bright masked windows ({look.through_mask:.0%} of the light passes)")
    return (look.mask, look.raised), tuple(out)


def _of_finish(work: Work, stack: Stack) -> Own:
    return (look_of(stack, work.board.profile).metal,), ()


def _of_ink(work: Work, stack: Stack) -> Own:
    look = look_of(stack, work.board.profile)
    far = hex_difference(look.ink, look.mask)
    return (look.ink,), (f"ink that shows on this mask (ΔE {far:.0f}; 16 shows well)",) if far < 2 * _HARDLY else ()


_STACK: dict[str, tuple[Callable[[], tuple[str, ...]], Callable[[Work, Stack], Own]]] = {
    "mask": (masks, _of_mask),
    "finish": (finishes, _of_finish),
    "ink": (inks, _of_ink),
}


def _thickness(work: Work, key: str) -> Iterator[Consequence]:
    brief = work.brief
    now = _boards(work, brief.stack, work.board.profile)
    for one in work.board.profile.thickness_mm:
        stack = msgspec.structs.replace(brief.stack, thickness_mm=one)
        look = look_of(stack, work.board.profile)
        tells = f"{look.through_laminate:.0%} of the light passes a light window, bare board {grams(work, one):.0f} g"
        dearer = round(_boards(work, stack, work.board.profile) - now, 2)
        ruled = ("staying flat at this size",) if one < 1.0 and max(work.board.size) > 80 else ()
        yield Consequence(f"{one:.1f}", f"{one:g} mm", dearer, 0, tells, (), ruled)


def _boards(work: Work, stack: Stack, rules: Profile) -> float:
    return price_of(work.board.size, stack, work.brief.pieces, rules.at_home, work.board.edge_copper).boards


# -- who makes it ---------------------------------------------------------------------------------------------------


def _profile(work: Work, key: str) -> Iterator[Consequence]:
    brief = work.brief
    here, now = work.board.profile, _boards(work, brief.stack, work.board.profile)
    own = (profile_of(msgspec.structs.replace(brief, profile=brief.own_profile["name"])),) if brief.own_profile else ()
    for rules in (*profiles().values(), *own):
        days = rules.days_make + rules.days_arrive
        dearer = round(_boards(work, brief.stack, rules) - now, 2)
        title = f"{rules.title} (own)" if rules in own else rules.title
        tells = f"narrowest line and gap {rules.track_mm:g} / {rules.gap_mm:g} mm, " + (
            f"arrives in {days} days" if days else "made at home"
        )
        yield Consequence(
            rules.name, title, dearer, days - here.days_make - here.days_arrive, tells, (), tuple(_refused(work, rules))
        )


def _refused(work: Work, rules: Profile) -> Iterator[str]:
    """What a fabricator does not make at all, and what of this board."""
    if not rules.has_mask:
        yield "solder mask"
    if not rules.has_legend:
        yield "silkscreen ink"
    if not rules.plated:
        yield "plated holes"
    if not rules.slot_mm:
        yield "slots"
    if work.brief.stack.thickness_mm not in rules.thickness_mm:
        yield f"a board of {work.brief.stack.thickness_mm:g} mm"
    if max(work.board.size) > rules.side_max_mm:
        yield f"a board longer than {rules.side_max_mm:g} mm"


# -- what it is for -------------------------------------------------------------------------------------------------


def _plain(words: tuple[str, ...]) -> Callable[[Work, str], Iterator[Consequence]]:
    def run(work: Work, key: str) -> Iterator[Consequence]:
        for word in words:
            yield Consequence(word, word, rules_out=ruled_out(key, word), care=care(key, word))

    return run


def _place(work: Work, key: str) -> Iterator[Consequence]:
    for word in PLACES:
        far = usual_distance_m(word)
        tells = f"usually seen from {far:g} m: text {legible_mm(far):g} mm high or more"
        if word == "worn":
            tells += f", bare board {grams(work, work.brief.stack.thickness_mm):.0f} g without parts and cells"
        yield Consequence(word, word, tells=tells, rules_out=ruled_out(key, word), care=care(key, word))


_KEYS: dict[str, Callable[[Work, str], Iterator[Consequence]]] = {
    **dict.fromkeys(_STACK, _stacked),
    "thickness_mm": _thickness,
    "profile": _profile,
    "purpose": _plain(PURPOSES),
    "place": _place,
    "ambient": _plain(AMBIENTS),
    "skill": _plain(SKILLS),
}
