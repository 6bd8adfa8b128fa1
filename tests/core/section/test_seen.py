"""The road in space, where sections are reported, and why batters find no ground, against brute force and by hand."""

from dataclasses import replace

import numpy as np
import pytest

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.stations import Equations
from delgrun.core.centreline.superelevation import OwnFalls
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, evaluate_line
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.along import ground_and_surface
from delgrun.core.ground.tin import Tin, build_tin
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import BY_ID
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.site_ways import applied, site_ways
from delgrun.core.section.chainages import reported
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.roadside import IntervalStretch, OwnSection, Works
from delgrun.core.section.section import shown_section
from delgrun.core.section.surface import road_surface
from varied import BARE, RURAL, leaning, winding


def slope(fall: float = 0.1, half: float = 60.0, length: float = 700.0) -> Tin:
    """Ground that falls to the south, points 8 m apart, to both sides of a road that leads east and then south-east."""
    e, n = (v.ravel() for v in np.meshgrid(np.arange(-80.0, length, 8.0), np.arange(-500.0, 120.0, 8.0)))
    e = e + 0.01 * (n % 7)
    line = winding().line
    beside = np.abs(line.nearest(e, n).offset_m)
    keep = beside < half
    return build_tin(np.column_stack([e, n, 100 + fall * n + 0.4 * np.sin(e / 40)])[keep], longest_edge_m=20.0)


def line_of(road: Centreline, level: float = 100.0, grade: float = 0.0) -> GradeLine:
    end = road.end_chainage_m
    return GradeLine.of([Ip(chainage_m=0.0, level_m=level), Ip(chainage_m=end, level_m=level + grade * end)])


def test_the_road_in_space_is_its_sections_at_any_offset():
    road, tin = winding(), slope()
    design = leaning(road, widened=False)
    turns, steps = design.places
    s = road.priced_chainages(10.0, also=turns, steps=steps)
    s = s[(s > 20) & (s < road.end_chainage_m - 20)]
    across = ground_and_surface(tin, road, s, 60.0)
    line = line_of(road, 99.0, -0.02)
    shown = [shown_section(across, float(at), design, line, i, margin_m=20.0) for i, at in enumerate(s)]
    solid = road_surface(shown, road, design.lanes_m(s))
    assert set(solid.part) >= {0, 1, 2, 3} and solid.triangles.max() < len(solid.xyz)
    # Each triangle has its corners in two sections that follow each other.
    rng = np.random.default_rng(4)
    for i in rng.integers(1, len(s) - 1, 25).tolist():
        for side, sign in ((shown[i].left, -1.0), (shown[i].right, 1.0)):
            for offset in rng.uniform(0, side.catch_offset_m, 4):
                e, n, turn = (float(v[0]) for v in road.locate(s[i : i + 1]))
                x, y = e + sign * offset * np.sin(turn), n - sign * offset * np.cos(turn)
                mine = solid.triangles[_near(solid.xyz, solid.triangles, x, y)]
                level = _on(solid.xyz, mine, x, y)
                surface = np.array([(sign * o, z) for o, z in shown[i].road if o * sign >= 0])
                surface = surface[np.argsort(surface[:, 0])]
                if offset <= surface[-1, 0]:
                    told = np.interp(offset, surface[:, 0], surface[:, 1])
                elif offset > side.outline[side.hinge + 1, 0] if len(side.outline) > side.hinge + 1 else False:
                    told = side.works_m(offset)
                else:
                    continue
                assert level == pytest.approx(told, abs=2e-3)


def _near(xyz: np.ndarray, triangles: np.ndarray, x: float, y: float) -> np.ndarray:
    box = xyz[triangles][:, :, :2]
    low, high = box.min(axis=1) - 1e-6, box.max(axis=1) + 1e-6
    return np.flatnonzero(((low <= [x, y]) & ([x, y] <= high)).all(axis=1))


def _on(xyz: np.ndarray, triangles: np.ndarray, x: float, y: float) -> float:
    """Level of the first triangle that holds a place."""
    for t in triangles:
        a, b, c = xyz[t]
        m = np.column_stack([b[:2] - a[:2], c[:2] - a[:2]])
        if abs(np.linalg.det(m)) < 1e-9:
            continue
        u, v = np.linalg.solve(m, [x - a[0], y - a[1]])
        if u > -1e-6 and v > -1e-6 and u + v < 1 + 1e-6:
            return float(a[2] + u * (b[2] - a[2]) + v * (c[2] - a[2]))
    return np.nan


