"""A short run of the random hand; the long one is `bench/random_hand.py` itself."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

_PROGRAM = Path(__file__).parents[2] / "bench" / "random_hand.py"


def test_a_random_hand_meets_no_error() -> None:
    done = subprocess.run(
        [sys.executable, str(_PROGRAM), "250", "7"],
        capture_output=True, text=True, check=False, env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
    )  # fmt: skip
    assert done.returncode == 0, done.stdout[-4000:] + done.stderr[-4000:]
    assert "250 actions" in done.stdout
