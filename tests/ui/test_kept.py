"""Pictures that are kept while the bench moves: they look like new ones, and are made anew when what they show changes."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import numpy.typing as npt
import pytest
from hand import Hand
from PyQt6.QtCore import QEvent, QPoint, QRect, Qt
from PyQt6.QtGui import QImage, QPaintEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QWidget

from outlined_glow.ui.bench.camera import Camera
from outlined_glow.ui.bench.chain import Chain
from outlined_glow.ui.bench.moved import MovedView
from outlined_glow.ui.bench.painted_canvas import PaintedCanvas
from outlined_glow.ui.bench.render_cache import bare
from outlined_glow.ui.bench.rulers import Rulers
from outlined_glow.ui.icons import icon

Pixels = npt.NDArray[np.int16]


def _seen(hand: Hand) -> Pixels:
    """The bench with all that lies over it, as (height, width, 4)."""
    picture = hand.window.area.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
    bits = picture.constBits()
    assert bits is not None
    return np.frombuffer(bits.asarray(picture.sizeInBytes()), np.uint8).reshape(picture.height(), -1, 4).astype(np.int16)


def _apart(one: Pixels, other: Pixels) -> int:
    """Pixels that differ by more than a rounding."""
    return int((np.abs(one - other).max(axis=2) > 24).sum())


def _as_new(hand: Hand) -> Pixels:
    """The same with nothing of the bench kept."""
    bench = hand.window.area.bench
    bench._chain, bench._rulers, bench._moved = Chain(), Rulers(), MovedView()
    return _seen(hand)


def test_a_view_that_was_dragged_looks_like_one_painted_anew(lit: Hand) -> None:
    window = lit.window
    window.show_stage("lights")
    lit.settle()
    bench = window.area.bench
    start, side = _seen(lit), bench.rect().center() + QPoint(0, 170)
    lit.drag(side, side + QPoint(60, -35))
    lit.settle()
    moved = _seen(lit)
    assert _apart(start, moved) > 2000
    assert _apart(moved, _as_new(lit)) == 0
    bench.camera = bench.camera.moved(-25, 12)  # no new picture of the board yet: what it leaves bare shows the bench
    kept = _seen(lit)
    assert _apart(kept, _as_new(lit)) == 0


@pytest.mark.parametrize("stage", ["artwork", "lights", "drive", "wiring", "motion"])
def test_a_view_in_the_hand_is_one_picture_that_moves(open_window: Callable[..., Hand], stage: str) -> None:
    hand = open_window("moth")
    bench = hand.window.area.bench
    hand.window.show_stage(stage)
    hand.settle()
    bench.mark(hand.window.session.findings[0])
    for dx, dy in ((9, 0), (8, -6), (40, 21), (-90, 33), (170, 0), (120, -90), (3, 3)):
        bench.camera = bench.camera.moved(dx, dy)
        kept, bench_kept = _seen(hand), bench._moved
        assert _apart(kept, _as_new(hand)) == 0, (dx, dy)
        bench._moved = bench_kept
    bench.camera = bench.camera.moved(-5, 0)
    before = _seen(hand)
    bench.mark(None)  # what lies on the board is another, and so is the picture
    after = _seen(hand)
    assert _apart(before, after) > 20
    assert _apart(after, _as_new(hand)) == 0
    bench.camera = bench.camera.moved(0.5, 0.25)  # between two pixels: it is painted anew
    between, bench._moved = _seen(hand), MovedView()
    assert _apart(between, _seen(hand)) == 0


def test_what_a_moved_picture_leaves_bare() -> None:
    then = Camera(10.0, 10.0, 8.0, "front", 200, 100)
    assert bare(then, then) == []

    def pixels(now: Camera) -> int:
        return sum(edge.width() * edge.height() for edge in bare(now, then))

    assert pixels(then.moved(30, 0)) == 30 * 100
    assert pixels(then.moved(-30, 20)) == 200 * 100 - 170 * 80
    assert pixels(then.moved(300, 0)) == 200 * 100
    assert pixels(then.zoomed(2.0, then.to_screen(10, 10))) == 0


def test_buttons_and_leaves_over_the_bench_show_what_changes(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    area = hand.window.area

    def changed(widget: QWidget, do: Callable[[], object]) -> bool:
        before = area.grab(widget.geometry()).toImage()
        do()
        hand.settle()
        return area.grab(widget.geometry()).toImage() != before

    hand.window.show_stage("lights")
    hand.settle()
    assert not changed(area.tools, lambda: None)
    undo = hand.window.session.edit
    assert changed(area.tools, lambda: undo("set-border", {"border_mm": 2.0})), "undo can be pressed now"
    assert changed(area.turn, lambda: area.turn.setFocus(Qt.FocusReason.TabFocusReason))
    assert changed(area.turn, lambda: hand.click(area.turn)), "it names the other side"
    assert changed(area.leaves, lambda: hand.click(area.leaves.leaves[2])), "the leaf is faint"
    assert changed(area.leaves, lambda: QTest.keyClick(area.leaves.leaves[1], Qt.Key.Key_Up)), "the leaf is pulled up"
    assert changed(area.sun, lambda: area.sun.set_sun(0.4))
    area.sun.set_sun(0.0)  # a dark room: the bench is dark in either theme, what is styled is not
    hand.settle()
    hand.window.help.use_look("dusk")
    hand.settle()
    before = _seen(hand)
    for look in ("paper", "dusk"):
        hand.window.help.use_look(look)
        hand.settle()
    assert _apart(before, _seen(hand)) == 0
    for one in (area.turn, *area.tools.stills):
        kept = area.grab(one.geometry() if one is area.turn else area.tools.geometry()).toImage()
        one._styled += 1
        assert area.grab(one.geometry() if one is area.turn else area.tools.geometry()).toImage() == kept


def test_a_panel_over_the_bench_is_painted_when_something_happens_on_it(
    open_window: Callable[..., Hand], monkeypatch: pytest.MonkeyPatch
) -> None:
    hand = open_window("moth")
    area = hand.window.area
    painted: list[QRect] = []
    paint = PaintedCanvas.paintEvent

    def told(self: PaintedCanvas, event: QPaintEvent | None) -> None:
        painted.append(event.rect() if event is not None else self.rect())
        paint(self, event)

    monkeypatch.setattr(PaintedCanvas, "paintEvent", told)

    def seen(panel: QWidget, do: Callable[[], object]) -> bool:
        hand.settle()
        painted.clear()
        do()
        hand.settle()
        return any(one.contains(panel.geometry()) for one in painted)

    first, action = area.tools.stills[1], area._tool_actions[0][1]
    assert seen(area.tools, lambda: QApplication.sendEvent(first, QEvent(QEvent.Type.Enter)))
    assert seen(area.tools, lambda: QApplication.sendEvent(first, QEvent(QEvent.Type.Leave)))
    assert seen(area.tools, lambda: action.setEnabled(not action.isEnabled()))
    assert seen(area.tools, lambda: action.setIcon(icon("sun", bench=True)))
    assert seen(area.leaves, lambda: area.leaves.leaves[0].setFocus(Qt.FocusReason.TabFocusReason))
    assert seen(area.leaves, lambda: area.leaves.hide_leaf(3))
    assert not seen(area.leaves, lambda: None)
    assert seen(area.sun, lambda: area.sun.setFocus(Qt.FocusReason.TabFocusReason))
    assert seen(area.sun, area.sun.hide)
    assert seen(area.sun, area.sun.show)
    assert seen(area.turn, area._show_side)
