"""What looks mistaken in a survey though it can be read, and how its ground may be bounded."""

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]

# Outer edges up to this many times the usual spacing of the points are ground.
_EDGE_SPACINGS = 8
# A level further than this many times the middle half's spread from it is doubted.
_FAR_SPREADS = 6


def suggested_longest_edge_m(xyz: FloatArray) -> float:
    """Longest outer edge worth keeping: eight times the usual spacing of the points, up to 5 m. [m]"""
    span = np.maximum(np.ptp(xyz[:, :2], axis=0), 1e-3)
    # Occupied area by a coarse grid, since a strip fills little of its box.
    cell = max(float(np.sqrt(span[0] * span[1] / len(xyz))) * 2, float(span.max()) / 2000)
    taken = len(np.unique(np.floor(xyz[:, :2] / cell), axis=0))
    spacing = float(np.sqrt(taken * cell * cell / len(xyz)))
    return float(5 * np.ceil(_EDGE_SPACINGS * spacing / 5))


def doubts(xyz: FloatArray) -> list[str]:
    """Sentences about (n, 3) points that may be mapped wrongly or hold mistakes."""
    out = []
    # A spike or two must not stand for the whole.
    low, middle, high = np.percentile(xyz, [2, 50, 98], axis=0)
    spread = high - low
    if spread[2] > max(spread[0], spread[1]):
        out.append("The levels differ by more than the plan does: is the level column an easting or northing?")
    elif spread[2] > 0.5 * min(spread[0], spread[1]) and abs(middle[2]) > 10 * max(spread[2], 1):
        out.append("The levels look like coordinates: check the columns for northing and level.")
    low, high = np.percentile(xyz[:, 2], [25, 75])
    reach = _FAR_SPREADS * max(high - low, 1.0)
    far = int(((xyz[:, 2] < low - reach) | (xyz[:, 2] > high + reach)).sum())
    if far:
        out.append(f"{far} point{'s lie' if far > 1 else ' lies'} far above or below the rest.")
    return out