def test_sections_are_reported_at_their_interval_denser_in_curves_and_wherever_anything_turns():
    road = winding()
    works = Works(
        topsoil_depth_m=0.0, interval_m=10.0, reported_m=50.0, in_curves_m=10.0,
        intervals=(IntervalStretch(from_m=20.0, to_m=40.0, interval_m=4.0),),
        singles=(OwnSection(at_m=33.33, words="gate"),),
    )  # fmt: skip
    design = replace(leaning(road), works=works)
    end = road.end_chainage_m
    line = GradeLine.of(
        [
            Ip(chainage_m=0.0, level_m=0),
            Ip(chainage_m=105.0, level_m=3, curve_length_m=60),
            Ip(chainage_m=end, level_m=0),
        ]
    )
    asked = (*design.places[0], *works.asked("centreline", road.curved)), design.places[1]
    found = reported(road, design, line, Equations().of("centreline"), asked, (0.0, end))
    got = {r.chainage_m: r.what for r in found}
    (bend,) = road.bends
    # By brute force: every multiple that lies where it is asked for, and every turn by itself.
    wanted = {float(k) for k in range(0, int(end) + 1, 50)}
    wanted |= {float(k) for k in range(0, int(end) + 1, 10) if bend.from_chainage_m <= k <= bend.to_chainage_m}
    wanted |= {float(k) for k in range(0, int(end) + 1, 10) if 75 <= k <= 135}
    wanted |= {20.0, 24.0, 28.0, 32.0, 36.0, 40.0, 33.33, 75.0, 135.0, 105.0, end}
    wanted |= {bend.from_chainage_m, bend.from_chainage_m + 40, bend.to_chainage_m - 40, bend.to_chainage_m}
    wanted |= {(bend.from_chainage_m + bend.to_chainage_m) / 2} | {t[0] for t in line.turning_points()}
    wanted |= {k.chainage_m for k in design.diagram.keys} | {p for w in design.diagram.widenings for p in w[:4]}
    for at in wanted:
        assert min(abs(at - s) for s in got) <= 0.01 + 1e-9, at
    for s in got:
        assert min(abs(at - s) for at in wanted) <= 0.01 + 1e-9, s
    assert (
        got[33.33] == "gate"
        and got[75.0] == "curve starts, IP 1"
        and "superelevation: full" in got[bend.from_chainage_m + 40]
    )
    # The computation is as dense as it was asked to be.
    priced = road.priced_chainages(works.interval_m, also=asked[0], steps=asked[1])
    assert np.diff(priced).max() <= 10.0 + 1e-9


def checked(design: RoadDesign, tin: Tin, road: Centreline, level: float) -> Checked:
    s = road.priced_chainages(10.0)
    s = s[(s > 30) & (s < road.end_chainage_m - 30)]
    works = Earthworks.of(ground_and_surface(tin, road, s, design.works.reach_m), design)
    line = line_of(road, level)
    return Checked(line, LimitSet(), works, evaluate_line(works, line, CostModel()), design=design)


def test_a_batter_without_ground_says_why_and_ways_are_tried():
    road = Centreline([CentrelineIp(easting_m=0.0, northing_m=0.0), CentrelineIp(easting_m=400.0, northing_m=0.0)])
    e, n = (v.ravel() for v in np.meshgrid(np.arange(-20.0, 421.0, 10.0), np.arange(-12.0, 41.0, 4.0)))
    tin = build_tin(np.column_stack([e, n, 100 + 0.2 * n]), longest_edge_m=20.0)
    design = RoadDesign(RURAL, BARE, centreline=road)
    # On the right ground falls by 1 in 5 and ends 12 m out, at 97.6. From the formation's edge, 4 m out and 0.34 m
    # down, a fill of 1 : 2 from 103 is at 98.66 there: 1.06 m over it, and closes by 0.3 a metre: 3.53 m short.
    c = checked(design, tin, road, 103.0)
    (use,) = BY_ID["no_catch_right"].uses(c)
    assert use.value == pytest.approx(1.06 / 0.3, abs=0.01)
    assert BY_ID["no_catch_right"].say(use) == (
        "The batter on the right finds no ground: the survey ends 12.00 m out, 3.53 m short"
    )
    assert list(BY_ID["no_catch_left"].uses(c)) == []
    ways = {w.into: w for w in site_ways(c, use, "centreline")}
    assert set(ways) == {"changes", "reserve", "centreline", "survey"}
    # Each that builds something else leaves nothing open there, and no flatter batter would do.
    for way in (ways["changes"], ways["reserve"]):
        again = checked(applied(design, way), tin, road, 103.0)
        assert list(BY_ID["no_catch_right"].uses(again)) == []
    steeper = ways["changes"].row
    flatter = replace(steeper, fill_h_over_v=steeper.fill_h_over_v + 0.25)
    again = checked(applied(design, replace(ways["changes"], row=flatter)), tin, road, 103.0)
    assert list(BY_ID["no_catch_right"].uses(again)) != []
    assert "3.53 m" in ways["survey"].label and "to the left" in ways["centreline"].label
    # Cut to less than there is, that is why.
    near = replace(design, works=replace(BARE, reach_m=8.0))
    c = checked(near, tin, road, 103.0)
    (use,) = BY_ID["no_catch_right"].uses(c)
    assert "sections are cut to 8.00 m only" in use.about
    # Two metres further up the fill is 2.26 m over the ground, and closes by 0.3 a metre: to 15.5 m, and a margin.
    (wider,) = (w for w in site_ways(c, use, "centreline") if w.into == "works")
    assert wider.row.reach_m == 30.0


