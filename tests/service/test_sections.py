"""Typical sections through the use cases: saved, built, drawn, kept for all projects, and what is told of them."""

import csv
import io
import zipfile
from dataclasses import asdict, replace

import numpy as np
import pytest

from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.errors import DesignInputError
from delgrun.core.inputs import RESERVE, SECTION, STRATA, WORKS
from delgrun.core.section.area_kernels import DUG, FILLED
from delgrun.core.section.roadside import Material, ReserveBounds, ReserveCorner, Strata, StratumDepth, Works
from delgrun.core.section.starting import STARTING
from delgrun.core.section.typical_section import Element, Layer, plain_section
from delgrun.core.units import chainage_text, spoken
from delgrun.service import centrelines, lines, sections, sheets, tables, uploads, utilities
from delgrun.service.errors import NotReady
from delgrun.service.importing import ImportWish, bring_in
from delgrun.service.projects import Saving
from delgrun.service.results import of_design, of_road, of_sections, of_works
from delgrun.service.sheets import SheetWish

FEET = 0.3048


def newest(projects, pid):
    return projects.states.newest(pid)


def on(projects, pid) -> Saving:
    return Saving(project_id=pid, base=newest(projects, pid).revision)


def row(section) -> dict:
    return asdict(section)


def test_a_project_has_several_sections_and_builds_the_one_that_is_chosen(projects, own):
    before = of_works.evaluation(projects.case_of(newest(projects, own), "line-1")).ledger
    wide = plain_section(lane_width_m=4.0, name="wide")
    sections.save(projects, on(projects, own), None, row(wide))
    state = newest(projects, own)
    assert list(state.sections) == ["section", "section-2", "section-3"] and state.sections["section-3"].value == wide
    # It is in the project, and nothing is built of it yet.
    assert of_works.evaluation(projects.case_of(state, "line-1")).ledger == before
    with pytest.raises(DesignInputError, match="already: give it another name"):
        sections.save(projects, on(projects, own), None, row(wide))
    projects.save(on(projects, own), "build", {WORKS.name: replace(state.works, section="section-3")})
    built = of_works.evaluation(projects.case_of(newest(projects, own), "line-1")).ledger
    assert {r.name for r in built.rows} >= {"pavement"} and built.cost != before.cost
    with pytest.raises(DesignInputError, match="choose another section before"):
        sections.remove(projects, on(projects, own), "section-3")
    # The village has a stretch of the road.
    with pytest.raises(DesignInputError, match="take that stretch away before it is deleted"):
        sections.remove(projects, on(projects, own), "section-2")
    sections.remove(projects, on(projects, own), "section")
    assert list(newest(projects, own).sections) == ["section-2", "section-3"]
    with pytest.raises(NotReady, match="not in the project any more"):
        sections.save(projects, on(projects, own), "section", row(wide))
    with pytest.raises(DesignInputError, match="choose another one"):
        projects.save(on(projects, own), "gone", {WORKS.name: Works(section="section")})
    # Undo goes back through all of it.
    for _ in range(3):
        projects.turn(on(projects, own), "undo")
    assert of_works.evaluation(projects.case_of(newest(projects, own), "line-1")).ledger == before


def test_what_is_kept_for_all_projects_is_taken_by_its_name_and_taken_away(projects, own):
    ours = replace(STARTING[2].section, name="ours")
    drain = Element(kind="drain", name="ditch", width_m=0.6)
    number = sections.keep(projects, own, "ours", "section", row(ours))
    sections.keep(projects, own, "ditch", "piece", row(replace(ours, elements=(drain,), layers=(), batters=())))
    kept = {(k["what"], k["name"]): k["section"] for k in sections.kept_for_all(projects)}
    assert kept["section", "ours"] == row(ours)
    assert [e["name"] for e in kept["piece", "ditch"]["elements"]] == ["ditch"]
    # The same name again is the same entry, with what it is now.
    again = sections.keep(projects, own, "ours", "section", row(plain_section()))
    now = {k["name"]: k["section"] for k in sections.kept_for_all(projects)}
    assert again == number and len(now["ours"]["elements"]) == 4
    with pytest.raises(DesignInputError, match="choose some"):
        sections.keep(projects, own, "nothing", "piece", row(replace(ours, elements=())))
    with pytest.raises(DesignInputError, match="begins with what is always built"):
        sections.keep(projects, own, "half", "section", row(replace(ours, elements=(drain,))))
    sections.forget(projects, number)
    assert "ours" not in {k["name"] for k in sections.kept_for_all(projects)}
    with pytest.raises(NotReady, match="any more"):
        sections.forget(projects, number)


