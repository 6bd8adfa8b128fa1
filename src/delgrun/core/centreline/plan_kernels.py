"""Compiled work on a line of tangents, arcs and clothoids: where a chainage is, and at what chainage a place is.

A line is nine columns, one row an element: chainage and easting and northing of its start, direction there
(counter-clockwise from east), curvature at its start and at its end (positive to the left), length, easting and
northing of its end. Curvature runs straight from one to the other: 0 and 0 on a tangent, alike on an arc, else a
clothoid.
"""

import numpy as np

from delgrun.core.kernels import kernel

CHAINAGE, EASTING, NORTHING, DIRECTION, CURVED, TO_CURVED, LENGTH, TO_EASTING, TO_NORTHING = range(9)

# Gauss and Legendre's nodes and weights: exact to rounding for pieces that turn by no more than a radian, since the
# rule's error is that of a power series after sixteen terms of half of it.
_COUNT = 8
_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(_COUNT)
_MOST_TURN = 1.0
# At the ends of an element a foot may be lost by rounding: so near an end it is there. [m]
_END_M = 1e-7


@kernel
def _moved(line, i, run):
    """Easting and northing from an element's start, and direction, `run` metres along it."""
    k0, length = line[i, CURVED], line[i, LENGTH]
    rate = (line[i, TO_CURVED] - k0) / length
    first = line[i, DIRECTION]
    if run == length and not np.isnan(line[i, TO_EASTING]):
        x, y = line[i, TO_EASTING] - line[i, EASTING], line[i, TO_NORTHING] - line[i, NORTHING]
        return x, y, first + (k0 + line[i, TO_CURVED]) / 2 * length
    if rate == 0.0:
        turn = k0 * run
        half = turn / 2
        # The chord of an arc is run * sin(half) / half, at half the turn.
        chord = run * (np.sin(half) / half if abs(half) > 1e-9 else 1.0)
        return chord * np.cos(first + half), chord * np.sin(first + half), first + turn
    if run == 0.0:
        return 0.0, 0.0, first
    pieces = 1 + int(abs(run) * max(abs(k0), abs(k0 + rate * run)) / _MOST_TURN)
    x = y = 0.0
    step = run / pieces
    for p in range(pieces):
        for g in range(_COUNT):
            u = step * (p + (1 + _NODES[g]) / 2)
            at = first + k0 * u + rate * u * u / 2
            x += _WEIGHTS[g] / 2 * step * np.cos(at)
            y += _WEIGHTS[g] / 2 * step * np.sin(at)
    return x, y, first + k0 * run + rate * run * run / 2


@kernel
def with_ends(line):
    """The same with the ends of its elements filled in."""
    out = line.copy()
    for i in range(len(out)):
        x, y, _ = _moved(line, i, line[i, LENGTH])
        out[i, TO_EASTING], out[i, TO_NORTHING] = line[i, EASTING] + x, line[i, NORTHING] + y
    return out


@kernel
def located(line, chainage):
    """(n,) easting, northing, direction and curvature; chainages past an end continue the end's tangent or arc."""
    n = len(chainage)
    east, north, direction, curvature = np.empty(n), np.empty(n), np.empty(n), np.empty(n)
    last = len(line) - 1
    for p in range(n):
        i = min(max(np.searchsorted(line[:, CHAINAGE], chainage[p], side="right") - 1, 0), last)
        run = chainage[p] - line[i, CHAINAGE]
        within = min(max(run, 0.0), line[i, LENGTH])
        x, y, at = _moved(line, i, within)
        bent = line[i, CURVED] + (line[i, TO_CURVED] - line[i, CURVED]) * within / line[i, LENGTH]
        if run != within:
            turn = bent * (run - within)
            chord = (run - within) * (np.sin(turn / 2) / (turn / 2) if abs(turn) > 1e-9 else 1.0)
            x, y = x + chord * np.cos(at + turn / 2), y + chord * np.sin(at + turn / 2)
            at += turn
        east[p], north[p] = line[i, EASTING] + x, line[i, NORTHING] + y
        direction[p], curvature[p] = at, bent
    return east, north, direction, curvature


@kernel
def _arcs_in(line, i, off):
    """How many arcs a clothoid is taken for, so that it lies this near to them; one for any other element.

    An arc of the mean curvature between two points of a clothoid is nowhere further from it than k' h^3 / 24 (the
    next term of its series, h its length).
    """
    rate = (line[i, TO_CURVED] - line[i, CURVED]) / line[i, LENGTH]
    if rate == 0.0:
        return 1
    return max(int(np.ceil(line[i, LENGTH] / (24 * off / abs(rate)) ** (1 / 3))), 1)


