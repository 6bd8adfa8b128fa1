"""Compiled work on suspects: how far each point lies from the ground that its neighbours tell of.

Coordinates are local (from zero on). Neighbours are the nearest in each of eight directions, so that a dense string
of points beside the one looked at does not speak for all sides.
"""

import numpy as np

from delgrun.core.kernels import kernel
from delgrun.core.survey.break_kernels import off_section, times_off

OCTANTS, EACH = 8, 3
MOST = OCTANTS * EACH
# Where a cross-section is looked for, of so many in each direction.
_MANY = OCTANTS * 6
# So many there must be.
_FEWEST_OF_MANY = 24
# Cells looked through on each side at most.
_REACH = 8
# With fewer neighbours nothing is said of a point.
_FEWEST = 9
# A model whose neighbours scatter more than this many times the usual is not the ground there; with less than this
# many times, nothing but a smooth surface is.
_FITS, _CLOSELY = 1.6, 1.15
# So large a part of the neighbours a fit must be of: one that leaves out the other half of a bank says nothing of it.
_OF_MOST, _OF_NEARLY_ALL = 0.75, 0.86
# Where nothing fits: a point is off that lies this many times farther from the smooth surface than nearly all of its
# neighbours.
_BEYOND = 3.0


@kernel
def neighbours(plan, p, size, nx, ny, start, member, out, away):
    """Numbers and distances of the nearest points in each of eight directions, as many as `out` takes; else -1."""
    each = len(out) // OCTANTS
    out[:] = -1
    away[:] = 1e30
    x, y = plan[p, 0], plan[p, 1]
    ci, cj = min(int(x / size), nx - 1), min(int(y / size), ny - 1)
    for ring in range(_REACH + 1):
        for i in range(max(ci - ring, 0), min(ci + ring, nx - 1) + 1):
            for j in range(max(cj - ring, 0), min(cj + ring, ny - 1) + 1):
                if max(abs(i - ci), abs(j - cj)) != ring:
                    continue
                for k in range(start[i * ny + j], start[i * ny + j + 1]):
                    q = member[k]
                    if q == p:
                        continue
                    dx, dy = plan[q, 0] - x, plan[q, 1] - y
                    octant = int((np.arctan2(dy, dx) / np.pi + 1.0) * 4.0) % OCTANTS
                    d = np.hypot(dx, dy)
                    at = octant * each + each - 1
                    if d >= away[at]:
                        continue
                    while at > octant * each and away[at - 1] > d:
                        away[at], out[at] = away[at - 1], out[at - 1]
                        at -= 1
                    away[at], out[at] = d, q
        # What a further ring brings is farther than what is there already.
        worst = 0.0
        for k in range(len(out)):
            worst = max(worst, away[k])
        if worst <= ring * size:
            break


@kernel
def _factored(a, n):
    """The symmetric n x n matrix `a` becomes its Cholesky factor; False where it has none."""
    for i in range(n):
        for j in range(i + 1):
            s = a[i, j]
            for k in range(j):
                s -= a[i, k] * a[j, k]
            if i == j:
                if s <= 1e-9:
                    return False
                a[i, i] = np.sqrt(s)
            else:
                a[i, j] = s / a[j, j]
    return True


@kernel
def _solve(a, b, n):
    """`b` becomes the answer of the system whose factor is `a`."""
    for i in range(n):
        for k in range(i):
            b[i] -= a[i, k] * b[k]
        b[i] /= a[i, i]
    for i in range(n - 1, -1, -1):
        for k in range(i + 1, n):
            b[i] -= a[k, i] * b[k]
        b[i] /= a[i, i]


@kernel
def _terms(x, y, n, out):
    """1, x, y and, where n is 6, x^2, xy, y^2."""
    out[0], out[1], out[2] = 1.0, x, y
    if n == 6:
        out[3], out[4], out[5] = x * x, x * y, y * y


@kernel
def _fit(x, y, z, base, count, n, floor, work):
    """Robust fit of n terms to points weighted by `base`: level at (0, 0), its variance factor, scatter, and of how
    many points it is a fit.

    Weights fall with the residual (Huber, then Tukey's biweight), scaled by the median residual but never by less than
    `floor`. A scatter below zero: there is no fit.
    """
    a, b, t, w, r, order = work
    for k in range(count):
        w[k] = base[k]
    level = 0.0
    for turn in range(6):
        a[:n, :n] = 0.0
        b[:n] = 0.0
        for k in range(count):
            _terms(x[k], y[k], n, t)
            for i in range(n):
                b[i] += w[k] * t[i] * z[k]
                for j in range(i + 1):
                    a[i, j] += w[k] * t[i] * t[j]
        for i in range(n):
            a[i, i] += 1e-9
        if not _factored(a, n):
            return 0.0, 0.0, -1.0, 0.0
        _solve(a, b, n)
        level = b[0]
        for k in range(count):
            _terms(x[k], y[k], n, t)
            fit = 0.0
            for i in range(n):
                fit += t[i] * b[i]
            r[k] = z[k] - fit
            order[k] = abs(r[k])
        if turn == 5:
            break
        scale = max(1.4826 * np.median(order[:count]) * np.sqrt(count / max(count - n, 1.0)), floor)
        for k in range(count):
            u = abs(r[k]) / scale
            if turn < 3:
                w[k] = base[k] * (1.0 if u < 1.5 else 1.5 / u)
            else:
                w[k] = base[k] * ((1.0 - (u / 6.0) ** 2) ** 2 if u < 6.0 else 0.0)
    # What each neighbour weighs in the level at the middle: variances add with its square.
    b[:n] = 0.0
    b[0] = 1.0
    _solve(a, b, n)
    factor = squares = weight = 0.0
    for k in range(count):
        _terms(x[k], y[k], n, t)
        share = 0.0
        for i in range(n):
            share += t[i] * b[i]
        factor += (w[k] * share) ** 2
        trust = w[k] / base[k]
        squares += trust * r[k] * r[k]
        weight += trust
    if weight - n < 1.5:
        return level, factor, -1.0, 0.0
    return level, factor, np.sqrt(squares / (weight - n)), weight


