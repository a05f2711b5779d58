"""Cards of the lights: LEDs in hand, the order of the chain, and how evenly the LEDs light what stands before them."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PyQt6.QtGui import QColor, QPixmap
from PyQt6.QtWidgets import QLabel, QWidget

from ...core.units import show
from ..bench.renderer import image
from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice, QuantityField, Switch
from ..session import Session
from ..theme import theme
from ..widgets import Card, label, link

if TYPE_CHECKING:
    from ..files import Files

_MAP_PX, _PNG = (276, 190), "PNG (*.png)"


class HandCard:
    """LEDs that were picked on the bench, to be given something of their own."""

    def __init__(self, card: Card, edit: Callable[..., Any]) -> None:
        self.card, self._edit = card, edit
        self.words = label("", "quiet", wrap=True)
        card.add(self.words)
        self.emitter = EmitterChoice(card, lambda name: self._each("retype", emitter=name))
        self.turn = link("Turn by 90°", self._turn)
        self.skip = link("Leave out", lambda: self._each("skip"))
        self.plain = link("As the array has it", lambda: self._each("as-array"))
        for one in (self.turn, self.skip, self.plain):
            card.add(one)
        self._picked: dict[str, tuple[int, ...]] = {}
        self._work: Any = None

    def show(self, work: Any, picked: frozenset[tuple[str, int]]) -> None:
        """Show what is in hand of a board."""
        here = [led for led in work.leds if (led.array, led.place) in picked] if work is not None else []
        self._work = work
        self._picked = {}
        for led in here:
            self._picked[led.array] = (*self._picked.get(led.array, ()), led.place)
        self.card.setVisible(bool(here))
        if not here:
            return
        numbers = ", ".join(str(led.index) for led in here[:12]) + (", …" if len(here) > 12 else "")
        self.card.title.set_full("LED in hand" if len(here) == 1 else f"{len(here)} LEDs in hand")
        self.words.setText(f"Number {numbers}. They keep their numbers, whatever they are given.")
        self.emitter.show_emitter(here[0].kind, work.values["library"])
        own = [core("light_facts").change_of(work, led.array, led.place) for led in here]
        self.plain.setVisible(any(core("light_facts").has_its_own(one) for one in own))

    def _each(self, name: str, **values: Any) -> None:
        for array, places in self._picked.items():
            self._edit(name, array=array, place=places, **values)

    def _turn(self) -> None:
        for array, places in self._picked.items():
            for place in places:
                turned = core("light_facts").change_of(self._work, array, place).turn_deg + 90
                self._edit("nudge", array=array, place=(place,), turn_deg=turned % 360)


class EmitterChoice:
    """What an LED is: a package and a colour, or a part of the project's own, which is of one colour."""

    def __init__(self, card: Card, chosen: Callable[[str], object]) -> None:
        self.package, self.colour = Choice([]), Choice([])
        self._colour_row = QWidget()
        for choice, title in ((self.package, "part"), (self.colour, "colour")):
            choice.chosen.connect(lambda _: chosen(self.name))
            self._colour_row = card.row(title, choice)
        self._known: Any = None

    @property
    def name(self) -> str:
        """The emitter that is chosen."""
        package = str(self.package.currentData())
        name = package if package in self._known.emitters else f"{package} {self.colour.currentData()}"
        # A display does not come in every colour.
        return name if name in self._known.emitters else self._of(package)[0].name

    def _of(self, package: str) -> list[Any]:
        return [one for one in self._known.emitters.values() if one.package == package]

    def show_emitter(self, one: Any, known: Any) -> None:
        """Show an emitter of a library."""
        if known is not self._known:
            self._known = known
            self.package.fill([(name, name) for name in dict.fromkeys(other.package for other in known.emitters.values())])
        self.package.show_key(one.package)
        self._colour_row.setVisible(bool(one.colour))
        if one.colour:
            self.colour.fill([(other.colour, other.colour) for other in self._of(one.package)])
            self.colour.show_key(one.colour)


