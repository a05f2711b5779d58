"""Drive by hand: the ways side by side, one of them chosen, the supply, the connection list."""

from __future__ import annotations

import csv
import json
from collections.abc import Callable
from itertools import pairwise
from pathlib import Path

import pytest
from hand import Hand
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QApplication, QFileDialog, QLabel, QPushButton, QTableWidget
from pytestqt.qtbot import QtBot

from outlined_glow.core.drive import METHODS
from outlined_glow.core.project import Finding
from outlined_glow.core.workshop.calculators import CALCULATORS
from outlined_glow.ui.drawers.base import FindingRow, FindingsCard
from outlined_glow.ui.help.calculators import Calculators
from outlined_glow.ui.help.connections import Connections
from outlined_glow.ui.help.pins import PinsDialog


def column(table: QTableWidget, title: str) -> list[str]:
    """The words of a column of the table, from above."""
    [at] = [one for one in range(table.columnCount()) if table.horizontalHeaderItem(one).text() == title]
    return [table.item(row, at).text() for row in range(table.rowCount())]


def test_the_ways_stand_side_by_side_and_one_is_chosen(lit: Hand) -> None:
    ways, session = lit.window.area.ways, lit.window.session
    assert ways.isVisible()
    assert ways.table.rowCount() == len(METHODS)
    assert ways.key_in_hand() == "each"
    assert not ways.use.isEnabled(), "it is chosen already"
    assert any(words.startswith("one resistor each") and "chosen" in words for words in column(ways.table, "way"))
    verdicts = dict(zip(column(ways.table, "way"), column(ways.table, "verdict"), strict=True))
    assert verdicts["one-wire pixel chain"] == "not for these LEDs"
    assert verdicts["shift registers"] == "needs a program"
    heading = ways.table.horizontalHeader()
    [at] = [one for one in range(ways.table.columnCount()) if ways.table.horizontalHeaderItem(one).text() == "parts"]
    x = heading.sectionViewportPosition(at) + heading.sectionSize(at) // 2
    QTest.mouseClick(heading.viewport(), Qt.MouseButton.LeftButton, pos=heading.viewport().rect().center().__class__(x, 8))
    numbers = [int(words) for words in column(ways.table, "parts")]
    assert numbers == sorted(numbers)
    [row] = [row for row, words in enumerate(column(ways.table, "way")) if words == "shift registers"]
    ways.table.selectRow(row)
    assert ways.reason.text()
    lit.click(ways.use)
    lit.settle()
    assert session.project.designs[0].drive.method == "shift-register"
    assert session.work.plan.pins
    assert ways.key_in_hand() == "shift-register"
    drawer = lit.window.drawer("drive")
    assert drawer.pins.text() == "4"
    assert drawer.way["controller"].isVisibleTo(drawer)
    assert not drawer.way["rows"].isVisibleTo(drawer)
    lit.choose(drawer.way["controller"], "none")
    assert "needs-controller" in {one.code for one in session.findings}
    lit.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    lit.settle()
    assert session.project.designs[0].drive.controller == ""
    ways.table.setFocus()
    [row] = [row for row, words in enumerate(column(ways.table, "way")) if words == "row-and-column scan"]
    ways.table.selectRow(row)
    QTest.keyClick(ways.table, Qt.Key.Key_Return)
    lit.settle()
    assert session.project.designs[0].drive.method == "scan"
    assert session.work.plan.branches[0].duty == 0.5
    assert drawer.next_best.text().endswith(" h")
    assert "20 mm coin cell" in drawer.next_best.toolTip()
    lit.window.show_stage("lights")
    assert not ways.isVisible()


def test_ways_are_drawn_and_what_could_light_instead_is_compared(lit: Hand) -> None:
    ways, session = lit.window.area.ways, lit.window.session
    drawings, other = (one for one in ways.views if one.text() in ("drawings", "what could light instead"))
    lit.click(drawings)
    assert ways.drawn.isVisible()
    assert ways.drawn.count() == len(METHODS)
    ways.drawn.setFocus()
    ways.drawn.hold("charlieplex")
    assert ways.key_in_hand() == ways.table.key_in_hand() == "charlieplex", "in hand in both"
    seen = ways.drawn.grab().toImage()
    assert len({seen.pixel(x, y) for x in range(0, seen.width(), 3) for y in range(0, seen.height(), 3)}) > 20
    QTest.keyClick(ways.drawn, Qt.Key.Key_Return)
    lit.settle()
    assert session.project.board().drive.method == "charlieplex"
    lit.click(other)
    lit.settle()
    assert ways.compares
    assert not ways.use.isVisible()
    titles = [ways.instead.item(row, 0).text() for row in range(ways.instead.rowCount())]
    assert titles == ["own LEDs", "ready dot blocks", "ready digits", "edge-lit sheets", "plain window"]
    assert ways.instead.item(0, 2).text() == "6"
    session.edit("single", {"x_mm": 4.0, "y_mm": 4.0})
    lit.settle()
    assert ways.instead.item(0, 2).text() == "7", "it follows the board"
    lit.click(ways.views[0])
    assert ways.table.isVisible()


