"""What a road would cost more, or less, if its line lay higher or lower, section by section."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, Evaluation
from delgrun.core.earthworks.shifting import pricing
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
    gains = np.empty((len(works.chainage_m), works.width - 2))
    gains_at(works.road.shapes, works.sides, works.road.which, evaluation.level_m - works.base_m, gains)

    priced = pricing(works, evaluation, cost)
    return LevelPrice(priced(gains), priced(-gains))
