"""Searches as background jobs: start, watch, stop, and what a worker does."""

import time
from typing import Any

import numpy as np
import orjson
from sqlalchemy import select, update

from delgrun.core.earthworks.evaluator import evaluate_line
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.search.problem import SearchProblem
from delgrun.core.search.search import Progress, SearchResult, search
from delgrun.core.units import chainage_text
from delgrun.jobs.client import Jobs
from delgrun.service.live import all_uses, ledger_json
from delgrun.service.projects import Projects
from delgrun.service.state import ProjectState
from delgrun.service.wire import Json, ips_json
from delgrun.store import models as m
from delgrun.store.revisions import now

_SAY_EVERY_S = 0.25
LIVE = ("waiting", "running")


def problem_of(projects: Projects, state: ProjectState, line: GradeLine) -> SearchProblem:
    """What a search starts from: the ends of the present line and the present limits."""
    terrain = projects.terrains.terrain(state)
    if state.limits is None or state.cost is None:
        raise DesignInputError("limits", "The project has no limits or no costs yet.")
    missing = np.isnan(terrain.works.tables.centre_level_m)
    if missing.any():
        at = chainage_text(float(terrain.works.chainage_m[missing][0]))
        message = f"The survey has no ground at {at}: a search needs ground along the whole line."
        raise DesignInputError("survey", message)
    lim = state.limits
    start = lim.start.level_m if lim.start.level_m is not None else line.ips[0].level_m
    end = lim.end.level_m if lim.end.level_m is not None else line.ips[-1].level_m
    return SearchProblem(terrain.works, state.cost, lim, start, end)


def start(projects: Projects, jobs: Jobs, project_id: int, revision: int, slot: str) -> int:
    """Put a search under the limits of this revision in the queue; returns the job's number."""
    state = projects.states.at(project_id, revision)
    problem_of(projects, state, state.line(slot).line)
    with projects.database.session() as session:
        job = m.Job(
            project_id=project_id,
            revision=revision,
            slot=slot,
            status="waiting",
            stage="waiting",
            share=0.0,
            stop_asked=False,
            started_at=now(),
            message="",
        )
        session.add(job)
        session.flush()
        job_id = job.id
    try:
        jobs.submit(job_id, "delgrun.jobs.tasks", "run_search", projects.database.url, job_id)
    except ConnectionError as e:
        _set(projects, job_id, status="failed", message=str(e), ended_at=now())
    return job_id


def stop(projects: Projects, project_id: int, job_id: int) -> None:
    """Ask a search to stop and keep what it has."""
    with projects.database.session() as session:
        session.execute(
            update(m.Job)
            .where(m.Job.id == job_id, m.Job.project_id == project_id, m.Job.status.in_(LIVE))
            .values(stop_asked=True)
        )


def status(projects: Projects, jobs: Jobs, project_id: int, job_id: int | None = None) -> Json | None:
    """One job, or the project's newest; None where there is none."""
    with projects.database.session() as session:
        query = select(m.Job).where(m.Job.project_id == project_id).order_by(m.Job.id.desc()).limit(1)
        job = session.scalar(query if job_id is None else query.where(m.Job.id == job_id))
        if job is None:
            return None
        if job.status in LIVE and not jobs.running(job.id):
            # Its worker or this server ended in the middle; what was kept is still good.
            job.status = "interrupted"
            job.ended_at = now()
            job.message = "The search was cut off. What it had found is kept; start it again to go on."
        return {
            "id": job.id,
            "revision": job.revision,
            "slot": job.slot,
            "status": job.status,
            "stage": job.stage,
            "share": job.share,
            "lower_bound": job.lower_bound,
            "best_cost": job.best_cost,
            "message": job.message,
            "seconds": ((job.ended_at or now()) - job.started_at).total_seconds(),
            "result": orjson.loads(job.result) if job.result else None,
        }


def run(projects: Projects, job_id: int) -> None:
    """What the worker does: search, say how far it is, keep the best so far, keep the result."""
    with projects.database.session() as session:
        job = session.get_one(m.Job, job_id)
        if job.status not in LIVE:
            return
        job.status = "running"
        project_id, revision, slot = job.project_id, job.revision, job.slot
    state = projects.states.at(project_id, revision)
    present = state.line(slot).line
    problem = problem_of(projects, state, present)
    said = [0.0]
    stopped = [False]

    def report(p: Progress, line: GradeLine | None) -> None:
        if line is None and time.monotonic() - said[0] < _SAY_EVERY_S:
            return
        said[0] = time.monotonic()
        values: dict[str, Any] = {
            "stage": p.stage,
            "share": p.share,
            "lower_bound": p.lower_bound or None,
            "best_cost": p.best_cost,
        }
        if line is not None:
            values["result"] = orjson.dumps(
                {
                    "offered": _line_json(projects, state, line),
                    "best": None,
                    "front": [],
                    "gap": (p.best_cost or 0.0) / p.lower_bound - 1 if p.lower_bound > 0 else None,
                }
            ).decode()
        _set(projects, job_id, **values)

    def asked() -> bool:
        if not stopped[0]:
            with projects.database.session() as session:
                stopped[0] = bool(session.scalar(select(m.Job.stop_asked).where(m.Job.id == job_id)))
        return stopped[0]

    try:
        result = search(problem, report, asked)
    except DesignInputError as e:
        _set(projects, job_id, status="failed", message=e.message, ended_at=now())
        return
    _set(
        projects,
        job_id,
        status="done" if result.finished else "stopped",
        share=1.0,
        stage="finished",
        ended_at=now(),
        lower_bound=result.lower_bound,
        best_cost=result.best.cost,
        result=orjson.dumps(_result_json(projects, state, result)).decode(),
    )


def _result_json(projects: Projects, state: ProjectState, result: SearchResult) -> Json:
    return {
        "offered": _line_json(projects, state, result.offered.line),
        "best": _line_json(projects, state, result.best.line),
        "front": [{"ips": ips, "cost": cost} for ips, cost in result.front],
        "gap": result.gap,
    }


def _line_json(projects: Projects, state: ProjectState, line: GradeLine) -> Json:
    terrain = projects.terrains.terrain(state)
    assert state.cost is not None and state.limits is not None
    evaluation = evaluate_line(terrain.works, line, state.cost)
    return {"ips": ips_json(line), "ledger": ledger_json(evaluation, all_uses(state.limits, line, terrain, evaluation))}


def _set(projects: Projects, job_id: int, **values: Any) -> None:
    with projects.database.session() as session:
        session.execute(update(m.Job).where(m.Job.id == job_id).values(**values))