@kernel
def arcs(line, off):
    """(m, 9) tangents and arcs that the elements are, to within `off`, as columns of a line."""
    count = 0
    for i in range(len(line)):
        count += _arcs_in(line, i, off)
    out = np.empty((count, 9))
    m = 0
    for i in range(len(line)):
        pieces = _arcs_in(line, i, off)
        if pieces == 1 and line[i, CURVED] == line[i, TO_CURVED]:
            out[m] = line[i]
            m += 1
            continue
        step = line[i, LENGTH] / pieces
        rate = (line[i, TO_CURVED] - line[i, CURVED]) / line[i, LENGTH]
        x0, y0 = 0.0, 0.0
        for p in range(pieces):
            x1, y1, _ = _moved(line, i, line[i, LENGTH] if p == pieces - 1 else step * (p + 1))
            bent = line[i, CURVED] + rate * step * (p + 0.5)
            out[m, CHAINAGE] = line[i, CHAINAGE] + step * p
            out[m, EASTING], out[m, NORTHING] = line[i, EASTING] + x0, line[i, NORTHING] + y0
            out[m, DIRECTION] = np.arctan2(y1 - y0, x1 - x0) - bent * step / 2
            out[m, CURVED] = out[m, TO_CURVED] = bent
            out[m, LENGTH] = step
            out[m, TO_EASTING], out[m, TO_NORTHING] = line[i, EASTING] + x1, line[i, NORTHING] + y1
            x0, y0 = x1, y1
            m += 1
    return out


@kernel
def _seen(line, i, px, py, run):
    """How far ahead and how far to the left a place is, from a point of an element; px, py from its start."""
    x, y, at = _moved(line, i, run)
    c, s = np.cos(at), np.sin(at)
    return (px - x) * c + (py - y) * s, (py - y) * c - (px - x) * s


@kernel
def _feet_of_arc(line, i, px, py, out, n):
    """Runs at which a tangent or an arc has a place at right angles; returns how many there are then in `out`."""
    k, length, first = line[i, CURVED], line[i, LENGTH], line[i, DIRECTION]
    if k == 0.0:
        run = px * np.cos(first) + py * np.sin(first)
        if -_END_M <= run <= length + _END_M:
            out[n] = min(max(run, 0.0), length)
            n += 1
        return n
    radius = 1 / k
    # From the centre: the start lies a quarter turn back.
    cx, cy = px + radius * np.sin(first), py - radius * np.cos(first)
    if np.hypot(cx, cy) < _END_M:
        # Everywhere on the arc.
        out[n] = length / 2
        return n + 1
    start = np.arctan2(-np.cos(first) * radius, np.sin(first) * radius)
    whole = np.pi * abs(radius)
    run = (np.arctan2(cy, cx) - start) / k
    run -= np.floor((run + _END_M) / whole) * whole
    while run <= length + _END_M:
        out[n] = min(max(run, 0.0), length)
        n += 1
        if n == len(out):
            return n
        run += whole
    return n


@kernel
def _feet_of_clothoid(line, i, px, py, out, n):
    """The same on a clothoid.

    With f how far ahead the place is, f' = k h - 1 (h how far to the left) and f'' = k' h - k^2 f: pieces are halved
    until f can't vanish on them, or runs one way only, by bounds on f' and f''.
    """
    k0, k1, length = line[i, CURVED], line[i, TO_CURVED], line[i, LENGTH]
    rate = (k1 - k0) / length
    most = max(abs(k0), abs(k1))
    lows, highs = np.empty(128), np.empty(128)
    lows[0], highs[0] = 0.0, length
    left = 1
    flat_to, flattest = -1.0, np.inf
    while left > 0 and n < len(out):
        left -= 1
        a, b = lows[left], highs[left]
        middle, half = (a + b) / 2, (b - a) / 2
        ahead, aside = _seen(line, i, px, py, middle)
        away = np.hypot(ahead, aside) + half
        slope = (k0 + rate * middle) * aside - 1
        bend = (abs(rate) + most * most) * away
        least = min(half * (1 + most * away), half * (abs(slope) + bend * half / 2))
        if abs(ahead) > least + _END_M:
            continue
        if abs(slope) > bend * half:
            fa, fb = _seen(line, i, px, py, a)[0], _seen(line, i, px, py, b)[0]
            if fa * fb <= 0:
                out[n] = _root(line, i, px, py, a, b, fa)
                n += 1
            elif a == 0.0 and abs(fa) < _END_M:
                # At the ends of the element rounding may hide it; elsewhere the piece beside has it.
                out[n] = a
                n += 1
            elif b == length and abs(fb) < _END_M:
                out[n] = b
                n += 1
        elif least < _END_M / 10:
            # Two feet that all but meet are one: the best of the pieces that hang together.
            if a != flat_to:
                n, flattest = n + 1, np.inf
            flat_to = b
            if abs(ahead) < flattest:
                flattest, out[n - 1] = abs(ahead), middle
        else:
            lows[left], highs[left] = middle, b
            lows[left + 1], highs[left + 1] = a, middle
            left += 2
    return n


@kernel
def _root(line, i, px, py, a, b, fa):
    """Where f vanishes between a and b, where it has different signs: Newton's steps, halved where they leave."""
    run = (a + b) / 2
    rate = (line[i, TO_CURVED] - line[i, CURVED]) / line[i, LENGTH]
    for _ in range(60):
        ahead, aside = _seen(line, i, px, py, run)
        if ahead == 0.0:
            break
        if (ahead > 0) == (fa > 0):
            a = run
        else:
            b = run
        slope = (line[i, CURVED] + rate * run) * aside - 1
        following = run - ahead / slope if slope != 0.0 else a
        if not a < following < b:
            following = (a + b) / 2
        if abs(following - run) < 1e-12 * (1 + b) or b - a < 1e-12:
            run = following
            break
        run = following
    return run


