"""Brief: what it is for, limits, stack, fabricator, pieces, and what they cost."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from ...core.units import show
from ..core_door import core
from ..edit_fields import KeyRows, params_of
from ..fields import ColourChip
from ..widgets import Card, clear, label
from .base import Drawer
from .boards import BoardsCard
from .brief_cards import LimitsCard, OwnProfile
from .consequence_choice import ConsequenceChoice


class BriefDrawer(Drawer):
    """Each choice shows its price, its look, and what it prevents."""

    def build(self) -> None:
        self.use = UseCard(self)
        self.limits = LimitsCard(self)
        self.stack = StackCard(self)
        self.made = MadeCard(self)
        self.price = PriceCard(self)
        self.boards = BoardsCard(self.session)
        for card in (self.use, self.limits, self.stack, self.made, self.price, self.boards):
            self.cards.addWidget(card)
        self.mind = self.add_card("Cautions")
        self.cautions = label("", "quiet", wrap=True)
        self.mind.add(self.cautions)
        self.rows = {**self.use.choices, **self.stack.choices, "profile": self.made.profile}

    def why_price(self) -> None:
        """The reason of the price."""
        if self.session.work is not None:
            self.why(core("why").why_price(self.session.work))

    def inputs(self) -> Mapping[str, QWidget]:
        """What the price comes from."""
        return {**self.rows, "pieces": self.made.pieces}

    def show_work(self, work: Any) -> None:
        for card in (self.use, self.limits, self.stack, self.made, self.price, self.boards):
            card.show_work(work)
        mind = core("brief_findings").cautions(work.brief, work.design.drive.supply)
        self.cautions.setText("\n\n".join(mind))
        self.mind.setVisible(bool(mind))
        size = f"{show(work.board.size[0], 1)} × {show(work.board.size[1], 1)} mm"
        self.subtitle.set_full(f"{size} · {work.board.profile.title} · {work.brief.pieces} boards")

    def look(self, work: Any) -> None:
        """Work out in the background what every choice would mean."""

        def took(told: dict[str, Sequence[Any]]) -> None:
            for key, rows in told.items():
                self.rows[key].tell(rows)

        run = core("choices").consequences
        self.session.jobs.submit("choices", lambda cancelled: run(work), took, self.session.trouble.emit)


class UseCard(Card):
    """What it is, and where, how and by whom."""

    def __init__(self, drawer: BriefDrawer) -> None:
        super().__init__("The board")
        self._drawer = drawer
        self.name = QLineEdit()
        self.name.setMaxLength(80)
        self.row("name", self.name)
        self.name.setFixedWidth(180)
        self.name.editingFinished.connect(self._rename)
        self.choices: dict[str, ConsequenceChoice] = {}
        self._params = params_of("set-purpose")
        for key in ("purpose", "place", "ambient"):
            self._choice(key)
        seen = KeyRows(self, "set-purpose", lambda key, value: drawer.edit("set-purpose", **{key: value}))
        self.distance = seen.add("distance_m")
        self.digits = seen.add("digits")
        self._digits_row = seen.rows["digits"]
        self.legible = self.figure("smallest text readable from there")
        self._choice("skill")
        self.tools = QLineEdit()
        self.tools.setMinimumWidth(150)
        self.tools.editingFinished.connect(self._take_tools)
        self.row("tools you have", self.tools)
        self.lacking = label("", "quiet", wrap=True)
        self.lacking.setContentsMargins(8, 0, 0, 2)
        self.add(self.lacking)

    def _choice(self, key: str) -> None:
        one = ConsequenceChoice(self, self._params[key].title)
        one.chosen.connect(lambda word: self._drawer.edit("set-purpose", **{key: word}))
        self.choices[key] = one

    def _rename(self) -> None:
        name, project = self.name.text().strip(), self._drawer.session.project
        if name and project is not None and name != project.name:
            self._drawer.edit("rename", name=name)

    def _take_tools(self) -> None:
        words, project = (
            tuple(word.strip() for word in self.tools.text().split(",") if word.strip()),
            self._drawer.session.project,
        )
        if project is not None and words != project.brief.tools:
            self._drawer.edit("set-purpose", tools=words)

    def show_work(self, work: Any) -> None:
        """Bring the fields up to date."""
        brief, words = work.brief, core("brief")
        for key, one in self.choices.items():
            one.offer([(word, word) for word in self._params[key].options()])
            one.show_key(getattr(brief, key))
        self.distance.show_value(brief.distance_m)
        self.digits.show_value(brief.digits)
        self._digits_row.setVisible(brief.purpose == "number display")
        self.tools.setToolTip(", ".join(words.TOOLS))
        if not self.tools.hasFocus():
            self.tools.setText(", ".join(brief.tools))
        lacking = core("advice").out_of_reach(brief.tools)
        self.lacking.setText("; ".join(lacking))
        self.lacking.setVisible(bool(lacking))
        self.legible.setText(f"{core('advice').legible_mm(brief.distance_m):.3g} mm")
        if not self.name.hasFocus():
            self.name.setText(work.project.name)


class StackCard(Card):
    """Mask, finish, ink and thickness."""

    def __init__(self, drawer: BriefDrawer) -> None:
        super().__init__("Stack")
        self._drawer = drawer
        self.sample = ColourChip(["000000"], 96)
        self.sample.setAccessibleName("mask, mask over copper, metal, ink")
        self.row("colours", self.sample)
        self.choices: dict[str, ConsequenceChoice] = {}
        self._params = params_of("set-stack")
        for key in ("mask", "finish", "ink", "thickness_mm"):
            one = ConsequenceChoice(self, self._params[key].title)
            one.chosen.connect(lambda word, key=key: self._set(key, word))
            self.choices[key] = one

    def _set(self, key: str, word: str) -> None:
        self._drawer.edit("set-stack", **{key: float(word) if key == "thickness_mm" else word})

    def show_work(self, work: Any) -> None:
        """Bring the choices up to date."""
        stack, look = work.brief.stack, work.board.materials
        for key in ("mask", "finish", "ink"):
            self.choices[key].offer([(word, word.replace("-", " ")) for word in self._params[key].options()])
            self.choices[key].show_key(getattr(stack, key))
        self.choices["thickness_mm"].offer([(f"{one:.1f}", f"{one:g} mm") for one in work.board.profile.thickness_mm])
        self.choices["thickness_mm"].show_key(f"{stack.thickness_mm:.1f}")
        self.sample.show_colours([look.mask, look.raised, look.metal, look.ink, look.laminate])


class MadeCard(Card):
    """Who makes it, and how many."""

    def __init__(self, drawer: BriefDrawer) -> None:
        super().__init__("Fabricator")
        self.profile = ConsequenceChoice(self, "profile")
        self.profile.chosen.connect(lambda word: drawer.edit("set-profile", profile=word))
        many = KeyRows(self, "set-pieces", lambda _, value: drawer.edit("set-pieces", pieces=value))
        self.pieces = many.add("pieces")
        self.days = self.figure("production + shipping")
        self.own = OwnProfile(drawer, self)

    def show_work(self, work: Any) -> None:
        """Bring the profile up to date."""
        brief, rules = work.brief, work.board.profile
        own = brief.own_profile
        titles = [(name, one.title) for name, one in core("parts").profiles().items()]
        titles += [(own["name"], f"{own['title']} (own)")] if own else []
        self.profile.offer(titles)
        self.profile.show_key(brief.profile)
        self.pieces.show_value(brief.pieces)
        self.days.setText("made at home" if not rules.days_make else f"{rules.days_make} + {rules.days_arrive} days")
        self.own.show_work(work)


class PriceCard(Card):
    """The price line by line."""

    def __init__(self, drawer: BriefDrawer) -> None:
        super().__init__("Example price", "credits · boards only")
        self._lines = QVBoxLayout()
        self._lines.setSpacing(4)
        self.body.addLayout(self._lines)
        self.together = self.figure("order")
        self.each = self.figure("per board", "honey", drawer.why_price)

    def show_work(self, work: Any) -> None:
        """Bring the lines up to date."""
        brief, board = work.brief, work.board
        price = core("price").brief_price(brief, board.size, board.edge_copper)
        clear(self._lines)
        for title, amount in price.lines:
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            row.addWidget(label(title, "quiet"), 1)
            row.addWidget(label(f"{amount:.2f}"))
            self._lines.addWidget(line)
        self.together.setText(f"{price.boards:.2f}")
        self.each.setText(f"{price.each:.2f}")
