"""Both themes from one table of tokens, the style sheet made from it, and the shipped font."""

from __future__ import annotations

from functools import cache
from string import Template
from typing import NamedTuple

from PyQt6.QtCore import QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication, QWidget
from PyQt6.sip import isdeleted

from .assets import asset
from .window_first import window_first

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
#: Parts that wait for their turn to take the theme, and how long one out of view does.
_to_follow: list[_Follower] = []
_REST_MS = 15


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


def keep_in_theme(part: QWidget) -> None:
    """Give a part of the window, and what is in it, the style sheet of the theme in use, and of each one after it.

    One sheet for the whole application would be laid anew over every widget there is: seconds. So parts follow one after
    the other, those in view first, each in a turn of the event loop of its own: the window answers in between. Those that
    are shown before their turn came are the next.
    """
    _Follower(part)


class ThemeSignal(QObject):
    """Tells what draws itself, or keeps a picture of itself, that the theme is another one."""

    changed = pyqtSignal(str)


theme_signal = ThemeSignal()


def _follow_next() -> None:
    """The next part in the row takes the theme in use: one in view, if there is one."""
    _to_follow[:] = [one for one in _to_follow if not isdeleted(one)]
    if _to_follow:
        _to_follow.sort(key=_Follower.is_hidden)
        _to_follow.pop(0).follow()
    if _to_follow:
        QTimer.singleShot(_REST_MS if _to_follow[0].is_hidden() else 0, _follow_next)


class _Follower(QObject):
    """Keeps one part in the theme."""

    def __init__(self, part: QWidget) -> None:
        super().__init__(part)
        self._part, self._name = part, ""
        theme_signal.changed.connect(self._changed)
        self.follow()

    def is_hidden(self) -> bool:
        """Whether nobody sees the part now."""
        return not self._part.isVisible()

    def follow(self) -> None:
        """Take the theme in use, if it has another."""
        if self._name != _current.name:
            self._name = _current.name
            window_first()
            self._part.setStyleSheet(_sheet(_current))

    def _changed(self) -> None:
        _to_follow.append(self)
        if len(_to_follow) == 1:
            QTimer.singleShot(0, _follow_next)


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
