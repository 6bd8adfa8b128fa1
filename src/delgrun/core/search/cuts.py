"""What the shortest curve says of a free curve: rows that every grade line keeps and a curve too lively does not.

A grade line bends at a constant rate within its curves, no curve is shorter than the least, and between them it is
straight. So its changes of slope at neighbouring sections hang together, far more than each one's own limit says. For
any weights v of these changes, sum v_k d_k is the integral of psi q over the chainage, where psi = sum v_k hat_k and q
is the rate at which the slope changes; the most that any admissible q can make of it is found by going along the
chainage once (docs/formulas.md#search).
"""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.kernels import kernel

FloatArray = NDArray[np.float64]

# Grids for the ends of curves: to find weights, and for what they prove of a window and of the whole road.
_COARSE_M, _FINE_M, _WHOLE_M = 2.0, 0.125, 0.02
# Windows, in least curve lengths: longer ones prove hardly more and cost more.
_WINDOWS = (2.2, 4.5)
_TRIES = 60
# Curves shorter than this say nothing that sections metres apart could notice.
LEAST_M = 4.0


def slope_changes(at: FloatArray, z: FloatArray) -> FloatArray:
    """(m - 2,) changes of mean slope about every inner point of `at` (m,), for levels `z` (m,). [m/m]"""
    out: FloatArray = np.diff(np.diff(z) / np.diff(at))
    return out


@kernel
def _weighed(at, first, v, step, t_at, psi_at, sums):
    """Ends of the grid, psi there and its integral from the first, for hats first .. first + len(v) - 1 of points `at`.

    Returns how many there are. Points of the road are among them, so that psi is straight in between.
    """
    count = 0
    total = 0.0
    for k in range(first - 1, first + v.shape[0]):
        a, b = at[k], at[k + 1]
        left = v[k - first] if k >= first else 0.0
        right = v[k + 1 - first] if k + 1 < first + v.shape[0] else 0.0
        parts = max(int(np.ceil((b - a) / step - 1e-9)), 1)
        for p in range(parts):
            share = p / parts
            t_at[count] = a + (b - a) * share
            psi_at[count] = left + (right - left) * share
            sums[count] = total + (b - a) * share * (left + psi_at[count]) / 2
            count += 1
        total += (b - a) * (left + right) / 2
    t_at[count], psi_at[count], sums[count] = at[first + v.shape[0]], 0.0, total
    return count + 1


@kernel
def _most(t_at, psi_at, sums, count, step, least, crest, sag, safe, best, came, sign, from_at):
    """Most of sum over curves of the integral of psi q; curves are at least `least` long but at the window's ends.

    With `safe`, curves may end half a step beside a point of the grid: an upper bound for all. `best`, `came`, `sign`
    and `from_at` keep how the most was come by.
    """
    slack = step if safe else 0.0
    up_from, down_from = 0, 0
    best[0] = 0.0
    came[0], sign[0], from_at[0] = 0, 0, 0
    # From the window's start a curve of any length may come in.
    behind = 0
    up_best, down_best = -sums[0] * sag, sums[0] * crest
    for j in range(1, count):
        # What psi can be worth within half a step of a point.
        while t_at[behind] <= t_at[j] - (least - slack) and behind < j:
            edge = 0.0
            if safe and behind > 0:
                edge = step / 2 * _near(psi_at, behind, count)
            here = best[behind] - sag * sums[behind] + sag * edge
            if here > up_best:
                up_best, up_from = here, behind
            here = best[behind] + crest * sums[behind] + crest * edge
            if here > down_best:
                down_best, down_from = here, behind
            behind += 1
        edge = step / 2 * _near(psi_at, j, count) if safe and j < count - 1 else 0.0
        best[j], came[j], sign[j], from_at[j] = best[j - 1], 0, 0, j - 1
        up, up_at, down, down_at = up_best, up_from, down_best, down_from
        if j == count - 1:
            # Through the window's end a curve of any length may go out.
            for i in range(behind, j):
                near = step / 2 * _near(psi_at, i, count) if safe and i > 0 else 0.0
                here = best[i] - sag * sums[i] + sag * near
                if here > up:
                    up, up_at = here, i
                here = best[i] + crest * sums[i] + crest * near
                if here > down:
                    down, down_at = here, i
        if up + sag * (sums[j] + edge) > best[j]:
            best[j], came[j], sign[j], from_at[j] = up + sag * (sums[j] + edge), 1, 1, up_at
        if down - crest * (sums[j] - edge) > best[j]:
            best[j], came[j], sign[j], from_at[j] = down - crest * (sums[j] - edge), 1, -1, down_at
    return best[count - 1]


@kernel
def _near(psi_at, i, count):
    """Most |psi| within half a step of point i."""
    here = abs(psi_at[i])
    most = here
    if i > 0:
        most = max(most, (here + abs(psi_at[i - 1])) / 2)
    if i < count - 1:
        most = max(most, (here + abs(psi_at[i + 1])) / 2)
    return most


@kernel
def _hat(left, middle, right, a, b):
    """Integral over a .. b of the hat that is 1 at `middle` and 0 from `left` and `right` on."""
    total = 0.0
    lo, hi = max(a, left), min(b, middle)
    if hi > lo:
        total += (hi - lo) * ((lo + hi) / 2 - left) / (middle - left)
    lo, hi = max(a, middle), min(b, right)
    if hi > lo:
        total += (hi - lo) * (right - (lo + hi) / 2) / (right - middle)
    return total


