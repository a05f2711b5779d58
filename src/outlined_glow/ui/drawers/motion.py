"""Motion: the pattern or the strips of the score, whether the LEDs show them, currents, flashes, and the table to write."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ...core.units import show, show_si
from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Switch
from ..flow import FlowLayout
from ..widgets import button, clear, figure_row, label, link
from .ambient_card import AmbientCard
from .base import Drawer, Window
from .feeds import FeedsCard
from .films import FilmsCard
from .flash_bars import FlashBars
from .glyphs import GlyphsCard
from .markers import MarkersCard
from .motion_strip import StripCards, fill_patterns
from .moving_eye import MovingEyeCard
from .own_patterns import OwnPatternsCard
from .rail_card import RailCard
from .scenes import ScenesCards

_TABLES = "C header (*.h);;Binary table (*.bin);;CSV (*.csv);;JSON (*.json);;Picture (*.png)"


#: So many of the ways to drive the LEDs are listed.
_WAYS = 6


class MotionDrawer(Drawer):
    """Pattern or strips, speed, brightness; what they mean for current, run time and eyes."""

    def build(self) -> None:
        self._build_pattern()
        self.strip = StripCards(self, self.session)
        self.scenes = ScenesCards(self, self.session)
        self.markers = MarkersCard(self, self.session, self.edit)
        self.films = FilmsCard(self, self.session)
        self.patterns = OwnPatternsCard(self, self.session)
        self.glyphs = GlyphsCard(self, self.session)
        self.feeds = FeedsCard(self, self.session, self.edit)
        self.ambient = AmbientCard(self, self.session)
        self._build_figures()
        self.add = button("Add a strip", self._add, filled=True)
        self.write = button("Write a table…", self._write)
        self.foot.addWidget(self.add)
        self.foot.addWidget(self.write)
        self._window: Window | None = None
        self._near: Any = None

    def _build_pattern(self) -> None:
        """The pattern, whether it is shown truly, and what is done to the whole score."""
        card = self.add_card("Pattern")
        self.pattern_card = card
        self.rows = KeyRows(card, "set-pattern", lambda key, value: self.edit("set-pattern", **{key: value}))
        self.rows.add("pattern", "period_s", "brightness")
        self.truth = label("", "honey", wrap=True)
        card.add(self.truth)
        self.real = Switch("show what the LEDs can do")
        self.real.switched.connect(self._show_real)
        self._real_row = card.row("show what the LEDs can do", self.real)
        self.soft = KeyRows(card, "soften-score", lambda _, soft_s: self.edit("soften-score", soft_s=soft_s))
        self.soft.add("soft_s")
        self.slower = link("twice as slow", lambda: self.edit("stretch-score", by=2.0))
        self.quicker = link("twice as fast", lambda: self.edit("stretch-score", by=0.5))
        self.empty = link("clear the score", lambda: self.edit("clear-score"))
        self.near_words = label("", "quiet", wrap=True)
        self.near = link("take what they can do", self._take_nearest)
        card.add(self.near_words)
        card.add(self.near)
        links = FlowLayout()
        for one in (self.slower, self.quicker, self.empty):
            links.addWidget(one)
        card.body.addLayout(links)
        self.near.hide()
        self.near_words.hide()

    def _build_figures(self) -> None:
        """What comes of it: what each way shows, flashes, current, battery life."""
        self.truths = self.add_card("What each way shows", "of what is wanted")
        self._ways = QVBoxLayout()
        self._ways.setSpacing(2)
        self.truths.body.addLayout(self._ways)
        flash = self.add_card("Flash safety")
        self.flash_card = flash
        self.flash = label("–", wrap=True)
        self.flash_more = label("", "quiet", wrap=True)
        self.bars = FlashBars()
        for widget in (self.flash, self.flash_more, self.bars):
            flash.add(widget)
        self.bars.chosen.connect(self._to_moment)
        current = self.add_card("Current", "of all that plays")
        self.average = current.figure("average")
        self.peak = current.figure("peak")
        self._loads = QVBoxLayout()
        self._loads.setSpacing(2)
        current.body.addLayout(self._loads)
        self.limit = KeyRows(current, "set-limit", lambda key, value: self.edit("set-limit", **{key: value}))
        self.limit.add("limit_a", "over")
        self.limit["limit_a"].setToolTip("No frame of the score takes more; 0 allows any current")
        self.limit["limit_a"].setPlaceholderText("any")
        self.first_step = current.figure("first step after power-on")
        self._first_row = self.first_step.parentWidget()
        self.table = self.add_card("Table for a controller", "50 frames a second")
        self.packed = self.table.figure("as small as it goes")
        self.frame = self.table.figure("one frame, to work in")
        self.told = self.table.figure("light is told in")
        run = self.add_card("Battery life", "until half bright or empty")
        self.run = run
        self.steady = run.figure("as it is driven")
        self.wish = run.figure("with the pattern (a preview)", "honey")
        self._wish_row = self.wish.parentWidget()
        self.rail = RailCard(self, self.session)
        self.eye = MovingEyeCard(self, self.session)
        self.truths.hide()
        self.table.hide()

    def attach(self, window: Window) -> None:
        super().attach(window)
        self._window = window
        self.strip.attach(window)
        self.scenes.attach(window)
        self.markers.attach(window)
        self.feeds.attach(window)
        self.rail.attach(window)
        self.eye.attach(window)
        self.patterns.attach(window)
        self.ambient.attach(window)
        self.films.attach(window)
        self.glyphs.attach(window)

    def inputs(self) -> Mapping[str, QWidget]:
        """The pattern and its keys."""
        return self.rows.fields

    def show_work(self, work: Any) -> None:
        facts = core("facts")
        motion = work.project.motion
        fill_patterns(self.rows["pattern"], motion)
        self.rows.show_of(motion)
        scored = bool(motion.score)
        self.pattern_card.title.set_full("Score" if scored else "Pattern")
        self.rows.only(() if scored else ("pattern", "period_s", "brightness"))
        self.empty.setVisible(scored)
        true = facts.shown_truly(work)
        way = core("drive_facts").way_title(work)
        self.pattern_card.aside.set_full("as wired" if true else "preview")
        self.truth.setText(
            f"The LEDs show this as they are driven: {way}."
            if true
            else f"Preview only: {way} cannot show this. Drive (5) says which ways can."
        )
        self._real_row.setVisible(bool(work.leds))
        self.add.setEnabled(bool(work.leds))
        self.write.setEnabled(bool(work.leds))
        _, average, peak = facts.currents(work)
        self.average.setText(show_si(average, "A") if work.leds else "–")
        self.peak.setText(show_si(peak, "A") if work.leds else "–")
        _, wish = facts.hours(work)
        self.steady.setText(facts.battery_words(work))
        self.wish.setText("" if wish is None else facts.hours_words(wish))
        if self._wish_row is not None:
            self._wish_row.setVisible(wish is not None)
        self.soft.show_of(motion)
        self.limit.show_of(motion, limit_a=motion.limit_a or None)
        self.limit.only(("limit_a", "over") if motion.limit_a else ("limit_a",))
        first = core("motion_facts").first_step_words(work)
        self.first_step.setText(first)
        if self._first_row is not None:
            self._first_row.setVisible(bool(first))
        rounds = f"repeats every {show(motion.seconds, 2)} s"
        words = "steady" if motion.is_steady else f"{motion.title}, {rounds}"
        self.subtitle.set_full(words if work.leds else "no LEDs yet")
        self.strip.show_work(work)
        self.feeds.show_work(work)
        self.markers.show_work(work)
        self.rail.show_work(work)
        self.eye.show_work(work)
        self.patterns.show_work(work)
        self.glyphs.show_work(work)
        self.ambient.show_work(work)
        self.films.show_work(work)
        self.scenes.show_work(work)

    def look(self, work: Any) -> None:
        self.rail.look(work)
        self.eye.look(work)
        self.session.jobs.submit(
            "flashes", lambda cancelled: core("motion_facts").flashes_of(work),
            lambda report: self._show_flashes(work, report), self.session.trouble.emit,
        )  # fmt: skip

        facts = core("motion_facts")

        def found(_cancelled: Any) -> Any:
            every = facts.truths_of(work)
            carried = facts.load_words(work, facts.loads_of(work))
            return facts.truth_rows(every), facts.nearest_edits(work, every), facts.table_words(work), carried

        self.session.jobs.submit("truths", found, lambda four: self._show_truths(work, *four), self.session.trouble.emit)

    def _show_truths(self, work: Any, rows: Any, near: Any, table: tuple[str, str, str], carried: Any) -> None:
        """The ways side by side, the best first; what is nearest as the LEDs are driven; how large a table it is; what carries
        most of what it bears."""
        if work is not self.session.work:
            return
        self.packed.setText(table[0])
        self.frame.setText(table[1])
        self.told.setText(table[2])
        self.table.setVisible(bool(work.leds) and not work.project.motion.is_steady)
        clear(self._loads)
        for name, words in carried:
            self._loads.addWidget(figure_row(name, words))
        clear(self._ways)
        for row in sorted(rows, key=lambda one: -one["share"])[:_WAYS]:
            self._ways.addWidget(figure_row(row["title"], f"{100 * row['share']:.0f} %"))
        self.truths.setVisible(bool(work.leds) and not work.project.motion.is_steady)
        self._near = near
        for widget in (self.near, self.near_words):
            widget.setVisible(near is not None)
        self.near_words.setText("" if near is None else f"Nearest to it they can do {near[0]}.")

    def _take_nearest(self) -> None:
        if self._near is not None:
            self.session.edit_all(self._near[1], "What the LEDs can do")

    def _show_flashes(self, work: Any, report: Any) -> None:
        if work is not self.session.work or report is None:
            return
        verdict, more, safe = core("motion_facts").flash_words(report)
        self.flash.setText(verdict)
        self.flash_more.setText(more)
        self.flash_card.aside.set_full("safe" if safe else "not safe")
        self.bars.show_flashes(report.worst, work.project.motion.seconds)

    def _add(self) -> None:
        """A strip of a chase, after what plays already; it is taken in hand."""
        work = self.session.work
        if work is None or self._window is None:
            return
        motion = work.project.motion
        before = {one.number for one in motion.score}
        pattern = "chase" if motion.is_steady or motion.score else motion.pattern
        start = self._window.area.score.time_s if motion.score else 0.0
        period = 2.0 if motion.score else motion.period_s
        made = self.edit("add-strip", pattern=pattern, start_s=round(start, 2), period_s=period, length_s=period)
        project = self.session.project
        if made and project is not None:
            self._window.area.score.choose(next((one.number for one in project.motion.score if one.number not in before), 0))

    def _show_real(self, on: bool) -> None:
        if self._window is not None:
            self._window.area.show_real(on)

    def _to_moment(self, time_s: float) -> None:
        if self._window is not None:
            self._window.area.score.scrubbed.emit(time_s)

    def _write(self) -> None:
        work = self.session.work
        if work is not None and self._window is not None:
            run = lambda path: core("motion_facts").table_file(work, path.suffix)  # noqa: E731
            self._window.files.write("Write the table of levels", "levels.h", _TABLES, run)
