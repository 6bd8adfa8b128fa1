"""What one section takes, column by column."""

import numpy as np

from delgrun.core.earthworks.columns import Amount, CostModel, columns_of
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.section import ShownSection

# What is less is none. [m3/m, m2/m]
_NONE = 1e-9


def amounts_of(design: RoadDesign, shown: ShownSection) -> list[Amount]:
    """What a shown section takes, as far as it takes any."""
    if shown.left is None or shown.right is None:
        return []
    strata, works = design.strata, design.works
    # Prices play no part in it.
    columns = columns_of(CostModel(), strata.materials, design.layers, topsoil_back_m=works.topsoil_back_m).all
    amounts = np.array([c.weigh for c in columns]) @ (shown.left.columns + shown.right.columns)
    found = zip(columns, amounts.tolist(), strict=True)
    return [Amount(c.id, c.name, c.unit, a) for c, a in found if abs(a) > _NONE]
