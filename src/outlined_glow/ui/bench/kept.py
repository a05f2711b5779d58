"""Pictures of what lies still while the board under it moves: drawn anew only when what they show changes."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Any

from PyQt6.QtCore import QEvent, QObject, QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPixmap
from PyQt6.QtWidgets import QStyle, QStyleOptionToolButton, QToolButton, QWidget

from ..theme import on_bench
from .plate import paint_plate

#: What makes a widget look otherwise, whatever it shows.
_STYLED = (QEvent.Type.StyleChange, QEvent.Type.PaletteChange, QEvent.Type.FontChange)
#: What happens to a widget without a change of how it looks.
_SEEN_BY_NOBODY = (QEvent.Type.MouseMove, QEvent.Type.HoverMove, QEvent.Type.ToolTip, QEvent.Type.Paint)

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

    def paint(self, widget: QWidget, shows: Hashable, draw: Callable[[QPainter], None]) -> None:
        """The whole of a widget from its picture."""
        picture = self.picture(QSizeF(widget.size()), widget.devicePixelRatioF(), shows, draw)
        QPainter(widget).drawPixmap(0, 0, picture)


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


class StillButton(QToolButton):
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
        """All that its style asks for; asked in each frame of a drag, for which what the style is given would take too long."""
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

    def paintEvent(self, event: QPaintEvent | None) -> None:
        self._kept.paint(self, self.looks(), self.draw)


class StillPanel(QWidget):
    """A panel over the bench that paints what stands on it, all in one picture. What stands there is not painted itself, not
    even asked to be: that alone would take a third of a frame. The panel is painted anew when something happens to it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._kept = Kept()
        self.stills: list[Any] = []
        self._looks: Hashable = None

    def stand(self, one: Any) -> None:
        """Have a child stand on the panel: a widget with `looks`, equal as long as `draw` would paint the same."""
        self.stills.append(one)
        one.setUpdatesEnabled(False)
        one.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() not in _SEEN_BY_NOBODY:
            self.show_anew()
        return super().eventFilter(watched, event)

    def show_anew(self) -> None:
        """What stands here may look otherwise now."""
        self._looks = None
        self.update()

    def ground(self) -> QRectF:
        """Where its plate lies."""
        return QRectF(self.rect())

    def _there(self) -> list[Any]:
        return [one for one in self.stills if not one.isHidden()]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._looks is None:
            self._looks = tuple((one.x(), one.y(), one.width(), one.looks()) for one in self._there())
        self._kept.paint(self, self._looks, self._draw)

    def _draw(self, painter: QPainter) -> None:
        paint_plate(painter, self.ground())
        for one in self._there():
            painter.save()
            painter.translate(one.x(), one.y())
            one.draw(painter)
            painter.restore()
