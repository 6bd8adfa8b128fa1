"""A project at a glance, for the list of projects."""

import numpy as np

from delgrun.service.case import Case
from delgrun.service.errors import NotReady
from delgrun.service.products import ledger_figures
from delgrun.service.results import of_checks, of_road, of_works
from delgrun.service.wire import Json

# Points of a small picture.
_POINTS = 160


def glance_of(case: Case) -> Json:
    """Length, cost and failures of a line, and its picture; what cannot be worked out yet is left away."""
    cost = case.state.cost
    out: Json = {
        "length_m": None, "cost": None, "currency": cost.currency if cost else "", "failures": None, "ground": [],
        "line": [],
    }  # fmt: skip
    try:
        line = of_road.centreline(case).value
        out["length_m"] = line.length_m
        s = np.linspace(line.start_chainage_m, line.end_chainage_m, _POINTS)
        along = of_road.long(case).value
        if len(along.chainage_m):
            # The ground's last crossing may lie a rounding before the end: a millimetre is no gap.
            there = np.clip(s, along.chainage_m[0], along.chainage_m[-1])
            level = np.where(np.abs(there - s) < 1e-3, np.interp(there, along.chainage_m, along.level_m), np.nan)
            out["ground"] = np.column_stack([s, level])[~np.isnan(level)].round(3).tolist()
        levels = case.line.levels(s)
        out["line"] = np.column_stack([s, levels])[~np.isnan(levels)].round(3).tolist()
        ledger = ledger_figures(of_works.evaluation(case), of_checks.uses(case))
        out["cost"], out["failures"] = ledger.cost, ledger.failures
    except NotReady:
        pass
    return out