def test_a_group_is_driven_apart_and_like_the_others_again(lit: Hand) -> None:
    drawer, session, ways = lit.window.drawer("drive"), lit.window.session, lit.window.area.ways
    assert not drawer.group.isVisible(), "one group is all of them"
    session.edit("single", {"array": "eye", "x_mm": 4.0, "y_mm": 4.0})
    lit.settle()
    assert [drawer.group.itemText(at) for at in range(drawer.group.count())] == ["all LEDs", "g", "eye"]
    lit.choose(drawer.group, "g")
    assert ways.aside.text().startswith("6 LEDs of “g”")
    assert not drawer.join.isVisibleTo(drawer)
    lit.choose(drawer.way["method"], "scan")
    assert [(one.group, one.method) for one in session.project.board().drive.groups] == [("g", "scan")]
    assert session.project.board().drive.method == "each"
    assert drawer.way["rows"].value == 2
    lit.type_in(drawer.way["current_a"], "2 mA")
    lit.settle()
    assert session.project.board().drive.groups[0].current_a == 0.002
    assert {round(one.target_a * 1000, 3) for one in session.work.plan.branches} == {2.0, 5.0}
    assert "scan  · chosen" in "".join(column(ways.table, "way"))
    lit.choose(drawer.group, "")
    assert drawer.group.currentText() == "all other LEDs"
    assert drawer.way["method"].currentData() == "each"
    assert ways.key_in_hand() == "each"
    lit.choose(drawer.group, "g")
    lit.click(drawer.join)
    lit.settle()
    assert not session.project.board().drive.groups
    assert not drawer.join.isVisibleTo(drawer)


def test_a_remedy_lowers_the_current(lit: Hand) -> None:
    drawer, session = lit.window.drawer("drive"), lit.window.session
    lit.choose(drawer.supply_card.supply, "coin-2032")
    assert session.work.plan.current_a > 0.015
    [row] = [one for one in drawer.findChildren(FindingRow) if one.finding.code == "supply-over-current"]
    [lower] = [one for one in row.findChildren(QAbstractButton) if one.text().startswith("lower the LED current")]
    lit.click(lower)
    lit.settle()
    assert 0 < session.project.board().drive.current_a < 0.005
    assert session.work.plan.current_a < 0.015
    assert "supply-over-current" not in {one.code for one in session.findings}


def test_a_supply_that_can_be_set_is_set(lit: Hand) -> None:
    drawer, session = lit.window.drawer("drive"), lit.window.session
    assert not drawer.supply_card.source["volts_v"].isVisibleTo(drawer)
    lit.choose(drawer.supply_card.supply, "adapter")
    assert drawer.supply_card.source["volts_v"].isVisibleTo(drawer)
    assert not drawer.supply_card.source["cells"].isVisibleTo(drawer)
    lit.type_in(drawer.supply_card.source["volts_v"], "9")
    lit.settle()
    assert session.project.designs[0].drive.volts == 9.0
    assert session.work.plan.supply_v == pytest.approx(9.0, abs=0.05)
    lit.choose(drawer.supply_card.supply, "lipo")
    assert drawer.supply_card.source["capacity_ah"].isVisibleTo(drawer)
    first = session.work.values["run"].hours
    lit.type_in(drawer.supply_card.source["capacity_ah"], "1")
    lit.settle()
    assert session.work.values["run"].hours == pytest.approx(2 * first, rel=0.02), "0.5 Ah before"
    assert drawer.plot.isVisibleTo(drawer)


