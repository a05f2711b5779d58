"""Paints: colours as CSS writes them, and gradients as the mean of their stops."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import tinycss2.color4
from lxml import etree

from ...colour import rgb_to_hex
from .document import href, local
from .style import Cascade, Style

_URL = re.compile(r"""^url\(\s*["']?\s*#?([^"')]*)["']?\s*\)\s*(.*)$""")


@dataclass(frozen=True)
class Paint:
    """A flat colour and how solid it is; `lost` says what of the paint was not taken as drawn."""

    colour: str
    alpha: float
    lost: str = ""


def parse_paint(text: str, style: Style, ids: dict[str, etree._Element], cascade: Cascade) -> Paint | None:
    """The paint a property asks for; None paints nothing."""
    text = text.strip()
    if text.lower() == "none":
        return None
    if text.lower() in ("context-fill", "context-stroke"):
        return Paint("000000", 1.0, text)
    reference = _URL.match(text)
    if reference:
        return _server(reference.group(1), reference.group(2), style, ids, cascade)
    return parse_colour(text, style) or Paint("000000", 1.0, f"the colour “{text}”")


def parse_colour(text: str, style: Style) -> Paint | None:
    """A CSS colour; None if it is none."""
    if text.strip().lower() == "currentcolor":
        text = style.get("color", "black")
        if text.strip().lower() == "currentcolor":
            text = "black"
    return _colour(text)


@lru_cache(maxsize=1024)
def _colour(text: str) -> Paint | None:
    """A CSS colour that needs no context."""
    try:
        found = tinycss2.color4.parse_color(text)
        if found is None or found == "currentcolor":
            return None
        srgb = found.to("srgb")
    except (NotImplementedError, ValueError):
        return None
    rgb = np.clip(np.round(np.array([value or 0.0 for value in srgb.coordinates]) * 255), 0, 255)
    return Paint(rgb_to_hex(rgb), float(np.clip(srgb.alpha if srgb.alpha is not None else 1.0, 0, 1)))


def _server(name: str, fallback: str, style: Style, ids: dict[str, etree._Element], cascade: Cascade) -> Paint | None:
    server = ids.get(name)
    if server is not None and local(server) in ("linearGradient", "radialGradient"):
        mean = _gradient_mean(server, ids, cascade)
        if mean is not None:
            return mean
        return None
    if fallback.strip():
        return parse_paint(fallback, style, {}, cascade)
    kind = local(server) if server is not None else ""
    return Paint("808080", 1.0, f"the {kind or 'missing paint'} “{name}”") if kind else None


def _gradient_mean(gradient: etree._Element, ids: dict[str, etree._Element], cascade: Cascade) -> Paint | None:
    seen: set[str] = set()
    one: etree._Element | None = gradient
    while one is not None:
        stops = [child for child in one if local(child) == "stop"]
        if stops:
            break
        name = href(one)
        if name in seen:
            return None
        seen.add(name)
        one = ids.get(name)
    if one is None:
        return None
    colours = []
    for stop in stops:
        style = cascade.style(stop, {})
        paint = parse_colour(style["stop-color"], style) or Paint("000000", 1.0)
        alpha = paint.alpha * opacity(style["stop-opacity"])
        colours.append([int(paint.colour[place : place + 2], 16) for place in (0, 2, 4)] + [alpha])
    mean = np.mean(np.array(colours, float), axis=0)
    return Paint(rgb_to_hex(np.round(mean[:3])), float(mean[3]), f"the gradient “{gradient.get('id', '')}”")


def opacity(text: str) -> float:
    """An opacity from 0 to 1; nonsense is opaque."""
    try:
        value = float(text[:-1]) / 100 if text.strip().endswith("%") else float(text)
    except ValueError:
        return 1.0
    return min(1.0, max(0.0, value)) if value == value else 1.0
