"""Sections and volumes against closed forms (reference values, section 4) and shapely."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely.geometry import LineString, Polygon

from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, evaluate_levels
from delgrun.core.earthworks.volumes import end_area_volumes, mass_ordinate, section_weights
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.along import GroundSections
from delgrun.core.section.area_kernels import DUG, FILLED
from delgrun.core.section.pieces import areas_in
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.section import section_of, shown_section
from delgrun.service.results import of_design
from reference import VALUES


def flat(
    half: float, cut: float, fill: float, topsoil: float = 0.0, pavement: float = 0.0, verge: float = 0.0
) -> RoadDesign:
    return RoadDesign.plain(
        lane_width_m=half - 1, lane_crossfall=0.0, shoulder_width_m=1.0, shoulder_crossfall=0.0,
        pavement_thickness_m=pavement, verge_width_m=verge,
        topsoil_depth_m=topsoil, cut_batter_h_over_v=cut, fill_batter_h_over_v=fill,
    )  # fmt: skip


def formation(typical: RoadDesign) -> np.ndarray:
    return typical.built_at(0.0)[0][0].variants[0].formation[:, :2]


RURAL = RoadDesign.plain(
    lane_width_m=3.0, lane_crossfall=0.03, shoulder_width_m=1.0, shoulder_crossfall=0.04, pavement_thickness_m=0.45,
    topsoil_depth_m=0.15, cut_batter_h_over_v=1.5, fill_batter_h_over_v=2.0,
)  # fmt: skip


@pytest.mark.parametrize(
    ("ground", "level", "batters", "cut", "fill", "left", "right"),
    VALUES["4"]["sections"],
)
def test_reference_sections(ground, level, batters, cut, fill, left, right):
    offset, z = np.ascontiguousarray(np.array(ground, dtype=float).T)
    s = section_of(flat(5.0, *batters), offset, z, level)
    assert (s.cut_m2, s.fill_m2) == pytest.approx((cut, fill), abs=0.001)
    assert (-s.left.catch_offset_m, s.left.catch_level_m) == pytest.approx(left, abs=0.001)
    assert (s.right.catch_offset_m, s.right.catch_level_m) == pytest.approx(right, abs=0.001)


grounds = st.lists(st.floats(-2.5, 2.5), min_size=9, max_size=17)


@given(grounds, st.floats(-6, 6))
def test_areas_equal_shapelys_polygons(bumps, depth):
    offset = np.linspace(-60, 60, len(bumps))
    z = 100 + np.array(bumps) + 0.1 * offset
    s = section_of(RURAL, offset, z, 100 + depth)
    side = formation(RURAL) + [0.0, 100 + depth]
    works = [(-s.left.catch_offset_m, s.left.catch_level_m), *[(-o, v) for o, v in side[::-1]], *side[1:].tolist(),
             (s.right.catch_offset_m, s.right.catch_level_m)]  # fmt: skip
    stripped = list(zip(offset, z - RURAL.works.topsoil_depth_m, strict=True))
    assume(s.left.caught and s.right.caught)
    # Between works and stripped ground, over the formation; the batters count on their own side only.
    line = np.array(works)
    below = Polygon([*stripped, (60, -1000), (-60, -1000)])
    above = Polygon([*stripped, (60, 1000), (-60, 1000)])
    over = Polygon([*works, (line[-1, 0], 900), (line[0, 0], 900)])
    under = Polygon([*works, (line[-1, 0], -900), (line[0, 0], -900)])
    edge = RURAL.built_at(0.0)[0][0].edge_m
    mid = Polygon([(-edge, -2000), (edge, -2000), (edge, 2000), (-edge, 2000)])
    cut, fill = below.intersection(over), above.intersection(under)
    want_cut = cut.intersection(mid).area
    want_fill = fill.intersection(mid).area
    for sign, part in ((-1, s.left), (1, s.right)):
        wing = Polygon([(sign * edge, -2000), (sign * 2000, -2000), (sign * 2000, 2000), (sign * edge, 2000)])
        if part.in_cut:
            want_cut += cut.intersection(wing).area
        else:
            want_fill += fill.intersection(wing).area
    assert (s.cut_m2, s.fill_m2) == pytest.approx((want_cut, want_fill), abs=1e-6)


@given(grounds, st.floats(-6, 6))
def test_the_batter_ends_where_it_first_meets_the_ground(bumps, depth):
    offset = np.linspace(-60, 60, len(bumps))
    z = 100 + np.array(bumps)
    s = section_of(RURAL, offset, z, 100 + depth).right
    edge = formation(RURAL)[2] + [0.0, 100 + depth]
    rise = 1 / 1.5 if s.in_cut else -1 / 2.0
    batter = LineString([edge, edge + np.array([60.0, 60 * rise])])
    hit = batter.intersection(LineString(np.column_stack([offset, z])))
    if not hit.is_empty and s.caught:
        first = min(p.x for p in getattr(hit, "geoms", [hit]) if hasattr(p, "x"))
        assert s.catch_offset_m == pytest.approx(first, abs=1e-6)


def test_a_verge_widens_the_section_by_its_own_width():
    # Level ground 2 m above a level formation, cut 1 : 1.5: half of 5 m + 2 m of verge + 3 m of batter; the area
    # (b + n h) h with b = 14 m, n = 1.5, h = 2 m is 34 m2 (reference values 4.1).
    verge = flat(5.0, 1.5, 2.0, verge=2.0)
    s = section_of(verge, np.array([-40.0, 0.0, 40.0]), np.full(3, 102.0), 100.0)
    assert s.cut_m2 == pytest.approx(34.0) and s.right.catch_offset_m == pytest.approx(10.0)
    assert verge.built_at(0.0)[0][0].edge_m == 7.0 and formation(verge)[-1].tolist() == [7.0, 0.0]


def test_an_upright_face_in_the_ground_is_one():
    """A wall of 3 m at 8 m to the right, given by two rows at one offset: a batter passes through it."""
    offset, level = np.array([-30.0, 0.0, 8.0, 8.0, 30.0]), np.array([10.0, 10.0, 10.0, 13.0, 13.0])
    s = section_of(flat(5.0, 1.0, 1.5), offset, level, 7.5)
    # 2.5 m of cut: to 7.5 m on the left, where it is level; on the right the same, before it gets to the wall.
    assert s.cut_m2 == pytest.approx(2 * (5 * 2.5 + 2.5**2 / 2)) and s.right.catch_offset_m == pytest.approx(7.5)
    # 3.5 m: the batter passes under the wall's foot and goes on to 5 + 6.5 m.
    s = section_of(flat(5.0, 1.0, 1.5), offset, level, 6.5)
    beyond = 6.5**2 / 2 - (3 * 3)
    assert s.right.cut_m2 == pytest.approx(5 * 3.5 + beyond, abs=1e-5)
    assert (s.right.catch_offset_m, s.right.catch_level_m) == pytest.approx((11.5, 13.0), abs=1e-5)


def test_without_ground_a_batter_catches_nothing():
    s = section_of(flat(5.0, 1.0, 1.5), np.array([-8.0, 8.0]), np.array([10.0, 10.0]), 2.0)
    assert not s.left.caught and not s.right.caught and s.right.catch_offset_m == pytest.approx(8.0)


def test_volumes_of_prisms_and_mass_ordinates():
    # Average end area, not the prismoid.
    for areas, volume in zip(VALUES["4.6"]["areas_m2"], VALUES["4.6"]["volumes_m3"], strict=True):
        assert end_area_volumes(np.array(areas), np.array([0.0, 25.0])) == pytest.approx([volume])
    assert len(end_area_volumes(np.zeros(0), np.zeros(0))) == 0
    with pytest.raises(DesignInputError):
        end_area_volumes(np.zeros(2), np.array([5.0, 5.0]))
    want = VALUES["5.1"]
    mass = mass_ordinate(0.9 * np.array(want["cut_m3"]) - np.array(want["fill_m3"]))
    assert mass == pytest.approx(want["ordinates_m3"])
    s = np.array([0.0, 4, 10, 30])
    a = np.array([3.0, 1, 7, 2])
    assert section_weights(s) @ a == pytest.approx(end_area_volumes(a, s).sum())


def side_hills() -> GroundSections:
    """Straight and broken side-hills from level to 1:2.5, which no survey of ours is steep enough for."""
    rng = np.random.default_rng(5)
    s = np.arange(0.0, 800.0, 10.0)
    rows = []
    for i in range(len(s)):
        offset = np.sort(np.concatenate([[-60, 0, 60], rng.uniform(-60, 60, 12)]))
        rows.append(np.column_stack([offset, 0.005 * i * offset + rng.normal(0, 0.25, len(offset)) * (i % 2)]))
    start = np.concatenate([[0], np.cumsum([len(r) for r in rows])])
    flat_rows = np.concatenate(rows)
    centre = np.array([np.interp(0, r[:, 0], r[:, 1]) for r in rows])
    return GroundSections(s, start, flat_rows[:, 0].copy(), flat_rows[:, 1].copy(), centre)


@pytest.mark.parametrize("which", ["demo", "side-hill"])
def test_all_sections_at_once_and_their_pieces_are_the_sections_one_by_one(which, demo_case):
    """At every level, however far from the ground: to 1e-9 m2."""
    ground = of_design.across(demo_case).value if which == "demo" else side_hills()
    works = Earthworks.of(ground, RURAL)
    rng = np.random.default_rng(11)
    weigh = np.eye(works.width - 2)[[DUG, FILLED]]
    n, area, pieces = len(ground.chainage_m), np.empty(2), works.pieces(weigh)
    for reach in (2.0, 10.0, 40.0, 300.0):
        levels = ground.centre_level_m + rng.normal(0, reach, n)
        areas, caught = works.areas(levels)
        for i in range(0, n, 3):
            want = section_of(RURAL, *ground.one(i), levels[i])
            both = want.left, want.right
            assert areas[i, :-2] == pytest.approx(both[0].columns + both[1].columns, rel=1e-12, abs=1e-9)
            assert areas[i, -2:] == pytest.approx([side.catch_offset_m for side in both], abs=1e-9)
            assert caught[i] == both[0].caught + 2 * both[1].caught
            areas_in(pieces, i, 0, levels[i] - works.base_m[i], area)
            assert area == pytest.approx([want.cut_m2, want.fill_m2], rel=1e-12, abs=1e-9)
    # What another line has at the same level is taken over, and is the same.
    cost = CostModel()
    rest = evaluate_levels(works, levels, cost)
    other = np.where(np.arange(n) % 5 == 0, levels + 1, levels)
    beside, anew = evaluate_levels(works, other, cost, rest), evaluate_levels(works, other, cost)
    assert beside.ledger == anew.ledger and (beside.caught == anew.caught).all()


def test_areas_forty_metres_from_level_ground():
    """(b + n h) h, reference values 4.1 and 4.2."""
    s = np.array([0.0, 10.0])
    wide = GroundSections(s, np.array([0, 2, 4]), np.array([-200.0, 200.0] * 2), np.full(4, 100.0), np.full(2, 100.0))
    plain = flat(5.0, 1.5, 2.0)
    works = Earthworks.of(wide, plain)
    b, h = 2 * plain.built_at(0.0)[0][0].edge_m, 40.0
    one, two = works.areas(np.array([60.0, 140.0]))[0]
    cut, left, fill, right = one[DUG], one[-2], two[FILLED], two[-1]
    assert cut == pytest.approx((b + 1.5 * h) * h, rel=1e-12)
    assert fill == pytest.approx((b + 2.0 * h) * h, rel=1e-12)
    assert left == pytest.approx(b / 2 + 1.5 * h)
    assert right == pytest.approx(b / 2 + 2.0 * h)


def test_the_drawn_ground_reaches_to_the_ends_of_its_window_however_far_apart_points_stand():
    """Points 50 m apart: a window of a few metres between two of them shows the ground all the same."""
    offset, level = np.array([-60.0, -10.0, 40.0, 60.0]), np.array([100.0, 104.0, 108.0, 100.0])
    across = GroundSections(np.array([0.0]), np.array([0, 4]), offset, level, np.array([104.8]))
    line = GradeLine.of([Ip(chainage_m=-10, level_m=105), Ip(chainage_m=10, level_m=105)])
    seen = np.array(shown_section(across, 0.0, RoadDesign.plain(), line).ground)
    assert seen[0, 0] < -5 and seen[-1, 0] > 5 and (np.diff(seen[:, 0]) > 0).all()
    assert seen[:, 1] == pytest.approx(np.interp(seen[:, 0], offset, level))
