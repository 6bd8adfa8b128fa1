"""Several centrelines in a project: each with its own lines and followers, and levels handed over at junctions."""

from dataclasses import replace
from functools import partial
from pathlib import Path

import numpy as np
import pytest

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.ip import Ip
from delgrun.core.inputs import EQUATIONS, NOTES
from delgrun.core.notes.notes import Note, Notes
from delgrun.core.units import said, spoken
from delgrun.jobs.client import Jobs
from delgrun.service import centrelines, lines, tables
from delgrun.service.jobs import Keeper
from delgrun.service.projects import Saving
from delgrun.service.results import of_checks, of_limits, of_road
from delgrun.service.wire import as_json
from delgrun.store import revisions
from delgrun.web.app import create_app


@pytest.fixture
def two(projects, own):
    """The demo with a side road that begins on its main road at 1+000 and runs 300 m away from it, uphill side."""
    pid = own
    base = projects.states.newest(pid).revision

    def on(revision: int) -> Saving:
        return Saving(project_id=pid, base=revision)

    state = projects.states.newest(pid)
    main = of_road.centreline(projects.case(state)).value
    at = main.line.at(np.array([1000.0]))
    e, n, heading = at.easting_m[0], at.northing_m[0], at.direction[0]
    ips = [
        {"easting_m": float(e), "northing_m": float(n)},
        {"easting_m": float(e - 45 * np.sin(heading)), "northing_m": float(n + 45 * np.cos(heading))},
    ]
    row = {"name": "to the farm", "start_meets": "line-1", "ips": ips}
    base, road, gone = centrelines.save(projects, on(base), row, road=None)
    assert (road, gone) == ("centreline-2", [])
    return pid, on, base


def test_a_side_road_takes_its_level_from_the_road_it_begins_on(projects, two):
    pid, on, base = two
    base, slot = lines.straight_line(projects, on(base), "farm", "centreline-2")
    state = projects.states.newest(pid)
    main = state.line("line-1").line
    level = float(main.levels(np.array([1000.0]))[0])
    assert state.line(slot).line.ips[0].level_m == pytest.approx(level, abs=5e-4)
    assert of_limits.limits(projects.case_of(state, slot)).value.start_level_m == pytest.approx(level, abs=5e-4)
    # The main road's typed tie-ins are its own: the farm's end is free.
    assert of_limits.limits(projects.case(state)).value.end_level_m is not None
    assert of_limits.limits(projects.case_of(state, slot)).value.end_level_m is None
    # Lifted there, the side road's tie-in fails by as much, and says so.
    lifted = [{**vars(ip), "level_m": ip.level_m + 1.5} for ip in main.ips]
    row = projects.opened(pid)["lines"][0]
    assert row["road"] == "centreline"
    with projects.database.session() as session:
        design = replace(state.line("line-1"), ips=tuple(Ip(**ip) for ip in lifted))
        revisions.save(session, pid, base, "", "lift", {"line-1": design})
    found = of_checks.uses(projects.case_of(projects.states.newest(pid), slot))
    assert [round(u.value - u.limit, 3) for u in found if u.check == "tie_in_level"] == [-1.5]


def test_off_the_crown_the_crossfall_counts_and_off_the_road_it_is_refused(projects, two):
    pid, on, base = two
    state = projects.states.newest(pid)
    main = of_road.centreline(projects.case(state)).value
    at = main.line.at(np.array([1000.0]))
    e, n, heading = at.easting_m[0], at.northing_m[0], at.direction[0]

    def ips(aside: float) -> list[dict]:
        return [
            {"easting_m": float(e - r * np.sin(heading)), "northing_m": float(n + r * np.cos(heading))}
            for r in (aside, 45.0)
        ]

    # 2.5 m beside the crown a lane of 3 % lies 75 mm lower.
    base, _, _ = centrelines.save(projects, on(base), {"ips": ips(2.5)}, road="centreline-2")
    level = float(state.line("line-1").line.levels(np.array([1000.0]))[0])
    limits = of_limits.limits(projects.case(projects.states.newest(pid), road="centreline-2")).value
    assert limits.start_level_m == pytest.approx(level - 0.075, abs=1e-3)
    with pytest.raises(DesignInputError, match=r"start lies 9.00 m from the centreline of “main road”"):
        centrelines.save(projects, on(base), {"ips": ips(9.0)}, road="centreline-2")
    with pytest.raises(DesignInputError, match="another road only"):
        centrelines.save(projects, on(base), {"start_meets": "line-1"}, road="centreline")


