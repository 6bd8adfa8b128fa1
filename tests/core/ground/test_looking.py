"""Looking at the ground: spots, triangles, cuts, tiles and areas against planes and cones in closed form."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from delgrun.core.errors import DesignInputError
from delgrun.core.ground.profile import profile
from delgrun.core.ground.spot import spot, triangle_at
from delgrun.core.ground.tiles import Place, levels_in, surface, tile
from delgrun.core.ground.tin import Tin, build_tin
from laws import looked, looks


def raised(height, count: int = 600, at=(0.0, 0.0)) -> Tin:
    rng = np.random.default_rng(7)
    plan = np.vstack([rng.uniform(0, 100, (count, 2)), [[0, 0], [100, 0], [100, 100], [0, 100]]])
    return build_tin(np.column_stack([plan + at, height(*plan.T)]))


def plane(e, n):
    return 50 + 0.3 * e - 0.4 * n


@given(e=st.floats(1, 99), n=st.floats(1, 99))
def test_a_plane_has_its_level_slope_and_fall_everywhere(e, n):
    tin = raised(plane)
    here = spot(tin, e, n)
    assert here.level_m == pytest.approx(plane(e, n), abs=1e-6)
    # It falls towards west and north: 0.5 along (-0.3, 0.4).
    assert here.slope == pytest.approx(0.5, abs=1e-6)
    assert here.falls_to == pytest.approx(np.arctan2(-0.3, 0.4) % (2 * np.pi), abs=1e-6)
    assert here.point_level_m == pytest.approx(plane(here.point_easting_m, here.point_northing_m), abs=1e-9)
    assert here.point_away_m == pytest.approx(np.hypot(here.point_easting_m - e, here.point_northing_m - n))


def test_beside_the_ground_there_is_nothing_and_on_the_level_nothing_falls():
    tin = raised(lambda e, _: 0 * e + 7)
    assert spot(tin, 500, 500).level_m is None and triangle_at(tin, 500, 500) is None
    assert (spot(tin, 50, 50).slope, spot(tin, 50, 50).falls_to) == (0, None)


def test_the_edge_nearest_to_a_place_can_be_swapped_unless_it_holds_something():
    corner = np.array([[0.0, 0, 1], [10, 0, 2], [10, 10, 3], [0, 10, 4]])
    corner += [[0, 0, 0], [0, 0.5, 0], [0, 0, 0], [0, 0.5, 0]]
    tin = build_tin(corner)
    diagonal = next(set(map(tuple, t.edge)) for t in [triangle_at(tin, 5.2, 5.1)] if t)
    found = triangle_at(tin, 5.2, 5.1)
    assert found is not None and found.other is not None and found.why_not == ""
    assert diagonal | set(map(tuple, found.other)) == set(map(tuple, tin.xyz.tolist()))
    rim = triangle_at(tin, 9.95, 5)
    assert rim is not None and rim.other is None and "outline" in rim.why_not
    held = build_tin(corner, [np.array([0, 2])])
    kept = triangle_at(held, 5.0, 5.01)
    assert kept is not None and kept.other is None and "breakline" in kept.why_not
    # A dart: the other diagonal would run outside.
    dart = build_tin(np.array([[0.0, 0, 0], [10, 0, 0], [4, 1, 0], [0, 10, 0]]))
    narrow = triangle_at(dart, 2.0, 0.6)
    assert narrow is not None and narrow.other is None and "outside" in narrow.why_not


@given(seed=st.integers(0, 10**6))
def test_a_cut_follows_the_surface_between_picked_points(seed):
    tin = raised(lambda e, n: 3 * np.sin(e / 9) + n / 10)
    line = np.random.default_rng(seed).uniform(5, 95, (3, 2))
    cut, corners = profile(tin, line)
    legs = np.hypot(*np.diff(line, axis=0).T)
    assert corners == pytest.approx([0, legs[0], legs.sum()])
    assert cut.chainage_m[[0, -1]] == pytest.approx([0, legs.sum()], abs=1e-6) and not cut.after_gap[1:].any()
    at = np.linspace(0, legs.sum(), 40)
    place = np.column_stack([np.interp(at, corners, line[:, k]) for k in (0, 1)])
    assert np.interp(at, cut.chainage_m, cut.level_m) == pytest.approx(
        tin.level_at(place[:, 0].copy(), place[:, 1].copy()), abs=1e-6
    )
    with pytest.raises(DesignInputError, match="two points or more"):
        profile(tin, np.array([line[0], line[0]]))


@pytest.mark.parametrize("at", [(0.0, 0.0), (500_000.0, 4_200_000.0)])
def test_a_tile_has_the_levels_of_its_cells_and_what_lies_in_it(at):
    tin = raised(plane, at=at)
    zoom = 2
    side = 256 / 2**zoom
    column, row = (int((at[k] + 30) // side) for k in (0, 1))
    made = tile(tin, Place(zoom, column, row), 1.0)
    west, south = column * side, row * side
    i, k = int((at[1] + 30 - south) * 4), int((at[0] + 30 - west) * 4)
    e, n = west + (k + 0.5) / 4, south + (i + 0.5) / 4
    assert made.level[i + 1, k + 1] == pytest.approx(plane(e - at[0], n - at[1]), abs=1e-6)
    assert made.level.shape == (258, 258)
    inside = tin.xyz[made.point]
    assert ((inside[:, :2] >= [west, south]) & (inside[:, :2] < [west + side, south + side])).all()
    assert len(made.point) and len(made.sides) > len(made.point)
    assert (np.abs(made.lines.level - made.lines.level.round()) < 1e-9).all() and len(made.lines.level)
    assert not len(tile(tin, Place(zoom, column, row), 0.0).lines.level)


@looks()
@given(seed=st.integers(0, 10**6), count=st.sampled_from([6, 60, 900]), zoom=st.integers(-1, 4), even=st.booleans())
def test_levels_painted_triangle_by_triangle_are_those_looked_up(seed, count, zoom, even):
    rng = np.random.default_rng(seed)
    plan = rng.uniform(0, 100, (count, 2))
    # Whole metres: middles of cells lie on edges and points.
    plan = np.unique(np.round(plan), axis=0) if even else plan
    try:
        tin = build_tin(np.column_stack([plan + [500_000, 4_200_000], rng.uniform(0, 50, len(plan))]))
    except DesignInputError:
        return
    looked()
    cell, corner = 2.0**-zoom, np.array([500_000, 4_200_000]) + np.round(rng.uniform(-5, 60, 2))
    level = levels_in(tin, tuple(corner), cell, 66)
    middle = (np.arange(66) + 0.5) * cell
    e, n = np.meshgrid(corner[0] + middle, corner[1] + middle)
    assert level.ravel() == pytest.approx(tin.level_at(e.ravel(), n.ravel()), abs=1e-9, nan_ok=True)


def test_areas_of_a_plane_and_of_a_cone():
    facts = surface(raised(plane))
    assert facts.plan_area_m2 == pytest.approx(10_000)
    assert facts.surface_area_m2 == pytest.approx(10_000 * np.sqrt(1 + 0.3**2 + 0.4**2))
    # A cone of 90 sides: base r, height h; the side of a regular pyramid.
    angle = np.linspace(0, 2 * np.pi, 90, endpoint=False)
    ring = np.column_stack([40 * np.cos(angle), 40 * np.sin(angle), 0 * angle])
    cone = surface(build_tin(np.vstack([ring, [[0, 0, 30]]])))
    base = 90 / 2 * 40**2 * np.sin(2 * np.pi / 90)
    apothem = 40 * np.cos(np.pi / 90)
    assert cone.plan_area_m2 == pytest.approx(base)
    assert cone.surface_area_m2 == pytest.approx(base * np.hypot(apothem, 30) / apothem)
