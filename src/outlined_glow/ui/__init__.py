"""The window: shell, bench, ledger, one drawer per stage, theme. It shows and asks; it computes nothing."""
