"""What every drawer has: a title, scrolling cards, buttons at the foot, and the cards for findings and “why”."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import partial
from itertools import pairwise
from typing import TYPE_CHECKING, Any, Protocol

from PyQt6.QtCore import QPointF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFont, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QScrollBar, QVBoxLayout, QWidget

from ...core.stages import Stage
from ..flow import FlowLayout
from ..session import Session
from ..theme import keep_in_theme, theme
from ..widgets import Card, ElidedLabel, Pressable, clear, label, link, put_away
from .places import PlacesCard

if TYPE_CHECKING:
    from ..bench.area import BenchArea
    from ..files import Files
    from ..help.door import Help

WIDTH = 320


class Window(Protocol):
    """What a drawer needs of its window."""

    files: Files
    help: Help

    @property
    def area(self) -> BenchArea: ...
    def show_place(self, finding: Any, which: int = 0) -> None: ...
    def show_stage(self, key: str) -> None: ...
    def show_input(self, stage: str, key: str) -> None: ...
    def export(self) -> None: ...


class Drawer(QFrame):
    """A stage's controls. `show_place` asks the bench to ring places; `go` asks for another stage."""

    show_place = pyqtSignal(object, int)  # Finding, which of its places
    go = pyqtSignal(str)
    go_input = pyqtSignal(str, str)  # stage, and what is set there

    def __init__(self, stage: Stage, session: Session) -> None:
        super().__init__()
        self.stage, self.title = stage.key, stage.title
        self.session = session
        self.setFixedWidth(WIDTH)
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(14, 12, 4, 12)
        self._layout.setSpacing(8)
        head = label(self.title, "stageTitle")
        head.setContentsMargins(6, 0, 0, 0)
        self._layout.addWidget(head)
        self.subtitle = ElidedLabel("", "quiet")
        self.subtitle.setContentsMargins(6, 0, 0, 0)
        self.subtitle.setFixedHeight(20)
        self._layout.addWidget(self.subtitle)
        self._scroll = Sheet()
        inner = QWidget()
        self.cards = QVBoxLayout(inner)
        self.cards.setContentsMargins(0, 0, 0, 0)
        self.cards.setSpacing(10)
        self._scroll.hold(inner)
        self._layout.addWidget(self._scroll, 1)
        self.foot = QHBoxLayout()
        self.foot.setSpacing(10)
        self.foot.setContentsMargins(0, 0, 10, 0)
        self._layout.addLayout(self.foot)
        self.why_card = WhyCard()
        self.why_card.asked.connect(self._show_input)
        self.findings_card = FindingsCard()
        self.findings_card.chosen.connect(lambda finding: self.show_place.emit(finding, 0))
        self.findings_card.remedied.connect(lambda edit, values: self.session.edit(edit, values))
        self.places_card = PlacesCard()
        self.places_card.chosen.connect(self.show_place.emit)
        self.places_card.remedied.connect(lambda edit, values: self.session.edit(edit, values))
        self.build()
        if self.places_card.parent() is None:
            self.cards.addWidget(self.places_card)
        self.cards.addWidget(self.findings_card)
        self.cards.addWidget(self.why_card)
        self.cards.addStretch(1)

    def build(self) -> None:
        """Make the cards."""

    def keep_in_theme(self) -> None:
        """Each card takes a theme on its own: all of a drawer at once would keep the window from answering. Cards that come
        later stand in a widget that is there from the first."""
        columns = (self._layout, self.cards, self.foot)
        inside = [column.itemAt(at) for column in columns for at in range(column.count())]
        pieces = [item.widget() for item in inside if item is not None]
        for piece in (self._scroll.bar, *pieces):
            if piece is not None and piece is not self._scroll:
                keep_in_theme(piece)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme().colour("drawer"))
        painter.fillRect(0, 0, 1, self.height(), theme().colour("line"))

    def attach(self, window: Window) -> None:
        """Join the drawer to the bench and to what the window does: the one door between them."""
        self.show_place.connect(window.show_place)
        self.go.connect(window.show_stage)
        self.go_input.connect(window.show_input)
        window.area.bench.picked_mark.connect(self.places_card.select)

    def show_work(self, work: Any) -> None:
        """The board is here."""

    def show_findings(self, findings: Sequence[Any]) -> None:
        """The findings are here: by default those of this stage, the ones about narrow places on a card of their own."""
        mine = [one for one in findings if one.stage == self.stage and one.board in ("", self.session.board)]
        self.places_card.show_findings(mine)
        self.findings_card.show_findings([one for one in mine if not one.widths])

        self._look()

    def _look(self) -> None:
        if self.session.work is not None and self.session.findings is not None and self.isVisible():
            self.places_card.look(self.session.work, self.session.jobs, self.session.trouble.emit)
            self.look(self.session.work)

    def look(self, work: Any) -> None:
        """The drawer is in view and its board at rest: time for what costs more than a look, in the background."""

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._look()

    def add_card(self, title: str, aside: str = "") -> Card:
        """One more card."""
        card = Card(title, aside)
        self.cards.addWidget(card)
        return card

    def edit(self, name: str, /, **values: Any) -> bool:
        """Change the project."""
        return self.session.edit(name, values)

    def edit_in(self, step: str, name: str, /, **values: Any) -> bool:
        """One of several edits that are one step of the history: those that follow one another with the same key."""
        return self.session.edit(name, values, step)

    def why(self, reason: Any) -> None:
        """Open “why”, and bring it into view."""
        self.why_card.show_why(reason)
        self.bring_into_view(self.why_card)

    def inputs(self) -> Mapping[str, QWidget]:
        """What is set here and other figures come from, by name: where a “why” leads."""
        return {}

    def show_input(self, key: str) -> None:
        """Lead to where something is set."""
        field = self.inputs().get(key)
        if field is not None and field.isVisibleTo(self):
            field.setFocus(Qt.FocusReason.OtherFocusReason)
            self.bring_into_view(field)

    def _show_input(self, at: str) -> None:
        stage, _, key = at.partition(":")
        if stage == self.stage:
            self.show_input(key)
        else:
            self.go_input.emit(stage, key)

    def bring_into_view(self, card: QWidget) -> None:
        """Scroll to a card, once the layout has made room for what it shows now."""
        QTimer.singleShot(0, lambda: self._scroll.ensureWidgetVisible(card))


