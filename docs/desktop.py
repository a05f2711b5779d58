"""Makes what the desktop takes from the program: icons in all sizes, the manual page, completion for two shells.

    .venv/bin/python docs/desktop.py

Written from the drawings and from the command line's own parser into `desktop/`; a test says when they are behind.
"""

from __future__ import annotations

import argparse
from pathlib import Path

import resvg_py
import shtab

import outlined_glow.core.workshop.operations  # noqa: F401  (with it the operations of every stage are registered)
from outlined_glow import __version__
from outlined_glow.cli.parser import build_parser
from outlined_glow.core.project import edits
from outlined_glow.core.stages import stages

ROOT = Path(__file__).parents[1]
DESKTOP = ROOT / "desktop"
SIZES = (16, 22, 24, 32, 48, 64, 128, 256, 512)
PROGRAM = "outlined-glow"


def icon(size: int) -> bytes:
    """The icon as PNG; small ones from a drawing of their own."""
    drawing = DESKTOP / "icon-small.svg" if size <= 24 else ROOT / "src/outlined_glow/data/icon.svg"
    return bytes(resvg_py.svg_to_bytes(svg_string=drawing.read_text("utf-8"), width=size, height=size))


def completions() -> dict[str, str]:
    """Completion scripts by shell."""
    parser = build_parser(PROGRAM)
    for action in _all_actions(parser):
        if action.dest in ("art", "project", "output", "package"):
            action.complete = shtab.FILE  # type: ignore[attr-defined]
    return {shell: shtab.complete(parser, shell) for shell in ("bash", "zsh")}


def manual_page() -> str:
    """The manual page in roff (man 7)."""
    parser = build_parser(PROGRAM)
    commands = _commands(parser)
    out = [
        f'.TH OUTLINED\\-GLOW 1 "" "Outlined Glow {__version__}" "User Commands"',
        ".SH NAME",
        f"{_roff(PROGRAM)} \\- {_roff(parser.description or '')}",
        ".SH SYNOPSIS",
        f".B {_roff(PROGRAM)}",
        "[\\fIFILE\\fR]",
        ".br",
        f".B {_roff(PROGRAM)}",
        "\\fICOMMAND\\fR ...",
        ".SH DESCRIPTION",
        "Without a command the window opens, on a project or picture if one is given. The commands do the same without it.",
        ".SH COMMANDS",
    ]
    for command, about in commands.values():
        out += [".SS " + _roff(_usage(command)), _roff(about[:1].upper() + about[1:]) + "."]
        for action in command._actions:
            if action.dest == "help":
                continue
            flags = ", ".join(action.option_strings) or str(action.metavar)
            value = f" {action.metavar}" if action.option_strings and action.metavar else ""
            choices = f"; one of {', '.join(map(str, action.choices))}" if action.choices else ""
            default = f" (default {action.default})" if isinstance(action.default, str) and action.option_strings else ""
            out += [".TP", f".B {_roff(flags)}{_roff(value)}", _roff(f"{action.help}{choices}{default}")]
    out += [".SH STAGES", "Each stage of the work has a key in the window, and operations for the command edit."]
    for one in stages():
        names = [name for name, edit in edits().items() if edit.stage == one.key]
        out += [".TP", f".B {one.number} {one.title}", _roff(f"{one.tip}: {', '.join(names)}." if names else f"{one.tip}.")]
    out += [
        ".SH EXIT STATUS",
        "0 when done; 1 when done but something stops the order (check, export) or a package differs (proof);",
        "2 for bad use or bad input, with one line on standard error.",
        ".SH ENVIRONMENT",
        ".TP",
        ".B SOURCE_DATE_EPOCH",
        "The date that files carry, in seconds since 1970; otherwise that of the last edit.",
        ".TP",
        ".B XDG_STATE_HOME",
        "Under it lie the journal of unsaved edits, reports, recent work and the window's place.",
        ".SH FILES",
        ".TP",
        ".B *.oglow",
        "Projects. The file before the last saving is kept beside it as *.oglow~.",
    ]
    return "\n".join(out) + "\n"


def _usage(command: argparse.ArgumentParser) -> str:
    return " ".join(command.format_usage().removeprefix("usage: ").split())


def _commands(parser: argparse.ArgumentParser) -> dict[str, tuple[argparse.ArgumentParser, str]]:
    for action in parser._actions:
        if isinstance(action, argparse._SubParsersAction):
            told = {choice.dest: choice.help or "" for choice in action._choices_actions}
            return {name: (command, told[name]) for name, command in action.choices.items()}
    return {}


def _all_actions(parser: argparse.ArgumentParser) -> list[argparse.Action]:
    return [action for command, _ in _commands(parser).values() for action in command._actions]


def _roff(text: str) -> str:
    text = text.replace("\\", "\\e").replace("-", "\\-")
    return "\\&" + text if text.startswith((".", "'")) else text


def main() -> None:
    """Write them all."""
    for size in SIZES:
        target = DESKTOP / "icons" / f"{size}.png"
        target.parent.mkdir(exist_ok=True)
        target.write_bytes(icon(size))
    (DESKTOP / f"{PROGRAM}.1").write_text(manual_page(), "utf-8")
    for shell, text in completions().items():
        (DESKTOP / f"{PROGRAM}.{shell}").write_text(text, "utf-8")


if __name__ == "__main__":
    main()
