"""The words of the command line: manual page and completion are made from this parser too (docs/desktop.py)."""

from __future__ import annotations

import argparse
import sys
from typing import NoReturn

from .. import __version__
from .exits import BAD

_PROJECT = "a project file"
_BOARD = "of a project with several boards, the one that is meant"
_FORCE = "replace what is there already"


class _Parser(argparse.ArgumentParser):
    """Wrong use is one line on standard error; `key=value` is taken for `--key value` where there is such an option."""

    def parse_known_args(self, args=None, namespace=None):  # type: ignore[no-untyped-def]
        options = self._option_string_actions
        given = sys.argv[1:] if args is None else args
        words = [f"--{one}" if "=" in one and f"--{one.partition('=')[0]}" in options else one for one in given]
        return super().parse_known_args(words, namespace)

    def error(self, message: str) -> NoReturn:
        print(f"{self.prog}: {message} (see {self.prog} --help)", file=sys.stderr)
        raise SystemExit(BAD)


def build_parser(program: str = "glow") -> argparse.ArgumentParser:
    """Every command with its options."""
    parser = _Parser(prog=program, description="From a picture to a decorative circuit board that lights up.")
    parser.add_argument("--version", action="version", version=f"Outlined Glow {__version__}")
    commands = parser.add_subparsers(dest="command", metavar="COMMAND", required=True, parser_class=_Parser)
    _to_begin(commands)
    _to_change_and_look(commands)
    _to_know_lights(commands)
    _to_know_the_drive(commands)
    _to_know_the_wiring(commands)
    _to_know_the_motion(commands)
    _to_order(commands)
    return parser


def _to_begin(commands: argparse._SubParsersAction[_Parser]) -> None:
    new = commands.add_parser("new", help="a project from a picture")
    new.add_argument("art", metavar="ART", help="an SVG or DXF drawing, or a PNG, JPEG, WebP, TIFF, BMP or GIF picture")
    new.add_argument("-o", dest="output", metavar="P.oglow", required=True, help="the project to write")
    new.add_argument("--width", metavar="LENGTH", help="width of what the picture paints, such as 60mm")
    new.add_argument(
        "--map", action="append", default=[], metavar="RRGGBB=APPEARANCE",
        help="what a colour becomes: mask, raised, metal, ink, window, veiled or cut; may be given often",
    )  # fmt: skip
    new.add_argument("--colours", metavar="N", help="of a raster picture, at most: 2 to 8")
    new.add_argument(
        "--tones", choices=("flat", "diffuse", "screen", "threshold"), help="how many colours become few: flat colours, or dots"
    )
    new.add_argument(
        "--ground", choices=("keep", "outside", "everywhere"), help="what happens to the background of a raster picture"
    )
    new.add_argument("--border", metavar="LENGTH", help="of board beyond the picture, such as 1.6mm")
    new.add_argument("--keep-holes", action="store_true", help="holes of the picture become holes of the board")
    new.add_argument("--mask", metavar="WORD", help="colour of the mask, such as matte-black")
    new.add_argument("--finish", metavar="WORD", help="finish of bare metal, such as gold")
    new.add_argument("--ink", metavar="WORD", help="colour of the legend, such as white")
    new.add_argument("--thickness", metavar="LENGTH", help="of the board, such as 1.6mm")
    new.add_argument("--force", action="store_true", help=_FORCE)

    demo = commands.add_parser("demo", help="open a demo, or write it with -o")
    demo.add_argument("name", nargs="?", default="moth", metavar="NAME", help="which one; moth unless told")
    demo.add_argument("-o", dest="output", metavar="P.oglow", help="write it there and open no window")
    demo.add_argument("--force", action="store_true", help=_FORCE)


