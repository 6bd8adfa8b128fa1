"""A proven least cost: no line under these limits can cost less."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from delgrun.core.earthworks.evaluator import evaluate_levels
from delgrun.core.search import cuts
from delgrun.core.search.convex import REACH_M, ROW_M
from delgrun.core.search.dual import contradiction_m, dual_value
from delgrun.core.search.interior_point import minimise
from delgrun.core.search.problem import SearchProblem
from delgrun.core.search.rows import Rows, free_curve_rows

FloatArray = NDArray[np.float64]

# The interior-point method is begun so many times, as long as its own line costs more than the bound by this share.
_ATTEMPTS, _CLOSE = 4, 1e-4
# Rounds of cuts, and the share of the bound that a round must bring for another to be worth it.
_ROUNDS, _WORTH_IT = 12, 2e-4
# Limits that contradict each other by less than this may do so by rounding.
_PROOF_M = 1e-6


@dataclass(frozen=True)
class Bound:
    """`lower_bound` is what the dual proves; `free_level_m` (n,) the free curve that comes near it.

    `broken_m` is how far that curve still breaks a limit at `worst_chainage_m`, where it does so most. `impossible` is
    set only by proof: then no line can keep the limits.
    """

    lower_bound: float
    free_level_m: FloatArray
    broken_m: float
    worst_chainage_m: float
    impossible: bool
    row_price: FloatArray
    money: FloatArray

    @property
    def kept(self) -> bool:
        """Whether the free curve keeps its limits; rounding and the method's last gap stay far below this."""
        return self.broken_m < 1e-4


def lower_bound(problem: SearchProblem) -> Bound:
    """Solve the free-curve problem and re-evaluate its dual exactly.

    Notes
    -----
    The interior-point method only proposes prices. They are clipped to be dual feasible, and the dual
    function is then evaluated with the true areas: for each section the least of its priced
    areas plus row prices over every level a line could have there. Whatever the method's accuracy, the
    result is a bound for every line under the limits.
    """
    rows = free_curve_rows(problem)
    start = _first_guess(problem)
    best: Bound | None = None
    curve: FloatArray | None = None
    for money in _moneys(problem):
        for _ in range(_ATTEMPTS):
            found = _proposed(problem, rows, start, money)
            was = -np.inf if best is None else best.lower_bound
            if best is None or found.lower_bound > was:
                best = found
            cost = evaluate_levels(problem.works, found.free_level_m, problem.cost).ledger.cost
            no_better = found.lower_bound <= was + _CLOSE / 100 * abs(was)
            if not found.kept or cost - best.lower_bound < _CLOSE * cost or no_better:
                break
            # Where the ground is unkind it comes to rest early: once more, from there.
            start = found.free_level_m
        curve = found.free_level_m if curve is None else curve
    assert best is not None and curve is not None
    if not best.kept:
        best = replace(best, impossible=_proved_impossible(problem, rows, start))
    # Lines are begun from what real costs make of the ground, whichever prices prove most.
    return replace(best, free_level_m=curve)


def raised(problem: SearchProblem, bound: Bound, stop: Callable[[], bool]) -> Iterator[Bound]:
    """Higher and higher bounds, by what the shortest curve and the spacing of IPs forbid.

    Each round looks for the cuts that the last curve breaks (half-way to the ones before: straight after the last, they
    swing to and fro) and solves with them; cuts whose price is nothing are dropped again. The curves come nearer and
    nearer to what a line can be.
    """
    rows = free_curve_rows(problem)
    at = problem.chainage_m[rows.points]
    if problem.allowed_curves.least_m < cuts.LEAST_M or not bound.kept:
        return
    base, best, curve = len(rows.rhs), bound, bound.free_level_m
    seen: FloatArray | None = None
    idle = 0
    for _ in range(_ROUNDS):
        if stop():
            return
        changes = cuts.slope_changes(at, curve[rows.points])
        seen = changes if seen is None else (changes + seen) / 2
        broken = cuts.broken_cuts(at, seen, problem.allowed_curves)
        if not broken:
            return
        rows = rows.with_cuts(at, broken)
        found = _proposed(problem, rows, curve, bound.money)
        if not found.kept:
            return
        curve = found.free_level_m
        gain = found.lower_bound - best.lower_bound
        if gain > 0:
            best = found
            yield best
        idle = idle + 1 if gain < _WORTH_IT * abs(best.lower_bound) else 0
        if idle == 2:
            return
        paid = found.row_price * rows.rhs > 1e-7 * abs(best.lower_bound)
        paid[:base] = True
        rows = rows.only(paid)


def _moneys(problem: SearchProblem) -> list[FloatArray]:
    """The costs, and where borrow is dearer than cut or spoil than fill also with those no dearer.

    Cutting for its own sake is then as good as borrow: the problem is convex, and proves something also where lines lie
    further from the ground than the tables reach.
    """
    cheapest, cf, cb, cw = problem.money
    capped = np.array([cheapest, cf, min(cb, cheapest), min(cw, cf)])
    return [problem.money] if (capped == problem.money).all() else [problem.money, capped]


def _proposed(problem: SearchProblem, rows: Rows, start: FloatArray, money: FloatArray) -> Bound:
    """Prices by the interior-point method from one start, and what they prove."""
    free, price, row_price, broken = _solved(problem, rows, start, money, problem.row_penalty, problem.works.weight_m)
    worst = int(np.argmax(broken))
    return Bound(
        dual_value(problem, rows, price, row_price),
        free,
        float(broken[worst]),
        float(problem.chainage_m[max(rows.col[worst])]),
        False,
        row_price,
        money,
    )


def _proved_impossible(problem: SearchProblem, rows: Rows, start: FloatArray) -> bool:
    """Whether prices are found at which the limits contradict each other, whatever the line (Farkas's lemma)."""
    # Without a weight no section costs anything: what is left to keep small is how far the rows are broken.
    nothing = np.zeros(len(start))
    row_price = _solved(problem, rows, start, problem.money, float(problem.money.max()), nothing)[2]
    return contradiction_m(problem, rows, row_price) > _PROOF_M


def _solved(
    problem: SearchProblem, rows: Rows, start: FloatArray, money: FloatArray, penalty: float, weight_m: FloatArray
) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
    """Levels, prices of earth, prices of rows and what of each row is still broken."""
    n = len(problem.chainage_m)
    inner = np.arange(n) - 1
    inner[-1] = -1
    used = np.where(rows.col >= 0, rows.val, 0.0)
    x, price, row_price, broken, _, _ = minimise(
        problem.table,
        problem.works.centre_level_m,
        -REACH_M,
        ROW_M,
        weight_m,
        problem.link_cost,
        money,
        start,
        inner.reshape(-1, 1).copy(),
        np.ones((n, 1)),
        np.where(rows.col >= 0, inner[rows.col], -1),
        rows.val,
        rows.rhs - (used * start[rows.col]).sum(axis=1),
        np.full(len(rows.rhs), penalty),
        problem.chainage_m[1:-1].copy(),
        problem.chainage_m,
        1e-8,
        1e-7,
        120,
    )
    free = start.copy()
    free[1:-1] += x
    return free, price, row_price, broken


def _first_guess(problem: SearchProblem) -> FloatArray:
    ground = problem.works.centre_level_m
    s = problem.chainage_m
    known = ~np.isnan(ground)
    level = np.interp(s, s[known], ground[known]) if known.any() else np.zeros(len(s))
    level = np.convolve(np.pad(level, 4, mode="edge"), np.full(9, 1 / 9), mode="valid")
    level[0], level[-1] = problem.start_level_m, problem.end_level_m
    return level
