"""What the picture itself makes one look twice at."""

from __future__ import annotations

import unicodedata
from collections.abc import Callable, Mapping, Sequence
from functools import partial

import numpy as np
import shapely

from ..appearances import title_of
from ..brief.advice import legible_mm
from ..colour import hex_difference
from ..colour.materials import masks, materials_of
from ..geometry.clusters import clusters
from ..geometry.overlay import overlay_each
from ..lettering import missing_letters
from ..parts import Profile
from ..passes import Pass
from ..project import Brief, Finding, Picture, Remedy, Shape, Stack, Words
from ..project.finding import some_of
from ..project.frames import Point, all_in_board_frame
from ..text_safety import short
from .appearance import Art
from .drawing import Note
from .painting import Painted
from .unprinted import unprinted_findings
from .words import Paths, edge_place, words_region

#: Below this, two tones that touch hardly show (DOMAIN 1).
_HARDLY = 8.0

#: Texts that share no more than this, mm², do not lie over one another.
_SEEN_MM2 = 0.02

#: Added text: its number, itself, and where it stands.
Added = tuple[int, Words, tuple[float, float]]


def _notes(painted: Painted, pictures: tuple[Picture, ...]) -> list[Finding]:
    """What the readers of the pictures tell."""
    return [_of_note(note, pictures) for note in painted.notes]


def _texts(words: tuple[Words, ...], paths: Paths) -> tuple[Added, ...]:
    """Every text that was added: its number, itself, and where it stands."""
    return tuple((number, one, edge_place(one, paths) or (one.x_mm, one.y_mm)) for number, one in enumerate(words, 1))


def _untaken_outline(painted: Painted, shape: Shape) -> list[Finding]:
    if painted.outline.is_empty or shape.base != "silhouette":
        return []
    text = "The picture has an outline layer, but the board is cut along the silhouette."
    take = Remedy("use the outline layer", "set-shape", (("base", "outline"),))
    return [Finding(code="outline-not-taken", severity="note", stage="shape", text=text, remedies=(take,))]


def _missing_colours(painted: Painted, by_hand: Mapping[str, str]) -> list[Finding]:
    """Colours chosen for that the pictures do not have."""
    present = {swatch.colour for swatch in painted.swatches}
    out = []
    for colour in by_hand:
        if colour not in present:
            text = f"You set #{colour} to {title_of(by_hand[colour])}, but the picture has no such colour."
            forget = Remedy("remove the setting", "propose-appearance", (("colour", colour),))
            out.append(
                Finding(code="colour-not-in-picture", severity="warning", stage="artwork", text=text, remedies=(forget,))
            )
    return out


#: Notes that only tell; all others are warnings: something is not as it was drawn.
_ADVICE = ("layer-at-its-word", "plain-ground", "first-frame-taken", "moving-part-still", "unit-not-stated", "layer-hidden",
           "pixels-not-square")  # fmt: skip


def _of_note(note: Note, pictures: tuple[Picture, ...]) -> Finding:
    remedies: tuple[Remedy, ...] = ()
    if note.code == "plain-ground":
        which = next((number for number, one in enumerate(pictures, 1) if f"“{one.name}”" in note.text), 1)
        remedies = (Remedy("remove the background", "set-tones", (("picture", which), ("ground", "outside"))),)
    return Finding(
        code=note.code,
        severity="note" if note.code in _ADVICE else "warning",
        stage="artwork",
        text=note.text,
        remedies=remedies,
    )


def _small_words(words: Sequence[Added], rules: Profile) -> list[Finding]:
    out = []
    for number, one, (x, y) in words:
        least = rules.legend_height_mm
        if one.appearance != "ink" or not rules.has_legend or one.height_mm >= least:
            continue
        text = f"“{one.text}” is {one.height_mm:g} mm high; {rules.title} prints {least:g} mm and more."
        remedy = Remedy(f"make it {least:g} mm", "set-words", (("number", number), ("height_mm", least)))
        out.append(
            Finding(
                code="words-too-small", severity="warning", stage="artwork", text=text, x_mm=x, y_mm=y,
                measured=one.height_mm, allowed=least, layer=f"{one.side} legend", remedies=(remedy,),
            )
        )  # fmt: skip
    return out


