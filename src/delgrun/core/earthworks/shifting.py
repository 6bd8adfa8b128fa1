"""What a road would cost more, or less, if its line lay further left or right, section by section."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.earthworks.evaluator import CostModel, Earthworks, Evaluation
from delgrun.core.haul.prices import haul_prices

FloatArray = NDArray[np.float64]

# Sections are cut so far beside the line. [m]
STEP_M = 0.5


@dataclass(frozen=True)
class OffsetPrice:
    """(n,) change of total cost for each metre that the line is shifted, per metre of road, at the priced sections.

    Below zero it gets cheaper. NaN where a shifted section has no ground or no level.
    """

    left: FloatArray
    right: FloatArray


def offset_price(works: Earthworks, evaluation: Evaluation, cost: CostModel, line: Centreline) -> OffsetPrice:
    """Price of offset on both sides, with the grade line's levels as they are.

    A metre of road on the inside of a bend is shorter by the curvature. Haul is priced as it is planned now: each
    section's own shift changes it by little. See `haul.prices`.
    """
    more, less = haul_prices(
        evaluation.haul,
        works.chainage_m,
        haul_per_m3_m=cost.haul_per_m3_m,
        borrow_per_m3=cost.borrow_per_m3,
        spoil_per_m3=cost.spoil_per_m3,
    )
    curvature = line.line.at(works.chainage_m).curvature
    here = _areas(works, evaluation.level_m, 0.0)

    def price(side: float) -> FloatArray:
        # Curvature is positive to the left: to the right of a bend to the left the road is longer.
        longer = 1.0 + side * STEP_M * curvature
        there = _areas(works, evaluation.level_m, side * STEP_M) * longer[:, None]
        cut, fill = (there - here).T
        net = cost.compacted_per_bank * cut - fill
        haul = np.where(net > 0, more * net, -less * net)
        found: FloatArray = (cost.cut_per_m3 * cut + cost.fill_per_m3 * fill + haul) / STEP_M
        return found

    return OffsetPrice(price(-1.0), price(1.0))


def _areas(works: Earthworks, level_m: FloatArray, aside_m: float) -> FloatArray:
    """(n, 2) cut and fill of sections whose middle is so far to the right; NaN where there is none. [m2]"""
    areas = works.areas(level_m, aside_m=aside_m)[0]
    # Where there is no ground to one side, nothing is built.
    none = (areas[:, 2] == 0.0) | (areas[:, 3] == 0.0) | np.isnan(level_m)
    areas[none] = np.nan
    return areas[:, :2]
