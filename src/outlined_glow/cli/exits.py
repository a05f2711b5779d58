"""Exit codes: done; done, but something stops the order (or a proof differs); bad use or bad input."""

DONE, STOPPED, BAD = 0, 1, 2
INTERRUPTED = 130
