"""Pictures of what lies still while the board under it moves: drawn anew only when what they show changes."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QEvent, QObject, QPoint, QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPixmap
from PyQt6.QtWidgets import QStyle, QStyleOptionToolButton, QToolButton, QWidget

from ..theme import on_bench
from .plate import paint_plate

#: What makes a widget look otherwise, whatever it shows.
_STYLED = (QEvent.Type.StyleChange, QEvent.Type.PaletteChange, QEvent.Type.FontChange)
#: What happens to a widget without a change of how it looks.
_SEEN_BY_NOBODY = (QEvent.Type.MouseMove, QEvent.Type.HoverMove, QEvent.Type.ToolTip, QEvent.Type.Paint)
#: What moves a widget, or shows and hides it.
_ELSEWHERE = (QEvent.Type.Move, QEvent.Type.Resize, QEvent.Type.Show, QEvent.Type.Hide)

_CLEAR = QColor(Qt.GlobalColor.transparent)


class Kept:
    """One picture and what it shows. To set text, curves and styles anew in each frame takes most of the frame's time."""

    def __init__(self) -> None:
        self._picture = QPixmap()
        self._key: Hashable = None

    def picture(
        self, size: QSizeF, scale: float, shows: Hashable, draw: Callable[[QPainter], None], ground: QColor = _CLEAR
    ) -> QPixmap:
        """The picture, so large in pixels of the widget; `draw` makes it of what it `shows`."""
        key = (shows, size.width(), size.height(), scale, on_bench().name)
        if key != self._key:
            self._picture = blank(size, scale, ground)
            painter = QPainter(self._picture)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            draw(painter)
            painter.end()
            self._key = key
        return self._picture

    def of(self, widget: QWidget, shows: Hashable, draw: Callable[[QPainter], None]) -> QPixmap:
        """The picture of the whole of a widget."""
        return self.picture(QSizeF(widget.size()), widget.devicePixelRatioF(), shows, draw)


def blank(size: QSizeF, scale: float, ground: QColor = _CLEAR) -> QPixmap:
    """A picture of so many pixels of the widget, see-through or of one colour: such a one is laid down in half the time."""
    picture = QPixmap(max(1, round(size.width() * scale)), max(1, round(size.height() * scale)))
    picture.setDevicePixelRatio(scale)
    picture.fill(ground)
    return picture


def stamp(painter: QPainter, picture: QPixmap, scale: float, spots: list[QPointF]) -> None:
    """The same picture about many places; fragments are counted in the pixels of the picture."""
    whole = QRectF(picture.rect())
    make = QPainter.PixmapFragment.create
    fragments = [make(spot, whole, 1 / scale, 1 / scale) for spot in spots]
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawPixmapFragments(fragments, picture)  # type: ignore[arg-type]  # it takes any sequence
    painter.restore()


class Carried:
    """What lies over the bench and is painted by it, from a picture of itself, once it is `carried`. Qt asks every widget over
    another that is painted to paint itself too: in the frames of a drag that alone would take a third of the time."""

    carrier: Carrier | None = None

    def update(self, *area: Any) -> None:
        """It looks otherwise now."""
        if self.carrier is None:
            super().update(*area)  # type: ignore[misc]  # of the widget that this is part of
        else:
            self.carrier.update_under(self)

    if TYPE_CHECKING:

        def picture(self) -> QPixmap:
            """As it looks."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        QPainter(self).drawPixmap(0, 0, self.picture())  # type: ignore[call-overload]  # a widget is a device


class Carrier(QWidget):
    """Paints what it carries, as the last of all."""

    def __init__(self) -> None:
        super().__init__()
        self._carried: list[Any] = []
        #: Where each of what is carried and seen lies, with its picture; None once something is other.
        self._laid: list[tuple[QPoint, QPixmap]] | None = None
        self._laid_in: tuple[float, str] = (0.0, "")

    def carry(self, one: Any) -> None:
        """Paint a sibling that lies over this from now on."""
        self._carried.append(one)
        one.carrier = self
        one.setUpdatesEnabled(False)
        one.installEventFilter(self)

    def update_under(self, one: Any) -> None:
        """What is carried looks otherwise: the piece under it is painted anew."""
        self._laid = None
        QWidget.update(self, one.geometry().translated(-self.pos()))

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() not in _SEEN_BY_NOBODY and watched in self._carried:
            self.update_under(watched)
            if event.type() in _ELSEWHERE:
                QWidget.update(self)
        return super().eventFilter(watched, event)

    def paint_carried(self, painter: QPainter) -> None:
        """What is carried and seen."""
        seen_in = (painter.device().devicePixelRatio(), on_bench().name)  # type: ignore[union-attr]
        if self._laid is None or seen_in != self._laid_in:
            seen = (one for one in self._carried if not one.isHidden())
            self._laid, self._laid_in = [(one.pos() - self.pos(), one.picture()) for one in seen], seen_in
        for at, picture in self._laid:
            painter.drawPixmap(at, picture)


class StillButton(Carried, QToolButton):
    """A button over the bench: its style is asked only when the button looks otherwise than before."""

    def __init__(self) -> None:
        super().__init__()
        self._kept = Kept()
        self._styled = 0  # how often its style has changed

    def changeEvent(self, event: QEvent | None) -> None:
        if event is not None and event.type() in _STYLED:
            self._styled += 1
        super().changeEvent(event)

    def looks(self) -> Hashable:
        """All that its style asks for: what the style itself is given takes far longer to put together."""
        window = self.window()
        active = window is not None and window.isActiveWindow()
        state = self.isEnabled(), self.isDown(), self.isChecked(), self.underMouse(), self.hasFocus(), active
        return self.text(), self.icon().cacheKey(), state, self._styled

    def draw(self, painter: QPainter) -> None:
        """Paint it in its style."""
        option = QStyleOptionToolButton()
        self.initStyleOption(option)
        style = self.style()
        assert style is not None
        style.drawComplexControl(QStyle.ComplexControl.CC_ToolButton, option, painter, self)

    def picture(self) -> QPixmap:
        return self._kept.of(self, self.looks(), self.draw)


class StillPanel(Carried, QWidget):
    """A panel over the bench that paints what stands on it, all in one picture. What stands there is not painted itself, not
    even asked to be: that alone would take a third of a frame. The panel is painted anew when something happens to it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._kept = Kept()
        self.stills: list[Any] = []

    def stand(self, one: Any) -> None:
        """Have a child stand on the panel: a widget with `looks`, equal as long as `draw` would paint the same."""
        self.stills.append(one)
        one.setUpdatesEnabled(False)
        one.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() not in _SEEN_BY_NOBODY:
            self.update()
        return super().eventFilter(watched, event)

    def ground(self) -> QRectF:
        """Where its plate lies."""
        return QRectF(self.rect())

    def _there(self) -> list[Any]:
        return [one for one in self.stills if not one.isHidden()]

    def picture(self) -> QPixmap:
        looks = tuple((one.x(), one.y(), one.width(), one.looks()) for one in self._there())
        return self._kept.of(self, looks, self._draw)

    def _draw(self, painter: QPainter) -> None:
        paint_plate(painter, self.ground())
        for one in self._there():
            painter.save()
            painter.translate(one.x(), one.y())
            one.draw(painter)
            painter.restore()
