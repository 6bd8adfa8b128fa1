"""The surveys of a project: saved with the ground they make, taken out, and what was said of them."""

from collections.abc import Mapping
from dataclasses import replace

import orjson

from delgrun.core.ground.tin import Tin
from delgrun.core.inputs import COORDINATES, OUTLINE, SURVEY
from delgrun.service.errors import NotReady
from delgrun.service.projects import Projects, Saving
from delgrun.service.results import of_ground
from delgrun.service.state import ProjectState
from delgrun.service.wire import Json
from delgrun.store import inputs, revisions
from delgrun.store.inputs import SurveyInput

# What the ground of a survey was built with, and where it may lie: other changes don't disturb its saving.
MINDS = frozenset({SURVEY.name, OUTLINE.name, COORDINATES.name})


def free_slot(state: ProjectState) -> str:
    """Where a further survey stands: behind all others."""
    numbers = [int(slot.partition("-")[2] or 0) for slot in state.surveys]
    return f"{SURVEY.name}-{max(numbers, default=0) + 1}"


def save(projects: Projects, to: Saving, brings: Mapping[str, object], tin: Tin) -> int:
    """Save a survey in its slot, with what else comes with it; `tin` is the ground that all surveys make then.

    One that is to be alone takes all others away. It goes on top of whatever else was saved since `to.base`.

    Raises
    ------
    RevisionConflict
        What the ground was built with was changed since.
    """
    survey = next(value for value in brings.values() if isinstance(value, SurveyInput))
    others = projects.states.at(to.project_id, to.base).surveys if survey.joins == "alone" else {}
    how = {"alone": "Survey", "adds": "Add the survey", "replaces": "Put into the ground"}[survey.joins]
    changes = {**dict.fromkeys(others), **brings}
    revision = projects.save(to, f"{how} “{survey.file_name}”", changes, MINDS)
    # What was built to see whether it can be is what is looked at next.
    of_ground.take_built(projects.case(projects.states.at(to.project_id, revision)), tin)
    if projects.shelf is not None:
        projects.shelf.settle()
    return revision


def alone(state: ProjectState, slot: str | None) -> ProjectState:
    """A state whose ground is one of its surveys as it came, or the state itself for None.

    Raises
    ------
    NotReady
        There is no such survey.
    """
    if slot is None:
        return state
    if slot not in state.surveys:
        raise NotReady(SURVEY.name, f"This survey is not in revision {state.revision}.")
    return replace(state, slots={slot: state.slots[slot]})


def saved_as(projects: Projects, project_id: int, token: str) -> tuple[int, Json] | None:
    """The revision that an import of this name became, and what was said of its survey; None where it did not."""
    with projects.database.session() as session:
        revision = revisions.saved_as(session, project_id, token)
    if revision is None:
        return None
    slot = list(projects.states.at(project_id, revision).surveys)[-1]
    return revision, summary_of(projects, project_id, revision, slot) or {}


def summary_of(projects: Projects, project_id: int, revision: int, slot: str) -> Json | None:
    """What was said of a survey when it was read; None for those of earlier versions."""
    kept = projects.states.at(project_id, revision).surveys.get(slot)
    if kept is None:
        raise NotReady(SURVEY.name, f"This survey is not in revision {revision}.")
    with projects.database.session() as session:
        said = inputs.read_summary(session, projects.version_of(kept.key))
    return orjson.loads(said) if said else None


def remove(projects: Projects, to: Saving, slot: str) -> int:
    """Take one survey out of the ground; the others stay."""
    state = projects.states.at(to.project_id, to.base)
    kept = state.surveys.get(slot)
    if kept is None:
        raise NotReady(SURVEY.name, "This survey is not in the project any more.")
    return projects.save(to, f"Take out the survey “{kept.value.file_name}”", {slot: None})