def test_a_side_road_takes_the_grade_too_where_that_is_wished(projects, two):
    pid, on, base = two
    base, _, _ = centrelines.save(projects, on(base), {"start_takes_grade": True}, road="centreline-2")
    limits = of_limits.limits(projects.case(projects.states.newest(pid), road="centreline-2")).value
    # It leaves at a right angle: down the lane's 3 %, whatever the main road's grade.
    assert limits.start_grade == pytest.approx(-0.03, abs=1e-6) and limits.end_grade is None
    # Turned by 45 degrees it takes part of both.
    state = projects.states.newest(pid)
    main, line = of_road.centreline(projects.case(state)).value, state.line("line-1").line
    at = main.line.at(np.array([1000.0]))
    e, n, way = at.easting_m[0], at.northing_m[0], at.direction[0] + np.pi / 4
    ips = [{"easting_m": float(e + r * np.cos(way)), "northing_m": float(n + r * np.sin(way))} for r in (0.0, 45.0)]
    base, _, _ = centrelines.save(projects, on(base), {"ips": ips}, road="centreline-2")
    limits = of_limits.limits(projects.case(projects.states.newest(pid), road="centreline-2")).value
    grade = float(line.grades(np.array([1000.0]))[0])
    assert limits.start_grade == pytest.approx((grade - 0.03) * np.cos(np.pi / 4), abs=2e-4)


def test_only_what_belongs_to_a_road_follows_it_and_goes_with_it(projects, two):
    pid, on, base = two
    base, slot = lines.straight_line(projects, on(base), "farm", "centreline-2")
    notes = Notes(rows=(Note(chainage_m=20.0, words="gate", road="centreline-2"), Note(chainage_m=20.0, words="sign")))
    base = projects.save(on(base), "Notes", {NOTES.name: notes})
    before = projects.states.newest(pid)
    base, _, _ = centrelines.save(projects, on(base), {"start_chainage_m": 500.0}, road="centreline-2")
    state = projects.states.newest(pid)
    assert [r.chainage_m for r in state.get(NOTES).rows] == [520.0, 20.0]
    assert state.line("line-1") == before.line("line-1")
    assert state.line(slot).line.chainage_m[0] == pytest.approx(500.0)
    # Its name and its junction stay what they are where only the start is typed.
    assert (state.roads["centreline-2"].value.name, state.roads["centreline-2"].value.start_meets) == (
        "to the farm",
        "line-1",
    )
    with pytest.raises(DesignInputError, match="beside the main one"):
        centrelines.remove(projects, on(base), "centreline")
    base = centrelines.remove(projects, on(base), "centreline-2")
    assert [r.words for r in projects.states.newest(pid).get(NOTES).rows] == ["sign"]
    gone = projects.opened(pid)
    assert [c["name"] for c in gone["centrelines"]] == ["main road"] and [x["slot"] for x in gone["lines"]] == [
        "line-1"
    ]
    projects.turn(on(base), "undo")
    assert len(projects.opened(pid)["centrelines"]) == 2


def test_chainage_equations_are_saved_with_the_line_and_spoken_by(projects, two):
    pid, on, base = two
    ips = [vars(p) for p in projects.states.newest(pid).centreline.ips]
    row = {"ips": ips}
    base, _, _ = centrelines.save(projects, on(base), row, equations=[(2000.0, 12_000.0)])
    shown = tables.shown(projects, pid, base, "setting-out", tables.TableWish(interval_m=500.0, critical=False))
    assert [r[1] for r in shown["rows"]] == ["0+000.00", "0+500.00", "1+000.00", "1+500.00", "12+000.00", "12+500.00",
        "13+000.00", "13+500.00"]  # fmt: skip
    points = tables.shown(projects, pid, base, "points", tables.TableWish())["rows"]
    assert ["chainage equation, 2+000.00 back", "12+000.00", 2000.0] in [r[:3] for r in points]
    with spoken("kept"):
        found = as_json(projects.figures(pid, base, ["uses"], slot="line-1"))["products"]["uses"]["findings"]
    assert any("13+638.00" in said(f["sentence"], "metric", partial(projects.written, pid)) for f in found)
    # Moved, the line takes them along; the other road has none.
    base, _, _ = centrelines.save(projects, on(base), {"start_chainage_m": 100.0, **row})
    assert [(r.at_m, r.ahead_m) for r in projects.states.newest(pid).get(EQUATIONS).rows] == [(2100.0, 12_000.0)]


