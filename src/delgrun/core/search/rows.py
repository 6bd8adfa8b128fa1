"""What every grade line obeys at the sections, whatever its IPs are: linear rows over the levels."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.controls.bands import AT_M
from delgrun.core.controls.level_room import level_room
from delgrun.core.limits.checks.tie_ins import GRADE_TOLERANCE
from delgrun.core.search.local import CREST, FALL, RISE, SAG
from delgrun.core.search.problem import LOOSE, SearchProblem

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

_LEAST_APART_M = 1.0
# As loosely as the checks take a tie-in's grade for met.
_TIE = GRADE_TOLERANCE


@dataclass(frozen=True)
class Rows:
    """Sparse rows R z <= rhs over the levels of all sections; column -1 is unused.

    Rows that weigh changes of mean slope keep their weights too: `weights` (m, q) from inner point `first` (m,) on, 0
    where a row is of another kind. `points` (k,) are the sections that the slopes are taken between.
    """

    points: IntArray
    col: IntArray
    val: FloatArray
    rhs: FloatArray
    first: IntArray
    weights: FloatArray

    def of_points(self, row_price: FloatArray) -> FloatArray:
        """(k - 2,) weights of all rows together at these prices."""
        out = np.zeros(len(self.points) - 2)
        for r in np.flatnonzero((self.first > 0) & (row_price > 0)).tolist():
            w = self.weights[r]
            used = min(len(w), len(out) - self.first[r] + 1)
            out[self.first[r] - 1 : self.first[r] - 1 + used] += row_price[r] * w[:used]
        return out

    def with_cuts(self, at: FloatArray, cuts: list[tuple[int, FloatArray, float]]) -> "Rows":
        """These rows and further ones; `at` (k,) are the chainages of the points, a cut is (first, weights, most)."""
        scale = float(np.median(np.diff(at)))
        width = max([self.col.shape[1], *(len(w) + 2 for _, w, _ in cuts)])
        made = _Rows(self.points, width)
        for first, w, most in cuts:
            made.bend(at, first, scale * w, scale * most)
        new = made.rows()
        old = [_wide(a, width, fill) for a, fill in ((self.col, -1), (self.val, 0.0), (self.weights, 0.0))]
        return Rows(
            self.points,
            np.concatenate([old[0], new.col]),
            np.concatenate([old[1], new.val]),
            np.concatenate([self.rhs, new.rhs]),
            np.concatenate([self.first, new.first]),
            np.concatenate([old[2], new.weights]),
        )

    def only(self, which: NDArray[np.bool_]) -> "Rows":
        """Some of these rows."""
        return Rows(
            self.points, self.col[which], self.val[which], self.rhs[which], self.first[which], self.weights[which]
        )


class _Rows:
    """Rows in the making, `width` entries each."""

    def __init__(self, points: IntArray, width: int) -> None:
        self.points, self.width = points, width
        self.made: list[tuple[IntArray, FloatArray, float, int, FloatArray]] = []

    def add(self, col: list[int] | IntArray, val: list[float] | FloatArray, rhs: float) -> None:
        """A row, unless it asks for nothing."""
        if np.isinf(rhs):
            return
        self.made.append((np.asarray(col, dtype=np.int64), np.asarray(val), rhs, 0, np.zeros(0)))

    def bend(self, at: FloatArray, first: int, weights: FloatArray, rhs: float) -> None:
        """Sum of weights times changes of mean slope from inner point `first` on <= rhs, unless that is infinite."""
        if np.isinf(rhs):
            return
        count = len(weights)
        per = weights / np.diff(at[first - 1 : first + count])
        after = weights / np.diff(at[first : first + count + 1])
        val = np.zeros(count + 2)
        val[:count] += per
        val[1:-1] -= per + after
        val[2:] += after
        self.made.append((self.points[first - 1 : first + count + 1], val, rhs, first, weights))

    def rows(self) -> Rows:
        count = len(self.made)
        col, val = np.full((count, self.width), -1, np.int64), np.zeros((count, self.width))
        weights, rhs, first = np.zeros((count, self.width)), np.zeros(count), np.zeros(count, np.int64)
        for r, (c, v, most, begins, w) in enumerate(self.made):
            col[r, : len(c)], val[r, : len(v)], weights[r, : len(w)] = c, v, w
            rhs[r], first[r] = most, begins
        return Rows(self.points, col, val, rhs, first, weights)


def _wide(a: NDArray[np.generic], width: int, fill: float) -> NDArray[np.generic]:
    return np.pad(a, ((0, 0), (0, width - a.shape[1])), constant_values=fill)  # type: ignore[call-overload]


def free_curve_rows(problem: SearchProblem) -> Rows:
    """What every grade line obeys at the sections, whatever its IPs are.

    Mean grade of an interval within the mean of the steepest there, since each place of a line keeps what holds at it;
    slope difference about a section within what the sharpest curve could do over the hat function around it,
    (h1 + h2)/2 times the curvature, and what IPs without a curve could do besides; next to a tie-in in grade, half of
    that; and level controls. The flattest grade is not convex and is left out, which keeps the bound valid.
    """
    s, lim = problem.chainage_m, problem.limits
    points = _row_points(s)
    made, local = _Rows(points, 3), problem.local
    for i in range(len(s) - 1):
        made.add([i, i + 1], [-1.0, 1.0], LOOSE * local.over(RISE, s[i], s[i + 1]))
        made.add([i, i + 1], [1.0, -1.0], LOOSE * local.over(FALL, s[i], s[i + 1]))
    at = s[points]
    h = np.diff(at)
    for i in range(1, len(at) - 1):
        width = np.array([(h[i - 1] + h[i]) / 2])
        crest, sag = (LOOSE * local.loosest(which, at[i - 1], at[i + 1]) for which in (CREST, SAG))
        kinks = problem.kinked(1.0, float(width[0]))
        made.bend(at, i, width, float(sag * width[0] ** 2 + kinks * width[0]))
        made.bend(at, i, -width, float(crest * width[0] ** 2 + kinks * width[0]))
    crest, sag = problem.curvature
    at_ends = [problem.kinked(float(h[k]), float(h[k]) ** 2 / 2) for k in (0, -1)]
    if lim.start.grade is not None:
        made.add(points[:2], [-1.0, 1.0], _TIE * h[0] + lim.start.grade * h[0] + sag * h[0] ** 2 / 2 + at_ends[0])
        made.add(points[:2], [1.0, -1.0], _TIE * h[0] - lim.start.grade * h[0] + crest * h[0] ** 2 / 2 + at_ends[0])
    if lim.end.grade is not None:
        made.add(points[-2:], [-1.0, 1.0], _TIE * h[-1] + lim.end.grade * h[-1] + crest * h[-1] ** 2 / 2 + at_ends[1])
        made.add(points[-2:], [1.0, -1.0], _TIE * h[-1] - lim.end.grade * h[-1] + sag * h[-1] ** 2 / 2 + at_ends[1])
    _hold(made, problem)
    return made.rows()


def _hold(made: _Rows, problem: SearchProblem) -> None:
    """Level controls: between two sections a line leaves their chord by what its curvature allows."""
    s, bands = problem.chainage_m, problem.limits.bands
    crest, sag = problem.curvature
    held = level_room(bands, float(s[0]), float(s[-1]))
    # At the sections themselves, which have no such room, along a stretch.
    own = [b for b in bands if b.joined and b.to_m > b.from_m]
    # As loosely as the checks take a level for kept.
    low, high = held.low_m - AT_M, held.high_m + AT_M
    rows = list(zip(held.chainage_m.tolist(), low.tolist(), high.tolist(), strict=True))
    for band in own:
        at = s[(s >= band.from_m) & (s <= band.to_m)]
        reference = np.interp(at, band.chainage_m, band.reference_m)
        inner = np.column_stack([at, reference + band.low_m - AT_M, reference + band.high_m + AT_M])
        rows += [row for row in inner.tolist() if not np.isnan(row[1])]
    for at, lowest, highest in rows:
        i = int(np.clip(np.searchsorted(s, at, "right") - 1, 0, len(s) - 2))
        share = (at - s[i]) / (s[i + 1] - s[i])
        bow = (at - s[i]) * (s[i + 1] - at) / 2
        kinks = problem.kinked(2 * bow / (s[i + 1] - s[i]), bow)
        if np.isfinite(lowest):
            made.add([i, i + 1], [share - 1, -share], -lowest + crest * bow + kinks)
        if np.isfinite(highest):
            made.add([i, i + 1], [1 - share, share], highest + sag * bow + kinks)


def _row_points(s: FloatArray) -> IntArray:
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
    # Of a few close together the one most in the middle of its neighbours: the road turned round has the same.
    for k in range(1, len(at) - 1):
        before, after = s[at[k - 1]], s[at[k + 1]]
        group = np.arange(at[k], at[k + 1])
        group = group[(s[group] - before >= _LEAST_APART_M) & (after - s[group] >= _LEAST_APART_M)]
        if len(group):
            at[k] = int(group[np.argmin(np.abs(s[group] - (before + after) / 2))])
    return np.array(at, dtype=np.int64)
