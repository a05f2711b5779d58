"""Every reader against damaged and invented files: an answer or one sentence, never anything else."""

from __future__ import annotations

import contextlib
import copy
import io
import json
import math
import re
import tempfile
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import msgspec
import pytest
from drawings import SIGN
from examples import with_board
from hypothesis import given, settings
from hypothesis import strategies as st
from pictures import badge, dxf, encoded, frame, line

from outlined_glow.core.artwork import Painted, paint, read_picture
from outlined_glow.core.errors import Trouble
from outlined_glow.core.order import make_package
from outlined_glow.core.order.proof.compare import prove_files, read_files
from outlined_glow.core.order.proof.drill_reader import read_drill
from outlined_glow.core.order.proof.gerber_reader import Unreadable, read_gerber
from outlined_glow.core.parts.profiles import profiles, read_profile
from outlined_glow.core.project import Project, edits
from outlined_glow.core.project.model import Along, Clean, Feature, Hole, Island, Mend, Ring, Single, Words
from outlined_glow.core.project.storage import load, read_thumbnail, save
from outlined_glow.core.units import parse_quantity
from outlined_glow.core.workshop import Compiler, apply_text, new_project

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 30">'

numbers = st.one_of(
    st.integers(-50, 50).map(str),
    st.floats(-1e3, 1e3).map(repr),
    st.sampled_from(["1e300", "-1e300", "NaN", "", "5%", "2em", "9zz"]),
)


@st.composite
def shapes(draw: st.DrawFn) -> str:
    """An element with odd values in the right places."""
    kind = draw(st.sampled_from(["rect", "circle", "ellipse", "line", "polygon", "path", "g", "use", "svg", "text"]))
    keys = ["x", "y", "width", "height", "r", "rx", "cx", "cy", "x2", "y2", "stroke-width", "stroke-dasharray", "opacity"]
    parts = [f'{key}="{draw(numbers)}"' for key in draw(st.lists(st.sampled_from(keys), max_size=6, unique=True))]
    if kind == "path":
        letters = draw(st.text("MLHVCSQTAZmlhvcsqtaz0123456789 .,-e", max_size=40))
        parts.append(f'd="M1 1L9 9{letters}"')
    if kind == "polygon":
        parts.append(f'points="{draw(st.text("0123456789 .,-", max_size=40))}"')
    if draw(st.booleans()):
        name = draw(st.sampled_from(["translate", "scale", "rotate", "matrix", "skewX", "fly"]))
        parts.append(f'transform="{name}({draw(numbers)} {draw(numbers)})"')
    paint_words = ["red", "#0f0", "none", "url(#a)", "rgb(9,", "currentColor"]
    parts.append(f'fill="{draw(st.sampled_from(paint_words))}" stroke="{draw(st.sampled_from(paint_words))}"')
    inner = draw(shapes()) if kind in ("g", "svg") and draw(st.booleans()) else ""
    return f"<{kind} {' '.join(parts)}>{inner}</{kind}>"


@settings(max_examples=150)
@given(st.lists(shapes(), max_size=6))
def test_invented_drawings(bodies: list[str]) -> None:
    painted = _painted("".join(bodies))
    if painted is not None:
        areas = sum(swatch.region.area for swatch in painted.swatches)
        assert areas == pytest.approx(painted.silhouette.area, rel=1e-3, abs=1e-3)


def _painted(bodies: str) -> Painted | None:
    """What a drawing paints, in valid regions; None where it is refused in words that name it."""
    try:
        painted = paint(read_picture(f"{HEAD}{bodies}</svg>".encode(), "x.svg"), 40, "x.svg")
    except Trouble as trouble:
        assert "x.svg" in str(trouble)
        return None
    assert all(swatch.region.is_valid for swatch in painted.swatches)
    return painted


