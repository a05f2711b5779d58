"""The nets of a board as IPC-D-356A: every pad and via with its net, for the bare-board test."""

from __future__ import annotations

import itertools
import math
import re
from collections.abc import Iterable, Sequence

from ... import __version__
from ..board import Board
from ..parts import PlacedPad

#: A net is named in so many letters there, a reference and a pin in these; longer ones stand for an alias.
_LETTERS, _OF_REFERENCE, _OF_PIN = 14, 6, 4
_UNCONNECTED = "N/C"


def netlist_356(board: Board, edited: str) -> bytes:
    """The test file; lengths in thousandths of a millimetre."""
    nets, pins = _aliases(board), _Pins(board.pads)
    lines = [
        f"C  Outlined Glow {__version__}, {edited.replace('Z', '+00:00')}",
        *pins.told,
        f"P  JOB   {_plain(board.name)[:60]}",
        "P  CODE  00", "P  UNITS CUST 1", "P  DIM   N", "P  VER   IPC-D-356A", "P  IMAGE PRIMARY",
    ]  # fmt: skip
    lines += [f"P  {short} {_plain(name)}" for name, short in nets.items() if short != _plain(name)]
    for pad in board.pads:
        if pad.drill_mm and pad.side == "back":
            continue
        access = "A00" if pad.drill_mm else "A01" if pad.side == "front" else "A02"
        quarter = round(pad.angle_deg) % 180
        lines.append(
            _record(
                "317" if pad.drill_mm else "327", nets.get(pad.net, _UNCONNECTED), *pins.of(pad.ref, pad.pin), pad.drill_mm,
                access, (pad.x, pad.y), (pad.width, pad.height), quarter,
            )
        )  # fmt: skip
    for link in board.wires.links:
        via = next(one for one in board.wires.vias if (one.x, one.y) == link.start)
        for pin, place, side in link.pins:
            lines.append(
                _record(
                    "317", nets.get(link.net, _UNCONNECTED), link.ref, pin, via.drill, "A01" if side == "front" else "A02",
                    place, (via.diameter, 0.0), 0, plated=False,
                )
            )  # fmt: skip
    for via in board.wires.vias if not board.wires.links else ():
        size = (via.diameter, 0.0)
        lines.append(_record("317", nets.get(via.net, _UNCONNECTED), "VIA", "", via.drill, "A00", (via.x, via.y), size, 0))
    return ("\n".join([*lines, "999"]) + "\n").encode("ascii")


class _Pins:
    """The pins of a board in the letters that there is room for: what is longer, or in other letters, is called otherwise, and
    `told` says so in lines of the file."""

    def __init__(self, pads: Sequence[PlacedPad]) -> None:
        every: dict[str, dict[str, None]] = {}
        for pad in pads:
            every.setdefault(pad.ref, {})[pad.pin] = None
        self._refs = _shortened(every, _OF_REFERENCE)
        self._pins = {ref: _shortened(pins, _OF_PIN) for ref, pins in every.items()}
        self.told = [f"C  REFERENCE {short} {_plain(ref)}" for ref, short in self._refs.items() if short != ref]
        self.told += [
            f"C  PIN {self._refs[ref]} {short} {_plain(pin)}"
            for ref, pins in self._pins.items()
            for pin, short in pins.items()
            if short != pin
        ]

    def of(self, ref: str, pin: str) -> tuple[str, str]:
        """How a pin is called in the file."""
        return self._refs[ref], self._pins[ref][pin]


def _shortened(names: Iterable[str], room: int) -> dict[str, str]:
    """Names in so many letters, each another one: they keep the figures at their end."""
    out = {name: name for name in names if len(name) <= room and _plain(name) == name and name and not re.search(r"\s", name)}
    taken = set(out)
    for name in names:
        if name in out:
            continue
        figures = re.findall(r"[0-9]*$", name)[0][-room + 1 :]
        head = re.sub(r"[^A-Za-z0-9]", "", name.removesuffix(figures))[: room - len(figures)]
        ways = itertools.chain([head + figures], (f"{number:0{room}d}" for number in range(10**room)))
        out[name] = next(one for one in ways if one and one not in taken)
        taken.add(out[name])
    return out


def _aliases(board: Board) -> dict[str, str]:
    """What each net is called in the file: its own name, or a number for one that is too long, or no other than one before."""
    out: dict[str, str] = {}
    taken = {_UNCONNECTED, *(f"NNAME{number}" for number in range(1, len(board.nets) + 1))}
    for number, net in enumerate(board.nets, 1):
        plain = _plain(net.name)
        out[net.name] = plain if len(plain) <= _LETTERS and plain not in taken else f"NNAME{number}"
        taken.add(plain)
    return out


def _record(
    code: str, net: str, ref: str, pin: str, drill: float, access: str, place: tuple[float, float],
    size: tuple[float, float], turned: int, plated: bool = True,
) -> str:  # fmt: skip
    hole = f"D{_whole(drill):04d}{'P' if plated else 'U'}" if drill else " " * 6
    x, y = (f"{'-' if value < 0 else '+'}{abs(_whole(value)):06d}" for value in place)
    wide, high = (f"{min(_whole(value), 9999):04d}" for value in size)
    dash, middle = ("-", " ") if pin else (" ", "M")
    mask = "S3" if code == "317" and not pin else "S0"
    return f"{code}{net:<14.14}   {ref:<6.6}{dash}{pin:<4.4}{middle}{hole}{access}X{x}Y{y}X{wide}Y{high}R{turned:03d} {mask}"


def _whole(mm: float) -> int:
    return math.floor(mm * 1000 + 0.5)


def _plain(text: str) -> str:
    """A text in the letters that the file takes: others by their number, so that no two names become one."""
    return "".join(
        letter if letter.isascii() and letter.isprintable() and letter != "\\" else f"\\{ord(letter):X}\\" for letter in text
    )
