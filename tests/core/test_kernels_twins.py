"""Compiled kernels against the plainest Python that could do the same."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from delgrun.core.ground.tin import build_tin
from delgrun.core.section import kernels as section_kernels
from delgrun.core.section.typical_section import TypicalSection

RURAL = TypicalSection(
    lane_width_m=3.0, lane_crossfall=0.03, shoulder_width_m=1.0, shoulder_crossfall=0.04, pavement_thickness_m=0.45,
    topsoil_depth_m=0.15, cut_batter_h_over_v=1.5, fill_batter_h_over_v=2.0,
)  # fmt: skip


def side_by_steps(o, z, at: float, step: float = 0.002) -> tuple[float, float]:
    """Cut and fill of one side by walking outwards in small steps."""
    form = RURAL.sides[0].formation
    half = RURAL.sides[0].edge_m
    edge = at + form[-1, 1]
    in_cut = np.interp(half, o, z) > edge
    rise = 1 / RURAL.cut_batter_h_over_v if in_cut else -1 / RURAL.fill_batter_h_over_v
    cut = fill = 0.0
    x = step / 2
    while x < o[-1]:
        ground = np.interp(x, o, z)
        stripped = ground - RURAL.topsoil_depth_m
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
    out = np.empty(5)
    section_kernels.side_areas(o, z, RURAL.sides[0].formation, 100.0 + height, RURAL.topsoil_depth_m,
                               RURAL.cut_batter_h_over_v, RURAL.fill_batter_h_over_v, out)  # fmt: skip
    cut, fill = side_by_steps(o, z, 100.0 + height)
    assert out[0] == pytest.approx(cut, abs=0.02) and out[1] == pytest.approx(fill, abs=0.02)


@given(st.lists(st.floats(-60, 60), min_size=2, max_size=20, unique=True), st.integers(0, 1))
def test_a_section_splits_into_two_sides_that_meet_at_the_centreline(offsets, side):
    o = np.sort(np.array([-61.0, *offsets, 61.0]))
    z = np.sin(o / 7)
    out_o, out_z = section_kernels.split_sides(o, z, 2 * side - 1)
    assert out_o[0] == 0.0 and (np.diff(out_o) > 0).all()
    sign = 2 * side - 1
    probe = np.linspace(0, 60, 37)
    assert np.interp(probe, out_o, out_z) == pytest.approx(np.interp(sign * probe, o, z), abs=1e-6)


@given(st.floats(0.01, 20), st.floats(-4, 24))
def test_the_spline_of_a_step_is_short_of_it_only_nearby(at, u):
    # Slow twin: a table that holds the step, read by the general spline.
    rows = (np.arange(40) >= at).astype(float)
    bend = np.zeros(40)
    bend[1:-1] = rows[:-2] - 2 * rows[1:-1] + rows[2:]
    table = (rows - bend / 8).reshape(1, 40, 1)
    assume(2 <= u <= 36)
    value = section_kernels.spline(table, 0, 0, u)[0]
    assume(at >= 2)
    assert section_kernels.step_less_spline(u, at) == pytest.approx((1.0 if u >= at else 0.0) - value, abs=1e-12)


def test_triangles_are_found_through_the_cells_they_touch():
    rng = np.random.default_rng(4)
    tin = build_tin(np.column_stack([rng.uniform(0, 300, (800, 2)), rng.normal(0, 5, 800)]))
    c = tin.cells
    for t in range(0, len(tin.triangles), 37):
        centre = tin.xyz[tin.triangles[t], :2].mean(axis=0)
        i, j = int((centre[0] - c.x0) / c.size), int((centre[1] - c.y0) / c.size)
        cell = i * c.ny + j
        assert t in c.triangle[c.start[cell] : c.start[cell + 1]]


def test_trimming_from_outside_in_leaves_inner_long_edges():
    # A ring of close points about an empty middle: the hole inside is ground, what bulges outside is not.
    angle = np.linspace(0, 2 * np.pi, 90, endpoint=False)
    ring = np.concatenate([np.column_stack([r * np.cos(angle), r * np.sin(angle), angle * 0]) for r in (40.0, 43.0)])
    far = np.array([[0.0, 120.0, 0.0]])
    tin = build_tin(np.vstack([ring, far]), longest_edge_m=10.0)
    inside, outside = (np.array([v]) for v in (0.0, 80.0))
    assert tin.level_at(np.array([0.0]), inside)[0] == pytest.approx(0.0)
    assert np.isnan(tin.level_at(np.array([0.0]), outside)[0])
