"""What the search is asked: earthworks, costs, limits and the ends to keep."""

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from delgrun.core.controls.bands import Band
from delgrun.core.controls.level_room import LevelRoom, level_room
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks
from delgrun.core.limits.check import USE_TOLERANCE
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.search.convex import REACH_M, ROW_M, convex_rows
from delgrun.core.search.cuts import AllowedCurves
from delgrun.core.search.local import LocalLimits, everywhere, local_limits
from delgrun.core.section.pieces import Pieces

FloatArray = NDArray[np.float64]

# A price of nothing would leave the flows undetermined; this share of the dearest is far below any real one.
_LEAST_PRICE = 1e-8
# As loosely as the checks take a limit for kept.
LOOSE = 1 + USE_TOLERANCE


def has_depths(limits: LimitSet) -> bool:
    """Whether a greatest depth of cut or fill is set anywhere."""
    return any(v is not None for name in ("most_cut_m", "most_fill_m") for v in limits.steps(name).values)


def depth_bands(limits: LimitSet, works: Earthworks) -> tuple[Band, ...]:
    """Greatest depths as levels that a line keeps to at the sections, where they are set."""
    s, ground = works.chainage_m, works.centre_level_m
    cut, fill = (limits.steps(name).at(s) for name in ("most_cut_m", "most_fill_m"))
    return (
        Band("depth", 0, "the deepest cut", s, ground - cut, 0.0, np.inf),
        Band("depth", 1, "the highest fill", s, ground + fill, -np.inf, 0.0),
    )


@dataclass(frozen=True)
class SearchProblem:
    """Least cost over grade lines from start to end under one set of limits.

    `start_level_m`, `end_level_m` are kept; `limits.start.grade` and `limits.end.grade` are kept where
    they are set, and so is what level controls ask (`limits.bands`). `ranged`: the limits with ranges that `limits` are
    the strictest of, and `loose` the loosest.
    """

    works: Earthworks
    cost: CostModel
    limits: LimitSet
    start_level_m: float
    end_level_m: float
    loose: LimitSet | None = None
    ranged: LimitSet | None = None

    @staticmethod
    def under(works: Earthworks, cost: CostModel, limits: LimitSet, ends: tuple[float, float]) -> "SearchProblem":
        """A search under limits with ranges, and greatest depths: lines keep what holds where they are.

        Layouts of IPs are spaced by the strictest that holds anywhere.
        """
        limits = limits.with_bands((*limits.bands, *depth_bands(limits, works))) if has_depths(limits) else limits
        strict = everywhere(limits, "strictest")
        if not limits.ranges:
            return SearchProblem(works, cost, strict, *ends)
        return SearchProblem(works, cost, strict, *ends, loose=everywhere(limits, "loosest"), ranged=limits)

    @property
    def kept(self) -> LimitSet:
        """What lines are held to, ranges and all."""
        return self.limits if self.ranged is None else self.ranged

    @cached_property
    def local(self) -> LocalLimits:
        """The same by chainage."""
        return local_limits(self.kept)

    def without(self, **values: Any) -> "SearchProblem":
        """The same under other values of some limits for the whole length."""
        ranged = None if self.ranged is None else replace(self.ranged, **values)
        return replace(self, limits=replace(self.limits, **values), ranged=ranged)

    @cached_property
    def loosened(self) -> "SearchProblem":
        """What the bound is of: under limits that are nowhere stricter than those that hold there."""
        return self if self.loose is None else replace(self, limits=self.loose, loose=None)

    @cached_property
    def chainage_m(self) -> FloatArray:
        return self.works.chainage_m

    @cached_property
    def pieces(self) -> Pieces:
        """What sections cost whatever the haul, give to fills and take as fill, at every level."""
        return self.works.pieces(self.works.columns(self.cost).sums)

    @cached_property
    def table(self) -> FloatArray:
        """(n, count, 3) the same, each made convex in the height: what steps are worked out with."""
        w = self.works
        count = round(2 * REACH_M / ROW_M) + 1
        out: FloatArray = convex_rows(self.pieces, w.centre_level_m - w.base_m, -REACH_M, ROW_M, count)
        return out

    @cached_property
    def least_price(self) -> float:
        """What stands for a price of nothing, per m3."""
        c = self.cost
        return _LEAST_PRICE * max(c.cut_per_m3, c.fill_per_m3, c.borrow_per_m3, c.spoil_per_m3, _LEAST_PRICE)

    @cached_property
    def money(self) -> FloatArray:
        """(4,) the cheapest cut, fill, borrow and spoil, per compacted m3."""
        c = self.cost
        cheapest = self.works.columns(c).cheapest_cut
        return np.array(
            [
                cheapest if np.isfinite(cheapest) else c.borrow_per_m3,
                c.fill_per_m3,
                max(c.borrow_per_m3, self.least_price),
                max(c.spoil_per_m3, self.least_price),
            ]
        )

    @cached_property
    def link_cost(self) -> FloatArray:
        """(n - 1,) cost of hauling 1 m3 to the next section."""
        return np.maximum(np.diff(self.chainage_m) * self.cost.haul_per_m3_m, self.least_price)

    @cached_property
    def curvature(self) -> tuple[float, float]:
        """Most curvature of crest and sag, 1 / (100 K). [1/m]"""
        crest, sag = self.limits.min_crest_k_m_per_pct, self.limits.min_sag_k_m_per_pct
        return (LOOSE / (100 * crest) if crest > 0 else 1.0), (LOOSE / (100 * sag) if sag > 0 else 1.0)

    @cached_property
    def kink(self) -> float:
        """The greatest change of grade that needs no curve. [m/m]"""
        return self.limits.most_kink or 0.0

    def kinked(self, peak: float, integral: float) -> float:
        """What IPs without a curve add at the most to a sum of changes of grade, each weighed by where it stands: by a
        weight that rises to `peak` and falls again, with its `integral` over the chainage. Infinity where nothing keeps
        them apart.
        """
        if not self.kink:
            return 0.0
        apart = self.limits.min_ip_spacing_m
        return self.kink * (peak + integral / apart) if apart > 0 else np.inf

    @cached_property
    def allowed_curves(self) -> AllowedCurves:
        """What the curves of a line have to keep; nothing that cuts could use where changes of grade need none."""
        if self.kink:
            return AllowedCurves(0.0, 0.0, *self.curvature)
        crest, sag = self.curvature
        return AllowedCurves(self.limits.min_curve_length_m / LOOSE, self.limits.min_ip_spacing_m / LOOSE, crest, sag)

    @cached_property
    def room(self) -> LevelRoom:
        """Levels that lines keep to; a little within what level controls ask along stretches."""
        asked = level_room(self.limits.bands, float(self.chainage_m[0]), float(self.chainage_m[-1]))
        return asked.inward(*self.loosened.curvature)

    @cached_property
    def row_penalty(self) -> float:
        """Price of breaking a row by a metre: far above what any metre of level can save."""
        unit = self.cost.cut_per_m3 + self.cost.fill_per_m3 + self.cost.borrow_per_m3 + self.cost.spoil_per_m3
        return 2e3 * max(unit, 1e-3) * float(self.works.weight_m.sum())
