"""project -> board: the passes of one board after another, remembered by what they read."""

from __future__ import annotations

import threading
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any, NamedTuple

import msgspec
import shapely

from ..board.layers import ArtLayers, PartLayers
from ..errors import Trouble
from ..geometry.regions import EMPTY
from ..order.check import check
from ..parts.nets import Net
from ..passes import Memory, leading_to
from ..project import Design, Finding, Project
from ..project.finding import in_order
from ..watch import ALONE, Watch
from ..wiring.kept import copper_member, unpack
from ..wiring.made import Routed
from ..wiring.places import Places
from . import operations as _operations  # noqa: F401  (every operation is registered by loading it)
from .board_passes import PASSES, SIDES, clean_member, given_of
from .drive_passes import places_kept
from .kept import with_standing
from .mating_findings import mating_findings
from .on_demand import OnDemand
from .quick_passes import (
    AFTER_LEGEND,
    BEFORE_LEGEND,
    BEFORE_TRACKS,
    LAYERS,
    LEGEND,
    POURS,
    QUICK_LAYERS,
    QUICK_LAYERS_WITHOUT_POURS,
    ROUND_PADS,
    ROUTED,
    SEEN_LAYERS,
    TEXT_CLEANED,
    TO_TEXT,
    layers_seen_first,
    text_as_drawn,
)
from .work import Work

#: How many results of each pass are kept: so many steps back are shown at once, and so many boards.
_STEPS, _PER_BOARD = 8, 3
#: Fewer pins than this are joined before anybody looks.
_SOON_ROUTED = 30
#: The labels of fewer LEDs than this are arranged before anybody looks.
_SOON_LABELLED = 12
#: Under the pads of this many LEDs the copper of the art is cut after somebody looked.
_MANY_LEDS = 200
#: What leads to the clean-up, and art of fewer corners than this is cleaned up before anybody looks.
_BEFORE_CLEANING = leading_to(PASSES, [f"{side} mark" for side in SIDES])
_SOON_CLEANED = 1500


#: Where the pins of a net lie, mm, and on which side.
_Spots = frozenset[tuple[str, str, float, float, str]]


class _Made(NamedTuple):
    """The copper of a board, where the pins of each net lay when it was made, the legend of its back, its art and layers."""

    copper: Routed | None
    pins: Mapping[str, _Spots]
    legend: Any
    art: ArtLayers
    layers: PartLayers


def _pins_of(nets: Sequence[Net], places: Places | None) -> dict[str, _Spots]:
    """Where the pins of each net lie, none without what stands in the way of tracks."""
    spots: dict[tuple[str, str], list[tuple[str, str, float, float, str]]] = {}
    for part in places.parts if places is not None else ():
        for pad in part.pads():
            spots.setdefault((pad.ref, pad.pin), []).append((pad.ref, pad.pin, round(pad.x, 6), round(pad.y, 6), pad.side))
    return {net.name: frozenset(spot for pin in net.pins for spot in spots.get(pin, ())) for net in nets}


def _left_by_pins(was: Mapping[str, _Spots], now: Mapping[str, _Spots]) -> dict[str, list[tuple[float, float]]]:
    """The places that pins of a net have left, for the nets that hang on by most of their pins."""
    gone = {net: [(x, y) for _, _, x, y, _ in was[net] - spots] for net, spots in now.items() if net in was}
    return {net: spots for net, spots in gone.items() if 2 * len(spots) <= len(was[net])}