@kernel
def _feet(line, i, x, y, out, n):
    px, py = x - line[i, EASTING], y - line[i, NORTHING]
    if line[i, CURVED] == line[i, TO_CURVED]:
        return _feet_of_arc(line, i, px, py, out, n)
    return _feet_of_clothoid(line, i, px, py, out, n)


@kernel
def feet(line, x, y):
    """(k, 2) chainage and offset (positive to the right) of every point of the line that has the place at right angles.

    By chainage; one at the end of an element stands once.
    """
    found = np.empty((64, 2))
    rows = 0
    runs = np.empty(64)
    for i in range(len(line)):
        n = _feet(line, i, x, y, runs, 0)
        own = np.sort(runs[:n])
        for k in range(n):
            s = line[i, CHAINAGE] + own[k]
            if rows and s - found[rows - 1, 0] < 2 * _END_M:
                continue
            if rows == len(found):
                wider = np.empty((2 * rows, 2))
                wider[:rows] = found
                found = wider
            _, aside = _seen(line, i, x - line[i, EASTING], y - line[i, NORTHING], own[k])
            found[rows, 0], found[rows, 1] = s, -aside
            rows += 1
    return found[:rows].copy()


@kernel
def tree_of(line):
    """A tree of circles over the elements: (m, 3) middle and radius of each node's piece of line.

    Node 0 is all of it; node k of elements a to b has nodes 2 k + 1 and 2 k + 2 of its halves.
    """
    count = len(line)
    size = 1
    while size < count:
        size *= 2
    out = np.full((2 * size - 1, 3), np.nan)
    for leaf in range(count):
        x, y, _ = _moved(line, leaf, line[leaf, LENGTH] / 2)
        out[size - 1 + leaf] = line[leaf, EASTING] + x, line[leaf, NORTHING] + y, line[leaf, LENGTH] / 2
    for node in range(size - 2, -1, -1):
        one, other = out[2 * node + 1], out[2 * node + 2]
        if np.isnan(other[2]):
            out[node] = one
            continue
        apart = np.hypot(other[0] - one[0], other[1] - one[1])
        reach = max((apart + one[2] + other[2]) / 2, one[2], other[2])
        share = (reach - one[2]) / apart if apart > 0 else 0.0
        share = min(max(share, 0.0), 1.0)
        x, y = one[0] + share * (other[0] - one[0]), one[1] + share * (other[1] - one[1])
        radius = max(
            np.hypot(x - one[0], y - one[1]) + one[2],
            np.hypot(x - other[0], y - other[1]) + other[2],
        )
        out[node] = x, y, radius
    return out


@kernel
def nearest(line, tree, xs, ys):
    """(n, 3) chainage of the point of the line nearest to each place, how far to its right and how far ahead it is.

    It is ahead (or, below zero, behind) only of the line's ends.
    """
    out = np.empty((len(xs), 3))
    leaves = (len(tree) + 1) // 2
    stack, bounds = np.empty(128, np.int64), np.empty(128)
    runs = np.empty(64)
    for p in range(len(xs)):
        x, y = xs[p], ys[p]
        best, found, at = np.inf, 0, 0.0
        stack[0], bounds[0], left = 0, 0.0, 1
        while left > 0:
            left -= 1
            node = stack[left]
            if bounds[left] >= best:
                continue
            if node >= leaves - 1:
                i = node - leaves + 1
                px, py = x - line[i, EASTING], y - line[i, NORTHING]
                n = _feet(line, i, x, y, runs, 0)
                # An end of an element is nearest where two meet, or where the line ends.
                for k in range(n + 2):
                    run = runs[k] if k < n else (0.0 if k == n else line[i, LENGTH])
                    ex, ey, _ = _moved(line, i, run)
                    away = np.hypot(px - ex, py - ey)
                    if away < best:
                        best, found, at = away, i, run
                continue
            children = 2 * node + 1, 2 * node + 2
            low = np.hypot(x - tree[children[0], 0], y - tree[children[0], 1]) - tree[children[0], 2]
            high = np.inf
            if not np.isnan(tree[children[1], 2]):
                high = np.hypot(x - tree[children[1], 0], y - tree[children[1], 1]) - tree[children[1], 2]
            first, second = (0, 1) if low <= high else (1, 0)
            values = low, high
            # The nearer one on top.
            if values[second] < best:
                stack[left], bounds[left] = children[second], values[second]
                left += 1
            if values[first] < best:
                stack[left], bounds[left] = children[first], values[first]
                left += 1
        ahead, aside = _seen(line, found, x - line[found, EASTING], y - line[found, NORTHING], at)
        out[p] = line[found, CHAINAGE] + at, -aside, ahead
    return out
