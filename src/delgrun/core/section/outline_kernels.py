"""Compiled: the outline of the works on one side of a section at a level of the line, corner by corner.

Levels are over the section's own base, offsets from the centreline outwards [m]. Each corner knows how it moves while
the line rises (metres a metre), and each decision on the way - which variant holds, what a batter meets first -
narrows the levels between which the outline stands as it is: there its corners move evenly, and what it cuts and fills
is a quadratic of the level. docs/decisions/0034 tells the method.
"""

from typing import NamedTuple

import numpy as np

from delgrun.core.kernels import kernel

# What a segment of an outline is; LAID + k: the underside of layer k, which goes down to the ground wherever that lies.
FORMATION, CUT, FILL, CUT_BENCH, FILL_BENCH, ALONG, WALL, LAID = range(8)
# Columns of a corner: where it is, how it moves, how the segment that ends in it rises, and what that is.
X, Y, VX, VY, SLOPE, KIND = range(6)
# Of what was found on the way.
CAUGHT, IN_CUT, VARIANT, RULE, WALL_M, TURNING, LOW, HIGH = range(8)

# Of a band: height, bench behind it and its fall, and from RUN on how far out it goes in each material.
HEIGHT, BENCH, FALL, RUN = range(4)

# What is so near is there: a touch of the ground is a catch, tops of strata that near are one. [m]
_TOUCH_M = 1e-9
# What moves more slowly against each other stays where it is, as far as levels are looked at. [m/m]
_STILL = 1e-10


class Shapes(NamedTuple):
    """What is built on a side, as numbers: shape i is one that sides may share.

    variants (t + 1,) where those of each begin, in rising order of `above` (v,), the depth of the ground over
    `reference` (t, 2; offset, level against the line) from which each holds; `corners` (v + 1,) where those of each
    begin, each `at` (c, 5): offset and level, how these move with the line (0 and 1: as one with it; 0 and 0: at a
    level of its own), and what the segment is that ends there, FORMATION or LAID + layer; `constant` (v, q): what is
    built whatever the level, by column of `area_kernels.side_at`; rules (t, 3) where those for cut begin, those for
    fill, and end; `total` (r,) up to which height of batter each holds; bands (r + 1,) where those of each begin, each
    `band` (b, 3 + m): its height, width and fall of the bench behind it, and how far out it goes for each metre of
    height in each material; `reserve` (t, 3): offset that nothing may pass, and the least run to which a batter in cut
    and in fill is steepened there.
    """

    variants: np.ndarray
    above: np.ndarray
    reference: np.ndarray
    corners: np.ndarray
    at: np.ndarray
    constant: np.ndarray
    rules: np.ndarray
    total: np.ndarray
    bands: np.ndarray
    band: np.ndarray
    reserve: np.ndarray


@kernel
def keep(found, z, gap, rate):
    """Narrow the levels between which a gap, which grows by so much a metre, stays on its side of nothing."""
    if abs(rate) <= _STILL:
        return
    at = z - gap / rate
    if (gap >= 0.0) == (rate > 0.0):
        # Downwards it closes.
        if at > found[LOW]:
            found[LOW] = min(at, z)
    elif at < found[HIGH]:
        found[HIGH] = max(at, z)


@kernel
def _keep_touch(found, z, gap, rate):
    """The same for a gap that is as good as none."""
    keep(found, z, _TOUCH_M - gap, -rate)
    keep(found, z, _TOUCH_M + gap, rate)


@kernel
def _strip_at(xs, a, b, x):
    """Which strip holds an offset: the row where it begins; b - 1 beyond the last."""
    lo, hi = a, b - 1
    if x >= xs[hi]:
        return hi
    while hi - lo > 1:
        mid = (lo + hi) // 2
        if xs[mid] <= x:
            lo = mid
        else:
            hi = mid
    return lo


@kernel
def rise(xs, tops, j, k):
    """How a top rises in the strip that begins with row j."""
    return (tops[j + 1, k] - tops[j, k]) / (xs[j + 1] - xs[j])


@kernel
def top_at(xs, tops, j, k, x):
    """Level of a top at an offset in the strip that begins with row j."""
    return tops[j, k] + rise(xs, tops, j, k) * (x - xs[j])


@kernel
def _add(points, n, x, y, vx, vy, slope, kind):
    if n >= points.shape[0]:
        return n
    points[n, X], points[n, Y], points[n, VX], points[n, VY] = x, y, vx, vy
    points[n, SLOPE], points[n, KIND] = slope, kind
    return n + 1


