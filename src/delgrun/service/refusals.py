"""What could be instead of an edit that can't be; nothing is saved."""

from collections.abc import Callable, Iterable
from dataclasses import asdict, dataclass
from typing import Any

from delgrun.core.earthworks.evaluator import evaluate_line
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.edit_kinds import Edit, apply_edit
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.limits.ways_out import ways_out
from delgrun.service.case import Case
from delgrun.service.errors import NotReady
from delgrun.service.lines import check_changeable
from delgrun.service.projects import Projects
from delgrun.service.results import of_limits, of_works


@dataclass(frozen=True)
class WayFigures:
    """A way on: `edit` is as an edit is sent, `breaks` names limits that it would break, in words.

    `cost_change` is null where costs are not known yet.
    """

    label: str
    edit: dict[str, Any]
    cost_change: float | None
    breaks: list[str]


@dataclass(frozen=True)
class RefusalFigures:
    """Why an edit can't be, null where it can; and what could be instead."""

    reason: str | None
    ways: list[WayFigures]


def ways_on(
    projects: Projects, project_id: int, revision: int, slot: str, edits: Iterable[Edit], edit: Edit
) -> RefusalFigures:
    """Ways on from an edit of a line as of a revision, with earlier edits tried on it first."""
    state = projects.states.at(project_id, revision)
    design = state.line(slot)
    try:
        check_changeable(design)
    except DesignInputError as e:
        return RefusalFigures(e.message, [])
    case = projects.case(state, design.line, design.road)
    around = projects.around(state, design.road)
    line = design.line
    for earlier in edits:
        line = apply_edit(line, earlier, around).line
    limits = of_limits.limits(case).value if state.limits is not None else None
    found = ways_out(line, edit, around, limits, _costs(case))
    if found is None:
        return RefusalFigures(None, [])
    return RefusalFigures(
        found.reason,
        [WayFigures(w.label, {"what": w.edit.what, **asdict(w.edit)}, w.cost_change, w.breaks) for w in found.ways],
    )


def _costs(case: Case) -> Callable[[GradeLine], float] | None:
    try:
        works, cost, own = of_works.works(case).value, case.cost.value, of_works.evaluation(case)
    except NotReady:
        return None
    return lambda line: evaluate_line(works, line, cost, own).ledger.cost
