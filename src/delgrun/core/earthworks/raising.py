"""What a road would cost more, or less, if its line lay higher or lower, section by section."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.earthworks.evaluator import CostModel, Earthworks, Evaluation
from delgrun.core.haul.prices import haul_prices
from delgrun.core.section.area_kernels import gains_at

FloatArray = NDArray[np.float64]


@dataclass(frozen=True)
class LevelPrice:
    """(n,) change of total cost for each metre that the line is raised, or lowered, per metre of road, at the sections.

    Below zero it gets cheaper. NaN where there is no ground or no level.
    """

    up: FloatArray
    down: FloatArray


def level_price(works: Earthworks, evaluation: Evaluation, cost: CostModel) -> LevelPrice:
    """Price of level at each section, from what areas gain by level and what earth is worth there.

    Areas are quadratics of the level, so that their change is exact; where one turns, or jumps, it is that of one side.
    Haul is priced as it is planned now. See `haul.prices`.
    """
    more, less = haul_prices(
        evaluation.haul,
        works.chainage_m,
        haul_per_m3_m=cost.haul_per_m3_m,
        borrow_per_m3=cost.borrow_per_m3,
        spoil_per_m3=cost.spoil_per_m3,
    )
    gains = np.empty((len(works.chainage_m), 2))
    gains_at(works.road.shapes, works.sides, works.road.which, evaluation.level_m - works.base_m, gains)

    def price(way: float) -> FloatArray:
        cut, fill = way * gains.T
        net = cost.compacted_per_bank * cut - fill
        found: FloatArray = cost.cut_per_m3 * cut + cost.fill_per_m3 * fill + np.where(net > 0, more * net, -less * net)
        return found

    return LevelPrice(price(1.0), price(-1.0))
