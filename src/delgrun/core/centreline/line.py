"""A line of tangents, arcs and clothoids in plan: places by chainage, chainages by place."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline import plan_kernels

FloatArray = NDArray[np.float64]

# Pieces of a clothoid that are taken for arcs lie this near to it. [m]
_ARC_OFF_M = 1e-5


@dataclass(frozen=True, kw_only=True)
class Element:
    """One tangent, arc or clothoid.

    `direction` is the angle of travel at the element's start, counter-clockwise from east [rad]; curvature runs
    straight from `curvature` to `to_curvature`, both positive turning left [1/m].
    """

    from_chainage_m: float
    length_m: float
    easting_m: float
    northing_m: float
    direction: float
    curvature: float
    to_curvature: float

    @property
    def to_chainage_m(self) -> float:
        return self.from_chainage_m + self.length_m

    @property
    def kind(self) -> str:
        if self.curvature != self.to_curvature:
            return "transition"
        return "arc" if self.curvature else "tangent"


@dataclass(frozen=True)
class At:
    """Places on a line: easting and northing [m], direction of travel [rad, counter-clockwise from east], curvature
    [1/m, positive to the left]; (n,) each.
    """

    easting_m: FloatArray
    northing_m: FloatArray
    direction: FloatArray
    curvature: FloatArray


@dataclass(frozen=True)
class Beside:
    """What a line is to places beside it, (n,) each. [m]

    `chainage_m` of the nearest point; `offset_m` to the right of it; `ahead_m` beyond the line's end (or, below zero,
    before its start), 0 beside the line.
    """

    chainage_m: FloatArray
    offset_m: FloatArray
    ahead_m: FloatArray


class Line:
    """Elements that hang together, each beginning where the one before ends, in its direction.

    References
    ----------
    A clothoid's place is the integral of its direction, a quadratic of its length (Fresnel's integrals); here by
    Gauss and Legendre's rule with eight nodes for each radian, good to rounding.
    """

    def __init__(self, elements: Sequence[Element]) -> None:
        self.elements = list(elements)

    @cached_property
    def columns(self) -> FloatArray:
        """(n, 9) as `plan_kernels` takes them."""
        rows = [
            (
                e.from_chainage_m,
                e.easting_m,
                e.northing_m,
                e.direction,
                e.curvature,
                e.to_curvature,
                e.length_m,
                np.nan,
                np.nan,
            )
            for e in self.elements
        ]
        filled: FloatArray = plan_kernels.with_ends(np.array(rows))
        return filled

    @property
    def arcs(self) -> FloatArray:
        """(m, 9) tangents and arcs that its elements are to a hundredth of a millimetre, in `columns`' form."""
        found: FloatArray = plan_kernels.arcs(self.columns, _ARC_OFF_M)
        return found

    @cached_property
    def _tree(self) -> FloatArray:
        found: FloatArray = plan_kernels.tree_of(self.columns)
        return found

    def at(self, chainage_m: FloatArray) -> At:
        """Where these chainages are; past an end the end's tangent or arc goes on."""
        s = np.ascontiguousarray(np.atleast_1d(chainage_m), dtype=np.float64)
        return At(*plan_kernels.located(self.columns, s))

    def nearest(self, easting_m: FloatArray, northing_m: FloatArray) -> Beside:
        """The nearest point of the line to each place. (n,) each [m]"""
        e, n = (np.ascontiguousarray(np.atleast_1d(v), dtype=np.float64) for v in (easting_m, northing_m))
        chainage, offset, ahead = plan_kernels.nearest(self.columns, self._tree, e, n).T
        first, last = self.elements[0].from_chainage_m, self.elements[-1].to_chainage_m
        # Between the ends what is nearest is at right angles, but for rounding.
        beyond = ((chainage <= first) & (ahead < 0)) | ((chainage >= last) & (ahead > 0))
        return Beside(chainage, offset, np.where(beyond, ahead, 0.0))

    def feet(self, easting_m: float, northing_m: float) -> FloatArray:
        """(k, 2) chainage and offset (positive to the right) of all points that have a place at right angles. [m]

        Beyond the centre of a bend there are several. Of an arc around the place its middle stands for all of it.
        """
        found: FloatArray = plan_kernels.feet(self.columns, easting_m, northing_m)
        return found
