"""The connection list and the pins of the controller: as tables and JSON."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Mapping, Sequence
from typing import Any

from ..drive.channels import channels_of, on_outputs
from ..drive.lit_by import LitBy, Outputs
from ..drive.methods import method
from ..drive.placement import led_parts
from ..parts import Part, pin_order
from .net_facts import net_facts
from .work import Work

_FACTORS = {"M": 1e6, "k": 1e3, "R": 1.0, "F": 1.0, "u": 1e-6, "n": 1e-9, "p": 1e-12}
#: What a pin of a part is used for, where the controller stands by its table.
PIN_COLUMNS = ("pin", "name", "drives", "at_start", "pwm")
#: The columns of the connection list.
CONNECTION_COLUMNS = ("reference", "value", "side", "pin", "name", "role", "net")


def value_of(part: Part, value: str) -> dict[str, float | None]:
    """The number that a value on the legend means: ohms of a resistor, farads of a capacitor.

    >>> _number("1k2"), _number("470u"), _number("595 type")
    (1200.0, 0.00047, None)
    """
    number = _number(value)
    if part.kind == "capacitor":
        return {"value_f": number}
    return {"value_ohm": number} if part.kind == "resistor" else {}


def _number(value: str) -> float | None:
    found = re.fullmatch(r"(\d+)([MkRFunp])(\d*)", value)
    if found is None:
        return None
    whole, factor, rest = found.groups()
    return float(f"{float(f'{whole}.{rest or 0}') * _FACTORS[factor]:.6g}")


def connections(work: Work, works: Sequence[Work] = ()) -> dict[str, Any]:
    """Parts with value and pins, and nets with pins: the connection list; `works` are all boards, for what meets its plugs."""
    plan = work.plan
    net_of = {pin: net.name for net in plan.nets for pin in net.pins}
    every = [(one.ref, one.part, one.side, one.value) for one in led_parts(work.leds)]
    every += [(one.ref, one.part, one.side, plan.values.get(one.ref, "")) for one in plan.wanted]
    parts = [
        {
            "reference": ref, "kind": part.kind, "value": value, **value_of(part, value), "side": side,
            "pins": [
                {"number": pin.number, "name": pin.name, "role": pin.role, "net": net_of.get((ref, pin.number))}
                for pin in part.pins
            ],
        }
        for ref, part, side, value in every
    ]  # fmt: skip
    return {"parts": parts, **net_facts(work, works)}


def connection_rows(work: Work) -> list[dict[str, Any]]:
    """The connection list as rows, one for each pin."""
    return [
        {
            "reference": part["reference"], "value": part["value"], "side": part["side"], "pin": pin["number"],
            "name": pin["name"], "role": pin["role"], "net": pin["net"] or "",
        }
        for part in connections(work)["parts"]
        for pin in part["pins"]
    ]  # fmt: skip


def table_text(columns: Sequence[str], rows: Sequence[Mapping[str, Any]]) -> str:
    """Rows as a table with commas."""
    out = io.StringIO()
    table = csv.DictWriter(out, columns, lineterminator="\n")
    table.writeheader()
    table.writerows(rows)
    return out.getvalue()


def connection_file(work: Work, suffix: str) -> bytes:
    """The connection list as a file: JSON, or else a table."""
    if suffix.lower() == ".json":
        return json.dumps(connections(work), indent=1, ensure_ascii=False).encode()
    return table_text(CONNECTION_COLUMNS, connection_rows(work)).encode()


def pin_rows(work: Work) -> list[dict[str, Any]]:
    """The pins of the controller that are used, in the order of their numbers."""
    used = sorted(work.plan.pins, key=lambda one: pin_order(one.number))
    return [
        {"pin": one.number, "name": one.name, "drives": one.drives, "at_start": one.at_start, "pwm": one.pwm} for one in used
    ]


def output_keys(work: Work) -> tuple[str, ...]:
    """The lights on the outputs of registers, in the order of those, each by LED and letter; none where there are no registers.
    The program sends their levels in that order."""
    drive = work.design.drive
    if drive.groups or not method(drive.method).outputs_swap:
        return ()
    return tuple(one.key for one in on_outputs(channels_of(work.leds), drive.outputs))


def lit_rows(work: Work) -> list[tuple[str, tuple[LitBy, ...]]]:
    """Each light with the outputs that a program sets to light it; none where no program does."""
    refs = {led.index: body.ref for led, body in zip(work.leds, led_parts(work.leds), strict=True)}
    every, rows = Outputs(work.plan), []
    for way in work.values["current ways"]:
        if way.light is not None and (outputs := every.lighting(way)):
            index, light = way.light
            rows.append((refs[index] + (f" {light}" if light else ""), outputs))
    return rows


def assignment_rows(work: Work) -> list[dict[str, str]]:
    """For each light of a charlieplex, or of a matrix on pins alone, the pin that is high and the one that is low while it is
    lit; all others float. Nothing for ways whose LEDs do not lie between pins."""
    return [
        {"led": led, **{one.level: one.name for one in outputs}}
        for led, outputs in lit_rows(work)
        if {one.level for one in outputs} == {"high", "low"} and outputs[0].ref == outputs[-1].ref
    ]


def lit_facts(work: Work) -> list[dict[str, Any]]:
    """The same as `lit_rows`, for the command line."""
    return [
        {
            "led": led,
            "outputs": [
                {"reference": one.ref, "pin": one.pin, "name": one.name, "net": one.net, "level": one.level} for one in outputs
            ],
        }
        for led, outputs in lit_rows(work)
    ]


def lit_words(outputs: Sequence[LitBy], controller: str = "") -> str:
    """How outputs stand while a light is lit, those of the controller by their names alone."""
    return ", ".join(f"{one.name if one.ref == controller else f'{one.ref} {one.name}'} {one.level}" for one in outputs)
