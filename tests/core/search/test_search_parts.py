"""The search's parts, each against a slow twin: factorisation, derivatives, rows, bound, rounding."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from delgrun.core.earthworks.evaluator import evaluate_levels
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.checks import limit_uses
from delgrun.core.limits.limit_set import default_limits
from delgrun.core.limits.ranges import LimitRange
from delgrun.core.search import envelope, line_model
from delgrun.core.search.bound import lower_bound
from delgrun.core.search.convex import REACH_M, ROW_M
from delgrun.core.search.dual import dual_value, least_priced, level_box
from delgrun.core.search.interior_point import areas_with_slopes
from delgrun.core.search.local import local_limits
from delgrun.core.search.polish import Spaces, assess, cleaned, level_line, polish, shrink_to_fit, spread
from delgrun.core.search.rows import free_curve_rows
from delgrun.core.search.thin import thinned
from family import made
from grounds import problem


@given(st.integers(1, 40), st.integers(1, 9), st.integers(0, 1000))
def test_factorisation_solves_like_numpy(n, band, seed):
    rng = np.random.default_rng(seed)
    full = np.zeros((n, n))
    first = np.array([max(0, i - rng.integers(0, band + 1)) for i in range(n)], dtype=np.int64)
    for i in range(n):
        full[i, first[i] : i] = rng.normal(size=i - first[i])
    # Quasi-definite: some unknowns carry a positive diagonal, some a negative one.
    diag = np.where(rng.uniform(size=n) < 0.5, -1.0, 1.0) * (band + 3)
    start = envelope.row_starts(first)
    value = np.concatenate([full[i, first[i] : i] for i in range(n)] + [np.zeros(0)])
    matrix = full + full.T + np.diag(diag)
    rhs = rng.normal(size=n)
    want = np.linalg.solve(matrix, rhs)
    d, x = diag.copy(), rhs.copy()
    envelope.factor(first, start, value, d)
    envelope.solve(first, start, value, d, x)
    assert x == pytest.approx(want, abs=1e-8)


def some_line(seed: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    rng = np.random.default_rng(seed)
    gaps = rng.uniform(80, 200, 7)
    x = np.concatenate([[0.0], np.cumsum(gaps)])
    length = np.concatenate([[0.0], rng.uniform(0.2, 0.95, 6) * np.minimum(gaps[:-1], gaps[1:]), [0.0]])
    return x, rng.uniform(0, 20, 8), length


def as_grade_line(x, z, length) -> GradeLine:
    return GradeLine(tuple(Ip(chainage_m=a, level_m=b, curve_length_m=c) for a, b, c in zip(x, z, length, strict=True)))


@given(st.integers(0, 10_000))
def test_levels_and_their_derivatives_are_those_of_the_line(seed):
    x, z, length = some_line(seed)
    # Sections keep clear of the very ends of curves, where the second derivative jumps.
    s = np.linspace(1.0, x[-1] - 1.0, 61)
    level, col, val = line_model.jacobian(x, z, length, s)
    assert level == pytest.approx(as_grade_line(x, z, length).levels(s), abs=1e-9)
    full = np.zeros((len(s), 3 * len(x)))
    for i in range(len(s)):
        for p in range(9):
            if col[i, p] >= 0:
                full[i, col[i, p]] += val[i, p]
    eps = 1e-5
    for j in range(1, len(x) - 1):
        for p, array in enumerate((x, z, length)):
            moved = [a.copy() for a in (x, z, length)]
            back = [a.copy() for a in (x, z, length)]
            moved[p][j] += eps
            back[p][j] -= eps
            slope = (line_model.jacobian(*moved, s)[0] - line_model.jacobian(*back, s)[0]) / (2 * eps)
            assert full[:, 3 * j + p] == pytest.approx(slope, abs=2e-5), (j, p, array[j])


@given(st.integers(0, 100_000))
def test_a_line_is_broken_exactly_when_a_check_fails(seed):
    """Under random limits and ranges of them; but where a shortest tangent is set, which the search keeps also between
    curves that touch."""
    rng = np.random.default_rng(seed)
    x, z, length = some_line(seed)
    z = z * rng.choice([0.02, 0.1, 0.3])
    kinked = rng.random() < 0.4
    if kinked:
        length[rng.integers(1, len(x) - 1, 2)] = 0.0

    def some(**kinds) -> dict[str, float]:
        return {name: float(rng.choice(of)) for name, of in kinds.items() if rng.random() < 0.7}

    kinds = {
        "max_grade": [0.02, 0.05, 0.1], "max_fall": [0.03, 0.08], "min_grade": [0.002, 0.004],
        "min_crest_k_m_per_pct": [5, 25], "min_sag_k_m_per_pct": [4, 20], "min_curve_length_m": [20, 60],
        "min_ip_spacing_m": [70, 120], "most_kink": [0.003, 0.03],
    }  # fmt: skip
    base = replace(replace(default_limits(60.0), min_ip_spacing_m=0.0, min_grade=0.0), **some(**kinds))
    ranges = []
    for _ in range(int(rng.integers(0, 4))):
        a = float(rng.choice([rng.uniform(0, x[-1]), *x[1:-1], x[1] + length[1] / 2]))
        ranges.append(LimitRange(from_m=a, to_m=a + float(rng.uniform(20, 400)), **some(**kinds)))
    limits = base.with_ranges(ranges)
    local = local_limits(limits)
    total = line_model.broken(x, z, length, local.edges, local.values)
    uses = [u for u in limit_uses(as_grade_line(x, z, length), limits) if u.use is not None]
    assume(all(abs(u.use - 1) > 1e-5 for u in uses))
    bad = [u for u in uses if u.fails]
    # A kink at the very end of a range that allows it is taken more strictly.
    at_an_edge = kinked and any(abs(x - e).min() < 1e-9 for e in local.edges[8])
    assert (total > 0) == bool(bad) or (at_an_edge and total > 0), (total, bad[:2])


@pytest.fixture(scope="module")
def rugged():
    return problem("rugged")


def test_areas_with_slopes_are_those_of_the_sections(rugged):
    works = rugged.works
    z = works.centre_level_m + np.random.default_rng(1).uniform(-5, 5, len(works.centre_level_m))
    value, slope, bend = (np.empty((len(z), 3)) for _ in range(3))
    sums = works.columns(rugged.cost).sums

    def exact(level):
        return works.areas(level)[0][:, :-2] @ sums.T

    areas_with_slopes(rugged.table, works.centre_level_m, -REACH_M, ROW_M, z, value, slope, bend)
    # The same but where an area begins, or a batter passes a bump: this one is convex.
    assert value == pytest.approx(exact(z), abs=0.004 * rugged.money.max())
    assert (np.diff(rugged.table.astype(float), 2, axis=1) > -2e-3).all() and (rugged.table >= 0).all()
    up, down = (exact(z + d) for d in (1e-6, -1e-6))
    inside = value > 0.5
    # Where an area's slope turns between two rows, the spline rounds that off.
    off = np.abs(slope - (up - down) / 2e-6)[inside]
    assert np.quantile(off, 0.98) < 1e-2 and off.max() < 0.1 * rugged.money.max()
    assert (bend >= 0).all()


def test_any_prices_give_a_bound_and_good_ones_a_better(rugged):
    rugged = replace(rugged, limits=replace(rugged.limits, min_curve_length_m=0.0))
    rows = free_curve_rows(rugged)
    bound = lower_bound(rugged)
    free_cost = evaluate_levels(rugged.works, bound.free_level_m, rugged.cost).ledger.cost
    rng = np.random.default_rng(2)
    for scale in (0.0, 0.3, 3.0):
        price = rng.normal(0, scale, len(rugged.chainage_m))
        row_price = rng.uniform(0, scale * 10, len(rows.rhs))
        assert dual_value(rugged, rows, price, row_price) <= bound.lower_bound
    # The free curve costs what the bound says, to a hundredth of a per cent: nothing is given away.
    assert bound.lower_bound <= free_cost <= bound.lower_bound * (1 + 1e-4)
    assert bound.kept and not bound.impossible


@given(st.integers(0, 10_000))
def test_every_valid_line_keeps_the_rows_of_the_free_curve(seed):
    """Rows must not cut off any line that keeps the limits, wherever its IPs lie between sections."""
    p = problem_small()
    rng = np.random.default_rng(seed)
    lim = p.limits
    gaps = rng.uniform(lim.min_ip_spacing_m, 3 * lim.min_ip_spacing_m, 5)
    x = np.concatenate([[0.0], np.cumsum(gaps)])
    x = x * p.chainage_m[-1] / x[-1]
    length = np.zeros(len(x))
    length[1:-1] = np.minimum(np.diff(x)[:-1], np.diff(x)[1:]) * rng.uniform(0.5, 1.0)
    crest, sag = p.curvature
    grade = [rng.uniform(-lim.max_grade, lim.max_grade)]
    for i in range(1, len(x) - 1):
        change = rng.uniform(-crest, sag) * length[i]
        grade.append(float(np.clip(grade[-1] + change, -lim.max_grade, lim.max_grade)))
    z = np.concatenate([[0.0], np.cumsum(np.array(grade) * np.diff(x))])
    level = as_grade_line(x, z, length).levels(p.chainage_m)
    rows = free_curve_rows(p)
    used = np.where(rows.col >= 0, rows.val * level[rows.col], 0.0).sum(axis=1)
    assert (used <= rows.rhs + 1e-9).all()


_small = []


def problem_small():
    if not _small:
        _small.append(problem("rolling"))
    return _small[0]


@given(st.lists(st.floats(0, 400), min_size=3, max_size=12), st.floats(5, 30))
def test_spreading_keeps_the_ends_and_the_least_gap(positions, least):
    x = np.sort(np.array(positions))
    x = np.concatenate([[0.0], x, [400.0]])
    gaps = np.full(len(x) - 1, least)
    assume(gaps.sum() <= 400)
    out = spread(x, gaps)
    assert out[0] == 0.0 and out[-1] == 400.0
    assert (np.diff(out) >= least - 1e-9).all()


def test_shrinking_makes_curves_fit():
    x = np.array([0.0, 50, 130, 200])
    least = Spaces(np.array([0.0, 70, 20, 0]), np.zeros(3), np.array([0.0, 5, 0]))
    length = shrink_to_fit(x, np.array([0.0, 100, 120, 0]), least)
    room = np.diff(x) - (length[:-1] + length[1:]) / 2 - least.straight_m
    assert (room >= -1e-9).all() and (length >= least.least_m - 1e-9).all()


def test_polishing_and_thinning_only_ever_keep_what_is_better(rugged):
    s = rugged.chainage_m
    x = np.linspace(s[0], s[-1], 41)
    z = np.interp(x, s, rugged.works.centre_level_m)
    length = np.full(41, 150.0)
    length[[0, -1]] = 0.0
    start = level_line(rugged, x, z, length)
    better = polish(rugged, start, 6)
    assert better.kept and better.merit(rugged) < start.merit(rugged)
    fewer = [c.ips for _, c in zip(range(3), thinned(rugged, better, lambda: False), strict=False)]
    assert fewer == sorted(fewer, reverse=True) and fewer[0] < better.ips
    rounded = cleaned(rugged, better, longer=True)
    assert rounded.kept
    assert (rounded.x % 1 == 0).all() and (rounded.length % 1 == 0).all()
    assert rounded.cost == assess(rugged, rounded.x, rounded.z, rounded.length).cost
    assert rounded.cost < 1.02 * better.cost


@given(st.integers(0, 10_000))
def test_the_least_of_priced_areas_is_below_every_level_looked_up(seed):
    """Prices of any sign: earth may be worth having."""
    _, p = made(seed % 40, 12, rich=seed % 3 == 0)
    rng = np.random.default_rng(seed)
    works, n = p.works, len(p.chainage_m)
    low, high = level_box(p)
    low, high = np.maximum(low, works.centre_level_m - 45), np.minimum(high, works.centre_level_m + 45)
    high = np.maximum(low, high)
    weight, worth, fill, tilt = rng.uniform(0, 9, n), rng.uniform(-9, 9, n), rng.uniform(-9, 9), rng.uniform(-40, 40, n)
    told = least_priced(p.pieces, works.base_m, weight, worth, fill, tilt, low, high)
    sums = works.columns(p.cost).sums
    best = np.full(n, np.inf)
    for share in np.linspace(0, 1, 400):
        z = low + share * (high - low)
        paid, usable, filled = (works.areas(z)[0][:, :-2] @ sums.T).T
        best = np.minimum(best, weight * (paid - worth * usable + (fill + worth) * filled) + tilt * z)
    # And not far below: of 400 levels one is near the least.
    assert told <= best.sum() + 1e-9 * np.abs(best).sum()
    assert told >= best.sum() - 0.02 * np.abs(best).sum()
