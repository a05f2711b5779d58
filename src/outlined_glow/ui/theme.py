"""Both themes from one table of tokens, the style sheet made from it, and the shipped font."""

from __future__ import annotations

from collections import deque
from functools import cache
from string import Template
from typing import NamedTuple

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication, QWidget
from PyQt6.sip import isdeleted

from .assets import asset

FAMILY = "Source Sans 3"


class Theme(NamedTuple):
    """Colour tokens as hex strings."""

    name: str
    window: str
    bench: str
    drawer: str
    card: str
    sunken: str
    line: str
    text: str
    quiet: str
    lamp: str
    sea: str
    warn: str
    honey: str
    note: str
    ring: str

    def colour(self, token: str, alpha: float = 1.0) -> QColor:
        """A token as a colour, see-through if asked. The same object each time: not to be changed."""
        key = (self.name, token, alpha)
        found = _colours.get(key)
        if found is None:
            found = QColor("#" + getattr(self, token))
            found.setAlphaF(alpha)
            _colours[key] = found
        return found


DUSK = Theme(
    "dusk", "221E28", "17141B", "2B2632", "332D3B", "1E1A24", "403848", "EFE9E1", "A79FAE", "F2B24A", "7FD1BE", "FF7F66",
    "FFD98A", "C9C2EE", "8FEBD8",
)  # fmt: skip
PAPER = Theme(
    "paper", "F4EFE6", "F9F5ED", "EFE8DC", "FFFBF3", "EBE3D6", "D8CDBC", "2A2430", "665E6E", "8A4F00", "17665A", "A93420",
    "7A5A00", "574C9E", "0E6B5B",
)  # fmt: skip
THEMES = {"dusk": DUSK, "paper": PAPER}

_current = DUSK
_colours: dict[tuple[str, str, float], QColor] = {}
_to_follow: deque[_Follower] = deque()


def theme() -> Theme:
    """The theme in use."""
    return _current


#: Below this place of the sun the bench is a dark room in either theme.
DARK_BELOW = 0.55
_room_is_dark = False


def darken_room(sun: float) -> bool:
    """Tell the theme where the sun stands; True when that turned the bench dark or light."""
    global _room_is_dark
    before, _room_is_dark = _room_is_dark, sun < DARK_BELOW
    return before != _room_is_dark


def on_bench() -> Theme:
    """The tokens to draw over the bench with: at night the paper bench is dark too."""
    return DUSK if _room_is_dark else _current


def load_fonts() -> None:
    """Register the shipped font; the window uses no other."""
    for style in ("Regular", "Semibold", "Bold"):
        QFontDatabase.addApplicationFontFromData(asset("fonts", f"SourceSans3-{style}.ttf"))


@cache
def font(pixels: int = 14, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """The shipped font at a size in pixels."""
    one = QFont(FAMILY)
    one.setPixelSize(pixels)
    one.setWeight(weight)
    one.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    return one


SEMIBOLD = QFont.Weight.DemiBold


def theme_for(app: QApplication, look: str) -> str:
    """The theme of a look: a theme's own name, or what the desktop asks for (dusk where it does not say)."""
    if look in THEMES:
        return look
    hints = app.styleHints()
    return "paper" if hints is not None and hints.colorScheme() == Qt.ColorScheme.Light else "dusk"


def use_theme(app: QApplication, name: str) -> None:
    """Switch the window to a theme; parts out of view follow when they are shown."""
    global _current
    _current = THEMES[name]
    app.setFont(font())
    app.setPalette(_palette(_current))
    theme_signal.changed.emit(name)


def keep_in_theme(part: QWidget, at_once: bool = False) -> None:
    """Give a part of the window, and what is in it, the style sheet of the theme in use, and of each one after it.

    A part out of view gets it when it is shown, unless it should `at_once`. One sheet for the whole application would be
    laid anew over every widget there is, seen or not: seconds. Parts in view follow one after the other, each in a turn
    of the event loop of its own: together they would keep the window from answering for as long as a person notices.
    """
    _Follower(part, at_once)


class ThemeSignal(QObject):
    """Tells what draws itself, or keeps a picture of itself, that the theme is another one."""

    changed = pyqtSignal(str)


theme_signal = ThemeSignal()


def _follow_next() -> None:
    """The next part in the row takes the theme in use."""
    _to_follow[0].follow_if_alive()
    _to_follow.popleft()
    if _to_follow:
        QTimer.singleShot(0, _follow_next)


class _Follower(QObject):
    """Keeps one part in the theme."""

    def __init__(self, part: QWidget, at_once: bool) -> None:
        super().__init__(part)
        self._part, self._at_once, self._name = part, at_once, ""
        part.installEventFilter(self)
        theme_signal.changed.connect(self._changed)
        self._follow()

    def _changed(self) -> None:
        if self._part.isVisible() or self._at_once:
            _to_follow.append(self)
            if len(_to_follow) == 1:
                QTimer.singleShot(0, _follow_next)

    def follow_if_alive(self) -> None:
        """Take the theme in use, unless the part was deleted meanwhile."""
        if not isdeleted(self):
            self._follow()

    def _follow(self) -> None:
        if self._name != _current.name:
            self._name = _current.name
            self._part.setStyleSheet(_sheet(_current))

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.Show:
            self._follow()
        return False


def _palette(t: Theme) -> QPalette:
    """The tokens as Qt's own roles, for what the style sheet does not name (file dialogs, lists)."""
    roles = {
        QPalette.ColorRole.Window: "window",
        QPalette.ColorRole.WindowText: "text",
        QPalette.ColorRole.Base: "sunken",
        QPalette.ColorRole.AlternateBase: "card",
        QPalette.ColorRole.Text: "text",
        QPalette.ColorRole.PlaceholderText: "quiet",
        QPalette.ColorRole.Button: "card",
        QPalette.ColorRole.ButtonText: "text",
        QPalette.ColorRole.BrightText: "warn",
        QPalette.ColorRole.Link: "sea",
        QPalette.ColorRole.Highlight: "lamp",
        QPalette.ColorRole.HighlightedText: "window",
        QPalette.ColorRole.ToolTipBase: "card",
        QPalette.ColorRole.ToolTipText: "text",
    }
    palette = QPalette()
    for role, token in roles.items():
        palette.setColor(role, t.colour(token))
    return palette


@cache
def _sheet(t: Theme) -> str:
    edge = "transparent" if t.name == "dusk" else "#" + t.line
    tokens = {token: f"#{getattr(t, token)}" for token in t._fields}
    return Template(asset("window.qss").decode()).substitute(tokens, edge=edge)
