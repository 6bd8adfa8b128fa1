"""Fewer IPs: merge or delete the ones that cost least to lose, then polish what is left."""

from collections.abc import Callable, Iterator

import numpy as np
from numpy.typing import NDArray

from delgrun.core.search import line_model
from delgrun.core.search.convex import REACH_M, ROW_M
from delgrun.core.search.interior_point import areas_with_slopes
from delgrun.core.search.polish import (
    KEPT_M,
    Candidate,
    assess,
    balance_prices,
    held_broken_m,
    level_line,
    polish,
    spaces,
    tie_levels,
)
from delgrun.core.search.problem import SearchProblem

FloatArray = NDArray[np.float64]
# Chainages, levels and curve lengths of some IPs.
Ips = tuple[FloatArray, FloatArray, FloatArray]

# Share of the IPs taken out at once; neighbours are never taken together.
_BATCH = 0.12
# Costs above the best by more than this are no alternative worth looking for.
_TOO_DEAR = 1.06
# A removal moves the line no further than so many IPs to each side.
_BESIDE = 3


def thinned(problem: SearchProblem, start: Candidate, stop: Callable[[], bool], fewest: int = 1) -> Iterator[Candidate]:
    """Lines with fewer and fewer IPs, each within the limits, until thinning costs too much or fails."""
    best_cost = start.cost
    current = start
    batch = _BATCH
    while current.ips > fewest and not stop():
        removals = _ranked(problem, current)
        most = max(int(current.ips * batch), 1)
        smaller = _apply(problem, current, removals, most)
        if smaller is None:
            return
        smaller = polish(problem, smaller, 4)
        if not smaller.kept or smaller.cost > _TOO_DEAR * best_cost:
            if most == 1:
                return
            batch /= 3
            continue
        best_cost = min(best_cost, smaller.cost)
        current = smaller
        yield current


def _merged(ips: Ips, j: int, straight_m: float) -> Ips | None:
    """IPs j and j + 1 as one where the outer tangents meet, its curve reaching over both."""
    x, z, length = ips
    g_in = (z[j] - z[j - 1]) / (x[j] - x[j - 1])
    g_mid = (z[j + 1] - z[j]) / (x[j + 1] - x[j])
    g_out = (z[j + 2] - z[j + 1]) / (x[j + 2] - x[j + 1])
    if (g_mid - g_in) * (g_out - g_mid) < 0 or abs(g_out - g_in) < 1e-9:
        return None
    at = (z[j + 1] - z[j] + g_in * x[j] - g_out * x[j + 1]) / (g_in - g_out)
    if not x[j] - 1e-6 <= at <= x[j + 1] + 1e-6:
        return None
    # A parabola over both curves from their outer ends is symmetrical only by chance: take the longer
    # half where there is room, as the levels are solved again anyway.
    half = max(at - (x[j] - length[j] / 2), x[j + 1] + length[j + 1] / 2 - at)
    room = min(
        at - x[j - 1] - length[j - 1] / 2 - (straight_m if j > 1 else 0.0),
        x[j + 2] - length[j + 2] / 2 - at - (straight_m if j + 2 < len(x) - 1 else 0.0),
    )
    new_z = z[j] + g_in * (at - x[j])
    return _rebuilt(ips, j, 2, (at, new_z, 2 * min(half, room)))


def _rebuilt(ips: Ips, j: int, gone: int, new: tuple[float, float, float] | None) -> Ips:
    parts = []
    for column, values in enumerate(ips):
        middle = np.array([new[column]]) if new else np.zeros(0)
        parts.append(np.concatenate([values[:j], middle, values[j + gone :]]))
    return parts[0], parts[1], parts[2]


def _without(ips: Ips, j: int, gone: int, straight_m: float) -> Ips | None:
    """Without IP j, or with IPs j and j + 1 as one where that can be."""
    return _rebuilt(ips, j, 1, None) if gone == 1 else _merged(ips, j, straight_m)


def _beside(straight_m: FloatArray, j: int) -> float:
    """The longest straight that tangents about IPs j and j + 1 ask for. [m]"""
    return float(straight_m[max(j - 1, 0) : j + 3].max(initial=0.0))


def _ranked(problem: SearchProblem, c: Candidate) -> list[tuple[float, int, int]]:
    """(merit, first IP, how many it takes) of every single removal, cheapest first.

    Only what a removal moves is worked out: the areas beside it, earth at the prices that the line's own haul gives it,
    and the limits of the IPs beside it. Whole roads would make the time grow with the square of their length.
    """
    price = balance_prices(problem, c)
    weight, fill = problem.works.weight_m, problem.money[1]
    on = np.column_stack([weight, -weight * price, weight * (fill + price)])
    centre = problem.works.centre_level_m
    last, straight = len(c.x) - 1, spaces(problem, c.x, c.length).straight_m

    def cost(part: Ips, a: int, b: int) -> float:
        level = line_model.jacobian(*part, problem.chainage_m[a:b])[0]
        area, slope, bend = (np.empty((b - a, 3)) for _ in range(3))
        areas_with_slopes(problem.table[a:b], centre[a:b], -REACH_M, ROW_M, level, area, slope, bend)
        return float((on[a:b] * area).sum())

    out = []
    for j in range(1, last):
        for gone in (1, 2):
            if j + gone > last:
                continue
            lo, hi = max(j - _BESIDE, 0), min(j + gone + _BESIDE, last)
            here: Ips = (c.x[lo : hi + 1], c.z[lo : hi + 1], c.length[lo : hi + 1])
            less = _without(here, j - lo, gone, _beside(straight, j))
            if less is None or (np.diff(less[0]) < 1.0).any():
                continue
            less = (less[0], tie_levels(problem, less[0], less[1], start=lo == 0, end=hi == last), less[2])
            a, b = np.searchsorted(problem.chainage_m, (here[0][0], here[0][-1])).tolist()
            broken = line_model.broken(*less, problem.local.edges, problem.local.values)
            broken += held_broken_m(problem, *less)
            merit = cost(less, a, b) - cost(here, a, b) + problem.row_penalty * 0.01 * max(broken - KEPT_M, 0.0)
            out.append((merit, j, gone))
    return sorted(out)


def _apply(problem: SearchProblem, c: Candidate, removals: list[tuple[float, int, int]], most: int) -> Candidate | None:
    """The cheapest removals that do not touch each other, done together, levels solved again."""
    chosen: list[tuple[int, int]] = []
    taken: set[int] = set()
    for merit, j, gone in removals:
        span = set(range(j - 1, j + gone + 1))
        if span & taken or not np.isfinite(merit):
            continue
        taken |= span
        chosen.append((j, gone))
        if len(chosen) == most:
            break
    if not chosen:
        return None
    ips: Ips = (c.x, c.z, c.length)
    straight = spaces(problem, c.x, c.length).straight_m
    for j, gone in sorted(chosen, reverse=True):
        less = _without(ips, j, gone, _beside(straight, j))
        if less is None:
            return None
        ips = less
    x, z, length = ips
    out = assess(problem, x, tie_levels(problem, x, z), length)
    levelled = level_line(problem, out.x, out.z, out.length)
    return levelled if levelled.broken_m <= max(out.broken_m, KEPT_M) else out