class Sheet(QScrollArea):
    """Cards that scroll; the bar lies in the margin beside them, so that their width never changes."""

    def __init__(self) -> None:
        super().__init__()
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setViewportMargins(0, 0, 10, 0)
        inner = self.verticalScrollBar()
        assert inner is not None
        self.bar = QScrollBar(Qt.Orientation.Vertical, self)
        self.bar.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inner.rangeChanged.connect(self._range)
        inner.valueChanged.connect(self.bar.setValue)
        self.bar.valueChanged.connect(inner.setValue)
        self.bar.hide()

    def hold(self, inner: QWidget) -> None:
        """Scroll that; what lies under it is seen beside its cards."""
        self.setWidget(inner)
        viewport = self.viewport()
        assert viewport is not None
        for one in (viewport, inner):
            one.setAutoFillBackground(False)

    def _range(self, least: int, most: int) -> None:
        viewport = self.viewport()
        self.bar.setRange(least, most)
        self.bar.setPageStep(viewport.height() if viewport is not None else 100)
        self.bar.setVisible(most > least)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.bar.setGeometry(self.width() - 9, 0, 8, self.height())


class SeverityMark(QWidget):
    """A severity as a shape: a disc stops, a triangle warns, a ring notes."""

    def __init__(self, severity: str) -> None:
        super().__init__()
        self._severity = severity
        self.setFixedSize(16, 18)
        self.setAccessibleName(severity)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        paint_severity(QPainter(self), self._severity, 8, 9)


