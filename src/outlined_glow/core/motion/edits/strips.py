"""The edits of the motion: the pattern on all LEDs, and the strips of the score."""

from __future__ import annotations

from typing import Any

import msgspec

from ...errors import Trouble
from ...project import Motion, OwnPattern, Param, Project, Strip, edit
from ...text_safety import short
from ..feeds import fields_of
from ..pattern import pattern, pattern_names
from ..pixel_font import font_names
from ..set_font import missing_family
from ..shades import palette_names

#: What a key takes that is to be left to the pattern; the tallest font that has room.
NONE, AUTO = "none", "auto"
_HEX = Param("colour")
ALONG = (
    ("chain", "the chain"),
    ("line", "a line at an angle"),
    ("distance", "the middle outwards"),
    ("angle", "round the middle"),
    ("edge", "the board's edge"),
    ("shuffled", "left to chance"),
)
FADING = (("level", "evenly in light"), ("lightness", "evenly to the eye"))
PACES = (
    ("even", "evenly"),
    ("slow start", "slow at first"),
    ("slow end", "slow at last"),
    ("slow ends", "slow at both ends"),
    ("steps", "in steps"),
    ("curve", "as a curve is drawn"),
)
NO_VALUE = (("dashes", "shows dashes"), ("blank", "is blank"), ("last", "shows the last one"))
NO_ROOM = (("dashes", "shows dashes"), ("blank", "is blank"), ("cut", "is cut at the left"))
BLENDS = (
    ("over", "covers it"),
    ("add", "adds to it"),
    ("lighter", "the lighter one shows"),
    ("mask", "lets it through where lit"),
)


def _words(rows: tuple[tuple[str, str], ...]) -> tuple[str, ...]:
    return tuple(word for word, _ in rows)


_STRIP: dict[str, Param] = {
    "pattern": Param("choice", choices=pattern_names, title="pattern", others=True),
    "group": Param("names"),
    "array": Param("names"),
    "region": Param("text", title="on the colour"),
    "leds": Param("numbers"),
    "everywhere": Param("flag", title="on all LEDs"),
    "board": Param("text"),
    "row": Param("count", "", 1, 200, title="row"),
    "start_s": Param("quantity", "s", 0, 7200, title="start", step=0.25),
    "length_s": Param("quantity", "s", 0.02, 7200, title="length", step=0.25),
    "repeats": Param("count", "", 1, 1000, title="plays so many times"),
    "period_s": Param("quantity", "s", 0.02, 7200, title="period", step=0.25),
    "level": Param("quantity", "", 0, 1, title="brightness", shown="%", step=5, digits=0),
    "colour": Param("text", title="colour"),
    "palette": Param("choice", choices=lambda: (NONE, *palette_names()), title="palette"),
    "shades": Param("text", title="own colours"),
    "fade_in_s": Param("quantity", "s", 0, 7200, title="fades in over", step=0.1),
    "fade_out_s": Param("quantity", "s", 0, 7200, title="fades out over", step=0.1),
    "fading": Param("choice", choices=_words(FADING), titles=FADING, title="fades"),
    "along": Param("choice", choices=_words(ALONG), titles=ALONG, title="runs along"),
    "angle_deg": Param("quantity", "deg", -360, 360, title="angle", step=5, digits=1),
    "mirrored": Param("flag", title="from both ends"),
    "backwards": Param("flag", title="backwards"),
    "pace": Param("choice", choices=_words(PACES), titles=PACES, title="passes"),
    "steps": Param("count", "", 1, 1000, title="steps a period"),
    "curve": Param("text"),
    "blend": Param("choice", choices=_words(BLENDS), titles=BLENDS, title="over what is below"),
    "muted": Param("flag", title="muted"),
    "seed": Param("count", "", 0, 1_000_000, title="seed of chance"),
    "keys": Param("text", title="numbers of the pattern"),
    "text": Param("text", title="text"),
    "no_value": Param("choice", choices=_words(NO_VALUE), titles=NO_VALUE, title="without a value"),
    "no_room": Param("choice", choices=_words(NO_ROOM), titles=NO_ROOM, title="without room"),
    "font": Param("choice", choices=lambda: (AUTO, *font_names()), title="font", others=True),
}


@edit(
    "set-pattern",
    "Pattern",
    pattern=Param("choice", choices=pattern_names, title="pattern", others=True),
    period_s=Param("quantity", "s", 0.05, 600, title="period", step=0.5),
    brightness=Param("quantity", "", 0, 1, title="brightness", shown="%", step=5, digits=0),
)
def set_pattern(project: Project, **changes: Any) -> Project:
    """Choose the pattern that plays on all LEDs as long as the score has no strips, how long one round takes, and how bright it
    is (0 to 1)."""
    kept = {key: value for key, value in changes.items() if value is not None}
    pattern(kept.get("pattern", "steady"), project.motion.patterns)
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(project.motion, **kept))


