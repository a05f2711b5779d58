"""The pins of the controller: what each drives, what is kept, and a table of one's own."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice, TextField
from ..opening import chosen_file
from ..session import Session
from ..widgets import Card, button, label, link
from .dialog import Dialog
from .pin_view import PinView

if TYPE_CHECKING:
    from ..files import Files

_TABLES = "Tables of pins (*.json)"


class PinsDialog(Dialog):
    """The controller with its pins on the left; on the right the pin in hand, and the controller."""

    def __init__(self, parent: QWidget, session: Session, files: Files) -> None:
        super().__init__(parent, "Pins of the controller")
        self._session, self._files = session, files
        self.resize(960, 680)
        self.words = label("", "quiet")
        self.column.addWidget(self.words)
        self.view = PinView()
        self.view.chosen.connect(lambda _: self._show_pin())
        self.view.moved.connect(self._move)
        sheet = QScrollArea()
        sheet.setWidget(self.view)
        sheet.setWidgetResizable(True)
        sheet.setAlignment(Qt.AlignmentFlag.AlignTop)
        columns = QHBoxLayout()
        columns.setSpacing(14)
        columns.addWidget(sheet, 3)
        side = QVBoxLayout()
        side.addWidget(self._make_pin())
        side.addWidget(self._make_controller())
        side.addStretch(1)
        columns.addWidget(self.sheet(side), 2)
        self.column.addLayout(columns, 1)
        self.copy = link("Copy as my own", self._copy, tip="A table of pins of your own, to be changed pin by pin")
        self.remove = link("Remove my own", lambda: session.edit("remove-controller", {}))
        left = QWidget()
        row = QHBoxLayout(left)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.copy)
        row.addWidget(self.remove)
        save = button("Save the table…", self._save)
        self.end("Close", left, button("Add a table of pins…", self._add), save)
        session.work_ready.connect(self._show)
        self._show(session.work)

    def _make_pin(self) -> Card:
        self.pin_card = Card("Pin")
        self.kind = self.pin_card.add(label("", "quiet", wrap=True))
        self.lights = self.pin_card.add(label("", "quiet", wrap=True))
        self.drives = Choice(())
        self.drives.chosen.connect(self._give)
        self._drives_row = self.pin_card.row("drives", self.drives)
        self.kept = TextField()
        self.kept.setToolTip("A serial line, a button, a sensor: the pin comes out to a pad of that name")
        self.kept.committed.connect(self._keep)
        self._kept_row = self.pin_card.row("kept for", self.kept)
        self.free = link("keep it no longer", lambda: self._edit("reserve-pin", pin=self.view.number, name="nothing"))
        self.pin_card.add(self.free)
        self.own_pin = KeyRows(
            self.pin_card, "set-pin", lambda key, value: self._edit("set-pin", pin=self.view.number, **{key: value})
        )
        self.own_pin.add("name", "kind", "pwm", "at_start", "lamp")
        return self.pin_card

    def _make_controller(self) -> Card:
        self.card = Card("Controller")
        self.spare = KeyRows(self.card, "drive", lambda key, value: self._edit("drive", **{key: value}))
        self.spare.add("spare_pads").setToolTip("Every output that drives nothing comes out to a pad of its name")
        self.own = KeyRows(self.card, "set-controller", lambda key, value: self._edit("set-controller", **{key: value}))
        self.own.add("name", "least_v", "most_v", "pin_a", "total_a", "standing_a", "start_s")
        return self.card

    # -- what is there --------------------------------------------------------------------------------------------

    def _show(self, work: Any) -> None:
        table = core("pin_table").pin_table(work) if work is not None and work.plan is not None else None
        self.view.show_table(table)
        for one in (self.pin_card, self.card):
            one.setVisible(table is not None)
        self.copy.setVisible(table is not None and table.own is None)
        self.remove.setVisible(table is not None and table.own is not None)
        if table is None:
            self.words.setText("This board has no controller.")
            return
        free = f"{table.free} {'is' if table.free == 1 else 'are'} free"
        self.words.setText(f"{table.title}: {len(table.nets)} pins drive something, {free}. Drag what one drives to another.")
        self.card.title.set_full(table.title)
        self.spare.show({"spare_pads": work.design.drive.spare_pads})
        own = table.own
        self.own.only(self.own.rows if own is not None else ())
        if own is not None:
            low, high = own.supply_v
            self.own.show_of(own, least_v=low, most_v=high)
        self._show_pin()

    def _show_pin(self) -> None:
        table = self.view.table
        line = table.line(self.view.number) if table is not None else None
        if line is None:
            return
        self.pin_card.title.set_full(f"Pin {line.number}, {line.name}")
        self.kind.setText(line.words)  # type: ignore[attr-defined]
        self.lights.setText(line.lights)  # type: ignore[attr-defined]
        self.lights.setVisible(bool(line.lights))
        self._drives_row.setVisible(line.takes)
        self.drives.fill([("", "nothing"), *((net, net) for net in table.nets)])
        self.drives.show_key(line.drives if line.drives in table.nets else "")
        self._kept_row.setVisible(line.keepable)
        self.kept.show_text(line.drives if line.state == "kept" else "")
        self.free.setVisible(line.state == "kept")
        self.own_pin.only(self.own_pin.rows if table.own is not None else ())
        if table.own is not None:
            self.own_pin.show_of(line)

    # -- what is done ---------------------------------------------------------------------------------------------

    def _edit(self, edit: str, step: str = "", **values: Any) -> None:
        self._session.edit(edit, values, step)

    def _give(self, net: str) -> None:
        line = self.view.table.line(self.view.number)
        if net and net != line.drives:
            self._move(net, line.number)
        elif not net and line.state == "by hand":
            self._edit("give-pin", net=line.drives, pin="any")
        else:
            self._show_pin()

    def _move(self, net: str, number: str) -> None:
        """A net goes to another pin; what that pin drove takes the one it leaves."""
        table = self.view.table
        here = next((line for line in table.lines if line.drives == net), None)
        there = table.line(number)
        step = f"pins {net} {number}"
        self._edit("give-pin", step, net=net, pin=number)
        if here is not None and there.drives in table.nets:
            self._edit("give-pin", step, net=there.drives, pin=here.number)

    def _keep(self, name: str) -> None:
        self._edit("reserve-pin", pin=self.view.number, name=name)

    def _copy(self) -> None:
        table = self.view.table
        self._edit("copy-controller", controller=table.key, name=f"my {table.title}"[:60])

    def _add(self) -> None:
        file = chosen_file(self, "Add a table of pins", _TABLES, self._session.trouble.emit)
        if file is not None:
            self._edit("add-controller", file=file)

    def _save(self) -> None:
        work = self._session.work
        self._files.write("Save the table of pins", "controller.json", _TABLES, lambda _: core("pin_table").table_file(work))