def test_sections_to_begin_with_are_round_in_the_units_of_who_asks():
    lanes = {
        system: {s["id"]: s["section"]["elements"][0]["width_m"] for s in sections.starting(system)}
        for system in ("metric", "us")
    }
    assert lanes["metric"]["sealed"] == 3.0 and lanes["us"]["sealed"] == pytest.approx(10 * FEET)
    feet = np.array(list(lanes["us"].values())) / FEET
    assert feet * 2 == pytest.approx(np.round(feet * 2))


def test_a_section_is_drawn_as_it_would_be_built(projects, own):
    section = newest(projects, own).sections["section"].value
    revision = newest(projects, own).revision
    cut = sections.drawn(projects, own, revision, row(section), 2.0, 0.0)
    fill = sections.drawn(projects, own, revision, row(section), -2.0, 0.0)
    named = [[section.elements[e.row].name for e in drawn.elements] for drawn in (cut, fill)]
    assert named == [["lane", "shoulder", "drain"] * 2, ["lane", "shoulder"] * 2]
    # Corners join, outwards from the centreline, on both sides.
    for drawn in (cut, fill):
        for a, b in zip(drawn.elements, drawn.elements[1:], strict=False):
            assert b.corners[0] in (a.corners[-1], (0.0, 0.0))
    x0, _, x1, _ = cut.road_box
    assert (x0, x1) == pytest.approx((-5.6, 5.6)) and cut.box[0] < x0
    amounts = {a.id: a.amount for a in cut.columns}
    assert amounts["cut-0"] > 20 and "fill" not in {a.id for a in cut.columns if a.amount > 0.1}
    with pytest.raises(DesignInputError, match="is not there"):
        sections.drawn(projects, own, revision, row(replace(section, layers=(Layer(name="x", last="nowhere"),))), 0, 0)


def read(projects, pid, name, interval_m: float | None = 200.0) -> tuple[list[str], list[list[str]]]:
    wish = tables.TableWish(interval_m=interval_m, critical=False, slot="line-1")
    _, _, data = tables.file(projects, pid, newest(projects, pid).revision, name, wish, "csv")
    head, *rows = list(csv.reader(io.StringIO(data.decode())))
    return head, rows


def test_named_points_stand_where_their_offsets_say(projects, own):
    head, rows = read(projects, own, "named-points")
    at = {name: head.index(name) for name in ("point", "chainage m", "offset m", "level m", "easting m", "northing m")}
    case = projects.case_of(newest(projects, own), "line-1")
    line = of_road.centreline(case).value
    names = {r[at["point"]] for r in rows}
    assert names >= {"centreline", "lane", "shoulder", "drain", "drain bottom", "batter top", "batter toe"}
    e, n = (np.array([float(r[at[k]]) for r in rows]) for k in ("easting m", "northing m"))
    found = line.line.nearest(e, n)
    assert found.chainage_m == pytest.approx([float(r[at["chainage m"]]) for r in rows], abs=2e-3)
    assert found.offset_m == pytest.approx([float(r[at["offset m"]]) for r in rows], abs=2e-3)
    leans = 0
    for r in rows:
        if r[at["point"]] == "lane":
            same = next(c for c in rows if c[at["chainage m"]] == r[at["chainage m"]] and c[0] == "centreline")
            # Right before it: where a kerb stands the surface goes up there.
            s, offset = np.array([[float(r[at["chainage m"]])], [float(r[at["offset m"]]) * (1 - 3e-4)]])
            over = float(of_design.design(case).value.resolve(s).surface_m(offset)[0])
            assert float(r[at["level m"]]) == pytest.approx(float(same[at["level m"]]) + over, abs=2e-3)
            leans += over > -0.08
    assert leans


