"""The search: its bound against HiGHS, random lines and brute force; its lines against every limit."""

from dataclasses import replace
from itertools import product

import numpy as np
import pytest

from delgrun.core.earthworks.evaluator import evaluate_levels, evaluate_line
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import BY_ID, all_uses, limit_uses
from delgrun.core.limits.ranges import LimitRange
from delgrun.core.search.bound import lower_bound
from delgrun.core.search.dual import dual_value
from delgrun.core.search.local import everywhere
from delgrun.core.search.polish import assess, level_line
from delgrun.core.search.problem import SearchProblem
from delgrun.core.search.rows import free_curve_rows
from delgrun.core.search.search import search
from delgrun.service.results import of_works
from family import OPTIONS, another_line, made, varied
from grounds import problem, shortened
from independent import breaks, by_highs, cost_of


@pytest.mark.parametrize("name", ["rugged", "rolling"])
def test_bound_equals_highs(name):
    p = shortened(name, 90)
    # The linear program knows nothing of the shortest curve.
    p = replace(p, limits=replace(p.limits, min_curve_length_m=0.0))
    assert lower_bound(p).lower_bound == pytest.approx(by_highs(p), rel=1e-4)


def random_feasible(p: SearchProblem, rng: np.random.Generator) -> float | None:
    """Cost of a random line within the limits; None where this try found none."""
    lim = p.limits
    s = p.chainage_m
    x = [s[0]]
    while x[-1] + 2.5 * lim.min_ip_spacing_m < s[-1]:
        x.append(x[-1] + rng.uniform(1.0, 3.0) * lim.min_ip_spacing_m)
    x = np.array([*x[:-1], s[-1]])
    gaps = np.diff(x)
    length = np.zeros(len(x))
    length[1:-1] = np.maximum(rng.uniform(0.6, 0.98) * np.minimum(gaps[:-1], gaps[1:]), lim.min_curve_length_m)
    ground = np.interp(x, s, p.works.centre_level_m)
    c = level_line(p, x, ground, length)
    if not c.kept:
        return None
    # From the best levels a random step inwards keeps every limit, which are convex in the levels.
    other = level_line(p, x, ground + rng.normal(0, 3, len(x)), length)
    z = c.z + rng.uniform(0, 0.5) * (other.z - c.z) + rng.normal(0, 0.02, len(x)) * (np.arange(len(x)) % 2)
    z[0], z[-1] = p.start_level_m, p.end_level_m
    wobbled = assess(p, x, z, length)
    return wobbled.cost if wobbled.kept else c.cost


def test_bound_lies_below_a_thousand_random_feasible_lines():
    p = shortened("rugged", 60)
    bound = lower_bound(p).lower_bound
    rng = np.random.default_rng(3)
    costs: list[float] = []
    for _ in range(4000):
        cost = random_feasible(p, rng)
        if cost is not None:
            costs.append(cost)
        if len(costs) == 1000:
            break
    assert len(costs) == 1000
    assert min(costs) >= bound
    assert max(costs) > 1.02 * bound


def test_bound_holds_far_from_the_ground_and_without_any():
    """Attacks that once broke it: ends far above the ground, and a stretch where the survey has none."""
    p = shortened("rugged", 60)
    high = SearchProblem(p.works, p.cost, p.limits, p.start_level_m + 60, p.end_level_m + 70)
    bare = p.works.centre_level_m.copy()
    bare[20:50] = np.nan
    ground = replace(p.works.ground, centre_level_m=bare)
    holes = SearchProblem(replace(p.works, ground=ground), p.cost, p.limits, p.start_level_m, p.end_level_m)
    for problem_ in (high, holes):
        x = np.linspace(0, p.chainage_m[-1], 6)
        z = np.interp(x, x[[0, -1]], [problem_.start_level_m, problem_.end_level_m])
        line = level_line(problem_, x, z, np.array([0.0, 100, 100, 100, 100, 0]))
        assert line.kept
        assert 0 <= lower_bound(problem_).lower_bound + 1e-6 <= line.cost + 1e-3


