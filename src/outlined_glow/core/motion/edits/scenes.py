"""The edits of scenes, buttons, and of what leads from one scene to another."""

from __future__ import annotations

from typing import Any

import msgspec

from ...errors import Trouble
from ...project import Button, Motion, Param, Project, Scene, SceneChange, edit
from ...text_safety import short

THEN = (("again", "begins again"), ("hold", "holds its last moment"), ("dark", "is dark"), ("off", "switches off"))
BY = (
    ("short", "a short press"),
    ("long", "a long press"),
    ("very long", "a very long press"),
    ("double", "a double press"),
    ("end", "its end"),
    ("time", "a time"),
    ("over", "a feed over a value"),
    ("under", "a feed under a value"),
)
CONTACT = (("closes", "closes its contact"), ("opens", "opens its contact"))
#: Those that are presses of a button.
PRESSED = ("short", "long", "very long", "double")
#: Any scene, or switched off.
ANY, OFF = "any", "off"


def _words(rows: tuple[tuple[str, str], ...]) -> tuple[str, ...]:
    return tuple(word for word, _ in rows)


@edit(
    "set-scene",
    "Scene {name}",
    name=Param("text", optional=False),
    start_s=Param("quantity", "s", 0, 7200, title="from", step=0.25),
    length_s=Param("quantity", "s", 0.02, 7200, title="plays for", step=0.25),
    then=Param("choice", choices=_words(THEN), titles=THEN, title="then it"),
    share=Param("quantity", "", 0, 1, title="share of the day", shown="%", step=5, digits=0),
    called=Param("text"),
)
def set_scene(project: Project, *, name: str, called: str | None = None, **told: Any) -> Project:
    """Make a scene of a part of the score, or change it; the first one plays after power-on. `called` gives it another name."""
    motion = project.motion
    scenes = {one.name: one for one in motion.scenes}
    new = {key: value for key, value in told.items() if value is not None}
    if name in (ANY, OFF) or called in (ANY, OFF):
        raise Trouble(f"A scene cannot be named “{name if name in (ANY, OFF) else called}”; that means something else.")
    if len(name) > 40 or (called is not None and (len(called) > 40 or (called in scenes and called != name))):
        raise Trouble(f"A scene is named by up to 40 letters, and no two alike, not “{short(called or name)}”.")
    usual = Scene(name=name, length_s=min(motion.seconds, 7200.0))
    scenes[name] = msgspec.structs.replace(scenes.get(name, usual), **new)
    if len(scenes) > 100:
        raise Trouble("There are 100 scenes at most; remove one.")
    shares = sum(one.share for one in scenes.values())
    if shares > 1 + 1e-9:
        raise Trouble(f"The scenes would be on for {100 * shares:.0f} % of the day; 100 % are possible.")
    made = msgspec.structs.replace(motion, scenes=tuple(scenes.values()))
    return _with(project, made if called is None else _called(made, name, called))


def _called(motion: Motion, name: str, called: str) -> Motion:
    scenes = tuple(msgspec.structs.replace(one, name=called) if one.name == name else one for one in motion.scenes)
    changes = tuple(
        msgspec.structs.replace(one, of=called if one.of == name else one.of, to=called if one.to == name else one.to)
        for one in motion.changes
    )
    score = tuple(msgspec.structs.replace(one, sign_of=called) if one.sign_of == name else one for one in motion.score)
    return msgspec.structs.replace(motion, scenes=scenes, changes=changes, score=score)


@edit("remove-scene", "No scene {name}", name=Param("text", optional=False))
def remove_scene(project: Project, *, name: str) -> Project:
    """Remove a scene, and what leads to and from it."""
    motion = project.motion
    kept = tuple(one for one in motion.scenes if one.name != name)
    if len(kept) == len(motion.scenes):
        raise _none("scene", name, [one.name for one in motion.scenes])
    changes = tuple(one for one in motion.changes if name not in (one.of, one.to))
    score = tuple(one for one in motion.score if one.sign_of != name)
    return _with(project, msgspec.structs.replace(motion, scenes=kept, changes=changes, score=score))


