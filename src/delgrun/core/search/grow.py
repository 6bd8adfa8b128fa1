"""What polishing and thinning never do: IPs put in, curves split, tangents turned over, curves taken away."""

from collections.abc import Callable, Iterator

import numpy as np
from numpy.typing import NDArray

from delgrun.core.search.local import FLATTEST, KINK, SPACING
from delgrun.core.search.polish import Candidate, level_line, limits_of, polish, spaces
from delgrun.core.search.problem import SearchProblem

FloatArray = NDArray[np.float64]
# IPs in the making: chainages, levels and curve lengths.
Ips = tuple[list[float], list[float], list[float]]

_ROUNDS, _STEPS = 4, 8
# A round that gains less than this share is the last one.
_WORTH_IT = 2e-4
# A tangent this near to the flattest grade would be flatter if it might. []
_BINDING = 1.02
_MOST_TURNS, _MOST_TRIED = 20, 40


def grown(problem: SearchProblem, start: Candidate, stop: Callable[[], bool]) -> Iterator[Candidate]:
    """Cheaper lines with more IPs, or the same with tangents the other way, each within the limits."""
    best = start
    for _ in range(_ROUNDS):
        gained = False
        for how in (turned_over, _with_more_ips, _without_curves):
            if stop():
                return
            tried = how(problem, best)
            if tried is None:
                continue
            tried = polish(problem, tried, _STEPS)
            if tried.kept and tried.cost < best.cost * (1 - _WORTH_IT):
                best, gained = tried, True
                yield best
        if not gained:
            return


def _with_more_ips(problem: SearchProblem, c: Candidate) -> Candidate | None:
    """Each curve as two that touch, which changes no level, and an IP more on each tangent that has room for one."""
    held = spaces(problem, c.x, c.length)
    grade = np.diff(c.z) / np.diff(c.x)
    out: Ips = ([], [], [])

    def put(x: float, z: float, length: float) -> None:
        for column, value in zip(out, (x, z, length), strict=True):
            column.append(value)

    last = len(c.x) - 1
    for j in range(last + 1):
        x, z, length = float(c.x[j]), float(c.z[j]), float(c.length[j])
        half = length / 2
        beside = held.straight_m[max(j - 1, 0) : j + 1].max(initial=0.0)
        spacing = _spacing_about(problem, c, j)
        if 0 < j < last and half >= max(held.least_m[j], spacing, 1.0) and beside == 0:
            put(x - half / 2, z - float(grade[j - 1]) * half / 2, half)
            put(x + half / 2, z + float(grade[j]) * half / 2, half)
        else:
            put(x, z, length)
        if j < last:
            a, b = x + half, float(c.x[j + 1] - c.length[j + 1] / 2)
            least = max(float(held.least_m[j : j + 2].max()), spacing, _spacing_about(problem, c, j + 1), 20.0)
            straight = float(held.straight_m[j])
            if b - a >= 1.1 * least + 2 * straight:
                put((a + b) / 2, z + float(grade[j]) * ((a + b) / 2 - x), min(b - a - 2 * straight, 1.5 * least))
    if len(out[0]) == len(c.x):
        return None
    x_, z_, length_ = (np.array(column) for column in out)
    return level_line(problem, x_, z_, length_)


def _spacing_about(problem: SearchProblem, c: Candidate, j: int) -> float:
    """The greatest of the least distances of IPs from the IP before one to the IP behind it. [m]"""
    a, b = c.x[max(j - 1, 0)], c.x[min(j + 1, len(c.x) - 1)]
    return float(problem.local.along(SPACING, float(a), float(b))[1].max())


def _without_curves(problem: SearchProblem, c: Candidate) -> Candidate | None:
    """Curves taken away where so small a change of grade needs none."""
    kink = limits_of(problem, c.x, c.length)[:, KINK]
    change = np.full(len(c.x), np.inf)
    change[1:-1] = np.abs(np.diff(np.diff(c.z) / np.diff(c.x)))
    gone = (c.length > 0) & (change <= kink)
    if not gone.any():
        return None
    return level_line(problem, c.x, c.z, np.where(gone, 0.0, c.length))


def turned_over(problem: SearchProblem, c: Candidate) -> Candidate | None:
    """Tangents that would be flatter if they might, the other way where that is cheaper: one by one, or two in turn."""
    if not (problem.local.values[FLATTEST] > 0).any():
        return None
    best = c
    for _ in range(_MOST_TURNS):
        least = limits_of(problem, best.x, best.length)[:-1, FLATTEST]
        grade = np.diff(best.z) / np.diff(best.x)
        binding = np.flatnonzero((least > 0) & (np.abs(grade) <= _BINDING * least))
        if not len(binding):
            break
        if len(binding) > _MOST_TRIED:
            binding = binding[:: len(binding) // _MOST_TRIED + 1]
        better: Candidate | None = None
        for j in binding.tolist():
            for both in ((j,), (j, j + 1)):
                if both[-1] >= len(grade):
                    continue
                sides = np.where(grade >= 0, 1.0, -1.0)
                sides[list(both)] *= -1
                tried = level_line(problem, best.x, best.z, best.length, sides=sides)
                than = best if better is None else better
                if tried.kept and tried.cost < than.cost * (1 - 1e-5):
                    better = tried
        if better is None:
            break
        best = better
    return None if best is c else best