@kernel
def _material(bands, xs, tops, band, j, x, y, vx, vy, new, z, found):
    """Which material a cut batter goes on in from a place, and the top along which it slides, or -1.

    Of all materials whose tops meet there within a touch, the one that holds its own batter just ahead. `new`: a batter
    that begins there, so that what it lies under is not known by what it has passed.
    """
    last = tops.shape[1] - 2
    over, under = 0, last
    # Materials between `over` and `under` meet here; material m lies below top m + 1.
    for m in range(1, last + 1):
        gap = top_at(xs, tops, j, m + 1, x) - y
        rate = rise(xs, tops, j, m + 1) * vx - vy
        if abs(gap) <= _TOUCH_M:
            _keep_touch(found, z, gap, rate)
        elif new:
            keep(found, z, gap, rate)
        if gap > _TOUCH_M:
            over = m
        elif gap < -_TOUCH_M:
            under = m - 1
            break
    for m in range(over, under + 1):
        own = 1.0 / bands[band, RUN + m]
        if m > over and own > rise(xs, tops, j, m + 1):
            continue
        if m < under and own < rise(xs, tops, j, m + 2):
            continue
        return m, -1
    for m in range(over + 1, under + 1):
        s = rise(xs, tops, j, m + 1)
        if 1.0 / bands[band, RUN + m] > s and 1.0 / bands[band, RUN + m - 1] < s:
            return m, m + 1
    return over, over + 1


@kernel
def _walk(bands, first_band, last_band, total, edge, xs, tops, b, cut, j, points, n, z, found, room):
    """Lead the batter from the last corner by a rule; its count of corners, whether it held, and why it ended.

    Ends: 0 at the ground, 1 without any, 2 higher than the rule goes, 3 at the reserve.
    """
    sign = 1.0 if cut else -1.0
    x, y, vx, vy = points[n - 1, X], points[n - 1, Y], points[n - 1, VX], points[n - 1, VY]
    foot, foot_v = y, vy
    last, band = tops.shape[1] - 2, first_band
    top, top_v = foot + sign * bands[band, HEIGHT], foot_v
    bench_end, bench_v, on_bench = 0.0, 0.0, False
    # Each of what may come first: how far out it is, and how that moves.
    far, far_v = room[0], room[1]
    was, kind, new = 0.0, FORMATION, True
    while True:
        if j >= b - 1:
            return _add(points, n, x, y, vx, vy, was, kind), 1
        s0 = rise(xs, tops, j, 0)
        material, along = 0, -1
        if cut:
            material, along = _material(bands, xs, tops, band, j, x, y, vx, vy, new, z, found)
        slope = sign / bands[band, RUN + material]
        if on_bench:
            slope, along = -bands[band, FALL], -1
        elif along >= 0:
            slope = rise(xs, tops, j, along)
        if x > points[n - 1, X] and slope != was:
            # At a vertex another material may begin.
            n = _add(points, n, x, y, vx, vy, was, kind)
        kind = CUT if cut else FILL
        if on_bench:
            kind = CUT_BENCH if cut else FILL_BENCH
        elif along >= 0:
            kind = ALONG
        was = slope
        gap = sign * (top_at(xs, tops, j, 0, x) - y)
        if gap <= _TOUCH_M:
            keep(found, z, _TOUCH_M - gap, -sign * (s0 * vx - vy))
            if x > points[n - 1, X]:
                n = _add(points, n, x, y, vx, vy, slope, kind)
            return n, 0
        if along < 0:
            # Strips in which nothing is met but their ends: most of the way.
            limit = edge
            if on_bench:
                limit = min(limit, bench_end)
            elif sign * slope > 0.0:
                limit = min(limit, x + (min(sign * (top - y), total - sign * (y - foot))) / (sign * slope))
            swing = vy - slope * vx
            leads = cut and not on_bench
            while j < b - 1 and xs[j + 1] < limit:
                row = xs[j + 1]
                there = y + slope * (row - x)
                gap = sign * (tops[j + 1, 0] - there)
                over = tops[j + 1, material + 1] - there if leads and material > 0 else np.inf
                under = there - tops[j + 1, material + 2] if leads and material < last else np.inf
                if gap <= _TOUCH_M or over <= _TOUCH_M or under <= _TOUCH_M:
                    break
                keep(found, z, gap, -sign * swing)
                if over < np.inf:
                    keep(found, z, over, -swing)
                if under < np.inf:
                    keep(found, z, under, swing)
                x, y, vx, vy = row, there, 0.0, swing
                j += 1
            if j >= b - 1:
                return _add(points, n, x, y, vx, vy, was, kind), 1
            s0 = rise(xs, tops, j, 0)
            gap = sign * (top_at(xs, tops, j, 0, x) - y)
        far[:] = np.inf
        far[0], far_v[0] = xs[j + 1], 0.0
        closing = sign * (slope - s0)
        if closing > 0.0:
            far[1], far_v[1] = x + gap / closing, vx + sign * (s0 * vx - vy) / closing
        if on_bench:
            far[2], far_v[2] = bench_end, bench_v
        elif sign * slope > 0.0:
            far[2], far_v[2] = x + (top - y) / slope, vx + (top_v - vy) / slope
        if cut and along < 0 and not on_bench:
            if material > 0:
                s = rise(xs, tops, j, material + 1)
                if slope > s:
                    far[3] = x + max(top_at(xs, tops, j, material + 1, x) - y, 0.0) / (slope - s)
                    far_v[3] = vx + (s * vx - vy) / (slope - s)
            if material < last:
                s = rise(xs, tops, j, material + 2)
                if s > slope:
                    far[4] = x + max(y - top_at(xs, tops, j, material + 2, x), 0.0) / (s - slope)
                    far_v[4] = vx + (vy - s * vx) / (s - slope)
        if sign * slope > 0.0 and total < np.inf:
            far[5] = x + (foot + sign * total - y) / slope
            far_v[5] = vx + (foot_v - vy) / slope
        if edge < np.inf:
            far[6], far_v[6] = edge, 0.0
        first = 0
        for e in range(1, 7):
            # What ends where its rule does, a band or the batter itself, ends first: the rule holds up to its height.
            near = _TOUCH_M if e == 5 and first == 2 else 0.0
            if e == 5 and far[1] <= far[5] + _TOUCH_M:
                continue
            # Of what is at one place, the ground and the reserve come first.
            if far[e] < far[first] - near or (e in (1, 6) and far[e] <= far[first]):
                first = e
        for e in range(7):
            if e != first and far[e] < np.inf:
                keep(found, z, far[e] - far[first], far_v[e] - far_v[first])
        nx, nv = far[first], far_v[first]
        ny, nvy = y + slope * (nx - x), vy + slope * (nv - vx)
        if first == 0:
            j += 1
            if along >= 0:
                ny, nvy = tops[j, along], 0.0
        if first > 0 or along >= 0:
            n = _add(points, n, nx, ny, nv, nvy, slope, kind)
        x, y, vx, vy, new = nx, ny, nv, nvy, on_bench
        if first == 1:
            return n, 0
        if first == 5:
            return n, 2
        if first == 6:
            return n, 3
        if first == 2:
            if on_bench or bands[band, BENCH] <= 0.0:
                on_bench = False
                band = min(band + 1, last_band)
                top, top_v = y + sign * bands[band, HEIGHT], vy
            else:
                on_bench, bench_end, bench_v = True, x + bands[band, BENCH], vx
        if n >= points.shape[0]:
            return n, 1


