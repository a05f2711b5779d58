"""Row-and-column scan: the rows of a matrix are lit one after another, so fast that all seem lit (DOMAIN 5)."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from ...lights import Led
from ...parts import Emitter, part, resistor
from ...project import Drive, Finding
from ..channels import Channel, channels_of, of_channels
from ..circuit import GROUND, SUPPLY, pin_named
from ..devices import SERIAL_HZ, WRITE_S, sinks, switches
from ..limits import Refused, not_for_these, output_over, package_over, pulse_over, sink_out_of_range, too_few_pins
from ..method import REFRESH_HZ, Built, Job, Method
from ..own_controller import controllers_of
from ..resistor import short_ohms
from ..set_current import join_set_current, set_current
from ..shown import most_bits
from ..turns import allowed_peak
from ..ways import Sized, Way, sharing, sized

_ROW_SWITCH, _SINKS = "switching transistor, P", "constant-current sink, 16 outputs"


def shape_of(drive: Drive, leds: Sequence[Led], grids: Mapping[str, tuple[int, int]]) -> tuple[int, int]:
    """Rows and columns of a scan: as told, or those of the one grid that the LEDs are, or the most square there is; the
    shorter side are the rows. Dot blocks have their own: they share the rows, each has its columns.

    >>> shape_of(Drive(), [], {})
    (1, 1)
    """
    if leds and leds[0].kind.shares_pins:
        anodes, cathodes = lines_of(leds[0].kind)
        return len(anodes), len(cathodes) * len(leds)
    count = max(1, len(leds))
    arrays = {led.array for led in leds}
    if drive.rows is not None:
        rows = min(drive.rows, count)
    elif len(arrays) == 1 and (found := grids.get(next(iter(arrays)))) and found[0] * found[1] >= count:
        rows = min(found)
    else:
        rows = max(1, math.isqrt(count))
    return rows, math.ceil(count / rows)


def lines_of(kind: Emitter) -> tuple[list[str], list[str]]:
    """The pins of a part whose lights lie in rows and columns: those toward the supply, those toward ground."""
    return list(dict.fromkeys(one.anode for one in kind.lights)), list(dict.fromkeys(one.cathode for one in kind.lights))


class RowColumnScan(Method):
    """A matrix: each LED lies between a row and a column."""

    key, title = "scan", "row-and-column scan"
    words = "a matrix whose rows are lit one after another"
    program, uses = True, ("controller", "rows")
    matrices, turns = True, True
    pulses_hz = REFRESH_HZ

    def bits(self, drive: Drive, lights: int = 1) -> int:
        """The shortest bit plane of a row lasts as long as its columns take to be told."""
        rows = max(1, min(drive.rows or math.isqrt(lights), lights))
        told_s = max(WRITE_S, -(-lights // rows) / SERIAL_HZ)
        return most_bits(1 / (REFRESH_HZ * rows), told_s)

    def needs(self, drive: Drive, leds: tuple[Led, ...], grids: Mapping[str, tuple[int, int]]) -> tuple[int, ...]:
        """A pin for each row and column; or one for each row, and three for registers that sink the columns,
        which it must be where a column takes more than a pin bears."""
        rows, columns = shape_of(drive, leds, grids)
        of_pins = [one.pin_a for name, one in controllers_of(drive).items() if drive.controller in {"", name}]
        peak = max((target * rows for target, _ in of_channels(channels_of(leds), drive)), default=0.0)
        strong = peak <= min(of_pins, default=0.0)
        return (rows + columns if strong else max(rows + columns, rows + 3), rows + 3)

    def build(self, job: Job) -> Built:
        """Rows from the supply, columns to ground; a resistor in each column, or sinks that regulate."""
        channels, drive = channels_of(job.leds), job.drive
        blocks = {led.kind.name if led.kind.shares_pins else "" for led in job.leds}
        if len(blocks) > 1:
            raise Refused(
                not_for_these(self.title, "each kind of dot block, and single LEDs, take a scan of their own: make groups")
            )
        if blocks == {""} and (any(one.common for one in channels) or len(channels) != len(job.leds)):
            raise Refused(not_for_these(self.title, "their lights share pins, or one has several"))
        assert job.pins is not None
        rows, columns = shape_of(drive, job.leds, job.grids)
        sink = sinks()[_SINKS]
        duty = 1 / rows
        wanted = of_channels(channels, drive)
        findings: list[Finding] = []
        for target, some in wanted:
            allowed = allowed_peak(some[0].light.continuous_a, duty)
            if target / duty > allowed * 1.0001:
                findings.append(pulse_over(some[0].led.kind.name, target / duty, allowed, duty, drive))
        chosen = job.pins.controller
        # A high of a lower voltage than the rows have would not put a column out.
        weak = job.pins.logic_v < job.feed.open_v - 1e-9
        peak = max((target / duty for target, _ in wanted), default=0.0)
        by_sinks = job.choice == 1 or weak or peak > chosen.pin_a
        set_ohm, set_a, _ = set_current(sink, drive.current_a / duty, drive)
        if by_sinks:
            # One resistor sets one current for lights of every kind.
            wanted = [(set_a * duty, some) for _, some in wanted]
        if by_sinks and job.pins.left < rows + 3:
            raise Refused(too_few_pins(self.title, rows + 3, chosen, job.pins.left))
        found = self._rows(job, wanted, duty, columns, by_sinks)
        row_a = columns * max((row.way.at_most(job.feed, row.resistor_ohm or 0.0, 0.05) for row in found), default=0.0)
        placed = _placed(job, channels, rows, columns)
        self._join_rows(job, rows, row_a, findings)
        if by_sinks:
            findings += _join_sinks(job, columns, set_ohm, set_a)
        else:
            ohm = max((row.resistor_ohm or 0.0 for row in found), default=0.0)
            _join_columns(job, placed, columns, ohm)
            if row_a > chosen.total_a:
                findings.append(package_over("the controller", row_a, chosen.total_a, drive))
        standing = sink.standing_a * -(-columns // sink.outputs) if by_sinks else 0.0
        pulled = {f"row {row} gate": "1" for row in range(1, rows + 1)}
        begins = job.pins.begins("matrix", pulled)  # type: ignore[arg-type]
        return Built(tuple(found), tuple(findings), REFRESH_HZ, 1.0, standing, sink.supply_v[0] if by_sinks else 0.0, begins)

    def _rows(
        self, job: Job, wanted: list[tuple[float, tuple[Channel, ...]]], duty: float, columns: int, by_sinks: bool
    ) -> list[Sized]:
        """Each kind's currents; LEDs of several kinds in one column share its resistor, the largest that one asks for."""
        sink = sinks()[_SINKS]
        out = []
        for target, some in wanted:
            indices = tuple(one.led.index for one in some)
            way = Way(
                some[0].led.kind, some[0].light, indices, target / duty, duty,
                ohm=switches()[_ROW_SWITCH].ohm, drop_v=sink.drop_v if by_sinks else 0.0,
                limit_a=sink.output_a if by_sinks else job.pins.controller.pin_a if job.pins else None, regulated=by_sinks,
            )  # fmt: skip
            out.append(sized(way, job.loaded_v, job.feed, job.drive))
        most = max((row.resistor_ohm for row in out if row.resistor_ohm is not None), default=None)
        if by_sinks or most is None:
            return out
        # The resistor of a column carries a current in the turn of every row.
        return sharing(out, most, columns, 1.0)

    def _join_rows(self, job: Job, rows: int, row_a: float, findings: list[Finding]) -> None:
        """A switch for each row, or the pin itself where that carries the whole row."""
        assert job.pins is not None
        chosen = job.pins.controller
        names = [f"row {row}" for row in range(1, rows + 1)]
        if row_a <= chosen.pin_a and job.pins.logic_v >= job.feed.open_v - 1e-9:
            for name in names:
                job.pins.take(name)
            return
        body, switch = part(_ROW_SWITCH), switches()[_ROW_SWITCH]
        if row_a > switch.most_a:
            findings.append(output_over("A row switch", row_a, switch.most_a, job.drive))
        gates = [f"{name} gate" for name in names]
        for gate in gates:
            job.pins.take(gate)
            # Until the program runs no row may be lit.
            job.circuit.two(resistor(job.drive.resistor), "100k", SUPPLY, gate)
        strong = job.pins.shifted(gates, job.feed.open_v)
        for name, gate in zip(names, gates, strict=True):
            ref = job.circuit.add(body)
            job.circuit.join(strong[gate], (ref, pin_named(body, "gate")))
            job.circuit.join(SUPPLY, (ref, pin_named(body, "source")))
            job.circuit.join(name, (ref, pin_named(body, "drain")))


