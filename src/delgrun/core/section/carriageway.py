"""What is built at each chainage, side by side: the one answer to how wide a road is and how its surface lies.

Whatever says what is built along a road is resolved to this at the chainages that somebody asks about. Levels are over
the grade line, offsets from the centreline outwards, unless they are said to be positive to the right. [m]
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]
_Answer = Callable[["Profile", FloatArray], FloatArray]


@dataclass(frozen=True, eq=False)
class Profile:
    """One side as it is built.

    `surface` (k, 2) and `formation` (c, 2): offsets, from 0, and levels of the finished surface and of what earthworks
    go to. The batter begins at the last corner of the formation, and runs so far out for each metre of height, in cut
    and in fill. Topsoil is stripped to a depth over all that is built. [m]
    """

    surface: FloatArray
    formation: FloatArray
    topsoil_m: float
    cut_run: float
    fill_run: float

    @property
    def edge_m(self) -> float:
        """How far out the finished surface reaches. [m]"""
        return float(self.surface[-1, 0])


@dataclass(frozen=True, eq=False)
class Carriageway:
    """(n,) chainages, and which of some profiles is built at each, left and right: (n, 2)."""

    chainage_m: FloatArray
    profiles: tuple[Profile, ...]
    which: IntArray

    def both(self, i: int) -> tuple[Profile, Profile]:
        """The profiles left and right at chainage i."""
        left, right = self.which[i].tolist()
        return self.profiles[left], self.profiles[right]

    @property
    def topsoil_m(self) -> FloatArray:
        """(n, 2) how deep topsoil is stripped, left and right."""
        return np.array([p.topsoil_m for p in self.profiles])[self.which]

    def surface_m(self, offset_m: FloatArray) -> FloatArray:
        """(n,) level of the finished surface at an offset, positive to the right; past its edge that of the edge."""
        return self._each(offset_m, lambda p, aside: np.interp(aside, p.surface[:, 0], p.surface[:, 1]))

    def edge_m(self, offset_m: FloatArray) -> FloatArray:
        """(n,) how far out the finished surface reaches on the side of an offset for each chainage."""
        return self._each(offset_m, lambda p, aside: np.full(len(aside), p.edge_m))

    def beyond_m(self, offset_m: FloatArray) -> FloatArray:
        """(n,) how far an offset for each chainage lies past that edge, 0 on the surface."""
        return np.maximum(np.abs(offset_m) - self.edge_m(offset_m), 0.0)

    def run(self, offset_m: FloatArray, *, cut: bool) -> FloatArray:
        """(n,) how far the batter on the side of an offset runs out for each metre of height."""
        return self._each(offset_m, lambda p, aside: np.full(len(aside), p.cut_run if cut else p.fill_run))

    def corners_m(self) -> list[float]:
        """All offsets at which the finished surface turns, positive to the right."""
        return sorted(
            {
                float(sign * x)
                for column, sign in ((0, -1.0), (1, 1.0))
                for p in np.unique(self.which[:, column]).tolist()
                for x in self.profiles[p].surface[:, 0]
            }
        )

    def _each(self, offset_m: FloatArray, answer: _Answer) -> FloatArray:
        out = np.full(len(offset_m), np.nan)
        right = offset_m >= 0.0
        for k, profile in enumerate(self.profiles):
            here = np.where(right, self.which[:, 1], self.which[:, 0]) == k
            out[here] = answer(profile, np.abs(offset_m[here]))
        return out