def test_bound_and_search_against_a_brute_forced_line_of_three_ips():
    """21 x 21 x 21 levels of three IPs at fixed chainages and curve lengths."""
    p = shortened("rolling", 41)
    x = np.array([0.0, 110.0, 205.0, 300.0, 400.0])
    length = np.array([0.0, 90.0, 90.0, 90.0, 0.0])
    ground = np.interp(x, p.chainage_m, p.works.centre_level_m)
    best = np.inf
    for d1, d2, d3 in product(np.linspace(-2.5, 2.5, 21), repeat=3):
        z = ground + [0, d1, d2, d3, 0]
        z[0], z[-1] = p.start_level_m, p.end_level_m
        c = assess(p, x, z, length)
        if c.kept:
            best = min(best, c.cost)
    assert np.isfinite(best)
    assert lower_bound(p).lower_bound <= best
    # The level solver, from a poor start, is at least as good as the best of the lattice.
    solved = level_line(p, x, ground + 1.0, length)
    assert solved.kept and solved.cost <= best * 1.0005
    result = search(p, lambda *_: None, lambda: False)
    assert lower_bound(p).lower_bound <= result.best.cost <= best * 1.0005


def test_planted_line_is_found_again():
    """A valid grade line as ground: its own cost is the optimum."""
    p = problem("planted")
    own = evaluate_levels(p.works, p.works.centre_level_m, p.cost).ledger.cost
    told: list[float] = []
    result = search(p, lambda progress, line: told.append(progress.lower_bound), lambda: False)
    assert result.best.cost <= 1.001 * own
    assert result.lower_bound <= own * (1 + 1e-9)
    assert told == sorted(told)


@pytest.fixture(scope="module")
def demo_problem(demo_case) -> SearchProblem:
    from delgrun.service.searches import problem_of

    return problem_of(demo_case)


def test_search_on_the_demo(demo_problem, demo_case):
    p = demo_problem
    offered: list[GradeLine] = []
    result = search(p, lambda _, line: offered.append(line) if line else None, lambda: False)
    assert result.gap <= 0.03
    assert result.offered.cost <= 1.01 * result.best.cost and result.offered.ips <= result.best.ips
    for line in [*offered, result.best.line, result.offered.line]:
        assert not [u for u in limit_uses(line, p.limits) if u.fails]
        assert not [u for u in all_uses(Checked(line, p.limits)) if u.fails and not BY_ID[u.check].advice]
        # Rounded as a person would type it.
        assert all(round(ip.level_m, 3) == ip.level_m and ip.chainage_m % 1 == 0 for ip in line.ips[1:-1])
    # To the ledger's own cost.
    assert evaluate_line(of_works.works(demo_case).value, result.offered.line, p.cost).ledger.cost == pytest.approx(
        result.offered.cost, rel=1e-12
    )
    few = [ips for ips, cost in result.front if cost <= 1.005 * result.best.cost]
    assert result.offered.ips <= min(few)


def test_hand_made_line_is_as_the_scenario_says(demo_problem, demo_case):
    line = demo_case.line
    failing = [u for u in limit_uses(line, demo_problem.limits) if u.fails]
    assert [(u.check, u.ip) for u in failing] == [("crest_k", 12)] and failing[0].use < 1.1
    over = (
        evaluate_line(of_works.works(demo_case).value, line, demo_problem.cost).ledger.cost
        / lower_bound(demo_problem).lower_bound
    )
    assert 1.10 < over < 1.30


def test_stopping_keeps_the_best_so_far_and_impossible_limits_say_where(demo_problem):
    asked = iter(range(10_000))
    result = search(demo_problem, lambda *_: None, lambda: next(asked) > 1)
    assert not result.finished and result.best.cost > result.lower_bound
    p = shortened("rugged", 80)
    steep = SearchProblem(p.works, p.cost, p.limits, p.start_level_m, p.start_level_m + 790 * 0.08 + 2)
    with pytest.raises(DesignInputError, match=r"8\.25 % on average, and the steepest grade is 8\.00 %"):
        search(steep, lambda *_: None, lambda: False)
    # Level ends, and grades of 7 % up and down at them that no crest so flat can join.
    flat = replace(p.limits, start_grade=0.07, end_grade=-0.07, min_crest_k_m_per_pct=400.0)
    with pytest.raises(DesignInputError, match=r"proven. They clash most at \d\+\d{3}"):
        search(replace(p, limits=flat, end_level_m=p.start_level_m), lambda *_: None, lambda: False)


