"""From one grade line to a cheaper one nearby: chainage, level and curve length of every IP at once.

Each step solves the problem linearised about the line, with the exact haul inside. The full step
nearly always breaks K by second order, so its chainages and lengths are kept and the levels solved
again for them, which is exact; only then is the true cost compared (docs/formulas.md#search).
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.earthworks.evaluator import evaluate_levels
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.search import line_model
from delgrun.core.search.convex import REACH_M, ROW_M
from delgrun.core.search.interior_point import minimise
from delgrun.core.search.local import LENGTH, SPACING, STRAIGHT
from delgrun.core.search.problem import SearchProblem

FloatArray = NDArray[np.float64]

# Broken limits summing to less than this (metres, weighed like levels) count as kept.
KEPT_M = 1e-6
# Levels rounded to the millimetre miss a tie-in's grade by so much beside it.
_TIE_SLACK_M = 0.0006
_TRUST = np.array([25.0, 1.5, 60.0])


@dataclass(frozen=True)
class Candidate:
    """A line as arrays over all IPs, ends included, with its true cost and how far it breaks limits."""

    x: FloatArray
    z: FloatArray
    length: FloatArray
    cost: float
    broken_m: float

    @property
    def ips(self) -> int:
        return len(self.x) - 2

    @property
    def kept(self) -> bool:
        return self.broken_m < KEPT_M

    def merit(self, problem: SearchProblem) -> float:
        return self.cost + problem.row_penalty * 0.01 * max(self.broken_m - KEPT_M, 0.0)

    def line(self) -> GradeLine:
        return GradeLine.of(
            [
                Ip(chainage_m=float(a), level_m=float(b), curve_length_m=float(c))
                for a, b, c in zip(self.x, self.z, self.length, strict=True)
            ]
        )


def assess(problem: SearchProblem, x: FloatArray, z: FloatArray, length: FloatArray) -> Candidate:
    """True cost of a line, by the ledger's own evaluator, and how far it breaks the limits."""
    if (np.diff(x) < 1.0).any():
        return Candidate(x, z, length, np.inf, np.inf)
    level, _, _ = line_model.jacobian(x, z, length, problem.chainage_m)
    lim = problem.limits
    broken = line_model.broken(x, z, length, problem.local.edges, problem.local.values)
    broken += held_broken_m(problem, x, z, length)
    # With one IP left, both tie-ins in grade leave it no place but one.
    for tie, at, by in ((lim.start, 1, x[1] - x[0]), (lim.end, -2, x[-2] - x[-1])):
        if tie.grade is not None:
            broken += max(abs(z[at] - z[0 if at == 1 else -1] - tie.grade * by) - _TIE_SLACK_M, 0.0)
    return Candidate(x, z, length, evaluate_levels(problem.works, level, problem.cost).ledger.cost, float(broken))


def held_broken_m(problem: SearchProblem, x: FloatArray, z: FloatArray, length: FloatArray) -> float:
    """How far a line, or a part of one, leaves what level controls ask, in all. [m]"""
    held = problem.room.within(float(x[0]), float(x[-1]))
    return held.broken_m(line_model.jacobian(x, z, length, held.chainage_m)[0]) if len(held.chainage_m) else 0.0


def limits_of(problem: SearchProblem, x: FloatArray, length: FloatArray) -> FloatArray:
    """(m, 9) the limits of the tangent behind each IP and of the curve, or the kink, at it."""
    out: FloatArray = line_model.limits_at(x, length, problem.local.edges, problem.local.values)
    return out


@dataclass(frozen=True)
class Spaces:
    """What holds where IPs stand: (m,) shortest curves, (m - 1,) least distances of IPs and straights between curves.

    The first and the last curve need half their length to the ends. [m]
    """

    least_m: FloatArray
    apart_m: FloatArray
    straight_m: FloatArray


def spaces(problem: SearchProblem, x: FloatArray, length: FloatArray, up: float = 0.0) -> Spaces:
    """What holds about these IPs; curves and distances rounded up to a step. [m]"""
    lim = limits_of(problem, x, length)
    curved = length > 0
    least = _up(np.where(curved, lim[:, LENGTH], 0.0), up)
    least[0] = least[-1] = 0.0
    straight = np.where(curved[:-1] & curved[1:], lim[:-1, STRAIGHT], 0.0)
    straight[0] = straight[-1] = 0.0
    spacing = lim[:-1, SPACING].copy()
    spacing[0] = spacing[-1] = 0.0
    return Spaces(least, _up(np.maximum(spacing, (least[:-1] + least[1:]) / 2 + straight), up), straight)


def _up(values: FloatArray, step: float) -> FloatArray:
    return np.ceil(values / step - 1e-9) * step if step else values


