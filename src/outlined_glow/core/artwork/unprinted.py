"""Without mask and ink there are bare metal, bare laminate and cut-outs: what cannot be made, and what shows instead."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping

from ..appearances import title_of
from ..colour import materials_of
from ..parts import Profile
from ..project import Finding, Remedy, Stack, Words
from .appearance import Art, Chosen, choose, propose, touching
from .painting import Painted

_MADE = ("metal", "window", "cut")
#: What is seen instead of what cannot be made.
_SEEN = {"mask": "bare laminate", "raised": "metal", "ink": "bare laminate", "veiled": "bare laminate"}


def unprinted_findings(
    painted: Painted, art: Art, by_hand: Mapping[str, str], words: tuple[Words, ...], stack: Stack, rules: Profile
) -> list[Finding]:
    """Nothing where mask and ink are printed; else what would be proposed elsewhere and what is instead,
    and choices by hand and words that cannot be made. Picture frame."""
    if rules.has_mask:
        return []
    return [*_replaced(painted, art, by_hand, stack, rules), *_vanished(art, stack, rules), *_words(words, rules)]


def _replaced(painted: Painted, art: Art, by_hand: Mapping[str, str], stack: Stack, rules: Profile) -> list[Finding]:
    look = materials_of(stack.mask, stack.finish, stack.ink, stack.thickness_mm)
    elsewhere = choose(painted, touching(painted), by_hand, look, True)
    rows = zip(elsewhere, art.chosen, strict=True)
    pairs = Counter((usual.appearance, now.appearance) for usual, now in rows if usual.appearance != now.appearance)
    if not pairs:
        return []
    words = [
        f"{title_of(usual, False)} becomes {title_of(now, False)} ({count} colour{'s' * (count > 1)})"
        for (usual, now), count in pairs.items()
    ]
    text = f"{rules.title} prints neither solder mask nor ink: {', '.join(words)}."
    printed = Remedy("switch to the Standard profile", "set-profile", (("profile", "standard"),))
    return [
        Finding(
            code="appearances-replaced",
            severity="note",
            stage="artwork",
            text=text,
            remedies=(printed,),
            count=sum(pairs.values()),
        )
    ]


def _vanished(art: Art, stack: Stack, rules: Profile) -> list[Finding]:
    """Chosen by hand or by the name of a layer, and not to be had: what is seen there instead."""
    look = materials_of(stack.mask, stack.finish, stack.ink, stack.thickness_mm, False)
    out = []
    for appearance, seen in _SEEN.items():
        rows: list[Chosen] = [one for one in art.chosen if one.by_hand and one.appearance == appearance]
        if not rows:
            continue
        spot = rows[0].region.representative_point()
        title = title_of(appearance, False)
        text = f"{rules.title} cannot make {title}. {seen.capitalize()} shows there instead."
        remedies = [
            Remedy(f"#{one.colour} as suggested: {title_of(propose(one.colour, look, False), False)}", "propose-appearance",
                   (("colour", one.colour),))
            for one in rows[:4]
            if not one.word
        ] or [Remedy("give that layer of the drawing another name")]  # fmt: skip
        out.append(Finding(
            code="appearance-vanishes", severity="warning", stage="artwork", text=text, x_mm=spot.x, y_mm=spot.y,
            remedies=tuple(remedies), count=len(rows),
        ))  # fmt: skip
    return out


def _words(words: tuple[Words, ...], rules: Profile) -> list[Finding]:
    lost = [(number, one) for number, one in enumerate(words, 1) if one.appearance not in _MADE]
    if not lost:
        return []
    number, first = lost[0]
    title = title_of(first.appearance, False)
    text = f"“{first.text}” is {title}, which {rules.title} cannot make ({len(lost)} texts)."
    metal = Remedy(f"“{first.text[:16]}” in bare metal", "set-words", (("number", number), ("appearance", "metal")))
    return [
        Finding(
            code="appearance-vanishes",
            severity="warning",
            stage="artwork",
            text=text,
            x_mm=first.x_mm,
            y_mm=first.y_mm,
            remedies=(metal,),
            count=len(lost),
        )
    ]
