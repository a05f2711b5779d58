"""Drive: supply, the way the LEDs are driven, currents, and how long it lasts; the ways side by side rise over the ledger."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ...core.units import show, show_si
from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice
from ..spread_plot import SpreadPlot
from ..widgets import Card, clear, figure_row, label, link
from .base import Drawer, Window
from .run_plot import RunPlot
from .start_chart import StartChart
from .supply_cards import SecondCard, SupplyCard, reason, show_figure

#: Wide enough for the longest name of a way.
_WIDE = 188


class DriveDrawer(Drawer):
    """What feeds the LEDs, how they are driven, what flows in each, and how long the supply lasts."""

    def build(self) -> None:
        self._window: Window | None = None
        self._planned: Any = None
        self._work: Any = None
        self.supply_card = SupplyCard(self)
        self.cards.addWidget(self.supply_card)
        self._build_way()
        self.pace_card = self.add_card("Timer", "2,000 boards built by chance")
        self.spread = SpreadPlot()
        self.pace_card.add(self.spread)
        self._pace_rows = QVBoxLayout()
        self._pace_rows.setSpacing(4)
        self.pace_card.body.addLayout(self._pace_rows)
        resistors = self.add_card("Resistors")
        chosen = KeyRows(resistors, "set-resistors", lambda key, value: self.edit("set-resistors", **{key: value}))
        chosen.add("series", "choose").setToolTip("Round up: never more current than the target")
        chosen.add("size")
        chosen.add("stock").setToolTip("Values that you have, with commas between them: 100, 470, 1k2")
        self.chosen = chosen
        self._branch_cards = QWidget()
        self._branches = QVBoxLayout(self._branch_cards)
        self._branches.setContentsMargins(0, 0, 0, 0)
        self._branches.setSpacing(10)
        self.cards.addWidget(self._branch_cards)
        self._build_run()
        self.second_card = SecondCard(self)
        self.cards.addWidget(self.second_card)

    def _build_way(self) -> None:
        way = self.add_card("Way to drive them")
        self.way_card = way
        self.group = Choice([("", "all LEDs")])
        self.group.setToolTip("All LEDs, or a group that is driven in a way of its own")
        self.group.chosen.connect(lambda _: self._show_group())
        self._group_row = way.row("which LEDs", self.group)
        self.group.setFixedWidth(_WIDE)
        self.way = KeyRows(way, "drive", lambda key, value: self._edit_way(**{key: value}))
        self.way.add("method", "controller", "family", "reset", "rows", "lit", "period_s", "other_period_s", "current_a")
        self.way["family"].setToolTip(
            "Which logic: HC is strong on 2 to 6 V, 4000 runs up to 15 V, HCT hears a controller of 3.3 V"
        )
        self.way["reset"].setToolTip("R and C start it by themselves; a button waits for a hand; with none it starts anywhere")
        self.way["other_period_s"].setToolTip("A switch changes between both; 0: one speed")
        self.join = link("drive it like the others", self._drive_alike)
        way.add(self.join)
        for key in ("method", "controller"):
            self.way[key].setFixedWidth(_WIDE)
        self.alike = KeyRows(way, "balance", lambda _, on: self.edit("balance", balanced=on))
        self.alike.add("balanced").setToolTip("Brighter colours get less current, until all are as bright as the dimmest")
        self.balance = label("", "quiet", wrap=True)
        way.add(self.balance)
        self.parts = way.figure("parts beside the LEDs")
        self.pins = way.figure("controller pins used")
        self.least = way.figure("least supply at an LED")
        show_figure(self.least, "")
        self.pins_link = link("pins of the controller…", self._show_pins, "link", "What each pin drives; drag it to another")
        way.add(self.pins_link)
        way.add(link("connection list…", self._show_connections, "link", "Every part with its pins and nets"))

    def _build_run(self) -> None:
        self.run_card = self.add_card("Battery life and heat")
        self.plot = RunPlot()
        self.run_card.add(self.plot)
        self.steady = self.run_card.figure("as it is driven", why=self._why_run)
        self.wish = self.run_card.figure("with the pattern (a preview)", "honey")
        self.ended = self.run_card.figure("ends when")
        self.next_best = self.run_card.figure("next best cells")
        self.hottest = self.run_card.figure("warmest part, of what it bears")
        self.warm = self.run_card.figure("the board warms by", why=reason(self, "why_heat"))

        self.start_card = self.add_card("The first second", "hatched: unknown")
        self.start = StartChart()
        self.start_card.add(self.start)
        self.dark = self.start_card.figure("no LED lit for, at most", why=reason(self, "why_dark"))
        self.reset = self.start_card.figure("held at its start by", why=reason(self, "why_reset"))

    def attach(self, window: Window) -> None:
        super().attach(window)
        self._window = window
        window.area.ways.chosen.connect(lambda key: self._edit_way(method=key))
        window.area.ways.asked.connect(self._compare)

    @property
    def group_in_hand(self) -> str:
        """The group whose way is shown; "" for all LEDs."""
        return str(self.group.currentData() or "")

    def _edit_way(self, **values: Any) -> None:
        """Drive the LEDs in hand otherwise: all of them, or a group."""
        whose = {"group": self.group_in_hand} if self.group_in_hand and "controller" not in values else {}
        self.edit("drive", **values, **whose)

    def _drive_alike(self) -> None:
        self.edit("drive-alike", group=self.group_in_hand)

    def _show_group(self) -> None:
        """Another group is in hand: its way, and the table of ways for its LEDs."""
        if self._work is not None:
            self._planned = None
            self._show_way(self._work)
            self.look(self._work)

    def _show_way(self, work: Any) -> None:
        facts, held = core("drive_facts"), self.group_in_hand
        choices = facts.group_choices(work)
        self.group.fill(choices)
        self.group.show_key(held if held in dict(choices) else "")
        held = self.group_in_hand
        self._group_row.setVisible(len(choices) > 2 or bool(work.design.drive.groups))
        self.way.only(facts.keys_of(work, held))
        self.way.show(facts.way_values(work, held))
        self.join.setVisible(any(one.group == held for one in work.design.drive.groups))

    def inputs(self) -> Mapping[str, QWidget]:
        """Supply, way, currents, resistors, latch."""
        supply, second = self.supply_card, self.second_card
        return {
            **second.latch.fields, **supply.source.fields, **self.way.fields, **self.chosen.fields,
            "supply": supply.supply, "second": second.second["supply"], "latch": second.latch["by"],
        }  # fmt: skip

    def _why_run(self) -> None:
        if self.session.work is not None:
            self.why(core("why").why_run_time(self.session.work))

    def _show_pins(self) -> None:
        if self._window is not None:
            self._window.help.show_pins(self._window.files)

    def _show_connections(self) -> None:
        if self._window is not None:
            self._window.help.show_connections(self._window.files)

    def show_work(self, work: Any) -> None:
        drive, plan, facts = work.design.drive, work.plan, core("drive_facts")
        self.supply_card.show_work(work)
        self.second_card.show_work(work)
        self._work = work
        self._show_way(work)
        self.alike.show_of(drive)
        words = core("facts").balance_words(work)
        self.balance.setText(words)
        self.balance.setVisible(bool(words))
        self.parts.setText(str(max(0, len(plan.wanted) - 1)))
        self.pins.setText(f"{len(plan.pins)}" if plan.pins else "no controller")
        self.pins.setToolTip(plan.controller)
        self.pins_link.setVisible(core("pin_table").controller_of(work) is not None)
        self._show_pace(work)
        self.chosen.show_of(drive, size=drive.resistor)
        clear(self._branches)
        for alike in facts.alike_branches(work):
            self._branches.addWidget(self._branch_card(work, alike))
        self._branch_cards.setVisible(self._branches.count() > 0)
        _, wish = core("facts").hours(work)
        run = facts.run_of(work)
        self.run_card.setVisible(bool(work.leds))
        self.plot.show_run(run)
        self.steady.setText(core("facts").battery_words(work))
        show_figure(self.wish, core("facts").hours_words(wish) if wish is not None else "")
        self.ended.setText(f"{core('why').ENDED[run.ended_by]}, {run.end_volts:.2f} V" if run else "–")
        hottest, every = core("part_heat").hottest_words(work)
        self.hottest.setText(hottest)
        self.hottest.setToolTip(every)
        self.warm.setText(facts.heat_words(work))
        self.start_card.setVisible(bool(work.leds))
        self.start.show_start(plan.first)
        dark, reset = facts.start_words(work)
        self.dark.setText(dark)
        self.reset.setText(reset)
        lit = "all on" if plan.at_once >= 1 else "lit at once"
        total = f"{len(work.leds)} LEDs, {show_si(plan.lit_a, 'A')} {lit}" if work.leds else "no LEDs yet"
        self.subtitle.set_full(total)

    def _show_pace(self, work: Any) -> None:
        """The timer that sets the pace, where no program does."""
        rows = core("pace_facts").pace_rows(work)
        self.pace_card.setVisible(bool(rows))
        clear(self._pace_rows)
        for name, value in rows:
            self._pace_rows.addWidget(figure_row(name, value))
        self.spread.show_spread(core("pace_facts").spread(work))

    def look(self, work: Any) -> None:
        """The ways are compared once the board is at rest."""
        if self._window is None or self._planned is work:
            return
        ways, facts, held = self._window.area.ways, core("drive_facts"), self.group_in_hand

        def took(rows: Any) -> None:
            self._planned = work
            ways.show_rows(rows, facts.part_of(work, held)[0].method, facts.plan_words(work, held))

        def told(rows: Any) -> None:
            title, hours, stop = rows[0]
            self.next_best.setText("none works" if stop or not hours else f"{title}, {core('facts').hours_words(hours)}")
            every = [f"{name}: {why or core('facts').hours_words(last)}" for name, last, why in rows]
            self.next_best.setToolTip("\n".join(every))

        def lost(found: Any) -> None:
            show_figure(self.least, core("drops").drop_words(work, found)["led"] if found is not None else "")
            self.least.setToolTip(
                "" if found is None else f"Through its tracks. {core('drops').drop_words(work, found)['wider']}"
            )

        wired = bool(work.board.wires)
        run = (lambda cancelled: self.session.making.drops(work, cancelled)) if wired else (lambda _: None)
        self.session.jobs.submit("drop in Drive", run, lost, self.session.trouble.emit)
        if work.leds:
            self.session.jobs.submit("cells", lambda _: core("supply_facts").other_cells(work), told, self.session.trouble.emit)
        if ways.compares:
            self._compare()
        self.session.jobs.submit("ways", lambda _: core("way_table").way_table(work, held), took, self.session.trouble.emit)

    def _compare(self) -> None:
        """What could light instead of the LEDs, once somebody asks."""
        work = self.session.work
        if work is not None and self._window is not None:
            ways = self._window.area.ways
            run = lambda _: core("instead").instead(work)  # noqa: E731
            self.session.jobs.submit("instead", run, ways.show_instead, self.session.trouble.emit)

    def _branch_card(self, work: Any, alike: Any) -> Card:
        branch, card, why = alike.branch, Card(alike.title, alike.many), core("why")
        if branch.resistor_ohm is None:
            card.figure("no voltage left for a resistor", "warn").setText("")
            return card
        if branch.resistor_ohm:
            because = lambda: self.why(why.why_resistor(work, branch))  # noqa: E731
            card.figure("resistor", why=because).setText(show_si(branch.resistor_ohm, "Ω"))
        if branch.duty < 1:
            card.figure("current while lit").setText(show_si(branch.peak_a, "A"))
        average = "average current" if branch.duty < 1 else "typical current"
        card.figure(average, why=lambda: self.why(why.why_current(work, branch))).setText(show_si(branch.current_a, "A"))
        spread = card.figure("min · max current", why=lambda: self.why(why.why_current(work, branch)))
        spread.setText(f"{show(branch.current_min_a * 1000, 2)} · {show(branch.current_max_a * 1000, 2)} mA")
        spread.setToolTip("Empty to new cells, with the tolerance of the parts")
        if branch.resistor_ohm:
            heat = card.figure("heat in each resistor, at most", why=lambda: self.why(why.why_current(work, branch)))
            heat.setText(show_si(branch.power_w, "W"))
        return card