@kernel
def outline(shapes, sides, side, shape, z, points, found):
    """Fill the corners of a side's outline from the centreline to its catch point; how many there are.

    Parameters
    ----------
    z : the line's level over the base. [m]
    points : (room, 6) corners, see `X` to `KIND`; as many as fit.
    found : (8,) whether ground was caught, whether the batter is in cut, variant, rule, height of the wall [m], whether
        a segment turns as the line rises, and the levels between which all of this stands.
    """
    a, b = sides.start[side], sides.start[side + 1]
    xs, tops, at = sides.x, sides.tops, shapes.at
    found[:] = 0.0
    found[LOW], found[HIGH] = -np.inf, np.inf
    found[RULE] = -1.0
    if b - a < 2:
        return 0
    # Which variant holds, by the ground at the reference.
    first, end = shapes.variants[shape], shapes.variants[shape + 1]
    variant = first
    if end - first > 1:
        rx = shapes.reference[shape, 0]
        j = min(_strip_at(xs, a, b, rx), b - 2)
        depth = top_at(xs, tops, j, 0, min(rx, xs[b - 1])) - (z + shapes.reference[shape, 1])
        while variant + 1 < end and depth > shapes.above[variant + 1]:
            variant += 1
        if variant > first:
            keep(found, z, depth - shapes.above[variant], -1.0)
        if variant + 1 < end:
            keep(found, z, depth - shapes.above[variant + 1], -1.0)
    found[VARIANT] = variant - first
    n = 0
    for c in range(shapes.corners[variant], shapes.corners[variant + 1]):
        x, y = at[c, 0] + at[c, 2] * z, at[c, 1] + at[c, 3] * z
        slope = 0.0
        if n > 0:
            wide = x - points[n - 1, X]
            if wide > 0.0:
                slope = (y - points[n - 1, Y]) / wide
            # A corner that moves otherwise than the one before turns the segment between them.
            if wide > 0.0 and abs(at[c, 3] - points[n - 1, VY] - slope * (at[c, 2] - points[n - 1, VX])) > _STILL:
                found[TURNING] = 1.0
        n = _add(points, n, x, y, at[c, 2], at[c, 3], slope, at[c, 4])
    hx, hy = points[n - 1, X], points[n - 1, Y]
    if hx > xs[b - 1]:
        return n
    j = _strip_at(xs, a, b, hx)
    jj = min(j, b - 2)
    s0 = rise(xs, tops, jj, 0)
    gap = top_at(xs, tops, jj, 0, hx) - hy
    rate = s0 * points[n - 1, VX] - points[n - 1, VY]
    cut = gap > 0.0
    found[IN_CUT] = 1.0 if cut else 0.0
    if abs(gap) <= _TOUCH_M:
        _keep_touch(found, z, gap, rate)
        found[CAUGHT] = 1.0
        return n
    keep(found, z, gap, rate)
    r0 = shapes.rules[shape, 0 if cut else 1]
    r1 = shapes.rules[shape, 1 if cut else 2]
    hinge, why, room = n, 1, np.empty((2, 7))
    bands, edge = shapes.band, shapes.reserve[shape, 0]
    for r in range(r0, r1):
        first, end = shapes.bands[r], shapes.bands[r + 1]
        n, why = _walk(bands, first, end - 1, shapes.total[r], edge, xs, tops, b, cut, j, points, hinge, z, found, room)
        found[RULE] = r - r0
        if why != 2:
            break
    if why == 3:
        n = _steepened(edge, shapes.reserve[shape, 1 if cut else 2], xs, tops, b, cut, jj, points, hinge, z, found)
    elif why == 0:
        found[CAUGHT] = 1.0
    return n


