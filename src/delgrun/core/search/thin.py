"""Fewer IPs: merge or delete the ones that cost least to lose, then polish what is left."""

from collections.abc import Callable, Iterator

import numpy as np

from delgrun.core.search.polish import KEPT_M, Candidate, assess, level_line, polish, tie_levels
from delgrun.core.search.problem import SearchProblem

# Share of the IPs taken out at once; neighbours are never taken together.
_BATCH = 0.12
# Costs above the best by more than this are no alternative worth looking for.
_TOO_DEAR = 1.06


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


def _merged(problem: SearchProblem, c: Candidate, j: int) -> Candidate | None:
    """IPs j and j + 1 as one where the outer tangents meet, its curve reaching over both."""
    x, z, length = c.x, c.z, c.length
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
    room = min(at - x[j - 1] - length[j - 1] / 2, x[j + 2] - length[j + 2] / 2 - at)
    new_z = z[j] + g_in * (at - x[j])
    return _rebuilt(problem, c, j, 2, (at, new_z, 2 * min(half, room)))


def _deleted(problem: SearchProblem, c: Candidate, j: int) -> Candidate:
    return _rebuilt(problem, c, j, 1, None)


def _rebuilt(
    problem: SearchProblem, c: Candidate, j: int, gone: int, new: tuple[float, float, float] | None
) -> Candidate:
    parts = []
    for column, values in enumerate((c.x, c.z, c.length)):
        middle = np.array([new[column]]) if new else np.zeros(0)
        parts.append(np.concatenate([values[:j], middle, values[j + gone :]]))
    x, z, length = parts
    return assess(problem, x, tie_levels(problem, x, z), length)


def _ranked(problem: SearchProblem, c: Candidate) -> list[tuple[float, int, int]]:
    """(merit, first IP, how many it takes) of every single removal, cheapest first."""
    out = []
    for j in range(1, len(c.x) - 1):
        out.append((_deleted(problem, c, j).merit(problem), j, 1))
        if j < len(c.x) - 2:
            merged = _merged(problem, c, j)
            if merged is not None:
                out.append((merged.merit(problem), j, 2))
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
    out = c
    for j, gone in sorted(chosen, reverse=True):
        smaller = _merged(problem, out, j) if gone == 2 else _deleted(problem, out, j)
        if smaller is None:
            return None
        out = smaller
    levelled = level_line(problem, out.x, out.z, out.length)
    return levelled if levelled.broken_m <= max(out.broken_m, KEPT_M) else out
