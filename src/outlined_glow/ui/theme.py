"""Both themes from one table of tokens, the style sheet made from it, and the shipped font."""

from __future__ import annotations

from functools import cache
from typing import NamedTuple

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication, QWidget

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
    laid anew over every widget there is, seen or not: seconds.
    """
    _Follower(part, at_once)


class ThemeSignal(QObject):
    """Tells what draws itself, or keeps a picture of itself, that the theme is another one."""

    changed = pyqtSignal(str)


theme_signal = ThemeSignal()


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
    return f"""
    QAbstractItemView, QPushButton, QToolButton, QCheckBox, QRadioButton, QTabBar {{ outline: none; }}
    QDialog, QMessageBox {{ background: #{t.window}; }}
    QToolTip {{ background: #{t.card}; color: #{t.text}; border: 1px solid #{t.line}; padding: 4px 6px; }}
    #drawer, #drawerInner {{ background: #{t.drawer}; border: none; }}
    #drawerFrame {{ background: #{t.drawer}; border: none; border-left: 1px solid #{t.line}; }}
    #card {{ background: #{t.card}; border: 1px solid {edge}; border-radius: 10px; }}
    #card QLabel, #card QWidget {{ background: transparent; }}
    #stageTitle {{ font-size: 21px; font-weight: 700; }}
    #cardTitle {{ font-size: 14px; font-weight: 600; }}
    #quiet {{ color: #{t.quiet}; font-size: 13px; }}
    #warn {{ color: #{t.warn}; font-size: 13px; }}
    #honey {{ color: #{t.honey}; font-size: 13px; }}
    #sea {{ color: #{t.sea}; font-size: 13px; }}
    #card QLineEdit, #card QComboBox, #boards, #field {{
        background: #{t.sunken}; border: 1px solid #{t.sunken}; border-radius: 5px; padding: 2px 8px; min-height: 20px;
        selection-background-color: #{t.lamp}; selection-color: #{t.window}; }}
    #card QLineEdit:focus, #card QComboBox:focus, #boards:focus {{ border: 1px solid #{t.ring}; }}
    #card QComboBox[held="true"] {{ color: #{t.honey}; }}
    #card QLineEdit[wrong="true"] {{ border: 1px solid #{t.warn}; }}
    #card QComboBox::drop-down, #boards::drop-down {{ border: none; width: 18px; }}
    #card QComboBox::down-arrow, #boards::down-arrow {{ image: none; }}
    QComboBox QAbstractItemView {{ background: #{t.card}; border: 1px solid #{t.line}; padding: 3px;
        selection-background-color: #{t.sunken}; selection-color: #{t.lamp}; }}
    QDialog QLineEdit, QDialog QComboBox {{ background: #{t.sunken}; border: 1px solid #{t.line}; border-radius: 5px;
        padding: 3px 8px; min-height: 22px; }}
    QDialog QLineEdit:focus {{ border: 1px solid #{t.ring}; }}
    QDialog QListView, QDialog QTreeView {{ background: #{t.sunken}; border: 1px solid #{t.line}; border-radius: 5px; }}
    QListWidget#steps {{ background: transparent; border: none; }}
    QListWidget#steps::item {{ padding: 2px 8px; border-radius: 5px; border: 1px solid transparent; }}
    QListWidget#steps::item:selected {{ background: #{t.sunken}; color: #{t.lamp}; border: 1px solid #{t.lamp}; }}
    QListWidget#steps::item:hover {{ background: #{t.sunken}; }}
    QPlainTextEdit#report {{ background: #{t.sunken}; border: 1px solid #{t.line}; border-radius: 5px; }}
    QPlainTextEdit#report:focus {{ border: 1px solid #{t.ring}; }}
    QHeaderView::section {{ background: #{t.card}; color: #{t.quiet}; border: none; padding: 4px 8px; }}
    QMenu {{ background: #{t.card}; border: 1px solid #{t.line}; padding: 5px; }}
    QMenu::item {{ padding: 5px 26px 5px 14px; border-radius: 4px; }}
    QMenu::item:selected {{ background: #{t.sunken}; color: #{t.lamp}; }}
    QMenu::item:disabled {{ color: #{t.quiet}; }}
    QMenu::separator {{ height: 1px; background: #{t.line}; margin: 4px 8px; }}
    QPushButton {{ background: transparent; border: 1px solid #{t.lamp}; border-radius: 19px; color: #{t.lamp};
        padding: 0 18px; min-height: 36px; font-weight: 600; }}
    QPushButton:hover {{ background: #{t.sunken}; }}
    QPushButton:focus {{ border: 2px solid #{t.ring}; }}
    QPushButton:disabled {{ border-color: #{t.line}; color: #{t.quiet}; }}
    QPushButton#filled {{ background: #{t.lamp}; color: #{t.window}; }}
    QPushButton#filled:focus {{ border: 2px solid #{t.ring}; }}
    QPushButton#filled:disabled {{ background: #{t.line}; color: #{t.quiet}; }}
    QPushButton#link {{ border: none; padding: 0; min-height: 18px; color: #{t.sea}; font-weight: 400; text-align: left; }}
    QPushButton#link:hover {{ text-decoration: underline; background: transparent; }}
    QPushButton#link:focus {{ text-decoration: underline; }}
    QPushButton#why {{ border: none; padding: 0; min-height: 18px; color: #{t.lamp}; font-weight: 400; }}
    QPushButton#why:hover, QPushButton#why:focus {{ text-decoration: underline; background: transparent; }}
    QPushButton#row {{ border: 1px solid transparent; border-radius: 6px; text-align: left; padding: 0 8px; min-height: 26px;
        color: #{t.text}; font-weight: 400; }}
    QPushButton#row:checked {{ border: 1px solid #{t.lamp}; background: #{t.sunken}; }}
    QPushButton#row:hover {{ background: #{t.sunken}; }}
    QPushButton#row:focus {{ border: 1px solid #{t.ring}; }}
    QToolButton {{ background: transparent; border: 1px solid transparent; border-radius: 6px; padding: 4px; }}
    QToolButton:hover {{ background: rgba(128, 128, 128, 0.25); }}
    QToolButton::menu-indicator {{ image: none; }}
    QToolButton:focus {{ border: 1px solid #{t.ring}; }}
    QToolButton:checked {{ background: #{t.card}; border: 1px solid #{t.lamp}; }}
    QToolButton#turn {{ background: #{t.window}; border: 1px solid #{t.line}; border-radius: 14px; padding: 0 14px;
        min-height: 28px; max-height: 28px; }}
    QToolButton#turn:focus {{ border: 1px solid #{t.ring}; }}
    QCheckBox {{ spacing: 8px; }}
    QCheckBox:focus {{ color: #{t.ring}; }}
    QScrollBar:vertical {{ background: transparent; width: 8px; margin: 2px; }}
    QScrollBar::handle:vertical {{ background: #{t.line}; border-radius: 3px; min-height: 30px; }}
    QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page {{ background: none; height: 0; }}
    QProgressBar {{ background: #{t.sunken}; border: none; border-radius: 4px; max-height: 8px; }}
    QProgressBar::chunk {{ background: #{t.lamp}; border-radius: 4px; }}
    """
