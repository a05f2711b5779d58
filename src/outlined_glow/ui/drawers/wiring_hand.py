"""Wiring by hand: the part or the track in hand, and the tracks that were drawn."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QVBoxLayout

from ..bench.bench import Bench
from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice
from ..session import Session
from ..widgets import Card, clear, label, link
from .base import Window

_WITH = ("", "no other")
_TRACK, _AREA = "draw a track…", "draw an area anew…"


class PartCard:
    """The part of the drive in hand: where it lies, how it is turned, which part it changes places with."""

    def __init__(self, card: Card, session: Session, edit: Callable[..., Any]) -> None:
        self.card, self._session, self._edit = card, session, edit
        self._bench: Bench | None = None
        self.place = KeyRows(card, "place-part", self._place)
        self.place.add("x_mm", "y_mm", "angle_deg", "side", "lock")
        self.swap = Choice([_WITH])
        self.swap.setToolTip("Change places with another part of the same kind")
        self.swap.chosen.connect(self._swap)
        self.swap_row = card.row("change places with", self.swap)
        self.label = KeyRows(card, "place-label", self._label)
        self.label.add("upright", "printed")
        self.free_label = link("let its label find its place", self._free_label)
        self.free = link("let it find its place", self._free)
        self.untangle = link("untangle its pins", self._untangle)
        self.untangle.setToolTip("Pins that can do the same change places, so that the ways to what they drive are shorter")
        for one in (self.free, self.free_label, self.untangle):
            card.add(one)
        card.hide()

    def attach(self, window: Window) -> None:
        """The bench is there."""
        self._bench = window.area.bench
        self._bench.picked_part.connect(lambda _: self.show())

    def _held(self) -> tuple[Any, str, Any]:
        """The board, the reference of the part in hand and the part; None where there is none."""
        work, ref = self._session.work, self._bench.wires.part if self._bench is not None else None
        return work, ref or "", core("net_lens").placed(work, ref) if work is not None and ref else None

    def show(self) -> None:
        """Show what is in hand."""
        work, ref, part = self._held()
        self.card.setVisible(part is not None)
        if part is None:
            return
        by_hand = next((one for one in work.design.wiring.places if one.part == ref), None)
        self.card.aside.set_full(f"{ref}, {part.part.title}")
        ox, oy = work.board.origin
        self.place.show(
            {
                "x_mm": part.x - ox, "y_mm": part.y - oy, "angle_deg": (part.angle_deg + 180) % 360 - 180, "side": part.side,
                "lock": by_hand is not None and by_hand.locked,
            }
        )  # fmt: skip
        twins = core("net_lens").twins(work, ref)
        self.swap.fill([_WITH, *((one, one) for one in twins)])
        self.swap.show_key("")
        self.swap_row.setVisible(bool(twins))
        self.free.setVisible(by_hand is not None)
        hand = next((one for one in work.design.wiring.labels if one.part == ref), None)
        spot = core("net_lens").label_of(work, ref)
        self.free_label.setVisible(hand is not None)
        self.label.only(("upright", "printed") if spot is not None else ("printed",) if part.side == "back" else ())
        self.label.show({"upright": spot is not None and spot.upright, "printed": spot is not None})
        untangle = core("untangle")
        able = (*untangle.register_refs(work), *untangle.shifter_refs(work))
        self.untangle.setVisible(ref == untangle.controller_ref(work) or ref in able)

    def _place(self, key: str, value: Any) -> None:
        work, ref, part = self._held()
        if part is not None:
            ox, oy = work.board.origin
            values = {"x_mm": part.x - ox, "y_mm": part.y - oy, "angle_deg": part.angle_deg % 360, "side": part.side}
            self._edit("place-part", part=ref, **{**values, key: value})

    def _label(self, key: str, value: Any) -> None:
        work, ref, part = self._held()
        if part is None:
            return
        spot = core("net_lens").label_of(work, ref)
        ox, oy = work.board.origin
        x, y = (spot.x, spot.y) if spot is not None else (part.x, part.y)
        upright = spot is not None and spot.upright
        if key == "printed" and value and any(one.part == ref for one in work.design.wiring.labels):
            self._free_label()  # printed again it finds its place
            return
        self._edit("place-label", **{"part": ref, "x_mm": x - ox, "y_mm": y - oy, "upright": upright, key: value})

    def _free_label(self) -> None:
        _, ref, _ = self._held()
        if ref:
            self._edit("free-label", part=ref)

    def _swap(self, other: str) -> None:
        work, ref, part = self._held()
        there = core("net_lens").placed(work, other) if part is not None else None
        if there is not None:
            as_placed = core("net_lens").as_placed
            steps = [("place-part", as_placed(part, there)), ("place-part", as_placed(there, part))]
            self._session.edit_all(steps, f"Swap {ref} and {other}")

    def _untangle(self) -> None:
        work = self._session.work
        found = core("untangle").untangled(work) if work is not None else None
        if found is None:
            self._session.said.emit("The pins lie as well as they can.")
            return
        self._session.edit_all(found.edits, "Untangle pins and outputs")
        self._session.said.emit(f"Straight ways from {found.before_mm:.0f} to {found.after_mm:.0f} mm.")

    def _free(self) -> None:
        _, ref, _ = self._held()
        if ref:
            self._edit("free-part", part=ref)


class TrackCard:
    """The track in hand; one that was made can be taken over by hand, and is moved, widened and removed then."""

    def __init__(self, card: Card, session: Session, edit: Callable[..., Any]) -> None:
        self.card, self._session, self._edit = card, session, edit
        self._bench: Bench | None = None
        self.words = label("", "quiet", wrap=True)
        card.add(self.words)
        self.rows = KeyRows(card, "set-track", self._set)
        self.rows.add("layer", "width_mm")
        self.take = link("draw it by hand from now on", self._take_over)
        self.take.setToolTip("It stays as it is then, others make way, and you can move and widen it")
        self.remove = link("remove this track", self._remove)
        for one in (self.take, self.remove):
            card.add(one)
        card.hide()

    def attach(self, window: Window) -> None:
        """The bench is there."""
        self._bench = window.area.bench
        self._bench.picked_track.connect(self.show)

    @property
    def _held(self) -> Any:
        return self._bench.wires.track if self._bench is not None else None

    def show(self) -> None:
        """Show what is in hand."""
        held = self._held
        self.card.setVisible(held is not None)
        if held is None:
            return
        track, by_hand = held.track, held.number is not None
        self.card.aside.set_full(track.net)
        self.words.setText(f"{track.side}, {track.length:.1f} mm long, {track.width:g} mm wide")
        self.words.setVisible(not by_hand)
        self.rows.show({"layer": track.side, "width_mm": track.width})
        self.rows.only(("layer", "width_mm") if by_hand else ())
        self.take.setVisible(not by_hand)
        self.remove.setVisible(by_hand)

    def _set(self, key: str, value: Any) -> None:
        if self._held is not None and self._held.number is not None:
            self._edit("set-track", number=self._held.number, **{key: value})

    def _take_over(self) -> None:
        held = self._held
        if held is None or self._bench is None or self._session.work is None:
            return
        number = len(self._session.work.design.wiring.tracks) + 1
        if self._session.edit("track", core("hand_track").taken_over(held), origin=(0.0, 0.0)):
            self._bench.wires.take_track(core("hand_track").Held(held.track, number))

    def _remove(self) -> None:
        if self._held is not None and self._held.number is not None:
            number = self._held.number
            if self._bench is not None:
                self._bench.wires.take_track(None)
            self._edit("remove-track", number=number)
            self.show()


class HandCard:
    """What is drawn by hand: a track, an area that is drawn anew; and the tracks that were."""

    def __init__(self, card: Card, edit: Callable[..., Any]) -> None:
        self.card, self._edit = card, edit
        self._bench: Bench | None = None
        self.track = link(_TRACK, partial(self._draw, "track"), "link", "Drag from a pad or a track to where it shall go")
        self.area = link(_AREA, partial(self._draw, "area"), "link", "Drag round tracks (or Ctrl-drag): they go and come anew")
        for one in (self.track, self.area):
            card.add(one)
        self.drawn = QVBoxLayout()
        self.drawn.setSpacing(2)
        card.body.addLayout(self.drawn)

    def attach(self, window: Window) -> None:
        """The bench is there."""
        self._bench = window.area.bench
        self._bench.drawing.connect(lambda _: self._tell())

    def _draw(self, what: str) -> None:
        if self._bench is not None:
            self._bench.draw_copper("" if self._bench.wires.draws == what else what)

    def _tell(self) -> None:
        draws = self._bench.wires.draws if self._bench is not None else ""
        self.track.setText("drag on the board; Esc: leave it" if draws == "track" else _TRACK)
        self.area.setText("drag round the tracks; Esc: leave it" if draws == "area" else _AREA)

    def show(self, tracks: Any) -> None:
        """Show the tracks that were drawn by hand."""
        clear(self.drawn)
        for number, one in enumerate(tracks, 1):
            words = f"remove “{one.net}”, {one.side}, {one.width_mm:g} mm"
            self.drawn.addWidget(link(words, partial(self._edit, "remove-track", number=number)))
