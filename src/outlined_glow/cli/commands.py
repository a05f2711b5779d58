"""What each command does."""

from __future__ import annotations

import argparse
import json
import os
from collections.abc import Callable, Iterator, Sequence
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any

import numpy as np

from ..core.appearances import APPEARANCES
from ..core.board.draw import PX_PER_MM, USUAL_PIXELS, draw_board, draw_leaf, fitted_png, png, thumbnail
from ..core.board.view import fitting_scale, whole_view
from ..core.colour.materials import finishes, inks, masks
from ..core.errors import Trouble
from ..core.motion import level_at
from ..core.order import layer_files, package_of, prove_boards, write_package
from ..core.project import Edit, Finding, Param, Project, Stack, Tones, apply_edit, edits
from ..core.project.atomic import atomic_folder, atomic_write
from ..core.project.edits import read_bytes
from ..core.project.lock import held
from ..core.project.storage import dated, load, read_thumbnail, save
from ..core.stages import stages
from ..core.units import parse_number, parse_quantity, show_si
from ..core.workshop import Compiler, Work, apply_text, new_project, with_cleaned
from ..core.workshop.calculators import CALCULATORS, calculate
from ..core.workshop.clean_report import clean_report
from ..core.workshop.demos import demo_project
from ..core.workshop.facts import battery_words, info, pattern_hours_words, severities, thinnest_words
from ..core.workshop.film import write_film
from .desktop_entry import data_folder, install, remove
from .exits import DONE, STOPPED

Arguments = argparse.Namespace


def _opened(given: Arguments, compiler: Compiler) -> tuple[Project, Work]:
    """A project and the board that is meant: the first one, unless `--board` names another."""
    project = load(Path(given.project))
    return project, compiler.compile(project, board=given.board)


def _all_opened(given: Arguments, compiler: Compiler) -> tuple[Project, tuple[Work, ...]]:
    """A project and all of its boards, or the one that `--board` names."""
    project = load(Path(given.project))
    return project, (compiler.compile(project, board=given.board),) if given.board else compiler.compile_all(project)


@contextmanager
def _holding(*paths: str) -> Iterator[None]:
    """Nobody else writes these projects meanwhile: other commands take turns, a window that has one open is not overruled."""
    with ExitStack() as stack:
        for path in dict.fromkeys(Path(os.path.realpath(one)) for one in paths):
            owner = stack.enter_context(held(path))
            if owner is not None:
                raise Trouble(f"“{path}” is open: {owner.words()}; close it there, or write another file with -o.")
        yield


def _store(project: Project, works: Sequence[Work], output: str, force: bool) -> None:
    """Write a project whose file is held, with a picture of its first board."""
    target = Path(output)
    if target.exists() and not force:
        raise Trouble(f"“{target}” exists already; add --force to replace it.")
    save(with_cleaned(project, works), target, thumbnail(works[0].board))


def _new(given: Arguments) -> int:
    if Path(given.output).exists() and not given.force:
        raise Trouble(f"“{given.output}” exists already; add --force to replace it.")
    stack = _stack(given)
    chosen = dict(_mapping(word) for word in given.map)
    width = parse_quantity(given.width, "mm") if given.width else None
    if width is not None:
        Param("quantity", "mm", 1, 1000).check("--width", width)
    path = Path(given.art)
    tones = Tones(
        how=given.tones or "flat",
        colours=Param("count", "", 2, 8).parse("--colours", given.colours, False) if given.colours else Tones().colours,
        ground=given.ground or "keep",
    )
    project = new_project(read_bytes(path), path.name, width_mm=width, stack=stack, chosen=chosen, tones=tones)
    if given.border:
        project = apply_edit(project, "set-border", {"border_mm": parse_quantity(given.border, "mm")})
    if given.keep_holes:
        project = apply_edit(project, "keep-holes", {"keep": True})
    work = Compiler().compile(project)
    with _holding(given.output):
        _store(project, (work,), given.output, given.force)
    size = " x ".join(f"{side:.1f}" for side in work.board.size)
    print(f"{given.output}: {size} mm, {len(work.art.chosen)} colours")
    return DONE


