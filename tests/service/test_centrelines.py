"""A centreline before it is stored, and what leaves the program of it."""

import csv
import io

import numpy as np
import openpyxl
import orjson
import pytest

from copies import copy_of
from delgrun.core.centreline.superelevation import Superelevation
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.edit_kinds import SetCurve
from delgrun.core.inputs import ALONG, SECTION, STRATA, SUPERELEVATION
from delgrun.core.limits.checks import BY_ID
from delgrun.core.section.along import SectionsAlong
from delgrun.core.section.roadside import Strata
from delgrun.core.section.section import section_of
from delgrun.core.section.typical_section import plain_section
from delgrun.core.setting_out import places
from delgrun.service import centrelines, drafts, files, lines, tables
from delgrun.service.projects import Saving
from delgrun.service.results import of_checks, of_design, of_ground, of_road
from delgrun.service.wire import as_json


@pytest.fixture
def row(projects, demo) -> dict:
    """The demo's centreline as it is sent."""
    design = projects.states.at(demo, 5).centreline
    return {"start_chainage_m": 0.0, "ips": [vars(p) for p in design.ips]}


def draft(projects, demo, row, fit=False, beside=()) -> dict:
    return as_json(drafts.draft(projects, demo, 5, row, drafts.DraftWish(fit=fit, beside_m=tuple(beside))))


def changed(row: dict, **values) -> dict:
    """IP 4 of the line with other values."""
    return {**row, "ips": [{**ip, **values} if i == 3 else ip for i, ip in enumerate(row["ips"])]}


def test_a_draft_of_what_is_saved_has_the_ground_of_what_is_saved(projects, demo, demo_case, row):
    found = draft(projects, demo, row, beside=[-5.0, 0.0, 40.0])
    long = of_road.long(demo_case).value
    assert found["problem"] is None and found["remedies"] == []
    assert found["arrays"]["ground_chainage"] == pytest.approx(long.chainage_m, abs=1e-3)
    assert found["arrays"]["ground_level"] == pytest.approx(long.level_m, abs=1e-3)
    s = np.array(found["arrays"]["beside_chainage"])
    left, on, right = np.array(found["arrays"]["beside_level"], dtype=float).reshape(3, -1)
    # Each place beside the line against the ground across it there.
    for i in range(40, len(s), 97):
        across = places(
            of_road.centreline(demo_case).value,
            s[[i]],
            [""],
            [-5.0, 0.0, 40.0],
            of_ground.tin(demo_case).value,
            None,
            None,
        )
        assert [left[i], on[i], right[i]] == pytest.approx(across.ground_m.tolist(), abs=1e-3, nan_ok=True)
    assert [b["speed"]["ip"] for b in found["bends"]] == [b["bend"]["ip"] for b in found["bends"]] == [1, 2, 3, 4, 5, 6]


def test_a_draft_that_cant_be_says_why_and_each_remedy_makes_it_one(projects, demo, row):
    tight = changed(row, radius_m=400.0)
    found = draft(projects, demo, tight)
    assert "Between IPs 4 and 5" in found["problem"]["message"] and len(found["remedies"]) >= 2
    for remedy in found["remedies"]:
        ips = list(tight["ips"])
        for change in remedy["changes"]:
            ips[change["at"]] = change["ip"]
        assert draft(projects, demo, {**tight, "ips": ips})["problem"] is None, remedy["label"]
    fitted = draft(projects, demo, tight, fit=True)
    assert fitted["problem"] is None and fitted["misfits"][0]["ip"] == 3
    assert fitted["ips"][3]["radius_m"] < 400


def test_bends_by_the_rules_allow_the_design_speed(projects, demo, row):
    made = drafts.by_standard(projects, demo, 5, row)
    found = draft(projects, demo, {**row, "ips": made["ips"]})
    for bend in found["bends"]:
        if bend["bend"]["ip"] not in {m["ip"] for m in made["misfits"]}:
            assert bend["speed"]["allowed_kmh"] >= 70 - 1e-6 and not bend["speed"]["without"]


