"""Path data is read as the standard has it: checked against another reader and an independent renderer; errors are told."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

import numpy as np
import pytest
import resvg_py
import shapely
from fontTools.svgLib.path import parse_path
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from outlined_glow.core.artwork import read_picture
from outlined_glow.core.artwork.svg import path_data
from outlined_glow.core.artwork.svg.path_data import draw_path, read_points
from outlined_glow.core.artwork.svg.shapes import path_subpaths
from outlined_glow.core.geometry.flatten import flatten_cubics

_COUNTS = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "A": 7, "Z": 0}


class _Written:
    """A pen that writes down what is drawn."""

    def __init__(self) -> None:
        self.rows: list[tuple[Any, ...]] = []

    def curvesTo(self, numbers: Sequence[float]) -> None:
        pairs = list(zip(numbers[0::2], numbers[1::2], strict=True))
        self.rows += [("curveTo", *pairs[at : at + 3]) for at in range(0, len(pairs), 3)]

    def __getattr__(self, name: str) -> Any:
        if not name.endswith(("To", "Path")):
            raise AttributeError(name)
        return lambda *values: self.rows.append((name, *values))


@st.composite
def _data(draw: st.DrawFn) -> str:
    """Path data of the grammar, its numbers written in many ways."""
    number = st.one_of(
        st.integers(-99, 99).map(str),
        st.floats(-99, 99).map("{:.3f}".format),
        st.floats(-9, 9).map("{:.2e}".format),
        st.integers(0, 999).map(".{:03d}".format),
    )
    out = draw(st.sampled_from("Mm")) + f"{draw(number)} {draw(number)}"
    for letter in draw(st.lists(st.sampled_from("MmZzLlHhVvCcSsQqTtAa"), max_size=9)):
        out += draw(st.sampled_from(["", " "])) + letter
        for again in range(draw(st.integers(1, 3))):
            for at in range(_COUNTS[letter.upper()]):
                flag = letter in "Aa" and at in (3, 4)
                between = draw(st.sampled_from([" ", ",", " , ", "\t"])) if at or again else ""
                out += between + draw(st.sampled_from("01") if flag else number)
    return out


@given(
    _data(), st.lists(st.tuples(st.integers(0, 200), st.sampled_from([",", "e", "-", ".", " ", "M", "x", "0", ""])), max_size=3)
)
def test_in_one_step_it_is_read_as_segment_by_segment(data: str, slips: list[tuple[int, str]]) -> None:
    for at, slip in slips:
        data = data[:at] + slip + data[at + 1 :]
    at_once, one_by_one = _Written(), _Written()
    path = path_data._Path(one_by_one)
    unread = path_data._drawn(data, path)
    path.end()
    assert draw_path(data, at_once) == unread
    assert repr(at_once.rows) == repr(one_by_one.rows)


def test_most_path_data_is_read_in_one_step() -> None:
    found = [("M", [1.0, 2.0]), ("L", [3.0, -4.0]), ("z", []), ("m", [1.0, 1.0]), ("l", [0.5, 50.0])]
    assert path_data._plain("M1,2 3-4z m1 1.5.5e2") is None, "a number is missing"
    assert path_data._plain("M1,2 3-4z m1 1 .5 5e1") == found
    together = [("M", [0.0, 0.0]), ("C", [1.0, 0.0, 2.0, 0.0, 3.0, 0.0, 4.0, 1.0, 5.0, 2.0, 6.0, 3.0]), ("L", [0.0, 9.0])]
    assert path_data._plain("M0 0C1 0 2 0 3 0C4 1 5 2 6 3L0 9") == together
    for odd in ("M1 1A1 1 0 0 1 2 2", "M1,,2", "M1 2,", "M,1 2", "M1 2 x", "L1 2", "M1 2Z1"):
        assert path_data._plain(odd) is None, odd


@given(_data())
def test_it_is_read_as_another_reader_reads_it(data: str) -> None:
    mine, theirs = _Written(), _Written()
    assert draw_path(data, mine) == ""
    parse_path(data, theirs)
    assert mine.rows == theirs.rows


@pytest.mark.parametrize(
    ("data", "unread"),
    [
        ("M 10 10 L 090 010 L 50 80 Z", ""),
        ("M10 10L9e1 10 50 8.0e+1z", ""),
        ("M10 10 L90. 10 50. 80z z z l 5 5", ""),
        ("M10 10a40 40 0 0090 10z", ""),
        ("M10 10L-.5.5+50 80", ""),
        (" \n M\t10\f10\rL 90 10\n50,80", ""),
        ("M10 10A40 40 0 0 1\n90 10\nL50 80Z", ""),
        ("M10 10H80L50 80Z # M 5 5 L 9 9 5 9", "# M 5 5 L 9 9 5 9"),
        ("M10 10 L90 10 x 50 80 Z", "x 50 80 Z"),
        ("M10 10 L90 10 50,,80 Z", "L90 10 50,,80 Z"),
        ("M10 10 L90 10 50 80 40 Z", "L90 10 50 80 40 Z"),
        ("M10 10 L90 10 50 80 Z 7", "7"),
        ("M10 10 L90 10 50 80 Z M", "M"),
        ("M10 10 h40 a 40 40 0 2 0 90 10", "a 40 40 0 2 0 90 10"),
        ("10 10 L90 10", "10 10 L90 10"),
        ("L90 10", "L90 10"),
        ("M10 10 L ٣ 10 50 80", "L ٣ 10 50 80"),
    ],
)
def test_what_comes_before_an_error_is_drawn_as_elsewhere_and_the_rest_is_told(data: str, unread: str) -> None:
    found, rest = path_subpaths(data)
    assert rest == unread
    shapes = [shapely.Polygon(flatten_cubics(one.start, one.curves, 0.01)).buffer(0) for one in found if len(one.curves) > 1]
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100"><path d="{" ".join(data.split())}"/></svg>'
    picture = Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=svg)))).convert("RGBA")
    painted = np.asarray(picture)[..., 3].sum() / 255
    page = shapely.box(0, 0, 100, 100)
    assert shapely.union_all(shapes).intersection(page).area == pytest.approx(painted, rel=0.01, abs=2.0)


def test_points_are_read_up_to_what_is_none() -> None:
    assert read_points(" 0,0 10 0\n10.5-5 ") == ([(0.0, 0.0), (10.0, 0.0), (10.5, -5.0)], "")
    assert read_points("0 0 10 0 10") == ([(0.0, 0.0), (10.0, 0.0)], "10")
    assert read_points("0 0 ; 10 0 9 9") == ([(0.0, 0.0)], "; 10 0 9 9")
    assert read_points("") == ([], "")


def test_what_could_not_be_read_is_told_with_its_place_also_of_the_way_of_a_text() -> None:
    rows = [
        '<rect width="20" height="20"/>',
        '<path id="cut" d="M0 0h9v9z ; L 5 5"/>',
        '<polygon id="five" points="0 0 9 0 9"/>',
        '<polyline points="0 0 1e999 0 9 9" fill="red"/>',
        '<defs><path id="way" d="M1 9h18 ~"/></defs>',
        '<text font-size="3"><textPath href="#way">glow</textPath></text>',
    ]
    head = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 20 20">'
    told = [note.text for note in read_picture("\n".join([head, *rows, "</svg>"]).encode(), "x.svg").notes]
    assert "Part of a path could not be read, from “; L 5 5” on: <path id=cut> on line 3." in told
    assert "Part of a path could not be read, from “9” on: <polygon id=five> on line 4." in told
    assert any("1e999" in text and "line 5" in text for text in told)
    assert "Part of a path could not be read, from “~” on: <path id=way> on line 6." in told
