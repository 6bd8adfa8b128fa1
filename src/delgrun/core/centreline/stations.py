"""Chainage equations: where a line is joined to an old one, what is written along it goes on from another value."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant
from delgrun.core.units import plain_chainage

FloatArray = NDArray[np.float64]

# Values that are nearer are one. [m]
_SAME_M = 5e-4
# A longer list is no use to anybody, and a slip of the hand. [places]
MOST_PLACES = 200_000


@dataclass(frozen=True, kw_only=True)
class Equation:
    """At one chainage of a line as it runs (back), it is written on as `ahead_m`."""

    at_m: float = meant("chainage", "at", low=-1e8, high=1e8)
    ahead_m: float = meant("station", "ahead", low=-1e8, high=1e8)
    road: str = meant("word", "centreline", first="centreline")


@dataclass(frozen=True, kw_only=True)
class Equations:
    """Chainage equations of all roads of a project."""

    rows: tuple[Equation, ...] = meant("count", "chainage equations", of=Equation, most=200, first=())

    def check(self) -> None:
        """Raises DesignInputError where two stand at one place."""
        at = sorted((row.road, row.at_m) for row in self.rows)
        for (a, s), (b, t) in pairwise(at):
            if a == b and t - s < _SAME_M:
                raise DesignInputError(
                    "at_m", "Two chainage equations stand at {at:chainage}: leave one of them.", at=t
                )

    def of(self, road: str) -> "Stations":
        """What is written along one road."""
        return Stations([row for row in self.rows if row.road == road])


class Stations:
    """What is written along a line, against its chainage that runs on without jumps.

    Stretches are numbered from 1; each goes from one equation to the next.

    Source: ahead and back values as in LandXML's StaEquation (staInternal, staBack, staAhead).
    """

    def __init__(self, equations: Sequence[Equation]) -> None:
        rows = sorted(equations, key=lambda e: e.at_m)
        self.at = np.array([e.at_m for e in rows])
        self.shift = np.array([0.0, *(e.ahead_m - e.at_m for e in rows)])

    def __len__(self) -> int:
        return len(self.at)

    def stretch(self, chainage_m: float) -> int:
        """Number of the stretch a chainage lies in; an equation itself belongs to the one ahead."""
        return int(np.searchsorted(self.at, chainage_m + _SAME_M, side="right")) + 1

    def written(self, chainage_m: float) -> float:
        """What is written at a chainage. [m]"""
        return chainage_m + float(self.shift[self.stretch(chainage_m) - 1])

    def back(self, k: int) -> float:
        """What equation k would be written as had it not been: its value back. [m]"""
        return float(self.at[k] + self.shift[k])

    def found(self, written_m: float) -> list[float]:
        """All chainages at which a value is written, in their order. [m]"""
        out = []
        for k, shift in enumerate(self.shift.tolist()):
            s = written_m - shift
            low = -np.inf if k == 0 else float(self.at[k - 1])
            high = np.inf if k == len(self.at) else float(self.at[k])
            if low - _SAME_M <= s < high - _SAME_M:
                out.append(max(s, low))
        return out

    def text(self, chainage_m: float) -> str:
        """What is written, with the number of its stretch where the same value is written on another one too."""
        value = self.written(chainage_m)
        mark = f" ({self.stretch(chainage_m)})" if len(self.found(value)) > 1 else ""
        return plain_chainage(value) + mark

    def even(self, from_m: float, to_m: float, interval_m: float) -> np.ndarray:  # type: ignore[type-arg]
        """Chainages between two at which whole multiples of the interval are written. [m]"""
        out = []
        for k, shift in enumerate(self.shift.tolist()):
            low = from_m if k == 0 else max(from_m, float(self.at[k - 1]))
            high = to_m if k == len(self.at) else min(to_m, float(self.at[k]))
            if low > high:
                continue
            first, last = np.ceil((low + shift) / interval_m - 1e-9), np.floor((high + shift) / interval_m + 1e-9)
            # What rounding puts before the equation stands at it; what stands at the next one belongs to that.
            values = np.maximum(np.arange(first, last + 1) * interval_m - shift, low)
            out.append(values if k == len(self.at) else values[values + _SAME_M < self.at[k]])
        return np.concatenate(out) if out else np.zeros(0)


def each_and_at(
    ends: tuple[float, float], written: Stations, interval_m: float, named: Sequence[tuple[float, str]]
) -> tuple[FloatArray, list[str]]:
    """Chainages between two at which whole intervals are written, and points with their names. [m]

    Raises
    ------
    DesignInputError
        The interval is so short that nobody could use the list.
    """
    length = ends[1] - ends[0]
    if length / interval_m > MOST_PLACES:
        raise DesignInputError(
            "interval_m",
            "An interval of {interval:length} gives more than 200 000 places on {length:length}: use a longer one.",
            interval=interval_m,
            length=length,
        )
    even = written.even(*ends, interval_m)
    at = np.array([s for s, _ in named])
    # What stands within half a millimetre of a point is that point.
    apart = (
        np.abs(even[:, None] - at[None, :]).min(axis=1) > _SAME_M if len(at) and len(even) else np.ones(len(even), bool)
    )
    even = even[apart]
    s = np.concatenate([even, at])
    order = np.argsort(s, kind="stable")
    names = [""] * len(even) + [what for _, what in named]
    return s[order], [names[i] for i in order.tolist()]
