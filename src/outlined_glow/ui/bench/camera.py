"""Pan and zoom. The camera looks at the picture frame, so that a wider border moves nothing on the screen."""

from __future__ import annotations

from dataclasses import dataclass, replace

from PyQt6.QtCore import QPointF

LEAST, MOST = 1.5, 400.0


@dataclass(frozen=True)
class Camera:
    """The picture-frame place in the middle of the widget, pixels per mm, and the side seen."""

    x: float = 0.0
    y: float = 0.0
    zoom: float = 10.0
    side: str = "front"
    width: int = 100
    height: int = 100

    @property
    def sign(self) -> float:
        """+1 where x runs to the right, −1 seen from behind."""
        return 1.0 if self.side == "front" else -1.0

    def to_screen(self, x: float, y: float) -> QPointF:
        """Picture-frame mm to widget pixels."""
        return QPointF(self.width / 2 + (x - self.x) * self.zoom * self.sign, self.height / 2 - (y - self.y) * self.zoom)

    def to_mm(self, at: QPointF) -> tuple[float, float]:
        """Widget pixels to picture-frame mm."""
        x = self.x + (at.x() - self.width / 2) / self.zoom * self.sign
        return x, self.y - (at.y() - self.height / 2) / self.zoom

    def zoomed(self, factor: float, at: QPointF) -> Camera:
        """Nearer or farther, the place under the pointer kept."""
        x, y = self.to_mm(at)
        zoom = min(MOST, max(LEAST, self.zoom * factor))
        there = replace(self, zoom=zoom)
        nx, ny = there.to_mm(at)
        return replace(there, x=self.x + x - nx, y=self.y + y - ny)

    def moved(self, dx: float, dy: float) -> Camera:
        """Dragged by pixels."""
        x, y = self.x - dx / self.zoom * self.sign, self.y + dy / self.zoom
        return Camera(x, y, self.zoom, self.side, self.width, self.height)

    def fitted(self, left: float, bottom: float, width: float, height: float, margins: tuple[int, int, int, int]) -> Camera:
        """A box (picture frame) inside margins of left, top, right, bottom pixels."""
        free_w = max(40, self.width - margins[0] - margins[2])
        free_h = max(40, self.height - margins[1] - margins[3])
        zoom = min(MOST, max(LEAST, min(free_w / max(width, 0.1), free_h / max(height, 0.1))))
        shift_x = (margins[0] - margins[2]) / 2 / zoom * self.sign
        shift_y = (margins[1] - margins[3]) / 2 / zoom
        return replace(self, x=left + width / 2 - shift_x, y=bottom + height / 2 + shift_y, zoom=zoom)
