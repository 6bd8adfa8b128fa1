"""The ground cut along straight legs between picked points."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.line import Element, Line
from delgrun.core.errors import DesignInputError
from delgrun.core.ground.along import LongSection, rows_along
from delgrun.core.ground.tin import Tin

FloatArray = NDArray[np.float64]


def profile(tin: Tin, line: FloatArray) -> tuple[LongSection, FloatArray]:
    """The ground along (k, 2) points, exact through its triangles, and the points' own (k,) distances [m].

    Raises
    ------
    DesignInputError
        Fewer than two points, or two in a row at one place.
    """
    leg = np.diff(line, axis=0)
    length = np.hypot(leg[:, 0], leg[:, 1])
    if len(line) < 2 or (length < 1e-3).any():
        raise DesignInputError("line", "A section needs two points or more, no two in a row at one place.")
    corner = np.concatenate([[0.0], np.cumsum(length)])
    legs = [
        Element(
            from_chainage_m=float(corner[i]),
            length_m=float(length[i]),
            easting_m=float(line[i, 0]),
            northing_m=float(line[i, 1]),
            direction=float(np.arctan2(leg[i, 1], leg[i, 0])),
            curvature=0.0,
            to_curvature=0.0,
        )
        for i in range(len(leg))
    ]
    return rows_along(tin, Line(legs)), corner
