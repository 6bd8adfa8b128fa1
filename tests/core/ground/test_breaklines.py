"""Surfaces over points and breaklines of every unkind sort, against laws and against shapely's own geometry."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core.errors import DesignInputError
from delgrun.core.ground.tin import Tin, build_tin
from laws import examples, looked, looks

ORIGINS = np.array([(0.0, 0.0), (500_000.0, 4_200_000.0), (12_345.678, 98_765.432)])


def made(seed: int) -> tuple[np.ndarray, list[np.ndarray]]:
    """Points and breaklines at random: scattered, on a grid, on round numbers, along a 3-4-5 bearing, on a circle."""
    rng = np.random.default_rng(seed)
    n, kind = int(rng.integers(6, 50)), seed % 6
    along = rng.uniform(0, 100, n)
    steps = rng.permutation(n) * 5.0
    angle = rng.uniform(0, 2 * np.pi, n)
    xy = [
        rng.uniform(0, 100, (n, 2)),
        rng.integers(0, 6, (n, 2)) * 5.0,
        np.round(rng.uniform(0, 3, (n, 2)), 3),
        np.column_stack([0.6 * along, 0.8 * along]) + rng.choice([0, 0.0004, 0.002, 5, 30], (n, 2)),
        np.column_stack([0.6 * steps, 0.8 * steps]) + rng.integers(0, 3, (n, 1)) * np.array([-4.0, 3.0]),
        100 * np.column_stack([np.cos(angle), np.sin(angle)]),
    ][kind]
    lines = [rng.permutation(n)[: int(rng.integers(2, 9))] for _ in range(int(rng.integers(0, 7)))]
    return np.column_stack([xy + ORIGINS[rng.integers(0, 3)], rng.uniform(90, 110, n)]), lines


def level(tin: Tin, x: float, y: float) -> float:
    return float(tin.level_at(np.array([x]), np.array([y]))[0])


def kept(tin: Tin, xyz: np.ndarray) -> np.ndarray:
    return np.setdiff1d(np.arange(len(xyz)), tin.doubles[:, 0])


@looks()
@settings(max_examples=examples(300))
@given(st.integers(0, 10**9))
def test_any_points_and_breaklines_give_a_sound_surface(seed):
    xyz, lines = made(seed)
    try:
        tin = build_tin(xyz, lines)
    except DesignInputError as e:
        assert "on one line" in e.message or seed % 6 == 3, e.message
        return
    looked()
    triangles = shapely.polygons(tin.xyz[tin.triangles][:, :, :2] - xyz[0, :2])
    hull = shapely.convex_hull(shapely.multipoints(xyz[:, :2] - xyz[0, :2]))
    # Side by side over the whole hull, counter-clockwise, none flat.
    assert shapely.is_ccw(shapely.get_exterior_ring(triangles)).all()
    assert shapely.union_all(triangles).area == pytest.approx(shapely.area(triangles).sum(), rel=1e-6)
    assert shapely.area(triangles).sum() == pytest.approx(hull.area, abs=0.005 * hull.length)
    # Every surveyed point has its level: the first of those at one place.
    mine = xyz[kept(tin, xyz)]
    assert tin.level_at(mine[:, 0].copy(), mine[:, 1].copy()) == pytest.approx(mine[:, 2], abs=2e-3)
    # Every breakline runs along edges: nothing of it lies more than two millimetres from one.
    edges = shapely.union_all(shapely.get_exterior_ring(triangles))
    for line in lines:
        drawn = shapely.linestrings(xyz[line, :2] - xyz[0, :2])
        along = shapely.line_interpolate_point(drawn, np.linspace(0, 1, 60), normalized=True)
        assert shapely.distance(along, edges).max() < 0.0025


@settings(max_examples=examples(60))
@given(st.integers(0, 10**9), st.randoms(use_true_random=False))
def test_the_order_of_points_and_breaklines_changes_no_point_and_no_level(seed, random):
    rng = np.random.default_rng(seed)
    n = int(rng.integers(8, 40))
    xyz = np.column_stack([rng.uniform(0, 100, (n, 2)), rng.uniform(90, 110, n)])
    lines = [rng.permutation(n)[: int(rng.integers(2, 6))] for _ in range(5)]
    order = rng.permutation(n)
    rank = np.argsort(order)
    again = [rank[line][:: random.choice([1, -1])] for line in random.sample(lines, len(lines))]
    one, other = build_tin(xyz, lines), build_tin(xyz[order], again)
    # The points of the surface, those that crossings add among them.
    a, b = (t.xyz[np.lexsort(t.xyz[:, :2].T.round(5))] for t in (one, other))
    assert a[:, :2] == pytest.approx(b[:, :2], abs=1e-6)
    # Where three lines all but meet, the mean may be taken in another order: 0.05 mm in 12 000 such sets.
    assert a[:, 2] == pytest.approx(b[:, 2], abs=2e-4)
    # How far apart their levels were there is only told, in centimetres.
    assert np.sort(one.apart_m) == pytest.approx(np.sort(other.apart_m), abs=2e-3)


def test_crossing_breaklines_meet_at_the_mean_of_their_levels_and_it_is_told_how_far_they_are_apart():
    xyz = np.array([(0, 0, 0), (10, 10, 10), (10, 0, 4), (0, 10, 4)], dtype=float)
    tin = build_tin(xyz, [np.array([0, 1]), np.array([2, 3])])
    assert level(tin, 5, 5) == pytest.approx(4.5) and tin.apart_m == pytest.approx([1.0]) and len(tin.xyz) == 5


def test_three_breaklines_through_one_place_meet_in_one_point():
    xyz = np.array([(0, 0, 0), (10, 10, 0), (10, 0, 3), (0, 10, 3), (5, 0, 6), (5, 10, 6)], dtype=float)
    tin = build_tin(xyz, [np.array(p) for p in ((0, 1), (2, 3), (4, 5))])
    assert level(tin, 5, 5) == pytest.approx(3.0) and tin.apart_m == pytest.approx([6.0])


def test_a_breakline_takes_the_level_of_a_point_it_runs_through():
    points = [(0, 10, 100.4), (0, 15, 102), (5, 10, 102.4), (10, 15, 101.7), (15, 0, 102.8)]
    for crossing in ([4, 1], [1, 4]):
        tin = build_tin(np.array(points, dtype=float), [np.array(crossing), np.array([3, 0])])
        assert level(tin, 5, 10) == 102.4


def test_strings_that_once_ended_in_an_error_of_the_library():
    plan = [(10, 5), (20, 20), (20, 5), (20, 0), (0, 20), (15, 5)]
    xyz = np.column_stack([np.array(plan, dtype=float), 100 + np.arange(6.0)])
    tin = build_tin(xyz, [np.array([0, 1]), np.array([3, 4, 5])])
    assert [level(tin, *p) for p in plan] == pytest.approx(xyz[:, 2].tolist())


def test_breaklines_that_cross_without_end_are_refused_with_the_number():
    n = 1500
    zigzag = np.arange(n) % 2
    one = np.column_stack([zigzag * 1000.0, np.arange(n) * 0.5, np.zeros(n)])
    other = np.column_stack([np.arange(n) * 0.5 + 0.13, zigzag * 800.0 + 0.1, np.zeros(n)])
    with pytest.raises(DesignInputError, match="cross more than 20000 times: check which column"):
        build_tin(np.concatenate([one, other]), [np.arange(n), n + np.arange(n)])


def test_two_rows_of_points_far_apart_need_no_more_memory_than_any_others():
    n = 3000
    row = np.column_stack([np.arange(n) * 1.0, np.zeros(n), np.zeros(n)])
    tin = build_tin(np.concatenate([row, row + [0.3, 1e6, 5.0]]))
    assert len(tin.cells.triangle) < 30 * len(tin.triangles)
    assert level(tin, 1500.0, 5e5) == pytest.approx(2.5, abs=0.01)