PAINTED = '<rect width="20" height="20" {}/>'
EFFECTS = st.sampled_from(
    [
        '<clipPath id="c"><circle r="{0}" cx="9" cy="9"/></clipPath>' + PAINTED.format('clip-path="url(#c)"'),
        '<mask id="m"><rect width="{0}" height="9" fill="#fff"/></mask>' + PAINTED.format('mask="url(#m)"'),
        '<pattern id="p" width="{0}" height="3" patternUnits="userSpaceOnUse"><rect width="1" height="1"/></pattern>'
        + PAINTED.format('fill="url(#p)"'),
        '<marker id="k" markerWidth="{0}"><path d="M0 0h2v2z"/></marker><path d="M1 1h9v9" stroke="red" marker-end="url(#k)"/>',
        '<text x="{0}" y="20" font-size="9">glow <tspan dx="{1}">worm</tspan></text>',
        '<linearGradient id="g" x1="{0}" spreadMethod="repeat"><stop stop-color="#f00"/><stop offset="{1}"/></linearGradient>'
        + PAINTED.format('fill="url(#g)"'),
        '<radialGradient id="r" r="{0}" fx="{1}"><stop/><stop offset="1" stop-color="#fff"/></radialGradient>'
        + PAINTED.format('fill="url(#r)"'),
        '<g opacity="{0}"><rect width="9" height="9" fill="red"/><rect x="4" width="9" height="9" opacity="{1}"/></g>',
    ]
)


@settings(max_examples=120)
@given(st.lists(st.tuples(EFFECTS, numbers, numbers), min_size=1, max_size=3))
def test_invented_effects(rows: list[tuple[str, str, str]]) -> None:
    _painted("".join(body.format(one, other) for body, one, other in rows))


PICTURES = {
    "x.png": encoded(badge(24)), "x.jpg": encoded(badge(24), "JPEG"), "x.gif": encoded(badge(24), "GIF"),
    "x.webp": encoded(badge(24), "WEBP"), "x.tif": encoded(badge(24), "TIFF"), "x.bmp": encoded(badge(24), "BMP"),
    "x.dxf": dxf(frame(0, 0, 9, 9), line(0, 0, 5, 5), "0 CIRCLE 8 a 10 4 20 4 40 2", head="9 $INSUNITS 70 4"),
}  # fmt: skip


@settings(max_examples=200)
@given(
    st.sampled_from(sorted(PICTURES)),
    st.lists(st.tuples(st.integers(0, 4000), st.integers(0, 60), st.binary(max_size=6)), min_size=1, max_size=4),
)
def test_damaged_pictures_and_drawings(name: str, cuts: list[tuple[int, int, bytes]]) -> None:
    data = damaged(PICTURES[name], [(at % len(PICTURES[name]), length, new) for at, length, new in cuts])
    try:
        painted = paint(read_picture(data, name), 30, name)
    except Trouble as trouble:
        assert name in str(trouble) or "picture" in str(trouble)
        return
    assert all(swatch.region.is_valid for swatch in painted.swatches)


def damaged(data: bytes, cuts: list[tuple[int, int, bytes]]) -> bytes:
    out = data
    for start, length, filling in cuts:
        place = start % max(1, len(out))
        out = out[:place] + filling + out[place + length :]
    return out


cuts = st.lists(st.tuples(st.integers(0, 10**6), st.integers(0, 40), st.binary(max_size=12)), min_size=1, max_size=3)


@settings(max_examples=150)
@given(cuts)
def test_damaged_drawings(changes: list[tuple[int, int, bytes]]) -> None:
    try:
        paint(read_picture(damaged(SIGN, changes), "x.svg"), 40, "x.svg")
    except Trouble as trouble:
        assert "\n" not in str(trouble)