def test_a_second_source_a_latch_and_what_is_at_hand(lit: Hand) -> None:
    drawer, session = lit.window.drawer("drive"), lit.window.session
    second, drive = drawer.second_card, lambda: session.project.board().drive
    assert not second.second["joined"].isVisibleTo(drawer)
    lit.choose(second.second["supply"], "aaa-alkaline")
    lit.type_in(second.second["cells"], "3")
    lit.settle()
    lit.choose(second.second["joined"], "nothing")
    assert (drive().second.supply, drive().second.cells, drive().second.joined) == ("aaa-alkaline", 3, "nothing")
    [row] = [one for one in drawer.findChildren(FindingRow) if one.finding.code == "two-inputs"]
    [remedy] = [one for one in row.findChildren(QAbstractButton) if one.text().startswith("put a diode")]
    lit.click(remedy)
    lit.settle()
    assert drive().second.joined == "diodes"
    assert second.day.isVisibleTo(drawer), "cells are what runs empty"
    assert not second.latch["after_s"].isVisibleTo(drawer)
    lit.choose(second.latch["by"], "transistor")
    lit.type_in(second.latch["after_s"], "5")
    lit.settle()
    assert drive().auto_off.after_s == 300.0, "minutes, as it stands behind the number"
    assert second.off.text() == f"{session.work.plan.off_s / 60:.1f}".rstrip("0").rstrip(".") + " min"
    assert not second.day.isVisibleTo(drawer)
    assert second.pressed.text().endswith(" times")
    stock = drawer.chosen["stock"]
    lit.type_in(stock, "470, 1k, 2k2")
    lit.settle()
    assert drive().stock == (470.0, 1000.0, 2200.0)
    assert {one.resistor_ohm for one in session.work.plan.branches} <= set(drive().stock)
    lit.type_in(stock, "470, many")
    assert "many" in stock.toolTip()
    assert drive().stock == (470.0, 1000.0, 2200.0)
    lit.type_in(stock, " ")
    lit.settle()
    assert drive().stock == ()
    lit.choose(second.second["supply"], "none")
    assert drive().second is None
    lit.choose(drawer.supply_card.supply, "solar")
    lit.type_in(drawer.supply_card.source["capacitor_f"], "0.5")
    lit.settle()
    assert drive().farad == 0.5
    assert drawer.supply_card.sun.text() == f"{0.5 * 5 / 0.05:.0f} s"
    assert "min" in drawer.steady.text() or "h" in drawer.steady.text()


def test_the_connection_list_is_searched_and_written(
    lit: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:  # fmt: skip
    lit.window.session.edit("drive", {"method": "shift-register"})
    lit.settle()
    written = [
        tmp_path / "list.csv",
        tmp_path / "list.json",
        tmp_path / "pins.h",
        tmp_path / "wires.csv",
        tmp_path / "plain.csv",
    ]
    names = iter(written)
    drawn: list[str] = []
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(next(names)), ""))
    seen: list[int] = []

    def look() -> None:
        [dialog] = [one for one in QApplication.topLevelWidgets() if isinstance(one, Connections)]
        table = dialog.table
        QTest.keyClicks(dialog.search, "R3 supply")
        seen.append(sum(not table.isRowHidden(row) for row in range(table.rowCount())))
        dialog.search.clear()
        QTest.keyClicks(dialog.search, "shift clock")
        seen.append(sum(not table.isRowHidden(row) for row in range(table.rowCount())))
        dialog.search.clear()
        [row] = [
            row for row in range(table.rowCount()) if table.item(row, 0).text() == "U1" and table.item(row, 3).text() == "1"
        ]
        table.selectRow(row)
        drawn.append(dialog.block.accessibleDescription())
        table.selectRow(next(row for row in range(table.rowCount()) if table.item(row, 0).text() == "U2"))
        drawn.append(dialog.block.accessibleDescription())
        for words in ("Save the list…", "Save the list…", "Save the controller's pins…", "Save the wires by hand…",
                      "Save a plain board…"):  # fmt: skip
            lit.press(dialog, words)
        lit.press(dialog, "Close")

    QTimer.singleShot(100, look)
    lit.press(lit.window.drawer("drive"), "connection list…")
    lit.settle()
    assert seen[0] == 0, "the resistor of an output does not lie at the supply"
    assert seen[1] == 2, "the pin of the controller and that of the register"
    assert drawn[0].startswith("U1 ")
    assert "registers shift clock" in drawn[0]
    assert "R1 620R – D1 0805 amber – ground" in drawn[1], "the way from an output through resistor and LED"
    rows = list(csv.DictReader(written[0].read_text().splitlines()))
    facts = json.loads(written[1].read_text())
    assert {row["reference"] for row in rows} == {part["reference"] for part in facts["parts"]}
    assert "#define PIN_REGISTERS_DATA" in written[2].read_text()
    assert "U1.1" in written[4].read_text(), "every leg has its hole"


