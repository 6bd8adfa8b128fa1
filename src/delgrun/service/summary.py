"""The summary of a line's checks for whoever signs them."""

from dataclasses import asdict

from delgrun.core.inputs import CONTROLS
from delgrun.core.limits.summary import check_rows, value_rows
from delgrun.core.units import System, spoken
from delgrun.service.check_figures import controls
from delgrun.service.controls import clashes_of
from delgrun.service.projects import Projects
from delgrun.service.wire import Json


def of_line(projects: Projects, project_id: int, revision: int, slot: str, system: System) -> Json:
    """Every check, value and level control of a grade line at a revision, in words of a system of units."""
    case = projects.case_of(projects.states.at(project_id, revision), slot)
    case.speak()
    reasons = [row.reason for row in case.state.get(CONTROLS).rows]
    with spoken(system):
        return {
            "checks": [asdict(row) for row in check_rows(case.checked, case.uses)],
            "values": [asdict(row) for row in value_rows(case.limits.value)],
            "controls": [
                {
                    "what": of.what,
                    "reason": reasons[of.row] if of.kind == "control" else "",
                    "slack_m": of.slack_m,
                    "at_m": of.at_m,
                    "level_m": of.level_m,
                    "limit_m": of.limit_m,
                }
                for of in controls(case)[0]
            ],
            "clashes": [c.sentence for c in clashes_of(case)],
        }
