"""The table of everything one can do: menu, keys, tool buttons and the sheet of keys are made from it.

To add an action: a line here, in the group it belongs to. Its key must be free; a test says so.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Protocol

from ..core.stages import stages
from .actions import Entry
from .groups import BENCH, LIGHT, PLACES, STEPS, WINDOW, WORK

if TYPE_CHECKING:
    from .actions import Actions
    from .bench.area import BenchArea
    from .files import Files
    from .help.door import Help
    from .session import Session


class Window(Protocol):
    """What the actions need of a window."""

    files: Files
    session: Session
    help: Help
    actions_: Actions

    @property
    def area(self) -> BenchArea: ...
    def export(self) -> None: ...
    def noon_to_night(self) -> None: ...
    def show_stage(self, key: str) -> None: ...
    def close(self) -> bool: ...


def entries(window: Window) -> list[Entry]:
    """The actions of a window, in the order of the menu."""
    files, session = window.files, window.session

    def area(name: str) -> Callable[[], object]:
        """Something the bench area does; it is made when it is first needed."""
        return lambda: getattr(window.area, name)()

    def bench(name: str, *values: float) -> Callable[[], object]:
        return lambda: getattr(window.area.bench, name)(*values)

    return [
        Entry(WORK, "new", "New…", "Ctrl+N", files.close, "Close this project and start a new one", needs=True),
        Entry(WORK, "open", "Open…", "Ctrl+O", files.choose, "Open a project, or start from a picture"),
        Entry(WORK, "save", "Save", "Ctrl+S", files.save, "Save the project", needs=True),
        Entry(WORK, "save-as", "Save as…", "Ctrl+Shift+S", files.save_as, "Save under another name", needs=True),
        Entry(WORK, "export", "Export the package…", "Ctrl+E", window.export, "Write the files of the order", needs=True),
        Entry(WORK, "paste", "Paste a picture", "Ctrl+V", files.paste, "Add it to the board; with none open, start one"),
        Entry(WORK, "close", "Close the project", "Ctrl+W", files.close, "Close the project", needs=True),
        Entry(WORK, "stop", "Cancel", "Esc", session.stop, "Stop opening a file, or undo a change that takes too long"),
        Entry(STEPS, "undo", "Undo", "Ctrl+Z", session.undo, "Undo the last change", needs=True),
        Entry(STEPS, "redo", "Redo", "Ctrl+Shift+Z", session.redo, "Redo the change that was undone", needs=True),
        Entry(
            STEPS,
            "steps",
            "Steps",
            "Ctrl+H",
            area("toggle_steps"),
            "Every change of this project; go to any of them",
            needs=True,
        ),
        Entry(BENCH, "fit", "Fit the board", "F", bench("fit"), "The whole board in view", needs=True),
        Entry(BENCH, "nearer", "Nearer", "+", bench("zoom_by", 1.25), "Zoom in", needs=True),
        Entry(BENCH, "farther", "Farther", "-", bench("zoom_by", 0.8), "Zoom out", needs=True),
        Entry(BENCH, "turn", "Turn over", "T", bench("turn_over"), "See the other side", needs=True),
        Entry(LIGHT, "night", "Noon to night", "N", window.noon_to_night, "Noon, dusk, night, and round again"),
        Entry(LIGHT, "play", "Play or pause", "Space", area("toggle_play"), "Run the pattern", needs=True),
        Entry(LIGHT, "all-on", "All LEDs on", "Home", area("stop"), "Stop the pattern and light every LED", needs=True),
        *(
            Entry(PLACES, f"stage-{one.key}", one.title, str(one.number), partial(window.show_stage, one.key), one.tip, True)
            for one in stages()
        ),
        *_of_the_window(window),
    ]


def _of_the_window(window: Window) -> list[Entry]:
    """What stands over the window for a moment, and how it looks."""
    files, help_ = window.files, window.help
    return [
        Entry(WINDOW, "library", "Library…", "L", lambda: help_.show_library(files), "Every part, and parts of your own"),
        Entry(
            WINDOW, "connections", "Connection list…", "Ctrl+L", lambda: help_.show_connections(files),
            "Every part with its pins and nets", needs=True,
        ),
        Entry(WINDOW, "calculators", "Calculators…", "K", help_.show_calculators, "Every sum on its own, as calc has it"),
        Entry(WINDOW, "keys", "Keys", "F1", lambda: help_.show_keys(window.actions_.entries), "Every key there is"),
        Entry(WINDOW, "settings", "Settings…", "Ctrl+,", help_.show_settings, "Look, and what moves"),
        Entry(WINDOW, "theme", "Dusk or paper", "Ctrl+T", help_.switch_theme, "Switch between the dark and the light look"),
        Entry(WINDOW, "quit", "Quit", "Ctrl+Q", window.close, "Leave Outlined Glow"),
    ]  # fmt: skip
