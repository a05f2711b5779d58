"""One-wire pixel chains: data from pixel to pixel, every one with its drivers inside (DOMAIN 6)."""

from __future__ import annotations

from ...lights import Led
from ...parts import part, resistor
from ...project import Drive, Finding, Remedy
from ...units import show
from ..channels import by_kind, channels_of
from ..circuit import GROUND, SUPPLY
from ..limits import stop
from ..method import Built, Job, Method
from ..placement import led_parts
from ..shown import Asked, Numbers, held, in_steps
from ..supply.feed import Feed
from ..ways import Sized, Way

#: What a pixel draws with all its lights off, A; the supply of its full colours and the least it runs on, V; a bit of its data
#: and the pause that ends a frame, s.
IDLE_A, FULL_V, LEAST_V = 0.0007, 4.5, 3.3
BIT_S, LATCH_S = 1.25e-6, 280e-6
_DATA_OHM = "390R"


def frame_s(bits: int, latch_s: float = LATCH_S) -> float:
    """How long the data of a frame takes, s: its bits one after another, and the pause.

    >>> round(frame_s(45 * 24), 6)
    0.00163
    """
    return bits * BIT_S + latch_s


#: How often a typical pixel switches its own lights to dim them.
PIXEL_PULSES_HZ = 430.0


class PixelChain(Method):
    """Pixels in a chain on one line of data."""

    key, title = "pixels", "one-wire pixel chain"
    words = "pixels that pass data on, each with its drivers inside"
    program, uses = True, ("controller",)
    pulses_hz = PIXEL_PULSES_HZ
    lights = "data"

    def needs(self, drive: Drive, leds: tuple[Led, ...], grids: object) -> tuple[int, ...]:
        """One line of data."""
        return (1,)

    def truly(self, drive: Drive, asked: Asked) -> Numbers:
        """Each frame until the data of the next one has come; in steps of eight bits."""
        return in_steps(held(asked, frame_s(8 * asked.lights)), 8)

    def asks(self, drive: Drive, leds: tuple[Led, ...], feed: Feed) -> float:
        """All lights at what is wanted of them, and the pixels themselves."""
        lights = sum(min(drive.current_a, one.light.continuous_a) for one in channels_of(leds))
        return lights + IDLE_A * len(leds)

    def build(self, job: Job) -> Built:
        """Supply and ground to each, data from the controller through a resistor, a capacitor at each and one for all."""
        assert job.pins is not None
        findings: list[Finding] = []
        least = job.feed.least_v
        if least < LEAST_V:
            findings.append(
                stop(
                    "outside-supply-range",
                    f"Pixels run from {LEAST_V:g} V on, with full colours from {FULL_V:g} V; the supply gives {least:.2f} V.",
                    Remedy("power it from USB", "set-supply", (("supply", "usb"),)), measured=round(least, 3), allowed=LEAST_V,
                )
            )  # fmt: skip
        elif min(least, job.loaded_v) < FULL_V:
            findings.append(_pale(min(least, job.loaded_v)))
        rows = []
        for kind in by_kind(channels_of(job.leds)):
            full = kind.light.continuous_a
            duty = min(1.0, job.drive.current_a / full)
            way = Way(kind.emitter, kind.light, kind.indices, full, duty, regulated=True)
            rows.append(Sized(way, 0.0, 0.0, max(0.0, job.loaded_v - way.needs_v)))
        self._join(job)
        bits = sum(8 * len(led.kind.lights) for led in job.leds)
        begins = job.pins.begins("pixels")
        standing = IDLE_A * len(job.leds)
        return Built(tuple(rows), tuple(findings), 1 / frame_s(bits), 1.0, standing, LEAST_V, begins)

    def _join(self, job: Job) -> None:
        assert job.pins is not None
        job.pins.take("pixels data")
        line = job.pins.shifted(["pixels data"], job.feed.open_v)["pixels data"]
        data = job.circuit.join("data 1")
        job.circuit.two(resistor(job.drive.resistor), _DATA_OHM, line, data)
        cap = part("capacitor 0603")
        parts = led_parts(job.leds)
        for at, placed in enumerate(parts, 1):
            number = {pin.role: pin.number for pin in placed.part.pins}
            job.circuit.feed(placed.ref, placed.part)
            job.circuit.join(data, (placed.ref, number["data in"]))
            job.circuit.two(cap, "100n", SUPPLY, GROUND, placed.led, f"CD{placed.led}")
            if at < len(parts):
                data = job.circuit.join(f"data {at + 1}", (placed.ref, number["data out"]))
        bulk = part("electrolytic capacitor, 6.3 mm")
        job.circuit.two(bulk, "470u", GROUND, SUPPLY)


def _pale(volts: float) -> Finding:
    return Finding(
        code="pixels-pale", severity="warning", stage="drive",
        text=f"Pixels show full colours from {FULL_V:g} V on; here they have {show(volts, 2)} V: green and blue are pale.",
        measured=round(volts, 3), allowed=FULL_V,
        remedies=(Remedy("power it from USB", "set-supply", (("supply", "usb"),)),),
    )  # fmt: skip