def paint_severity(painter: QPainter, severity: str, x: float, y: float) -> None:
    """The shape of a severity about a point."""
    t = theme()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    if severity == "stop":
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.colour("warn"))
        painter.drawEllipse(QPointF(x, y), 5.5, 5.5)
    elif severity == "warning":
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.colour("lamp"))
        painter.drawPolygon(QPolygonF([QPointF(x, y - 6), QPointF(x + 6, y + 5), QPointF(x - 6, y + 5)]))
    else:
        painter.setPen(QPen(t.colour("note"), 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QPointF(x, y), 4.5, 4.5)


class FindingRow(Pressable):
    """A finding: its shape, sentence, figures and remedies; pressing it shows the place."""

    chosen = pyqtSignal(object)
    remedied = pyqtSignal(str, object)

    def __init__(self, finding: Any, detailed: bool) -> None:
        super().__init__()
        self.setAttribute(Qt.WidgetAttribute.WA_Hover)
        self.finding = finding
        self.clicked.connect(lambda _=False: self.chosen.emit(self.finding))
        self.setAccessibleName(f"{finding.severity}: {finding.sentence}")
        row = QHBoxLayout(self)
        row.setContentsMargins(4, 4, 4, 4)
        row.setSpacing(7)
        mark = SeverityMark(finding.severity)
        row.addWidget(mark, 0, Qt.AlignmentFlag.AlignTop)
        column = QVBoxLayout()
        column.setSpacing(1)
        column.addWidget(label(finding.sentence, wrap=True))
        if detailed and finding.x_mm is not None:
            place = f"x {finding.x_mm:.1f}, y {finding.y_mm:.1f} mm"
            column.addWidget(label(place, "quiet"))
        doable = [remedy for remedy in finding.remedies if remedy.edit]
        links = FlowLayout()
        for remedy in doable[:6]:
            links.addWidget(link(remedy.text, partial(self.remedied.emit, remedy.edit, dict(remedy.values))))
        column.addLayout(links)
        advice = [remedy.text for remedy in finding.remedies if not remedy.edit]
        if advice and detailed:
            column.addWidget(label("or " * bool(doable) + " · ".join(advice), "quiet", wrap=True))
        row.addLayout(column, 1)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if not (self.underMouse() or self.hasFocus()):
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        painter.setBrush(t.colour("sunken", 0.6))
        painter.setPen(QPen(t.colour("ring"), 1) if self.hasFocus() else Qt.PenStyle.NoPen)
        painter.drawRoundedRect(self.rect().adjusted(0, 0, -1, -1), 6, 6)


#: So many rows a card of findings has at most: each is a widget, laid out in one turn of the window.
_MOST_ROWS = 60


class FindingsCard(Card):
    """The findings of one stage, or all of them."""

    chosen = pyqtSignal(object)
    remedied = pyqtSignal(str, object)

    def __init__(self, title: str = "Findings", detailed: bool = False) -> None:
        super().__init__(title)
        self._detailed = detailed
        self._rows = QVBoxLayout()
        self._rows.setSpacing(2)
        self.body.addLayout(self._rows)
        self._more = label("", "quiet", wrap=True)
        self.add(self._more)
        self._shown: dict[Any, FindingRow] = {}
        self.hide()

    @property
    def findings(self) -> list[Any]:
        """The findings shown."""
        return list(self._shown)

    def show_findings(self, findings: Sequence[Any]) -> None:
        """Show these, the first of very many; the row of one that was told before stays. Without findings the card goes."""
        every = list(dict.fromkeys(findings))
        told, more = every[:_MOST_ROWS], len(every) - _MOST_ROWS
        self._more.setText(f"and {more} more, which are shown when some of these are mended")
        self._more.setVisible(more > 0)
        self.aside.set_full(str(len(findings)) if findings else "")
        if told == self.findings:
            return
        known = self._shown
        self._shown = {one: known.pop(one) if one in known else self._row(one) for one in told}
        for at, row in enumerate(self._shown.values()):
            if self._rows.indexOf(row) != at:
                self._rows.insertWidget(at, row)
        for row in known.values():
            self._rows.removeWidget(row)
            put_away(row)
        # New rows would come last by the Tab key, wherever they stand.
        for one, other in pairwise(part for row in self._shown.values() for part in (row, *row.findChildren(QPushButton))):
            QWidget.setTabOrder(one, other)
        self.setVisible(bool(findings))

    def _row(self, finding: Any) -> FindingRow:
        row = FindingRow(finding, self._detailed)
        row.chosen.connect(self.chosen.emit)
        row.remedied.connect(self.remedied.emit)
        return row


class WhyCard(Card):
    """The reason of a number: formula, what was put in, source. What is set somewhere is a link that leads there."""

    asked = pyqtSignal(str)  # stage:key

    def __init__(self) -> None:
        super().__init__("Why")
        self._content = QVBoxLayout()
        self._content.setSpacing(4)
        self.body.addLayout(self._content)
        self.hide()

    def show_why(self, reason: Any) -> None:
        """Fill the card and show it."""
        clear(self._content)
        self.title.set_full(reason.title)
        formula = label(reason.formula, wrap=True)
        strong = formula.font()
        strong.setWeight(QFont.Weight.DemiBold)
        formula.setFont(strong)
        self._content.addWidget(formula)
        for symbol, how, value, at in reason.rows:
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            row.setSpacing(8)
            head = label(symbol, "honey")
            head.setMinimumWidth(44)
            row.addWidget(head, 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(label(how, "quiet", wrap=True), 1)
            lead = partial(self.asked.emit, at)
            shown = link(value or "change", lead, tip=f"Where {how} is set") if at else label(value)
            row.addWidget(shown, 0, Qt.AlignmentFlag.AlignTop)
            self._content.addWidget(line)
        self._content.addWidget(label(f"source: {reason.source}", "sea", wrap=True))
        self._content.addWidget(link("close", self.hide), 0, Qt.AlignmentFlag.AlignRight)
        self.show()
