"""A proven least cost: no line under these limits can cost less."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from delgrun.core.earthworks.evaluator import evaluate_levels
from delgrun.core.kernels import kernel
from delgrun.core.search.interior_point import minimise
from delgrun.core.search.problem import SearchProblem
from delgrun.core.section.kernels import spline, step_less_spline

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

_LEAST_APART_M = 1.0
# The interior-point method is begun so many times, as long as its own line costs more than the bound by this share.
_ATTEMPTS, _CLOSE = 4, 1e-4


@dataclass(frozen=True)
class Rows:
    """Sparse rows R z <= rhs over the levels of all sections; column -1 is unused."""

    col: IntArray
    val: FloatArray
    rhs: FloatArray


@dataclass(frozen=True)
class Bound:
    """`lower_bound` is what the dual proves; `free_level_m` (n,) the free curve that comes near it.

    `feasible` is False where no line can keep the limits: `worst_chainage_m` is then where they are
    broken most, by `worst_m`.
    """

    lower_bound: float
    free_level_m: FloatArray
    price_m3: FloatArray
    feasible: bool
    worst_chainage_m: float
    worst_m: float


def free_curve_rows(problem: SearchProblem) -> Rows:
    """What every grade line obeys at the sections, whatever its IPs are.

    Mean grade of an interval within the steepest; slope difference about a section within what the
    sharpest curve could do over the hat function around it, (h1 + h2)/2 times the curvature; and
    next to a tie-in in grade, half of that. The flattest grade is not convex and is left out, which
    keeps the bound valid.
    """
    s, lim = problem.chainage_m, problem.limits
    crest, sag = problem.curvature
    h = np.diff(s)
    n = len(s)
    col, val, rhs = [], [], []

    def add(cols: list[int], vals: list[float], bound: float) -> None:
        col.append(cols + [-1] * (3 - len(cols)))
        val.append(vals + [0.0] * (3 - len(vals)))
        rhs.append(bound)

    for i in range(n - 1):
        add([i, i + 1], [-1.0, 1.0], lim.max_grade * h[i])
        add([i, i + 1], [1.0, -1.0], lim.max_grade * h[i])
    at = _row_points(s)
    h = np.diff(s[at])
    for i in range(1, len(at) - 1):
        width = (h[i - 1] + h[i]) / 2
        row = [width / h[i - 1], -width / h[i - 1] - width / h[i], width / h[i]]
        add(at[i - 1 : i + 2], row, sag * width * width)
        add(at[i - 1 : i + 2], [-r for r in row], crest * width * width)
    if lim.start.grade is not None:
        add(at[:2], [-1.0, 1.0], lim.start.grade * h[0] + sag * h[0] ** 2 / 2)
        add(at[:2], [1.0, -1.0], -lim.start.grade * h[0] + crest * h[0] ** 2 / 2)
    if lim.end.grade is not None:
        add(at[-2:], [-1.0, 1.0], lim.end.grade * h[-1] + crest * h[-1] ** 2 / 2)
        add(at[-2:], [1.0, -1.0], -lim.end.grade * h[-1] + sag * h[-1] ** 2 / 2)
    return Rows(np.array(col), np.array(val), np.array(rhs))


def _row_points(s: FloatArray) -> list[int]:
    """Sections at least a metre apart, the ends among them: rows of curvature over closer ones say no more, and
    their large numbers cost the solution its digits."""
    at = [0]
    for i in range(1, len(s)):
        if s[i] - s[at[-1]] >= _LEAST_APART_M:
            at.append(i)
    if len(at) > 2 and s[-1] - s[at[-1]] < _LEAST_APART_M:
        at.pop()
    if at[-1] != len(s) - 1:
        at.append(len(s) - 1)
    return at


def lower_bound(problem: SearchProblem) -> Bound:
    """Solve the free-curve problem and re-evaluate its dual exactly.

    Notes
    -----
    The interior-point method only proposes prices. They are clipped to be dual feasible, and the dual
    function is then evaluated with the true depth tables: for each section the least of its priced
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
            if not found.feasible or cost - best.lower_bound < _CLOSE * cost or no_better:
                break
            # Where the ground is unkind it comes to rest early: once more, from there.
            start = found.free_level_m
        curve = found.free_level_m if curve is None else curve
    assert best is not None and curve is not None
    # Lines are begun from what real costs make of the ground, whichever prices prove most.
    return replace(best, free_level_m=curve)