class ChainCard:
    """In which order the LEDs are chained, and how long the way is."""

    def __init__(self, card: Card, edit: Callable[..., Any]) -> None:
        self.card, self._edit = card, edit
        self.rows = KeyRows(card, "order", self._set)
        self.rows.add("how", "turned")
        self.shown = Switch("shown on the board")
        card.row("shown on the board", self.shown)
        self.paint = Switch("paint it: Ctrl and drag")
        self._paint_row = card.row("paint it: Ctrl and drag", self.paint)
        self.ends = card.figure("first and last LED")
        self.length = card.figure("length, LED to LED")
        self._chain: Any = None
        self._leds: tuple[int, ...] = ()

    def _set(self, key: str, value: Any) -> None:
        if self._chain is None:  # no board was shown yet
            return
        values = {"how": self._chain.how, "turned": self._chain.turned, key: value}
        hand = {"leds": self._leds} if values["how"] == "hand" else {}
        self._edit("order", **values, **hand)

    def painted(self, leds: tuple[int, ...]) -> None:
        """LEDs were painted over, in this order: they come first, the others keep theirs behind them."""
        if leds and self._chain is not None:
            self._edit("order", how="hand", leds=(*leds, *(one for one in self._leds if one not in leds)))

    def show_work(self, work: Any) -> None:
        """Show the chain of a board."""
        self._chain, self._leds = work.design.chain, work.values["chain"]
        self.card.setVisible(len(self._leds) > 1)
        self.rows.show_of(self._chain)
        by_hand = self._chain.how == "hand"
        self.rows["turned"].setEnabled(not by_hand)
        self._paint_row.setVisible(by_hand)
        if not by_hand and self.paint.isChecked():
            self.paint.setChecked(False)
            self.paint.switched.emit(False)
        if self._leds:
            self.ends.setText(f"{self._leds[0]} and {self._leds[-1]}")
            self.length.setText(f"{show(core('lights').chain_length_mm(work.leds, self._leds), 1)} mm")


class EvennessCard:
    """The light on a plane before the board, such as a diffuser: figures, and a small map."""

    def __init__(self, card: Card, session: Session) -> None:
        self.card, self._session = card, session
        self.distance = QuantityField("mm", "mm", low=0.1, high=1000)
        self.distance.show_value(8.0)
        self.distance.committed.connect(lambda _: self.look())
        card.row("distance from the LEDs", self.distance)
        self.over = Choice((("board", "the whole board"), ("lights", "where the LEDs are"), ("window", "the windows")))
        self.over.chosen.connect(lambda _: self.look())
        card.row("over", self.over)
        self.picture = QLabel()
        self.picture.setAccessibleName("map of the light: brighter where there is more; the ring is the darkest place")
        card.add(self.picture)
        self.even = card.figure("evenness, least / mean")
        self.lux = card.figure("least to most")
        self.reached = card.figure("evenness 0.7 from")
        self.words = label("", "quiet", wrap=True)
        card.add(self.words)
        self.save = link("Save the map…", self._save)
        card.add(self.save)
        self.files: Files | None = None
        self._made: Any = None
        self._work: Any = None

    def _save(self) -> None:
        if self.files is not None and self._made is not None:
            made = self._made
            self.files.write("Save the map", "light.png", _PNG, lambda: core("light_picture").draw_light_map(*made))

    def show_work(self, work: Any) -> None:
        """Another board: its light is not known yet."""
        self._work = work
        self.card.setVisible(bool(work.leds))

    def look(self) -> None:
        """Work the light out, behind the window."""
        work, over, plane = self._work, self.over.currentData(), self.distance.value
        if work is None or not work.leds:
            return
        background = QColor(theme().colour("card")).getRgb()[:3]

        def run(cancelled: Any) -> Any:
            maps, pictures = core("light_map"), core("light_picture")
            region = core("light_facts").lit_region(work, over)
            watch = core("watch").Watch(cancelled)
            one = maps.light_map(work.board, plane, region, watch=watch, places=20_000)
            reached = maps.plane_for(work.board, region, watch=watch)
            return work.board, one, reached, pictures.map_pixels(one, 2 * _MAP_PX[0], 2 * _MAP_PX[1], background)

        self._session.jobs.submit("light map", run, lambda made: self._show(*made), self._cannot)

    def _show(self, board: Any, one: Any, reached: float | None, pixels: Any) -> None:
        lux, self._made = core("light_picture").lux_words, (one, board)
        self.save.show()
        self.words.hide()
        self.picture.setPixmap(QPixmap.fromImage(image(pixels, 2.0)))
        self.picture.show()
        self.even.setText(f"{one.uniformity:.2f}")
        self.lux.setText(f"{lux(one.least)} to {lux(one.most)}")
        self.reached.setText("no distance" if reached is None else f"{show(reached, 1)} mm on")

    def _cannot(self, words: str) -> None:
        self.picture.hide()
        self.save.hide()
        for figure in (self.even, self.lux, self.reached):
            figure.setText("–")
        self.words.setText(words)
        self.words.show()
