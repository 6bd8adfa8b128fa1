"""Sections that are cut wider where batters need it, against sections cut as wide as they may be."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.earthworks.evaluator import Earthworks
from delgrun.core.ground.tin import build_tin
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.roadside import WIDEST_M, Works
from laws import examples

ROAD = Centreline([CentrelineIp(easting_m=0, northing_m=0), CentrelineIp(easting_m=200, northing_m=0)])
EAST, NORTH = (v.ravel() for v in np.meshgrid(np.linspace(-20, 220, 7), np.linspace(-400, 400, 41)))


@settings(max_examples=examples(40), deadline=None)
@given(
    fall=st.floats(-0.6, 0.6), run=st.floats(1.0, 3.0), reach=st.floats(8, 60), depth=st.floats(0.5, 15),
    sign=st.sampled_from([-1.0, 1.0]), survey=st.floats(30, 400), waves=st.floats(0, 4),
)  # fmt: skip
def test_a_line_near_the_ground_finds_all_the_ground_that_the_widest_sections_have(
    fall, run, reach, depth, sign, survey, waves
):
    level = 100 + fall * NORTH + waves * np.sin(NORTH / 23)
    keep = np.abs(NORTH) <= survey
    tin = build_tin(np.column_stack([EAST, NORTH, level])[keep], longest_edge_m=60.0)
    plain = RoadDesign.plain(cut_batter_h_over_v=run, fill_batter_h_over_v=run)
    design = replace(plain, works=Works(reach_m=reach, topsoil_depth_m=0.0))
    s = ROAD.priced_chainages(40.0)
    near, far = design.ground_reached(tin, ROAD, s), design.ground(tin, ROAD, s, WIDEST_M)
    at = 100 + sign * depth + np.zeros(len(s))
    (mine, caught), (full, all_caught) = (Earthworks.of(g, design).areas(at) for g in (near, far))
    # What is met only between the lines that are looked at, by ground that comes and goes, may be missed.
    if waves == 0.0 or depth in (2.0, 5.0, 15.0):
        assert caught.tolist() == all_caught.tolist()
    met = caught == all_caught
    assert mine[met & (all_caught == 3)] == pytest.approx(full[met & (all_caught == 3)], abs=1e-6)
    assert near.cut_m is not None and (near.cut_m >= reach).all() and (near.cut_m <= WIDEST_M).all()


def test_what_is_not_needed_is_not_cut():
    tin = build_tin(np.column_stack([EAST, NORTH, 100 + 0.4 * NORTH]), longest_edge_m=60.0)
    flat = build_tin(np.column_stack([EAST, NORTH, 100 + 0.02 * NORTH]), longest_edge_m=60.0)
    design = RoadDesign.plain(fill_batter_h_over_v=2.0)
    s = ROAD.priced_chainages(40.0)
    assert design.ground_reached(flat, ROAD, s).cut_m.tolist() == [design.works.reach_m] * len(s)
    steep = design.ground_reached(tin, ROAD, s)
    assert (steep.cut_m > design.works.reach_m).all()
    # In closed form: where the fill down from its hinge at 2:1 is as low as ground that falls by 0.4.
    areas, caught = Earthworks.of(steep, design).areas(np.full(len(s), 115.0))
    x, z = design.built_at(0.0)[1][0].variants[0].formation[-1, :2]
    assert set(caught.tolist()) == {3}
    assert areas[:, -1] == pytest.approx((15.0 + z + x / 2.0) / (1 / 2.0 - 0.4), abs=1e-6)