def tie_levels(
    problem: SearchProblem, x: FloatArray, z: FloatArray, *, start: bool = True, end: bool = True
) -> FloatArray:
    """Levels with the ends kept and the IPs beside a tie-in put on its grade, at the ends that these IPs reach."""
    z = z.copy()
    lim = problem.limits
    if start:
        z[0] = problem.start_level_m
        if lim.start.grade is not None:
            z[1] = z[0] + lim.start.grade * (x[1] - x[0])
    if end:
        z[-1] = problem.end_level_m
        if lim.end.grade is not None:
            z[-2] = z[-1] - lim.end.grade * (x[-1] - x[-2])
    return z


def balance_prices(problem: SearchProblem, c: Candidate) -> FloatArray:
    """(n,) what 1 m3 more at each section would be worth to this line, by the haul that suits it best."""
    return _solve(problem, c.x, c.z, c.length, None, 0.0)[3]


def level_line(
    problem: SearchProblem,
    x: FloatArray,
    z: FloatArray,
    length: FloatArray,
    margin: float = 0.0,
    sides: FloatArray | None = None,
) -> Candidate:
    """Cheapest levels for these chainages and lengths: all rows are exact, the answer is the best there is.

    `sides` (m - 1,): whether each tangent that must not be flat rises (1) or falls (-1); as `z` does without it.
    """
    z = _solve(problem, x, tie_levels(problem, x, z), length, None, margin, sides)[1]
    return assess(problem, x, z, length)


def polish(problem: SearchProblem, start: Candidate, steps: int, trust_share: float = 1.0) -> Candidate:
    """Up to `steps` accepted or refused steps; never worse than `start`."""
    best = start
    trust = _TRUST * trust_share
    for _ in range(steps):
        x, z, length, _ = _solve(problem, best.x, best.z, best.length, trust, 0.0)
        x, length = within(problem, x, length)
        new = level_line(problem, x, z, length)
        gain = best.merit(problem) - new.merit(problem)
        if gain > 0:
            best = new
            if gain < 2e-5 * new.cost:
                break
            trust = np.minimum(trust * 1.3, 2 * _TRUST)
        else:
            trust = trust * 0.35
            if trust[1] < 0.02:
                break
    return best


