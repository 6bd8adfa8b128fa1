"""The search as a background job."""

import time
from dataclasses import asdict
from typing import TYPE_CHECKING, Any

import numpy as np
import orjson

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.search.problem import SearchProblem
from delgrun.core.search.search import Begun, Progress, SearchResult, search
from delgrun.service.case import Case
from delgrun.service.products import ip_figures, ledger_figures
from delgrun.service.results import of_checks, of_limits, of_works
from delgrun.service.results.of_limits import check_possible
from delgrun.service.wire import Json, line_of

if TYPE_CHECKING:
    from delgrun.service.jobs import Running
    from delgrun.service.projects import Projects
    from delgrun.store.jobs import Status

_SAY_EVERY_S = 0.25


def problem_of(case: Case) -> SearchProblem:
    """What a search starts from: the ends of the present line and the present limits.

    Raises
    ------
    DesignInputError
        Some of the line has no ground.
    """
    works, limits, line = of_works.works(case).value, of_limits.limits(case).value, case.line
    missing = np.isnan(works.centre_level_m)
    if missing.any():
        message = "The survey has no ground at {at:chainage}: a search needs ground along the whole line."
        raise DesignInputError("survey", message, at=float(works.chainage_m[missing][0]))
    start = limits.start.level_m if limits.start.level_m is not None else line.ips[0].level_m
    end = limits.end.level_m if limits.end.level_m is not None else line.ips[-1].level_m
    return SearchProblem.under(works, case.cost.value, limits, (start, end))


def _case(projects: "Projects", project_id: int, revision: int, slot: str) -> Case:
    return projects.case_of(projects.states.at(project_id, revision), slot)


def check(projects: "Projects", project_id: int, revision: int, slot: str, asked: str | None) -> None:
    """Refuse at once what no search can begin with, or end with a line."""
    case = _case(projects, project_id, revision, slot)
    problem_of(case)
    check_possible(case)


def run(running: "Running") -> tuple["Status", Json]:
    """Search, say how far it is, keep the best so far, and return the result."""
    row = running.row
    case = _case(running.projects, row.project_id, row.revision, row.slot)
    problem = problem_of(case)
    said = 0.0

    def report(p: Progress, line: GradeLine | None) -> None:
        nonlocal said
        if line is None and time.monotonic() - said < _SAY_EVERY_S:
            return
        said = time.monotonic()
        values: dict[str, Any] = {
            "stage": p.stage,
            "share": p.share,
            "lower_bound": p.lower_bound or None,
            "best_cost": p.best_cost,
        }
        if line is not None:
            gap = (p.best_cost or 0.0) / p.lower_bound - 1 if p.lower_bound > 0 else None
            so_far: Json = {"offered": _line_json(case, line), "best": None, "front": [], "gap": gap, "parts": []}
            values["result"] = orjson.dumps(so_far).decode()
            values["state"] = orjson.dumps({"ips": [asdict(ip) for ip in line.ips], "starts": p.starts}).decode()
        running.say(**values)

    result = search(problem, report, running.stop_asked, _begun(row.state))
    running.say(lower_bound=result.lower_bound, best_cost=result.best.cost)
    return ("done" if result.finished else "stopped"), _result_json(case, result)


def _begun(state: str | None) -> Begun:
    if state is None:
        return Begun()
    kept = orjson.loads(state)
    return Begun(line_of(kept["ips"]), kept["starts"])


def _result_json(case: Case, result: SearchResult) -> Json:
    return {
        "offered": _line_json(case, result.offered.line),
        "best": _line_json(case, result.best.line),
        "front": [{"ips": ips, "cost": cost} for ips, cost in result.front],
        "gap": result.gap,
        "parts": [asdict(part) for part in result.parts],
    }


def _line_json(case: Case, line: GradeLine) -> Json:
    found = case.with_line(line)
    return {"ips": ip_figures(line), "ledger": ledger_figures(of_works.evaluation(found), of_checks.uses(found))}
