"""Changes of the ground by hand: each is the surface that building it anew would give, and its index finds all."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from shapely.geometry import LineString

from delgrun.core.ground import edits
from delgrun.core.ground.edits import Edited, GroundChange, GroundEdit, What, as_built
from delgrun.core.ground.mesh import Mesh
from delgrun.core.ground.patches import off_edge
from delgrun.core.ground.tin import Tin, build_tin
from laws import examples


def change(what: What, *points: tuple[float, float, float], new: float | None = None) -> GroundChange:
    rows = (GroundEdit(what=what, easting_m=e, northing_m=n, level_m=z, new_level_m=new) for e, n, z in points)
    return GroundChange(rows=tuple(rows))


def edited(tin: Tin, changes: list[GroundChange], longest_m: float, xyz: np.ndarray) -> Edited:
    """All at once, and one on top of the other: the same surface; the one before stays what it was."""
    was = [a.copy() for a in (tin.xyz, tin.row, tin.triangles, tin.cells.triangle)]
    whole = edits.edited(as_built(tin), changes, longest_m, lambda: xyz)
    steps = as_built(tin)
    for one in changes:
        steps = edits.edited(steps, [one], longest_m, lambda: xyz)
    assert (
        corners(steps.tin) == corners(whole.tin) and steps.idle == whole.idle and steps.of.tolist() == whole.of.tolist()
    )
    now = (tin.xyz, tin.row, tin.triangles, tin.cells.triangle)
    assert all(np.array_equal(a, b) for a, b in zip(was, now, strict=True))
    return whole


def corners(tin: Tin) -> set[frozenset[tuple[float, float, float]]]:
    return {frozenset(map(tuple, tin.xyz[t].round(6).tolist())) for t in tin.triangles}


def is_sound(tin: Tin) -> None:
    p = tin.xyz[tin.triangles]
    ab, ac = p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]
    assert (ab[:, 0] * ac[:, 1] - ab[:, 1] * ac[:, 0] > 0).all()
    sides = np.concatenate([tin.triangles[:, [0, 1]], tin.triangles[:, [1, 2]], tin.triangles[:, [2, 0]]])
    # No two triangles run through an edge in one sense: none overlap.
    assert len(np.unique(sides, axis=0)) == len(sides)
    # The index finds what a fresh one finds.
    fresh = Tin(tin.xyz, tin.triangles, tin.doubles, tin.apart_m, tin.row, tin.edges)
    at = p.mean(axis=1)
    # A place far from the origin is rounded by a nanometre, which shows on slivers as steep as walls.
    up = np.cross(ab, ac)
    off = 1e-6 + 5e-9 * np.hypot(up[:, 0], up[:, 1]) / up[:, 2]
    for which in (tin, fresh):
        assert (np.abs(which.level_at(at[:, 0].copy(), at[:, 1].copy()) - at[:, 2]) <= off).all()


def area(tin: Tin) -> float:
    p = tin.xyz[tin.triangles][:, :, :2]
    ab, ac = p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]
    return float((ab[:, 0] * ac[:, 1] - ab[:, 1] * ac[:, 0]).sum() / 2)


@settings(max_examples=examples(40))
@given(seed=st.integers(0, 10**6), at=st.sampled_from([(0.0, 0.0), (500_000.0, 4_200_000.0)]))
def test_points_taken_out_leave_the_surface_of_the_others(seed, at):
    rng = np.random.default_rng(seed)
    xyz = np.column_stack([rng.uniform(0, 100, (60, 2)) + at, rng.uniform(90, 110, 60)])
    line = rng.permutation(60)[:4]
    tin = build_tin(xyz, [line])
    out = rng.permutation([i for i in range(60) if i not in line])[:12]
    made = edited(tin, [change("exclude", tuple(xyz[i])) for i in out], 0.0, xyz)
    assert made.idle == []
    rest = np.delete(np.arange(60), out)
    rank = {int(r): i for i, r in enumerate(rest)}
    anew = build_tin(xyz[rest], [np.array([rank[int(i)] for i in line])])
    is_sound(made.tin)
    assert corners(made.tin) == corners(anew)


@settings(max_examples=examples(40))
@given(seed=st.integers(0, 10**6))
def test_breaklines_put_in_by_hand_are_those_of_a_survey_that_has_them(seed):
    rng = np.random.default_rng(seed)
    xyz = np.column_stack([rng.uniform(0, 100, (50, 2)), rng.uniform(90, 110, 50)])
    first, second = rng.permutation(50)[:3], rng.permutation(50)[:3]
    tin = build_tin(xyz, [first])
    made = edited(tin, [change("breakline", *(tuple(xyz[i]) for i in second))], 0.0, xyz)
    anew = build_tin(xyz, [first, second])
    assert made.idle == []
    is_sound(made.tin)
    assert area(made.tin) == pytest.approx(area(anew), rel=1e-9)
    # Same points, those where the breaklines cross among them. Where they cross more than once, the second level is
    # that of a line which runs through the first crossing by then.
    a, b = (t.xyz[np.lexsort(t.xyz[:, :2].T.round(3))] for t in (made.tin, anew))
    assert a[:, :2] == pytest.approx(b[:, :2], abs=2e-3)
    legs = [[LineString(xyz[[p, q], :2]) for p, q in pairwise(line)] for line in (first, second)]
    if sum(one.crosses(other) for one in legs[0] for other in legs[1]) == 1:
        assert a[:, 2] == pytest.approx(b[:, 2], abs=2e-3)
    # Every piece of the line is an edge.
    for p, q in pairwise(second):
        for share in np.linspace(0.05, 0.95, 19):
            place = xyz[p, :2] + share * (xyz[q, :2] - xyz[p, :2])
            assert min(off_edge(made.tin.xyz[edge, :2], place) for edge in made.tin.edges) < 2e-3


def test_an_edge_is_swapped_and_the_contour_with_it():
    square = np.array([[0.0, 0, 10], [10, 0.5, 0], [10, 10, 10], [0, 9.5, 0]])
    tin = build_tin(square)
    middle = np.array([5.0]), np.array([5.0])
    ridge = abs(tin.level_at(*middle)[0] - 10) < 0.5
    ends = (square[1], square[3]) if ridge else (square[0], square[2])
    made = edited(tin, [change("edge", *map(tuple, ends))], 0.0, square)
    is_sound(made.tin)
    assert abs(made.tin.level_at(*middle)[0] - (0 if ridge else 10)) < 0.5
    # Taken back: the surface is what it was.
    assert corners(edited(tin, [], 0.0, square).tin) == corners(tin)


def test_levels_doubles_triangles_and_what_is_not_there():
    e, n = (v.ravel() for v in np.meshgrid(np.arange(0.0, 50, 10), np.arange(0.0, 50, 10)))
    xyz = np.column_stack([e + n / 100, n, e + n])
    xyz = np.concatenate([xyz, [[*xyz[12, :2], 99.0]]])
    tin = build_tin(xyz)
    at = xyz[12, :1].copy(), xyz[12, 1:2].copy()
    made = edited(tin, [change("level", tuple(xyz[12]), new=45.5)], 0.0, xyz)
    assert made.tin.level_at(*at)[0] == pytest.approx(45.5) and len(made.touched_m) == 1
    # The point behind it stands there once the first is out, and none once both are.
    made = edited(tin, [change("exclude", tuple(xyz[12]))], 0.0, xyz)
    assert made.tin.level_at(*at)[0] == pytest.approx(99.0) and made.tin.row[12] == 25
    both = [change("exclude", tuple(xyz[25])), change("exclude", tuple(xyz[12]))]
    made = edited(tin, both, 0.0, xyz)
    assert made.tin.level_at(*at)[0] == pytest.approx(40.0, abs=0.5) and made.idle == []
    made = edited(tin, [change("drop", (12.0, 11.0, 0.0))], 0.0, xyz)
    assert np.isnan(made.tin.level_at(np.array([12.0]), np.array([11.0]))[0])
    assert area(tin) - area(made.tin) == pytest.approx(50.0, rel=0.02)
    made = edited(tin, [change("exclude", (500.0, 5.0, 1.0)), change("keep", tuple(xyz[3]))], 0.0, xyz)
    assert made.idle == [(0, "There is no surveyed point of level 1.000 m at E 500.00 m, N 5.00 m.")]
    assert corners(made.tin) == corners(tin)


def test_a_point_taken_out_of_the_outline_leaves_no_long_triangles():
    rng = np.random.default_rng(3)
    strip = np.column_stack([rng.uniform(0, 400, 900), rng.uniform(0, 40, 900), np.zeros(900)])
    tin = build_tin(strip, [], 15.0)
    mesh = Mesh(tin)
    outline = next(
        v
        for v in range(900)
        if any(len(mesh.across(v, u)) == 1 for t in mesh.star(v) for u in mesh.corners(t) if u != v)
    )
    made = edited(tin, [change("exclude", tuple(strip[outline]))], 15.0, strip).tin
    is_sound(made)
    sides = np.concatenate([made.triangles[:, [0, 1]], made.triangles[:, [1, 2]], made.triangles[:, [2, 0]]])
    edge, times = np.unique(np.sort(sides, axis=1), axis=0, return_counts=True)
    outer = edge[times == 1]
    assert np.hypot(*(made.xyz[outer[:, 0], :2] - made.xyz[outer[:, 1], :2]).T).max() <= 15.0


@settings(max_examples=examples(60))
@given(seed=st.integers(0, 10**6))
def test_a_breaklines_point_taken_out_leaves_the_surface_that_building_anew_gives(seed):
    """Also where the breakline had kept points apart that see each other now."""
    rng = np.random.default_rng(seed)
    n = int(rng.integers(6, 40))
    xyz = np.column_stack([rng.uniform(0, 100, (n, 2)), rng.uniform(90, 110, n)])
    line = rng.permutation(n)[:3]
    tin = build_tin(xyz, [line])
    assume(len(tin.xyz) == n)
    made = edited(tin, [change("exclude", tuple(xyz[line[1]]))], 0.0, xyz)
    rest = np.delete(np.arange(n), line[1])
    rank = {int(r): i for i, r in enumerate(rest)}
    anew = build_tin(xyz[rest], [np.array([rank[int(line[0])], rank[int(line[2])]])])
    is_sound(made.tin)
    assert made.idle == [] and corners(made.tin) == corners(anew)


def test_the_counterexample_of_a_breaklines_point():
    xyz = np.array([(13, 14, 7), (7, 1, 5), (11, 12, 0), (11, 1, 8), (6, 1, 8), (17, 0, 7)], dtype=float)
    made = edited(build_tin(xyz, [np.array([5, 1, 0])]), [change("exclude", (7.0, 1.0, 5.0))], 0.0, xyz)
    anew = build_tin(np.delete(xyz, 1, axis=0), [np.array([4, 0])])
    at = np.array([12.36]), np.array([9.51])
    assert made.tin.level_at(*at)[0] == pytest.approx(anew.level_at(*at)[0], abs=1e-9)


def test_a_way_that_ends_across_a_hole_or_a_trimmed_edge_changes_nothing_and_the_ground_opens():
    """Random triangles dropped, then edges and breaklines between random points: what is told to be impossible leaves
    the surface as it was, and nothing raises."""
    rng = np.random.default_rng(11)
    e, n = (v.ravel() for v in np.meshgrid(np.arange(0.0, 50, 10), np.arange(0.0, 50, 10)))
    xyz = np.column_stack([e, n, 5 + 0.1 * np.arange(25)])
    tin = build_tin(xyz)
    named = edited(
        tin, [change("drop", (9.106, 18.211, 0.0)), change("edge", (0.0, 0.0, 5.0), (10.0, 20.0, 6.1))], 0.0, xyz
    )
    assert [k for k, _ in named.idle] == [1] and "no ground along some of that line" in named.idle[0][1]
    refused = done = 0
    for _ in range(150):
        drops = [change("drop", (*rng.uniform(0, 40, 2), 0.0)) for _ in range(int(rng.integers(1, 4)))]
        holed = edited(tin, drops, 0.0, xyz)
        a, b = rng.permutation(25)[:2]
        what: What = "edge" if rng.random() < 0.5 else "breakline"
        made = edits.edited(holed, [change(what, tuple(xyz[a]), tuple(xyz[b]))], 0.0, lambda: xyz)
        is_sound(made.tin)
        if any(k == len(drops) for k, _ in made.idle):
            refused += 1
            assert corners(made.tin) == corners(holed.tin)
        else:
            done += 1
            assert area(made.tin) == pytest.approx(area(holed.tin), rel=1e-9)
    assert refused > 20 and done > 20


@settings(max_examples=examples(30))
@given(seed=st.integers(0, 10**6))
def test_breaklines_of_a_surface_are_edges_of_its_triangles(seed):
    """Also where triangles were trimmed or dropped."""
    rng = np.random.default_rng(seed)
    xyz = np.column_stack([rng.uniform(0, 100, (60, 2)), rng.uniform(90, 110, 60)])
    tin = build_tin(xyz, [rng.permutation(60)[:5]], float(rng.uniform(10, 40)))
    assume(len(tin.triangles))
    drops = [
        change("drop", (*tin.xyz[tin.triangles[k], :2].mean(axis=0), 0.0)) for k in range(0, len(tin.triangles), 9)
    ]
    for of in (tin, edited(tin, drops, 0.0, xyz).tin):
        sides = {frozenset(pair) for t in of.triangles.tolist() for pair in ((t[0], t[1]), (t[1], t[2]), (t[2], t[0]))}
        assert all(frozenset(edge) in sides for edge in of.edges.tolist())
