"""Wiring: the nets with their tracks, parts placed by hand, pours; a net that is picked is seen through the board."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem, QWidget

from ..core_door import core
from ..edit_fields import KeyRows, field_of, params_of
from ..fields import Choice, Switch
from ..widgets import button, label, link
from .base import Drawer, Window
from .wiring_hand import HandCard, PartCard, TrackCard
from .wiring_leads import LeadsCard
from .wiring_plugs import PlugsCard

_COLUMNS = ("net", "mA", "width", "length")
_WIDE = 150
#: Rows of nets that are seen without scrolling.
_ROWS = 10
_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
_POURS = (("none", "none"), ("solid", "solid"), ("hatched", "hatched"))


class WiringDrawer(Drawer):
    """How the tracks are drawn, what they join, the part in hand, and copper that is poured."""

    def build(self) -> None:
        self._window: Window | None = None
        self._shown: Any = None
        self.part = PartCard(self.add_card("Part in hand"), self.session, self.edit)
        self.track = TrackCard(self.add_card("Track in hand"), self.session, self.edit)
        tracks = self.add_card("Tracks")
        self.rows = KeyRows(tracks, "wire", lambda key, value: self.edit("wire", **{key: value}))
        self.rows.add("front", "style", "teardrops", "seed")
        self.rows["front"].setToolTip("The art side: nothing but short stubs and vias, few tracks, or as many as on the back")
        self.rows["teardrops"].setToolTip("Tracks grow wider where they meet a pad or a via (teardrops): they tear less easily")
        self.rows["seed"].setToolTip("Another number gives other tracks of the same kind, and has parts find their places anew")
        for key in ("front", "style"):
            self.rows[key].setFixedWidth(_WIDE)
        self.joined = tracks.figure("nets joined")
        self.length = tracks.figure("tracks, all together")
        self.vias = tracks.figure("vias")
        self.links = tracks.figure("wires in the place of plated holes")
        self.in_front = tracks.figure("tracks in front, beyond stubs")
        self._build_nets()
        self._build_drop()
        self.hand = HandCard(self.add_card("Drawn by hand"), self.edit)
        self._build_pours()
        self.leads = LeadsCard(self.add_card("Leads off the board"), self.session, self.edit)
        self.plugs = PlugsCard(self.add_card("Boards that plug together"), self.session, self.edit)
        self.draw = button("Draw the tracks", self._draw, filled=True)
        self.draw.setToolTip("Join what is not joined yet; tracks that are right stay, and parts stay where they stand")
        self.remove = button("Remove them", lambda: self.edit("unwire"))
        self.foot.addWidget(self.draw, 1)
        self.foot.addWidget(self.remove)

    def _build_nets(self) -> None:
        card = self.add_card("Nets", "width and length in mm")
        self.nets = QTableWidget(0, len(_COLUMNS))
        self.nets.setAccessibleName("nets")
        self.nets.setToolTip("Press a net: it is seen through the board")
        self.nets.setHorizontalHeaderLabels(list(_COLUMNS))
        self.nets.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.nets.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.nets.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.nets.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.nets.setShowGrid(False)
        # Names such as “supply after fuse” and “supply after switch” differ at their ends.
        self.nets.setTextElideMode(Qt.TextElideMode.ElideMiddle)
        self.nets.setWordWrap(False)
        self.nets.setTabKeyNavigation(False)
        down, across = self.nets.verticalHeader(), self.nets.horizontalHeader()
        assert down is not None
        assert across is not None
        down.hide()
        down.setDefaultSectionSize(23)
        across.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        for column, width in ((1, 44), (2, 56), (3, 60)):
            across.setSectionResizeMode(column, QHeaderView.ResizeMode.Fixed)
            self.nets.setColumnWidth(column, width)
        for column in range(len(_COLUMNS)):
            head = self.nets.horizontalHeaderItem(column)
            if head is not None:
                where = Qt.AlignmentFlag.AlignRight if column else Qt.AlignmentFlag.AlignLeft
                head.setTextAlignment(where | Qt.AlignmentFlag.AlignVCenter)
        self.nets.itemSelectionChanged.connect(self._net_chosen)
        card.add(self.nets)
        self.net_words = label("", "quiet", wrap=True)
        card.add(self.net_words)
        self.again = link("draw this net anew", self._again)
        card.add(self.again)
        self.lock = Switch("lock its tracks")
        self.lock.setToolTip("They stay as they are, whatever comes; others make way")
        self.lock.switched.connect(self._lock)
        self.lock_row = card.row("lock its tracks", self.lock)

    def _build_drop(self) -> None:
        self.drop_card = self.add_card("Volts lost in copper", "all LEDs on")
        self.most = self.drop_card.figure("most lost in a net")
        self.least = self.drop_card.figure("LED with the least supply")
        self.hot = self.drop_card.figure("warmest track, over the board")
        self.wider = label("", "quiet", wrap=True)
        self.drop_card.add(self.wider)
        self.map = Switch("map on the board")
        self.map.setToolTip("Tracks in the colours of the volts they lose: blue none, red the most")
        self.map.switched.connect(lambda _: self._show_map())
        self.drop_card.row("map on the board", self.map)
        self._drops: Any = None

    def _build_pours(self) -> None:
        card = self.add_card("Poured copper")
        self.pours: dict[tuple[str, str], Choice] = {}
        self.arts: dict[tuple[str, str], Any] = {}
        self.art_rows: dict[tuple[str, str], QWidget] = {}
        self.stitches: dict[str, Any] = {}
        self.stitch_rows: dict[str, QWidget] = {}
        for net in ("ground", "supply"):
            for side in ("back", "front"):
                choice = Choice(list(_POURS))
                choice.chosen.connect(partial(self._pour, net, side))
                choice.setToolTip(f"Copper of the {net} wherever there is room on the {side}")
                self.pours[net, side] = choice
                card.row(f"{net}, {side}", choice)
                art = self.arts[net, side] = Choice(list(params_of("pour")["art"].titles))
                art.chosen.connect(lambda word, net=net, side=side: self.edit("pour", net=net, side=side, art=word))
                art.setToolTip("Raised art is copper under the mask: it may become part of this net")
                self.art_rows[net, side] = card.row("raised art there", art)
            self.stitches[net] = field_of(params_of("pour")["vias_mm"])
            self.stitches[net].setToolTip("Vias that join both sides, on a grid of that step; 0: none")
            self.stitches[net].committed.connect(partial(self._stitch, net))
            self.stitch_rows[net] = card.row(f"{net}: a via every", self.stitches[net])

    def attach(self, window: Window) -> None:
        super().attach(window)
        self._window = window
        bench = window.area.bench
        bench.picked_net.connect(self._show_net)
        for one in (self.part, self.track, self.hand, self.leads):
            one.attach(window)

    def inputs(self) -> Mapping[str, QWidget]:
        """The keys of the tracks."""
        return self.rows.fields

    def show_work(self, work: Any) -> None:
        wiring = work.design.wiring
        self.rows.show_of(wiring)
        self.draw.setEnabled(bool(work.leds or work.design.drive.plugs))
        self.remove.setEnabled(wiring.made)
        for (net, side), choice in self.pours.items():
            one = next((one for one in wiring.pours if (one.net, one.side) == (net, side)), None)
            choice.show_key("none" if one is None else one.style)
            self.art_rows[net, side].setVisible(one is not None and not work.board.art_copper(side).is_empty)
            self.arts[net, side].show_key("leave" if one is None else one.art)
        for net, row in self.stitch_rows.items():
            there = [one for one in wiring.pours if one.net == net]
            row.setVisible(len(there) == 2)
            self.stitches[net].show_value(max((one.vias_mm for one in there), default=0.0))
        self.drop_card.setVisible(bool(work.board.wires))
        if self._window is not None and self._window.area.bench.wires.drop is not None:
            self._window.area.bench.wires.show_drop(None)  # of the board before
        self.hand.show(wiring.tracks)
        self._show_rows(work, core("net_facts").net_rows(work))
        self.part.show()
        self.track.show()
        self.leads.show()
        self.plugs.show()
        self._tell(self._window.area.bench.wires.net if self._window is not None else None)

    def _show_rows(self, work: Any, rows: Any) -> None:
        """The nets, and what they are all together."""
        self._fill(rows)
        told = core("net_lens").totals(work, rows)
        for key, figure in (("joined", self.joined), ("length", self.length), ("vias", self.vias), ("front", self.in_front)):
            figure.setText(told[key])
        self.links.setText(told["links"])
        row = self.links.parentWidget()
        assert row is not None
        row.setVisible(bool(told["links"]))
        words = f"{len(rows)} nets, {told['joined']} joined" if work.design.wiring.made else f"{len(rows)} nets, no tracks yet"
        self.subtitle.set_full(words if work.leds else "no LEDs yet")
        self._shown = {one.name: one for one in rows}

    def _fill(self, rows: Any) -> None:
        """Rows that are as they were stay: a board may have thousands."""
        lens, before = core("net_lens"), list((self._shown or {}).values())
        # A copy is made in a fraction of the time in which a flag of Qt's is handed over.
        name, figure = QTableWidgetItem(), QTableWidgetItem()
        figure.setTextAlignment(_RIGHT)
        self.nets.blockSignals(True)
        if [one.name for one in before] != [one.name for one in rows]:
            self.nets.setRowCount(len(rows))
        for at, one in enumerate(rows):
            if at < len(before) and before[at] == one:
                continue
            tip = lens.row_tip(one)
            for column, words in enumerate((one.name, *lens.row_words(one))):
                item = self.nets.item(at, column) or QTableWidgetItem(figure if column else name)
                item.setText(words if column or one.state == "joined" else f"○ {words}")
                item.setData(Qt.ItemDataRole.UserRole, one.name)
                item.setToolTip(tip)
                if item.tableWidget() is None:
                    self.nets.setItem(at, column, item)
        self.nets.setFixedHeight(30 + 23 * min(_ROWS, max(1, len(rows))))
        self.nets.blockSignals(False)

    def _name(self, row: int) -> str:
        item = self.nets.item(row, 0)
        return "" if item is None else str(item.data(Qt.ItemDataRole.UserRole))

    def look(self, work: Any) -> None:
        """The drop is worked out once the board is at rest."""
        if self._drops is not None and self._drops[0] is work:
            return

        def checked(rows: Any) -> None:
            self._show_rows(work, rows)

        def took(found: Any) -> None:
            self._drops = (work, found)
            words = core("drops").drop_words(work, found)
            for key, figure in (("drop", self.most), ("led", self.least), ("hot", self.hot), ("wider", self.wider)):
                figure.setText(words[key])
            self._show_map()

        facts = core("net_facts")
        run = lambda _: facts.net_rows(work, facts.continuity_found(work))  # noqa: E731
        self.session.jobs.submit("nets", run, checked, self.session.trouble.emit)
        lost = lambda cancelled: self.session.making.drops(work, cancelled)  # noqa: E731
        self.session.jobs.submit("drop", lost, took, self.session.trouble.emit)

    def _show_map(self) -> None:
        if self._window is None:
            return
        there = self.map.isChecked() and self._drops is not None and self._drops[0] is self.session.work
        self._window.area.bench.wires.show_drop(core("drops").drop_lines(*self._drops) if there else None)

    def _draw(self) -> None:
        """Draw what is lacking; go on where somebody stopped."""
        work = self.session.work
        if work is not None and work.values["routed"].stopped:
            self.session.go_on()
        else:
            self.edit("wire")

    # -- nets ------------------------------------------------------------------------------------------------------

    def _net_chosen(self) -> None:
        items = self.nets.selectedItems()
        net = self._name(items[0].row()) if items else None
        if self._window is not None:
            self._window.area.bench.wires.take_net(net)
        self._tell(net)

    def _show_net(self, net: str) -> None:
        """A net was picked on the bench."""
        for row in range(self.nets.rowCount()):
            if self._name(row) == net:
                self.nets.selectRow(row)
                return
        self.nets.clearSelection()

    def _tell(self, net: str | None) -> None:
        one = (self._shown or {}).get(net)
        self.net_words.setText("" if one is None else core("net_lens").row_tip(one))
        self.net_words.setVisible(one is not None)
        wired = self.session.work is not None and self.session.work.design.wiring.made
        self.again.setVisible(one is not None and wired)
        self.lock_row.setVisible(one is not None and wired)
        self.lock.setChecked(wired and net in self.session.work.design.wiring.locked)

    def _again(self) -> None:
        """Draw the tracks of the net in hand from nothing."""
        if self._window is not None and self._window.area.bench.wires.net:
            self.edit("rewire", net=self._window.area.bench.wires.net)

    def _lock(self, on: bool) -> None:
        if self._window is not None and self._window.area.bench.wires.net:
            self.edit("lock-net", net=self._window.area.bench.wires.net, lock=on)

    def _stitch(self, net: str, step: float) -> None:
        if self.session.work is not None:
            sides = [one.side for one in self.session.work.design.wiring.pours if one.net == net]
            steps = [("pour", {"net": net, "side": side, "vias_mm": step}) for side in sides]
            self.session.edit_all(steps, f"Vias between the pours of {net}")

    def _pour(self, net: str, side: str, style: str) -> None:
        self.edit("pour", net=net, side=side, style=style)
