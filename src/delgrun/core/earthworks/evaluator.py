"""One evaluator of a grade line's quantities and cost: for the ledger, the search and reports."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.earthworks.volumes import end_area_volumes, mass_ordinate, section_weights
from delgrun.core.fields import meant
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.ground.along import GroundSections
from delgrun.core.haul.haul import HaulPlan, plan_haul
from delgrun.core.section.carriageway import Carriageway
from delgrun.core.section.section import DepthTable, build_depth_table, exact_section
from delgrun.core.section.typical_section import TypicalSection

FloatArray = NDArray[np.float64]


@dataclass(frozen=True, kw_only=True)
class CostModel:
    """Unit costs: cut per bank m3; fill, haul, borrow and spoil per compacted m3."""

    currency: str = meant("currency", "currency", first="EUR", says="code of three letters")
    cut_per_m3: float = meant("price_m3", "cut", low=0, high=1e9, first=6.0, says="per bank m³")
    fill_per_m3: float = meant("price_m3", "fill", low=0, high=1e9, first=4.0, says="per compacted m³")
    haul_per_m3_m: float = meant("price_haul", "haul", low=0, high=1e9, first=0.0012, says="per compacted m³ and m")
    borrow_per_m3: float = meant("price_m3", "borrow", low=0, high=1e9, first=6.0, says="per compacted m³")
    spoil_per_m3: float = meant("price_m3", "spoil", low=0, high=1e9, first=3.0, says="per compacted m³")
    compacted_per_bank: float = meant(
        "factor", "compaction", low=0.1, above=True, high=3, first=0.9, aside="m³ per bank m³"
    )


@dataclass(frozen=True)
class Ledger:
    """Totals of one line: money in the cost model's currency, m3 (cut and topsoil bank, others compacted).

    `net_m3`: usable cut less fill; what is left over (above 0) goes to spoil, what lacks is borrowed.
    """

    cost: float
    cut_cost: float
    fill_cost: float
    haul_cost: float
    borrow_cost: float
    spoil_cost: float
    cut_m3: float
    fill_m3: float
    topsoil_m3: float
    haul_m3_m: float
    borrow_m3: float
    spoil_m3: float
    net_m3: float
    footprint_m2: float


@dataclass(frozen=True)
class Evaluation:
    """A line's ledger and what the tracks draw of it, at the priced sections."""

    level_m: FloatArray
    cut_m2: FloatArray
    fill_m2: FloatArray
    left_m: FloatArray
    right_m: FloatArray
    caught: NDArray[np.uint8]
    mass_m3: FloatArray
    haul: HaulPlan
    ledger: Ledger


@dataclass(frozen=True)
class Earthworks:
    """All that depends on the terrain, met once: the ground at the priced chainages, and its depth tables."""

    ground: GroundSections
    weight_m: FloatArray
    tables: DepthTable
    road: Carriageway

    @staticmethod
    def of(ground: GroundSections, typical: TypicalSection, tables: DepthTable | None = None) -> "Earthworks":
        """Of one typical section; its depth tables, where they are there already."""
        road = typical.resolve(ground.chainage_m)
        return Earthworks(ground, section_weights(ground.chainage_m), tables or build_depth_table(ground, road), road)

    @property
    def chainage_m(self) -> FloatArray:
        return self.ground.chainage_m

    def areas(self, level_m: FloatArray) -> tuple[FloatArray, NDArray[np.uint8]]:
        """(n, 4) cut, fill [m2], reach left and right [m], and (n,) catch bits, at these levels.

        By the depth tables as far as they reach, and by the section itself beyond.
        """
        out, caught = self.tables.look_up(level_m)
        for i in np.flatnonzero(self.tables.beyond(level_m)).tolist():
            section = exact_section(*self.ground.one(i), self.road.both(i), float(level_m[i]))
            left, right = section.left, section.right
            out[i] = section.cut_m2, section.fill_m2, left.catch_offset_m, right.catch_offset_m
            caught[i] = left.caught + 2 * right.caught
        return out, caught


def evaluate_line(works: Earthworks, line: GradeLine, cost: CostModel) -> Evaluation:
    """Quantities, haul and cost of a grade line."""
    return evaluate_levels(works, line.levels(works.chainage_m), cost)


def evaluate_levels(works: Earthworks, level_m: FloatArray, cost: CostModel) -> Evaluation:
    """Quantities, haul and cost of a line given by its levels at the priced sections.

    Parameters
    ----------
    level_m : (n,) float array
        NaN where the line does not reach: nothing is built there.

    Notes
    -----
    Volumes are by average end area. The haul moves each section's share of them, taken as standing at
    the section, by the least-cost flow; topsoil is stripped over the footprint and not priced.
    """
    areas, caught = works.areas(np.ascontiguousarray(level_m))
    cut_m2, fill_m2, left_m, right_m = areas.T
    w = works.weight_m
    net = w * (cost.compacted_per_bank * cut_m2 - fill_m2)
    haul = plan_haul(
        net,
        works.chainage_m,
        haul_per_m3_m=cost.haul_per_m3_m,
        borrow_per_m3=cost.borrow_per_m3,
        spoil_per_m3=cost.spoil_per_m3,
    )
    cut_m3, fill_m3, footprint = float(w @ cut_m2), float(w @ fill_m2), float(w @ (left_m + right_m))
    borrow, spoil = float(haul.borrow_m3.sum()), float(haul.spoil_m3.sum())
    items = (
        cost.cut_per_m3 * cut_m3,
        cost.fill_per_m3 * fill_m3,
        cost.haul_per_m3_m * haul.haul_m3_m,
        cost.borrow_per_m3 * borrow,
        cost.spoil_per_m3 * spoil,
    )
    left_strip, right_strip = works.road.topsoil_m.T
    topsoil = float(w @ (left_strip * left_m + right_strip * right_m))
    ledger = Ledger(
        sum(items), *items, cut_m3, fill_m3, topsoil, haul.haul_m3_m, borrow, spoil, float(net.sum()), footprint
    )
    mass = mass_ordinate(
        end_area_volumes(cut_m2, works.chainage_m), end_area_volumes(fill_m2, works.chainage_m), cost.compacted_per_bank
    )
    return Evaluation(level_m, cut_m2, fill_m2, left_m, right_m, caught, mass, haul, ledger)
