"""What one section takes, column by column."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from delgrun.core.earthworks.columns import CostModel, columns_of
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.section import ShownSection

# What is less is none. [m3/m, m2/m]
_NONE = 1e-9


@dataclass(frozen=True)
class ColumnAmount:
    """What a section takes of one thing, for each metre of road: m3 ("volume") or m2 ("area")."""

    id: str
    name: str
    unit: Literal["volume", "area"]
    amount: float


def amounts_of(design: RoadDesign, shown: ShownSection) -> list[ColumnAmount]:
    """What a shown section takes, as far as it takes any."""
    if shown.left is None or shown.right is None:
        return []
    strata, works = design.strata, design.works
    # Prices play no part in it.
    columns = columns_of(CostModel(), strata.materials, design.layers, topsoil_back_m=works.topsoil_back_m).all
    amounts = np.array([c.weigh for c in columns]) @ (shown.left.columns + shown.right.columns)
    found = zip(columns, amounts.tolist(), strict=True)
    return [ColumnAmount(c.id, c.name, c.unit, a) for c, a in found if abs(a) > _NONE]