def _moneys(problem: SearchProblem) -> list[FloatArray]:
    """The costs, and where borrow is dearer than cut or spoil than fill also with those no dearer.

    Cutting for its own sake is then as good as borrow: the problem is convex, and proves something also where lines lie
    further from the ground than the tables reach.
    """
    cc, cf, cb, cw, shr = problem.money
    capped = np.array([cc, cf, min(cb, cc / shr), min(cw, cf), shr])
    return [problem.money] if (capped == problem.money).all() else [problem.money, capped]


def _proposed(problem: SearchProblem, rows: Rows, start: FloatArray, money: FloatArray) -> Bound:
    """Prices by the interior-point method from one start, and what they prove."""
    n = len(problem.chainage_m)
    inner = np.arange(n) - 1
    inner[-1] = -1
    j_col = inner.reshape(-1, 1).copy()
    j_val = np.ones((n, 1))
    r_col = np.where(rows.col >= 0, inner[rows.col], -1)
    used = np.where(rows.col >= 0, rows.val, 0.0)
    at_start = (used * start[rows.col]).sum(axis=1)
    penalty = np.full(len(rows.rhs), problem.row_penalty)
    x, price, row_price, broken, _, _ = minimise(
        problem.table,
        problem.works.tables.centre_level_m,
        problem.works.tables.lowest_m,
        problem.works.tables.step_m,
        problem.works.weight_m,
        problem.link_cost,
        money,
        start,
        j_col,
        j_val,
        r_col,
        rows.val,
        rows.rhs - at_start,
        penalty,
        problem.chainage_m[1:-1].copy(),
        problem.chainage_m,
        1e-8,
        1e-7,
        120,
    )
    free = start.copy()
    free[1:-1] += x
    # What is still broken in the end, in metres of level; rounding and the last gap stay far below.
    worst = int(np.argmax(broken))
    return Bound(
        dual_value(problem, rows, price, row_price),
        free,
        price,
        bool(broken[worst] < 1e-4),
        float(problem.chainage_m[max(rows.col[worst])]),
        float(broken[worst]),
    )


def _first_guess(problem: SearchProblem) -> FloatArray:
    ground = problem.works.tables.centre_level_m
    s = problem.chainage_m
    known = ~np.isnan(ground)
    level = np.interp(s, s[known], ground[known]) if known.any() else np.zeros(len(s))
    level = np.convolve(np.pad(level, 4, mode="edge"), np.full(9, 1 / 9), mode="valid")
    level[0], level[-1] = problem.start_level_m, problem.end_level_m
    return level


def dual_value(problem: SearchProblem, rows: Rows, price: FloatArray, row_price: FloatArray) -> float:
    """Value of the Lagrangian dual at these prices, made feasible first.

    Parameters
    ----------
    price : (n,) value of 1 m3 at each section; clipped to where neither borrowing, spoiling, cutting
        nor filling for its own sake would pay, and to the cost of haul between neighbours. [cost/m3]
    row_price : (m,) prices of the rows; negative ones count as 0. [cost/m]
    """
    cc, cf, cb, cw, shr = problem.money
    mu = np.maximum(row_price, 0.0)
    tilt = np.zeros(len(price))
    on = rows.col >= 0
    np.add.at(tilt, rows.col[on], (rows.val * mu[:, None])[on])
    tables = problem.works.tables
    low, high = _level_box(problem)
    # The most that can be cut and filled where a line may lie beyond the tables.
    most = np.column_stack([problem.works.areas(low)[0][:, 0], problem.works.areas(high)[0][:, 1]])

    def at(lowest_price: float, highest_price: float) -> float:
        y = np.clip(price, lowest_price, highest_price)
        for i in range(1, len(y)):
            y[i] = min(max(y[i], y[i - 1] - problem.link_cost[i - 1]), y[i - 1] + problem.link_cost[i - 1])
        least = _least_priced(
            tables.table,
            tables.jump_start,
            tables.jump_at,
            tables.jump_size,
            tables.centre_level_m,
            tables.lowest_m,
            tables.step_m,
            problem.works.weight_m * (cc - y * shr),
            problem.works.weight_m * (cf + y),
            tilt,
            low,
            high,
            most,
        )
        return float(least - mu @ rows.rhs)

    # Either is valid. With the first nothing is cut or filled for its own sake, which keeps the problem convex; where
    # the price wants to be higher, giving that up costs less than the clip.
    return max(at(max(-cw, -cf), min(cb, cc / shr)), at(-cw, cb))