def test_setting_out_is_the_same_on_screen_as_text_and_in_a_workbook(projects, demo, demo_case):
    wish = tables.TableWish(interval_m=25.0, offset_m=(-3.0, 0.0, 70.0), slot="line-1")
    shown = tables.shown(projects, demo, 5, "setting-out", wish)
    name, mime, data = tables.file(projects, demo, 5, "setting-out", wish, "csv")
    assert mime == "text/csv; charset=utf-8" and name.endswith(" - setting-out - r5.csv")
    heading, *text = list(csv.reader(io.StringIO(data.decode())))
    assert heading == [c["heading"] for c in shown["columns"]] and len(text) == shown["count"]
    # On the clipboard each cell is one, whatever its words hold.
    _, _, tabs = tables.file(projects, demo, 5, "points", wish, "tsv")
    widths = {len(line.split("\t")) for line in tabs.decode().splitlines()}
    assert len(widths) == 1 and b"right, a high deflection" in tabs and b'"' not in tabs
    _, _, book = tables.file(projects, demo, 5, "setting-out", wish, "xlsx")
    sheet = openpyxl.load_workbook(io.BytesIO(book)).active
    cells = list(sheet.iter_rows(values_only=True))
    assert list(cells[0]) == heading and len(cells) == len(text) + 1
    case, line = of_road.centreline(demo_case).value, demo_case.line
    typical = of_design.design(demo_case).value
    for written, number, told in list(zip(text, cells[1:], shown["rows"], strict=False))[::17]:
        values = dict(zip(heading, number, strict=True))
        at = case.line.nearest(np.array([values["easting m"]]), np.array([values["northing m"]]))
        # The place is where chainage and offset say, by the search for the nearest point of the line.
        assert (at.chainage_m[0], at.offset_m[0]) == pytest.approx((values["chainage m"], values["offset m"]), abs=1e-6)
        ground = of_ground.tin(demo_case).value.level_at(
            np.array([values["easting m"]]), np.array([values["northing m"]])
        )[0]
        assert (values["ground m"] is None and np.isnan(ground)) or values["ground m"] == pytest.approx(
            ground, abs=1e-9
        )
        # Here as the road leans and widens there; the demo's batters begin beyond.
        profile = typical.built_at(values["chainage m"])[int(values["offset m"] > 0)][0]
        fall = np.interp(abs(values["offset m"]), *profile.surface.T, right=np.nan)
        design = line.levels(np.array([values["chainage m"]]))[0] + fall
        assert (values["design m"] is None and np.isnan(design)) or values["design m"] == pytest.approx(
            design, abs=1e-9
        )
        assert [c for c in told if isinstance(c, float)] == pytest.approx(
            [c for c in number if isinstance(c, float | int)]
        )
        assert float(written[heading.index("easting m")]) == pytest.approx(values["easting m"], abs=5e-4)
    # Each critical point once, and never twice within half a millimetre.
    chainages = [row[2] for row in cells[1:]][::3]
    assert (np.diff(chainages) > 5e-4).all()
    names = {row[0] for row in cells[1:]} - {None, ""}
    assert {
        "start of line",
        "end of line",
        "tangent to arc",
        "arc to tangent",
    } <= names
    # 194.90 m of an arc of 110 m.
    turn = np.degrees(194.902 / 110)
    assert f"middle of bend 3, turns {turn:.2f}° right, a high deflection" in names


def test_design_levels_beyond_the_road_are_those_of_its_batters(projects, demo):
    """Of a plain section, whose batters go from the formation's edge straight to the ground."""
    own = copy_of(projects, demo)
    plain = {
        SECTION.name: plain_section(),
        STRATA.name: Strata(),
        ALONG.name: SectionsAlong(),
        SUPERELEVATION.name: Superelevation(built=False, widened=False),
    }
    base = projects.save(Saving(project_id=own, base=5), "plain", plain)
    demo_case = projects.case_of(projects.states.at(own, base), "line-1")
    wish = tables.TableWish(interval_m=100.0, critical=False, offset_m=(-6.0, 4.0, 5.5, 40.0), slot="line-1")
    shown = tables.shown(projects, own, base, "setting-out", wish)
    at = {c["heading"]: k for k, c in enumerate(shown["columns"])}
    typical, seen = of_design.design(demo_case).value, set()
    across = of_design.across(demo_case).value
    for row in shown["rows"]:
        offset, design, ground = (row[at[k]] for k in ("offset m", "design m", "ground m"))
        i = int(np.argmin(np.abs(across.chainage_m - row[at["chainage m"]])))
        level = float(demo_case.line.levels(across.chainage_m[[i]])[0])
        section = section_of(typical, *across.one(i), level, float(across.chainage_m[i]))
        side = section.right if offset > 0 else section.left
        if abs(offset) > side.catch_offset_m + 1e-3:
            assert design is None or abs(offset) <= typical.built_at(0.0)[0][0].edge_m
            continue
        if abs(offset) <= typical.built_at(0.0)[0][0].edge_m:
            continue
        seen.add(side.in_cut)
        # The batter runs from the edge of the formation to the catch point, where it meets the ground.
        edge = level + typical.built_at(0.0)[0][0].variants[0].formation[-1, 1]
        share = (abs(offset) - typical.built_at(0.0)[0][0].edge_m) / (
            side.catch_offset_m - typical.built_at(0.0)[0][0].edge_m
        )
        assert design == pytest.approx(edge + share * (side.catch_level_m - edge), abs=2e-3)
        assert (design < ground + 0.2) if side.in_cut else (design > ground - 0.2)
    assert seen == {True, False}


def test_a_list_that_nobody_could_use_is_refused(projects, demo):
    with pytest.raises(DesignInputError, match="use a longer"):
        tables.shown(
            projects, demo, 5, "setting-out", tables.TableWish(interval_m=0.1, offset_m=(0.0, 1.0, 2.0, 3.0, 4.0, 5.0))
        )


