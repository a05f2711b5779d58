"""Brief: stack, desk, pieces, and what they cost."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from ...core.units import show
from ..core_door import core
from ..fields import Choice, ColourChip, QuantityField
from ..widgets import clear, label
from .base import Drawer
from .brief_cards import LimitsCard, OwnProfile


def _words(names: Any) -> list[tuple[str, str]]:
    return [(name, name.replace("-", " ")) for name in names]


class BriefDrawer(Drawer):
    """Each choice shows its price and its look at once."""

    stage, title = "brief", "Brief"

    def build(self) -> None:
        card = self.add_card("The board")
        self.name = QLineEdit()
        self.name.setMaxLength(80)
        card.row("name", self.name)
        self.name.setFixedWidth(180)
        self.name.editingFinished.connect(self._rename)
        self.wishes: dict[str, Choice] = {}
        for key, title in (
            ("purpose", "it is a"),
            ("place", "it is seen"),
            ("ambient", "by the light of"),
            ("skill", "made by hands of"),
        ):
            wish = Choice([])
            wish.chosen.connect(lambda word, key=key: self.edit("set-purpose", **{key: word}))
            card.row(title, wish)
            self.wishes[key] = wish
        self.tools = QLineEdit()
        self.tools.setMinimumWidth(150)
        self.tools.setToolTip("iron, hot plate, hot air, oven, stencil, meter, bench supply, scope, magnifier")
        self.tools.editingFinished.connect(self._take_tools)
        card.row("with", self.tools)
        self.distance = QuantityField("m", "m", step=0.1)
        self.distance.committed.connect(lambda value: self.edit("set-purpose", distance_m=value))
        card.row("from", self.distance)
        self.legible = card.figure("letters read from there")
        self.limits = LimitsCard(self)
        self.cards.addWidget(self.limits)
        stack = self.add_card("Stack")
        self.sample = ColourChip(["000000"], 96)
        self.sample.setAccessibleName("mask, mask over copper, metal, ink")
        stack.row("looks like", self.sample)
        self.choices: dict[str, Choice] = {}
        for key, title in (("mask", "mask"), ("finish", "finish"), ("ink", "ink (silkscreen)"), ("thickness_mm", "thickness")):
            choice = Choice([])
            choice.chosen.connect(lambda word, key=key: self._stack(key, word))
            stack.row(title, choice)
            self.choices[key] = choice
        made = self.add_card("Made by")
        self.profile = Choice([])
        self.profile.chosen.connect(lambda word: self.edit("set-profile", profile=word))
        made.row("desk", self.profile)
        self.pieces = QuantityField("", "", step=1, digits=0)
        self.pieces.committed.connect(lambda value: self.edit("set-pieces", pieces=int(value)))
        made.row("pieces", self.pieces)
        self.days = made.figure("days to make, to arrive")
        self.rules = made.figure("finest track / gap")
        self.own = OwnProfile(self, made)
        self.price = self.add_card("Price", "in credits")
        self._lines = QVBoxLayout()
        self._lines.setSpacing(4)
        self.price.body.addLayout(self._lines)
        self.together = self.price.figure("together")
        self.each = self.price.figure("each", "honey", self._why_price)
        self.mind = self.add_card("Mind")
        self.cautions = label("", "quiet", wrap=True)
        self.mind.add(self.cautions)

    def _stack(self, key: str, word: str) -> None:
        self.edit("set-stack", **{key: float(word) if key == "thickness_mm" else word})

    def _rename(self) -> None:
        name = self.name.text().strip()
        if name and self.session.project is not None and name != self.session.project.name:
            self.edit("rename", name=name)

    def _take_tools(self) -> None:
        words = tuple(word.strip() for word in self.tools.text().split(",") if word.strip())
        if self.session.project is not None and words != self.session.project.brief.tools:
            self.edit("set-purpose", tools=words)

    def _why_price(self) -> None:
        if self.session.work is not None:
            self.why(core("why").why_price(self.session.work))

    def show_work(self, work: Any) -> None:
        brief, board = work.project.brief, work.board
        materials, parts = core("materials"), core("parts")
        if not self.choices["mask"].count():
            self.choices["mask"].fill(_words(materials.masks()))
            self.choices["finish"].fill(_words(materials.finishes()))
            self.choices["ink"].fill(_words(materials.inks()))
            words = core("brief")
            for key, offered in (
                ("purpose", words.PURPOSES),
                ("place", words.PLACES),
                ("ambient", words.AMBIENTS),
                ("skill", words.SKILLS),
            ):
                self.wishes[key].fill([(word, word) for word in offered])
        own = brief.own_profile
        desks = [(name, one.title) for name, one in parts.profiles().items()]
        desks += [(own["name"], f"{own['title']} (own)")] if own else []
        if [self.profile.itemData(at) for at in range(self.profile.count())] != [name for name, _ in desks]:
            self.profile.fill(desks)
        for key, wish in self.wishes.items():
            wish.show_key(getattr(brief, key))
        self.distance.show_value(brief.distance_m)
        if not self.tools.hasFocus():
            self.tools.setText(", ".join(brief.tools))
        self.legible.setText(f"{brief.distance_m * 1000 / 200:.3g} mm and more")
        self.limits.show_work(work)
        self.own.show_work(work)
        mind = core("brief_findings").cautions(brief, work.project.design.drive.supply)
        self.cautions.setText("\n\n".join(mind))
        self.mind.setVisible(bool(mind))
        thicknesses = [(f"{one:.1f}", f"{one:g} mm") for one in board.profile.thickness_mm]
        self.choices["thickness_mm"].fill(thicknesses)
        for key in ("mask", "finish", "ink"):
            self.choices[key].show_key(getattr(brief.stack, key))
        self.choices["thickness_mm"].show_key(f"{brief.stack.thickness_mm:.1f}")
        self.profile.show_key(brief.profile)
        self.pieces.show_value(brief.pieces)
        if not self.name.hasFocus():
            self.name.setText(work.project.name)
        look = board.materials
        self.sample.show_colours([look.mask, look.raised, look.metal, look.ink, look.laminate])
        rules = board.profile
        self.days.setText("tonight" if not rules.days_make else f"{rules.days_make} + {rules.days_arrive}")
        self.rules.setText(f"{rules.track_mm:g} / {rules.gap_mm:g} mm")
        price = core("price").price_of(board.size, brief.stack, brief.pieces, brief.profile, board.edge_copper)
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
        self.subtitle.set_full(
            f"{show(board.size[0], 1)} × {show(board.size[1], 1)} mm · {rules.title} · {brief.pieces} pieces"
        )
