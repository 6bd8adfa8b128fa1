"""Searches as jobs: looking never writes, a defect is told, and what was cut off goes on from its best."""

from dataclasses import replace
from datetime import timedelta
from pathlib import Path

import orjson
import pytest
import sqlalchemy as sa

from delgrun.core.errors import DesignInputError
from delgrun.core.inputs import LIMITS
from delgrun.core.search import search as core_search
from delgrun.demo.load import load
from delgrun.jobs.client import Jobs
from delgrun.service import jobs, searches
from delgrun.service.errors import QueueFull
from delgrun.service.jobs import Keeper
from delgrun.service.projects import Saving
from delgrun.store import jobs as rows
from delgrun.store import models as m
from delgrun.store.revisions import now


class Workers(Jobs):
    """Notes what it was given to do, and does nothing: the cluster as seen from the queue."""

    def __init__(self) -> None:
        super().__init__(Path())
        self.given: list[int] = []
        self.held: set[int] = set()

    def submit(self, job_id: int, module: str, function: str, *args) -> None:
        assert (module, function) == ("delgrun.jobs.tasks", "run_job")
        self.given.append(job_id)
        self.held.add(job_id)

    def handed_over(self, job_id: int) -> bool:
        return job_id in self.held

    def forget(self, job_id: int) -> None:
        self.held.discard(job_id)


def start(projects, demo) -> int:
    return jobs.start(projects, demo, "search", 5, "line-1")


def state_of(projects, demo, number: int) -> dict:
    found = jobs.status(projects, demo, "search", number)
    assert found is not None
    return found


def test_a_search_is_looked_at_without_being_touched_and_kept_to_its_end(projects, demo):
    number = start(projects, demo)
    # Before any worker has it: nothing but looking happens, however often.
    for _ in range(3):
        assert state_of(projects, demo, number)["status"] == "waiting"
    jobs.run(projects, number)
    done = state_of(projects, demo, number)
    assert done["status"] == "done" and done["share"] == 1.0
    assert done["result"]["gap"] == pytest.approx(
        done["result"]["offered"]["ledger"]["cost"] / done["lower_bound"] - 1, rel=1e-9
    )
    # The bend that is too tight stays, whatever the grade line.
    assert done["result"]["offered"]["ledger"]["failures"] == 1
    # Run again by mistake, it does nothing.
    jobs.run(projects, number)
    assert state_of(projects, demo, number)["seconds"] == done["seconds"]
    stopped = start(projects, demo)
    jobs.stop(projects, demo, stopped)
    jobs.run(projects, stopped)
    assert state_of(projects, demo, stopped)["status"] == "stopped"
    assert jobs.status(projects, demo + 999, "search") is None


def test_a_search_whose_worker_died_is_taken_up_again_from_its_best(projects, demo, monkeypatch):
    number = start(projects, demo)
    workers = Workers()
    keeper = Keeper(projects, workers)
    keeper.look()
    keeper.look()
    assert workers.given.count(number) == 1

    class Killed(BaseException):
        pass

    def dies(problem, report, stop, begun):
        def until_a_line(progress, line):
            report(progress, line)
            if line is not None:
                raise Killed

        return core_search.search(problem, until_a_line, stop, begun)

    with monkeypatch.context() as patch:
        patch.setattr(searches, "search", dies)
        with pytest.raises(Killed):
            jobs.run(projects, number)
    cut_off = state_of(projects, demo, number)
    assert cut_off["status"] == "running" and cut_off["best_cost"]
    keeper.look()
    assert workers.given.count(number) == 1
    with projects.database.session() as session:
        silent = now() - timedelta(seconds=2 * rows.SILENT_S)
        session.execute(sa.update(m.Job).where(m.Job.id == number).values(beat_at=silent))
    keeper.look()
    assert workers.given.count(number) == 2 and state_of(projects, demo, number)["status"] == "waiting"
    begun: list[core_search.Begun] = []

    def goes_on(problem, report, stop, at):
        begun.append(at)
        return core_search.search(problem, report, lambda: True, at)

    monkeypatch.setattr(searches, "search", goes_on)
    jobs.run(projects, number)
    ended = state_of(projects, demo, number)
    assert begun[0].line is not None and ended["status"] == "stopped" and ended["best_cost"] <= cut_off["best_cost"]


def test_a_defect_in_a_search_is_told_as_one(projects, demo, monkeypatch):
    number = start(projects, demo)
    monkeypatch.setattr(searches, "search", lambda *_: 1 / 0)
    jobs.run(projects, number)
    failed = state_of(projects, demo, number)
    assert failed["status"] == "failed" and "defect in Delgrun" in failed["message"]


