"""Background jobs: put in the queue, watched, stopped, and taken up again by themselves when a worker dies."""

import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import orjson

from delgrun.core.errors import DesignInputError
from delgrun.core.units import on_road, shortened, speaks_of_a_road, spoken
from delgrun.jobs.client import Jobs
from delgrun.service import importing, searches, suspects
from delgrun.service.errors import NoRoom, NotReady, Stopped
from delgrun.service.projects import Projects
from delgrun.service.wire import Json
from delgrun.store import jobs as rows
from delgrun.store.jobs import JobRow
from delgrun.store.revisions import now

_LOG = logging.getLogger(__name__)
_BEAT_S = 1.0
_KEEP_S = 1.0
# So many jobs are given to the workers before they are begun.
_READY = 2
_DEFECT = "A defect in Delgrun ended it; the log of the workers says where. What it had found is kept."


@dataclass(frozen=True)
class JobKind:
    """One kind of job: `check` refuses what cannot be begun, `run` does it and returns (status, result)."""

    name: str
    check: Callable[[Projects, int, int, str, str | None], None]
    run: Callable[["Running"], tuple[rows.Status, Json]]


class Running:
    """A job in a worker: says how far it is, keeps what it has, and is asked whether to stop."""

    def __init__(self, projects: Projects, row: JobRow) -> None:
        self.projects, self.row = projects, row
        self._over = threading.Event()
        self._asked = False

    def say(self, **values: Any) -> None:
        """Write progress (stage, share, bound, best cost, result, state); it is a sign of life too."""
        for name in ("message", "result"):
            text = values.get(name)
            if isinstance(text, str) and speaks_of_a_road(text):
                # Whoever reads of it may look at another one.
                values[name] = on_road(text, self.projects.road_of(self.row.project_id, self.row.slot))
        with self.projects.database.session() as session:
            rows.put(session, self.row.id, self.row.attempt, **values)

    def stop_asked(self) -> bool:
        return self._asked

    def beat(self) -> None:
        """Give a sign of life until the job is over, and look whether it is asked to stop."""
        while not self._over.wait(_BEAT_S):
            try:
                with self.projects.database.session() as session:
                    mine = rows.put(session, self.row.id, self.row.attempt)
                    row = rows.get(session, self.row.id)
                # An attempt that lost its job to another one stops as well.
                self._asked = self._asked or not mine or (row is not None and row.stop_asked)
            except Exception:
                _LOG.warning("no sign of life could be written; trying again", exc_info=True)

    def over(self) -> None:
        self._over.set()


KINDS: dict[str, JobKind] = {
    kind.name: kind
    for kind in (
        JobKind("search", searches.check, searches.run),
        JobKind("suspects", suspects.check, suspects.run),
        JobKind("import", importing.check, importing.run),
    )
}


def start(projects: Projects, project_id: int, kind: str, revision: int, slot: str, asked: str | None = None) -> int:
    """Put a job in the queue; returns its number. Whoever keeps the queue hands it to a worker.

    What is asked for in words (`asked`) is begun once, however often it is sent: an answer may be lost.
    """
    KINDS[kind].check(projects, project_id, revision, slot, asked)
    with projects.database.session() as session:
        if asked is not None:
            # Sent twice at once, the second waits here until the first is in the queue.
            rows.one_at_a_time(session, project_id)
            newest = rows.get(session, project_id=project_id, kind=kind)
            same = newest is not None and (newest.asked, newest.revision) == (asked, revision)
            if newest is not None and same and newest.status not in ("stopped", "failed"):
                return newest.id
        return rows.add(session, project_id, kind, revision, slot, asked)


def stop(projects: Projects, project_id: int, job_id: int) -> None:
    """Ask a job to stop and keep what it has."""
    with projects.database.session() as session:
        rows.ask_to_stop(session, project_id, job_id)


def status(projects: Projects, project_id: int, kind: str, job_id: int | None = None) -> Json | None:
    """One job, or the project's newest of a kind; None where there is none. Only looks."""
    with projects.database.session() as session:
        row = rows.get(session, job_id, project_id=project_id, kind=kind)
    if row is None:
        return None
    named = (
        "id",
        "revision",
        "slot",
        "status",
        "stage",
        "share",
        "lower_bound",
        "best_cost",
        "message",
        "seconds",
        "ahead",
    )
    return {
        **{name: getattr(row, name) for name in named},
        "result": orjson.loads(row.result) if row.result else None,
    }


def run(projects: Projects, job_id: int) -> None:
    """What a worker does with a job: claim it, run it, keep its result or the reason why there is none."""
    with projects.database.session() as session:
        row = rows.claim(session, job_id)
    if row is None:
        return
    with spoken("kept"):
        _run(Running(projects, row))


def _run(running: Running) -> None:
    row = running.row
    running._asked = row.stop_asked
    threading.Thread(target=running.beat, daemon=True).start()
    try:
        ended, result = KINDS[row.kind].run(running)
        values: Json = {"status": ended, "share": 1.0, "stage": "finished", "result": orjson.dumps(result).decode()}
    except Stopped as e:
        values = {"status": "stopped", "message": shortened(e.message, 500)}
    except (DesignInputError, NotReady, NoRoom) as e:
        values = {"status": "failed", "message": shortened(e.message, 500)}
    except Exception:
        _LOG.exception("job %d ended by a defect", row.id)
        values = {"status": "failed", "message": _DEFECT}
    finally:
        running.over()
    running.say(ended_at=now(), **values)


class Keeper:
    """Hands waiting jobs to the workers and takes up again those whose worker died; one in each server."""

    def __init__(self, projects: Projects, jobs: Jobs) -> None:
        self._projects, self._jobs = projects, jobs
        self._wake = threading.Event()

    def wake(self) -> None:
        """Look at once: a job was put in the queue."""
        self._wake.set()

    def keep(self) -> None:
        """Look each second, for ever."""
        while True:
            self._wake.wait(_KEEP_S)
            self._wake.clear()
            try:
                self.look()
            except Exception:
                # The database or the workers are away: the queue is in the database and waits.
                _LOG.info("the queue could not be looked at; trying again", exc_info=True)
                time.sleep(_KEEP_S)

    def look(self) -> None:
        """Once: put back what died, hand over what waits and no worker has been given yet."""
        with self._projects.database.session() as session:
            for job_id in rows.take_up_again(session):
                self._jobs.forget(job_id)
        with self._projects.database.session() as session:
            waiting = rows.waiting(session)
        # A few at a time: what the workers hold is out of the queue's order.
        ready = [job_id for job_id in waiting if self._jobs.handed_over(job_id)]
        for job_id in [i for i in waiting if i not in ready][: max(_READY - len(ready), 0)]:
            self._jobs.submit(job_id, "delgrun.jobs.tasks", "run_job", job_id)
