"""DXF drawings: lines joined to outlines, arcs and splines flattened to curves, hatches and blocks, true units.

ezdxf reads the file, repairing what it can. Closed outlines of a layer become areas in its colour, one inside
another a hole; hatches and solids are areas as they are; lines that never close are drawn in their line weight.
"""

from __future__ import annotations

import io
import logging
import re
from collections.abc import Iterable
from typing import Any

import numpy as np

from ..appearances import title_of
from ..errors import Trouble
from ..text_safety import short
from .drawing import Drawing, Drawn, Item, Layer, Note, Paint, Stroke, Subpath
from .dxf_lines import chains, each_line_once, each_outline_once
from .dxf_shapes import Within, boundaries_of, polygon_of, refuse_far, spline_of, subpath_of, without_frame
from .dxf_wide import MITER, rows_of, tapered
from .limits import refuse_segments, refuse_shapes
from .named import layer_word

_MOST_BYTES = 100_000_000
_MOST_ENTITIES = 60_000
_DEEPEST = 12
#: Ends nearer than this share of the drawing's size are one.
_JOIN = 2e-5
#: Millimetres of a drawing unit by $INSUNITS; 0 says nothing.
_UNITS = {1: 25.4, 2: 304.8, 3: 1609344.0, 4: 1.0, 5: 10.0, 6: 1000.0, 7: 1e6, 8: 25.4e-6, 9: 0.0254, 10: 914.4,
          11: 1e-7, 12: 1e-6, 13: 1e-3, 14: 100.0, 15: 1e4, 16: 1e5, 21: 304.8006, 22: 25.40005, 23: 914.4018}  # fmt: skip
#: An arc is made of so many cubics at least: a radius of 500 mm then errs by less than 1 um.
_ARCS = 12
_MARGIN = 1.0
#: What reading and unfolding damaged entities may raise.
_DAMAGE = (OSError, ValueError, LookupError, TypeError, AttributeError, EOFError, RecursionError, ArithmeticError,
           AssertionError, StopIteration)  # fmt: skip
_DRAWN = frozenset({"HATCH", "MPOLYGON", "SOLID", "TRACE", "3DFACE", "LINE", "LWPOLYLINE", "POLYLINE", "ARC", "CIRCLE",
                    "ELLIPSE", "SPLINE", "HELIX"})  # fmt: skip
#: How the reader's own audit begins to say that it left something out.
_REMOVED = re.compile(r"removed|deleted|skipped|discarded", re.IGNORECASE)
_BINARY = b"AutoCAD Binary DXF"


def is_dxf(data: bytes) -> bool:
    """Whether the bytes begin as a DXF file does: a group code 0 and SECTION, or a comment before it."""
    if data.startswith(_BINARY):
        return True
    words = data[:4000].replace(b"\r", b"").split(b"\n")
    rows = [word.strip() for word in words[:40]]
    pairs = list(zip(rows[0::2], rows[1::2], strict=False))
    for code, value in pairs:
        if code == b"0":
            return value == b"SECTION"
        if code != b"999":
            return False
    return False


def read_dxf(data: bytes, name: str) -> Drawing:
    """The drawing in a DXF file, y turned down, in millimetres. `Trouble` says why it cannot be read."""
    from ezdxf import recover
    from ezdxf.lldxf.const import DXFError

    if len(data) > _MOST_BYTES:
        raise Trouble(f"“{name}” is larger than {_MOST_BYTES // 1_000_000} MB; simplify the drawing.")
    logging.getLogger("ezdxf").setLevel(logging.CRITICAL)  # what it repairs is told by what is drawn, not on a terminal
    try:
        document, auditor = recover.read(io.BytesIO(data))
    except (DXFError, *_DAMAGE) as error:
        raise Trouble(f"“{name}” is a damaged DXF drawing; save it again and try that.") from error
    lost = [*auditor.errors, *(one for one in auditor.fixes if _REMOVED.match(one.message))]
    return _Reader(document, name, [str(one.message) for one in lost]).drawing()


