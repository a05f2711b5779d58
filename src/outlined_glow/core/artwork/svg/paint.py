"""Paints: colours as CSS writes them, gradients as shades, patterns by their element."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

import numpy as np
import tinycss2.color4
from lxml import etree

from ...colour import hex_to_rgb, rgb_to_hex
from ...colour.spaces import to_srgb
from ..drawing import Paint, Points, Shade
from .document import href, local, where
from .measure import length, times, transform
from .style import Cascade, Style


class Room(NamedTuple):
    """What a paint fills: its box in user units (x, y, width, height), and the viewport that percentages are of."""

    box: tuple[float, float, float, float]
    view: tuple[float, float]


_URL = re.compile(r"""^url\(\s*["']?\s*#?([^"')]*)["']?\s*\)\s*(.*)$""")

#: What SVG 1.1 lets stand beside a colour, for those who print.
_BESIDE = re.compile(r"\s+(icc|device)-color\(.*\)\s*$", re.IGNORECASE)


@dataclass(frozen=True, eq=False)
class Found:
    """What a paint property asks for: a colour or a shade and how solid, or a pattern; `lost` says what was not taken."""

    paint: Paint
    lost: str = ""
    pattern: etree._Element | None = None


def parse_paint(text: str, style: Style, ids: dict[str, etree._Element], cascade: Cascade, room: Room) -> Found | None:
    """The paint a property asks for, over the room it fills; None paints nothing."""
    text = text.strip()
    if text.lower() == "none":
        return None
    if text.lower() in ("context-fill", "context-stroke"):
        return Found(Paint("000000"), text)
    reference = _URL.match(text)
    if reference:
        return _server(reference.group(1), reference.group(2), style, ids, cascade, room)
    colour = parse_colour(text, style)
    return Found(colour) if colour else Found(Paint("000000"), f"the colour “{text}”")


def parse_colour(text: str, style: Style) -> Paint | None:
    """A CSS colour; None if it is none."""
    text = _BESIDE.sub("", text)
    if text.strip().lower() == "currentcolor":
        text = _BESIDE.sub("", style.get("color", "black"))
        if text.strip().lower() == "currentcolor":
            text = "black"
    return _colour(text)


#: The space that a colour of another one is taken through.
_THROUGH = {"hsl": "srgb", "hwb": "srgb", "lab": "xyz-d50", "lch": "xyz-d50", "oklab": "xyz-d65", "oklch": "xyz-d65"}


@lru_cache(maxsize=1024)
def _colour(text: str) -> Paint | None:
    """A CSS colour that needs no context."""
    try:
        found = tinycss2.color4.parse_color(text)
        if found is None or found == "currentcolor":
            return None
        found = found.to(_THROUGH.get(found.space, found.space))
    except (NotImplementedError, ValueError):
        return None
    values = [value or 0.0 for value in found.coordinates]
    srgb = 255 * np.array(values) if found.space == "srgb" else to_srgb(found.space, values)
    return None if srgb is None else Paint(rgb_to_hex(np.clip(np.round(srgb), 0, 255)), float(np.clip(found.alpha, 0, 1)))


def _server(
    name: str, fallback: str, style: Style, ids: dict[str, etree._Element], cascade: Cascade, room: Room
) -> Found | None:
    server = ids.get(name)
    kind = local(server) if server is not None else ""
    if server is not None and kind in ("linearGradient", "radialGradient"):
        return gradient(server, ids, cascade, room)
    if server is not None and kind == "pattern":
        return Found(Paint("808080"), pattern=server)
    if fallback.strip():
        return parse_paint(fallback, style, {}, cascade, room)
    return Found(Paint("808080"), f"the {kind} “{name}”") if kind else None


def chain(server: etree._Element, ids: dict[str, etree._Element]) -> list[etree._Element]:
    """A paint server and those it refers to for what it does not say itself."""
    out = [server]
    while True:
        following = ids.get(href(out[-1]))
        if following is None or following in out:
            return out
        out.append(following)


def said(servers: list[etree._Element], name: str) -> str | None:
    """An attribute of the first server of a chain that has it."""
    return next((one.get(name) for one in servers if one.get(name) is not None), None)


def _tell_undone(server: etree._Element, cascade: Cascade) -> None:
    own = cascade.style_there(server)
    if own["color-interpolation"].lower() == "linearrgb":
        cascade.problem("“color-interpolation: linearRGB”", server)
    if own["transform"] and server.get("transform") is None:
        cascade.problem(f"“transform: {own['transform']}”", server)


def _ramp(stops: list[etree._Element], cascade: Cascade) -> tuple[tuple[float, ...], Points]:
    """Where the stops are, rising from 0 to 1, and their colours (n, 4)."""
    at: list[float] = []
    rgba = []
    for stop in stops:
        style = cascade.style_there(stop)
        paint = parse_colour(style["stop-color"], style)
        if paint is None:
            cascade.problem(f"“stop-color: {style['stop-color']}”", stop)
            paint = Paint("000000")
        assert isinstance(paint.colour, str)
        rgba.append([*hex_to_rgb(paint.colour), paint.alpha * opacity(style["stop-opacity"])])
        share = float(np.clip(length(stop.get("offset"), 0.0, 1.0), 0, 1))
        at.append(max(share, at[-1] if at else 0.0))
    return tuple(at), np.array(rgba, float)


def gradient(server: etree._Element, ids: dict[str, etree._Element], cascade: Cascade, room: Room) -> Found | None:
    """A gradient over its room: a shade, or one colour where it has one stop or no room."""
    servers = chain(server, ids)
    stops = next((rows for rows in ([c for c in one if local(c) == "stop"] for one in servers) if rows), [])
    if not stops:
        return None
    _tell_undone(server, cascade)
    at, rows = _ramp(stops, cascade)
    last = Paint(rgb_to_hex(rows[-1, :3]), float(rows[-1, 3]))
    user = said(servers, "gradientUnits") == "userSpaceOnUse"
    x, y, wide, high = room.box
    if len(stops) == 1 or (not user and (wide <= 0 or high <= 0)):
        return Found(last)

    def get(name: str, default: str, across: float) -> float:
        return length(said(servers, name) or default, 0.0, across if user else 1.0)

    base = np.array([[1.0, 0, 0], [0, 1.0, 0]]) if user else np.array([[wide, 0, x], [0, high, y]])
    base = times(base, transform(said(servers, "gradientTransform")))
    spread = said(servers, "spreadMethod") or "pad"
    view_w, view_h = room.view if user else (1.0, 1.0)
    if local(server) == "linearGradient":
        x1, y1, x2, y2 = get("x1", "0%", view_w), get("y1", "0%", view_h), get("x2", "100%", view_w), get("y2", "0%", view_h)
        dx, dy = x2 - x1, y2 - y1
        if math.hypot(dx, dy) < 1e-12:
            return Found(last)
        along = times(base, np.array([[dx, -dy, x1], [dy, dx, y1]]))
        return Found(Paint(Shade(False, at, rows, along, spread=spread, name=where(server))))
    whole = math.hypot(view_w, view_h) / math.sqrt(2)
    cx, cy, r = get("cx", "50%", view_w), get("cy", "50%", view_h), get("r", "50%", whole)
    if r <= 1e-12:
        return Found(last)
    fx = get("fx", "50%", view_w) if said(servers, "fx") is not None else cx
    fy = get("fy", "50%", view_h) if said(servers, "fy") is not None else cy
    focus, start = ((fx - cx) / r, (fy - cy) / r), max(0.0, get("fr", "0%", whole)) / r
    matrix = times(base, np.array([[r, 0, cx], [0, r, cy]]))
    return Found(Paint(Shade(True, at, rows, matrix, focus, start, spread, where(server))))


def opacity(text: str) -> float:
    """An opacity from 0 to 1; nonsense is opaque."""
    try:
        value = float(text[:-1]) / 100 if text.strip().endswith("%") else float(text)
    except ValueError:
        return 1.0
    return min(1.0, max(0.0, value)) if value == value else 1.0
