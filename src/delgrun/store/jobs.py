"""Rows of background jobs. Only whoever runs or keeps a job writes them; looking at one never does."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, Literal, get_args

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from delgrun.store import models as m
from delgrun.store.revisions import now

Status = Literal["waiting", "running", "done", "stopped", "failed"]
STATUSES: tuple[Status, ...] = get_args(Status)
LIVE: tuple[Status, ...] = ("waiting", "running")
# A worker gives a sign of life each second; one that is silent this long has died.
SILENT_S = 5.0
# A job whose workers die this often has a defect, or is too much for this machine.
MOST_ATTEMPTS = 8
# Jobs that wait or run, of one project and of all: whoever starts more is told.
MOST_OF_ONE, MOST_OF_ALL = 3, 200


class QueueFull(Exception):
    """No further job is taken in; the message says how many there are."""

    def __init__(self, message: str) -> None:
        super().__init__(message)
        self.message = message


@dataclass(frozen=True)
class JobRow:
    """One job as it stands."""

    id: int
    project_id: int
    kind: str
    revision: int
    slot: str
    asked: str | None
    status: Status
    stage: str
    share: float
    stop_asked: bool
    attempt: int
    started_at: datetime
    ended_at: datetime | None
    lower_bound: float | None
    best_cost: float | None
    message: str
    state: str | None
    result: str | None
    ahead: int

    @property
    def seconds(self) -> float:
        """How long it has been going, or went. [s]"""
        return ((self.ended_at or now()) - self.started_at).total_seconds()


def add(session: Session, project_id: int, kind: str, revision: int, slot: str, asked: str | None = None) -> int:
    """A job in the queue; returns its number.

    Raises
    ------
    QueueFull
        Too many jobs of this project, or of all, wait or run.
    """
    live = select(m.Job.project_id).where(m.Job.status.in_(LIVE))
    projects = list(session.scalars(live))
    if projects.count(project_id) >= MOST_OF_ONE:
        raise QueueFull(f"{MOST_OF_ONE} jobs of this project wait or run already: stop one of them, or wait for it.")
    if len(projects) >= MOST_OF_ALL:
        raise QueueFull(f"{MOST_OF_ALL} jobs wait already: try again when some of them are through.")
    job = m.Job(
        project_id=project_id, kind=kind, revision=revision, slot=slot, asked=asked, status="waiting",
        stage="waiting", share=0.0, stop_asked=False, attempt=0, started_at=now(), message="",
    )  # fmt: skip
    session.add(job)
    session.flush()
    return job.id


def one_at_a_time(session: Session, project_id: int) -> None:
    """Wait until no other session holds the project's queue; held until this one commits."""
    session.execute(select(m.Project.id).where(m.Project.id == project_id).with_for_update())


def get(session: Session, job_id: int | None = None, *, project_id: int | None = None, kind: str = "") -> JobRow | None:
    """One job by its number, or the newest of a kind in a project; None where there is none."""
    query = select(m.Job).order_by(m.Job.id.desc()).limit(1)
    if project_id is not None:
        query = query.where(m.Job.project_id == project_id)
    query = query.where(m.Job.kind == kind) if job_id is None else query.where(m.Job.id == job_id)
    job = session.scalar(query)
    if job is None:
        return None
    ahead = 0
    if job.status == "waiting":
        running, queue = _live(session)
        # It may have been claimed since its row was read: then nothing is before it.
        ahead = len(running) + queue.index(job.id) if job.id in queue else 0
    return JobRow(**{name: getattr(job, name) for name in JobRow.__dataclass_fields__ if name != "ahead"}, ahead=ahead)


def claim(session: Session, job_id: int) -> JobRow | None:
    """Take a waiting job for this worker; None where somebody else has it or it is over."""
    taken = session.execute(
        update(m.Job)
        .where(m.Job.id == job_id, m.Job.status == "waiting")
        .values(status="running", attempt=m.Job.attempt + 1, beat_at=now())
    )
    return get(session, job_id) if taken.rowcount else None  # type: ignore[attr-defined]


def put(session: Session, job_id: int, attempt: int, **values: Any) -> bool:
    """Write what a running attempt has to say; False where it is not the one that runs any more."""
    done = session.execute(
        update(m.Job)
        .where(m.Job.id == job_id, m.Job.status == "running", m.Job.attempt == attempt)
        .values(beat_at=now(), **values)
    )
    return bool(done.rowcount)  # type: ignore[attr-defined]


def ask_to_stop(session: Session, project_id: int, job_id: int) -> None:
    """Ask a job to stop and keep what it has."""
    session.execute(
        update(m.Job)
        .where(m.Job.id == job_id, m.Job.project_id == project_id, m.Job.status.in_(LIVE))
        .values(stop_asked=True)
    )


def waiting(session: Session) -> list[int]:
    """Jobs in the queue, in the order in which they are begun: each project's first before any project's second."""
    return _live(session)[1]


def _live(session: Session) -> tuple[list[int], list[int]]:
    """Jobs that run, and those in the queue in their order; read at once, as others change them all the time."""
    of_project = func.row_number().over(partition_by=m.Job.project_id, order_by=m.Job.id)
    read = session.execute(select(m.Job.id, m.Job.status, of_project).where(m.Job.status.in_(LIVE))).all()
    queue = sorted((turn, i) for i, status, turn in read if status == "waiting")
    return [i for i, status, _ in read if status == "running"], [i for _, i in queue]


def take_up_again(session: Session) -> list[int]:
    """Put jobs whose worker has died back into the queue; those that died too often fail, with the reason."""
    silent = now() - timedelta(seconds=SILENT_S)
    dead = (m.Job.status == "running") & ((m.Job.beat_at.is_(None)) | (m.Job.beat_at < silent))
    session.execute(
        update(m.Job)
        .where(dead, m.Job.attempt >= MOST_ATTEMPTS)
        .values(
            status="failed",
            ended_at=now(),
            message=f"Its worker ended {MOST_ATTEMPTS} times before it was through. What it had found is kept.",
        )
    )
    again = list(session.scalars(select(m.Job.id).where(dead)))
    if again:
        session.execute(update(m.Job).where(m.Job.id.in_(again), dead).values(status="waiting"))
    return again