def test_each_road_is_spoken_of_by_its_own_equations_whoever_asks(projects, two):
    """What is refused, what undo is called, what has no place any more, the list of projects: none has to say whose."""
    pid, on, base = two
    base, slot = lines.straight_line(projects, on(base), "farm", "centreline-2")
    farm = projects.states.newest(pid).roads["centreline-2"].value
    ips = [vars(p) for p in farm.ips]
    base, _, _ = centrelines.save(projects, on(base), {"ips": ips}, road="centreline-2", equations=[(5.0, 700.0)])
    note = Note(chainage_m=40.0, words="gate", road="centreline-2")
    base = projects.save(on(base), "Notes", {NOTES.name: Notes(rows=(note,))})
    client = create_app(projects, Keeper(projects, Jobs(Path())), None).test_client()
    url = f"/api/projects/{pid}"

    def put(chainage: float, of: str) -> dict:
        edit = {"what": "add", "chainage_m": chainage, "level_m": 120.0}
        return client.post(f"{url}/lines/{of}/edits", json={"base": base, "edit": edit})

    refused = put(4000.0, slot).json["message"]
    assert refused.startswith("A new IP must lie between 0+000.00 and 0+740.00"), refused
    assert put(9000.0, "line-1").json["message"].startswith("A new IP must lie between 0+000.00 and 3+986")
    done = put(20.0, slot).json
    base = done["revision"]
    assert done["project"]["history"]["undo"] == "Add an IP at 0+715.00"
    assert [p["label"] for p in client.get("/api/projects").json["projects"] if p["id"] == pid] == [
        "Add an IP at 0+715.00"
    ]
    ends = [[p["easting_m"], p["northing_m"]] for p in ips]
    near = [(0.8 * np.array(ends[0]) + 0.2 * np.array(ends[1])).tolist(), ends[0]][::-1]
    rows = [{**ips[i], "easting_m": e, "northing_m": n} for i, (e, n) in enumerate(near)]
    body = {"base": base, "road": "centreline-2", "start_chainage_m": 0.0, "ips": rows}
    gone = client.put(f"{url}/centreline", json=body).json
    assert gone["fell_off"] == ["IP 1 of “farm” at 0+715.00", "“gate” at 0+735.00"], gone


def test_one_line_in_space_gives_a_centreline_and_its_grade_line_in_one_step(projects, own):
    """Vertices on a known road and its known levels, each 12 m: both come back, and one undo takes both away."""
    state = projects.states.at(own, 5)
    road, line = state.centreline.made(), state.line("line-1").line
    s = np.arange(road.start_chainage_m + 200, road.end_chainage_m - 200, 12.0)
    at = road.line.at(s)
    space = np.column_stack([at.easting_m, at.northing_m, line.levels(s)]).tolist()
    text = "easting,northing,level\n" + "\n".join(f"{e:.4f},{n:.4f},{z:.4f}" for e, n, z in space)
    found = centrelines.fit(projects, own, "old.csv", text.encode(), None)
    assert len(found["space"]) == len(s)
    row = {"ips": found["fitted"]["ips"], "name": "the old road"}
    base, slot, _ = centrelines.save(projects, Saving(project_id=own, base=5), row, road=None, space=found["space"])
    after = projects.states.at(own, base)
    ((made_slot, made),) = [(k, v) for k, v in after.lines.items() if v.road == slot]
    new = after.roads[slot].value.made()
    feet = new.line.nearest(at.easting_m, at.northing_m)
    assert np.abs(feet.offset_m).max() < 0.05
    inner = (feet.chainage_m > made.line.chainage_m[0] + 1) & (feet.chainage_m < made.line.chainage_m[-1] - 1)
    off = made.line.levels(feet.chainage_m[inner]) - line.levels(s[inner])
    assert np.abs(off).max() < 0.051 and len(made.ips) < 2 * len(line.ips)
    assert made_slot != "line-1"
    base = projects.turn(Saving(project_id=own, base=base), "undo")
    assert list(projects.states.at(own, base).lines) == ["line-1"]
