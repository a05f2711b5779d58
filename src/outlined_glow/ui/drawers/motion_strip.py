"""The strip in hand: what it plays, on which LEDs, and which way it runs."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QLabel, QWidget

from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice, QuantityField, TextField
from ..flow import FlowLayout
from ..session import Session
from ..widgets import label, link
from .base import Drawer, Window
from .curve_field import CurveField

_PLAYS = (
    "pattern",
    "text",
    "font",
    "no_value",
    "no_room",
    "palette",
    "shades",
    "colour",
    "level",
    "start_s",
    "length_s",
    "repeats",
    "period_s",
    "fade_in_s",
    "fade_out_s",
    "fading",
)
_RUNS = ("along", "angle_deg", "mirrored", "backwards", "pace", "steps", "row", "blend", "seed")
_PICKED = "picked"


def fill_patterns(choice: Choice, motion: Any) -> None:
    """The patterns that can be chosen: those that ship, and the project's own."""
    choice.fill([(name, name) for name in (*core("pattern").pattern_names(), *(one.name for one in motion.patterns))])


class StripCards:
    """Two cards about one strip of the score; they go where none is in hand."""

    def __init__(self, drawer: Drawer, session: Session) -> None:
        self._session, self._edit = session, drawer.edit
        self._number = 0
        self._window: Window | None = None
        self._keys: dict[str, QuantityField] = {}
        self._key_rows: list[QWidget] = []
        self._pattern = ""
        self._first = ""
        self._build_plays(drawer)
        self._build_runs(drawer)

    def _build_plays(self, drawer: Drawer) -> None:
        """What the strip plays, when, and what it follows."""
        self.plays = drawer.add_card("Strip")
        self.rows = KeyRows(self.plays, "set-strip", self._set)
        self.rows.add(*_PLAYS)
        self.rows["colour"].setToolTip("Six hexadecimal digits such as FFA000, or none: LEDs with one colour keep theirs")
        self.rows["colour"].setPlaceholderText("as the LEDs are")
        self.rows["shades"].setToolTip("A palette of your own: 2 to 8 colours such as FF8000 400010, or none")
        self.rows["shades"].setPlaceholderText("none")
        self.dims, self.moves = Choice([]), Choice([])
        self.dims.chosen.connect(lambda feed: self._bind("level", feed))
        self.moves.chosen.connect(lambda feed: self._bind(self._first, feed))
        self._dims_row = self.plays.row("brightness follows", self.dims)
        self.paced, self.tinted = Choice([]), Choice([])
        self.paced.chosen.connect(lambda feed: self._bind("pace", feed))
        self.tinted.chosen.connect(lambda feed: self._bind("colour", feed))
        self._paced_row = self.plays.row("pace follows", self.paced)
        self._tinted_row = self.plays.row("colour follows", self.tinted)
        self._moves_row = self.plays.row("value follows", self.moves)
        self._moves_title = self._moves_row.findChild(QLabel) or QLabel()
        links = FlowLayout()
        for text, run, tip in (
            ("copy it", lambda: self._run("copy-strip"), "D"),
            ("split it here", self._split, "S"),
            ("remove it", lambda: self._run("remove-strip"), "Delete"),
        ):
            one = link(text, run)
            one.setToolTip(f"Key on the score: {tip}")
            links.addWidget(one)
        self.mute = link("mute it", self._mute)
        self.mute.setToolTip("Key on the score: M")
        links.addWidget(self.mute)
        self.plays.body.addLayout(links)

    def _build_runs(self, drawer: Drawer) -> None:
        """The LEDs it runs over, and which way."""
        self.runs = drawer.add_card("Where it runs")
        self.on = Choice([])
        self.on.chosen.connect(self._on)
        self.runs.row("on", self.on)
        self.leds = TextField()
        self.leds.setPlaceholderText("any of them")
        self.leds.setToolTip("Numbers such as 1,2,5-8; or hold Ctrl and draw round LEDs on the bench")
        self.leds.committed.connect(self._leds)
        self.runs.row("LEDs", self.leds)
        self.way = KeyRows(self.runs, "set-strip", self._set)
        at = _RUNS.index("pace") + 1
        self.way.add(*_RUNS[:at])
        self.curve = CurveField()
        self.curve.drawn.connect(lambda points: self._set("curve", points))
        self.runs.add(self.curve)
        self.way.add(*_RUNS[at:])
        self.words = label("", "quiet", wrap=True)
        self.runs.add(self.words)

    def attach(self, window: Window) -> None:
        """The window is there."""
        self._window = window
        window.area.score.chosen.connect(self._choose)
        window.area.bench.picked_leds.connect(self._picked)

    def _choose(self, number: int) -> None:
        self._number = number
        if self._window is not None:
            self._window.area.bench.take(frozenset())
        if self._session.work is not None:
            self.show_work(self._session.work)

    def show_work(self, work: Any) -> None:
        """Show the strip in hand as the project has it."""
        strip = next((one for one in work.project.motion.score if one.number == self._number), None)
        for card in (self.plays, self.runs):
            card.setVisible(strip is not None)
        if self._window is not None:
            self._window.area.bench.show_way(strip)
        if strip is None:
            return
        self.plays.title.set_full(f"Strip {strip.number}")
        self.plays.aside.set_full("muted" if strip.muted else "")
        self.mute.setText("play it again" if strip.muted else "mute it")
        colour = strip.colour or ""
        fill_patterns(self.rows["pattern"], work.project.motion)
        fonts = ["auto", *core("pixel_font").font_names()]
        self.rows["font"].fill([(name, name) for name in (*fonts, *({strip.font} - {"", *fonts}))])
        shades = " ".join(core("shades").own_colours(strip.palette))
        palette = "" if shades else strip.palette or "none"
        self.rows.show_of(strip, palette=palette, shades=shades, colour=colour, font=strip.font or "auto")
        written = self._pattern_of(strip.pattern).written
        lacks = {"words": {"no_room"}, "numbers": {"font"}}.get(written, {"text", "font", "no_room"})
        if "{" not in strip.text or written not in ("words", "numbers"):
            lacks |= {"no_value"}
        self.rows.only([key for key in _PLAYS if key not in lacks])
        self._show_bound(strip, work.project.motion.feeds)
        self._show_keys(strip)
        self.way.show_of(strip)
        self.way.only([
            key for key in _RUNS
            if (key != "angle_deg" or strip.along in ("line", "angle")) and (key != "steps" or strip.pace == "steps")
        ])  # fmt: skip
        self.curve.setVisible(strip.pace == "curve")
        self.curve.show_points(strip.curve)
        groups, arrays = work.lamps.all_groups, work.lamps.arrays
        words = [("", "all LEDs")]
        words += [(f"group:{name}", name) for name in dict.fromkeys(name for some in groups for name in some)]
        words += [(f"array:{name}", f"array {name}") for name in dict.fromkeys(arrays) if name]
        words += [(f"colour:{one}", f"on colour {one}") for one in dict.fromkeys(work.lamps.regions) if one]
        if len(self._session.boards) > 1:
            words += [(f"board:{name}", f"board {name}") for name in self._session.boards]
        limits = strip.limits
        words += [(f"{kind}:{name}", f"{name}: no LED") for kind, name in limits if f"{kind}:{name}" not in dict(words)]
        if len(limits) > 1:
            words.append((_PICKED, "several of these"))
        elif strip.leds:
            words.append((_PICKED, "the LEDs below"))
        self.on.fill(words)
        self.on.show_key(_PICKED if len(limits) > 1 or strip.leds else ":".join(limits[0]) if limits else "")
        self.leds.show_text(core("motion_facts").numbers_words(strip.leds))
        self.words.setText(core("motion_facts").strip_words(work, strip))

    def _show_keys(self, strip: Any) -> None:
        """Fields of the numbers that its pattern takes."""
        keys = core("motion_facts").keys_of_strip(self._session.work, strip)
        if strip.pattern != self._pattern:
            for row in self._key_rows:
                self.plays.body.removeWidget(row)
                row.deleteLater()
            self._pattern, self._keys, self._key_rows = strip.pattern, {}, []
            for at, (name, (key, _)) in enumerate(keys.items()):
                field = QuantityField("" if key.unit == "LEDs" else key.unit, "", low=key.low, high=key.high)
                field.committed.connect(lambda value, name=name: self._set("keys", f"{name}={value:g}"))
                row = self.plays.row(key.title or name, field)
                self.plays.body.removeWidget(row)
                self.plays.body.insertWidget(_PLAYS.index("palette") + 1 + at, row)
                self._keys[name] = field
                self._key_rows.append(row)
        for name, (_, value) in keys.items():
            self._keys[name].show_value(value)

    def _show_bound(self, strip: Any, feeds: Any) -> None:
        """What follows a feed, where there are any: the brightness, and the first number of the pattern."""
        first = next(iter(self._pattern_of(strip.pattern).keys), "")
        self._first = first
        bound = dict(strip.bound)
        one = self._pattern_of(strip.pattern)
        palette = strip.palette or one.palette
        for key, choice, row, there in (
            ("level", self.dims, self._dims_row, True),
            ("pace", self.paced, self._paced_row, True),
            ("colour", self.tinted, self._tinted_row, bool(palette)),
            (first, self.moves, self._moves_row, bool(first)),
        ):
            row.setVisible((bool(feeds) and there) or key in bound)
            choice.fill([("none", "nothing"), *((one.name, one.name) for one in feeds)])
            choice.show_key(bound.get(key, "none"))
        self._moves_title.setText(f"{first.removesuffix('_mm')} follows")

    def _pattern_of(self, name: str) -> Any:
        """A pattern that ships, or one of the project's own."""
        project = self._session.project
        return core("pattern").pattern(name, project.motion.patterns if project is not None else ())

    def _bind(self, key: str, feed: str) -> None:
        if key and self._number:
            self._edit("bind", number=self._number, key=key, feed=feed)

    def _set(self, key: str, value: Any) -> bool | None:
        if not self._number:
            return None
        more: dict[str, Any] = {}
        if (
            key == "pattern"
            and self._pattern_of(value).written in ("words", "numbers")
            and not self.rows["text"].text().strip()
        ):
            more = {"text": "hello"}
        return bool(self._edit("set-strip", number=self._number, **{key: value}, **more))

    def _run(self, name: str) -> None:
        if self._number:
            self._edit(name, number=self._number)

    def _split(self) -> None:
        if self._number and self._window is not None:
            self._edit("split-strip", number=self._number, at_s=round(self._window.area.score.time_s, 3))

    def _mute(self) -> None:
        work = self._session.work
        if work is not None and self._number:
            one = next((one for one in work.project.motion.score if one.number == self._number), None)
            if one is not None:
                self._set("muted", not one.muted)

    def _on(self, word: str) -> None:
        kind, _, name = word.partition(":")
        if word == _PICKED or not self._number:
            return
        values: dict[str, Any] = {"everywhere": True}
        if kind in ("group", "array"):
            values[kind] = (name,)
        elif kind:
            values["region" if kind == "colour" else kind] = name
        self._edit("set-strip", number=self._number, **values)

    def _leds(self, text: str) -> None:
        read: Callable[[str], Any] = core("motion_facts").numbers_of
        numbers = read(text)
        if numbers is None:
            self._session.trouble.emit(f"LEDs are written as 1,2,5-8, not “{text}”.")
        else:
            self._set("leds", numbers)

    def _picked(self, places: Any) -> None:
        """LEDs were drawn round on the bench: they are those of the strip."""
        work = self._session.work
        if work is None or self._window is None or self._window.area.bench.stage != "motion" or not self._number or not places:
            return
        self._set("leds", tuple(sorted(led.index for led in work.leds if (led.array, led.place) in places)))
