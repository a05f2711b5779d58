"""What the picture itself makes one look twice at."""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence

import shapely

from ..appearances import title_of
from ..brief.advice import legible_mm
from ..colour import hex_difference
from ..colour.materials import masks, materials_of
from ..lettering import missing_letters
from ..parts import Profile
from ..project import Finding, Project, Remedy, Stack, Words
from .appearance import Art
from .drawing import Note, Written
from .painting import Painted
from .unprinted import unprinted_findings
from .words import Paths, edge_place

#: Below this, two tones that touch hardly show (DOMAIN 1).
_HARDLY = 8.0


def artwork_findings(painted: Painted, art: Art, project: Project, rules: Profile, paths: Paths) -> list[Finding]:
    """Notes of the readers, colours chosen that are not there, words too small, tones that hardly show. Picture frame."""
    by_hand, stack = project.design.artwork.chosen, project.brief.stack
    out = [_of_note(note, project) for note in painted.notes]
    words = [(number, one, _where(one, paths)) for number, one in enumerate(project.design.artwork.words, 1)]
    out += _small_words(words, rules)
    out += _small_drawn(painted.words, art, rules)
    out += _boxed_words(words)
    out += _far_words(words, project.brief.distance_m)
    out += [] if rules.has_mask else unprinted_findings(painted, art, project, rules)
    if not painted.outline.is_empty and project.design.shape.base == "silhouette":
        text = "The picture has an outline layer, but the board is cut along the silhouette."
        take = Remedy("use the outline layer", "set-shape", (("base", "outline"),))
        out.append(Finding("outline-not-taken", "note", "shape", text, remedies=(take,)))
    present = {swatch.colour for swatch in painted.swatches}
    for colour in by_hand:
        if colour not in present:
            text = f"You set #{colour} to {title_of(by_hand[colour])}, but the picture has no such colour."
            forget = Remedy("remove the setting", "propose-appearance", (("colour", colour),))
            out.append(Finding("colour-not-in-picture", "warning", "artwork", text, remedies=(forget,)))
    return out + (_hardly_shown(art, stack) if rules.has_mask else [])


#: Notes that only tell; all others are warnings: something is not as it was drawn.
_ADVICE = ("layer-at-its-word", "plain-ground", "first-frame-taken", "moving-part-still", "unit-not-stated", "layer-hidden",
           "pixels-not-square")  # fmt: skip


def _of_note(note: Note, project: Project) -> Finding:
    remedies: tuple[Remedy, ...] = ()
    if note.code == "plain-ground":
        pictures = enumerate(project.design.artwork.pictures, 1)
        which = next((number for number, one in pictures if f"“{one.name}”" in note.text), 1)
        remedies = (Remedy("remove the background", "set-tones", (("picture", which), ("ground", "outside"))),)
    return Finding(note.code, "note" if note.code in _ADVICE else "warning", "artwork", note.text, remedies=remedies)


#: Added words: their number, themselves, and where they stand.
Added = tuple[int, Words, tuple[float, float]]


def _where(one: Words, paths: Paths) -> tuple[float, float]:
    return edge_place(one, paths) or (one.x_mm, one.y_mm)


def _small_words(words: Sequence[Added], rules: Profile) -> list[Finding]:
    out = []
    for number, one, (x, y) in words:
        least = rules.legend_height_mm
        if one.appearance != "ink" or not rules.has_legend or one.height_mm >= least:
            continue
        text = f"“{one.text}” is {one.height_mm:g} mm high; {rules.title} prints {least:g} mm and more."
        remedy = Remedy(f"make it {least:g} mm", "set-words", (("number", number), ("height_mm", least)))
        out.append(
            Finding("words-too-small", "warning", "artwork", text, x, y, one.height_mm, least,
                    f"{one.side} legend", (remedy,))
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
        out.append(Finding("letters-missing", "warning", "artwork", text, x, y, layer=f"{one.side} legend",
                           remedies=(without, drawn) if rest else (drawn,)))  # fmt: skip
    return out


def _small_drawn(words: Sequence[Written], art: Art, rules: Profile) -> list[Finding]:
    """Texts of the pictures that become ink, lower than the fabricator prints."""
    inked = {(one.colour, one.side) for one in art.chosen if one.appearance == "ink"}
    least = rules.legend_height_mm
    low = [one for one in words if rules.has_legend and (one.colour, one.side) in inked and one.caps < least - 1e-6]
    if not low:
        return []
    first = min(low, key=lambda one: one.caps)
    text = f"“{first.text}” in the picture has capitals of {first.caps:.2f} mm; {rules.title} prints {least:g} mm"
    text += f" and more ({len(low)} texts)." if len(low) > 1 else " and more."
    metal = Remedy(f"make #{first.colour} metal", "set-appearance", (("colour", first.colour), ("appearance", "metal")))
    return [Finding("words-too-small", "warning", "artwork", text, first.x, first.y, round(first.caps, 3), least,
                    f"{first.side} legend", (metal, Remedy("draw it larger")), len(low),
                    tuple((one.x, one.y) for one in low))]  # fmt: skip


def _far_words(words: Sequence[Added], distance_m: float) -> list[Finding]:
    """Words that cannot be read from where the board is seen; small print is no fault, so this only tells."""
    least = legible_mm(distance_m)
    small = [row for row in words if row[1].height_mm < least - 1e-6]
    if not small:
        return []
    number, one, place = min(small, key=lambda row: row[1].height_mm)
    height = one.height_mm
    text = f"“{one.text}” is {height:g} mm high. To be read from {distance_m:g} m, text must be {least:g} mm high"
    text += f" ({len(small)} texts)." if len(small) > 1 else "."
    higher = Remedy(f"make it {least:g} mm", "set-words", (("number", number), ("height_mm", round(least, 2))))
    return [Finding("words-for-a-closer-look", "note", "artwork", text, *place, height, least, f"{one.side} legend",
                    (higher,), len(small), tuple(at for _, _, at in small))]  # fmt: skip


def _hardly_shown(art: Art, stack: Stack) -> list[Finding]:
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
            Finding("tones-hardly-show", "warning", "artwork", text, spot.x, spot.y, round(far, 2), _HARDLY, other, remedies)
        )
    return out


def _between(one: str, other: str, stack: Stack, mask: str | None = None) -> float:
    look = materials_of(mask or stack.mask, stack.finish, stack.ink, stack.thickness_mm)
    return hex_difference(look.colour(one), look.colour(other))


def _list(words: list[str]) -> str:
    return words[0] if len(words) == 1 else ", ".join(words[:-1]) + " or " + words[-1]