def _stack(given: Arguments) -> Stack:
    stack = Stack()
    offered = {"mask": masks(), "finish": finishes(), "ink": inks()}
    words = {name: getattr(given, name) or getattr(stack, name) for name in offered}
    for name, word in words.items():
        Param("choice", choices=offered[name]).check(f"--{name}", word)
    thickness = parse_quantity(given.thickness, "mm") if given.thickness else stack.thickness_mm
    Param("quantity", "mm", 0.6, 2.0).check("--thickness", thickness)
    return Stack(thickness, **words)


def _mapping(word: str) -> tuple[str, str]:
    colour, _, appearance = word.partition("=")
    key = Param("colour").check("--map", colour)
    return key, Param("choice", choices=APPEARANCES).check(f"--map {colour}", appearance)


def _demo(given: Arguments) -> int:
    project = demo_project(given.name)
    works = Compiler().compile_all(project)
    with _holding(given.output):
        _store(project, works, given.output, given.force)
    print(given.output)
    return DONE


def _edit(given: Arguments) -> int:
    if given.list_edits:
        for title, name, one in _by_stage():
            if title:
                print(f"{title}")
            summary = (one.run.__doc__ or "").split("\n")[0]
            print(f"{name}: {summary}")
            for key, param in one.params.items():
                needed = "" if param.optional else "  (needed)"
                print(f"    {key}  {param.describe()}{needed}")
        return DONE
    if not given.project or not given.operation:
        raise Trouble("name a project and an operation; edit --list names the operations.")
    compiler = Compiler()
    target = given.output or given.project
    # From reading to writing: two edits at once would each begin from the same, and one of them be lost.
    with _holding(target):
        project = load(Path(given.project))
        changed = apply_text(project, given.operation, given.values, compiler)
        works = compiler.compile_all(changed)
        same = Path(target).exists() and Path(target).samefile(given.project)
        _store(changed, works, target, given.force or same)
    for work in works:
        size = " x ".join(f"{side:.1f}" for side in work.board.size)
        print(f"{target}: {_of_board(work)}{size} mm, {len(work.leds)} LEDs")
    if given.operation == "clean":
        for work in works:
            if work.design.artwork.clean is not None:
                print("\n".join(clean_report(work, compiler.findings(work)).words()))
    return DONE


def _of_board(work: Work) -> str:
    """“lid: ” in front of what is said of one board among several."""
    return f"{work.design.name}: " if len(work.project.designs) > 1 else ""


def _by_stage() -> Iterator[tuple[str, str, Edit]]:
    """Every operation in the order of the stages, the first one of each with the stage's title."""
    for stage in stages():
        title = f"{stage.number} {stage.title}"
        for name, one in edits().items():
            if one.stage == stage.key:
                yield title, name, one
                title = ""


def _info(given: Arguments) -> int:
    compiler = Compiler()
    _, works = _all_opened(given, compiler)
    work, findings = works[0], compiler.all_findings(works)
    facts = info(work, findings)
    if len(works) > 1:
        facts["boards"] = [{"name": one.design.name, **info(one, compiler.findings(one))} for one in works]
    if given.json:
        print(json.dumps(facts, indent=1, ensure_ascii=False))
        return DONE
    for one in works:
        _print_info(one, info(one, compiler.findings(one)))
    return DONE


def _print_info(work: Work, facts: dict[str, Any]) -> None:
    rows = [
        ("name", facts["name"]),
        ("size", f"{facts['size_mm'][0]:.1f} x {facts['size_mm'][1]:.1f} mm"),
        ("LEDs", str(len(facts["leds"]))),
        (
            "current",
            f"{show_si(facts['drive']['current_a'], 'A')} with all LEDs on, "
            f"{show_si(facts['drive']['average_a'], 'A')} average of the pattern",
        ),
        ("battery life", battery_words(work)),
        ("example price", f"{facts['price']['each']:.2f} credits per board, for {facts['price']['pieces']} boards"),
        ("findings", ", ".join(_counted(count, kind) for kind, count in facts["findings"].items())),
    ]
    if pattern_hours_words(work):
        rows.insert(5, ("", pattern_hours_words(work)))
    for title, value in rows:
        print(f"{title:<14} {value}")
    for one in facts["swatches"]:
        width = thinnest_words(one["thinnest_mm"])
        print(f"  #{one['colour']}  {one['appearance']:<7} {one['area_mm2']:9.1f} mm²  thinnest {width}")


