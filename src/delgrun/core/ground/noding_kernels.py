"""Compiled work on points and edges in plan: what lies within a millimetre of what, and which edges cross.

All coordinates are local (from zero on), so that differences keep their digits.
"""

import numpy as np

from delgrun.core.kernels import kernel


@kernel
def points_by_cell(plan, size, nx, ny):
    """Point numbers by the cells of an even grid, ascending in each: (nx*ny + 1,) starts and the list."""
    n = plan.shape[0]
    start = np.zeros(nx * ny + 1, np.int64)
    cell = np.empty(n, np.int64)
    for p in range(n):
        i = min(max(int(plan[p, 0] / size), 0), nx - 1)
        j = min(max(int(plan[p, 1] / size), 0), ny - 1)
        cell[p] = i * ny + j
        start[cell[p] + 1] += 1
    for c in range(nx * ny):
        start[c + 1] += start[c]
    fill = start[:-1].copy()
    member = np.empty(n, np.int32)
    for p in range(n):
        member[fill[cell[p]]] = p
        fill[cell[p]] += 1
    return start, member


@kernel
def _any_within(x, y, size, nx, ny, start, k, reach):
    """Whether the k-th point, cell by cell, has another within `reach`; `x` and `y` are cell by cell too."""
    for i in range(max(int((x[k] - reach) / size), 0), min(int((x[k] + reach) / size), nx - 1) + 1):
        for j in range(max(int((y[k] - reach) / size), 0), min(int((y[k] + reach) / size), ny - 1) + 1):
            for h in range(start[i * ny + j], start[i * ny + j + 1]):
                if h != k and abs(x[h] - x[k]) <= reach and np.hypot(x[h] - x[k], y[h] - y[k]) <= reach:
                    return True
    return False


@kernel
def first_within(plan, size, nx, ny, start, member, reach):
    """(n,) number of the first point that stands for each: itself, or an earlier one within `reach`."""
    n = plan.shape[0]
    same = np.arange(n)
    # Few have a neighbour at all: found cell by cell, where points that are near each other are near in memory.
    x, y = np.empty(n), np.empty(n)
    for k in range(n):
        x[k], y[k] = plan[member[k], 0], plan[member[k], 1]
    near = [np.int64(0) for _ in range(0)]
    for k in range(n):
        if _any_within(x, y, size, nx, ny, start, k, reach):
            near.append(np.int64(member[k]))
    for p in sorted(near):
        best = np.int64(n)
        px, py = plan[p, 0], plan[p, 1]
        for i in range(max(int((px - reach) / size), 0), min(int((px + reach) / size), nx - 1) + 1):
            for j in range(max(int((py - reach) / size), 0), min(int((py + reach) / size), ny - 1) + 1):
                for k in range(start[i * ny + j], start[i * ny + j + 1]):
                    q = np.int64(member[k])
                    if q >= min(p, best):
                        break
                    if same[q] == q and np.hypot(plan[q, 0] - px, plan[q, 1] - py) <= reach:
                        best = q
        if best < n:
            same[p] = best
    return same


@kernel
def points_on_edges(plan, edges, size, nx, ny, start, member, reach):
    """Points that edges pass within `reach`, their ends left out: (k, 2) edge and point, (k,) share of the edge."""
    found = np.empty((256, 2), np.int64)
    share = np.empty(256)
    rows = 0
    for e in range(edges.shape[0]):
        a, b = edges[e, 0], edges[e, 1]
        ax, ay = plan[a, 0], plan[a, 1]
        dx, dy = plan[b, 0] - ax, plan[b, 1] - ay
        length2 = dx * dx + dy * dy
        lo, hi = min(ax, ax + dx) - reach, max(ax, ax + dx) + reach
        for i in range(max(int(lo / size), 0), min(int(hi / size), nx - 1) + 1):
            # Stretch of the edge within this column of cells, a little longer so that nothing is missed.
            ta, tb = 0.0, 1.0
            if abs(dx) > 1e-9:
                u, v = (i * size - reach - ax) / dx, ((i + 1) * size + reach - ax) / dx
                ta, tb = max(0.0, min(u, v)), min(1.0, max(u, v))
                if i == nx - 1:
                    ta, tb = (ta, 1.0) if dx > 0 else (0.0, tb)
            ya, yb = ay + dy * ta, ay + dy * tb
            j0 = max(int((min(ya, yb) - reach) / size), 0)
            j1 = min(int((max(ya, yb) + reach) / size), ny - 1)
            for j in range(min(j0, ny - 1), j1 + 1):
                c = i * ny + j
                for k in range(start[c], start[c + 1]):
                    p = member[k]
                    if p in (a, b):
                        continue
                    px, py = plan[p, 0] - ax, plan[p, 1] - ay
                    t = (px * dx + py * dy) / length2
                    if t <= 0.0 or t >= 1.0 or np.hypot(px - t * dx, py - t * dy) > reach:
                        continue
                    if rows == share.shape[0]:
                        wider, longer = np.empty((2 * rows, 2), np.int64), np.empty(2 * rows)
                        wider[:rows], longer[:rows] = found, share
                        found, share = wider, longer
                    found[rows, 0], found[rows, 1], share[rows] = e, p, t
                    rows += 1
    return found[:rows].copy(), share[:rows].copy()


