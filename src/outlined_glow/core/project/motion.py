"""What the lights do, as a project keeps it: a pattern for all of them, or a score of strips."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .section import Angle, Section

#: Where a strip runs: along the chain, along a line, from the middle outwards, round it, along the edge of the board, or in an
#: order left to chance.
Along = Literal["chain", "line", "distance", "angle", "edge", "shuffled"]
#: How fast the period of a pattern passes: evenly, or slow somewhere, in steps, or as a curve is drawn.
Pace = Literal["even", "slow start", "slow end", "slow ends", "steps", "curve"]
#: How what a knob gives goes with how far it is turned.
Response = Literal["even", "slow start", "slow end", "slow ends"]
#: How a strip joins what plays below it.
Blend = Literal["over", "add", "lighter", "mask"]
#: What goes evenly while a strip fades: its light, or how light it is to the eye.
Fading = Literal["level", "lightness"]
#: What a live field shows where its feed has no value, or an old one; what digits show that have no room for a number.
NoValue = Literal["dashes", "blank", "last"]
NoRoom = Literal["dashes", "blank", "cut"]
#: A score is no longer, s.
LONGEST_S = 7200.0
Seconds = Annotated[float, Meta(ge=0, le=LONGEST_S)]
Share = Annotated[float, Meta(ge=0, le=1)]
Word = Annotated[str, Meta(max_length=80)]


class Feed(Section, frozen=True):
    """A value that changes while a score plays: simulated, recorded (`points`: moments in s and values), or turned by hand.

    It lies between `low` and `high`, and goes round once in `period_s`; a clock starts at `low`, seconds of the day. A knob
    stands `at` a share of its way, which it gives by its `response`; an encoder stops at so many `detents`. What is read has
    `noise` (a share of its range, up and down) and so many `bits` (0: any number), is smoothed over `smooth_s`, and stays as
    it is until it moves by more than its `dead_band`. A value older than `timeout_s` is none (0: as long as the period).
    """

    name: Annotated[str, Meta(pattern="^[A-Za-z_][A-Za-z0-9_]{0,29}$")]
    kind: Literal["tide", "clock", "counter", "walk", "charge", "wave", "recorded", "knob", "encoder"] = "tide"
    low: float = 0.0
    high: float = 1.0
    period_s: Annotated[float, Meta(gt=0, le=1e7)] = 20.0
    seed: Annotated[int, Meta(ge=0, le=1_000_000)] = 1
    points: Annotated[tuple[tuple[float, float], ...], Meta(max_length=20_000)] = ()
    at: Share = 0.5
    response: Response = "even"
    detents: Annotated[int, Meta(ge=2, le=1000)] = 24
    noise: Annotated[float, Meta(ge=0, le=0.5)] = 0.0
    bits: Annotated[int, Meta(ge=0, le=16)] = 0
    smooth_s: Annotated[float, Meta(ge=0, le=3600)] = 0.0
    dead_band: Annotated[float, Meta(ge=0, le=1e9)] = 0.0
    timeout_s: Annotated[float, Meta(ge=0, le=1e7)] = 0.0


class OwnPattern(Section, frozen=True):
    """A pattern of the project's own, in the words of those that ship: formulas, and the numbers that it takes, each with its
    usual value and its limits."""

    name: Annotated[str, Meta(min_length=1, max_length=40)]
    level: Annotated[str, Meta(min_length=1, max_length=400)]
    about: Annotated[str, Meta(max_length=200)] = ""
    keys: Annotated[tuple[tuple[Word, float, float, float], ...], Meta(max_length=20)] = ()
    where: Annotated[tuple[tuple[Word, Annotated[str, Meta(max_length=400)]], ...], Meta(max_length=20)] = ()
    colour: Annotated[str, Meta(max_length=400)] = ""
    palette: Word = ""


class Glyph(Section, frozen=True):
    """A letter that was painted: its rows from the top, `#` lit and `.` dark."""

    letter: Annotated[str, Meta(min_length=1, max_length=1)]
    rows: Annotated[tuple[Annotated[str, Meta(pattern="^[#.]{1,32}$")], ...], Meta(min_length=1, max_length=32)]


class Strip(Section, frozen=True):
    """A pattern that plays for a while on some LEDs.

    `number` names it, once given. It plays `repeats` times, one after another, on the LEDs that `board`, `groups`, `arrays`,
    `region` (a colour of the picture) and `leds` all allow; what is empty allows any. `colour` is for LEDs that have several,
    `palette` goes before it. Words are written as `text` in a `font`; a `film` is a file of the project. A number of the
    pattern, or the level, is `bound` to a feed by its name. Strips of a higher `row` lie over those below. A `curve` has the
    share of the period that is shown at shares of the time.
    """

    number: Annotated[int, Meta(ge=1, le=100_000)]
    pattern: Word = "steady"
    row: Annotated[int, Meta(ge=1, le=200)] = 1
    board: Word = ""
    groups: tuple[Word, ...] = ()
    arrays: tuple[Word, ...] = ()
    region: Annotated[str, Meta(pattern="^([0-9A-F]{6})?$")] = ""
    leds: Annotated[tuple[int, ...], Meta(max_length=20_000)] = ()
    start_s: Seconds = 0.0
    length_s: Annotated[float, Meta(gt=0, le=7200)] = 2.0
    repeats: Annotated[int, Meta(ge=1, le=1000)] = 1
    period_s: Annotated[float, Meta(gt=0, le=7200)] = 2.0
    level: Share = 1.0
    colour: Annotated[str, Meta(pattern="^([0-9A-F]{6})?$")] = ""
    palette: Word = ""
    fade_in_s: Seconds = 0.0
    fade_out_s: Seconds = 0.0
    fading: Fading = "level"
    along: Along = "chain"
    angle_deg: Angle = 0.0
    mirrored: bool = False
    backwards: bool = False
    pace: Pace = "even"
    steps: Annotated[int, Meta(ge=1, le=1000)] = 8
    curve: Annotated[tuple[tuple[Share, Share], ...], Meta(max_length=32)] = ()
    blend: Blend = "over"
    muted: bool = False
    seed: Annotated[int, Meta(ge=0, le=1_000_000)] = 1
    keys: Annotated[tuple[tuple[Word, float], ...], Meta(max_length=20)] = ()
    text: Annotated[str, Meta(max_length=200)] = ""
    font: Word = ""
    no_value: NoValue = "dashes"
    no_room: NoRoom = "dashes"
    film: Annotated[str, Meta(max_length=120)] = ""
    bound: Annotated[tuple[tuple[Word, Word], ...], Meta(max_length=20)] = ()
    #: The scene whose sign it is, "" for none.
    sign_of: Word = ""

    @property
    def limits(self) -> tuple[tuple[str, str], ...]:
        """What it is limited to, beside LEDs by number: the kind and the name of each."""
        kinds = (("board", (self.board,)), ("group", self.groups), ("array", self.arrays), ("colour", (self.region,)))
        return tuple((kind, name) for kind, names in kinds for name in names if name)

    @property
    def end_s(self) -> float:
        """When it is over."""
        return self.start_s + self.length_s * self.repeats


class Marker(Section, frozen=True):
    """A moment of the score with a name."""

    name: Annotated[str, Meta(min_length=1, max_length=40)]
    at_s: Seconds = 0.0


class Scene(Section, frozen=True):
    """A part of the score with a name, and what follows once it has played: again, its last moment held, dark, or switched off.
    `share` is how much of the day it is on, 0 to 1."""

    name: Annotated[str, Meta(min_length=1, max_length=40)]
    start_s: Seconds = 0.0
    length_s: Annotated[float, Meta(gt=0, le=7200)] = 2.0
    then: Literal["again", "hold", "dark", "off"] = "again"
    share: Share = 0.0


class Button(Section, frozen=True):
    """A button: whether its contact closes when it is pressed, how long it bounces, from when on a press is long or very long,
    and how soon a second press makes a double one."""

    name: Annotated[str, Meta(min_length=1, max_length=40)]
    contact: Literal["closes", "opens"] = "closes"
    debounce_s: Annotated[float, Meta(ge=0, le=1)] = 0.02
    long_s: Annotated[float, Meta(gt=0, le=20)] = 0.8
    very_long_s: Annotated[float, Meta(gt=0, le=60)] = 3.0
    double_s: Annotated[float, Meta(gt=0, le=2)] = 0.35


class SceneChange(Section, frozen=True):
    """What leads from a scene, or from any (""), to another one, or switches off (""): a press of a button, its end, a time
    after it began (`value`, s), or a feed that rises over or falls under a `value`."""

    number: Annotated[int, Meta(ge=1, le=100_000)]
    of: Word = ""
    to: Word = ""
    by: Literal["short", "long", "very long", "double", "end", "time", "over", "under"] = "short"
    button: Word = ""
    feed: Word = ""
    value: Annotated[float, Meta(ge=-1e9, le=1e9)] = 0.0


class Ambient(Section, frozen=True):
    """A sensor of the light of the place that dims all that plays: off without a `feed` that tells how much falls on it, lx.

    At `dark_lx` the board is dimmed to the share `floor`, at `bright_lx` to `ceiling`, between them along a line, or one over
    the logarithm; where it `falls`, the other way round. The board's own light, all of it, adds `own_lx`. It looks every
    `every_s` and goes slowly, over `smooth_s`.
    """

    feed: Word = ""
    map: Literal["linear", "log"] = "log"
    dark_lx: Annotated[float, Meta(ge=0.01, le=1e6)] = 1.0
    bright_lx: Annotated[float, Meta(ge=0.01, le=1e6)] = 1000.0
    floor: Share = 0.05
    ceiling: Share = 1.0
    falls: bool = False
    own_lx: Annotated[float, Meta(ge=0, le=1e6)] = 0.0
    every_s: Annotated[float, Meta(ge=0.01, le=60)] = 0.1
    smooth_s: Annotated[float, Meta(ge=0, le=600)] = 1.0


class Motion(Section, frozen=True):
    """What plays: the strips of the score, or one pattern on all LEDs as long as there are none. What switches goes over in
    `soft_s`. No frame takes more than `limit_a` (0: any current): what would is dimmed as a whole, or its brightest lights are
    clipped. After a power cut it begins with the first scene, or goes on in the last one."""

    pattern: str = "steady"
    period_s: Annotated[float, Meta(gt=0, le=600)] = 2.0
    brightness: Annotated[float, Meta(ge=0, le=1)] = 1.0
    soft_s: Annotated[float, Meta(ge=0, le=2)] = 0.0
    limit_a: Annotated[float, Meta(ge=0, le=100)] = 0.0
    over: Literal["dim", "clip"] = "dim"
    ambient: Ambient = Ambient()
    score: Annotated[tuple[Strip, ...], Meta(max_length=2000)] = ()
    patterns: Annotated[tuple[OwnPattern, ...], Meta(max_length=100)] = ()
    glyphs: Annotated[tuple[Glyph, ...], Meta(max_length=500)] = ()
    markers: Annotated[tuple[Marker, ...], Meta(max_length=200)] = ()
    feeds: Annotated[tuple[Feed, ...], Meta(max_length=100)] = ()
    scenes: Annotated[tuple[Scene, ...], Meta(max_length=100)] = ()
    buttons: Annotated[tuple[Button, ...], Meta(max_length=50)] = ()
    after_cut: Literal["first", "last"] = "first"
    changes: Annotated[tuple[SceneChange, ...], Meta(max_length=500)] = ()

    @property
    def seconds(self) -> float:
        """How long it plays before it begins again: two hours at most."""
        return min(max((one.end_s for one in self.score), default=self.period_s), LONGEST_S)

    @property
    def is_steady(self) -> bool:
        """Whether all LEDs have the same light all the time."""
        return not self.score and self.pattern == "steady"

    @property
    def is_full(self) -> bool:
        """Whether all LEDs are as bright as they are driven all the time."""
        return self.plays("steady") and not self.limit_a

    @property
    def title(self) -> str:
        """What plays, in a word or two."""
        if not self.score:
            return self.pattern
        return "1 strip" if len(self.score) == 1 else f"{len(self.score)} strips"

    def plays(self, pattern: str) -> bool:
        """Whether that pattern plays on all LEDs, as bright as they are driven; a sensor dims by a program alone."""
        return not self.score and self.pattern == pattern and self.brightness >= 1.0 and not self.ambient.feed
