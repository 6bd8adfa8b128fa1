"""Compiled kernels against the plainest Python that could do the same."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.section import section_of
from delgrun.core.section.sides import sides_of

RURAL = RoadDesign.plain(
    lane_width_m=3.0, lane_crossfall=0.03, shoulder_width_m=1.0, shoulder_crossfall=0.04, pavement_thickness_m=0.45,
    topsoil_depth_m=0.15, cut_batter_h_over_v=1.5, fill_batter_h_over_v=2.0,
)  # fmt: skip


def side_by_steps(o, z, at: float, step: float = 0.002) -> tuple[float, float]:
    """Cut and fill of one side by walking outwards in small steps."""
    form = RURAL.built_at(0.0)[0][0].variants[0].formation[:, :2]
    half = RURAL.built_at(0.0)[0][0].edge_m
    edge = at + form[-1, 1]
    in_cut = np.interp(half, o, z) > edge
    rise = 1 / 1.5 if in_cut else -1 / 2.0
    cut = fill = 0.0
    x = step / 2
    while x < o[-1]:
        ground = np.interp(x, o, z)
        stripped = ground - RURAL.works.topsoil_depth_m
        if x < half:
            d = stripped - (at + np.interp(x, form[:, 0], form[:, 1]))
            cut, fill = cut + max(d, 0) * step, fill + max(-d, 0) * step
        else:
            works = edge + rise * (x - half)
            if (ground - works) * (1 if in_cut else -1) <= 0:
                break
            if in_cut:
                cut += max(stripped - works, 0) * step
            else:
                fill += max(works - stripped, 0) * step
        x += step
    return cut, fill


@given(st.lists(st.floats(-3, 3), min_size=6, max_size=12), st.floats(-5, 5))
def test_areas_of_a_side_by_small_steps(bumps, height):
    o = np.linspace(0, 40, len(bumps))
    z = 100 + np.array(bumps)
    side = section_of(RURAL, np.array([-1.0, *o]), np.array([z[0], *z]), 100.0 + height).right
    cut, fill = side_by_steps(o, z, 100.0 + height)
    assert side.cut_m2 == pytest.approx(cut, abs=0.02) and side.fill_m2 == pytest.approx(fill, abs=0.02)


@given(st.lists(st.floats(-60, 60), min_size=2, max_size=20, unique=True), st.integers(0, 1))
def test_a_section_splits_into_two_sides_that_meet_at_the_centreline(offsets, side):
    o = np.sort(np.array([-61.0, *offsets, 61.0]))
    z = np.sin(o / 7)
    start, x, tops = sides_of(np.array([0, len(o)]), o, z, z, np.zeros(1), np.array([[0.0, 0.1]]))
    out_o, out_z = x[start[side] : start[side + 1]], tops[start[side] : start[side + 1], 0]
    assert out_z - tops[start[side] : start[side + 1], 1] == pytest.approx(0.1)
    assert out_o[0] == 0.0 and (np.diff(out_o) > 0).all()
    sign = 2 * side - 1
    probe = np.linspace(0, 60, 37)
    assert np.interp(probe, out_o, out_z) == pytest.approx(np.interp(sign * probe, o, z), abs=1e-6)
