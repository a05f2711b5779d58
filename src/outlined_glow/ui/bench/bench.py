"""The bench: a canvas that can be taken hold of by mouse and keys."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QEvent, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QKeyEvent, QMouseEvent, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QToolTip

from ..core_door import core
from .handles import Handle, drawing_handle
from .marks import mark_at
from .painted_canvas import PaintedCanvas
from .typed import TypedFields, type_beside

#: Pixels from which a handle is grabbed, and from which a line catches what is dragged; a smaller drag is a click.
_GRAB, _CATCH, _CLICK = 11.0, 7.0, 8.0
_INSIDE = Qt.FillRule.OddEvenFill


class Bench(PaintedCanvas):
    """Drag on empty ground pans, the wheel zooms, F fits, T turns over; Shift-drag measures; on Lights Ctrl-drag draws round
    LEDs and Ctrl-click adds one; what is to be drawn, the next drag draws."""

    selected_array = pyqtSignal(str)
    dropped = pyqtSignal(str)
    picked_mark = pyqtSignal(int)
    picked_leds = pyqtSignal(object)  # frozenset of array and place
    painted_chain = pyqtSignal(object)  # tuple of LED numbers
    drawing = pyqtSignal(bool)
    picked_net = pyqtSignal(str)  # "" for none
    picked_part = pyqtSignal(str)
    picked_track = pyqtSignal()
    painted_glyph = pyqtSignal(str)  # its rows, as the key takes them
    left_glyph = pyqtSignal()
    #: The array that the next drag draws.
    _draws: str | None = None
    _dragged = False
    #: The handle that was pressed last, and the fields that stand beside one.
    _pressed: Handle | None = None
    typed: TypedFields | None = None

    def hide_array(self, array: str, on: bool) -> None:
        """Leave the numbers of an array away, and its LEDs out of hand, or not; on the board they stay."""
        self.unseen = self.unseen | {array} if on else self.unseen - {array}
        if on:
            self.take(frozenset(one for one in self.picked if one[0] != array))
        self.update()

    def draw(self, array: str | None) -> None:
        """Let the next drag draw an array; None: let it not."""
        self._draws = array
        self.drawing.emit(array is not None)

    def draw_copper(self, what: str) -> None:
        """Let the next drag draw a “track”, or an “area” whose tracks are drawn anew; "": let it not."""
        self.wires.draws = what
        self.drawing.emit(bool(what))
        self.update()

    def paint_glyph(self, rows: tuple[str, ...], cells: Any) -> None:
        """Let presses on LEDs paint a letter; None: let them not."""
        self.glyph.show(rows, cells)
        self.update()

    def _end_copper(self) -> None:
        """Make what was drawn on Wiring."""
        made = self.wires.end(self.work, self.camera.side)
        if isinstance(made, str):
            if made:
                self._session.trouble.emit(made)
        else:
            self._session.edit(*made, origin=(0.0, 0.0))
        self.draw_copper("")

    def _handle_at(self, at: QPointF) -> Handle | None:
        best, far = None, _GRAB
        for handle in self._handles:
            spot = self.camera.to_screen(handle.x, handle.y)
            gap = math.hypot(spot.x() - at.x(), spot.y() - at.y())
            if gap < far:
                best, far = handle, gap
        return best

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.work is None:
            return
        at, self._pressed = event.position(), None
        if event.button() == Qt.MouseButton.LeftButton and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._measure = (at, at)
        elif (
            event.button() == Qt.MouseButton.LeftButton
            and self._picks(event)
            and (self.paints_chain or not self._handle_at(at))
        ):
            self._lasso = [at]
        elif event.button() == Qt.MouseButton.LeftButton and self._begun_painting(at):
            self._pan_from = None
        elif event.button() == Qt.MouseButton.LeftButton and self._draws_copper(event):
            self.wires.begin(self.camera.to_mm(at), self._draws_copper(event))
        elif event.button() == Qt.MouseButton.LeftButton:
            seam = self._seam()
            self._grabbed, self._dragged = self._begun_drawing(at) or self._handle_at(at), False
            self._pressed = self._grabbed
            if self._grabbed is None and seam is not None and abs(at.x() - seam) < 12:
                self._wiping = True
            elif self._grabbed is None:
                if self.stage == "lights":
                    self._pick_led(at)
                mark = mark_at(self.marks, self.camera, self.work.board.origin, at, _GRAB)
                if mark is not None:
                    self.picked_mark.emit(mark)
                self._pan_from, self._panned = at, False
        elif event.button() == Qt.MouseButton.MiddleButton:
            self._pan_from = at
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """The numbers of the handle that was pressed twice, to be typed."""
        if event is None or self._pressed is None:
            self.mousePressEvent(event)
            return
        self.typed = type_beside(self, self._session, self._pressed, event.position().toPoint())

    def _begun_painting(self, at: QPointF) -> bool:
        return self.stage == "motion" and self.glyph.begin(at, self.camera, self.work.board.origin)

    def _begun_drawing(self, at: QPointF) -> Handle | None:
        if self._draws is None or self.stage != "lights":
            return None
        return drawing_handle(self.work, self._draws, *self.camera.to_mm(at))

    def _picks(self, event: QMouseEvent) -> bool:
        strip_in_hand = self.stage == "motion" and self.strip is not None
        return (self.stage == "lights" or strip_in_hand) and bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)

    def _draws_copper(self, event: QMouseEvent) -> str:
        """What a drag on Wiring draws: with Ctrl an area, unless something else was asked for."""
        if self.stage != "wiring" or self.wires.draws:
            return self.wires.draws if self.stage == "wiring" else ""
        if self._handle_at(event.position()) is not None:
            return ""
        return "area" if event.modifiers() & Qt.KeyboardModifier.ControlModifier else ""

    def _seen_leds(self) -> Iterator[Any]:
        return (led for led in self.work.leds if led.array not in self.unseen)

    def _led_at(self, at: QPointF) -> Any:
        for led in self._seen_leds():
            spot = self.camera.to_screen(led.x, led.y)
            if math.hypot(spot.x() - at.x(), spot.y() - at.y()) < max(9.0, self.camera.zoom):
                return led
        return None

    def _pick_led(self, at: QPointF) -> None:
        """The array of the LED under the pointer; if that is in hand already, the LED alone."""
        led = self._led_at(at)
        if led is None:
            return
        if led.array == self.selected:
            self.take(frozenset({(led.array, led.place)}))
        else:
            self.select(led.array)
            self.selected_array.emit(led.array)

    def _pick_wire(self, at: QPointF) -> None:
        """Take the part or the track under the pointer in hand, and see the net there through the board."""
        x, y = self.camera.to_mm(at)
        part, track = core("hand_track").picked(self.work, x, y, self.camera.side, self.wires.track)
        self.wires.take_part(part)
        self.picked_part.emit(self.wires.part or "")
        self.wires.take_track(track)
        self.picked_track.emit()
        net = core("net_lens").net_at(self.work, x, y, self.camera.side)
        self.wires.take_net(net)
        self.picked_net.emit(net or "")

    def _add_led(self, at: QPointF) -> None:
        """Take the LED under the pointer too, or give it back."""
        led = self._led_at(at)
        if led is not None:
            self.take(self.picked ^ {(led.array, led.place)})

    def _click_led(self, event: QMouseEvent) -> None:
        """A handle that lies over an LED was clicked: the LED is meant."""
        (self._add_led if self._picks(event) else self._pick_led)(event.position())

    def take(self, leds: frozenset[tuple[str, int]]) -> None:
        if leds != self.picked:
            self.pick(leds)
            self.picked_leds.emit(leds)

    def _end_lasso(self) -> None:
        """Take what the line goes round; a click adds the LED under it, or gives it back."""
        points, self._lasso = self._lasso, []
        area = QPolygonF(points)
        if self.paints_chain:
            line = [self.camera.to_mm(point) for point in points]
            self.painted_chain.emit(core("order_of").painted(self.work.leds, line, _GRAB / self.camera.zoom))
            return
        if area.boundingRect().width() + area.boundingRect().height() < _CLICK:
            self._add_led(points[0])
            return
        inside = (led for led in self._seen_leds() if area.containsPoint(self.camera.to_screen(led.x, led.y), _INSIDE))
        self.take(frozenset((led.array, led.place) for led in inside))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = event.position()
        if self._measure is not None:
            self._measure = (self._measure[0], at)
        elif self._lasso:
            self._lasso.append(at)
        elif self.glyph.brush is not None:
            self.glyph.go_on(at, self.camera, self.work.board.origin)
        elif self.wires.drawing:
            self.wires.go_on(self.camera.to_mm(at))
        elif self._grabbed is not None:
            self._drag(at, bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier))
        elif self._wiping:
            self.set_wipe(min(0.97, max(0.03, at.x() / max(1, self.width()))))
        elif self._pan_from is not None:
            self.camera = self.camera.moved(at.x() - self._pan_from.x(), at.y() - self._pan_from.y())
            self._pan_from, self._panned = at, True
            self._fitted = False
            self._sharpen.start()
            self._read(at)
            self.update_moved()
            return
        else:
            self._hover(at)
            if self._read(at):
                self.update_words()
            return
        self._read(at)
        self.update()

    def _drag(self, at: QPointF, freely: bool) -> None:
        handle = self._grabbed
        assert handle is not None
        x, y = self.camera.to_mm(at)
        self._caught = None
        if handle.catch is not None and not freely:
            self._caught = handle.catch(x, y, _CATCH / self.camera.zoom)
            x, y = self._caught.x, self._caught.y
        wanted = handle.drag(x, y)
        self._dragged = True
        if wanted is not None:
            self._grabbed = replace(handle, x=x, y=y)
            self._session.edit(*wanted, merge=f"drag {handle.name}", origin=(0.0, 0.0))

    def _hover(self, at: QPointF) -> None:
        handle = self._handle_at(at)
        seam = self._seam()
        paints = self.stage == "motion" and self.work is not None and self.glyph.at(at, self.camera, self.work.board.origin)
        if paints or (self._draws is not None and self.stage == "lights") or (self.wires.draws and self.stage == "wiring"):
            self.setCursor(Qt.CursorShape.CrossCursor)
        elif handle is not None:
            self.setCursor(Qt.CursorShape.PointingHandCursor)
            self.setToolTip(handle.tip)
        elif seam is not None and abs(at.x() - seam) < 12:
            self.setCursor(Qt.CursorShape.SplitHCursor)
            self.setToolTip("the picture on the left, the board it makes on the right")
        else:
            self.unsetCursor()
            if self.toolTip():
                self.setToolTip("")
                QToolTip.hideText()

    def _read(self, at: QPointF) -> bool:
        """Find out what is under the pointer; whether that is told in other words now."""
        before, self._readout = self._readout, self._words_at(at)
        return before != self._readout

    def _words_at(self, at: QPointF) -> str:
        if self.work is None:
            return ""
        ox, oy = self.work.board.origin
        x, y = self.camera.to_mm(at)
        copper = core("net_lens").net_words(self.work, x - ox, y - oy, self.camera.side) if self.stage == "wiring" else ""
        if copper:
            return str(copper)
        what = core("probe").material_at(self.work.board, self.camera.side, x - ox, y - oy)
        return f"x {x - ox:.1f}, y {y - oy:.1f} mm  {what}".rstrip()

    @property
    def readout(self) -> str:
        """Where the pointer is and what lies there."""
        return self._readout

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._grabbed is not None:
            drawing = self._grabbed.name == "drawing"
            if drawing and not self._dragged and event is not None:
                self._drag(event.position(), True)  # a click puts it there
            self._session.end_drag()
            if drawing:
                self.draw(None)
            elif not self._dragged and self.stage == "lights" and event is not None:
                self._click_led(event)
            self._grabbed = self._caught = None
            self._refresh_handles()
        if self.glyph.brush is not None:
            self.painted_glyph.emit(self.glyph.end())
        elif self.wires.drawing:
            self._end_copper()
        elif self._lasso:
            self._end_lasso()
        elif event is not None and self.stage == "wiring" and self._pan_from is not None and not self._panned:
            self._pick_wire(event.position())
        elif event is not None and self._pan_from is not None and not self._panned and self._led_at(event.position()) is None:
            self.take(frozenset())
        self._pan_from, self._wiping, self._measure = None, False, None
        self.update()

    def leaveEvent(self, event: QEvent | None) -> None:
        self._readout = ""
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None or self.work is None:
            return
        self.camera = self.camera.zoomed(1.0015 ** event.angleDelta().y(), event.position())
        self._fitted = False
        self._sharpen.start()
        self.update()
        event.accept()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or not self._key(event):
            super().keyPressEvent(event)

    def _key(self, event: QKeyEvent) -> bool:
        """Arrows pan, or move the handle that Tab chose (Ctrl for a tenth)."""
        steps = {
            Qt.Key.Key_Left: (-1, 0),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Up: (0, 1),
            Qt.Key.Key_Down: (0, -1),
        }
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape and (self._draws is not None or self.wires.draws):
            self.draw(None)
            self.draw_copper("")
            return True
        if key == Qt.Key.Key_Escape and self.glyph.cells is not None:
            self.left_glyph.emit()
            return True
        held = self._handles[self._focus_handle] if 0 <= self._focus_handle < len(self._handles) else None
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and held is not None:
            self.typed = type_beside(self, self._session, held, self.camera.to_screen(held.x, held.y).toPoint())
            return True
        if key == Qt.Key.Key_H and self._handles:
            self._focus_handle = (self._focus_handle + 1) % len(self._handles)
            self.update()
            return True
        if key not in steps or self.work is None:
            return False
        dx, dy = steps[key]
        if held is not None:
            handle = held
            step = 0.1 if event.modifiers() & Qt.KeyboardModifier.ControlModifier else 1.0
            wanted = handle.drag(handle.x + dx * step * self.camera.sign, handle.y + dy * step)
            if wanted is not None:
                self._session.edit(*wanted, merge=f"key {handle.name}", origin=(0.0, 0.0))
            return True
        self.camera = self.camera.moved(-40 * dx, 40 * dy)
        self._fitted = False
        self.redraw()
        return True

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        mime = event.mimeData() if event is not None else None
        if event is not None and mime is not None and mime.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        mime = event.mimeData() if event is not None else None
        if mime is not None and mime.hasUrls():
            self.dropped.emit(mime.urls()[0].toLocalFile())
