"""The ground model and what the line meets of it (reference values, section 8), against brute force and scipy."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import LinearNDInterpolator

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.errors import DesignInputError
from delgrun.core.ground.along import ground_sections, long_section
from delgrun.core.ground.tin import Tin, build_tin
from laws import examples
from reference import VALUES


def scatter(n: int, seed: int, size: float = 100.0) -> np.ndarray:
    rng = np.random.default_rng(seed)
    xy = rng.uniform(0, size, (n, 2))
    return np.column_stack([xy, 5 * np.sin(xy[:, 0] / 17) + 3 * np.cos(xy[:, 1] / 11)])


def test_plane_is_met_exactly_and_nothing_is_extrapolated():
    want = VALUES["8.1"]
    xyz = scatter(300, 1)
    xyz[:, 2] = 50 + 0.02 * xyz[:, 0] - 0.045 * xyz[:, 1]
    tin = build_tin(xyz)
    assert tin.level_at(*np.array(want["at"]).reshape(2, 1))[0] == pytest.approx(want["level_m"], abs=0.0005)
    assert np.isnan(tin.level_at(np.array([-5.0, 150.0]), np.array([50.0, 50.0]))).all()


def test_a_breakline_changes_the_surface():
    want = VALUES["8.4"]
    xyz = np.array(want["points"], dtype=float)
    at = (np.array([5.0]), np.array([5.0]))
    assert build_tin(xyz, [np.array([0, 2])]).level_at(*at)[0] == pytest.approx(want["first_to_third"], abs=0.0001)
    assert build_tin(xyz, [np.array([1, 3])]).level_at(*at)[0] == pytest.approx(want["second_to_fourth"], abs=0.0001)


def test_surface_equals_scipys_delaunay():
    # No breaklines: the Delaunay triangulation of points in general position is unique.
    xyz = scatter(2000, 2)
    tin = build_tin(xyz)
    at = np.random.default_rng(3).uniform(5, 95, (3000, 2))
    want = LinearNDInterpolator(xyz[:, :2], xyz[:, 2])(at)
    assert tin.level_at(at[:, 0].copy(), at[:, 1].copy()) == pytest.approx(want, abs=1e-6)


def test_duplicates_bad_numbers_and_bays():
    xyz = scatter(200, 4)
    twice = build_tin(np.vstack([xyz, xyz[:10]]), [np.array([200, 5])])
    assert twice.doubles.tolist() == [[200 + i, i] for i in range(10)]
    with pytest.raises(DesignInputError, match="Point 3 has a coordinate"):
        build_tin(np.where(np.arange(200)[:, None] == 2, np.nan, xyz))
    with pytest.raises(DesignInputError, match="on one line"):
        build_tin(np.column_stack([np.arange(5.0), np.arange(5.0), np.arange(5.0)]))
    # A U-shaped survey: the bay between its arms has no ground once long outer edges go.
    u = np.array([(x, y, 1.0) for x in range(0, 100, 5) for y in range(0, 100, 5) if y < 20 or x < 20 or x > 80])
    bay = (np.array([50.0]), np.array([60.0]))
    assert build_tin(u).level_at(*bay)[0] == 1.0
    assert np.isnan(build_tin(u, longest_edge_m=15.0).level_at(*bay)[0])


def crossings_by_hand(tin: Tin, line: Centreline) -> np.ndarray:
    """Chainages at which the line crosses an edge of any triangle, element by element, edge by edge."""
    edges = {tuple(sorted((int(t[k]), int(t[(k + 1) % 3])))) for t in tin.triangles for k in range(3)}
    a = tin.xyz[[e[0] for e in edges], :2]
    d = tin.xyz[[e[1] for e in edges], :2] - a
    found = []
    for e in line.elements:
        p = np.array([e.easting_m, e.northing_m])
        if e.curvature == 0:
            u = np.array([np.cos(e.direction), np.sin(e.direction)])
            with np.errstate(divide="ignore", invalid="ignore"):
                cross = d[:, 0] * u[1] - d[:, 1] * u[0]
                t = ((p - a)[:, 0] * u[1] - (p - a)[:, 1] * u[0]) / cross
                s = ((p - a)[:, 0] * d[:, 1] - (p - a)[:, 1] * d[:, 0]) / cross
            keep = (np.abs(cross) > 1e-12) & (t >= -1e-12) & (t <= 1 + 1e-12) & (s >= 0) & (s <= e.length_m)
            found += (e.from_chainage_m + s[keep]).tolist()
            continue
        radius, side = 1 / abs(e.curvature), np.sign(e.curvature)
        centre = p + side * radius * np.array([-np.sin(e.direction), np.cos(e.direction)])
        f = a - centre
        qa, qb, qc = (d**2).sum(1), (f * d).sum(1), (f**2).sum(1) - radius**2
        root = qb**2 - qa * qc
        for sign in (-1, 1):
            t = (-qb + sign * np.sqrt(np.maximum(root, 0))) / qa
            on = f + t[:, None] * d
            start = np.arctan2(*(p - centre)[::-1])
            turn = (side * (np.arctan2(on[:, 1], on[:, 0]) - start)) % (2 * np.pi)
            keep = (root >= 0) & (t >= 0) & (t <= 1) & (turn * radius <= e.length_m)
            found += (e.from_chainage_m + turn[keep] * radius).tolist()
    return np.sort(found)


def line_through(*rows: tuple[float, float, float]) -> Centreline:
    return Centreline([CentrelineIp(easting_m=e, northing_m=n, radius_m=r) for e, n, r in rows])


@settings(max_examples=examples(25))
@given(st.integers(0, 10_000))
def test_ground_along_tangents_and_arcs_is_cut_at_every_edge(seed):
    tin = build_tin(scatter(250, seed))
    line = line_through((20, 15, 0), (50, 70, 22), (80, 20, 0))
    got = long_section(tin, line)
    want = crossings_by_hand(tin, line)
    # Every crossing of ours is one by hand (or an element's end), and none is missed.
    ends = np.array([0.0, *line.critical_chainages, line.length_m])
    for s in got.chainage_m:
        assert np.abs(np.concatenate([want, ends]) - s).min() < 1e-5
    for s in want:
        assert np.abs(got.chainage_m - s).min() < 1e-5
    e, n, _ = line.locate(got.chainage_m)
    assert got.level_m == pytest.approx(tin.level_at(e, n), abs=1e-5)


def grid(step: float = 10.0, size: int = 11) -> Tin:
    x, y = np.meshgrid(np.arange(size) * step, np.arange(size) * step)
    return build_tin(np.column_stack([x.ravel(), y.ravel(), 0.02 * x.ravel() * y.ravel()]))


def test_ground_through_vertices_and_along_edges():
    tin = grid()
    along = long_section(tin, line_through((0, 50, 0), (100, 50, 0)))
    assert along.chainage_m == pytest.approx(np.arange(11) * 10.0)
    assert along.level_m == pytest.approx(0.02 * np.arange(11) * 10.0 * 50.0)
    diagonal = long_section(tin, line_through((0, 0, 0), (100, 100, 0)))
    # Through every vertex on the way, with or without the diagonals as edges: levels there are exact.
    for k in range(11):
        i = int(np.abs(diagonal.chainage_m - k * 10 * np.sqrt(2)).argmin())
        assert diagonal.chainage_m[i] == pytest.approx(k * 10 * np.sqrt(2), abs=1e-6)
        assert diagonal.level_m[i] == pytest.approx(0.02 * (k * 10) ** 2, abs=1e-6)


def test_sections_run_left_to_right_and_stop_where_the_ground_stops():
    # Ground rises to the north; travelling east, left is north.
    xyz = scatter(400, 6)
    xyz[:, 2] = xyz[:, 1]
    tin = build_tin(np.vstack([xyz, [(0, 0, 0), (100, 0, 0), (0, 100, 100), (100, 100, 100)]]))
    cut = ground_sections(tin, line_through((10, 30, 0), (90, 30, 0)), np.array([40.0]), 60.0)
    offset, level = cut.one(0)
    assert (np.diff(offset) > 0).all() and offset[0] == pytest.approx(-60) and offset[-1] == pytest.approx(30)
    assert level == pytest.approx(30 - offset, abs=1e-6)
    assert cut.centre_level_m[0] == pytest.approx(30.0)


def test_gaps_of_the_ground_are_kept():
    left, right = scatter(150, 7, 40.0), scatter(150, 8, 40.0) + [60.0, 0.0, 0.0]
    tin = build_tin(np.vstack([left, right]), longest_edge_m=12.0)
    got = long_section(tin, line_through((5, 20, 0), (95, 20, 0)))
    gaps = np.flatnonzero(got.after_gap)
    assert len(gaps) == 2 and got.chainage_m[gaps[1]] - got.chainage_m[gaps[1] - 1] > 15


def test_real_elevations():
    """The elevation set that matplotlib ships: 344 x 403 cells, here as a ground of 25 000 points."""
    from matplotlib import cbook

    with cbook.get_sample_data("jacksboro_fault_dem.npz") as data:
        dem = data["elevation"][:160, :160].astype(float)
    x, y = np.meshgrid(np.arange(160) * 30.0, np.arange(160) * 30.0)
    tin = build_tin(np.column_stack([x.ravel(), y.ravel(), dem.ravel()]))
    assert len(tin.triangles) == 2 * 159 * 159
    line = line_through((300, 300, 0), (2500, 2000, 400), (4400, 4300, 0))
    got = long_section(tin, line)
    assert not got.after_gap[1:].any() and got.chainage_m[-1] == pytest.approx(line.length_m, abs=1e-4)
    e, n, _ = line.locate(got.chainage_m)
    assert got.level_m == pytest.approx(tin.level_at(e, n), abs=1e-4)
    assert len(got.chainage_m) == pytest.approx(len(np.unique(np.round(crossings_by_hand(tin, line), 4))), abs=6)
