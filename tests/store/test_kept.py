"""What is kept stays kept: exact numbers, checksums, conflicts, undo and redo, and kill -9 in the middle."""

import os
import signal
import threading
import time
from dataclasses import dataclass, replace

import numpy as np
import pytest
import sqlalchemy as sa
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core import inputs as core_inputs
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.fields import meant
from delgrun.core.gradeline.grade_line import LineDesign
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.limit_set import default_limits
from delgrun.core.section.roadside import Works
from delgrun.core.survey.points import Survey
from delgrun.ops.private_database import PrivateDatabase
from delgrun.service.projects import Projects, Saving
from delgrun.store import grow, inputs, models, revisions
from delgrun.store import points_blob as blob
from delgrun.store.database import Database
from delgrun.store.points_blob import pack_columns, unpack_columns
from kills import ROUNDS
from laws import examples


def on(pid: int, base: int) -> Saving:
    return Saving(project_id=pid, base=base)


COST = CostModel(currency="EUR", cut_per_m3=1.0, fill_per_m3=2.0, haul_per_m3_m=0.001, borrow_per_m3=3.0,
                 spoil_per_m3=4.0, compacted_per_bank=0.9)  # fmt: skip


def stored_of(survey: Survey) -> inputs.SurveyInput:
    digest = blob.checksum(b"")
    counts = {"point_count": len(survey.xyz), "breakline_count": len(survey.breaklines), "left_out": 0}
    return inputs.SurveyInput(survey=survey, summary=b"{}", file_name="f", file_sha256=digest, **counts)


def test_ten_thousand_doubles_come_back_to_the_last_bit(projects):
    rng = np.random.default_rng(1)
    values = np.concatenate([rng.normal(0, 1, 5000) * 10.0 ** rng.integers(-12, 12, 5000), rng.uniform(0, 1e6, 5000)])
    survey = Survey(np.column_stack([values, values[::-1], np.round(values, 3)]), [np.array([0, 5, 7])],
                    np.array([str(i) for i in range(10_000)]), np.full(10_000, "GR"))  # fmt: skip
    with projects.database.session() as session:
        pid = revisions.create_project(session, "doubles")
        stored = stored_of(survey)
        vid = inputs.write(session, pid, stored)
        some = np.clip(values[:200], -1e6, 1e6).tolist()
        ips = tuple(Ip(chainage_m=v, level_m=-v, curve_length_m=abs(v)) for v in some)
        line = inputs.write(session, pid, LineDesign(name="n", colour=0, ips=ips))
    with projects.database.session() as session:
        back = inputs.read_survey(session, vid)
        kept = inputs.read(session, line, "line")
    assert (back.xyz == survey.xyz).all() and back.breaklines[0].tolist() == [0, 5, 7]
    assert back.name[-1] == "9999" and kept.ips == ips


@given(st.lists(st.tuples(*[st.floats(allow_nan=False, allow_infinity=False)] * 3), min_size=1, max_size=40))
def test_packed_columns_are_exact(rows):
    values = np.array(rows)
    assert (unpack_columns(pack_columns(values)) == values).all()


def test_a_damaged_piece_is_noticed(projects):
    survey = Survey(np.arange(9.0).reshape(3, 3), [], np.array(["1", "2", "3"]), np.array(["", "", ""]))
    with projects.database.session() as session:
        pid = revisions.create_project(session, "damaged")
        stored = stored_of(survey)
        vid = inputs.write(session, pid, stored)
        session.execute(
            sa.update(models.SurveyChunk)
            .where(models.SurveyChunk.version_id == vid)
            .values(data=pack_columns(survey.xyz + 1))
        )
    with projects.database.session() as session, pytest.raises(ValueError, match="does not match its checksum"):
        inputs.read_survey(session, vid)


def test_the_later_save_is_told_and_nothing_is_overwritten(projects):
    pid = projects.create("two tabs")
    assert projects.save(on(pid, 1), "first tab", {"cost": COST}) == 2
    with pytest.raises(revisions.RevisionConflict) as told:
        projects.save(on(pid, 1), "second tab", {"cost": replace(COST, cut_per_m3=9.0)})
    assert told.value.head.label == "first tab"
    state = projects.states.newest(pid)
    assert state.revision == 2 and state.cost == COST