@kernel
def _steepened(edge, least, xs, tops, b, cut, j, points, n, z, found):
    """Lead a batter to the reserve's edge as steeply as that takes; where that is too steep, a wall goes on."""
    sign = 1.0 if cut else -1.0
    p = points[n - 1]
    k = min(_strip_at(xs, j, b, edge), b - 2)
    ground = top_at(xs, tops, k, 0, edge)
    wide, high = edge - p[X], sign * (ground - p[Y])
    steep = wide >= least * high
    # How much room is left changes with the hinge: rate of wide - least * high.
    keep(found, z, wide - least * high, -p[VX] + least * sign * p[VY])
    kind = CUT if cut else FILL
    slope = sign * (high / wide if steep else 1.0 / least) if wide > 0.0 else 0.0
    if steep:
        found[TURNING] = 1.0
    x, y = p[X], p[Y]
    # Ground that comes up to it before the edge ends it there.
    while wide > 0.0 and j < b - 1 and xs[j] < edge:
        start, end = max(x, xs[j]), min(xs[j + 1], edge)
        g0 = sign * (top_at(xs, tops, j, 0, start) - y)
        y1 = p[Y] + slope * (end - p[X])
        g1 = sign * (top_at(xs, tops, j, 0, end) - y1)
        if end < edge - _TOUCH_M:
            # The line rises there as its hinge does, less as it swings about the edge.
            swings = (p[VY] - slope * p[VX]) * (1.0 - (end - p[X]) / wide if steep else 1.0)
            keep(found, z, g1, -sign * swings)
        if g1 <= _TOUCH_M and end < edge - _TOUCH_M:
            share = g0 / (g0 - g1) if g0 > g1 else 1.0
            nx = start + (end - start) * share
            s0 = rise(xs, tops, j, 0)
            turn = (p[VX] * (ground - p[Y]) - p[VY] * wide) / (wide * wide) if steep else 0.0
            nv = (p[VY] - slope * p[VX] + turn * (nx - p[X])) / (s0 - slope)
            found[CAUGHT] = 1.0
            return _add(points, n, nx, p[Y] + slope * (nx - p[X]), nv, s0 * nv, slope, kind)
        x, y = end, y1
        j += 1
    if wide > 0.0:
        ny = ground if steep else y
        n = _add(points, n, edge, ny, 0.0, 0.0 if steep else p[VY] - slope * p[VX], slope, kind)
    if not steep:
        found[WALL_M] = sign * (ground - points[n - 1, Y])
        n = _add(points, n, points[n - 1, X], ground, points[n - 1, VX], 0.0, 0.0, WALL)
    found[CAUGHT] = 1.0
    return n
