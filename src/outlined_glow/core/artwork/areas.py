"""Items of a drawing to areas of one colour, in painter's order: curves flattened, clips, masks and layers applied."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from itertools import islice

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..colour import rgb_to_hex
from ..colour.difference import hex_to_rgb, to_linear
from ..geometry.fill import fill_each
from ..geometry.flatten import flatten_each
from ..geometry.painters_order import resolve_painting
from ..geometry.regions import EMPTY, clean, common, minus, union
from ..geometry.valid import valid
from ..project import Tones
from ..watch import Watch
from .compositing import CLEAR, SOLID, Piece, composited
from .drawing import Drawn, Item, Layer, Mask, Note, Paint, Pasted, Points, Shade
from .limits import refuse_tangle
from .ramp import MOST_PERIODS
from .raster import Raster, ToneRules, resolve_raster
from .resolved import OUTLINE, Key
from .shades import bands, dots, repeats
from .stroke import stroke_area
from .svg.measure import apply

#: So many curves are flattened at once.
_AT_ONCE = 1000
#: Translucent areas that are mixed with what lies under them; more are taken as solid.
_MOST_MIXED = 1500
#: Translucent areas of one translucent group that are laid over one another.
_MOST_TOGETHER = 200
_PAPER = "FFFFFF"


class Areas:
    """Makes pieces within `tolerance` (root units). `mixed` gathers the colours that no item has as such."""

    def __init__(
        self, name: str, tolerance: float, mm_per_unit: float, tones: Tones, tone_rules: ToneRules | None, watch: Watch
    ) -> None:
        self._name, self._tolerance, self._scale = name, tolerance, mm_per_unit
        self._tones, self._tone_rules, self._watch = tones, tone_rules, watch
        self.mixed: set[str] = set()
        self.notes: list[Note] = []

    def pieces(self, items: Iterable[Item], outline: bool = False) -> list[Piece]:
        """The pieces of items; within a layer that is the outline, of every path as if it were filled."""
        out: list[Piece] = []
        for item, flat, area in self._flattened(items, outline):
            self._watch.at(0.0)
            if isinstance(item, Drawn):
                out += self._drawn(item, flat, area, outline)
            elif isinstance(item, Pasted):
                out += self._pasted(item)
            else:
                out += self._layer(item, outline)
        return [piece for piece in out if not piece.area.is_empty]

    def _flattened(self, items: Iterable[Item], outline: bool) -> Iterator[tuple[Item, list[Points], BaseGeometry]]:
        """Items in their order, drawn ones with their outlines flattened and what those enclose: of many at once."""
        waiting: list[Item] = []
        curves = 0
        for item in items:
            waiting.append(item)
            curves += sum(len(one.curves) for one in item.subpaths) if isinstance(item, Drawn) else 0
            if curves >= _AT_ONCE:
                yield from self._each_flattened(waiting, outline)
                waiting, curves = [], 0
        yield from self._each_flattened(waiting, outline)

    def _each_flattened(self, items: Sequence[Item], outline: bool) -> Iterator[tuple[Item, list[Points], BaseGeometry]]:
        fine = [self._fine(item) if isinstance(item, Drawn) else 0.0 for item in items]
        taken = [item.subpaths if isinstance(item, Drawn) and by else () for item, by in zip(items, fine, strict=True)]
        paths = [(one.start, one.curves) for some in taken for one in some]
        found = iter(flatten_each(paths, np.repeat(fine, [len(some) for some in taken])) if paths else ())
        flats = [list(islice(found, len(some))) for some in taken]
        for flat in flats:
            if flat:
                refuse_tangle(flat, self._name)
        drawn: list[list[Points]] = [[] for _ in items]
        rules = [""] * len(items)
        for at, (item, flat) in enumerate(zip(items, flats, strict=True)):
            if isinstance(item, Drawn) and (outline or item.fill is not None):
                drawn[at], rules[at] = [apply(item.matrix, points) for points in flat], item.rule
        yield from zip(items, flats, fill_each(drawn, rules), strict=True)

    def _fine(self, drawn: Drawn) -> float:
        """How far chords may leave the curves of what is drawn, in its own units; 0 where its matrix leaves nothing of it."""
        scale = float(np.sqrt(abs(np.linalg.det(drawn.matrix[:, :2]))))
        return 0.0 if scale < 1e-9 or not np.isfinite(drawn.matrix).all() else self._tolerance / scale

    def _drawn(self, drawn: Drawn, flat: list[Points], area: BaseGeometry, outline: bool) -> list[Piece]:
        if not flat:
            return []
        if outline:
            return [Piece(Key("000000", OUTLINE), area, 1.0)]
        parts = []
        if drawn.fill is not None:
            parts.append(self._painted(drawn.fill, area))
        if drawn.line is not None and drawn.stroke is not None:
            pairs = zip(flat, drawn.subpaths, strict=True)
            fine, stroke = self._fine(drawn), drawn.stroke
            lines = [stroke_area(points, subpath.closed, stroke, fine) for points, subpath in pairs]
            moved = shapely.transform(union(lines), lambda points: apply(drawn.matrix, points))
            parts.append(self._painted(drawn.line, clean(valid(moved))))
        return [piece for part in (parts[::-1] if drawn.stroke_first else parts) for piece in part]

    def _painted(self, paint: Paint, area: BaseGeometry) -> list[Piece]:
        if isinstance(paint.colour, str):
            return [Piece(Key(paint.colour), area, paint.alpha)]
        return self._shaded(paint.colour, area, paint.alpha)

    def _shaded(self, shade: Shade, area: BaseGeometry, alpha: float) -> list[Piece]:
        if self._tone_rules is not None and self._tones.how in ("diffuse", "screen") and not area.is_empty:
            made = dots(shade, area, self._scale, self._tones, self._tone_rules)
            if made is not None:
                return [Piece(Key(colour, word), region, 1.0) for colour, word, region in made]
        again = repeats(shade, area)
        if again > MOST_PERIODS:
            words = f"{shade.name} of “{self._name}” is repeated {again:,} times in one shape; its mean colour is taken."
            self.notes.append(Note("paint-flattened", words))
        out = []
        for rgba, region in bands(shade, area, self._tolerance):
            colour = rgb_to_hex(np.clip(np.round(rgba[:3]), 0, 255))
            self.mixed.add(colour)
            out.append(Piece(Key(colour), region, alpha * float(rgba[3])))
        return out

    def _pasted(self, item: Pasted) -> list[Piece]:
        raster = item.raster
        assert isinstance(raster, Raster)
        scale = float(np.sqrt(abs(np.linalg.det(item.matrix[:, :2]))))
        if scale < 1e-9:
            return []
        wide = raster.page[0] * scale * self._scale
        found = resolve_raster(raster, self._tones, max(wide, 1e-3), self._name, self._tone_rules, self._watch)
        self.notes += found.notes
        return [
            Piece(key, valid(shapely.transform(region, lambda points: apply(item.matrix, points))), 1.0)
            for key, region in found.regions.items()
        ]

    def _layer(self, layer: Layer, outline: bool) -> list[Piece]:
        if layer.word == OUTLINE:
            return self.pieces(layer.items, True)
        found = self.pieces(layer.items, outline)
        for clip in layer.clips:
            window = union([piece.area for piece in self.pieces(clip)])
            found = [Piece(key, common(area, window), alpha) for key, area, alpha in found]
        for mask in layer.masks:
            window = self._light(mask)
            found = [Piece(key, common(area, window), alpha) for key, area, alpha in found]
        if layer.alpha < SOLID:
            found = self._together(found, layer.alpha)
        if layer.word:
            found = [Piece(Key(key.colour, layer.word), area, alpha) for key, area, alpha in found]
        return found

    def _together(self, found: list[Piece], alpha: float) -> list[Piece]:
        """A group made translucent as one: what covers itself inside it does not show through."""
        seen_through = sum(piece.alpha < SOLID for piece in found)
        if len(found) > 1 and not seen_through:
            shown = resolve_painting([(piece.key, piece.area) for piece in found], self._watch)
            found = [Piece(key, area, 1.0) for key, area in shown.items()]
        elif len(found) > 1 and seen_through <= _MOST_TOGETHER:
            found = composited(found, self._watch)
            self.mixed |= {piece.key.colour for piece in found}
        elif len(found) > 1:
            words = (
                f"A translucent group of “{self._name}” has more than {_MOST_TOGETHER} translucent areas; each is seen through"
            )
            self.notes.append(Note("opacity-solid", f"{words} by itself."))
        return [Piece(key, area, own * alpha) for key, area, own in found]

    def _light(self, mask: Mask) -> BaseGeometry:
        """Where a mask lets things be seen: light and solid for at least half."""
        shown = resolve_painting([((piece.key, piece.alpha), piece.area) for piece in self.pieces(mask.items)], self._watch)
        kept = []
        for (key, alpha), area in shown.items():
            light = 1.0 if mask.by_alpha else float(to_linear(hex_to_rgb(key.colour)) @ (0.2126, 0.7152, 0.0722))
            if light**0.5 * alpha >= 0.5:
                kept.append(area)
        return union(kept)

    def solid(self, pieces: Sequence[Piece]) -> list[tuple[Key, BaseGeometry]]:
        """The pieces as areas of one solid colour each: translucent ones are mixed with what lies under them."""
        out: list[tuple[Key, BaseGeometry]] = []
        boxes: list[tuple[float, float, float, float]] = []
        mixed = 0
        for key, area, alpha in pieces:
            self._watch.at(0.0)
            if alpha < CLEAR or area.is_empty:
                continue
            if alpha >= SOLID or mixed >= _MOST_MIXED:
                new = [(key, area)]
            else:
                mixed += 1
                new = self._mix(key, area, alpha, out, boxes)
            out += new
            boxes += [one.bounds for _, one in new]
        if mixed >= _MOST_MIXED:
            words = f"“{self._name}” has more than {_MOST_MIXED:,} translucent areas; the others are taken as solid."
            self.notes.append(Note("opacity-solid", words))
        return out

    def _mix(
        self,
        key: Key,
        area: BaseGeometry,
        alpha: float,
        under: list[tuple[Key, BaseGeometry]],
        boxes: list[tuple[float, float, float, float]],
    ) -> list[tuple[Key, BaseGeometry]]:
        left, top, right, bottom = area.bounds
        rows = np.array(boxes, float).reshape(-1, 4)
        near = np.flatnonzero((rows[:, 0] < right) & (rows[:, 2] > left) & (rows[:, 1] < bottom) & (rows[:, 3] > top))
        here = [(under[place][0], common(under[place][1], area)) for place in near.tolist()]
        shown = resolve_painting([one for one in here if not one[1].is_empty], self._watch)
        out = [(self._blend(key, below, alpha), region) for below, region in shown.items()]
        bare = minus(area, *shown.values()) if shown else area
        if not bare.is_empty:
            out.append((self._blend(key, Key(_PAPER), alpha), bare))
        return out

    def _blend(self, key: Key, below: Key, alpha: float) -> Key:
        mix = np.array(hex_to_rgb(key.colour)) * alpha + np.array(hex_to_rgb(below.colour)) * (1 - alpha)
        colour = rgb_to_hex(np.round(mix))
        self.mixed.add(colour)
        return Key(colour, key.word or below.word)


def outline_of(pieces: Sequence[Piece]) -> tuple[list[Piece], BaseGeometry]:
    """The pieces that are painted, and the region that the outline's layer encloses."""
    edge = [piece.area for piece in pieces if piece.key.word == OUTLINE]
    return [piece for piece in pieces if piece.key.word != OUTLINE], union(edge) if edge else EMPTY