class Compiler:
    """Remembers what each pass made, so that an edit recomputes only what it touches, and a step back nothing.

    One compiler serves one window or one command. Boards are made in turn; findings have a memory and a turn of their own,
    so that no edit waits for them.
    """

    def __init__(self) -> None:
        self.memory, self.checked = Memory(_STEPS), Memory(_STEPS)
        self._making, self._checking = threading.Lock(), threading.Lock()
        #: What was made last for each board: what of its copper is right stays.
        self._made: dict[str, _Made] = {}

    def compile(self, project: Project, watch: Watch = ALONE, board: str | None = None) -> Work:
        """A board of the project, the first one unless named, and all that led to it. `Trouble` when it cannot be made."""
        design = project.board(board)
        with self._making:
            self.memory.kept = max(_STEPS, _PER_BOARD * len(project.designs))
            values = self.memory.run(PASSES, self._given(project, design), watch)
            self._keep(design.name, values)
        return Work(project, design, values)

    def on_demand(self, project: Project, board: str | None = None) -> Work:
        """A board, for who reads little of it: each thing is made when it is first asked for. `Trouble` when that cannot be."""
        design = project.board(board)
        return Work(project, design, OnDemand(self.memory, self._given(project, design), self._making))

    def _keep(self, name: str, values: Mapping[str, Any]) -> None:
        """Keep what was made of a board: its copper, or that of before where it is not to be wired now."""
        before = self._made.get(name)
        wired = values["wish"] is not None
        copper = with_standing(values) if wired else before.copper if before is not None else None
        pins = _pins_of(values["nets"], values["in the way"]) if wired else {}
        self._made[name] = _Made(copper, pins, values[LEGEND.name], values["flat here"], values["wired layers"])

    def go_on(self) -> None:
        """Tracks that somebody stopped are drawn on by the next who asks for the board."""
        self.memory.forget("routed")

    def forget_copper(self) -> None:
        """Another project comes: its boards may have the same names, and their tracks are those of its file."""
        self._made = {}

    def _given(self, project: Project, design: Design) -> dict[str, Any]:
        """What the passes of one board begin from, and what there was of it before: the parts of a wired board stay where they
        stood, unless all of its tracks are to be drawn in another way."""
        before = self._before(project, design)
        stood = before.stood if before is not None and before.wish == places_kept(design.wiring) else ()
        return {**given_of(project, design), "copper before": before, "stood before": stood}

    def _before(self, project: Project, design: Design) -> Routed | None:
        """The copper of a board of before: as it was made last, under the name it had, or as its file keeps it."""
        known = self._made.get(design.name)
        if known is not None and known.copper is not None:
            return known.copper
        data = project.members.get(copper_member(design.name), b"")
        kept = unpack(data) if data else None
        if kept is not None:
            return kept
        names = {one.name for one in project.designs}
        others = (made.copper for name, made in reversed(self._made.items()) if name not in names)
        return next((copper for copper in others if copper is not None), None)

    def seen_first(self, project: Project, watch: Watch = ALONE, board: str | None = None) -> Work | None:
        """A board without its clean-up, with those tracks alone that nothing moved away from and its legend as it was, to be
        seen while the rest is made; None where all of it is known already, or soon made."""
        design = project.board(board)
        with self._making:
            uncleaned = self._cleans_long(project, design, watch.part(0.0, 0.5))
        if uncleaned:
            plain = msgspec.structs.replace(design, artwork=msgspec.structs.replace(design.artwork, clean=None))
            project, design = project.with_board(design, plain), plain
        with self._making:
            seen = self._quickly(project, design, watch.part(0.5, 1.0))
        return seen or (self.compile(project, watch.part(0.5, 1.0), board) if uncleaned else None)

    def _cleans_long(self, project: Project, design: Design, watch: Watch) -> bool:
        """Whether the art of a board is to be cleaned up anew, and that takes long."""
        if design.artwork.clean is None:
            return False
        values = self.memory.run(_BEFORE_CLEANING, given_of(project, design), watch)
        new = [
            side
            for side in SIDES
            if (mark := values[f"{side} mark"])
            and clean_member(mark) not in project.members
            and not self.memory.knows(f"{side} cleaned", (mark,))
        ]
        return (
            sum(int(shapely.get_num_coordinates(list(values[f"{side} mended"].values())).sum()) for side in new)
            >= _SOON_CLEANED
        )

    def _quickly(self, project: Project, design: Design, watch: Watch) -> Work | None:
        """A board with what of its tracks is right still, its legend as it was, and new text as it is drawn; None where all is
        known, or soon made."""
        before = self._made.get(design.name)
        values, as_drawn = self._text_as_drawn(self._given(project, design), watch.part(0.0, 0.2))
        values = self.memory.run([one for one in BEFORE_TRACKS if one.name not in as_drawn], values, watch.part(0.2, 1.0))
        pins = _pins_of(values["nets"], values["in the way"])
        known = values["wish"] is None or self.memory.knows(ROUTED.name, tuple(values[name] for name in ROUTED.reads))
        if before is None:
            few = sum(map(len, pins.values())) < _SOON_ROUTED
            return None if known or few else self._without_tracks(project, design, values)
        if not known and before.copper is None:
            return None
        soon = before.copper is None or before.copper.stopped or sum(map(len, pins.values())) < _SOON_ROUTED
        if not known and soon and not as_drawn:
            return None
        if known and len(values["leds"]) < _SOON_LABELLED and not as_drawn:
            return None
        if known or before.copper is None:
            values = self.memory.run((ROUTED, *SEEN_LAYERS), values)
            if values["wish"] is None and self._many_moved(values, before):
                values["wired layers"] = layers_seen_first(values, before.layers)
                values = self.memory.run(BEFORE_LEGEND, values)
            else:
                values = self.memory.run((*LAYERS, *BEFORE_LEGEND), values)
                if not as_drawn and self.memory.knows(LEGEND.name, tuple(values[name] for name in LEGEND.reads)):
                    return None
        else:
            wires = before.copper.wires.left_by(_left_by_pins(before.pins, pins))
            values[ROUTED.name] = replace(before.copper, wires=wires)
            values = self.memory.run(SEEN_LAYERS, values)
            if values["flat here"] is before.art and not values["pour wishes"]:
                layers = layers_seen_first(values, before.layers)
            else:
                values = self.memory.run(QUICK_LAYERS, values)
                layers = values["quick layers"]
            values = self.memory.run(BEFORE_LEGEND, {**values, "wired layers": layers})
        return Work(project, design, self.memory.run(AFTER_LEGEND, {**values, LEGEND.name: before.legend}))

    def _without_tracks(self, project: Project, design: Design, values: dict[str, Any]) -> Work:
        """A board that was never made, without tracks, pours and the legend of its back."""
        values = self.memory.run(QUICK_LAYERS_WITHOUT_POURS, {**values, ROUTED.name: Routed(), POURS.name: ({}, ())})
        values = self.memory.run(BEFORE_LEGEND, {**values, "wired layers": values["quick layers"]})
        return Work(project, design, self.memory.run(AFTER_LEGEND, {**values, LEGEND.name: (EMPTY, {})}))

    def _many_moved(self, values: Mapping[str, Any], before: _Made) -> bool:
        """Whether on a board of many LEDs the copper of its art gives way to other pads."""
        moved = not self.memory.knows(ROUND_PADS.name, tuple(values[name] for name in ROUND_PADS.reads))
        return moved and values["flat here"] is before.art and len(values["leds"]) >= _MANY_LEDS

    def _text_as_drawn(self, given: Mapping[str, Any], watch: Watch) -> tuple[dict[str, Any], frozenset[str]]:
        """What is given, with the text of the sides where it is new as it is drawn, in the place of what its clean-up makes;
        and the names of those."""
        values = self.memory.run(TO_TEXT, given, watch)
        drawn = {
            one.name: text_as_drawn(side, values)
            for side, one in TEXT_CLEANED.items()
            if values[f"{side} cleaned"] is not None
            and any(words.side == side for words in values["words"])
            and not self.memory.knows(one.name, tuple(values[name] for name in one.reads))
        }
        return {**given, **drawn}, frozenset(drawn)

    def compile_all(self, project: Project, watch: Watch = ALONE) -> tuple[Work, ...]:
        """Every board of the project, in their order."""
        many, works = len(project.designs), []
        for at, design in enumerate(project.designs):
            try:
                works.append(self.compile(project, watch.part(at / many, (at + 1) / many), design.name))
            except Trouble as trouble:
                raise trouble if many == 1 else Trouble(f"Board “{design.name}”: {trouble}") from trouble
        return tuple(works)

    def findings(self, work: Work, watch: Watch = ALONE) -> tuple[Finding, ...]:
        """Every finding about one board, stops first."""
        with self._checking:
            self.checked.kept = self.memory.kept
            return check(work.project, work.design, work.values, self.checked, watch)

    def look_over(self, project: Project, watch: Watch = ALONE) -> tuple[Finding, ...]:
        """Every finding about all boards, stops first; a board that cannot be made is one of them."""
        many, found = len(project.designs), []
        works: list[Work] = []
        for at, design in enumerate(project.designs):
            part = watch.part(at / many, (at + 1) / many)
            try:
                works.append(self.compile(project, part, design.name))
                found.append(self.findings(works[-1], part))
            except Trouble as trouble:
                found.append(
                    (Finding(code="board-not-made", severity="stop", stage="shape", text=str(trouble), board=design.name),)
                )
        return _together(found, self._between(works))

    def all_findings(self, works: Sequence[Work], watch: Watch = ALONE) -> tuple[Finding, ...]:
        """Every finding about all boards, stops first."""
        many = len(works)
        parts = (watch.part(at / many, (at + 1) / many) for at in range(many))
        found = [self.findings(work, part) for part, work in zip(parts, works, strict=True)]
        return _together(found, self._between(works))

    def _between(self, works: Sequence[Work]) -> list[Finding]:
        """What is wrong between boards that plug onto one another."""
        plugs = any(work.design.drive.plugs for work in works)
        if not plugs or len(works) < len(works[0].project.designs):
            return []  # what is not made meets nothing
        return mating_findings(works)


def _together(found: Sequence[tuple[Finding, ...]], between: Sequence[Finding]) -> tuple[Finding, ...]:
    """The findings of all boards, stops first. What is said alike of every one of them is about the project."""
    if len(found) == 1:
        return in_order([*found[0], *between]) if between else found[0]
    counts = Counter(replace(one, board="") for some in found for one in some)
    shared = {one for one, count in counts.items() if count == len(found)}
    told = [one if replace(one, board="") not in shared else replace(one, board="") for some in found for one in some]
    told += between
    return in_order(list(dict.fromkeys(told)))