@kernel
def _cells_of_edge(plan, edges, e, size, nx, ny, cell, first):
    """Write the cells an edge passes into `cell` from `first` on where it has room; returns how many there are."""
    ax, ay = plan[edges[e, 0], 0], plan[edges[e, 0], 1]
    bx, by = plan[edges[e, 1], 0], plan[edges[e, 1], 1]
    dx, dy = bx - ax, by - ay
    pad = 1e-6 * size
    n = 0
    for i in range(max(int((min(ax, bx) - pad) / size), 0), min(int((max(ax, bx) + pad) / size), nx - 1) + 1):
        ta, tb = 0.0, 1.0
        if abs(dx) > 1e-9:
            u, v = (i * size - pad - ax) / dx, ((i + 1) * size + pad - ax) / dx
            ta, tb = max(0.0, min(u, v)), min(1.0, max(u, v))
        ya, yb = ay + dy * ta, ay + dy * tb
        j1 = min(int((max(ya, yb) + pad) / size), ny - 1)
        for j in range(min(max(int((min(ya, yb) - pad) / size), 0), ny - 1), j1 + 1):
            if first + n < cell.shape[0]:
                cell[first + n] = i * ny + j
            n += 1
    return n


@kernel
def crossings(plan, edges, size, nx, ny, most, most_tests):
    """Pairs of edges that cross between their ends: (k, 2) edges and (k, 2) shares along them.

    A pair may stand twice. Stops after `most` pairs or `most_tests` comparisons; the third value says how many
    comparisons there were.
    """
    m = edges.shape[0]
    count = np.zeros(nx * ny + 1, np.int64)
    total = 0
    none = np.empty(0, np.int64)
    for e in range(m):
        total += _cells_of_edge(plan, edges, e, size, nx, ny, none, 0)
    cell, edge = np.empty(total, np.int64), np.empty(total, np.int64)
    at = 0
    for e in range(m):
        n = _cells_of_edge(plan, edges, e, size, nx, ny, cell, at)
        edge[at : at + n] = e
        at += n
    for k in range(total):
        count[cell[k] + 1] += 1
    for c in range(nx * ny):
        count[c + 1] += count[c]
    fill = count[:-1].copy()
    member = np.empty(total, np.int64)
    for k in range(total):
        member[fill[cell[k]]] = edge[k]
        fill[cell[k]] += 1
    pairs, shares = np.empty((min(most, 1024), 2), np.int64), np.empty((min(most, 1024), 2))
    rows, tests = 0, 0
    for c in range(nx * ny):
        for k in range(count[c], count[c + 1]):
            tests += count[c + 1] - k
            if tests > most_tests:
                return pairs[:rows].copy(), shares[:rows].copy(), tests
            e = member[k]
            a, b = edges[e, 0], edges[e, 1]
            rx, ry = plan[b, 0] - plan[a, 0], plan[b, 1] - plan[a, 1]
            for h in range(k + 1, count[c + 1]):
                f = member[h]
                p, q = edges[f, 0], edges[f, 1]
                if a in (p, q) or b in (p, q):
                    continue
                sx, sy = plan[q, 0] - plan[p, 0], plan[q, 1] - plan[p, 1]
                det = rx * sy - ry * sx
                if det == 0.0:
                    continue
                wx, wy = plan[p, 0] - plan[a, 0], plan[p, 1] - plan[a, 1]
                t, u = (wx * sy - wy * sx) / det, (wx * ry - wy * rx) / det
                if t <= 0.0 or t >= 1.0 or u <= 0.0 or u >= 1.0:
                    continue
                # Edges all but on one line have shares of pure rounding: both must name one place.
                if np.hypot(t * rx - u * sx - wx, t * ry - u * sy - wy) > 1e-6:
                    continue
                # Of the cells both pass, the one that holds the crossing reports it.
                x, y = (plan[a, 0] + t * rx) / size - c // ny, (plan[a, 1] + t * ry) / size - c % ny
                if x < -1e-6 or x > 1 + 1e-6 or y < -1e-6 or y > 1 + 1e-6:
                    continue
                if rows == pairs.shape[0]:
                    if rows == most:
                        return pairs, shares, tests
                    wider, longer = np.empty((min(2 * rows, most), 2), np.int64), np.empty((min(2 * rows, most), 2))
                    wider[:rows], longer[:rows] = pairs, shares
                    pairs, shares = wider, longer
                pairs[rows, 0], pairs[rows, 1] = e, f
                shares[rows, 0], shares[rows, 1] = t, u
                rows += 1
    return pairs[:rows].copy(), shares[:rows].copy(), tests
