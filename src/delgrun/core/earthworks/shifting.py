"""What a road would cost more, or less, if its line lay further left or right, section by section."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, Evaluation, evaluate_areas
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


@dataclass(frozen=True)
class Shifted:
    """What a stretch costs more, or less, once it lies further aside: as the prices of its sections add up, and planned
    anew; `open_m` is how much of it has no ground, or no level, there. [money, m]
    """

    told: float
    planned: float
    open_m: float


def shift_of(
    works: Earthworks,
    evaluation: Evaluation,
    cost: CostModel,
    line: Centreline,
    stretch: tuple[float, float],
    aside_m: float,
) -> Shifted:
    """A stretch of the road shifted so far to the right (below 0 to the left), levels as they are.

    Prices of single sections take the haul as it is planned: where many of them shift together earth goes elsewhere,
    and their sum may have the wrong sign. Planned anew, it is what the same sections cost with the haul that fits them.
    """
    s, e = works.chainage_m, evaluation
    on = (s >= stretch[0]) & (s <= stretch[1])
    longer = 1.0 + aside_m * line.line.at(s).curvature
    moved, caught = works.areas(e.level_m, aside_m=aside_m)
    there = _known(moved, e.level_m) * longer[:, None]
    known = on & ~np.isnan(there).any(axis=1)
    prices = pricing(works, evaluation, cost)(there - _known(e.areas, e.level_m))
    told = float(works.weight_m[known] @ prices[known])
    areas, found = e.areas.copy(), e.caught.copy()
    areas[known, :-2] = there[known]
    areas[known, -2:], found[known] = moved[known, -2:], caught[known]
    anew = evaluate_areas(works, e.level_m, areas, found, cost)
    return Shifted(told, anew.ledger.cost - e.ledger.cost, float(works.weight_m[on & ~known].sum()))
