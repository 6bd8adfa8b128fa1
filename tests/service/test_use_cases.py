"""Use cases joined to the store: caches that follow their inputs, remedies, imports, searches, and the demo."""

import threading
import time

import numpy as np
import pytest

from delgrun.core.earthworks.evaluator import evaluate_line
from delgrun.core.errors import DesignInputError
from delgrun.core.limits.checks import limit_uses
from delgrun.demo import scenario
from delgrun.demo.load import CENTRELINE_FILE, SURVEY_FILE, write_files
from delgrun.jobs.client import Jobs
from delgrun.service import imports, live, searches, wire
from delgrun.service.errors import NotReady
from delgrun.service.state import Cache
from delgrun.store import models


def test_a_value_asked_for_by_many_at_once_is_made_once():
    made: list[int] = []
    cache = Cache(2)

    def slow() -> int:
        time.sleep(0.05)
        made.append(1)
        return 7

    got: list[int] = []
    threads = [threading.Thread(target=lambda: got.append(cache.get("k", slow))) for _ in range(8)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert got == [7] * 8 and len(made) == 1
    for key in "abc":
        cache.get(key, lambda: 0)
    cache.get("k", slow)
    assert len(made) == 2


def test_a_failed_value_is_tried_again():
    cache = Cache(2)

    def fails() -> int:
        raise ValueError("no")

    for _ in range(2):
        with pytest.raises(ValueError, match="no"):
            cache.get("k", fails)
    assert cache.get("k", lambda: 3) == 3


def test_terrain_is_met_again_only_when_what_it_is_made_of_changes(projects, demo):
    state = projects.states.newest(demo)
    terrain = projects.terrains.terrain(state)
    base = projects.save_cost(demo, state.revision, "", {**wire.cost_json(state.cost), "cut_per_m3": 7.0})
    assert projects.terrains.terrain(projects.states.newest(demo)) is terrain
    row = {**wire.section_json(state.section), "lane_width_m": 3.5}
    base = projects.save_section(demo, base, "", row)
    wider = projects.terrains.terrain(projects.states.newest(demo))
    assert wider is not terrain and projects.terrains.tin(state) is projects.terrains.tin(projects.states.newest(demo))
    for _ in range(2):
        base = projects.turn(demo, base, "", "undo")
    assert projects.terrains.terrain(projects.states.newest(demo)) is terrain


def test_each_remedy_mends_what_it_says_and_costs_what_it_says(projects, demo, demo_terrain):
    state = projects.states.newest(demo)
    line = state.line("line-1").line
    before = evaluate_line(demo_terrain.works, line, state.cost).ledger.cost
    offered = live.remedies(projects.terrains, state, line, 12)
    assert offered
    for remedy in offered:
        mended = live.apply_edit(state, line, remedy["edit"]).line
        assert not [u for u in limit_uses(mended, state.limits) if u.fails]
        change = evaluate_line(demo_terrain.works, mended, state.cost).ledger.cost - before
        assert remedy["cost_change"] == pytest.approx(change)
    assert live.remedies(projects.terrains, state, line, 0) == []
    # A sag with too little room for its curve is offered a lift.
    sharp = live.apply_edit(state, line, {"what": "length", "ip": 10, "curve_length_m": 355.0}).line
    labels = [r["label"] for r in live.remedies(projects.terrains, state, sharp, 10)]
    assert any(text.startswith("Lengthen the curve to 366 m") for text in labels)
    assert any(text.startswith("Lift this IP by") for text in labels)


def test_the_section_at_the_plumb_line_is_the_exact_one(projects, demo, demo_terrain):
    state = projects.states.newest(demo)
    line = state.line("line-1").line
    i = 123
    s = float(demo_terrain.works.chainage_m[i])
    shown = live.section_at(projects.terrains, state, demo_terrain, line, s)
    evaluation = evaluate_line(demo_terrain.works, line, state.cost)
    assert shown["cut_m2"] == pytest.approx(evaluation.cut_m2[i], abs=0.02)
    assert shown["fill_m2"] == pytest.approx(evaluation.fill_m2[i], abs=0.02)
    assert shown["road"][len(shown["road"]) // 2] == pytest.approx([0.0, shown["level_m"]])
    offsets = [p[0] for p in shown["formation"]]
    assert offsets == sorted(offsets) and offsets[0] == -offsets[-1] == -state.section.typical.half_width_m


def test_an_empty_project_names_the_step_to_do(projects):
    pid = projects.create("steps")
    with pytest.raises(NotReady) as told:
        projects.terrain(pid, 1)
    assert told.value.step == "survey"
    with pytest.raises(NotReady, match="no revision 9"):
        projects.states.at(pid, 9)


def test_new_copied_renamed_and_deleted_lines(projects, demo):
    state = projects.states.newest(demo)
    base, slot = projects.new_line(demo, state.revision, "", "straight")
    line = projects.states.newest(demo).lines[slot]
    z0, _, z1, _ = scenario.tie_ins()
    assert [ip.level_m for ip in line.line.ips] == [z0, z1]
    # Its colour is one that no other line has.
    assert line.colour not in {v.colour for k, v in projects.states.newest(demo).lines.items() if k != slot}
    base = projects.rename_line(demo, base, "", slot, "other name")
    assert projects.states.newest(demo).lines[slot].name == "other name"
    base = projects.delete_line(demo, base, "", slot)
    assert slot not in projects.states.newest(demo).lines
    base = projects.turn(demo, base, "", "undo")
    assert projects.states.newest(demo).lines[slot].name == "other name"
    for _ in range(2):
        base = projects.turn(demo, base, "", "undo")
    assert projects.states.newest(demo).lines.keys() == state.lines.keys()


def test_doubtful_surveys_are_pointed_out():
    rng = np.random.default_rng(0)
    rows = [f"{e:.2f},{n:.2f},{z:.2f}" for e, n, z in rng.uniform(0, 300, (400, 3)) / [1, 1, 60]]
    fine = imports.preview("\n".join(["e,n,z", *rows]).encode(), None)
    assert fine["doubts"] == [] and 10 <= fine["suggested_longest_edge_m"] <= 200
    spike = imports.preview("\n".join(["e,n,z", *rows, "150,150,999"]).encode(), None)
    assert spike["doubts"] == ["1 point lies far above or below the rest."]
    swapped = [f"{5 * i % 97:.1f},{z:.2f},{2000 + 7 * i:.1f}" for i, z in enumerate(rng.uniform(0, 5, 200))]
    assert "is the level column" in imports.preview("\n".join(["e,n,z", *swapped]).encode(), None)["doubts"][0]
    with pytest.raises(DesignInputError, match="empty"):
        imports.preview(b"\n \n", None)
    with pytest.raises(DesignInputError, match="no triangle is left"):
        imports.accepted("f", b"e,n,z\n0,0,0\n100,0,0\n0,100,0", None, 5.0)


def test_demo_files_are_the_same_each_time_and_natural(tmp_path):
    for name in ("one", "two"):
        write_files(tmp_path / name)
    for path in (tmp_path / "one").iterdir():
        assert path.read_bytes() == (tmp_path / "two" / path.name).read_bytes()
    lines = (tmp_path / "one" / SURVEY_FILE).read_text().splitlines()
    assert 18_000 < len(lines) < 22_000
    cells = [ln.split(",") for ln in lines[1:]]
    assert {c[4] for c in cells} == {"GR", "ER", "RC", "CT", "CB"}
    xyz = np.array([[float(v) for v in c[1:4]] for c in cells])
    on = np.array([c[4] == "GR" for c in cells])
    level = scenario.level(xyz[:, 0], xyz[:, 1])
    # Shots scatter by a centimetre or two about the true ground; strings are on it.
    assert 0.01 < (xyz[on, 2] - level[on]).std() < 0.02 and np.abs(xyz[~on, 2] - level[~on]).max() < 0.001
    assert len((tmp_path / "one" / CENTRELINE_FILE).read_text().splitlines()) == 9


class _InProcess(Jobs):
    """Runs a job at once, in this process: the worker's code without the cluster."""

    def submit(self, job_id: int, module: str, function: str, *args) -> None:
        self.seen = (module, function)

    def running(self, job_id: int) -> bool:
        return True


def test_a_search_job_keeps_progress_result_and_stop(projects, demo):
    jobs = _InProcess()
    revision = projects.states.newest(demo).revision
    number = searches.start(projects, jobs, demo, revision, "line-1")
    assert jobs.seen == ("delgrun.jobs.tasks", "run_search")
    assert searches.status(projects, jobs, demo, number)["status"] == "waiting"
    searches.run(projects, number)
    done = searches.status(projects, jobs, demo)
    assert done["status"] == "done" and done["share"] == 1.0
    assert done["result"]["gap"] == pytest.approx(
        done["result"]["offered"]["ledger"]["cost"] / done["lower_bound"] - 1, rel=1e-9
    )
    assert done["result"]["offered"]["ledger"]["failures"] == 0
    # Run again by mistake, it does nothing.
    searches.run(projects, number)
    stopped = searches.start(projects, jobs, demo, revision, "line-1")
    searches.stop(projects, demo, stopped)
    searches.run(projects, stopped)
    assert searches.status(projects, jobs, demo, stopped)["status"] == "stopped"
    assert searches.status(projects, jobs, demo + 999) is None


def test_a_search_without_its_worker_says_so_and_keeps_what_it_found(projects, demo):
    revision = projects.states.newest(demo).revision
    number = searches.start(projects, _InProcess(), demo, revision, "line-1")
    found = searches.status(projects, Jobs(), demo, number)
    assert found["status"] == "interrupted" and "start it again" in found["message"]


def test_an_impossible_search_fails_with_the_reason(projects, demo):
    state = projects.states.newest(demo)
    # 11 % on average, where 8 % is the steepest.
    far_up = {**wire.limits_json(state.limits), "end_level_m": 627.0}
    base = projects.save_limits(demo, state.revision, "", far_up)
    number = searches.start(projects, _InProcess(), demo, base, "line-1")
    searches.run(projects, number)
    failed = searches.status(projects, _InProcess(), demo, number)
    assert failed["status"] == "failed" and "No line can keep these limits" in failed["message"]
    base = projects.turn(demo, base, "", "undo")
    with pytest.raises(DesignInputError, match=r"tie-in at the start has -2\.50 %, steeper than the steepest"):
        projects.save_limits(demo, base, "", {**wire.limits_json(state.limits), "max_grade": 0.01})


def test_no_workers_is_told_and_no_job_hangs(projects, demo):
    revision = projects.states.newest(demo).revision
    number = searches.start(projects, Jobs(), demo, revision, "line-1")
    failed = searches.status(projects, Jobs(), demo, number)
    assert failed["status"] == "failed" and "workers are still starting" in failed["message"]


def test_the_schema_in_the_database_is_the_one_of_the_models(projects):
    """Migrations and models say the same, table by table and column by column."""
    from alembic.autogenerate import compare_metadata
    from alembic.migration import MigrationContext

    with projects.database.engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), models.Base.metadata) == []


def test_packed_answers_come_apart_again():
    header = {"a": [1, 2], "text": "ä"}
    arrays = {"x": np.arange(5.0), "y": np.array([np.nan, 1.0])}
    back = wire.as_json(wire.pack(header, arrays))
    assert back == {**header, "arrays": {"x": [0, 1, 2, 3, 4], "y": [None, 1.0]}}
