"""The SVG reader against an independent renderer, pixel by pixel, and what it says of what it cannot take."""

from __future__ import annotations

import base64
import contextlib
import gzip
import io
import zlib
from importlib import resources
from pathlib import Path

import numpy as np
import pytest
import resvg_py
import shapely
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from shapely.geometry import box

from outlined_glow.core.artwork import areas, limits, paint, read_picture
from outlined_glow.core.artwork.drawing import Drawn, Shade
from outlined_glow.core.artwork.painting import natural_width_mm
from outlined_glow.core.artwork.shades import bands, colours_at
from outlined_glow.core.board.draw import draw_picture
from outlined_glow.core.board.view import View
from outlined_glow.core.colour import hex_to_rgb
from outlined_glow.core.errors import Trouble

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
PAGE = '<rect width="100" height="80" fill="#101010"/>'

#: Each fills a page of 100 x 80 units painted #101010 first, so that the painted box is the page.
DRAWINGS = {
    "basic shapes": """<rect x="5" y="5" width="30" height="20" rx="6" fill="red"/><circle cx="60" cy="20" r="12" fill="#0f0"/>
        <ellipse cx="85" cy="40" rx="9" ry="16" fill="rgb(0,0,255)"/><polygon points="10,70 30,40 45,75" fill="orange"/>
        <polyline points="50,70 60,45 75,72" fill="hsl(300,100%,50%)"/><line x1="5" y1="35" x2="40" y2="32" stroke="#fff" stroke-width="2"/>""",
    "paths and arcs": """<path d="M10 10h20v15l-10 8z m35 0 a12 8 30 1 1 20 5 z" fill="#e03"/>
        <path d="M50 60 q10 -20 20 0 t20 0 v15 h-40z" fill="#0ae"/><path d="M10 60 C 20 40 30 80 40 60 S 45 50 30 45z" fill="#ee0"/>
        <path d="M70 20a8 8 0 018 8L90 20z" fill="#fff"/>""",
    "nested transforms": """<g transform="translate(50 40) rotate(30)"><g transform="scale(2 1) skewX(20)">
        <rect x="-10" y="-10" width="20" height="20" fill="#3c6"/></g><circle r="5" cx="20" cy="-18" fill="#c3f"/></g>
        <rect width="10" height="6" transform="matrix(1 .5 -.4 1 12 50)" fill="#fd0"/>
        <rect x="70" y="60" width="12" height="12" transform="rotate(45,76,66)" fill="#0ff"/>""",
    "use and symbol": """<defs><path id="leaf" d="M0 0q8 -12 16 0q-8 12 -16 0"/><symbol id="eye" viewBox="0 0 10 10">
        <circle cx="5" cy="5" r="5" fill="#fff"/><circle cx="5" cy="5" r="2" fill="#06c"/></symbol></defs>
        <use href="#leaf" x="10" y="20" fill="#0b5"/><use xlink:href="#leaf" transform="translate(40 50) scale(2)" fill="#b50"/>
        <use href="#eye" x="70" y="10" width="20" height="20"/><use href="#eye" x="60" y="50" width="26" height="13"/>""",
    "css cascade": """<style>/* a comment */ .a{fill:#f00} g > .b{fill:#0f0 !important} rect:first-child{stroke:#fff;stroke-width:2}
        #c{fill:#00f} @media print{.a{fill:#888}}</style>
        <g><rect class="a" x="5" y="5" width="20" height="20"/><rect class="a b" x="35" y="5" width="20" height="20" fill="#123"/></g>
        <rect id="c" class="a" x="65" y="5" width="20" height="20" style="fill: #a0f"/>
        <g fill="#0cc"><rect x="40" y="45" width="20" height="20"/></g>
        <g color="#fa0"><circle cx="80" cy="60" r="9" fill="currentColor"/></g>""",
    "fill rules": """<path fill="#f55" d="M20 5 L32 40 L2 18 L38 18 L8 40z"/><path fill="#5f5" fill-rule="evenodd" d="M70 5 L82 40 L52 18 L88 18 L58 40z"/>
        <path fill="#55f" fill-rule="evenodd" d="M10 50h30v25h-30z M18 56h14v13h-14z M22 60h6v5h-6z"/>
        <path fill="#ff5" d="M55 50h30v25h-30z M63 56v13h14v-13z"/>""",
    "caps, joins and widths": """<g fill="none" stroke="#fff" stroke-width="6"><path d="M8 10h20" stroke-linecap="butt"/>
        <path d="M8 24h20" stroke-linecap="round"/><path d="M8 38h20" stroke-linecap="square"/>
        <path d="M42 30l8 -20 8 20" stroke-linejoin="miter" stroke="#f80"/><path d="M68 30l8 -20 8 20" stroke-linejoin="round" stroke="#8f0"/>
        <path d="M42 70l8 -20 8 20" stroke-linejoin="bevel" stroke="#08f"/><path d="M68 72l3 -22 3 22" stroke-miterlimit="2" stroke="#f0f"/>
        <rect x="10" y="52" width="18" height="18" stroke-width="3" stroke="#0ff"/></g>""",
    "dashes": """<g fill="none" stroke-width="3"><path d="M5 10h90" stroke="#fff" stroke-dasharray="8 4"/>
        <path d="M5 22h90" stroke="#f66" stroke-dasharray="6" stroke-dashoffset="3"/>
        <circle cx="30" cy="52" r="18" stroke="#6f6" stroke-dasharray="5 3 1 3"/>
        <path d="M60 35h30v35h-30z" stroke="#66f" stroke-dasharray="9,5" stroke-linecap="round"/></g>""",
    "stroke under a stretch": """<g transform="scale(2 .5)"><circle cx="25" cy="80" r="14" fill="#246" stroke="#fe9" stroke-width="6"/></g>""",
    "nested svg and percent": """<svg x="10" y="10" width="40" height="30" viewBox="0 0 10 10" preserveAspectRatio="none"><rect width="10" height="10" fill="#2a9"/>
        <circle cx="50%" cy="50%" r="3" fill="#fff"/></svg><svg x="55" y="35" width="40" height="40" viewBox="0 0 20 10"><rect width="20" height="10" fill="#d36"/></svg>
        <rect x="60%" y="5%" width="30%" height="15%" fill="#ff8"/>""",
    "hidden, switched, painted first": """<rect x="5" y="5" width="20" height="20" fill="#f00" display="none"/>
        <g visibility="hidden"><rect x="30" y="5" width="20" height="20" fill="#0f0"/><rect x="55" y="5" width="20" height="20" fill="#00f" visibility="visible"/></g>
        <circle cx="30" cy="55" r="14" fill="#fff" stroke="#f90" stroke-width="10" paint-order="stroke"/>
        <switch><rect systemLanguage="xx" width="9" height="9"/><rect x="60" y="45" width="20" height="20" fill="#9f9"/></switch>""",
    "clip paths": """<clipPath id="a"><circle cx="30" cy="30" r="20"/><path clip-rule="evenodd" d="M50 10h40v40h-40z M60 20h20v20h-20z"/></clipPath>
        <clipPath id="b" clipPathUnits="objectBoundingBox"><ellipse cx=".5" cy=".5" rx=".5" ry=".3"/></clipPath>
        <g clip-path="url(#a)"><rect width="100" height="40" fill="#e33"/><circle cx="30" cy="45" r="15" fill="#3e3"/></g>
        <g transform="rotate(10 50 60)"><rect x="20" y="55" width="50" height="20" fill="#38f" clip-path="url(#b)"/></g>""",
    "masks": """<mask id="m"><rect width="100" height="80" fill="#fff"/><circle cx="30" cy="30" r="12"/></mask>
        <mask id="n" maskContentUnits="objectBoundingBox"><rect x=".25" y=".25" width=".5" height=".5" fill="#fff"/></mask>
        <g mask="url(#m)"><rect x="10" y="10" width="40" height="40" fill="#e3a"/></g>
        <rect x="60" y="20" width="30" height="50" fill="#3ea" mask="url(#n)"/>""",
    "translucent": """<rect x="10" y="10" width="40" height="40" fill="#f00"/><rect x="30" y="30" width="40" height="40" fill="#00f" fill-opacity=".5"/>
        <g opacity=".6"><circle cx="70" cy="25" r="15" fill="#0f0"/><circle cx="80" cy="35" r="15" fill="#ff0"/></g>
        <circle cx="20" cy="60" r="12" fill="rgba(255,255,255,.4)" stroke="#0ff" stroke-opacity=".7" stroke-width="4"/>""",
    "patterns": """<pattern id="p" width="10" height="8" patternUnits="userSpaceOnUse"><rect width="5" height="4" fill="#f60"/><circle cx="7.5" cy="6" r="2" fill="#6f0"/></pattern>
        <pattern id="q" width=".25" height=".25" viewBox="0 0 4 4"><path d="M0 0h4l-4 4z" fill="#06f"/></pattern>
        <pattern id="r" href="#p" patternTransform="rotate(30) scale(.8)"/>
        <rect x="5" y="5" width="40" height="30" fill="url(#p)"/><circle cx="75" cy="22" r="18" fill="url(#q)"/>
        <rect x="10" y="45" width="60" height="25" fill="url(#r)" stroke="#fff" stroke-width="2"/>""",
    "markers": """<marker id="tip" viewBox="0 0 10 10" refX="10" refY="5" markerWidth="4" markerHeight="4" orient="auto-start-reverse">
        <path d="M0 0L10 5L0 10z" fill="#fd0"/></marker><marker id="dot" markerWidth="4" markerHeight="4" refX="2" refY="2"><circle cx="2" cy="2" r="2" fill="#0df"/></marker>
        <path d="M15 15h40l20 30" fill="none" stroke="#fff" stroke-width="3" marker-start="url(#tip)" marker-mid="url(#dot)" marker-end="url(#tip)"/>
        <path d="M15 60q20 -25 40 0t30 0" fill="none" stroke="#f6f" stroke-width="2" marker-end="url(#tip)"/>""",
    "styles that what is referred to inherits from where it stands": """<g color="#fa0" fill="#0bf"><marker id="tip" markerWidth="4" markerHeight="4"
        refX="2" refY="2"><rect width="4" height="4" fill="currentColor"/></marker><mask id="m" color="#fff"><rect width="100" height="40"
        fill="currentColor"/></mask><linearGradient id="l" color="#f0f"><stop stop-color="currentColor"/></linearGradient>
        <symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="5"/></symbol></g>
        <path d="M15 15h40" stroke="#fff" stroke-width="3" marker-end="url(#tip)"/><rect x="60" y="5" width="30" height="60" mask="url(#m)" fill="#6f6"/>
        <rect x="10" y="40" width="20" height="20" fill="url(#l)"/><g fill="#f33"><use href="#s" x="35" y="40" width="20" height="20"/></g>""",
    "a symbol cut to its frame": """<symbol id="s" viewBox="0 0 10 10"><circle cx="10" cy="5" r="5" fill="#fa5"/></symbol>
        <use href="#s" x="10" y="10" width="30" height="30"/><svg x="50" y="30" width="30" height="30"><rect x="-10" y="10" width="80" height="10" fill="#5af"/></svg>""",
    "dots of round and square caps": """<circle cx="30" cy="40" r="25" fill="none" stroke="#fff" stroke-width="3" stroke-linecap="round" stroke-dasharray="0 8"/>
        <path d="M60 10v60" stroke="#f80" stroke-width="5" stroke-linecap="square" stroke-dasharray="0 12"/>""",
    "masks by alpha, and on a mask": """<mask id="m" style="mask-type:alpha" maskUnits="userSpaceOnUse" x="5" y="5" width="40" height="70">
        <circle cx="25" cy="40" r="18"/></mask><g mask="url(#m)"><rect x="5" y="5" width="40" height="70" fill="#fff"/></g>
        <mask id="k" maskUnits="userSpaceOnUse" x="0" y="0" width="100" height="80"><rect x="50" width="20" height="80" fill="#fff"/></mask>
        <mask id="n" mask="url(#k)" maskUnits="userSpaceOnUse" x="0" y="0" width="100" height="80"><circle cx="72" cy="40" r="18" fill="#fff"/></mask>
        <rect x="50" y="5" width="45" height="70" fill="#6f6" mask="url(#n)"/>""",
    "arcs without a radius": """<path d="M10 10 A0 20 0 0 1 60 10 L60 60 A20 0 0 0 1 10 60z" fill="#fa0"/>""",
    "about an origin": """<rect x="20" y="28" width="28" height="16" fill="#0f8" transform-origin="24 31" transform="rotate(45)"/>
        <rect x="60" y="28" width="8" height="6" fill="#f08" transform-origin="50% 50%" transform="rotate(15)"/>""",
    "gradients of what is moved and turned": """<linearGradient id="g"><stop offset=".4" stop-color="#f80"/><stop offset=".4" stop-color="#08f"/></linearGradient>
        <radialGradient id="r"><stop offset=".6" stop-color="#ff0"/><stop offset=".6" stop-color="#808"/></radialGradient>
        <radialGradient id="f" gradientUnits="userSpaceOnUse" cx="20" cy="12" r="9" fx="28" fy="12"><stop offset=".5" stop-color="#fff"/><stop offset=".5" stop-color="#0a0"/></radialGradient>
        <g transform="translate(30 5) rotate(25)"><rect width="30" height="16" fill="url(#g)" stroke="url(#r)" stroke-width="3"/></g>
        <rect width="50" height="28" transform="matrix(.6 .7 .7 -.1 20 36)" fill="url(#r)"/>
        <g transform="translate(52 50) scale(1.1 .9)"><rect width="40" height="26" fill="url(#f)"/></g>""",
    "a clip of a clip in other units": """<clipPath id="in"><circle cx="50" cy="40" r="22"/></clipPath><clipPath id="out" clipPathUnits="objectBoundingBox"
        transform="rotate(3)" clip-path="url(#in)"><rect x=".1" y=".1" width=".7" height=".8"/></clipPath><rect x="20" y="10" width="60" height="60" fill="#f80" clip-path="url(#out)"/>""",
    "what is not painted takes room": """<clipPath id="c" clipPathUnits="objectBoundingBox"><rect width=".5" height=".6"/></clipPath>
        <g clip-path="url(#c)"><rect x="5" y="5" width="30" height="20" fill="none"/><circle cx="60" cy="50" r="20" fill="#0af" opacity="0"/>
        <path d="M10 10H70V60z" fill="#f80"/><rect x="80" y="60" width="15" height="15" visibility="hidden"/></g>""",
    "a mask over a pattern": """<pattern id="p" width=".3" height=".3"><rect width="9" height="9" fill="#0af"/></pattern><mask id="m" maskContentUnits="objectBoundingBox">
        <circle cx=".5" cy=".5" r=".3" fill="#fff"/></mask><g mask="url(#m)"><rect x="30" y="20" width="40" height="40" fill="url(#p)"/></g>""",
    "words that no property has": """<rect x="55" y="5" width="20" height="20" fill="#0af" visibility="none"/><path d="M60 70L75 40L90 70" fill="none"
        stroke="#fff" stroke-width="6" stroke-linejoin="sharp" stroke-linecap="flat" paint-order="stroke stroke"/>""",
    "functions of too many numbers": """<rect x="30" y="20" width="30" height="20" fill="#f80" transform="rotate(20 50)"/>
        <rect x="10" y="55" width="30" height="12" fill="#0af" transform="skewX(9,9)"/>
        <rect x="50" y="55" width="30" height="12" fill="#fa0" transform="matrix(1 0 0 1 9)"/>""",
    "a view box less than nothing": """<svg x="10" y="10" width="60" height="50" viewBox="0 0 -5 4"><circle cx="25" cy="20" r="15" fill="#f80"/></svg>""",
    "what is meant for others": """<switch><rect requiredExtensions="http://example.invalid/x" width="60" height="60" fill="#f00"/>
        <rect systemLanguage="de, fr-en" width="50" height="50" fill="#00f"/><circle cx="50" cy="40" r="20" fill="#0f0"/></switch>""",
    "units": """<rect x="2mm" y="0.5cm" width="0.3in" height="18pt" fill="#c9f"/><circle cx="60px" cy="3pc" r="4mm" fill="#9fc"/>""",
}


