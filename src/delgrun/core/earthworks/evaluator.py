"""One evaluator of a grade line's quantities and cost: for the ledger, the search and reports."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from delgrun.core.earthworks.volumes import end_area_volumes, mass_ordinate, section_weights
from delgrun.core.fields import meant
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.ground.along import GroundSections
from delgrun.core.haul.haul import HaulPlan, plan_haul
from delgrun.core.section.area_kernels import sections_at
from delgrun.core.section.carriageway import Carriageway
from delgrun.core.section.pieces import Pieces, pieces_of
from delgrun.core.section.sides import Sides, sides_of
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
    """All that depends on the terrain and on what is built there, met once: the ground at the priced chainages."""

    ground: GroundSections
    weight_m: FloatArray
    road: Carriageway

    @staticmethod
    def of(ground: GroundSections, typical: TypicalSection) -> "Earthworks":
        return Earthworks(ground, section_weights(ground.chainage_m), typical.resolve(ground.chainage_m))

    @property
    def chainage_m(self) -> FloatArray:
        return self.ground.chainage_m

    @property
    def centre_level_m(self) -> FloatArray:
        """(n,) the ground at the centreline, NaN without. [m]"""
        return self.ground.centre_level_m

    @cached_property
    def base_m(self) -> FloatArray:
        """(n,) whole metres that levels at each section are worked with over; NaN without ground."""
        return np.floor(self.ground.centre_level_m)

    @cached_property
    def sides(self) -> Sides:
        return self._beside(0.0)

    @cached_property
    def pieces(self) -> Pieces:
        """Areas at every level, for the search."""
        middle = self.centre_level_m - self.base_m
        return Pieces(*pieces_of(self.road.shapes, self.sides, self.road.which, middle))

    def _beside(self, aside_m: float) -> Sides:
        """The ground to both sides of places so far to the right of the centreline."""
        g = self.ground
        return Sides(
            *sides_of(g.start, g.offset_m - aside_m, g.level_m, self.base_m, self.road.topsoil_m[:, :, None].copy())
        )

    def areas(
        self, level_m: FloatArray, rest: "Evaluation | None" = None, *, aside_m: float = 0.0
    ) -> tuple[FloatArray, NDArray[np.uint8]]:
        """(n, 4) cut, fill [m2], reach left and right [m], and (n,) catch bits, at these levels.

        `rest`: where its line lies at the same level its areas are taken over. `aside_m`: with the road so far to the
        right.
        """
        sides = self._beside(aside_m) if aside_m else self.sides
        out, caught = np.empty((len(level_m), 4)), np.zeros(len(level_m), dtype=np.uint8)
        anew = np.ones(len(level_m), dtype=bool)
        if rest is not None and len(rest.level_m) == len(level_m):
            anew = rest.level_m != level_m
            out[:, 0], out[:, 1], out[:, 2], out[:, 3] = rest.cut_m2, rest.fill_m2, rest.left_m, rest.right_m
            caught[:] = rest.caught
        sections_at(self.road.shapes, sides, self.road.which, level_m - self.base_m, anew, out, caught)
        return out, caught


def evaluate_line(works: Earthworks, line: GradeLine, cost: CostModel, rest: Evaluation | None = None) -> Evaluation:
    """Quantities, haul and cost of a grade line; where `rest`, on the same works, lies so too, its areas are kept."""
    return evaluate_levels(works, line.levels(works.chainage_m), cost, rest)


def evaluate_levels(
    works: Earthworks, level_m: FloatArray, cost: CostModel, rest: Evaluation | None = None
) -> Evaluation:
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
    areas, caught = works.areas(np.ascontiguousarray(level_m), rest)
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