@pytest.mark.parametrize("seed", [2, 13, 27, 45, 67, 103])
def test_bound_and_offered_lines_on_grounds_of_many_kinds(seed):
    name, p = made(seed, 60)
    bound = lower_bound(p)
    # HiGHS cuts what it does not need where that is cheaper than borrow: ours may lie above it. What a road costs that
    # lies on flat ground without pavement is no more than what tables show that are good to 0.02 m2.
    slack = 0.02 * p.works.weight_m.sum() * (p.cost.cut_per_m3 + p.cost.fill_per_m3)
    assert bound.lower_bound >= 0.999 * by_highs(p) - slack, name
    result = search(p, lambda *_: None, lambda: False)
    for offer in (result.best, result.offered):
        assert breaks(p, offer.line) == [], name
        assert offer.cost == pytest.approx(evaluate_line(p.works, offer.line, p.cost).ledger.cost, rel=1e-9)
        assert offer.cost == pytest.approx(cost_of(p, offer.line), rel=1e-3, abs=slack), name
        assert offer.cost >= result.lower_bound - 1e-6 * abs(result.lower_bound), name


def test_where_no_line_is_found_a_stop_is_heeded_and_nothing_is_called_impossible():
    """Curves of 300 m on a road of 400 m that has to rise and fall: the free curve may, no line can."""
    p = shortened("rolling", 41)
    lim = replace(
        p.limits, min_curve_length_m=300.0, min_ip_spacing_m=300.0, min_crest_k_m_per_pct=3.0, min_sag_k_m_per_pct=3.0,
        start_grade=0.06, end_grade=0.06,
    )  # fmt: skip
    tight = replace(p, limits=lim, end_level_m=p.start_level_m)
    assert not lower_bound(tight).impossible
    with pytest.raises(DesignInputError, match=r"from \d+ layouts of IPs; that there is none is not proven"):
        search(tight, lambda *_: None, lambda: False)
    with pytest.raises(DesignInputError, match="Stopped before a line"):
        search(tight, lambda *_: None, lambda: True)


def test_under_ranges_lines_keep_what_holds_where_they_are_and_the_bound_knows_it():
    base = shortened("rolling", 75)
    s, steepest = base.chainage_m, base.limits.max_grade
    ranges = [
        LimitRange(from_m=float(s[20]), to_m=float(s[40]), max_grade=0.6 * steepest, min_crest_k_m_per_pct=30.0),
        LimitRange(from_m=float(s[50]), to_m=float(s[70]), max_grade=1.25 * steepest),
    ]
    limits = base.limits.with_ranges(ranges)
    ends = base.start_level_m, base.end_level_m
    p = SearchProblem.under(base.works, base.cost, limits, ends)
    found = search(p, lambda *_: None, lambda: False)
    assert not any(u.fails for u in limit_uses(found.offered.line, limits))
    # The strictest everywhere costs more; the loosest everywhere proves no more than the ranges do.
    strict = SearchProblem(base.works, base.cost, everywhere(limits, "strictest"), *ends)
    loose = SearchProblem(base.works, base.cost, everywhere(limits, "loosest"), *ends)
    assert found.offered.cost < 0.99 * search(strict, lambda *_: None, lambda: False).offered.cost
    freely = search(loose, lambda *_: None, lambda: False)
    assert freely.lower_bound * (1 - 1e-6) <= found.lower_bound <= found.offered.cost
    # A line of its own kept the ranges by hand; the bound lies below it.
    for line in (found.best.line, search(strict, lambda *_: None, lambda: False).best.line):
        assert found.lower_bound <= evaluate_line(p.works, line, p.cost).ledger.cost
    # Without ranges it is the problem it was.
    assert SearchProblem.under(base.works, base.cost, base.limits, ends) == base


