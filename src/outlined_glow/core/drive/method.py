"""What a way to drive LEDs is: one object that judges whether it can, plans what it needs, and says what it can show."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass
from typing import Literal

from ..lights import Led
from ..project import Drive, Motion
from .plan import DrivePlan

Word = Literal["works", "works, with a caution", "refused"]
_WORDS: tuple[tuple[str, Word], ...] = (("stop", "refused"), ("warning", "works, with a caution"))
#: Which limit a finding of the drive is about.
_LIMITS = {
    "no-voltage-left": "headroom",
    "little-headroom": "headroom",
    "led-over-current": "pulse",
    "resistor-warm": "heat",
    "supply-over-current": "supply-current",
    "cell-over-continuous": "supply-current",
}


@dataclass(frozen=True)
class Verdict:
    """Whether a method can drive some LEDs; the one reason why not, or why with care; and the limit that is broken."""

    word: Word
    reason: str = ""
    limit: str = ""


class Method(ABC):
    """A way to drive LEDs. `key` is its name on the command line and in files, `title` what people read."""

    key: str
    title: str

    @abstractmethod
    def plan(self, drive: Drive, leds: tuple[Led, ...]) -> DrivePlan:
        """Currents, parts, nets, and what breaks a limit."""

    @abstractmethod
    def shows(self, motion: Motion) -> bool:
        """Whether it can truly show a motion; what it cannot is a preview."""

    def judge(self, drive: Drive, leds: tuple[Led, ...]) -> Verdict:
        """By what its plan breaks, the worst first."""
        findings = self.plan(drive, leds).findings
        for severity, word in _WORDS:
            for finding in findings:
                if finding.severity == severity:
                    return Verdict(word, finding.text, _LIMITS.get(finding.code, ""))
        return Verdict("works")