@edit("add-strip", "Strip of {pattern}", **_STRIP)
def add_strip(project: Project, **told: Any) -> Project:
    """Put a strip into the score: a pattern that plays for a while on some LEDs. Without a row it takes the lowest one that is
    free at that time; without a length, one period."""
    score = project.motion.score
    new = Strip(number=max((one.number for one in score), default=0) + 1)
    if told.get("length_s") is None:
        told["length_s"] = told["period_s"] if told.get("period_s") is not None else new.length_s
    made = _changed(new, told, project.motion.patterns)
    if told.get("row") is None:
        made = msgspec.structs.replace(made, row=free_row(score, made))
    return with_score(project, (*score, made))


@edit("set-strip", "Strip {number}", number=Param("count", "", 1, 100_000, optional=False), **_STRIP)
def set_strip(project: Project, *, number: int, **told: Any) -> Project:
    """Change a strip of the score."""
    return _exchanged(project, number, lambda one: (_changed(one, told, project.motion.patterns),))


@edit("remove-strip", "Strip {number} removed", number=Param("count", "", 1, 100_000, optional=False))
def remove_strip(project: Project, *, number: int) -> Project:
    """Take a strip out of the score."""
    return _exchanged(project, number, lambda one: ())


@edit(
    "copy-strip",
    "Copy of strip {number}",
    number=Param("count", "", 1, 100_000, optional=False),
    start_s=Param("quantity", "s", 0, 7200),
)
def copy_strip(project: Project, *, number: int, start_s: float | None = None) -> Project:
    """Put a copy of a strip into the score, right after it unless told."""
    one, score = strip_of(project.motion, number), project.motion.score
    last = max(other.number for other in score)
    made = msgspec.structs.replace(one, number=last + 1, start_s=one.end_s if start_s is None else start_s)
    _ends(made)
    return with_score(project, (*score, msgspec.structs.replace(made, row=free_row(score, made, one.row))))