def _counted(count: int, kinds: str) -> str:
    return f"{count} {kinds[:-1] if count == 1 else kinds}"


def finding_json(one: Finding) -> dict[str, Any]:
    """A finding as plain values."""
    return {
        "code": one.code,
        **({"board": one.board} if one.board else {}),
        "severity": one.severity,
        "stage": one.stage,
        "text": one.text,
        "x_mm": None if one.x_mm is None else round(one.x_mm, 3),
        "y_mm": None if one.y_mm is None else round(one.y_mm, 3),
        "measured": one.measured,
        "allowed": one.allowed,
        "layer": one.layer,
        "count": one.count,
        "places": _places(one),
        "remedies": [{"text": r.text, "edit": r.edit, "values": dict(r.values)} for r in one.remedies],
    }


def _places(one: Finding) -> list[dict[str, float]]:
    """Every place of a finding, with the width there where it is about something narrow."""
    places = [{"x_mm": round(x, 3), "y_mm": round(y, 3)} for x, y in one.places]
    return (
        [{**place, "measured": round(width.mm, 3)} for place, width in zip(places, one.widths, strict=True)]
        if one.widths
        else places
    )


def _check(given: Arguments) -> int:
    compiler = Compiler()
    _, works = _all_opened(given, compiler)
    findings = compiler.all_findings(works)
    if given.json:
        print(json.dumps({"findings": [finding_json(one) for one in findings]}, indent=1, ensure_ascii=False))
    else:
        for one in findings:
            place = f" (x {one.x_mm:.1f}, y {one.y_mm:.1f} mm)" if one.x_mm is not None and one.y_mm is not None else ""
            print(f"{one.severity:<8} {one.told}{place}")
            if one.remedies:
                print(f"{'':<8} - {'; '.join(remedy.text for remedy in one.remedies)}")
        if not findings:
            print("No findings. You can order this board.")
    return STOPPED if severities(findings)["stops"] else DONE


def _scale(given: str | None, most: float) -> float | None:
    """The px/mm that was asked for, if any was."""
    return None if given is None else float(Param("quantity", "", 0.5, most).check("--px-per-mm", parse_number(given)))


def _render(given: Arguments) -> int:
    _, work = _opened(given, Compiler())
    scale = _scale(given.px_per_mm, 100) or fitting_scale(work.board.size, PX_PER_MM, USUAL_PIXELS)
    sun = Param("quantity", "", 0, 1).check("--sun", parse_number(given.sun))
    target = Path(given.output)
    if target.suffix.lower() != ".png":
        raise Trouble(f"“{target}” must end in .png.")
    if given.leaf:
        pixels = draw_leaf(work.board, given.leaf, whole_view(work.board.size, given.side, scale))
    else:
        lit = np.ones(len(work.leds))
        if given.time is not None:
            lit = level_at(work.project.motion, work.lamps, parse_quantity(given.time, "s", bare="s"))
        pixels = draw_board(work.board, side=given.side, sun=sun, px_per_mm=scale, levels=lit)
    atomic_write(target, png(pixels, scale))
    return DONE


def _animate(given: Arguments) -> int:
    project, work = _opened(given, Compiler())
    count = write_film(
        work.board,
        project.motion,
        work.lamps,
        Path(given.output),
        seconds=parse_quantity(given.seconds, "s", bare="s") if given.seconds else None,
        fps=parse_number(given.fps),
        sun=Param("quantity", "", 0, 1).check("--sun", parse_number(given.sun)),
        side=given.side,
        px_per_mm=_scale(given.px_per_mm, 60),
    )
    print(f"{given.output}: {count} frames")
    return DONE


