"""The summary of a line's checks for whoever signs them."""

from dataclasses import asdict

import numpy as np

from delgrun.core.inputs import CONTROLS
from delgrun.core.limits.summary import CheckRow, check_rows, value_rows
from delgrun.core.units import System, spoken, text
from delgrun.service.case import Case
from delgrun.service.check_figures import controls
from delgrun.service.controls import clashes_of
from delgrun.service.projects import Projects
from delgrun.service.space import space
from delgrun.service.wire import Json


def of_line(projects: Projects, project_id: int, revision: int, slot: str, system: System) -> Json:
    """Every check, value and level control of a grade line at a revision, in words of a system of units."""
    case = projects.case_of(projects.states.at(project_id, revision), slot)
    case.speak()
    reasons = [row.reason for row in case.state.get(CONTROLS).rows]
    with spoken(system):
        return {
            "checks": [asdict(row) for row in (*check_rows(case.checked, case.uses), *_past_bends(case))],
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


def _past_bends(case: Case) -> list[CheckRow]:
    """Sight past bends as one more check, judged as stopping sight is."""
    mode = case.limits.value.stopping_sight
    if mode == "off":
        return []
    found = case.in_space
    lacks = [*found.ahead.lacks, *found.back.lacks]
    says = space(case)[0].hidden
    share = [s.needed_m / np.maximum(s.seen_m, 1e-9) for s in (found.ahead, found.back)]
    use = float(max(v.max() for v in share))
    worst = max(zip(lacks, says, strict=True), key=lambda pair: pair[0].needed_m / pair[0].seen_m, default=None)
    return [
        CheckRow(
            name="Sight past bends",
            verdict="kept" if worst is None else "fails" if mode == "fails" else "advice",
            fails=len(lacks),
            use=use if worst is None else worst[0].needed_m / worst[0].seen_m,
            value="" if worst is None else text(worst[0].seen_m, "length"),
            limit="" if worst is None else text(worst[0].needed_m, "length"),
            where="",
            says="" if worst is None else worst[1].sentence,
            source="as stopping sight, along a straight line past batters and ground",
        )
    ]
