"""Two surfaces held against each other: the volume between them, exactly, and where they differ the most."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.ground import difference_kernels
from delgrun.core.ground.tiles import TILE_PIXELS, Place, levels_in
from delgrun.core.ground.tin import Tin

FloatArray = NDArray[np.float64]


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
    v = difference_kernels.between(
        first.xyz, first.triangles, second.xyz, second.triangles, c.x0, c.y0, c.size, c.nx, c.ny, c.start, c.triangle
    ).tolist()
    above, below = (v[k + 1 : k + 3] if v[k] else None for k in (5, 8))
    return Difference(v[0], v[1], v[2], v[3], v[4], v[5], above, v[8], below)


def difference_tile(first: Tin, second: Tin, place: Place) -> FloatArray:
    """(256, 256) by how much the second surface is above the first at the middles of a tile's pixels, from the south.

    NaN where one of them has no ground. [m]
    """
    corner = place.box_m[:2]
    before, after = (levels_in(tin, corner, place.pixel_m, TILE_PIXELS) for tin in (first, second))
    return after - before