@kernel
def _changes_of(at, first, t_at, count, crest, sag, came, sign, from_at, out):
    """The slope changes of the curves that made the most."""
    out[:] = 0.0
    j = count - 1
    while j > 0:
        if came[j] == 1:
            a, b = t_at[from_at[j]], t_at[j]
            rate = sag if sign[j] > 0 else -crest
            for k in range(out.shape[0]):
                h = first + k
                if at[h + 1] > a and at[h - 1] < b:
                    out[k] += rate * _hat(at[h - 1], at[h], at[h + 1], a, b)
        j = from_at[j]


@kernel
def _deepest(at, d, first, hats, least, crest, sag, tries, coarse, fine, v):
    """Weights over a window that the free curve breaks by most, as far as `tries` steps towards the nearest
    admissible changes find them (Frank and Wolfe's method: the way there is the weights). Fills v; returns what every
    line keeps below, or a huge number where nothing is broken."""
    room = int((at[first + hats] - at[first - 1]) / fine) + 2 * (hats + 3)
    t_at, psi, sums, best = np.empty(room), np.empty(room), np.empty(room), np.empty(room)
    came, sign, from_at = np.empty(room, np.int64), np.empty(room, np.int64), np.empty(room, np.int64)
    y, u, w, gain = np.zeros(hats), np.zeros(hats), np.empty(hats), 0.0
    v[:] = 0.0
    for turn in range(tries):
        size = 0.0
        for k in range(hats):
            w[k] = d[first - 1 + k] - y[k]
            size += w[k] * w[k]
        size = np.sqrt(size)
        if size < 1e-12:
            break
        for k in range(hats):
            w[k] /= size
        count = _weighed(at, first, w, coarse, t_at, psi, sums)
        most = _most(t_at, psi, sums, count, coarse, least, crest, sag, False, best, came, sign, from_at)
        over = -most
        for k in range(hats):
            over += w[k] * d[first - 1 + k]
        if over > gain:
            gain = over
            v[:] = w
        # Nearly as much as there is to find.
        if over > 0.9 * size:
            break
        _changes_of(at, first, t_at, count, crest, sag, came, sign, from_at, u)
        along, length = 0.0, 0.0
        for k in range(hats):
            step = u[k] - y[k]
            along += w[k] * size * step
            length += step * step
        if turn == 0:
            y[:] = u
            continue
        if along <= 0 or length <= 0:
            break
        share = min(along / length, 1.0)
        for k in range(hats):
            y[k] += share * (u[k] - y[k])
    if gain <= 0.0:
        return 1e300
    top = np.max(np.abs(v))
    v /= top
    count = _weighed(at, first, v, fine, t_at, psi, sums)
    return _most(t_at, psi, sums, count, fine, least, crest, sag, True, best, came, sign, from_at)


@kernel
def _all_windows(at, d, hats, every, least, crest, sag, tries, coarse, fine, out_first, out_v, out_rhs):
    """The deepest weights of windows of `hats` changes, each `every` changes; returns how many are broken."""
    found = 0
    v = np.empty(hats)
    for first in range(1, at.shape[0] - 1 - hats + 1, every):
        most = _deepest(at, d, first, hats, least, crest, sag, tries, coarse, fine, v)
        broken = -most
        for k in range(hats):
            broken += v[k] * d[first - 1 + k]
        if broken > 1e-3 * most:
            out_first[found], out_rhs[found] = first, most
            out_v[found, :hats] = v
            found += 1
    return found


@kernel
def _most_of_road(at, v, least, crest, sag, step):
    room = int((at[-1] - at[0]) / step) + 2 * at.shape[0] + 4
    t_at, psi, sums, best = np.empty(room), np.empty(room), np.empty(room), np.empty(room)
    came, sign, from_at = np.empty(room, np.int64), np.empty(room, np.int64), np.empty(room, np.int64)
    count = _weighed(at, 1, v, step, t_at, psi, sums)
    return _most(t_at, psi, sums, count, step, least, crest, sag, True, best, came, sign, from_at)


def most_of_road(at: FloatArray, v: FloatArray, least: float, crest: float, sag: float) -> float:
    """What no grade line's sum of v_k d_k over all inner points of the road exceeds.

    Parameters
    ----------
    at : (m,) chainages of the points [m]
    v : (m - 2,) weights of the changes of mean slope about the inner points
    least : shortest curve, at least `LEAST_M` [m]
    crest, sag : sharpest curvature of either [1/m]
    """
    return float(_most_of_road(at, np.ascontiguousarray(v), least, crest, sag, _WHOLE_M))


def broken_cuts(
    at: FloatArray, changes: FloatArray, least: float, crest: float, sag: float
) -> list[tuple[int, FloatArray, float]]:
    """Cuts that these slope changes break: number of the first inner point, weights, and what no line's sum exceeds.

    Parameters
    ----------
    changes : (m - 2,) as `slope_changes` gives them
    """
    if len(changes) < 3:
        return []
    spacing = float(np.median(np.diff(at)))
    out: list[tuple[int, FloatArray, float]] = []
    for share in _WINDOWS:
        hats = min(max(round(share * least / spacing), 3), len(changes))
        every = max(round(0.3 * least / spacing), 1)
        first, most = np.empty(len(at), np.int64), np.empty(len(at))
        weights = np.zeros((len(at), hats))
        found = _all_windows(
            at, changes, hats, every, least, crest, sag, _TRIES, _COARSE_M, _FINE_M, first, weights, most
        )
        out += [(int(first[k]), weights[k].copy(), float(most[k])) for k in range(found)]
    return out
