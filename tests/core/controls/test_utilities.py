"""Utilities: cover and headroom that they ask of the line, against surface and batters worked out at each place."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.controls.bands import slack_of
from delgrun.core.controls.utilities import Utilities, UtilityPoint, crossings, in_section, utility_bands
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.tin import build_tin
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.roadside import Material, Strata, StratumDepth
from delgrun.core.section.section import section_of
from delgrun.core.section.starting import STARTING
from laws import examples

ROAD = RoadDesign.plain()
EAST = Centreline([CentrelineIp(easting_m=0, northing_m=0), CentrelineIp(easting_m=1000, northing_m=0)])
LEVEL = GradeLine.of([Ip(chainage_m=0, level_m=100), Ip(chainage_m=1000, level_m=100)])
e, n = np.meshgrid(np.arange(-20.0, 1021.0, 20.0), np.arange(-80.0, 81.0, 20.0))
FLAT = build_tin(np.column_stack([e.ravel(), n.ravel(), np.full(e.size, 103.0)]), [], 60.0)


def utility(
    *places: tuple[float, float, float], what: str = "buried", least: float = 1.0, name: str = "main"
) -> Utilities:
    rows = [
        UtilityPoint(name=name, what=what, least_m=least, easting_m=x, northing_m=y, level_m=z) for x, y, z in places
    ]
    return Utilities(rows=tuple(rows))


def test_a_pipe_that_crosses_asks_for_cover_at_the_edge_where_the_road_is_lowest():
    pipe = utility((400, -30, 98.6), (400, 30, 98.6))
    (band,) = utility_bands(pipe, EAST, ROAD, None)
    # The shoulder's edge lies 0.13 m under the line.
    assert slack_of(LEVEL, band).slack_m == pytest.approx(100 - 0.13 - 98.6 - 1.0)
    assert crossings(pipe, EAST) == [(0, pytest.approx(400.0), pytest.approx(98.6))]
    (where,) = in_section(pipe, EAST, 400.0, 60.0)
    assert where[2] == pytest.approx(98.6)


def test_in_a_cut_it_is_covered_by_the_batter_and_ground_that_covers_too_little_is_left():
    # Ground at 103 over a line at 100: the cut's batter, 1 : 1.5, starts at the formation, 99.42, four metres out.
    for offset, top in ((6.0, 99.5), (7.0, 101.0), (10.0, 102.5)):
        pipe = utility((300, -offset, top), (500, -offset, top))
        (band,) = utility_bands(pipe, EAST, ROAD, FLAT)
        batter = 99.42 + (offset - 4.0) / 1.5
        room = batter - min(top + 1.0, 103.0)
        found = slack_of(LEVEL, band)
        # As much lower as the line may lie, so much lower is the batter.
        assert found.slack_m == pytest.approx(room), offset
    # Without ground only what lies under the road itself is known.
    assert utility_bands(utility((300, 6, 99.0), (500, 6, 99.0)), EAST, ROAD, None) == ()


def test_a_wire_asks_for_headroom_and_nothing_far_away_asks_anything():
    wire = utility((700, -40, 107.0), (760, 40, 107.0), what="overhead", least=6.5)
    (band,) = utility_bands(wire, EAST, ROAD, FLAT)
    assert slack_of(LEVEL, band).slack_m == pytest.approx(107 - 6.5 - 100.0)
    assert utility_bands(utility((0, 500, 99.0), (900, 500, 99.0)), EAST, ROAD, FLAT) == ()


@settings(deadline=None, max_examples=examples(30))
@given(st.floats(100, 900), st.floats(-0.9, 0.9), st.floats(96, 99), st.floats(-0.05, 0.05))
def test_cover_is_that_of_a_walk_along_the_pipe(at, turn, top, grade):
    """Straight pipes at any angle under a road on a bend-free line with a grade."""
    line = GradeLine.of([Ip(chainage_m=0, level_m=100 - 500 * grade), Ip(chainage_m=1000, level_m=100 + 500 * grade)])
    a, b = np.array([at - 30 * turn, -30.0, top]), np.array([at + 30 * turn, 30.0, top + 0.4])
    (band,) = utility_bands(utility(tuple(a), tuple(b)), EAST, ROAD, None)
    share = np.linspace(0, 1, 4001)[:, None]
    walk = a + share * (b - a)
    walk = walk[(np.abs(walk[:, 1]) <= 4.0)]
    corners = ROAD.built_at(0.0)[0][0].surface
    surface = line.levels(walk[:, 0]) + np.interp(np.abs(walk[:, 1]), corners[:, 0], corners[:, 1])
    assert slack_of(line, band).slack_m == pytest.approx((surface - walk[:, 2] - 1.0).min(), abs=0.01)


@pytest.mark.parametrize("what", ["buried", "overhead"])
@pytest.mark.parametrize("offset", [4.2, 5.0, 7.5, -6.0])
def test_beside_the_road_what_is_asked_leaves_the_batter_just_that_far_away(what, offset):
    """The band of a utility along the road, against the outline of the works at the level that it asks for."""
    level = 100.3 if what == "buried" else 106.4
    (band,) = utility_bands(utility((300, -offset, level), (600, -offset, level), what=what), EAST, ROAD, FLAT)
    section = section_of(ROAD, np.array([-60.0, 60.0]), np.full(2, 103.0), float(band.reference_m[5]))
    works = (section.right if offset > 0 else section.left).works_m(abs(offset))
    assert works - level == pytest.approx(1.0 if what == "buried" else -1.0, abs=1e-6)


@pytest.mark.parametrize("what", ["buried", "overhead"])
@pytest.mark.parametrize("offset", [4.2, 5.5, 6.5, 9.0, -7.0, 14.0])
def test_beside_any_road_what_is_asked_leaves_it_at_least_that_far_away(what, offset):
    """Drains, benches, batters by height and rock: never nearer than asked, wherever the line lies beyond it."""
    side_slope = next(s.section for s in STARTING if s.id == "side-slope")
    rock = Strata(
        materials=(Material(name="rock", batter_h_over_v=0.5),),
        rows=(StratumDepth(from_m=0, to_m=1000, material="rock", depth_m=1.0),),
    )
    design = RoadDesign(side_slope, strata=rock)
    level = 100.3 if what == "buried" else 106.4
    (band,) = utility_bands(utility((300, -offset, level), (600, -offset, level), what=what), EAST, design, FLAT)
    at = np.searchsorted(band.chainage_m, 450.0)
    for further in (0.0, 0.4, 1.7, 5.0):
        line = float(band.reference_m[at]) + (further if what == "buried" else -further)
        section = section_of(design, np.array([-90.0, 90.0]), np.full(2, 103.0), line, 450.0)
        works = (section.right if offset > 0 else section.left).works_m(abs(offset))
        ground = 103.0 if np.isnan(works) else works
        assert ground - level >= 1.0 - 1e-6 if what == "buried" else level - ground >= 1.0 - 1e-6


def test_vertices_of_one_utility_agree():
    rows = (*utility((0, 0, 1.0)).rows, *utility((1, 0, 1.0), least=2.0).rows)
    with pytest.raises(DesignInputError, match="“main” say different"):
        Utilities(rows=rows).check()


def test_a_section_shows_what_crosses_it_and_what_lies_in_it():
    across = utility((399, -30, 98.0), (401, 30, 99.0))
    assert in_section(across, EAST, 400.0, 60.0) == [(0, pytest.approx(0.0, abs=1e-6), pytest.approx(98.5))]
    # One along the section itself is shown where it is nearest to the road, at its level there.
    ((_, offset, level),) = in_section(utility((400, -30, 98.0), (400, -10, 99.0)), EAST, 400.0, 60.0)
    assert (abs(offset), level) == (pytest.approx(10.0), pytest.approx(99.0))
    assert in_section(utility((400, 70, 98.0), (400, 90, 99.0)), EAST, 400.0, 60.0) == []
