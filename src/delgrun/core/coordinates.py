"""Which coordinates a project is in: local metres or a named grid, its levels' datum, and the scale of that grid."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.fields import meant

FloatArray = NDArray[np.float64]


@dataclass(frozen=True, kw_only=True)
class Coordinates:
    """The coordinates of a project; empty names are local metres and levels."""

    crs: str = meant("line", "grid", first="", says="a projected coordinate system by its code, as EPSG:25832")
    vertical: str = meant("line", "levels", first="", says="the datum that levels are above")
    scale_factor: float = meant(
        "factor", "scale factor", low=0.9, high=1.1, first=1.0,
        says="a length on the grid over the same on the ground, height above the sea included",
    )  # fmt: skip
    about_easting_m: float = meant("plan", "fixed easting", low=-1e8, high=1e8, first=0.0)
    about_northing_m: float = meant("plan", "fixed northing", low=-1e8, high=1e8, first=0.0)

    def on_ground(self, xyz: FloatArray) -> FloatArray:
        """(n, 3 or 2) points on the grid as points on the ground: farther from the fixed place by the scale factor.

        Levels stay.

        References
        ----------
        Combined factor, grid over ground: elevation factor times point scale factor. Common practice in surveying.
        """
        fixed = np.array([self.about_easting_m, self.about_northing_m])
        out = xyz.copy()
        out[:, :2] = fixed + (xyz[:, :2] - fixed) / self.scale_factor
        return out