def test_a_way_that_a_pattern_needs_makes_it_true(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    window = hand.window
    assert window.string.state("motion") == "lit"
    window.show_stage("motion")
    motion = window.drawer("motion")
    assert "as they are driven: ripple counter" in motion.truth.text()
    hand.choose(motion.rows["pattern"], "breathe")
    assert "ripple counter cannot show" in motion.truth.text()
    assert window.string.state("motion") == "half"
    window.session.edit("drive", {"method": "shift-register"})
    hand.settle()
    assert "as they are driven: shift registers" in motion.truth.text()


def test_pins_are_dragged_kept_and_made_ones_own(
    lit: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:  # fmt: skip
    session = lit.window.session
    session.edit("drive", {"method": "pins"})
    lit.settle()
    seen: dict[str, object] = {}
    drive = lambda: session.project.board().drive  # noqa: E731
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "mine.json"), ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / "mine.json"), ""))

    def drag(dialog: PinsDialog, net: str, number: str) -> None:
        view = dialog.view
        start = next(line.number for line in view.table.lines if line.drives == net)
        one, other = view.place_of(start).center(), view.place_of(number).center()
        QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=one.toPoint())
        for step in range(1, 6):
            QTest.mouseMove(view, (one + (other - one) * step / 5).toPoint())
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=other.toPoint())
        lit.settle()

    def look() -> None:
        [dialog] = [one for one in QApplication.topLevelWidgets() if isinstance(one, PinsDialog)]
        table = dialog.view.table
        free = next(line.number for line in table.lines if line.takes and not line.drives)
        steps = len(session.history.steps)
        drag(dialog, "D3 pin", free)
        seen["moved"] = dialog.view.table.line(free).drives
        dialog.view.choose(free)
        seen["lights"] = dialog.lights.text() if dialog.lights.isVisible() else ""
        d1 = next(line.number for line in dialog.view.table.lines if line.drives == "D1 pin")
        drag(dialog, "D3 pin", d1)
        seen["swapped"] = (dialog.view.table.line(d1).drives, dialog.view.table.line(free).drives)
        seen["steps"] = len(session.history.steps) - steps
        ground = next(line.number for line in dialog.view.table.lines if line.kind == "ground")
        drag(dialog, "D3 pin", ground)
        seen["refused"] = dialog.view.table.line(d1).drives
        QTest.keyClick(dialog.view, Qt.Key.Key_Down)
        spare = next(line.number for line in dialog.view.table.lines if line.keepable)
        dialog.view.choose(spare)
        lit.type_in(dialog.kept, "button")
        lit.settle()
        seen["kept"] = dialog.view.table.line(spare).drives
        lit.click(dialog.spare["spare_pads"])
        lit.settle()
        seen["spare"] = sum(line.state == "spare" for line in dialog.view.table.lines)
        lit.press(dialog, "Copy as my own")
        lit.settle()
        lit.type_in(dialog.own["pin_a"], "7 mA")
        lit.choose(dialog.own_pin["at_start"], "high")
        seen["own"] = (drive().own.pin_a, next(one.at_start for one in drive().own.pins if one.number == spare))
        lit.press(dialog, "Save the table…")
        lit.settle()
        lit.press(dialog, "Remove my own")
        lit.settle()
        seen["removed"] = drive().own
        lit.press(dialog, "Add a table of pins…")
        lit.settle()
        seen["added"] = drive().own.pin_a
        dialog.view.choose(spare)
        lit.click(dialog.free)
        lit.settle()
        seen["freed"] = drive().reserved
        dialog.view.choose(d1)
        lit.choose(dialog.drives, "")
        seen["let go"] = "D3 pin" in {one.net for one in drive().given}
        lit.press(dialog, "Close")

    QTimer.singleShot(200, look)
    lit.press(lit.window.drawer("drive"), "pins of the controller…")
    lit.settle()
    assert seen["moved"] == "D3 pin"
    assert seen["lights"] == "While high it lights D3."
    assert seen["swapped"] == ("D3 pin", "D1 pin")
    assert seen["steps"] == 2, "what moves, moves in one step"
    assert seen["refused"] == "D3 pin"
    assert seen["kept"] == "button"
    assert seen["spare"]
    assert seen["own"] == (0.007, "high")
    assert seen["removed"] is None
    assert seen["added"] == 0.007
    assert seen["freed"] == ()
    assert seen["let go"] is False