def _export(given: Arguments) -> int:
    compiler = Compiler()
    project, works = _all_opened(given, compiler)
    package = package_of({work.design.name: work.board for work in works}, project.brief.pieces, dated(project.edited))
    write_package(package, Path(given.output), given.force)
    print(f"{given.output}: {len(package.files)} files")
    stops = [one for one in compiler.all_findings(works) if one.severity == "stop"]
    for one in stops:
        print(f"stop     {one.told}")
    return STOPPED if stops else DONE


def _layers(given: Arguments) -> int:
    _, work = _opened(given, Compiler())
    target = Path(given.output)
    files = layer_files(work.board, given.kind, _scale(given.px_per_mm, 400))
    if target.exists() and not target.is_dir():
        raise Trouble(f"“{target}” is a file; name a folder.")
    there = [name for name in files if (target / name).exists()]
    if there and not given.force:
        raise Trouble(f"“{target / there[0]}” exists already; add --force to replace it.")
    atomic_folder(target, files)
    print(f"{given.output}: {len(files)} files, {' x '.join(f'{side:.1f}' for side in work.board.size)} mm")
    return DONE


def _proof(given: Arguments) -> int:
    boards = None
    if given.project:
        boards = {work.design.name: work.board for work in _all_opened(given, Compiler())[1]}
    answers = prove_boards(Path(given.package), boards)
    for name, answer in answers.items():
        of_board = f"{name}: " if name else ""
        for one in answer.differences:
            print(f"{'note' if one.note else 'differs':<8} {of_board}{one.text}")
        if answer.good:
            print(f"{of_board}the package is what the board says: {len(answer.layers)} layers, {len(answer.holes)} holes")
    return DONE if all(answer.good for answer in answers.values()) else STOPPED


def _thumbnail(given: Arguments) -> int:
    """From what the file carries, without making the board: file managers ask for many."""
    size = int(Param("count", "", 16, 1024).check("--size", parse_number(given.size)))
    data = read_thumbnail(Path(given.project))
    if data is None:
        raise Trouble(f"“{given.project}” carries no picture of itself; open and save it.")
    atomic_write(Path(given.output), fitted_png(data, size))
    return DONE


def _calc(given: Arguments) -> int:
    if given.name is None:
        for name, one in CALCULATORS.items():
            print(f"{name}: {one.about}")
        return DONE
    if given.explain:
        return _explain(given.name)
    answer = calculate(given.name, given.values)
    if given.json:
        print(json.dumps(answer, indent=1))
    else:
        for key, value in answer.items():
            print(f"{key:<18} {value:.6g}" if isinstance(value, float) else f"{key:<18} {value}")
    return DONE


def _explain(name: str) -> int:
    one = CALCULATORS.get(name)
    if one is None:
        raise Trouble(f"There is no calculator “{name}”; there are {', '.join(CALCULATORS)}.")
    print(f"{name}: {one.about}\nSource: {one.source}\n")
    for key, param in one.params.items():
        default = one.defaults.get(key)
        note = "needed" if not param.optional else f"default {default}" if default is not None else "optional"
        print(f"  {key:<16} {param.describe():<28} {note}")
    return DONE


def _desktop(given: Arguments) -> int:
    folder = data_folder()
    if given.install:
        print(f"{_counted(len(install(folder)), 'files')} written to {folder}")
    else:
        print(f"{_counted(len(remove(folder)), 'files')} removed from {folder}")
    return DONE


COMMANDS: dict[str, Callable[[Arguments], int]] = {
    "new": _new,
    "demo": _demo,
    "edit": _edit,
    "info": _info,
    "check": _check,
    "render": _render,
    "animate": _animate,
    "export": _export,
    "layers": _layers,
    "proof": _proof,
    "thumbnail": _thumbnail,
    "desktop": _desktop,
    "calc": _calc,
}