def within(problem: SearchProblem, x: FloatArray, length: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Take the method's last millionths off rows that are exact in chainage and length."""
    for _ in range(2):
        # What is moved may come to touch other ranges.
        held = spaces(problem, x, length)
        length = np.maximum(length, held.least_m)
        length[0] = length[-1] = 0.0
        x = spread(x, held.apart_m)
        length = shrink_to_fit(x, length, held)
    return x, length


def spread(x: FloatArray, least: FloatArray) -> FloatArray:
    """Chainages moved as little as needed so that neighbours stand at least this far apart; the ends stay."""
    x = x.copy()
    end = x[-1]
    for j in range(1, len(x)):
        x[j] = max(x[j], x[j - 1] + least[j - 1])
    x[-1] = end
    for j in range(len(x) - 2, 0, -1):
        x[j] = min(x[j], x[j + 1] - least[j])
    return x


def shrink_to_fit(x: FloatArray, length: FloatArray, held: Spaces) -> FloatArray:
    """Lengths cut where curves would overlap, or leave less than a straight between two of them: each by its share of
    what is longer than it must be.
    """
    length = length.copy()
    gap = np.diff(x)
    for j in range(len(gap)):
        over = (length[j] + length[j + 1]) / 2 + held.straight_m[j] - gap[j]
        if over > 0:
            spare = np.maximum(length[j : j + 2] - held.least_m[j : j + 2], 0.0)
            pair = spare if spare.sum() > 2 * over else length[j : j + 2]
            length[j : j + 2] -= 2 * over * pair / max(float(pair.sum()), 1e-9)
    return length


def _solve(
    problem: SearchProblem,
    x: FloatArray,
    z: FloatArray,
    length: FloatArray,
    trust: FloatArray | None,
    margin: float,
    sides: FloatArray | None = None,
) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
    """One solution of the problem about this line, and its prices of earth; levels only without `trust`."""
    moving = trust is not None
    m = len(x)
    to, factor, keys = _unknowns(problem, x, length, moving)
    if not len(keys):
        return x, z, length, np.zeros(len(problem.chainage_m))
    level, j_col, j_val = line_model.jacobian(x, z, length, problem.chainage_m)
    r_col, r_val, rhs = line_model.limit_rows(
        x,
        z,
        length,
        limits_of(problem, x, length),
        problem.local.edges,
        problem.local.values,
        np.where(np.diff(z) >= 0, 1.0, -1.0) if sides is None else sides,
        margin,
        trust if trust is not None else np.zeros(3),
        moving,
    )
    r_col, r_val, rhs = _with_held(problem, (x, z, length), (r_col, r_val, rhs), margin)
    line_model.map_columns(j_col, j_val, to, factor)
    line_model.map_columns(r_col, r_val, to, factor)
    live = (r_col >= 0).any(axis=1)
    centre = problem.works.centre_level_m
    dx, price, *_ = minimise(
        problem.table,
        centre,
        -REACH_M,
        ROW_M,
        problem.works.weight_m,
        problem.link_cost,
        problem.money,
        level,
        j_col,
        j_val,
        r_col[live],
        r_val[live],
        rhs[live],
        np.full(int(live.sum()), problem.row_penalty),
        keys,
        problem.chainage_m,
        1e-6 if moving else 1e-7,
        # The true cost is compared after each step: coming to rest is not worth the steps it takes.
        np.inf,
        60,
    )
    full = np.where(to >= 0, dx[to] * factor, 0.0).reshape(m, 3)
    return x + full[:, 0], z + full[:, 1], length + full[:, 2], price


_RowsOfIps = tuple[NDArray[np.int64], FloatArray, FloatArray]


def _with_held(
    problem: SearchProblem, ips: tuple[FloatArray, FloatArray, FloatArray], rows: _RowsOfIps, margin: float
) -> _RowsOfIps:
    """These rows over parameters of IPs, and those of level controls; levels `margin` inside, where there is room."""
    held = problem.room
    if not len(held.chainage_m):
        return rows
    level, col, val = line_model.jacobian(*ips, held.chainage_m)
    inside = np.minimum(margin, np.maximum(held.high_m - held.low_m, 0.0) / 4)
    lower, upper = np.isfinite(held.low_m), np.isfinite(held.high_m)
    own_col = np.concatenate([col[lower], col[upper]])
    own_val = np.concatenate([-val[lower], val[upper]])
    own = np.concatenate([(level - held.low_m - inside)[lower], (held.high_m - level - inside)[upper]])
    wide = own_col.shape[1] - rows[0].shape[1]
    return (
        np.concatenate([np.pad(rows[0], ((0, 0), (0, wide)), constant_values=-1), own_col]),
        np.concatenate([np.pad(rows[1], ((0, 0), (0, wide))), own_val]),
        np.concatenate([rows[2], own]),
    )


def _unknowns(
    problem: SearchProblem, x: FloatArray, length: FloatArray, moving: bool
) -> tuple[NDArray[np.int64], FloatArray, FloatArray]:
    """Unknown and share of every parameter, and the chainage each unknown is sorted by.

    The ends are fixed; beside a tie-in in grade, level follows chainage. An unknown is sorted behind
    the last section it moves: the prices of all sections before it then fill in next to nothing.
    """
    m = len(x)
    to = np.full((m, 3), -1, dtype=np.int64)
    factor = np.ones((m, 3))
    keys: list[float] = []
    lim = problem.limits
    for j in range(1, m - 1):
        tied = None
        if j == 1 and lim.start.grade is not None:
            tied = lim.start.grade
        elif j == m - 2 and lim.end.grade is not None:
            tied = lim.end.grade
        for p in range(3):
            if (p != 1 and not moving) or (p == 1 and tied is not None) or (p == 2 and length[j] == 0):
                continue
            to[j, p] = len(keys)
            keys.append(float(x[j + 1] + length[j + 1] / 2))
        if tied is not None:
            to[j, 1] = to[j, 0]
            factor[j, 1] = tied
    return to.ravel(), factor.ravel(), np.array(keys)


def cleaned(problem: SearchProblem, c: Candidate, *, longer: bool, margin: float = 0.001) -> Candidate:
    """Chainages and lengths to the metre, levels solved again for them and kept to the millimetre.

    With `longer`, lengths go up instead of to the nearest metre: where K binds that leaves the levels free.
    """
    x, length = np.concatenate([c.x[:1], np.round(c.x[1:-1]), c.x[-1:]]), c.length
    for _ in range(2):
        held = spaces(problem, x, length, up=1.0)
        x = spread(x, held.apart_m)
        # Spreading from an end at an odd chainage leaves odd chainages behind: inward to the metre.
        x[1:-1] = np.round(x[1:-1] * 1000) / 1000
        length = np.maximum(np.ceil(c.length - 1e-6) if longer else np.round(c.length), held.least_m)
        length[0] = length[-1] = 0.0
        length = np.maximum(np.floor(shrink_to_fit(x, length, held) + 1e-9), held.least_m)
    out = level_line(problem, x, c.z, length, margin)
    z = np.round(out.z, 3)
    z[0], z[-1] = problem.start_level_m, problem.end_level_m
    return assess(problem, x, z, length)
