"""Arguments to commands; exit codes: 0 done, 1 done but something stops the order, 2 bad use or bad input."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence
from typing import NoReturn

from .. import __version__
from ..core.errors import Trouble
from ..report import write_report
from .exits import BAD, DONE


class _Parser(argparse.ArgumentParser):
    """Wrong use is one line on standard error."""

    def error(self, message: str) -> NoReturn:
        print(f"{self.prog}: {message} (see {self.prog} --help)", file=sys.stderr)
        raise SystemExit(BAD)


def build_parser() -> argparse.ArgumentParser:
    """Every command with its options."""
    parser = _Parser(prog="glow", description="From a picture to a decorative circuit board that lights up.")
    parser.add_argument("--version", action="version", version=f"Outlined Glow {__version__}")
    commands = parser.add_subparsers(dest="command", metavar="COMMAND", required=True, parser_class=_Parser)

    new = commands.add_parser("new", help="a project from a picture")
    new.add_argument("art", metavar="ART")
    new.add_argument("-o", dest="output", metavar="P.oglow", required=True)
    new.add_argument("--width", help="width of what the picture paints, such as 60mm")
    new.add_argument("--map", action="append", default=[], metavar="RRGGBB=APPEARANCE")
    for name in ("mask", "finish", "ink"):
        new.add_argument(f"--{name}")
    new.add_argument("--thickness", help="such as 1.6mm")
    new.add_argument("--force", action="store_true", help="replace an existing project")

    demo = commands.add_parser("demo", help="open a demo, or write it with -o")
    demo.add_argument("name", nargs="?", default="moth", metavar="NAME")
    demo.add_argument("-o", dest="output", metavar="P.oglow")
    demo.add_argument("--force", action="store_true")

    edit = commands.add_parser("edit", help="change a project by any edit the window can do")
    edit.add_argument("project", nargs="?", metavar="P.oglow")
    edit.add_argument("operation", nargs="?", metavar="OPERATION")
    edit.add_argument("values", nargs="*", metavar="key=value")
    edit.add_argument("-o", dest="output", metavar="Q.oglow")
    edit.add_argument("--force", action="store_true")
    edit.add_argument("--list", action="store_true", dest="list_edits", help="name every operation with its keys")

    info = commands.add_parser("info", help="figures of a project")
    check = commands.add_parser("check", help="findings of a project")
    for one in (info, check):
        one.add_argument("project", metavar="P.oglow")
        one.add_argument("--json", action="store_true")

    render = commands.add_parser("render", help="a picture of the board")
    animate = commands.add_parser("animate", help="the pattern as gif, png or mp4")
    for one, px in ((render, "12"), (animate, "7")):
        one.add_argument("project", metavar="P.oglow")
        one.add_argument("-o", dest="output", required=True)
        one.add_argument("--side", choices=("front", "back"), default="front")
        one.add_argument("--sun", default="1" if one is render else "0.2", help="1 noon, 0 midnight")
        one.add_argument("--px-per-mm", default=px)
    render.add_argument("--leaf", help="one layer alone")
    render.add_argument("--time", help="a moment of the pattern, such as 1.5s; without it every LED is lit")
    animate.add_argument("--seconds", help="length; one period unless told")
    animate.add_argument("--fps", default="20")

    export = commands.add_parser("export", help="the files of an order")
    export.add_argument("project", metavar="P.oglow")
    export.add_argument("-o", dest="output", metavar="DIR|x.zip", required=True)
    export.add_argument("--force", action="store_true")

    proof = commands.add_parser("proof", help="read a package back and compare it")
    proof.add_argument("package", metavar="DIR|x.zip")
    proof.add_argument("--project", metavar="P.oglow")

    calc = commands.add_parser("calc", help="a sum on its own; alone it lists them", add_help=False)
    calc.add_argument("name", nargs="?", metavar="NAME")
    calc.add_argument("values", nargs="*", metavar="key=value")
    calc.add_argument("--json", action="store_true")
    calc.add_argument("-h", "--help", action="store_true", dest="explain")
    return parser


def run(arguments: Sequence[str]) -> int:
    """Run one command; every expected failure is one line on standard error and exit 2."""
    parsed = build_parser().parse_args(arguments)
    from .commands import COMMANDS  # the core is loaded once the words are known to be right

    try:
        return COMMANDS[parsed.command](parsed)
    except Trouble as trouble:
        print(f"glow {parsed.command}: {trouble}", file=sys.stderr)
        return BAD
    except BrokenPipeError:
        sys.stderr.close()
        return DONE
    except Exception as error:  # whatever else happens is a bug: told in a sentence, kept in a report
        print(
            f"glow {parsed.command}: something went wrong inside the program; see {write_report(error, parsed.command)}",
            file=sys.stderr,
        )
        return BAD
