"""What prices prove: the value of the Lagrangian dual, with the true depth tables."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.kernels import kernel
from delgrun.core.search import cuts
from delgrun.core.search.problem import SearchProblem
from delgrun.core.search.rows import Rows
from delgrun.core.section.kernels import spline, step_less_spline

FloatArray = NDArray[np.float64]


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
    tilt = _tilt(rows, mu, len(price))
    tables = problem.works.tables
    low, high = level_box(problem)
    # The most that can be cut and filled where a line may lie beyond the tables.
    most = np.column_stack([problem.works.areas(low)[0][:, 0], problem.works.areas(high)[0][:, 1]])
    at_most = _rows_at_most(problem, rows, mu)

    def at(lowest_price: float, highest_price: float) -> float:
        y = np.clip(price, lowest_price, highest_price)
        for i in range(1, len(y)):
            y[i] = min(max(y[i], y[i - 1] - problem.link_cost[i - 1]), y[i - 1] + problem.link_cost[i - 1])
        least = least_priced(
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
        return float(least - at_most)

    # Either is valid. With the first nothing is cut or filled for its own sake, which keeps the problem convex; where
    # the price wants to be higher, giving that up costs less than the clip.
    return max(at(max(-cw, -cf), min(cb, cc / shr)), at(-cw, cb))


def contradiction_m(problem: SearchProblem, rows: Rows, row_price: FloatArray) -> float:
    """By how much the rows, weighed by these prices, are broken by every line, wherever it lies. [m]

    Above 0 it proves that no line can keep the limits (Farkas's lemma); 0 or less says nothing.
    """
    mu = np.maximum(row_price, 0.0)
    low, high = level_box(problem)
    tilt = _tilt(rows, mu, len(low))
    return float(np.minimum(tilt * low, tilt * high).sum() - _rows_at_most(problem, rows, mu))


def _tilt(rows: Rows, mu: FloatArray, count: int) -> FloatArray:
    tilt = np.zeros(count)
    on = rows.col >= 0
    np.add.at(tilt, rows.col[on], (rows.val * mu[:, None])[on])
    return tilt


def _rows_at_most(problem: SearchProblem, rows: Rows, mu: FloatArray) -> float:
    """What no grade line's rows, weighed by `mu`, exceed.

    Each row's own limit is one answer. The rows that weigh changes of slope are one sum of such changes, and what the
    shortest curve and the spacing of IPs allow of that sum along the whole road is another: the less of the two counts.
    """
    each = float(mu @ rows.rhs)
    if problem.allowed_curves.least_m < cuts.LEAST_M:
        return each
    others = float(mu[rows.first == 0] @ rows.rhs[rows.first == 0])
    at = problem.chainage_m[rows.points]
    return min(each, others + cuts.most_of_road(at, rows.of_points(mu), problem.allowed_curves))


def level_box(problem: SearchProblem) -> tuple[FloatArray, FloatArray]:
    """(n,) least and greatest level a line can have at each section, from the ends and the steepest grade. [m]"""
    s, rise, fall = problem.chainage_m, problem.limits.max_grade, problem.limits.fall
    gone, left = s - s[0], s[-1] - s
    lowest = np.maximum(problem.start_level_m - fall * gone, problem.end_level_m - rise * left)
    highest = np.minimum(problem.start_level_m + rise * gone, problem.end_level_m + fall * left)
    # Where the ends are further apart than the steepest grade leads, no line can be: any level is as good as another.
    low, high = np.minimum(lowest, highest), np.maximum(highest, lowest)
    low[0] = high[0] = problem.start_level_m
    low[-1] = high[-1] = problem.end_level_m
    return low, high


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
def least_priced(table, jump_start, jump_at, jump_size, centre, lowest, step, on_cut, on_fill, tilt, low, high, most):
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