@edit(
    "add-button",
    "Button {name}",
    name=Param("text", optional=False),
    contact=Param("choice", choices=_words(CONTACT), titles=CONTACT, title="a press"),
    debounce_s=Param("quantity", "s", 0, 1, title="bounces for", shown="ms", step=5),
    long_s=Param("quantity", "s", 0.05, 20, title="long from", step=0.1),
    very_long_s=Param("quantity", "s", 0.1, 60, title="very long from", step=0.5),
    double_s=Param("quantity", "s", 0.05, 2, title="double within", step=0.05),
)
def add_button(project: Project, *, name: str, **told: Any) -> Project:
    """Add a button, or change its times and its contact."""
    buttons = {one.name: one for one in project.motion.buttons}
    new = {key: value for key, value in told.items() if value is not None}
    if len(name) > 40:
        raise Trouble(f"A button is named by up to 40 letters, not “{short(name)}”.")
    made = msgspec.structs.replace(buttons.get(name, Button(name=name)), **new)
    if not made.debounce_s < made.long_s < made.very_long_s:
        raise Trouble(
            f"A press of “{name}” would be long from {made.long_s:g} s and very long from {made.very_long_s:g} s;"
            f" long comes after the {made.debounce_s:g} s of bouncing, very long after long."
        )
    buttons[name] = made
    if len(buttons) > 50:
        raise Trouble("There are 50 buttons at most; remove one.")
    return _with(project, msgspec.structs.replace(project.motion, buttons=tuple(buttons.values())))


@edit("remove-button", "No button {name}", name=Param("text", optional=False))
def remove_button(project: Project, *, name: str) -> Project:
    """Remove a button, and what its presses do."""
    motion = project.motion
    kept = tuple(one for one in motion.buttons if one.name != name)
    if len(kept) == len(motion.buttons):
        raise _none("button", name, [one.name for one in motion.buttons])
    changes = tuple(one for one in motion.changes if one.button != name)
    return _with(project, msgspec.structs.replace(motion, buttons=kept, changes=changes))


@edit(
    "add-change",
    "From {of} to {to} by {by}",
    of=Param("text", title="from"),
    to=Param("text", title="to"),
    by=Param("choice", choices=_words(BY), titles=BY, title="by", optional=False),
    button=Param("text", title="button"),
    feed=Param("text", title="feed"),
    value=Param("quantity", "", -1e9, 1e9, title="value"),
)
def add_change(
    project: Project, *, by: str, of: str | None = None, to: str | None = None, button: str | None = None,
    feed: str | None = None, value: float | None = None,
) -> Project:  # fmt: skip
    """Lead from a scene (or any) to another one (or off): by a press of a button, its end, a time after it began (value, s), or
    a feed over or under a value."""
    motion = project.motion
    scenes, buttons = [one.name for one in motion.scenes], [one.name for one in motion.buttons]
    start, end = ("" if one in (None, ANY, OFF) else str(one) for one in (of, to))
    for name in (start, end):
        if name and name not in scenes:
            raise _none("scene", name, scenes)
    pressed = by in PRESSED
    if pressed and button is None and len(buttons) == 1:
        button = buttons[0]
    if pressed and button not in buttons:
        raise _none("button", button or "", buttons)
    feeds = [one.name for one in motion.feeds]
    if by in ("over", "under") and feed not in feeds:
        raise _none("feed", feed or "", feeds)
    if by == "time" and (value is None or value <= 0):
        raise Trouble("A change by time needs value=, the seconds after the scene began.")
    number = max((one.number for one in motion.changes), default=0) + 1
    made = SceneChange(
        number=number, of=start, to=end, by=by, button=str(button) if pressed else "",  # type: ignore[arg-type]
        feed=str(feed) if by in ("over", "under") else "", value=value or 0.0,
    )  # fmt: skip
    alike = next((one for one in motion.changes if msgspec.structs.replace(one, number=number, to=end) == made), None)
    if alike is not None:
        kept = tuple(made if one is alike else one for one in motion.changes)
        return _with(project, msgspec.structs.replace(motion, changes=kept))
    if len(motion.changes) >= 500:
        raise Trouble("There are 500 changes at most; remove one.")
    return _with(project, msgspec.structs.replace(motion, changes=(*motion.changes, made)))


@edit("remove-change", "No change {number}", number=Param("count", "", 1, 100_000, optional=False))
def remove_change(project: Project, *, number: int) -> Project:
    """Remove what leads from one scene to another."""
    motion = project.motion
    kept = tuple(one for one in motion.changes if one.number != number)
    if len(kept) == len(motion.changes):
        raise _none("change", str(number), [str(one.number) for one in motion.changes])
    return _with(project, msgspec.structs.replace(motion, changes=kept))


def _none(what: str, name: str, known: list[str]) -> Trouble:
    return Trouble(f"There is no {what} “{short(name)}”; there are: {', '.join(known) or 'none'}.")


def _with(project: Project, motion: Motion) -> Project:
    return msgspec.structs.replace(project, motion=motion)
