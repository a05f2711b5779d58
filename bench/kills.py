"""A thousand kills at random moments: what each cost, as docs/reliability.md tells it.

.venv/bin/python bench/kills.py [COUNT]        a line at the end, and bench/kills.json
"""

from __future__ import annotations

import json
import statistics
import sys
import tempfile
from pathlib import Path
from random import Random

from killed import kill_once

HERE = Path(__file__).parent


def main() -> int:
    """Kill, look, count."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
    dice = Random(20261125)
    with tempfile.TemporaryDirectory() as place:
        outcomes = [kill_once(Path(place) / str(number), dice) for number in range(count)]
    missing = sorted(one.missing_s for one in outcomes)
    result = {
        "kills": count,
        "project files that did not open": sum(not one.file_opens for one in outcomes),
        "project files that were neither the old nor the new": sum(not one.file_is_a_saved_one for one in outcomes),
        "journals that did not open": sum(not one.journal_opens for one in outcomes),
        "seconds of work missing, median": round(statistics.median(missing), 3),
        "seconds of work missing, most": round(missing[-1], 3),
    }
    (HERE / "kills.json").write_text(json.dumps(result, indent=1) + "\n")
    for name, value in result.items():
        print(f"{name:<55} {value}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