@kernel
def _gather(plan, level, p, near, away, out_of_it, x, y, z, base):
    """Neighbours of p that may be asked, in units of their mean distance, nearest of each direction first; a count and
    that distance. Neighbours that may not be asked become -1.
    """
    count, each = 0, len(near) // OCTANTS
    mean = 0.0
    for depth in range(each):
        for octant in range(OCTANTS):
            k = octant * each + depth
            q = near[k]
            if q < 0 or out_of_it[q]:
                near[k] = -1
                continue
            x[count], y[count], z[count] = plan[q, 0] - plan[p, 0], plan[q, 1] - plan[p, 1], level[q]
            mean += away[k]
            count += 1
    if count < _FEWEST or mean <= 0.0:
        return 0, 0.0
    mean /= count
    for k in range(count):
        x[k], y[k] = x[k] / mean, y[k] / mean
        base[k] = 1.0 / (1.0 + x[k] * x[k] + y[k] * y[k])
    return count, mean


@kernel
def _side(x, y, z, base, count, side, beyond, sx, sy, sz, sb):
    """Neighbours on one of eight sides, and a little beyond the middle; how many."""
    ux, uy = np.cos(side * np.pi / 4), np.sin(side * np.pi / 4)
    c = 0
    for k in range(count):
        if x[k] * ux + y[k] * uy >= -beyond:
            sx[c], sy[c], sz[c], sb[c] = x[k], y[k], z[k], base[k]
            c += 1
    return c


@kernel
def scatters(plan, level, size, nx, ny, start, member, which):
    """(k,) scatter of the neighbours of each point about the plane of the side that fits best [m]; -1 where too few.

    The best of eight is less than the true scatter; whoever uses it allows for that.
    """
    out = np.full(which.shape[0], -1.0)
    near, away = np.empty(MOST, np.int64), np.empty(MOST)
    x, y, z, base = np.empty(MOST), np.empty(MOST), np.empty(MOST), np.empty(MOST)
    sx, sy, sz, sb = np.empty(MOST), np.empty(MOST), np.empty(MOST), np.empty(MOST)
    work = (np.empty((6, 6)), np.empty(6), np.empty(6), np.empty(MOST), np.empty(MOST), np.empty(MOST))
    nobody = np.zeros(plan.shape[0], np.bool_)
    for row in range(which.shape[0]):
        neighbours(plan, which[row], size, nx, ny, start, member, near, away)
        count, _ = _gather(plan, level, which[row], near, away, nobody, x, y, z, base)
        best = 1e30
        for side in range(OCTANTS):
            c = _side(x, y, z, base, count, side, 0.15, sx, sy, sz, sb)
            if c >= 8:
                _, _, s, _ = _fit(sx, sy, sz, sb, c, 3, 1e-4, work)
                if 0 <= s < best:
                    best = s
        if best < 1e29:
            out[row] = best
    return out


