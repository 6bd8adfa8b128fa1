"""Level controls, utilities, clashes and the checker's summary through the use cases, on the demo's road."""

from dataclasses import replace

import numpy as np
import pytest

from delgrun.core.controls.controls import LevelControl, LevelControls
from delgrun.core.controls.utilities import Utilities, UtilityPoint
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import made_of
from delgrun.core.gradeline.edit_kinds import EDITS
from delgrun.core.inputs import CONTROLS, LIMITS, RANGES, UTILITIES
from delgrun.core.limits.ranges import LimitRange, LimitRanges
from delgrun.core.standards.standard import Wish
from delgrun.service import centrelines, lines, searches, standards, summary
from delgrun.service.check_figures import controls, mends, uses
from delgrun.service.projects import Saving
from delgrun.service.results import of_limits, of_road, of_works


def saved(projects, own: int, base: int, **inputs) -> int:
    return projects.save(Saving(project_id=own, base=base), "x", inputs)


def case_of(projects, own: int, revision: int, slot: str = "line-1"):
    return projects.case_of(projects.states.at(own, revision), slot)


def test_controls_over_ground_and_old_road_are_kept_told_and_mended(projects, own):
    base, old = lines.copy(projects, Saving(project_id=own, base=5), "line-1", "old road")
    rows = (
        LevelControl(words="cover", reason="frost", from_m=2000, to_m=2300, measured_from="ground", height_m=-9.0),
        LevelControl(words="overlay", from_m=500, to_m=600, measured_from="line", old_line=old, height_m=0.05),
        LevelControl(words="creek", from_m=2740, to_m=2840, level_m=180.4),
    )
    base = saved(projects, own, base, **{CONTROLS.name: LevelControls(rows=rows)})
    case = case_of(projects, own, base)
    found = {of.what: of for of in controls(case)[0]}
    # Against the ground looked up at every metre of the stretch.
    s = np.arange(2000.0, 2300.5, 1.0)
    ground = np.interp(s, of_road.long(case).value.chainage_m, of_road.long(case).value.level_m)
    assert found["cover"].slack_m == pytest.approx((case.line.levels(s) - ground).min() + 9.0, abs=0.02)
    assert found["overlay"].slack_m == pytest.approx(-0.05, abs=1e-9)
    assert {u.name for u in uses(case)[0].findings if u.bad == "fails"} >= {"Level control"}
    # What is offered for the creek is tried as the page would: it mends, and costs what it said.
    at = next(u.ip for u in uses(case)[0].findings if u.about == "creek")
    creek = next(r for r in mends(case)[0] if r.ip == at and "Lift" in r.label)
    edit = made_of(EDITS[creek.edit["what"]], {k: v for k, v in creek.edit.items() if k != "what"})
    after, _, _ = lines.apply(projects, Saving(project_id=own, base=base), "line-1", edit)
    now = case_of(projects, own, after)
    assert next(of.slack_m for of in controls(now)[0] if of.what == "creek") >= -0.001
    assert of_works.evaluation(now).ledger.cost - of_works.evaluation(case).ledger.cost == pytest.approx(
        creek.cost_change, abs=0.01
    )
    # A new start of the chainages takes them along; one whose line is gone can't be measured, and says so.
    row = {"start_chainage_m": 100.0, "ips": [vars(ip) for ip in now.state.centreline.ips]}
    moved, _, _ = centrelines.save(projects, Saving(project_id=own, base=after), row, "place")
    assert projects.states.at(own, moved).get(CONTROLS).rows[2].from_m == pytest.approx(2840.0)
    gone = lines.delete(projects, Saving(project_id=own, base=moved), old)
    says = [u.sentence for u in uses(case_of(projects, own, gone))[0].findings if u.check == "control_unmeasured"]
    assert len(says) == 1 and says[0].startswith("overlay: there is no ground, or no old road")


