"""Which practice a project follows: what its numbers are shown in, and what things are called."""

from dataclasses import dataclass, replace
from math import floor, log10
from typing import Any, TypeVar

from delgrun.core.fields import fields_of, meant
from delgrun.core.units import SYSTEMS, System

T = TypeVar("T")


@dataclass(frozen=True, kw_only=True)
class Practice:
    """Which units a project is shown in, and their words; nothing that is kept depends on it."""

    system: str = meant(
        "word", "units", choices=SYSTEMS, first="metric",
        says="metric; us: feet of 0.3048 m; us_survey: feet of 1200/3937 m",
    )  # fmt: skip


def rounded(value: T, system: System) -> T:
    """An input with its numbers as round in the units of a practice as a designer there would type them.

    A first value of 3 m is one of 10 ft, not of 9.8425: to halves of the leading digit. What is the same in both
    practices stays.
    """
    if system == "metric":
        return value
    found: dict[str, Any] = {}
    for f in fields_of(type(value)):
        own = getattr(value, f.name)
        if f.of is not None:
            found[f.name] = tuple(rounded(row, system) for row in own)
        elif f.shown.kind == "number" and f.shown.us is not None and own:
            factor = f.shown.factor(system)
            if factor != f.shown.scale:
                found[f.name] = _round(own * factor) / factor
    return replace(value, **found)  # type: ignore[type-var]


def _round(value: float) -> float:
    """To halves of its leading digit.

    >>> _round(9.8425), _round(147.6), _round(0.984)
    (10.0, 150.0, 1.0)
    """
    step = 10.0 ** floor(log10(abs(value))) / 2
    return round(value / step) * step
