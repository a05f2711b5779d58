"""Holes of parts, what lies round them, and the marks and labels that are printed beside: measured on the finished layers."""

from __future__ import annotations

import json
from typing import Any

import msgspec
import pytest
import shapely
from plates import plate
from shapely.geometry import Point
from test_own_parts import file_of

from outlined_glow.core.board.labels import label_height
from outlined_glow.core.lettering import text_region
from outlined_glow.core.parts.profiles import profile, profile_text
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.workshop import Compiler, apply_values

PEGGED = "1206 reverse-mount, through a hole amber"


def rules_of(base: str = "standard", **changes: Any) -> tuple[str, dict[str, Any]]:
    """The edit that takes a profile of one's own."""
    content = {**json.loads(profile_text(profile(base))), "name": "mine", **changes}
    return "take-profile", {"file": PictureFile("mine.json", json.dumps(content).encode())}


def drilled(drill_mm: float, across_mm: float, apart_mm: float = 3.0) -> tuple[Any, ...]:
    """An LED of one's own with two leads."""
    each = {"y_mm": 0, "width_mm": across_mm, "height_mm": across_mm, "shape": "round", "drill_mm": drill_mm}
    pads = [{"pin": "1", "x_mm": -apart_mm / 2, **each}, {"pin": "2", "x_mm": apart_mm / 2, **each}]
    one = {"array": "one", "x_mm": 22.0, "y_mm": 15.0, "emitter": "shop lamp"}
    return ("add-part", {"file": file_of(pads=pads, body_mm=[apart_mm + across_mm, 3.0])}), ("single", one)


def found(project: Project) -> dict[str, Any]:
    compiler = Compiler()
    return {one.code: one for one in compiler.findings(compiler.compile(project))}


@pytest.mark.parametrize(
    ("rules", "lamp", "code", "measured", "words"),
    [
        ({}, drilled(0.25, 1.0), "drill-out-of-range", 0.25, "D1 needs a hole of 0.25 mm. The fabricator drills 0.3 to 6.3"),
        ({"ring_mm": 0.3}, drilled(1.0, 1.4), "ring-too-narrow", 0.2, "D1 has only 0.20 mm of copper round a hole. The "
         "fabricator needs 0.3"),
        ({"hole_gap_mm": 0.6}, drilled(1.0, 1.3, 1.55), "holes-too-near", 0.55, "Holes of D1 are 0.55 mm apart. The fabricator "
         "needs 0.6"),
    ],
)  # fmt: skip
def test_holes_that_the_fabricator_cannot_make_are_told(
    rules: dict[str, float], lamp: tuple[Any, ...], code: str, measured: float, words: str
) -> None:
    one = found(plate(*lamp, rules_of(**rules)))[code]
    assert (one.severity, one.measured, one.text) == ("stop", pytest.approx(measured), f"{words} mm.")
    assert one.places
    assert code not in found(plate(*drilled(1.0, 1.8), rules_of(**rules)))


def test_a_narrow_ring_is_helped_by_another_profile_and_only_warned_of_at_home() -> None:
    at_home = plate(*drilled(0.9, 1.8), ("set-profile", {"profile": "home-etch"}))
    one = found(at_home)["ring-too-narrow"]
    assert (one.severity, one.measured, one.allowed) == ("warning", 0.45, 0.5)
    remedy = next(each for each in one.remedies if each.edit)
    assert "ring-too-narrow" not in found(apply_values(at_home, remedy.edit or "", dict(remedy.values), (0.0, 0.0)))


def test_a_hole_of_a_part_near_one_of_a_feature_is_told() -> None:
    hole = {"kind": "hole", "x_mm": 25.6, "y_mm": 15.0, "size_mm": 3.0}
    told = found(plate(*drilled(1.0, 1.6), ("add-feature", hole)))["holes-too-near"]
    assert "holes-too-near" not in found(plate(*drilled(1.0, 1.6), ("add-feature", {**hole, "x_mm": 30.0})))
    # The hole of the lead ends at 22 + 1.5 + 0.5, that of the feature begins at 25.6 − 1.5.
    assert (told.severity, told.measured) == ("stop", pytest.approx(0.1))


def drawn(body: str, colour: str, look: str) -> Project:
    """The plate with something drawn on it that looks so."""
    art = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 44 30" width="44mm" height="30mm">{body}</svg>'
    art = art.replace("<rect", '<rect width="44" height="30" fill="#123222"/><rect', 1)
    project = plate(("replace-picture", {"picture": 1, "file": PictureFile("art.svg", art.encode())}))
    return apply_edit(project, "set-appearance", {"colour": colour, "appearance": look})