def test_what_leaves_as_landxml_comes_back_the_same(projects, demo, row):
    name, _, data = files.file(projects, demo, 5, "centrelines")
    (line,) = centrelines.from_file(projects, demo, name, data)
    assert [tuple(vars(p).values())[:5] for p in line.ips] == [
        pytest.approx(tuple(ip.values())[:5], abs=1e-6) for ip in row["ips"]
    ]
    assert b"<ParaCurve" in data and line.deviation_m < 1e-6


def test_a_line_of_a_file_is_fitted_and_one_of_several_is_asked_for(projects, demo, demo_case):
    line = of_road.centreline(demo_case).value
    at = line.line.at(np.arange(0.0, line.length_m, 8.0))
    plan = np.column_stack([at.easting_m, at.northing_m]).round(3).tolist()
    one = {"type": "Feature", "properties": {"name": "track"}, "geometry": {"type": "LineString", "coordinates": plan}}
    found = centrelines.fit(projects, demo, "a.geojson", orjson.dumps(one), None)["fitted"]
    # What goes over the wire is what a centreline is made of.
    assert draft(projects, demo, {"start_chainage_m": 0.0, **orjson.loads(orjson.dumps({"ips": found["ips"]}))})[
        "length_m"
    ]
    assert (found["name"], len(found["ips"]), found["points"]) == ("track", 8, len(plan))
    assert [ip["radius_m"] for ip in found["ips"][1:-1]] == pytest.approx([450, 300, 110, 260, 500, 400], rel=2e-3)
    short = {**one, "properties": {"name": "short"}, "geometry": {"type": "LineString", "coordinates": plan[:50]}}
    both = orjson.dumps({"type": "FeatureCollection", "features": [short, one]})
    asked = centrelines.fit(projects, demo, "a.geojson", both, None)
    assert asked["fitted"] is None and [x["name"] for x in asked["lines"]] == ["track", "short"]
    assert centrelines.fit(projects, demo, "a.geojson", both, 1)["fitted"]["name"] == "short"
    with pytest.raises(DesignInputError, match="holds 2 lines"):
        centrelines.fit(projects, demo, "a.geojson", both, 2)


def test_the_grade_line_goes_along_with_a_draft_and_is_judged_there(projects, demo, demo_case, row, own):
    def found(row: dict, **wish) -> dict:
        return as_json(drafts.draft(projects, demo, 5, row, drafts.DraftWish(line="line-1", **wish)))

    same = found(row)
    at = np.array(same["arrays"]["line_chainage"])
    assert same["arrays"]["line_level"] == pytest.approx(demo_case.line.levels(at), abs=1e-3)
    said = [u for u in of_checks.uses(demo_case) if BY_ID[u.check].group == "coordination" and u.fails]
    assert [a["check"] for a in same["advice"]] == [u.check for u in said] and said
    # Saved, the moved line is advised what its draft was: in a project of its own.
    moved = changed(row, easting_m=row["ips"][3]["easting_m"] + 12.0)
    draft_of = found(moved, keeps="share")
    to = Saving(project_id=own, base=5)
    revision, _, _ = centrelines.save(projects, to, moved, "share")
    kept = projects.case_of(projects.states.at(own, revision), "line-1")
    said = [u for u in of_checks.uses(kept) if BY_ID[u.check].group == "coordination" and u.fails]
    assert [(a["check"], a["value"]) for a in draft_of["advice"]] == [(u.check, pytest.approx(u.value)) for u in said]


def test_a_kept_start_of_a_curve_goes_along_in_a_draft_too(projects, row, own):
    revision, _, _ = lines.apply(projects, Saving(project_id=own, base=5), "line-1", SetCurve(ip=1, held="start"))
    before = projects.states.at(own, revision).line("line-1").line
    on = {**row, "start_chainage_m": 100.0}
    found = as_json(drafts.draft(projects, own, revision, on, drafts.DraftWish(line="line-1")))["arrays"]
    at = np.array(found["line_chainage"])
    assert found["line_level"] == pytest.approx(before.levels(at - 100.0), abs=1e-3)


def test_a_line_of_few_vertices_may_be_taken_as_its_ips(projects, demo):
    """Also where nothing can be fitted to it."""
    four = b"easting,northing\n0,0\n300,20\n600,200\n900,200\n"
    found = centrelines.fit(projects, demo, "line.csv", four, None)
    assert found["fitted"] is None and found["refused"]
    assert [(v["easting_m"], v["northing_m"], v["radius_m"]) for v in found["vertices"]] == [
        (0, 0, 0), (300, 20, 0), (600, 200, 0), (900, 200, 0),
    ]  # fmt: skip
    arc = [(5 * k, 1000 - (1e6 - (5 * k) ** 2) ** 0.5) for k in range(80)]
    many = "\n".join(["easting,northing", *(f"{e},{n:.3f}" for e, n in arc)]).encode()
    found = centrelines.fit(projects, demo, "line.csv", many, None)
    assert found["vertices"] == [] and found["fitted"]["deviation_m"] < 0.1
