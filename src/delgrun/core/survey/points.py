"""Surveyed points and the breaklines that join some of them."""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from delgrun.core.fields import meant

# No grid of coordinates is larger; a larger number is a mistake. [m]
LARGEST_COORDINATE_M = 1e8
# A ground model of so many points takes about two gigabytes while it is made.
MOST_POINTS = 4_000_000


@dataclass(frozen=True)
class Survey:
    """`xyz` (n, 3) easting, northing, level [m]; `breaklines` point numbers (rows of xyz) in order.

    `name`, `code` (n,) strings as surveyed; empty where the file has none.
    """

    xyz: NDArray[np.float64]
    breaklines: list[NDArray[np.int64]] = field(default_factory=list)
    name: NDArray[np.str_] = field(default_factory=lambda: np.zeros(0, dtype="U1"))
    code: NDArray[np.str_] = field(default_factory=lambda: np.zeros(0, dtype="U1"))


@dataclass(frozen=True, kw_only=True)
class SurveyHead:
    """What is said of a survey without its points: where it came from, and how its ground is bounded."""

    file_name: str = meant("text", "file")
    file_sha256: str = meant("digest", "checksum of the file")
    point_count: int = meant("count", "points", low=0)
    breakline_count: int = meant("count", "breaklines", low=0)
    left_out: int = meant("count", "lines left out", low=0)
    longest_edge_m: float = meant("size", "longest outer edge", low=0, high=10_000, first=0.0)
    read_as: str = meant("record", "read as", first="", says="how its columns or parts were read, for the next file")
