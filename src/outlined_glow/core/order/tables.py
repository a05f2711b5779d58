"""Placement, bill of materials, job file, and the page of what to tick at the fabricator."""

from __future__ import annotations

import csv
import io
import json
import math
from collections import Counter

from ... import __version__
from ..board import Board
from ..brief import price_of
from ..drive import DrivePlan
from ..drive.devices import switches
from ..parts import Part
from ..units import show_si
from ..wiring.links import lengths
from .gerber import guid

_PLACEMENT_HEADER = (
    "# Outlined Glow placement. Millimetres; x right, y up, seen from the front; origin at the lower left corner of the",
    "# outline's box. Angles in degrees counter-clockwise seen from the front, for parts on the back too;",
    "# at 0 the cathode or pin 1 points toward -x.",
)


def placement_csv(board: Board) -> bytes:
    """Every part that is put on pads with its place, in front coordinates."""
    out = io.StringIO()
    for line in _PLACEMENT_HEADER:
        out.write(line + "\n")
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["reference", "value", "package", "x_mm", "y_mm", "angle_deg", "side"])
    for part in (one for one in board.parts if one.part.is_bought and one.part.pads):
        place = (f"{part.x:.4f}", f"{part.y:.4f}", f"{part.angle_deg % 360:.3f}")
        rows.writerow([part.ref, part.value, part.part.title, *place, part.side])
    return out.getvalue().encode()


def bill_csv(board: Board) -> bytes:
    """What has to be bought: equal parts on one line, with what they have to bear at least and their references."""
    groups: dict[tuple[str, str, str], list[str]] = {}
    for part in (one for one in board.parts if one.part.is_bought):
        groups.setdefault((part.value, part.part.title, borne(part.part, board.drive)), []).append(part.ref)
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["count", "value", "package", "references", "at_least"])
    for (value, title, least), refs in groups.items():
        rows.writerow([len(refs), value, title, " ".join(refs), least])
    return out.getvalue().encode()


#: Volts that parts are made for; they are taken for so many times what they have.
_RATED_V, _SPARE = (6.3, 10.0, 16.0, 25.0, 50.0, 100.0), 1.5


def borne(part: Part, plan: DrivePlan) -> str:
    """What a part of a circuit has to bear at least, in words: volts, watts, amperes; "" for what its name tells."""
    volts = next((one for one in _RATED_V if one >= _SPARE * plan.most_v), math.ceil(_SPARE * plan.most_v))
    if part.kind == "capacitor" and not part.name.startswith("double-layer"):
        return f"{volts:g} V"
    if part.kind.startswith("resistor") and part.rated_w:
        return f"{part.rated_w:g} W"
    if part.name in switches():
        one = switches()[part.name]
        return f"{one.most_a:g} A, {volts:g} V, on from {one.gate_v:g} V at its gate"
    amps = show_si(plan.current_max_a + plan.standing_a, "A")
    if part.kind == "diode":
        return f"{amps}, {volts:g} V"
    if part.name.startswith("slide switch"):
        return amps
    return ""


