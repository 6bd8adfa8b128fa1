"""Grade lines: made, copied, named, taken away, and changed one edit at a time."""

from dataclasses import replace
from functools import partial
from itertools import count

from delgrun.core.earthworks.evaluator import evaluate_line
from delgrun.core.earthworks.shifting import Shifted, shift_of
from delgrun.core.errors import DesignInputError
from delgrun.core.first_line.wishes import Depths, Drains, Round
from delgrun.core.gradeline.edit_kinds import Edit, apply_edit
from delgrun.core.gradeline.follow import straight
from delgrun.core.gradeline.grade_line import COLOURS, GradeLine, LineDesign, Status
from delgrun.core.inputs import LINE, PRACTICE
from delgrun.core.units import FOOT_M
from delgrun.service import wire
from delgrun.service.case import Case
from delgrun.service.projects import Projects, Saving
from delgrun.service.results import of_design, of_limits, of_road, of_works
from delgrun.service.results.of_limits import check_possible
from delgrun.service.state import MAIN_ROAD, ProjectState
from delgrun.service.wire import Json


def check_changeable(line: LineDesign) -> None:
    """Raises DesignInputError for a line that is final."""
    if line.status == "final":
        raise DesignInputError(
            "status", f"“{line.name}” is final: it is changed only as a copy. Copy it, or take its status back first."
        )


def fitted(
    projects: Projects,
    to: Saving,
    name: str,
    road: str,
    depths: Depths,
    drains: Drains = "roll",
    *,
    even: bool = False,
) -> tuple[int, str, list[str]]:
    """A first line near the ground within the limits; also where it lies deeper, or higher, than wished, why it
    rises and falls over ground that does not, and why it is not round where that is wished (`even`).
    """
    # Its linear programs take a while to import: a server that is started again must be back soon.
    from delgrun.core.first_line.first_line import beyond_depths, drained, first_line

    state = projects.states.at(to.project_id, to.base)
    case = projects.case(state, road=road)
    stretch, along = of_road.stretch(case), of_road.long(case).value
    check_possible(case)
    ground = along.chainage_m, along.level_m
    made = first_line(
        ground,
        (stretch.from_m, stretch.to_m),
        of_limits.limits(case).value,
        depths,
        drains,
        _round(state) if even else None,
    )
    revision, slot = _add_line(projects, to, state, name, made.line, f"New grade line “{name}”", road)
    uneven = [made.uneven] if made.uneven else []
    return revision, slot, [*drained(made, drains, partial(_cost_of, case)), *beyond_depths(made, depths), *uneven]


def _round(state: ProjectState) -> Round:
    """What is round in the project's units: 0.1 % and 5 m, or 10 ft."""
    system = state.get(PRACTICE).system
    return Round() if system == "metric" else Round(length_m=10 * FOOT_M[system])


def _cost_of(case: Case, line: GradeLine) -> str:
    """What a line costs, in words; nothing where that isn't known."""
    cost = evaluate_line(of_works.works(case).value, line, case.cost.value).ledger.cost
    return f"{cost:,.0f} {case.cost.value.currency}".replace(",", "\u2009")


def straight_line(projects: Projects, to: Saving, name: str, road: str = MAIN_ROAD) -> tuple[int, str]:
    """A straight line between the tie-ins, or the ground at the ends."""
    state = projects.states.at(to.project_id, to.base)
    case = projects.case(state, road=road)
    stretch = of_road.stretch(case)
    levels = [float(z) for z in of_design.cut_across(case).value.centre_level_m[[0, -1]].round(3)]
    if state.limits is not None:
        for i, tie in enumerate((of_limits.limits(case).value.start, of_limits.limits(case).value.end)):
            if tie.level_m is not None:
                levels[i] = tie.level_m
    line = straight(stretch.from_m, levels[0], stretch.to_m, levels[1])
    return _add_line(projects, to, state, name, line, f"New grade line “{name}”", road)


def copy(projects: Projects, to: Saving, slot: str, name: str) -> tuple[int, str]:
    """A further line like another one; it is a draft, whatever that is."""
    state = projects.states.at(to.project_id, to.base)
    old = state.line(slot)
    return _add_line(projects, to, state, name, old.line, f"Copy as “{name}”", old.road)


