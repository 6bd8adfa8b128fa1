"""Compiled work on suspects beside breaks: ground that is even along one direction, whatever it is across it.

Banks, ditches, creeks and terraces lie closer together than surveyed points can tell, but they run on. Seen along the
way they run, the points of some ten metres are one cross-section with a point each few decimetres, and a level that
is off that section is seen at once.
"""

import numpy as np

from delgrun.core.kernels import kernel

# All limits were chosen on made lands; see docs/suspects.md.
# Directions tried at first, evenly over half a turn; then how often the best is looked at closer.
_DIRECTIONS, _CLOSER = 12, 10
# How far a bend may carry the break aside over the reach of the neighbours, as a share of that reach.
_MOST_BENT = 0.04
# A neighbour counts as no worse than so many times the scatter.
_WORST = 7.0
# Neighbours on each side that a line is led through, and how far off it, in multiples of the scatter, they may be.
_ON_A_SIDE, _ON_LINE = 5, 2.5
# Where so many on both sides lie on one line, within so many times the scatter, that is the ground between them.
_STRAIGHT, _CLOSELY = 4, 1.7
# A cross-section whose points scatter more than so many times the usual is none.
_EVEN = 1.35
# With the point in it a section may be so much less even, in multiples of the scatter, where the point is good.
_AS_EVEN = 5.0
# Weight of what the land around says of the scatter, in points.
_PRIOR = 30.0


@kernel
def _sorted_by(t, order, count):
    """`order` becomes the numbers of the first `count` of t, least first; near to it already is quick."""
    for i in range(1, count):
        k = order[i]
        j = i
        while j > 0 and t[order[j - 1]] > t[k]:
            order[j] = order[j - 1]
            j -= 1
        order[j] = k


@kernel
def _seen_along(x, y, count, angle, bent, t, s):
    """Places across (t) and along (s) a direction that bends."""
    c, d = np.cos(angle), np.sin(angle)
    for k in range(count):
        s[k] = c * x[k] + d * y[k]
        t[k] = -d * x[k] + c * y[k] - bent * s[k] * s[k]


@kernel
def _off_chord(ts, hs, i):
    """How far point i of a section lies off the line between its two neighbours, in units of one level's scatter."""
    gap = ts[i + 1] - ts[i - 1]
    w = 0.5 if gap < 1e-9 else (ts[i + 1] - ts[i]) / gap
    return abs(hs[i] - w * hs[i - 1] - (1 - w) * hs[i + 1]) / np.sqrt(1 + w * w + (1 - w) * (1 - w))


@kernel
def _unevenness(z, count, scatter, work):
    """How badly the points, seen along a direction, are one cross-section, in multiples of the scatter; and the grade
    along it that makes it least.

    Each point is held against the line between its neighbours in the section. The grade is the weighted median of the
    grades that would make one of them fit: the least sum of distances has it.
    """
    t, s, order, by, rate, weight, ts, hs = work
    _sorted_by(t, order, count)
    m = 0
    for i in range(1, count - 1):
        a, p, b = order[i - 1], order[i], order[i + 1]
        gap = t[b] - t[a]
        w = 0.5 if gap < 1e-9 else (t[b] - t[p]) / gap
        weight[m] = s[p] - w * s[a] - (1 - w) * s[b]
        rate[m] = (z[p] - w * z[a] - (1 - w) * z[b]) / weight[m] if abs(weight[m]) > 1e-9 else 0.0
        by[m] = m
        m += 1
    _sorted_by(rate, by, m)
    total = 0.0
    for i in range(m):
        total += abs(weight[i])
    half, grade = 0.0, 0.0
    for i in range(m):
        half += abs(weight[by[i]])
        if half >= 0.5 * total:
            grade = rate[by[i]]
            break
    for i in range(count):
        ts[i], hs[i] = t[order[i]], z[order[i]] - grade * s[order[i]]
    bad = 0.0
    for i in range(1, count - 1):
        bad += min(_off_chord(ts, hs, i) / scatter, _WORST)
    return bad, grade


@kernel
def _led(ts, hs, first, step, n, left_out, line):
    """Level at t = 0 and variance factor, in `line`, of the line through n points on one side, one perhaps left out;
    the number and the distance of the point that is farthest from it.
    """
    k = st = sh = stt = sth = 0.0
    for j in range(n):
        if j != left_out:
            q = first + j * step
            k += 1
            st += ts[q]
            sh += hs[q]
            stt += ts[q] * ts[q]
            sth += ts[q] * hs[q]
    d = k * stt - st * st
    if d < 1e-12:
        return -1, 1e30
    slope = (k * sth - st * sh) / d
    line[0], line[1] = (sh - slope * st) / k, stt / d
    worst, which = -1.0, -1
    for j in range(n):
        if j != left_out:
            q = first + j * step
            r = abs(hs[q] - line[0] - slope * ts[q])
            if r > worst:
                worst, which = r, j
    return which, worst


@kernel
def _side(ts, hs, first, step, scatter, line):
    """The line of the points on one side, in `line` (level at t = 0, variance factor); whether there is one.

    Of the nearest five, or of four of these, or of the nearest three, or two: the first that lie on a line.
    """
    there = len(ts) - first if step > 0 else first + 1
    if there >= _ON_A_SIDE:
        worst, r = _led(ts, hs, first, step, _ON_A_SIDE, -1, line)
        if r <= _ON_LINE * scatter:
            return True
        _, r = _led(ts, hs, first, step, _ON_A_SIDE, worst, line)
        if r <= _ON_LINE * scatter:
            return True
    if there >= 3:
        _, r = _led(ts, hs, first, step, 3, -1, line)
        if r <= _ON_LINE * scatter:
            return True
    if there >= 2:
        _, r = _led(ts, hs, first, step, 2, -1, line)
        return r < 1e29
    return False


