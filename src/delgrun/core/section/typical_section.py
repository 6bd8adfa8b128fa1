"""The typical section: lanes, shoulders, one pavement thickness, topsoil strip and batters."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]


@dataclass(frozen=True, kw_only=True)
class TypicalSection:
    """The same on both sides and along the whole line.

    Crossfalls are falls away from the centreline over run [m/m]; batters are horizontal over
    vertical. Earthworks go to the formation: the finished surface less the pavement, right out to the
    shoulder's edge, where the batter begins.
    """

    lane_width_m: float
    lane_crossfall: float
    shoulder_width_m: float
    shoulder_crossfall: float
    pavement_thickness_m: float
    topsoil_depth_m: float
    cut_batter_h_over_v: float
    fill_batter_h_over_v: float

    @property
    def half_width_m(self) -> float:
        return self.lane_width_m + self.shoulder_width_m

    def formation(self) -> FloatArray:
        """(3, 2) offsets and levels of one side's formation below the grade line, outwards. [m]"""
        lane = -self.pavement_thickness_m - self.lane_width_m * self.lane_crossfall
        edge = lane - self.shoulder_width_m * self.shoulder_crossfall
        return np.array([[0.0, -self.pavement_thickness_m], [self.lane_width_m, lane], [self.half_width_m, edge]])

    def finished(self) -> FloatArray:
        """(3, 2) offsets and levels of one side's finished surface below the grade line, outwards. [m]"""
        out = self.formation()
        out[:, 1] += self.pavement_thickness_m
        return out
