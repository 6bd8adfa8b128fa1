"""Boundaries cut the ground where they are drawn, to the square millimetre, and move no level."""

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from shapely import STRtree, points
from shapely.geometry import MultiPoint, Polygon
from shapely.ops import unary_union

from delgrun.core.errors import DesignInputError
from delgrun.core.ground.mesh import Mesh
from delgrun.core.ground.outline import Outline, OutlineCorner, Ring, cut_out
from delgrun.core.ground.tiles import surface
from delgrun.core.ground.tin import Tin, build_tin
from laws import examples


def star(rng: np.random.Generator, middle, reach: float, count: int) -> np.ndarray:
    way = np.sort(rng.uniform(0, 2 * np.pi, count))
    radius = reach * rng.uniform(0.3, 1, count)
    return middle + np.column_stack([radius * np.cos(way), radius * np.sin(way)])


def ground(rng: np.random.Generator, count: int, lines: int = 0) -> Tin:
    plan = np.vstack([rng.uniform(0, 100, (count, 2)).round(2), [[0, 0], [100, 0], [100, 100], [0, 100]]])
    xyz = np.column_stack([plan + [500_000, 4_200_000], rng.normal(100, 2, len(plan))])
    return build_tin(xyz, [rng.choice(len(xyz), 3, replace=False) for _ in range(lines)])


def outlines(tin: Tin):
    return unary_union([Polygon(tin.xyz[t, :2]) for t in tin.triangles])


def steepest(tin: Tin, cut: Tin, at: np.ndarray) -> np.ndarray:
    """The steepest old ground beside each place, or beside a new corner of its triangle.

    An edge that passes a corner of a ring within a millimetre is led through it, so that the triangles at both its
    sides tilt by as much as a millimetre of the steeper one comes to.
    """
    corner = tin.xyz[tin.triangles]
    across = np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0])
    slope = np.hypot(across[:, 0], across[:, 1]) / across[:, 2]
    old, new = (STRtree([Polygon(t.xyz[c, :2]) for c in t.triangles]) for t in (tin, cut))

    def most(places: np.ndarray, tree: STRtree, values: np.ndarray) -> np.ndarray:
        out = np.zeros(len(places))
        who, triangle = tree.query(points(places), "dwithin", 2e-3)
        np.maximum.at(out, who, values[triangle])
        return out

    beside = most(cut.xyz[:, :2], old, slope)
    beside[: len(tin.xyz)] = 0
    return np.maximum(most(at, old, slope), most(at, new, beside[cut.triangles].max(axis=1)))


@settings(max_examples=examples(40))
@given(seed=st.integers(0, 10**6), count=st.sampled_from([0, 6, 60, 200]), on_points=st.booleans())
def test_what_is_left_is_the_ground_within_the_rings_at_its_own_levels(seed, count, on_points):
    rng = np.random.default_rng(seed)
    tin = ground(rng, count, lines=2 if count > 50 else 0)
    middle = np.array([500_050.0, 4_200_050.0])
    around, hole = star(rng, middle, 65, 9), star(rng, middle + rng.uniform(-20, 20, 2), 12, 6)
    if on_points:
        # As they are drawn: corners at surveyed points, sides along edges and through other points.
        own = tin.xyz[rng.choice(len(tin.xyz), min(7, len(tin.xyz)), replace=False), :2]
        around = np.array(MultiPoint(own).convex_hull.exterior.coords)[:-1]
    assume(Polygon(around).is_valid and Polygon(around).area >= 1 and Polygon(hole).is_valid)
    island = hole.mean(axis=0) + (hole - hole.mean(axis=0)) / 3
    rings = [Ring(1, "outer", around), Ring(2, "hole", hole), Ring(3, "island", island)]
    square = Polygon([(500_000, 4_200_000), (500_100, 4_200_000), (500_100, 4_200_100), (500_000, 4_200_100)])
    wanted = Polygon(around).intersection(square).difference(Polygon(hole).difference(Polygon(island)))
    assume(wanted.area >= 1)
    cut = cut_out(tin, rings)
    # A side that passes a point within a millimetre is led through it.
    allowed = 2e-3 * (Polygon(around).length + 2 * Polygon(hole).length)
    assert surface(cut).plan_area_m2 == pytest.approx(wanted.area, abs=allowed)
    assert outlines(cut).symmetric_difference(wanted).area < allowed
    at = np.column_stack([rng.uniform(500_000, 500_100, 400), rng.uniform(4_200_000, 4_200_100, 400)])
    level, was = cut.level_at(*at.T), tin.level_at(*at.T)
    there = ~np.isnan(level)
    assert (np.abs(level - was) - 2e-3 * (1 + steepest(tin, cut, at)))[there].max(initial=-1) < 0
    # Sound for changes by hand: every edge has at most two triangles, each turned the right way.
    Mesh(cut)
    corner = cut.xyz[cut.triangles]
    u, v = corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]
    assert (u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0] > 0).all()
    pairs = np.sort(np.concatenate([cut.triangles[:, [0, 1]], cut.triangles[:, [1, 2]], cut.triangles[:, [2, 0]]]))
    assert np.unique(pairs, axis=0, return_counts=True)[1].max() <= 2
    # Breaklines inside are still there; those within a millimetre of a ring may be or not.
    length = np.hypot(*(cut.xyz[cut.edges[:, 0], :2] - cut.xyz[cut.edges[:, 1], :2]).T).sum()
    most, least = (sum(wanted.buffer(by).intersection(line).length for line in _lines(tin)) for by in (2e-3, -2e-3))
    assert least - 0.05 < length < most + 0.05


def _lines(tin: Tin):
    from shapely.geometry import LineString

    return [LineString(tin.xyz[e, :2]) for e in tin.edges]


def test_a_hole_alone_leaves_the_rest_as_it_is_and_nothing_left_is_refused():
    tin = ground(np.random.default_rng(1), 300)
    hole = Ring(1, "hole", np.array([[500_040, 4_200_040], [500_060, 4_200_040], [500_050, 4_200_057.0]]))
    cut = cut_out(tin, [hole])
    assert surface(cut).plan_area_m2 == pytest.approx(10_000 - 170, abs=0.1)
    assert np.isnan(cut.level_at(np.array([500_050.0]), np.array([4_200_045.0]))[0])
    assert cut_out(tin, []) is tin
    away = Ring(1, "outer", np.array([[0.0, 0], [1, 0], [0, 1]]))
    with pytest.raises(DesignInputError, match="no ground is left"):
        cut_out(tin, [away])


@pytest.mark.parametrize(
    ("corners", "why"),
    [
        ([(0, 0), (9, 9)], "has 2 corners"),
        ([(0, 0), (9, 9), (9, 0), (0, 9)], "crosses itself after its corner at E 0.00 m, N 0.00 m"),
        ([(0, 0), (9, 0), (9, 0), (0, 9)], "crosses itself"),
    ],
)
def test_what_is_no_ring_is_refused(corners, why):
    rows = tuple(OutlineCorner(ring=3, what="hole", easting_m=float(e), northing_m=float(n)) for e, n in corners)
    with pytest.raises(DesignInputError, match=why):
        Outline(rows=rows).check()