def links_csv(board: Board) -> bytes:
    """The wires in the place of plated holes, in front coordinates; the length is between the joints."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["reference", "net", "from_x_mm", "from_y_mm", "to_x_mm", "to_y_mm", "over", "length_mm"])
    long = lengths(board.wires.links, board.stack.thickness_mm)
    for one in board.wires.links:
        places = [f"{value:.4f}" for spot in (one.start, one.end) for value in spot]
        over = {"": "through the board", "back": "the front", "front": "the back"}[one.side]
        rows.writerow([one.ref, one.net, *places, over, f"{long[one.ref]:.2f}"])
    return out.getvalue().encode()


def job_file(board: Board, files: list[tuple[str, str, str]], edited: str) -> bytes:
    """The job file (Gerber Job Format): board, stack-up and what each file is. `files`: path, function, polarity."""
    profile = board.profile
    mask = board.stack.mask.replace("-", " ")
    half = 0.035

    def printed(name: str) -> list[dict[str, str]]:
        return [{"Type": "Legend", "Color": board.stack.ink.capitalize(), "Name": name}] if profile.has_legend else []

    def masked(name: str) -> list[dict[str, str]]:
        return [{"Type": "SolderMask", "Color": mask.capitalize(), "Name": name}] if profile.has_mask else []

    content = {
        "Header": {
            "GenerationSoftware": {"Vendor": "Outlined Glow", "Application": "Outlined Glow", "Version": __version__},
            "CreationDate": edited.replace("Z", "+00:00"),
        },
        "GeneralSpecs": {
            "ProjectId": {"Name": board.name, "GUID": guid(board.name), "Revision": "1"},
            "Size": {"X": round(board.size[0], 3), "Y": round(board.size[1], 3)},
            "LayerNumber": 2,
            "BoardThickness": board.stack.thickness_mm,
            "Finish": "None" if profile.at_home else _finish(board.stack.finish),
        },
        "DesignRules": [
            {
                "Layers": "Outer",
                "PadToPad": profile.gap_mm,
                "TrackToTrack": profile.gap_mm,
                "MinLineWidth": profile.track_mm,
            }
        ],
        "FilesAttributes": [
            {"Path": path, "FileFunction": function, "FilePolarity": polarity} for path, function, polarity in files
        ],
        "MaterialStackup": [
            *printed("Top legend"),
            *masked("Top mask"),
            {"Type": "Copper", "Thickness": half, "Name": "Top copper"},
            {"Type": "Dielectric", "Thickness": round(board.stack.thickness_mm - 2 * half, 3), "Name": "Laminate"},
            {"Type": "Copper", "Thickness": half, "Name": "Bottom copper"},
            *masked("Bottom mask"),
            *printed("Bottom legend"),
        ],
    }
    return (json.dumps(content, indent=1, ensure_ascii=False) + "\n").encode()


def _finish(name: str) -> str:
    return {
        "tin": "HAL",
        "lead-free-tin": "HAL lead-free",
        "gold": "ENIG",
        "bare-copper": "OSP",
        "silver": "Immersion silver",
    }[name]


def _holes(board: Board, plated: bool) -> str:
    """How many holes of each diameter there are."""
    counts = Counter(round(hole.diameter, 3) for hole in board.holes if hole.plated == plated)
    return ", ".join(f"{count} of {diameter:g} mm" for diameter, count in sorted(counts.items())) or "none"


def order_page(board: Board, pieces: int, files: list[str]) -> bytes:
    """What to tick at the fabricator, and what each file is, in plain words."""
    stack, rules = board.stack, board.profile
    price = price_of(board.size, stack, pieces, rules.at_home, board.edge_copper)
    rows = [
        ("Board", board.name),
        ("Layers", "2"),
        ("Size", f"{board.size[0]:.1f} x {board.size[1]:.1f} mm, routed to the profile file"),
        ("Boards", str(pieces)),
        ("Thickness", f"{stack.thickness_mm:.1f} mm"),
        ("Solder mask", f"{stack.mask.replace('-', ' ')}, both sides" if rules.has_mask else "none"),
        ("Surface finish", "none" if rules.at_home else f"{_finish(stack.finish)} ({stack.finish.replace('-', ' ')})"),
        ("Legend (silkscreen)", f"{stack.ink}, both sides" if rules.has_legend else "none"),
        ("Copper", "35 um (1 oz)"),
        ("Plated holes", _holes(board, True)),
        ("Unplated holes", _holes(board, False)),
        ("Tracks and gaps", f"{board.profile.track_mm:g} / {board.profile.gap_mm:g} mm"),
    ]
    wide = max(len(title) for title, _ in rows)
    heading = "What to make" if rules.at_home else "What to tick at the fabricator"
    lines = [heading, "=" * len(heading), ""]
    lines += [f"{title:<{wide}}  {value}" for title, value in rows]
    if not rules.at_home:
        lines += ["", f"Example only, not a quote: {price.boards:.2f} credits for {pieces} boards, without parts and shipping."]
    lines += ["", "Say, if asked", "-------------"]
    if rules.has_mask:
        lines += [
            "The solder mask files hold the openings. Art in metal is bare of mask on purpose.",
            "Light windows have neither copper nor mask on either side, on purpose.",
        ]
    lines += ["All files are in front coordinates; none is mirrored."]
    lines += ["", "Files", "-----", *files, ""]
    return "\n".join(lines).encode()
