"""Too narrow to be made: each kind with its width, place after place, and what is done there or everywhere."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QIcon, QImage, QPainter, QPixmap
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QVBoxLayout, QWidget

from ..core_door import core
from ..fields import Choice
from ..flow import FlowLayout
from ..jobs import Jobs
from ..widgets import Card, RowButton, clear, label, link

_KINDS = {
    "metal-too-thin": "bare metal", "copper-too-thin": "mask over copper", "copper-gap-too-narrow": "gap in copper",
    "mask-web-too-narrow": "mask web", "ink-too-thin": "ink", "neck-too-narrow": "board", "cut-too-narrow": "cut-out",
}  # fmt: skip


#: What is seen enlarged of a place, mm, and how large it is shown, pixels.
_CLOSE_MM, _CLOSE_PX = 2.4, 34


def _rounded(picture: bytes, scale: float) -> QIcon:
    """A picture with rounded corners, as an icon."""
    image = QImage.fromData(picture)
    out = QPixmap(image.size())
    out.fill(Qt.GlobalColor.transparent)
    painter = QPainter(out)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setBrush(QBrush(image))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawRoundedRect(image.rect(), 5 * scale, 5 * scale)
    painter.end()
    out.setDevicePixelRatio(scale)
    return QIcon(out)


class PlacesCard(Card):
    """The findings that have widths: a list of kinds, and the places of the one in hand, one after another."""

    chosen = pyqtSignal(object, int)
    remedied = pyqtSignal(str, object)

    def __init__(self) -> None:
        super().__init__("Too thin or too close")
        self._list = QVBoxLayout()
        self._list.setSpacing(4)
        self.body.addLayout(self._list)
        self._group = QButtonGroup(self)
        self.rows: list[RowButton] = []
        self._one = QWidget()
        column = QVBoxLayout(self._one)
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(4)
        step = QHBoxLayout()
        step.setSpacing(10)
        self.before = link("‹ previous", lambda: self._step(-1), tip="The previous place")
        self.after = link("next ›", lambda: self._step(1), tip="The next place")
        self.where = label("")
        step.addWidget(self.where, 1)
        step.addWidget(self.before)
        step.addWidget(self.after)
        column.addLayout(step)
        self.spread = Choice([("here", "here"), ("all", "everywhere")])
        self.spread.chosen.connect(lambda _: self._show_remedies())
        self._spread_row = self.row("apply", self.spread)
        self._spread_row.setParent(None)
        column.addWidget(self._spread_row)
        self._remedies = FlowLayout()
        column.addLayout(self._remedies)
        self.body.addWidget(self._one)
        self._findings: list[Any] = []
        self._kind: tuple[str, Any] | None = None
        self.which = 0
        self.hide()

    @property
    def finding(self) -> Any:
        """The finding in hand, or None."""
        return next((one for one in self._findings if (one.code, one.layer) == self._kind), None)

    def show_findings(self, findings: Sequence[Any]) -> None:
        """Those with widths; the kind and the place in hand are kept where they are still there."""
        found = [one for one in findings if one.widths]
        if found == self._findings:
            return
        self._findings = found
        self.setVisible(bool(found))
        clear(self._list)
        self.rows = []
        for one in found:
            name = _KINDS.get(one.code, one.code.replace("-", " "))
            side = " · back" if (one.layer or "").startswith("back") else ""
            calm = " · left as drawn" if one.severity == "note" else ""
            words = f" {one.measured:.2f} mm  {name}{side} · {len(one.places)}{calm}"
            row = RowButton(words, one.text, _CLOSE_PX + 8)
            row.setChecked((one.code, one.layer) == self._kind)
            row.clicked.connect(lambda _=False, one=one: self._take(one))
            self._group.addButton(row)
            self._list.addWidget(row)
            self.rows.append(row)
        self.aside.set_full(f"{sum(len(one.places) for one in found)} places")
        self._show_one()

    def look(self, work: Any, jobs: Jobs, failed: Callable[[str], None]) -> None:
        """The worst place of each kind enlarged, drawn in the background."""
        if not self._findings:
            return
        found, scale = self._findings, self.devicePixelRatioF()

        def run(cancelled: Callable[[], bool]) -> list[bytes]:
            flat, out = core("flat"), []
            for one in found:
                if not cancelled():
                    side = "back" if (one.layer or "").startswith("back") else "front"
                    out.append(flat.closeup(work.board, side, *one.places[0], _CLOSE_MM, round(_CLOSE_PX * scale)))
            return out

        def took(pictures: list[bytes]) -> None:
            for row, picture in zip(self.rows, pictures, strict=False):
                row.setIcon(_rounded(picture, scale))
                row.setIconSize(QSize(_CLOSE_PX, _CLOSE_PX))

        jobs.submit("closeups", run, took, failed)

    def _take(self, finding: Any) -> None:
        self._kind, self.which = (finding.code, finding.layer), 0
        self._show_one()
        self.chosen.emit(finding, 0)

    def _step(self, by: int) -> None:
        if self.finding is not None:
            self.select((self.which + by) % len(self.finding.places))

    def select(self, which: int) -> None:
        """Take a place of the kind in hand, if this card is the one in view."""
        finding = self.finding
        if self.isVisible() and finding is not None and which < len(finding.places):
            self.which = which
            self._show_one()
            self.chosen.emit(finding, self.which)

    def _show_one(self) -> None:
        finding = self.finding
        self._one.setVisible(finding is not None)
        if finding is None:
            return
        many = len(finding.places)
        self.which = min(self.which, many - 1)
        self.where.setText(f"{self.which + 1} of {many}: {finding.widths[self.which].mm:.2f} mm")
        self.where.setToolTip("x {:.2f}, y {:.2f} mm".format(*finding.places[self.which]))
        self.before.setVisible(many > 1)
        self.after.setVisible(many > 1)
        self._show_remedies()

    def _show_remedies(self) -> None:
        clear(self._remedies)
        finding = self.finding
        if finding is None:
            return
        doable = [one for one in finding.remedies if one.edit]
        self._spread_row.setVisible(len(finding.places) > 1 and any(one.edit == "mend" for one in doable))
        here = self.spread.currentData() == "here" and len(finding.places) > 1
        for remedy in doable:
            if here:
                remedy = core("mends").at_place(remedy, finding.places[self.which])
            self._remedies.addWidget(link(remedy.text, partial(self.remedied.emit, remedy.edit, dict(remedy.values))))