def test_what_no_line_keeps_is_told_at_once_and_starts_no_search(projects, own):
    rows = (
        LevelControl(words="creek", from_m=1000, to_m=1000, level_m=230.0),
        LevelControl(words="tunnel", from_m=1100, to_m=1100, bound="below", level_m=200.0),
    )
    base = saved(projects, own, 5, **{CONTROLS.name: LevelControls(rows=rows)})
    says = "“creek” at 1.000.00 and “tunnel” at 1.100.00 can't both be kept: 30.00 m"
    with pytest.raises(DesignInputError, match=says):
        searches.check(projects, own, base, "line-1", None)
    assert "tunnel" in summary.of_line(projects, own, base, "line-1", "metric")["clashes"][0]["sentence"]


def test_a_pipe_under_the_demo_and_the_summary_with_its_sources(projects, own):
    case = case_of(projects, own, 5)
    e, n, direction = (float(v[0]) for v in of_road.centreline(case).value.locate(np.array([1500.0])))
    level = float(case.line.levels(np.array([1500.0]))[0])
    ends = [(e + o * np.sin(direction), n - o * np.cos(direction)) for o in (-20.0, 20.0)]
    pipe = Utilities(
        rows=tuple(
            UtilityPoint(name="gas", least_m=0.9, easting_m=x, northing_m=y, level_m=level - 0.8) for x, y in ends
        )
    )
    limits = of_limits.limits(case).value
    changed = replace(
        limits,
        min_crest_k_m_per_pct=15.0,
        sources=tuple(
            replace(row, reason="agreed with the county") if row.name == "min_crest_k_m_per_pct" else row
            for row in limits.sources
        ),
    )
    ranges = LimitRanges(rows=(LimitRange(from_m=2000, to_m=2400, max_grade=0.07, words="village"),))
    base = saved(projects, own, 5, **{UTILITIES.name: pipe, LIMITS.name: changed, RANGES.name: ranges})
    made = summary.of_line(projects, own, base, "line-1", "metric")
    rows = {row["name"]: row for row in made["checks"]}
    # Here the road is in cut: beside the shoulder's edge, 0.13 m under the line, a drain goes down by 0.6 m: cover of
    # 0.07 m where 0.9 are asked.
    gas = next(c for c in made["controls"] if c["what"] == "gas")
    assert gas["slack_m"] == pytest.approx(0.8 - 0.13 - 0.6 - 0.9, abs=0.01)
    assert rows["Cover or headroom"]["verdict"] == "fails"
    assert rows["Crest K"]["verdict"] == "kept" and "agreed with the county" in rows["Crest K"]["source"]
    assert rows["Sag K"]["source"].endswith("2011 and later; from memory")
    assert rows["Steepest grade"]["verdict"] == "fails" and "village" in rows["Steepest grade"]["source"]
    values = {(row["name"], row["holds"]): row for row in made["values"]}
    assert values[("steepest grade", "2+000.00 to 2+400.00")]["value"] == "7 %"
    # Each value that is held against names where it comes from.
    assert all(row["source"] for row in made["values"]) and all(
        row["source"] for row in made["checks"] if row["verdict"] in ("fails", "kept") and row["limit"]
    )
    feet = summary.of_line(projects, own, base, "line-1", "us")
    assert next(r for r in feet["values"] if r["name"] == "shortest curve")["value"].endswith("ft")


def test_an_offices_own_set_is_kept_for_all_projects_replaced_and_taken_away(projects):
    database = projects.database
    id_ = standards.add(database, "County", "limit,value,source\nsteepest grade,7,County handbook\n")
    assert standards.add(database, "County", "limit,value,source\nsteepest grade,6,County handbook\n") == id_
    own = next(s for s in standards.all_of_them(database) if s["id"] == id_)
    assert own["own"] and own["source"] == "County handbook"
    (value,) = standards.offered(database, id_, Wish(design_speed_kmh=70))
    assert value["value"] == 0.06
    standards.remove(database, id_)
    with pytest.raises(DesignInputError, match="no set of limits"):
        standards.offered(database, id_, Wish(design_speed_kmh=70))
    with pytest.raises(DesignInputError, match="comes along with the program"):
        standards.add(database, "Reaction and friction", "limit,value\nsteepest grade,7\n")
    assert not any(s["name"] == "County" for s in standards.all_of_them(database))