def _to_change_and_look(commands: argparse._SubParsersAction[_Parser]) -> None:
    edit = commands.add_parser("edit", help="change a project by any edit the window can do")
    edit.add_argument("project", nargs="?", metavar="P.oglow", help=_PROJECT)
    edit.add_argument("operation", nargs="?", metavar="OPERATION", help="its name, as --list tells it")
    edit.add_argument("values", nargs="*", metavar="key=value", help="its keys, each with a value and its unit")
    edit.add_argument("-o", dest="output", metavar="Q.oglow", help="write there; otherwise the project itself is written")
    edit.add_argument("--force", action="store_true", help=_FORCE)
    edit.add_argument("--list", action="store_true", dest="list_edits", help="name every operation with its keys")

    info = commands.add_parser("info", help="figures of a project")
    check = commands.add_parser("check", help="findings of a project")
    for one in (info, check):
        one.add_argument("project", metavar="P.oglow", help=_PROJECT)
        one.add_argument("--json", action="store_true", help="one JSON object and nothing else")
        one.add_argument("--board", metavar="NAME", help=_BOARD)

    render = commands.add_parser("render", help="a picture of the board")
    animate = commands.add_parser("animate", help="what plays as gif, png or mp4")
    for one, usual, picture in ((render, "12", "x.png"), (animate, "7", "x.gif|png|mp4")):
        one.add_argument("project", metavar="P.oglow", help=_PROJECT)
        one.add_argument("-o", dest="output", metavar=picture, required=True, help="the picture to write")
        one.add_argument("--board", metavar="NAME", help=_BOARD)
        one.add_argument("--side", choices=("front", "back"), default="front", help="which side is seen")
        one.add_argument("--sun", metavar="SHARE", default="1" if one is render else "0.2", help="1 noon to 0 midnight")
        one.add_argument("--px-per-mm", metavar="NUMBER", help=f"its size; {usual} unless told, fewer if it is large")
    render.add_argument("--leaf", metavar="NAME", help="one layer alone, such as front copper")
    render.add_argument("--time", metavar="TIME", help="a moment of the pattern, such as 1.5s; without it every LED is lit")
    animate.add_argument("--seconds", metavar="TIME", help="length; all that plays, once, unless told")
    animate.add_argument("--from", dest="start", metavar="TIME", default="0s", help="the moment of the score where it begins")
    animate.add_argument("--sheet", metavar="COUNT", help="png: so many moments side by side, instead of a film")
    animate.add_argument(
        "--as", dest="shown", choices=("wanted", "real", "both"), default="wanted", help="as it is wanted, as the LEDs show it"
    )
    animate.add_argument("--fps", metavar="NUMBER", default="20", help="frames a second")

    small = commands.add_parser("thumbnail", help="the picture a project file carries of itself, for a file manager")
    small.add_argument("project", metavar="P.oglow", help=_PROJECT)
    small.add_argument("-o", dest="output", metavar="x.png", required=True, help="the picture to write")
    small.add_argument("--size", metavar="NUMBER", default="256", help="pixels of the longer side, at most")


def _to_know_the_drive(commands: argparse._SubParsersAction[_Parser]) -> None:
    plan = commands.add_parser("plan", help="every way to drive the LEDs side by side, with what it takes and its verdict")
    nets = commands.add_parser("nets", help="the connection list: parts with value and pins, nets with pins")
    pins = commands.add_parser("pins", help="the pins of the controller, what each drives, and how it stands at start")
    power = commands.add_parser("power", help="battery life with its curve, and the currents")
    first = commands.add_parser("first-second", help="what every counter, register and light does from power-up on")
    for one in (plan, nets, pins, power, first):
        one.add_argument("project", metavar="P.oglow", help=_PROJECT)
        one.add_argument("--board", metavar="NAME", help=_BOARD)
        if one is nets:
            one.add_argument(
                "-o", dest="output", metavar="x.pdf|x.csv", help="the wires to solder by hand: a sheet, or a table"
            )
            one.add_argument(
                "--grid", action="store_true", help="with -o: on a plain board of holes 2.54 mm apart, hole by hole"
            )
        how = one.add_mutually_exclusive_group()
        how.add_argument("--json", action="store_true", help="one JSON object and nothing else")
        if one not in (power, first):
            how.add_argument("--csv", action="store_true", help="a table with commas")
        if one is plan:
            one.add_argument("--instead", action="store_true", help="what could light instead of the LEDs, side by side")
        if one is pins:
            how.add_argument("--h", action="store_true", help="a C header of names")
            how.add_argument("--table", action="store_true", help="the controller's whole table, as add-controller reads it")


