"""What a moving eye sees: the board in slow motion, and the lines that it draws while it is swung."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QImage, QPixmap
from PyQt6.QtWidgets import QLabel, QVBoxLayout

from ..core_door import core
from ..fields import Choice, QuantityField
from ..session import Session
from ..widgets import clear, figure_row, link
from .base import Drawer, Window

_SLOWER = (("1", "at its own speed"), ("10", "10 times slower"), ("100", "100 times slower"), ("1000", "1000 times slower"))
_WIDE_PX, _TALL_PX, _LATER_MS = 244, 160, 250


class MovingEyeCard:
    """How fast and which way the board is swung, the picture that it draws, and what that takes."""

    def __init__(self, drawer: Drawer, session: Session) -> None:
        self._session = session
        self._window: Window | None = None
        self._work: Any = None
        self.card = drawer.add_card("To the moving eye", "as it is driven")
        self.slower = Choice(list(_SLOWER))
        self.slower.setToolTip("Slowly enough the turns of a scan and the pulses of dimmed light are seen one by one")
        self.slower.chosen.connect(self._play_slower)
        self.card.row("play it", self.slower)
        self.speed = QuantityField("m/s", "m/s", step=0.5, digits=2, low=0.01, high=30.0)
        self.angle = QuantityField("°", "°", step=15, digits=0, low=-360, high=360)
        self.speed.show_value(2.0)
        self.angle.show_value(0.0)
        #: While a hand moves the playhead nothing is drawn.
        self._later = QTimer(self.card)
        self._later.setSingleShot(True)
        self._later.setInterval(_LATER_MS)
        self._later.timeout.connect(self._look)
        for one in (self.speed, self.angle):
            one.committed.connect(lambda _: self._look())
        self.card.row("swung at", self.speed)
        self.card.row("toward", self.angle)
        self.picture = QLabel()
        self.picture.setAccessibleName("What the board draws while it is swung")
        self.picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.card.add(self.picture)
        self._figures = QVBoxLayout()
        self._figures.setSpacing(2)
        self.card.body.addLayout(self._figures)
        self.save = link("save the picture…", self._save)
        self.card.add(self.save)
        self._made: Any = None

    def attach(self, window: Window) -> None:
        """The window is there."""
        self._window = window
        window.area.score.scrubbed.connect(lambda _: self._later.start())

    def show_work(self, work: Any) -> None:
        """What has no LEDs draws nothing."""
        self.card.setVisible(bool(work.leds))

    def look(self, work: Any) -> None:
        """Draw it once the board is at rest."""
        self._work = work
        self._look()

    def _play_slower(self, times: str) -> None:
        if self._window is not None:
            self._window.area.play_slower(float(times))

    def _look(self) -> None:
        work = self._work
        if work is None or work is not self._session.work or not work.leds:
            return
        speed, angle = self.speed.value or 2.0, self.angle.value or 0.0
        moment = 0.0 if self._window is None else self._window.area.bench.time_s or 0.0

        def run(_cancelled: Callable[[], bool]) -> Any:
            return core("moving_eye").swing(work, speed, angle, 0.15, moment)

        self._session.jobs.submit("swing", run, self._show, self._session.trouble.emit)

    def _show(self, made: Any) -> None:
        if self._work is not self._session.work:
            return
        self._made = made
        high, wide, _ = made.picture.shape
        image = QImage(made.picture.tobytes(), wide, high, 3 * wide, QImage.Format.Format_RGB888)
        ratio = self.picture.devicePixelRatioF()
        shown = QPixmap.fromImage(image).scaled(
            round(_WIDE_PX * ratio), round(_TALL_PX * ratio), Qt.AspectRatioMode.KeepAspectRatio,
            Qt.TransformationMode.SmoothTransformation,
        )  # fmt: skip
        shown.setDevicePixelRatio(ratio)
        self.picture.setPixmap(shown)
        clear(self._figures)
        for name, words in core("swung").swung_rows(made):
            self._figures.addWidget(figure_row(name, words))

    def _save(self) -> None:
        made = self._made
        if made is not None and self._window is not None:
            run = lambda _path: core("moving_eye").swing_png(made)  # noqa: E731
            self._window.files.write("Save the picture", "swung.png", "Picture (*.png)", run)
