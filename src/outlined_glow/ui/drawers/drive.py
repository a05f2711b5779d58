"""Drive: supply, resistors, currents, and how long it lasts."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ...core.units import show, show_si
from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice
from ..theme import font, theme
from ..widgets import Card, clear, label
from .base import Drawer


class RunPlot(QWidget):
    """Volts and light over the hours, up to the end."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(118)
        self._run: Any = None

    def show_run(self, run: Any) -> None:
        """Change the curves."""
        self._run = run
        if run is not None:
            self.setAccessibleName(f"battery life {run.hours:.0f} hours, ended by {run.ended_by}")
        self.setVisible(run is not None)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        run = self._run
        if run is None or run.hours <= 0:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        area = QRectF(38, 8, self.width() - 84, self.height() - 30)
        painter.fillRect(area, t.colour("sunken"))
        low, high = min(run.curve_v) - 0.05, max(run.curve_v) + 0.05

        def at(hour: float, share: float) -> QPointF:
            return QPointF(area.left() + hour / run.hours * area.width() * 0.94, area.bottom() - share * area.height())

        def curve(values: Any, least: float, most: float) -> QPolygonF:
            return QPolygonF([at(h, (v - least) / (most - least)) for h, v in zip(run.curve_h, values, strict=True)])

        painter.setPen(QPen(t.colour("warn"), 1, Qt.PenStyle.DashLine))
        painter.drawLine(at(0, 0.5 / 1.1), at(run.hours, 0.5 / 1.1))
        painter.setPen(QPen(t.colour("sea"), 1.8))
        painter.drawPolyline(curve(run.curve_v, low, high))
        painter.setPen(QPen(t.colour("honey"), 1.8))
        painter.drawPolyline(curve(run.curve_light, 0.0, 1.1))
        end = at(run.hours, run.curve_light[-1] / 1.1)
        painter.setPen(QPen(t.colour("warn"), 1.6))
        painter.drawLine(QPointF(end.x(), area.top()), QPointF(end.x(), area.bottom()))
        painter.setBrush(t.colour("card"))
        painter.drawEllipse(end, 4, 4)
        painter.setFont(font(12))
        painter.setPen(t.colour("sea"))
        painter.drawText(QRectF(0, area.top() - 2, 35, 14), int(Qt.AlignmentFlag.AlignRight), f"{high:.1f} V")
        painter.drawText(QRectF(0, area.bottom() - 13, 35, 14), int(Qt.AlignmentFlag.AlignRight), f"{low:.1f} V")
        painter.setPen(t.colour("honey"))
        painter.drawText(QRectF(area.right() + 4, area.top() - 2, 44, 14), 0, "100 %")
        painter.drawText(QRectF(area.right() + 4, at(0, 0.5 / 1.1).y() - 8, 44, 14), 0, "50 %")
        painter.setPen(t.colour("quiet"))
        painter.drawText(QRectF(area.left(), area.bottom() + 4, 40, 16), 0, "0")
        words = core("facts").hours_words(run.hours)
        painter.drawText(QRectF(end.x() - 60, area.bottom() + 4, 72, 16), int(Qt.AlignmentFlag.AlignRight), words)


class DriveDrawer(Drawer):
    """A resistor for each LED: its value, the current, the battery life."""

    def build(self) -> None:
        supply = self.add_card("Supply")
        self.supply = Choice(tuple(core("parts").offered_supplies().items()))
        self.supply.chosen.connect(lambda word: self.edit("set-supply", supply=word))
        supply.row("powered by", self.supply)
        self.cells = KeyRows(supply, "set-supply", lambda _, value: self._cells(value))
        self.cells.add("cells")
        self.volts = supply.figure("supply voltage, all LEDs on")
        resistors = self.add_card("One resistor each")
        target = KeyRows(resistors, "set-current", lambda _, value: self.edit("set-current", current_a=value))
        target.add("current_a")
        self.alike = KeyRows(resistors, "balance", lambda _, on: self.edit("balance", balanced=on))
        self.alike.add("balanced").setToolTip("Brighter colours get less current, until all are as bright as the dimmest")
        self.balance = label("", "quiet", wrap=True)
        resistors.add(self.balance)
        chosen = KeyRows(resistors, "set-resistors", lambda key, value: self.edit("set-resistors", **{key: value}))
        chosen.add("series", "choose").setToolTip("Round up: never more current than the target")
        chosen.add("size")
        self.target, self.chosen = target, chosen
        self._branches = QVBoxLayout()
        self._branches.setSpacing(10)
        self.cards.addLayout(self._branches)
        self.run_card = self.add_card("Battery life")
        self.plot = RunPlot()
        self.run_card.add(self.plot)
        self.steady = self.run_card.figure("all LEDs on", why=self._why_run)
        self.wish = self.run_card.figure("with the pattern (needs a driver)", "honey")
        self._wish_row = self.wish.parentWidget()
        self.ended = self.run_card.figure("ends with")

    def _cells(self, value: int) -> None:
        design = self.session.design
        if design is not None:
            self.edit("set-supply", supply=design.drive.supply, cells=value)

    def _why_run(self) -> None:
        if self.session.work is not None:
            self.why(core("why").why_run_time(self.session.work))

    def show_work(self, work: Any) -> None:
        drive, plan = work.design.drive, work.plan
        self.supply.show_key(drive.supply)
        self.cells.only({"cells"} if len(plan.supply.bodies) > 1 else ())
        self.cells.show_of(drive)
        self.volts.setText(f"{plan.supply_v:.2f} V")
        self.target.show_of(drive)
        self.alike.show_of(drive)
        words = core("facts").balance_words(work)
        self.balance.setText(words)
        self.balance.setVisible(bool(words))
        self.chosen.show_of(drive, size=drive.resistor)
        clear(self._branches)
        for branch in plan.branches:
            self._branches.addWidget(self._branch_card(work, branch))
        _, wish = core("facts").hours(work)
        self.run_card.setVisible(bool(work.leds))
        self.plot.show_run(plan.steady)
        self.steady.setText(core("facts").battery_words(work))
        if self._wish_row is not None:
            self._wish_row.setVisible(wish is not None)
        self.wish.setText(core("facts").hours_words(wish) if wish is not None else "")
        words = {
            "light": f"half brightness, {plan.steady.end_volts:.2f} V" if plan.steady else "",
            "cut-off": "a cell at its cut-off voltage",
        }
        self.ended.setText(words.get(plan.steady.ended_by, "empty cells") if plan.steady else "–")
        total = f"{len(work.leds)} LEDs, {show_si(plan.current_a, 'A')} all on" if work.leds else "no LEDs yet"
        self.subtitle.set_full(total)

    def _branch_card(self, work: Any, branch: Any) -> Card:
        card = Card(branch.title, f"{len(branch.indices)} LEDs")
        why = core("why")
        if branch.resistor_ohm is None:
            card.figure("no voltage left for a resistor", "warn").setText("")
            return card
        card.figure("resistor", why=lambda: self.why(why.why_resistor(work, branch))).setText(show_si(branch.resistor_ohm, "Ω"))
        card.figure("typical current", why=lambda: self.why(why.why_current(work, branch))).setText(
            show_si(branch.current_a, "A")
        )
        spread = card.figure("min · max current")
        spread.setText(f"{show(branch.current_min_a * 1000, 2)} · {show(branch.current_max_a * 1000, 2)} mA")
        spread.setToolTip("Empty to new cells, with the tolerance of the parts")
        card.figure("heat in each resistor, at most").setText(show_si(branch.power_w, "W"))
        return card