def test_saves_at_the_same_moment_are_one_and_a_conflict(projects):
    pid = projects.create("race")
    results: list[object] = []

    def save(k: int) -> None:
        try:
            results.append(projects.save(on(pid, 1), f"tab {k}", {"cost": replace(COST, cut_per_m3=float(k))}))
        except revisions.RevisionConflict as e:
            results.append(e)

    threads = [threading.Thread(target=save, args=(k,)) for k in range(8)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert sorted(map(str, results)).count("2") == 1 and len(results) == 8


@settings(max_examples=examples(25))
@given(st.lists(st.sampled_from(["edit", "undo", "redo"]), max_size=16))
def test_undo_and_redo_walk_a_history_like_a_list_of_states(projects, moves):
    # The slow twin: states in a list, a pointer into it.
    pid = projects.create("walk")
    states, at, base = [0.0], 0, 1
    projects.save(on(pid, base), "0", {"cost": replace(COST, cut_per_m3=0.0)})
    base = 2
    for number, move in enumerate(moves, start=1):
        if move == "edit":
            base = projects.save(on(pid, base), str(number), {"cost": replace(COST, cut_per_m3=float(number))})
            states = [*states[: at + 1], float(number)]
            at += 1
        elif move == "undo" and at > 0:
            base = projects.turn(on(pid, base), "undo")
            at -= 1
        elif move == "redo":
            before, base = base, projects.turn(on(pid, base), "redo")
            assert (base > before) == (at + 1 < len(states))
            at += base > before
        assert projects.states.newest(pid).cost.cut_per_m3 == states[at]
        history = projects.opened(pid)["history"]
        assert history["redo"] == (f"{states[at + 1]:g}" if at + 1 < len(states) else None)


def test_a_change_sent_twice_is_saved_once(projects):
    """The answer to a save was lost; the page sends the same again."""
    pid = projects.create("twice")
    to = Saving(project_id=pid, base=1, token="one-change")
    assert projects.save(to, "mine", {"cost": COST}) == projects.save(to, "mine", {"cost": COST}) == 2
    with pytest.raises(revisions.RevisionConflict):
        projects.save(Saving(project_id=pid, base=1, token="another-change"), "other", {"cost": COST})
    back = Saving(project_id=pid, base=2, token="back-again")
    assert projects.turn(back, "undo") == projects.turn(back, "undo") == 3


def test_fields_and_kinds_of_a_newer_version_are_added_and_old_rows_read(projects):
    """What `grow` does to a database of an earlier version: here one without two columns and a bound."""
    pid = projects.create("older")
    with projects.database.engine.begin() as c:
        c.execute(sa.text("ALTER TABLE works_version DROP CONSTRAINT ck_works_version_topsoil_depth_m"))
        c.execute(sa.text("ALTER TABLE works_version DROP COLUMN topsoil_depth_m"))
        c.execute(sa.text("ALTER TABLE limits_version DROP CONSTRAINT ck_limits_version_end_grade"))
        c.execute(sa.text("ALTER TABLE limits_version DROP COLUMN end_grade"))
    projects.database.migrate()
    again = Projects(Database(projects.database.url))
    assert again.states.newest(pid).works.topsoil_depth_m == 0.15
    assert again.states.newest(pid).limits.end_grade is None
    with projects.database.session() as session, pytest.raises(sa.exc.DBAPIError, match="CONSTRAINT"):
        inputs.write(session, pid, Works(topsoil_depth_m=5.0))


@dataclass(frozen=True, kw_only=True)
class Gate:
    at_m: float = meant("length", "at", first=0.0)


@dataclass(frozen=True, kw_only=True)
class Fence:
    name: str = meant("text", "name", first="")
    gates: tuple[Gate, ...] = meant("rows", "gates", of=Gate, first=())
    gaps: tuple[Gate, ...] = meant("rows", "gaps", of=Gate, first=())


def test_a_kind_may_have_several_lists_of_rows(projects, monkeypatch):
    rows = {"gates": "fence_gate", "gaps": "fence_gap"}
    kind = core_inputs.InputKind(name="fence", table="fence_version", cls=Fence, label="Fence", rows=rows)
    kinds = (*core_inputs.KINDS, kind)
    monkeypatch.setattr(core_inputs, "KINDS", kinds)
    monkeypatch.setattr(grow, "KINDS", kinds)
    monkeypatch.setitem(inputs._BY_NAME, kind.name, kind)
    head, lists = models.tables_of(kind)
    monkeypatch.setitem(models.TABLES, kind.name, (head, lists))
    try:
        grow.grow(projects.database.engine)
        pid = projects.create("fences")
        fences = [
            Fence(name="a", gates=(Gate(at_m=3.0), Gate(at_m=1.0)), gaps=(Gate(at_m=7.0),)),
            Fence(name="b", gaps=(Gate(at_m=2.0), Gate(at_m=2.0))),
        ]
        with projects.database.session() as session:
            versions = [inputs.write(session, pid, fence) for fence in fences]
        with projects.database.session() as session:
            assert [inputs.read(session, version, "fence") for version in versions] == fences
            assert inputs.read_many(session, versions, "fence") == dict(zip(versions, fences, strict=True))
    finally:
        for table in (*lists.values(), head):
            table.drop(projects.database.engine)
            models.Base.metadata.remove(table)


def rows_read(session) -> int:
    rows = session.execute(sa.text("SHOW SESSION STATUS LIKE 'Handler_read%'")).all()
    return sum(int(v) for _, v in rows)


def test_opening_costs_the_same_whatever_the_length_of_the_history(projects):
    """By the rows the database reads, not by the clock."""
    pid = projects.create("long")
    read = []
    for upto in (20, 400):
        while (base := projects.states.newest(pid).revision) < upto:
            projects.save(on(pid, base), "c", {"cost": replace(COST, cut_per_m3=float(base))})
        with projects.database.session() as session:
            before = rows_read(session)
            revisions.slots_at(session, pid, upto)
            revisions.history(session, pid)
            read.append(rows_read(session) - before - min(upto, revisions.LISTED))
    assert read[1] <= read[0] + 10


def test_undo_and_redo_reach_back_over_kinds_of_input(projects):
    pid = projects.create("undo")
    first = projects.states.newest(pid).limits
    projects.save(on(pid, 1), "limits", {"limits": default_limits(90)})
    projects.save(on(pid, 2), "cost", {"cost": COST})
    for base in (3, 4):
        projects.turn(on(pid, base), "undo")
    # A program started anew reads the same.
    again = Projects(Database(projects.database.url))
    assert again.states.newest(pid).limits == first
    assert again.opened(pid)["history"]["redo"] == "limits"
    again.turn(on(pid, 5), "redo")
    assert again.states.newest(pid).limits == default_limits(90)


def test_kill_9_of_the_database_in_a_stream_of_saves_loses_nothing_acknowledged(tmp_path_factory):
    """Again and again: every acknowledged revision is there, whole, and none is there by half."""
    folder = tmp_path_factory.mktemp("killed")
    for parent in folder.parents[:3]:
        parent.chmod(parent.stat().st_mode | 0o011)
    folder.chmod(0o755)
    server = PrivateDatabase(folder)
    server.start()
    try:
        projects = Projects.at(server.url)
        projects.database.migrate()
        pid = projects.create("killed")
        rng = np.random.default_rng(0)

        def save(after: int) -> int:
            # Two slots at once: half a revision would show.
            value = float(after + 1)
            limits = replace(default_limits(70), min_curve_length_m=value)
            return projects.save(
                on(pid, after), str(value), {"cost": replace(COST, cut_per_m3=value), "limits": limits}
            )

        # The first one apart: on a slow machine a round may end before its first save.
        head = save(1)
        for _ in range(ROUNDS):
            acknowledged = head
            stop_at = time.monotonic() + rng.uniform(0.05, 0.25)
            killer = threading.Timer(stop_at - time.monotonic(), lambda: os.kill(server.pid, signal.SIGKILL))
            killer.start()
            while True:
                try:
                    acknowledged = save(acknowledged)
                except sa.exc.DBAPIError:
                    break
            killer.join()
            while not server.restart_if_dead():
                time.sleep(0.02)
            state = Projects.at(server.url).states.newest(pid)
            # One save may have been committed without the answer having come through.
            assert acknowledged <= state.revision <= acknowledged + 1
            assert state.cost.cut_per_m3 == state.limits.min_curve_length_m == float(state.revision)
            head = state.revision
        assert head > ROUNDS
    finally:
        server.stop()
