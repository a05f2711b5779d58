"""Arguments to commands; exit codes: 0 done, 1 done but something stops the order, 2 bad use or bad input."""

from __future__ import annotations

import sys
from collections.abc import Sequence

from ..core.errors import Trouble
from ..report import write_report
from .commands import command
from .exits import BAD, DONE, INTERRUPTED
from .parser import build_parser


def run(arguments: Sequence[str]) -> int:
    """Run one command; every expected failure is one line on standard error and exit 2."""
    parsed = build_parser().parse_args(arguments)

    try:
        return command(parsed.command)(parsed)
    except Trouble as trouble:
        print(f"glow {parsed.command}: {trouble}", file=sys.stderr)
        return BAD
    except KeyboardInterrupt:
        print(f"\nglow {parsed.command}: stopped; nothing was changed that is not said above.", file=sys.stderr)
        return INTERRUPTED
    except BrokenPipeError:
        sys.stderr.close()
        return DONE
    except Exception as error:  # whatever else happens is a bug: told in a sentence, kept in a report
        print(
            f"glow {parsed.command}: something went wrong inside the program; see {write_report(error, parsed.command)}",
            file=sys.stderr,
        )
        return BAD