def _placed(job: Job, channels: tuple[Channel, ...], rows: int, columns: int) -> dict[Channel, tuple[int, int]]:
    """The row and column of each LED, and its pins joined to them: its own in the grid, turned where the grid stands."""
    if channels and channels[0].led.kind.shares_pins:
        return _placed_blocks(job, channels)
    arrays = {one.led.array for one in channels}
    grid = job.grids.get(next(iter(arrays))) if len(arrays) == 1 else None
    own = grid is not None and {rows, columns} == set(grid) and job.drive.rows in (None, rows)
    out = {}
    for at, one in enumerate(channels):
        across = grid[1] if own and grid is not None else columns
        row, column = divmod(one.led.place - 1 if own else at, across)
        if own and across != columns:
            row, column = column, row
        out[one] = row, column
        job.circuit.join(f"row {row + 1}", *one.alike(one.light.anode))
        job.circuit.join(f"column {column + 1}", *one.alike(one.light.cathode))
    return out


def _placed_blocks(job: Job, channels: tuple[Channel, ...]) -> dict[Channel, tuple[int, int]]:
    """The same for lights of dot blocks: the rows are those of every block, the columns follow block by block."""
    anodes, cathodes = lines_of(channels[0].led.kind)
    blocks = {led.index: at for at, led in enumerate(job.leds)}
    out = {}
    for one in channels:
        row = anodes.index(one.light.anode)
        column = blocks[one.led.index] * len(cathodes) + cathodes.index(one.light.cathode)
        out[one] = row, column
        job.circuit.join(f"row {row + 1}", *one.alike(one.light.anode))
        job.circuit.join(f"column {column + 1}", *one.alike(one.light.cathode))
    return out


