"""Lines fitted to points: elements come back in number and radius, and the points scatter by what they were given."""

import numpy as np
import pytest

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.fitting import fit_line
from delgrun.core.centreline.segments import noise_of, segments
from delgrun.core.errors import DesignInputError
from roads import scattered, winding


def kinds(line: Centreline) -> list[str]:
    return [e.kind for e in line.elements]


# Of a hundred such roads 90 come back so; `benchmarks/fit.py` tells of all of them.
@pytest.mark.parametrize("seed", [0, 3, 6])
def test_elements_come_back_from_points_that_scatter_by_a_decimetre(seed):
    line = winding(seed)
    points = scattered(line, 5.0, 0.1, seed)
    found = fit_line(points)
    made = Centreline(found.ips)
    assert kinds(made) == kinds(line)
    for b, a in zip(made.bends, line.bends, strict=True):
        assert b.radius_m == pytest.approx(a.radius_m, rel=0.02)
    assert found.noise_m == pytest.approx(0.1, rel=0.25) and found.rms_m == pytest.approx(0.1, rel=0.2)
    # What is stated is what an independent look finds: the furthest point from the made line.
    dense = made.line.at(np.arange(0, made.length_m, 0.05))
    away = [np.hypot(dense.easting_m - e, dense.northing_m - n).min() for e, n in points[5:-5:7]]
    assert max(away) <= found.deviation_m + 1e-3


def test_vertices_that_lie_on_a_line_give_that_line():
    line = winding(4, bends=3)
    made = Centreline(fit_line(scattered(line, 10.0, 0.0, 0)).ips)
    assert kinds(made) == kinds(line)
    s = np.linspace(0, line.length_m, 300)
    at = line.line.at(s)
    beside = made.line.nearest(at.easting_m, at.northing_m)
    assert np.abs(beside.offset_m).max() < 0.01


def test_straights_corners_and_circles_of_few_points():
    straight = fit_line(np.array([[0, 0], [100, 0.01], [250, 0], [400, 0]], dtype=float))
    assert len(straight.ips) == 2 and straight.deviation_m < 0.02
    s = np.arange(0, 300, 10.0)
    corner = np.concatenate([np.column_stack([s, 0 * s]), np.column_stack([290 + 0 * s[1:], s[1:]])])
    made = Centreline(fit_line(corner).ips)
    assert len(made.bends) == 1 and made.bends[0].deflection == pytest.approx(-np.pi / 2, abs=0.02)
    turn = np.linspace(0, 1.2, 60)
    arc = np.column_stack([80 * np.sin(turn), 80 * (1 - np.cos(turn))])
    (bend,) = Centreline(fit_line(arc).ips).bends
    assert bend.radius_m == pytest.approx(80, rel=1e-3)


def test_the_noise_is_seen_through_bends_and_uneven_spacing():
    rng = np.random.default_rng(1)
    line = winding(2)
    s = np.sort(rng.uniform(0, line.length_m, 500))
    at = line.line.at(s)
    points = np.column_stack([at.easting_m, at.northing_m]) + rng.normal(0, 0.2, (500, 2))
    assert noise_of(points) == pytest.approx(0.2, rel=0.2)
    # Pieces follow one another, and none is shorter than two points.
    pieces = segments(points, 0.2)
    assert [p.first for p in pieces[1:]] == [p.last + 1 for p in pieces[:-1]]
    assert pieces[0].first == 0 and pieces[-1].last == 499


def test_no_line_is_a_sentence():
    with pytest.raises(DesignInputError, match="fewer than two places"):
        fit_line(np.array([[5.0, 5.0], [5.0, 5.0]]))
    with pytest.raises(DesignInputError, match="thin it"):
        fit_line(np.column_stack([np.arange(30_000.0), np.zeros(30_000)]))
