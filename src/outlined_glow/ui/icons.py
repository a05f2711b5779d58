"""Shipped stroke icons in any colour of the theme."""

from __future__ import annotations

from PyQt6.QtCore import QByteArray, QRectF, Qt
from PyQt6.QtGui import QIcon, QPainter, QPixmap
from PyQt6.QtSvg import QSvgRenderer

from .assets import asset
from .theme import on_bench, theme


def pixmap(name: str, token: str = "text", size: int = 18, scale: float = 2.0, bench: bool = False) -> QPixmap:
    """An icon as a pixmap of `size` logical pixels; painted once for each colour and size."""
    key = (name, str(getattr(on_bench() if bench else theme(), token)), size, scale)
    if key not in _painted:
        _painted[key] = _paint(*key)
    return _painted[key]


_painted: dict[tuple[str, str, int, float], QPixmap] = {}


def _paint(name: str, colour: str, size: int, scale: float) -> QPixmap:
    text = asset("icons", f"{name}.svg").decode().replace("currentColor", "#" + colour)
    renderer = QSvgRenderer(QByteArray(text.encode()))
    picture = QPixmap(round(size * scale), round(size * scale))
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    renderer.render(painter, QRectF(picture.rect()))
    painter.end()
    picture.setDevicePixelRatio(scale)
    return picture


def icon(name: str, token: str = "text", size: int = 18, bench: bool = False) -> QIcon:
    """An icon for a button; greyed when the button is off."""
    one = QIcon(pixmap(name, token, size, bench=bench))
    one.addPixmap(pixmap(name, "line", size, bench=bench), QIcon.Mode.Disabled)
    return one


def app_icon() -> QIcon:
    """The program's own, for the window where no desktop entry is installed."""
    picture = QPixmap(128, 128)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    QSvgRenderer(QByteArray(asset("icon.svg"))).render(painter)
    painter.end()
    return QIcon(picture)
