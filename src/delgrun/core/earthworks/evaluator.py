"""One evaluator of a grade line's quantities and cost: for the ledger, the search and reports."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from delgrun.core.earthworks.columns import Amount, Columns, CostModel, columns_of
from delgrun.core.earthworks.volumes import end_area_volumes, mass_ordinate, section_weights
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.ground.along import GroundSections
from delgrun.core.haul.haul import HaulPlan, plan_haul
from delgrun.core.section.area_kernels import DUG, FILLED, ROOM, columns_beside, sections_at
from delgrun.core.section.carriageway import Carriageway
from delgrun.core.section.outline_kernels import CAUGHT, SLOPE, X, Y, outline
from delgrun.core.section.pieces import Pieces, pieces_of
from delgrun.core.section.road_design import Built, RoadDesign
from delgrun.core.section.roadside import InGround
from delgrun.core.section.sides import Sides, sides_of

FloatArray = NDArray[np.float64]


@dataclass(frozen=True)
class LedgerRow(Amount):
    """What a line takes of one column in all, and what that costs."""

    cost: float


@dataclass(frozen=True)
class Ledger:
    """Totals of one line: money in the cost model's currency, m3 (cut and topsoil bank, others compacted).

    `net_m3`: usable cut less fill; what is left over (above 0) goes to spoil, what lacks is borrowed. `other_cost`:
    walls and layers. `unbuilt_m`: length of road without a section. `rows`: what it takes of each column.
    """

    cost: float
    cut_cost: float
    fill_cost: float
    haul_cost: float
    borrow_cost: float
    spoil_cost: float
    other_cost: float
    cut_m3: float
    fill_m3: float
    topsoil_m3: float
    haul_m3_m: float
    borrow_m3: float
    spoil_m3: float
    net_m3: float
    footprint_m2: float
    unbuilt_m: float
    rows: tuple[LedgerRow, ...]


@dataclass(frozen=True)
class Evaluation:
    """A line's ledger and what the tracks draw of it, at the priced sections.

    `areas` (n, c + 2): columns of `area_kernels.side_at`, then reach left and right. [m2, m]
    """

    level_m: FloatArray
    areas: FloatArray
    caught: NDArray[np.uint8]
    mass_m3: FloatArray
    haul: HaulPlan
    ledger: Ledger

    @property
    def cut_m2(self) -> FloatArray:
        return self.areas[:, DUG]

    @property
    def fill_m2(self) -> FloatArray:
        return self.areas[:, FILLED]

    @property
    def left_m(self) -> FloatArray:
        return self.areas[:, -2]

    @property
    def right_m(self) -> FloatArray:
        return self.areas[:, -1]


@dataclass(frozen=True)
class OpenEnd:
    """Where works end without ground: how far out, how high over it (below 0: under it), and how much further they
    would meet it, were both to go on straight; None where they do not. [m]
    """

    offset_m: float
    gap_m: float
    lacks_m: float | None


@dataclass(frozen=True)
class Earthworks:
    """All that depends on the terrain and on what is built there, met once: the ground at the priced chainages."""

    ground: GroundSections
    weight_m: FloatArray
    road: Carriageway
    in_ground: InGround
    top_may_be_fill: bool = True
    topsoil_back_m: float = 0.0

    @staticmethod
    def of(ground: GroundSections, design: RoadDesign, built: Built | None = None) -> "Earthworks":
        """`built`: what the design builds at these sections, where that is known."""
        s = ground.chainage_m
        road, in_ground = built or design.built_along(s)
        return Earthworks(
            ground, section_weights(s), road, in_ground, design.strata.top_may_be_fill, design.works.topsoil_back_m
        )

    @property
    def chainage_m(self) -> FloatArray:
        return self.ground.chainage_m

    @property
    def centre_level_m(self) -> FloatArray:
        """(n,) the ground at the centreline, NaN without. [m]"""
        return self.ground.centre_level_m

    @cached_property
    def base_m(self) -> FloatArray:
        """(n,) whole metres that levels are worked with over; NaN without ground, or where nothing is built."""
        level = np.floor(self.ground.centre_level_m)
        return level if self.road.built is None else np.where(self.road.built, level, np.nan)

    @cached_property
    def unbuilt_m(self) -> float:
        """Length of road without a section. [m]"""
        return 0.0 if self.road.built is None else float(self.weight_m[~self.road.built].sum())

    @cached_property
    def sides(self) -> Sides:
        return self._beside(0.0)

    def columns(self, cost: CostModel) -> Columns:
        """What is measured here, at these prices."""
        return columns_of(
            cost, self.in_ground.materials, self.road.layers, top_may_be_fill=self.top_may_be_fill,
            topsoil_back_m=self.topsoil_back_m,
        )  # fmt: skip

    @property
    def width(self) -> int:
        """How many columns `areas` has."""
        return columns_beside(len(self.in_ground.materials), len(self.road.layers))

    def pieces(self, weigh: FloatArray) -> Pieces:
        """Sums of columns at every level, for the search: (w, c) what each takes of each."""
        middle = self.centre_level_m - self.base_m
        return Pieces(*pieces_of(self.road.shapes, self.sides, self.road.which, middle, weigh))

    def _beside(self, aside_m: float) -> Sides:
        """The ground to both sides of places so far to the right of the centreline."""
        g = self.ground
        met = g.level_m if g.met_m is None else g.met_m
        return Sides(*sides_of(g.start, g.offset_m - aside_m, g.level_m, met, self.base_m, self.in_ground.depth_m))

    def open_end(self, i: int, side: int, level_m: float) -> "OpenEnd | None":
        """Where the works of a side, 0 left and 1 right, end without ground at section i; None where they find some."""
        points, found = np.empty((ROOM, 6)), np.empty(8)
        own = 2 * i + side
        first, last = self.sides.start[own], self.sides.start[own + 1] - 1
        if last <= first:
            return None
        n = outline(
            self.road.shapes, self.sides, own, self.road.which[i, side], level_m - self.base_m[i], points, found
        )
        if n < 2 or found[CAUGHT]:
            return None
        x, y, slope = points[n - 1, X], points[n - 1, Y], points[n - 1, SLOPE]
        (x0, x1), (z0, z1) = self.sides.x[last - 1 : last + 1], self.sides.tops[last - 1 : last + 1, 0]
        rises = (z1 - z0) / (x1 - x0)
        gap, closing = float(y - (z1 + rises * (x - x1))), float(rises - slope)
        lacks = gap / closing if gap * closing > 0 else None
        return OpenEnd(float(min(x, x1)), gap, lacks)

    def some(self, rows: NDArray[np.int64], design: RoadDesign) -> "Earthworks":
        """The same of some of its sections, with what another design builds there."""
        return Earthworks.of(self.ground.some(rows), design)

    def areas(
        self, level_m: FloatArray, rest: "Evaluation | None" = None, *, aside_m: float = 0.0
    ) -> tuple[FloatArray, NDArray[np.uint8]]:
        """(n, c + 2) columns, reach left and right [m2, m], and (n,) catch bits, at these levels.

        `rest`: where its line lies at the same level its areas are taken over. `aside_m`: with the road so far to the
        right.
        """
        sides = self._beside(aside_m) if aside_m else self.sides
        if rest is not None and len(rest.level_m) == len(level_m):
            anew = rest.level_m != level_m
            out, caught = rest.areas.copy(), rest.caught.copy()
        else:
            anew = np.ones(len(level_m), dtype=bool)
            out, caught = np.empty((len(level_m), self.width)), np.zeros(len(level_m), dtype=np.uint8)
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
    the section, by the least-cost flow; what may not be fill is spoiled where it is dug. Topsoil is stripped over the
    footprint and not priced.
    """
    areas, caught = works.areas(np.ascontiguousarray(level_m), rest)
    return evaluate_areas(works, level_m, areas, caught, cost)


