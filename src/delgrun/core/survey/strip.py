"""Only what lies near the centreline: a strip of a large survey."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline

FloatArray = NDArray[np.float64]

# Places this far apart stand for the line. [m]
_STEP_M = 1.0


def along(line: Centreline) -> FloatArray:
    """(n, 2) places along a centreline, a metre apart and at each end of its elements."""
    start, end = line.start_chainage_m, line.end_chainage_m
    s = np.unique(np.concatenate([np.arange(start, end, _STEP_M), line.critical_chainages, [end]]))
    e, n, _ = line.locate(s)
    return np.column_stack([e, n])


class Strip:
    """Tells which points lie within a distance of a centreline, to within half a step along it.

    Parameters
    ----------
    places : (n, 2) places along the centreline; see `along`
    within_m : how far from it. [m]
    """

    def __init__(self, places: FloatArray, within_m: float) -> None:
        # Slow to import, and wanted here alone: a server that is started again must be back soon.
        from scipy.spatial import KDTree

        self._tree, self._within = KDTree(places), within_m
        self._low, self._high = places.min(axis=0) - within_m, places.max(axis=0) + within_m

    def holds(self, xyz: FloatArray) -> NDArray[np.bool_]:
        """(n,) whether each of (n, 2 or 3) points lies in it."""
        plan = xyz[:, :2]
        held: NDArray[np.bool_] = ((plan >= self._low) & (plan <= self._high)).all(axis=1)
        near = np.flatnonzero(held)
        away, _ = self._tree.query(plan[near], distance_upper_bound=self._within * (1 + 1e-9), workers=-1)
        held[near] = np.isfinite(away)
        return held