def _to_know_the_wiring(commands: argparse._SubParsersAction[_Parser]) -> None:
    drop = commands.add_parser("drop", help="the volts that tracks, vias and pours cost, and how warm they become")
    drop.add_argument("project", metavar="P.oglow", help=_PROJECT)
    drop.add_argument("-o", dest="output", metavar="map.png", help="a map of the drop")
    drop.add_argument("--side", choices=("front", "back"), default="back", help="which side the map shows")
    drop.add_argument("--board", metavar="NAME", help=_BOARD)
    drop.add_argument("--json", action="store_true", help="one JSON object and nothing else")

    untangle = commands.add_parser("untangle", help="let pins, outputs and gates that can do the same change places")
    untangle.add_argument("project", metavar="P.oglow", help=_PROJECT)
    untangle.add_argument("-o", dest="output", metavar="Q.oglow", help="write there; otherwise the project itself is written")
    untangle.add_argument("--force", action="store_true", help=_FORCE)
    untangle.add_argument("--board", metavar="NAME", help=_BOARD)
    untangle.add_argument("--json", action="store_true", help="one JSON object and nothing else")

    leads = commands.add_parser("leads", help="the leads that go off the board: wire, length, what each costs and bears")
    leads.add_argument("project", metavar="P.oglow", help=_PROJECT)
    leads.add_argument("-o", dest="output", metavar="x.pdf|x.csv", help="a sheet, or a table")
    leads.add_argument("--board", metavar="NAME", help=_BOARD)
    leads.add_argument("--json", action="store_true", help="one JSON object and nothing else")


def _to_know_the_motion(commands: argparse._SubParsersAction[_Parser]) -> None:
    frames = commands.add_parser("frames", help="what plays as whole numbers, frame after frame: a table for a controller")
    play = commands.add_parser("play", help="read such a table as a controller does, and compare it with the score")
    truth = commands.add_parser("truth", help="how much of the score every way to drive the LEDs shows")
    for one in (frames, play, truth):
        one.add_argument("project", metavar="P.oglow", help=_PROJECT)
        one.add_argument("--board", metavar="NAME", help=_BOARD)
    for one in (frames, play):
        one.add_argument("--fps", metavar="NUMBER", default="50", help="frames a second; 50 unless told")
        one.add_argument("--seconds", metavar="TIME", help="how long; all that plays, once, unless told")
        one.add_argument(
            "--as", dest="shown", choices=("wanted", "real"), default="wanted", help="as it is wanted, or as the LEDs show it"
        )
    frames.add_argument("-o", dest="output", metavar="x.csv|json|h|bin|png", required=True, help="the file to write")
    frames.add_argument(
        "--packing",
        choices=("auto", "raw", "runs", "differences", "recipe"),
        help="unless told: the smallest (auto) for h, raw for bin",
    )
    play.add_argument("--table", metavar="x.bin|x.h", help="the table; without one it is made, packed and read back")
    play.add_argument("--feed", metavar="FILE|-", help="values of feeds as they come (CSV, JSON lines): a file, a pipe, or -")
    for one in (play, truth):
        one.add_argument("--json", action="store_true", help="one JSON object and nothing else")

    swing = commands.add_parser("swing", help="what a board draws in the eye that is swung by hand, and the gaps it leaves")
    swing.add_argument("project", metavar="P.oglow", help=_PROJECT)
    swing.add_argument("-o", dest="output", metavar="x.png", help="the picture that is drawn")
    swing.add_argument("--speed", metavar="NUMBER", default="2", help="m/s; 2 unless told")
    swing.add_argument(
        "--angle", metavar="NUMBER", default="0", help="which way it moves, degrees; 0, to the right, unless told"
    )
    swing.add_argument("--seconds", metavar="TIME", default="0.2s", help="how long it is looked at; 0.2s unless told")
    swing.add_argument("--from", dest="start", metavar="TIME", default="0s", help="the moment of the score where it begins")
    swing.add_argument("--board", metavar="NAME", help=_BOARD)
    swing.add_argument("--json", action="store_true", help="one JSON object and nothing else")