@pytest.mark.parametrize("look", ["raised", "metal", "ink"])
@pytest.mark.parametrize("side", ["front", "back"])
def test_copper_ink_and_parts_keep_off_a_bare_hole(side: str, look: str) -> None:
    """An LED that shines through a hole of its own, on a board that looks so all over."""
    project = drawn('<rect x="4" y="4" width="36" height="22" fill="#d0d0d0"/>', "D0D0D0", look)
    project = apply_edit(project, "single", {"array": "one", "x_mm": 22.0, "y_mm": 15.0, "emitter": PEGGED, "side": side})
    board = Compiler().compile(apply_edit(project, "drive", {"method": "each", "supply": "usb"})).board
    assert board.layer("front legend" if look == "ink" else "front copper").area > 500
    [hole] = [one for one in board.holes if one.purpose == "D1"]
    rim = Point(hole.x, hole.y).buffer(hole.diameter / 2, 64)
    for layer, region in board.layers.items():
        if layer.kind in ("copper", "legend", "paste") and not region.is_empty:
            assert region.distance(rim) > 0.24, layer
    assert all(part.court().distance(rim) > 0.2 for part in board.parts if part.ref != "D1")


def test_a_part_over_the_hole_of_another_is_told() -> None:
    project = apply_edit(plate(), "single", {"array": "one", "x_mm": 22.0, "y_mm": 15.0, "emitter": PEGGED})
    over = apply_edit(project, "single", {"array": "two", "x_mm": 22.0, "y_mm": 15.0, "emitter": "0603 amber"})
    assert found(over)["parts-overlap"].text == "D1 and D2 overlap."


@pytest.mark.parametrize("line_mm", [0.1, 0.15, 0.2, 0.25])
def test_the_strokes_of_labels_are_wide_enough_to_be_printed(line_mm: float) -> None:
    """By opening: what a disc as wide as the rule cannot reach is next to nothing of a label."""
    height = label_height(msgspec.structs.replace(profile("standard"), legend_line_mm=line_mm))
    for text in ("R12", "D3 47 Ω", "U1", "BT1", "SW1", "Q5 680"):
        word = text_region(text, height, weight="bold")
        reached = shapely.buffer(shapely.buffer(word, -0.485 * line_mm), 0.495 * line_mm)
        assert word.difference(reached).area < 0.04 * word.area, text


def test_labels_of_a_board_are_printed_as_wide_as_its_fabricator_needs() -> None:
    project = plate(
        ("line", {"array": "row", "x_mm": 22.0, "y_mm": 22.0, "count": 4, "pitch_mm": 6.0}), rules_of(legend_line_mm=0.22),
        ("drive", {"method": "each", "supply": "usb"}),
    )  # fmt: skip
    [legend] = [region for layer, region in Compiler().compile(project).board.layers.items() if layer == "back legend"]
    kept = shapely.buffer(shapely.buffer(legend, -0.106), 0.109)
    assert legend.area > 5
    assert legend.difference(kept).area < 0.04 * legend.area


def test_the_mark_of_an_led_at_the_edge_stays_on_the_board() -> None:
    one = {"array": "one", "x_mm": 0.0, "y_mm": 15.0, "emitter": "0603 amber"}  # the board begins at −1.6
    work = Compiler().compile(plate(("single", one)))
    legend, inside = work.board.layers["front legend"], work.board.outline.buffer(-0.149)  # type: ignore[index]
    assert legend.difference(inside).area < 1e-6
    assert legend.area > 0.1  # beside the LED, where there is room
    further = Compiler().compile(plate(("single", {**one, "x_mm": 10.0})))
    assert not further.board.layers["front legend"].is_empty  # type: ignore[index]


def test_a_web_between_a_pad_and_the_art_is_told() -> None:
    project = drawn('<rect x="24" y="4" width="10" height="22" fill="#d4af37"/>', "D4AF37", "metal")
    one = {"array": "one", "x_mm": 20.0, "y_mm": 15.0, "emitter": "0603 amber"}
    pads = Compiler().compile(apply_edit(project, "single", one)).board.pads
    reach = max(pad.polygon.bounds[2] for pad in pads if pad.ref == "D1") - 20.0 - 1.6  # the board begins at −1.6
    for web, told in ((0.09, True), (0.12, True), (0.14, False)):  # 0.13 mm is the rule of a black mask
        moved = apply_edit(project, "single", {**one, "x_mm": 24.0 - web - 0.05 - reach})
        finding = found(apply_edit(moved, "drive", {"method": "each", "supply": "usb"})).get("pad-web-too-narrow")
        assert (finding is not None) == told, (web, finding)
        assert finding is None or finding.measured == pytest.approx(web, abs=2e-3)
