"""Limits by stretches of chainage, and which of them holds where."""

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import fields_of, meant, ranged_part
from delgrun.core.limits.topics import Topics

# Which of two limits is the stricter.
STRICTER: dict[str, Callable[[float, float], float]] = {
    f.name: max if f.ranged == "higher" else min for f in fields_of(Topics) if f.ranged
}
# A range shorter than this is none. [m]
LEAST_M = 0.1


@dataclass(frozen=True, kw_only=True)
class _Place:
    from_m: float = meant("chainage", "from", low=-1e8, high=1e8)
    to_m: float = meant("chainage", "to", low=-1e8, high=1e8)
    words: str = meant("line", "what it is", first="")


_Own: Any = ranged_part("_Own", _Place, Topics)


@dataclass(frozen=True, kw_only=True)
class LimitRange(_Own):  # type: ignore[misc]
    """A stretch of chainage with limits of its own, any that is `ranged`; what it leaves free is as around it."""

    road: str = meant("word", "centreline", first="centreline")


@dataclass(frozen=True, kw_only=True)
class LimitRanges:
    """All ranges of a project, in the order in which they were made."""

    rows: tuple[LimitRange, ...] = meant("count", "ranges", of=LimitRange, most=200, first=())

    def check(self) -> None:
        """Raises DesignInputError where a range ends before it begins, or no grade could keep one."""
        for row in self.rows:
            if row.to_m - row.from_m < LEAST_M:
                raise DesignInputError(
                    "to_m", "The range from {a:chainage} to {b:chainage} has no length.", a=row.from_m, b=row.to_m
                )
            if row.max_grade is not None and row.min_grade is not None and row.min_grade >= row.max_grade:
                raise DesignInputError(
                    "min_grade",
                    "In the range from {a:chainage} the flattest grade must be less than the steepest.",
                    a=row.from_m,
                )

    def of(self, road: str) -> tuple[LimitRange, ...]:
        """Those of one road."""
        return tuple(row for row in self.rows if row.road == road)


class Steps:
    """One limit along the road: which value holds where.

    A range inside another replaces it there; between equals, where neither lies inside the other, the stricter holds;
    where no range says anything the whole road's value does (None: free).
    """

    def __init__(self, name: str, base: float | None, ranges: Sequence[LimitRange]) -> None:
        self._stricter = STRICTER[name]
        said = [(r.from_m, r.to_m, value) for r in ranges if (value := getattr(r, name)) is not None]
        self.edges = sorted({edge for a, b, _ in said for edge in (a, b)})
        # Before the first edge, between edges, and behind the last.
        self.values: list[float | None] = [base]
        for a, b in zip(self.edges, self.edges[1:], strict=False):
            here = [r for r in said if r[0] <= a and r[1] >= b]
            inner = [r for r in here if not any(_inside(other, r) for other in here)]
            self.values.append(self._strictest([value for _, _, value in inner]) if inner else base)
        if self.edges:
            self.values.append(base)

    def _strictest(self, values: Sequence[float | None]) -> float | None:
        found: float | None = None
        for value in values:
            if value is not None:
                found = value if found is None else self._stricter(found, value)
        return found

    @property
    def free(self) -> bool:
        """Whether nothing is asked anywhere."""
        return not any(self.values)

    def over(self, from_m: float, to_m: float) -> float | None:
        """The strictest value on a stretch; at one chainage the strictest of what meets there."""
        if not self.edges:
            return self.values[0]
        if from_m < to_m:
            low, high = bisect_right(self.edges, from_m), bisect_left(self.edges, to_m)
        else:
            low, high = bisect_left(self.edges, from_m), bisect_right(self.edges, to_m)
        return self._strictest(self.values[low : high + 1])

    def at(self, chainage_m: NDArray[np.float64]) -> NDArray[np.float64]:
        """(n,) value at each chainage, NaN where it is free; at an edge that of the stretch behind it."""
        values = np.array([np.nan if v is None else v for v in self.values])
        found: NDArray[np.float64] = values[np.searchsorted(self.edges, chainage_m, side="right")]
        return found

    def along(self, from_m: float, to_m: float) -> Iterator[tuple[float, float, float | None]]:
        """Stretches of a stretch with one value each: (from, to, value)."""
        if not self.edges:
            yield from_m, to_m, self.values[0]
            return
        low, high = bisect_right(self.edges, from_m), bisect_left(self.edges, to_m)
        inner = [e for e in self.edges[low:high] if from_m < e < to_m]
        bounds = [from_m, *inner, to_m]
        for k, (a, b) in enumerate(pairwise(bounds)):
            yield a, b, self.values[low + k]


def _inside(inner: tuple[float, float, float], outer: tuple[float, float, float]) -> bool:
    """Whether one stretch lies inside another, and is not the same."""
    return outer[0] <= inner[0] and inner[1] <= outer[1] and inner[:2] != outer[:2]