def both(body: str, scale: int = 8) -> tuple[np.ndarray, np.ndarray]:
    """The drawing by this reader and by the independent one, without anti-aliasing differences at scale."""
    text = f'{HEAD} width="100" height="80" viewBox="0 0 100 80">{PAGE}{body}</svg>'
    painted = paint(read_picture(text.encode(), "drawing.svg"), 100.0, "drawing.svg")
    assert painted.size == pytest.approx((100, 80))
    view = View("front", scale, 0, 80, 100 * scale, 80 * scale)
    ours = draw_picture(painted, (0, 0), view)
    png = resvg_py.svg_to_bytes(svg_string=text, width=100 * scale, dpi=96, skip_system_fonts=True)
    theirs = np.asarray(Image.open(io.BytesIO(bytes(png))).convert("RGB"))
    return ours.astype(int), theirs.astype(int)


@pytest.mark.parametrize("name", DRAWINGS)
def test_agrees_with_an_independent_renderer(name: str) -> None:
    ours, theirs = both(DRAWINGS[name])
    assert ours.shape == theirs.shape
    # A pixel on an edge may be shared differently; a wrong shape shows as whole pixels of another colour.
    wrong = np.abs(ours - theirs).max(axis=2) > 110
    # (The other one draws its patterns as pictures of a tile, whose edges are soft.)
    assert wrong.mean() < (0.01 if name == "patterns" else 0.0006), (
        f"{wrong.sum()} pixels differ, first at {np.argwhere(wrong)[:3].tolist()}"
    )


