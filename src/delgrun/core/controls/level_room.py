"""Level controls as linear programs keep them: least and greatest levels of a line at places along the road."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.controls.bands import AT_M, Band

FloatArray = NDArray[np.float64]

# Along a stretch a line is held at places so far apart, and where the levels stand out between them. [m]
APART_M = 5.0
# Rounding may use up this much of a level that is to be met exactly. [m]
_MET_M = AT_M / 2


@dataclass(frozen=True)
class LevelRoom:
    """Places (k,), rising, and the least and greatest level there (k,), infinite where it is free. [m]

    `along` (k,): the place lies on a stretch, and the line is held between it and its neighbours too.
    """

    chainage_m: FloatArray
    low_m: FloatArray
    high_m: FloatArray
    along: NDArray[np.bool_]

    def inward(self, crest: float, sag: float) -> "LevelRoom":
        """Taken in by what a line of these curvatures [1/m] can do between two places of a stretch."""
        dip = np.where(self.along, APART_M**2 / 8, 0.0)
        room = (self.high_m - self.low_m) / 4
        low = self.low_m + np.minimum(dip * sag, room)
        return LevelRoom(self.chainage_m, low, self.high_m - np.minimum(dip * crest, room), self.along)

    def within(self, from_m: float, to_m: float) -> "LevelRoom":
        """The places between two chainages, both included."""
        a, b = np.searchsorted(self.chainage_m, from_m, "left"), np.searchsorted(self.chainage_m, to_m, "right")
        return LevelRoom(self.chainage_m[a:b], self.low_m[a:b], self.high_m[a:b], self.along[a:b])

    def broken_m(self, level_m: FloatArray) -> float:
        """How far levels (k,) lie outside, in all. [m]"""
        out = np.maximum(self.low_m - level_m, 0.0) + np.maximum(level_m - self.high_m, 0.0)
        return float(out.sum())


def level_room(bands: Sequence[Band], from_m: float, to_m: float) -> LevelRoom:
    """What bands ask of a road between two chainages."""
    rows: list[tuple[float, float, float, bool]] = []
    for band in bands:
        along = band.joined and band.to_m > band.from_m
        s = _places(band) if along else band.chainage_m
        reference = np.interp(s, band.chainage_m, band.reference_m)
        low, high = reference + band.low_m, reference + band.high_m
        if band.high_m - band.low_m < 2 * AT_M:
            low, high = low - _MET_M, high + _MET_M
        on = ~np.isnan(reference) & (s >= from_m) & (s <= to_m)
        rows += [(a, b, c, along) for a, b, c in np.column_stack([s, low, high])[on].tolist()]
    rows.sort()
    columns = np.array([row[:3] for row in rows]).reshape(-1, 3)
    return LevelRoom(columns[:, 0], columns[:, 1], columns[:, 2], np.array([row[3] for row in rows], dtype=bool))


def _places(band: Band) -> FloatArray:
    """Even places of a stretch, and between each two where the reference stands out most to either side."""
    s, z = band.chainage_m, band.reference_m
    even = np.linspace(s[0], s[-1], int(np.ceil((s[-1] - s[0]) / APART_M)) + 1)
    over = z - np.interp(s, even, np.interp(even, s, z))
    cell = np.searchsorted(even, s, "right")
    chosen = [even]
    for sign in (1.0, -1.0):
        order = np.lexsort((-sign * over, cell))
        first = order[np.unique(cell[order], return_index=True)[1]]
        chosen.append(s[first][sign * over[first] > 1e-4])
    return np.unique(np.concatenate(chosen))