def _to_know_lights(commands: argparse._SubParsersAction[_Parser]) -> None:
    lights = commands.add_parser("lights", help="every LED with its place, in the order of the chain")
    lights.add_argument("project", metavar="P.oglow", help=_PROJECT)
    lights.add_argument("--board", metavar="NAME", help=_BOARD)
    how = lights.add_mutually_exclusive_group()
    how.add_argument("--json", action="store_true", help="one JSON object and nothing else")
    how.add_argument("--csv", action="store_true", help="a table with commas, which is what comes unless told")

    light = commands.add_parser("light-map", help="how evenly the LEDs light a diffuser, a window, a sheet, a wall, the ground")
    light.add_argument("project", metavar="P.oglow", help=_PROJECT)
    light.add_argument(
        "--on",
        choices=("plane", "window", "sheet", "wall", "ground"),
        default="plane",
        help="what it falls on; plane unless told",
    )
    light.add_argument("--plane", metavar="LENGTH", default="8mm", help="its distance from the LEDs; 8mm unless told")
    light.add_argument("--through", metavar="COVER", default="", help="what lies before the plane, such as 'milk glass'")
    light.add_argument("--array", metavar="NAME", default="", help="sheet: the array under it")
    light.add_argument("--slot", metavar="NUMBER", default="1", help="sheet: over which slot; 1 unless told")
    light.add_argument("--height", metavar="LENGTH", default="60mm", help="sheet: how high it is; 60mm unless told")
    light.add_argument("--thick", metavar="LENGTH", default="3mm", help="sheet: how thick; 3mm unless told")
    light.add_argument("--gap", metavar="LENGTH", default="0.5mm", help="sheet: from the LEDs to its edge; 0.5mm unless told")
    light.add_argument("--of", metavar="MATERIAL", default="acrylic", help="sheet: acrylic, polycarbonate or glass")
    light.add_argument(
        "--from", dest="start", metavar="LENGTH", default="0mm", help="sheet: where engraving begins, from its edge"
    )
    light.add_argument("--over", metavar="WHAT", default="board", help="board, lights, window or RRGGBB; over=WHAT as well")
    light.add_argument("--side", choices=("front", "back"), default="front", help="to which side they shine")
    light.add_argument("-o", dest="output", metavar="x.png", help="the map as a picture")
    light.add_argument("--board", metavar="NAME", help=_BOARD)
    light.add_argument("--json", action="store_true", help="one JSON object and nothing else")

    library = commands.add_parser("library", help="the parts there are, or all that is known of one")
    library.add_argument("name", nargs="?", metavar="NAME", help="which one, such as 'led 0805'")
    library.add_argument("--json", action="store_true", help="one JSON object and nothing else")

    template = commands.add_parser("template", help="a drill template at true size, for lamps in a lid or panel")
    passport = commands.add_parser("passport", help="a part's pads at true size, with what to ask the real part")
    for one in (template, passport):
        one.add_argument("project", metavar="P.oglow", help=_PROJECT)
        if one is passport:
            one.add_argument("part", metavar="PART", help="which one, as the library names it")
        kinds = ", ".join(("x.pdf", "x.dxf", "x.svg")) if one is template else "x.pdf"
        one.add_argument("-o", dest="output", metavar="x.pdf", required=True, help=f"the sheet to write: {kinds}")
        one.add_argument("--board", metavar="NAME", help=_BOARD)


def _to_order(commands: argparse._SubParsersAction[_Parser]) -> None:
    export = commands.add_parser("export", help="the files of an order")
    export.add_argument("project", metavar="P.oglow", help=_PROJECT)
    export.add_argument("-o", dest="output", metavar="DIR|x.zip", required=True, help="a folder, or a zip file")
    export.add_argument("--board", metavar="NAME", help=_BOARD)
    export.add_argument("--force", action="store_true", help=_FORCE)

    layers = commands.add_parser("layers", help="every layer as a file for other programs, at true size")
    layers.add_argument("project", metavar="P.oglow", help=_PROJECT)
    layers.add_argument("-o", dest="output", metavar="DIR", required=True, help="the folder to write them to")
    layers.add_argument("--board", metavar="NAME", help=_BOARD)
    layers.add_argument("--as", dest="kind", choices=("svg", "dxf", "png"), default="svg", help="the kind of file")
    layers.add_argument("--px-per-mm", metavar="NUMBER", help="size of a PNG; 40 unless told, fewer if it is large")
    layers.add_argument("--force", action="store_true", help=_FORCE)

    proof = commands.add_parser("proof", help="read a package back and compare it")
    proof.add_argument("package", metavar="DIR|x.zip", help="what export wrote")
    proof.add_argument("--project", metavar="P.oglow", help="compare with the board itself, not with what the package says")
    proof.add_argument("--board", metavar="NAME", help=_BOARD)

    desktop = commands.add_parser("desktop", help="show the program, its icon and its files in the desktop's menus")
    way = desktop.add_mutually_exclusive_group(required=True)
    way.add_argument("--install", action="store_true", help="write the menu entry, icons, file type and thumbnailer")
    way.add_argument("--remove", action="store_true", help="take them away again")

    calc = commands.add_parser("calc", help="a sum on its own; alone it lists them", add_help=False)
    calc.add_argument("name", nargs="?", metavar="NAME", help="which one")
    calc.add_argument("values", nargs="*", metavar="key=value", help="what is known, each with its unit")
    calc.add_argument("--json", action="store_true", help="one JSON object and nothing else")
    calc.add_argument("-h", "--help", action="store_true", dest="explain", help="its formula, keys and source")