def evaluate_areas(
    works: Earthworks, level_m: FloatArray, areas: FloatArray, caught: NDArray[np.uint8], cost: CostModel
) -> Evaluation:
    """The same of areas that were worked out before, as `Earthworks.areas` gives them."""
    columns = works.columns(cost)
    w = works.weight_m
    built = areas[:, :-2]
    given = built @ columns.net
    net = w * given
    haul = plan_haul(
        net,
        works.chainage_m,
        haul_per_m3_m=cost.haul_per_m3_m,
        borrow_per_m3=cost.borrow_per_m3,
        spoil_per_m3=cost.spoil_per_m3,
    )
    amounts = columns.weigh @ (w @ built)
    rows = tuple(
        LedgerRow(c.id, c.name, c.unit, amount, c.price * amount)
        for c, amount in zip(columns.all, amounts.tolist(), strict=True)
    )
    left_m, right_m = areas[:, -2], areas[:, -1]
    borrow, spoil = float(haul.borrow_m3.sum()), float(haul.spoil_m3.sum() + w @ (built @ columns.spoiled))
    cut = [r for r in rows if r.id.startswith("cut-")]
    fill = next(r for r in rows if r.id == "fill")
    items = (
        sum(r.cost for r in cut),
        fill.cost,
        cost.haul_per_m3_m * haul.haul_m3_m,
        cost.borrow_per_m3 * borrow,
        cost.spoil_per_m3 * spoil,
        sum(r.cost for r in rows if r is not fill and r not in cut),
    )
    topsoil = float(w @ (works.in_ground.topsoil_m * (left_m + right_m)))
    ledger = Ledger(
        sum(items), *items, float(w @ areas[:, DUG]), fill.amount, topsoil, haul.haul_m3_m, borrow, spoil,
        float(net.sum()), float(w @ (left_m + right_m)), works.unbuilt_m, rows,
    )  # fmt: skip
    mass = mass_ordinate(end_area_volumes(given, works.chainage_m))
    return Evaluation(level_m, areas, caught, mass, haul, ledger)
