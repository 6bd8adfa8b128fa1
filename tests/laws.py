"""How many made cases a law is held against: some in every run, many when they are asked for (`--only laws`)."""

import os

_TIMES = float(os.environ.get("DELGRUN_LAWS", "0.4"))


def examples(usual: int) -> int:
    """So many cases of what is usual, and never so few that a law is none."""
    return max(round(usual * _TIMES), 8)