def _level_box(problem: SearchProblem) -> tuple[FloatArray, FloatArray]:
    """(n,) least and greatest level a line can have at each section, from the ends and the steepest grade. [m]"""
    s, g = problem.chainage_m, problem.limits.max_grade
    up, down = g * (s - s[0]), g * (s[-1] - s)
    lowest = np.maximum(problem.start_level_m - up, problem.end_level_m - down)
    highest = np.minimum(problem.start_level_m + up, problem.end_level_m + down)
    return lowest, np.maximum(highest, lowest)


@kernel
def _at_level(table, jump_start, jump_at, jump_size, centre, lowest, step, on_cut, on_fill, i, z):
    """Priced areas of section i at level z, beyond the table's reach too; nothing without ground."""
    if centre[i] != centre[i]:
        return 0.0
    u = (z - centre[i] - lowest) / step
    total = on_cut * spline(table, i, 0, u)[0] + on_fill * spline(table, i, 1, u)[0]
    for j in range(jump_start[i], jump_start[i + 1]):
        size = on_cut * jump_size[j, 0] + on_fill * jump_size[j, 1]
        total += size * step_less_spline(u, jump_at[j])
    return total


@kernel
def _least_priced(table, jump_start, jump_at, jump_size, centre, lowest, step, on_cut, on_fill, tilt, low, high, most):
    """Sum over sections of the least of on_cut a(z) + on_fill b(z) + tilt z over low <= z <= high.

    Within three rows of a jump the areas may lie below the spline by little more than the jump: the bound gives that
    away there. Beyond the table's reach a price above nothing is held against areas that go on straight, which lie
    below the true ones since areas bend upwards, and a price below nothing against `most` (n, 2), the areas at the ends
    of the box.
    """
    total = 0.0
    count = table.shape[1]
    given = np.zeros(count)
    for i in range(centre.shape[0]):
        if centre[i] != centre[i]:
            total += min(tilt[i] * low[i], tilt[i] * high[i])
            continue
        u_low, u_high = (low[i] - centre[i] - lowest) / step, (high[i] - centre[i] - lowest) / step
        best = np.inf
        # The two stretches beyond the first and the last whole row.
        for side in range(2):
            outer = low[i] if side == 0 else high[i]
            inner = centre[i] + lowest + (0.5 if side == 0 else count - 1.5) * step
            if (outer - inner) * (1.0 if side == 1 else -1.0) <= 0:
                continue
            # What lies between: the end of the box nearer to the table, or the table's own end.
            inner = min(max(inner, low[i]), high[i])
            bought = max(on_cut[i], 0.0), max(on_fill[i], 0.0)
            sold = min(on_cut[i], 0.0) * most[i, 0] + min(on_fill[i], 0.0) * most[i, 1]
            for z in (outer, inner):
                here = _at_level(table, jump_start, jump_at, jump_size, centre, lowest, step, *bought, i, z)
                best = min(best, sold + here + tilt[i] * z)
        given[:] = 0.0
        for j in range(jump_start[i], jump_start[i + 1]):
            size = abs(on_cut[i] * jump_size[j, 0]) + abs(on_fill[i] * jump_size[j, 1])
            k0 = int(np.floor(jump_at[j]))
            for k in range(max(k0 - 3, 0), min(k0 + 5, count)):
                given[k] += 1.07 * size
        # Each piece of the spline is a parabola in t = -1/2 .. 1/2 about row k, as far as the box goes.
        for k in range(max(1, int(np.floor(u_low - 0.5))), min(count - 2, int(np.ceil(u_high + 0.5))) + 1):
            first, last = max(-0.5, u_low - k), min(0.5, u_high - k)
            if first > last:
                continue
            a = on_cut[i] * table[i, k - 1, 0] + on_fill[i] * table[i, k - 1, 1]
            b = on_cut[i] * table[i, k, 0] + on_fill[i] * table[i, k, 1]
            d = on_cut[i] * table[i, k + 1, 0] + on_fill[i] * table[i, k + 1, 1]
            at = tilt[i] * (centre[i] + lowest + k * step)
            bend, slope = a - 2 * b + d, (d - a) / 2 + tilt[i] * step
            middle = (a + 6 * b + d) / 8 + at - given[k]
            # The ledger's areas are never below 0, as a spline is by thousandths beside a kink: sold, they bring more.
            for c, on in ((0, on_cut[i]), (1, on_fill[i])):
                dip = max(-min(table[i, k - 1, c], table[i, k, c], table[i, k + 1, c]), 0.0)
                middle += min(on, 0.0) * dip
            for t in (first, last, min(max(-slope / bend, first), last) if bend > 0 else first):
                best = min(best, middle + slope * t + bend * t * t / 2)
        total += best
    return total