class _Reader:
    def __init__(self, document: Any, name: str, lost: list[str]) -> None:
        from ezdxf.lldxf.const import DXFError

        self._damage = (DXFError, *_DAMAGE)
        self._document, self._name = document, name
        self._notes: dict[str, Note] = {}
        self._count = 0
        self._segments = 0
        self._outlines: dict[tuple[str, str], list[Subpath]] = {}
        self._open: dict[tuple[str, str, float], list[Subpath]] = {}
        self._areas: list[tuple[str, Drawn]] = []
        self._within = Within()
        self._scale = self._unit()
        if lost:
            more = f" and {len(lost) - 1} more" if len(lost) > 1 else ""
            words = f"“{name}” is damaged, and something may be missing: {short(lost[0].rstrip('.'), 90)}{more}."
            self._notes["lost"] = Note("path-damaged", words)

    def _unit(self) -> float:
        """Millimetres of a drawing unit."""
        code = self._document.header.get("$INSUNITS", 0)
        scale = _UNITS.get(int(code)) if isinstance(code, int | float) else None
        if scale is None:
            words = f"“{self._name}” does not say its unit of length. 1 unit is taken as 1 mm."
            self._notes["unit"] = Note("unit-not-stated", words)
        return scale or 1.0

    def drawing(self) -> Drawing:
        scale = self._scale
        self._tell_sheets()
        self._walk(self._document.modelspace(), 0)
        self._join()
        items = self._items()
        points = np.vstack([subpath.controls for _, drawn in items for subpath in drawn.subpaths] or [np.zeros((0, 2))])
        if not len(points):
            raise Trouble(f"“{self._name}” holds nothing that can be drawn: no line, arc, curve or area in its model.")
        widest = max((drawn.stroke.width for _, drawn in items if drawn.stroke), default=0.0)
        low, high = points.min(axis=0) - widest - _MARGIN, points.max(axis=0) + widest + _MARGIN
        matrix = np.array([[1.0, 0, -low[0]], [0, -1.0, high[1]]])
        placed: list[Item] = []
        for layer, drawn in items:
            one = Drawn(drawn.subpaths, matrix, drawn.fill, drawn.rule, drawn.line, drawn.stroke)
            word = layer_word(layer)
            if word:
                words = f"Layer “{short(layer)}”: everything on it becomes {title_of(word)}, because of its name."
                self._notes[word] = Note("layer-at-its-word", words)
            placed.append(Layer((one,), word=word) if word else one)
        page = (float(high[0] - low[0]), float(high[1] - low[1]))
        return Drawing(tuple(placed), page, scale, tuple(self._notes.values()))

    def _tell_sheets(self) -> None:
        for layout in self._document.layouts:
            if layout.name != "Model" and any(one.dxftype() != "VIEWPORT" for one in layout):
                words = f"The sheet “{short(layout.name, 30)}” (paper space) is not drawn; the model is."
                self._notes.setdefault("sheet", Note("element-not-drawn", words))

    def _walk(self, entities: Iterable[Any], depth: int) -> None:
        for entity in entities:
            self._count += 1
            if self._count > _MOST_ENTITIES:
                raise Trouble(f"“{self._name}” has more than {_MOST_ENTITIES:,} entities; simplify the drawing.")
            kind = entity.dxftype()
            try:
                if self._hidden(entity):
                    continue
                if kind == "INSERT" and depth < _DEEPEST:
                    self._insert(entity, depth)
                else:
                    self._entity(entity, kind)
            except Trouble:
                raise
            except self._damage:
                words = f"A damaged {short(kind.lower(), 20)} is left out (layer “{short(self._layer(entity))}”)."
                self._notes.setdefault(f"damaged {kind}", Note("path-damaged", words))

    def _hidden(self, entity: Any) -> bool:
        if _said(entity, "invisible", 0) or _said(entity, "paperspace", 0):
            return True
        layers = self._document.layers
        name = self._layer(entity)
        if name not in layers:
            return False
        layer = layers.get(name)
        if layer.is_off() or layer.is_frozen():
            words = f"The layer “{short(name)}” is off or frozen in “{self._name}”. It is left out."
            self._notes.setdefault(f"off {name}", Note("layer-hidden", words))
            return True
        return False

    def _insert(self, entity: Any, depth: int) -> None:
        """A block where it is laid. The reader's own way would turn a block in one that is stretched wrongly."""
        from ezdxf.xclip import XClip

        self._tell_transparent(entity)
        if entity.attribs:
            self._lost(entity.attribs[0])
        if entity.block().block.is_xref:
            words = f"The drawing behind the block “{short(entity.dxf.name, 30)}” lies outside the file and is not drawn."
            self._notes.setdefault(f"outside {entity.dxf.name}", Note("element-not-drawn", words))
        if XClip(entity).is_clipping_enabled:
            words = f"A clipped block is drawn whole (layer “{short(self._layer(entity))}”)."
            self._notes.setdefault("clipped", Note("clip-ignored", words))
        around, layer, colour = self._within, self._layer(entity), self._colour(entity)
        for one in entity.multi_insert() if entity.mcount > 1 else (entity,):
            matrix = one.matrix44() if around.matrix is None else one.matrix44() * around.matrix
            self._within = Within(matrix, layer, colour)
            try:
                self._walk(entity.block(), depth + 1)
            finally:
                self._within = around

    def _layer(self, entity: Any) -> str:
        """The layer of an entity; what lies on layer 0 of a block is on that of the block."""
        name = _layer_of(entity)
        return self._within.layer if name == "0" else name

    def _lost(self, entity: Any) -> None:
        kind = short(entity.dxftype(), 20)
        words = f"{kind} entities are not drawn (layer “{short(self._layer(entity))}”). Explode them to lines first."
        self._notes.setdefault(f"lost {kind}", Note("element-not-drawn", words))

    def _entity(self, entity: Any, kind: str) -> None:
        key = (self._layer(entity), self._colour(entity)) if kind in _DRAWN else ("", "")
        if kind in _DRAWN:
            self._tell_transparent(entity)
        if kind in ("HATCH", "MPOLYGON"):
            self._hatch(entity, key)
        elif kind in ("SOLID", "TRACE", "3DFACE"):
            self._area(key, [polygon_of(self._within.places(entity.wcs_vertices(close=False)))])
        elif kind in _DRAWN:
            self._curve(entity, kind, key)
        elif kind not in ("VIEWPORT", "ATTDEF", "SEQEND", "VERTEX"):
            self._lost(entity)

    def _tell_transparent(self, entity: Any) -> None:
        layers, name = self._document.layers, self._layer(entity)
        by_layer = entity.is_transparency_by_layer and name in layers
        if (layers.get(name) if by_layer else entity).transparency > 0:
            words = f"What is transparent is drawn solid (layer “{short(name)}”)."
            self._notes.setdefault("transparent", Note("opacity-solid", words))

    def _hatch(self, entity: Any, key: tuple[str, str]) -> None:
        from ezdxf import colors

        solid, gradient = entity.dxf.get("solid_fill", 1), getattr(entity, "gradient", None)
        if not solid or (gradient is not None and gradient.kind):
            words = f"A hatch pattern or gradient is drawn solid (layer “{short(key[0])}”)."
            self._notes.setdefault("hatch", Note("paint-flattened", words))
        if solid and entity.dxftype() == "MPOLYGON":  # its own colour is that of its edge
            own = gradient.color1 if gradient is not None and gradient.number_of_colors else None
            key = (key[0], _hex(colors.rgb2int(own)) if own else self._of_index(entity.dxf.get("fill_color", 256), key[0]))
        paths = [subpath_of(self._within.laid(one), True) for one in boundaries_of(entity)]
        self._area(key, [one for one in paths if one is not None])

    def _curve(self, entity: Any, kind: str, key: tuple[str, str]) -> None:
        from ezdxf import path

        if str(entity.dxf.get("linetype", "BYLAYER")).upper() not in ("BYLAYER", "BYBLOCK", "CONTINUOUS"):
            words = f"Dashed lines are drawn solid (layer “{short(key[0])}”)."
            self._notes.setdefault("dashes", Note("dashes-ignored", words))
        if kind in ("SPLINE", "HELIX"):
            self._line(key, self._weight(entity), spline_of(entity, self._within))
            return
        if kind == "POLYLINE":
            without_frame(entity)
        if kind in ("LWPOLYLINE", "POLYLINE") and self._wide(entity, kind, key):
            return
        for one in path.make_path(entity, segments=_ARCS).sub_paths():
            subpath = subpath_of(self._within.laid(one), bool(one.is_closed) or bool(getattr(entity, "closed", False)))
            if subpath is not None:
                self._line(key, self._weight(entity), subpath)

    def _wide(self, entity: Any, kind: str, key: tuple[str, str]) -> bool:
        """A polyline with a width of its own is an area, whether it is closed or not; whether it was one."""
        from ezdxf import path

        rows, within = rows_of(entity, kind), self._within
        refuse_far(np.array(rows, float))
        widths = [width for _, _, *ends, _ in rows for width in ends]
        if not widths or max(widths) <= 0:
            return False
        if max(widths) - min(widths) <= 1e-9 * max(widths):
            every = path.make_path(entity, segments=_ARCS).sub_paths()
            laid = [subpath_of(within.laid(one), bool(one.is_closed)) for one in every]
            line = tuple(row for row in laid if row is not None)
            self._counted(line)
            stroke = Stroke(max(widths) * within.scale, "butt", "miter", MITER)
            self._add(key[0], Drawn(line, np.eye(2, 3), None, "nonzero", Paint(key[1]), stroke))
            return True
        elevation, ocs = entity.dxf.get("elevation", 0.0), entity.ocs()
        height = float(elevation if isinstance(elevation, int | float) else elevation[2])
        for corners in tapered(np.array(rows), bool(entity.is_closed), self._scale):
            there = ocs.points_to_wcs((x, y, height) for x, y in (*corners.tolist(), corners[0].tolist()))
            self._area(key, [polygon_of(within.places(there))], "nonzero")  # wider than its arc, it lies over itself
        return True

    def _colour(self, entity: Any) -> str:
        true = entity.dxf.get("true_color", None)
        return _hex(int(true)) if true is not None else self._of_index(int(entity.dxf.get("color", 256)), self._layer(entity))

    def _of_index(self, index: int, name: str) -> str:
        """A colour by its number, for something on a layer of that name: 0 is that of the block, and ink outside of any."""
        from ezdxf import colors

        if index == 0 and self._within.colour is not None:
            return self._within.colour
        if index == 256 and name in self._document.layers:
            layer = self._document.layers.get(name)
            true, index = layer.dxf.get("true_color", None), abs(int(layer.dxf.get("color", 7)))
            if true is not None:
                return _hex(int(true))
        # 7 is white on black and black on white: here, ink on paper.
        rgb = colors.aci2rgb(index if 1 <= index <= 255 else 7)
        return "000000" if index in (0, 7, 256) else f"{rgb.r:02X}{rgb.g:02X}{rgb.b:02X}"

    def _weight(self, entity: Any) -> float:
        """Line weight in drawing units: hundredths of a millimetre, 0.25 mm unless said."""
        weight = int(entity.dxf.get("lineweight", -1))
        name = self._layer(entity)
        if weight == -1 and name in self._document.layers:
            weight = int(self._document.layers.get(name).dxf.get("lineweight", -3))
        return (weight if weight > 0 else 25) / 100 / self._scale

    def _counted(self, subpaths: Iterable[Subpath]) -> None:
        self._segments += sum(len(one.curves) for one in subpaths)
        refuse_segments(self._segments, self._name)

    def _area(self, key: tuple[str, str], subpaths: list[Subpath], rule: str = "evenodd") -> None:
        self._counted(subpaths)
        if subpaths:
            self._add(key[0], Drawn(tuple(subpaths), np.eye(2, 3), Paint(key[1]), rule))

    def _add(self, layer: str, drawn: Drawn) -> None:
        self._areas.append((layer, drawn))
        refuse_shapes(len(self._areas), self._name)

    def _line(self, key: tuple[str, str], weight: float, subpath: Subpath) -> None:
        self._counted([subpath])
        if subpath.closed:
            self._outlines.setdefault(key, []).append(subpath)
        else:
            self._open.setdefault((*key, weight), []).append(subpath)

    def _join(self) -> None:
        """Open lines whose ends meet become one, and an outline when they come round."""
        every = [one.controls for rows in (*self._open.values(), *self._outlines.values()) for one in rows]
        if not every:
            return
        points = np.vstack(every)
        near = _JOIN * max(1e-9, float(np.ptp(points, axis=0).max()))
        for (layer, colour, weight), rows in self._open.items():
            rest = []
            for chain in chains(each_line_once(rows, near), near):
                if chain.closed:
                    self._outlines.setdefault((layer, colour), []).append(chain)
                else:
                    rest.append(chain)
            self._open[(layer, colour, weight)] = rest

    def _items(self) -> list[tuple[str, Drawn]]:
        """Outlines under areas under lines, each layer's outlines together so that one inside another is a hole."""
        eye = np.eye(2, 3)
        apart = {key: each_outline_once(rows) for key, rows in self._outlines.items()}
        out = [(key[0], Drawn(tuple(rows), eye, Paint(key[1]), "evenodd")) for key, rows in apart.items() if rows]
        out.sort(key=lambda one: -_spread(one[1]))
        out += self._areas
        for (layer, colour, weight), rows in self._open.items():
            if rows:
                line = Stroke(weight, "round", "round")
                out.append((layer, Drawn(tuple(rows), eye, None, "nonzero", Paint(colour), line)))
        return out


def _hex(rgb: int) -> str:
    return f"{rgb & 0xFFFFFF:06X}"


def _spread(drawn: Drawn) -> float:
    points = np.vstack([one.controls for one in drawn.subpaths])
    return float(np.prod(np.ptp(points, axis=0)))


def _said(entity: Any, key: str, usual: Any) -> Any:
    """What an entity says of itself; kinds that are not known have no such key."""
    from ezdxf.lldxf.const import DXFAttributeError

    try:
        return entity.dxf.get(key, usual)
    except DXFAttributeError:
        return usual


def _layer_of(entity: Any) -> str:
    return str(_said(entity, "layer", "0"))