def _join_columns(job: Job, placed: Mapping[Channel, tuple[int, int]], columns: int, ohm: float) -> None:
    """A resistor from each column to its pin."""
    assert job.pins is not None
    chip = resistor(job.drive.resistor)
    for column in range(columns):
        name = f"column {column + 1}"
        net = name
        if ohm > 0:
            near = next((one.led.index for one, (_, at) in placed.items() if at == column), None)
            net = f"{name} pin"
            job.circuit.two(chip, short_ohms(ohm), name, net, near, f"{chip.prefix}C{column + 1}")
        job.pins.take(net)


def _join_sinks(job: Job, columns: int, set_ohm: float, set_a: float) -> list[Finding]:
    """Registers that sink the columns, one after another, with the resistor that sets their current."""
    assert job.pins is not None
    body, sink = part(_SINKS), sinks()[_SINKS]
    lines = ["columns data", "columns clock", "columns latch"]
    for line in lines:
        job.pins.take(line)
    strong = job.pins.shifted(lines, job.feed.open_v)
    number = {pin.name: pin.number for pin in body.pins}
    data = strong["columns data"]
    findings = []
    if not (sink.supply_v[0] <= job.feed.least_v and job.feed.high_v <= sink.supply_v[1]):
        findings.append(sink_out_of_range(sink, job.feed))
    for first in range(0, columns, sink.outputs):
        ref = job.circuit.add(body, "sinks")
        job.circuit.feed(ref, body)
        job.circuit.two(part("capacitor 0603"), "100n", SUPPLY, GROUND)
        job.circuit.join(data, (ref, number["data in"]))
        job.circuit.join(strong["columns clock"], (ref, number["clock"]))
        job.circuit.join(strong["columns latch"], (ref, number["latch"]))
        job.circuit.join(GROUND, (ref, number["output enable"]))
        data = f"columns data {first // sink.outputs + 2}"
        if first + sink.outputs < columns:
            job.circuit.join(data, (ref, number["data out"]))
        join_set_current(job.circuit, job.drive, set_ohm, first // sink.outputs + 1, (ref, number["current set"]))
        for at in range(min(sink.outputs, columns - first)):
            job.circuit.join(f"column {first + at + 1}", (ref, number[f"OUT{at}"]))
    if set_a > sink.output_a:
        findings.append(output_over("A sink", set_a, sink.output_a, job.drive))
    return findings
