"""Compiled work of thinning: which point of each triangle is off the most, and which points make the rim."""

import numpy as np

from delgrun.core.ground.tin_kernels import depth_within, plane_level
from delgrun.core.kernels import kernel


@kernel
def worst_by_triangle(xyz, triangles, x0, y0, size, nx, ny, start, member, points, chosen, tolerance):
    """Of each triangle the point in it whose level is off its plane by most, if by more than the tolerance.

    Returns the (k,) points, how far the worst of those within the tolerance is off, and (m,) points in no triangle;
    points that are `chosen` are passed over.
    """
    most = {np.int64(-1): (np.int64(-1), 0.0)}
    outside = np.empty(16, np.int64)
    beyond = 0
    worst = 0.0
    for p in range(points.shape[0]):
        if chosen[p]:
            continue
        x, y = points[p, 0], points[p, 1]
        i, j = int((x - x0) / size), int((y - y0) / size)
        at, best = np.int64(-1), -1e-9
        if x >= x0 and y >= y0 and i <= nx and j <= ny:
            cell = min(i, nx - 1) * ny + min(j, ny - 1)
            for k in range(start[cell], start[cell + 1]):
                t = member[k]
                depth = depth_within(xyz, triangles[t, 0], triangles[t, 1], triangles[t, 2], x, y)
                if depth >= best:
                    best, at = depth, np.int64(t)
                    if depth > 1e-6:
                        break
        if at < 0:
            if beyond == len(outside):
                more = np.empty(2 * beyond, np.int64)
                more[:beyond] = outside
                outside = more
            outside[beyond] = p
            beyond += 1
            continue
        level = plane_level(xyz, triangles[at, 0], triangles[at, 1], triangles[at, 2], x, y)
        off = abs(level - points[p, 2])
        if off <= tolerance:
            worst = max(worst, off)
        elif at not in most or off > most[at][1]:
            most[at] = (np.int64(p), off)
    out = np.empty(len(most) - 1, np.int64)
    k = 0
    for point, off in most.values():
        if off > 0.0:
            out[k] = point
            k += 1
    return np.sort(out), worst, outside[:beyond]


@kernel
def rim_points(plan, east, north):
    """Points that are farthest out in one of eight directions within a cell that has an empty one beside it."""
    nx, ny = east.max() + 3, north.max() + 3
    taken = np.zeros((nx, ny), np.bool_)
    for p in range(len(east)):
        taken[east[p] + 1, north[p] + 1] = True
    number = np.full((nx, ny), -1, np.int32)
    count = 0
    for i in range(1, nx - 1):
        for j in range(1, ny - 1):
            if taken[i, j]:
                rim = False
                for a in range(-1, 2):
                    for b in range(-1, 2):
                        rim = rim or not taken[i + a, j + b]
                if rim:
                    number[i, j] = count
                    count += 1
    farthest = np.full((count, 8), -1, np.int64)
    for p in range(len(east)):
        cell = number[east[p] + 1, north[p] + 1]
        if cell >= 0:
            for k in range(8):
                ux, uy = np.cos(k * np.pi / 4), np.sin(k * np.pi / 4)
                q = farthest[cell, k]
                if q < 0 or ux * plan[p, 0] + uy * plan[p, 1] > ux * plan[q, 0] + uy * plan[q, 1]:
                    farthest[cell, k] = p
    return np.unique(farthest.ravel())
