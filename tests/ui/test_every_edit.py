"""Edits that a person makes by one control: each is pressed, typed or chosen, and the project and the window say so."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from drawings import SIGN
from hand import Hand
from PyQt6.QtWidgets import QFileDialog, QPushButton

from outlined_glow.core.project import Design, Project

RING = b'<path d="M50 2a8 8 0 1 0 .01 0zM50 5a5 5 0 1 1 -.01 0z" fill="#FF6F59" fill-rule="evenodd"/>'


def project(hand: Hand) -> Project:
    value = hand.window.session.project
    assert value is not None
    return value


def design(hand: Hand) -> Design:
    return project(hand).board()


def press(hand: Hand, part: Any, words: str) -> None:
    """Press the one button in view whose text begins so."""
    hand.settle()
    buttons = [one for one in part.findChildren(QPushButton) if one.text().startswith(words) and one.isVisible()]
    assert buttons, words
    hand.click(buttons[0])
    hand.settle()


def test_the_brief_is_filled_in(signed: Hand) -> None:
    signed.window.show_stage("brief")
    signed.settle()
    drawer = signed.window.drawer("brief")
    signed.choose(drawer.use.choices["place"], "outdoors")
    signed.type_in(drawer.use.distance, "1.5")
    signed.type_in(drawer.made.pieces, "12")
    signed.settle()
    brief = project(signed).brief
    assert (brief.place, brief.distance_m, brief.pieces) == ("outdoors", 1.5, 12)
    signed.type_in(drawer.limits.fields["tall_mm"], "2 mm")
    signed.settle()
    assert project(signed).brief.limits.tall_mm == 2.0
    signed.choose(drawer.made.profile, "home-etch")
    assert project(signed).brief.profile == "home-etch"
    assert not signed.window.session.work.board.profile.has_mask


def test_colours_are_chosen_and_given_back(signed: Hand) -> None:
    signed.window.show_stage("artwork")
    signed.settle()
    drawer = signed.window.drawer("artwork")
    signed.choose(drawer.edged, "copper")
    assert design(signed).artwork.edged_by == "copper"
    drawer.choose("D9B25A", "ink")
    signed.settle()
    drawer.choose("D9B25A", "")
    assert design(signed).artwork.chosen == {}
    drawer.choose("D9B25A", "raised")
    signed.settle()
    signed.click(drawer.free)
    assert design(signed).artwork.chosen == {}


def test_pictures_come_lie_and_go(signed: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    signed.window.show_stage("artwork")
    signed.settle()
    card = signed.window.drawer("artwork").pictures
    for name in ("b.svg", "c.svg", "d.svg"):
        (tmp_path / name).write_bytes(SIGN)
    taken = iter(("b.svg", "c.svg", "d.svg"))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / next(taken)), ""))

    def names() -> list[str]:
        return [one.name for one in design(signed).artwork.pictures]

    press(signed, card, "add")
    press(signed, card, "add")
    assert names() == ["sign.svg", "b.svg", "c.svg"]
    signed.click(card._group.buttons()[1])
    press(signed, card, "lay on top")
    assert names() == ["sign.svg", "c.svg", "b.svg"]
    press(signed, card, "replace")
    assert "d.svg" in names()
    signed.type_in(card._width["width_mm"], "31 mm")
    signed.settle()
    assert 31.0 in [round(one.width_mm, 3) for one in design(signed).artwork.pictures]


def test_art_is_cleaned_up_and_left_as_drawn(open_window: Callable[..., Hand], tmp_path: Path) -> None:
    path = tmp_path / "thin.svg"
    path.write_bytes(SIGN.replace(b"</svg>", b'<path d="M6 19h40" stroke="#D9B25A" stroke-width=".1"/></svg>'))
    hand = open_window(path=path)
    hand.window.show_stage("artwork")
    hand.settle()
    drawer = hand.window.drawer("artwork")
    press(hand, drawer.clean, "Clean up")
    assert design(hand).artwork.clean is not None
    hand.type_in(drawer.clean.strength, "80")
    hand.settle()
    assert design(hand).artwork.clean.keep == pytest.approx(0.8)
    hand.click(drawer.clean.undo)
    hand.settle()
    assert design(hand).artwork.clean is None
    hand.click(next(one for one in drawer.places_card.rows if "metal" in one.text()))
    press(hand, drawer.places_card, "leave")
    assert design(hand).artwork.mends
    press(hand, drawer, "stop ignoring")
    assert not design(hand).artwork.mends


def test_a_loose_piece_is_held_and_let_go(open_window: Callable[..., Hand], tmp_path: Path) -> None:
    path = tmp_path / "ring.svg"
    path.write_bytes(SIGN.replace(b"</svg>", RING + b"</svg>"))
    hand = open_window(path=path)
    hand.window.session.edit("set-appearance", {"colour": "FF6F59", "appearance": "cut"})
    hand.window.show_stage("shape")
    hand.settle()
    drawer = hand.window.drawer("shape")
    press(hand, drawer, "hold it by tabs")
    assert design(hand).shape.islands
    press(hand, drawer.islands, "undo")
    assert not design(hand).shape.islands
    kept = design(hand).shape.keep_holes
    hand.click(drawer.keep)
    hand.settle()
    assert design(hand).shape.keep_holes != kept


def test_currents_resistors_and_leds_in_hand(lit: Hand) -> None:
    signed, session = lit, lit.window.session
    drive = signed.window.drawer("drive")
    signed.type_in(drive.way["current_a"], "4 mA")
    signed.choose(drive.chosen["series"], "E12")
    signed.click(drive.alike["balanced"])
    signed.settle()
    assert (design(signed).drive.current_a, design(signed).drive.series) == (0.004, "E12")
    assert design(signed).drive.balanced
    signed.window.show_stage("lights")
    signed.settle()
    lights = signed.window.drawer("lights")
    signed.bench.take(frozenset({("g", 1), ("g", 2)}))
    signed.type_in(lights.hand.groups, "left, top/row")
    signed.settle()
    assert [one.groups for one in design(signed).lights[0].changes] == [("left", "top/row")] * 2
    assert session.work.leds[0].groups == ("g", "left", "top/row", "top")
    steps = len(session.history.steps)
    signed.click(lights.hand.turn)
    signed.settle()
    assert [one.turn_deg for one in design(signed).lights[0].changes] == [90.0, 90.0]
    assert len(session.history.steps) == steps + 1, "two LEDs are turned in one step"
    signed.click(lights.hand.skip)
    signed.settle()
    session.edit("single", {"x_mm": 4.0, "y_mm": 4.0})
    signed.settle()
    signed.click(lights.chain.renumber)
    signed.settle()
    assert [led.index for led in session.work.leds] == [3, 4, 5, 6, 7]
