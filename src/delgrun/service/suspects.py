"""Hunting for suspects among a survey's points: a background job, since a million points take half a minute."""

from dataclasses import asdict
from typing import TYPE_CHECKING

from delgrun.core.survey.suspects import suspects
from delgrun.service.errors import Stopped
from delgrun.service.results import of_ground
from delgrun.service.wire import Json

if TYPE_CHECKING:
    from delgrun.service.jobs import Running
    from delgrun.service.projects import Projects
    from delgrun.store.jobs import Status

# So many are listed of each kind, the worst first; all are counted.
_MOST_LISTED = 3000


def check(projects: "Projects", project_id: int, revision: int, slot: str, asked: str | None) -> None:
    """Refuse at once what cannot be begun: a project without survey."""
    _ = of_ground.surveys(projects.case(projects.states.at(project_id, revision)))


def run(running: "Running") -> tuple["Status", Json]:
    """Find them, with names and codes."""
    row = running.row
    case = running.projects.case(running.projects.states.at(row.project_id, row.revision))
    running.say(stage="reading the ground", share=0.05)
    tin, points = of_ground.tin(case).value, of_ground.points(case).value
    running.say(stage="comparing each point with its neighbours", share=0.3)
    meanings = {c.code: c.means for c in case.state.codes.rows} if case.state.codes else {}

    def far(share: float) -> None:
        if running.stop_asked():
            raise Stopped("Stopped before it was through.")
        running.say(share=0.3 + 0.7 * share)

    found = suspects(tin, points, meanings, far)
    counts: dict[str, int] = {}
    listed = []
    for s in found:
        counts[s.why] = counts.get(s.why, 0) + 1
        if counts[s.why] <= _MOST_LISTED:
            text = {"name": "", "code": ""}
            if 0 <= s.row < len(points.code):
                text = {"name": str(points.name[s.row]), "code": str(points.code[s.row])}
            listed.append({**asdict(s), **text})
    return "done", {"suspects": listed, "counts": [{"why": why, "count": n} for why, n in counts.items()]}
