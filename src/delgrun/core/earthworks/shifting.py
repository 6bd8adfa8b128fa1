"""What a road would cost more, or less, if its line lay further left or right, section by section."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, Evaluation
from delgrun.core.haul.prices import haul_prices
from delgrun.core.section.area_kernels import FILLED

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


def pricing(works: Earthworks, evaluation: Evaluation, cost: CostModel) -> Callable[[FloatArray], FloatArray]:
    """What (n, c) more of each column at the sections costs, with what earth is worth there as the haul is planned."""
    more, less = haul_prices(
        evaluation.haul,
        works.chainage_m,
        haul_per_m3_m=cost.haul_per_m3_m,
        borrow_per_m3=cost.borrow_per_m3,
        spoil_per_m3=cost.spoil_per_m3,
    )

    columns = works.columns(cost)

    def priced(built: FloatArray) -> FloatArray:
        net = built @ columns.net
        paid = built @ columns.paid + cost.fill_per_m3 * built[:, FILLED]
        found: FloatArray = paid + np.where(net > 0, more * net, -less * net)
        return found

    return priced


def offset_price(works: Earthworks, evaluation: Evaluation, cost: CostModel, line: Centreline) -> OffsetPrice:
    """Price of offset on both sides, with the grade line's levels as they are.

    A metre of road on the inside of a bend is shorter by the curvature. Haul is priced as it is planned now: each
    section's own shift changes it by little. See `haul.prices`.
    """
    priced = pricing(works, evaluation, cost)
    curvature = line.line.at(works.chainage_m).curvature
    e = evaluation
    here = _known(e.areas, e.level_m)

    def price(side: float) -> FloatArray:
        # Curvature is positive to the left: to the right of a bend to the left the road is longer.
        longer = 1.0 + side * STEP_M * curvature
        there = _known(works.areas(e.level_m, aside_m=side * STEP_M)[0], e.level_m) * longer[:, None]
        return priced(there - here) / STEP_M

    return OffsetPrice(price(-1.0), price(1.0))


def _known(areas: FloatArray, level_m: FloatArray) -> FloatArray:
    """(n, c) columns of sections; NaN where there is no level, or no ground to one side. [m2]"""
    none = (areas[:, -2] == 0.0) | (areas[:, -1] == 0.0) | np.isnan(level_m)
    out: FloatArray = np.where(none[:, None], np.nan, areas[:, :-2])
    return out