def test_a_job_that_kills_its_worker_each_time_ends_as_failed(projects, demo):
    number = start(projects, demo)
    keeper = Keeper(projects, Workers())
    for _ in range(rows.MOST_ATTEMPTS):
        with projects.database.session() as session:
            assert rows.claim(session, number) is not None
            session.execute(sa.update(m.Job).where(m.Job.id == number).values(beat_at=None))
        keeper.look()
    assert state_of(projects, demo, number)["status"] == "failed"


def test_an_attempt_that_lost_its_job_writes_nothing_more(projects, demo):
    number = start(projects, demo)
    with projects.database.session() as session:
        first = rows.claim(session, number)
        session.execute(sa.update(m.Job).where(m.Job.id == number).values(beat_at=None))
        assert rows.take_up_again(session) == [number]
        assert rows.claim(session, number).attempt == first.attempt + 1
        assert not rows.put(session, number, first.attempt, stage="stale")
        session.execute(sa.update(m.Job).where(m.Job.id == number).values(status="failed"))


def test_an_impossible_search_fails_with_the_reason(projects, demo):
    state = projects.states.newest(demo)
    # 11 % on average, where 8 % is the steepest: it is not begun.
    to = Saving(project_id=demo, base=state.revision)
    base = projects.save(to, "Limits", {LIMITS.name: replace(state.limits, end_level_m=627.0)})
    with pytest.raises(DesignInputError, match=r"are 11\.28 %, and the steepest grade is 8\.00 %"):
        jobs.start(projects, demo, "search", base, "line-1")
    base = projects.turn(Saving(project_id=demo, base=base), "undo")
    # Curves that no line has room for are found out only by the search.
    flat = replace(state.limits, min_crest_k_m_per_pct=3e4, min_sag_k_m_per_pct=3e4)
    base = projects.save(Saving(project_id=demo, base=base), "Limits", {LIMITS.name: flat})
    number = jobs.start(projects, demo, "search", base, "line-1")
    jobs.run(projects, number)
    failed = state_of(projects, demo, number)
    assert failed["status"] == "failed" and "No line can keep these limits" in failed["message"]
    base = projects.turn(Saving(project_id=demo, base=base), "undo")
    with pytest.raises(DesignInputError, match=r"tie-in at the start has -2\.50 %, steeper than the steepest"):
        projects.save(
            Saving(project_id=demo, base=base), "Limits", {LIMITS.name: replace(state.limits, max_grade=0.01)}
        )


def test_without_workers_the_queue_waits(projects, demo):
    number = start(projects, demo)
    with pytest.raises(ConnectionError, match="still starting"):
        Keeper(projects, Jobs(Path())).look()
    assert state_of(projects, demo, number)["status"] == "waiting"
    with projects.database.session() as session:
        kept = orjson.dumps({"ips": [], "starts": 0}).decode()
        session.execute(sa.update(m.Job).where(m.Job.id == number).values(status="failed", state=kept))


def test_a_job_that_is_claimed_while_it_is_looked_at_is_looked_at_all_the_same(projects, demo):
    number = start(projects, demo)
    engine, statements = projects.database.engine, []

    @sa.event.listens_for(engine, "before_cursor_execute")
    def claimed(_connection, _cursor, statement, *_):
        # The first statement has read the job's row as waiting; a worker takes it before the next one.
        statements.append(statement)
        if len(statements) == 2:
            with projects.database.session() as other:
                assert rows.claim(other, number) is not None

    try:
        found = state_of(projects, demo, number)
    finally:
        sa.event.remove(engine, "before_cursor_execute", claimed)
    assert (found["status"], found["ahead"]) == ("waiting", 0)
    assert state_of(projects, demo, number)["status"] == "running"
    with projects.database.session() as session:
        session.execute(sa.update(m.Job).where(m.Job.id == number).values(status="failed"))


def test_many_searches_of_one_project_are_refused_and_stop_nobody_elses(projects, demo, tmp_path):
    others = [load(projects, tmp_path, lambda _: None) for _ in range(2)]
    workers = Workers()
    keeper = Keeper(projects, workers)
    mine = [jobs.start(projects, others[0], "search", 5, "line-1") for _ in range(rows.MOST_OF_ONE)]
    with pytest.raises(QueueFull, match="3 jobs of this project wait or run already"):
        jobs.start(projects, others[0], "search", 5, "line-1")
    theirs = jobs.start(projects, others[1], "search", 5, "line-1")
    places = [jobs.status(projects, others[0], "search", n)["ahead"] for n in mine]
    with projects.database.session() as session:
        order = [n for n in rows.waiting(session) if n in (*mine, theirs)]
    assert order == [mine[0], theirs, *mine[1:]]
    assert places == sorted(places) and jobs.status(projects, others[1], "search", theirs)["ahead"] == places[0] + 1
    keeper.look()
    # Only what comes next is in the workers' hands; the rest keeps its order.
    assert len(workers.given) == 2 and mine[2] not in workers.given
    with projects.database.session() as session:
        session.execute(sa.update(m.Job).where(m.Job.id.in_([*mine, theirs])).values(status="failed"))