@edit(
    "split-strip",
    "Strip {number} in two",
    number=Param("count", "", 1, 100_000, optional=False),
    at_s=Param("quantity", "s", 0, 7200, optional=False),
)
def split_strip(project: Project, *, number: int, at_s: float) -> Project:
    """Cut a strip in two at a moment of the score; what plays several times, into more where it is cut within one of them. Each
    part begins the pattern anew."""
    one = strip_of(project.motion, number)
    if not one.start_s + 0.02 <= at_s <= one.end_s - 0.02:
        raise Trouble(f"Strip {number} plays from {one.start_s:g} s to {one.end_s:g} s; {at_s:g} s is not within it.")
    played = int((at_s - one.start_s + 1e-6) // one.length_s)
    start = one.start_s + played * one.length_s
    parts: list[Strip] = []
    if start + one.length_s - at_s < 0.02:  # where it ends but for a hair, it is cut at that end
        played, start = played + 1, start + one.length_s
    if played:
        parts.append(msgspec.structs.replace(one, repeats=played))
    after = played
    if at_s - start >= 0.02:  # within one of the times that it plays
        inside = msgspec.structs.replace(one, repeats=1)
        parts.append(msgspec.structs.replace(inside, start_s=start, length_s=at_s - start, fade_out_s=0.0))
        parts.append(msgspec.structs.replace(inside, start_s=at_s, length_s=start + one.length_s - at_s, fade_in_s=0.0))
        after += 1
    if after < one.repeats:
        parts.append(msgspec.structs.replace(one, start_s=one.start_s + after * one.length_s, repeats=one.repeats - after))
    last = max(other.number for other in project.motion.score)
    named = [msgspec.structs.replace(part, number=number if not at else last + at) for at, part in enumerate(parts)]
    return _exchanged(project, number, lambda _: named)


def strip_of(motion: Motion, number: int) -> Strip:
    """The strip of that number, or `Trouble`."""
    found = next((one for one in motion.score if one.number == number), None)
    if found is None:
        there = ", ".join(str(one.number) for one in motion.score[:12]) or "none"
        raise Trouble(f"There is no strip {number} in the score; there are: {there}.")
    return found


def free_row(score: tuple[Strip, ...], new: Strip, first: int = 1) -> int:
    """The lowest row, from the `first` on, in which nothing else plays while a strip does."""
    taken = {one.row for one in score if one.start_s < new.end_s - 1e-9 and one.end_s > new.start_s + 1e-9}
    row = next((row for row in range(first, 201) if row not in taken), None)
    if row is None:
        raise Trouble("The score has 200 rows, all taken at that time; remove a strip or start this one later.")
    return row


def keys_of(text: str) -> tuple[tuple[str, float], ...]:
    """The numbers of a pattern as they are written: tail=3 width=0.2."""
    out: dict[str, float] = {}
    for word in text.replace(",", " ").split():
        name, _, value = word.partition("=")
        try:
            out[name] = float(value)
        except ValueError:
            raise Trouble(f"keys are written as tail=3 width=0.2; “{short(word)}” is not.") from None
    return tuple(sorted(out.items()))


def shades_of(text: str) -> str:
    """Colours that a palette of one's own runs through, as they are written: FF8000 400010. `none` for no palette."""
    if text.strip().lower() == NONE:
        return ""
    colours = [str(_HEX.check("shades", word)) for word in text.replace(",", " ").split()]
    if not 2 <= len(colours) <= 8:
        raise Trouble(f"A palette runs through 2 to 8 colours, such as FF8000 400010; {len(colours)} are given.")
    return " ".join(colours)


def curve_of(text: str) -> tuple[tuple[float, float], ...]:
    """A curve as it is written: shares of the time and of the period that is shown then, 0,0 0.3,0.8 1,1. `none` is even."""
    if text.strip() == NONE:
        return ()
    try:
        points = sorted((float(x), float(y)) for x, y in (word.split(",") for word in text.split()))
    except ValueError:
        raise Trouble(f"curve is written as 0,0 0.3,0.8 1,1; “{short(text)}” is not.") from None
    times = [x for x, _ in points]
    if not all(0 <= value <= 1 for point in points for value in point) or not 2 <= len(points) <= 32:
        raise Trouble("A curve has 2 to 32 points, each a share of the time and one of the period, 0 to 1.")
    if len(set(times)) < len(times) or times[0] != 0 or times[-1] != 1:
        raise Trouble("A curve begins at time 0, ends at time 1, and has no two points at one time.")
    return tuple(points)


def _changed(one: Strip, told: dict[str, Any], own: tuple[OwnPattern, ...]) -> Strip:
    """A strip with what was told of it."""
    new = {key: value for key, value in told.items() if value is not None}
    if new.pop("everywhere", False):
        new = {"board": "", "groups": (), "arrays": (), "region": "", "leds": ()} | new
    for key, field in (("group", "groups"), ("array", "arrays")):
        if key in new:
            new[field] = new.pop(key)
    for key in ("colour", "region"):
        if new.get(key):
            new[key] = _colour(key, new[key])
    if "text" in new:
        fields_of(new["text"])
    if new.get("font") == AUTO:
        new["font"] = ""
    if new.get("font") and new["font"] not in font_names() and missing_family(new["font"]):
        there = ", ".join((AUTO, *font_names()))
        raise Trouble(f"There is no font “{short(new['font'])}” here; there are {there}, and the families that are installed.")
    if new.get("palette") == NONE:
        new["palette"] = ""
    if "shades" in new:
        new["palette"] = shades_of(new.pop("shades"))
    if "curve" in new:
        new["curve"] = curve_of(new["curve"])
    if "keys" in new:
        new["keys"] = (
            () if new["keys"].strip() == NONE else tuple(sorted((dict(one.keys) | dict(keys_of(new["keys"]))).items()))
        )
    if "pattern" in new and new["pattern"] != one.pattern:
        known = pattern(new["pattern"], own).keys
        new["keys"] = tuple(row for row in new.get("keys", one.keys) if row[0] in known or told.get("keys"))
    made = msgspec.structs.replace(one, **new)
    _written(made, own)
    pattern(made.pattern, own).checked(dict(made.keys))
    _ends(made)
    return made


def _ends(made: Strip) -> None:
    """`Trouble` for a strip that would end too late."""
    if made.end_s > 7200:
        raise Trouble(f"The strip would end at {made.end_s:g} s; a score lasts at most two hours (7200 s).")


def _written(one: Strip, own: tuple[OwnPattern, ...]) -> None:
    """`Trouble` for words without words, and for what is bound that the pattern does not have."""
    if pattern(one.pattern, own).written == "picture":
        if not one.film:
            raise Trouble("“picture” needs a file: bring a picture or film first (add-film file=).")
    elif pattern(one.pattern, own).written and not one.text:
        raise Trouble(f"“{one.pattern}” needs a text; give text= as well, such as text=hello.")


def _colour(key: str, text: str) -> str:
    if text.strip().lower() == NONE:
        return ""
    return str(_HEX.check(key, text.strip()))


def with_score(project: Project, score: tuple[Strip, ...]) -> Project:
    """The project with these strips, or `Trouble` for too many."""
    if len(score) > 2000:
        raise Trouble("A score has at most 2,000 strips; remove some.")
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(project.motion, score=score))


def _exchanged(project: Project, number: int, instead: Any) -> Project:
    """The score with others in the place of a strip."""
    strip_of(project.motion, number)
    score: list[Strip] = []
    for one in project.motion.score:
        score += instead(one) if one.number == number else (one,)
    return with_score(project, tuple(score))
