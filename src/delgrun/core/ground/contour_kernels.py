"""Compiled work on contours: where triangles are crossed, and the crossings joined into lines.

A point at a contour's very level counts as above it, so that each triangle is crossed by two of its edges or by
none, and lines can be joined by the edges they cross: no line forks, at a summit, a saddle or on flat ground.
"""

import numpy as np

from delgrun.core.kernels import kernel


@kernel
def triangles_in_box(xyz, triangles, x0, y0, size, nx, ny, start, members, low_e, low_n, high_e, high_n):
    """(k,) numbers of the triangles whose boxes touch a box, each once; the cells are those of `CellIndex`."""
    i0, i1 = max(int((low_e - x0) // size), 0), min(int((high_e - x0) // size), nx - 1)
    j0, j1 = max(int((low_n - y0) // size), 0), min(int((high_n - y0) // size), ny - 1)
    out = np.empty(1024, np.int64)
    used = 0
    for i in range(i0, i1 + 1):
        for j in range(j0, j1 + 1):
            for m in range(start[i * ny + j], start[i * ny + j + 1]):
                t = members[m]
                a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
                west = min(xyz[a, 0], xyz[b, 0], xyz[c, 0])
                south = min(xyz[a, 1], xyz[b, 1], xyz[c, 1])
                # It stands in several cells: the first of them within the box reports it.
                if max(max(int((west - x0) / size), 0), i0) != i or max(max(int((south - y0) / size), 0), j0) != j:
                    continue
                if west > high_e or south > high_n:
                    continue
                if max(xyz[a, 0], xyz[b, 0], xyz[c, 0]) < low_e or max(xyz[a, 1], xyz[b, 1], xyz[c, 1]) < low_n:
                    continue
                if used == out.shape[0]:
                    bigger = np.empty(2 * used, np.int64)
                    bigger[:used] = out
                    out = bigger
                out[used] = t
                used += 1
    return out[:used].copy()


@kernel
def painted(xyz, triangles, which, west, south, cell, count):
    """(count, count) levels at the middles of cells from (west, south), triangle by triangle; NaN without ground.

    A middle within a hundredth of a millimetre of a triangle belongs to it where it is in no other.
    """
    out = np.full((count, count), np.nan)
    within = np.zeros((count, count), np.bool_)
    for t in which:
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        ax, ay = xyz[a, 0] - west, xyz[a, 1] - south
        ux, uy = xyz[b, 0] - xyz[a, 0], xyz[b, 1] - xyz[a, 1]
        vx, vy = xyz[c, 0] - xyz[a, 0], xyz[c, 1] - xyz[a, 1]
        det = ux * vy - uy * vx
        rise_u, rise_v = xyz[b, 2] - xyz[a, 2], xyz[c, 2] - xyz[a, 2]
        east, north = (rise_u * vy - rise_v * uy) / det, (rise_v * ux - rise_u * vx) / det
        # Distances from the three sides, the triangle on their left. [m]
        lu, lv, lw = np.hypot(ux, uy), np.hypot(vx, vy), np.hypot(vx - ux, vy - uy)
        low_x, high_x = ax + min(0.0, ux, vx), ax + max(0.0, ux, vx)
        low_y, high_y = ay + min(0.0, uy, vy), ay + max(0.0, uy, vy)
        i0, i1 = max(int(np.ceil((low_x - 1e-5) / cell - 0.5)), 0), min(int((high_x + 1e-5) / cell - 0.5), count - 1)
        j0, j1 = max(int(np.ceil((low_y - 1e-5) / cell - 0.5)), 0), min(int((high_y + 1e-5) / cell - 0.5), count - 1)
        for j in range(j0, j1 + 1):
            y = (j + 0.5) * cell - ay
            for i in range(i0, i1 + 1):
                if within[j, i]:
                    continue
                x = (i + 0.5) * cell - ax
                depth = min(
                    (ux * y - uy * x) / lu,
                    (vy * x - vx * y) / lv,
                    ((vx - ux) * (y - uy) - (vy - uy) * (x - ux)) / lw,
                )
                if depth >= -1e-5:
                    out[j, i] = xyz[a, 2] + east * x + north * y
                    within[j, i] = depth >= 0
    return out


@kernel
def _steps(xyz, triangles, t, interval):
    """First and last multiple of `interval` within a triangle's levels."""
    a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
    low = min(xyz[a, 2], xyz[b, 2], xyz[c, 2])
    high = max(xyz[a, 2], xyz[b, 2], xyz[c, 2])
    return int(np.ceil(low / interval)), int(np.floor(high / interval))


@kernel
def crossings(xyz, triangles, which, interval):
    """Where triangles are crossed at multiples of `interval`: (k,) steps, (k, 2) edges as numbers, (k, 4) ends."""
    n = np.int64(xyz.shape[0])
    most = 0
    for t in which:
        first, last = _steps(xyz, triangles, t, interval)
        most += max(last + 1 - first, 0)
    step = np.empty(most, np.int64)
    edge = np.empty((most, 2), np.int64)
    end = np.empty((most, 4))
    used = 0
    for t in which:
        first, last = _steps(xyz, triangles, t, interval)
        for s in range(first, last + 1):
            level = s * interval
            found = 0
            for k in range(3):
                p, q = triangles[t, k], triangles[t, (k + 1) % 3]
                if (xyz[p, 2] < level) == (xyz[q, 2] < level):
                    continue
                # From the lower-numbered end, so that both triangles at the edge find the very same point.
                p, q = min(p, q), max(p, q)
                u = (level - xyz[p, 2]) / (xyz[q, 2] - xyz[p, 2])
                edge[used, found] = p * n + q
                end[used, 2 * found] = xyz[p, 0] + u * (xyz[q, 0] - xyz[p, 0])
                end[used, 2 * found + 1] = xyz[p, 1] + u * (xyz[q, 1] - xyz[p, 1])
                found += 1
            if found == 2:
                step[used] = s
                used += 1
    return step[:used].copy(), edge[:used].copy(), end[:used].copy()


@kernel
def join(step, end, partner, closer):
    """Lines from crossings: (m + 1,) starts, (r, 2) points, (m,) steps.

    `partner` (2 k,): the end (2 i for the first, 2 i + 1 for the second of crossing i) that continues each end,
    or -1. Points closer than `closer` to the last one kept are left out, but for a line's ends.
    """
    k = step.shape[0]
    done = np.zeros(k, np.bool_)
    points = np.empty((2 * k, 2))
    starts = np.empty(k + 1, np.int64)
    steps = np.empty(k, np.int64)
    used = lines = 0
    # Open lines from their ends first, then rings from anywhere.
    for turn in range(2):
        for first in range(2 * k):
            if done[first // 2] or (turn == 0 and partner[first] >= 0):
                continue
            starts[lines] = used
            steps[lines] = step[first // 2]
            h = first
            points[used, 0], points[used, 1] = end[h // 2, 2 * (h % 2)], end[h // 2, 2 * (h % 2) + 1]
            used += 1
            while h >= 0 and not done[h // 2]:
                done[h // 2] = True
                far = h ^ 1
                x, y = end[far // 2, 2 * (far % 2)], end[far // 2, 2 * (far % 2) + 1]
                h = partner[far]
                last = h < 0 or done[h // 2]
                dx, dy = x - points[used - 1, 0], y - points[used - 1, 1]
                if last or dx * dx + dy * dy >= closer * closer:
                    points[used, 0], points[used, 1] = x, y
                    used += 1
            lines += 1
    starts[lines] = used
    return starts[: lines + 1].copy(), points[:used].copy(), steps[:lines].copy()
