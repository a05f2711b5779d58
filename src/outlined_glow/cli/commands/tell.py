"""`info` and `check`: figures and findings."""

from __future__ import annotations

import json
from typing import Any

from ...core.project import Finding
from ...core.units import show_si
from ...core.workshop import Compiler, Work
from ...core.workshop.drive_facts import lit_words
from ...core.workshop.facts import battery_words, info, pattern_hours_words, severities, thinnest_words
from ..counting import counted
from ..exits import DONE, STOPPED
from . import Arguments
from .opening import all_opened


def info_(given: Arguments) -> int:
    """Run `info`."""
    compiler = Compiler()
    _, works = all_opened(given, compiler)
    of_each = [info(one, compiler.findings(one)) for one in works]
    if not given.json:
        for one, facts in zip(works, of_each, strict=True):
            _print_info(one, facts)
        return DONE
    whole = info(works[0], compiler.all_findings(works)) if len(works) > 1 else of_each[0]
    if len(works) > 1:
        whole["boards"] = [
            {**facts, "name": one.board.name, "board": one.design.name} for one, facts in zip(works, of_each, strict=True)
        ]
    print(json.dumps(whole, indent=1, ensure_ascii=False))
    return DONE


def _print_info(work: Work, facts: dict[str, Any]) -> None:
    rows = [
        ("name", work.board.name),
        ("size", f"{facts['size_mm'][0]:.1f} x {facts['size_mm'][1]:.1f} mm"),
        ("LEDs", str(len(facts["leds"]))),
        (
            "current",
            f"{show_si(facts['drive']['current_a'], 'A')} with {lit_words(work)}, "
            f"{show_si(facts['drive']['average_a'], 'A')} average of the pattern",
        ),
        ("battery life", battery_words(work)),
        ("example price", f"{facts['price']['each']:.2f} credits per board, for {facts['price']['pieces']} boards"),
        ("findings", ", ".join(counted(count, kind) for kind, count in facts["findings"].items())),
    ]
    if pattern_hours_words(work):
        rows.insert(5, ("", pattern_hours_words(work)))
    for title, value in rows:
        print(f"{title:<14} {value}")
    for one in facts["swatches"]:
        width = thinnest_words(one["thinnest_mm"])
        print(f"  #{one['colour']}  {one['appearance']:<7} {one['area_mm2']:9.1f} mm²  thinnest {width}")


def check_(given: Arguments) -> int:
    """Run `check`."""
    compiler = Compiler()
    _, works = all_opened(given, compiler)
    findings = compiler.all_findings(works)
    if given.json:
        print(json.dumps({"findings": [finding_json(one) for one in findings]}, indent=1, ensure_ascii=False))
    else:
        for one in findings:
            place = f" (x {one.x_mm:.1f}, y {one.y_mm:.1f} mm)" if one.x_mm is not None and one.y_mm is not None else ""
            print(f"{one.severity:<8} {one.sentence}{place}")
            if one.remedies:
                print(f"{'':<8} - {'; '.join(remedy.text for remedy in one.remedies)}")
        if not findings:
            print("No findings. You can order this board.")
    return STOPPED if severities(findings)["stops"] else DONE


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
