"""The five grounds of tests/reference/search as search problems."""

import csv
import json
from pathlib import Path
from typing import Any

import numpy as np

from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks
from delgrun.core.ground.along import GroundSections
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.search.problem import SearchProblem
from delgrun.core.section.road_design import RoadDesign

FOLDER = Path(__file__).parent.parent / "tests" / "reference" / "search"
CASES = json.loads((FOLDER / "cases.json").read_text())


def problem(name: str) -> SearchProblem:
    """One ground with its own limits and costs: a straight line of ground across at every section."""
    case = CASES[name]
    with (FOLDER / f"{name}.csv").open() as file:
        rows = [[float(v) for v in row.values()] for row in csv.DictReader(file)]
    # Contiguous, or every kernel would be compiled once more for arrays with gaps.
    s, level, cross = np.ascontiguousarray(np.array(rows).T)
    reach = 400.0
    ground = GroundSections(
        s,
        np.arange(len(s) + 1, dtype=np.int64) * 2,
        np.tile([-reach, reach], len(s)),
        (level[:, None] + cross[:, None] * np.array([-reach, reach])).ravel(),
        level,
    )
    limits = LimitSet(
        design_speed_kmh=80, max_grade=case["steepest_grade"], min_grade=0.0,
        min_crest_k_m_per_pct=case["k_crest_m_per_pct"], min_sag_k_m_per_pct=case["k_sag_m_per_pct"],
        min_curve_length_m=case["least_curve_m"], min_ip_spacing_m=case["least_ip_spacing_m"],
    )  # fmt: skip
    cost = CostModel(
        currency="EUR", cut_per_m3=case["cost_cut_per_m3"], fill_per_m3=case["cost_fill_per_m3"],
        haul_per_m3_m=case["cost_haul_per_m3_m"], borrow_per_m3=case["cost_borrow_per_m3"],
        spoil_per_m3=case["cost_spoil_per_m3"], compacted_per_bank=case["compacted_per_bank"],
    )  # fmt: skip
    works = Earthworks.of(ground, _road(case))
    return SearchProblem(works, cost, limits, case["start_level_m"], case["end_level_m"])


def _road(case: dict[str, Any]) -> RoadDesign:
    half = case["formation_half_width_m"]
    return RoadDesign.plain(
        lane_width_m=half / 2, lane_crossfall=0.0, shoulder_width_m=half / 2, shoulder_crossfall=0.0,
        pavement_thickness_m=0.0, topsoil_depth_m=0.0, cut_batter_h_over_v=case["cut_batter_h_over_v"],
        fill_batter_h_over_v=case["fill_batter_h_over_v"],
    )  # fmt: skip


def shortened(name: str, sections: int) -> SearchProblem:
    """The first sections of a ground, ending on the ground."""
    full = problem(name)
    g = full.works.ground
    ground = GroundSections(
        g.chainage_m[:sections], g.start[: sections + 1], g.offset_m, g.level_m, g.centre_level_m[:sections]
    )
    works = Earthworks.of(ground, _road(CASES[name]))
    return SearchProblem(works, full.cost, full.limits, full.start_level_m, float(g.centre_level_m[sections - 1]))
