"""A proven least cost: no line under these limits can cost less."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.kernels import kernel
from delgrun.core.search.interior_point import minimise
from delgrun.core.search.problem import SearchProblem
from delgrun.core.section.kernels import spline, step_less_spline

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]


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
    for i in range(1, n - 1):
        width = (h[i - 1] + h[i]) / 2
        row = [width / h[i - 1], -width / h[i - 1] - width / h[i], width / h[i]]
        add([i - 1, i, i + 1], row, sag * width * width)
        add([i - 1, i, i + 1], [-r for r in row], crest * width * width)
    if lim.start.grade is not None:
        add([0, 1], [-1.0, 1.0], lim.start.grade * h[0] + sag * h[0] ** 2 / 2)
        add([0, 1], [1.0, -1.0], -lim.start.grade * h[0] + crest * h[0] ** 2 / 2)
    if lim.end.grade is not None:
        add([n - 2, n - 1], [-1.0, 1.0], lim.end.grade * h[-1] + crest * h[-1] ** 2 / 2)
        add([n - 2, n - 1], [1.0, -1.0], -lim.end.grade * h[-1] + sag * h[-1] ** 2 / 2)
    return Rows(np.array(col), np.array(val), np.array(rhs))


def lower_bound(problem: SearchProblem) -> Bound:
    """Solve the free-curve problem and re-evaluate its dual exactly.

    Notes
    -----
    The interior-point method only proposes prices. They are clipped to be dual feasible, and the dual
    function is then evaluated with the true depth tables: for each section the least of its priced
    areas plus row prices over every level a line could have there. Whatever the method's accuracy, the
    result is a bound for every line under the limits.
    """
    n = len(problem.chainage_m)
    rows = free_curve_rows(problem)
    start = _first_guess(problem)
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
        problem.money,
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
        120,
    )
    free = start.copy()
    free[1:-1] += x
    proven = dual_value(problem, rows, price, row_price)
    # What is still broken in the end, in metres of level; rounding and the last gap stay far below.
    worst = int(np.argmax(broken))
    return Bound(
        proven,
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
    y = np.clip(price, max(-cw, -cf), min(cb, cc / shr))
    for i in range(1, len(y)):
        y[i] = min(max(y[i], y[i - 1] - problem.link_cost[i - 1]), y[i - 1] + problem.link_cost[i - 1])
    mu = np.maximum(row_price, 0.0)
    tilt = np.zeros(len(y))
    on = rows.col >= 0
    np.add.at(tilt, rows.col[on], (rows.val * mu[:, None])[on])
    tables = problem.works.tables
    least = _least_priced(
        problem.table,
        tables.jump_start,
        tables.jump_at,
        tables.jump_size,
        tables.centre_level_m,
        tables.lowest_m,
        tables.step_m,
        problem.works.weight_m * (cc - y * shr),
        problem.works.weight_m * (cf + y),
        tilt,
        *_level_box(problem),
    )
    return float(least - mu @ rows.rhs)


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
    total = on_cut[i] * spline(table, i, 0, u)[0] + on_fill[i] * spline(table, i, 1, u)[0]
    for j in range(jump_start[i], jump_start[i + 1]):
        size = on_cut[i] * jump_size[j, 0] + on_fill[i] * jump_size[j, 1]
        total += size * step_less_spline(u, jump_at[j])
    return total


@kernel
def _least_priced(table, jump_start, jump_at, jump_size, centre, lowest, step, on_cut, on_fill, tilt, low, high):
    """Sum over sections of the least of on_cut a(z) + on_fill b(z) + tilt z over low <= z <= high.

    All pieces of the table are looked at, in the box or not, which can only lower the answer; beyond the
    table's reach areas go on straight, so the ends of the box stand for what lies there. Within three
    rows of a jump the areas may lie below the spline by little more than the jump: the bound gives that
    away there.
    """
    total = 0.0
    count = table.shape[1]
    given = np.zeros(count)
    for i in range(centre.shape[0]):
        best = np.inf
        for z in (low[i], high[i]):
            here = _at_level(table, jump_start, jump_at, jump_size, centre, lowest, step, on_cut, on_fill, i, z)
            best = min(best, here + tilt[i] * z)
        if centre[i] != centre[i] or high[i] - low[i] < 1e-9:
            total += best
            continue
        given[:] = 0.0
        for j in range(jump_start[i], jump_start[i + 1]):
            size = abs(on_cut[i] * jump_size[j, 0]) + abs(on_fill[i] * jump_size[j, 1])
            k0 = int(np.floor(jump_at[j]))
            for k in range(max(k0 - 3, 0), min(k0 + 5, count)):
                given[k] += 1.07 * size
        # Each piece of the spline is a parabola in t = -1/2 .. 1/2 about row k.
        for k in range(1, count - 1):
            a = on_cut[i] * table[i, k - 1, 0] + on_fill[i] * table[i, k - 1, 1]
            b = on_cut[i] * table[i, k, 0] + on_fill[i] * table[i, k, 1]
            d = on_cut[i] * table[i, k + 1, 0] + on_fill[i] * table[i, k + 1, 1]
            at = tilt[i] * (centre[i] + lowest + k * step)
            bend, slope = a - 2 * b + d, (d - a) / 2 + tilt[i] * step
            middle = (a + 6 * b + d) / 8 + at - given[k]
            t = -0.5 if slope > 0 else 0.5
            if bend > 0:
                t = min(max(-slope / bend, -0.5), 0.5)
            best = min(best, middle + slope * t + bend * t * t / 2)
            if bend < 0:
                best = min(best, middle - 0.5 * slope + bend / 8, middle + 0.5 * slope + bend / 8)
        total += best
    return total
