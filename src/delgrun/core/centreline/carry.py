"""Chainages of one centreline carried over to another that takes its place."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline

FloatArray = NDArray[np.float64]

# What whatever stands at a chainage keeps: its place on the ground (the nearest point of the new centreline), its
# chainage, or its share of the length.
Keeps = Literal["place", "chainage", "share"]
# So far beyond an end is still the end. [m]
_END_M = 1e-3


@dataclass(frozen=True)
class Carry:
    """From an old centreline to the new one."""

    old: Centreline
    new: Centreline
    keeps: Keeps

    def to(self, chainage_m: FloatArray) -> FloatArray:
        """(n,) chainages on the new centreline; NaN for what lies beyond its ends. [m]"""
        s = np.asarray(chainage_m, dtype=np.float64)
        first, last = self.new.start_chainage_m, self.new.end_chainage_m
        match self.keeps:
            case "place":
                easting, northing, _ = self.old.locate(s)
                beside = self.new.line.nearest(easting, northing)
                there = np.where(np.abs(beside.ahead_m) > _END_M, np.nan, beside.chainage_m)
            case "chainage":
                there = np.where((s < first - _END_M) | (s > last + _END_M), np.nan, s)
            case "share":
                there = first + (s - self.old.start_chainage_m) * (self.new.length_m / self.old.length_m)
        out: FloatArray = np.clip(there, first, last)
        return out