def adopt(projects: Projects, to: Saving, name: str, ips: list[Json], road: str = MAIN_ROAD) -> tuple[int, str]:
    """Take a line in that came from elsewhere: a search, or another tab's unsaved work."""
    state = projects.states.at(to.project_id, to.base)
    return _add_line(projects, to, state, name, wire.line_of(ips), f"Adopt “{name}”", road)


def _add_line(
    projects: Projects, to: Saving, state: ProjectState, name: str, line: GradeLine, label: str, road: str
) -> tuple[int, str]:
    slot, design = design_of(state, name, line, road)
    return projects.save(to, label, {slot: design}), slot


def design_of(state: ProjectState, name: str, line: GradeLine, road: str) -> tuple[str, LineDesign]:
    """A further line of a project, by a name and in a colour that are free, with its slot."""
    lines = state.lines
    name = _free_name(name, {v.name for v in lines.values() if v.road == road})
    slot = f"{LINE.name}-{max((int(s.split('-')[1]) for s in lines), default=0) + 1}"
    taken = {v.colour for v in lines.values()}
    colour = next((c for c in range(COLOURS) if c not in taken), len(lines) % COLOURS)
    return slot, LineDesign(name=name, colour=colour, road=road, ips=line.ips)


def _free_name(name: str, taken: set[str]) -> str:
    """The name, or the same with a number behind it where another line of the road has it."""
    if name not in taken:
        return name
    return next(free for k in count(2) if (free := f"{name[:56]} {k}") not in taken)


def rename(projects: Projects, to: Saving, slot: str, name: str) -> int:
    """Call a line otherwise; raises DesignInputError where another line of its road is called so."""
    state = projects.states.at(to.project_id, to.base)
    line = state.line(slot)
    if any(v.name == name and s != slot for s, v in state.lines_of(line.road).items()):
        raise DesignInputError(
            "name", "Another line is called “{name}”: files and lists would not tell them apart.", name=name
        )
    return projects.save(to, f"Rename to “{name}”", {slot: replace(line, name=name)})


def set_colour(projects: Projects, to: Saving, slot: str, colour: int) -> int:
    """Draw a line in another colour, with the dash that goes with it."""
    line = projects.states.at(to.project_id, to.base).line(slot)
    return projects.save(to, f"Colour of “{line.name}”", {slot: replace(line, colour=colour)})


def set_status(projects: Projects, to: Saving, slot: str, status: Status) -> int:
    """Make a line a draft, for checking, or final; nothing else of it changes."""
    line = projects.states.at(to.project_id, to.base).line(slot)
    words = {"draft": "a draft", "checking": "for checking", "final": "final"}[status]
    return projects.save(to, f"“{line.name}” is {words}", {slot: replace(line, status=status)})


def delete(projects: Projects, to: Saving, slot: str) -> int:
    """Take a line away; undo brings it back."""
    line = projects.states.at(to.project_id, to.base).line(slot)
    check_changeable(line)
    return projects.save(to, f"Delete “{line.name}”", {slot: None})


def apply(projects: Projects, to: Saving, slot: str, edit: Edit) -> tuple[int, int | None, list[str]]:
    """Apply and save one edit; returns the revision, the IP that is selected then, and what it could not do."""
    state = projects.states.at(to.project_id, to.base)
    old = state.line(slot)
    check_changeable(old)
    result = apply_edit(old.line, edit, projects.around(state, old.road))
    if result.line == old.line:
        return to.base, result.selected, list(result.said)
    label = edit.label(old.line)
    return projects.save(to, label, {slot: replace(old, ips=result.line.ips)}), result.selected, list(result.said)


def shifted(
    projects: Projects, project_id: int, revision: int, slot: str, stretch: tuple[float, float], aside_m: float
) -> Shifted:
    """What a stretch of the road costs more, or less, so far to the right, levels as they are.

    Raises
    ------
    DesignInputError
        The stretch has no length on this road.
    """
    case = projects.case_of(projects.states.at(project_id, revision), slot)
    works = of_works.works(case).value
    if not ((works.chainage_m >= stretch[0]) & (works.chainage_m <= stretch[1])).any():
        raise DesignInputError(
            "to_m", "There is no section from {a:chainage} to {b:chainage}.", a=stretch[0], b=stretch[1]
        )
    line = of_road.centreline(case).value
    return shift_of(works, of_works.evaluation(case), case.cost.value, line, stretch, aside_m)
