"""Lines made, named and taken out of the program; what is drawn before there is any."""

import io
from dataclasses import replace

import openpyxl
import pytest

from delgrun.core.controls.controls import LevelControl, LevelControls
from delgrun.core.first_line.wishes import Depths
from delgrun.core.gradeline.ip import IpNumber
from delgrun.core.gradeline.many_ips import CurvesByLimits
from delgrun.core.inputs import CONTROLS, LIMITS, RANGES
from delgrun.core.limits.ranges import LimitRange, LimitRanges
from delgrun.service import lines, profiles, summary, tables
from delgrun.service.errors import DesignInputError, NotReady
from delgrun.service.projects import Saving
from delgrun.service.state import MAIN_ROAD
from delgrun.service.wire import as_json


def test_names_of_a_road_are_each_one_lines_own(projects, own):
    base, slot, _ = lines.fitted(projects, Saving(project_id=own, base=5), "first", MAIN_ROAD, Depths())
    base, other, _ = lines.fitted(projects, Saving(project_id=own, base=base), "first", MAIN_ROAD, Depths())
    base, third = lines.copy(projects, Saving(project_id=own, base=base), slot, "first")
    assert [projects.states.at(own, base).line(s).name for s in (slot, other, third)] == ["first", "first 2", "first 3"]
    with pytest.raises(DesignInputError, match="Another line is called “first 2”"):
        lines.rename(projects, Saving(project_id=own, base=base), slot, "first 2")
    base = lines.rename(projects, Saving(project_id=own, base=base), slot, "../up\\and:away")
    # Files say which project, road, line and revision they are of, and lie in no other folder.
    name, _, _ = tables.file(projects, own, base, "levels", tables.TableWish(slot=slot), "csv")
    assert name == f"own - main road - .._up_and_away - levels - r{base}.csv"
    with pytest.raises(NotReady, match="made later, or taken away before"):
        projects.states.at(own, 5).line(slot)


def test_the_checkers_workbook_has_all_that_the_sheet_has(projects, own):
    village = LimitRanges(rows=(LimitRange(from_m=2000, to_m=2400, max_grade=0.07, words="village"),))
    creek = LevelControl(
        words="creek", reason="flood of 1998", from_m=2700.0, to_m=2700.0, bound="above", level_m=170.0
    )
    base = projects.save(Saving(project_id=own, base=5), "r", {RANGES.name: village})
    base = projects.save(Saving(project_id=own, base=base), "c", {CONTROLS.name: LevelControls(rows=(creek,))})
    sheet = summary.of_line(projects, own, base, "line-1", "metric")
    _, _, data = tables.file(projects, own, base, "checks", tables.TableWish(slot="line-1"), "xlsx")
    book = openpyxl.load_workbook(io.BytesIO(data))
    assert book.sheetnames == ["checks", "level controls", "IPs", "bends", "ranges", "values and sources"]
    found = {name: list(book[name].iter_rows(values_only=True)) for name in book.sheetnames}
    assert [row[0] for row in found["checks"][1:]] == [row["name"] for row in sheet["checks"]]
    assert "Sight past bends" in {row[0] for row in found["checks"]}
    assert [(row[0], row[1]) for row in found["level controls"][1:]] == [
        (c["what"], c["reason"] or None) for c in sheet["controls"]
    ]
    assert [row[3] for row in found["values and sources"][1:]] == [row["source"] for row in sheet["values"]]
    for table in sheet["tables"]:
        assert [row[0] for row in found[table["title"]][1:]] == [row[0] for row in table["rows"]] and table["rows"]
    assert found["ranges"][1][3:] == ("village", "steepest grade 7 %")
    assert "too tight for 70 km/h" in str([row[-1] for row in found["bends"]])


def test_nobody_has_set_what_every_project_begins_with(projects, own):
    limits = projects.states.at(own, 5).get(LIMITS)
    base = projects.save(Saving(project_id=own, base=5), "d", {LIMITS.name: replace(limits, drive_on="left")})
    rows = {r["name"]: r["source"] for r in summary.of_line(projects, own, base, "line-1", "metric")["values"]}
    assert rows["drive on the"] == "set in this project" and rows["speed of bends"] == "as every project begins"


def test_curves_that_keep_what_the_limits_ask_follow_them_in_the_same_step(projects, own):
    """The curves are as long as ranges ask when these are saved; undo takes back both, and final lines stay."""
    to = Saving(project_id=own, base=5)
    line = projects.states.at(own, 5).line("line-1").line
    inner = tuple(IpNumber(ip=i) for i in range(1, len(line.ips) - 1))
    edit = CurvesByLimits(ips=inner, kind="limits", follow=True)
    base, _, _ = lines.apply(projects, to, "line-1", edit)
    before = projects.states.at(own, base).line("line-1").line
    crests = [(abs(before.k(i) - 17), i) for i in range(1, len(line.ips) - 1) if before.change_of_grade(i) < 0]
    sharp = min(crests)[1]
    at, k = before.chainage_m[sharp], before.k(sharp)
    base, final = lines.copy(projects, replace(to, base=base), "line-1", "final one")
    base = lines.set_status(projects, replace(to, base=base), final, "final")
    milder = LimitRanges(rows=(LimitRange(from_m=at - 5, to_m=at + 5, min_crest_k_m_per_pct=k + 2),))
    base = projects.save(replace(to, base=base), "r", {RANGES.name: milder})
    state = projects.states.at(own, base)
    after = state.line("line-1").line
    assert after.ips[sharp].held == "limits" and after.k(sharp) == pytest.approx(k + 2, abs=0.01)
    assert state.line(final).line == before
    # Its neighbours may have less room.
    assert {i for i in range(len(after.ips)) if after.ips[i] != before.ips[i]} <= {sharp - 1, sharp, sharp + 1}
    base = projects.turn(replace(to, base=base), "undo")
    state = projects.states.at(own, base)
    assert state.line("line-1").line == before and state.get(RANGES).rows == ()


def test_before_there_is_a_line_controls_and_the_ground_across_are_there(projects, own):
    creek = LevelControl(words="creek", from_m=600.0, to_m=700.0, bound="above", level_m=170.0)
    base = projects.save(Saving(project_id=own, base=5), "c", {CONTROLS.name: LevelControls(rows=(creek,))})
    base = lines.delete(projects, Saving(project_id=own, base=base), "line-1")
    found = as_json(projects.figures(own, base, ["utilities", "controls", "section"], at_m=650.0))
    (band,) = found["products"]["controls"]
    assert band["what"] == "creek" and band["slack_m"] is None and set(found["arrays"]["band_low"]) == {170.0}
    section = found["products"]["section"]
    strokes = [stroke["role"] for stroke in section["drawing"]["strokes"]]
    assert strokes == ["ground"] and not section["on_road"] and section["lacks"] == ""


def test_a_profile_in_stations_of_a_hundred_says_that_it_takes_feet_and_is_told_otherwise(projects, own):
    text = b"station,level\n0+00,100\n10+00,110\n20+00,104\n"
    read = profiles.read(projects, own, 5, "old.csv", text, profiles.ProfileWish())
    assert (read.unit, read.why) == ("foot", "stations as 12+00 are of hundreds of feet")
    assert read.made.ips[1]["level_m"] == pytest.approx(110 * 0.3048)
    told = profiles.read(projects, own, 5, "old.csv", text, profiles.ProfileWish(unit="metre"))
    assert told.unit == "metre" and told.made.ips[1]["level_m"] == pytest.approx(110.0)
