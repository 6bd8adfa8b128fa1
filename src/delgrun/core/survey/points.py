"""Surveyed points and the breaklines that join some of them."""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True)
class Survey:
    """`xyz` (n, 3) easting, northing, level [m]; `breaklines` point numbers (rows of xyz) in order.

    `name`, `code` (n,) strings as surveyed; empty where the file has none.
    """

    xyz: NDArray[np.float64]
    breaklines: list[NDArray[np.int64]] = field(default_factory=list)
    name: NDArray[np.str_] = field(default_factory=lambda: np.zeros(0, dtype="U1"))
    code: NDArray[np.str_] = field(default_factory=lambda: np.zeros(0, dtype="U1"))