def test_every_figure_says_why_and_leads_to_what_it_comes_from(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    window = hand.window
    window.session.edit("auto-off", {"by": "transistor", "after_s": 600.0})
    window.show_stage("drive")
    hand.settle()
    drawer = window.drawer("drive")
    asked = [one for one in drawer.findChildren(QPushButton, "why") if one.isVisibleTo(drawer)]
    assert len(asked) > 12
    titles, led = set(), set()
    for one in asked:
        hand.click(one)
        assert drawer.why_card.isVisibleTo(drawer), one.accessibleName()
        titles.add(drawer.why_card.title.text())
        ways = {way.accessibleName() for way in drawer.why_card.findChildren(QPushButton, "link")} - {"close"} - led
        for name in sorted(ways):
            led.add(name)
            [way] = [way for way in drawer.why_card.findChildren(QPushButton, "link") if way.accessibleName() == name][:1]
            hand.click(way)
            QTest.qWait(10)
            field = window.focusWidget()
            assert field is not None, name
            assert field.isVisible(), name
            assert field is not way, name
            window.show_stage("drive")
            hand.click(one)
    assert len(titles) > 8
    assert len(led) > 10


def test_a_sum_is_worked_out_as_one_types_and_taken(lit: Hand) -> None:
    session = lit.window.session
    seen: list[str] = []
    blank: list[bool] = []

    def look() -> None:
        [dialog] = [one for one in QApplication.topLevelWidgets() if isinstance(one, Calculators)]
        seen.append(str(dialog.list.count()))
        for key, text in (("supply_v", "5V"), ("forward_v", "2"), ("current_a", "8mA")):
            QTest.keyClicks(dialog._fields[key], text)
        seen.extend(one.text() for one in dialog.answer.findChildren(QLabel))
        lit.click(dialog.take)
        dialog._fields["current_a"].clear()
        QTest.keyClicks(dialog._fields["current_a"], "8 tons")
        seen.append(dialog.trouble.text())
        for key in ("current_a", "forward_v"):
            dialog._fields[key].clear()
        QTest.keyClicks(dialog._fields["current_a"], "8mA")
        assert (dialog.missing.text(), dialog.missing.isVisible()) == ("still needed: forward voltage, V", True)
        QTest.keyClicks(dialog._fields["forward_v"], "2.0")
        series = dialog._fields["series"]
        series.setFocus()
        QTest.keyClick(series, Qt.Key.Key_Home)
        assert not dialog.missing.isVisible()
        at_most = [one.text() for one in dialog.answer.findChildren(QLabel)]
        assert series.currentText() == "E6"
        assert "470 Ω" in at_most, "the next of E6"
        for row in reversed(range(dialog.list.count())):
            dialog.list.setCurrentRow(row)
            blank.append(bool(dialog._fields) and dialog.trouble.text() == "")
        dialog.accept()

    QTimer.singleShot(200, look)
    lit.window.help.show_calculators()
    lit.settle()
    assert seen[0] == str(len(CALCULATORS))
    assert all(blank), "nothing typed is no mistake"
    assert "390 Ω" in seen
    assert "tons" in seen[-1]
    assert session.project.designs[0].drive.current_a == pytest.approx(0.0077, abs=1e-4)


def test_findings_that_stay_keep_their_rows_and_the_tab_key_follows_what_is_seen(qtbot: QtBot) -> None:
    def finding(code: str) -> Finding:
        return Finding(code=code, severity="note", stage="drive", text=f"It is {code}.")

    card = FindingsCard()
    qtbot.addWidget(card)
    card.show_findings([finding("B"), finding("D")])
    kept = {row.finding.code: row for row in card.findChildren(FindingRow)}
    card.show_findings([finding("A"), finding("B"), finding("C"), finding("B")])
    rows = [card.body.itemAt(1).layout().itemAt(at).widget() for at in range(3)]
    assert [row.finding.code for row in rows] == ["A", "B", "C"]
    assert rows[1] is kept["B"]
    assert not kept["D"].isVisibleTo(card)
    assert [one.code for one in card.findings] == ["A", "B", "C"]
    for one, other in pairwise(rows):
        step = one.nextInFocusChain()
        while not isinstance(step, FindingRow):
            step = step.nextInFocusChain()
        assert step is other
    card.show_findings([finding(str(number)) for number in range(100)])
    assert len(card.findings) == 60
    assert "and 40 more" in " ".join(one.text() for one in card.findChildren(QLabel) if one.isVisibleTo(card))