def test_the_insides_of_a_hairpin_share_the_ground_between_them():
    """Two legs 30 m apart: each goes as far as the middle, so that no ground is counted twice."""
    ips = [(0.0, 0.0, 0.0), (200.0, 0.0, 15.0), (200.0, -30.0, 15.0), (0.0, -30.0, 0.0)]
    road = Centreline([CentrelineIp(easting_m=e, northing_m=n, radius_m=r) for e, n, r in ips])
    e, n = (v.ravel() for v in np.meshgrid(np.arange(-10.0, 260.0, 5.0), np.arange(-70.0, 41.0, 5.0)))
    tin = build_tin(np.column_stack([e, n, np.full(len(e), 90.0)]))
    s = road.priced_chainages(5.0)[2:-2]
    across = ground_and_surface(tin, road, s, 40.0)
    ends = np.array([(across.one(i)[0][0], across.one(i)[0][-1]) for i in range(len(s))])
    # To the right lies the inside; the outside goes on as far as it is cut.
    assert ends[:, 1].max() <= 15.0 + 1e-3 and ends[5:-5, 0].max() == pytest.approx(-40.0)
    design = RoadDesign(RURAL, BARE, centreline=road)
    works = Earthworks.of(across, design)
    caught = works.areas(np.full(len(s), 100.0))[1]
    assert ((caught & 2) == 0).any()
    line = line_of(road, 100.0)
    near = replace(design, works=replace(BARE, reach_m=40.0))
    c = Checked(line, LimitSet(), works, evaluate_line(works, line, CostModel()), design=near)
    told = [u.about for u in BY_ID["no_catch_right"].uses(c)]
    assert told and all("the road's other side begins 15.00 m out" in t for t in told)


def test_how_the_road_leans_is_held_against_what_is_allowed():
    road = winding(transition=0.0)
    (bend,) = road.bends
    flat = OwnFalls(from_m=20.0, to_m=22.0, left_from=0.03, left_to=-0.09, right_from=0.03, right_to=0.03)
    arc = bend.from_chainage_m + 5, bend.to_chainage_m - 5
    wrong = OwnFalls(from_m=arc[0], to_m=arc[1], left_from=0.02, left_to=0.02, right_from=0.02, right_to=0.02)
    level = OwnFalls(from_m=100.0, to_m=120.0, left_from=0.0, left_to=0.0, right_from=0.03, right_to=0.03)

    def said(*rows: OwnFalls, grade: float = 0.0) -> dict[str, list]:
        c = Checked(line_of(road, 100.0, grade), LimitSet(), design=leaning(road, rows=rows))
        found = {k: [u for u in BY_ID[k].uses(c) if u.fails] for k in BY_ID if k.startswith("lean_")}
        return {k: v for k, v in found.items() if v}

    # By the rules nothing is wrong but that water stands where a lane passes level on a level road.
    plain = said()
    assert set(plain) == {"lean_level"} and len(plain["lean_level"]) == 2
    # On 4 % nothing does.
    assert said(grade=0.04) == {}
    # 12 % of 3 m within 2 m: 18 %, and 9 % is more than the steepest 8 %.
    quick = said(flat, grade=0.04)
    assert quick["lean_quick"][0].value == pytest.approx(0.18) and quick["lean_steep"][0].value == pytest.approx(0.09)
    assert [u.from_chainage_m for u in quick["lean_quick"][1:]] == [22.0]
    (adverse,) = said(wrong, grade=0.04)["lean_adverse"]
    assert adverse.value == pytest.approx(0.02) and "R 150" in adverse.about
    (left,) = (u for u in said(level)["lean_level"] if u.from_chainage_m == 100.0)
    assert (left.about, left.value) == ("left", 0.0) and left.to_chainage_m == pytest.approx(120.0, abs=0.01)
