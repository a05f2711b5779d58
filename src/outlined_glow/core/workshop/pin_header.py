"""The pins of the controller as a C header of names."""

from __future__ import annotations

import re

from ..text_safety import in_c_comment
from .connections import PIN_COLUMNS, assignment_rows, lit_rows, lit_words, pin_rows, table_text
from .work import Work


def pin_file(work: Work, suffix: str) -> bytes:
    """The pins of the controller as a file: a C header, or else a table."""
    return (pin_header(work) if suffix.lower() == ".h" else table_text(PIN_COLUMNS, pin_rows(work))).encode()


def pin_header(work: Work) -> str:
    """A name for each pin that is used, with its number in the controller's own table; then how outputs stand while a light is
    lit."""
    guard = _guard(work.board.name)
    title = in_c_comment(f"Pins of “{work.board.name}”: {work.plan.controller or 'no controller'}.")
    lines = [f"/* {title} */", f"#ifndef {guard}", f"#define {guard}", ""]
    taken: set[str] = set()
    for row in pin_rows(work):
        name = _named(row["drives"], row["pin"], taken)
        taken.add(name)
        told = in_c_comment(f"{row['name']}, package pin {row['pin']}")
        lines.append(f"#define PIN_{name} {_own_number(row['name'], row['pin'])} /* {told} */")
    alone = {one["led"] for one in assignment_rows(work)}
    chip = next((one.ref for one in work.plan.wanted if one.part.kind == "controller"), "")
    for led, outputs in lit_rows(work):
        rest = ", all others float" if led in alone else ""
        lines.append(f"/* {in_c_comment(f'{led}: {lit_words(outputs, chip)}{rest}')} */")
    return "\n".join([*lines, "", f"#endif /* {guard} */", ""])


def _letters(words: str) -> str:
    """What of some words can stand in a name of C."""
    return re.sub(r"[^A-Z0-9]+", "_", words.upper()).strip("_")


def _guard(name: str) -> str:
    """The name that keeps the header from being read twice: it begins with a letter."""
    stem = _letters(name)
    return f"{stem if stem[:1].isalpha() else f'BOARD_{stem}'.rstrip('_')}_PINS_H"


def _named(drives: str, pin: str, taken: set[str]) -> str:
    """The name of a pin by what it drives, of two that would be alike with the number of the pin."""
    name = _letters(drives) or _letters(pin)
    return f"{name}_AT_{_letters(pin)}" if name in taken else name


def _own_number(name: str, pin: str) -> str:
    found = re.match(r"P(\d+)", name)
    return found.group(1) if found else re.sub(r"\W+", "_", pin, flags=re.ASCII)