def _boxed_words(words: Sequence[Added]) -> list[Finding]:
    """Words with letters that the built-in font does not have."""
    out = []
    for number, one, (x, y) in words:
        lacking = missing_letters(one.text, one.weight)
        if not lacking:
            continue
        text = f"The built-in font has no “{lacking[:12]}”. An empty box is drawn in “{one.text}”."
        whole = unicodedata.normalize("NFC", one.text)
        rest = " ".join("".join(letter for letter in whole if letter not in lacking).split())
        without = Remedy(f"leave out “{lacking[:12]}”", "set-words", (("number", number), ("text", rest)))
        drawn = Remedy("draw it in a picture, with a font that has it")
        out.append(Finding(
            code="letters-missing", severity="warning", stage="artwork", text=text, x_mm=x, y_mm=y,
            layer=f"{one.side} legend", remedies=(without, drawn) if rest else (drawn,),
        ))  # fmt: skip
    return out


def _crossing_words(words: Sequence[Added], paths: Paths) -> list[Finding]:
    """Texts of a side that lie over one another, where none of them can be read."""
    regions = np.array([words_region(one, paths) for _, one, _ in words], dtype=object)
    back = np.array([one.side == "back" for _, one, _ in words], bool)
    at, other = shapely.STRtree(regions).query(regions, predicate="intersects")
    pairs = (at < other) & (back[at] == back[other])
    at, other = at[pairs], other[pairs]
    over = shapely.area(overlay_each(shapely.intersection, regions[at], regions[other])) > _SEEN_MM2
    cluster = clusters(len(regions), at[over], other[over])
    out = []
    for which in np.unique(cluster[at[over]]).tolist():
        some = [words[place] for place in np.flatnonzero(cluster == which).tolist()]
        text = f"{some_of([f'“{short(one.text)}”' for _, one, _ in some])} lie over one another. Move them apart."
        out.append(Finding(
            code="words-over-words", severity="warning", stage="artwork", text=text,
            x_mm=some[0][2][0], y_mm=some[0][2][1], count=len(some), places=tuple(place for _, _, place in some),
        ))  # fmt: skip
    return out


def _small_drawn(painted: Painted, art: Art, rules: Profile) -> list[Finding]:
    """Texts of the pictures that become ink, lower than the fabricator prints."""
    inked = {(one.colour, one.side) for one in art.chosen if one.appearance == "ink"}
    least = rules.legend_height_mm
    low = [one for one in painted.words if rules.has_legend and (one.colour, one.side) in inked and one.caps < least - 1e-6]
    if not low:
        return []
    first = min(low, key=lambda one: one.caps)
    text = f"“{first.text}” in the picture has capitals of {first.caps:.2f} mm; {rules.title} prints {least:g} mm"
    text += f" and more ({len(low)} texts)." if len(low) > 1 else " and more."
    metal = Remedy(f"make #{first.colour} metal", "set-appearance", (("colour", first.colour), ("appearance", "metal")))
    return [Finding(
        code="words-too-small", severity="warning", stage="artwork", text=text, x_mm=first.x, y_mm=first.y,
        measured=round(first.caps, 3), allowed=least, layer=f"{first.side} legend",
        remedies=(metal, Remedy("draw it larger")), count=len(low), places=tuple((one.x, one.y) for one in low),
    )]  # fmt: skip


