"""Looking back: states of a project, their names, and going back to one; nothing is ever lost by it."""

from dataclasses import replace

from delgrun.core.errors import DesignInputError
from delgrun.service import wire
from delgrun.service.centrelines import followers
from delgrun.service.errors import NotReady
from delgrun.service.lines import check_changeable
from delgrun.service.projects import Projects, Saving
from delgrun.service.wire import Json
from delgrun.store import revisions, states


def listed(projects: Projects, project_id: int, before: int, count: int) -> list[Json]:
    """States before a revision, the newest first: so many, and all older ones that have a name."""
    with projects.database.session() as session:
        revisions.project_name(session, project_id)
        return [
            {**wire.revision_json(s.revision), "name": s.name, "slots": list(s.slots)}
            for s in states.listed(session, project_id, before, count)
        ]


def give_name(projects: Projects, project_id: int, revision: int, name: str) -> None:
    """Name a state, or take its name away (empty)."""
    projects.need_room()
    with projects.database.session() as session:
        newest = revisions.head(session, project_id).number
        if not 0 <= revision <= newest:
            raise NotReady("project", f"The project has no revision {revision}; its newest is {newest}.")
        states.give_name(session, project_id, revision, name.strip())


def go_back(projects: Projects, to: Saving, revision: int, slot: str | None) -> int:
    """Make the whole project, or one grade line, as it was; what is now is one undo away. Returns the revision.

    A line whose road has another centreline by now goes along to that.
    """
    projects.need_room()
    then = projects.states.at(to.project_id, revision)
    if slot is None:
        label = f"All as of revision {revision}"
        with projects.database.session() as session:
            return revisions.save_as_of(session, to.project_id, to.base, to.author, label, revision, to.token)
    now = projects.states.at(to.project_id, to.base)
    if slot not in then.lines:
        raise DesignInputError("revision", f"There was no such grade line at revision {revision}.")
    line = then.line(slot)
    if line.road not in now.roads or line.road not in then.roads:
        raise DesignInputError("revision", "The road of this line is not there any more: go back to all of it.")
    if slot in now.lines:
        check_changeable(now.line(slot))
        if now.line(slot) == line:
            return to.base
    road = now.roads[line.road].value
    if then.roads[line.road].value != road:
        before = replace(now, slots=now.slots | {s: then.slots[s] for s in (slot, line.road)})
        changes, _ = followers(projects, before, road, "place", line.road)
        line = changes.get(slot, line)
    return projects.save(to, f"“{line.name}” as of revision {revision}", {slot: line})