def test_tables_and_sheets_have_the_sections_that_are_reported_unless_others_are_asked_for(projects, own):
    case = projects.case_of(newest(projects, own), "line-1")
    reported = [r.chainage_m for r in of_sections.reported_at(case)]
    head, rows = read(projects, own, "section-takes", None)
    assert [float(r[head.index("chainage m")]) for r in rows] == pytest.approx(reported, abs=1e-3)
    wish = SheetWish(slot="line-1", from_m=1700.0, to_m=1900.0, scale=200.0)
    inside = [s for s in reported if 1700 <= s <= 1900]
    _, _, drawn = sheets.file(projects, own, newest(projects, own).revision, "sections", wish, "svg")
    with zipfile.ZipFile(io.BytesIO(drawn)) as pages:
        words = "".join(pages.read(name).decode() for name in pages.namelist())
    with spoken("metric", of_road.written(case)):
        assert all(chainage_text(s) in words for s in inside) and len(inside) > 10


def test_markings_have_the_edges_of_lanes_and_pass_where_a_lane_is_added(projects, own):
    """The demo drives on the right; its lane for slow trucks climbs there from 2960 to 3520, with tapers of 60 m."""
    head, rows = read(projects, own, "markings")
    of, marking, start, end, offset = (
        head.index(name) for name in ("of", "marking", "chainage m", "ends at m", "offset m")
    )

    def covers(r: list[str], s: float) -> bool:
        return float(r[start]) <= s <= float(r[end])

    passing = {r[of] for r in rows if r[marking] == "passing" and covers(r, 2965) and covers(r, 3515)}
    assert passing == {"ahead"}
    lane = [r for r in rows if r[marking] == "lane line"]
    assert {r[of] for r in lane} == {"right"}
    assert min(float(r[start]) for r in lane) == 2900 and max(float(r[end]) for r in lane) == 3580
    design = of_design.design(projects.case_of(newest(projects, own), "line-1")).value
    for s in (300.0, 1900.0, 3200.0):
        sides = {r[of]: abs(float(r[offset])) for r in rows if r[marking] == "edge line" and covers(r, s)}
        assert [sides["left"], sides["right"]] == pytest.approx(design.lanes_m(np.array([s]))[0].tolist(), abs=2e-3)


def test_what_each_section_takes_is_what_the_ledger_adds_up_and_names_are_no_formulas(projects, own):
    """A layer is called as the soil is, and a material is a formula: each has a column of its own, and stays text."""
    state = newest(projects, own)
    section = state.sections["section"].value
    layers = tuple(replace(r, name="soil") if r.name == "subbase" else r for r in section.layers)
    rock = Strata(
        materials=(Material(name="=1+1"),),
        rows=(StratumDepth(from_m=0, to_m=4000, material="=1+1", depth_m=1.0),),
    )
    odd = replace(section, layers=tuple(replace(r, name="=2+2") if r.name == "base course" else r for r in layers))
    projects.save(on(projects, own), "named", {SECTION.name: odd, STRATA.name: rock})
    head, rows = read(projects, own, "section-takes")
    assert "'=2+2 m²" in head and "cut: =1+1 m²" in head and not any(h.startswith("=") for h in head)
    evaluation = of_works.evaluation(projects.case_of(newest(projects, own), "line-1"))
    priced = of_design.chainages(projects.case_of(newest(projects, own), "line-1")).value
    k = [int(np.argmin(np.abs(priced - float(r[head.index("chainage m")])))) for r in rows]
    exact = np.abs(priced[k] - [float(r[head.index("chainage m")]) for r in rows]) < 1e-6
    assert exact.sum() > 15

    def told(*names: str) -> np.ndarray:
        return sum(np.array([float(r[head.index(name)]) for r in rows]) for name in names)[exact]

    areas = evaluation.areas[k][exact]
    assert told("cut: soil m²", "cut: =1+1 m²") == pytest.approx(areas[:, DUG], abs=2e-3)
    assert told("fill m²") == pytest.approx(areas[:, FILLED], abs=2e-3)
    names = [k.name for k in of_design.design(projects.case_of(newest(projects, own), "line-1")).value.layers]
    assert told("soil m²") == pytest.approx(areas[:, names.index("soil") - len(names) - 2], abs=2e-3)