def _far_words(words: Sequence[Added], brief: Brief) -> list[Finding]:
    """Words that cannot be read from where the board is seen; small print is no fault, so this only tells."""
    distance_m = brief.distance_m
    least = legible_mm(distance_m)
    small = [row for row in words if row[1].height_mm < least - 1e-6]
    if not small:
        return []
    number, one, place = min(small, key=lambda row: row[1].height_mm)
    height = one.height_mm
    text = f"“{one.text}” is {height:g} mm high. To be read from {distance_m:g} m, text must be {least:g} mm high"
    text += f" ({len(small)} texts)." if len(small) > 1 else "."
    higher = Remedy(f"make it {least:g} mm", "set-words", (("number", number), ("height_mm", round(least, 2))))
    return [Finding(code="words-for-a-closer-look", severity="note", stage="artwork", text=text, x_mm=place[0], y_mm=place[1],
                    measured=height, allowed=least, layer=f"{one.side} legend", remedies=(higher,), count=len(small),
                    places=tuple(at for _, _, at in small))]  # fmt: skip


def _hardly_shown(art: Art, stack: Stack, rules: Profile) -> list[Finding]:
    if not rules.has_mask:
        return []
    out = []
    kinds = [kind for kind in art.regions if kind not in ("cut", "veiled")]
    pairs = {("mask", kind) for kind in kinds if kind != "mask"}
    for place, one in enumerate(kinds):
        for other in kinds[place + 1 :]:
            if shapely.dwithin(art.regions[one], art.regions[other], 0.02):
                pairs.add((one, other) if one == "mask" or other != "mask" else (other, one))
    for one, other in sorted(pairs):
        far = _between(one, other, stack)
        if far >= _HARDLY:
            continue
        better = [mask for mask in masks() if _between(one, other, stack, mask) >= _HARDLY]
        spot = art.regions[other].representative_point()
        text = f"{title_of(one).capitalize()} and {title_of(other)} look almost the same in {stack.mask} "
        text += f"(ΔE {far:.1f}; {_HARDLY:g} shows)." + (f" They show in {_list(better)}." if better else "")
        remedies = tuple(Remedy(f"{mask} mask", "set-stack", (("mask", mask),)) for mask in better[:3])
        out.append(
            Finding(
                code="tones-hardly-show",
                severity="warning",
                stage="artwork",
                text=text,
                x_mm=spot.x,
                y_mm=spot.y,
                measured=round(far, 2),
                allowed=_HARDLY,
                layer=other,
                remedies=remedies,
            )
        )
    return out


def _between(one: str, other: str, stack: Stack, mask: str | None = None) -> float:
    look = materials_of(mask or stack.mask, stack.finish, stack.ink, stack.thickness_mm)
    return hex_difference(look.colour(one), look.colour(other))


def _list(words: list[str]) -> str:
    return words[0] if len(words) == 1 else ", ".join(words[:-1]) + " or " + words[-1]


def _here(run: Callable[..., list[Finding]], origin: Point, *read: object) -> tuple[Finding, ...]:
    return all_in_board_frame(run(*read), origin)


def _check(name: str, run: Callable[..., list[Finding]], *reads: str) -> Pass:
    """A check whose findings are in the picture frame."""
    return Pass(f"{name} check", ("origin", *reads), partial(_here, run))


CHECKS = (
    Pass("texts", ("words", "paths"), _texts),
    _check("reader notes", _notes, "painted", "pictures"),
    _check("text height", _small_words, "texts", "rules"),
    _check("drawn text", _small_drawn, "painted", "drawn", "rules"),
    _check("letters", _boxed_words, "texts"),
    _check("crossing texts", _crossing_words, "texts", "paths"),
    _check("reading distance", _far_words, "texts", "brief"),
    _check("unprinted", unprinted_findings, "painted", "drawn", "chosen by hand", "words", "stack", "rules"),
    _check("outline layer", _untaken_outline, "painted", "shape"),
    _check("missing colours", _missing_colours, "painted", "chosen by hand"),
    _check("tones", _hardly_shown, "drawn", "stack", "rules"),
)