@pytest.mark.parametrize("seed", [12, 34])
def test_under_random_ranges_depths_and_tangents_lines_keep_all_and_the_bound_lies_below(seed):
    name, base = made(seed, 60)
    rng = np.random.default_rng(seed)
    s, lim = base.chainage_m, base.limits
    ranges = []
    for _ in range(3):
        a = float(rng.uniform(s[0], s[-1] - 60))
        b = min(a + float(rng.uniform(30, 250)), float(s[-1]))
        ranges.append(
            LimitRange(
                from_m=a, to_m=b, max_grade=lim.max_grade * float(rng.uniform(0.85, 1.4)),
                min_sag_k_m_per_pct=lim.min_sag_k_m_per_pct * float(rng.uniform(0.5, 1.5)),
                min_curve_length_m=lim.min_curve_length_m * float(rng.uniform(0.7, 1.3)),
            )
        )  # fmt: skip
    limits = replace(lim, min_tangent_m=12.0, max_fall=1.1 * lim.max_grade).with_ranges(ranges)
    ends = base.start_level_m, base.end_level_m
    try:
        free = search(SearchProblem.under(base.works, base.cost, limits, ends), lambda *_: None, lambda: False)
    except DesignInputError as e:
        assert "proven" not in str(e), name
        return
    # Depths that the line found keeps by a decimetre: some line keeps them.
    over = base.works.centre_level_m - free.best.line.levels(s)
    limits = replace(
        limits, most_cut_m=max(float(np.nanmax(over)), 0.0) + 0.1, most_fill_m=max(float(np.nanmax(-over)), 0.0) + 0.1
    )
    p = SearchProblem.under(base.works, base.cost, limits, ends)
    found = search(p, lambda *_: None, lambda: False)
    for line in (found.best.line, found.offered.line):
        assert not [u for u in limit_uses(line, limits) if u.fails], name
        deep = base.works.centre_level_m - line.levels(s)
        assert np.nanmax(deep) <= limits.most_cut_m + 0.002 and np.nanmax(-deep) <= limits.most_fill_m + 0.002
        assert found.lower_bound <= evaluate_line(p.works, line, p.cost).ledger.cost * (1 + 1e-9), name
    assert found.lower_bound <= free.best.cost * (1 + 1e-9), name


@pytest.mark.parametrize("seed", range(len(OPTIONS)))
def test_with_every_option_the_bound_lies_below_and_what_is_found_keeps_all(seed):
    """Ranges, kinks, falls, tangents, plains, short roads with long curves, and a range of 12 m with limits that would
    leave no line if they held everywhere."""
    _, p = varied(seed, 50)
    found = search(p, lambda *_: None, lambda: False)
    assert not any(u.fails for u in limit_uses(found.best.line, p.kept))
    good_to = 0.02 * p.works.weight_m.sum() * (p.cost.cut_per_m3 + p.cost.fill_per_m3)
    for k in range(4):
        line = another_line(p, 10 * seed + k)
        if line is not None and not any(u.fails for u in limit_uses(line, p.kept)):
            assert found.lower_bound <= evaluate_line(p.works, line, p.cost).ledger.cost + good_to
    assert found.lower_bound <= found.best.cost * (1 + 1e-6) + good_to


@pytest.mark.parametrize("seed", [3, 17, 26, 41])
def test_bound_lies_below_lines_of_rich_roads(seed):
    """Sides that differ, a drain in cut, benches, batters by height, rock of no use, a reserve with walls."""
    name, p = made(seed, 50, rich=True)
    result = search(p, lambda *_: None, lambda: False)
    rng = np.random.default_rng(seed)
    for offer in (result.best, result.offered):
        assert breaks(p, offer.line) == [], name
        assert offer.cost == pytest.approx(evaluate_line(p.works, offer.line, p.cost).ledger.cost, rel=1e-9)
        assert offer.cost >= result.lower_bound - 1e-6 * abs(result.lower_bound), name
    # What any prices prove lies below what any level along the free curve costs: the bound is of curves, too.
    line = result.best.line.levels(p.chainage_m)
    rows = free_curve_rows(p)
    for _ in range(20):
        price, row_price = rng.uniform(-5, 9, len(line)), rng.uniform(0, 50, len(rows.rhs))
        assert dual_value(p, rows, price, row_price) <= result.best.cost * (1 + 1e-9), name
