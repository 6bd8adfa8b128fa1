"""What files are called that leave the program."""

import re

from delgrun.service.projects import Projects
from delgrun.service.state import ProjectState
from delgrun.store import revisions

_NOT_IN_NAMES = re.compile(r"[^\w .,()+\-]+")


def named_file(
    projects: Projects, state: ProjectState, what: str, slot: str | None = None, road: str | None = None
) -> str:
    """A file's name without its end: project, road, line, what it holds, revision; none can pass for another one."""
    with projects.database.session() as session:
        parts = [revisions.project_name(session, state.project_id)]
    line = state.lines.get(slot) if slot else None
    of = state.roads.get(line.road if line else road or "")
    own = (of.value.name if of else None, line.name if line else None, what, f"r{state.revision}")
    parts += [x for x in own if x]
    return " - ".join(_NOT_IN_NAMES.sub("_", part).strip()[:60] for part in parts)
