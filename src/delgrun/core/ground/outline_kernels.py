"""Compiled work on rings: what lies within them, and whether they cross themselves."""

import numpy as np

from delgrun.core.ground.tin_kernels import depth_within
from delgrun.core.kernels import kernel


@kernel
def _inside(x, y, corners, a, b):
    """Whether a place lies within one ring, corners a to b, by the number of its sides east of it."""
    odd = False
    q = b - 1
    for p in range(a, b):
        if (corners[p, 1] > y) != (corners[q, 1] > y):
            share = (y - corners[p, 1]) / (corners[q, 1] - corners[p, 1])
            if x < corners[p, 0] + share * (corners[q, 0] - corners[p, 0]):
                odd = not odd
        q = p
    return odd


@kernel
def within(plan, corners, start, what):
    """(n,) whether each place lies within an outer ring (where there is one), and in no hole but on an island in it.

    `what` (r,) tells of each ring what it is: 0 an outer one, 1 a hole, 2 an island.
    """
    out = np.empty(len(plan), np.bool_)
    bounded = (what == 0).any()
    inside = np.empty(3, np.bool_)
    for p in range(len(plan)):
        inside[:] = False
        for r in range(len(what)):
            if not inside[what[r]] and _inside(plan[p, 0], plan[p, 1], corners, start[r], start[r + 1]):
                inside[what[r]] = True
        out[p] = (inside[0] or not bounded) and (inside[2] or not inside[1])
    return out


@kernel
def crosses_itself(ring):
    """Number of the first corner whose side crosses or touches another one that is not its neighbour; -1 if none."""
    n = len(ring)
    for i in range(n):
        ax, ay = ring[i, 0], ring[i, 1]
        bx, by = ring[(i + 1) % n, 0], ring[(i + 1) % n, 1]
        if ax == bx and ay == by:
            return i
        for j in range(i + 2, n):
            if i == 0 and j == n - 1:
                continue
            cx, cy = ring[j, 0], ring[j, 1]
            dx, dy = ring[(j + 1) % n, 0], ring[(j + 1) % n, 1]
            if max(ax, bx) < min(cx, dx) or max(cx, dx) < min(ax, bx):
                continue
            if max(ay, by) < min(cy, dy) or max(cy, dy) < min(ay, by):
                continue
            one = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
            two = (bx - ax) * (dy - ay) - (by - ay) * (dx - ax)
            three = (dx - cx) * (ay - cy) - (dy - cy) * (ax - cx)
            four = (dx - cx) * (by - cy) - (dy - cy) * (bx - cx)
            if one * two <= 0 and three * four <= 0:
                return i
    return -1


@kernel
def triangle_at(xyz, triangles, x0, y0, size, nx, ny, start, member, plan):
    """(n,) the triangle that holds each place, the number of triangles where none does."""
    out = np.full(len(plan), len(triangles), np.int64)
    for p in range(len(plan)):
        x, y = plan[p, 0], plan[p, 1]
        i, j = int((x - x0) / size), int((y - y0) / size)
        if x < x0 or y < y0 or i > nx or j > ny:
            continue
        cell = min(i, nx - 1) * ny + min(j, ny - 1)
        best = -1e-9
        for k in range(start[cell], start[cell + 1]):
            t = member[k]
            deep = depth_within(xyz, triangles[t, 0], triangles[t, 1], triangles[t, 2], x, y)
            if deep >= best:
                best, out[p] = deep, t
    return out
