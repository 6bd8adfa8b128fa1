"""What prices prove: the value of the Lagrangian dual, with the true areas."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.kernels import kernel
from delgrun.core.search import cuts
from delgrun.core.search.problem import SearchProblem
from delgrun.core.search.rows import Rows
from delgrun.core.section.pieces import STEP_M

FloatArray = NDArray[np.float64]


def dual_value(problem: SearchProblem, rows: Rows, price: FloatArray, row_price: FloatArray) -> float:
    """Value of the Lagrangian dual at these prices, made feasible first.

    Parameters
    ----------
    price : (n,) value of 1 m3 at each section; clipped to where neither borrowing, spoiling, cutting
        nor filling for its own sake would pay, and to the cost of haul between neighbours. [cost/m3]
    row_price : (m,) prices of the rows; negative ones count as 0. [cost/m]
    """
    cheapest, cf, cb, cw = problem.money
    mu = np.maximum(row_price, 0.0)
    tilt = _tilt(rows, mu, len(price))
    works = problem.works
    low, high = level_box(problem)
    at_most = _rows_at_most(problem, rows, mu)

    def at(lowest_price: float, highest_price: float) -> float:
        y = np.clip(price, lowest_price, highest_price)
        for i in range(1, len(y)):
            y[i] = min(max(y[i], y[i - 1] - problem.link_cost[i - 1]), y[i - 1] + problem.link_cost[i - 1])
        least = least_priced(
            problem.pieces,
            works.base_m,
            works.weight_m,
            y,
            cf,
            tilt,
            low,
            high,
        )
        return float(least - at_most)

    # Either is valid. With the first nothing is cut or filled for its own sake, which keeps the problem convex; where
    # the price wants to be higher, giving that up costs less than the clip.
    return max(at(max(-cw, -cf), min(cb, cheapest)), at(-cw, cb))


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
def least_priced(pieces, base, weight, worth, fill, tilt, low, high):
    """Sum over sections of the least of weight (p(z) - worth u(z) + (fill + worth) f(z)) + tilt z in low <= z <= high.

    p, u and f are what is paid whatever the haul, usable cut and fill, `fill` what that costs, `worth` (n,) what earth
    is worth. Each piece of them is a quadratic of the level: its least lies at its ends or where it is level.
    """
    total = 0.0
    for i in range(base.shape[0]):
        first, last = pieces.start[i], pieces.start[i + 1] - 1
        if last <= first:
            total += min(tilt[i] * low[i], tilt[i] * high[i])
            continue
        lowest, highest = low[i] - base[i], high[i] - base[i]
        best = np.inf
        p = first + max(np.searchsorted(pieces.at[first:last], lowest, side="right") - 1, 0)
        while p < last and (p == first or pieces.at[p] <= highest):
            at = pieces.at[p]
            # Up to a piece's own end, which lies a step before the next one begins; the outer two go on for ever.
            d0 = lowest - at if p == first else max(lowest - at, 0.0)
            d1 = highest - at if p == last - 1 else min(highest, pieces.at[p + 1] - STEP_M) - at
            d1 = max(d1, d0)
            c, u, f = pieces.area[p, 0], pieces.area[p, 1], pieces.area[p, 2]
            w, y = weight[i], worth[i]
            value = w * (c[0] - y * u[0] + (fill + y) * f[0]) + tilt[i] * (at + base[i])
            slope = w * (c[1] - y * u[1] + (fill + y) * f[1]) + tilt[i]
            bend = w * (c[2] - y * u[2] + (fill + y) * f[2])
            inner = min(max(-slope / bend, d0), d1) if bend > 0.0 else d0
            for d in (d0, d1, inner):
                best = min(best, value + slope * d + bend * d * d / 2)
            p += 1
        total += best
    return total
