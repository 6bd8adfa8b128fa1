"""What the shortest curve and the spacing of IPs forbid: against enumeration, lines, and what lines cost."""

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import linprog

from delgrun.core.search.bound import lower_bound, raised
from delgrun.core.search.cuts import AllowedCurves, broken_cuts, most_of_road, slope_changes
from delgrun.core.search.dual import level_box
from delgrun.core.search.problem import SearchProblem
from delgrun.core.search.rows import free_curve_rows
from delgrun.core.search.search import search
from family import dearer, made, turned
from grounds import shortened
from independent import by_highs
from laws import examples


def hats(at: np.ndarray, a: float, b: float) -> np.ndarray:
    """Integrals over a .. b of the hats about the inner points, by many small steps."""
    t = np.linspace(a, b, 4001)
    out = []
    for k in range(1, len(at) - 1):
        hat = np.interp(t, at[k - 1 : k + 2], [0.0, 1.0, 0.0], left=0.0, right=0.0)
        out.append(np.trapezoid(hat, t))
    return np.array(out)


def some_points(rng: np.random.Generator) -> np.ndarray:
    return np.concatenate([[0.0], np.cumsum(rng.choice([4.0, 10.0, 13.7], 9))])


def some_curves(rng: np.random.Generator, at: np.ndarray, b: AllowedCurves) -> list[tuple[float, float, float]]:
    """(from, to, share of the sharpest rate) of curves that keep the least length and the spacing of their IPs, which
    stand anywhere in them, one after another; the first and the last may reach beyond the points."""
    out, end, ip = [], at[0] - rng.uniform(0, 2 * b.apart_m), -np.inf
    while end < at[-1]:
        length, share = b.least_m * rng.choice([1.0, rng.uniform(1, 2.5)]), rng.choice([0.5, rng.uniform(0, 1)])
        begin = max(end, ip + b.apart_m - share * length) + rng.choice([0.0, rng.uniform(0, 15)])
        end, ip = begin + length, begin + share * length
        out.append((max(begin, at[0]), min(end, at[-1]), rng.choice([-1.0, 1.0, rng.uniform(-1, 1)])))
    return [c for c in out if c[1] > c[0]]


def changes_by(at: np.ndarray, curves: list[tuple[float, float, float]], b: AllowedCurves) -> np.ndarray:
    return sum((hats(at, *c[:2]) * c[2] * (b.sag if c[2] > 0 else b.crest) for c in curves), np.zeros(len(at) - 2))


@given(st.integers(0, 100_000))
def test_no_line_makes_more_of_any_weights_than_the_cut_allows(seed):
    rng = np.random.default_rng(seed)
    at, least = some_points(rng), float(rng.choice([6.0, 20.0, 45.0]))
    allowed = AllowedCurves(least, least * float(rng.choice([1.0, 1.3, 2.5])), 1 / 1700, 1 / 900)
    v = rng.normal(size=len(at) - 2)
    most = most_of_road(at, v, allowed)
    assert v @ changes_by(at, some_curves(rng, at, allowed), allowed) <= most + 1e-7
    # And what every change alone may be is never less.
    width = (np.diff(at)[1:] + np.diff(at)[:-1]) / 2
    assert most <= np.sum(np.maximum(v * allowed.sag, -v * allowed.crest) * width) * 1.01 + 1e-9


@pytest.mark.parametrize("apart", [14.0, 22.0, 31.0])
def test_the_most_is_what_trying_all_curves_finds(apart):
    """Every set of curves with ends on a grid of 2 m, of a road of 64 m: the best that ends with each curve."""
    at = np.linspace(0, 64, 9)
    b = AllowedCurves(14.0, apart, 1 / 1000, 1 / 600)
    ends = np.arange(0, 65, 2.0)
    for seed in range(6):
        v = np.random.default_rng(seed).normal(size=7)
        curves = [(i, j) for i in ends for j in ends if j - i >= b.least_m or (i < j and (i == 0 or j == ends[-1]))]
        best: dict[tuple[float, float], float] = {}
        for i, j in sorted(curves, key=lambda c: c[1]):
            worth = float(v @ hats(at, i, j))
            before = 0.0
            for (k, m), had in best.items():
                loose = k == 0 or j == ends[-1]
                # Wherever within them their IPs stand.
                if m <= i and (loose or j - k >= apart):
                    before = max(before, had)
            best[i, j] = before + max(worth * b.sag, -worth * b.crest)
        most = most_of_road(at, v, b)
        # Ends between the points of the coarse grid can make a little more; where one of two curves is long and the
        # other short, the method lets them come closer than they may.
        assert max(best.values()) <= most + 1e-9
        assert most <= max(best.values()) * 1.08