def test_a_line_that_does_not_scale_is_as_wide_everywhere() -> None:
    body = """<g transform="scale(2 .5)"><circle cx="25" cy="80" r="20" fill="#0af" stroke="#f80" stroke-width="4"
        vector-effect="non-scaling-stroke"/></g>"""
    text = f'{HEAD} width="100" height="80" viewBox="0 0 100 80">{body}</svg>'
    painted = paint(read_picture(text.encode(), "drawing.svg"), 84.0, "drawing.svg")
    assert painted.size == pytest.approx((84, 24), abs=0.01)
    blue = next(swatch.region for swatch in painted.swatches if swatch.colour == "00AAFF")
    wide, high = blue.bounds[2] - blue.bounds[0], blue.bounds[3] - blue.bounds[1]
    assert (wide, high) == pytest.approx((76, 16), abs=0.02)


def test_shapes_that_are_measured_for_a_mask_are_not_counted_twice(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(limits, "MOST_SHAPES", 50)
    mask = '<mask id="m"><rect width="90" height="70" fill="#fff"/></mask>'

    def masked(many: int, deep: int) -> bytes:
        within = '<g mask="url(#m)">' * deep + '<rect width="9" height="9"/>' * many + "</g>" * deep
        return f"{HEAD}>{mask}{within}</svg>".encode()

    assert read_picture(masked(40, 1), "masked.svg").paths
    with pytest.raises(Trouble, match="more than 50 shapes"):
        read_picture(masked(30, 15), "deep.svg")


def test_the_moth_agrees_too(moth) -> None:  # type: ignore[no-untyped-def]
    data = moth.members[moth.designs[0].artwork.pictures[0].member]
    painted = paint(read_picture(data, "moth.svg"), 68.29, "moth.svg")
    view = View("front", 20, 0, painted.size[1], round(68.29 * 20), round(painted.size[1] * 20))
    ours = draw_picture(painted, (0, 0), view, paper="FFFFFF").astype(int)
    png = resvg_py.svg_to_bytes(svg_string=data.decode(), width=view.width, dpi=96, background="#ffffff")
    theirs = np.asarray(Image.open(io.BytesIO(bytes(png))).convert("RGB")).astype(int)
    rows = min(len(ours), len(theirs))
    wrong = np.abs(ours[:rows] - theirs[:rows]).max(axis=2) > 150
    assert wrong.mean() < 0.002


_WAY = '<path id="way" d="M1 9h18" fill="none"/>'
NOTES = {
    "font-not-here": '<text y="9" id="motto" font-family="Nowhere Grotesk">glow</text>',
    "image-not-drawn": '<image id="far" href="http://example.invalid/a.png" width="5" height="5"/>',
    "clip-ignored": '<rect width="9" height="9" clip-path="url(#k)"/>',
    "mask-ignored": '<rect width="9" height="9" mask="url(#m)"/>',
    "filter-ignored": '<g filter="url(#f)"><rect width="9" height="9"/></g>',
    "path-damaged": '<path d="M0 0h9v9z L x" fill="red"/>',
    "use-missing": '<use href="#nowhere"/>',
    "element-not-drawn": "<foreignObject/>",
    "blend-ignored": '<rect width="9" height="9" style="mix-blend-mode:multiply"/>',
    "style-not-read": '<rect id="vast" style="width:calc(5px + 1em)" height="5"/>',
    "paint-flattened": '<rect id="sun" width="9" height="9" fill="url(#f)"/><filter id="f"/>',
    "transform-ignored": '<rect id="tilted" width="9" height="9" transform="rotate3d(1 0 0 40)"/>',
    "effect-ignored": '<rect id="fixed" width="9" height="9" vector-effect="fixed-position"/>',
    "text-not-vertical": '<text id="down" y="9" writing-mode="tb">glow</text>',
    "font-style-ignored": '<text id="small" y="9" font-variant="small-caps">glow</text>',
    "text-length-ignored": '<text id="two" y="9" textLength="15">a<tspan x="2">b</tspan></text>',
    "moving-part-still": '<rect width="9" height="9"><animate id="hop" attributeName="x" to="9"/></rect>',
    "join-plain": '<path id="bent" d="M0 0h9v9" fill="none" stroke="red" stroke-linejoin="arcs"/>',
    "text-path-missing": '<text y="9"><textPath id="lost" href="#nowhere">glow</textPath></text>',
    "layer-at-its-word": '<g id="metal"><rect width="9" height="9"/></g>',
    "dashes-ignored": '<path id="fine" d="M0 0H19" stroke="red" stroke-dasharray=".0004"/>',
    "text-line-ignored": f'{_WAY}<text><textPath id="lined" href="#way" text-decoration="underline">glow</textPath></text>',
    "text-path-plain": f'{_WAY}<text><textPath id="right" href="#way" side="right">glow</textPath></text>',
    "text-mixed-directions": '<text id="both" y="9" font-size="4">glow \u05d0\u05d1</text>',
    "path-damaged, a list of points": '<polygon id="odd" points="0 0 9 0 9 9 x 1 1"/>',
    "dashes-ignored, not understood": '<path id="dots" d="M0 9H19" stroke="red" stroke-dasharray="4;2"/>',
    "style-not-read, lines in a form": '<text id="poem" y="9" style="shape-inside:url(#r)">one two</text>',
    "style-not-read, a mask by picture": '<rect id="veil" width="9" height="9" style="mask-image:linear-gradient(red, blue)"/>',
    "style-not-read, rules in rules": "<style>g { fill: red; &amp; rect { fill: blue } }</style>",
    "style-not-read, linear mixing": """<linearGradient id="l" color-interpolation="linearRGB"><stop/><stop offset="1" stop-color="red"/>
        </linearGradient><rect width="9" height="9" fill="url(#l)"/>""",
    "style-not-read, a word": '<rect id="none" width="9" height="9" visibility="none"/>',
    "transform-ignored, a unit": '<rect id="far" width="9" height="9" transform="translate(2em)"/>',
    "element-not-drawn, another language": '<rect id="de" width="9" height="9" systemLanguage="de"/>',
    "element-not-drawn, an extension": '<rect id="more" width="9" height="9" requiredExtensions="http://example.invalid/x"/>',
    "text-not-drawn": f'<text id="book" y="9" font-size="1">{"glow " * 1100}</text>',
}


@pytest.mark.parametrize(
    "green",
    [
        "lab(46.2775% -47.5621 48.5837)",
        "lch(46.2775% 67.9892 134.3912)",
        "oklab(51.975% -.1403 .10768)",
        "oklch(51.975% .17686 142.495)",
        "color(display-p3 .21604 .49418 .13151)",
        "color(xyz .07719 .15438 .02573)",
        "color(xyz-d50 .08312 .154746 .020961)",
        "color(srgb-linear 0 .21586 0)",
        "hwb(120 0% 49.8%)",
        "#008000 icc-color(press, .5, 0, .9, .1)",
        "currentColor",
    ],
)
def test_green_is_green_in_every_space(green: str) -> None:
    """The values are those of CSS Color 4 for one green, each in its own space."""
    drawing = read_picture(
        f'{HEAD} color="green" viewBox="0 0 9 9"><rect width="9" height="9" fill="{green}"/></svg>'.encode(), "x.svg"
    )
    painted = paint(drawing, 9, "x.svg")
    assert np.abs(np.array(hex_to_rgb(painted.swatches[0].colour)) - (0, 128, 0)).max() <= 1
    assert painted.notes == ()


def test_a_stop_of_no_colour_is_told() -> None:
    stops = '<linearGradient id="g"><stop id="odd" stop-color="greenish"/><stop offset="1" stop-color="#fff"/></linearGradient>'
    drawing = read_picture(
        f'{HEAD} viewBox="0 0 9 9">{stops}<rect width="9" height="9" fill="url(#g)"/></svg>'.encode(), "x.svg"
    )
    assert any("greenish" in note.text and "odd" in note.text for note in drawing.notes)


def test_a_word_that_a_property_has_not_leaves_what_was_inherited() -> None:
    frame = '<g fill-rule="EvenOdd"><path d="M0 0h20v20h-20z M5 5h10v10h-10z" fill-rule="odd"/></g>'
    drawing = read_picture(f'{HEAD} viewBox="0 0 20 20">{frame}</svg>'.encode(), "x.svg")
    assert paint(drawing, 20, "x.svg").silhouette.area == pytest.approx(300)
    assert any("fill-rule: odd" in note.text for note in drawing.notes)


def test_what_is_meant_for_english_is_drawn() -> None:
    words = '<switch><rect systemLanguage="de" width="9" height="9"/><rect systemLanguage="fr, EN-us" width="20" height="20"/></switch>'
    drawing = read_picture(f'{HEAD} viewBox="0 0 20 20">{words}</svg>'.encode(), "x.svg")
    assert paint(drawing, 20, "x.svg").silhouette.area == pytest.approx(400)


def test_much_of_a_clear_group_may_lie_outside_its_clip() -> None:
    dots = "".join(f'<circle cx="{at}" cy="10" r="3" fill="#{at % 8}a{at % 5}"/>' for at in range(40))
    clip = '<clipPath id="c"><rect width="20" height="20"/></clipPath>'
    drawing = read_picture(
        f'{HEAD} viewBox="0 0 90 20">{clip}<g opacity=".5" clip-path="url(#c)">{dots}</g></svg>'.encode(), "x.svg"
    )
    assert paint(drawing, 20, "x.svg").silhouette.area > 50


def test_too_many_veils_are_taken_as_solid(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(areas, "_MOST_MIXED", 3)
    veils = "".join(f'<rect x="{at}" width="9" height="9" fill="#{at}80040" fill-opacity=".5"/>' for at in range(6))
    drawing = read_picture(f'{HEAD} viewBox="0 0 20 20"><rect width="20" height="20"/>{veils}</svg>'.encode(), "x.svg")
    painted = paint(drawing, 20, "x.svg")
    assert "opacity-solid" in [note.code for note in painted.notes]


def test_a_way_that_is_said_elsewhere_is_told() -> None:
    paths = '<path id="lent" style="d:var(--way)"/><path d="M0 0h9v9z"/>'
    drawing = read_picture(f'{HEAD} viewBox="0 0 20 20">{paths}</svg>'.encode(), "x.svg")
    [note] = [one for one in paint(drawing, 20, "x.svg").notes if one.code == "style-not-read"]
    assert "lent" in note.text


@pytest.mark.parametrize(("style", "fill"), [
    ("fill:var(--one)", "FF0000"),
    ("--one:lime; fill:var(--one)", "00FF00"),
    ("--one:initial; fill:var(--one, blue)", "0000FF"),
    ("fill:var(--none,var(--two))", "0080FF"),
    ("--way:128; fill:rgb(var(--way), 0, var( --way ))", "800080"),
    ("--a:var(--b); --b:var(--a); fill:var(--a)", "000000"),
    ("".join(f"--a{at}:var(--a{at + 1})var(--a{at + 1});" for at in range(70)) + "--a70: ;fill:var(--a0)", "000000"),
])  # fmt: skip
def test_variables_stand_for_their_values(style: str, fill: str) -> None:
    sheet = "<style>:root { --one: red; --two: #0080ff; --One: black } </style>"
    drawing = read_picture(
        f'{HEAD} viewBox="0 0 20 20">{sheet}<rect width="9" height="9" style="{style}"/></svg>'.encode(), "x.svg"
    )
    [drawn] = drawing.paths
    assert isinstance(drawn, Drawn)
    assert drawn.fill is not None
    assert drawn.fill.colour == fill
    assert bool(drawing.notes) == (fill == "000000"), "what stands for nothing is told"


DEEP = {
    "groups": ("<g>", "</g>"),
    "clipped": ('<g clip-path="url(#c)">', "</g>"),
    "veiled": ('<g opacity=".999">', "</g>"),
    "viewports": ('<svg width="20" height="20">', "</svg>"),
}


@pytest.mark.parametrize("kind", DEEP)
def test_what_lies_two_hundred_levels_deep_is_drawn(kind: str) -> None:
    begin, end = DEEP[kind]
    clip = '<clipPath id="c"><rect width="12" height="8"/></clipPath>'
    inner = f'{clip}{begin * 230}<rect width="10" height="10"/>{end * 230}'
    painted = paint(read_picture(f'{HEAD} viewBox="0 0 20 20">{inner}</svg>'.encode(), "x.svg"), 20, "x.svg")
    assert painted.silhouette.area == pytest.approx(320 if kind == "clipped" else 400, rel=0.01)


def test_references_and_brackets_too_deep_are_refused() -> None:
    chain = '<rect id="u0" width="9" height="9"/>' + "".join(f'<g id="u{at + 1}"><use href="#u{at}"/></g>' for at in range(900))
    for inner, words in (
        (f'<defs>{chain}</defs><use href="#u900"/>', "nests its references too deeply"),
        (f'<rect width="9" height="9" style="fill:{"rgb(" * 3000}"/>', "3000 brackets within one another"),
        (f"<style>{'@media all {' * 400}</style>", "400 brackets within one another"),
    ):
        with pytest.raises(Trouble, match=words):
            read_picture(f'{HEAD} viewBox="0 0 20 20">{inner}</svg>'.encode(), "x.svg")


def test_what_is_told_of_a_picture_within_a_drawing_reaches_its_reader() -> None:
    inner = f'{HEAD} viewBox="0 0 10 10"><text y="8" font-size="4">hi</text><rect width="4" height="4" filter="url(#f)"/></svg>'
    link = f"data:image/svg+xml;base64,{base64.b64encode(inner.encode()).decode()}"
    outer = f'{HEAD} viewBox="0 0 40 40"><image x="5" y="10" width="20" height="20" href="{link}"/></svg>'
    drawing = read_picture(outer.encode(), "x.svg")
    [note] = [one for one in drawing.notes if one.code == "filter-ignored"]
    assert note.text.startswith("In the picture <image> on line 1: A filter is not applied: <rect>")
    alone = read_picture(inner.encode(), "y.svg").words[0]
    [word] = drawing.words
    assert (word.text, word.x, word.y) == ("hi", pytest.approx(5 + 2 * alone.x), pytest.approx(10 + 2 * alone.y))
    assert word.caps == pytest.approx(2 * alone.caps)


def test_references_of_clips_and_masks_too_deep_are_told() -> None:
    for kind, code in (("mask", "mask-ignored"), ("clipPath", "clip-ignored")):
        way = "mask" if kind == "mask" else "clip-path"
        row = "".join(f'<{kind} id="m{at}" {way}="url(#m{at + 1})"><rect width="9" height="9"/></{kind}>' for at in range(30))
        inner = f'{row}<rect width="8" height="8" {way}="url(#m0)"/>'
        drawing = read_picture(f'{HEAD} viewBox="0 0 20 20">{inner}</svg>'.encode(), "x.svg")
        assert any(one.code == code and "references deep" in one.text for one in drawing.notes)


@pytest.mark.parametrize("code", NOTES)
def test_nothing_is_dropped_silently(code: str) -> None:
    drawing = read_picture(f'{HEAD} viewBox="0 0 20 20"><rect width="20" height="20"/>{NOTES[code]}</svg>'.encode(), "x.svg")
    told = [note.text for note in drawing.notes if note.code == code.split(",")[0]]
    assert told
    if "id=" in NOTES[code]:
        assert "line 1" in told[0]


FIELD = box(10, 10, 90, 70)
GRADIENTS = {
    "linear": '<linearGradient id="g"><stop stop-color="#f00"/><stop offset=".6" stop-color="#ff0"/><stop offset="1" stop-color="#00f"/></linearGradient>',
    "turned": '<linearGradient id="g" gradientTransform="rotate(40)" spreadMethod="reflect" x2=".4"><stop stop-color="#fff"/><stop offset="1"/></linearGradient>',
    "in user units": '<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="20" y1="10" x2="80%" y2="70"><stop offset=".2" stop-color="#0a0"/><stop offset=".8" stop-color="#a0f"/></linearGradient>',
    "radial": '<radialGradient id="g" fx=".3" fy=".3"><stop stop-color="#fff"/><stop offset="1" stop-color="#024"/></radialGradient>',
    "radial, from a focus beside it": '<radialGradient id="g" r=".3" fx=".95" fy=".7" spreadMethod="reflect"><stop stop-color="#fff"/><stop offset="1" stop-color="#024"/></radialGradient>',
    "radial, from a circle": '<radialGradient id="g" r=".5" fx=".4" fy=".6" fr="10%"><stop stop-color="#fff"/><stop offset="1" stop-color="#024"/></radialGradient>',
    "radial, repeated": '<radialGradient id="g" r=".2" spreadMethod="repeat"><stop stop-color="#fa0"/><stop offset="1" stop-color="#04a"/></radialGradient>',
}


@pytest.mark.parametrize("name", GRADIENTS)
def test_a_gradient_becomes_bands_near_its_colours(name: str) -> None:
    ours, theirs = both(f'{GRADIENTS[name]}<rect x="10" y="10" width="80" height="60" fill="url(#g)"/>')
    far = np.abs(ours - theirs)[88:-88, 88:-88].max(axis=2)
    assert far.mean() < 22, "the bands have the colours of the gradient"
    assert np.percentile(far, 99) < 90


@given(
    st.lists(st.tuples(st.floats(0, 1), st.integers(0, 255)), min_size=2, max_size=60),
    st.sampled_from(("pad", "reflect", "repeat")),
    st.sampled_from((None, (0.0, 0.0), (0.3, 0.5), (0.9, 0.9))),
    st.sampled_from((0.0, 0.2)),
    st.sampled_from((90.0, 25.0)),
)
def test_a_gradient_fills_all_that_it_is_to_fill(
    stops: list[tuple[float, int]], spread: str, focus: tuple[float, float] | None, start: float, size: float
) -> None:
    at, greys = zip(*sorted(stops), strict=True)
    rows = np.array([[grey, grey, 0, 1] for grey in greys], float)
    matrix = np.array([[size, 0, 30], [0, size, 40]])
    start = 0.0 if focus == (0.9, 0.9) else start
    shade = Shade(focus is not None, at, rows, matrix, focus or (0, 0), start, spread)
    parts = [region for _, region in bands(shade, FIELD, 0.01)]
    if focus != (0.9, 0.9):
        assert sum(part.area for part in parts) == pytest.approx(4800, rel=1e-6)
    places = np.stack([at.ravel() for at in np.meshgrid(np.linspace(10.1, 89.9, 40), np.linspace(10.1, 69.9, 30))], axis=1)
    whole = shapely.union_all(parts)
    there = shapely.intersects_xy(whole, places)
    assert np.mean(there != (colours_at(shade, places)[:, 3] > 0)) < 0.02, "there is nothing beside the cone"
    assert whole.area == pytest.approx(sum(part.area for part in parts), rel=1e-4), "no two lie on one another"


def test_a_gradient_repeated_too_often_is_told_and_taken_in_its_mean_colour() -> None:
    stops = '<stop stop-color="#f00"/><stop offset=".5" stop-color="#f00"/><stop offset=".5" stop-color="#00f"/><stop offset="1" stop-color="#00f"/>'
    made = f'<linearGradient id="g" spreadMethod="repeat" x2=".001">{stops}</linearGradient>'
    picture = f'{HEAD} viewBox="0 0 100 80">{made}<rect x="10" y="10" width="80" height="60" fill="url(#g)"/></svg>'
    found = paint(read_picture(picture.encode(), "x.svg"), 100, "x.svg")
    assert [one.colour for one in found.swatches] == ["800080"]
    [note] = [one for one in found.notes if one.code == "paint-flattened"]
    assert "<linearGradient id=g> on line 1 of “x.svg” is repeated 1,000 times" in note.text


def test_a_fading_gradient_mixes_with_what_lies_under_it() -> None:
    fade = (
        '<linearGradient id="g"><stop stop-color="#fff"/><stop offset="1" stop-color="#fff" stop-opacity="0"/></linearGradient>'
    )
    ours, theirs = both(f'{fade}<rect x="10" y="10" width="80" height="60" fill="url(#g)"/>')
    assert np.abs(ours - theirs).max(axis=2).mean() < 22


def test_a_translucent_group_of_translucent_things_is_seen_through_as_a_whole(monkeypatch: pytest.MonkeyPatch) -> None:
    group = """<g opacity=".5"><rect x="10" y="10" width="40" height="60" fill="#00f" fill-opacity=".5"/>
        <rect x="30" y="10" width="40" height="60" fill="#f00" fill-opacity=".5"/></g>"""
    found = paint(read_picture(f'{HEAD} viewBox="0 0 100 80">{group}</svg>'.encode(), "x.svg"), 60, "x.svg")
    # Where both are, a = .5 + .5 x .5 and the colour (.5 red + .25 blue) / a; half of that on white.
    assert {one.colour: round(one.region.area) for one in found.swatches} == {"BFBFFF": 1200, "DF9FBF": 1200, "FFBFBF": 1200}
    monkeypatch.setattr(areas, "_MOST_TOGETHER", 1)
    found = paint(read_picture(f'{HEAD} viewBox="0 0 100 80">{group}</svg>'.encode(), "x.svg"), 60, "x.svg")
    assert [note.text for note in found.notes if note.code == "opacity-solid"]


RED_BLUE = """<linearGradient id="g"><stop stop-color="#f00"/><stop offset=".5" stop-color="#f00"/><stop offset=".5" stop-color="#00f"/>
    </linearGradient>"""
TEXTS = {
    "spans, anchors, spacing": """<text x="6" y="75" font-size="9" letter-spacing="2">river</text><text x="6" y="30" font-size="22">Glow <tspan fill="#f80" dy="6">worm</tspan></text>
        <text x="50" y="60" font-size="14" text-anchor="middle" fill="#8f8">river</text>""",
    "begun on a line of its own": '<text x="6" y="24" font-size="14">\n    Glow\n  </text>',
    "spans on lines of their own": """<text x="6" y="24" font-size="14">
        <tspan x="6" y="14">one</tspan>
        <tspan x="6" y="34">two</tspan></text>""",
    "the first letters kerned": '<text x="5" y="50" font-size="40">AVAT</text>',
    "accents made of marks": '<text x="5" y="50" font-size="30">e\u0301cole\u0308</text>',
    "a gradient over all of it": RED_BLUE
    + '<text x="5" y="50" font-size="40" fill="url(#g)">Gl<tspan font-size="30">ow</tspan></text>',
    "sizes beside the parent's": """<g style="font-size:10px"><text x="5" y="20" style="font-size:150%">moths<tspan font-size="2em">AV</tspan></text></g>
        <g font-weight="400"><text x="5" y="60" font-size="20" font-weight="bolder">heavy</text></g>""",
    "set to a length": """<text x="3" y="22" font-size="16" textLength="90">glow</text>
        <text x="3" y="52" font-size="16" textLength="90" lengthAdjust="spacingAndGlyphs">glow</text>""",
    "blanks widened": '<text x="3" y="24" font-size="14" word-spacing="15">a b c</text>',
    "each letter turned": """<text x="10" y="40" font-size="16" rotate="30">tilt</text><text x="50" y="40" font-size="16" rotate="10 -20">lamps</text>""",
    "raised and lowered": """<text x="10" y="40" font-size="20">a<tspan baseline-shift="super" font-size="12">2</tspan>b<tspan
        baseline-shift="-30%">c</tspan></text><g font-size="14"><text x="5" y="70" dominant-baseline="middle">mid</text>
        <text x="35" y="70" dominant-baseline="central">cen</text><text x="65" y="60" dominant-baseline="hanging">hang</text></g>""",
    "places letter by letter": """<text x="5 30 50" y="20 30" font-size="20">abcdef</text><text x="5 30 50 60" y="60" font-size="20">
        a bc d</text><text x="55" y="70" dx="0 5 5" dy="0 4 -8" font-size="14">abcd</text>""",
    "stepped aside and kerned": """<text x="5" y="30" dx="0 2 2" dy="0 3 0 -3" font-size="18">AVATAR</text>
        <text x="5" y="65" rotate="10" font-size="18">TAVTo.</text>""",
    "lines along it": """<text x="10" y="30" font-size="20" text-decoration="underline">up <tspan fill="#f80">now</tspan></text>
        <text x="10" y="60" font-size="20" text-decoration="line-through">gone</text>""",
    "lines along letters that step and turn": """<text x="10" y="30" dy="0 6 0 -3" font-size="20" text-decoration="underline">steps</text>
        <text x="10" y="65" rotate="20" font-size="20" text-decoration="line-through">turn</text>""",
    "anchored after a step aside": """<text x="50" y="30" dx="20" text-anchor="middle" font-size="20">moth</text>
        <text x="50" y="60" dx="20" text-anchor="end" font-size="20">moth</text>""",
    "a rim under it": '<text x="5" y="50" font-size="40" stroke="#f00" stroke-width="4" paint-order="stroke">Go</text>',
    "on a path": """<path id="way" d="M10 76 Q50 56 90 76" fill="none"/><text font-size="9" fill="#ff0"><textPath href="#way">along a path</textPath></text>
        <path id="w" d="M10 50 Q50 10 90 50" fill="none"/><text font-size="12" text-anchor="middle"><textPath href="#w" startOffset="50%">middle</textPath></text>""",
}


@pytest.mark.parametrize("name", TEXTS)
def test_text_stands_where_the_other_renderer_sets_it(name: str) -> None:
    font = resources.files("outlined_glow.data.fonts").joinpath("SourceSans3-Bold.ttf")
    family = 'font-family="\'Source Sans 3\'" font-weight="700"'
    text = f'{HEAD} {family} width="100" height="80" viewBox="0 0 100 80">{PAGE}<g fill="#fff">{TEXTS[name]}</g></svg>'
    drawing = read_picture(text.encode(), "drawing.svg")
    assert not drawing.notes
    ours = draw_picture(paint(drawing, 100.0, "drawing.svg"), (0, 0), View("front", 8, 0, 80, 800, 640)).astype(int)
    png = resvg_py.svg_to_bytes(svg_string=text, width=800, dpi=96, font_files=[str(font)])
    theirs = np.asarray(Image.open(io.BytesIO(bytes(png))).convert("RGB")).astype(int)
    assert (theirs.max(axis=2) > 100).mean() > 0.008, "the other renderer wrote something"
    assert (np.abs(ours - theirs).max(axis=2) > 110).mean() < (0.009 if "path" in name else 0.001)


def test_letters_on_an_arc_point_away_from_its_middle() -> None:
    way = '<path id="c" d="M24 60A26 26 0 1 1 76 60" fill="none"/>'
    words = f'{way}<text font-size="9" fill="#fff" letter-spacing="1"><textPath href="#c">IIIIIIIIIIIIIIIII</textPath></text>'
    text = f'{HEAD} font-family="\'Source Sans 3\'" width="100" height="80" viewBox="0 0 100 80">{PAGE}{words}</svg>'
    painted = paint(read_picture(text.encode(), "drawing.svg"), 100.0, "drawing.svg")
    letters = shapely.get_parts(next(one.region for one in painted.swatches if one.colour == "FFFFFF"))
    assert len(letters) == 17
    for letter in letters:
        corners = shapely.get_coordinates(shapely.oriented_envelope(letter))[:4]
        sides = np.roll(corners, -1, axis=0) - corners
        long = sides[np.argmax(np.hypot(*sides.T))]
        out = shapely.get_coordinates(letter.centroid)[0] - (50, 20)
        lean = np.degrees(np.arctan2(long[1], long[0]) - np.arctan2(out[1], out[0]))
        assert abs((lean + 90) % 180 - 90) < 0.3


SAME = {
    "the font shorthand": (
        """<text x="5" y="30" style="font: italic bold 20px/1.3 'Source Sans 3'">moths</text>""",
        '<text x="5" y="30" font-size="20" font-weight="700" font-style="italic">moths</text>',
    ),
    "a text itself is not shifted": (
        '<text x="5" y="30" font-size="20" baseline-shift="super">a<tspan baseline-shift="3">b</tspan></text>',
        '<text x="5" y="30" font-size="20">a<tspan dy="-3">b</tspan></text>',
    ),
    "letters spaced are no ligatures": (
        '<text x="5" y="30" font-size="20" letter-spacing="0.1em">fi</text>',
        '<text x="5" y="30" font-size="20">f<tspan dx="2">i</tspan></text>',
    ),
    "sizes in a style": (
        '<style>.c{r:12px;cx:30px;cy:30px}</style><circle class="c"/><path style=\'d:path("M60 10h30v30h-30z")\'/>',
        '<circle cx="30" cy="30" r="12"/><path d="M60 10h30v30h-30z"/>',
    ),
    "lengths beside the font of who says them": (
        """<g font-size="10" stroke="#fff"><g stroke-width=".5em" stroke-dasharray="1em, .8em"><path d="M5 20h90" font-size="30"/></g>
        <rect x="1rem" y="4ex" width="2em" height="1e1ex" font-size="14"/></g>""",
        """<path d="M5 20h90" stroke="#fff" stroke-width="5" stroke-dasharray="10 8"/>
        <rect x="16" y="28" width="28" height="70" stroke="#fff"/>""",
    ),
    "dashes in a length that is told": (
        '<path d="M10 40h80" pathLength="10" stroke="#fff" stroke-width="6" stroke-dasharray="1 1"/>',
        '<path d="M10 40h80" stroke="#fff" stroke-width="6" stroke-dasharray="8 8"/>',
    ),
    "a transform in a style comes before that of the attribute": (
        '<rect style="transform:translate(20px,10px) rotate(90deg)" width="20" height="10" transform="scale(3)"/>',
        '<rect width="20" height="10" transform="translate(20 10) rotate(90)"/>',
    ),
    "about its own middle": (
        '<rect x="20" y="20" width="30" height="10" style="transform-box:fill-box;transform-origin:center" transform="rotate(90)"/>',
        '<rect x="30" y="10" width="10" height="30"/>',
    ),
    "capitals": ('<text x="5" y="30" style="text-transform:uppercase">abc</text>', '<text x="5" y="30">ABC</text>'),
}


@pytest.mark.parametrize("name", SAME)
def test_two_ways_of_writing_the_same(name: str) -> None:
    pages = [
        f'{HEAD} font-family="\'Source Sans 3\'" viewBox="0 0 100 80">{PAGE}<g fill="#fff">{body}</g></svg>'
        for body in SAME[name]
    ]
    one, other = (paint(read_picture(page.encode(), "x.svg"), 100, "x.svg").swatches for page in pages)
    lit = [next(swatch.region for swatch in swatches if swatch.colour == "FFFFFF") for swatches in (one, other)]
    assert lit[0].symmetric_difference(lit[1]).area < 1e-3 * lit[1].area


def test_a_clip_on_the_root_clips_all_of_it() -> None:
    text = (
        f'{HEAD} viewBox="0 0 40 40" clip-path="url(#c)"><clipPath id="c"><rect x="5" y="5" width="20" height="10"/></clipPath>'
    )
    painted = paint(read_picture(f'{text}<rect width="40" height="40"/></svg>'.encode(), "x.svg"), 20, "x.svg")
    assert painted.size == pytest.approx((20, 10))


def test_a_picture_inside_a_drawing_is_traced_where_it_stands() -> None:
    buffer = io.BytesIO()
    pixels = np.zeros((40, 40, 3), np.uint8)
    pixels[:, 20:] = (255, 200, 0)
    Image.fromarray(pixels).save(buffer, "PNG")
    data = base64.b64encode(buffer.getvalue()).decode()
    ours, theirs = both(
        f'<image x="20" y="10" width="60" height="30" href="data:image/png;base64,{data}" transform="rotate(8)"/>'
    )
    assert (np.abs(ours - theirs).max(axis=2) > 110).mean() < 0.001


@pytest.mark.parametrize("size", ['width="60"', 'height="30"', "", 'width="40" height="40"', 'width="auto" height="20"'])
@pytest.mark.parametrize("own", ['viewBox="0 0 20 10"', 'viewBox="0 0 20 10" width="30" height="15"'])
def test_a_drawing_inside_a_drawing_is_as_large_as_is_said_or_follows(size: str, own: str) -> None:
    inner = f'{HEAD} {own}><rect width="20" height="10" fill="teal"/><circle cx="5" cy="5" r="4" fill="gold"/></svg>'
    data = base64.b64encode(inner.encode()).decode()
    ours, theirs = both(f'<image x="20" y="10" {size} href="data:image/svg+xml;base64,{data}"/>')
    assert (np.abs(ours - theirs).max(axis=2) > 110).mean() < 0.001


def test_a_named_layer_is_taken_at_its_word() -> None:
    body = f"""{HEAD} viewBox="0 0 20 20"><g id="Metal 2"><rect width="20" height="9" fill="#123456"/></g>
    <g id="outline"><rect width="18" height="18" fill="none" stroke="red"/></g><rect y="9" width="9" height="9" fill="#123456"/></svg>"""
    painted = paint(read_picture(body.encode(), "x.svg"), 20, "x.svg")
    assert {(swatch.colour, swatch.word) for swatch in painted.swatches} == {("123456", "metal"), ("123456", "")}
    assert painted.outline.area == pytest.approx(18 * 18)


HOSTILE = {
    "empty": b"",
    "not xml": b"hello",
    "truncated": f'{HEAD}><rect width="4"'.encode(),
    "other xml": b"<html><body/></html>",
    "a PNG": b"\x89PNG\r\n\x1a\n0000",
    "entity bomb": b'<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;&a;&a;">'
    + b"".join(f'<!ENTITY {chr(99 + i)} "{("&" + chr(98 + i) + ";") * 10}">'.encode() for i in range(8))
    + b']><svg xmlns="http://www.w3.org/2000/svg"><title>&j;</title></svg>',
    "outside file": b'<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg xmlns="http://www.w3.org/2000/svg"><title>&x;</title></svg>',
    "use of itself": f'{HEAD} viewBox="0 0 9 9"><g id="a"><use href="#a"/></g></svg>'.encode(),
    "use in a ring": f'{HEAD} viewBox="0 0 9 9"><defs><g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g></defs><use href="#a"/></svg>'.encode(),
    "deep": f'{HEAD} viewBox="0 0 9 9">'.encode() + b"<g>" * 400 + b"</g>" * 400 + b"</svg>",
    "empty view box": f'{HEAD} viewBox="0 0 0 0"><rect width="4" height="4"/></svg>'.encode(),
    "damaged gzip": b"\x1f\x8b\x08\x00" + b"nonsense",
}


@pytest.mark.parametrize("name", HOSTILE)
def test_strangers_get_one_sentence(name: str) -> None:
    with pytest.raises(Trouble) as caught:
        read_picture(HOSTILE[name], "strange.svg")
    assert "strange.svg" in str(caught.value)
    assert "\n" not in str(caught.value)


@pytest.mark.parametrize(
    "body",
    [
        '<rect width="NaN" height="5"/>',
        '<path d="M1e300 1e300 L-1e300 5 z"/>',
        '<rect width="-5" height="5"/>',
        '<g transform="scale(0)"><rect width="5" height="5"/></g>',
        "<g/>",
        '<rect width="5" height="5" fill="none"/>',
    ],
)
def test_a_picture_that_paints_nothing_says_so(body: str) -> None:
    with pytest.raises(Trouble):
        paint(read_picture(f'{HEAD} viewBox="0 0 9 9">{body}</svg>'.encode(), "void.svg"), 50, "void.svg")


def test_compressed_and_natural_size() -> None:
    text = f'{HEAD} width="70mm" height="50mm" viewBox="0 0 140 100"><rect width="140" height="100"/></svg>'.encode()
    packer = zlib.compressobj(wbits=31)
    drawing = read_picture(packer.compress(text) + packer.flush(), "x.svgz")
    assert natural_width_mm(drawing, "x.svg") == pytest.approx(70, abs=1e-6)
    assert paint(drawing, 35, "x").size == pytest.approx((35, 25))
    for side in ('width="70mm"', 'height="50mm"'):
        one = read_picture(f'{HEAD} {side} viewBox="0 0 140 100"><rect width="140" height="100"/></svg>'.encode(), "x.svg")
        assert natural_width_mm(one, "x.svg") == pytest.approx(70, abs=1e-6), "the other side follows"
    for size in ('width="140" height="100"', 'width="140px"', ""):
        pixels = read_picture(f'{HEAD} {size} viewBox="0 0 140 100"><rect width="140" height="100"/></svg>'.encode(), "x.svg")
        assert natural_width_mm(pixels, "x.svg") is None, "pixels are no size"


def test_what_lies_off_the_page_is_not_seen() -> None:
    text = f'{HEAD} viewBox="0 0 40 40" width="40" height="40"><rect x="10" y="10" width="90" height="20" fill="red"/></svg>'
    painted = paint(read_picture(text.encode(), "x"), 30, "x")
    assert painted.size == pytest.approx((30, 20))


def test_media_rules_for_screens_hold_and_those_for_print_do_not() -> None:
    style = "<style>@media screen{.d{fill:#ff0}} @media print{.d{fill:#0f0}}</style>"
    text = f'{HEAD} viewBox="0 0 9 9">{style}<rect class="d" width="9" height="9"/></svg>'
    painted = paint(read_picture(text.encode(), "x"), 30, "x")
    assert [swatch.colour for swatch in painted.swatches] == ["FFFF00"]


def test_a_dense_coil_is_no_tangle_and_a_deep_pile_keeps_its_top() -> None:
    turn = np.arange(20_000) * 0.02
    reach = 2 + turn * 0.12
    points = " ".join(f"{50 + r * np.cos(t):.3f},{50 + r * np.sin(t):.3f}" for r, t in zip(reach, turn, strict=True))
    coil = f'<polyline points="{points}" fill="none" stroke="#fff" stroke-width="2"/>'
    pile = "".join(f'<circle cx="50" cy="{40 + n % 3}" r="30" fill="#{n % 4:06x}"/>' for n in range(200))
    painted = paint(read_picture(f'{HEAD}viewBox="0 0 100 100">{pile}{coil}</svg>'.encode(), "coil.svg"), 60, "coil.svg")
    assert painted.swatches[0].colour == "FFFFFF"
    assert sum(swatch.region.area for swatch in painted.swatches) == pytest.approx(painted.silhouette.area, rel=1e-6)


def test_a_letter_that_one_font_lacks_is_taken_from_another(home: Path) -> None:
    """One that has nothing but an umbrella stands in for it alone; a letter that no font has is told of."""
    builder = FontBuilder(1000, isTTF=True)
    builder.setupGlyphOrder([".notdef", "umbrella"])
    builder.setupCharacterMap({0x2602: "umbrella"})
    pen = TTGlyphPen(None)
    for step, at in enumerate(((0, 0), (1000, 0), (1000, 1000), (0, 1000))):
        (pen.lineTo if step else pen.moveTo)(at)
    pen.closePath()
    square = pen.glyph()
    builder.setupGlyf({".notdef": TTGlyphPen(None).glyph(), "umbrella": square})
    builder.setupHorizontalMetrics({".notdef": (500, 0), "umbrella": (1000, 0)})
    builder.setupHorizontalHeader(ascent=1000, descent=0)
    builder.setupNameTable({"familyName": "Brolly", "styleName": "Regular"})
    builder.setupOS2(usWeightClass=400)
    builder.setupPost()
    folder = home / "data" / "fonts"
    folder.mkdir(parents=True, exist_ok=True)
    builder.save(folder / "brolly.ttf")
    text = f'{HEAD} viewBox="0 0 60 20"><text y="15" font-size="10" font-family="\'Source Sans 3\', Brolly">a\u2602\ue123b</text></svg>'
    drawing = read_picture(text.encode(), "x.svg")
    assert [note.code for note in drawing.notes] == ["letters-missing"]
    assert "\ue123" in drawing.notes[0].text
    assert "\u2602" not in drawing.notes[0].text
    letters = shapely.get_parts(paint(drawing, 60.0, "x.svg").swatches[0].region)
    squares = [one for one in letters if one.area == pytest.approx(box(*one.bounds).area, rel=1e-6)]
    (umbrella,) = squares
    assert umbrella.bounds[2] - umbrella.bounds[0] == pytest.approx(umbrella.bounds[3] - umbrella.bounds[1])


@pytest.mark.parametrize("data", [b"", b"no font at all", b"\x00\x01\x00\x00\x00\x09" + bytes(60)])
def test_a_font_that_is_none_is_passed_over(data: bytes, home: Path) -> None:
    folder = home / "data" / "fonts"
    folder.mkdir(parents=True)
    (folder / "Hollow.ttf").write_bytes(data)
    text = f'{HEAD} viewBox="0 0 40 20"><text y="15" font-size="12" font-family="Hollow">glow</text></svg>'
    drawing = read_picture(text.encode(), "x.svg")
    assert [note.code for note in drawing.notes] == ["font-not-here"]
    assert paint(drawing, 30, "x.svg").silhouette.area > 10


def test_a_damaged_compressed_drawing_is_refused_wherever_it_is_damaged() -> None:
    whole = gzip.compress(b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect width="9" height="9"/></svg>')
    for at in range(2, len(whole)):
        for damaged in (whole[:at], whole[:at] + b"\xff" * 12 + whole[at + 12 :]):
            with contextlib.suppress(Trouble):
                read_picture(damaged, "x.svgz")


def test_a_line_with_too_many_markers_is_told_and_drawn_without() -> None:
    steps = "".join(f"L{x} {x % 2}" for x in range(30_000))
    marker = '<marker id="m" markerWidth="1" markerHeight="1"><rect width="1" height="1"/></marker>'
    body = f'{marker}<path marker-mid="url(#m)" fill="none" stroke="#000" d="M0 0{steps}"/>'
    drawing = read_picture(f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 30000 9">{body}</svg>'.encode(), "x.svg")
    assert [note.code for note in drawing.notes] == ["marker-ignored"]
