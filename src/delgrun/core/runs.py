"""Stretches of rows that have something in common."""

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray


def runs(kind: NDArray[np.bool_] | NDArray[np.int_]) -> list[tuple[int, int]]:
    """First and last row of each unbroken run of equal values that are not zero, in order.

    >>> runs(np.array([0, 1, 1, 2, 0, 1]))
    [(1, 2), (3, 3), (5, 5)]
    """
    steps = np.flatnonzero(np.diff(np.concatenate([[0], kind.astype(int), [0]])))
    return [(int(a), int(b) - 1) for a, b in pairwise(steps) if kind[a]]