@kernel
def _evenest(x, y, z, count, scatter, way):
    """The direction in which the points are one cross-section the best, in `way` (angle, bend, grade along it); how
    badly they still are, summed over the points in multiples of the scatter.
    """
    t, s, order, by = np.empty(count), np.empty(count), np.arange(count), np.arange(count)
    work = (t, s, order, by, np.empty(count), np.empty(count), np.empty(count), np.empty(count))
    reach = 0.0
    for k in range(count):
        reach = max(reach, np.hypot(x[k], y[k]))
    best = 1e30
    for i in range(_DIRECTIONS):
        a = np.pi * i / _DIRECTIONS
        _seen_along(x, y, count, a, 0.0, t, s)
        bad, grade = _unevenness(z, count, scatter, work)
        if bad < best:
            best = bad
            way[0], way[1], way[2] = a, 0.0, grade
    turn, bend = np.pi / _DIRECTIONS / 2, _MOST_BENT / reach / 2
    for _ in range(_CLOSER):
        for i in range(4):
            a = way[0] + (turn if i == 0 else -turn if i == 1 else 0.0)
            c = way[1] + (bend if i == 2 else -bend if i == 3 else 0.0)
            _seen_along(x, y, count, a, c, t, s)
            bad, grade = _unevenness(z, count, scatter, work)
            if bad < best:
                best = bad
                way[0], way[1], way[2] = a, c, grade
        turn, bend = 0.6 * turn, 0.6 * bend
    return best


@kernel
def _section_there(x, y, z, count, scatter, way, found):
    """What the cross-section through points says of the level at (0, 0); its own scatter, or -1 where it says nothing.

    `way` is the direction it is seen in. `found` (3, 2): level and variance factor by the line that joins the two
    neighbours next to the place, and by the lines of both sides. A break may lie between these two: then the level
    lies between what the three say.
    """
    t, s, order = np.empty(count), np.empty(count), np.arange(count)
    _seen_along(x, y, count, way[0], way[1], t, s)
    _sorted_by(t, order, count)
    ts, hs = np.empty(count), np.empty(count)
    for i in range(count):
        ts[i], hs[i] = t[order[i]], z[order[i]] - way[2] * s[order[i]]
    off = np.empty(count - 2)
    for i in range(1, count - 1):
        off[i - 1] = _off_chord(ts, hs, i)
    own = 1.4826 * np.median(off)
    above = np.searchsorted(ts, 0.0)
    if own > _EVEN * scatter or above == 0 or above == count:
        return -1.0
    if above >= _STRAIGHT and above + _STRAIGHT <= count:
        _, worst = _led(ts, hs, above - _STRAIGHT, 1, 2 * _STRAIGHT, -1, found[0])
        if worst <= _CLOSELY * scatter:
            found[1] = found[0]
            found[2] = found[0]
            return own
    gap = ts[above] - ts[above - 1]
    w = ts[above] / gap if gap > 1e-9 else 0.5
    found[0, 0], found[0, 1] = w * hs[above - 1] + (1 - w) * hs[above], w * w + (1 - w) * (1 - w)
    for side in range(2):
        if not _side(ts, hs, above - 1 + side, 2 * side - 1, max(own, scatter), found[1 + side]):
            found[1 + side] = found[0]
    return own


@kernel
def times_off(above, factor, s, free, expect):
    """A distance in multiples of the scatter to expect: of what is usual and of the model's own neighbours."""
    pooled = np.sqrt((_PRIOR * expect * expect + free * s * s) / (_PRIOR + free))
    return abs(above) / (pooled * np.sqrt(1.0 + factor))


@kernel
def _off_all(level, said, own, count, expect):
    """How many times the scatter a level is off all that a section says, and by how much; 0 between two of it."""
    found, by = 1e30, 0.0
    higher = lower = False
    for i in range(3):
        higher, lower = higher or level > said[i, 0], lower or level < said[i, 0]
        here = times_off(level - said[i, 0], said[i, 1], own, count, expect)
        if here < found:
            found, by = here, level - said[i, 0]
    return (0.0, 0.0) if higher and lower else (found, by)


@kernel
def off_section(x, y, z, count, level, expect, limit, smooth):
    """How many times the scatter a level at (0, 0) is off the section through its neighbours, and by how much; -1 where
    they are none. The arrays have room for one more.

    `smooth`: a smooth surface fits there as well, and the level is off it. Else the neighbours may hide where a break
    runs, which the point itself tells: seen along the way in which the section is the most even with the point in it,
    it must be off as well, and the section clearly less even.
    """
    way, said = np.empty(3), np.empty((3, 2))
    uneven = _evenest(x, y, z, count, expect, way)
    own = _section_there(x, y, z, count, expect, way, said)
    if own < 0:
        return -1.0, 0.0
    found, by = _off_all(level, said, own, count, expect)
    if smooth or found < limit:
        return found, by
    x[count], y[count], z[count] = 0.0, 0.0, level
    if _evenest(x, y, z, count + 1, expect, way) < uneven + _AS_EVEN:
        return 0.0, by
    own = _section_there(x, y, z, count, expect, way, said)
    return (found, by) if own < 0 else (min(found, _off_all(level, said, own, count, expect)[0]), by)