@kernel
def off(plan, level, size, nx, ny, start, member, out_of_it, usual, which, limit):
    """Of the points `which`: (k,) how far each lies above the ground its neighbours tell of [m], and (k,) how many
    times the scatter to expect that is.

    `usual` (n,) is the scatter usual around each point [m]. Neighbours that are `out_of_it` are not asked. Where the
    smooth surface through the neighbours fits them closely, it decides; else the cross-section they make, seen the way
    a break runs. Where they make none, planes through those of one side, a plane through the nearest, and lines between
    opposite ones are tried, and the point is off only if it is off all that fit. Where nothing fits, and at the rim,
    only what stands out far above or below all its neighbours is off.
    """
    m = which.shape[0]
    above, times = np.zeros(m), np.zeros(m)
    near, away = np.empty(MOST, np.int64), np.empty(MOST)
    x, y, z, base = np.empty(MOST), np.empty(MOST), np.empty(MOST), np.empty(MOST)
    sx, sy, sz, sb = np.empty(MOST), np.empty(MOST), np.empty(MOST), np.empty(MOST)
    work = (np.empty((6, 6)), np.empty(6), np.empty(6), np.empty(MOST), np.empty(MOST), np.empty(MOST))
    more, farther = np.empty(_MANY, np.int64), np.empty(_MANY)
    mx, my, mz, mb = np.empty(_MANY + 1), np.empty(_MANY + 1), np.empty(_MANY + 1), np.empty(_MANY + 1)
    for row in range(m):
        p = which[row]
        neighbours(plan, p, size, nx, ny, start, member, near, away)
        count, _ = _gather(plan, level, p, near, away, out_of_it, x, y, z, base)
        if count == 0:
            continue
        expect = usual[p]
        at, factor, s, of = _fit(x, y, z, base, count, 6, expect, work)
        found, by = 1e30, 0.0
        if s >= 0 and s <= _FITS * expect and of >= _OF_MOST * count:
            found, by = times_off(level[p] - at, factor, s, of - 6, expect), level[p] - at
            if found < limit or (s <= _CLOSELY * expect and of >= _OF_NEARLY_ALL * count):
                if found >= limit and not _surrounded(near):
                    found = min(found, limit * abs(by) / (_may_break(z[:count], near, away) + limit * expect))
                times[row], above[row] = found, by
                continue
        neighbours(plan, p, size, nx, ny, start, member, more, farther)
        many, _ = _gather(plan, level, p, more, farther, out_of_it, mx, my, mz, mb)
        if not _surrounded(near):
            times[row], above[row] = _at_the_rim(level[p], mz[:many], expect, limit)
            continue
        if many >= _FEWEST_OF_MANY:
            said, by_section = off_section(mx, my, mz, many, level[p], expect, limit, found < 1e29)
            if said >= 0:
                times[row], above[row] = said, by_section
                continue
        smooth, known = at, s >= 0
        # The few farthest may be wrong themselves.
        worst = np.sort(np.abs(work[4][:count]))[count - 1 - count // 8]
        higher = lower = False
        around = found < 1e29
        fitting = np.zeros(OCTANTS, np.bool_)
        for turn in range(2 * OCTANTS + 1):
            if turn < 2 * OCTANTS:
                c = _side(x, y, z, base, count, turn % OCTANTS, 0.0 if turn < OCTANTS else 0.7, sx, sy, sz, sb)
                if c < 7:
                    continue
                at, factor, s, of = _fit(sx, sy, sz, sb, c, 3, expect, work)
            else:
                c = min(count, OCTANTS)
                at, factor, s, of = _fit(x, y, z, base, c, 3, expect, work)
            if s < 0:
                continue
            if s <= _FITS * expect and of >= _OF_MOST * c:
                here = times_off(level[p] - at, factor, s, of - 3, expect)
                higher, lower = higher or level[p] > at, lower or level[p] < at
                if turn < OCTANTS:
                    fitting[turn] = True
                elif turn == 2 * OCTANTS:
                    around = True
                if here < found:
                    found, by = here, level[p] - at
        for side in range(OCTANTS // 2):
            # Along a string: the bed of a ditch, a crest.
            one, other = side * EACH, (side + OCTANTS // 2) * EACH
            if near[one] < 0 or near[other] < 0:
                continue
            share = away[one] / (away[one] + away[other])
            at = level[near[one]] * (1 - share) + level[near[other]] * share
            here = times_off(level[p] - at, share * share + (1 - share) * (1 - share), expect, 1.0, expect)
            if here < found and found < 1e29:
                found, by = here, level[p] - at
        # One side alone tells of the ground on that side only.
        for side in range(OCTANTS):
            for other in range(3, 6):
                around = around or (fitting[side] and fitting[(side + other) % OCTANTS])
        if higher and lower:
            # Above one side and below the other: on the slope between them.
            found = 0.0
        elif found > 1e29 or (found >= limit and not around):
            # Nothing tells what the ground is there: what stands out farther than its neighbours do among themselves.
            found, by = 0.0, level[p] - smooth
            if known:
                found = limit * abs(by) / (_BEYOND * worst + limit * expect)
        times[row], above[row] = found, by
    return above, times


@kernel
def _surrounded(near):
    """Whether no quarter of the directions is without neighbours, as it is at the rim of the survey."""
    before = True
    for octant in range(-1, OCTANTS):
        here = False
        for k in range(EACH):
            here = here or near[(octant % OCTANTS) * EACH + k] >= 0
        if not here and not before:
            return False
        before = here
    return True


@kernel
def _may_break(around, near, away):
    """How far the ground beyond the nearest neighbour may turn from where it leads, at the rim of the survey: by the
    greatest fall of the ground around over that distance.
    """
    nearest, farthest = 1e30, 0.0
    for k in range(len(near)):
        if near[k] >= 0:
            nearest, farthest = min(nearest, away[k]), max(farthest, away[k])
    return (around.max() - around.min()) / (0.75 * farthest) * nearest


@kernel
def _at_the_rim(level, around, expect, limit):
    """How a level at the rim of the survey is off where its neighbours are not smooth: what lies behind it is unknown,
    so only what is above or below all of them, by more than they are among themselves, is no ground.
    """
    low, high = around.min(), around.max()
    beyond = max(level - high, low - level, 0.0)
    by = level - high if level > high else level - low if level < low else 0.0
    return limit * beyond / (high - low + limit * expect), by
