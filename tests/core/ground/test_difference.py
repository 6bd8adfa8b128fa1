"""The volume between two surfaces, in closed form and against another way to it."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from delgrun.core.ground.difference import difference, difference_tile
from delgrun.core.ground.tiles import Place
from delgrun.core.ground.tin import Tin, build_tin
from laws import examples


def plane(rng: np.random.Generator, count: int, level, size: float = 100.0, at=(0.0, 0.0)) -> Tin:
    plan = np.vstack([rng.uniform(0, size, (count, 2)), [[0, 0], [size, 0], [size, size], [0, size]]]) + at
    return build_tin(np.column_stack([plan, level(plan[:, 0] - at[0], plan[:, 1] - at[1])]))


def test_two_planes_that_cross_hold_two_wedges():
    """z = 10 and z = 8 + e / 20 on 100 m by 100 m: they meet at 40 m; the wedges are 40² / 40 and 60² / 40 m² wide."""
    rng = np.random.default_rng(1)
    at = (500_000.0, 4_200_000.0)
    flat = plane(rng, 300, lambda e, n: 10 + 0 * e, at=at)
    tilted = plane(rng, 500, lambda e, n: 8 + e / 20, at=at)
    d = difference(flat, tilted)
    assert d.common_area_m2 == pytest.approx(10_000, rel=1e-9)
    assert (d.lowered_m3, d.raised_m3) == pytest.approx((100 * 40**2 / 40, 100 * 60**2 / 40), rel=1e-7)
    assert (d.lowered_area_m2, d.raised_area_m2) == pytest.approx((4000, 6000), rel=1e-6)
    assert (d.most_above_m, d.most_below_m) == pytest.approx((3, -2), abs=1e-6)
    assert d.above_at[0] == pytest.approx(500_100, abs=1e-3) and d.below_at[0] == pytest.approx(500_000, abs=1e-3)
    tile = difference_tile(flat, tilted, Place(1, *(int(v // 128) for v in at)))
    east = int((at[0] + 50.25 - (at[0] // 128) * 128) * 2)
    north = int((at[1] + 10.25 - (at[1] // 128) * 128) * 2)
    assert tile[north, east] == pytest.approx(8 + 50.25 / 20 - 10, abs=1e-6)
    assert np.isnan(tile[0, 0])


def test_a_cone_over_a_plane_is_a_third_of_its_cylinder():
    """A cone of many sides, 12 m high over a circle of 30 m: its base times a third of its height."""
    way = np.linspace(0, 2 * np.pi, 361)[:-1]
    rim = np.column_stack([30 * np.cos(way), 30 * np.sin(way)])
    cone = build_tin(np.column_stack([np.vstack([rim, [[0, 0]]]), np.r_[np.zeros(360), 12]]))
    ground = plane(np.random.default_rng(2), 400, lambda e, n: 0 * e, at=(-50.0, -50.0))
    d = difference(ground, cone)
    assert d.raised_m3 == pytest.approx(Polygon(rim).area * 12 / 3, rel=1e-9) and d.lowered_m3 == 0
    # The other way round it is what has gone.
    assert difference(cone, ground).lowered_m3 == pytest.approx(d.raised_m3, rel=1e-9)


@settings(max_examples=examples(30))
@given(seed=st.integers(0, 10**6), count=st.sampled_from([0, 5, 60]), away=st.floats(-40, 120))
def test_it_is_what_a_close_sampling_comes_to(seed, count, away):
    rng = np.random.default_rng(seed)
    one = plane(rng, count, lambda e, n: rng.normal(0, 2, len(e)))
    two = plane(rng, count + 7, lambda e, n: rng.normal(0, 2, len(e)), size=70.0, at=(away, 11.0))
    d, back = difference(one, two), difference(two, one)
    step = 0.25
    e, n = (v.ravel() + step / 2 for v in np.meshgrid(np.arange(-45, 200, step), np.arange(0, 100, step)))
    off = two.level_at(e, n) - one.level_at(e, n)
    both = off[~np.isnan(off)]
    assert d.common_area_m2 == pytest.approx(len(both) * step**2, abs=40)
    assert d.raised_m3 == pytest.approx(both[both > 0].sum() * step**2, rel=0.02, abs=20)
    assert d.lowered_m3 == pytest.approx(-both[both < 0].sum() * step**2, rel=0.02, abs=20)
    assert (back.lowered_m3, back.raised_m3) == pytest.approx((d.raised_m3, d.lowered_m3), rel=1e-6, abs=1e-6)
    if len(both):
        assert d.most_above_m >= both.max() - 1e-9 and d.most_below_m <= both.min() + 1e-9