@pytest.fixture(scope="module")
def moth_file(moth: Project, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo as a file."""
    path = tmp_path_factory.mktemp("moth") / "x.oglow"
    save(moth, path)
    return path


@settings(max_examples=300)
@given(cuts)
def test_damaged_projects(moth_file: Path, changes: list[tuple[int, int, bytes]]) -> None:
    target = moth_file.with_name("y.oglow")
    target.write_bytes(damaged(moth_file.read_bytes(), changes))
    read_thumbnail(target)
    try:
        load(target)
    except Trouble as trouble:
        assert "y.oglow" in str(trouble)


@settings(max_examples=100)
@given(cuts)
def test_damaged_zipped_packages(files: dict[str, bytes], changes: list[tuple[int, int, bytes]]) -> None:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name in ("board.json", "sign-copper-front.gbr"):
            archive.writestr(name, files[name])
    with tempfile.TemporaryDirectory() as place:
        target = Path(place) / "order.zip"
        target.write_bytes(damaged(buffer.getvalue(), changes))
        try:
            read_files(target)
        except Trouble as trouble:
            assert "order.zip" in str(trouble)


json_values = st.recursive(
    st.one_of(st.none(), st.booleans(), st.integers(), st.floats(allow_nan=False), st.text(max_size=5)),
    lambda inner: st.one_of(st.lists(inner, max_size=3), st.dictionaries(st.text(max_size=5), inner, max_size=3)),
    max_leaves=6,
)


@settings(max_examples=60)
@given(st.sampled_from(["brief", "designs", "motion", "name", "edited", "schema"]), json_values)
def test_projects_with_other_values_inside(moth_file: Path, key: str, value: object) -> None:
    with zipfile.ZipFile(moth_file) as archive:
        content = {**json.loads(archive.read("project.json")), key: value}
    path = moth_file.with_name("z.oglow")
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("project.json", json.dumps(content))
        archive.writestr("pictures/moth.svg", SIGN)
    try:
        opened = load(path)
    except Trouble as trouble:
        assert "z.oglow" in str(trouble)
    else:
        assert opened.designs


@pytest.fixture(scope="module")
def files() -> dict[str, bytes]:
    """A small package."""
    from outlined_glow.core.workshop import apply_values, new_project

    project = apply_values(new_project(SIGN, "sign.svg"), "set-hole", {}, (0, 0))
    return make_package(Compiler().compile(project).board, 4, "2026-01-01T00:00:00Z").files


@settings(max_examples=120)
@given(st.integers(0, 100), cuts)
def test_damaged_layers(files: dict[str, bytes], which: int, changes: list[tuple[int, int, bytes]]) -> None:
    drawn = sorted(name for name in files if name.endswith((".gbr", ".xnc")))
    name = drawn[which % len(drawn)]
    text = damaged(files[name], changes).decode("latin-1")
    try:
        if name.endswith(".gbr"):
            read_gerber(text).region()
        else:
            read_drill(text)
    except (Unreadable, ValueError, KeyError, IndexError):
        return


@settings(max_examples=40)
@given(st.integers(0, 100), cuts)
def test_damaged_packages_are_proved_wrong_or_refused(
    files: dict[str, bytes], which: int, changes: list[tuple[int, int, bytes]]
) -> None:
    names = sorted(files)
    name = names[which % len(names)]
    data = damaged(files[name], changes)
    try:
        proof = prove_files({**files, name: data}, "package")
    except Trouble:
        assert name == "board.json"
        return
    if data != files[name] and name != "board.json":
        assert proof.differences


ODD = (math.nan, math.inf, -math.inf, 1e300, -1e300, 10**18, -1, 0, 1e-300, "x", None, [], {})


def leaves(content: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """The path of every value in JSON."""
    parts = content.items() if isinstance(content, dict) else enumerate(content) if isinstance(content, list) else ()
    if not isinstance(content, dict | list):
        yield path
    for key, part in parts:
        yield from leaves(part, (*path, key))


def with_odd(content: Any, path: tuple[Any, ...], odd: object) -> bytes:
    """The JSON with one value replaced."""
    changed = place = copy.deepcopy(content)
    for key in path[:-1]:
        place = place[key]
    place[path[-1]] = odd
    return json.dumps(changed).encode()


@settings(max_examples=30)
@given(st.data())
def test_odd_numbers_in_a_package(files: dict[str, bytes], data: st.DataObject) -> None:
    said = json.loads(files["board.json"])
    path, odd = data.draw(st.sampled_from(sorted(leaves(said), key=str))), data.draw(st.sampled_from(ODD))
    with contextlib.suppress(Trouble):
        prove_files({**files, "board.json": with_odd(said, path, odd)}, "package")
    name = data.draw(st.sampled_from([one for one in sorted(files) if one.endswith((".gbr", ".xnc"))]))
    text = files[name].decode()
    found = data.draw(st.sampled_from(list(re.finditer(r"-?\d+(\.\d+)?", text))))
    digits = data.draw(st.sampled_from(["9" * 20, "9" * 400, "-1", "0", "1e300", "nan", "X", "0.0000000001"]))
    prove_files({**files, name: (text[: found.start()] + digits + text[found.end() :]).encode()}, "package")


def test_far_numbers_in_a_package_are_named(files: dict[str, bytes]) -> None:
    said = json.loads(files["board.json"])
    for path, odd, words in (
        (("coverage", "left_mm"), math.nan, "coverage.left_mm is nan"),
        (("coverage", "width"), math.inf, "coverage.width is inf"),
        (("outline", "area_mm2"), 1e300, "outline.area_mm2 is 1e+300"),
        (("holes", 0, 0), -1e300, "holes[0][0] is -1e+300"),
    ):
        with pytest.raises(Trouble, match=re.escape(words)):
            prove_files({**files, "board.json": with_odd(said, path, odd)}, "package")


@pytest.fixture(scope="module")
def full(files: dict[str, bytes]) -> Project:
    """A small project with something in every section."""
    own = {**msgspec.to_builtins(profiles()["standard"]), "name": "shed"}
    project = new_project(SIGN, "sign.svg")
    brief = msgspec.structs.replace(project.brief, own_profile=own, profile="shed")
    art = msgspec.structs.replace(
        project.designs[0].artwork,
        words=(Words(text="Ab", x_mm=20, y_mm=5), Words(text="rim", x_mm=20, y_mm=15, bend="edge")),
        mends=(Mend(how="thicken", appearance="metal", width_mm=0.2),),
        clean=Clean(),
    )
    kinds = ("hole", "screw", "slot", "sew")
    shape = msgspec.structs.replace(
        project.designs[0].shape,
        features=tuple(Feature(kind=kind, x_mm=9.0 * at + 4, y_mm=4.0) for at, kind in enumerate(kinds)),  # type: ignore[arg-type]
        islands=(Island(x_mm=3, y_mm=3),),
        hole=Hole(),
    )
    lights = (Ring(name="r", x_mm=20, y_mm=15), Along(name="a"), Single(name="s", x_mm=5, y_mm=25))
    project = with_board(project, artwork=art, shape=shape, lights=lights)
    return msgspec.structs.replace(project, brief=brief)


@settings(max_examples=60)
@given(st.data())
def test_odd_values_anywhere_in_a_project(full: Project, tmp_path_factory: pytest.TempPathFactory, data: st.DataObject) -> None:
    target = tmp_path_factory.mktemp("odd") / "odd.oglow"
    save(full, target)
    with zipfile.ZipFile(target) as archive:
        members = {name: archive.read(name) for name in archive.namelist()}
    content = json.loads(members["project.json"])
    path, odd = data.draw(st.sampled_from(sorted(leaves(content), key=str))), data.draw(st.sampled_from(ODD))
    with zipfile.ZipFile(target, "w") as archive:
        for name, body in {**members, "project.json": with_odd(content, path, odd)}.items():
            archive.writestr(name, body)
    try:
        project = load(target)
        compiler = Compiler()
        compiler.findings(compiler.compile(project))
    except Trouble as trouble:
        assert len(str(trouble)) < 400
        assert "\n" not in str(trouble)


def test_odd_rules_of_a_profile_are_named() -> None:
    own = {**msgspec.to_builtins(profiles()["standard"]), "name": "shed"}
    for path in leaves(own):
        for odd in (math.nan, math.inf, -1.0, 1e300):
            key = next(one for one in reversed(path) if isinstance(one, str))
            with pytest.raises(Trouble, match=key):
                read_profile(with_odd(own, path, odd), "shed.json")


@settings(max_examples=200)
@given(st.text(max_size=12), st.sampled_from(["mm", "A", "V", "ohm", "s", "deg", "%", "", "F"]), st.booleans())
def test_any_text_as_a_quantity(text: str, unit: str, bare: bool) -> None:
    try:
        value = parse_quantity(text, unit, bare=unit if bare and unit else None)
    except Trouble:
        return
    assert value == value
    assert abs(value) < float("inf")


@settings(max_examples=150)
@given(st.data())
def test_any_words_as_an_edit(moth: Project, compiler: Compiler, data: st.DataObject) -> None:
    name = data.draw(st.sampled_from(sorted(edits())))
    keys = list(edits()[name].params) or ["nothing"]
    words = data.draw(st.lists(st.tuples(st.sampled_from(keys), st.text(max_size=8)), max_size=4))
    try:
        changed = apply_text(moth, name, [f"{key}={text}" for key, text in words], compiler)
    except Trouble as trouble:
        assert str(trouble)
        return
    buffer = io.BytesIO()
    buffer.write(repr(changed.designs[0]).encode("utf-8", "replace"))
    assert buffer.tell() > 0
