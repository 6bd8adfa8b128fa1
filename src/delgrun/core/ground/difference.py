"""Two surfaces held against each other: the volume between them, exactly, and where they differ the most."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from os import cpu_count

import numpy as np
from numpy.typing import NDArray

from delgrun.core.ground import difference_kernels
from delgrun.core.ground.tiles import TILE_PIXELS, Place, levels_in
from delgrun.core.ground.tin import Tin

FloatArray = NDArray[np.float64]

_AT_ONCE = 200_000


@dataclass(frozen=True)
class Difference:
    """A second surface over a first one, where both have ground.

    Areas in plan [m2]; volumes [m3], both positive; the most it is above and below [m, below negative] with its place
    (easting, northing), None where it nowhere is.
    """

    common_area_m2: float
    raised_area_m2: float
    raised_m3: float
    lowered_area_m2: float
    lowered_m3: float
    most_above_m: float
    above_at: list[float] | None
    most_below_m: float
    below_at: list[float] | None


def difference(first: Tin, second: Tin) -> Difference:
    """What lies between two surfaces.

    Each pair of triangles that overlap is cut to what they share; over it the difference is a plane, so that the prism
    between them, split where the planes meet, is exact.

    References
    ----------
    Volume of a truncated triangular prism: its area times the mean of its three heights.
    """
    c = second.cells

    def of(some: NDArray[np.int32]) -> list[float]:
        out: list[float] = difference_kernels.between(
            first.xyz, some, second.xyz, second.triangles, c.x0, c.y0, c.size, c.nx, c.ny, c.start, c.triangle
        ).tolist()
        return out

    # The same parts on every machine, so that sums are the same.
    parts = np.array_split(first.triangles, max(len(first.triangles) // _AT_ONCE, 1))
    with ThreadPoolExecutor(cpu_count()) as beside:
        found = list(beside.map(of, parts))
    area, raised_area, raised, lowered_area, lowered = (float(sum(v[k] for v in found)) for k in range(5))
    high, low = max(found, key=lambda v: v[5]), min(found, key=lambda v: v[8])
    above, below = high[6:8] if high[5] else None, low[9:11] if low[8] else None
    return Difference(area, raised_area, raised, lowered_area, lowered, high[5], above, low[8], below)


def difference_tile(first: Tin, second: Tin, place: Place) -> FloatArray:
    """(256, 256) by how much the second surface is above the first at the middles of a tile's pixels, from the south.

    NaN where one of them has no ground. [m]
    """
    corner = place.box_m[:2]
    before, after = (levels_in(tin, corner, place.pixel_m, TILE_PIXELS) for tin in (first, second))
    return after - before