def test_boundaries_of_files_hold_where_they_lie_and_too_many_corners_are_told(projects, own):
    line = of_road.centreline(projects.case_of(newest(projects, own), "line-1")).value
    at = line.line.at(np.linspace(100.0, 900.0, 81))
    left = np.column_stack([at.easting_m - 9 * np.sin(at.direction), at.northing_m + 9 * np.cos(at.direction)])
    text = "easting,northing\n" + "\n".join(f"{e:.4f},{n:.4f}" for e, n in left.tolist())
    (found,) = utilities.boundaries(projects, own, "fence.csv", text.encode(), False)
    assert np.array(found["xy"]) == pytest.approx(left, abs=1e-4)
    corners = tuple(ReserveCorner(name="fence", easting_m=e, northing_m=n) for e, n in found["xy"])
    projects.save(on(projects, own), "fence", {RESERVE.name: ReserveBounds(corners=corners)})
    design = of_design.design(projects.case_of(newest(projects, own), "line-1")).value
    reserve = design.reserve_m(np.array([50.0, 300.0, 500.0, 1200.0]))
    assert reserve[1:3, 0] == pytest.approx(9.0, abs=0.02) and np.isinf(reserve[[0, 3], 0]).all()
    assert np.isinf(reserve[:, 1]).all()
    many = "easting,northing\n" + "\n".join(f"{i},{i % 7}" for i in range(5001))
    with pytest.raises(DesignInputError, match="5001 corners, more than 5000: keep the boundary's line alone"):
        utilities.boundaries(projects, own, "many.csv", many.encode(), False)


def survey(level: float, far: float) -> bytes:
    rows = [f"{e},{n},{level}" for e in range(0, 201, 10) for n in range(int(-far), int(far) + 1, 10)]
    return ("easting,northing,level\n" + "\n".join(rows)).encode()


def test_batters_run_to_the_surface_of_the_survey_that_is_chosen_also_on_sheets(projects):
    """Ground at 100 was raised to 102 in a strip 20 m wide: batters run to what it was before."""
    pid = projects.create("two surveys")
    for name, data, joins in (
        ("before.csv", survey(100.0, 60.0), "alone"),
        ("after.csv", survey(102.0, 20.0), "replaces"),
    ):
        upload = uploads.whole(projects, pid, name, data)
        bring_in(projects, pid, ImportWish(upload_id=upload, longest_edge_m=30.0, joins=joins))
    ends = [vars(CentrelineIp(easting_m=e, northing_m=0.0)) for e in (10.0, 190.0)]
    centrelines.save(projects, on(projects, pid), {"start_chainage_m": 0.0, "ips": ends})
    state = newest(projects, pid)
    first = next(iter(state.surveys))
    flat = {"chainage_m": 0.0, "curve_length_m": 0.0, "held_k_m_per_pct": None}
    lines.adopt(
        projects, on(projects, pid), "flat", [flat | {"level_m": 99.0}, flat | {"level_m": 99.0, "chainage_m": 180.0}]
    )
    met = Works(topsoil_depth_m=0.0, batters_to="a survey", survey=first)
    with pytest.raises(DesignInputError, match="choose another surface"):
        projects.save(on(projects, pid), "none", {WORKS.name: replace(met, survey="survey-9")})
    reach = {}
    for name, works in (("ground", Works(topsoil_depth_m=0.0)), ("survey", met)):
        projects.save(on(projects, pid), name, {WORKS.name: works})
        case = projects.case_of(newest(projects, pid), "line-1")
        reach[name] = float(of_works.evaluation(case).right_m[9])
        _, _, drawn = sheets.file(
            projects, pid, newest(projects, pid).revision, "sections",
            SheetWish(slot="line-1", interval_m=90.0), "svg",
        )  # fmt: skip
        # The dashed line of another surface is on the sheet where there is one.
        assert (b"stroke-dasharray" in drawn) == (name == "survey")
    # From the edge at 4 m and 98.42 (0.13 and 0.45 under the line) 1 : 1.5 up to 102, or to 100.
    assert reach == pytest.approx({"ground": 4 + 1.5 * 3.58, "survey": 4 + 1.5 * 1.58}, abs=1e-6)
