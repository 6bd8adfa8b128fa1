"""How many made cases a law is held against: some in every run, many when they are asked for (`--only laws`)."""

import os
from collections.abc import Callable
from functools import wraps
from typing import ParamSpec

P = ParamSpec("P")

_TIMES = float(os.environ.get("DELGRUN_LAWS", "0.4"))


def examples(usual: int) -> int:
    """So many cases of what is usual, and never so few that a law is none."""
    return max(round(usual * _TIMES), 8)


_looked = 0
_ROUNDS = 5


def looked() -> None:
    """This case got where the law is held; the others were refused, or had nothing to hold it against."""
    global _looked
    _looked += 1


def looks(least: int = 4) -> Callable[[Callable[P, None]], Callable[P, None]]:
    """A law that may leave a case early has looked at so many at the least; where chance left fewer, at more cases."""

    def of(law: Callable[P, None]) -> Callable[P, None]:
        @wraps(law)
        def whole(*args: P.args, **kwargs: P.kwargs) -> None:
            before = _looked
            for _ in range(_ROUNDS):
                law(*args, **kwargs)
                if _looked - before >= least:
                    return
            raise AssertionError(f"The law was held against {_looked - before} cases only.")

        return whole

    return of