@settings(max_examples=examples(25))
@given(st.integers(0, 100_000))
def test_cuts_are_broken_by_the_curve_they_are_made_for_and_by_no_line(seed):
    rng = np.random.default_rng(seed)
    at = np.arange(0, 400.0, 10.0) + np.concatenate([[0.0], rng.uniform(-2, 2, 38), [0.0]])
    allowed = AllowedCurves(60.0, float(rng.choice([60.0, 85.0])), 1 / 1700, 1 / 900)
    wild = rng.choice([-allowed.crest, allowed.sag], len(at) - 2) * 10
    found = broken_cuts(at, wild, allowed)
    assert found
    line = changes_by(at, some_curves(rng, at, allowed), allowed)
    for first, v, most in found:
        window = slice(first - 1, first - 1 + len(v))
        assert v @ wild[window] > most
        assert v @ line[window] <= most + 1e-7


def test_bound_is_raised_where_curves_are_long_and_stays_below_every_line():
    p = shortened("gentle", 90)
    base = lower_bound(p)
    steps = [b.lower_bound for b in raised(p, base, lambda: False)]
    assert all(a < b for a, b in pairwise([base.lower_bound, *steps]))
    # What cuts brought in the trial of the method is 1.18 % on the whole of this ground.
    assert steps[-1] > 1.008 * by_highs(p)
    assert steps[-1] <= search(p, lambda *_: None, lambda: False).best.cost


@pytest.mark.parametrize("seed", [4, 12, 35, 57])
def test_bound_is_the_same_for_the_road_turned_round_and_grows_with_the_unit_costs(seed):
    name, p = made(seed, 60)
    bound = lower_bound(p).lower_bound
    dear = dearer(p.cost, 10)
    assert lower_bound(replace(p, cost=dear)).lower_bound == pytest.approx(10 * bound, rel=2e-4), name
    assert lower_bound(turned(p)).lower_bound == pytest.approx(bound, rel=2e-4), name


def can_be_kept(p: SearchProblem) -> bool:
    """Whether a linear program finds a free curve within the limits."""
    rows, n = free_curve_rows(p), len(p.chainage_m)
    full = np.zeros((len(rows.rhs), n))
    for r in range(len(rows.rhs)):
        on = rows.col[r] >= 0
        full[r, rows.col[r][on]] += rows.val[r][on]
    low, high = level_box(p)
    return linprog(np.zeros(n), A_ub=full, b_ub=rows.rhs, bounds=np.c_[low, high], method="highs").status == 0


@pytest.mark.parametrize("seed", [2, 13, 27])
def test_that_no_line_can_be_is_said_where_a_linear_program_says_so_too(seed):
    name, p = made(seed, 40)
    length = p.chainage_m[-1]
    for share in (0.2, 0.9, 0.995, 1.0005, 1.01, 1.4):
        steep = replace(p, end_level_m=p.start_level_m + share * p.limits.max_grade * length)
        bound = lower_bound(steep)
        assert bound.impossible == (not can_be_kept(steep)), (name, share, bound.broken_m)


def test_parts_of_a_gap_add_up_and_name_what_makes_it():
    told = []
    p = shortened("gentle", 160)
    result = search(p, lambda progress, _: told.append(progress.lower_bound), lambda: False)
    assert told == sorted(told) and told[-1] == result.lower_bound
    share = {part.why: part.share for part in result.parts}
    assert sum(share.values()) == pytest.approx(result.gap, abs=1e-9)
    assert min(share.values()) >= 0
    # 100 m from one IP to the next, where the ground has waves of less.
    assert share["curves_and_spacing"] > 0.5 * (result.best.cost / result.lower_bound - 1)
    again = search(p, lambda *_: None, lambda: False)
    assert (again.best.cost, again.offered.cost) == (result.best.cost, result.offered.cost)


def test_slope_changes_are_those_of_the_levels():
    at = np.array([0.0, 10, 30, 35])
    assert slope_changes(at, np.array([0.0, 1, 1, 2])) == pytest.approx([-0.1, 0.2])


def test_lines_far_from_the_ground_are_not_told_as_impossible():
    """A straight line is one, however dear."""
    p = shortened("rugged", 60)
    high = replace(p, start_level_m=p.start_level_m + 45, end_level_m=p.end_level_m + 45)
    assert not lower_bound(high).impossible
